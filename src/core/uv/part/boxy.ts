import { UnionFind } from '../../math/unionfind';
import { faceNormals } from '../../mesh/normals';
import type { Mesh } from '../../mesh/mesh';
import { topologyOf } from '../../mesh/topology';

const { acos, cos, hypot, max, min } = Math;

/** Edges within so much of level, or that bend by more than so much, are those of flat sides; radians. */
const LEVEL = 0.03;
const SHARP = 0.35;
/** What goes on over level edges, and leans from the whole of it by more, is bent little by little: a rod, no side. */
const LEANS = 0.06;
/** Of the length of all edges, at least. */
const BOXY = 0.85;

/** Whether a surface is made of flat sides that meet in edges. */
export function isBoxy(mesh: Mesh): boolean {
  const { edgeCount, edgeVertex, edgeCorner, edgeCornerStart, cornerFace } = topologyOf(mesh);
  const n = faceNormals(mesh);
  const p = mesh.positions;
  const sides = new UnionFind(mesh.faceCount);
  const level: [long: number, face: number][] = [];
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
    if (bend > SHARP) flat += long;
    if (bend >= LEVEL) continue;
    level.push([long, f / 3]);
    sides.join(f / 3, g / 3);
  }
  const mean = new Float64Array(3 * mesh.faceCount);
  for (let i = 0; i < mean.length; i++) mean[3 * sides.find((i / 3) | 0) + (i % 3)] += n[i];
  const leans = (f: number): boolean => {
    const m = 3 * sides.find(f);
    const dot = n[3 * f] * mean[m] + n[3 * f + 1] * mean[m + 1] + n[3 * f + 2] * mean[m + 2];
    const length = hypot(mean[m], mean[m + 1], mean[m + 2]);
    // What goes all round has none: a fine sphere was taken for a box.
    return length < 0.5 || dot < cos(LEANS) * length;
  };
  for (const [long, f] of level) if (!leans(f)) flat += long;
  return flat >= BOXY * all;
}
