/**
 * Rows of a sheet on which islands need not be tried. Each island has a rectangle within it, and where that many rows
 * one above the other have no run so long free in all of them, there is no room for the island either. Where there is
 * room for the rectangle, it has only to be tried where that may stand.
 *
 * For small islands by the hundred: 3,000 leaves on 1,024 cells are laid out in 2.5 s in place of 8.1, 400 houses in
 * 1,390 islands in 1.6 s in place of 3.4, 900 gears in 2.1 s in place of 2.4. With 60 to 180 islands it takes longer
 * than it saves. Tried before: the first row with room for such a rectangle, kept for each of some sizes, saved nothing,
 * since where one of a size a little less finds room there is none for the island for hundreds of rows; and rows told by
 * the rectangles of what was laid alone, which say too little is taken: 5.5 s.
 */
import { Bits } from './bits';
import { findPlace, type Runs } from './room';

const { clz32, floor, log2, max, min, pow } = Math;

/** The largest rectangle of taken cells in a mask. */
export interface Core {
  width: number;
  height: number;
  /** Columns of the mask left of it, rows below it. */
  left: number;
  below: number;
}

/** Undefined where nothing is taken. By how far columns reach down from each row: the largest under such a skyline. */
export function coreOf({ width, height, words, data }: Bits): Core | undefined {
  // The column past the last is always empty: all that is open ends there.
  const tall = new Int32Array(width + 1);
  const open = new Int32Array(width + 2);
  let most = 0;
  const out: Core = { width: 0, height: 0, left: 0, below: 0 };
  for (let y = 0; y < height; y++) {
    let depth = 0;
    for (let x = 0; x <= width; x++) {
      if (x < width) tall[x] = (data[y * words + (x >> 5)] >>> (x & 31)) & 1 ? tall[x] + 1 : 0;
      while (depth > 0 && tall[open[depth - 1]] >= tall[x]) {
        const h = tall[open[--depth]];
        const left = depth > 0 ? open[depth - 1] + 1 : 0;
        const w = x - left;
        if (w * h <= most) continue;
        most = w * h;
        out.width = w;
        out.height = h;
        out.left = left;
        out.below = y - h + 1;
      }
      open[depth++] = x;
    }
  }
  return most > 0 ? out : undefined;
}

/** Heights by the octave that are told apart. */
const STEPS = 6;
const rounded = (x: number): number => max(1, floor(pow(2, floor(STEPS * log2(x) + 1e-9) / STEPS)));

let open = new Int32Array(64);
let spread = new Int32Array(1024);

/** For one height: where so many rows, from each on, are free one above the other. */
class Gate {
  private readonly taken: Bits;
  /** The longest run that is free in all of them; −1 where that has to be found anew. */
  private readonly longest: Int16Array;

  constructor(
    cells: number,
    rows: number,
    readonly height: number,
  ) {
    this.taken = new Bits(cells, rows);
    this.longest = new Int16Array(rows).fill(cells);
  }

  room(y: number): number {
    let found = this.longest[y];
    if (found < 0) this.longest[y] = found = longestFree(this.taken, y);
    return found;
  }

  /** Columns at which so many are free in all of them, as bits; good until it is asked again. */
  free(y: number, width: number): Int32Array {
    const { data, words } = this.taken;
    if (open.length < words) open = new Int32Array(words);
    for (let w = 0; w < words; w++) open[w] = ~data[y * words + w];
    // Twice as many free ones in a row with each step.
    for (let long = 1; long < width;) {
      const by = min(long, width - long);
      const [whole, part] = [by >> 5, by & 31];
      for (let w = 0; w < words; w++) {
        const a = w + whole < words ? open[w + whole] : 0;
        const b = w + whole + 1 < words ? open[w + whole + 1] : 0;
        open[w] &= part === 0 ? a : (a >>> part) | (b << (32 - part));
      }
      long += by;
    }
    return open;
  }

  /** Cells are taken, their lower left in one of the sheet. */
  take({ data, words, height }: Bits, x: number, y: number): void {
    const { taken, longest } = this;
    const rows = height + this.height - 1;
    if (spread.length < rows * words) spread = new Int32Array(2 * rows * words);
    spread.fill(0, 0, (this.height - 1) * words);
    spread.set(data.subarray(0, height * words), (this.height - 1) * words);
    // Down as far as the gate is high, twice as far with each step.
    for (let far = 1; far < this.height;) {
      const by = min(far, this.height - far);
      for (let k = 0, end = (rows - by) * words; k < end; k++) spread[k] |= spread[k + by * words];
      far += by;
    }
    const shift = x & 31;
    for (let r = max(0, this.height - 1 - y); r < rows; r++) {
      const to = y - this.height + 1 + r;
      const at = to * taken.words + (x >> 5);
      longest[to] = -1;
      for (let w = 0; w < words; w++) {
        const cells = spread[r * words + w];
        if (cells === 0) continue;
        taken.data[at + w] |= cells << shift;
        const over = shift > 0 ? cells >>> (32 - shift) : 0;
        if (over !== 0) taken.data[at + w + 1] |= over;
      }
    }
  }
}

