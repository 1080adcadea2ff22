/**
 * Detach: the picked faces get vertices of their own along their border, or are copied out whole. Also: keeping only
 * some faces, and finding the loose parts of a mesh. Keys: detached faces keep theirs, border vertices take theirs from
 * the old ones; a copy's faces and vertices from their originals.
 */
import { EVERY, pulse } from '../math/pulse';
import { key2, keyOf } from '../math/hash';
import { MeshDraft } from '../mesh/draft';
import type { Mesh } from '../mesh/mesh';
import { mask } from '../mesh/picks';

const OFF = keyOf('detach');
const COPY = keyOf('copy out');

export function detach(mesh: Mesh, faces: ArrayLike<number>, copy: boolean, id: number): Mesh {
  const picked = mask(mesh.faceCount, faces);
  const shared = new Uint8Array(mesh.vertexCount);
  for (let f = 0; f < mesh.faceCount; f++)
    if (!picked[f] || copy)
      for (let c = mesh.faceStart[f]; c < mesh.faceStart[f + 1]; c++) shared[mesh.cornerVertex[c]] = 1;
  const draft = new MeshDraft(mesh);
  const seed = key2(id, copy ? COPY : OFF);
  const own = new Map<number, number>();
  const p = mesh.positions;
  const ownVertex = (v: number): number => {
    if (!shared[v]) return v;
    let w = own.get(v);
    if (w === undefined) {
      w = draft.vertex(key2(seed, mesh.vertexKey[v]), p[3 * v], p[3 * v + 1], p[3 * v + 2], v);
      if (copy) draft.lift(w, seed);
      own.set(v, w);
    }
    return w;
  };
  for (let f = 0; f < mesh.faceCount; f++) {
    if ((f & EVERY) === 0) pulse();
    if (!picked[f]) continue;
    if (!copy) {
      for (let c = mesh.faceStart[f]; c < mesh.faceStart[f + 1]; c++) {
        const v = mesh.cornerVertex[c];
        const w = ownVertex(v);
        if (w !== v) draft.retarget(c, w);
      }
      continue;
    }
    draft.begin(key2(seed, mesh.faceKey[f]), f);
    for (let c = mesh.faceStart[f]; c < mesh.faceStart[f + 1]; c++) draft.at(ownVertex(mesh.cornerVertex[c]), c);
    draft.end();
  }
  return draft.finish();
}

/** Only the faces whose mask is 1, with the vertices they use. */
export function keepFaces(mesh: Mesh, wanted: Uint8Array): Mesh {
  const draft = new MeshDraft(mesh);
  for (let f = 0; f < mesh.faceCount; f++) if (!wanted[f]) draft.drop(f);
  return draft.finish();
}
