/**
 * Boundary first flattening with an even rim (Sawhney & Crane 2017): of all conformal maps of a disc the one whose rim
 * keeps its lengths, which is the one with the least differences of scale. What a least-squares map with two pins
 * draws a hundred times larger here than there comes to as much as its curvature asks for.
 */
import { cos, sin } from '../../math/exact';
import { factorHermitian, HermitianBuilder } from '../../math/hermitian';
import { eliminationOrder, orderOfSome } from './elimination';
import { anglesRound } from './flatness';
import { along, byLongest, cotangentsOf } from './lscm';
import type { Patch } from './patch';

const { abs, hypot, PI } = Math;

/** What is held with this stays where it is held, against the weights of angles. */
const FIRM = 1e7;
const LITTLE = 1e-9;

/** 2 per vertex, in metres; undefined for what is no disc, and where the system is singular. */
export function withEvenRim(patch: Patch): Float64Array | undefined {
  const { points, triangles, rim } = patch;
  const n = points.length / 3;
  if (patch.borders !== 1 || patch.euler !== 1) return undefined;
  const ring = ringOf(rim);
  if (!ring) return undefined;
  const index = new Int32Array(n).fill(-2);
  for (const v of ring) index[v] = -1;
  let m = 0;
  for (let v = 0; v < n; v++) if (index[v] === -2) index[v] = m++;
  const out = new Float64Array(2 * n);
  const cot = cotangentsOf(points, triangles);
  const each = (of: (a: number, b: number, w: number) => void): void => {
    for (let t = 0; t < triangles.length; t += 3) {
      const [i, j, k] = [triangles[t], triangles[t + 1], triangles[t + 2]];
      if (Number.isNaN(cot[t])) {
        linedUp(points, i, j, k, of);
        continue;
      }
      of(j, k, cot[t] / 2);
      of(k, i, cot[t + 1] / 2);
      of(i, j, cot[t + 2] / 2);
    }
  };
  const angle = anglesRound(points, triangles);
  // What is turned at each place of the rim, were it flat: its own turn, and what the curvature within sends there.
  const turns = new Float64Array(n);
  for (const v of ring) turns[v] = PI - angle[v];
  let factor: ReturnType<typeof factorHermitian>;
  if (m > 0) {
    const matrix = new HermitianBuilder(m, triangles.length);
    each((a, b, w) => {
      const [i, j] = [index[a], index[b]];
      if (i >= 0) matrix.diagonal[i] += w;
      if (j >= 0) matrix.diagonal[j] += w;
      if (i >= 0 && j >= 0) matrix.add(i, j, -w, 0);
    });
    factor = factorHermitian(matrix, orderOfSome(eliminationOrder(points, triangles), index));
    if (!factor) return undefined;
    const u = new Float64Array(m);
    for (let v = 0; v < n; v++) if (index[v] >= 0) u[index[v]] = angle[v] - 2 * PI;
    factor.solve(u, new Float64Array(m));
    each((a, b, w) => {
      const [i, j] = [index[a], index[b]];
      if (i >= 0 && j < 0) turns[b] -= w * u[i];
      if (j >= 0 && i < 0) turns[a] -= w * u[j];
    });
  }
  if (!laidRound(ring, points, turns, out)) return undefined;
  if (factor) {
    const [x, y] = [new Float64Array(m), new Float64Array(m)];
    each((a, b, w) => {
      const [i, j] = [index[a], index[b]];
      if (i >= 0 && j < 0) {
        x[i] += w * out[2 * b];
        y[i] += w * out[2 * b + 1];
      }
      if (j >= 0 && i < 0) {
        x[j] += w * out[2 * a];
        y[j] += w * out[2 * a + 1];
      }
    });
    factor.solve(x, y);
    for (let v = 0; v < n; v++)
      if (index[v] >= 0) {
        out[2 * v] = x[index[v]];
        out[2 * v + 1] = y[index[v]];
      }
  }
  return out.every(Number.isFinite) ? out : undefined;
}

/** A triangle without area has no angles: its third corner is to lie on its longest side, where it does. */
function linedUp(
  points: Float64Array,
  i: number,
  j: number,
  k: number,
  of: (a: number, b: number, w: number) => void,
): void {
  const [a, b, c] = byLongest(points, i, j, k);
  const at = along(points, a, b, c);
  of(a, b, FIRM * (1 - at) * -at + LITTLE);
  of(a, c, FIRM * (1 - at) + LITTLE);
  of(b, c, FIRM * at + LITTLE);
}

/** The vertices of a rim in order; undefined where it is not one ring. */
export function ringOf(rim: Uint32Array): number[] | undefined {
  const next = new Map<number, number>();
  for (let i = 0; i < rim.length; i += 2) next.set(rim[i], rim[i + 1]);
  if (next.size !== rim.length / 2 || next.size < 3) return undefined;
  const ring: number[] = [];
  for (let v = rim[0]; ring.length < next.size;) {
    ring.push(v);
    const to = next.get(v);
    if (to === undefined) return undefined;
    v = to;
  }
  return new Set(ring).size === ring.length ? ring : undefined;
}

/** A closed line with these turns, and sides as long as may be as they are. */
function laidRound(ring: readonly number[], points: Float64Array, turns: Float64Array, out: Float64Array): boolean {
  const many = ring.length;
  const long = new Float64Array(many);
  const [wx, wy] = [new Float64Array(many), new Float64Array(many)];
  let way = 0;
  for (let i = 0; i < many; i++) {
    const [a, b] = [3 * ring[i], 3 * ring[(i + 1) % many]];
    long[i] = hypot(points[a] - points[b], points[a + 1] - points[b + 1], points[a + 2] - points[b + 2]);
    if (i > 0) way += turns[ring[i]];
    wx[i] = cos(way);
    wy[i] = sin(way);
  }
  // Sides are lengthened and shortened by shares of their length, as little as closes the line.
  let [xx, xy, yy, x, y] = [0, 0, 0, 0, 0];
  for (let i = 0; i < many; i++) {
    xx += long[i] * wx[i] * wx[i];
    xy += long[i] * wx[i] * wy[i];
    yy += long[i] * wy[i] * wy[i];
    x += long[i] * wx[i];
    y += long[i] * wy[i];
  }
  const det = xx * yy - xy * xy;
  if (!(abs(det) > 0)) return false;
  const [p, q] = [(yy * x - xy * y) / det, (xx * y - xy * x) / det];
  let [atX, atY] = [0, 0];
  for (let i = 0; i < many; i++) {
    out[2 * ring[i]] = atX;
    out[2 * ring[i] + 1] = atY;
    const own = long[i] * (1 - wx[i] * p - wy[i] * q);
    if (!(own >= 0)) return false;
    atX += own * wx[i];
    atY += own * wy[i];
  }
  return true;
}
