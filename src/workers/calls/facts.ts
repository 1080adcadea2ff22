import { transformVertices } from '../../core/edit';
import type { Affine } from '../../core/math';
import { areaOf, boundsOf, type Mesh, faceNormals, mask, verticesOf, type PickKind, topologyOf } from '../../core/mesh';
import type { Facts } from '../protocol';
import { defineCall } from './define';

interface FactsQuery {
  kind: PickKind;
  indices: Uint32Array;
  /** Where the piece stands: what was sized is measured in real units. */
  world: Affine;
}

/** Measures of picked elements of what is being worked on. */
export const facts = defineCall((host, query: FactsQuery): Facts => factsOf(host.edited, query));

function factsOf(edited: Mesh | undefined, { kind, indices, world }: FactsQuery): Facts {
  if (!edited || indices.length === 0) return { area: 0, length: 0, size: [0, 0, 0], flat: 0 };
  // Measured as it stands in the world: what was sized reads in real units.
  const mesh = transformVertices(edited, world);
  const vertices = verticesOf(mesh, kind, indices);
  const p = mesh.positions;
  const at = new Float32Array(3 * vertices.length);
  vertices.forEach((v, i) => at.set(p.subarray(3 * v, 3 * v + 3), 3 * i));
  const b = boundsOf(at);
  const size: [number, number, number] = [b.max[0] - b.min[0], b.max[1] - b.min[1], b.max[2] - b.min[2]];
  let area = 0;
  let length = 0;
  let flat = 0;
  if (kind === 'face') {
    area = areaOf(mesh, mask(mesh.faceCount, indices));
    const normals = faceNormals(mesh, true);
    const n = [0, 0, 0];
    for (const f of indices) for (let k = 0; k < 3; k++) n[k] += normals[3 * f + k];
    const l = Math.hypot(...n) || 1;
    let lo = Infinity;
    let hi = -Infinity;
    for (let i = 0; i < at.length; i += 3) {
      const d = (at[i] * n[0] + at[i + 1] * n[1] + at[i + 2] * n[2]) / l;
      lo = Math.min(lo, d);
      hi = Math.max(hi, d);
    }
    flat = hi - lo;
  } else if (kind === 'edge') {
    const { edgeVertex } = topologyOf(mesh);
    for (const e of indices) {
      const a = 3 * edgeVertex[2 * e];
      const c = 3 * edgeVertex[2 * e + 1];
      length += Math.hypot(p[a] - p[c], p[a + 1] - p[c + 1], p[a + 2] - p[c + 2]);
    }
  }
  return { area, length, size, flat };
}
