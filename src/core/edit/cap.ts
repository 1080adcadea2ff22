/**
 * Cap: open borders closed by one face, by a fan round their middle, or by a grid of quads between four sides of them.
 */
import { key2, key3, key4, keyOf } from '../math/hash';
import { at, type Vector } from '../math/vector';
import { MeshDraft } from '../mesh/draft';
import type { Mesh } from '../mesh/mesh';
import { type PickKind } from '../mesh/picks';
import { convert } from '../mesh/walks';
import { edgeValence, nextCorner, topologyOf } from '../mesh/topology';

const CAP = keyOf('cap');

export type CapRule = 'face' | 'fan' | 'grid';

/**
 * The open borders that edges are part of, each as corners in the order of the faces beside it. Where borders meet in a
 * vertex they are parted there, so none passes a vertex twice; what does not close is left out.
 */
export function openBorders(mesh: Mesh, edges: ArrayLike<number>): number[][] {
  const t = topologyOf(mesh);
  const { cornerVertex: cv } = mesh;
  const wanted = new Set<number>();
  for (let i = 0; i < edges.length; i++) if (edgeValence(t, edges[i]) === 1) wanted.add(edges[i]);
  const done = new Set<number>();
  const out: number[][] = [];
  /** The next open corner after this one's end, going round the vertex through the faces. */
  const next = (c: number): number => {
    let d = nextCorner(mesh, t.cornerFace[c], c);
    for (let guard = 0; guard < 10000; guard++) {
      const e = t.cornerEdge[d];
      const s = t.edgeCornerStart[e];
      const n = t.edgeCornerStart[e + 1] - s;
      if (n === 1) return d;
      if (n !== 2) return -1;
      const o = t.edgeCorner[s] === d ? t.edgeCorner[s + 1] : t.edgeCorner[s];
      if (cv[o] === cv[d]) return -1;
      d = nextCorner(mesh, t.cornerFace[o], o);
    }
    return -1;
  };
  for (const e of wanted) {
    if (done.has(e)) continue;
    const first = t.edgeCorner[t.edgeCornerStart[e]];
    let ring: number[] = [];
    const found: number[][] = [];
    let c = first;
    do {
      // A border that comes back to a vertex goes round a hole of its own from there.
      const before = ring.findIndex((d) => cv[d] === cv[c]);
      if (before >= 0) {
        found.push(ring.slice(before));
        ring = ring.slice(0, before);
      }
      ring.push(c);
      if (done.has(t.cornerEdge[c])) c = -1;
      else {
        done.add(t.cornerEdge[c]);
        c = next(c);
      }
    } while (c >= 0 && c !== first);
    if (c === first) out.push(...[...found, ring].filter((r) => r.length >= 3));
  }
  return out;
}

/** `turn`: where the sides of a grid begin, in vertices on from where they would of themselves. */
export function cap(
  mesh: Mesh,
  kind: PickKind,
  indices: ArrayLike<number>,
  rule: CapRule,
  turn: number,
  id: number,
): Mesh {
  const edges = kind === 'edge' ? indices : convert(mesh, kind, indices, 'edge');
  const borders = openBorders(mesh, edges);
  if (borders.length === 0) throw new Error('Pick an edge of an open border to cap it.');
  const draft = new MeshDraft(mesh);
  const seed = key2(id, CAP);
  for (const border of borders) {
    // A cap runs against the faces beside it.
    const ring = [...border].reverse();
    const names = ring.map((c) => mesh.vertexKey[mesh.cornerVertex[c]]).sort((a, b) => a - b);
    const own = names.reduce(key2, seed);
    if (rule === 'grid' && ring.length >= 4 && ring.length % 2 === 0) grid(mesh, draft, ring, turn, own);
    else if (rule === 'fan' || rule === 'grid') fan(mesh, draft, ring, own);
    else {
      draft.begin(own, topologyOf(mesh).cornerFace[ring[0]]);
      for (const c of ring) draft.at(mesh.cornerVertex[c], c);
      draft.end();
    }
  }
  return draft.finish();
}

function fan(mesh: Mesh, draft: MeshDraft, ring: readonly number[], seed: number): void {
  const { cornerVertex: cv, positions: p } = mesh;
  const middle: Vector = [0, 0, 0];
  for (const c of ring) for (let k = 0; k < 3; k++) middle[k] += p[3 * cv[c] + k] / ring.length;
  const v = draft.vertex(key2(seed, 1), middle[0], middle[1], middle[2], draft.blend(ring.map((c) => cv[c])));
  const inside = draft.blend(ring);
  const face = topologyOf(mesh).cornerFace;
  ring.forEach((c, i) => {
    const d = ring[(i + 1) % ring.length];
    draft.begin(key3(seed, mesh.vertexKey[cv[c]], mesh.vertexKey[cv[d]]), face[c]);
    draft.at(cv[c], c);
    draft.at(cv[d], d);
    draft.at(v, inside);
    draft.end();
  });
}

