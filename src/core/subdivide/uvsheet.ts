/** A UV set as a surface of its own, to be smoothed as one. */
import { EVERY, pulse } from '../math/pulse';
import { UnionFind } from '../math/unionfind';
import type { Attribute, Mesh } from '../mesh/mesh';
import { nextCorner, type Topology } from '../mesh/topology';
import type { Level } from './level';

/** A UV set as a surface of its own: its vertices are corners that lie on one another over an edge. */
export interface Sheet {
  name: string;
  level: Level;
  /** 3 per vertex, the third 0. */
  positions: Float32Array;
}

export function sheetOf(mesh: Mesh, t: Topology, name: string): Sheet {
  const uv = mesh.attributes[name].data;
  const { faceStart, cornerVertex, cornerCount } = mesh;
  const next = (c: number) => nextCorner(mesh, t.cornerFace[c], c);
  const joined = new UnionFind(cornerCount);
  const alike = (c: number, d: number) => uv[2 * c] === uv[2 * d] && uv[2 * c + 1] === uv[2 * d + 1];
  /** The two corners of each end of an edge between two faces. */
  const ends = (e: number): [number, number, number, number] | undefined => {
    const s = t.edgeCornerStart[e];
    if (t.edgeCornerStart[e + 1] - s !== 2) return undefined;
    const [c, d] = [t.edgeCorner[s], t.edgeCorner[s + 1]];
    return cornerVertex[c] === cornerVertex[d] ? [c, d, next(c), next(d)] : [c, next(d), next(c), d];
  };
  for (let e = 0; e < t.edgeCount; e++) {
    if ((e & EVERY) === 0) pulse();
    const at = ends(e);
    if (at && alike(at[0], at[1])) joined.join(at[0], at[1]);
    if (at && alike(at[2], at[3])) joined.join(at[2], at[3]);
  }
  const { of, count } = joined.parts();
  const positions = new Float32Array(3 * count);
  for (let c = 0; c < cornerCount; c++) {
    positions[3 * of[c]] = uv[2 * c];
    positions[3 * of[c] + 1] = uv[2 * c + 1];
  }
  const cornerEdge = new Uint32Array(cornerCount);
  const edgeVertex = new Uint32Array(2 * cornerCount);
  let edges = 0;
  const edge = (c: number): number => {
    edgeVertex[2 * edges] = Math.min(of[c], of[next(c)]);
    edgeVertex[2 * edges + 1] = Math.max(of[c], of[next(c)]);
    return edges++;
  };
  for (let e = 0; e < t.edgeCount; e++) {
    if ((e & EVERY) === 0) pulse();
    const at = ends(e);
    const whole = at !== undefined && of[at[0]] === of[at[1]] && of[at[2]] === of[at[3]];
    const first = edges;
    for (let i = t.edgeCornerStart[e]; i < t.edgeCornerStart[e + 1]; i++)
      cornerEdge[t.edgeCorner[i]] = whole && i > t.edgeCornerStart[e] ? first : edge(t.edgeCorner[i]);
  }
  const level = {
    vertices: count,
    faceStart,
    cornerVertex: Uint32Array.from(of),
    cornerEdge,
    edgeVertex: edgeVertex.slice(0, 2 * edges),
  };
  return { name, level, positions };
}

export function uvOf({ level, positions }: Sheet): Attribute {
  const { cornerVertex } = level;
  const data = new Float32Array(2 * cornerVertex.length);
  for (let c = 0; c < cornerVertex.length; c++) {
    data[2 * c] = positions[3 * cornerVertex[c]];
    data[2 * c + 1] = positions[3 * cornerVertex[c] + 1];
  }
  return { domain: 'corner', width: 2, data };
}
