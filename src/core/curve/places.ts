/**
 * Curves cut into more pieces, and moved place by place: each cubic piece is asked at its ends and at its thirds, and
 * goes through where these come to be.
 */
import { type Curves } from './curves';
import { countedKeys } from '../mesh/keys';

/** The same curves with each of their cubic pieces cut into so many of equal share (de Casteljau). */
export function cutPieces(c: Curves, times: number, seed: number): Curves {
  if (times < 2) return c;
  const points: number[] = [];
  const start = [0];
  for (let i = 0; i < c.closed.length; i++) {
    const first = c.start[i];
    if (first < c.start[i + 1]) points.push(...c.points.subarray(3 * first, 3 * first + 3));
    for (let q = first; q + 3 < c.start[i + 1]; q += 3) {
      let rest = Array.from(c.points.subarray(3 * q, 3 * q + 12));
      for (let k = times; k > 1; k--) {
        const [head, tail] = halves(rest, 1 / k);
        points.push(...head.slice(3));
        rest = tail;
      }
      points.push(...rest.slice(3));
    }
    start.push(points.length / 3);
  }
  const key = countedKeys(points.length / 3, 0, seed).vertexKey();
  return { points: Float32Array.from(points), start: Uint32Array.from(start), closed: c.closed.slice(), key };
}

/** One cubic piece (12 numbers) in two, at a share of it. */
function halves(p: readonly number[], t: number): [number[], number[]] {
  const mix = (a: readonly number[], b: readonly number[]): number[] => a.map((x, k) => x + (b[k] - x) * t);
  const [a, b, c, d] = [0, 3, 6, 9].map((o) => p.slice(o, o + 3));
  const [ab, bc, cd] = [mix(a, b), mix(b, c), mix(c, d)];
  const [abc, bcd] = [mix(ab, bc), mix(bc, cd)];
  const middle = mix(abc, bcd);
  return [
    [...a, ...ab, ...abc, ...middle],
    [...middle, ...bcd, ...cd, ...d],
  ];
}

/** A place on a curve that a formula is asked at. */
export interface PlaceOnCurve {
  /** Metres. */
  at: number[];
  /** The way the curve goes there, 1 long. */
  way: number[];
  /** How far along its curve, 0 to 1 by length, and how long that is, metres. */
  along: number;
  length: number;
  /** Which of the curves, from 0. */
  curve: number;
  closed: boolean;
}

const THIRDS = [0, 1 / 3, 2 / 3, 1];

/** As many as there are points: for each piece its beginning and its thirds, and the end of the last. */
export function placesOn(c: Curves): PlaceOnCurve[] {
  const out: PlaceOnCurve[] = [];
  for (let i = 0; i < c.closed.length; i++) {
    const own: PlaceOnCurve[] = [];
    let length = 0;
    const put = (q: number, t: number): void => {
      own.push({ ...onPiece(c.points, 3 * q, t), along: length, length: 0, curve: i, closed: c.closed[i] === 1 });
    };
    for (let q = c.start[i]; q + 3 < c.start[i + 1]; q += 3) {
      if (q === c.start[i]) put(q, 0);
      for (let k = 1; k < 4; k++) {
        length += lengthOf(c.points, 3 * q, THIRDS[k - 1], THIRDS[k]);
        put(q, THIRDS[k]);
      }
    }
    for (const p of own) {
      p.along = length > 0 ? p.along / length : 0;
      p.length = length;
    }
    out.push(...own);
  }
  return out;
}

/**
 * Curves through places that were moved: `by` has 3 for each of them. Each piece is the one cubic through its ends and
 * its thirds.
 */
export function throughPlaces(c: Curves, places: readonly PlaceOnCurve[], by: ArrayLike<number>): Curves {
  const points = c.points.slice();
  const to = (i: number, k: number): number => places[i].at[k] + by[3 * i + k];
  let n = 0;
  for (let i = 0; i < c.closed.length; i++) {
    const first = c.start[i];
    if (c.start[i + 1] - first < 4) continue;
    for (let k = 0; k < 3; k++) points[3 * first + k] = to(n, k);
    for (let q = first; q + 3 < c.start[i + 1]; q += 3, n += 3)
      for (let k = 0; k < 3; k++) {
        const [a, b, d, e] = [to(n, k), to(n + 1, k), to(n + 2, k), to(n + 3, k)];
        points[3 * (q + 1) + k] = (-5 * a + 18 * b - 9 * d + 2 * e) / 6;
        points[3 * (q + 2) + k] = (2 * a - 9 * b + 18 * d - 5 * e) / 6;
        points[3 * (q + 3) + k] = e;
      }
    n++;
    // What closes comes back to where it began, whatever a formula says of its end.
    if (c.closed[i]) for (let k = 0; k < 3; k++) points[3 * (c.start[i + 1] - 1) + k] = points[3 * first + k];
  }
  return { ...c, points };
}

function onPiece(p: Float32Array, o: number, t: number): { at: number[]; way: number[] } {
  const s = 1 - t;
  const at = [0, 1, 2].map(
    (k) =>
      s * s * s * p[o + k] + 3 * s * s * t * p[o + 3 + k] + 3 * s * t * t * p[o + 6 + k] + t * t * t * p[o + 9 + k],
  );
  const rate = [0, 1, 2].map(
    (k) =>
      s * s * (p[o + 3 + k] - p[o + k]) +
      2 * s * t * (p[o + 6 + k] - p[o + 3 + k]) +
      t * t * (p[o + 9 + k] - p[o + 6 + k]),
  );
  // A handle that lies on its end says nothing: the way from end to end does.
  const way = Math.hypot(...rate) > 1e-12 ? rate : [0, 1, 2].map((k) => p[o + 9 + k] - p[o + k]);
  const long = Math.hypot(...way) || 1;
  return { at, way: way.map((x) => x / long) };
}

/** Of a part of a piece, by Gauss's rule of five places. */
const GAUSS: readonly (readonly [number, number])[] = [
  [-0.906179845938664, 0.236926885056189],
  [-0.538469310105683, 0.478628670499366],
  [0, 0.568888888888889],
  [0.538469310105683, 0.478628670499366],
  [0.906179845938664, 0.236926885056189],
];

function lengthOf(p: Float32Array, o: number, from: number, to: number): number {
  let sum = 0;
  for (const [x, w] of GAUSS) {
    const t = from + ((x + 1) / 2) * (to - from);
    const s = 1 - t;
    let square = 0;
    for (let k = 0; k < 3; k++) {
      const rate =
        s * s * (p[o + 3 + k] - p[o + k]) +
        2 * s * t * (p[o + 6 + k] - p[o + 3 + k]) +
        t * t * (p[o + 9 + k] - p[o + 6 + k]);
      square += (3 * rate) ** 2;
    }
    sum += w * Math.sqrt(square);
  }
  return (sum * (to - from)) / 2;
}
