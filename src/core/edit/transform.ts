/** Move, turn and size vertices of a mesh. Connectivity, and so topology, is shared with the mesh before. */
import type { Mesh } from '../mesh/mesh';

export type Axis = 'x' | 'y' | 'z';
export const axisIndex = (axis: Axis): number => 'xyz'.indexOf(axis);

/** Row-major 3 × 4. */
export type Affine = readonly [number, number, number, number, number, number, number, number, number, number, number, number];
export const IDENTITY: Affine = [1, 0, 0, 0, 0, 1, 0, 0, 0, 0, 1, 0];

export const translation = (x: number, y: number, z: number): Affine => [1, 0, 0, x, 0, 1, 0, y, 0, 0, 1, z];

/** Turn about an axis by an angle in radians, counter-clockwise seen against the axis. */
export function rotation(axis: Axis, angle: number): Affine {
  const c = Math.cos(angle), s = Math.sin(angle);
  if (axis === 'x') return [1, 0, 0, 0, 0, c, -s, 0, 0, s, c, 0];
  if (axis === 'y') return [c, 0, s, 0, 0, 1, 0, 0, -s, 0, c, 0];
  return [c, -s, 0, 0, s, c, 0, 0, 0, 0, 1, 0];
}

export const scaling = (x: number, y: number, z: number): Affine => [x, 0, 0, 0, 0, y, 0, 0, 0, 0, z, 0];

/** First b, then a. */
export function compose(a: Affine, b: Affine): Affine {
  const out = new Array<number>(12);
  for (let r = 0; r < 3; r++) {
    for (let c = 0; c < 4; c++) {
      out[4 * r + c] = a[4 * r] * b[c] + a[4 * r + 1] * b[4 + c] + a[4 * r + 2] * b[8 + c] + (c === 3 ? a[4 * r + 3] : 0);
    }
  }
  return out as unknown as Affine;
}

export const about = (m: Affine, x: number, y: number, z: number): Affine =>
  compose(translation(x, y, z), compose(m, translation(-x, -y, -z)));

/** Determinant of the linear part: negative where the map mirrors. */
export const determinant = (m: Affine): number =>
  m[0] * (m[5] * m[10] - m[6] * m[9]) - m[1] * (m[4] * m[10] - m[6] * m[8]) + m[2] * (m[4] * m[9] - m[5] * m[8]);

/** Applies m to all vertices, or to those listed. */
export function transformVertices(mesh: Mesh, m: Affine, vertices?: ArrayLike<number>): Mesh {
  const positions = mesh.positions.slice();
  const n = vertices ? vertices.length : mesh.vertexCount;
  for (let i = 0; i < n; i++) {
    const o = 3 * (vertices ? vertices[i] : i);
    const x = positions[o], y = positions[o + 1], z = positions[o + 2];
    positions[o] = m[0] * x + m[1] * y + m[2] * z + m[3];
    positions[o + 1] = m[4] * x + m[5] * y + m[6] * z + m[7];
    positions[o + 2] = m[8] * x + m[9] * y + m[10] * z + m[11];
  }
  return mesh.with({ positions });
}

/** Middle of the bounds of the listed vertices: where handles stand and turns and sizes happen about. */
export function centreOf(mesh: Mesh, vertices: ArrayLike<number>): [number, number, number] {
  const p = mesh.positions;
  const lo = [Infinity, Infinity, Infinity], hi = [-Infinity, -Infinity, -Infinity];
  for (let i = 0; i < vertices.length; i++) for (let k = 0; k < 3; k++) {
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
    const s = mesh.faceStart[f], e = mesh.faceStart[f + 1];
    order[s] = s;
    for (let c = s + 1; c < e; c++) order[c] = e - (c - s);
  }
  const attributes = { ...mesh.attributes };
  for (const [name, a] of Object.entries(attributes)) {
    if (a.domain !== 'corner') continue;
    const data = a.data.slice();
    for (let c = 0; c < order.length; c++) for (let k = 0; k < a.width; k++) data[c * a.width + k] = a.data[order[c] * a.width + k];
    attributes[name] = { ...a, data };
  }
  return mesh.with({ cornerVertex: mesh.cornerVertex.map((_, c) => mesh.cornerVertex[order[c]]), attributes });
}
