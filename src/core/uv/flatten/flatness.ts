/**
 * How a patch lies on the sheet, in numbers: flips, how far angles and lengths are off, and whether its rim crosses
 * itself.
 */
import { angleAt } from '../../math/angle';
import { EVERY, pulse } from '../../math/pulse';
import type { Patch } from './patch';

const { abs, max, min, sqrt } = Math;

/**
 * Edges of a triangle in its own plane: the second corner at (l, 0), the third at (g, h). Nought for what has no area.
 */
export interface Rest {
  l: Float64Array;
  g: Float64Array;
  h: Float64Array;
  /** m². */
  area: Float64Array;
  total: number;
}

/** Thinner than this, against its longest side, a triangle says nothing of angles. */
const THIN = 1e-7;

export function restOf({ points: p, triangles }: Pick<Patch, 'points' | 'triangles'>): Rest {
  const n = triangles.length / 3;
  const l = new Float64Array(n);
  const g = new Float64Array(n);
  const h = new Float64Array(n);
  const area = new Float64Array(n);
  let total = 0;
  for (let i = 0; i < n; i++) {
    const a = 3 * triangles[3 * i];
    const b = 3 * triangles[3 * i + 1];
    const c = 3 * triangles[3 * i + 2];
    const ex = p[b] - p[a];
    const ey = p[b + 1] - p[a + 1];
    const ez = p[b + 2] - p[a + 2];
    const fx = p[c] - p[a];
    const fy = p[c + 1] - p[a + 1];
    const fz = p[c + 2] - p[a + 2];
    const [x, y, z] = [ey * fz - ez * fy, ez * fx - ex * fz, ex * fy - ey * fx];
    const cross = sqrt(x * x + y * y + z * z);
    const long = sqrt(ex * ex + ey * ey + ez * ez);
    const most = max(long, sqrt(fx * fx + fy * fy + fz * fz));
    if (!(cross > THIN * most * most)) continue;
    l[i] = long;
    g[i] = (ex * fx + ey * fy + ez * fz) / long;
    h[i] = cross / long;
    area[i] = cross / 2;
    total += area[i];
  }
  return { l, g, h, area, total };
}

/** Radians: the angles of all triangles round each vertex, summed. `p`: 3 per vertex. */
export function anglesRound(p: Float64Array, triangles: Uint32Array): Float64Array {
  const out = new Float64Array(p.length / 3);
  for (let t = 0; t < triangles.length; t += 3)
    for (let k = 0; k < 3; k++) {
      const [v, a, b] = [triangles[t + k], triangles[t + ((k + 1) % 3)], triangles[t + ((k + 2) % 3)]];
      out[v] += angleAt(p, 3 * v, 3 * a, 3 * b);
    }
  return out;
}

export interface Flatness {
  /** Triangles that lie on their face. */
  flips: number;
  /** Share of the area that is stretched beyond the bound. */
  beyond: number;
  /** Largest over smallest scale, without the outermost half percent of the area. */
  spread: number;
  /** Mean of the larger over the smaller stretch, by area. */
  mean: number;
  /** UV units per metre: the middle between the largest and the smallest scale. */
  scale: number;
  /** The same by the area of all: how large it is laid on the sheet. */
  density: number;
}

const BINS = 512;
/** Scales are told apart within this of their mean, as powers of e. */
const REACH = 4;
const TAIL = 0.0025;

export interface Drawn {
  /** Of each triangle: one way against the other; infinite for what lies on its face, 0 for what has no area. */
  drawn: Float64Array;
  /** Of each triangle: UV units per metre; 0 for what lies on its face or has no area. */
  scale: Float64Array;
  /** Of all that does not lie on its face. */
  around: number;
  flips: number;
}

