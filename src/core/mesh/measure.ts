/**
 * Measures of a mesh: area, volume, bounds, components, Euler characteristic, borders and places that are not manifold.
 */
import { UnionFind } from '../math/unionfind';
import { EVERY, pulse } from '../math/pulse';
import { boundsOf } from './bounds';
import type { Mesh } from './mesh';
import { topologyOf, type Topology } from './topology';
import { triangleCount, triangulate } from './triangulate';

const { hypot } = Math;

/** Surface area in m² of the triangulated faces, of all or of those with mask[f] set. */
export function areaOf(mesh: Mesh, mask?: Uint8Array): number {
  const { positions: p, cornerVertex } = mesh;
  const t = triangulate(mesh);
  let sum = 0;
  for (let i = 0; i < t.face.length; i++) {
    if ((i & EVERY) === 0) pulse();
    if (mask && !mask[t.face[i]]) continue;
    const a = 3 * cornerVertex[t.corners[3 * i]];
    const b = 3 * cornerVertex[t.corners[3 * i + 1]];
    const c = 3 * cornerVertex[t.corners[3 * i + 2]];
    const ux = p[b] - p[a];
    const uy = p[b + 1] - p[a + 1];
    const uz = p[b + 2] - p[a + 2];
    const vx = p[c] - p[a];
    const vy = p[c + 1] - p[a + 1];
    const vz = p[c + 2] - p[a + 2];
    sum += hypot(uy * vz - uz * vy, uz * vx - ux * vz, ux * vy - uy * vx) / 2;
  }
  return sum;
}

/** Signed volume in m³ by the divergence theorem; of an open mesh, that of the cone from the centre of its bounds. */
export function volumeOf(mesh: Mesh): number {
  const { positions: p, cornerVertex } = mesh;
  const { min, max } = boundsOf(p);
  const ox = (min[0] + max[0]) / 2;
  const oy = (min[1] + max[1]) / 2;
  const oz = (min[2] + max[2]) / 2;
  const t = triangulate(mesh);
  let sum = 0;
  for (let i = 0; i < t.corners.length; i += 3) {
    const a = 3 * cornerVertex[t.corners[i]];
    const b = 3 * cornerVertex[t.corners[i + 1]];
    const c = 3 * cornerVertex[t.corners[i + 2]];
    const ax = p[a] - ox;
    const ay = p[a + 1] - oy;
    const az = p[a + 2] - oz;
    const bx = p[b] - ox;
    const by = p[b + 1] - oy;
    const bz = p[b + 2] - oz;
    const cx = p[c] - ox;
    const cy = p[c + 1] - oy;
    const cz = p[c + 2] - oz;
    sum += ax * (by * cz - bz * cy) + ay * (bz * cx - bx * cz) + az * (bx * cy - by * cx);
  }
  return sum / 6;
}

/**
 * Number of each vertex's component (joined through faces), and how many there are. A vertex no face uses is a
 * component of its own.
 */
export function components(mesh: Mesh): { of: Uint32Array; count: number } {
  const { faceStart, cornerVertex, faceCount, vertexCount } = mesh;
  const joined = new UnionFind(vertexCount);
  for (let f = 0; f < faceCount; f++) {
    if ((f & EVERY) === 0) pulse();
    for (let c = faceStart[f] + 1; c < faceStart[f + 1]; c++) joined.join(cornerVertex[c], cornerVertex[faceStart[f]]);
  }
  return joined.parts();
}

export interface Shape {
  vertices: number;
  edges: number;
  faces: number;
  triangles: number;
  components: number;
  eulerCharacteristic: number;
  openEdges: number;
  nonManifoldEdges: number;
  closed: boolean;
  /** Every edge of two faces is passed in opposite directions by them. */
  oriented: boolean;
  looseVertices: number;
  doubledFaces: number;
}

/** All of it follows from connectivity alone, so it is worked out once for all meshes that share theirs. */
const shapes = new WeakMap<Uint32Array, Shape>();

