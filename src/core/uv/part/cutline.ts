/** Where an island is cut in two for a fuller sheet: by a short way that leaves both halves small boxes. */
import { Queue } from '../../math/queue';
import { leastBox } from '../pack/cells/boxes';
import { leastSquareOf } from '../pack/cells/strip';
import type { Parting } from '../flatten/patch';
import type { Island } from './island';
import { networkOf, type Network } from './network';

const { cos, hypot, max, min, PI, sin, sqrt } = Math;

/** Longer than the sheet, it is cut whatever it takes. */
const LONG = 1.3;
/** Places of the border, evenly, between which a cut is looked for. */
const PLACES = 28;
/**
 * From so many of them, as straight cuts between all of them promise. From every one of them, and with the box of every
 * part to the last digit, it took a fifth of all the time on a ball of 12,068 faces; by this a fourteenth.
 */
const SOURCES = 4;
/** What is told in haste is off by no more than this. */
const MAYBE = 1.15;

/** How dear it is to cut an edge, and which may not be cut. */
export interface Weighing {
  weigh(edge: number): number;
  hold: ReadonlySet<number>;
}

/** What is cut for a fuller sheet. */
export interface Cutting {
  /** So much of all boxes together is filled well enough. */
  filled: number;
  /** How much that counts that a box is empty. */
  empty: number;
  /** What an island leaves empty of its box is let be where it is less than this of everything. */
  worth: number;
  /** Both halves in their boxes take less than this of the box of the whole. */
  saved: number;
  /** The smaller half is no less than this of the whole. */
  least: number;
  /** How dear a cut is against what it saves, both for the size of the box. */
  cut: number;
  /** What takes more than this of everything is cut whatever it takes: two such fill no sheet. */
  largest: number;
}

/** Where sides of a rim begin. */
export const rimPointsOf = (rim: Uint32Array, uv: Float64Array): Float64Array =>
  Float64Array.from(rim, (_, i) => uv[2 * rim[i & ~1] + (i & 1)]);

/** The rim of a patch as one ring of vertices; undefined where it is not one. */
function ringOf(rim: Uint32Array): number[] | undefined {
  const next = new Map<number, number>();
  for (let i = 0; i < rim.length; i += 2) next.set(rim[i], rim[i + 1]);
  const ring: number[] = [];
  for (let v: number | undefined = rim[0]; v !== undefined && ring.length < next.size; v = next.get(v)) ring.push(v);
  return ring.length === next.size && 2 * next.size === rim.length && next.get(ring[ring.length - 1]) === ring[0]
    ? ring
    : undefined;
}

/**
 * Edges of the mesh to be cut, from one place of the rim to another; undefined where nothing is gained. `most`: side of
 * the sheet, metres; `all`: what is on it, m².
 */
