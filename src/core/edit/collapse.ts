/** Collapse: each part of the pick that hangs together becomes one vertex. */
import { EVERY, pulse } from '../math/pulse';
import type { Mesh } from '../mesh/mesh';
import { type PickKind } from '../mesh/picks';
import { partsOf } from '../mesh/walks';
import { joinVertices } from './weld';

/**
 * `into`: all of the pick into one, or each part of it that hangs together. The vertex stands in their middle, with the
 * lowest key.
 */
export function collapse(mesh: Mesh, kind: PickKind, indices: ArrayLike<number>, into: 'one' | 'each'): Mesh {
  const parts = into === 'each' ? partsOf(mesh, kind, indices) : [allOf(partsOf(mesh, kind, indices))];
  const to = new Uint32Array(mesh.vertexCount);
  for (let v = 0; v < to.length; v++) to[v] = v;
  const positions = mesh.positions.slice();
  const moved: number[] = [];
  const keys = mesh.vertexKey;
  for (let i = 0; i < parts.length; i++) {
    if ((i & EVERY) === 0) pulse();
    const part = parts[i];
    if (part.length < 2) continue;
    const keep = part.reduce((a, b) => (keys[b] < keys[a] ? b : a));
    const middle = [0, 0, 0];
    for (const v of part) for (let k = 0; k < 3; k++) middle[k] += mesh.positions[3 * v + k] / part.length;
    positions.set(middle, 3 * keep);
    moved.push(keep);
    for (const v of part) to[v] = keep;
  }
  if (moved.length === 0) throw new Error('Pick two vertices or more that are to become one.');
  return joinVertices(mesh.moved(positions, moved), to);
}

const allOf = (parts: readonly Uint32Array[]): Uint32Array => Uint32Array.from(parts.flatMap((p) => [...p]));
