/**
 * Bridge: faces between two borders, or between two groups of faces, which go. Borders of unequal counts are joined by
 * triangles where one has more. Closed borders are turned so that the sum of the squares of all lengths across is
 * least; of open ones the nearer ends are joined.
 */
import { key2, key3, key4, keyOf } from '../math/hash';
import { at, cross, dot, minus, unit, type Vector } from '../math/vector';
import { MeshDraft } from '../mesh/draft';
import type { Mesh } from '../mesh/mesh';
import { type PickKind } from '../mesh/picks';
import { partsOf } from '../mesh/walks';
import { edgeValence, nextCorner, topologyOf } from '../mesh/topology';
import { borderOf, chainsOf, type Chain } from './chains';

const BRIDGE = keyOf('bridge');

export interface BridgeOptions {
  /** Rows of faces between the two. */
  parts: number;
  /** Turns one closed border on by so many vertices. */
  twist: number;
  /** 0: straight across; 1: leaves both borders along their faces. */
  smooth: number;
}

/** Throws an Error with one sentence where the pick is not two borders. */
export function bridge(mesh: Mesh, kind: PickKind, indices: ArrayLike<number>, o: BridgeOptions, id: number): Mesh {
  const draft = new MeshDraft(mesh);
  const gone = new Set<number>();
  let chains: Chain[];
  if (kind === 'face') {
    const parts = partsOf(mesh, 'face', indices).map((v) => new Set(v));
    if (parts.length !== 2) throw new Error('Pick two groups of faces that do not touch, to bridge between them.');
    const groups: number[][] = [[], []];
    for (let i = 0; i < indices.length; i++) {
      groups[parts[0].has(mesh.cornerVertex[mesh.faceStart[indices[i]]]) ? 0 : 1].push(indices[i]);
      gone.add(indices[i]);
    }
    chains = groups.flatMap((g) => chainsOf(mesh, borderOf(mesh, g)));
    if (chains.length !== 2 || !chains.every((c) => c.closed))
      throw new Error('Each group of faces must have one closed border, without holes in it.');
    gone.forEach((f) => draft.drop(f));
  } else {
    const t = topologyOf(mesh);
    for (let i = 0; i < indices.length; i++)
      if (edgeValence(t, indices[i]) !== 1)
        throw new Error('A picked edge has faces on both sides; a bridge goes from one open border to another.');
    chains = chainsOf(mesh, indices);
    if (chains.length !== 2) throw new Error('Pick the edges of two borders, to bridge between them.');
  }
  if (chains[0].closed !== chains[1].closed)
    throw new Error('One border is closed and the other has ends; pick two of a kind.');
  if (chains[0].vertices.some((v) => chains[1].vertices.includes(v)))
    throw new Error('The two borders meet; there is nothing between them.');
  // The lower of the two by keys is the first, whatever their numbers.
  const low = ({ vertices }: Chain) => vertices.reduce((m, v) => Math.min(m, mesh.vertexKey[v]), Infinity);
  const [first, second] = low(chains[0]) < low(chains[1]) ? chains : [chains[1], chains[0]];
  const one = oriented(mesh, first, gone);
  const two = oriented(mesh, second, gone).reverse();
  const other = first.closed ? nearestTurn(mesh, one, two, o.twist) : nearerEnds(mesh, one, two);
  lay(mesh, draft, one, other, first.closed, o, key2(id, BRIDGE));
  return draft.finish();
}

/** A chain's vertices the way a new face beside it must pass them: against the faces that stay. */
function oriented(mesh: Mesh, { vertices }: Chain, gone: ReadonlySet<number>): number[] {
  const t = topologyOf(mesh);
  let same = 0;
  for (let i = 0; i + 1 < vertices.length; i++) {
    const [a, b] = [vertices[i], vertices[i + 1]];
    for (let q = t.vertexCornerStart[a]; q < t.vertexCornerStart[a + 1]; q++) {
      const c = t.vertexCorner[q];
      const f = t.cornerFace[c];
      if (gone.has(f)) continue;
      if (mesh.cornerVertex[nextCorner(mesh, f, c)] === b) same++;
    }
    for (let q = t.vertexCornerStart[b]; q < t.vertexCornerStart[b + 1]; q++) {
      const c = t.vertexCorner[q];
      const f = t.cornerFace[c];
      if (!gone.has(f) && mesh.cornerVertex[nextCorner(mesh, f, c)] === a) same--;
    }
  }
  return same > 0 ? [...vertices].reverse() : [...vertices];
}

function nearerEnds(mesh: Mesh, one: number[], two: number[]): number[] {
  const d = (v: number, w: number) => {
    const x = minus(at(mesh.positions, v), at(mesh.positions, w));
    return dot(x, x);
  };
  const [a, b] = [one[0], one[one.length - 1]];
  const [c, e] = [two[0], two[two.length - 1]];
  return d(a, c) + d(b, e) <= d(a, e) + d(b, c) ? two : [...two].reverse();
}

function nearestTurn(mesh: Mesh, one: number[], two: number[], twist: number): number[] {
  const p = mesh.positions;
  const m = two.length;
  const middle = (list: number[]): Vector => {
    const out: Vector = [0, 0, 0];
    for (const v of list) for (let k = 0; k < 3; k++) out[k] += p[3 * v + k] / list.length;
    return out;
  };
  const [ca, cb] = [middle(one), middle(two)];
  let best = 0;
  let least = Infinity;
  // Some of them suffice to tell how it is turned; with all, borders of thousands take seconds.
  const step = Math.max(1, Math.floor(one.length / 64));
  for (let s = 0; s < m; s++) {
    let sum = 0;
    for (let i = 0; i < one.length; i += step) {
      const w = two[(s + Math.round((i * m) / one.length)) % m];
      for (let k = 0; k < 3; k++) sum += (p[3 * one[i] + k] - ca[k] - (p[3 * w + k] - cb[k])) ** 2;
    }
    if (sum < least - 1e-9 * Math.max(1e-12, least === Infinity ? 0 : least)) [best, least] = [s, sum];
  }
  const from = (((best + Math.round(twist)) % m) + m) % m;
  return [...two.slice(from), ...two.slice(0, from)];
}

