/**
 * Packing of islands into the unit square: each is laid in its tightest box, then put, largest first, as low as it goes
 * in whichever of its turns ends lowest. How tall that gets tells how far the scale is off, first on a coarse bitmap,
 * then on a fine one; between the two, few islands are tried in other orders and turns, and what is best then is laid on the
 * fine one as it lies. Holes are used, and what is placed by hand is kept clear. With care, few islands are laid into each
 * other from there on (`nested.ts`).
 *
 * A lumpy ball of 14,700 faces in 6 islands: 180 ms; a coral of 28,000 in 118: 500 ms; 300 gears in 900: 850 ms. Tried
 * before: a search by steps and bisection that only knew whether a scale fits, some 15 times all islands where it is 8
 * now; a horizon of columns (Lévy, Petitjean, Ray, Maillot 2002), which uses no holes, 9
 * points less.
 */
import { Bits, maskOf, meets, stamp } from './cells/bits';
import { tightest, type PackIsland } from './cells/boxes';
import { CLOSE, fitting, Grid, smaller, type Fit, type GridOptions } from './cells/grid';
import { nested, scaleNested, type Laid, type Nested, type Spread } from './cells/nested';
import { longer, tried } from './cells/search';
import { leastSquare, type Boxed } from './cells/strip';

const { max, min, round, sqrt } = Math;
export type { PackIsland };

export interface PackOptions {
  /** Texels along the side of the sheet. */
  size: number;
  /** Free texels between islands, and half of it to the border. */
  padding: number;
  /** May islands be turned? */
  turn: boolean;
  /** Scale from island units to the unit square; 0 for the largest that fits. */
  scale: number;
  /** That scale or none. */
  only?: boolean;
  /** In one order, however few there are: for what is packed many times over. */
  once?: boolean;
  /** How much work it may be for a fuller sheet, where islands are few: 1 for some 0.9 s of it; 0. */
  care?: number;
  /** Islands go to whole texels, with whole texels between. */
  whole?: boolean;
  /** So many more islands are laid in other orders and turns, until `stop` says so; what is better is told at once. */
  effort?: number;
  better?: (found: Packed) => void;
  stop?: () => boolean;
  /** Never larger than this in the search for the largest. */
  maxScale?: number;
  /** How tall the sheet is for its width; 1. */
  tall?: number;
  /** Places already taken, in the unit square. */
  taken?: readonly PackIsland[];
}

export interface Packed {
  scale: number;
  /** False where the wanted scale does not fit; then the places are those of the largest that does. */
  fits: boolean;
  /** New points of every island, in the unit square. */
  placed: Float64Array[];
}

/** Of more sides than this each try takes long: fewer turns, fewer cells, one order. */
const HEAVY = 60_000;
/**
 * Few islands are laid on cells as fine as this at last: 0.55 % more of the sheet, the mean of 24 sheets, for a
 * fourteenth more time. All on such cells from the first: 0.4 % for 1.6 times as long.
 */
const FINEST = 1024;
/** Fewer islands than this are tried in several orders, and in more turns. */
const FEW = 60;
/** So many large islands lose little to coarser cells; small ones do. */
const MEDIUM = 60;
/** So many islands are laid on coarse cells while other orders and turns are tried. */
const TRIED = 6000;
/** No more islands than this are laid into each other, by so much work for each, and for no fewer than so many. */
const NESTED = 80;
const WORK = 1.7e6;
const LEAST_ISLANDS = 12;
/** With less work than this it comes to nothing. */
const LEAST_WORK = 2.5e6;
/**
 * From so many islands up to so many, and from so much work on, it comes to more than orders and turns do, on what is no
 * longer than that.
 */
const SURE = 8;
const SURE_MOST = 40;
const SURE_WORK = 15e6;
const OBLONG = 3;
/** And where it is as much larger as orders and turns and finer cells make it as a rule. */
const GAIN = 1.06;
/** Where it goes on and on, what counts as so many islands laid. */
const GO = 500;
/** Where it is only to be told, so much for each: a tenth of that. */
const IN_HASTE = 0.2e6;

