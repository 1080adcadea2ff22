/**
 * What changes in display buffers when some vertices of a mesh move: a drag sends and uploads the corners, triangles
 * and edges around them and leaves the rest, which is the same to the bit as making the buffers anew (`patch.test.ts`
 * holds it to that).
 *
 * 48,600 quads, 200 moves of up to 800 faces: 3 to 7 ms for a patch, 45 ms for all buffers (`./glypta bench --only
 * drag`). One vertex of 1 M triangles: 31 ms for the whole frame of the worker, 103 ms while every array was cleared
 * and gone through (`--only heavy`).
 */
import { GrowInt } from '../math/grow';
import { uvSets, type Mesh } from '../mesh/mesh';
import { mayDiffer } from '../mesh/moved';
import { cornerNormalsInto, faceNormal } from '../mesh/normals';
import { topologyOf } from '../mesh/topology';
import { firstTriangle, trianglesOf } from '../mesh/triangulate';
import { drawEdge, markedInk, type DisplayBuffers } from './buffers';

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

function sameSheets(a: Mesh, b: Mesh): boolean {
  const sets = uvSets(a);
  return sets.length === uvSets(b).length && sets.every((name) => sameData(a, b, name));
}

/** The vertices of `after` that are elsewhere than in `before`; null where more than their places differs. */
export function movedVertices(before: Mesh, after: Mesh): Uint32Array | null {
  if (before.cornerVertex !== after.cornerVertex || before.faceStart !== after.faceStart) return null;
  if (before.marks !== after.marks) return null;
  if (before.slots !== after.slots || !sameSheets(before, after) || !sameData(before, after, 'material')) return null;
  const p = before.positions;
  const q = after.positions;
  if (p.length !== q.length) return null;
  const asked = mayDiffer(p, q);
  const count = asked ? asked.length : after.vertexCount;
  const out = new Uint32Array(count);
  let n = 0;
  for (let i = 0; i < count; i++) {
    const v = asked ? asked[i] : i;
    const o = 3 * v;
    if (p[o] !== q[o] || p[o + 1] !== q[o + 1] || p[o + 2] !== q[o + 2]) out[n++] = v;
  }
  return out.slice(0, n);
}

/**
 * Numbers that are marked here and there: the bytes are cleared by the list of those that were set, never as a whole.
 */
class Marks {
  private bytes = new Uint8Array(0);
  private list = new GrowInt(256);

  private count = 0;

  room(count: number): this {
    this.count = count;
    if (this.bytes.length < count) this.bytes = new Uint8Array(count);
    return this;
  }
  add(i: number): void {
    if (this.bytes[i]) return;
    this.bytes[i] = 1;
    this.list.push(i);
  }
  /** What is marked, rising; nothing is marked afterwards. */
  take(): Uint32Array {
    const n = this.list.length;
    const out = Uint32Array.from(this.list.data.subarray(0, n));
    // Few are put in order soonest by sorting, many by going through all.
    if (n <= this.count / 16) out.sort();
    else {
      let k = 0;
      for (let i = 0; i < this.count; i++) if (this.bytes[i]) out[k++] = i;
    }
    for (let k = 0; k < n; k++) this.bytes[out[k]] = 0;
    this.list.length = 0;
    return out;
  }
}

/**
 * Room that is used again by the next patch: making and clearing it for 1 M triangles took 40 ms of a frame. Normals of
 * other meshes may be left in it; those that are read have been written before.
 */
const scratch = {
  changed: new Marks(),
  near: new Marks(),
  edges: new Marks(),
  corners: new Marks(),
  around: new Marks(),
  faceNormals: new Float32Array(0),
  cornerNormals: new Float32Array(0),
};

/** Null where the buffers have to be made anew: other connectivity, materials or UVs, or too much of it moved. */
export function displayPatch(before: Mesh, after: Mesh, smooth = 0): DisplayPatch | null {
  const moved = movedVertices(before, after);
  if (!moved || moved.length > after.vertexCount / 2) return null;
  const { positions: p, faceStart, cornerVertex, cornerCount, faceCount } = after;
  const t = topologyOf(after);
  // Faces that changed shape; all their vertices, whose normals change with them; all faces around those.
  const changed = scratch.changed.room(faceCount);
  for (const v of moved)
    for (let i = t.vertexCornerStart[v]; i < t.vertexCornerStart[v + 1]; i++)
      changed.add(t.cornerFace[t.vertexCorner[i]]);
  const faces = changed.take();
  const near = scratch.near.room(after.vertexCount);
  const edgeMarks = scratch.edges.room(t.edgeCount);
  let triangleCount = 0;
  for (const f of faces) {
    triangleCount += faceStart[f + 1] - faceStart[f] - 2;
    for (let c = faceStart[f]; c < faceStart[f + 1]; c++) {
      near.add(cornerVertex[c]);
      edgeMarks.add(t.cornerEdge[c]);
    }
  }
  const vertices = near.take();
  const edges = edgeMarks.take();
  const cornerMarks = scratch.corners.room(cornerCount);
  const around = scratch.around.room(faceCount);
  for (const v of vertices)
    for (let i = t.vertexCornerStart[v]; i < t.vertexCornerStart[v + 1]; i++) {
      const c = t.vertexCorner[i];
      cornerMarks.add(c);
      around.add(t.cornerFace[c]);
    }
  const corners = cornerMarks.take();
  const facesAround = around.take();
  if (corners.length > MOST * cornerCount) return null;
  if (scratch.faceNormals.length < 3 * faceCount) scratch.faceNormals = new Float32Array(3 * faceCount);
  if (scratch.cornerNormals.length < 3 * cornerCount) scratch.cornerNormals = new Float32Array(3 * cornerCount);
  const { faceNormals: normals, cornerNormals: all } = scratch;
  for (const f of facesAround) faceNormal(after, f, normals, 3 * f);
  cornerNormalsInto(after, smooth, normals, all, vertices);
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
  const edgePosition = new Float32Array(6 * edges.length);
  const edgeInk = new Float32Array(2 * edges.length);
  const marked = markedInk(after);
  for (let i = 0; i < edges.length; i++) drawEdge(after, t, normals, edges[i], edgePosition, edgeInk, i, marked);
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
