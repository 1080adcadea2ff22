/**
 * Marks over a mesh: picks, seams, borders, cage lines. Built from the worked-on mesh each time it or the pick changes.
 */
import * as THREE from 'three';
import { LineSegments2 } from 'three/addons/lines/LineSegments2.js';
import { LineSegmentsGeometry } from 'three/addons/lines/LineSegmentsGeometry.js';
import { LineMaterial } from 'three/addons/lines/LineMaterial.js';
import type { Mesh } from '../../../core/mesh/mesh';
import { topologyOf } from '../../../core/mesh/topology';
import { trianglesOf } from '../../../core/mesh/triangulate';
import { color } from './looks';

/** Wide lines over the listed edges. */
export function edgeLines(
  mesh: Mesh,
  edges: ArrayLike<number>,
  paint: THREE.Color,
  width: number,
  size: THREE.Vector2,
  through = false,
): LineSegments2 {
  const { edgeVertex } = topologyOf(mesh);
  const p = mesh.positions;
  const at = new Float32Array(6 * edges.length);
  for (let i = 0; i < edges.length; i++)
    for (let k = 0; k < 2; k++) {
      const v = 3 * edgeVertex[2 * edges[i] + k];
      at.set(p.subarray(v, v + 3), 6 * i + 3 * k);
    }
  return wide(at, paint, width, size, through);
}

/** Wide lines round the listed faces, each by its own corners. */
export function faceLines(
  mesh: Mesh,
  faces: ArrayLike<number>,
  paint: THREE.Color,
  width: number,
  size: THREE.Vector2,
  through = false,
): LineSegments2 {
  const { positions: p, faceStart, cornerVertex } = mesh;
  let count = 0;
  for (let i = 0; i < faces.length; i++) count += faceStart[faces[i] + 1] - faceStart[faces[i]];
  const at = new Float32Array(6 * count);
  let n = 0;
  for (let i = 0; i < faces.length; i++) {
    const [s, e] = [faceStart[faces[i]], faceStart[faces[i] + 1]];
    for (let c = s; c < e; c++, n += 6) {
      const a = 3 * cornerVertex[c];
      const b = 3 * cornerVertex[c + 1 < e ? c + 1 : s];
      for (let k = 0; k < 3; k++) {
        at[n + k] = p[a + k];
        at[n + 3 + k] = p[b + k];
      }
    }
  }
  return wide(at, paint, width, size, through);
}

export function wide(
  at: Float32Array,
  paint: THREE.Color,
  width: number,
  size: THREE.Vector2,
  through = false,
): LineSegments2 {
  const material = new LineMaterial({
    color: paint.getHex(),
    linewidth: width,
    depthTest: !through,
    transparent: true,
    polygonOffset: true,
    polygonOffsetFactor: -2,
    polygonOffsetUnits: -2,
  });
  material.resolution.copy(size);
  const out = new LineSegments2(
    new LineSegmentsGeometry().setPositions(at.length ? at : new Float32Array(6)),
    material,
  );
  out.visible = at.length > 0;
  out.renderOrder = 6;
  return out;
}

/** Seams, like stitches: a plum line with short cross ticks, lying on the surface. */
export function stitches(
  mesh: Mesh,
  edges: ArrayLike<number>,
  paint: THREE.Color,
  size: THREE.Vector2,
  pixel: number,
): THREE.Group {
  const t = topologyOf(mesh);
  const p = mesh.positions;
  const ticks: number[] = [];
  const a = new THREE.Vector3();
  const b = new THREE.Vector3();
  const c = new THREE.Vector3();
  const way = new THREE.Vector3();
  const side = new THREE.Vector3();
  const half = 4 * pixel;
  for (let i = 0; i < edges.length; i++) {
    const e = edges[i];
    a.fromArray(p, 3 * t.edgeVertex[2 * e]);
    b.fromArray(p, 3 * t.edgeVertex[2 * e + 1]);
    way.subVectors(b, a);
    const length = way.length();
    if (!(length > 0)) continue;
    const count = Math.min(60, Math.max(1, Math.floor(length / (9 * pixel))));
    // Across the edge, within the first face beside it.
    const corner = t.edgeCorner[t.edgeCornerStart[e]];
    const f = t.cornerFace[corner];
    c.set(0, 0, 0);
    for (let k = mesh.faceStart[f]; k < mesh.faceStart[f + 1]; k++) c.add(side.fromArray(p, 3 * mesh.cornerVertex[k]));
    side.copy(c.divideScalar(mesh.faceStart[f + 1] - mesh.faceStart[f])).sub(a);
    way.divideScalar(length);
    side.addScaledVector(way, -side.dot(way)).normalize().multiplyScalar(half);
    for (let k = 0; k < count; k++) {
      const s = ((k + 0.5) / count) * length;
      c.copy(a).addScaledVector(way, s);
      ticks.push(c.x, c.y, c.z, c.x + side.x, c.y + side.y, c.z + side.z);
    }
  }
  const out = new THREE.Group();
  out.add(edgeLines(mesh, edges, paint, 2, size), wide(Float32Array.from(ticks), paint, 1.4, size));
  return out;
}