export function pack(islands: readonly PackIsland[], options: PackOptions): Packed {
  if (islands.length === 0) return { scale: options.scale || 1, fits: true, placed: [] };
  const boxed = islands.map((i) => i.boxed ?? tightest(i));
  const { area, widest, sides } = sumsOf(boxed);
  if (!(widest > 0)) return { scale: 1, fits: true, placed: boxed.map((b) => b.points) };
  const n = boxed.length;
  const nowhere = (): Packed => ({ scale: 0, fits: false, placed: boxed.map((b) => b.points.map(() => 0)) });
  const tall = options.tall ?? 1;
  // The smallest island takes as much as stands round it.
  if (n * (options.padding / options.size) ** 2 > tall) return nowhere();
  const heavy = sides > HEAVY;
  const { fine, coarse } = options.whole ? wholeGrid(options.size) : gridsFor(n, heavy, options.size);
  const grid = ({ cells, turns }: Fineness): Grid => new Grid(boxed, cells, options, turns);
  const orders = ordersOf(boxed);
  const turns = options.turn ? fine.turns : 1;
  const square = boxed.reduce((most, b) => max(most, leastSquare(b, turns)), 0);
  const most = min(max(1, tall) / square, sqrt(tall / area)) * 1.02;
  const done = (found: Laid, fits: boolean): Packed => ({
    scale: found.scale,
    fits,
    placed: boxed.map((_, i) => found.placed(i)),
  });

  const sharp = grid(fine);
  const wanted = options.scale || (options.maxScale && options.maxScale < most ? options.maxScale : 0);
  if (wanted > 0) {
    const found = sharp.at(wanted, { order: orders[0] }, sharp.most);
    if (found) return done(laidAs(found), true);
    if (options.only) return { scale: 0, fits: false, placed: [] };
  }
  const highest = wanted > 0 ? min(most, wanted) : most;
  const rough = grid(coarse);
  const few = n > 1 && n <= FEW && !heavy && !options.once;
  const tries = few ? 4 : 3;
  const first = fitting(rough, { order: orders[0] }, min(highest, sqrt((0.62 * tall) / area)), highest, tries);
  // Once more on cells as fine as texels: a cell that is only touched counts as all of it.
  const finest =
    (few || n === 1) && !options.whole && fine.cells < options.size
      ? grid({ cells: min(options.size, FINEST), turns: fine.turns })
      : undefined;
  const better = (found: Laid): void => options.better?.(done(found, true));
  const ways: Ways = { ...{ rough, sharp, finest }, ...{ orders, highest, few, better } };
  const found =
    first.near && nests(boxed, options, heavy)
      ? intoEachOther(boxed, laidOn(rough, first.near), options, { ...ways, first })
      : onStrips(ways, first, options);
  return found ? done(found, options.scale <= 0) : nowhere();
}

/**
 * About the largest scale at which islands fit a sheet, where only that is asked for: what they come to when they are packed
 * with care is some hundredths more or less of the sheet.
 */
export function scaleInHaste(islands: readonly PackIsland[], o: GridOptions): number {
  const boxed = islands.map((i) => i.boxed ?? tightest(i));
  const { area, widest } = sumsOf(boxed);
  if (!(widest > 0) || boxed.length * (o.padding / o.size) ** 2 > 1) return 0;
  const { coarse } = gridsFor(boxed.length, false, o.size);
  const rough = new Grid(boxed, coarse.cells, o, coarse.turns);
  const square = boxed.reduce((most, b) => max(most, leastSquare(b, o.turn ? coarse.turns : 1)), 0);
  const most = min(1 / square, sqrt(1 / area)) * 1.02;
  const { near } = fitting(rough, { order: ordersOf(boxed)[0] }, min(most, sqrt(0.62 / area)), most, 3);
  if (!near) return 0;
  const begin = laidOn(rough, near);
  const work = IN_HASTE * max(LEAST_ISLANDS, boxed.length);
  return boxed.length > 1 ? scaleNested(boxed, begin, { ...o, most, work }) : begin.scale;
}