/** Cells of the longest run of free ones in a row. */
function longestFree({ data, words, width }: Bits, y: number): number {
  let best = 0;
  let run = 0;
  for (let w = 0; w < words; w++) {
    let cells = data[y * words + w];
    if (cells === 0) {
      run += 32;
      continue;
    }
    let left = 32;
    // Bit by run: free ones up to the next taken, then the taken.
    while (left > 0) {
      const free = cells === 0 ? left : min(left, 31 - clz32(cells & -cells));
      run += free;
      left -= free;
      if (left === 0) break;
      best = max(best, run);
      run = 0;
      cells = free === 0 ? cells : cells >>> free;
      const full = ~cells === 0 ? left : min(left, 31 - clz32(~cells & -~cells));
      left -= full;
      cells = full >= 32 ? 0 : cells >>> full;
    }
  }
  // Cells past the width are free for nobody.
  return max(best, run - (32 * words - width));
}

/** More columns than this are sooner decided all at once. */
const FEW_OPEN = 40;
const MANY_OPEN = -2;

/** The first of some columns at which a mask meets nothing; −1 where it always does. */
function leftmost(free: Int32Array, sheet: Bits, of: Runs, y: number, left: number): number {
  const mask = of.bits;
  const { row } = of.widest();
  const step = of.stride();
  const last = sheet.width - mask.width;
  let tried = 0;
  for (let w = left >> 5; w < sheet.words; w++)
    for (let cells = free[w]; cells !== 0; cells &= cells - 1) {
      const x = 32 * w + 31 - clz32(cells & -cells) - left;
      if (x < 0) continue;
      if (x > last) return -1;
      if (++tried > FEW_OPEN) return MANY_OPEN;
      if (!meets(sheet, mask, x, y, row, step)) return x;
    }
  return -1;
}

/** Whether a mask, its lower left in a cell, takes one that is taken; its rows from one on, so far from each other. */
function meets(sheet: Bits, mask: Bits, x: number, y: number, from: number, step: number): boolean {
  const by = x & 31;
  for (let k = 0, r = from; k < mask.height; k++, r = r + step < mask.height ? r + step : r + step - mask.height) {
    const row = (y + r) * sheet.words + (x >> 5);
    for (let w = 0; w < mask.words; w++) {
      const cells = mask.data[r * mask.words + w];
      if (cells === 0) continue;
      if (sheet.data[row + w] & (cells << by)) return true;
      if (by > 0 && cells >>> (32 - by) !== 0 && sheet.data[row + w + 1] & (cells >>> (32 - by))) return true;
    }
  }
  return false;
}

export class Gates {
  private readonly known = new Map<number, Gate>();

  constructor(
    private readonly cells: number,
    private readonly rows: number,
  ) {}

  /** For what has such a rectangle in it. Made of what comes to be taken from now on. */
  of({ height }: Core): Gate {
    const h = rounded(height);
    let gate = this.known.get(h);
    if (!gate) this.known.set(h, (gate = new Gate(this.cells, this.rows, h)));
    return gate;
  }

  /** As `findPlace`, for a mask with such a rectangle in it: tried where there is room for that. */
  place(core: Core, sheet: Runs, mask: Runs, first: number, last: number): { x: number; y: number } | undefined {
    const gate = this.of(core);
    const { width, left, below } = core;
    const { row, long } = mask.widest();
    for (let y = first; y <= last; y++) {
      if (gate.room(y + below) < width || sheet.room(y + row) < long) continue;
      const x = leftmost(gate.free(y + below, width), sheet.bits, mask, y, left);
      if (x === MANY_OPEN) {
        const at = findPlace(sheet, mask, y, y);
        if (at) return at;
      } else if (x >= 0) return { x, y };
    }
    return undefined;
  }

  /** Cells are taken, their lower left in one of the sheet. */
  take(bits: Bits, x: number, y: number): void {
    for (const gate of this.known.values()) gate.take(bits, x, y);
  }
}
