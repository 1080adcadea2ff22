/** Faces to triangles by three rules, and triangles back to quads. */
import { key2, key3, key4, keyOf } from '../math/hash';
import { EVERY, pulse } from '../math/pulse';
import { at, cross, dot, minus, unit, type Vector } from '../math/vector';
import { MeshDraft } from '../mesh/draft';
import type { Mesh } from '../mesh/mesh';
import { faceNormals } from '../mesh/normals';
import { nextCorner, previousCorner, topologyOf } from '../mesh/topology';
import { trianglesOf } from '../mesh/triangulate';

const CUT = keyOf('triangulate');
const PAIR = keyOf('pair');

export type TriangleRule = 'short' | 'even' | 'fan';

/** How well shaped a triangle is: 1 for one of equal sides, 0 for one without area. */
function quality(a: Vector, b: Vector, c: Vector): number {
  const u = minus(b, a);
  const w = minus(c, a);
  const e = minus(c, b);
  const n = cross(u, w);
  const sum = dot(u, u) + dot(w, w) + dot(e, e);
  return sum > 0 ? (2 * Math.sqrt(3) * Math.sqrt(dot(n, n))) / sum : 0;
}

/**
 * `short`: along the shortest way across; `even`: so that the worst triangle is as good as can be; `fan`: all from the
 * first corner.
 */
export function toTriangles(mesh: Mesh, faces: ArrayLike<number>, rule: TriangleRule, id: number): Mesh {
  const draft = new MeshDraft(mesh);
  const seed = key2(id, CUT);
  const { positions: p, cornerVertex: cv } = mesh;
  for (let i = 0; i < faces.length; i++) {
    if ((i & EVERY) === 0) pulse();
    const f = faces[i];
    const s = mesh.faceStart[f];
    const n = mesh.faceStart[f + 1] - s;
    if (n < 4) continue;
    const out = new Uint32Array(3 * (n - 2));
    trianglesOf(mesh, f, out, 0);
    if (rule === 'fan') for (let k = 0; k < n - 2; k++) out.set([s, s + k + 1, s + k + 2], 3 * k);
    if (rule === 'even' && n === 4) {
      const [a, b, c, d] = [0, 1, 2, 3].map((k) => at(p, cv[s + k]));
      const one = Math.min(quality(a, b, c), quality(a, c, d));
      const other = Math.min(quality(a, b, d), quality(b, c, d));
      // A quad with a corner that turns in can be cut at that corner only: there the other cut's triangles look
      // different ways.
      const folds = (x: Vector, y: Vector, z: Vector, u: Vector, v: Vector, w: Vector) =>
        dot(cross(minus(y, x), minus(z, x)), cross(minus(v, u), minus(w, u))) <= 0;
      const first = folds(a, b, c, a, c, d) ? -1 : one;
      const second = folds(a, b, d, b, c, d) ? -1 : other;
      if (first >= second) out.set([s, s + 1, s + 2, s, s + 2, s + 3]);
      else out.set([s, s + 1, s + 3, s + 1, s + 2, s + 3]);
    }
    const parts: number[] = [];
    for (let k = 0; k < n - 2; k++) {
      const key = key4(
        key2(seed, mesh.faceKey[f]),
        ...([0, 1, 2].map((q) => mesh.vertexKey[cv[out[3 * k + q]]]) as [number, number, number]),
      );
      parts.push(key);
      draft.begin(key, f);
      for (let q = 0; q < 3; q++) draft.at(cv[out[3 * k + q]], out[3 * k + q]);
      draft.end();
    }
    draft.split(mesh.faceKey[f], parts);
    draft.drop(f);
  }
  return draft.finish();
}

/**
 * Triangles that lie side by side become quads: the pairs that make the best come first (square corners, flat), as long
 * as they bend less than `bend` (radians) and are of one material and group. Corners whose attributes differ across the
 * edge (a seam, a hard edge of UVs) hold it.
 */
