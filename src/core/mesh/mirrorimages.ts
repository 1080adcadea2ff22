/** Which vertex stands at the mirror image of which: found in a grid of cells as wide as the tolerance. */
import { EVERY, pulse } from '../math/pulse';
import { axisIndex, type Axis } from '../math/affine';
import type { Mesh } from './mesh';
import { boundsOfMesh } from './moved';

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
function toleranceFor(mesh: Mesh): number {
  const b = boundsOfMesh(mesh);
  return 1e-4 * Math.max(b.max[0] - b.min[0], b.max[1] - b.min[1], b.max[2] - b.min[2], 1e-9);
}