export function bestCut(
  parting: Parting,
  { patch, laid }: Island,
  most: number,
  o: Weighing,
  { cut, saved, least, largest }: Cutting,
  all: number,
): number[] | undefined {
  const ring = ringOf(patch.rim);
  if (!ring || ring.length < 8) return undefined;
  const { uv, figures } = laid;
  const rim = Float64Array.from(ring.flatMap((v) => [uv[2 * v], uv[2 * v + 1]]));
  const box = leastBox(rim);
  const size = areaWithin(rim);
  const whole = box.width * box.height;
  const long = leastSquareOf(rim) / figures.density;
  const network = networkOf(parting, patch);
  const { start, to, edge } = network;
  const n = patch.points.length / 3;
  const onRim = new Uint8Array(n);
  for (const v of ring) onRim[v] = 1;
  const places = spread(rim);
  const dist = new Float64Array(n);
  const back = new Int32Array(n);
  const dear = cut * figures.density * sqrt(whole);
  let best = (long > most || laid.rest.total > largest * all ? LONG : saved) * whole;
  let found: number[] | undefined;
  const boxes = boxesOfArcs(rim, places);
  const about = (p: number, r: number): number => boxes[p * places.length + r] + boxes[r * places.length + p];
  const way = dear * meanWeight(network, patch.points, o) * (1 / figures.density);
  for (const p of likely(rim, places, { about, way, least: least * size, below: MAYBE * best })) {
    const source = ring[places[p]];
    dist.fill(Infinity);
    back.fill(-1);
    const queue = new Queue();
    dist[source] = 0;
    queue.push(source, 0);
    // Both boxes hold all of the island at least: a longer way is no gain.
    const longest = (best - size) / dear;
    while (queue.size > 0) {
      const [v, d] = queue.pop();
      if (d > dist[v] || (v !== source && onRim[v])) continue;
      for (let q = start[v]; q < start[v + 1]; q++) {
        if (o.hold.has(edge[q])) continue;
        const next = d + o.weigh(edge[q]);
        if (next >= dist[to[q]] || next > longest) continue;
        dist[to[q]] = next;
        back[to[q]] = q;
        queue.push(to[q], next);
      }
    }
    for (let r = 0; r < places.length; r++) {
      if (r === p) continue;
      // Of those up to the next place the nearest: what is right across.
      let at = places[r];
      const end = r + 1 < places.length ? places[r + 1] : ring.length;
      for (let i = at + 1; i < end; i++) if (dist[ring[i]] < dist[ring[at]]) at = i;
      const target = ring[at];
      const cost = dear * dist[target];
      if (!(cost + size < best) || about(p, r) + cost > MAYBE * best) continue;
      const [lo, hi] = [min(places[p], at), max(places[p], at)];
      const one = rim.subarray(2 * lo, 2 * hi + 2);
      const other = joined(rim.subarray(2 * hi), rim.subarray(0, 2 * lo + 2));
      const part = areaWithin(one);
      if (min(part, size - part) < least * size) continue;
      const [a, b] = [leastBox(one), leastBox(other)];
      const sum = a.width * a.height + b.width * b.height + cost;
      if (!(sum < best)) continue;
      best = sum;
      found = [];
      for (let v = target; v !== source;) {
        const q = back[v];
        found.push(edge[q]);
        // The side that leads here begins where it is listed.
        v = beginOf(start, q);
      }
    }
  }
  return found;
}

/** How dear ways are for their length, on the mean. */
function meanWeight({ start, to, edge }: Network, points: Float64Array, o: Weighing): number {
  let [dear, long] = [0, 0];
  for (let v = 0; v + 1 < start.length; v++)
    for (let q = start[v]; q < start[v + 1]; q++) {
      const [a, b] = [3 * v, 3 * to[q]];
      if (o.hold.has(edge[q])) continue;
      dear += o.weigh(edge[q]);
      long += hypot(points[a] - points[b], points[a + 1] - points[b + 1], points[a + 2] - points[b + 2]);
    }
  return long > 0 ? dear / long : 0;
}

interface Looking {
  /** Of both parts of the ring, how large their boxes are, about. */
  about(p: number, r: number): number;
  /** What a cut takes for its length on the sheet. */
  way: number;
  /** No part is smaller. */
  least: number;
  /** What comes to more is nothing. */
  below: number;
}

/** The places from which a straight cut to another leaves the smallest boxes, the best of all first. */
function likely(rim: Float64Array, places: readonly number[], o: Looking): number[] {
  const n = places.length;
  // Twice the area between the origin and the ring, up to each point.
  const sums = new Float64Array(rim.length / 2 + 1);
  for (let i = 0, k = 0; i < rim.length; i += 2, k++) sums[k + 1] = sums[k] + cross(rim, i, (i + 2) % rim.length);
  const size = sums[sums.length - 1] / 2;
  const found: { p: number; r: number; sum: number }[] = [];
  for (let p = 0; p < n; p++)
    for (let r = p + 1; r < n; r++) {
      const [a, b] = [2 * places[p], 2 * places[r]];
      const part = (sums[places[r]] - sums[places[p]] + cross(rim, b, a)) / 2;
      if (min(part, size - part) < o.least) continue;
      const sum = o.about(p, r) + o.way * hypot(rim[a] - rim[b], rim[a + 1] - rim[b + 1]);
      if (sum < o.below) found.push({ p, r, sum });
    }
  found.sort((x, y) => x.sum - y.sum);
  const out = new Set<number>();
  for (const { p, r } of found) {
    if (out.size >= SOURCES) break;
    if (!out.has(r)) out.add(p);
  }
  return [...out];
}

