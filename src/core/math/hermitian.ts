/**
 * A sparse direct solver for Hermitian positive definite systems: L D Lᴴ, up-looking, after Davis ("Direct Methods for
 * Sparse Linear Systems", 2006, and his LDL package's algorithm, written anew for complex numbers). The conformal
 * energy of a mesh is such a matrix, with one complex unknown per vertex: half the unknowns and a quarter of the
 * entries of the real form.
 *
 * Order: geometric nested dissection, for the unknowns of a mesh know where they are.
 */

import { pulse } from './pulse';

const { max } = Math;

/** Columns are dear: overtaken work looks every 256 of them whether it is to stop. */
const SOME = 0xff;

/**
 * Entries of the lower or upper triangle, each pair once: row, column, real, imaginary; diagonal real. Repeats are
 * summed.
 */
export class HermitianBuilder {
  readonly n: number;
  readonly diagonal: Float64Array;
  private rows: Int32Array;
  private cols: Int32Array;
  private re: Float64Array;
  private im: Float64Array;
  private count = 0;
  /** No entry has an imaginary part. */
  real = true;

  constructor(n: number, expected = 64) {
    this.n = n;
    this.diagonal = new Float64Array(n);
    this.rows = new Int32Array(expected);
    this.cols = new Int32Array(expected);
    this.re = new Float64Array(expected);
    this.im = new Float64Array(expected);
  }

  /** Adds re + i·im at (row, column) and its conjugate at (column, row). */
  add(row: number, col: number, re: number, im: number): void {
    if (this.count === this.rows.length) {
      const g = <T extends Int32Array | Float64Array>(a: T, b: T): T => {
        b.set(a);
        return b;
      };
      const n = 2 * this.count;
      this.rows = g(this.rows, new Int32Array(n));
      this.cols = g(this.cols, new Int32Array(n));
      this.re = g(this.re, new Float64Array(n));
      this.im = g(this.im, new Float64Array(n));
    }
    if (im !== 0) this.real = false;
    this.rows[this.count] = row;
    this.cols[this.count] = col;
    this.re[this.count] = re;
    this.im[this.count++] = im;
  }

  /** Columns of the strictly upper triangle after renumbering: entry (i, k), i < k, in column k. */
  upper(position: Int32Array): { start: Int32Array; row: Int32Array; re: Float64Array; im: Float64Array } {
    const n = this.n;
    const start = new Int32Array(n + 1);
    for (let e = 0; e < this.count; e++) start[max(position[this.rows[e]], position[this.cols[e]]) + 1]++;
    for (let k = 0; k < n; k++) start[k + 1] += start[k];
    const fill = start.slice(0, n);
    const row = new Int32Array(this.count);
    const re = new Float64Array(this.count);
    const im = new Float64Array(this.count);
    for (let e = 0; e < this.count; e++) {
      const i = position[this.rows[e]];
      const j = position[this.cols[e]];
      const flip = i > j;
      const at = fill[flip ? i : j]++;
      row[at] = flip ? j : i;
      re[at] = this.re[e];
      im[at] = flip ? -this.im[e] : this.im[e];
    }
    return { start, row, re, im };
  }
}

export interface Factor {
  solve(re: Float64Array, im: Float64Array): void;
}

/**
 * Factors the matrix with unknowns in the given order (order[i] is the i-th to be eliminated). Returns undefined if it
 * is not positive definite.
 */
export function factorHermitian(matrix: HermitianBuilder, order: Int32Array): Factor | undefined {
  const n = matrix.n;
  const position = new Int32Array(n);
  for (let i = 0; i < n; i++) position[order[i]] = i;
  const a = matrix.upper(position);

  // Elimination tree and column counts.
  const parent = new Int32Array(n).fill(-1);
  const flag = new Int32Array(n);
  const counts = new Int32Array(n);
  for (let k = 0; k < n; k++) {
    if ((k & SOME) === 0) pulse();
    flag[k] = k;
    for (let p = a.start[k]; p < a.start[k + 1]; p++) {
      for (let i = a.row[p]; flag[i] !== k; i = parent[i]) {
        if (parent[i] < 0) parent[i] = k;
        counts[i]++;
        flag[i] = k;
      }
    }
  }
  const lp = new Int32Array(n + 1);
  for (let k = 0; k < n; k++) lp[k + 1] = lp[k] + counts[k];
  const pattern: Pattern = { n, order, a, parent, flag, lp, diagonal: matrix.diagonal };
  return matrix.real ? factorReal(pattern) : factorComplex(pattern);
}

