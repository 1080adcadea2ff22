/**
 * Lengths and angles made even without a flip: the symmetric Dirichlet energy (Smith & Schaefer 2015), its gradient
 * carried through a fixed Laplacian (Kovalsky, Galun & Lipman, Accelerated Quadratic Proxy, 2016) that is factored
 * once, and a line search that stops before any triangle turns over. It begins where nothing is flipped and never flips
 * anything.
 */
import { cos, sin } from '../../math/exact';
import { pulse } from '../../math/pulse';
import { factorHermitian, HermitianBuilder, type Factor } from '../../math/hermitian';
import { eliminationOrder, orderOfSome } from './elimination';
import { ringOf } from './evenrim';
import type { Patch } from './patch';
import { drawnBy, type Rest } from './flatness';

const { abs, max, min, sqrt } = Math;

/** Cotangent weights within these: what is thinner gets no larger say, and none below 0. */
const LEAST = 0.02;
const MOST = 20;

/** Every side of every triangle with its weight, no less than `least`: above 0, where that is not said. */
export function weigh(
  triangles: Uint32Array,
  rest: Rest,
  side: (a: number, b: number, w: number) => void,
  least = LEAST,
): void {
  const add = (a: number, b: number, w: number): void => side(a, b, min(MOST, max(least, w)));
  for (let i = 0; i < triangles.length / 3; i++) {
    const [a, b, c] = [triangles[3 * i], triangles[3 * i + 1], triangles[3 * i + 2]];
    const [l, g, h] = [rest.l[i], rest.g[i], rest.h[i]];
    if (!(rest.area[i] > 0)) {
      add(a, b, 0.3);
      add(b, c, 0.3);
      add(c, a, 0.3);
      continue;
    }
    // Halves of the cotangents at the corners, each over the side across from it.
    add(b, c, g / h / 2);
    add(c, a, (l - g) / h / 2);
    add(a, b, (h - (g * (l - g)) / h) / l / 2);
  }
}

/** The Laplacian of a patch, of some of its vertices or all, factored; undefined where it cannot be. */
function laplacian({ points, triangles }: Patch, rest: Rest, free?: Uint32Array): Factor | undefined {
  const all = points.length / 3;
  const n = free?.length ?? all;
  if (n === 0) return undefined;
  const m = new HermitianBuilder(n, triangles.length);
  const index = free && new Int32Array(all).fill(-1);
  if (index) free.forEach((v, i) => (index[v] = i));
  weigh(triangles, rest, (a, b, w) => {
    const [i, j] = index ? [index[a], index[b]] : [a, b];
    if (i >= 0) m.diagonal[i] += w;
    if (j >= 0) m.diagonal[j] += w;
    if (i >= 0 && j >= 0) m.add(i, j, -w, 0);
  });
  // All may be moved alike: a little is held of each, so that there is one answer.
  for (let v = 0; v < n; v++) m.diagonal[v] += 1e-5;
  const order = eliminationOrder(points, triangles);
  return factorHermitian(m, index ? orderOfSome(order, index) : order);
}

/**
 * The energy of a map, 4 per unit of area where nothing is stretched; infinite where something is flipped. `lengths`:
 * how much of it is of lengths and angles (symmetric Dirichlet) and not of angles alone (MIPS, Hormann & Greiner 2000).
 */
function energy(triangles: Uint32Array, rest: Rest, uv: Float64Array, lengths: number): number {
  let sum = 0;
  for (let i = 0; i < triangles.length / 3; i++) {
    const w = rest.area[i];
    if (!(w > 0)) continue;
    const a = 2 * triangles[3 * i];
    const b = 2 * triangles[3 * i + 1];
    const c = 2 * triangles[3 * i + 2];
    const m00 = (uv[b] - uv[a]) / rest.l[i];
    const m10 = (uv[b + 1] - uv[a + 1]) / rest.l[i];
    const m01 = (uv[c] - uv[a] - m00 * rest.g[i]) / rest.h[i];
    const m11 = (uv[c + 1] - uv[a + 1] - m10 * rest.g[i]) / rest.h[i];
    const det = m00 * m11 - m01 * m10;
    if (!(det > 0)) return Infinity;
    const q = m00 * m00 + m10 * m10 + m01 * m01 + m11 * m11;
    sum += w * q * (lengths * (1 + 1 / (det * det)) + ((1 - lengths) * 2) / det);
  }
  return sum;
}

