/** Islands by the names of the sets that they lie in whole. */
import type { Mesh } from '../../../core/mesh/mesh';
import { resolve } from '../../../core/mesh/picks';
import type { PieceSet } from '../../../document/types';

export interface IslandName {
  name: string;
  /** A face of it, and the middle of its corners on the sheet. */
  face: number;
  u: number;
  v: number;
}

/** A set of faces names every island that has no other face; of several sets all are told. */
export function namesOfIslands(
  mesh: Mesh,
  uv: ArrayLike<number>,
  { ofFace, count }: { ofFace: ArrayLike<number>; count: number },
  sets: readonly PieceSet[],
): IslandName[] {
  const faces = sets.filter((s) => s.pick.kind === 'face');
  if (faces.length === 0) return [];
  const all = new Uint32Array(count);
  for (let f = 0; f < mesh.faceCount; f++) all[ofFace[f]]++;
  const named = new Map<number, string[]>();
  for (const { name, pick } of faces) {
    const own = new Map<number, number>();
    for (const f of resolve(mesh, pick).indices) own.set(ofFace[f], (own.get(ofFace[f]) ?? 0) + 1);
    for (const [island, n] of own) if (n === all[island]) named.set(island, [...(named.get(island) ?? []), name]);
  }
  const out = new Map<number, IslandName & { n: number }>();
  for (let f = 0; f < mesh.faceCount; f++) {
    const names = named.get(ofFace[f]);
    if (!names) continue;
    const label = out.get(ofFace[f]) ?? { name: names.join(', '), face: f, u: 0, v: 0, n: 0 };
    out.set(ofFace[f], label);
    for (let c = mesh.faceStart[f]; c < mesh.faceStart[f + 1]; c++) {
      label.u += uv[2 * c];
      label.v += uv[2 * c + 1];
      label.n++;
    }
  }
  return [...out.values()].map(({ n, ...label }) => ({ ...label, u: label.u / n, v: label.v / n }));
}