const cross = (p: Float64Array, i: number, j: number): number => p[i] * p[j + 1] - p[i + 1] * p[j];

/** Directions in which it is known how far things reach: quarters of quarters. */
const DIRECTIONS = 64;
const WAYS = Float64Array.from({ length: 2 * DIRECTIONS }, (_, k) => {
  const angle = (2 * PI * (k >> 1)) / DIRECTIONS;
  return k & 1 ? sin(angle) : cos(angle);
});

/**
 * From each place of a ring to each other, onwards: how large a box what lies between has, in some directions alone; up
 * to a tenth more than the least.
 */
function boxesOfArcs(rim: Float64Array, places: readonly number[]): Float64Array {
  const n = places.length;
  const points = rim.length / 2;
  const reach = new Float64Array(n * DIRECTIONS).fill(-Infinity);
  for (let s = 0; s < n; s++) {
    const end = s + 1 < n ? places[s + 1] : points + places[0];
    for (let i = places[s]; i <= end; i++) {
      const k = 2 * (i % points);
      for (let d = 0; d < DIRECTIONS; d++) {
        const far = rim[k] * WAYS[2 * d] + rim[k + 1] * WAYS[2 * d + 1];
        if (far > reach[s * DIRECTIONS + d]) reach[s * DIRECTIONS + d] = far;
      }
    }
  }
  const out = new Float64Array(n * n);
  const own = new Float64Array(DIRECTIONS);
  const [half, quarter] = [DIRECTIONS / 2, DIRECTIONS / 4];
  for (let p = 0; p < n; p++) {
    own.fill(-Infinity);
    for (let k = 0; k + 1 < n; k++) {
      const s = ((p + k) % n) * DIRECTIONS;
      for (let d = 0; d < DIRECTIONS; d++) own[d] = max(own[d], reach[s + d]);
      let least = Infinity;
      for (let d = 0; d < quarter; d++)
        least = min(least, (own[d] + own[d + half]) * (own[d + quarter] + own[d + quarter + half]));
      out[p * n + ((p + k + 1) % n)] = least;
    }
  }
  return out;
}

function beginOf(start: Int32Array, side: number): number {
  let [lo, hi] = [0, start.length - 1];
  while (hi - lo > 1) {
    const mid = (lo + hi) >> 1;
    if (start[mid] <= side) lo = mid;
    else hi = mid;
  }
  return lo;
}

const joined = (a: Float64Array, b: Float64Array): Float64Array => {
  const out = new Float64Array(a.length + b.length);
  out.set(a);
  out.set(b, a.length);
  return out;
};

/** Of a ring of points, so many at even distances. */
function spread(p: Float64Array): number[] {
  const n = p.length / 2;
  const at = new Float64Array(n + 1);
  for (let i = 0; i < n; i++) {
    const j = (i + 1) % n;
    at[i + 1] = at[i] + hypot(p[2 * j] - p[2 * i], p[2 * j + 1] - p[2 * i + 1]);
  }
  const out: number[] = [];
  let i = 0;
  for (let k = 0; k < PLACES; k++) {
    while (i < n - 1 && at[i] < (k / PLACES) * at[n]) i++;
    if (out[out.length - 1] !== i) out.push(i);
  }
  return out;
}

/** What a ring of points goes round. */
function areaWithin(p: Float64Array): number {
  let sum = 0;
  for (let i = 0, n = p.length; i < n; i += 2) {
    const j = (i + 2) % n;
    sum += p[i] * p[j + 1] - p[i + 1] * p[j];
  }
  return max(0, sum / 2);
}
