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

/** Where vertices are on the screen. */
export interface OnScreen {
  /** x and y in pixels, depth in −1..1 (beyond 1: behind the camera, and mirrored through it). */
  places: Float32Array;
  /** How far in front of the eye, in the camera's measure; below 0 behind it, 1 throughout in a parallel view. */
  ahead: Float32Array;
}

export function project(
  mesh: Mesh,
  camera: THREE.Camera,
  width: number,
  height: number,
  world?: THREE.Matrix4,
): OnScreen {
  const all = new THREE.Matrix4().multiplyMatrices(camera.projectionMatrix, camera.matrixWorldInverse);
  if (world) all.multiply(world);
  const m = all.elements;
  const p = mesh.positions;
  const places = new Float32Array(p.length);
  const ahead = new Float32Array(p.length / 3);
  for (let i = 0; i < p.length; i += 3) {
    const x = p[i];
    const y = p[i + 1];
    const z = p[i + 2];
    // Just beside the eye is a place as well, if one far away.
    const w = m[3] * x + m[7] * y + m[11] * z + m[15] || TINY;
    places[i] = (((m[0] * x + m[4] * y + m[8] * z + m[12]) / w) * 0.5 + 0.5) * width;
    places[i + 1] = (0.5 - ((m[1] * x + m[5] * y + m[9] * z + m[13]) / w) * 0.5) * height;
    places[i + 2] = w > 0 ? (m[2] * x + m[6] * y + m[10] * z + m[14]) / w : 9;
    ahead[i / 3] = w;
  }
  return { places, ahead };
}

const TINY = 1e-9;

/** An end of a side: its place on the screen and how far ahead it is. */
export type End = readonly [x: number, y: number, ahead: number];

/**
 * Where a side comes nearest to a point of the screen: the share of it from its first end on, in space, and how many
 * pixels away that is. Of one that leads past the eye only what is in front counts; undefined where nothing is.
 */
export function nearestOn(a: End, b: End, x: number, y: number): { at: number; away: number } | undefined {
  // In pixels times what is ahead all runs evenly along the side, as it does in space.
  const least = 1e-4 * Math.max(Math.abs(a[2]), Math.abs(b[2]));
  if (!(a[2] >= least || b[2] >= least)) return undefined;
  const crossing = (least - a[2]) / (b[2] - a[2]);
  const [from, to] = [a[2] < least ? crossing : 0, b[2] < least ? crossing : 1];
  const seen = (s: number): End => {
    const w = a[2] + (b[2] - a[2]) * s;
    return [(a[0] * a[2] * (1 - s) + b[0] * b[2] * s) / w, (a[1] * a[2] * (1 - s) + b[1] * b[2] * s) / w, w];
  };
  const [p, q] = [seen(from), seen(to)];
  const [dx, dy] = [q[0] - p[0], q[1] - p[1]];
  const length = dx * dx + dy * dy;
  const t = length > 0 ? Math.max(0, Math.min(1, ((x - p[0]) * dx + (y - p[1]) * dy) / length)) : 0;
  const away = Math.hypot(p[0] + dx * t - x, p[1] + dy * t - y);
  return { at: from + ((to - from) * t * p[2]) / (t * p[2] + (1 - t) * q[2]), away };
}

/** Candidates within `reach` pixels, nearest first; the caller asks which of them can be seen. */
export function nearVertices(mesh: Mesh, { places }: OnScreen, x: number, y: number, reach: number): number[] {
  const found: [number, number][] = [];
  for (let v = 0; v < mesh.vertexCount; v++) {
    if (places[3 * v + 2] > 1) continue;
    const d = Math.hypot(places[3 * v] - x, places[3 * v + 1] - y);
    if (d <= reach) found.push([d, v]);
  }
  return found.sort((a, b) => a[0] - b[0]).map((f) => f[1]);
}

/** The same of edges; `at`: where along it, from its first vertex on. */
export function nearEdges(
  mesh: Mesh,
  { places, ahead }: OnScreen,
  x: number,
  y: number,
  reach: number,
): { edge: number; at: number }[] {
  const { edgeVertex, edgeCount } = topologyOf(mesh);
  const found: { edge: number; at: number; away: number }[] = [];
  const end = (v: number): End => [places[3 * v], places[3 * v + 1], ahead[v]];
  for (let e = 0; e < edgeCount; e++) {
    const a = edgeVertex[2 * e];
    const b = edgeVertex[2 * e + 1];
    if (places[3 * a + 2] > 1 && places[3 * b + 2] > 1) continue;
    // Most are far from it; of what leads past the eye the ends do not tell.
    if (ahead[a] > 0 && ahead[b] > 0) {
      if (Math.min(places[3 * a], places[3 * b]) > x + reach) continue;
      if (Math.max(places[3 * a], places[3 * b]) < x - reach) continue;
      if (Math.min(places[3 * a + 1], places[3 * b + 1]) > y + reach) continue;
      if (Math.max(places[3 * a + 1], places[3 * b + 1]) < y - reach) continue;
    }
    const near = nearestOn(end(a), end(b), x, y);
    if (near && near.away <= reach) found.push({ edge: e, ...near });
  }
  return found.sort((a, b) => a.away - b.away);
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
