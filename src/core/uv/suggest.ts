/**
 * Seams that would be worth their length, and seams that are not needed: for each island the shortest hidden way from
 * where it is stretched most to its border, or across it, and what the island would come to with it; for each seam
 * what its two sides would come to as one.
 */
import { pulse } from '../math/pulse';
import type { Mesh } from '../mesh/mesh';
import { UV } from '../mesh/mesh';
import { edgeValence, topologyOf } from '../mesh/topology';
import { bordersOf } from './edits/sheet';
import { drawnBy, type Rest } from './flatten/flatness';
import { hidingCost } from './part/hiding';
import { layFlat, type Laid } from './flatten/layflat';
import { islandsOf } from './measure';
import { faceFacts, inTwo, type FaceFacts } from './part/part';
import { closeRun, isDisc, runsOf } from './part/runs';
import { fromRim, networkOf } from './part/network';
import { Parting, type Patch } from './flatten/patch';

const { max, min, sqrt } = Math;

export interface Suggestion {
  /** A seam to be cut, or one to be closed. */
  kind: 'cut' | 'close';
  /** What it is about: one of its faces. */
  face: number;
  edges: number[];
  /** Metres. */
  long: number;
  /**
   * How far what it is about is stretched at worst, without and with it: one way against the other, or larger or
   * smaller than it should be, whichever is more; all but the outermost half percent of the area.
   */
  before: number;
  after: number;
}

export interface SuggestOptions {
  /** Edges that may not be cut. */
  hold: ReadonlySet<number>;
  /** What may be stretched so far is let be; what is closed stays within it. */
  bound: number;
  /** 0 to 1: how much seams keep to creases and to what looks down. */
  hide: number;
  progress?: (share: number) => void;
}

/** So many of each kind are told, the most worthwhile first. */
const MOST = 24;
/** Less gain than this is no reason to cut. */
const GAIN = 0.03;
/** So many faces are laid flat to find out, for each face there is; at least so many. */
const WORK = 6;
const LEAST_WORK = 60_000;
/** Places of an island that are looked at, and how near to the worst they have to be. */
const PEAKS = 3;
const NEAR_WORST = 0.6;
/** The outermost share of the area, which says little. */
const TAIL = 0.005;

export function suggestSeams(mesh: Mesh, o: SuggestOptions): Suggestion[] {
  const uv = mesh.attributes[UV]?.data as Float32Array | undefined;
  if (!uv) return [];
  const t = topologyOf(mesh);
  // Seams between faces that lie doubled are not suggested: an edge is of all its layers.
  const parting = new Parting(
    mesh,
    bordersOf(mesh, uv).map((x, e) => (edgeValence(t, e) > 2 ? 1 : x)),
  );
  const { ofFace, count } = islandsOf(mesh, uv);
  parting.label.set(ofFace);
  const lists: number[][] = Array.from({ length: count }, () => []);
  for (let f = 0; f < mesh.faceCount; f++) lists[ofFace[f]].push(f);
  const look: Look = { parting, facts: faceFacts(mesh), o, weigh: hidingCost(mesh, o.hide), labels: count };
  const islands = lists.map((list) => Uint32Array.from(list));
  let budget = max(LEAST_WORK, WORK * mesh.faceCount);
  const known = new Map<number, number>();
  const worstOfIsland = (k: number): number => {
    let worst = known.get(k);
    if (worst === undefined) {
      budget -= islands[k].length;
      const patch = parting.patch(islands[k]);
      known.set(k, (worst = isDisc(patch) ? worstOf(patch, layFlat(patch, o.bound)).worst : Infinity));
    }
    return worst;
  };
  const cuts: Suggestion[] = [];
  // The largest islands first: what is stretched there is seen most.
  const order = islands.map((_, k) => k).sort((a, b) => islands[b].length - islands[a].length);
  order.forEach((k, i) => {
    if (budget < 0 || islands[k].length < 4) return;
    budget -= 6 * islands[k].length;
    cuts.push(...cutsOf(look, islands[k]));
    o.progress?.((0.5 * (i + 1)) / count);
  });
  const closes: Suggestion[] = [];
  const seams = runsOf(look.parting);
  budget = max(budget, LEAST_WORK / 2);
  seams.forEach(({ a, b, edges }, i) => {
    const many = islands[a].length + (a === b ? 0 : islands[b].length);
    if (budget < many) return;
    budget -= many;
    const found = closed(look, islands[a], a === b ? undefined : islands[b], edges);
    if (found) closes.push({ ...found, before: max(worstOfIsland(a), worstOfIsland(b)) });
    o.progress?.(0.5 + (0.5 * (i + 1)) / seams.length);
  });
  const worth = (s: Suggestion): number => (s.before - s.after) / (s.long || 1e-9);
  cuts.sort((x, y) => worth(y) - worth(x));
  // The longest seam is the one that is best without.
  closes.sort((x, y) => y.long - x.long);
  return [...cuts.slice(0, MOST), ...closes.slice(0, MOST)];
}

