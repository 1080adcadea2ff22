/**
 * Places on a mesh, held by lasting keys: a vertex, a share of an edge, a point inside a face as a mix of three of its
 * vertices; or free in space. Tools that are drawn keep these, so what was drawn follows the model.
 */
import type { Triple } from '../math/affine';
import { edgeKey } from '../math/hash';
import type { Mesh } from './mesh';
import { raysOf } from './rays';
import { topologyOf } from './topology';

export interface SurfacePlace {
  readonly on: 'vertex' | 'edge' | 'face' | 'free';
  /** Of the element; 0 for free. */
  readonly key: number;
  /** Along an edge, from its end with the lower key. */
  readonly t?: number;
  /** In a face: keys of three of its vertices, and how much of each. */
  readonly of?: readonly number[];
  readonly weights?: readonly number[];
  /** Where it was, in the piece's own space. */
  readonly at: Triple;
}

/** A place found again in a mesh. */
export interface FoundPlace {
  on: 'vertex' | 'edge' | 'face' | 'free';
  /** Of the element; −1 for free. */
  index: number;
  t: number;
  at: [number, number, number];
}

/** Nearer to a vertex or an edge than this share of the edge, a place is meant to be on it. */
const ON_VERTEX = 0.06;
const ON_EDGE = 0.05;

/**
 * The place of a surface nearest to a point; undefined where there is no surface. Near a vertex or an edge it is on
 * that: `kind` says what is meant where that is known.
 */
export function placeNear(
  mesh: Mesh,
  point: Triple,
  kind: 'vertex' | 'edge' | 'face' | 'any' = 'any',
): SurfacePlace | undefined {
  const near = raysOf(mesh).nearest(point);
  if (!near) return undefined;
  const { face } = near;
  const { cornerVertex: cv, vertexKey: vk, positions: p, faceStart } = mesh;
  const [s, e] = [faceStart[face], faceStart[face + 1]];
  const at = (v: number): Triple => [p[3 * v], p[3 * v + 1], p[3 * v + 2]];
  const apart = (a: Triple, b: Triple) => Math.hypot(a[0] - b[0], a[1] - b[1], a[2] - b[2]);
  let best: { d: number; a: number; b: number; u: number; long: number } | undefined;
  for (let c = s; c < e; c++) {
    const [a, b] = [cv[c], cv[c + 1 < e ? c + 1 : s]];
    const [pa, pb] = [at(a), at(b)];
    const long = apart(pa, pb);
    if (!(long > 0)) continue;
    let dot = 0;
    for (let k = 0; k < 3; k++) dot += (near.at[k] - pa[k]) * (pb[k] - pa[k]);
    const u = Math.max(0, Math.min(1, dot / (long * long)));
    const d = apart(near.at, [0, 1, 2].map((k) => pa[k] + u * (pb[k] - pa[k])) as unknown as Triple);
    if (!best || d < best.d) best = { d, a, b, u, long };
  }
  if (best && kind !== 'face') {
    const { d, a, b, u, long } = best;
    const close = kind === 'any' && d < ON_EDGE * long;
    const end = u < 0.5 ? a : b;
    if (kind === 'vertex' || (close && Math.min(u, 1 - u) < ON_VERTEX))
      return { on: 'vertex', key: vk[end], at: at(end) };
    if (kind === 'edge' || close) {
      const forward = vk[a] < vk[b];
      const place = [0, 1, 2].map((k) => p[3 * a + k] + u * (p[3 * b + k] - p[3 * a + k])) as unknown as Triple;
      return { on: 'edge', key: edgeKey(vk[a], vk[b]), t: forward ? u : 1 - u, at: place };
    }
  }
  const of = [0, 1, 2].map((k) => raysOf(mesh).vertex[3 * near.triangle + k]);
  return {
    on: 'face',
    key: mesh.faceKey[face],
    of: of.map((v) => vk[v]),
    weights: mixOf(of.map(at), near.at),
    at: near.at,
  };
}