/** How far each triangle is drawn, and how large. */
export function drawnBy({ triangles }: Pick<Patch, 'triangles'>, rest: Rest, uv: Float64Array): Drawn {
  const n = triangles.length / 3;
  const scale = new Float64Array(n);
  const drawn = new Float64Array(n);
  let flips = 0;
  let flat = 0;
  for (let i = 0; i < n; i++) {
    const a = 2 * triangles[3 * i];
    const b = 2 * triangles[3 * i + 1];
    const c = 2 * triangles[3 * i + 2];
    const u1 = uv[b] - uv[a];
    const v1 = uv[b + 1] - uv[a + 1];
    const u2 = uv[c] - uv[a];
    const v2 = uv[c + 1] - uv[a + 1];
    const det2 = u1 * v2 - v1 * u2;
    if (!(rest.area[i] > 0)) continue;
    if (!(det2 > 0)) {
      flips++;
      drawn[i] = Infinity;
      continue;
    }
    flat += det2 / 2;
    const m00 = u1 / rest.l[i];
    const m10 = v1 / rest.l[i];
    const m01 = (u2 - m00 * rest.g[i]) / rest.h[i];
    const m11 = (v2 - m10 * rest.g[i]) / rest.h[i];
    const q = (m00 * m00 + m10 * m10 + m01 * m01 + m11 * m11) / 2;
    const det = m00 * m11 - m01 * m10;
    const big = q + sqrt(max(0, q * q - det * det));
    drawn[i] = big / det;
    scale[i] = sqrt(det);
  }
  return { drawn, scale, around: rest.total > 0 && flat > 0 ? sqrt(flat / rest.total) : 1, flips };
}

/**
 * A place is stretched beyond `bound` where one way is drawn more than that against the other, or where its scale is
 * farther than that from the middle of the patch's scales, up or down.
 */
export function flatnessOf(patch: Pick<Patch, 'triangles'>, rest: Rest, uv: Float64Array, bound: number): Flatness {
  const { drawn, scale: scales, around, flips } = drawnBy(patch, rest, uv);
  const n = drawn.length;
  const { total } = rest;
  const bins = new Float64Array(BINS);
  let mean = 0;
  let off = 0;
  for (let i = 0; i < n; i++) {
    if (!(rest.area[i] > 0)) continue;
    if (drawn[i] > bound) off += rest.area[i];
    if (drawn[i] === Infinity) continue;
    mean += rest.area[i] * min(drawn[i], 100);
    const at = (Math.log(scales[i] / around) / REACH + 1) * (BINS / 2);
    bins[max(0, min(BINS - 1, Math.floor(at)))] += rest.area[i];
  }
  const edge = (from: number, step: number): number => {
    let sum = 0;
    let k = from;
    for (; k >= 0 && k < BINS; k += step) {
      sum += bins[k];
      if (sum > TAIL * total) break;
    }
    return around * Math.exp(REACH * ((2 * k + 1) / BINS - 1));
  };
  const lo = edge(0, 1);
  const hi = edge(BINS - 1, -1);
  const scale = sqrt(lo * hi);
  for (let i = 0; i < n; i++)
    if (rest.area[i] > 0 && drawn[i] <= bound && (scales[i] > scale * bound || scales[i] < scale / bound))
      off += rest.area[i];
  return {
    ...{ flips, beyond: total > 0 ? off / total : 0 },
    ...{ spread: hi / lo, mean: total > 0 ? mean / total : 1, scale, density: around },
  };
}

/**
 * Twice the signed area of a, b, c: its sign is right even where rounding would hide it (Shewchuk 1997, the first
 * stage, then in doubled precision).
 */
export function turn(ax: number, ay: number, bx: number, by: number, cx: number, cy: number): number {
  const left = (ax - cx) * (by - cy);
  const right = (ay - cy) * (bx - cx);
  const det = left - right;
  return abs(det) >= 3.3306690738754716e-16 * (abs(left) + abs(right)) ? det : turnExactly(ax, ay, bx, by, cx, cy);
}

const SPLIT = 134217729;
/** x · y as a sum of two doubles (Dekker 1971; Veltkamp's splitting). */
function product(x: number, y: number): [number, number] {
  const p = x * y;
  const cx = SPLIT * x;
  const xh = cx - (cx - x);
  const xl = x - xh;
  const cy = SPLIT * y;
  const yh = cy - (cy - y);
  const yl = y - yh;
  return [p, xl * yl - (p - xh * yh - xl * yh - xh * yl)];
}

