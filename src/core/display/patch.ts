/**
 * What changes in display buffers when some vertices of a mesh move: a drag sends and uploads the corners, triangles and edges around them
 * and leaves the rest, which is the same to the bit as making the buffers anew (`patch.test.ts` holds it to that).
 *
 * 48,600 quads, 200 moves of up to 800 faces: 3 to 7 ms for a patch, 45 ms for all buffers (`./glypta bench --only drag`).
 */
import { UV, type Mesh } from '../mesh/mesh';
import { cornerNormalsInto, faceNormal } from '../mesh/normals';
import { topologyOf } from '../mesh/topology';
import { firstTriangle, trianglesOf } from '../mesh/triangulate';
import { drawEdge, type DisplayBuffers } from './buffers';

export interface DisplayPatch {
  /** Indices of corners, rising, with 3 numbers each. */
  corners: Uint32Array;
  position: Float32Array;
  normal: Float32Array;
  /** Indices of triangles, rising, with 3 corners each. */
  triangles: Uint32Array;
  index: Uint32Array;
  /** Indices of edges, rising, with 6 and 2 numbers each. */
  edges: Uint32Array;
  edgePosition: Float32Array;
  edgeInk: Float32Array;
}

/** Above this share of its corners a mesh is sent whole: a list of places then costs more than it saves. */
const MOST = 1 / 3;

const sameData = (a: Mesh, b: Mesh, name: string) => a.attributes[name]?.data === b.attributes[name]?.data;

/** The vertices of `after` that are elsewhere than in `before`; null where more than their places differs. */
export function movedVertices(before: Mesh, after: Mesh): Uint32Array | null {
  if (before.cornerVertex !== after.cornerVertex || before.faceStart !== after.faceStart) return null;
  if (before.slots !== after.slots || !sameData(before, after, UV) || !sameData(before, after, 'material')) return null;
  const p = before.positions;
  const q = after.positions;
  if (p.length !== q.length) return null;
  const out = new Uint32Array(after.vertexCount);
  let n = 0;
  for (let v = 0; v < out.length; v++) {
    const o = 3 * v;
    if (p[o] !== q[o] || p[o + 1] !== q[o + 1] || p[o + 2] !== q[o + 2]) out[n++] = v;
  }
  return out.slice(0, n);
}

/** The numbers whose mark is set, rising. */
function marked(marks: Uint8Array): Uint32Array {
  let n = 0;
  for (let i = 0; i < marks.length; i++) n += marks[i];
  const out = new Uint32Array(n);
  n = 0;
  for (let i = 0; i < marks.length; i++) if (marks[i]) out[n++] = i;
  return out;
}

/** Null where the buffers have to be made anew: other connectivity, materials or UVs, or too much of it moved. */
export function displayPatch(before: Mesh, after: Mesh, smooth = 0): DisplayPatch | null {
  const moved = movedVertices(before, after);
  if (!moved) return null;
  const { positions: p, faceStart, cornerVertex, cornerCount, faceCount } = after;
  const t = topologyOf(after);
  // Faces that changed shape; all their vertices, whose normals change with them; all faces around those.
  const changed = new Uint8Array(faceCount);
  for (const v of moved)
    for (let i = t.vertexCornerStart[v]; i < t.vertexCornerStart[v + 1]; i++)
      changed[t.cornerFace[t.vertexCorner[i]]] = 1;
  const faces = marked(changed);
  const near = new Uint8Array(after.vertexCount);
  const edgeMarks = new Uint8Array(t.edgeCount);
  let triangleCount = 0;
  for (const f of faces) {
    triangleCount += faceStart[f + 1] - faceStart[f] - 2;
    for (let c = faceStart[f]; c < faceStart[f + 1]; c++) {
      near[cornerVertex[c]] = 1;
      edgeMarks[t.cornerEdge[c]] = 1;
    }
  }
  const vertices = marked(near);
  const cornerMarks = new Uint8Array(cornerCount);
  const around = new Uint8Array(faceCount);
  let cornersNear = 0;
  for (const v of vertices)
    for (let i = t.vertexCornerStart[v]; i < t.vertexCornerStart[v + 1]; i++) {
      const c = t.vertexCorner[i];
      cornerMarks[c] = 1;
      around[t.cornerFace[c]] = 1;
      cornersNear++;
    }
  if (cornersNear > MOST * cornerCount) return null;
  const normals = new Float32Array(3 * faceCount);
  for (let f = 0; f < faceCount; f++) if (around[f]) faceNormal(after, f, normals, 3 * f);
  const all = new Float32Array(3 * cornerCount);
  cornerNormalsInto(after, smooth, normals, all, vertices);
  const corners = marked(cornerMarks);
  const position = new Float32Array(3 * corners.length);
  const normal = new Float32Array(3 * corners.length);
  for (let i = 0; i < corners.length; i++) {
    const c = 3 * corners[i];
    const v = 3 * cornerVertex[corners[i]];
    for (let k = 0; k < 3; k++) {
      position[3 * i + k] = p[v + k];
      normal[3 * i + k] = all[c + k];
    }
  }
  const triangles = new Uint32Array(triangleCount);
  const index = new Uint32Array(3 * triangleCount);
  let n = 0;
  for (const f of faces) {
    trianglesOf(after, f, index, n);
    const first = firstTriangle(after, f);
    const count = faceStart[f + 1] - faceStart[f] - 2;
    for (let k = 0; k < count; k++) triangles[n++] = first + k;
  }
  const edges = marked(edgeMarks);
  const edgePosition = new Float32Array(6 * edges.length);
  const edgeInk = new Float32Array(2 * edges.length);
  for (let i = 0; i < edges.length; i++) drawEdge(after, t, normals, edges[i], edgePosition, edgeInk, i);
  return { corners, position, normal, triangles, index, edges, edgePosition, edgeInk };
}

/** Writes `from` (`width` numbers each) to its places in `to`. */
function put(
  to: Float32Array | Uint32Array,
  places: Uint32Array,
  from: Float32Array | Uint32Array,
  width: number,
): void {
  for (let i = 0; i < places.length; i++)
    for (let k = 0; k < width; k++) to[width * places[i] + k] = from[width * i + k];
}

/** Brings buffers up to date in place. */
export function applyPatch(buffers: DisplayBuffers, patch: DisplayPatch): void {
  put(buffers.position, patch.corners, patch.position, 3);
  put(buffers.normal, patch.corners, patch.normal, 3);
  put(buffers.index, patch.triangles, patch.index, 3);
  put(buffers.edgePosition, patch.edges, patch.edgePosition, 6);
  put(buffers.edgeInk, patch.edges, patch.edgeInk, 2);
}
