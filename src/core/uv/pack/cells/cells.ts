/** Islands as runs of cells, for asking over and over how much of one lies on others. */
import { Bits } from './bits';
import { coreOf, type Core } from './gates';
import { Runs } from './room';

const { ceil, max, min } = Math;

/** One way round. */
export interface Cells {
  readonly turn: number;
  readonly width: number;
  readonly height: number;
  readonly area: number;
  /** The largest rectangle of it. */
  readonly core: Core;
  /** Where the runs of each row begin in `runs`, by pairs; and where the last ends. */
  readonly start: Int32Array;
  /** Taken cells, from and before. */
  readonly runs: Int32Array;
  /** The same as row, from and before, every fifth row first: of few it is soon known how much they lie on. */
  readonly spread: Int32Array;
}

/** Rows that are looked at one after the other lie so far apart. */
const APART = 5;

class Drawn implements Cells {
  readonly width: number;
  readonly height: number;
  private found: Core | undefined;

  constructor(
    readonly turn: number,
    private readonly bits: Bits,
    readonly area: number,
    readonly start: Int32Array,
    readonly runs: Int32Array,
    readonly spread: Int32Array,
  ) {
    this.width = bits.width;
    this.height = bits.height;
  }

  get core(): Core {
    return (this.found ??= coreOf(this.bits) ?? { width: 0, height: 0, left: 0, below: 0 });
  }
}

export function cellsOf(bits: Bits, turn: number): Cells {
  const read = new Runs(bits);
  const start = new Int32Array(bits.height + 1);
  const list: number[] = [];
  let area = 0;
  for (let y = 0; y < bits.height; y++) {
    start[y] = list.length / 2;
    for (let k = read.from(y), end = read.to(y); k < end; k += 2) {
      list.push(read.list[k], read.list[k + 1]);
      area += read.list[k + 1] - read.list[k];
    }
  }
  start[bits.height] = list.length / 2;
  const runs = Int32Array.from(list);
  const spread = new Int32Array((3 * runs.length) / 2);
  let at = 0;
  for (let first = 0; first < APART; first++)
    for (let y = (2 * first) % APART; y < bits.height; y += APART)
      for (let k = start[y]; k < start[y + 1]; k++) {
        spread[at++] = y;
        spread[at++] = runs[2 * k];
        spread[at++] = runs[2 * k + 1];
      }
  return new Drawn(turn, bits, area, start, runs, spread);
}

/** On cells `by` times as large, each taken where at least such a share of it is. Never nothing at all. */
export function coarser(bits: Bits, by: number, share: number): Bits {
  const out = new Bits(ceil(bits.width / by), ceil(bits.height / by));
  const least = share * by * by;
  let any = false;
  for (let y = 0; y < out.height; y++)
    for (let x = 0; x < out.width; x++) {
      let taken = 0;
      for (let v = y * by; v < min(bits.height, (y + 1) * by); v++)
        for (let u = x * by; u < min(bits.width, (x + 1) * by); u++)
          taken += (bits.data[v * bits.words + (u >> 5)] >>> (u & 31)) & 1;
      if (taken < least) continue;
      out.fill(y, x, x);
      any = true;
    }
  if (!any) out.fill(out.height >> 1, out.width >> 1, out.width >> 1);
  return out;
}

/** How many cells of one are cells of the other; `dx`, `dy`: where the second lies, from the first. */
export function shared(a: Cells, b: Cells, dx: number, dy: number): number {
  let sum = 0;
  const end = min(a.height, dy + b.height);
  for (let y = max(0, dy); y < end; y++)
    for (let p = a.start[y]; p < a.start[y + 1]; p++)
      for (let q = b.start[y - dy]; q < b.start[y - dy + 1]; q++) {
        const from = max(a.runs[2 * p], b.runs[2 * q] + dx);
        const before = min(a.runs[2 * p + 1], b.runs[2 * q + 1] + dx);
        if (from < before) sum += before - from;
      }
  return sum;
}
