/** Small vectors as triples, for what is not in an inner loop. */
import type { Triple } from './affine';

export type Vector = [number, number, number];

export const at = (positions: ArrayLike<number>, vertex: number): Vector => [
  positions[3 * vertex],
  positions[3 * vertex + 1],
  positions[3 * vertex + 2],
];
export const dot = (a: Triple, b: Triple): number => a[0] * b[0] + a[1] * b[1] + a[2] * b[2];
export const cross = (a: Triple, b: Triple): Vector => [
  a[1] * b[2] - a[2] * b[1],
  a[2] * b[0] - a[0] * b[2],
  a[0] * b[1] - a[1] * b[0],
];
export const minus = (a: Triple, b: Triple): Vector => [a[0] - b[0], a[1] - b[1], a[2] - b[2]];
export const size = (a: Triple): number => Math.sqrt(dot(a, a));
export const apart = (a: Triple, b: Triple): number => size(minus(a, b));
/** a + s · b */
export const along = (a: Triple, b: Triple, s: number): Vector => [a[0] + s * b[0], a[1] + s * b[1], a[2] + s * b[2]];
/** From a to b, at a share of the way. */
export const between = (a: Triple, b: Triple, t: number): Vector => along(a, minus(b, a), t);
/** Of length 1; what has no length stays so. */
export const unit = (a: Triple): Vector => {
  const l = size(a);
  return l > 0 ? [a[0] / l, a[1] / l, a[2] / l] : [0, 0, 0];
};
export const mean = (list: readonly Triple[]): Vector => {
  const out: Vector = [0, 0, 0];
  for (const p of list) for (let k = 0; k < 3; k++) out[k] += p[k] / list.length;
  return out;
};
/** Any direction of length 1 that is square to a unit one. */
export const square = (n: Triple): Vector => {
  const axis = n.findIndex((x) => Math.abs(x) < 0.6);
  return unit(cross(n, [axis === 0 ? 1 : 0, axis === 1 ? 1 : 0, axis === 2 ? 1 : 0]));
};