/** What is laid on, and how. */
interface Ways {
  rough: Grid;
  sharp: Grid;
  finest: Grid | undefined;
  orders: number[][];
  /** The largest scale that is of use. */
  highest: number;
  few: boolean;
  better: (found: Laid) => void;
}

/** As low as each goes, one after the other, in one order or several. */
function onStrips(ways: Ways, first: ReturnType<typeof fitting>, o: PackOptions): Laid | undefined {
  const { rough, sharp, finest, orders, highest, few } = ways;
  const way = { order: orders[0] };
  let best: Fit | undefined;
  let start = min(highest, first.next * (few ? 1.03 : 1.06));
  if (few && first.near) [best, start] = tryingFew(rough, sharp, first.near, { orders, highest });
  else best = fitting(sharp, way, start, highest, 3).best;
  best ??= smaller(sharp, way, start, highest);
  const fitted = (found: Fit): Laid => laidAs(finest?.seated(sharp, found, highest) ?? found);
  if (best && o.effort) {
    const better = (found: Fit): void => ways.better(fitted(found));
    best = longer(rough, sharp, best, { orders, most: highest, effort: o.effort, stop: o.stop, better });
  }
  return best && fitted(best);
}

/** Laid into each other from a first layout on; few islands, or in little time, the other way as well. */
function intoEachOther(
  boxed: readonly Boxed[],
  begin: Spread,
  o: PackOptions,
  ways: Ways & { first: ReturnType<typeof fitting> },
): Laid | undefined {
  const { highest, better } = ways;
  const care = o.care ?? 0;
  const work = workFor(boxed.length) * min(1, care);
  const from = (spread: Spread, first: number): Nested | undefined =>
    nested(boxed, spread, { ...o, most: highest, work, first });
  let closest = from(begin, 1);
  let best: Laid | undefined = closest;
  const tall = o.tall ?? 1;
  const oblong = max(tall, 1 / tall) > OBLONG;
  const little = closest && closest.scale < GAIN * begin.scale;
  const sure = boxed.length >= SURE && boxed.length <= SURE_MOST && work >= SURE_WORK;
  if (!closest || !sure || oblong || little) {
    const other = onStrips(ways, ways.first, { ...o, effort: 0 });
    if (other && !(best && best.scale >= other.scale)) best = other;
  }
  // It may be more than what is there already.
  if (best && o.effort) better(best);
  const effort = max(o.effort ?? 0, GO * (round(care) - 1));
  for (let k = 2, spent = 0; best && spent < effort && best.scale < highest && !o.stop?.(); k++, spent += GO) {
    const found = from(k % 2 === 0 || !closest ? begin : closest.spread, k);
    if (!found || found.scale <= best.scale) continue;
    closest = found;
    best = found;
    better(best);
  }
  return best;
}

const workFor = (islands: number): number => WORK * max(LEAST_ISLANDS, islands);

/** Whether islands are such as can be laid into each other. */
function nests(boxed: readonly Boxed[], o: PackOptions, heavy: boolean): boolean {
  if (workFor(boxed.length) * (o.care ?? 0) < LEAST_WORK) return false;
  return boxed.length > 1 && boxed.length <= NESTED && !heavy && !o.once && !o.whole && !o.taken?.length;
}

const laidAs = ({ masks, filled: { spots } }: Fit): Laid => ({
  scale: masks.scale,
  placed: (i) => masks.placed(i, spots[i]),
});

/** Where they lie on a strip; what ends higher than the sheet is as much smaller. */
function laidOn({ cells, most }: Grid, { masks, filled: { spots, top } }: Fit): Spread {
  const by = min(1, most / top);
  return {
    scale: masks.scale * by,
    turns: spots.map(({ mask }) => mask.turn),
    x: spots.map(({ mask, x }) => (x + mask.bits.width / 2) / cells),
    y: spots.map(({ mask, y }) => ((y + mask.bits.height / 2) * by) / cells),
  };
}

