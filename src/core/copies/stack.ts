/** Pieces on top of each other by how far they truly reach: whatever changes below, what is above stands on it. */
import type { Geometry } from '../geometry';
import { compose, rotation, translation, type Affine, type Axis, type Triple } from '../math/affine';
import { key2 } from '../math/hash';
import { affordable, copiesAt, mergeCopies, reachOf, type Copies } from './copies';

export interface Tier {
  readonly geometry: Geometry;
  readonly count: number;
  /** What it is turned about and stands over: its pivot, as its geometry stands. */
  readonly pivot: Triple;
  readonly key: number;
}

const AXES: readonly Axis[] = ['x', 'y', 'z'];

/**
 * From the origin upwards. `gap`: between each and the next, metres; `turn`: of each against the one below, radians.
 */
export function stacked(
  tiers: readonly Tier[],
  axis: 0 | 1 | 2,
  gap: number,
  turn: number,
): { copies: Copies; high: number } {
  affordable(
    tiers.reduce((n, t) => n + t.count, 0),
    1,
  );
  const parts: { copies: Copies }[] = [];
  let high = 0;
  let nth = 0;
  for (const t of tiers) {
    const reach = reachOf(t.geometry, axis);
    if (!reach || t.count === 0) continue;
    const [lo, hi] = reach;
    const place: Affine[] = [];
    const key: number[] = [];
    for (let i = 0; i < t.count; i++) {
      const back = t.pivot.map((x, k) => (k === axis ? -lo : -x));
      const up = [0, 0, 0];
      up[axis] = high + (nth > 0 ? gap : 0);
      place.push(
        compose(
          compose(translation(up[0], up[1], up[2]), rotation(AXES[axis], nth * turn)),
          translation(back[0], back[1], back[2]),
        ),
      );
      key.push(key2(t.key, i));
      high = up[axis] + hi - lo;
      nth++;
    }
    parts.push({ copies: copiesAt([t.geometry], { place, key }) });
  }
  return { copies: mergeCopies(parts), high };
}
