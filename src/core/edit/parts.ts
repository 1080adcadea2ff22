/**
 * A mesh parted along borders of values, parts pushed apart, and brought onto plain forms. Keys stay, but for vertices
 * that were shared.
 */
import { key2, keyOf } from '../math/hash';
import { EVERY, pulse } from '../math/pulse';
import type { Axis, Triple } from '../math/affine';
import { boundsOf, centreOfBounds } from '../mesh/bounds';
import { boundsOfMesh } from '../mesh/moved';
import { components } from '../mesh/measure';
import type { Mesh } from '../mesh/mesh';
import { topologyOf } from '../mesh/topology';
import { openAlong } from './open';

const { hypot, abs, max } = Math;

/** Opened along every edge whose faces have different values, `width` numbers for each face. */
export function partAlong(mesh: Mesh, values: ArrayLike<number>, width: number, id: number): Mesh {
  const { edgeCount, edgeCornerStart, edgeCorner, cornerFace } = topologyOf(mesh);
  const differ = (f: number, g: number): boolean => {
    for (let k = 0; k < width; k++) if (values[width * f + k] !== values[width * g + k]) return true;
    return false;
  };
  const cut: number[] = [];
  for (let e = 0; e < edgeCount; e++) {
    if ((e & EVERY) === 0) pulse();
    const first = cornerFace[edgeCorner[edgeCornerStart[e]]];
    for (let k = edgeCornerStart[e] + 1; k < edgeCornerStart[e + 1]; k++)
      if (differ(first, cornerFace[edgeCorner[k]])) {
        cut.push(e);
        break;
      }
  }
  return cut.length > 0 ? openAlong(mesh, 'edge', Uint32Array.from(cut), key2(id, PART)) : mesh;
}
const PART = keyOf('part along');

/**
 * Each part moved away from a centre (the middle of all, where not said), by so far, and by a share of how far its
 * middle is from there.
 */
export function pushedApart(mesh: Mesh, by: number, share: number, from?: Triple): Mesh {
  const { of, count } = components(mesh);
  const { positions: p } = mesh;
  const centre = from ?? centreOfBounds(boundsOfMesh(mesh));
  const lo = new Float64Array(3 * count).fill(Infinity);
  const hi = new Float64Array(3 * count).fill(-Infinity);
  for (let v = 0; v < mesh.vertexCount; v++)
    for (let k = 0; k < 3; k++) {
      const o = 3 * of[v] + k;
      if (p[3 * v + k] < lo[o]) lo[o] = p[3 * v + k];
      if (p[3 * v + k] > hi[o]) hi[o] = p[3 * v + k];
    }
  const step = new Float64Array(3 * count);
  for (let c = 0; c < count; c++) {
    const d = [0, 1, 2].map((k) => (lo[3 * c + k] + hi[3 * c + k]) / 2 - centre[k]);
    const far = hypot(d[0], d[1], d[2]);
    // A part round the centre itself knows no way to go.
    if (far < 1e-9) continue;
    for (let k = 0; k < 3; k++) step[3 * c + k] = d[k] * (share + by / far);
  }
  const positions = p.slice();
  for (let v = 0; v < mesh.vertexCount; v++) for (let k = 0; k < 3; k++) positions[3 * v + k] += step[3 * of[v] + k];
  return mesh.moved(positions);
}

export interface Form {
  to: 'ball' | 'cylinder' | 'box';
  axis: Axis;
  /** Metres; along the axis a cylinder stays as it is. */
  diameter: number;
  /** 0: as it is; 1: on the form. */
  share: number;
}

/** Every vertex brought onto a form round the middle of the whole, straight away from its middle or axis. */
export function ontoForm(mesh: Mesh, { to, axis, diameter, share }: Form): Mesh {
  const centre = centreOfBounds(boundsOf(mesh.positions));
  const along = 'xyz'.indexOf(axis);
  const r = diameter / 2;
  const positions = mesh.positions.slice();
  for (let v = 0; v < mesh.vertexCount; v++) {
    if ((v & EVERY) === 0) pulse();
    const d = [0, 1, 2].map((k) => positions[3 * v + k] - centre[k]);
    if (to === 'cylinder') d[along] = 0;
    const far = to === 'box' ? max(abs(d[0]), abs(d[1]), abs(d[2])) : hypot(d[0], d[1], d[2]);
    if (far < 1e-12) continue;
    for (let k = 0; k < 3; k++) positions[3 * v + k] += share * d[k] * (r / far - 1);
  }
  return mesh.moved(positions);
}
