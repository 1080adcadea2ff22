/**
 * Islands that sprawl are cut in two where that costs little: what fills little of its box leaves most of the sheet
 * empty, however it is turned. Both halves lie as the whole did.
 */
import { Queue } from '../../math/queue';
import { pulse } from '../../math/pulse';
import type { Mesh } from '../../mesh/mesh';
import type { Island } from './island';
import { leastBox } from '../pack/boxes';
import { leastSquareOf } from '../pack/strip';
import { flatnessOf, restOf } from '../flatten/flatness';
import { networkOf } from './network';
import { Parting } from '../flatten/patch';
import { StraightBorders, type Straightening } from './straight';

const { hypot, max, min, sqrt } = Math;

export interface Compacting extends Straightening {
  /** Islands that may be had more. */
  most: number;
  /** Of all that goes on the sheet, where that is more than these islands: what is long is so against it. */
  area?: number;
  /** 0 to 1: how much is cut for a fuller sheet; at 0 only what is longer than it. 0.5. */
  fill?: number;
}

/** So much of a sheet is filled well enough. */
const SHEET = 0.66;
/** What is longer than so many areas of all, squared, leaves what it is longer by empty. */
const TOO_LONG = 1.75;
/** Longer than the sheet, it is cut whatever it takes. */
const LONG = 1.3;
/** Places of the border, evenly, between which a cut is looked for. */
const PLACES = 28;
/** Of patches with more vertices only every other of them is gone out from: to all the others. */
const MANY = 4000;

/** Of no more islands than that each matters by itself; of twice as many little does. */
const FEW = 20;

/** What is cut for a fuller sheet. */
interface Cutting {
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
}

/**
 * At 0.5 what costs hardly an island. Fill and islands at that and at 1: a lumpy ball of 5,740 faces 62 % in 4 and 71 %
 * in 8, one of 14,716 64 % in 6 and 73 % in 16, an animal 71 % in 20 and 77 % in 25, rings 62 % in 28 and 69 % in 46.
 */
function cuttingFor(fill: number, islands: number): Cutting {
  const more = max(0, 2 * fill - 1);
  const between = (a: number, b: number): number => a + more * (b - a);
  // Where there are many, small ones lie in the gaps of the large: the lamp came to 51 for 47 and was no fuller.
  const many = max(0, min(1, (islands - FEW) / FEW));
  return {
    filled: between(0.78 - 0.12 * many, 0.78),
    empty: min(1, 2 * fill),
    worth: between(0.03 + 0.03 * many, 0.02),
    saved: between(0.82, 0.95),
    least: between(0.12, 0.06),
    cut: between(0.12, 0.06),
  };
}

/** `seam` is changed: what is cut is a seam. */
export function compacted(mesh: Mesh, islands: readonly Island[], seam: Uint8Array, o: Compacting): Island[] {
  const parting = new Parting(mesh, seam);
  let total = 0;
  islands.forEach(({ patch, laid }, k) => {
    for (const f of patch.faces) parting.label[f] = k;
    total += laid.rest.total;
  });
  // How well boxes are filled is told by these islands alone: half a model against all of it looks filled at once.
  const own = total;
  total = max(total, o.area ?? 0);
  const out = [...islands];
  const cutting = cuttingFor(o.fill ?? 0.5, islands.length);
  const side = sqrt(total / SHEET);
  const emptyIn = (i: Island): number => emptyOf(i, TOO_LONG * total, cutting);
  const empty = out.map(emptyIn);
  let given = own;
  const boxes = (): number => empty.reduce((sum, x) => sum + x, given);
  let straight: StraightBorders | undefined;
  for (let left = o.most; left > 0 && boxes() > own / cutting.filled;) {
    const k = empty.indexOf(max(...empty));
    if (!(empty[k] > cutting.worth * total)) break;
    pulse();
    const cut = bestCut(parting, out[k], side, o, cutting);
    straight ??= cut && new StraightBorders(parting, o);
    const halves = cut && along(parting, out[k], cut, out.length, straight!);
    if (!halves) {
      // Nothing to be done about it.
      given += empty[k];
      empty[k] = 0;
      continue;
    }
    [out[k]] = halves;
    empty[k] = emptyIn(halves[0]);
    out.push(halves[1]);
    empty.push(emptyIn(halves[1]));
    left--;
  }
  const { t, label } = parting;
  for (let e = 0; e < t.edgeCount; e++) {
    const s = t.edgeCornerStart[e];
    if (t.edgeCornerStart[e + 1] - s !== 2) continue;
    if (label[t.cornerFace[t.edgeCorner[s]]] !== label[t.cornerFace[t.edgeCorner[s + 1]]]) seam[e] = 1;
  }
  return out;
}

/**
 * What an island leaves empty of its box, m²; 0 for one that cannot be cut here. One that is longer than the sheet
 * leaves what that is too large empty as well.
 */
