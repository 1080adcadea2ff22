/**
 * Where a patch that will not lie flat is cut: in two by the way its faces look and where they are, or open from one
 * border to the next.
 */
import { Queue } from '../../math/queue';
import { pulse } from '../../math/pulse';
import type { Mesh } from '../../mesh/mesh';
import { facingOf } from './facing';
import { networkOf } from './network';
import { anglesRound } from '../flatten/flatness';
import type { Parting, Patch } from '../flatten/patch';

const { abs, hypot, max, min, sqrt } = Math;

/** What is asked of faces again and again. */
export interface FaceFacts {
  /** 3 per face, 1 long; of slivers that of what they are beside. */
  normal: Float64Array;
  area: Float64Array;
  /** 3 per face. */
  centre: Float64Array;
}

export function faceFacts(mesh: Mesh): FaceFacts {
  const { faceStart, cornerVertex, positions: p, faceCount } = mesh;
  const normal = Float64Array.from(facingOf(mesh));
  const area = new Float64Array(faceCount);
  const centre = new Float64Array(3 * faceCount);
  for (let f = 0; f < faceCount; f++) {
    const s = faceStart[f];
    const e = faceStart[f + 1];
    const o = 3 * cornerVertex[s];
    let [x, y, z, cx, cy, cz] = [0, 0, 0, p[o], p[o + 1], p[o + 2]];
    for (let c = s + 1; c < e; c++) {
      const a = 3 * cornerVertex[c];
      cx += p[a];
      cy += p[a + 1];
      cz += p[a + 2];
      if (c + 1 === e) break;
      const b = 3 * cornerVertex[c + 1];
      const [ux, uy, uz] = [p[a] - p[o], p[a + 1] - p[o + 1], p[a + 2] - p[o + 2]];
      const [wx, wy, wz] = [p[b] - p[o], p[b + 1] - p[o + 1], p[b + 2] - p[o + 2]];
      x += uy * wz - uz * wy;
      y += uz * wx - ux * wz;
      z += ux * wy - uy * wx;
    }
    area[f] = sqrt(x * x + y * y + z * z) / 2;
    centre.set([cx / (e - s), cy / (e - s), cz / (e - s)], 3 * f);
  }
  return { normal, area, centre };
}

/** Least variance of normals of a half ball: 1/12. What is a good deal above will not lie flat. */
export const ROUND = 0.125;

/** Least, middle and largest of the variances of the normals of some faces, and the way of the largest. */
export function normalSpread(faces: ArrayLike<number>, { normal, area }: FaceFacts): { least: number; way: number[] } {
  const m = [0, 0, 0];
  const c = [0, 0, 0, 0, 0, 0];
  let total = 0;
  for (let i = 0; i < faces.length; i++) {
    const f = faces[i];
    const a = area[f];
    const [x, y, z] = [normal[3 * f], normal[3 * f + 1], normal[3 * f + 2]];
    total += a;
    m[0] += a * x;
    m[1] += a * y;
    m[2] += a * z;
    c[0] += a * x * x;
    c[1] += a * y * y;
    c[2] += a * z * z;
    c[3] += a * x * y;
    c[4] += a * x * z;
    c[5] += a * y * z;
  }
  if (!(total > 0)) return { least: 0, way: [1, 0, 0] };
  const [mx, my, mz] = m.map((x) => x / total);
  const s = [
    [c[0] / total - mx * mx, c[3] / total - mx * my, c[4] / total - mx * mz],
    [c[3] / total - mx * my, c[1] / total - my * my, c[5] / total - my * mz],
    [c[4] / total - mx * mz, c[5] / total - my * mz, c[2] / total - mz * mz],
  ];
  const { values, vectors } = jacobi(s);
  const order = [0, 1, 2].sort((a, b) => values[a] - values[b]);
  return { least: values[order[0]], way: vectors[order[2]] };
}

/** Eigenvalues and vectors of a symmetric 3 × 3 matrix, by Jacobi's rotations. */
function jacobi(a: number[][]): { values: number[]; vectors: number[][] } {
  const v = [
    [1, 0, 0],
    [0, 1, 0],
    [0, 0, 1],
  ];
  for (let sweep = 0; sweep < 12; sweep++)
    for (const [p, q] of [
      [0, 1],
      [0, 2],
      [1, 2],
    ]) {
      if (abs(a[p][q]) < 1e-15) continue;
      const theta = (a[q][q] - a[p][p]) / (2 * a[p][q]);
      const t = (theta < 0 ? -1 : 1) / (abs(theta) + sqrt(theta * theta + 1));
      const c = 1 / sqrt(t * t + 1);
      const s = t * c;
      for (let k = 0; k < 3; k++) {
        const [x, y] = [a[k][p], a[k][q]];
        a[k][p] = c * x - s * y;
        a[k][q] = s * x + c * y;
      }
      for (let k = 0; k < 3; k++) {
        const [x, y] = [a[p][k], a[q][k]];
        a[p][k] = c * x - s * y;
        a[q][k] = s * x + c * y;
        const [i, j] = [v[p][k], v[q][k]];
        v[p][k] = c * i - s * j;
        v[q][k] = s * i + c * j;
      }
    }
  return { values: [a[0][0], a[1][1], a[2][2]], vectors: v };
}

