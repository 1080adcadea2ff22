import { faceNormals } from '../../mesh/normals';
import type { Mesh } from '../../mesh/mesh';
import { topologyOf } from '../../mesh/topology';

const { acos, hypot, max, min } = Math;

/** Edges within so much of level, or that bend by more than so much, are those of flat sides; radians. */
const LEVEL = 0.03;
const SHARP = 0.35;
/** Of the length of all edges, at least. */
const BOXY = 0.85;

/** Whether a surface is made of flat sides that meet in edges. */
export function isBoxy(mesh: Mesh): boolean {
  const { edgeCount, edgeVertex, edgeCorner, edgeCornerStart, cornerFace } = topologyOf(mesh);
  const n = faceNormals(mesh);
  const p = mesh.positions;
  let all = 0;
  let flat = 0;
  for (let e = 0; e < edgeCount; e++) {
    const s = edgeCornerStart[e];
    if (edgeCornerStart[e + 1] - s !== 2) continue;
    const [f, g] = [3 * cornerFace[edgeCorner[s]], 3 * cornerFace[edgeCorner[s + 1]]];
    const dot = n[f] * n[g] + n[f + 1] * n[g + 1] + n[f + 2] * n[g + 2];
    const bend = acos(max(-1, min(1, dot)));
    const [a, b] = [3 * edgeVertex[2 * e], 3 * edgeVertex[2 * e + 1]];
    const long = hypot(p[a] - p[b], p[a + 1] - p[b + 1], p[a + 2] - p[b + 2]);
    all += long;
    if (bend < LEVEL || bend > SHARP) flat += long;
  }
  return flat >= BOXY * all;
}
