/**
 * Where on a sheet there is room for a mask: both as runs of taken cells, row by row. A run of the mask and a run of
 * the sheet together bar a range of columns, so all columns of a row are decided at once; after few rows most are
 * barred.
 *
 * Laying 1,440 faces by whole texels on 1,024 cells: 0.35 s; 5.0 s as one position after another was tried word by
 * word, some 260 rows each.
 */
import type { Bits } from './bits';

const { clz32, max, min } = Math;

/** The runs of taken cells in each row, kept until it is changed. */
export class Runs {
  private readonly rows: (Int32Array | undefined)[];
  private readonly free: Int32Array;
  private longest: { row: number; long: number } | undefined;
  private mixed: Int32Array | undefined;

  constructor(readonly bits: Bits) {
    this.rows = new Array<Int32Array | undefined>(bits.height);
    this.free = new Int32Array(bits.height).fill(-1);
  }

  /** From and before, in pairs from left to right. */
  of(y: number): Int32Array {
    return (this.rows[y] ??= this.read(y));
  }

  /** The longest run of free cells in a row. */
  room(y: number): number {
    if (this.free[y] < 0) {
      const runs = this.of(y);
      let best = 0;
      let from = 0;
      for (let k = 0; k < runs.length; k += 2) {
        best = max(best, runs[k] - from);
        from = runs[k + 1];
      }
      this.free[y] = max(best, this.bits.width - from);
    }
    return this.free[y];
  }

  /** What was taken down of these rows holds no longer. */
  forget(from: number, to: number): void {
    this.rows.fill(undefined, from, to);
    this.free.fill(-1, from, to);
  }

  /** The row with the longest run of taken cells, and how long that is. */
  widest(): { row: number; long: number } {
    if (this.longest) return this.longest;
    let [row, long] = [0, 0];
    for (let y = 0; y < this.bits.height; y++) {
      const runs = this.of(y);
      for (let k = 0; k < runs.length; k += 2) {
        if (runs[k + 1] - runs[k] <= long) continue;
        row = y;
        long = runs[k + 1] - runs[k];
      }
    }
    return (this.longest = { row, long });
  }

  /** All rows, the widest first, then spread over the whole height: neighbours say nearly the same. */
  order(): Int32Array {
    if (this.mixed) return this.mixed;
    const n = this.bits.height;
    const out = new Int32Array(n);
    let step = max(1, Math.round(n * 0.381966));
    while (divisor(step, n) > 1) step++;
    for (let k = 0, y = this.widest().row; k < n; k++, y = (y + step) % n) out[k] = y;
    return (this.mixed = out);
  }

  private read(y: number): Int32Array {
    const { width } = this.bits;
    let n = 0;
    if (found.length < width + 2) found = new Int32Array(width + 2);
    for (let x = next(this.bits, y, 0, 0); x < width;) {
      const end = next(this.bits, y, x, -1);
      found[n++] = x;
      found[n++] = end;
      x = end < width ? next(this.bits, y, end, 0) : width;
    }
    return found.slice(0, n);
  }
}

let found = new Int32Array(0);

const divisor = (a: number, b: number): number => (b === 0 ? a : divisor(b, a % b));

/** The first taken cell (`flip` 0) or free one (−1) of a row from a column on; the width where there is none. */
function next({ data, words, width }: Bits, y: number, x: number, flip: 0 | -1): number {
  const row = y * words;
  let w = x >> 5;
  let cells = (data[row + w] ^ flip) & (-1 << (x & 31));
  while (cells === 0 && ++w < words) cells = data[row + w] ^ flip;
  return cells === 0 ? width : min(width, 32 * w + 31 - clz32(cells & -cells));
}

/** Columns that are still open, the leftmost of them last found; made larger as needed. */
let open = new Int32Array(64);
/** The row of a mask that barred the last column. */
let met = 0;

/** Lowest, then leftmost, place without collision; first row from `first` to `last`. */
export function findPlace(sheet: Runs, mask: Runs, first: number, last: number): { x: number; y: number } | undefined {
  const columns = sheet.bits.width - mask.bits.width + 1;
  if (columns < 1) return undefined;
  const words = (columns + 31) >> 5;
  if (open.length < words) open = new Int32Array(words);
  const { row, long } = mask.widest();
  const order = mask.order();
  met = min(met, order.length - 1);
  for (let y = first; y <= last; y++) {
    // Where the row for its widest has no such run free, nothing need be tried.
    if (sheet.room(y + row) < long) continue;
    open.fill(-1, 0, words);
    if (columns & 31) open[words - 1] = (1 << (columns & 31)) - 1;
    let x = barred(sheet.of(y + met), mask.of(met), 0, columns);
    for (let k = 0; k < order.length && x < columns; k++) {
      const r = order[k];
      const taken = sheet.of(y + r);
      if (taken.length === 0) continue;
      x = barred(taken, mask.of(r), x, columns);
      if (x >= columns) met = r;
    }
    if (x < columns) return { x, y };
  }
  return undefined;
}

/** Closes the columns at which these runs would meet; answers the first that is open, none before `x` being so. */
function barred(taken: Int32Array, own: Int32Array, x: number, columns: number): number {
  const top = columns - 1;
  for (let m = 0; m < own.length; m += 2) {
    const a = own[m];
    const b = own[m + 1];
    for (let k = 0; k < taken.length; k += 2) {
      // The run of the mask begins before the other ends, and ends after it begins.
      let lo = taken[k] - b + 1;
      if (lo > top) break;
      let hi = taken[k + 1] - a - 1;
      if (hi < x) continue;
      if (lo < x) lo = x;
      if (hi > top) hi = top;
      const w1 = hi >> 5;
      let w = lo >> 5;
      const left = -1 << (lo & 31);
      const right = -1 >>> (31 - (hi & 31));
      if (w === w1) open[w] &= ~(left & right);
      else {
        open[w] &= ~left;
        for (w++; w < w1; w++) open[w] = 0;
        open[w1] &= ~right;
      }
    }
  }
  let w = x >> 5;
  const words = (columns + 31) >> 5;
  while (w < words && open[w] === 0) w++;
  return w < words ? 32 * w + 31 - clz32(open[w] & -open[w]) : columns;
}