/** What is known of a matrix before its numbers are looked at. */
interface Pattern {
  n: number;
  order: Int32Array;
  /** The upper triangle, by columns. */
  a: ReturnType<HermitianBuilder['upper']>;
  /** The elimination tree. */
  parent: Int32Array;
  /** Room for marks, by unknown. */
  flag: Int32Array;
  /** Where the columns of L begin. */
  lp: Int32Array;
  diagonal: Float64Array;
}

/** Rows of L that column k goes into, in order of elimination: those from the answer on, in `stack`. */
function reach({ n, a, parent, flag }: Pattern, k: number, stack: Int32Array): number {
  let top = n;
  flag[k] = k;
  for (let p = a.start[k]; p < a.start[k + 1]; p++) {
    let len = 0;
    for (let i = a.row[p]; flag[i] !== k; i = parent[i]) {
      stack[len++] = i;
      flag[i] = k;
    }
    while (len > 0) stack[--top] = stack[--len];
  }
  return top;
}

function factorComplex(pattern: Pattern): Factor | undefined {
  const { n, order, a, flag, lp, diagonal } = pattern;
  const li = new Int32Array(lp[n]);
  const lr = new Float64Array(lp[n]);
  const lm = new Float64Array(lp[n]);
  const d = new Float64Array(n);
  const yr = new Float64Array(n);
  const ym = new Float64Array(n);
  const stack = new Int32Array(n);
  const filled = new Int32Array(n);
  flag.fill(-1);
  for (let k = 0; k < n; k++) {
    if ((k & SOME) === 0) pulse();
    for (let p = a.start[k]; p < a.start[k + 1]; p++) {
      yr[a.row[p]] += a.re[p];
      ym[a.row[p]] += a.im[p];
    }
    let dk = diagonal[order[k]];
    for (let top = reach(pattern, k, stack); top < n; top++) {
      const i = stack[top];
      const xr = yr[i];
      const xm = ym[i];
      yr[i] = 0;
      ym[i] = 0;
      const end = lp[i] + filled[i];
      for (let p = lp[i]; p < end; p++) {
        const r = li[p];
        yr[r] -= lr[p] * xr - lm[p] * xm;
        ym[r] -= lr[p] * xm + lm[p] * xr;
      }
      const inv = 1 / d[i];
      dk -= (xr * xr + xm * xm) * inv;
      li[end] = k;
      lr[end] = xr * inv;
      lm[end] = -xm * inv; // conjugate: row k of L
      filled[i]++;
    }
    if (!(dk > 0)) return undefined;
    d[k] = dk;
  }
  return {
    solve(re, im) {
      const xr = new Float64Array(n);
      const xm = new Float64Array(n);
      for (let i = 0; i < n; i++) {
        xr[i] = re[order[i]];
        xm[i] = im[order[i]];
      }
      for (let j = 0; j < n; j++) {
        if ((j & SOME) === 0) pulse();
        const [cr, cm] = [xr[j], xm[j]];
        for (let p = lp[j]; p < lp[j + 1]; p++) {
          const r = li[p];
          xr[r] -= lr[p] * cr - lm[p] * cm;
          xm[r] -= lr[p] * cm + lm[p] * cr;
        }
      }
      for (let j = n - 1; j >= 0; j--) {
        if ((j & SOME) === 0) pulse();
        let cr = xr[j] / d[j];
        let cm = xm[j] / d[j];
        for (let p = lp[j]; p < lp[j + 1]; p++) {
          const r = li[p]; // the conjugate of L
          cr -= lr[p] * xr[r] + lm[p] * xm[r];
          cm -= lr[p] * xm[r] - lm[p] * xr[r];
        }
        xr[j] = cr;
        xm[j] = cm;
      }
      for (let i = 0; i < n; i++) {
        re[order[i]] = xr[i];
        im[order[i]] = xm[i];
      }
    },
  };
}

