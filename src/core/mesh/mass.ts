/**
 * What a body of even density weighs: volume, centre of mass, moments of inertia; and vertices where two sheets meet in
 * one point.
 */
import { UnionFind } from '../math/unionfind';
import { EVERY, pulse } from '../math/pulse';
import { boundsOf, centreOfBounds } from './bounds';
import type { Mesh } from './mesh';
import { topologyOf } from './topology';
import { triangulate } from './triangulate';

export interface Mass {
  volume: number;
  centre: [number, number, number];
  /**
   * Ixx, Iyy, Izz, Ixy, Ixz, Iyz about the centre of mass, for a density of 1; products with their sign, as in the
   * matrix.
   */
  inertia: [number, number, number, number, number, number];
}

/**
 * Of a closed mesh: sums over the cones from the middle of the bounds to each triangle (Tonon 2004, explicit integrals
 * over a tetrahedron), in doubles about that middle, so that a body far from the origin loses nothing. Nothing for what
 * encloses no volume.
 */
export function massOf(mesh: Mesh): Mass | undefined {
  const { positions: p, cornerVertex } = mesh;
  const o = centreOfBounds(boundsOf(p));
  const t = triangulate(mesh);
  let six = 0;
  const first = [0, 0, 0];
  const second = [0, 0, 0, 0, 0, 0]; // xx yy zz xy xz yz
  const x = new Float64Array(9);
  for (let i = 0; i < t.corners.length; i += 3) {
    if ((i & EVERY) === 0) pulse();
    for (let k = 0; k < 9; k++) x[k] = p[3 * cornerVertex[t.corners[i + ((k / 3) | 0)]] + (k % 3)] - o[k % 3];
    const det =
      x[0] * (x[4] * x[8] - x[5] * x[7]) + x[1] * (x[5] * x[6] - x[3] * x[8]) + x[2] * (x[3] * x[7] - x[4] * x[6]);
    six += det;
    for (let k = 0; k < 3; k++) first[k] += det * (x[k] + x[3 + k] + x[6 + k]);
    PAIRS.forEach(([a, b], n) => {
      const sa = x[a] + x[3 + a] + x[6 + a];
      const sb = x[b] + x[3 + b] + x[6 + b];
      second[n] += det * (sa * sb + x[a] * x[b] + x[3 + a] * x[3 + b] + x[6 + a] * x[6 + b]);
    });
  }
  const volume = six / 6;
  if (!(Math.abs(volume) > 0)) return undefined;
  const c = first.map((s) => s / 24 / volume);
  const m = second.map((s, n) => s / 120 - volume * c[PAIRS[n][0]] * c[PAIRS[n][1]]);
  return {
    volume,
    centre: [c[0] + o[0], c[1] + o[1], c[2] + o[2]],
    inertia: [m[1] + m[2], m[0] + m[2], m[0] + m[1], -m[3], -m[4], -m[5]],
  };
}

const PAIRS = [
  [0, 0],
  [1, 1],
  [2, 2],
  [0, 1],
  [0, 2],
  [1, 2],
] as const;

/** Vertices whose faces are of two or more fans that touch nowhere but there. */
export function pinchedVertices(mesh: Mesh): number[] {
  const t = topologyOf(mesh);
  const joined = new UnionFind(mesh.cornerCount);
  // Two corners of a vertex are of one fan where their faces share an edge at it.
  for (let e = 0; e < t.edgeCount; e++) {
    if ((e & EVERY) === 0) pulse();
    const s = t.edgeCornerStart[e];
    for (let k = 0; k < 2; k++) {
      const v = t.edgeVertex[2 * e + k];
      const at = (i: number) => {
        const c = t.edgeCorner[i];
        if (mesh.cornerVertex[c] === v) return c;
        const f = t.cornerFace[c];
        return c + 1 < mesh.faceStart[f + 1] ? c + 1 : mesh.faceStart[f];
      };
      for (let i = s + 1; i < t.edgeCornerStart[e + 1]; i++) joined.join(at(i), at(s));
    }
  }
  const { of } = joined.parts();
  const out: number[] = [];
  for (let v = 0; v < mesh.vertexCount; v++) {
    const s = t.vertexCornerStart[v];
    for (let i = s + 1; i < t.vertexCornerStart[v + 1]; i++)
      if (of[t.vertexCorner[i]] !== of[t.vertexCorner[s]]) {
        out.push(v);
        break;
      }
  }
  return out;
}
