/**
 * Islands of one scale laid on a strip as wide as the sheet and as tall as it comes: each goes as low as it can in
 * whichever of its turns ends lowest. How tall the strip gets tells how far the scale is off.
 */
import { Bits, bitsIn, count, maskOf, nameOf, rowFull, sameBits, stamp, turnedBits } from './bits';
import { findPlace, Runs } from './room';
import { coreOf, Gates, type Core } from './gates';
import { boxOf, type Outline } from './outline';
import { pulse } from '../../../math/pulse';

const { max, min, SQRT1_2 } = Math;

/** An island in its tightest box, lower left at the origin. */
export interface Boxed {
  points: Float64Array;
  outline: Outline;
  width: number;
  height: number;
  area: number;
  /** Looks the same after a half turn. */
  even: boolean;
  /** In how many turns it may lie: one where it may not be turned, four where it fills its box. */
  turns: number;
}

const [C8, S8] = [0.9238795325112867, 0.3826834323650898];
/** Turns that are tried, as cosine and sine: quarters of the tightest box, then what lies between. */
const TURNS: readonly (readonly [number, number])[] = [
  [1, 0],
  [0, 1],
  [-1, 0],
  [0, -1],
  [SQRT1_2, SQRT1_2],
  [-SQRT1_2, SQRT1_2],
  [-SQRT1_2, -SQRT1_2],
  [SQRT1_2, -SQRT1_2],
  [C8, S8],
  [-S8, C8],
  [-C8, -S8],
  [S8, -C8],
  [S8, C8],
  [-C8, S8],
  [-S8, -C8],
  [C8, -S8],
];
/** Of turns in this order, those that are half a turn after another. */
const isHalf = (turn: number): boolean => (turn & 3) > 1;

/** Places in one of the turns, scaled. */
function turnedBy(given: Float64Array, turn: number, scale: number): Float64Array {
  const [c, s] = TURNS[turn];
  const out = new Float64Array(given.length);
  for (let k = 0; k < given.length; k += 2) {
    out[k] = (given[k] * c - given[k + 1] * s) * scale;
    out[k + 1] = (given[k] * s + given[k + 1] * c) * scale;
  }
  return out;
}

/**
 * The least side of a square that an island fits into, in so many of its turns: a long one lies best from corner to
 * corner.
 */
export const leastSquare = ({ outline, turns }: Boxed, most: number): number =>
  leastSquareOf(outline.points, min(turns, most));

export function leastSquareOf(given: Float64Array, turns = TURNS.length): number {
  let least = Infinity;
  for (let turn = 0; turn < turns; turn++) {
    if (isHalf(turn)) continue;
    const { width, height } = boxOf(turnedBy(given, turn, 1));
    least = min(least, max(width, height));
  }
  return least;
}

/** What one island takes of the strip in one of its turns. */
export interface Mask {
  bits: Bits;
  runs: Runs;
  turn: number;
  /** Where its lower left was before it was brought to the origin. */
  x: number;
  y: number;
  /** The same for masks of the same cells. */
  shape: number;
  /** The largest rectangle within it; undefined as long as nobody has asked. */
  core?: Core | null;
  cells: number;
}

/** An island one way round, as cells. */
interface Drawn {
  bits: Bits;
  cells: number;
  /** Its lower left, and how large it is; in sheets. */
  x: number;
  y: number;
  width: number;
  height: number;
}

/** Masks of islands at one scale, made as they are asked for. */
export class Masks {
  private readonly list: (Mask[] | undefined)[];
  /** By island and turn; null where it is wider than the strip. */
  private readonly single = new Map<number, Mask | null>();
  private readonly shapes = new Map<string, number>();
  /** By island and way; null where it fits no way round. */
  private readonly drawn = new Map<number, Drawn | null>();

  constructor(
    readonly boxed: readonly Boxed[],
    readonly scale: number,
    /** Cells along the width of the strip. */
    readonly cells: number,
    /** Free cells between islands. */
    readonly pad: number,
    readonly turns: number,
    /** What is taller than this has no place. */
    private readonly rows = 2 * cells,
    /** Islands keep to whole cells: each turn is drawn by itself. */
    private readonly whole = false,
  ) {
    this.list = new Array<Mask[] | undefined>(boxed.length);
  }

  get shapeCount(): number {
    return this.shapes.size;
  }

  /** In all turns that differ; none where the island is wider than the strip. */
  of(i: number): readonly Mask[] {
    return (this.list[i] ??= this.all(i));
  }

  private all(i: number): Mask[] {
    const b = this.boxed[i];
    const out: Mask[] = [];
    for (let turn = 0; turn < min(b.turns, this.turns); turn++) {
      if (b.even && isHalf(turn)) continue;
      const mask = this.one(i, turn);
      if (mask && !out.some((other) => other.shape === mask.shape && sameBits(other.bits, mask.bits))) out.push(mask);
    }
    return out;
  }

