/** Points: a mesh of vertices alone, to copy onto and to ask formulas of. */
import { Mesh, type Attribute } from './mesh';

/** The attribute of points that says which way what stands there looks. */
export const FACING = 'facing';

export function pointsFrom(positions: Float32Array, keys: Float64Array, facing?: Float32Array): Mesh {
  const attributes: Record<string, Attribute> = facing
    ? { [FACING]: { domain: 'vertex', width: 3, data: facing } }
    : {};
  return new Mesh({
    positions,
    faceStart: new Uint32Array(1),
    cornerVertex: new Uint32Array(0),
    vertexKey: keys,
    faceKey: new Float64Array(0),
    attributes,
  });
}
