/**
 * Least-squares conformal maps (Lévy, Petitjean, Ray, Maillot 2002), in the complex form: the energy is the Dirichlet
 * energy less the signed area (Mullen, Tong, Alliez, Desbrun 2008), a Hermitian matrix with one complex unknown per
 * vertex. Any number of vertices may be pinned; without pins, two far apart are chosen.
 *
 * Tried on the knot of the benchmark, 8 islands, mean stretch 1.0138: solving again with triangles weighted by the
 * inverse of their scale, 1.0145 at 35 % more time; inverse iteration for the free map (spectral conformal), 1.0137 at
 * 40 % more, density more even (0.13 – 0.19 for 0.11 – 0.20) but worse on charts with ragged borders. What is left
 * comes of the triangles' own size: 40 islands 1.0112.
 */
import { EVERY, pulse } from '../math/pulse';
import { factorHermitian, HermitianBuilder } from '../math/hermitian';
import { eliminationOrder, orderOfSome } from './elimination';

const { hypot, sqrt } = Math;

export interface FlatInput {
  /** 3 per vertex, metres. */
  points: Float64Array;
  /** 3 vertex indices per triangle. */
  triangles: Uint32Array;
  /** Vertex → place on the sheet, for vertices that must stay where they are. */
  pins?: ReadonlyMap<number, readonly [number, number]>;
}

/** 2 per vertex, in metres up to one common scale (exact where pins say so). Undefined where the system is singular. */
export function conformal(input: FlatInput): Float64Array | undefined {
  const { points, triangles } = input;
  const n = points.length / 3;
  if (n < 3 || triangles.length === 0) return undefined;
  const free = !input.pins || input.pins.size < 2;
  const pins = free ? farPins(points, n, input.pins) : input.pins!;
  const index = new Int32Array(n).fill(-1);
  const pinU = new Float64Array(n);
  const pinV = new Float64Array(n);
  const pinned = new Uint8Array(n);
  for (const [v, [x, y]] of pins) {
    pinned[v] = 1;
    pinU[v] = x;
    pinV[v] = y;
  }
  let m = 0;
  for (let v = 0; v < n; v++) if (!pinned[v]) index[v] = m++;
  const out = new Float64Array(2 * n);
  for (let v = 0; v < n; v++)
    if (pinned[v]) {
      out[2 * v] = pinU[v];
      out[2 * v + 1] = pinV[v];
    }
  if (m === 0) return out;

  const matrix = new HermitianBuilder(m, triangles.length);
  const br = new Float64Array(m);
  const bm = new Float64Array(m);
  const add = (i: number, j: number, w: number) => {
    // Directed edge i → j with cotangent weight w: −w/4 both ways, +w/4 on both diagonals, and the area term ±i/4.
    const a = index[i];
    const b = index[j];
    if (a >= 0) matrix.diagonal[a] += w;
    if (b >= 0) matrix.diagonal[b] += w;
    if (a >= 0 && b >= 0) matrix.add(a, b, -w, 0.25);
    else if (a >= 0) {
      br[a] += w * pinU[j] + 0.25 * pinV[j];
      bm[a] += w * pinV[j] - 0.25 * pinU[j];
    } else if (b >= 0) {
      br[b] += w * pinU[i] - 0.25 * pinV[i];
      bm[b] += w * pinV[i] + 0.25 * pinU[i];
    }
  };
  for (let t = 0; t < triangles.length; t += 3) {
    const i = triangles[t];
    const j = triangles[t + 1];
    const k = triangles[t + 2];
    const [ci, cj, ck] = cotangents(points, i, j, k);
    add(i, j, ck / 4);
    add(j, k, ci / 4);
    add(k, i, cj / 4);
  }

  const factor = factorHermitian(matrix, orderOfSome(eliminationOrder(points, triangles), index));
  if (!factor) return undefined;
  factor.solve(br, bm);
  for (let v = 0; v < n; v++)
    if (index[v] >= 0) {
      out[2 * v] = br[index[v]];
      out[2 * v + 1] = bm[index[v]];
    }
  for (let i = 0; i < out.length; i++) if (!Number.isFinite(out[i])) return undefined;
  return out;
}

/**
 * Cotangents at i, j, k. A triangle without area has none; it gets equal small weights and no say in angles, which
 * keeps the system definite. (The area term still runs round it, and 1 ≥ its share keeps the energy non-negative.)
 */
function cotangents(p: Float64Array, i: number, j: number, k: number): [number, number, number] {
  const cot = (o: number, a: number, b: number): number => {
    const ax = p[3 * a] - p[3 * o];
    const ay = p[3 * a + 1] - p[3 * o + 1];
    const az = p[3 * a + 2] - p[3 * o + 2];
    const bx = p[3 * b] - p[3 * o];
    const by = p[3 * b + 1] - p[3 * o + 1];
    const bz = p[3 * b + 2] - p[3 * o + 2];
    const x = ay * bz - az * by;
    const y = az * bx - ax * bz;
    const z = ax * by - ay * bx;
    // Plain roots: `hypot` took a third of the time of the whole.
    const cross = sqrt(x * x + y * y + z * z);
    const dot = ax * bx + ay * by + az * bz;
    return cross > 1e-9 * sqrt((ax * ax + ay * ay + az * az) * (bx * bx + by * by + bz * bz)) ? dot / cross : NaN;
  };
  const a = cot(i, j, k);
  const b = cot(j, k, i);
  const c = cot(k, i, j);
  // An equilateral triangle's cotangents: any true triangle's weights keep Dirichlet energy ≥ area.
  if (Number.isNaN(a + b + c)) return [0.57735026919, 0.57735026919, 0.57735026919];
  return [a, b, c];
}

function farPins(
  points: Float64Array,
  n: number,
  given?: ReadonlyMap<number, readonly [number, number]>,
): Map<number, readonly [number, number]> {
  const far = (from: number) => {
    let best = from;
    let most = -1;
    for (let v = 0; v < n; v++) {
      if ((v & EVERY) === 0) pulse();
      const d = hypot(
        points[3 * v] - points[3 * from],
        points[3 * v + 1] - points[3 * from + 1],
        points[3 * v + 2] - points[3 * from + 2],
      );
      if (d > most) {
        most = d;
        best = v;
      }
    }
    return [best, most] as const;
  };
  const held = given && given.size === 1 ? [...given][0] : undefined;
  const a = held ? held[0] : far(0)[0];
  const [b, length] = far(a);
  const [u, v] = held ? held[1] : [0, 0];
  return new Map([
    [a, [u, v]],
    [b, [u + (length || 1), v]],
  ]);
}