  /** In one turn alone. */
  one(i: number, turn: number): Mask | null {
    const key = i * TURNS.length + turn;
    let mask = this.single.get(key);
    if (mask === undefined) this.single.set(key, (mask = this.made(i, turn)));
    return mask;
  }

  private made(i: number, turn: number): Mask | null {
    const { cells, pad, whole } = this;
    const drawn = this.draw(i, whole ? turn : turn & ~3);
    if (!drawn) return null;
    const quarters = whole ? 0 : turn & 3;
    const wide = quarters & 1 ? drawn.height : drawn.width;
    if (wide * cells + pad > cells + 1e-9) return null;
    const bits = turnedBits(drawn.bits, quarters);
    if (bits.width > cells || bits.height > this.rows) return null;
    const name = nameOf(bits);
    let shape = this.shapes.get(name);
    if (shape === undefined) this.shapes.set(name, (shape = this.shapes.size));
    // Where the corner that is lower left now lies, once all is turned.
    const half = pad / 2 / cells;
    const [x, y] = [drawn.x - half, drawn.y - half];
    const [right, top] = [x + drawn.bits.width / cells, y + drawn.bits.height / cells];
    const corner = [
      [x, y],
      [-top, x],
      [-right, -top],
      [y, -right],
    ][quarters];
    return { bits, runs: new Runs(bits), turn, x: corner[0] + half, y: corner[1] + half, shape, cells: drawn.cells };
  }

  /** The cells that an island takes one way round; the quarters of it are made of them. */
  private draw(i: number, turn: number): Drawn | null {
    const key = i * TURNS.length + turn;
    let found = this.drawn.get(key);
    if (found === undefined) this.drawn.set(key, (found = this.drawnAnew(this.boxed[i], turn)));
    return found;
  }

  private drawnAnew(b: Boxed, turn: number): Drawn | null {
    const { cells, pad, scale } = this;
    const points = turnedBy(b.outline.points, turn, scale);
    const { x, y, width, height } = boxOf(points);
    // Wider than the strip either way, or taller than it may get.
    if (min(width, height) * cells + pad > cells + 1e-9 || max(width, height) * cells + pad > this.rows + 1)
      return null;
    for (let k = 0; k < points.length; k += 2) {
      points[k] -= x;
      points[k + 1] -= y;
    }
    const { bits } = maskOf({ ...b.outline, points }, cells, pad / 2, false, this.rows + 2);
    return { bits, cells: count(bits), x, y, width, height };
  }

  /**
   * Where an island's points are, its mask's lower left in a cell. The mask begins half a padding before the island.
   */
  placed(i: number, spot: Spot): Float64Array {
    const { mask } = spot;
    const points = turnedBy(this.boxed[i].points, mask.turn, this.scale);
    const dx = (spot.x + this.pad / 2) / this.cells - mask.x;
    const dy = (spot.y + this.pad / 2) / this.cells - mask.y;
    for (let k = 0; k < points.length; k += 2) {
      points[k] += dx;
      points[k + 1] += dy;
    }
    return points;
  }
}

export interface Spot {
  mask: Mask;
  x: number;
  y: number;
}

export interface Filled {
  /** Rows that are taken, in cells. */
  top: number;
  spots: Spot[];
  /** In which they were laid. */
  order: ArrayLike<number>;
}

/** What islands are laid on over and over: cleared each time, not made anew. */
export class Strip {
  readonly bits: Bits;
  readonly runs: Runs;
  /** Rows that something was laid on. */
  private used = 0;

  constructor(
    readonly cells: number,
    rows: number,
    /** Of the same rows and cells. */
    private readonly taken?: Bits,
  ) {
    this.bits = new Bits(cells, rows);
    this.runs = new Runs(this.bits, 24);
    if (taken) this.bits.data.set(taken.data);
  }

  /** As it is without islands; answers how many cells are free of so many rows. */
  clear(rows: number): number {
    const end = this.used * this.bits.words;
    if (this.taken) this.bits.data.set(this.taken.data.subarray(0, end));
    else this.bits.data.fill(0, 0, end);
    this.runs.forget(0, this.used);
    this.used = 0;
    const held = this.taken ? bitsIn(this.taken.data.subarray(0, rows * this.bits.words)) : 0;
    return this.cells * rows - held;
  }

  lay({ mask: { bits }, x, y }: Spot): void {
    stamp(this.bits, bits, x, y);
    this.runs.forget(y, y + bits.height);
    this.used = max(this.used, y + bits.height);
  }
}

/** What was laid before, and in which order: as far as that is the same, all lies as it did. */
export interface Like {
  order: ArrayLike<number>;
  spots: readonly Spot[];
}

