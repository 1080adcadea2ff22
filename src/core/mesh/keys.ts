/** Keys by running number, computed when asked for. */
import { key2 } from '../math/hash';

export function countedKeys(
  vertices: number,
  faces: number,
  seed: number,
): { vertexKey: () => Float64Array; faceKey: () => Float64Array } {
  const run = (count: number, role: number) => () => {
    const keys = new Float64Array(count);
    const base = key2(seed, role);
    for (let i = 0; i < count; i++) keys[i] = key2(base, i);
    return keys;
  };
  return { vertexKey: run(vertices, 1), faceKey: run(faces, 2) };
}