function emptyOf({ patch, laid }: Island, most: number, { empty }: Cutting): number {
  const { scale } = laid.figures;
  if (!laid.sound || patch.borders !== 1 || !(scale > 0)) return 0;
  const rim = rimPointsOf(patch.rim, laid.uv);
  const { width, height } = leastBox(rim);
  const long = leastSquareOf(rim) / scale;
  return max(0, empty * ((width * height) / scale ** 2 - laid.rest.total), long ** 2 - most);
}

/** Where sides of a rim begin. */
const rimPointsOf = (rim: Uint32Array, uv: Float64Array): Float64Array =>
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
 * the sheet, metres.
 */
function bestCut(
  parting: Parting,
  { patch, laid }: Island,
  most: number,
  o: Compacting,
  { cut, saved, least }: Cutting,
): number[] | undefined {
  const ring = ringOf(patch.rim);
  if (!ring || ring.length < 8) return undefined;
  const { uv, figures } = laid;
  const rimPoints = Float64Array.from(ring.flatMap((v) => [uv[2 * v], uv[2 * v + 1]]));
  const box = leastBox(rimPoints);
  const size = areaWithin(rimPoints);
  const whole = box.width * box.height;
  const long = leastSquareOf(rimPoints) / figures.scale;
  const { start, to, edge } = networkOf(parting, patch);
  const n = patch.points.length / 3;
  const onRim = new Uint8Array(n);
  for (const v of ring) onRim[v] = 1;
  const places = spread(rimPoints);
  const dist = new Float64Array(n);
  const back = new Int32Array(n);
  const dear = cut * figures.scale * sqrt(whole);
  let best = (long > most ? LONG : saved) * whole;
  let found: number[] | undefined;
  const step = n > MANY ? 2 : 1;
  for (let p = 0; p < places.length; p += step) {
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
    for (let r = step > 1 ? 0 : p + 1; r < places.length; r++) {
      if (r === p) continue;
      // Of those up to the next place the nearest: what is right across.
      let at = places[r];
      const end = r + 1 < places.length ? places[r + 1] : ring.length;
      for (let i = at + 1; i < end; i++) if (dist[ring[i]] < dist[ring[at]]) at = i;
      const target = ring[at];
      const cost = dear * dist[target];
      if (!(cost + size < best)) continue;
      const [lo, hi] = [min(places[p], at), max(places[p], at)];
      const one = rimPoints.subarray(2 * lo, 2 * hi + 2);
      const other = joined(rimPoints.subarray(2 * hi), rimPoints.subarray(0, 2 * lo + 2));
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

/** The two halves; undefined, and all as before, where the cut does not part the island in two. */
function along(
  parting: Parting,
  island: Island,
  cut: readonly number[],
  label: number,
  straight: StraightBorders,
): [Island, Island] | undefined {
  const { faces } = island.patch;
  const own = parting.label[faces[0]];
  const { seam } = parting;
  for (const e of cut) seam[e] = 1;
  const found = parting.components(faces, own).length;
  for (const f of faces) if (found !== 2) parting.label[f] = own;
  const side = found === 2 ? faces.map((f) => (parting.label[f] === own ? 0 : 1)) : undefined;
  for (const e of cut) seam[e] = 0;
  if (!side) return undefined;
  faces.forEach((f, i) => {
    parting.label[f] = side[i] === 0 ? own : label;
  });
  straight.parted(faces);
  const parts = [own, label].map((name) => faces.filter((f) => parting.label[f] === name));
  const made = parts.map((list) => partOf(parting, island, list));
  const [a, b] = made;
  if (a && b) return [a, b];
  for (const f of faces) parting.label[f] = own;
  return undefined;
}

/** Some faces of an island, as they lie there; undefined where they do not hang together as a disc. */
function partOf(parting: Parting, { patch: from, laid }: Island, faces: Uint32Array): Island | undefined {
  if (faces.length === 0) return undefined;
  const patch = parting.patch(faces);
  if (patch.borders !== 1 || patch.euler !== 1) return undefined;
  const { mesh } = parting;
  const uv = new Float64Array((2 * patch.points.length) / 3);
  let [at, there, k] = [0, 0, 0];
  for (const f of from.faces) {
    const many = mesh.faceStart[f + 1] - mesh.faceStart[f];
    if (faces[k] === f) {
      for (let q = 0; q < many; q++) {
        const w = 2 * from.corners[there + q];
        uv.set(laid.uv.subarray(w, w + 2), 2 * patch.corners[at + q]);
      }
      at += many;
      k++;
    }
    there += many;
  }
  const rest = restOf(patch);
  const figures = flatnessOf(patch, rest, uv, Infinity);
  return { patch, laid: { uv, rest, figures: { ...figures, beyond: laid.figures.beyond }, good: true, sound: true } };
}