interface Look {
  parting: Parting;
  facts: FaceFacts;
  o: SuggestOptions;
  weigh(edge: number): number;
  /** The next label that nothing has. */
  labels: number;
}

/**
 * How far each triangle is stretched at worst, and all of them but the tail; sizes against the middle of all sizes, as
 * the bound has it.
 */
function worstOf(patch: Patch, { uv, rest }: Laid): { each: Float64Array; worst: number } {
  const { drawn: each, scale } = drawnBy(patch, rest, uv);
  const middle = middleOf(scale, rest);
  for (let i = 0; i < each.length; i++) {
    if (!(rest.area[i] > 0)) each[i] = 1;
    else if (scale[i] > 0) each[i] = max(each[i], scale[i] / middle, middle / scale[i]);
  }
  const order = Array.from(each, (_, i) => i).sort((x, y) => each[y] - each[x]);
  let left = TAIL * rest.total;
  for (const i of order) {
    left -= rest.area[i];
    if (left < 0) return { each, worst: each[i] };
  }
  return { each, worst: 1 };
}

/** The middle between the least and the largest, but for the tails: as far from the one as from the other. */
function middleOf(scale: Float64Array, rest: Rest): number {
  const order = Array.from(scale.keys())
    .filter((i) => rest.area[i] > 0 && scale[i] > 0)
    .sort((x, y) => scale[x] - scale[y]);
  const end = (list: readonly number[]): number => {
    let left = TAIL * rest.total;
    for (const i of list) {
      left -= rest.area[i];
      if (left < 0) return scale[i];
    }
    return 1;
  };
  const least = end(order);
  return sqrt(least * end(order.reverse()));
}

/** Edges of faces with the same label, as a network of vertices of the mesh. */
function cutsOf(look: Look, faces: Uint32Array): Suggestion[] {
  const { parting, o } = look;
  const patch = parting.patch(faces);
  if (!isDisc(patch)) return [];
  const laid = layFlat(patch, o.bound);
  const { each, worst } = worstOf(patch, laid);
  // Within the bound nothing need be cut.
  if (!(worst > o.bound)) return [];
  const out: Suggestion[] = [];
  for (const path of pathsToPeaks(look, patch, each)) {
    const after = withCut(look, faces, path);
    if (after !== undefined && worst - after >= GAIN) out.push(told(look, 'cut', faces[0], path, worst, after));
  }
  const across = acrossIn(look, faces);
  const after = across && withCut(look, faces, across);
  if (after !== undefined && worst - after >= GAIN) out.push(told(look, 'cut', faces[0], across!, worst, after));
  const worth = (s: Suggestion): number => (s.before - s.after) / s.long;
  return out.sort((x, y) => worth(y) - worth(x)).slice(0, 2);
}

function told(
  look: Look,
  kind: Suggestion['kind'],
  face: number,
  edges: number[],
  before: number,
  after: number,
): Suggestion {
  const { mesh, t } = look.parting;
  const p = mesh.positions;
  let long = 0;
  for (const e of edges) {
    const [a, b] = [3 * t.edgeVertex[2 * e], 3 * t.edgeVertex[2 * e + 1]];
    long += Math.hypot(p[a] - p[b], p[a + 1] - p[b + 1], p[a + 2] - p[b + 2]);
  }
  return { kind, face, edges, long, before: min(before, 1e6), after };
}

