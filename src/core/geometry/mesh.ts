import { displayBuffers } from '../display/buffers';
import { displayPatch } from '../display/patch';
import { mergeMeshes } from '../edit/merge';
import { transformMesh } from '../edit/transform';
import { boundsOfMesh } from '../mesh/moved';
import type { Mesh } from '../mesh/mesh';
import { defineGeometry } from './kind';

/** Points as small crosses, a hundredth of their extent wide. */
function pointMarks(m: Mesh): { curvePosition: Float32Array } {
  const { min, max } = boundsOfMesh(m);
  const arm = Math.hypot(max[0] - min[0], max[1] - min[1], max[2] - min[2]) / 200 || 0.001;
  const out = new Float32Array(18 * m.vertexCount);
  for (let v = 0; v < m.vertexCount; v++)
    for (let k = 0; k < 6; k++) {
      const o = 18 * v + 3 * k;
      out.set(m.positions.subarray(3 * v, 3 * v + 3), o);
      out[o + (k >> 1)] += k & 1 ? arm : -arm;
    }
  return { curvePosition: out };
}

export const mesh = defineGeometry<Mesh>({
  isEmpty: (m) => m.vertexCount === 0,
  transform: transformMesh,
  merge: (parts) => mergeMeshes(parts.map(({ value, name, seed }) => ({ mesh: value, name, seed }))),
  bounds: (m) => (m.vertexCount ? boundsOfMesh(m) : null),
  arrays: (m) => m.arrays(),
  keys: (m) => m.vertexKey,
  display: (m, smooth) => ({ ...displayBuffers(m, smooth), ...(m.faceCount === 0 ? pointMarks(m) : {}) }),
  patch: displayPatch,
  sketch: (m) => ({ mesh: m }),
});
