/**
 * Few islands laid in other orders and turns, as long as that gains: on coarse cells, where a try costs little, then
 * each near its place on fine ones.
 */
import type { Fit, Grid, Way } from './grid';
import { thrown } from './thrown';

const { ceil, floor, max, min, sqrt } = Math;

/** The same order, and each island the way round that it was laid. */
const asLaid = ({ order }: Way, { filled }: Fit): Way => ({
  order,
  forced: Int8Array.from(filled.spots, ({ mask }) => mask.turn),
});

/** What is smaller than this, for the largest, stays where it is in the order. */
const MOVED = 0.03;
/** What fits is tried on this much larger. */
const LARGER = 1.01;
/** At first what ends higher by this share is gone on from as well, then less and less: else it is soon stuck. */
const HIGHER = 0.01;

/** Islands laid in one go of a longer search, before it begins anew from the best with other numbers. */
const GO = 500;
/** On coarse cells a go of so many takes as long. */
const COARSE_GO = 3000;

export interface Longer {
  orders: readonly number[][];
  /** The largest scale that is of use. */
  most: number;
  /** Islands laid in all. */
  effort: number;
  stop?: () => boolean;
  better(found: Fit): void;
}

/**
 * From the best on and on, in all the ways there are: on coarse cells and on fine ones in turns; each go begins with
 * other numbers.
 */
export function longer(rough: Grid, sharp: Grid, given: Fit, o: Longer): Fit {
  const { orders, most, stop } = o;
  let best = given;
  const keep = (found: Fit | undefined): boolean => {
    if (!found || found.masks.scale <= best.masks.scale) return false;
    best = found;
    o.better(best);
    return true;
  };
  const first = asLaid({ order: orders[0] }, given);
  const ways = new Map<Grid, Way>([
    [rough, first],
    [sharp, first],
  ]);
  const least = 4 * orders[0].length;
  for (let spent = 0, go = 2; spent < o.effort && !stop?.() && best.masks.scale < most; go++) {
    const coarse = rough.cells < sharp.cells && go % 2 === 0;
    const [grid, many] = coarse ? [rough, max(COARSE_GO, least)] : [sharp, max(GO, least)];
    spent += coarse ? max(GO, least) : many;
    // A little larger than what fits is aimed at; every third go from another order.
    const from = go % 3 === 0 ? { order: orders[go % orders.length] } : ways.get(grid)!;
    const start = grid.at(best.masks.scale * LARGER, from, grid.rows);
    if (!start) continue;
    const found = tried(grid, { from, given: start, most, many, first: go, stop });
    const better = coarse ? keep(sharp.seated(rough, found.best ?? found.near, most)) : keep(found.best);
    if (better) ways.set(grid, found.way);
  }
  return best;
}

/** How good a strip is: how low it ends, and among equals how low its islands lie on the whole. */
function height({ masks, filled: { top, spots } }: Fit): number {
  let sum = 0;
  let all = 0;
  for (const { mask, y } of spots) {
    sum += mask.cells * (y + mask.bits.height / 2);
    all += mask.cells;
  }
  return top + sum / all / masks.cells;
}

export interface Trying {
  /** How it lies at first, and what that comes to. */
  from: Way;
  given: Fit;
  /** Tried before any other. */
  orders?: readonly number[][];
  /** The largest scale that is of use. */
  most: number;
  /** So many islands are laid. */
  many: number;
  /** What the thrown numbers begin with. */
  first?: number;
  stop?: () => boolean;
}

/**
 * Other orders, other turns: two islands change places, one is taken out and put in elsewhere, one lies another way
 * round; what ends no higher is gone on from, and what fits is gone on from a little larger. By thrown numbers that are
 * the same each time. Answers the largest that fits, and what it was found by; where nothing does, how it lies now.
 */
export function tried(
  grid: Grid,
  { from, given, orders = [], most, many, first = 1, stop }: Trying,
): { best: Fit | undefined; way: Way; near: Fit } {
  // What is small finds room whatever it follows.
  const areas = given.masks.boxed.map((b) => b.area);
  const worth = MOVED * Math.max(...areas);
  const moved = areas.flatMap((a, i) => (a >= worth ? [i] : []));
  const n = moved.length;
  let near = given;
  let way = asLaid(from, given);
  let best: Fit | undefined;
  let found: Way = way;
  const roll = thrown(first);
  const rounds = ceil(many / n);
  for (let k = 0; k < rounds && !stop?.(); k++) {
    if (near.filled.top <= grid.most && near.masks.scale > (best?.masks.scale ?? 0)) {
      best = near;
      found = way;
      if (near.masks.scale >= most) break;
      const scale = min(most, near.masks.scale * max(LARGER, sqrt(grid.most / near.filled.top)));
      near = grid.at(scale, way, grid.rows) ?? near;
      continue;
    }
    let next: Way;
    if (k < orders.length) next = { order: orders[k] };
    else {
      const order = way.order.slice();
      const forced = way.forced!.slice();
      const kind = roll(4);
      const island = moved[roll(n)];
      if (kind < 2) {
        const other = moved[roll(n)];
        const [i, j] = [order.indexOf(island), order.indexOf(other)];
        if (kind === 0) [order[i], order[j]] = [order[j], order[i]];
        else order.splice(j, 0, order.splice(i, 1)[0]);
      } else forced[island] = kind === 2 ? -1 : roll(grid.turnsOf(island));
      next = { order, forced };
    }
    const like = { masks: near.masks, order: way.order, spots: near.filled.spots };
    const higher = 1 + HIGHER * (1 - k / rounds);
    const laid = grid.at(near.masks.scale, next, floor(near.filled.top * higher), like);
    if (!laid || height(laid) > height(near) * higher) continue;
    near = laid;
    way = asLaid(next, near);
  }
  if (near.filled.top <= grid.most && near.masks.scale > (best?.masks.scale ?? 0)) return { best: near, way, near };
  return best ? { best, way: found, near } : { best, way, near };
}
