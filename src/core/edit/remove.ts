/**
 * Delete: faces go; with vertices or edges picked, every face that uses one. Vertices left without a face go with them.
 */
import { MeshDraft, keepVertices } from '../mesh/draft';
import type { Mesh } from '../mesh/mesh';
import { mask, type PickKind } from '../mesh/picks';
import { topologyOf } from '../mesh/topology';

export function remove(mesh: Mesh, kind: PickKind, indices: ArrayLike<number>): Mesh {
  const draft = new MeshDraft(mesh);
  const t = topologyOf(mesh);
  let loose = false;
  for (let i = 0; i < indices.length; i++) {
    const x = indices[i];
    if (kind === 'face') draft.drop(x);
    else if (kind === 'edge')
      for (let k = t.edgeCornerStart[x]; k < t.edgeCornerStart[x + 1]; k++) draft.drop(t.cornerFace[t.edgeCorner[k]]);
    else {
      if (t.vertexCornerStart[x] === t.vertexCornerStart[x + 1]) loose = true;
      for (let k = t.vertexCornerStart[x]; k < t.vertexCornerStart[x + 1]; k++)
        draft.drop(t.cornerFace[t.vertexCorner[k]]);
    }
  }
  if (!loose) return draft.finish();
  const rest = draft.finish();
  const gone = new Set<number>();
  const picked = mask(mesh.vertexCount, indices);
  for (let v = 0; v < mesh.vertexCount; v++) if (picked[v]) gone.add(mesh.vertexKey[v]);
  const used = mask(rest.vertexCount, rest.cornerVertex);
  return keepVertices(
    rest,
    Uint8Array.from(used, (u, v) => (u || !gone.has(rest.vertexKey[v]) ? 1 : 0)),
  );
}