/** Few islands in other orders and turns: the best that was found, and a scale that may fit in their first order. */
function tryingFew(
  rough: Grid,
  sharp: Grid,
  given: Fit,
  { orders, highest }: { orders: number[][]; highest: number },
): [Fit | undefined, number] {
  const search = tried(rough, {
    ...{ from: { order: orders[0] }, given, orders: orders.slice(1) },
    ...{ most: highest, many: TRIED },
  });
  const near = search.best ?? search.near;
  const best = sharp.seated(rough, near, highest) ?? search.best;
  // Finer cells waste less: what was best on coarse ones is not always on these.
  const start = min(highest, near.masks.scale * min(1, sqrt(rough.most / near.filled.top)) * 1.03);
  const way = { order: search.way.order };
  const before = best?.masks.scale ?? 0;
  // Where not even that little more fits, all that follows would be for nothing.
  if (best && !sharp.at(min(highest, before * CLOSE), way, sharp.most)) return [best, start];
  const found = fitting(sharp, way, max(start, before), highest, 3).best;
  return [found && found.masks.scale > before ? found : best, start];
}

function sumsOf(boxed: readonly Boxed[]): { area: number; widest: number; sides: number } {
  const out = { area: 0, widest: 0, sides: 0 };
  for (const { area, outline: o, width, height } of boxed) {
    out.area += area;
    out.widest = max(out.widest, width, height);
    out.sides += (o.rim?.length ?? 0) / 2 + (o.triangles?.length ?? 0) / 3;
  }
  return out;
}

interface Fineness {
  /** Along the side of the sheet. */
  cells: number;
  turns: number;
}

/** The more there is to lay, the fewer turns are tried; small islands need fine cells. */
function gridsFor(n: number, heavy: boolean, size: number): { fine: Fineness; coarse: Fineness } {
  const cells = min(size, heavy || n <= MEDIUM ? 512 : 1024);
  const grids = (most: number, fine: number, coarse: number): { fine: Fineness; coarse: Fineness } => ({
    fine: { cells, turns: fine },
    coarse: { cells: min(cells, most), turns: coarse },
  });
  if (n > 600) return grids(256, 2, 2);
  if (heavy || n > 150) return grids(n > 400 ? 256 : 128, 4, 2);
  return n > FEW ? grids(128, 4, 8) : grids(128, 16, 16);
}

/** Cells that are texels, or some of them: finer than this takes too long. */
const MOST_CELLS = 2048;
function wholeGrid(size: number): { fine: Fineness; coarse: Fineness } {
  const grid = { cells: min(size, MOST_CELLS), turns: 4 };
  return { fine: grid, coarse: grid };
}

/** The tallest first; the largest first; the widest for its height last. */
function ordersOf(boxed: readonly Boxed[]): number[][] {
  const by = (size: (b: Boxed) => number): number[] => {
    const sizes = boxed.map(size);
    return sizes.map((_, i) => i).sort((a, b) => sizes[b] - sizes[a] || a - b);
  };
  return [by((b) => max(b.width, b.height)), by((b) => b.area), by((b) => b.width + b.height)];
}

/** Cells for each texel where it is asked what comes too near, and at most so many along a side. */
const CLOSELY = 4;
const CLOSEST = 4096;
/** By so many cells masks may reach farther than what they are of: islands laid as near as may be are not too near. */
const BEYOND = 1.5;

/** Which of these islands, as they lie, come nearer than the padding to one of those, by number: to within a texel. */
export function thoseTooNear(
  islands: readonly PackIsland[],
  taken: readonly PackIsland[],
  size: number,
  padding: number,
): number[] {
  const cells = min(CLOSELY * size, CLOSEST);
  const grow = max(0, ((padding / size) * cells) / 2 - BEYOND);
  const sheet = new Bits(cells, cells);
  for (const t of taken) {
    const { bits, x, y } = maskOf(t, cells, grow, true);
    stamp(sheet, bits, x, y);
  }
  return Array.from(islands.keys()).filter((i) => {
    const { bits, x, y } = maskOf(islands[i], cells, grow, true);
    return meets(sheet, bits, x, y);
  });
}