/** ax·by − ay·bx + bx·cy − by·cx + cx·ay − cy·ax, summed without loss. */
function turnExactly(ax: number, ay: number, bx: number, by: number, cx: number, cy: number): number {
  const terms = [
    product(ax, by),
    product(-ay, bx),
    product(bx, cy),
    product(-by, cx),
    product(cx, ay),
    product(-cy, ax),
  ].flat();
  // An expansion grown term by term (Shewchuk's grow-expansion): its largest part has the sign of the whole.
  const parts: number[] = [];
  for (const term of terms) {
    let q = term;
    let kept = 0;
    for (const x of parts) {
      const sum = q + x;
      const b = sum - q;
      const low = q - (sum - b) + (x - b);
      q = sum;
      if (low !== 0) parts[kept++] = low;
    }
    parts.length = kept;
    if (q !== 0) parts.push(q);
  }
  return parts.length > 0 ? parts[parts.length - 1] : 0;
}

/**
 * Whether the rim of a patch crosses or touches itself on the sheet, or a hole in it is closed beyond its middle. Where
 * no triangle is flipped and the rim does none of these, the patch lies once on the sheet and nowhere twice. Exact;
 * sides are looked up through a grid.
 */
export const rimCrosses = (rim: Uint32Array, uv: Float64Array): boolean => crossingsOf(rim, uv, true).length > 0;

/** Sides of a rim, by number, that cross or touch others, or lie in what they go round; all of them, or just two. */
export function crossingsOf(rim: Uint32Array, uv: Float64Array, two = false): number[] {
  const sides = rim.length / 2;
  const found = new Set<number>();
  if (sides < 4) return [];
  let [x0, y0, x1, y1] = [Infinity, Infinity, -Infinity, -Infinity];
  for (const v of rim) {
    x0 = min(x0, uv[2 * v]);
    x1 = max(x1, uv[2 * v]);
    y0 = min(y0, uv[2 * v + 1]);
    y1 = max(y1, uv[2 * v + 1]);
  }
  if (!(x1 - x0 < Infinity && y1 - y0 < Infinity)) return Array.from({ length: sides }, (_, s) => s);
  const n = max(1, min(1024, Math.ceil(sqrt(sides))));
  const wide = (x1 - x0 || 1) * (1 + 1e-9);
  const high = (y1 - y0 || 1) * (1 + 1e-9);
  const column = (x: number) => Math.floor(((x - x0) / wide) * n);
  const row = (y: number) => Math.floor(((y - y0) / high) * n);
  const cells = new Map<number, number[]>();
  for (let s = 0; s < sides; s++) {
    if ((s & EVERY) === 0) pulse();
    const a = rim[2 * s];
    const b = rim[2 * s + 1];
    const [ax, ay, bx, by] = [uv[2 * a], uv[2 * a + 1], uv[2 * b], uv[2 * b + 1]];
    const [ca, cb] = [column(min(ax, bx)), column(max(ax, bx))];
    const [ra, rb] = [row(min(ay, by)), row(max(ay, by))];
    for (let i = ca; i <= cb; i++)
      for (let j = ra; j <= rb; j++) {
        const name = i * 2048 + j;
        const list = cells.get(name);
        if (!list) {
          cells.set(name, [s]);
          continue;
        }
        for (const o of list) {
          if (!sidesMeet(uv, a, b, rim[2 * o], rim[2 * o + 1])) continue;
          found.add(s).add(o);
          if (two) return [...found];
        }
        list.push(s);
      }
  }
  return found.size > 0 ? [...found] : closedBeyond(rim, uv);
}

/**
 * Of sides that neither cross nor touch: those round a hole whose edges have passed each other, so that it is turned
 * over and what is beside it lies on what is across. Such a ring goes round the same way as the one that it lies in.
 */
function closedBeyond(rim: Uint32Array, uv: Float64Array): number[] {
  const rings = ringsOf(rim, uv.length / 2);
  if (rings.length < 2) return [];
  const first = rings.map((ring) => leftmost(ring, rim, uv));
  let outer = 0;
  for (let i = 1; i < rings.length; i++)
    if (before(uv, rim[2 * rings[i][first[i]]], rim[2 * rings[outer][first[outer]]])) outer = i;
  const left = (i: number): boolean => goesLeft(rings[i], first[i], rim, uv);
  const way = left(outer);
  const out: number[] = [];
  for (let i = 0; i < rings.length; i++)
    if (i !== outer && left(i) === way && windings(rings[i], rim, uv) !== 0) for (const s of rings[i]) out.push(s);
  return out;
}

