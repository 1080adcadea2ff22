/**
 * The other side of a pick: the elements that lie where its mirror image would, by place. Vertices are found in a grid of cells as wide as the
 * tolerance; an edge or a face is the one whose vertices are all found.
 */
import { EVERY, pulse } from '../math/pulse';
import { axisIndex, type Axis } from '../math/affine';
import type { Mesh } from '../mesh/mesh';
import { boundsOfMesh } from '../mesh/moved';
import type { PickKind } from '../mesh/picks';
import { topologyOf } from '../mesh/topology';

/** For each vertex the one that stands at its mirror image across the plane through the origin, −1 for none. */
export function mirrorImages(mesh: Mesh, axis: Axis, tolerance = toleranceFor(mesh)): Int32Array {
  const k = axisIndex(axis);
  const { positions: p, vertexCount } = mesh;
  const cell = Math.max(2 * tolerance, 1e-30);
  const at = new Map<number, number[]>();
  // Cells that share a name do no harm: distances decide.
  const name = (x: number, y: number, z: number) =>
    (Math.imul(x | 0, 73856093) ^ Math.imul(y | 0, 19349663) ^ Math.imul(z | 0, 83492791)) >>> 0;
  const cellOf = (x: number) => Math.floor(x / cell);
  for (let v = 0; v < vertexCount; v++) {
    if ((v & EVERY) === 0) pulse();
    const key = name(cellOf(p[3 * v]), cellOf(p[3 * v + 1]), cellOf(p[3 * v + 2]));
    const list = at.get(key);
    if (list) list.push(v);
    else at.set(key, [v]);
  }
  const out = new Int32Array(vertexCount).fill(-1);
  const q = [0, 0, 0];
  for (let v = 0; v < vertexCount; v++) {
    if ((v & EVERY) === 0) pulse();
    for (let i = 0; i < 3; i++) q[i] = p[3 * v + i];
    q[k] = -q[k];
    let near = tolerance * tolerance;
    for (let x = cellOf(q[0] - tolerance); x <= cellOf(q[0] + tolerance); x++)
      for (let y = cellOf(q[1] - tolerance); y <= cellOf(q[1] + tolerance); y++)
        for (let z = cellOf(q[2] - tolerance); z <= cellOf(q[2] + tolerance); z++)
          for (const w of at.get(name(x, y, z)) ?? []) {
            const d = (p[3 * w] - q[0]) ** 2 + (p[3 * w + 1] - q[1]) ** 2 + (p[3 * w + 2] - q[2]) ** 2;
            if (d <= near) {
              near = d;
              out[v] = w;
            }
          }
  }
  return out;
}

/** A ten-thousandth of a mesh's longest side. */
export function toleranceFor(mesh: Mesh): number {
  const b = boundsOfMesh(mesh);
  return 1e-4 * Math.max(b.max[0] - b.min[0], b.max[1] - b.min[1], b.max[2] - b.min[2], 1e-9);
}

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