/** Coons's patch (1967): between four sides of the border, of which those that face each other have as many edges. */
function grid(mesh: Mesh, draft: MeshDraft, ring: readonly number[], turn: number, seed: number): void {
  const { cornerVertex: cv, positions: p, vertexKey: vk } = mesh;
  const n = ring.length;
  const start = (((sharpest(mesh, ring) + Math.round(turn)) % n) + n) % n;
  const w = Math.max(1, Math.min(n / 2 - 1, Math.round(widthFrom(mesh, ring, start))));
  const h = n / 2 - w;
  const corner = (i: number) => ring[(start + i + n) % n];
  // Sides: along the bottom, up on the right, back on top, down on the left.
  const bottom = (i: number) => corner(i);
  const right = (j: number) => corner(w + j);
  const top = (i: number) => corner(w + h + (w - i));
  const left = (j: number) => corner(2 * w + h + (h - j));
  const onBorder = (i: number, j: number): number => {
    if (j === 0) return bottom(i);
    if (j === h) return top(i);
    if (i === 0) return left(j);
    return i === w ? right(j) : -1;
  };
  const made = new Map<number, { v: number; c: number }>();
  const point = (i: number, j: number): { v: number; c: number } => {
    const edge = onBorder(i, j);
    if (edge >= 0) return { v: cv[edge], c: edge };
    const name = j * (w + 1) + i;
    const had = made.get(name);
    if (had) return had;
    const [u, t] = [i / w, j / h];
    const from = [bottom(i), top(i), left(j), right(j), bottom(0), bottom(w), top(0), top(w)];
    const weight = [1 - t, t, 1 - u, u, -(1 - u) * (1 - t), -u * (1 - t), -(1 - u) * t, -u * t];
    const q: Vector = [0, 0, 0];
    from.forEach((c, x) => {
      for (let k = 0; k < 3; k++) q[k] += weight[x] * p[3 * cv[c] + k];
    });
    const blendV = draft.blend(
      from.map((c) => cv[c]),
      weight,
    );
    const out = { v: draft.vertex(key4(seed, i, j, 7), q[0], q[1], q[2], blendV), c: draft.blend(from, weight) };
    made.set(name, out);
    return out;
  };
  const face = topologyOf(mesh).cornerFace;
  for (let j = 0; j < h; j++)
    for (let i = 0; i < w; i++) {
      const quad = [point(i, j), point(i + 1, j), point(i + 1, j + 1), point(i, j + 1)];
      draft.begin(key4(seed, i, j, vk[cv[bottom(0)]]), face[bottom(i)]);
      for (const { v, c } of quad) draft.at(v, c);
      draft.end();
    }
}

const turnAt = (mesh: Mesh, ring: readonly number[], i: number): number => {
  const n = ring.length;
  const [a, b, c] = [i + n - 1, i, i + 1].map((k) => at(mesh.positions, mesh.cornerVertex[ring[k % n]]));
  let dot = 0;
  let l = 0;
  let m = 0;
  for (let k = 0; k < 3; k++) {
    dot += (b[k] - a[k]) * (c[k] - b[k]);
    l += (b[k] - a[k]) ** 2;
    m += (c[k] - b[k]) ** 2;
  }
  return l > 0 && m > 0 ? Math.acos(Math.max(-1, Math.min(1, dot / Math.sqrt(l * m)))) : 0;
};

/** The corner at which a border turns most; of equals the one with the lowest key. */
function sharpest(mesh: Mesh, ring: readonly number[]): number {
  let best = 0;
  const key = (i: number) => mesh.vertexKey[mesh.cornerVertex[ring[i]]];
  for (let i = 1; i < ring.length; i++) {
    const more = turnAt(mesh, ring, i) - turnAt(mesh, ring, best);
    if (more > 1e-4 || (more > -1e-4 && key(i) < key(best))) best = i;
  }
  return best;
}

/**
 * How many edges on the next corner is: of those that leave both sides of the grid at least one, where it turns most
 * there and across.
 */
function widthFrom(mesh: Mesh, ring: readonly number[], start: number): number {
  const n = ring.length;
  const half = n / 2;
  let best = Math.max(1, Math.floor(half / 2));
  let most = 0.35;
  for (let w = 1; w < half; w++) {
    const turn = turnAt(mesh, ring, (start + w) % n) + turnAt(mesh, ring, (start + half + w) % n);
    if (turn > most + 1e-4) [best, most] = [w, turn];
  }
  return best;
}
