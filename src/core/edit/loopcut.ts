/**
 * Loop cuts: rings of quads are cut across, `count` times, evenly, shifted by `slide`. Faces at the ends of a ring that
 * are not quads take the new vertices into their outline, so nothing cracks open.
 */
import { edgeKey, key2, key3, keyOf } from '../math/hash';
import { share, type Names } from '../make/naming';
import { MeshDraft } from '../mesh/draft';
import type { Mesh } from '../mesh/mesh';
import { edgeKeys } from '../mesh/picks';
import { edgeRing, straightAcross } from '../mesh/walks';
import { nextCorner, topologyOf } from '../mesh/topology';

export interface LoopCutOptions {
  count: number;
  /**
   * -1 .. 1: how far each cut moves towards its neighbour; more than 0 along the axis that the cut edges run along
   * most.
   */
  slide: number;
  /**
   * 0 .. 1: how much new vertices follow the curve that the edges before and after theirs run along, rather than their
   * own straight edge.
   */
  curve?: number;
  /**
   * `low`, `high`: as far from that side on every edge, as they are on the shortest; by shares of each where not said.
   */
  spacing?: 'share' | 'low' | 'high';
  /** How what is made is named, see `Names`; by ranks also the slide goes as it did then. */
  names?: Names;
}

const CUT = keyOf('loop cut');
/** Rings that cross multiply: 100 cuts through 100 of them would make a hundred million. */
const MOST_FACES = 4e6;

/** Cuts the ring through each of `edges`. An edge whose ring an earlier one has cut already is passed over. */
export function loopCut(mesh: Mesh, edges: ArrayLike<number>, options: LoopCutOptions, id: number): Mesh {
  const keys = Array.from(edges, (e) => edgeKeys(mesh)[e]);
  let now = mesh;
  for (const key of keys) {
    const at = now === mesh ? edgeKeys(mesh).indexOf(key) : edgeKeys(now).indexOf(key);
    if (at >= 0) now = cutRing(now, at, options, id);
  }
  return now;
}

/**
 * Whether the ring's edges, from their left end (as the ring passes) to their right, run against the axis they run
 * along most. Told from where things belong, not from where they are or how faces are numbered: neither an earlier move
 * nor another tool's order turns a cut round.
 */
function runsBackwards(mesh: Mesh, corners: readonly number[]): boolean {
  const t = topologyOf(mesh);
  const { at } = mesh.places;
  const sum = [0, 0, 0, 0];
  for (const c of corners) {
    const a = 4 * mesh.cornerVertex[c];
    const b = 4 * mesh.cornerVertex[nextCorner(mesh, t.cornerFace[c], c)];
    for (let k = 0; k < 4; k++) sum[k] += at[b + k] - at[a + k];
  }
  let most = 0;
  for (let k = 1; k < 4; k++) if (Math.abs(sum[k]) > Math.abs(sum[most]) + 1e-6) most = k;
  return sum[most] < 0;
}

const STRAIGHT = [0, 0, 0];

function edgeLength(mesh: Mesh, e: number): number {
  const { edgeVertex: ev } = topologyOf(mesh);
  const { positions: p } = mesh;
  const [a, b] = [3 * ev[2 * e], 3 * ev[2 * e + 1]];
  return Math.hypot(p[a] - p[b], p[a + 1] - p[b + 1], p[a + 2] - p[b + 2]);
}

/**
 * How far from its chord the curve through an edge and those straight on from it lies at a share of it (Catmull and Rom
 * 1974). Where nothing goes straight on the curve leaves that end as the edge does.
 */
function awayFromChord(mesh: Mesh, e: number, left: number, right: number, s: number, much: number): number[] {
  const { edgeVertex: ev } = topologyOf(mesh);
  const { positions: p } = mesh;
  const beyond = (v: number): number => {
    const next = straightAcross(mesh, e, v);
    if (next < 0) return -1;
    return ev[2 * next] === v ? ev[2 * next + 1] : ev[2 * next];
  };
  const [before, after] = [beyond(left), beyond(right)];
  const [h10, h11] = [s * (1 - s) * (1 - s), -s * s * (1 - s)];
  const h01 = s * s * (3 - 2 * s);
  return [0, 1, 2].map((k) => {
    const [l, r] = [p[3 * left + k], p[3 * right + k]];
    const m0 = before < 0 ? r - l : (r - p[3 * before + k]) / 2;
    const m1 = after < 0 ? r - l : (p[3 * after + k] - l) / 2;
    return much * ((h01 - s) * (r - l) + h10 * m0 + h11 * m1);
  });
}