export function shapeOf(mesh: Mesh): Shape {
  const known = shapes.get(mesh.cornerVertex);
  if (known && known.faces === mesh.faceCount && known.vertices === mesh.vertexCount) return { ...known };
  const shape = findShape(mesh);
  shapes.set(mesh.cornerVertex, shape);
  return { ...shape };
}

/** Adds what stands apart from it. */
export function addShape(to: Shape, more: Shape): void {
  to.closed = more.closed && (to.closed || to.faces === 0);
  to.oriented = to.oriented && more.oriented;
  for (const [name, x] of Object.entries(more) as [keyof Shape, number | boolean][])
    if (typeof x === 'number') (to as unknown as Record<string, number>)[name] += x;
}

function findShape(mesh: Mesh): Shape {
  const t = topologyOf(mesh);
  let open = 0;
  let non = 0;
  let oriented = true;
  for (let e = 0; e < t.edgeCount; e++) {
    if ((e & EVERY) === 0) pulse();
    const s = t.edgeCornerStart[e];
    const k = t.edgeCornerStart[e + 1] - s;
    if (k === 1) open++;
    else if (k > 2) non++;
    else if (mesh.cornerVertex[t.edgeCorner[s]] === mesh.cornerVertex[t.edgeCorner[s + 1]]) oriented = false;
  }
  let loose = 0;
  for (let v = 0; v < mesh.vertexCount; v++) if (t.vertexCornerStart[v] === t.vertexCornerStart[v + 1]) loose++;
  return {
    vertices: mesh.vertexCount,
    edges: t.edgeCount,
    faces: mesh.faceCount,
    triangles: triangleCount(mesh),
    components: components(mesh).count,
    eulerCharacteristic: mesh.vertexCount - t.edgeCount + mesh.faceCount,
    openEdges: open,
    nonManifoldEdges: non,
    closed: mesh.faceCount > 0 && open === 0 && non === 0,
    oriented: oriented && non === 0,
    looseVertices: loose,
    doubledFaces: doubledFaces(mesh, t).length,
  };
}

/** Faces that use just the same vertices as an earlier face. */
export function doubledFaces(mesh: Mesh, t: Topology = topologyOf(mesh)): number[] {
  const first = firstAlike(mesh, t);
  return Array.from(first.keys()).filter((f) => first[f] !== f);
}

/** For each face the first that uses just the same vertices: mostly itself. */
export function firstAlike(mesh: Mesh, t: Topology = topologyOf(mesh)): Int32Array {
  const out = Int32Array.from({ length: mesh.faceCount }, (_, f) => f);
  const { faceStart, cornerVertex } = mesh;
  const seen = new Int32Array(mesh.vertexCount).fill(-1);
  for (let f = 0; f < mesh.faceCount; f++) {
    if ((f & EVERY) === 0) pulse();
    const s = faceStart[f];
    const size = faceStart[f + 1] - s;
    if (size === 0) continue;
    // Looked for among the faces of the vertex that has fewest: at the middle of a fan there may be a million.
    let v = cornerVertex[s];
    for (let c = s; c < s + size; c++) {
      const w = cornerVertex[c];
      if (t.vertexCornerStart[w + 1] - t.vertexCornerStart[w] < t.vertexCornerStart[v + 1] - t.vertexCornerStart[v])
        v = w;
    }
    for (let i = t.vertexCornerStart[v]; i < t.vertexCornerStart[v + 1]; i++) {
      const g = t.cornerFace[t.vertexCorner[i]];
      if (g >= f || faceStart[g + 1] - faceStart[g] !== size) continue;
      for (let c = s; c < s + size; c++) seen[cornerVertex[c]] = f;
      let same = true;
      for (let d = faceStart[g]; d < faceStart[g + 1] && same; d++) same = seen[cornerVertex[d]] === f;
      if (same) {
        out[f] = out[g];
        break;
      }
    }
  }
  return out;
}
