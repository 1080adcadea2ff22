/** What formulas may name of places on curves. */
import { table } from '../math/table';
import type { PlaceOnCurve } from '../curve/places';
import type { Known, Scope } from './code';
import { LENGTH, PLACE, PLAIN, TRUTH, WAY, type Type } from './types';

type Maker = (places: readonly PlaceOnCurve[]) => Known;

const one =
  (type: Type, help: string, of: (p: PlaceOnCurve, i: number) => number): Maker =>
  (places) => ({
    type,
    help,
    fill: (from, count, out) => {
      for (let i = 0; i < count; i++) out[i] = of(places[from + i], from + i);
    },
  });
const three =
  (type: Type, help: string, of: (p: PlaceOnCurve) => readonly number[]): Maker =>
  (places) => ({
    type,
    help,
    fill: (from, count, out) => {
      for (let i = 0; i < count; i++) {
        const v = of(places[from + i]);
        for (let k = 0; k < 3; k++) out[3 * i + k] = v[k];
      }
    },
  });

/** Where it lies within the bounds of all the curves. */
const shares: Maker = (places) => {
  const lo = [0, 1, 2].map((k) => places.reduce((least, p) => Math.min(least, p.at[k]), Infinity));
  const hi = [0, 1, 2].map((k) => places.reduce((most, p) => Math.max(most, p.at[k]), -Infinity));
  const share = (x: number, k: number): number => (hi[k] > lo[k] ? (x - lo[k]) / (hi[k] - lo[k]) : 0.5);
  return three(WAY, 'where it lies within the bounds, 0 to 1 along x, y, z', (p) => p.at.map(share))(places);
};

const NAMES: Readonly<Record<string, Maker>> = table({
  position: three(PLACE, 'where it is', (p) => p.at),
  tangent: three(WAY, 'the way the curve goes there, 1 long', (p) => p.way),
  along: one(PLAIN, 'how far along its curve, 0 at the beginning, 1 at the end', (p) => p.along),
  curve_length: one(LENGTH, 'how long its curve is', (p) => p.length),
  curve: one(PLAIN, 'which of the curves, from 0', (p) => p.curve),
  closed: one(TRUTH, 'whether its curve is closed', (p) => (p.closed ? 1 : 0)),
  index: one(PLAIN, 'its number, from 0', (_, i) => i),
  count: (places) => ({ type: PLAIN, help: 'how many there are', constant: [places.length] }),
  share: shares,
});

/** Names of places on curves, besides those of `also` (dials). `unit`: metres of the project's unit. */
export function curveScope(
  places: readonly PlaceOnCurve[],
  unit: number,
  also?: Pick<Scope, 'known' | 'names'>,
): Scope {
  const made = new Map<string, Known>();
  return {
    unit,
    known: (name) => {
      const had = made.get(name);
      if (had) return had;
      const found = NAMES[name]?.(places) ?? also?.known(name);
      if (found) made.set(name, found);
      return found;
    },
    names: () => [...Object.keys(NAMES), ...(also?.names() ?? [])],
  };
}