/** Minus its gradient, into x and y. */
function descent(
  triangles: Uint32Array,
  rest: Rest,
  uv: Float64Array,
  lengths: number,
  x: Float64Array,
  y: Float64Array,
): void {
  x.fill(0);
  y.fill(0);
  for (let i = 0; i < triangles.length / 3; i++) {
    const w = rest.area[i];
    if (!(w > 0)) continue;
    const [va, vb, vc] = [triangles[3 * i], triangles[3 * i + 1], triangles[3 * i + 2]];
    const [a, b, c] = [2 * va, 2 * vb, 2 * vc];
    const [l, g, h] = [rest.l[i], rest.g[i], rest.h[i]];
    const m00 = (uv[b] - uv[a]) / l;
    const m10 = (uv[b + 1] - uv[a + 1]) / l;
    const m01 = (uv[c] - uv[a] - m00 * g) / h;
    const m11 = (uv[c + 1] - uv[a + 1] - m10 * g) / h;
    const det = m00 * m11 - m01 * m10;
    const q = m00 * m00 + m10 * m10 + m01 * m01 + m11 * m11;
    const angles = (2 - 2 * lengths) / det;
    const k = 2 * (lengths * (1 + 1 / (det * det)) + angles);
    const r = (q / det) * ((2 * lengths) / (det * det) + angles);
    const p00 = w * (k * m00 - r * m11);
    const p01 = w * (k * m01 + r * m10);
    const p10 = w * (k * m10 + r * m01);
    const p11 = w * (k * m11 - r * m00);
    // How the columns go with the second and the third corner; the first takes the rest.
    const xb = p00 / l - (p01 * g) / (h * l);
    const yb = p10 / l - (p11 * g) / (h * l);
    const xc = p01 / h;
    const yc = p11 / h;
    x[vb] -= xb;
    y[vb] -= yb;
    x[vc] -= xc;
    y[vc] -= yc;
    x[va] += xb + xc;
    y[va] += yb + yc;
  }
}

/** How far along a step the first triangle would lose its area. */
function farthest(triangles: Uint32Array, uv: Float64Array, x: Float64Array, y: Float64Array): number {
  let most = Infinity;
  for (let i = 0; i < triangles.length; i += 3) {
    const [a, b, c] = [triangles[i], triangles[i + 1], triangles[i + 2]];
    const [u1, v1] = [uv[2 * b] - uv[2 * a], uv[2 * b + 1] - uv[2 * a + 1]];
    const [u2, v2] = [uv[2 * c] - uv[2 * a], uv[2 * c + 1] - uv[2 * a + 1]];
    const [s1, t1, s2, t2] = [x[b] - x[a], y[b] - y[a], x[c] - x[a], y[c] - y[a]];
    const c0 = u1 * v2 - v1 * u2;
    if (!(c0 > 0)) continue;
    const c1 = u1 * t2 + s1 * v2 - v1 * s2 - t1 * u2;
    const c2 = s1 * t2 - t1 * s2;
    const root = firstRoot(c2, c1, c0);
    if (root < most) most = root;
  }
  return most;
}

/** The least root above 0 of c2 t² + c1 t + c0 with c0 > 0. */
function firstRoot(c2: number, c1: number, c0: number): number {
  if (abs(c2) < 1e-14 * (abs(c1) + c0)) return c1 < 0 ? -c0 / c1 : Infinity;
  const d = c1 * c1 - 4 * c2 * c0;
  if (d < 0) return Infinity;
  const q = -0.5 * (c1 + (c1 < 0 ? -1 : 1) * sqrt(d));
  const [r1, r2] = [q / c2, q === 0 ? Infinity : c0 / q];
  const [a, b] = [min(r1, r2), max(r1, r2)];
  if (a > 0) return a;
  return b > 0 ? b : Infinity;
}

const HALVINGS = 20;

