/** How dear it is to cut an edge: by its length, less in creases and where it looks down. */
import { facingOf } from './facing';
import type { Mesh } from '../mesh/mesh';
import { topologyOf } from '../mesh/topology';

const { max, min, sqrt } = Math;

/** How much less a crease, and what looks down, costs to be cut, at most. */
const HIDDEN = 0.85;

/** `hide`: 0 for by length alone, 1 for as hidden as may be. Metres. */
export function hidingCost(mesh: Mesh, hide: number): (edge: number) => number {
  const t = topologyOf(mesh);
  const normals = facingOf(mesh);
  const p = mesh.positions;
  const cost = new Float64Array(t.edgeCount).fill(-1);
  const weighed = (e: number): number => {
    const [a, b] = [3 * t.edgeVertex[2 * e], 3 * t.edgeVertex[2 * e + 1]];
    const long = sqrt((p[a] - p[b]) ** 2 + (p[a + 1] - p[b + 1]) ** 2 + (p[a + 2] - p[b + 2]) ** 2);
    const s = t.edgeCornerStart[e];
    if (t.edgeCornerStart[e + 1] - s !== 2) return long;
    const [f, g] = [3 * t.cornerFace[t.edgeCorner[s]], 3 * t.cornerFace[t.edgeCorner[s + 1]]];
    const dot = normals[f] * normals[g] + normals[f + 1] * normals[g + 1] + normals[f + 2] * normals[g + 2];
    const crease = min(1, max(0, 1 - dot));
    const down = max(0, -(normals[f + 1] + normals[g + 1]) / 2);
    return long * (1 - HIDDEN * hide * max(crease, 0.7 * down));
  };
  return (e) => (cost[e] >= 0 ? cost[e] : (cost[e] = weighed(e)));
}
