/**
 * Darts: cuts from where a patch is drawn too far, to its rim. On what is rough a few sharp places keep a patch from
 * lying flat that would otherwise; opened there it need not be parted.
 */
import { drawnBy } from '../flatten/flatness';
import { layFlat, SPARE, type Laid } from '../flatten/layflat';
import type { Parting, Patch } from '../flatten/patch';
import { fromRim, networkOf } from './network';

const { hypot, min } = Math;

export interface Darting {
  bound: number;
  mean?: number;
  hold: ReadonlySet<number>;
  weigh(edge: number): number;
}

/** Where more of the area is beyond the bound than this, it is not a few places that keep it from lying flat. */
const FEW = 0.12;
/** Of the rim's length, darts are no longer in all than this. */
const LONG = 0.6;
const ROUNDS = 3;
/** Fewer faces are not worth it. */
const LEAST = 24;
/** A round that leaves more than this share of what was beyond leads nowhere. */
const GAIN = 0.75;

/** The patch, cut open so that it lies flat within the bound; undefined, and all as before, where that cannot be. */
export function darted(
  parting: Parting,
  patch: Patch,
  laid: Laid,
  o: Darting,
  longest = Infinity,
): { patch: Patch; laid: Laid } | undefined {
  if (patch.borders !== 1 || patch.euler !== 1 || patch.faces.length < LEAST || patch.torn.length > 0) return undefined;
  const cut: number[] = [];
  let left = min(longest, LONG * rimLength(patch));
  let now = { patch, laid };
  for (let round = 0; round < ROUNDS && now.laid.figures.beyond <= FEW; round++) {
    const found = dartsOf(parting, now.patch, now.laid, o, left);
    if (found.edges.length === 0) break;
    left -= found.long;
    for (const e of found.edges) parting.seam[e] = 1;
    cut.push(...found.edges);
    const opened = parting.patch(patch.faces);
    if (opened.borders !== 1 || opened.euler !== 1) break;
    const as = layFlat(opened, o.bound, { mean: o.mean });
    if (as.good) return { patch: opened, laid: as };
    if (as.figures.beyond > GAIN * now.laid.figures.beyond) break;
    now = { patch: opened, laid: as };
  }
  for (const e of cut) parting.seam[e] = 0;
  return undefined;
}

function rimLength({ rim, points: p }: Patch): number {
  let sum = 0;
  for (let i = 0; i < rim.length; i += 2) {
    const [a, b] = [3 * rim[i], 3 * rim[i + 1]];
    sum += hypot(p[a] - p[b], p[a + 1] - p[b + 1], p[a + 2] - p[b + 2]);
  }
  return sum;
}

/** Edges from the places within that are drawn most to the rim, and how long they are. */
function dartsOf(
  parting: Parting,
  patch: Patch,
  laid: Laid,
  o: Darting,
  longest: number,
): { edges: number[]; long: number } {
  const { triangles, points: p } = patch;
  const n = p.length / 3;
  const heat = heatOf(patch, laid, o.bound);
  const { back, via } = fromRim(patch, networkOf(parting, patch), (e) => o.weigh(e) + 1e-12, o.hold);
  const side = (v: number, w: number): number =>
    hypot(p[3 * v] - p[3 * w], p[3 * v + 1] - p[3 * w + 1], p[3 * v + 2] - p[3 * w + 2]);
  const around = new Map<number, number[]>();
  const hot: number[] = [];
  for (let v = 0; v < n; v++) if (heat[v] > 0 && back[v] >= 0) hot.push(v);
  hot.sort((a, b) => heat[b] - heat[a]);
  for (let t = 0; t < triangles.length; t += 3)
    for (let k = 0; k < 3; k++) {
      const v = triangles[t + k];
      if (!(heat[v] > 0)) continue;
      const list = around.get(v) ?? [];
      list.push(triangles[t + ((k + 1) % 3)], triangles[t + ((k + 2) % 3)]);
      around.set(v, list);
    }
  const all = hot.reduce((sum, v) => sum + heat[v], 0);
  // Each triangle was counted at each of its vertices; a place takes those round it along.
  const enough = all * (1 - (0.5 * SPARE) / laid.figures.beyond);
  const near = new Uint8Array(n);
  const open = new Uint8Array(n);
  const edges: number[] = [];
  let [long, covered] = [0, 0];
  for (const v of hot) {
    if (covered >= enough) break;
    if (near[v]) continue;
    let own = 0;
    const way: number[] = [];
    let w = v;
    for (; back[w] >= 0 && !open[w]; w = back[w]) {
      way.push(w);
      own += side(w, back[w]);
    }
    if (long + own > longest) continue;
    long += own;
    for (const x of way) {
      open[x] = 1;
      edges.push(via[x]);
      for (const y of [x, ...(around.get(x) ?? [])])
        if (!near[y]) {
          near[y] = 1;
          covered += heat[y];
        }
    }
  }
  return { edges, long };
}

/** Of each vertex: area of the triangles round it that are beyond the bound. */
function heatOf(patch: Patch, { rest, uv, figures }: Laid, bound: number): Float64Array {
  const { drawn, scale } = drawnBy(patch, rest, uv);
  const heat = new Float64Array(patch.points.length / 3);
  for (let i = 0; i < drawn.length; i++) {
    if (!(rest.area[i] > 0)) continue;
    const off = drawn[i] > bound || scale[i] > figures.scale * bound || scale[i] < figures.scale / bound;
    if (off) for (let k = 0; k < 3; k++) heat[patch.triangles[3 * i + k]] += rest.area[i];
  }
  return heat;
}
