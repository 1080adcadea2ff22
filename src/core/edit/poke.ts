/** Poke: each picked face falls into triangles round a vertex in its middle, which may stand out or in. */
import { key2, key3, keyOf } from '../math/hash';
import { EVERY, pulse } from '../math/pulse';
import { MeshDraft } from '../mesh/draft';
import type { Mesh } from '../mesh/mesh';
import { faceNormal } from '../mesh/normals';
import { nextCorner } from '../mesh/topology';

const POKE = keyOf('poke');

/** `by`: metres along the face's normal. Triangles stay in place of a face's key by lineage. */
export function poke(mesh: Mesh, faces: ArrayLike<number>, by: number, id: number): Mesh {
  const draft = new MeshDraft(mesh);
  const seed = key2(id, POKE);
  const normal = new Float32Array(3);
  const { positions: p, cornerVertex: cv } = mesh;
  for (let i = 0; i < faces.length; i++) {
    if ((i & EVERY) === 0) pulse();
    const f = faces[i];
    const s = mesh.faceStart[f];
    const e = mesh.faceStart[f + 1];
    const corners = Array.from({ length: e - s }, (_, k) => s + k);
    const middle = [0, 0, 0];
    for (const c of corners) for (let k = 0; k < 3; k++) middle[k] += p[3 * cv[c] + k] / corners.length;
    faceNormal(mesh, f, normal, 0);
    const key = key2(seed, mesh.faceKey[f]);
    const v = draft.vertex(
      key,
      middle[0] + normal[0] * by,
      middle[1] + normal[1] * by,
      middle[2] + normal[2] * by,
      draft.blend(corners.map((c) => cv[c])),
    );
    const inside = draft.blend(corners);
    const parts: number[] = [];
    for (const c of corners) {
      const n = nextCorner(mesh, f, c);
      const part = key3(key, mesh.vertexKey[cv[c]], mesh.vertexKey[cv[n]]);
      parts.push(part);
      draft.begin(part, f);
      draft.at(cv[c], c);
      draft.at(cv[n], n);
      draft.at(v, inside);
      draft.end();
    }
    draft.split(mesh.faceKey[f], parts);
    draft.drop(f);
  }
  return draft.finish();
}
