/**
 * Whether a surface is alike on both sides of a plane, and which vertex and face is whose twin. Strict: where one
 * vertex has no twin the surface is taken as it is.
 */
import { pulse } from '../../math/pulse';
import type { Mesh } from '../../mesh/mesh';
import { topologyOf } from '../../mesh/topology';

const { abs, floor, max } = Math;

export interface Mirror {
  axis: 0 | 1 | 2;
  vertex: Int32Array;
  face: Int32Array;
  /** 1 for faces of the one side and for those that are their own twins. */
  own: Uint8Array;
}

/** Of the size of all: twins stand no farther from their place. */
const NEAR = 2e-5;
/** So many vertices are tried before all are. */
const SAMPLE = 48;

/** The first of the planes x, z and y, through the middle, that a surface is alike on both sides of. */
export function mirrorOf(mesh: Mesh): Mirror | undefined {
  const box = boundsOf(mesh.positions);
  const size = max(...box.map(([lo, hi]) => hi - lo));
  if (!(size > 0)) return undefined;
  const find = finder(mesh.positions, NEAR * size);
  for (const axis of [0, 2, 1] as const) {
    const vertex = vertexTwins(mesh, find, axis, box[axis][0] + box[axis][1]);
    const found = vertex && faceTwins(mesh, vertex, axis, (box[axis][0] + box[axis][1]) / 2);
    if (found) return found;
  }
  return undefined;
}

function boundsOf(p: Float32Array): [number, number][] {
  const out: [number, number][] = [0, 1, 2].map(() => [Infinity, -Infinity]);
  for (let i = 0; i < p.length; i++) {
    const b = out[i % 3];
    if (p[i] < b[0]) b[0] = p[i];
    if (p[i] > b[1]) b[1] = p[i];
  }
  return out;
}

/** Vertices at a place, through a grid of cells. */
function finder(p: Float32Array, near: number): (x: number, y: number, z: number) => number {
  const cell = 2 * near;
  const name = (i: number, j: number, k: number): number =>
    (Math.imul(i, 73856093) ^ Math.imul(j, 19349663) ^ Math.imul(k, 83492791)) >>> 0;
  const n = p.length / 3;
  let bits = 1;
  while (bits < 2 * n) bits *= 2;
  const head = new Int32Array(bits).fill(-1);
  const next = new Int32Array(n);
  const at = (x: number): number => floor(x / cell);
  for (let v = 0; v < n; v++) {
    const h = name(at(p[3 * v]), at(p[3 * v + 1]), at(p[3 * v + 2])) & (bits - 1);
    next[v] = head[h];
    head[h] = v;
  }
  return (x, y, z) => {
    let best = -1;
    let least = near;
    for (let i = at(x - near); i <= at(x + near); i++)
      for (let j = at(y - near); j <= at(y + near); j++)
        for (let k = at(z - near); k <= at(z + near); k++)
          for (let v = head[name(i, j, k) & (bits - 1)]; v >= 0; v = next[v]) {
            const far = max(abs(p[3 * v] - x), abs(p[3 * v + 1] - y), abs(p[3 * v + 2] - z));
            if (far > least || (far === least && best >= 0)) continue;
            least = far;
            best = v;
          }
    return best;
  };
}

/** `twice`: twice where the plane stands. */
function vertexTwins(
  { positions: p }: Mesh,
  find: (x: number, y: number, z: number) => number,
  axis: number,
  twice: number,
): Int32Array | undefined {
  const n = p.length / 3;
  const twinOf = (v: number): number => {
    const at = [p[3 * v], p[3 * v + 1], p[3 * v + 2]];
    at[axis] = twice - at[axis];
    return find(at[0], at[1], at[2]);
  };
  const step = max(1, floor(n / SAMPLE));
  for (let v = 0; v < n; v += step) if (twinOf(v) < 0) return undefined;
  const twin = new Int32Array(n);
  for (let v = 0; v < n; v++) {
    twin[v] = twinOf(v);
    if (twin[v] < 0) return undefined;
  }
  // Each is its twin's twin: where several stand at one place nobody can tell which is whose.
  for (let v = 0; v < n; v++) if (twin[twin[v]] !== v) return undefined;
  return twin;
}

function faceTwins(mesh: Mesh, vertex: Int32Array, axis: 0 | 1 | 2, plane: number): Mirror | undefined {
  const { faceStart, cornerVertex, faceCount, positions } = mesh;
  const { vertexCorner, vertexCornerStart, cornerFace } = topologyOf(mesh);
  const face = new Int32Array(faceCount).fill(-1);
  const own = new Uint8Array(faceCount);
  const stamp = new Int32Array(mesh.vertexCount).fill(-1);
  let one = 0;
  for (let f = 0; f < faceCount; f++) {
    if ((f & 4095) === 0) pulse();
    const [s, e] = [faceStart[f], faceStart[f + 1]];
    let side = 0;
    for (let c = s; c < e; c++) {
      stamp[vertex[cornerVertex[c]]] = f;
      side += positions[3 * cornerVertex[c] + axis] - plane;
    }
    const w = vertex[cornerVertex[s]];
    for (let i = vertexCornerStart[w]; i < vertexCornerStart[w + 1] && face[f] < 0; i++) {
      const g = cornerFace[vertexCorner[i]];
      if (faceStart[g + 1] - faceStart[g] !== e - s) continue;
      let all = true;
      for (let c = faceStart[g]; c < faceStart[g + 1] && all; c++) all = stamp[cornerVertex[c]] === f;
      if (all) face[f] = g;
    }
    if (face[f] < 0) return undefined;
    own[f] = face[f] === f || side > 0 ? 1 : 0;
    if (face[f] !== f) one++;
  }
  if (one === 0) return undefined;
  for (let f = 0; f < faceCount; f++) {
    if (face[face[f]] !== f) return undefined;
    // Both in the plane, or across it the wrong way: the one that comes first.
    if (face[f] > f && own[f] === own[face[f]]) {
      own[f] = 1;
      own[face[f]] = 0;
    }
  }
  return { axis, vertex, face, own };
}
