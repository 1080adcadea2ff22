/**
 * The other side of a pick: the elements that lie where its mirror image would, by place. An edge or a face is the one
 * whose vertices are all found.
 */
import type { Axis } from '../math/affine';
import type { Mesh } from '../mesh/mesh';
import { mirrorImages } from '../mesh/mirrorimages';
import type { PickKind } from '../mesh/picks';
import { topologyOf } from '../mesh/topology';

/** Elements at the mirror image of others, and how many of those have none. */
export function mirrored(
  mesh: Mesh,
  kind: PickKind,
  indices: ArrayLike<number>,
  axis: Axis,
): { found: Uint32Array; missing: number } {
  const image = mirrorImages(mesh, axis);
  const t = topologyOf(mesh);
  const found = new Set<number>();
  let missing = 0;
  const around = (v: number, visit: (corner: number) => void) => {
    for (let i = t.vertexCornerStart[v]; i < t.vertexCornerStart[v + 1]; i++) visit(t.vertexCorner[i]);
  };
  for (let i = 0; i < indices.length; i++) {
    const e = indices[i];
    let hit = -1;
    if (kind === 'vertex') hit = image[e];
    else if (kind === 'edge') {
      const [a, b] = [image[t.edgeVertex[2 * e]], image[t.edgeVertex[2 * e + 1]]];
      if (a >= 0 && b >= 0) hit = edgeBetween(mesh, a, b);
    } else {
      const ring = Array.from(mesh.cornerVertex.subarray(mesh.faceStart[e], mesh.faceStart[e + 1]), (v) => image[v]);
      const wanted = new Set(ring);
      if (!ring.includes(-1))
        around(ring[0], (c) => {
          const f = t.cornerFace[c];
          const own = mesh.cornerVertex.subarray(mesh.faceStart[f], mesh.faceStart[f + 1]);
          if (own.length === ring.length && own.every((v) => wanted.has(v))) hit = f;
        });
    }
    if (hit >= 0) found.add(hit);
    else missing++;
  }
  return { found: Uint32Array.from(found).sort(), missing };
}

function edgeBetween(mesh: Mesh, a: number, b: number): number {
  const t = topologyOf(mesh);
  for (let i = t.vertexCornerStart[a]; i < t.vertexCornerStart[a + 1]; i++) {
    const c = t.vertexCorner[i];
    const f = t.cornerFace[c];
    const before = c > mesh.faceStart[f] ? c - 1 : mesh.faceStart[f + 1] - 1;
    for (const e of [t.cornerEdge[c], t.cornerEdge[before]])
      if (
        t.edgeVertex[2 * e] + t.edgeVertex[2 * e + 1] === a + b &&
        (t.edgeVertex[2 * e] === b || t.edgeVertex[2 * e + 1] === b)
      )
        return e;
  }
  return -1;
}
