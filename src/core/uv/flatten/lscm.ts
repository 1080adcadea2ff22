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
import { EVERY, pulse } from '../../math/pulse';
import { factorHermitian, HermitianBuilder } from '../../math/hermitian';
import { eliminationOrder, orderOfSome } from './elimination';

const { hypot, max, min, sqrt } = Math;

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
  const angles = cotangentsOf(points, triangles);
  const pins = free ? farPins(points, withAngles(n, triangles, angles), input.pins) : input.pins!;
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
  const draw = (i: number, j: number, w: number) => {
    const a = index[i];
    const b = index[j];
    if (a >= 0 && b >= 0) matrix.add(a, b, w, 0);
    else if (a >= 0) {
      br[a] -= w * pinU[j];
      bm[a] -= w * pinV[j];
    } else if (b >= 0) {
      br[b] -= w * pinU[i];
      bm[b] -= w * pinV[i];
    }
  };
  /** A triangle without area has no angles: its third corner is to lie on its longest side, where it does. */
  const lineUp = (i: number, j: number, k: number) => {
    const [a, b, c] = byLongest(points, i, j, k);
    const at = along(points, a, b, c);
    const [p, q] = [at - 1, -at];
    const own: [number, number][] = [
      [a, p * p],
      [b, q * q],
      [c, 1],
    ];
    for (const [v, w] of own) if (index[v] >= 0) matrix.diagonal[index[v]] += w;
    draw(a, b, p * q);
    draw(a, c, p);
    draw(b, c, q);
    // What hangs on nothing else stays with it.
    for (const [v, w] of [
      [a, b],
      [b, c],
      [c, a],
    ]) {
      if (index[v] >= 0) matrix.diagonal[index[v]] += LITTLE;
      if (index[w] >= 0) matrix.diagonal[index[w]] += LITTLE;
      draw(v, w, -LITTLE);
    }
  };
  for (let t = 0; t < triangles.length; t += 3) {
    const i = triangles[t];
    const j = triangles[t + 1];
    const k = triangles[t + 2];
    if (Number.isNaN(angles[t])) {
      lineUp(i, j, k);
      continue;
    }
    add(i, j, angles[t + 2] / 4);
    add(j, k, angles[t] / 4);
    add(k, i, angles[t + 1] / 4);
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

const LITTLE = 1e-10;

/** Cotangents at all corners; NaN, all three, where a triangle has no area. */
export function cotangentsOf(points: Float64Array, triangles: Uint32Array): Float64Array {
  const out = new Float64Array(triangles.length);
  for (let t = 0; t < triangles.length; t += 3) {
    const [a, b, c] = cotangents(points, triangles[t], triangles[t + 1], triangles[t + 2]);
    if (Number.isNaN(a + b + c)) out.fill(NaN, t, t + 3);
    else {
      out[t] = a;
      out[t + 1] = b;
      out[t + 2] = c;
    }
  }
  return out;
}

/** Vertices with an angle somewhere; all of them where none has one. */
function withAngles(n: number, triangles: Uint32Array, angles: Float64Array): Uint8Array {
  const out = new Uint8Array(n);
  for (let k = 0; k < triangles.length; k++) if (!Number.isNaN(angles[k])) out[triangles[k]] = 1;
  return out.includes(1) ? out : out.fill(1);
}

/** The corners of a triangle, those of its longest side first. */
export function byLongest(p: Float64Array, i: number, j: number, k: number): [number, number, number] {
  const long = (a: number, b: number): number =>
    (p[3 * a] - p[3 * b]) ** 2 + (p[3 * a + 1] - p[3 * b + 1]) ** 2 + (p[3 * a + 2] - p[3 * b + 2]) ** 2;
  const [ij, jk, ki] = [long(i, j), long(j, k), long(k, i)];
  if (ij >= jk && ij >= ki) return [i, j, k];
  return jk >= ki ? [j, k, i] : [k, i, j];
}

/** How far along from a to b the nearest place to c is; half way where these are one place. */
export function along(p: Float64Array, a: number, b: number, c: number): number {
  let [dot, all] = [0, 0];
  for (let q = 0; q < 3; q++) {
    const x = p[3 * b + q] - p[3 * a + q];
    dot += x * (p[3 * c + q] - p[3 * a + q]);
    all += x * x;
  }
  return all > 0 ? max(0, min(1, dot / all)) : 0.5;
}

/** Cotangents at i, j, k; NaN for a triangle without area. */
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
  return [a, b, c];
}

function farPins(
  points: Float64Array,
  may: Uint8Array,
  given?: ReadonlyMap<number, readonly [number, number]>,
): Map<number, readonly [number, number]> {
  const far = (from: number) => {
    let best = from;
    let most = -1;
    for (let v = 0; v < may.length; v++) {
      if ((v & EVERY) === 0) pulse();
      if (may[v] === 0) continue;
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
  const a = held ? held[0] : far(max(0, may.indexOf(1)))[0];
  const [b, length] = far(a);
  const [u, v] = held ? held[1] : [0, 0];
  return new Map([
    [a, [u, v]],
    [b, [u + (length || 1), v]],
  ]);
}