/** The cheapest ways from where the patch is off most to its rim. */
function pathsToPeaks(look: Look, patch: Patch, each: Float64Array): number[][] {
  const n = patch.points.length / 3;
  const { triangles, points } = patch;
  const sums = new Float64Array(n);
  const times = new Int32Array(n);
  for (let i = 0; i < triangles.length; i++) {
    const off = Math.log(min(each[Math.floor(i / 3)], 1e6));
    sums[triangles[i]] += off;
    times[triangles[i]]++;
  }
  const height = sums.map((x, v) => (times[v] > 0 ? x / times[v] : 0));
  const { dist, back, via } = fromRim(patch, networkOf(look.parting, patch), look.weigh, look.o.hold);
  const inner = Array.from(height, (_, v) => v).filter((v) => dist[v] > 0 && Number.isFinite(dist[v]));
  inner.sort((x, y) => height[y] - height[x]);
  const peaks: number[] = [];
  const lo = [0, 1, 2].map((k) => points.reduce((m, x, i) => (i % 3 === k ? min(m, x) : m), Infinity));
  const hi = [0, 1, 2].map((k) => points.reduce((m, x, i) => (i % 3 === k ? max(m, x) : m), -Infinity));
  const apart = Math.hypot(hi[0] - lo[0], hi[1] - lo[1], hi[2] - lo[2]) / 6;
  for (const v of inner) {
    if (peaks.length >= PEAKS || height[v] < NEAR_WORST * height[inner[0]]) break;
    const far = (w: number): number => Math.hypot(...[0, 1, 2].map((k) => points[3 * v + k] - points[3 * w + k]));
    if (peaks.every((w) => far(w) > apart)) peaks.push(v);
  }
  return peaks.map((peak) => {
    const path: number[] = [];
    for (let v = peak; back[v] >= 0; v = back[v]) path.push(via[v]);
    return path;
  });
}

/** Edges across an island that part it by the way its faces look; undefined where that is not possible. */
function acrossIn({ parting, facts, weigh, o }: Look, faces: Uint32Array): number[] | undefined {
  const { mesh, t } = parting;
  const side = inTwo(faces, facts, parting, (e) => (o.hold.has(e) ? 1e6 : weigh(e)));
  const of = new Map<number, number>();
  faces.forEach((f, i) => of.set(f, side[i]));
  const out = new Set<number>();
  for (const f of faces)
    for (let c = mesh.faceStart[f]; c < mesh.faceStart[f + 1]; c++) {
      const other = parting.across(c);
      const there = other < 0 ? undefined : of.get(t.cornerFace[other]);
      if (there === undefined || there === of.get(f)) continue;
      if (o.hold.has(t.cornerEdge[c])) return undefined;
      out.add(t.cornerEdge[c]);
    }
  return out.size > 0 ? [...out] : undefined;
}

/** How far an island is stretched at worst with some more edges cut; undefined where it does not lie soundly so. */
function withCut(look: Look, faces: Uint32Array, edges: readonly number[]): number | undefined {
  const { parting, o } = look;
  pulse();
  const own = parting.label[faces[0]];
  for (const e of edges) parting.seam[e] = 1;
  const parts = parting.components(faces, look.labels);
  look.labels += parts.length;
  let worst: number | undefined = 1;
  for (const part of parts) {
    const patch = parting.patch(part);
    const laid = isDisc(patch) ? layFlat(patch, o.bound) : undefined;
    worst = laid?.sound && worst !== undefined ? max(worst, worstOf(patch, laid).worst) : undefined;
  }
  for (const e of edges) parting.seam[e] = 0;
  for (const f of faces) parting.label[f] = own;
  return worst;
}

/** What two islands come to as one, or one without its slit; undefined where that does not lie within the bound. */
function closed(
  look: Look,
  a: Uint32Array,
  b: Uint32Array | undefined,
  edges: number[],
): Omit<Suggestion, 'before'> | undefined {
  pulse();
  const found = closeRun(look.parting, a, b, edges, look.o.bound, () => false);
  if (!found?.laid.good) return undefined;
  return told(look, 'close', a[0], edges, 1, worstOf(found.patch, found.laid).worst);
}
