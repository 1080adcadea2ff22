/**
 * Curves as chains of cubic Béziers: drawn paths, section circles and ellipses. Points in metres, exact until they are
 * shown.
 */
import { applyPoint, type Affine } from '../math/affine';
import { key2 } from '../math/hash';
import { countedKeys } from '../mesh/keys';

export interface Curves {
  /** 3 per point: for each curve an end point, then two handles and an end point for each piece of it. */
  readonly points: Float32Array;
  /** curves + 1: the first point of each. */
  readonly start: Uint32Array;
  /** 1 where the last point is the first again. */
  readonly closed: Uint8Array;
  /** One lasting key for each point. */
  readonly key: Float64Array;
}

/** How far a quarter circle's handles stand from its ends, for a radius of 1: within 0.03 % of the circle. */
const QUARTER = 0.5522847498307936;

export function curvesFrom(
  list: readonly { points: readonly (readonly [number, number, number])[]; closed: boolean }[],
  seed: number,
): Curves {
  const count = list.reduce((n, c) => n + c.points.length, 0);
  const points = new Float32Array(3 * count);
  const start = new Uint32Array(list.length + 1);
  let n = 0;
  list.forEach((c, i) => {
    for (const p of c.points) {
      points.set(p, 3 * n);
      n++;
    }
    start[i + 1] = n;
  });
  return {
    points,
    start,
    closed: Uint8Array.from(list, (c) => (c.closed ? 1 : 0)),
    key: countedKeys(count, 0, seed).vertexKey(),
  };
}

/**
 * The circle of radius 1 as four cubic Béziers: each point on it followed by two handles, the first point again at the
 * end.
 */
export const UNIT_CIRCLE: readonly (readonly [number, number])[] = [
  [1, 0],
  [1, QUARTER],
  [QUARTER, 1],
  [0, 1],
  [-QUARTER, 1],
  [-1, QUARTER],
  [-1, 0],
  [-1, -QUARTER],
  [-QUARTER, -1],
  [0, -1],
  [QUARTER, -1],
  [1, -QUARTER],
  [1, 0],
];

/** An ellipse around the origin in the plane of x and y, or of the axes asked for. Radii in metres. */
export function ellipse(a: number, b: number, plane: 'xy' | 'xz' | 'yz', seed: number): Curves {
  const onto: Record<typeof plane, (u: number, v: number) => [number, number, number]> = {
    xy: (u, v) => [u, v, 0],
    xz: (u, v) => [u, 0, v],
    yz: (u, v) => [0, v, u],
  };
  const points = UNIT_CIRCLE.map(([u, v]) => onto[plane](u * a, v * b));
  return curvesFrom([{ points, closed: true }], seed);
}

export function transformCurves(c: Curves, m: Affine): Curves {
  const points = c.points.slice();
  for (let i = 0; i < points.length; i += 3) points.set(applyPoint(m, points.subarray(i, i + 3)), i);
  return { ...c, points };
}

/** Several as one. Keys are made anew under a seed; without one they stay. */
export function mergeCurves(parts: readonly { curves: Curves; seed?: number }[]): Curves {
  const points = new Float32Array(parts.reduce((n, p) => n + p.curves.points.length, 0));
  const key = new Float64Array(points.length / 3);
  const start: number[] = [0];
  let n = 0;
  for (const { curves, seed } of parts) {
    points.set(curves.points, 3 * n);
    for (let i = 0; i < curves.key.length; i++)
      key[n + i] = seed === undefined ? curves.key[i] : key2(seed, curves.key[i]);
    for (let i = 1; i < curves.start.length; i++) start.push(n + curves.start[i]);
    n += curves.points.length / 3;
  }
  return {
    points,
    key,
    start: Uint32Array.from(start),
    closed: Uint8Array.from(parts.flatMap((p) => [...p.curves.closed])),
  };
}

/** Mirrored across the plane through the origin, beside what is there. */
export function mirrorCurves(c: Curves, map: Affine, seed: number): Curves {
  return mergeCurves([{ curves: c }, { curves: transformCurves(c, map), seed }]);
}

/** A point of one cubic piece. */
function at(p: Float32Array, o: number, t: number): [number, number, number] {
  const s = 1 - t;
  const a = s * s * s;
  const b = 3 * s * s * t;
  const c = 3 * s * t * t;
  const d = t * t * t;
  return [0, 1, 2].map((k) => a * p[o + k] + b * p[o + 3 + k] + c * p[o + 6 + k] + d * p[o + 9 + k]) as [
    number,
    number,
    number,
  ];
}

/**
 * Straight parts for each cubic piece, so that none is off by more than `tolerance`: from the second differences
 * (Wang's bound).
 */
const parts = (p: Float32Array, o: number, tolerance: number): number => {
  let most = 0;
  for (const q of [0, 3]) {
    let d = 0;
    for (let k = 0; k < 3; k++) d += (p[o + q + k] - 2 * p[o + q + 3 + k] + p[o + q + 6 + k]) ** 2;
    most = Math.max(most, d);
  }
  return Math.min(256, Math.max(1, Math.ceil(Math.sqrt((0.75 * Math.sqrt(most)) / tolerance))));
};

/** Each curve as a polyline within `tolerance` metres of it. */
export function flattenCurves(c: Curves, tolerance: number): [number, number, number][][] {
  const out: [number, number, number][][] = [];
  for (let i = 0; i < c.closed.length; i++) {
    const line: [number, number, number][] = [at(c.points, 3 * c.start[i], 0)];
    for (let q = c.start[i]; q + 3 < c.start[i + 1]; q += 3) {
      const n = parts(c.points, 3 * q, tolerance);
      for (let k = 1; k <= n; k++) line.push(at(c.points, 3 * q, k / n));
    }
    out.push(line);
  }
  return out;
}

/** Total length, metres. */
export function curveLength(c: Curves, tolerance = 1e-5): number {
  let sum = 0;
  for (const line of flattenCurves(c, tolerance))
    for (let i = 1; i < line.length; i++)
      sum += Math.hypot(line[i][0] - line[i - 1][0], line[i][1] - line[i - 1][1], line[i][2] - line[i - 1][2]);
  return sum;
}