/**
 * From so many islands on, of no more cells than this on the mean, it is worth to know rows on which there is no room
 * for any of a size. 815 gears of 3,700 cells each took 5.0 s by that in place of 3.2.
 */
const MANY = 300;
const SMALL = 2500;

function coreIn(mask: Mask): Core | null {
  if (mask.core === undefined) mask.core = coreOf(mask.bits) ?? null;
  return mask.core;
}

/**
 * All islands, in this order, within so many rows; undefined where they do not fit. `forced`: the one turn to be
 * tried for an island, −1 for all of them. `like`: by the same masks; what comes to lie as it did is not looked for.
 */
export function fillStrip(
  masks: Masks,
  order: ArrayLike<number>,
  rows: number,
  strip: Strip,
  forced?: Int8Array,
  like?: Like,
): Filled | undefined {
  const { cells } = masks;
  let free = strip.clear(rows);
  // What is still to come takes no less than the least of its masks.
  let wanted = 0;
  const lists = new Array<readonly Mask[]>(order.length);
  const least = new Int32Array(order.length);
  for (let k = 0; k < order.length; k++) {
    const i = order[k];
    const only = forced && forced[i] >= 0 ? masks.one(i, forced[i]) : null;
    const list = only ? [only] : masks.of(i);
    if (list.length === 0) return undefined;
    least[k] = list[0].cells;
    for (let m = 1; m < list.length; m++) least[k] = min(least[k], list[m].cells);
    lists[k] = list;
    wanted += least[k];
  }
  if (wanted > free) return undefined;
  const spots = new Array<Spot>(order.length);
  const { bits: sheet, runs: there } = strip;
  const tried = new Int32Array(masks.shapeCount);
  const gates = order.length >= MANY && wanted < SMALL * order.length ? new Gates(cells, rows) : undefined;
  // All that will be asked for have to know of what is laid from the first on.
  if (gates) for (const list of lists) for (const mask of list) if (coreIn(mask)) gates.of(coreIn(mask)!);
  let top = 0;
  let lowest = 0; // the first row with a free cell
  let same = like !== undefined && forced !== undefined;
  for (let k = 0; k < order.length; k++) {
    const i = order[k];
    if ((k & 7) === 0) pulse();
    if (wanted > free) return undefined;
    let best: Spot | undefined;
    let bestTop = rows + 1;
    same &&= like!.order[k] === i && forced![i] === like!.spots[i].mask.turn;
    if (same) {
      best = like!.spots[i];
      bestTop = best.y + best.mask.bits.height;
      if (bestTop > rows) return undefined;
    }
    for (let m = same ? lists[k].length : 0; m < lists[k].length; m++) {
      const mask = lists[k][m];
      const { bits, shape } = mask;
      // Below where one of its very shape went, or found nothing, there is nothing for this either.
      const last = min(rows, bestTop - 1) - bits.height;
      const core = gates && coreIn(mask);
      const first = max(lowest, tried[shape]);
      const at = core ? gates.place(core, there, mask.runs, first, last) : findPlace(there, mask.runs, first, last);
      tried[shape] = max(at ? at.y : last + 1, tried[shape]);
      if (!at) continue;
      best = { mask, x: at.x, y: at.y };
      bestTop = at.y + bits.height;
    }
    if (!best) return undefined;
    strip.lay(best);
    gates?.take(best.mask.bits, best.x, best.y);
    free -= best.mask.cells;
    wanted -= least[k];
    spots[i] = best;
    top = max(top, bestTop);
    while (lowest < rows && rowFull(sheet, lowest)) lowest++;
  }
  return { top, spots, order };
}

/**
 * Islands near where they lie already, each the same way round: as low as it goes within so many cells of its spot,
 * then as far left; anywhere, where it finds no place there. Undefined where one finds none at all.
 */
export function seatedStrip(
  masks: Masks,
  { spots: begin, order }: Pick<Filled, 'spots' | 'order'>,
  rows: number,
  strip: Strip,
  near: number,
): Filled | undefined {
  strip.clear(rows);
  const { runs } = strip;
  const spots = new Array<Spot>(order.length);
  let top = 0;
  for (let k = 0; k < order.length; k++) {
    const i = order[k];
    if ((k & 7) === 0) pulse();
    const { x, y } = begin[i];
    const mask = masks.one(i, begin[i].mask.turn);
    if (!mask) return undefined;
    const { width, height } = mask.bits;
    const last = rows - height;
    const left = max(0, min(x - near, masks.cells - width));
    const at =
      findPlace(runs, mask.runs, max(0, y - near), min(last, y + near), left, x + near) ??
      findPlace(runs, mask.runs, 0, last);
    if (!at) return undefined;
    spots[i] = { mask, x: at.x, y: at.y };
    strip.lay(spots[i]);
    top = max(top, at.y + height);
  }
  return { top, spots, order };
}
