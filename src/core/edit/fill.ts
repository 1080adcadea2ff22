/**
 * Fill or join: a face over the open border that runs through a picked edge; over three or more picked vertices;
 * between two picked edges. The new face looks the way its neighbours do.
 */
import { key2, key3, keyOf } from '../math/hash';
import { MeshDraft } from '../mesh/draft';
import type { Mesh } from '../mesh/mesh';
import { type PickKind } from '../mesh/picks';
import { edgeLoop } from '../mesh/walks';
import { edgeValence, topologyOf } from '../mesh/topology';

const FILL = keyOf('fill');

/** Throws an Error with one sentence where the pick cannot be filled. */
export function fill(mesh: Mesh, kind: PickKind, indices: ArrayLike<number>, id: number): Mesh {
  let outlines: number[][] = [];
  if (kind === 'vertex') outlines = overVertices(mesh, Array.from(indices));
  else if (kind === 'edge') outlines = fromEdges(mesh, indices);
  if (outlines.length === 0)
    throw new Error('Pick an open edge, two edges, or three or more vertices to fill between.');
  const draft = new MeshDraft(mesh);
  for (const outline of outlines) {
    const ring = matchNeighbours(mesh, outline);
    let key = key2(id, FILL);
    for (const k of ring.map((v) => mesh.vertexKey[v]).sort((a, b) => a - b)) key = key3(key, k, ring.length);
    draft.begin(key, -1);
    for (const v of ring) draft.at(v, cornerAt(mesh, v));
    draft.end();
  }
  return draft.finish();
}

function cornerAt(mesh: Mesh, v: number): number {
  const t = topologyOf(mesh);
  return t.vertexCornerStart[v] < t.vertexCornerStart[v + 1] ? t.vertexCorner[t.vertexCornerStart[v]] : -1;
}

function fromEdges(mesh: Mesh, edges: ArrayLike<number>): number[][] {
  const t = topologyOf(mesh);
  const ev = t.edgeVertex;
  const list = Array.from(edges);
  if (list.length === 2) {
    const [a, b] = list.map((e) => [ev[2 * e], ev[2 * e + 1]]);
    const shared = a.filter((v) => b.includes(v));
    if (shared.length === 1) return [[a.find((v) => v !== shared[0])!, shared[0], b.find((v) => v !== shared[0])!]];
    const loop = edgeValence(t, list[0]) === 1 ? borderLoop(mesh, list[0]) : undefined;
    if (!loop?.edges.has(list[1]) || loop.vertices.length > 4) {
      // The shorter pairing of ends does not cross itself.
      const d = (v: number, w: number) => apart(mesh, v, w);
      return [
        d(a[1], b[0]) + d(b[1], a[0]) <= d(a[1], b[1]) + d(b[0], a[0])
          ? [a[0], a[1], b[0], b[1]]
          : [a[0], a[1], b[1], b[0]],
      ];
    }
  }
  const done = new Set<number>();
  const out: number[][] = [];
  for (const e of list) {
    if (done.has(e)) continue;
    if (edgeValence(t, e) !== 1)
      throw new Error('A picked edge has faces on both sides; only open edges can be filled.');
    const loop = borderLoop(mesh, e);
    if (!loop) throw new Error('The open border through a picked edge does not close, or branches.');
    loop.edges.forEach((x) => done.add(x));
    out.push(loop.vertices);
  }
  return out;
}

function borderLoop(mesh: Mesh, edge: number): { vertices: number[]; edges: Set<number> } | undefined {
  const t = topologyOf(mesh);
  const edges = new Set(edgeLoop(mesh, edge));
  const next = new Map<number, number[]>();
  for (const e of edges) {
    const a = t.edgeVertex[2 * e];
    const b = t.edgeVertex[2 * e + 1];
    next.set(a, [...(next.get(a) ?? []), b]);
    next.set(b, [...(next.get(b) ?? []), a]);
  }
  for (const n of next.values()) if (n.length !== 2) return undefined;
  const start = t.edgeVertex[2 * edge];
  const vertices = [start];
  let before = start;
  let at = t.edgeVertex[2 * edge + 1];
  while (at !== start) {
    vertices.push(at);
    const [a, b] = next.get(at)!;
    const to: number = a === before ? b : a;
    before = at;
    at = to;
  }
  return { vertices, edges };
}

/**
 * Outlines over picked vertices. Where open edges run between them, these say the order, whatever the shape: closed
 * borders are filled each on its own, pieces of borders are joined end to end. Of vertices without such edges the order
 * is that around their middle.
 */
