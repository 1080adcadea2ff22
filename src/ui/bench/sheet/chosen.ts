/** What of a layout is meant by what is picked of it: the islands it is of, the faces at it, its vertices and corners. */
import type { Mesh } from '../../../core/mesh';
import type { PickKind } from '../../../core/mesh/picks';
import { topologyOf } from '../../../core/mesh/topology';
import type { Box } from './snapping';

/** Faces at elements of a kind; each once. */
export function facesAt(mesh: Mesh, kind: PickKind, indices: ArrayLike<number>): Set<number> {
  if (kind === 'face') return new Set(Array.from(indices));
  const t = topologyOf(mesh);
  const [start, list] = kind === 'vertex' ? [t.vertexCornerStart, t.vertexCorner] : [t.edgeCornerStart, t.edgeCorner];
  const out = new Set<number>();
  for (let i = 0; i < indices.length; i++)
    for (let k = start[indices[i]]; k < start[indices[i] + 1]; k++) out.add(t.cornerFace[list[k]]);
  return out;
}

/** All faces of the islands that some faces are of, in their order. */
export function facesOfIslands(ofFace: ArrayLike<number>, faces: Iterable<number>): number[] {
  const islands = new Set<number>();
  for (const f of faces) islands.add(ofFace[f]);
  const out: number[] = [];
  if (islands.size > 0) for (let f = 0; f < ofFace.length; f++) if (islands.has(ofFace[f])) out.push(f);
  return out;
}

export function verticesAt(mesh: Mesh, kind: PickKind, indices: ArrayLike<number>): Set<number> {
  if (kind === 'vertex') return new Set(Array.from(indices));
  const out = new Set<number>();
  const { edgeVertex } = topologyOf(mesh);
  for (let i = 0; i < indices.length; i++) {
    const x = indices[i];
    if (kind === 'edge') out.add(edgeVertex[2 * x]).add(edgeVertex[2 * x + 1]);
    else for (let c = mesh.faceStart[x]; c < mesh.faceStart[x + 1]; c++) out.add(mesh.cornerVertex[c]);
  }
  return out;
}

export function cornersOf({ faceStart }: Mesh, faces: readonly number[]): Uint32Array {
  let count = 0;
  for (const f of faces) count += faceStart[f + 1] - faceStart[f];
  const out = new Uint32Array(count);
  let at = 0;
  for (const f of faces) for (let c = faceStart[f]; c < faceStart[f + 1]; c++) out[at++] = c;
  return out;
}

/** All faces of the islands that have a corner within a part of the sheet. */
export function facesWithin(mesh: Mesh, uv: ArrayLike<number>, ofFace: ArrayLike<number>, part: Box): number[] {
  const { cornerFace } = topologyOf(mesh);
  const inside = new Set<number>();
  for (let c = 0; c < mesh.cornerCount; c++) {
    const [u, v] = [uv[2 * c], uv[2 * c + 1]];
    if (u >= part.x0 && u <= part.x1 && v >= part.y0 && v <= part.y1) inside.add(cornerFace[c]);
  }
  return facesOfIslands(ofFace, inside);
}
