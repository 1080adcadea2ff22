/** Whether places lie inside a mesh: by how often a ray from there goes through it. */
import type { Triple } from '../math/affine';
import type { Mesh } from './mesh';
import { raysOf } from './rays';
import { topologyOf } from './topology';

/** Along no axis and no diagonal: made shapes have their edges there, and a ray along an edge tells nothing. */
const WAY: Triple = [0.5371, 0.7413, 0.4021];
const MOST_HITS = 10_000;

/** By oddness alone; of an open mesh that says little. */
export function oddlyInside(mesh: Mesh): (p: Triple) => boolean {
  const rays = raysOf(mesh);
  return (p) => {
    let times = 0;
    for (let far = 0; times < MOST_HITS; times++) {
      const hit = rays.cast(p, WAY, far);
      if (!hit) break;
      far = hit.t * (1 + 1e-9) + 1e-12;
    }
    return times % 2 === 1;
  };
}

/** Undefined where the mesh is open: nothing is inside it. */
export function insideOf(mesh: Mesh): ((p: Triple) => boolean) | undefined {
  const { edgeCount, edgeCornerStart } = topologyOf(mesh);
  for (let e = 0; e < edgeCount; e++) if ((edgeCornerStart[e + 1] - edgeCornerStart[e]) % 2 === 1) return undefined;
  return mesh.faceCount > 0 ? oddlyInside(mesh) : undefined;
}
