/**
 * Packing of islands into the unit square: each is laid in its tightest box, then put, largest first, as low as it goes
 * in whichever of its turns ends lowest. How tall that gets tells how far the scale is off, first on a coarse bitmap,
 * then on a fine one; between the two, few islands are tried in other orders and turns. Holes are used, and what is
 * placed by hand is kept clear.
 *
 * A lumpy ball of 14,700 faces in 6 islands: 180 ms; a coral of 28,000 in 118: 500 ms; 300 gears in 900: 850 ms. Tried
 * before: a search by steps and bisection that only knew whether a scale fits, some 15 times all islands where it is 8
 * now; a horizon of columns (Lévy, Petitjean, Ray, Maillot 2002), which uses no holes, 9
 * points less.
 */
import { Bits, maskOf, stamp } from './bits';
import { tightest, type PackIsland } from './boxes';
import { fillStrip, leastSquare, Masks, Strip, type Boxed, type Filled, type Like } from './strip';

const { ceil, max, min, round, sqrt } = Math;
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
/** Fewer islands than this are tried in several orders. */
const FEW = 60;
/** Fewer than this are tried in more turns. */
const SINGLE = 24;
/** So many large islands lose little to coarser cells; small ones do. */
const MEDIUM = 60;
/** Rows of the strip, in sheets: what is taller is a scale far off. */
const TALL = 1.6;

interface Way {
  order: readonly number[];
  /** The one turn to be tried for each, −1 for all. */
  forced?: Int8Array;
}

