/**
 * Values that the form of a surface gives each vertex: how it bends, how much sky it sees, how far it is to some of its
 * faces.
 */
import { EVERY, pulse } from '../math/pulse';
import type { Triple } from '../math/affine';
import { boundsOfMesh } from './moved';
import { keepFaces } from '../edit/detach';
import type { Mesh } from './mesh';
import { mask } from './picks';
import { cornerNormals } from './normals';
import { raysOf } from './rays';
import { topologyOf } from './topology';
import { triangulate } from './triangulate';

const { hypot, sqrt, cos, sin, max, PI } = Math;

/** Of all faces round each vertex, by their angles there; 3 per vertex. */
function vertexNormals(mesh: Mesh): Float64Array {
  const n = cornerNormals(mesh, PI);
  const { vertexCornerStart, vertexCorner } = topologyOf(mesh);
  const out = new Float64Array(3 * mesh.vertexCount);
  for (let v = 0; v < mesh.vertexCount; v++) {
    const s = vertexCornerStart[v];
    if (s < vertexCornerStart[v + 1]) for (let k = 0; k < 3; k++) out[3 * v + k] = n[3 * vertexCorner[s] + k];
  }
  return out;
}

const bends = new WeakMap<Mesh, Float64Array>();
/**
 * Mean curvature, 1 per metre: by the cotangents of opposite angles over the area round each vertex (Meyer, Desbrun,
 * Schroeder and Barr, 2003), with a sign: above 0 where the surface stands out. On a ball of radius r it is 1 / r. 0 on
 * borders, where there is no whole ring.
 */
export function meanCurvatures(mesh: Mesh): Float64Array {
  const had = bends.get(mesh);
  if (had) return had;
  const { positions: p, cornerVertex } = mesh;
  const t = triangulate(mesh);
  const sum = new Float64Array(3 * mesh.vertexCount);
  const area = new Float64Array(mesh.vertexCount);
  const at = [0, 0, 0];
  const cot = [0, 0, 0];
  const square = [0, 0, 0];
  for (let i = 0; i < t.face.length; i++) {
    if ((i & EVERY) === 0) pulse();
    for (let k = 0; k < 3; k++) at[k] = 3 * cornerVertex[t.corners[3 * i + k]];
    const [ux, uy, uz] = [0, 1, 2].map((k) => p[at[1] + k] - p[at[0] + k]);
    const [wx, wy, wz] = [0, 1, 2].map((k) => p[at[2] + k] - p[at[0] + k]);
    const twice = hypot(uy * wz - uz * wy, uz * wx - ux * wz, ux * wy - uy * wx);
    if (!(twice > 0)) continue;
    let wide = -1;
    for (let k = 0; k < 3; k++) {
      const [a, b, c] = [at[k], at[(k + 1) % 3], at[(k + 2) % 3]];
      let dot = 0;
      let far = 0;
      for (let q = 0; q < 3; q++) {
        dot += (p[b + q] - p[a + q]) * (p[c + q] - p[a + q]);
        far += (p[b + q] - p[c + q]) ** 2;
      }
      cot[k] = dot / twice;
      square[k] = far;
      if (dot < 0) wide = k;
      for (let q = 0; q < 3; q++) {
        const d = (cot[k] / 2) * (p[b + q] - p[c + q]);
        sum[b + q] += d;
        sum[c + q] -= d;
      }
    }
    // Of a blunt triangle the part nearest to each corner reaches beyond it: halves and quarters then.
    for (let k = 0; k < 3; k++) {
      const [j, l] = [(k + 1) % 3, (k + 2) % 3];
      const near = (square[j] * cot[j] + square[l] * cot[l]) / 8;
      area[at[k] / 3] += wide < 0 ? near : twice / (wide === k ? 4 : 8);
    }
  }
  const normals = vertexNormals(mesh);
  const { edgeCount, edgeVertex, edgeCornerStart } = topologyOf(mesh);
  const out = new Float64Array(mesh.vertexCount);
  for (let v = 0; v < out.length; v++) {
    const s = sum[3 * v] * normals[3 * v] + sum[3 * v + 1] * normals[3 * v + 1] + sum[3 * v + 2] * normals[3 * v + 2];
    out[v] = area[v] > 0 ? s / (2 * area[v]) : 0;
  }
  for (let e = 0; e < edgeCount; e++)
    if (edgeCornerStart[e + 1] - edgeCornerStart[e] === 1) {
      out[edgeVertex[2 * e]] = 0;
      out[edgeVertex[2 * e + 1]] = 0;
    }
  bends.set(mesh, out);
  return out;
}

/** Ways over a half of a ball, thick in the middle by the cosine: a spiral of equal shares. */
const WAYS = 48;
const GOLDEN = PI * (3 - sqrt(5));

const skies = new WeakMap<Mesh, Float64Array>();
/**
 * How much of the sky over each vertex its own mesh leaves open, 0 to 1: rays over the half of a ball that its normal
 * points into.
 */
export function opennessOf(mesh: Mesh): Float64Array {
  const had = skies.get(mesh);
  if (had) return had;
  const { positions: p } = mesh;
  const normals = vertexNormals(mesh);
  const rays = raysOf(mesh);
  const { min: lo, max: hi } = boundsOfMesh(mesh);
  const off = 1e-4 * hypot(hi[0] - lo[0], hi[1] - lo[1], hi[2] - lo[2]);
  const out = new Float64Array(mesh.vertexCount);
  for (let v = 0; v < out.length; v++) {
    if ((v & 15) === 0) pulse();
    const n: Triple = [normals[3 * v], normals[3 * v + 1], normals[3 * v + 2]];
    const x = hypot(n[0], n[2]) > 1e-3 ? [n[2], 0, -n[0]] : [1, 0, 0];
    const l = hypot(x[0], x[1], x[2]);
    const [a, b, c] = x.map((q) => q / l);
    const y = [n[1] * c - n[2] * b, n[2] * a - n[0] * c, n[0] * b - n[1] * a];
    const from: Triple = [p[3 * v] + off * n[0], p[3 * v + 1] + off * n[1], p[3 * v + 2] + off * n[2]];
    let free = 0;
    for (let i = 0; i < WAYS; i++) {
      const r = sqrt((i + 0.5) / WAYS);
      const up = sqrt(max(0, 1 - r * r));
      const [s, t] = [r * cos(i * GOLDEN), r * sin(i * GOLDEN)];
      if (
        !rays.blocked(from, [s * a + t * y[0] + up * n[0], s * b + t * y[1] + up * n[1], s * c + t * y[2] + up * n[2]])
      )
        free++;
    }
    out[v] = free / WAYS;
  }
  skies.set(mesh, out);
  return out;
}

/**
 * How far each vertex is from some faces, straight; the longest way through the bounds where there are none. Metres.
 */
export function distancesTo(mesh: Mesh, faces: readonly number[]): Float64Array {
  const out = new Float64Array(mesh.vertexCount);
  const { min: lo, max: hi } = boundsOfMesh(mesh);
  if (faces.length === 0) return out.fill(hypot(hi[0] - lo[0], hi[1] - lo[1], hi[2] - lo[2]));
  const rays = raysOf(keepFaces(mesh, mask(mesh.faceCount, faces)));
  const { positions: p } = mesh;
  for (let v = 0; v < out.length; v++) {
    if ((v & 255) === 0) pulse();
    out[v] = rays.nearest([p[3 * v], p[3 * v + 1], p[3 * v + 2]])?.distance ?? 0;
  }
  return out;
}
