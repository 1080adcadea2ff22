/** Move, turn and size vertices of a mesh. Connectivity, and so topology, is shared with the mesh before. */
import { EVERY, pulse } from '../math/pulse';
import { determinant, IDENTITY, type Affine } from '../math/affine';
import { gatherAttributes } from '../mesh/gather';
import { boundsOfPoints, centreOfBounds } from '../mesh/bounds';
import { NORMAL, type Mesh } from '../mesh/mesh';

/** Applies m to all vertices, or to those listed. */
export function transformVertices(mesh: Mesh, m: Affine, vertices?: ArrayLike<number>): Mesh {
  const positions = mesh.positions.slice();
  const n = vertices ? vertices.length : mesh.vertexCount;
  for (let i = 0; i < n; i++) {
    if ((i & EVERY) === 0) pulse();
    const o = 3 * (vertices ? vertices[i] : i);
    const x = positions[o];
    const y = positions[o + 1];
    const z = positions[o + 2];
    positions[o] = m[0] * x + m[1] * y + m[2] * z + m[3];
    positions[o + 1] = m[4] * x + m[5] * y + m[6] * z + m[7];
    positions[o + 2] = m[8] * x + m[9] * y + m[10] * z + m[11];
  }
  return mesh.moved(positions, vertices);
}

/** Middle of the bounds of the listed vertices: where handles stand and turns and sizes happen about. */
export function centreOf(mesh: Mesh, vertices: ArrayLike<number>): [number, number, number] {
  const b = boundsOfPoints(mesh.positions, vertices);
  return b ? centreOfBounds(b) : [0, 0, 0];
}

/** Turns every face inside out, keeping keys: corners and their attributes in the opposite order. */
export function flipFaces(mesh: Mesh): Mesh {
  const order = new Uint32Array(mesh.cornerCount);
  for (let f = 0; f < mesh.faceCount; f++) {
    if ((f & EVERY) === 0) pulse();
    const s = mesh.faceStart[f];
    const e = mesh.faceStart[f + 1];
    order[s] = s;
    for (let c = s + 1; c < e; c++) order[c] = e - (c - s);
  }
  const attributes = gatherAttributes(mesh.attributes, { corner: order });
  return mesh.with({ cornerVertex: mesh.cornerVertex.map((_, c) => mesh.cornerVertex[order[c]]), attributes });
}

/** The whole mesh put elsewhere: normals turn along, and a map that mirrors turns faces round. */
export function transformMesh(mesh: Mesh, m: Affine): Mesh {
  if (m === IDENTITY) return mesh;
  const out = transformVertices(mesh, m);
  const own = mesh.attributes[NORMAL];
  if (own) {
    // Normals turn with the cofactors of the map: right for uneven sizes too.
    const c = [
      m[5] * m[10] - m[6] * m[9],
      m[6] * m[8] - m[4] * m[10],
      m[4] * m[9] - m[5] * m[8],
      m[2] * m[9] - m[1] * m[10],
      m[0] * m[10] - m[2] * m[8],
      m[1] * m[8] - m[0] * m[9],
      m[1] * m[6] - m[2] * m[5],
      m[2] * m[4] - m[0] * m[6],
      m[0] * m[5] - m[1] * m[4],
    ];
    const data = new Float32Array(own.data.length);
    const from = own.data;
    const sign = determinant(m) < 0 ? -1 : 1;
    for (let i = 0; i < data.length; i += 3) {
      const x = c[0] * from[i] + c[1] * from[i + 1] + c[2] * from[i + 2];
      const y = c[3] * from[i] + c[4] * from[i + 1] + c[5] * from[i + 2];
      const z = c[6] * from[i] + c[7] * from[i + 1] + c[8] * from[i + 2];
      const l = (Math.hypot(x, y, z) || 1) * sign;
      data[i] = x / l;
      data[i + 1] = y / l;
      data[i + 2] = z / l;
    }
    const turned = out.withAttribute(NORMAL, { ...own, data });
    return sign < 0 ? flipFaces(turned) : turned;
  }
  return determinant(m) < 0 ? flipFaces(out) : out;
}