export function pack(islands: readonly PackIsland[], options: PackOptions): Packed {
  if (islands.length === 0) return { scale: options.scale || 1, fits: true, placed: [] };
  const boxed = islands.map(tightest);
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
  const done = (found: Fit, fits: boolean): Packed => ({
    scale: found.masks.scale,
    fits,
    placed: boxed.map((_, i) => found.masks.placed(i, found.filled.spots[i])),
  });

  const sharp = grid(fine);
  const wanted = options.scale || (options.maxScale && options.maxScale < most ? options.maxScale : 0);
  if (wanted > 0) {
    const found = sharp.at(wanted, { order: orders[0] }, sharp.most);
    if (found) return done(found, true);
    if (options.only) return { scale: 0, fits: false, placed: [] };
  }
  const highest = wanted > 0 ? min(most, wanted) : most;
  const rough = grid(coarse);
  const few = n > 1 && n <= FEW && !heavy && !options.once;
  const first = fitting(rough, { order: orders[0] }, min(highest, sqrt((0.62 * tall) / area)), highest, few ? 4 : 3);
  let best: Fit | undefined;
  let start = min(highest, first.next * (few ? 1.03 : 1.06));
  if (few && first.near) {
    const way: Way = { order: orders[0] };
    const rest = orders.slice(1);
    const search = tried(rough, way, first.near, rest, highest, TRIED);
    const of = search.best ?? search.near;
    start = min(highest, of.masks.scale * min(1, sqrt(rough.most / of.filled.top)) * 1.03);
    // Finer cells waste less; what was best on coarse ones is not always on these.
    const again = { order: search.way.order };
    for (const own of [search.way, again]) {
      const next = fitting(sharp, own, max(start, best?.masks.scale ?? 0), highest, 3);
      if (!next.near) continue;
      const found = tried(sharp, own, next.near, [], highest, TRIED_AGAIN).best ?? next.best;
      if (found && found.masks.scale > (best?.masks.scale ?? 0)) best = found;
    }
  } else best = fitting(sharp, { order: orders[0] }, start, highest, 3).best;
  best ??= smaller(sharp, { order: orders[0] }, start, highest);
  if (best && options.effort) best = longer(sharp, best, orders, highest, options, (found) => done(found, true));
  return best ? done(best, options.scale <= 0) : nowhere();
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
  if (n > FEW) return grids(128, 4, 8);
  return n > SINGLE ? grids(128, 8, 8) : grids(96, 16, 16);
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

interface Fit {
  masks: Masks;
  filled: Filled;
}

/** Masks of so many scales are at hand: of what fits, and of what is tried on from there. */
const KEPT = 2;

/** The sheet in so many cells. */
class Grid {
  private readonly strip: Strip;
  /** Of the last scales, the newest first. */
  private known: Masks[] = [];
  readonly rows: number;
  /** Rows of the sheet. */
  readonly most: number;
  /** Cells between islands. */
  private readonly pad: number;

  constructor(
    private readonly boxed: readonly Boxed[],
    readonly cells: number,
    private readonly o: PackOptions,
    private readonly turns: number,
  ) {
    this.most = max(1, round((o.tall ?? 1) * cells));
    this.rows = round(TALL * this.most);
    const pad = (o.padding / o.size) * cells;
    // Half of it stands on each side: whole cells there, where islands are to stand on whole ones.
    this.pad = o.whole ? 2 * ceil(pad / 2 - 1e-9) : pad;
    const taken = o.taken?.length ? new Bits(cells, this.rows) : undefined;
    for (const t of o.taken ?? []) {
      const { bits, x, y } = maskOf(t, cells, this.pad / 2, true, 2 * max(cells, this.rows));
      stamp(taken!, bits, x, y);
    }
    this.strip = new Strip(cells, this.rows, taken);
  }

  turnsOf(island: number): number {
    return min(this.turns, this.boxed[island].turns);
  }

  masks(scale: number): Masks {
    let found = this.known.find((m) => m.scale === scale);
    if (!found) {
      const turns = this.o.turn ? this.turns : 1;
      found = new Masks(this.boxed, scale, this.cells, this.pad, turns, this.rows, this.o.whole);
      this.known = [found, ...this.known.slice(0, KEPT - 1)];
    }
    return found;
  }

  /** `like`: what was laid at this scale before. */
  at(scale: number, way: Way, rows: number, like?: Like & { masks: Masks }): Fit | undefined {
    const masks = like?.masks ?? this.masks(scale);
    const filled = fillStrip(masks, way.order, rows, this.strip, way.forced, like);
    return filled && { masks, filled };
  }
}

/**
 * The largest scale that was found to fit, from a guess on; each try tells how far off it was. `next`: what would be
 * tried next; `near`: the best, or what came last.
 */
function fitting(
  grid: Grid,
  way: Way,
  start: number,
  most: number,
  tries: number,
): { best: Fit | undefined; near: Fit | undefined; next: number } {
  let best: Fit | undefined;
  let near: Fit | undefined;
  let below = 0;
  let above = Infinity;
  let scale = start;
  for (let k = 0; k < tries; k++) {
    const found = grid.at(scale, way, grid.rows);
    const fits = found !== undefined && found.filled.top <= grid.most;
    near = found ?? near;
    const by = found ? sqrt(grid.most / found.filled.top) : 0.8;
    if (fits) {
      best = found;
      below = scale;
      if (scale >= most) break;
    } else above = scale;
    if (above / below < 1.004) break;
    let next = min(most, scale * (fits ? max(by, 1.004) : min(by, 0.996)));
    if (next <= below || next >= above) next = (below + above) / 2;
    scale = next;
  }
  return { best, near: best ?? near, next: scale };
}

/** Where no guess fits: whether anything would, and then how much, by halves of the powers between. */
function smaller(grid: Grid, way: Way, start: number, most: number): Fit | undefined {
  let [below, above] = [most * 1e-5, start];
  let best = grid.at(below, way, grid.most);
  for (let k = 0; best && k < 9; k++) {
    const scale = sqrt(below * above);
    const found = grid.at(scale, way, grid.most);
    if (found) [best, below] = [found, scale];
    else above = scale;
  }
  return best;
}

/** The same order, and each island the way round that it was laid. */
const asLaid = ({ order }: Way, { filled }: Fit): Way => ({
  order,
  forced: Int8Array.from(filled.spots, ({ mask }) => mask.turn),
});

/** So many islands are laid while other orders and turns are tried, and so many on fine cells. */
const TRIED = 3000;
const TRIED_AGAIN = 300;
/** What is smaller than this, for the largest, stays where it is in the order. */
const MOVED = 0.03;
/** What fits is tried on this much larger. */
const LARGER = 1.01;

/** Islands laid in one go of a longer search, before it begins anew from the best with other numbers. */
const GO = 500;

/** From the best on and on, in all the ways there are; each go begins with other numbers. */
function longer(
  grid: Grid,
  given: Fit,
  orders: readonly number[][],
  most: number,
  { effort = 0, better, stop }: PackOptions,
  told: (found: Fit) => Packed,
): Fit {
  let best = given;
  let way: Way = asLaid({ order: orders[0] }, given);
  const n = orders[0].length;
  for (let spent = 0, go = 2; spent < effort && !stop?.() && best.masks.scale < most; go++) {
    const many = max(GO, 4 * n);
    spent += many;
    // A little larger than what fits is aimed at; every third go from another order.
    const from = go % 3 === 0 ? { order: orders[go % orders.length] } : way;
    const start = grid.at(best.masks.scale * LARGER, from, grid.rows);
    if (!start) continue;
    const found = tried(grid, from, start, [], most, many, go, stop);
    if (!found.best || found.best.masks.scale <= best.masks.scale) continue;
    best = found.best;
    ({ way } = found);
    better?.(told(best));
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

/**
 * Other orders, other turns: two islands change places, one is taken out and put in elsewhere, one lies another way
 * round; what ends no higher is gone on from, and what fits is gone on from a little larger. By thrown numbers that are
 * the same each time. Answers the largest that fits, and what it was found by.
 */
function tried(
  grid: Grid,
  from: Way,
  given: Fit,
  orders: readonly number[][],
  most: number,
  many: number,
  first = 1,
  stop?: () => boolean,
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
  let seed = first;
  const roll = (below: number): number => {
    seed = (Math.imul(seed, 1664525) + 1013904223) >>> 0;
    return Math.floor((seed / 4294967296) * below);
  };
  const rounds = Math.ceil(many / n);
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
    const laid = grid.at(near.masks.scale, next, near.filled.top, like);
    if (!laid || height(laid) > height(near)) continue;
    near = laid;
    way = asLaid(next, near);
  }
  if (near.filled.top <= grid.most && near.masks.scale > (best?.masks.scale ?? 0)) return { best: near, way, near };
  return { best, way: found, near };
}

/** Does any of these islands, as it lies, come nearer than the padding to one of those? On a grid of 512 cells. */
export function tooNear(
  islands: readonly PackIsland[],
  taken: readonly PackIsland[],
  size: number,
  padding: number,
): boolean {
  const cells = min(size, 512);
  const grow = ((padding / size) * cells) / 2;
  const sheet = new Bits(cells, cells);
  for (const t of taken) {
    const { bits, x, y } = maskOf(t, cells, grow, true);
    stamp(sheet, bits, x, y);
  }
  for (const i of islands) {
    const { bits, x, y } = maskOf(i, cells, grow, true);
    for (let r = 0; r < bits.height; r++)
      for (let c = 0; c < bits.width; c++) {
        const xx = x + c;
        const yy = y + r;
        if (
          (bits.data[r * bits.words + (c >> 5)] >>> (c & 31)) & 1 &&
          xx >= 0 &&
          yy >= 0 &&
          xx < cells &&
          yy < cells &&
          (sheet.data[yy * sheet.words + (xx >> 5)] >>> (xx & 31)) & 1
        )
          return true;
      }
  }
  return false;
}
