/** The lasting keys of edges, and what became of keys that were split. */
import { edgeKey } from '../math/hash';
import type { LineageLayer, Mesh } from './mesh';
import { topologyOf } from './topology';

/** The key of every edge, computed once per mesh. */
const edgeKeysKnown = new WeakMap<Mesh, Float64Array>();
export function edgeKeys(mesh: Mesh): Float64Array {
  let keys = edgeKeysKnown.get(mesh);
  if (!keys) {
    const t = topologyOf(mesh);
    const vk = mesh.vertexKey;
    keys = new Float64Array(t.edgeCount);
    for (let e = 0; e < t.edgeCount; e++) keys[e] = edgeKey(vk[t.edgeVertex[2 * e]], vk[t.edgeVertex[2 * e + 1]]);
    edgeKeysKnown.set(mesh, keys);
  }
  return keys;
}

/** The present-day parts of a key, following every split in order; empty if it never was split. */
export function descend(lineage: readonly LineageLayer[], key: number): number[] {
  let now = [key];
  let split = false;
  for (const layer of lineage) {
    const map = typeof layer === 'function' ? layer() : layer;
    const next: number[] = [];
    for (const k of now) {
      const parts = map.get(k);
      if (parts) {
        split = true;
        next.push(...parts);
      } else next.push(k);
    }
    now = next;
  }
  return split ? now : [];
}