/**
 * Betters a map without flips, in place, until `enough` says so after a round, or rounds are used up, or next to
 * nothing (`little`, of the energy, in two rounds) is gained. The map is brought to the scale of the surface first.
 * Answers what to go on with: the same, with some triangles having more to say than their area. Undefined where nothing
 * can be done.
 */
export function refine(
  patch: Patch,
  rest: Rest,
  uv: Float64Array,
  rounds: number,
  enough: (round: number) => boolean,
  { lengths = 1, little = 2e-6 }: { lengths?: number; little?: number } = {},
): ((heavier: Rest, more: number) => void) | undefined {
  const factor = laplacian(patch, rest);
  if (!factor) return undefined;
  const go = (of: Rest, many: number): void => {
    toScale(patch.triangles, rest, uv);
    const relaxing = new Relaxing(patch, of, uv, { factor, lengths });
    let before = Infinity;
    for (let round = 1; round <= many; round++) {
      const gained = relaxing.round();
      if (gained === undefined || enough(round) || gained + before < little) return;
      before = gained;
    }
  };
  go(rest, rounds);
  return go;
}

interface RelaxingOptions {
  /** Of the patch's Laplacian, where there is one already and nothing is held. */
  factor?: Factor;
  /** Vertices that stay where they are. */
  held?: Uint8Array;
  /** 1 keeps lengths, 0 angles; between them something of both. */
  lengths?: number;
}

/** A map without flips that is made better round by round, in place. */
export class Relaxing {
  private readonly x: Float64Array;
  private readonly y: Float64Array;
  private readonly next: Float64Array;
  private readonly factor: Factor | undefined;
  /** Vertices in the order of the solver's; undefined where all are. */
  private readonly free: Uint32Array | undefined;
  private readonly lengths: number;
  private now: number;
  /** Near what is flat already the energy bends eight times as much as the Laplacian. */
  private step = 1 / 8;

  /** `uv` is in the scale of the surface, nearly. */
  constructor(
    private readonly patch: Patch,
    private readonly rest: Rest,
    private readonly uv: Float64Array,
    { factor, held, lengths = 1 }: RelaxingOptions = {},
  ) {
    const n = uv.length / 2;
    this.lengths = lengths;
    this.x = new Float64Array(n);
    this.y = new Float64Array(n);
    this.next = new Float64Array(2 * n);
    if (held?.includes(1)) this.free = Uint32Array.from(held.keys()).filter((v) => held[v] === 0);
    this.factor = factor ?? laplacian(patch, rest, this.free);
    this.now = energy(patch.triangles, rest, uv, lengths);
  }

  /** What one more round gained, as a share of the energy; undefined where nothing can be gained. */
  round(): number | undefined {
    const { x, y, next, uv, rest, factor, free, lengths, now } = this;
    const { triangles } = this.patch;
    const n = x.length;
    if (!factor || !Number.isFinite(now) || free?.length === 0) return undefined;
    pulse();
    descent(triangles, rest, uv, lengths, x, y);
    const gx = x.slice();
    const gy = y.slice();
    if (free) {
      // What is held goes nowhere, whatever would draw it.
      const px = Float64Array.from(free, (v) => gx[v]);
      const py = Float64Array.from(free, (v) => gy[v]);
      factor.solve(px, py);
      x.fill(0);
      y.fill(0);
      free.forEach((v, i) => {
        x[v] = px[i];
        y[v] = py[i];
      });
    } else factor.solve(x, y);
    let slope = 0;
    for (let v = 0; v < n; v++) slope += gx[v] * x[v] + gy[v] * y[v];
    let t = min(2 * this.step, 0.8 * farthest(triangles, uv, x, y));
    let better = Infinity;
    for (let k = 0; k < HALVINGS; k++, t /= 2) {
      for (let v = 0; v < n; v++) {
        next[2 * v] = uv[2 * v] + t * x[v];
        next[2 * v + 1] = uv[2 * v + 1] + t * y[v];
      }
      better = energy(triangles, rest, next, lengths);
      if (better <= now - 1e-4 * t * slope) break;
    }
    if (!(better < now)) return undefined;
    this.step = t;
    uv.set(next);
    this.now = better;
    return (now - better) / now;
  }
}