/** How much places weigh against normals: by that alone a long bent strip is cut across as well. */
const PLACE = 0.35;
const LLOYD = 5;
const SMOOTHINGS = 6;

/**
 * Which of two sides each face of a patch is put to: two means of normals and places, then borders drawn smooth,
 * preferring edges of little weight. `weigh`: what it costs to cut an edge, for its length.
 */
export function inTwo(
  faces: Uint32Array,
  facts: FaceFacts,
  parting: Parting,
  weigh: (edge: number) => number,
): Uint8Array {
  const n = faces.length;
  const { normal, area, centre } = facts;
  const { way } = normalSpread(faces, facts);
  const lo = [Infinity, Infinity, Infinity];
  const hi = [-Infinity, -Infinity, -Infinity];
  for (const f of faces)
    for (let k = 0; k < 3; k++) {
      lo[k] = min(lo[k], centre[3 * f + k]);
      hi[k] = max(hi[k], centre[3 * f + k]);
    }
  const size = hypot(hi[0] - lo[0], hi[1] - lo[1], hi[2] - lo[2]) || 1;
  const wide = PLACE * (2 / size);
  const feature = (f: number, k: number): number => (k < 3 ? normal[3 * f + k] : wide * centre[3 * f + k - 3]);
  const along = (f: number): number => normal[3 * f] * way[0] + normal[3 * f + 1] * way[1] + normal[3 * f + 2] * way[2];
  let mean = 0;
  let total = 0;
  for (const f of faces) {
    mean += area[f] * along(f);
    total += area[f];
  }
  mean /= total || 1;
  const side = new Uint8Array(n);
  for (let i = 0; i < n; i++) side[i] = along(faces[i]) > mean ? 1 : 0;
  const lean = new Float64Array(n);
  for (let round = 0; round < LLOYD; round++) {
    pulse();
    const c = [new Float64Array(6), new Float64Array(6)];
    const w = [0, 0];
    for (let i = 0; i < n; i++) {
      const f = faces[i];
      const a = area[f] + 1e-30;
      w[side[i]] += a;
      for (let k = 0; k < 6; k++) c[side[i]][k] += a * feature(f, k);
    }
    if (w[0] === 0 || w[1] === 0) break;
    for (let q = 0; q < 2; q++) for (let k = 0; k < 6; k++) c[q][k] /= w[q];
    for (let i = 0; i < n; i++) {
      let d = 0;
      for (let k = 0; k < 6; k++) {
        const x = feature(faces[i], k);
        d += (x - c[0][k]) ** 2 - (x - c[1][k]) ** 2;
      }
      lean[i] = d;
      side[i] = d > 0 ? 1 : 0;
    }
  }
  smoothed(faces, side, lean, parting, weigh);
  return side;
}

/**
 * Faces at the border go over to the other side where that makes it shorter, as long as they do not lie clearly on
 * their own.
 */
function smoothed(
  faces: Uint32Array,
  side: Uint8Array,
  lean: Float64Array,
  parting: Parting,
  weigh: (edge: number) => number,
): void {
  const { mesh, t } = parting;
  const at = new Map<number, number>();
  faces.forEach((f, i) => at.set(f, i));
  let scale = 0;
  for (const x of lean) scale += abs(x);
  scale = scale / (lean.length || 1) || 1;
  for (let round = 0; round < SMOOTHINGS; round++) {
    let moved = 0;
    for (let i = 0; i < faces.length; i++) {
      const f = faces[i];
      const pull = [0, 0];
      for (let c = mesh.faceStart[f]; c < mesh.faceStart[f + 1]; c++) {
        const o = parting.across(c);
        const j = o < 0 ? undefined : at.get(t.cornerFace[o]);
        if (j !== undefined) pull[side[j]] += weigh(t.cornerEdge[c]);
      }
      const own = side[i];
      const gain = pull[1 - own] - pull[own];
      if (gain <= 0) continue;
      const held = (own === 1 ? lean[i] : -lean[i]) / scale;
      if (gain / (pull[0] + pull[1]) > 0.6 * held) {
        side[i] = 1 - own;
        moved++;
      }
    }
    if (moved === 0) break;
  }
}

