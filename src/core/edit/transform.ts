/** Move, turn and size vertices of a mesh. Connectivity, and so topology, is shared with the mesh before. */
import { transformCurves } from '../curve/curves';
import type { Affine } from '../math/affine';
import type { Mesh } from '../mesh/mesh';

/** Applies m to all vertices, or to those listed. */
export function transformVertices(mesh: Mesh, m: Affine, vertices?: ArrayLike<number>): Mesh {
  const positions = mesh.positions.slice();
  const n = vertices ? vertices.length : mesh.vertexCount;
  for (let i = 0; i < n; i++) {
    const o = 3 * (vertices ? vertices[i] : i);
    const x = positions[o],
      y = positions[o + 1],
      z = positions[o + 2];
    positions[o] = m[0] * x + m[1] * y + m[2] * z + m[3];
    positions[o + 1] = m[4] * x + m[5] * y + m[6] * z + m[7];
    positions[o + 2] = m[8] * x + m[9] * y + m[10] * z + m[11];
  }
  return mesh.with({ positions, ...(mesh.curves && !vertices ? { curves: transformCurves(mesh.curves, m) } : {}) });
}

/** Middle of the bounds of the listed vertices: where handles stand and turns and sizes happen about. */
export function centreOf(mesh: Mesh, vertices: ArrayLike<number>): [number, number, number] {
  const p = mesh.positions;
  const lo = [Infinity, Infinity, Infinity],
    hi = [-Infinity, -Infinity, -Infinity];
  for (let i = 0; i < vertices.length; i++)
    for (let k = 0; k < 3; k++) {
      const x = p[3 * vertices[i] + k];
      if (x < lo[k]) lo[k] = x;
      if (x > hi[k]) hi[k] = x;
    }
  return vertices.length ? [(lo[0] + hi[0]) / 2, (lo[1] + hi[1]) / 2, (lo[2] + hi[2]) / 2] : [0, 0, 0];
}

/** Turns every face inside out, keeping keys: corners and their attributes in the opposite order. */
export function flipFaces(mesh: Mesh): Mesh {
  const order = new Uint32Array(mesh.cornerCount);
  for (let f = 0; f < mesh.faceCount; f++) {
    const s = mesh.faceStart[f],
      e = mesh.faceStart[f + 1];
    order[s] = s;
    for (let c = s + 1; c < e; c++) order[c] = e - (c - s);
  }
  const attributes = { ...mesh.attributes };
  for (const [name, a] of Object.entries(attributes)) {
    if (a.domain !== 'corner') continue;
    const data = a.data.slice();
    for (let c = 0; c < order.length; c++)
      for (let k = 0; k < a.width; k++) data[c * a.width + k] = a.data[order[c] * a.width + k];
    attributes[name] = { ...a, data };
  }
  return mesh.with({ cornerVertex: mesh.cornerVertex.map((_, c) => mesh.cornerVertex[order[c]]), attributes });
}