/** A wash over the listed faces (jade at 40 %). */
export function faceWash(mesh: Mesh, faces: ArrayLike<number>, paint: THREE.Color, opacity: number): THREE.Mesh {
  const p = mesh.positions;
  let count = 0;
  for (let i = 0; i < faces.length; i++) count += mesh.faceStart[faces[i] + 1] - mesh.faceStart[faces[i]] - 2;
  const corners = new Uint32Array(3 * count);
  const at = new Float32Array(9 * count);
  let n = 0;
  for (let i = 0; i < faces.length; i++) {
    trianglesOf(mesh, faces[i], corners, n);
    n += mesh.faceStart[faces[i] + 1] - mesh.faceStart[faces[i]] - 2;
  }
  for (let i = 0; i < corners.length; i++) {
    const v = 3 * mesh.cornerVertex[corners[i]];
    at[3 * i] = p[v];
    at[3 * i + 1] = p[v + 1];
    at[3 * i + 2] = p[v + 2];
  }
  const g = new THREE.BufferGeometry().setAttribute('position', new THREE.BufferAttribute(at, 3));
  const out = new THREE.Mesh(
    g,
    new THREE.MeshBasicMaterial({
      color: paint,
      transparent: true,
      opacity,
      side: THREE.DoubleSide,
      depthWrite: false,
      polygonOffset: true,
      polygonOffsetFactor: -1,
      polygonOffsetUnits: -1,
    }),
  );
  // Whether it is in sight would be worked out from every corner, and it mostly is.
  out.frustumCulled = false;
  out.renderOrder = 4;
  return out;
}

export function points(
  mesh: Mesh,
  vertices: ArrayLike<number>,
  paint: THREE.Color,
  size: number,
  through = false,
): THREE.Points {
  const at = new Float32Array(3 * vertices.length);
  for (let i = 0; i < vertices.length; i++)
    at.set(mesh.positions.subarray(3 * vertices[i], 3 * vertices[i] + 3), 3 * i);
  const out = new THREE.Points(
    new THREE.BufferGeometry().setAttribute('position', new THREE.BufferAttribute(at, 3)),
    new THREE.PointsMaterial({ color: paint, size, sizeAttenuation: false, depthTest: !through, transparent: true }),
  );
  out.frustumCulled = false;
  out.renderOrder = 7;
  return out;
}

type Axis = 'x' | 'y' | 'z';
/** A grid in the plane of two axes, with their lines. */
export function ground(step: number, u: Axis, v: Axis): THREE.Group {
  const out = new THREE.Group();
  const n = 24;
  const lines: number[] = [];
  const at = (a: number, b: number): number[] => {
    const on = { x: 0, y: 0, z: 0, [u]: a };
    on[v] = b;
    return [on.x, on.y, on.z];
  };
  for (let i = -n; i <= n; i++)
    if (i !== 0)
      lines.push(
        ...at(i * step, -n * step),
        ...at(i * step, n * step),
        ...at(-n * step, i * step),
        ...at(n * step, i * step),
      );
  const line = (points: number[], paint: THREE.Color, opacity: number) =>
    new THREE.LineSegments(
      new THREE.BufferGeometry().setAttribute('position', new THREE.Float32BufferAttribute(points, 3)),
      new THREE.LineBasicMaterial({ color: paint, transparent: true, opacity }),
    );
  out.add(
    line(lines, color('grid'), 0.6),
    line([...at(-n * step, 0), ...at(n * step, 0)], color(`axis-${u}`), 0.9),
    line([...at(0, -n * step), ...at(0, n * step)], color(`axis-${v}`), 0.9),
  );
  return out;
}

export function dispose(o: THREE.Object3D): void {
  o.traverse((x) => {
    const m = x as THREE.Mesh;
    m.geometry?.dispose();
    for (const material of [m.material].flat()) material?.dispose();
  });
}