/**
 * Curvature that a hole may have, were it filled, and be let be; radians. A third of that for one that is large against
 * the largest border.
 */
const TURNS = 1;
const HOLE = 0.2;

/**
 * Marks as cut the shortest ways along edges from one border of a patch to the next, until it has one. Answers the edges
 * that were cut. `weigh`: what it costs to cut an edge; `straighter`: another way along edges between the ends of
 * one.
 */
export function slit(
  parting: Parting,
  patch: Patch,
  weigh: (edge: number) => number,
  straighter: (edges: readonly number[]) => readonly number[] = (edges) => edges,
): number[] {
  const loop = loopOf(patch);
  const n = patch.points.length / 3;
  const { start, to, edge: via } = networkOf(parting, patch);
  // Holes that are flat, were they filled, are let be: they lie on the sheet with what is round them.
  const main = loop.long.indexOf(Math.max(...loop.long));
  const wanted = loop.long.map(
    (x, i) => i === main || abs(loop.turns[i]) > (x >= HOLE * loop.long[main] ? TURNS / 3 : TURNS),
  );
  const left = wanted.filter((w) => w).length;
  const joined = new Set<number>([main]);
  const met = new Set<number>([main]);
  const on: number[][] = loop.long.map(() => []);
  for (let v = 0; v < n; v++) if (loop.of[v] >= 0) on[loop.of[v]].push(v);
  const from = [...on[main]];
  const cut: number[] = [];
  while (joined.size < left) {
    const dist = new Float64Array(n).fill(Infinity);
    const back = new Int32Array(n).fill(-1);
    /** It was come to over a hole. */
    const over = new Uint8Array(n);
    const queue = new Queue();
    for (const v of from) {
      dist[v] = 0;
      queue.push(v, 0);
    }
    const passed = new Set<number>();
    let hit = -1;
    while (queue.size > 0 && hit < 0) {
      const [v, d] = queue.pop();
      if (d > dist[v]) continue;
      const at = loop.of[v];
      if (at >= 0 && wanted[at] && !joined.has(at)) {
        hit = v;
        break;
      }
      // Over a hole that is let be it costs nothing: a way that came by it twice would cut off what is between.
      if (at >= 0 && !met.has(at) && !passed.has(at)) {
        passed.add(at);
        for (const w of on[at]) {
          if (!(d < dist[w])) continue;
          dist[w] = d;
          back[w] = v;
          over[w] = 1;
          queue.push(w, d);
        }
      }
      for (let p = start[v]; p < start[v + 1]; p++) {
        const next = d + weigh(via[p]);
        if (next < dist[to[p]]) {
          dist[to[p]] = next;
          back[to[p]] = v;
          over[to[p]] = 0;
          queue.push(to[p], next);
        }
      }
    }
    if (hit < 0) return cut;
    joined.add(loop.of[hit]);
    const way: number[] = [];
    const meet = (v: number): void => {
      if (loop.of[v] < 0 || met.has(loop.of[v])) return;
      met.add(loop.of[v]);
      from.push(...on[loop.of[v]]);
    };
    meet(hit);
    for (let v = hit; back[v] >= 0; v = back[v]) {
      for (let p = start[v]; p < start[v + 1] && !over[v]; p++)
        if (to[p] === back[v]) {
          way.push(via[p]);
          break;
        }
      from.push(v);
      meet(back[v]);
    }
    // Where more are to come they begin from it as it was found.
    const own = joined.size < left ? way : straighter(way);
    for (const e of own) parting.seam[e] = 1;
    cut.push(...own);
  }
  return cut;
}

/**
 * Which loop of the rim each vertex is on, −1 within; how long each is, and what curvature it would have, were it
 * filled.
 */
function loopOf({ rim, points, triangles }: Patch): { of: Int32Array; long: number[]; turns: number[] } {
  const n = points.length / 3;
  const next = new Int32Array(n).fill(-1);
  for (let i = 0; i < rim.length; i += 2) next[rim[i]] = rim[i + 1];
  const of = new Int32Array(n).fill(-1);
  const long: number[] = [];
  const turns: number[] = [];
  const inside = anglesRound(points, triangles);
  for (let i = 0; i < rim.length; i += 2) {
    if (of[rim[i]] >= 0) continue;
    let sum = 0;
    let turn = 2 * Math.PI;
    for (let v = rim[i]; v >= 0 && of[v] < 0; v = next[v]) {
      of[v] = long.length;
      turn += Math.PI - inside[v];
      if (next[v] >= 0) sum += hypot(...[0, 1, 2].map((k) => points[3 * next[v] + k] - points[3 * v + k]));
    }
    long.push(sum);
    turns.push(turn);
  }
  return { of, long, turns };
}