export function toQuads(mesh: Mesh, faces: ArrayLike<number>, bend: number, id: number): Mesh {
  const t = topologyOf(mesh);
  const { positions: p, cornerVertex: cv, faceStart } = mesh;
  const picked = new Uint8Array(mesh.faceCount);
  for (let i = 0; i < faces.length; i++) picked[faces[i]] = faceStart[faces[i] + 1] - faceStart[faces[i]] === 3 ? 1 : 0;
  const normals = faceNormals(mesh);
  const limit = Math.cos(bend) - 1e-6;
  const pairs: { score: number; c: number; o: number }[] = [];
  for (let e = 0; e < t.edgeCount; e++) {
    if ((e & EVERY) === 0) pulse();
    const s = t.edgeCornerStart[e];
    if (t.edgeCornerStart[e + 1] - s !== 2) continue;
    const c = t.edgeCorner[s];
    const o = t.edgeCorner[s + 1];
    const [f, g] = [t.cornerFace[c], t.cornerFace[o]];
    if (!picked[f] || !picked[g] || f === g || cv[c] === cv[o]) continue;
    let cos = 0;
    for (let k = 0; k < 3; k++) cos += normals[3 * f + k] * normals[3 * g + k];
    if (cos < limit || !alike(mesh, f, g) || !joinsAt(mesh, c, o, f, g)) continue;
    const ring = ringOf(mesh, c, o, f, g);
    if (new Set(ring.map((x) => cv[x])).size < 4) continue;
    const corners = ring.map((x) => at(p, cv[x]));
    pairs.push({ score: squareness(corners) - (1 - cos), c, o });
  }
  const vk = mesh.vertexKey;
  const rank = (x: number) => Math.min(vk[cv[x]], vk[cv[nextCorner(mesh, t.cornerFace[x], x)]]);
  pairs.sort((a, b) => (Math.abs(a.score - b.score) > 1e-5 ? b.score - a.score : rank(a.c) - rank(b.c)));
  const draft = new MeshDraft(mesh);
  const seed = key2(id, PAIR);
  for (const { c, o, score } of pairs) {
    const [f, g] = [t.cornerFace[c], t.cornerFace[o]];
    if (score <= 0 || draft.isDropped(f) || draft.isDropped(g)) continue;
    const [low, high] = mesh.faceKey[f] < mesh.faceKey[g] ? [f, g] : [g, f];
    const key = key3(seed, mesh.faceKey[low], mesh.faceKey[high]);
    draft.begin(key, low);
    for (const x of ringOf(mesh, c, o, f, g)) draft.at(cv[x], x);
    draft.end();
    for (const x of [f, g]) {
      draft.split(mesh.faceKey[x], [key]);
      draft.drop(x);
    }
  }
  return draft.finish();
}

/** The four corners round two triangles that share the edges of corners c and o. */
const ringOf = (mesh: Mesh, c: number, o: number, f: number, g: number): number[] => [
  nextCorner(mesh, f, c),
  previousCorner(mesh, f, c),
  c,
  previousCorner(mesh, g, o),
];

/** 1 for square corners, 0 and less where one turns in or is flat. */
function squareness(ring: readonly Vector[]): number {
  let worst = 1;
  for (let i = 0; i < 4; i++) {
    const a = unit(minus(ring[(i + 3) % 4], ring[i]));
    const b = unit(minus(ring[(i + 1) % 4], ring[i]));
    worst = Math.min(worst, 1 - Math.abs(dot(a, b)));
  }
  const n1 = cross(minus(ring[1], ring[0]), minus(ring[3], ring[0]));
  const n2 = cross(minus(ring[3], ring[2]), minus(ring[1], ring[2]));
  const n3 = cross(minus(ring[2], ring[1]), minus(ring[0], ring[1]));
  const n4 = cross(minus(ring[0], ring[3]), minus(ring[2], ring[3]));
  const convex = [n2, n3, n4].every((n) => dot(n1, n) > 0);
  return convex ? worst : -1;
}

/** Of one material, one group and whatever else faces are marked by. */
function alike(mesh: Mesh, f: number, g: number): boolean {
  for (const a of Object.values(mesh.attributes)) {
    if (a.domain !== 'face') continue;
    for (let k = 0; k < a.width; k++) if (a.data[a.width * f + k] !== a.data[a.width * g + k]) return false;
  }
  return true;
}

/** Whether what corners carry is the same on both sides of an edge. */
function joinsAt(mesh: Mesh, c: number, o: number, f: number, g: number): boolean {
  const pairs = [
    [c, nextCorner(mesh, g, o)],
    [nextCorner(mesh, f, c), o],
  ];
  for (const a of Object.values(mesh.attributes)) {
    if (a.domain !== 'corner') continue;
    for (const [x, y] of pairs)
      for (let k = 0; k < a.width; k++)
        if (Math.abs(a.data[a.width * x + k] - a.data[a.width * y + k]) > 1e-5) return false;
  }
  return true;
}
