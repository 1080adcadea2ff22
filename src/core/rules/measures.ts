/** Measures of single elements that rules and alike picks ask for. Each is made for a mesh and answers by index. */
import type { Mesh } from '../mesh/mesh';
import { faceNormals } from '../mesh/normals';
import { previousCorner, topologyOf } from '../mesh/topology';

const { acos, hypot, max, min } = Math;

type Measure = (index: number) => number;

/** m² of a face, by its Newell normal: of one that is not flat that of its shadow on its own plane. */
export function faceAreas(mesh: Mesh): Measure {
  const n = faceNormals(mesh, true);
  return (f) => hypot(n[3 * f], n[3 * f + 1], n[3 * f + 2]);
}

/** Metres. */
export function edgeLengths(mesh: Mesh): Measure {
  const { positions: p } = mesh;
  const { edgeVertex: ev } = topologyOf(mesh);
  return (e) => {
    const a = 3 * ev[2 * e];
    const b = 3 * ev[2 * e + 1];
    return hypot(p[a] - p[b], p[a + 1] - p[b + 1], p[a + 2] - p[b + 2]);
  };
}

/** How far the surface bends over an edge, radians from 0 (flat) to π (folded); −1 where there are not two faces. */
export function bends(mesh: Mesh): Measure {
  const t = topologyOf(mesh);
  const n = faceNormals(mesh);
  return (e) => {
    const s = t.edgeCornerStart[e];
    if (t.edgeCornerStart[e + 1] - s !== 2) return -1;
    const [c, o] = [t.edgeCorner[s], t.edgeCorner[s + 1]];
    const [f, g] = [3 * t.cornerFace[c], 3 * t.cornerFace[o]];
    // Faces that pass the edge the same way look opposite ways: the bend is that of one of them turned round.
    const way = mesh.cornerVertex[c] === mesh.cornerVertex[o] ? -1 : 1;
    const cos = way * (n[f] * n[g] + n[f + 1] * n[g + 1] + n[f + 2] * n[g + 2]);
    return acos(max(-1, min(1, cos)));
  };
}

/** How many faces meet on an edge. */
export function facesOnEdge(mesh: Mesh): Measure {
  const t = topologyOf(mesh);
  return (e) => t.edgeCornerStart[e + 1] - t.edgeCornerStart[e];
}

export const sidesOf =
  (mesh: Mesh): Measure =>
  (f) =>
    mesh.faceStart[f + 1] - mesh.faceStart[f];

/** How many edges meet at a vertex. */
export function valences(mesh: Mesh): Measure {
  const t = topologyOf(mesh);
  const edges = new Set<number>();
  return (v) => {
    edges.clear();
    for (let i = t.vertexCornerStart[v]; i < t.vertexCornerStart[v + 1]; i++) {
      const c = t.vertexCorner[i];
      edges.add(t.cornerEdge[c]);
      edges.add(t.cornerEdge[previousCorner(mesh, t.cornerFace[c], c)]);
    }
    return edges.size;
  };
}

/** Whether a vertex lies on an open border. */
export function onBorder(mesh: Mesh): (vertex: number) => boolean {
  const t = topologyOf(mesh);
  const on = new Uint8Array(mesh.vertexCount);
  for (let e = 0; e < t.edgeCount; e++)
    if (t.edgeCornerStart[e + 1] - t.edgeCornerStart[e] === 1)
      on[t.edgeVertex[2 * e]] = on[t.edgeVertex[2 * e + 1]] = 1;
  return (v) => on[v] === 1;
}

/**
 * The way an element looks: a face's normal, of edges and vertices the mean of those around, by area; 3 numbers, unit
 * or 0.
 */
export function lookOf(mesh: Mesh, kind: 'vertex' | 'edge' | 'face'): (index: number, out: Float64Array) => void {
  const n = faceNormals(mesh, true);
  const t = topologyOf(mesh);
  const unit = (out: Float64Array): void => {
    const l = hypot(out[0], out[1], out[2]);
    if (l > 0) for (let k = 0; k < 3; k++) out[k] /= l;
  };
  const add = (f: number, out: Float64Array): void => {
    for (let k = 0; k < 3; k++) out[k] += n[3 * f + k];
  };
  return (index, out) => {
    out.fill(0, 0, 3);
    if (kind === 'face') add(index, out);
    else if (kind === 'edge')
      for (let i = t.edgeCornerStart[index]; i < t.edgeCornerStart[index + 1]; i++)
        add(t.cornerFace[t.edgeCorner[i]], out);
    else
      for (let i = t.vertexCornerStart[index]; i < t.vertexCornerStart[index + 1]; i++)
        add(t.cornerFace[t.vertexCorner[i]], out);
    unit(out);
  };
}