function cutRing(mesh: Mesh, edge: number, options: LoopCutOptions, id: number): Mesh {
  const { count, slide, curve = 0, spacing = 'share', names = 'shares' } = options;
  const n = Math.max(1, Math.round(count));
  const ring = edgeRing(mesh, edge);
  if (ring.corners.length === 0) return mesh;
  const faces = mesh.faceCount + n * ring.corners.length;
  if (faces > MOST_FACES)
    throw new Error(
      `So many cuts would make ${Math.round(faces / 1e6)} million faces; ask for fewer, or pick fewer rings.`,
    );
  const t = topologyOf(mesh);
  const { cornerVertex, positions: p } = mesh;
  const vk = mesh.vertexKey;
  const seed = key2(id, CUT);
  const draft = new MeshDraft(mesh);
  const turned = names === 'shares' && (slide !== 0 || spacing !== 'share') && runsBackwards(mesh, ring.corners);
  const shift = ((turned ? -1 : 1) * Math.max(-0.999, Math.min(0.999, slide))) / (n + 1);
  /** The name of the k-th of n cuts, and of the k-th of the n + 1 parts between them. */
  const lineName = (k: number) => (names === 'shares' ? share(k, n + 1) : k);
  const partName = (k: number) => (names === 'shares' ? (k + 1) * 4096 + n + 1 : k);

  // Vertices on each crossed edge, from its left end (as the ring passes) to its right.
  const onEdge = new Map<number, { left: number; vertices: number[]; shares: number[] }>();
  const shortest = spacing === 'share' ? 0 : Math.min(...ring.edges.map((e) => edgeLength(mesh, e)));
  const fromRight = (spacing === 'high') !== turned;
  const cut = (e: number, left: number, right: number) => {
    if (onEdge.has(e)) return;
    const key = edgeKey(vk[left], vk[right]);
    const vertices: number[] = [];
    const shares: number[] = [];
    const long = spacing === 'share' ? 0 : edgeLength(mesh, e);
    for (let k = 1; k <= n; k++) {
      let s = k / (n + 1) + shift;
      if (long > 0) s = fromRight ? 1 - ((1 - s) * shortest) / long : (s * shortest) / long;
      shares.push(s);
      const off = curve === 0 ? STRAIGHT : awayFromChord(mesh, e, left, right, s, curve);
      const rank = vk[left] < vk[right] ? k : n + 1 - k;
      vertices.push(
        draft.vertex(
          key3(seed, key, lineName(rank)),
          p[3 * left] + (p[3 * right] - p[3 * left]) * s + off[0],
          p[3 * left + 1] + (p[3 * right + 1] - p[3 * left + 1]) * s + off[1],
          p[3 * left + 2] + (p[3 * right + 2] - p[3 * left + 2]) * s + off[2],
          left,
          right,
          s,
        ),
      );
    }
    onEdge.set(e, { left, vertices, shares });
    const chain = [
      vk[left],
      ...Array.from({ length: n }, (_, i) => key3(seed, key, lineName(vk[left] < vk[right] ? i + 1 : n - i))),
      vk[right],
    ];
    draft.split(
      key,
      chain.slice(1).map((b, i) => edgeKey(chain[i], b)),
    );
  };
  const quads = new Set<number>();
  for (const c of ring.corners) {
    const f = t.cornerFace[c];
    const c1 = nextCorner(mesh, f, c);
    const c2 = nextCorner(mesh, f, c1);
    const c3 = nextCorner(mesh, f, c2);
    quads.add(f);
    cut(t.cornerEdge[c], cornerVertex[c], cornerVertex[c1]);
    cut(t.cornerEdge[c2], cornerVertex[c3], cornerVertex[c2]);
  }
  /**
   * Vertices put on the edge that leaves corner c, in the direction of the face, each with its place between the
   * corners.
   */
  const along = (c: number): { vertex: number; at: number }[] => {
    const cutEdge = onEdge.get(t.cornerEdge[c]);
    if (!cutEdge) return [];
    const list = cutEdge.vertices.map((vertex, i) => ({ vertex, at: cutEdge.shares[i] }));
    return cutEdge.left === cornerVertex[c] ? list : list.reverse().map((x) => ({ vertex: x.vertex, at: 1 - x.at }));
  };
  for (const c of ring.corners) {
    const f = t.cornerFace[c];
    const c1 = nextCorner(mesh, f, c);
    const c2 = nextCorner(mesh, f, c1);
    const c3 = nextCorner(mesh, f, c2);
    const near = [{ vertex: cornerVertex[c], at: 0 }, ...along(c), { vertex: cornerVertex[c1], at: 1 }];
    const far = [
      { vertex: cornerVertex[c3], at: 0 },
      ...along(c2)
        .reverse()
        .map((x) => ({ vertex: x.vertex, at: 1 - x.at })),
      { vertex: cornerVertex[c2], at: 1 },
    ];
    const parts: number[] = [];
    // Counted from the side that holds the lowest key: the same side whichever way the ring goes round.
    const fromLeft =
      names === 'ranks' ||
      Math.min(vk[cornerVertex[c]], vk[cornerVertex[c3]]) < Math.min(vk[cornerVertex[c1]], vk[cornerVertex[c2]]);
    for (let k = 0; k <= n; k++) {
      const key = key3(seed, mesh.faceKey[f], partName(fromLeft ? k : n - k));
      parts.push(key);
      draft.begin(key, f);
      draft.at(near[k].vertex, c, c1, near[k].at);
      draft.at(near[k + 1].vertex, c, c1, near[k + 1].at);
      if (k === n) for (const x of along(c1)) draft.at(x.vertex, c1, c2, x.at); // a ring that crosses itself
      draft.at(far[k + 1].vertex, c3, c2, far[k + 1].at);
      draft.at(far[k].vertex, c3, c2, far[k].at);
      if (k === 0) for (const x of along(c3)) draft.at(x.vertex, c3, c, x.at);
      draft.end();
    }
    draft.split(mesh.faceKey[f], parts);
    draft.drop(f);
  }
  const touched = new Set<number>();
  for (const e of onEdge.keys())
    for (let i = t.edgeCornerStart[e]; i < t.edgeCornerStart[e + 1]; i++) {
      const f = t.cornerFace[t.edgeCorner[i]];
      if (!quads.has(f)) touched.add(f);
    }
  for (const f of touched) {
    draft.begin(mesh.faceKey[f], f);
    for (let c = mesh.faceStart[f]; c < mesh.faceStart[f + 1]; c++) {
      draft.at(cornerVertex[c], c);
      const after = nextCorner(mesh, f, c);
      for (const x of along(c)) draft.at(x.vertex, c, after, x.at);
    }
    draft.end();
    draft.drop(f);
  }
  return draft.finish();
}
