/**
 * Normals that are kept: smooth up to an angle, hard along picked edges, or by area, so that large faces stay flat and
 * what rounds them off takes the bend. They are written to the corners of chosen faces; what moves vertices later lets
 * go of them, as of normals from files.
 */
import { EVERY, pulse } from '../math/pulse';
import { UnionFind } from '../math/unionfind';
import { NORMAL, type Mesh } from '../mesh/mesh';
import { faceNormals } from '../mesh/normals';
import { nextCorner, previousCorner, topologyOf } from '../mesh/topology';
import { bends } from '../rules/measures';

export interface Shade {
  /** Radians: edges that bend by more are hard. */
  angle: number;
  /** By the area of faces rather than by their angle at the vertex. */
  byArea: boolean;
}

/** `hard`: edges that are so whatever they bend by. Without `faces` all are meant. */
export function shade(mesh: Mesh, hard: ArrayLike<number>, o: Shade, faces?: Uint8Array): Mesh {
  const t = topologyOf(mesh);
  const { positions: p, cornerVertex: cv, faceStart } = mesh;
  const bend = bends(mesh);
  const isHard = new Uint8Array(t.edgeCount);
  for (let e = 0; e < t.edgeCount; e++) {
    const b = bend(e);
    isHard[e] = b < 0 || b > o.angle ? 1 : 0;
  }
  for (let i = 0; i < hard.length; i++) isHard[hard[i]] = 1;
  // Corners of one vertex share a normal where their faces meet over an edge that is not hard.
  const joined = new UnionFind(mesh.cornerCount);
  for (let e = 0; e < t.edgeCount; e++) {
    if ((e & EVERY) === 0) pulse();
    if (isHard[e]) continue;
    const s = t.edgeCornerStart[e];
    const [c, d] = [t.edgeCorner[s], t.edgeCorner[s + 1]];
    joined.join(c, nextCorner(mesh, t.cornerFace[d], d));
    joined.join(d, nextCorner(mesh, t.cornerFace[c], c));
  }
  const area = faceNormals(mesh, true);
  const flat = faceNormals(mesh);
  const sum = new Float64Array(3 * mesh.cornerCount);
  for (let f = 0; f < mesh.faceCount; f++) {
    if ((f & EVERY) === 0) pulse();
    for (let c = faceStart[f]; c < faceStart[f + 1]; c++) {
      const r = 3 * joined.find(c);
      const w = o.byArea ? 1 : angleAt(p, cv[previousCorner(mesh, f, c)], cv[c], cv[nextCorner(mesh, f, c)]);
      const n = o.byArea ? area : flat;
      for (let k = 0; k < 3; k++) sum[r + k] += w * n[3 * f + k];
    }
  }
  const had = mesh.attributes[NORMAL]?.data;
  const data = new Float32Array(3 * mesh.cornerCount);
  for (let c = 0; c < mesh.cornerCount; c++) {
    const r = 3 * joined.find(c);
    const l = Math.hypot(sum[r], sum[r + 1], sum[r + 2]);
    const f = t.cornerFace[c];
    const keep = faces && !faces[f];
    for (let k = 0; k < 3; k++) {
      const own = l > 0 ? sum[r + k] / l : flat[3 * f + k];
      data[3 * c + k] = keep && had ? had[3 * c + k] : own;
    }
  }
  return mesh.with({ attributes: { ...mesh.attributes, [NORMAL]: { domain: 'corner', width: 3, data } } });
}

function angleAt(p: Float32Array, a: number, v: number, b: number): number {
  let dot = 0;
  let la = 0;
  let lb = 0;
  for (let k = 0; k < 3; k++) {
    const x = p[3 * a + k] - p[3 * v + k];
    const y = p[3 * b + k] - p[3 * v + k];
    dot += x * y;
    la += x * x;
    lb += y * y;
  }
  return la > 0 && lb > 0 ? Math.acos(Math.max(-1, Math.min(1, dot / Math.sqrt(la * lb)))) : 0;
}
