import { displayBuffers } from '../display/buffers';
import { displayPatch } from '../display/patch';
import { mergeMeshes } from '../edit/merge';
import { transformMesh } from '../edit/transform';
import { boundsOfMesh } from '../mesh/moved';
import type { Mesh } from '../mesh/mesh';
import { defineGeometry } from './kind';

export const mesh = defineGeometry<Mesh>({
  isEmpty: (m) => m.vertexCount === 0,
  transform: transformMesh,
  merge: (parts) => mergeMeshes(parts.map(({ value, name, seed }) => ({ mesh: value, name, seed }))),
  bounds: (m) => (m.vertexCount ? boundsOfMesh(m) : null),
  arrays: (m) => m.arrays(),
  keys: (m) => m.vertexKey,
  display: displayBuffers,
  patch: displayPatch,
  sketch: (m) => ({ mesh: m }),
});