function overVertices(mesh: Mesh, list: number[]): number[][] {
  if (list.length < 3) throw new Error('Pick three or more vertices to make a face.');
  const t = topologyOf(mesh);
  const picked = new Set(list);
  const beside = new Map<number, number[]>(list.map((v) => [v, []]));
  for (let e = 0; e < t.edgeCount; e++) {
    const a = t.edgeVertex[2 * e];
    const b = t.edgeVertex[2 * e + 1];
    if (edgeValence(t, e) !== 1 || !picked.has(a) || !picked.has(b)) continue;
    beside.get(a)!.push(b);
    beside.get(b)!.push(a);
  }
  // Where borders meet in a point, their edges do not say which way to go on.
  if ([...beside.values()].some((to) => to.length > 2)) return [aroundMiddle(mesh, list)];
  const closed: number[][] = [];
  const open: number[][] = [];
  const done = new Set<number>();
  const walk = (from: number): number[] => {
    const out: number[] = [];
    for (let v: number | undefined = from; v !== undefined; v = beside.get(v)!.find((w) => !done.has(w))) {
      done.add(v);
      out.push(v);
    }
    return out;
  };
  for (const v of list) if (!done.has(v) && beside.get(v)!.length < 2) open.push(walk(v));
  for (const v of list) if (!done.has(v)) closed.push(walk(v));
  if (open.length === 0) return closed;
  if (closed.length > 0)
    throw new Error('Some picked vertices make a whole border and others do not; fill them one after the other.');
  return [open.every((chain) => chain.length === 1) ? aroundMiddle(mesh, list) : endToEnd(mesh, open)];
}

/** Chains joined to one ring, each to the nearest free end. */
function endToEnd(mesh: Mesh, chains: number[][]): number[] {
  const rest = [...chains].sort((a, b) => b.length - a.length);
  const ring = rest.shift()!;
  while (rest.length > 0) {
    const end = ring[ring.length - 1];
    let best = 0;
    let turned = false;
    let nearest = Infinity;
    rest.forEach((chain, i) => {
      for (const last of [false, true]) {
        const d = apart(mesh, end, last ? chain[chain.length - 1] : chain[0]);
        if (d < nearest) [nearest, best, turned] = [d, i, last];
      }
    });
    const [chain] = rest.splice(best, 1);
    ring.push(...(turned ? chain.reverse() : chain));
  }
  return ring;
}

function apart({ positions: p }: Mesh, v: number, w: number): number {
  return Math.hypot(p[3 * v] - p[3 * w], p[3 * v + 1] - p[3 * w + 1], p[3 * v + 2] - p[3 * w + 2]);
}

/** Vertices in order around their middle, in their own plane. */
function aroundMiddle(mesh: Mesh, list: readonly number[]): number[] {
  const p = mesh.positions;
  const at = (v: number) => [p[3 * v], p[3 * v + 1], p[3 * v + 2]];
  const c = [0, 0, 0];
  for (const v of list)
    at(v).forEach((x, k) => {
      c[k] += x / list.length;
    });
  // The plane's normal: the largest cross product of two spokes.
  const spokes = list.map((v) => at(v).map((x, k) => x - c[k]));
  let n = [0, 0, 1];
  let best = -1;
  for (const a of spokes)
    for (const b of spokes) {
      const x = [a[1] * b[2] - a[2] * b[1], a[2] * b[0] - a[0] * b[2], a[0] * b[1] - a[1] * b[0]];
      const l = Math.hypot(...x);
      if (l > best) {
        best = l;
        n = x.map((q) => q / (l || 1));
      }
    }
  const u = spokes.reduce((a, b) => (Math.hypot(...b) > Math.hypot(...a) ? b : a));
  const w = [n[1] * u[2] - n[2] * u[1], n[2] * u[0] - n[0] * u[2], n[0] * u[1] - n[1] * u[0]];
  const turn = spokes.map((s) =>
    Math.atan2(s[0] * w[0] + s[1] * w[1] + s[2] * w[2], s[0] * u[0] + s[1] * u[1] + s[2] * u[2]),
  );
  return list
    .map((v, i) => [turn[i], v])
    .sort((a, b) => a[0] - b[0])
    .map((x) => x[1]);
}

/** Turned round if its edges run the same way as the faces beside them. */
function matchNeighbours(mesh: Mesh, ring: number[]): number[] {
  const t = topologyOf(mesh);
  let same = 0;
  let against = 0;
  for (let i = 0; i < ring.length; i++) {
    const a = ring[i];
    const b = ring[(i + 1) % ring.length];
    for (let k = t.vertexCornerStart[a]; k < t.vertexCornerStart[a + 1]; k++) {
      const c = t.vertexCorner[k];
      const f = t.cornerFace[c];
      const s = mesh.faceStart[f];
      const e = mesh.faceStart[f + 1];
      if (mesh.cornerVertex[c + 1 < e ? c + 1 : s] === b) same++;
      if (mesh.cornerVertex[c > s ? c - 1 : e - 1] === b) against++;
    }
  }
  return same > against ? [...ring].reverse() : ring;
}
