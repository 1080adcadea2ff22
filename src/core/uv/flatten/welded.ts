/**
 * A patch as it is laid flat. Without its triangles of no area: places that coincide are one vertex, and what fell
 * together between them is gone; left in, such triangles would say of angles what they do not have. And whole where
 * more faces than two hang on an edge, but two of them go on into each other: the two sides of such a slit would lie
 * on each other by rounding.
 */
import { UnionFind } from '../../math/unionfind';
import type { Rest } from './flatness';
import type { Patch } from './patch';

const { abs, max, min, sqrt } = Math;

const STEPS = 2.5e-7;
const NOTHING = 1e-4;

export interface Welded {
  patch: Patch;
  /** Vertex there for each vertex of the patch that was given. */
  of: Uint32Array;
}

/** Undefined where nothing coincides, or what is left would not be a surface any more. */
export const welded = (patch: Patch): Welded | undefined =>
  (patch.torn.length > 0 ? weldedWith(patch, patch.torn) : undefined) ?? weldedWith(patch, NONE);

const NONE = new Uint32Array(0);

function weldedWith(patch: Patch, torn: Uint32Array): Welded | undefined {
  const { points: p, triangles } = patch;
  const least = nearest(patch) ** 2;
  const n = p.length / 3;
  let one: UnionFind | undefined;
  for (let i = 0; i < torn.length; i += 4) {
    one ??= new UnionFind(n);
    one.join(torn[i], torn[i + 2]);
    one.join(torn[i + 1], torn[i + 3]);
  }
  for (let t = 0; t < triangles.length; t += 3)
    for (let q = 0; q < 3; q++) {
      const [v, w] = [triangles[t + q], triangles[t + ((q + 1) % 3)]];
      const [a, b] = [3 * v, 3 * w];
      if ((p[a] - p[b]) ** 2 + (p[a + 1] - p[b + 1]) ** 2 + (p[a + 2] - p[b + 2]) ** 2 > least) continue;
      one ??= new UnionFind(n);
      one.join(v, w);
    }
  if (!one) return undefined;
  const of = new Uint32Array(n);
  const number = new Int32Array(n).fill(-1);
  let count = 0;
  for (let v = 0; v < n; v++) {
    const root = one.find(v);
    if (number[root] < 0) number[root] = count++;
    of[v] = number[root];
  }
  const points = new Float64Array(3 * count);
  for (let v = n - 1; v >= 0; v--) points.set(p.subarray(3 * v, 3 * v + 3), 3 * of[v]);
  const left: number[] = [];
  for (let t = 0; t < triangles.length; t += 3) {
    const [a, b, c] = [of[triangles[t]], of[triangles[t + 1]], of[triangles[t + 2]]];
    if (a !== b && b !== c && c !== a) left.push(a, b, c);
  }
  if (left.length === 0) return undefined;
  const rim = rimOf(left, count);
  if (!rim) return undefined;
  const edges = (left.length + rim.length / 2) / 2;
  const next = new Map<number, number>();
  for (let i = 0; i < rim.length; i += 2) next.set(rim[i], rim[i + 1]);
  // A rim that comes twice by one vertex is pinched there.
  if (next.size !== rim.length / 2) return undefined;
  const euler = count - edges + left.length / 3;
  const borders = loops(next);
  // Torn places made whole may close a hole, or leave one.
  if (euler !== 2 - borders || (torn.length === 0 && borders !== patch.borders)) return undefined;
  return {
    patch: {
      ...patch,
      points,
      triangles: Uint32Array.from(left),
      rim: Uint32Array.from(rim),
      borders,
      euler,
      torn: NONE,
    },
    of,
  };
}

/**
 * Two places nearer than this are one: about two steps of single precision, as long as that is nothing against the
 * sides of triangles. Far from the origin those steps may be what a model is made of.
 */
