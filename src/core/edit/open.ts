/**
 * Open along edges: the faces on both sides let go of each other, and each side has vertices of its own. Where picked
 * edges end inside, their end stays joined. With vertices picked, every face round them gets its own.
 */
import { key2, key3, keyOf } from '../math/hash';
import { EVERY, pulse } from '../math/pulse';
import { MeshDraft } from '../mesh/draft';
import type { Mesh } from '../mesh/mesh';
import { mask, verticesOf } from '../mesh/picks';
import { previousCorner, topologyOf } from '../mesh/topology';

const OPEN = keyOf('open');

export function openAlong(mesh: Mesh, kind: 'edge' | 'vertex', indices: ArrayLike<number>, id: number): Mesh {
  const t = topologyOf(mesh);
  const { positions: p, cornerVertex: cv, faceKey, vertexKey } = mesh;
  const cut = kind === 'edge' ? mask(t.edgeCount, indices) : new Uint8Array(t.edgeCount).fill(1);
  const draft = new MeshDraft(mesh);
  const seed = key2(id, OPEN);
  const at = kind === 'edge' ? verticesOf(mesh, 'edge', indices) : Uint32Array.from(indices);
  for (let i = 0; i < at.length; i++) {
    if ((i & EVERY) === 0) pulse();
    const v = at[i];
    const corners = Array.from(t.vertexCorner.subarray(t.vertexCornerStart[v], t.vertexCornerStart[v + 1]));
    // Corners hang together over edges at the vertex that are not cut.
    const over = new Map<number, number[]>();
    corners.forEach((c, k) => {
      for (const e of [t.cornerEdge[c], t.cornerEdge[previousCorner(mesh, t.cornerFace[c], c)]]) {
        if (cut[e]) continue;
        const list = over.get(e);
        if (list) list.push(k);
        else over.set(e, [k]);
      }
    });
    const fan = corners.map((_, k) => k);
    const find = (k: number): number => (fan[k] === k ? k : (fan[k] = find(fan[k])));
    for (const list of over.values()) for (const k of list) fan[find(k)] = find(list[0]);
    const lowest = new Map<number, number>();
    corners.forEach((c, k) => {
      const key = faceKey[t.cornerFace[c]];
      const r = find(k);
      if (!lowest.has(r) || key < lowest.get(r)!) lowest.set(r, key);
    });
    if (lowest.size < 2) continue;
    // The fan with the lowest face keeps the vertex: told by keys, so that numbering does not matter.
    const first = Math.min(...lowest.values());
    const own = new Map<number, number>();
    for (const [r, key] of lowest)
      own.set(
        r,
        key === first ? v : draft.vertex(key3(seed, vertexKey[v], key), p[3 * v], p[3 * v + 1], p[3 * v + 2], v),
      );
    corners.forEach((c, k) => {
      const w = own.get(find(k))!;
      if (w !== cv[c]) draft.retarget(c, w);
    });
  }
  return draft.finish();
}
