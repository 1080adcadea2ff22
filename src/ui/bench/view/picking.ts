/**
 * Finding what is under the pointer, on flat arrays: faces by ray, vertices and edges by their distance on the screen,
 * boxes by projection.
 */
import * as THREE from 'three';
import type { Mesh } from '../../../core/mesh/mesh';
import { topologyOf } from '../../../core/mesh/topology';

export interface Hit {
  face: number;
  triangle: number;
  distance: number;
  point: THREE.Vector3;
}

/** A ray just between two triangles must not slip through. */
const SLACK = 1e-7;

/** Nearest triangle along the ray (Möller and Trumbore 1997). `cull`: only triangles that face the ray. */
export function castRay(
  ray: THREE.Ray,
  position: Float32Array,
  index: Uint32Array,
  face: Uint32Array,
  cull = true,
): Hit | undefined {
  const { x: ox, y: oy, z: oz } = ray.origin;
  const { x: dx, y: dy, z: dz } = ray.direction;
  let best = Infinity;
  let found = -1;
  for (let i = 0; i < face.length; i++) {
    const a = 3 * index[3 * i];
    const b = 3 * index[3 * i + 1];
    const c = 3 * index[3 * i + 2];
    const ex = position[b] - position[a];
    const ey = position[b + 1] - position[a + 1];
    const ez = position[b + 2] - position[a + 2];
    const fx = position[c] - position[a];
    const fy = position[c + 1] - position[a + 1];
    const fz = position[c + 2] - position[a + 2];
    const px = dy * fz - dz * fy;
    const py = dz * fx - dx * fz;
    const pz = dx * fy - dy * fx;
    const det = ex * px + ey * py + ez * pz;
    if (cull ? det <= 1e-18 : Math.abs(det) <= 1e-18) continue;
    const inv = 1 / det;
    const tx = ox - position[a];
    const ty = oy - position[a + 1];
    const tz = oz - position[a + 2];
    const u = (tx * px + ty * py + tz * pz) * inv;
    if (u < -SLACK || u > 1 + SLACK) continue;
    const qx = ty * ez - tz * ey;
    const qy = tz * ex - tx * ez;
    const qz = tx * ey - ty * ex;
    const v = (dx * qx + dy * qy + dz * qz) * inv;
    if (v < -SLACK || u + v > 1 + SLACK) continue;
    const t = (fx * qx + fy * qy + fz * qz) * inv;
    if (t > 0 && t < best) {
      best = t;
      found = i;
    }
  }
  return found < 0
    ? undefined
    : { face: face[found], triangle: found, distance: best, point: ray.at(best, new THREE.Vector3()) };
}

/** The mesh's vertices on the screen: x, y in pixels, depth in −1..1 (beyond 1: behind the camera). */
export function project(
  mesh: Mesh,
  camera: THREE.Camera,
  width: number,
  height: number,
  world?: THREE.Matrix4,
): Float32Array {
  const all = new THREE.Matrix4().multiplyMatrices(camera.projectionMatrix, camera.matrixWorldInverse);
  if (world) all.multiply(world);
  const m = all.elements;
  const p = mesh.positions;
  const out = new Float32Array(p.length);
  for (let i = 0; i < p.length; i += 3) {
    const x = p[i];
    const y = p[i + 1];
    const z = p[i + 2];
    const w = m[3] * x + m[7] * y + m[11] * z + m[15];
    out[i] = (((m[0] * x + m[4] * y + m[8] * z + m[12]) / w) * 0.5 + 0.5) * width;
    out[i + 1] = (0.5 - ((m[1] * x + m[5] * y + m[9] * z + m[13]) / w) * 0.5) * height;
    out[i + 2] = w > 0 ? (m[2] * x + m[6] * y + m[10] * z + m[14]) / w : 9;
  }
  return out;
}

/** Candidates within `reach` pixels, nearest first; the caller asks which of them can be seen. */
export function nearVertices(mesh: Mesh, screen: Float32Array, x: number, y: number, reach: number): number[] {
  const found: [number, number][] = [];
  for (let v = 0; v < mesh.vertexCount; v++) {
    if (screen[3 * v + 2] > 1) continue;
    const d = Math.hypot(screen[3 * v] - x, screen[3 * v + 1] - y);
    if (d <= reach) found.push([d, v]);
  }
  return found.sort((a, b) => a[0] - b[0]).map((f) => f[1]);
}

export function nearEdges(
  mesh: Mesh,
  screen: Float32Array,
  x: number,
  y: number,
  reach: number,
): { edge: number; at: number }[] {
  const { edgeVertex, edgeCount } = topologyOf(mesh);
  const found: { edge: number; at: number; d: number }[] = [];
  for (let e = 0; e < edgeCount; e++) {
    const a = 3 * edgeVertex[2 * e];
    const b = 3 * edgeVertex[2 * e + 1];
    if (screen[a + 2] > 1 || screen[b + 2] > 1) continue;
    const dx = screen[b] - screen[a];
    const dy = screen[b + 1] - screen[a + 1];
    const l = dx * dx + dy * dy;
    const t = l > 0 ? Math.max(0, Math.min(1, ((x - screen[a]) * dx + (y - screen[a + 1]) * dy) / l)) : 0;
    const d = Math.hypot(screen[a] + dx * t - x, screen[a + 1] + dy * t - y);
    if (d <= reach) found.push({ edge: e, at: t, d });
  }
  return found.sort((a, b) => a.d - b.d);
}

export interface ScreenBox {
  x0: number;
  y0: number;
  x1: number;
  y1: number;
}

/**
 * Those of some elements that turn a face to us. `mirrored`: the piece stands mirrored, so its faces run the other way
 * round.
 */
export function seenOnly(
  mesh: Mesh,
  kind: 'vertex' | 'edge' | 'face',
  indices: ArrayLike<number>,
  screen: Float32Array,
  mirrored: boolean,
): number[] {
  const t = topologyOf(mesh);
  const facing = (f: number): boolean => {
    let area = 0;
    const s = mesh.faceStart[f];
    const e = mesh.faceStart[f + 1];
    for (let c = s; c < e; c++) {
      const a = 3 * mesh.cornerVertex[c];
      const b = 3 * mesh.cornerVertex[c + 1 < e ? c + 1 : s];
      area += screen[a] * screen[b + 1] - screen[b] * screen[a + 1];
    }
    return mirrored ? area > 0 : area < 0; // y runs down, so what faces us runs clockwise
  };
  const some = (start: Uint32Array, corners: Uint32Array, i: number): boolean => {
    if (start[i] === start[i + 1]) return true; // no face hides it
    for (let k = start[i]; k < start[i + 1]; k++) if (facing(t.cornerFace[corners[k]])) return true;
    return false;
  };
  return Array.from(indices).filter((i) => {
    if (kind === 'face') return facing(i);
    if (kind === 'edge') return some(t.edgeCornerStart, t.edgeCorner, i);
    return some(t.vertexCornerStart, t.vertexCorner, i);
  });
}
