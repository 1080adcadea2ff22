/**
 * Of faces as they were, the one that a place lies in or is nearest to. Those of an island are found by cells of space:
 * each corner against all of them took 185 s for 52,000 faces that had all to be
 * followed by place, and takes 24 so.
 */
import { apart, sharesIn } from '../../mesh/rings';
import type { Spot } from '../../mesh/spots';

const { ceil, floor, log2, max, min, sqrt } = Math;

/** A face as it was. */
export interface Seated {
  ring: Float64Array;
  spot: Spot;
  /** How far it reaches from its middle. */
  size: number;
}

export interface Near<F> {
  face: F;
  distance: number;
  size: number;
  shares: Float64Array;
}

/** How far a middle may be for its face to be nearer than the best. */
const reachOf = (best: Near<unknown>, size: number): number => min(best.distance, 1e9) + 2 * size;

function lookAt<F extends Seated>(
  face: F,
  best: Near<F> | undefined,
  at: ArrayLike<number>,
  near: ArrayLike<number>,
): Near<F> | undefined {
  const found = sharesIn(face.ring, at, near);
  return found && (!best || found.distance < best.distance - 1e-9) ? { face, size: face.size, ...found } : best;
}

/** The face that a place lies in, or is nearest to; of equals, the first. */
export function nearestOf<F extends Seated>(
  among: readonly F[],
  at: ArrayLike<number>,
  near: ArrayLike<number>,
): Near<F> | undefined {
  // The one whose middle is nearest says at once how near it has to be: most others need not be looked at.
  let first: F | undefined;
  let least = Infinity;
  for (const face of among) {
    const away = apart(face.spot, 0, near, 0);
    if (away >= least) continue;
    least = away;
    first = face;
  }
  let best = first && lookAt(first, undefined, at, near);
  for (const face of among) {
    // What is farther than the best from its middle by more than its size cannot be nearer.
    if (best && apart(face.spot, 0, near, 0) > reachOf(best, face.size) ** 2) continue;
    if (face !== first) best = lookAt(face, best, at, near);
  }
  return best;
}

/** Fewer than this are looked through as quickly as looked up. */
const FEW = 48;
/** Cells along a side, at most. */
const MOST_CELLS = 1000;

/** Faces of about one size, by cell. */
interface OfSize {
  /** Of the largest. */
  size: number;
  many: number;
  cell: number;
  cells: Map<number, number[]>;
}

/** Many faces, by where their middles are; what it answers is what `nearestOf` does. */
export class Surroundings<F extends Seated> {
  private readonly low: number[] = [Infinity, Infinity, Infinity];
  /** Where it is begun to look for the nearest middle: about as far as one is from the next. */
  private readonly step: number = 1;
  /** What is small is looked for near by, whatever else there is. */
  private readonly bySize = new Map<number, OfSize>();

  constructor(private readonly faces: readonly F[]) {
    if (faces.length < FEW) return;
    const high = [-Infinity, -Infinity, -Infinity];
    for (const { spot } of faces)
      for (let k = 0; k < 3; k++) {
        this.low[k] = min(this.low[k], spot[k]);
        high[k] = max(high[k], spot[k]);
      }
    const sides = high.map((x, k) => x - this.low[k]);
    const long = max(...sides);
    // Faces lie on a surface, not all through space.
    this.step = max(long / sqrt(faces.length), 1e-30);
    faces.forEach(({ spot, size }, i) => {
      const name = size > 0 ? ceil(log2(size)) : -Infinity;
      let same = this.bySize.get(name);
      // As far as the nearest is looked for, so that few cells are: with cells of one step it took three times as long.
      const cell = max(long / MOST_CELLS, 2 * 2 ** name, 1e-30);
      if (!same) this.bySize.set(name, (same = { size: 0, many: 0, cell, cells: new Map() }));
      same.size = max(same.size, size);
      same.many++;
      const at = this.nameOf(this.cellOf(spot, 0, cell), this.cellOf(spot, 1, cell), this.cellOf(spot, 2, cell));
      const list = same.cells.get(at);
      if (list) list.push(i);
      else same.cells.set(at, [i]);
    });
  }

  private cellOf(p: ArrayLike<number>, k: number, cell: number, by = 0): number {
    return min(MOST_CELLS, max(0, floor((p[k] + by - this.low[k]) / cell)));
  }
  private nameOf(i: number, j: number, k: number): number {
    return (i * (MOST_CELLS + 1) + j) * (MOST_CELLS + 1) + k;
  }

  /** Those of a size whose middles may be within so far of a place, and some more. */
  private around({ many, cell, cells }: OfSize, p: ArrayLike<number>, reach: number, out: number[]): void {
    const [from, to] = [-reach, reach].map((by) => [0, 1, 2].map((k) => this.cellOf(p, k, cell, by)));
    if (to.reduce((all, x, k) => all * (x - from[k] + 1), 1) > many) {
      for (const list of cells.values()) for (const i of list) out.push(i);
      return;
    }
    for (let i = from[0]; i <= to[0]; i++)
      for (let j = from[1]; j <= to[1]; j++)
        for (let k = from[2]; k <= to[2]; k++) {
          const list = cells.get(this.nameOf(i, j, k));
          if (list) for (const one of list) out.push(one);
        }
  }

  /** The one whose middle is nearest. */
  private first(near: ArrayLike<number>): F {
    const { faces } = this;
    const found: number[] = [];
    for (let reach = this.step; ; reach *= 2) {
      found.length = 0;
      for (const same of this.bySize.values()) this.around(same, near, reach, found);
      let least = Infinity;
      let best = -1;
      for (const i of found) {
        const away = apart(faces[i].spot, 0, near, 0);
        if (away > least || (away === least && i > best)) continue;
        least = away;
        best = i;
      }
      if (best >= 0 && (found.length === faces.length || least <= reach * reach)) return faces[best];
    }
  }

  nearest(at: ArrayLike<number>, near: ArrayLike<number>): Near<F> | undefined {
    const { faces } = this;
    if (faces.length < FEW || !(near[0] + near[1] + near[2] < Infinity)) return nearestOf(faces, at, near);
    const first = this.first(near);
    let best = lookAt(first, undefined, at, near);
    if (!best) return nearestOf(faces, at, near);
    const found: number[] = [];
    for (const same of this.bySize.values()) this.around(same, near, reachOf(best, same.size), found);
    found.sort((a, b) => a - b);
    for (const i of found) {
      const face = faces[i];
      if (face === first || apart(face.spot, 0, near, 0) > reachOf(best, face.size) ** 2) continue;
      best = lookAt(face, best, at, near)!;
    }
    return best;
  }
}
