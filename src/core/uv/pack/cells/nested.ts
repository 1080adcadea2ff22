/**
 * Islands laid into each other: from some layout on, the sheet is made smaller by a cell at a time and what then lies on
 * others is drawn apart again. First on coarse cells, all over the sheet and in all turns; then on finer and finer ones,
 * each near its place, where it needs less room since a cell counts as all of it. Islands are drawn once for each
 * fineness, for it is the sheet that changes.
 *
 * 24 sheets of 2 to 44 islands are 3.1 % of the sheet fuller than by orders and turns alone, lamps and scans 4 to 7, in 0.6
 * to 1 s each. By so much work: 22 million 2.0 %, 45 million 3.1, 90 million 3.6, 180 million 4.2, 360 million 4.5; four
 * times 45 million, begun anew or from the best in turns, 4.4. What it comes to is luck by 0.8 % either way.
 * Tried: whole masks on the coarse cells in place of sampled ones, 1.5 % less; 96, 160 or 192 cells along, 0.7 % less;
 * every second or fourth place, 0.6 % less; fewer turns a move, 0.5 % less; small islands counting more, 0.6 % less;
 * first by orders and turns, or put anywhere on fine cells too, the same; 20 to 150 thrown places a move in place of all
 * of them, the same for as much work; cells that count the more the deeper they lie within an island, the same. Beyond
 * some 80 islands it gains nothing in such a time: a body of 174 came to 66 % in 2 s, and to 69 as low as each goes.
 * Fine cells, the mean of 34 sheets: 512 and then 1024 71.4 %, 1024 and then 2048 72.2 for as long, and 4096 as well 72.5
 * for a fourth more.
 */
import { Apart, copied, type Lying } from './apart';
import { cellsOf, coarser, type Cells } from './cells';
import { Masks, type Boxed } from './strip';
import { thrown } from './thrown';

const { ceil, floor, max, min, round } = Math;

export interface Nesting {
  /** Texels along the side of the sheet. */
  size: number;
  /** Free texels between islands. */
  padding: number;
  turn: boolean;
  tall?: number;
  /** The largest scale that is of use. */
  most: number;
  /** Runs and places that are looked at, at most, on coarse cells. */
  work: number;
  /** What thrown numbers begin with. */
  first?: number;
  stop?: () => boolean;
}

/** Which way round islands lie, and where their middles are, in widths of the sheet. */
export interface Spread {
  scale: number;
  turns: readonly number[];
  x: readonly number[];
  y: readonly number[];
}

/** What a layout comes to. */
export interface Laid {
  scale: number;
  /** New points of an island, in sheets. */
  placed(island: number): Float64Array;
}

export interface Nested extends Laid {
  /** Where they lie: to go on from. */
  spread: Spread;
}

/** Coarse cells along the sheet, and of how many fine ones each is, along and up; and where it is only to be told. */
const COARSE = 128;
const FINE = 4;
const FINE_IN_HASTE = 3;
/** Every third place along and up is tried on them. */
const STEP = 3;
/** Rounds without less that is shared. */
const PATIENCE = 60;
/** On fine cells there may come to be less than that, so that a little more is looked for than is of use. */
const BEYOND = 1.03;

/** Then, on finer cells: begun with a sheet so much larger, which is made smaller by such a share at first. */
const LEVELS = [
  { cells: 1024, looser: 1.015, smaller: 0.012, patience: 15 },
  { cells: 2048, looser: 1, smaller: 0.003, patience: 8 },
];
/** A sheet on which nothing comes apart is made larger so many times; so much larger it is at last, at most. */
const LOOSER = 5;
const LOOSEST = 1.07;
/** Islands are moved by this share of the sheet at most, and by so many cells at least. */
const REACH = 1 / 64;
const NEAR = 4;
/** So much may be looked at for each fineness. */
const WORK = 40e6;

/**
 * A coarse cell is taken where so much of it is: a little less than half, since fine cells that are only touched count.
 * What only seems to fit into a hole by that never comes apart, and then less will do.
 */
const TAKEN = [0.4, 0.2];

/** Undefined where it comes to nothing. */
export function nested(boxed: readonly Boxed[], from: Spread, o: Nesting): Nested | undefined {
  let found: Nested | undefined;
  for (const share of TAKEN) {
    let spread = closeOnCoarse(boxed, from, share, FINE, o);
    for (const level of LEVELS) {
      const finer = spread && !o.stop?.() && closeOnFine(boxed, spread, level, o);
      if (!finer) break;
      found = finer;
      spread = finer.spread;
    }
    if (found) break;
  }
  return found;
}

/** About what that comes to: none is laid. */
export const scaleNested = (boxed: readonly Boxed[], from: Spread, o: Nesting): number =>
  closeOnCoarse(boxed, from, TAKEN[0], FINE_IN_HASTE, o)?.scale ?? from.scale;

/** A sheet of so many cells along. */
const sheetOf = (cells: number, { tall = 1 }: Nesting): { width: number; height: number } => ({
  width: cells,
  height: max(1, floor(tall * cells + 1e-9)),
});

type Ways = readonly (readonly Cells[])[];