/** Rows of faces from one border to the other; both run the same way. */
function lay(
  mesh: Mesh,
  draft: MeshDraft,
  one: number[],
  two: number[],
  closed: boolean,
  o: BridgeOptions,
  seed: number,
): void {
  const p = mesh.positions;
  const [a, b] = [closed ? [...one, one[0]] : one, closed ? [...two, two[0]] : two];
  // Which vertex of each faces which of the other: both go on by shares of their count.
  const rungs: [number, number][] = [[0, 0]];
  for (let i = 0, j = 0; i < a.length - 1 || j < b.length - 1;) {
    const x = (i + 1) / (a.length - 1);
    const y = (j + 1) / (b.length - 1);
    if (Math.abs(x - y) < 1e-9) [i, j] = [i + 1, j + 1];
    else if (x < y) i++;
    else j++;
    rungs.push([i, j]);
  }
  const parts = Math.max(1, Math.round(o.parts));
  const leave = o.smooth > 0 ? (v: number) => leaving(mesh, v, one.includes(v) ? one : two) : undefined;
  const rows = new Map<string, number[]>();
  const rung = ([i, j]: [number, number]): number[] => {
    const [v, w] = [a[i], b[j]];
    const name = `${v} ${w}`;
    const had = rows.get(name);
    if (had) return had;
    const out = [v];
    const [x, y] = [at(p, v), at(p, w)];
    const l = Math.sqrt(dot(minus(x, y), minus(x, y))) * o.smooth;
    const [d, e] = leave
      ? [leave(v), leave(w)]
      : [
          [0, 0, 0],
          [0, 0, 0],
        ];
    for (let k = 1; k < parts; k++) {
      const u = k / parts;
      // Hermite between the two, with the ways both leave by.
      const h = [2 * u ** 3 - 3 * u ** 2 + 1, u ** 3 - 2 * u ** 2 + u, 3 * u ** 2 - 2 * u ** 3, u ** 2 - u ** 3];
      const q = [0, 1, 2].map((k) =>
        leave ? h[0] * x[k] + h[1] * l * d[k] + h[2] * y[k] + h[3] * l * e[k] : x[k] + (y[k] - x[k]) * u,
      );
      out.push(
        draft.vertex(key4(seed, mesh.vertexKey[v], mesh.vertexKey[w], k * 4096 + parts), q[0], q[1], q[2], v, w, u),
      );
    }
    out.push(w);
    rows.set(name, out);
    return out;
  };
  const t = topologyOf(mesh);
  const cornerAt = (v: number) =>
    v < mesh.vertexCount && t.vertexCornerStart[v] < t.vertexCornerStart[v + 1]
      ? t.vertexCorner[t.vertexCornerStart[v]]
      : -1;
  const faceAt = (v: number) => (cornerAt(v) < 0 ? -1 : t.cornerFace[cornerAt(v)]);
  for (let r = 0; r + 1 < rungs.length; r++) {
    const [left, right] = [rung(rungs[r]), rung(rungs[r + 1])];
    const [cl, cr] = [cornerAt(left[0]), cornerAt(right[0])];
    const [dl, dr] = [cornerAt(left[parts]), cornerAt(right[parts])];
    for (let k = 0; k < parts; k++) {
      const ring: [number, number, number, number][] = [
        [left[k], cl, dl, k / parts],
        [right[k], cr, dr, k / parts],
        [right[k + 1], cr, dr, (k + 1) / parts],
        [left[k + 1], cl, dl, (k + 1) / parts],
      ];
      const own = ring.filter(([v], i) => v !== ring[(i + 1) % 4][0]);
      if (new Set(own.map((x) => x[0])).size < 3) continue;
      const [v, w] = [a[rungs[r][0]], b[rungs[r][1]]];
      const [v2, w2] = [a[rungs[r + 1][0]], b[rungs[r + 1][1]]];
      const vk = mesh.vertexKey;
      draft.begin(key4(key3(seed, vk[v], vk[w]), vk[v2], vk[w2], k * 4096 + parts), faceAt(v));
      for (const [vertex, c, d, u] of own) draft.at(vertex, c, d, c >= 0 && d >= 0 ? u : 0);
      draft.end();
    }
  }
}

/** The way on from a border: in the plane of the faces beside it, square to the border and away from them. */
function leaving(mesh: Mesh, v: number, border: readonly number[]): Vector {
  const t = topologyOf(mesh);
  const i = border.indexOf(v);
  const n = border.length;
  const side = unit(minus(at(mesh.positions, border[(i + 1) % n]), at(mesh.positions, border[(i + n - 1) % n])));
  const sum: Vector = [0, 0, 0];
  const here = at(mesh.positions, v);
  for (let q = t.vertexCornerStart[v]; q < t.vertexCornerStart[v + 1]; q++) {
    const f = t.cornerFace[t.vertexCorner[q]];
    for (let c = mesh.faceStart[f]; c < mesh.faceStart[f + 1]; c++)
      for (let k = 0; k < 3; k++) sum[k] += here[k] - mesh.positions[3 * mesh.cornerVertex[c] + k];
  }
  const across = cross(side, cross(sum, side));
  return unit(across);
}