/** The sides of each ring of a rim, one after the other. */
function ringsOf(rim: Uint32Array, vertices: number): number[][] {
  const from = new Int32Array(vertices).fill(-1);
  for (let s = 0; s < rim.length / 2; s++) from[rim[2 * s]] = s;
  const seen = new Uint8Array(rim.length / 2);
  const out: number[][] = [];
  for (let first = 0; first < seen.length; first++) {
    const ring: number[] = [];
    for (let s = first; s >= 0 && !seen[s]; s = from[rim[2 * s + 1]]) {
      seen[s] = 1;
      ring.push(s);
    }
    if (ring.length > 0) out.push(ring);
  }
  return out;
}

/** Further left, or lower where that is the same. */
const before = (uv: Float64Array, v: number, w: number): boolean =>
  uv[2 * v] < uv[2 * w] || (uv[2 * v] === uv[2 * w] && uv[2 * v + 1] < uv[2 * w + 1]);

/** The side of a ring that begins furthest left, by its place in the ring. */
function leftmost(ring: readonly number[], rim: Uint32Array, uv: Float64Array): number {
  let k = 0;
  for (let i = 1; i < ring.length; i++) if (before(uv, rim[2 * ring[i]], rim[2 * ring[k]])) k = i;
  return k;
}

/** Whether a ring goes round to the left: as it turns at its leftmost vertex, the `k`th. */
function goesLeft(ring: readonly number[], k: number, rim: Uint32Array, uv: Float64Array): boolean {
  const [p, v] = [2 * rim[2 * ring.at(k - 1)!], 2 * rim[2 * ring[k]]];
  const n = 2 * rim[2 * ring[k] + 1];
  return turn(uv[p], uv[p + 1], uv[v], uv[v + 1], uv[n], uv[n + 1]) > 0;
}

/** How often all other rings go round where this one begins, to the left. */
function windings(ring: readonly number[], rim: Uint32Array, uv: Float64Array): number {
  const own = new Set(ring);
  const [x, y] = [uv[2 * rim[2 * ring[0]]], uv[2 * rim[2 * ring[0]] + 1]];
  let times = 0;
  for (let s = 0; s < rim.length / 2; s++) {
    const [a, b] = [2 * rim[2 * s], 2 * rim[2 * s + 1]];
    const up = uv[a + 1] <= y;
    if (up === uv[b + 1] <= y || own.has(s)) continue;
    const side = turn(uv[a], uv[a + 1], uv[b], uv[b + 1], x, y);
    if (up && side > 0) times++;
    if (!up && side < 0) times--;
  }
  return times;
}

function sidesMeet(uv: Float64Array, a: number, b: number, c: number, d: number): boolean {
  if (a === c || b === d) return true;
  const [ax, ay, bx, by] = [uv[2 * a], uv[2 * a + 1], uv[2 * b], uv[2 * b + 1]];
  const [cx, cy, dx, dy] = [uv[2 * c], uv[2 * c + 1], uv[2 * d], uv[2 * d + 1]];
  if (a === d || b === c) {
    // Neighbours meet at their common end; they must not lie on each other.
    const [px, py, sx, sy, ex, ey] = a === d ? [ax, ay, bx, by, cx, cy] : [bx, by, ax, ay, dx, dy];
    return turn(px, py, sx, sy, ex, ey) === 0 && (sx - px) * (ex - px) + (sy - py) * (ey - py) > 0;
  }
  const o1 = turn(ax, ay, bx, by, cx, cy);
  const o2 = turn(ax, ay, bx, by, dx, dy);
  if ((o1 > 0 && o2 > 0) || (o1 < 0 && o2 < 0)) return false;
  const o3 = turn(cx, cy, dx, dy, ax, ay);
  const o4 = turn(cx, cy, dx, dy, bx, by);
  if ((o3 > 0 && o4 > 0) || (o3 < 0 && o4 < 0)) return false;
  if (o1 !== 0 || o2 !== 0) return true;
  return (
    max(min(ax, bx), min(cx, dx)) <= min(max(ax, bx), max(cx, dx)) &&
    max(min(ay, by), min(cy, dy)) <= min(max(ay, by), max(cy, dy))
  );
}
