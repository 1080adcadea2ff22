/**
 * Triangles of polygons of thousands of corners, in n log n: cut into monotone pieces by a sweep from top to bottom,
 * each of which is then cut up as it goes down (Garey, Johnson, Preparata and Tarjan 1978; de Berg et al.,
 * Computational Geometry, chapter 3). Cutting ears looks at more and more of what is left: 40,000 corners took it 2 to
 * 5 s, and take this 20 to 60 ms. A constrained Delaunay library took 0.2 to 3 s: corners on circles are its worst
 * case.
 */
import { EVERY, pulse } from '../math/pulse';

const { abs, atan2, PI } = Math;

/**
 * `flat`: 2 per corner, counter-clockwise. 3 corner numbers per triangle, n − 2 of them, counter-clockwise or of no
 * area; undefined for an outline that crosses itself, turns the other way, or is too degenerate to be sure.
 */
export function longPolygon(flat: ArrayLike<number>): Uint32Array | undefined {
  const cuts = diagonals(flat);
  if (!cuts) return undefined;
  const n = flat.length / 2;
  const out = new Uint32Array(3 * (n - 2));
  let count = 0;
  let area = 0;
  let whole = true;
  const emit = (a: number, b: number, c: number): void => {
    const turn = orient(flat, a, b, c);
    area += abs(turn);
    if (count === n - 2) whole = false;
    else {
      out[3 * count] = a;
      out[3 * count + 1] = turn < 0 ? c : b;
      out[3 * count + 2] = turn < 0 ? b : c;
    }
    count++;
  };
  for (const ring of pieces(flat, cuts)) cutMonotone(flat, ring, emit);
  // All triangles count as positive: any that was turned over, or lies over another, makes the sum too large.
  let own = 0;
  for (let i = 0, j = n - 1; i < n; j = i++) own += flat[2 * j] * flat[2 * i + 1] - flat[2 * i] * flat[2 * j + 1];
  return whole && count === n - 2 && abs(area - own) <= 1e-9 * abs(own) ? out : undefined;
}

/** Twice the area of a triangle; positive counter-clockwise. */
function orient(p: ArrayLike<number>, a: number, b: number, c: number): number {
  const x = p[2 * a];
  const y = p[2 * a + 1];
  return (p[2 * b] - x) * (p[2 * c + 1] - y) - (p[2 * b + 1] - y) * (p[2 * c] - x);
}

/** Whether the sweep comes to a before b: what is higher, of equals what is more to the left. */
const isAbove = (p: ArrayLike<number>, a: number, b: number): boolean =>
  p[2 * a + 1] > p[2 * b + 1] || (p[2 * a + 1] === p[2 * b + 1] && p[2 * a] < p[2 * b]);

/** Diagonals that part the polygon into pieces none of which turns back upwards; pairs of corners. */
function diagonals(p: ArrayLike<number>): [number, number][] | undefined {
  const n = p.length / 2;
  const order = Uint32Array.from({ length: n }, (_, i) => i);
  order.sort((a, b) => p[2 * b + 1] - p[2 * a + 1] || p[2 * a] - p[2 * b]);
  /** Sides that go down where the sweep is, from left to right; side i goes from corner i to the next. */
  const sides: number[] = [];
  const helper = new Int32Array(n).fill(-1);
  const isMerge = new Uint8Array(n);
  const out: [number, number][] = [];
  const next = (i: number) => (i + 1 < n ? i + 1 : 0);
  /** How many sides are to the left of a corner. */
  const leftOf = (v: number): number => {
    let lo = 0;
    let hi = sides.length;
    while (lo < hi) {
      const mid = (lo + hi) >> 1;
      if (orient(p, sides[mid], next(sides[mid]), v) > 0) lo = mid + 1;
      else hi = mid;
    }
    return lo;
  };
  const close = (side: number, v: number): void => {
    if (isMerge[helper[side]]) out.push([v, helper[side]]);
  };
  const drop = (side: number, v: number): boolean => {
    let i = leftOf(v);
    if (sides[i] !== side) i = sides.indexOf(side);
    if (i < 0) return false;
    sides.splice(i, 1);
    return true;
  };
  const put = (side: number, v: number): void => {
    sides.splice(leftOf(v), 0, side);
    helper[side] = v;
  };
  for (let k = 0; k < n; k++) {
    if ((k & EVERY) === 0) pulse();
    const v = order[k];
    const before = v > 0 ? v - 1 : n - 1;
    const after = next(v);
    const fromAbove = isAbove(p, before, v);
    const toAbove = isAbove(p, after, v);
    const convex = orient(p, before, v, after) > 0;
    if (fromAbove) {
      // The side that comes down to here ends.
      close(before, v);
      if (!drop(before, v)) return undefined;
    }
    const merges = fromAbove && toAbove && !convex;
    if ((!fromAbove && (toAbove || !convex)) || merges) {
      // It lies within, right of a side: a split, a merge, or the right rim of the piece there.
      const i = leftOf(v) - 1;
      if (i < 0) return undefined;
      const side = sides[i];
      if (!fromAbove && !toAbove) out.push([v, helper[side]]);
      else close(side, v);
      helper[side] = v;
      if (merges) isMerge[v] = 1;
    }
    if (!toAbove) put(v, v);
  }
  return out;
}

