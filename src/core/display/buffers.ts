/**
 * Display buffers: what the view needs of a mesh, ready for the graphics card. One display vertex per corner, so that
 * normals and UVs may differ between faces without a search for shared ones.
 */
import type { Bounds } from '../mesh/bounds';
import type { Mesh } from '../mesh/mesh';
import { coloursOfCorners } from '../mesh/colours';
import { uvSets } from '../mesh/mesh';
import { marksOf } from '../mesh/marks';
import { cornerNormals, faceNormals } from '../mesh/normals';
import { topologyOf, type Topology } from '../mesh/topology';
import { triangulate } from '../mesh/triangulate';

export interface DisplayBuffers {
  /** 3 per corner. */
  position: Float32Array;
  normal: Float32Array;
  /** 2 per corner, where the mesh has UVs. */
  uv?: Float32Array;
  /** Its second UVs, where there are such. */
  uv2?: Float32Array;
  /** 4 per corner, linear, where vertices or corners have colours of their own. */
  color?: Float32Array;
  /** Triangles, as corner indices. */
  index: Uint32Array;
  /** Face of each triangle. */
  triangleFace: Uint32Array;
  /** Slot of each face, where the mesh has materials. */
  slot?: Int32Array;
  slots: readonly string[];
  /** 6 per edge. */
  edgePosition: Float32Array;
  /** Strength of the line of each edge, twice: 0.18 where flat to 0.55 where it bends by a right angle or is open. */
  edgeInk: Float32Array;
  /** 6 per straight part, where there are curves. */
  curvePosition?: Float32Array;
  /** Per source of copies: where it stands, 16 numbers for each place. */
  copies?: readonly CopiesBuffers[];
  faces: number;
  triangles: number;
}

export interface CopiesBuffers {
  places: Float32Array;
  /** Tells one source from another; the same is not sent twice. */
  source?: string;
  buffers?: DisplayBuffers;
  bounds?: Bounds;
}

const { min } = Math;

export const emptyBuffers = (): DisplayBuffers => ({
  position: new Float32Array(0),
  normal: new Float32Array(0),
  index: new Uint32Array(0),
  triangleFace: new Uint32Array(0),
  slots: [],
  edgePosition: new Float32Array(0),
  edgeInk: new Float32Array(0),
  faces: 0,
  triangles: 0,
});

/** The memory behind buffers, to be handed over rather than copied. */
export const memoryOf = (buffers: object): ArrayBuffer[] =>
  Object.values(buffers).flatMap((x: unknown) => {
    if (ArrayBuffer.isView(x)) return [x.buffer as ArrayBuffer];
    return typeof x === 'object' && x !== null ? memoryOf(x) : [];
  });

/** How much stronger than the strongest other a marked edge is drawn: a crease by its levels, up to `ALWAYS`. */
export function markedInk(mesh: Mesh): ((edge: number, ink: number) => number) | undefined {
  const crease = marksOf(mesh, 'crease');
  const hard = marksOf(mesh, 'hard');
  if (!crease && !hard) return undefined;
  return (e, ink) => {
    if (crease && crease[e] > 0) return 0.75 + 0.25 * min(1, crease[e] / 3);
    return hard && hard[e] > 0 ? 0.75 : ink;
  };
}

/** Where an edge is drawn and how strongly, written to place `n` of `at` (6 per edge) and `ink` (2 per edge). */
export function drawEdge(
  { positions: p }: Mesh,
  { edgeVertex, edgeCornerStart, edgeCorner, cornerFace }: Topology,
  normals: Float32Array,
  e: number,
  at: Float32Array,
  ink: Float32Array,
  n: number,
  marked?: (edge: number, ink: number) => number,
): void {
  for (let k = 0; k < 2; k++) {
    const v = 3 * edgeVertex[2 * e + k];
    const o = 6 * n + 3 * k;
    at[o] = p[v];
    at[o + 1] = p[v + 1];
    at[o + 2] = p[v + 2];
  }
  const s = edgeCornerStart[e];
  let strength = 0.55;
  if (edgeCornerStart[e + 1] - s === 2) {
    const f = 3 * cornerFace[edgeCorner[s]];
    const g = 3 * cornerFace[edgeCorner[s + 1]];
    const cos = normals[f] * normals[g] + normals[f + 1] * normals[g + 1] + normals[f + 2] * normals[g + 2];
    strength = 0.18 + 0.37 * min(1, 1 - cos); // 1 − cosine stands for the angle: as good to the eye, without an arc cosine for every edge
  }
  if (marked) strength = marked(e, strength);
  ink[2 * n] = strength;
  ink[2 * n + 1] = strength;
}

/** The lines alone. */
export function edgeBuffers(mesh: Mesh, normals = faceNormals(mesh)): Pick<DisplayBuffers, 'edgePosition' | 'edgeInk'> {
  const topology = topologyOf(mesh);
  const edges = topology.edgeCount;
  const edgePosition = new Float32Array(6 * edges);
  const edgeInk = new Float32Array(2 * edges);
  const marked = markedInk(mesh);
  for (let e = 0; e < edges; e++) drawEdge(mesh, topology, normals, e, edgePosition, edgeInk, e, marked);
  return { edgePosition, edgeInk };
}

function ownColours(mesh: Mesh): { color?: Float32Array } {
  const color = coloursOfCorners(mesh);
  return color ? { color } : {};
}

/** `smooth` in radians; 0 for flat. */
export function displayBuffers(mesh: Mesh, smooth = 0): DisplayBuffers {
  const { positions: p, cornerVertex, cornerCount } = mesh;
  const normals = faceNormals(mesh);
  const position = new Float32Array(3 * cornerCount);
  for (let c = 0; c < cornerCount; c++) {
    const v = 3 * cornerVertex[c];
    position[3 * c] = p[v];
    position[3 * c + 1] = p[v + 1];
    position[3 * c + 2] = p[v + 2];
  }
  const t = triangulate(mesh);
  const [uv, uv2] = uvSets(mesh).map((name) => mesh.attributes[name].data);
  const slot = mesh.attributes.material?.data;
  return {
    position,
    normal: cornerNormals(mesh, smooth, normals),
    index: t.corners,
    triangleFace: t.face,
    ...edgeBuffers(mesh, normals),
    ...(uv ? { uv: Float32Array.from(uv) } : {}),
    ...(uv2 ? { uv2: Float32Array.from(uv2) } : {}),
    ...ownColours(mesh),
    ...(slot ? { slot: Int32Array.from(slot) } : {}),
    slots: mesh.slots,
    faces: mesh.faceCount,
    triangles: t.face.length,
  };
}