/** Areas with those places made heavier that are drawn beyond the bound. */
export function heavierWhere(patch: Patch, rest: Rest, uv: Float64Array, bound: number, by: number): Rest {
  const area = rest.area.slice();
  const { drawn, scale, around } = drawnBy(patch, rest, uv);
  for (let i = 0; i < area.length; i++)
    if (drawn[i] > bound || scale[i] > bound * around || scale[i] * bound < around) area[i] *= by;
  return { ...rest, area };
}

function toScale(triangles: Uint32Array, rest: Rest, uv: Float64Array): void {
  let flat = 0;
  for (let i = 0; i < triangles.length / 3; i++) {
    if (!(rest.area[i] > 0)) continue;
    const [a, b, c] = [2 * triangles[3 * i], 2 * triangles[3 * i + 1], 2 * triangles[3 * i + 2]];
    flat += ((uv[b] - uv[a]) * (uv[c + 1] - uv[a + 1]) - (uv[b + 1] - uv[a + 1]) * (uv[c] - uv[a])) / 2;
  }
  const k = flat > 0 ? sqrt(rest.total / flat) : 1;
  for (let i = 0; i < uv.length; i++) uv[i] *= k;
}

/**
 * A map that cannot flip (Tutte 1963; Floater 1997): the rim on a circle, or where it lies in `uv`, all else in the
 * middle of its neighbours by weights above 0. Undefined for what is no disc. On a circle it is free of flips but for
 * rounding; within another rim it mostly is.
 */
export function tutte(patch: Patch, rest: Rest, uv?: Float64Array): Float64Array | undefined {
  const { points, triangles, rim } = patch;
  const n = points.length / 3;
  const out = uv ? uv.slice() : new Float64Array(2 * n);
  if (patch.borders !== 1 || patch.euler !== 1) return undefined;
  const held = new Uint8Array(n);
  for (const v of rim) held[v] = 1;
  if (!uv && !onCircle(rim, points, out)) return undefined;
  const index = new Int32Array(n).fill(-1);
  let m = 0;
  for (let v = 0; v < n; v++) if (!held[v]) index[v] = m++;
  if (m === 0) return out;
  const matrix = new HermitianBuilder(m, triangles.length);
  const x = new Float64Array(m);
  const y = new Float64Array(m);
  weigh(triangles, rest, (a, b, w) => {
    const [i, j] = [index[a], index[b]];
    if (i >= 0) matrix.diagonal[i] += w;
    if (j >= 0) matrix.diagonal[j] += w;
    if (i >= 0 && j >= 0) matrix.add(i, j, -w, 0);
    else if (i >= 0 || j >= 0) {
      const [inner, outer] = i >= 0 ? [i, b] : [j, a];
      x[inner] += w * out[2 * outer];
      y[inner] += w * out[2 * outer + 1];
    }
  });
  const factor = factorHermitian(matrix, orderOfSome(eliminationOrder(points, triangles), index));
  if (!factor) return undefined;
  factor.solve(x, y);
  for (let v = 0; v < n; v++)
    if (index[v] >= 0) {
      out[2 * v] = x[index[v]];
      out[2 * v + 1] = y[index[v]];
    }
  return out;
}

/** The rim laid on a circle by the lengths of its sides, the patch on its left. */
function onCircle(rim: Uint32Array, points: Float64Array, out: Float64Array): boolean {
  const ring = ringOf(rim);
  if (!ring) return false;
  const lengths = ring.map((v, i) => {
    const to = ring[(i + 1) % ring.length];
    return Math.hypot(...[0, 1, 2].map((k) => points[3 * to + k] - points[3 * v + k]));
  });
  const all = lengths.reduce((sum, x) => sum + x, 0);
  // None so short that its ends fall together.
  const least = all > 0 ? all / ring.length / 100 : 1;
  const whole = lengths.reduce((sum, x) => sum + max(x, least), 0);
  let at = 0;
  ring.forEach((v, i) => {
    const a = (2 * Math.PI * at) / whole;
    out[2 * v] = cos(a);
    out[2 * v + 1] = sin(a);
    at += max(lengths[i], least);
  });
  return true;
}