/** Barycentric coordinates of a place in a triangle. */
function mixOf([a, b, c]: readonly Triple[], q: Triple): number[] {
  const minus = (x: Triple, y: Triple) => [x[0] - y[0], x[1] - y[1], x[2] - y[2]];
  const dot = (x: number[], y: number[]) => x[0] * y[0] + x[1] * y[1] + x[2] * y[2];
  const [u, v, w] = [minus(b, a), minus(c, a), minus(q, a)];
  const [uu, uv, vv, wu, wv] = [dot(u, u), dot(u, v), dot(v, v), dot(w, u), dot(w, v)];
  const det = uu * vv - uv * uv;
  if (!(det > 0)) return [1, 0, 0];
  const s = (wu * vv - wv * uv) / det;
  const t = (wv * uu - wu * uv) / det;
  return [1 - s - t, s, t];
}

/** Places as they are in a mesh now; undefined for those whose element is gone. */
export function findPlaces(mesh: Mesh, places: readonly SurfacePlace[]): (FoundPlace | undefined)[] {
  const wanted = {
    vertex: new Map<number, number>(),
    edge: new Map<number, number>(),
    face: new Map<number, number>(),
  };
  for (const x of places) {
    if (x.on !== 'free') wanted[x.on].set(x.key, -1);
    for (const k of x.of ?? []) wanted.vertex.set(k, -1);
  }
  const { vertexKey: vk, faceKey: fk, positions: p } = mesh;
  const fill = (keys: ArrayLike<number>, of: Map<number, number>) => {
    if (of.size === 0) return;
    for (let i = 0; i < keys.length; i++) if (of.has(keys[i])) of.set(keys[i], i);
  };
  fill(vk, wanted.vertex);
  fill(fk, wanted.face);
  const t = topologyOf(mesh);
  if (wanted.edge.size > 0)
    for (let e = 0; e < t.edgeCount; e++) {
      const key = edgeKey(vk[t.edgeVertex[2 * e]], vk[t.edgeVertex[2 * e + 1]]);
      if (wanted.edge.has(key)) wanted.edge.set(key, e);
    }
  const at = (v: number): [number, number, number] => [p[3 * v], p[3 * v + 1], p[3 * v + 2]];
  return places.map((x): FoundPlace | undefined => {
    if (x.on === 'free') return { on: 'free', index: -1, t: 0, at: [x.at[0], x.at[1], x.at[2]] };
    const index = wanted[x.on].get(x.key) ?? -1;
    if (index < 0) return undefined;
    if (x.on === 'vertex') return { on: 'vertex', index, t: 0, at: at(index) };
    if (x.on === 'edge') {
      const [a, b] = [t.edgeVertex[2 * index], t.edgeVertex[2 * index + 1]];
      const [lo, hi] = vk[a] < vk[b] ? [a, b] : [b, a];
      const u = Math.max(0, Math.min(1, x.t ?? 0.5));
      const [q, r] = [at(lo), at(hi)];
      return {
        on: 'edge',
        index,
        t: u,
        at: [0, 1, 2].map((k) => q[k] + u * (r[k] - q[k])) as [number, number, number],
      };
    }
    const of = (x.of ?? []).map((k) => wanted.vertex.get(k) ?? -1);
    const sum: [number, number, number] = [0, 0, 0];
    if (of.length !== 3 || of.includes(-1)) {
      // A corner is gone: the middle of the face is still of it.
      const [s, e] = [mesh.faceStart[index], mesh.faceStart[index + 1]];
      for (let c = s; c < e; c++) for (let k = 0; k < 3; k++) sum[k] += p[3 * mesh.cornerVertex[c] + k] / (e - s);
    } else of.forEach((v, i) => at(v).forEach((q, k) => (sum[k] += (x.weights?.[i] ?? 1 / 3) * q)));
    return { on: 'face', index, t: 0, at: sum };
  });
}