/** The same of real numbers, for two right sides at once: half the work. */
function factorReal(pattern: Pattern): Factor | undefined {
  const { n, order, a, flag, lp, diagonal } = pattern;
  const li = new Int32Array(lp[n]);
  const l = new Float64Array(lp[n]);
  const d = new Float64Array(n);
  const y = new Float64Array(n);
  const stack = new Int32Array(n);
  const filled = new Int32Array(n);
  flag.fill(-1);
  for (let k = 0; k < n; k++) {
    if ((k & SOME) === 0) pulse();
    for (let p = a.start[k]; p < a.start[k + 1]; p++) y[a.row[p]] += a.re[p];
    let dk = diagonal[order[k]];
    for (let top = reach(pattern, k, stack); top < n; top++) {
      const i = stack[top];
      const x = y[i];
      y[i] = 0;
      const end = lp[i] + filled[i];
      for (let p = lp[i]; p < end; p++) y[li[p]] -= l[p] * x;
      const share = x / d[i];
      dk -= x * share;
      li[end] = k;
      l[end] = share;
      filled[i]++;
    }
    if (!(dk > 0)) return undefined;
    d[k] = dk;
  }
  return {
    solve(first, second) {
      const x = new Float64Array(n);
      const z = new Float64Array(n);
      for (let i = 0; i < n; i++) {
        x[i] = first[order[i]];
        z[i] = second[order[i]];
      }
      for (let j = 0; j < n; j++) {
        if ((j & SOME) === 0) pulse();
        const [c, e] = [x[j], z[j]];
        for (let p = lp[j]; p < lp[j + 1]; p++) {
          const r = li[p];
          x[r] -= l[p] * c;
          z[r] -= l[p] * e;
        }
      }
      for (let j = n - 1; j >= 0; j--) {
        if ((j & SOME) === 0) pulse();
        let c = x[j] / d[j];
        let e = z[j] / d[j];
        for (let p = lp[j]; p < lp[j + 1]; p++) {
          const r = li[p];
          c -= l[p] * x[r];
          e -= l[p] * z[r];
        }
        x[j] = c;
        z[j] = e;
      }
      for (let i = 0; i < n; i++) {
        first[order[i]] = x[i];
        second[order[i]] = z[i];
      }
    },
  };
}

/** Lists of so many are not halved any more. */
const LEAF = 24;

/**
 * Nested dissection by coordinates (George 1973; Miller et al. 1997 for geometric separators): halve along the widest
 * axis, the vertices of one half that touch the other come last.
 */
export function dissectionOrder(
  n: number,
  points: Float64Array,
  neighbourStart: Int32Array,
  neighbour: Int32Array,
): Int32Array {
  const order = Int32Array.from({ length: n }, (_, i) => i);
  const spare = new Int32Array(n);
  const along = new Float64Array(n);
  const side = new Int32Array(n).fill(-1);
  let stamp = 0;
  /** Orders what stands in `order` from one place to another. */
  const work = (from: number, end: number): void => {
    const count = end - from;
    if (count <= LEAF) return;
    const k = widestAxis(points, order, from, end);
    for (let i = 0; i < count; i++) along[i] = points[3 * order[from + i] + k];
    const middle = ranked(along, count, count >> 1);
    const right = ++stamp;
    let rights = 0;
    for (let i = from; i < end; i++)
      if (points[3 * order[i] + k] >= middle) {
        side[order[i]] = right;
        rights++;
      }
    if (rights === count || rights === 0) return;
    // Left, right, and last what lies between them, each in the order it was in.
    let [l, r, between] = [from, 0, 0];
    for (let i = from; i < end; i++) {
      const v = order[i];
      if (side[v] === right) {
        spare[from + r++] = v;
        continue;
      }
      let touches = false;
      for (let p = neighbourStart[v]; p < neighbourStart[v + 1] && !touches; p++)
        touches = side[neighbour[p]] === right;
      if (touches) spare[end - ++between] = v;
      else order[l++] = v;
    }
    for (let i = 0; i < r; i++) order[l + i] = spare[from + i];
    for (let i = 0; i < between; i++) order[l + r + i] = spare[end - 1 - i];
    work(l, l + r);
    work(from, l);
  };
  work(0, n);
  return order;
}

function widestAxis(points: Float64Array, order: Int32Array, from: number, end: number): number {
  let [widest, axis] = [-Infinity, 0];
  for (let k = 0; k < 3; k++) {
    let [lo, hi] = [Infinity, -Infinity];
    for (let i = from; i < end; i++) {
      const x = points[3 * order[i] + k];
      if (x < lo) lo = x;
      if (x > hi) hi = x;
    }
    if (hi - lo > widest) {
      widest = hi - lo;
      axis = k;
    }
  }
  return axis;
}

/** The number that would stand at a place, were they sorted (Hoare 1961); they are put into another order. */
function ranked(a: Float64Array, count: number, place: number): number {
  let [lo, hi] = [0, count - 1];
  while (lo < hi) {
    const pivot = a[(lo + hi) >> 1];
    let [i, j] = [lo, hi];
    while (i <= j) {
      while (a[i] < pivot) i++;
      while (a[j] > pivot) j--;
      if (i > j) break;
      [a[i], a[j]] = [a[j], a[i]];
      i++;
      j--;
    }
    if (place <= j) hi = j;
    else if (place >= i) lo = i;
    else break;
  }
  return a[place];
}