/** The rings into which diagonals part the polygon, each counter-clockwise. */
function* pieces(p: ArrayLike<number>, cuts: readonly [number, number][]): Generator<number[]> {
  const n = p.length / 2;
  const ways = new Map<number, number[]>();
  const add = (a: number, b: number) => {
    const had = ways.get(a);
    if (had) had.push(b);
    else ways.set(a, [(a + 1) % n, b]);
  };
  for (const [a, b] of cuts) {
    add(a, b);
    add(b, a);
  }
  const angle = (a: number, b: number) => atan2(p[2 * b + 1] - p[2 * a + 1], p[2 * b] - p[2 * a]);
  const doneSide = new Uint8Array(n);
  const doneCut = new Set<number>();
  const isDone = (a: number, b: number) => ((a + 1) % n === b ? doneSide[a] === 1 : doneCut.has(a * n + b));
  const mark = (a: number, b: number) => {
    if ((a + 1) % n === b) doneSide[a] = 1;
    else doneCut.add(a * n + b);
  };
  /** From w, having come from v: the way that is first met turning clockwise from where one came. */
  const goOn = (v: number, w: number): number => {
    const choice = ways.get(w);
    if (!choice) return (w + 1) % n;
    const back = angle(w, v);
    let best = -1;
    let least = Infinity;
    for (const to of choice) {
      if (to === v) continue;
      let turn = back - angle(w, to);
      while (turn <= 0) turn += 2 * PI;
      if (turn < least) [least, best] = [turn, to];
    }
    return best;
  };
  const starts: [number, number][] = [[0, 1], ...cuts, ...cuts.map(([a, b]): [number, number] => [b, a])];
  for (const [a, b] of starts) {
    if (isDone(a, b)) continue;
    const ring: number[] = [];
    let [v, w] = [a, b];
    while (!isDone(v, w) && ring.length <= n) {
      mark(v, w);
      ring.push(v);
      [v, w] = [w, goOn(v, w)];
      if (w < 0) break;
    }
    yield ring;
  }
}

/** A piece that goes down on two sides: what has been passed and is not cut off yet waits on a stack. */
function cutMonotone(
  p: ArrayLike<number>,
  ring: readonly number[],
  emit: (a: number, b: number, c: number) => void,
): void {
  const n = ring.length;
  if (n < 3) return;
  let top = 0;
  for (let i = 1; i < n; i++) if (isAbove(p, ring[i], ring[top])) top = i;
  // Down both sides at once: the left one goes with the ring.
  const order = new Uint32Array(n);
  const left = new Uint8Array(n);
  order[0] = ring[top];
  let i = (top + 1) % n;
  let j = (top + n - 1) % n;
  for (let k = 1; k < n; k++) {
    const fromLeft = k === n - 1 || isAbove(p, ring[i], ring[j]);
    order[k] = fromLeft ? ring[i] : ring[j];
    left[k] = fromLeft ? 1 : 0;
    if (fromLeft) i = (i + 1) % n;
    else j = (j + n - 1) % n;
  }
  const stack: number[] = [0, 1];
  for (let k = 2; k < n - 1; k++) {
    let last = stack.pop()!;
    if (left[k] !== left[last]) {
      const beside = last;
      while (stack.length > 0) {
        const s = stack.pop()!;
        emit(order[k], order[s], order[last]);
        last = s;
      }
      stack.push(beside, k);
      continue;
    }
    while (stack.length > 0) {
      const s = stack[stack.length - 1];
      const turn = orient(p, order[s], order[last], order[k]);
      if (left[k] ? turn <= 0 : turn >= 0) break;
      emit(order[s], order[last], order[k]);
      last = stack.pop()!;
    }
    stack.push(last, k);
  }
  let last = stack.pop()!;
  while (stack.length > 0) {
    const s = stack.pop()!;
    emit(order[n - 1], order[s], order[last]);
    last = s;
  }
}
