/**
 * Islands made to sit on whole texels: those with right angles get every side on a line between texels, at least one
 * texel from the next; others keep their shape and are as wide and high as whole texels.
 */
import type { Outline } from './cells/outline';

const { abs, atan2, cos, floor, hypot, max, min, PI, round, sin } = Math;

/** Of the length of a rim, so much runs straight up or across where an island has right angles. */
const RIGHT = 0.97;
/** Within so many radians of straight up or across. */
const STRAIGHT = 0.035;
/** Places within so many texels of each other are one line, and within this share of the whole. */
const ONE_LINE = 0.05;
const ONE_SHARE = 0.02;

/**
 * Places in texels, the lower left at a whole texel: `points` as they are in texels, whichever way round they lie, and
 * the outline that they make. Nothing is folded by it: where a face that lies aslant between two lines would be, only
 * the whole is made as wide and high as texels.
 */
export function onTexels(points: Float64Array, triangles: Uint32Array, outline: Outline): Float64Array {
  const rim = outline.rim ?? [];
  const turn = levelling(outline.points, rim);
  const level = turned(points, turn);
  const border = turned(outline.points, turn);
  const right = rightShare(border, rim) >= RIGHT;
  const along = (lines: (axis: number) => Lines, near: number): Float64Array => {
    const out = new Float64Array(level.length);
    for (const axis of [0, 1]) {
      const own = lines(axis);
      for (let v = axis; v < level.length; v += 2) out[v] = between(own, level[v], near);
    }
    return out;
  };
  const straight = right ? along((axis) => linesOf(border, rim, axis), ONE_LINE) : undefined;
  return straight && !folds(triangles, level, straight) ? straight : along((axis) => endsOf(level, axis), 0);
}

/** Whether a triangle lies the other way round than before. */
function folds(triangles: Uint32Array, before: Float64Array, after: Float64Array): boolean {
  const area = (p: Float64Array, t: number): number => {
    const [a, b, c] = [2 * triangles[t], 2 * triangles[t + 1], 2 * triangles[t + 2]];
    return (p[b] - p[a]) * (p[c + 1] - p[a + 1]) - (p[b + 1] - p[a + 1]) * (p[c] - p[a]);
  };
  for (let t = 0; t < triangles.length; t += 3) if (area(before, t) * area(after, t) < 0) return true;
  return false;
}

/** The turn by which most of the rim runs straight up or across (the mean of its ways, four times turned). Radians. */
export function levelling(points: Float64Array, rim: ArrayLike<number>): number {
  let [x, y] = [0, 0];
  for (let i = 0; i < rim.length; i += 2) {
    const [a, b] = [2 * rim[i], 2 * rim[i + 1]];
    const [dx, dy] = [points[b] - points[a], points[b + 1] - points[a + 1]];
    const long = hypot(dx, dy);
    const angle = 4 * atan2(dy, dx);
    // Long sides say more, by their square: of many short ones round a curve none is meant.
    x += long * long * cos(angle);
    y += long * long * sin(angle);
  }
  return x === 0 && y === 0 ? 0 : -atan2(y, x) / 4;
}

function turned(points: Float64Array, turn: number): Float64Array {
  if (abs(turn) < 1e-9) return points;
  const [c, s] = [cos(turn), sin(turn)];
  const out = new Float64Array(points.length);
  for (let v = 0; v < points.length; v += 2) {
    out[v] = points[v] * c - points[v + 1] * s;
    out[v + 1] = points[v] * s + points[v + 1] * c;
  }
  return out;
}

/** Share of the rim's length that runs straight up or across. */
function rightShare(points: Float64Array, rim: ArrayLike<number>): number {
  let all = 0;
  let right = 0;
  for (let i = 0; i < rim.length; i += 2) {
    const [a, b] = [2 * rim[i], 2 * rim[i + 1]];
    const long = hypot(points[b] - points[a], points[b + 1] - points[a + 1]);
    const angle = atan2(points[b + 1] - points[a + 1], points[b] - points[a]);
    const off = abs(angle - (round(angle / (PI / 2)) * PI) / 2);
    all += long;
    if (off < STRAIGHT) right += long;
  }
  return all > 0 ? right / all : 0;
}

interface Lines {
  from: number[];
  to: number[];
}

/** Where sides run along an axis, and the whole texels that these go to: in order, none on another. */
function linesOf(points: Float64Array, rim: ArrayLike<number>, axis: number): Lines {
  const at: number[] = [];
  for (let i = 0; i < rim.length; i++) at.push(points[2 * rim[i] + axis]);
  at.sort((a, b) => a - b);
  const from: number[] = [];
  const near = min(ONE_LINE, ONE_SHARE * (at[at.length - 1] - at[0]));
  for (let i = 0; i < at.length;) {
    let j = i;
    let sum = 0;
    while (j < at.length && at[j] - at[i] <= near) sum += at[j++];
    from.push(sum / (j - i));
    i = j;
  }
  return { from, to: wholes(from) };
}

function endsOf(points: Float64Array, axis: number): Lines {
  let [lo, hi] = [Infinity, -Infinity];
  for (let v = axis; v < points.length; v += 2) {
    lo = min(lo, points[v]);
    hi = max(hi, points[v]);
  }
  return hi > lo ? { from: [lo, hi], to: wholes([lo, hi]) } : { from: [lo], to: [0] };
}

const wholes = (from: readonly number[]): number[] => {
  const to = [0];
  for (let i = 1; i < from.length; i++) to.push(max(to[i - 1] + 1, round(from[i] - from[0])));
  return to;
};

/** A place on the way from one line to the next; on a line what is as near as that to it. */
function between({ from, to }: Lines, x: number, most: number): number {
  const n = from.length;
  if (n < 2) return to[0];
  let [lo, hi] = [0, n - 1];
  while (hi - lo > 1) {
    const mid = floor((lo + hi) / 2);
    if (from[mid] <= x) lo = mid;
    else hi = mid;
  }
  const share = (x - from[lo]) / (from[hi] - from[lo]);
  const near = min(most, ONE_SHARE * (from[n - 1] - from[0]));
  if (x - from[lo] <= near) return to[lo];
  if (from[hi] - x <= near) return to[hi];
  return to[lo] + share * (to[hi] - to[lo]);
}
