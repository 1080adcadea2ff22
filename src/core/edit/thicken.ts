/**
 * Thicken: a sheet becomes a body. The picked faces are laid a second time, turned round, at a distance, and rims close
 * the gap along their border. Even: every face goes the full distance, so walls are as thick as they are said to be
 * also round corners (up to 4 times at a sharp one).
 */
import { key2, key3, key4, keyOf } from '../math/hash';
import { EVERY, pulse } from '../math/pulse';
import { MeshDraft } from '../mesh/draft';
import type { Mesh } from '../mesh/mesh';
import { mask, verticesOf } from '../mesh/picks';
import { nextCorner, topologyOf } from '../mesh/topology';
import { evenNormal } from './reshape';

const INNER = keyOf('thicken inner');
const RIM = keyOf('thicken rim');
/** The share of the thickness that is laid outside. */
const OUTWARDS = { in: 0, both: 0.5, out: 1 } as const;

export interface Thicken {
  /** Metres, over 0. */
  by: number;
  /** Where the new thickness lies. */
  side: 'in' | 'out' | 'both';
  rims: boolean;
}

export function thicken(mesh: Mesh, faces: ArrayLike<number>, { by, side, rims }: Thicken, id: number): Mesh {
  if (by === 0) throw new Error('A thickness of 0 makes nothing thicker.');
  const t = topologyOf(mesh);
  const { positions: p, cornerVertex: cv, vertexKey: vk, faceStart } = mesh;
  const picked = mask(mesh.faceCount, faces);
  const draft = new MeshDraft(mesh);
  const own = side === 'in' ? undefined : draft.ownPositions();
  const to = new Map<number, number>();
  const vertices = verticesOf(mesh, 'face', faces);
  const inner = key2(id, INNER);
  for (let i = 0; i < vertices.length; i++) {
    if ((i & EVERY) === 0) pulse();
    const v = vertices[i];
    const n = evenNormal(mesh, v);
    const out = by * OUTWARDS[side];
    const back = out - by;
    const w = draft.vertex(
      key2(inner, vk[v]),
      p[3 * v] + n[0] * back,
      p[3 * v + 1] + n[1] * back,
      p[3 * v + 2] + n[2] * back,
      v,
    );
    draft.lift(w, id);
    if (own) for (let k = 0; k < 3; k++) own[3 * v + k] += n[k] * out;
    to.set(v, w);
  }
  const rim = key2(id, RIM);
  const made = new Set<number>();
  for (let f = 0; f < mesh.faceCount; f++) {
    if ((f & EVERY) === 0) pulse();
    if (!picked[f]) continue;
    draft.begin(key2(inner, mesh.faceKey[f]), f);
    for (let c = faceStart[f + 1] - 1; c >= faceStart[f]; c--) draft.at(to.get(cv[c])!, c);
    draft.end();
    if (!rims) continue;
    for (let c = faceStart[f]; c < faceStart[f + 1]; c++) {
      const e = t.cornerEdge[c];
      let beside = 0;
      for (let q = t.edgeCornerStart[e]; q < t.edgeCornerStart[e + 1]; q++)
        beside += picked[t.cornerFace[t.edgeCorner[q]]];
      if (beside !== 1) continue;
      const d = nextCorner(mesh, f, c);
      let key = key3(rim, vk[cv[c]], vk[cv[d]]);
      if (made.has(key)) key = key4(rim, vk[cv[c]], vk[cv[d]], mesh.faceKey[f]);
      made.add(key);
      draft.begin(key, f);
      draft.at(cv[d], d);
      draft.at(cv[c], c);
      draft.at(to.get(cv[c])!, c);
      draft.at(to.get(cv[d])!, d);
      draft.end();
    }
  }
  return draft.finish();
}
