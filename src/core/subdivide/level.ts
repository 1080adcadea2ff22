/** Connectivity of a level of subdivision, and that of the next: every corner gives one quad, every edge two halves. */
import { EVERY, pulse } from '../math/pulse';
import type { Mesh } from '../mesh/mesh';
import type { Topology } from '../mesh/topology';

/** One level's connectivity. Quads only, once past the first. */
export interface Level {
  vertices: number;
  faceStart: Uint32Array;
  cornerVertex: Uint32Array;
  cornerEdge: Uint32Array;
  edgeVertex: Uint32Array;
}

export const cage = (mesh: Mesh, t: Topology): Level => ({
  vertices: mesh.vertexCount,
  faceStart: mesh.faceStart,
  cornerVertex: mesh.cornerVertex,
  cornerEdge: t.cornerEdge,
  edgeVertex: t.edgeVertex,
});

export function refine(level: Level): Level {
  const { vertices, faceStart, cornerVertex, cornerEdge, edgeVertex } = level;
  const faces = faceStart.length - 1;
  const corners = cornerVertex.length;
  const edges = edgeVertex.length / 2;
  const cv = new Uint32Array(4 * corners);
  const ce = new Uint32Array(4 * corners);
  const ev = new Uint32Array(2 * (2 * edges + corners));
  const start = new Uint32Array(corners + 1);
  for (let c = 0; c <= corners; c++) start[c] = 4 * c;
  for (let e = 0; e < edges; e++) {
    if ((e & EVERY) === 0) pulse();
    // Edge points come after the old vertices, so the lower index is always the old one.
    ev[4 * e] = edgeVertex[2 * e];
    ev[4 * e + 1] = vertices + e;
    ev[4 * e + 2] = edgeVertex[2 * e + 1];
    ev[4 * e + 3] = vertices + e;
  }
  const facePoint = vertices + edges;
  const inner = 2 * edges;
  for (let f = 0; f < faces; f++) {
    if ((f & EVERY) === 0) pulse();
    const s = faceStart[f];
    const end = faceStart[f + 1];
    let before = end - 1;
    for (let c = s; c < end; c++) {
      const v = cornerVertex[c];
      const e = cornerEdge[c];
      const g = cornerEdge[before];
      const q = 4 * c;
      cv[q] = v;
      cv[q + 1] = vertices + e;
      cv[q + 2] = facePoint + f;
      cv[q + 3] = vertices + g;
      ce[q] = 2 * e + (edgeVertex[2 * e] === v ? 0 : 1);
      ce[q + 1] = inner + c;
      ce[q + 2] = inner + before;
      ce[q + 3] = 2 * g + (edgeVertex[2 * g] === v ? 0 : 1);
      ev[2 * (inner + c)] = vertices + e;
      ev[2 * (inner + c) + 1] = facePoint + f;
      before = c;
    }
  }
  return { vertices: vertices + edges + faces, faceStart: start, cornerVertex: cv, cornerEdge: ce, edgeVertex: ev };
}
