/**
 * How dear it is to cut an edge: by its length, less where a seam is not seen, or has a reason to be: in creases, on
 * what looks down or away, and where materials or sets meet.
 */
import { facingOf } from './facing';
import type { Mesh } from '../../mesh/mesh';
import { topologyOf } from '../../mesh/topology';
import { groupOf } from '../pack/groups';

const { max, min, sqrt } = Math;

/** How much less a crease, and what looks down, costs to be cut, at most. */
const HIDDEN = 0.85;
/** Of that what looks down and what looks away from the front (+Z). */
const UNDER = 0.7;
const BEHIND = 0.2;

/** `hide`: 0 for by length alone, 1 for as hidden as may be. Metres. */
export function hidingCost(mesh: Mesh, hide: number): (edge: number) => number {
  const t = topologyOf(mesh);
  const normals = facingOf(mesh);
  const p = mesh.positions;
  const cost = new Float64Array(t.edgeCount).fill(-1);
  const kinds = (['material', 'set'] as const).map((by) => groupOf(mesh, by));
  const weighed = (e: number): number => {
    const [a, b] = [3 * t.edgeVertex[2 * e], 3 * t.edgeVertex[2 * e + 1]];
    const long = sqrt((p[a] - p[b]) ** 2 + (p[a + 1] - p[b + 1]) ** 2 + (p[a + 2] - p[b + 2]) ** 2);
    const s = t.edgeCornerStart[e];
    if (t.edgeCornerStart[e + 1] - s !== 2) return long;
    const [i, j] = [t.cornerFace[t.edgeCorner[s]], t.cornerFace[t.edgeCorner[s + 1]]];
    const [f, g] = [3 * i, 3 * j];
    const dot = normals[f] * normals[g] + normals[f + 1] * normals[g + 1] + normals[f + 2] * normals[g + 2];
    const meets = kinds.some((of) => of(i) !== of(j)) ? 1 : 0;
    const crease = max(meets, min(1, max(0, 1 - dot)));
    const down = max(0, -(normals[f + 1] + normals[g + 1]) / 2);
    const away = max(0, -(normals[f + 2] + normals[g + 2]) / 2);
    const hidden = max(crease, UNDER * down, BEHIND * away);
    return long * (1 - HIDDEN * hide * hidden);
  };
  return (e) => (cost[e] >= 0 ? cost[e] : (cost[e] = weighed(e)));
}
