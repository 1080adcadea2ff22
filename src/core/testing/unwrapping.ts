/** How tests unwrap where they do not say otherwise, and short ways to what lies on the sheet. */
import { UV, type Mesh } from '../mesh/mesh';
import type { UnwrapOptions } from '../uv/unwrap';

export const UNWRAPPING: UnwrapOptions = {
  cut: new Set(),
  hold: new Set(),
  seamAngle: Math.PI / 3,
  stretch: 1.3,
  size: 1024,
  padding: 4,
  density: 0,
  turn: true,
};

export const uvOf = (m: Mesh): Float32Array => m.attributes[UV].data as Float32Array;
export const withUv = (m: Mesh, data: Float32Array): Mesh => m.withAttribute(UV, { domain: 'corner', width: 2, data });
export const allFaces = (m: Mesh): number[] => Array.from({ length: m.faceCount }, (_, f) => f);
