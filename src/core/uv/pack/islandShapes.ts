/** The islands of a layout as shapes to be packed. */
import type { Mesh } from '../../mesh/mesh';
import { triangulate } from '../../mesh/triangulate';
import type { PackIsland } from './cells/boxes';
import { islandsOf } from '../measure';

export interface IslandShapes {
  ofFace: Uint32Array;
  /** Of each island its corners, in the order of its points. */
  corners: number[][];
  shapes: PackIsland[];
}

export function islandShapes(mesh: Mesh, uv: Float32Array): IslandShapes {
  const t = triangulate(mesh);
  const { ofFace, count } = islandsOf(mesh, uv);
  const number = new Int32Array(mesh.cornerCount);
  const corners: number[][] = Array.from({ length: count }, () => []);
  for (let f = 0; f < mesh.faceCount; f++)
    for (let c = mesh.faceStart[f]; c < mesh.faceStart[f + 1]; c++) number[c] = corners[ofFace[f]].push(c) - 1;
  const triangles: number[][] = Array.from({ length: count }, () => []);
  t.face.forEach((f, i) => {
    for (let k = 0; k < 3; k++) triangles[ofFace[f]].push(number[t.corners[3 * i + k]]);
  });
  const shapes = corners.map((list, i): PackIsland => ({
    points: Float64Array.from(list.flatMap((c) => [uv[2 * c], uv[2 * c + 1]])),
    triangles: Uint32Array.from(triangles[i]),
  }));
  return { ofFace, corners, shapes };
}
