/** What lies on what, by the triangles themselves: also where it is less than a pixel of any raster. */
import { EVERY, pulse } from '../../math/pulse';

const { abs, ceil, floor, max, min, sqrt } = Math;

/** Of the sheet: a ten-thousandth of a pixel of 1,024. What overlaps by less does so by roundness of numbers. */
export const BARELY_ON = 1e-10;

/**
 * Pairs of faces that lie on each other by more than `BARELY_ON`, of which one at least is `loose` (by face). `at`: two
 * places per corner; triangles with a place that is no number lie nowhere. Looked up through a grid, a triangle or so
 * to a cell.
 */
export function meetingLoosely(
  { corners, face }: { corners: Uint32Array; face: Uint32Array },
  at: ArrayLike<number>,
  loose: ArrayLike<number>,
  hit: (face: number, other: number) => void,
  least = BARELY_ON,
): void {
  const many = face.length;
  const box = new Float64Array(4 * many);
  const all = [Infinity, Infinity, -Infinity, -Infinity];
  for (let t = 0; t < many; t++) {
    const [a, b, c] = [2 * corners[3 * t], 2 * corners[3 * t + 1], 2 * corners[3 * t + 2]];
    for (let k = 0; k < 2; k++) {
      box[4 * t + k] = min(at[a + k], at[b + k], at[c + k]);
      box[4 * t + 2 + k] = max(at[a + k], at[b + k], at[c + k]);
      if (!(box[4 * t + 2 + k] - box[4 * t + k] < Infinity)) continue;
      all[k] = min(all[k], box[4 * t + k]);
      all[2 + k] = max(all[2 + k], box[4 * t + 2 + k]);
    }
  }
  const n = max(1, min(1024, ceil(sqrt(many))));
  const cell = (t: number, k: number): number => {
    const q = floor(((box[4 * t + k] - all[k % 2]) / (all[2 + (k % 2)] - all[k % 2] || 1)) * n);
    return min(n - 1, max(0, q));
  };
  const lies = (t: number): boolean => box[4 * t + 2] - box[4 * t] + box[4 * t + 3] - box[4 * t + 1] < Infinity;
  const cells = new Map<number, number[]>();
  const over = (t: number, of: (name: number) => void): void => {
    const [i1, j1] = [cell(t, 2), cell(t, 3)];
    for (let i = cell(t, 0); i <= i1; i++) for (let j = cell(t, 1); j <= j1; j++) of(i * 1024 + j);
  };
  for (let t = 0; t < many; t++)
    if (loose[face[t]] && lies(t))
      over(t, (name) => {
        const list = cells.get(name);
        if (list) list.push(t);
        else cells.set(name, [t]);
      });
  const seen = new Int32Array(many).fill(-1);
  for (let t = 0; t < many; t++) {
    if ((t & EVERY) === 0) pulse();
    if (!lies(t)) continue;
    over(t, (name) => {
      for (const u of cells.get(name) ?? []) {
        // Of two loose ones each is met from the other: once is enough.
        if (seen[u] === t || face[u] === face[t] || (loose[face[t]] && u < t)) continue;
        seen[u] = t;
        if (commonArea(at, corners, t, u) > least) hit(face[u], face[t]);
      }
    });
  }
}

/** Area that two triangles have in common: one cut by the sides of the other (Sutherland & Hodgman 1974). */
function commonArea(at: ArrayLike<number>, corners: Uint32Array, t: number, u: number): number {
  const place = (i: number, k: number): [number, number] => {
    const c = 2 * corners[3 * i + k];
    return [at[c], at[c + 1]];
  };
  let left: [number, number][] = [place(t, 0), place(t, 1), place(t, 2)];
  const by = [place(u, 0), place(u, 1), place(u, 2)];
  const way = sideOf(by[0], by[1], by[2]);
  if (way === 0) return 0;
  for (let k = 0; k < 3; k++) {
    const [p, q] = way > 0 ? [by[k], by[(k + 1) % 3]] : [by[(k + 1) % 3], by[k]];
    const kept: [number, number][] = [];
    for (let i = 0; i < left.length; i++) {
      const [a, b] = [left[i], left[(i + 1) % left.length]];
      const [sa, sb] = [sideOf(p, q, a), sideOf(p, q, b)];
      if (sa >= 0) kept.push(a);
      if ((sa > 0 && sb < 0) || (sa < 0 && sb > 0)) {
        const share = sa / (sa - sb);
        kept.push([a[0] + share * (b[0] - a[0]), a[1] + share * (b[1] - a[1])]);
      }
    }
    if (kept.length < 3) return 0;
    left = kept;
  }
  let area = 0;
  for (let i = 2; i < left.length; i++) area += sideOf(left[0], left[i - 1], left[i]);
  return abs(area) / 2;
}

/** Twice the signed area of a triangle. */
const sideOf = (a: readonly number[], b: readonly number[], c: readonly number[]): number =>
  (b[0] - a[0]) * (c[1] - a[1]) - (b[1] - a[1]) * (c[0] - a[0]);