function nearest({ points: p, triangles }: Patch): number {
  let reach = 0;
  for (let i = 0; i < p.length; i++) reach = max(reach, abs(p[i]));
  let sum = 0;
  for (let t = 0; t < triangles.length; t += 3) {
    const [a, b] = [3 * triangles[t], 3 * triangles[t + 1]];
    sum += sqrt((p[a] - p[b]) ** 2 + (p[a + 1] - p[b + 1]) ** 2 + (p[a + 2] - p[b + 2]) ** 2);
  }
  return min(STEPS * reach, NOTHING * (sum / (triangles.length / 3)));
}

/** Sides with a triangle on their left only; undefined where two triangles have one side the same way round. */
function rimOf(triangles: readonly number[], n: number): number[] | undefined {
  const sides = new Set<number>();
  for (let t = 0; t < triangles.length; t += 3)
    for (let q = 0; q < 3; q++) {
      const name = triangles[t + q] * n + triangles[t + ((q + 1) % 3)];
      if (sides.has(name)) return undefined;
      sides.add(name);
    }
  const rim: number[] = [];
  for (const name of sides) {
    const [v, w] = [Math.floor(name / n), name % n];
    if (!sides.has(w * n + v)) rim.push(v, w);
  }
  return rim;
}

function loops(next: ReadonlyMap<number, number>): number {
  const seen = new Set<number>();
  let count = 0;
  for (const first of next.keys()) {
    if (seen.has(first)) continue;
    count++;
    for (let v: number | undefined = first; v !== undefined && !seen.has(v); v = next.get(v)) seen.add(v);
  }
  return count;
}

/** Of its sides squared, a triangle that takes no more of the sheet takes nothing. */
const FOLD = 1e-7;

/** How a triangle that has no area on the surface lies on the sheet: 0 where it has none there either. */
export function liesAs(triangles: Uint32Array, i: number, uv: Float64Array): -1 | 0 | 1 {
  const [a, b, c] = [2 * triangles[3 * i], 2 * triangles[3 * i + 1], 2 * triangles[3 * i + 2]];
  const [ux, uy, wx, wy] = [uv[b] - uv[a], uv[b + 1] - uv[a + 1], uv[c] - uv[a], uv[c + 1] - uv[a + 1]];
  const det = ux * wy - uy * wx;
  if (abs(det) <= FOLD * (ux * ux + uy * uy + wx * wx + wy * wy)) return 0;
  return det > 0 ? 1 : -1;
}

/**
 * The rim of a patch without the triangles of no area that hang on it, here and on the sheet: they cover nothing, but
 * their sides lie on each other.
 */
export function rimOfArea({ triangles, rim, points }: Patch, rest: Rest, uv: Float64Array): Uint32Array {
  const n = points.length / 3;
  const sides = new Map<number, number>();
  for (let i = 0; i < rest.area.length; i++)
    if (!(rest.area[i] > 0) && liesAs(triangles, i, uv) === 0)
      for (let q = 0; q < 3; q++) sides.set(triangles[3 * i + q] * n + triangles[3 * i + ((q + 1) % 3)], i);
  if (sides.size === 0) return rim;
  const gone = new Set<number>();
  const own = new Set<number>();
  const wait: number[] = [];
  for (let k = 0; k < rim.length; k += 2) {
    own.add(rim[k] * n + rim[k + 1]);
    wait.push(rim[k] * n + rim[k + 1]);
  }
  for (let name = wait.pop(); name !== undefined; name = wait.pop()) {
    const i = sides.get(name);
    if (i === undefined || gone.has(i)) continue;
    gone.add(i);
    for (let q = 0; q < 3; q++) {
      const [v, w] = [triangles[3 * i + q], triangles[3 * i + ((q + 1) % 3)]];
      if (own.delete(v * n + w)) continue;
      own.add(w * n + v);
      wait.push(w * n + v);
    }
  }
  const out: number[] = [];
  for (const name of own) out.push(Math.floor(name / n), name % n);
  return Uint32Array.from(out);
}
