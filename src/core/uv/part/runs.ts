/**
 * Seams between two islands, or within one, in runs: each from one corner of the surface, or from where it meets other
 * seams, to the next. A run can be closed by itself, so that a box comes to lie as a cross.
 */
import { UnionFind } from '../../math/unionfind';
import { layFlat, type Laid, type Laying } from '../flatten/layflat';
import type { Parting, Patch } from '../flatten/patch';

const { PI, abs, acos, max, min, sqrt } = Math;

export interface Run {
  /** Labels on its sides; the same for a slit. */
  a: number;
  b: number;
  edges: number[];
  /** Metres. */
  long: number;
}

/** A vertex whose angles come to a full turn but for less than this is no corner. */
const EVEN = 0.02;

/** Runs of all seams that have a face on both sides, the longest first. What is held and what is not are apart. */
export function runsOf(parting: Parting, held: ReadonlySet<number> = new Set()): Run[] {
  const { t, seam, label, mesh } = parting;
  const own: number[] = [];
  const index = new Map<number, number>();
  const at = new Map<number, number[]>();
  for (let e = 0; e < t.edgeCount; e++) {
    const s = t.edgeCornerStart[e];
    if (!seam[e]) continue;
    for (let k = 0; k < 2; k++) {
      const v = t.edgeVertex[2 * e + k];
      const list = at.get(v);
      if (list) list.push(e);
      else at.set(v, [e]);
    }
    if (t.edgeCornerStart[e + 1] - s === 2) index.set(e, own.push(e) - 1);
  }
  const sides = (e: number): [number, number] => {
    const s = t.edgeCornerStart[e];
    const [f, g] = [label[t.cornerFace[t.edgeCorner[s]]], label[t.cornerFace[t.edgeCorner[s + 1]]]];
    return [min(f, g), max(f, g)];
  };
  const turn = turnsAt(parting, at);
  const joined = new UnionFind(own.length);
  for (const [v, edges] of at) {
    if (edges.length !== 2 || abs(turn.get(v)!) > EVEN) continue;
    const [i, j] = edges.map((e) => index.get(e));
    if (i === undefined || j === undefined || held.has(edges[0]) !== held.has(edges[1])) continue;
    const [p, q] = [sides(edges[0]), sides(edges[1])];
    if (p[0] === q[0] && p[1] === q[1]) joined.join(i, j);
  }
  const runs = new Map<number, Run>();
  const p = mesh.positions;
  own.forEach((e, i) => {
    const root = joined.find(i);
    let run = runs.get(root);
    if (!run) {
      const [a, b] = sides(e);
      runs.set(root, (run = { a, b, edges: [], long: 0 }));
    }
    run.edges.push(e);
    const [v, w] = [3 * t.edgeVertex[2 * e], 3 * t.edgeVertex[2 * e + 1]];
    run.long += Math.hypot(p[v] - p[w], p[v + 1] - p[w + 1], p[v + 2] - p[w + 2]);
  });
  return [...runs.values()].sort((x, y) => y.long - x.long || x.edges[0] - y.edges[0]);
}

/** How far the angles of the faces round some vertices are from a full turn, radians. */
function turnsAt({ mesh, t }: Parting, at: ReadonlyMap<number, unknown>): Map<number, number> {
  const p = mesh.positions;
  const out = new Map<number, number>();
  for (const v of at.keys()) {
    let sum = 0;
    for (let k = t.vertexCornerStart[v]; k < t.vertexCornerStart[v + 1]; k++) {
      const c = t.vertexCorner[k];
      const f = t.cornerFace[c];
      const next = 3 * mesh.cornerVertex[c + 1 === mesh.faceStart[f + 1] ? mesh.faceStart[f] : c + 1];
      const before = 3 * mesh.cornerVertex[c === mesh.faceStart[f] ? mesh.faceStart[f + 1] - 1 : c - 1];
      let [dot, aa, bb] = [0, 0, 0];
      for (let q = 0; q < 3; q++) {
        const [x, y] = [p[next + q] - p[3 * v + q], p[before + q] - p[3 * v + q]];
        dot += x * y;
        aa += x * x;
        bb += y * y;
      }
      if (aa > 0 && bb > 0) sum += acos(max(-1, min(1, dot / sqrt(aa * bb))));
    }
    out.set(v, 2 * PI - sum);
  }
  return out;
}

export const isDisc = (patch: Patch): boolean => patch.borders > 0 && patch.euler === 2 - patch.borders;

/**
 * What two patches, or one and its slit, come to as one with a run between them closed: laid flat, within the bound or
 * not. All is as before afterwards, unless `keep` says yes to what was laid; then they have the label of the first.
 */
export function closeRun(
  parting: Parting,
  a: Uint32Array,
  b: Uint32Array | undefined,
  edges: readonly number[],
  bound: number,
  keep: (laid: Laid, patch: Patch) => boolean,
  laying?: (patch: Patch) => Laying,
): { patch: Patch; laid: Laid } | undefined {
  const faces = new Uint32Array(a.length + (b?.length ?? 0));
  faces.set(a);
  if (b) faces.set(b, a.length);
  faces.sort();
  const [one, other] = [parting.label[a[0]], b ? parting.label[b[0]] : 0];
  for (const f of b ?? []) parting.label[f] = one;
  for (const e of edges) parting.seam[e] = 0;
  const patch = parting.patch(faces);
  const laid = isDisc(patch) ? layFlat(patch, bound, laying?.(patch)) : undefined;
  if (laid && keep(laid, patch)) return { patch, laid };
  for (const e of edges) parting.seam[e] = 1;
  for (const f of b ?? []) parting.label[f] = other;
  return laid && { patch, laid };
}
