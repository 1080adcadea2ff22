/**
 * Where elements belong: for every vertex its place in the natural coordinates of what made it, which neither sizes nor
 * counts nor moves by hand change: shares of a box from −1 to 1 along its sides, points of the unit cylinder and
 * sphere, places in its own bounds for what came from a file. A fourth number tells how many times it was drawn out of
 * the surface, and a role which move or copy it comes from. Vertices made between others lie between them. Worked out
 * only when a pick has to be followed; until then a mesh holds how.
 */
import { EVERY, pulse } from '../math/pulse';
import { key2 } from '../math/hash';

export interface Places {
  /** 4 per vertex: natural coordinates, and the lift. */
  readonly at: Float32Array;
  /**
   * Per vertex: the copy it belongs to in the upper 16 bits, the move that drew it out in the lower; 0 for what a maker
   * made.
   */
  readonly role: Uint32Array;
}

/** Something worked out when first asked for; what it was made from is let go then. */
export class Later<T> {
  private value: T | undefined;
  constructor(private make: (() => T) | undefined) {}
  get(): T {
    if (this.make) {
      this.value = this.make();
      this.make = undefined;
    }
    return this.value as T;
  }
}

/** Of what says nothing of its own: its bounds from −1 to 1 along the longest side. */
export function placesInBounds(positions: Float32Array): Places {
  const n = positions.length / 3;
  const lo = [Infinity, Infinity, Infinity];
  const hi = [-Infinity, -Infinity, -Infinity];
  for (let i = 0; i < positions.length; i++) {
    const k = i % 3;
    if (positions[i] < lo[k]) lo[k] = positions[i];
    if (positions[i] > hi[k]) hi[k] = positions[i];
  }
  const half = Math.max(hi[0] - lo[0], hi[1] - lo[1], hi[2] - lo[2]) / 2;
  const scale = half > 0 ? 1 / half : 1;
  const at = new Float32Array(4 * n);
  for (let v = 0; v < n; v++) {
    if ((v & EVERY) === 0) pulse();
    for (let k = 0; k < 3; k++) at[4 * v + k] = (positions[3 * v + k] - (lo[k] + hi[k]) / 2) * scale;
  }
  return { at, role: new Uint32Array(n) };
}

/** Of two roles the later: what was drawn out farther, of equals a copy before its original. */
export const laterRole = (liftA: number, a: number, liftB: number, b: number): number => {
  if (liftA !== liftB) return Math.abs(liftA) > Math.abs(liftB) ? a : b;
  return a > b ? a : b;
};

const low = (key: number): number => key & 0xffff || 1;
/** The role of what a move draws out of something. */
export const drawnRole = (role: number, move: number): number => ((role & 0xffff0000) | low(move)) >>> 0;
/** The role of a copy of something. */
export const copiedRole = (role: number, copy: number): number =>
  (((low(key2(copy, role >>> 16)) << 16) >>> 0) | (role & 0xffff)) >>> 0;

/** Of chosen vertices. */
export function gatherPlaces({ at, role }: Places, from: ArrayLike<number>): Places {
  const out = { at: new Float32Array(4 * from.length), role: new Uint32Array(from.length) };
  for (let i = 0; i < from.length; i++) {
    const s = from[i];
    for (let k = 0; k < 4; k++) out.at[4 * i + k] = at[4 * s + k];
    out.role[i] = role[s];
  }
  return out;
}

/** Something between many vertices or corners: their numbers, and weights that sum to 1. */
export interface Blend {
  readonly of: readonly number[];
  readonly weights: readonly number[];
}

/** The first of the greatest. */
export function heaviest(weights: readonly number[]): number {
  let best = 0;
  for (let i = 1; i < weights.length; i++) if (weights[i] > weights[best] + 1e-9) best = i;
  return best;
}

/**
 * New vertices after the old ones: each between two old ones (−1 for none, from −2 down a blend), at a share of the
 * way.
 */
export function extendPlaces(
  { at, role }: Places,
  from: ArrayLike<number>,
  share: ArrayLike<number>,
  blends: readonly Blend[] = [],
): { at: Float32Array; role: Uint32Array } {
  const had = role.length;
  const added = share.length;
  const out = { at: new Float32Array(4 * (had + added)), role: new Uint32Array(had + added) };
  out.at.set(at);
  out.role.set(role);
  for (let i = 0; i < added; i++) {
    const a = from[2 * i];
    const b = from[2 * i + 1] >= 0 ? from[2 * i + 1] : a;
    if (a < -1) blendPlace(out, had + i, { at, role }, blends[-2 - a]);
    if (a < 0) continue;
    const t = a === b ? 0 : share[i];
    for (let k = 0; k < 4; k++) out.at[4 * (had + i) + k] = at[4 * a + k] + (at[4 * b + k] - at[4 * a + k]) * t;
    out.role[had + i] = a === b ? role[a] : laterRole(at[4 * a + 3], role[a], at[4 * b + 3], role[b]);
  }
  return out;
}

function blendPlace(out: Places, to: number, { at, role }: Places, { of, weights }: Blend): void {
  for (let k = 0; k < 4; k++) {
    let sum = 0;
    for (let i = 0; i < of.length; i++) sum += weights[i] * at[4 * of[i] + k];
    out.at[4 * to + k] = sum;
  }
  let first = of[0];
  for (const v of of) if (laterRole(at[4 * first + 3], role[first], at[4 * v + 3], role[v]) === role[v]) first = v;
  out.role[to] = role[first];
}