/** On a sheet of so many cells; undefined where one is larger than that. */
function lyingOn(ways: Ways, { turns, x, y }: Spread, sheet: { width: number; height: number }): Lying | undefined {
  const n = ways.length;
  const out: Lying = { way: new Int32Array(n), x: new Int32Array(n), y: new Int32Array(n) };
  for (let i = 0; i < n; i++) {
    const way = max(
      0,
      ways[i].findIndex((c) => c.turn === turns[i]),
    );
    const { width, height } = ways[i][way];
    if (width > sheet.width || height > sheet.height) return undefined;
    out.way[i] = way;
    out.x[i] = max(0, min(sheet.width - width, round(x[i] * sheet.width - width / 2)));
    out.y[i] = max(0, min(sheet.height - height, round(y[i] * sheet.width - height / 2)));
  }
  return out;
}

function spreadOf(ways: Ways, { way, x, y }: Lying, cells: number, scale: number): Spread {
  const of = ways.map((list, i) => list[way[i]]);
  return {
    scale,
    turns: of.map((c) => c.turn),
    x: of.map((c, i) => (x[i] + c.width / 2) / cells),
    y: of.map((c, i) => (y[i] + c.height / 2) / cells),
  };
}

/** A layout that may need a little more room than it says: cells count by half of what is taken of them. */
function closeOnCoarse(
  boxed: readonly Boxed[],
  from: Spread,
  share: number,
  fine: number,
  o: Nesting,
): Spread | undefined {
  const n = boxed.length;
  const cells = COARSE * fine;
  const masks = new Masks(boxed, from.scale, cells, (o.padding / o.size) * cells, o.turn ? Infinity : 1);
  const ways = boxed.map((_, i) => masks.of(i).map((m) => cellsOf(coarser(m.bits, fine, share), m.turn)));
  if (ways.some((list) => list.length === 0)) return undefined;
  const roll = thrown(o.first ?? 1);
  const apart = new Apart(ways, roll);
  const sizes = boxed.map((b) => b.area);
  const large = sizes.map((_, i) => i).sort((a, b) => sizes[b] - sizes[a] || a - b);
  large.length = max(2, ceil(n / 2));
  let best: Spread | undefined;
  let now = from;
  for (let along = COARSE - 1, failed = 0; apart.work < o.work && !o.stop?.();) {
    const sheet = sheetOf(along, o);
    const lying = lyingOn(ways, now, sheet);
    if (!lying) break;
    const found = apart.separate(lying, { ...sheet, step: STEP, patience: PATIENCE, until: o.work });
    now = spreadOf(ways, found.lying, along, (from.scale * COARSE) / along);
    if (found.apart) {
      best = now;
      if (best.scale >= BEYOND * o.most) break;
      along--;
      failed = 0;
      continue;
    }
    // Two large islands change places, every second time in the last that was apart: not more often than there are some.
    if (++failed > n) break;
    const anew = failed % 2 === 0 && best ? best : now;
    now = exchanged(anew, large[roll(large.length)], large[roll(large.length)]);
  }
  return best;
}

function exchanged(given: Spread, a: number, b: number): Spread {
  const other = (i: number): number => (i === a ? b : a);
  const swap = (list: readonly number[]): number[] => list.map((v, i) => (i === a || i === b ? list[other(i)] : v));
  return { ...given, turns: swap(given.turns), x: swap(given.x), y: swap(given.y) };
}

/** Islands near their places, on a sheet as small as may be. */
function closeOnFine(
  boxed: readonly Boxed[],
  from: Spread,
  { cells, looser, smaller, patience }: (typeof LEVELS)[number],
  o: Nesting,
): Nested | undefined {
  const begin = ceil(cells * looser);
  // Of no use is a sheet smaller than this.
  const least = (cells * from.scale) / o.most;
  const loosest = max(floor(begin * LOOSEST), least);
  const pad = (o.padding / o.size) * loosest;
  const masks = new Masks(boxed, from.scale, cells, pad, o.turn ? Infinity : 1);
  const own = from.turns.map((turn, i) => masks.one(i, turn));
  if (own.some((mask) => mask === null)) return undefined;
  const ways = own.map((mask) => [cellsOf(mask!.bits, mask!.turn)]);
  const apart = new Apart(ways, thrown(o.first ?? 1));
  let best: { lying: Lying; along: number } | undefined;
  let now = from;
  let by = max(1, round(cells * smaller));
  for (let along = begin, loosened = 0; apart.work < WORK && !o.stop?.();) {
    const sheet = sheetOf(along, o);
    const lying = lyingOn(ways, now, sheet);
    const found =
      lying &&
      apart.separate(lying, {
        ...sheet,
        reach: max(NEAR, floor(REACH * cells)),
        step: max(NEAR, floor(REACH * cells)),
        anywhere: !best,
        patience,
        until: WORK,
      });
    if (found?.apart) {
      best = { lying: copied(found.lying), along };
      now = spreadOf(ways, best.lying, along, (from.scale * cells) / along);
      if (along <= least) break;
      along = max(along - by, min(along - 1, ceil(least)));
      continue;
    }
    if (!best) {
      along += by;
      if (++loosened > LOOSER || along > loosest) return undefined;
    } else if (by === 1) break;
    else {
      by = max(1, by >> 1);
      along = best.along - by;
    }
  }
  if (!best) return undefined;
  const { lying, along } = best;
  const times = max(along, least);
  const scale = (from.scale * cells) / times;
  return {
    scale,
    spread: { ...now, scale },
    placed: (i) => masks.placed(i, { mask: own[i]!, x: lying.x[i], y: lying.y[i] }).map((x) => (x * cells) / times),
  };
}
