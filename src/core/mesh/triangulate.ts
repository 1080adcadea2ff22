/**
 * Triangles of polygons, as corner indices, so that attributes of corners come along. Triangles pass through; convex
 * quads are cut along the shorter diagonal; the rest, concave ones among them, go through earcut in the plane of their
 * Newell normal. A face of n corners always gives n - 2 triangles, so offsets are known beforehand and face ids need no
 * search.
 */
import { EVERY, pulse } from '../math/pulse';
import earcut from 'earcut';
import type { Mesh } from './mesh';
import { longPolygon } from './longpolygon';
import { faceNormal } from './normals';

const { abs } = Math;
/** Corners from which on ears are not cut one by one. */
const LONG = 1000;

export interface Triangles {
  /** 3 corner indices per triangle. */
  corners: Uint32Array;
  /** Face of each triangle. */
  face: Uint32Array;
}

export function triangleCount(mesh: Mesh): number {
  return mesh.cornerCount - 2 * mesh.faceCount;
}

export function triangulate(mesh: Mesh): Triangles {
  const { faceStart, faceCount } = mesh;
  const total = triangleCount(mesh);
  const corners = new Uint32Array(3 * total);
  const face = new Uint32Array(total);
  let n = 0;
  for (let f = 0; f < faceCount; f++) {
    if ((f & EVERY) === 0) pulse();
    const end = n + faceStart[f + 1] - faceStart[f] - 2;
    trianglesOf(mesh, f, corners, n);
    for (; n < end; n++) face[n] = f;
  }
  return { corners, face };
}

/** The first triangle of a face among all: every face of n corners has n − 2. */
export const firstTriangle = (mesh: Mesh, f: number): number => mesh.faceStart[f] - 2 * f;

const own = new Float32Array(3);

/** The triangles of one face, written to `corners` (3 per triangle) from triangle `n` on. */
export function trianglesOf(mesh: Mesh, f: number, corners: Uint32Array, n: number): void {
  const { positions: p, faceStart, cornerVertex } = mesh;
  const s = faceStart[f];
  const size = faceStart[f + 1] - s;
  const o = 3 * n;
  if (size === 3) {
    corners[o] = s;
    corners[o + 1] = s + 1;
    corners[o + 2] = s + 2;
  } else if (size === 4) {
    const cut = quadCut(
      p,
      cornerVertex[s] * 3,
      cornerVertex[s + 1] * 3,
      cornerVertex[s + 2] * 3,
      cornerVertex[s + 3] * 3,
    );
    corners[o] = s;
    corners[o + 1] = s + 1;
    corners[o + 2] = s + 2 + cut;
    corners[o + 3] = s + cut;
    corners[o + 4] = s + 2;
    corners[o + 5] = s + 3;
  } else {
    faceNormal(mesh, f, own, 0);
    cutPolygon(mesh, f, own, corners, n);
  }
}

/**
 * 0 to cut from corner 0 to 2, 1 from 1 to 3: whichever leaves both triangles facing the same way; of two good ones the
 * shorter.
 */
function quadCut(p: Float32Array, a: number, b: number, c: number, d: number): 0 | 1 {
  const acx = p[c] - p[a];
  const acy = p[c + 1] - p[a + 1];
  const acz = p[c + 2] - p[a + 2];
  const bdx = p[d] - p[b];
  const bdy = p[d + 1] - p[b + 1];
  const bdz = p[d + 2] - p[b + 2];
  // Normal of the quad is half the cross product of its diagonals.
  const nx = acy * bdz - acz * bdy;
  const ny = acz * bdx - acx * bdz;
  const nz = acx * bdy - acy * bdx;
  const side = (ux: number, uy: number, uz: number, o: number, q: number) => {
    const vx = p[q] - p[o];
    const vy = p[q + 1] - p[o + 1];
    const vz = p[q + 2] - p[o + 2];
    return (uy * vz - uz * vy) * nx + (uz * vx - ux * vz) * ny + (ux * vy - uy * vx) * nz;
  };
  const goodAC = side(acx, acy, acz, a, b) <= 0 && side(acx, acy, acz, a, d) >= 0;
  const goodBD = side(bdx, bdy, bdz, b, c) <= 0 && side(bdx, bdy, bdz, b, a) >= 0;
  if (goodAC !== goodBD) return goodAC ? 0 : 1;
  return acx * acx + acy * acy + acz * acz <= bdx * bdx + bdy * bdy + bdz * bdz ? 0 : 1;
}

function cutPolygon(mesh: Mesh, f: number, normal: Float32Array, corners: Uint32Array, n: number): void {
  const { positions: p, cornerVertex, faceStart } = mesh;
  const s = faceStart[f];
  const size = faceStart[f + 1] - s;
  const x = abs(normal[0]);
  const y = abs(normal[1]);
  const z = abs(normal[2]);
  // Drop the axis the face looks along most; swap the others where needed so that the outline stays counter-clockwise.
  let drop = y >= z ? 1 : 2;
  if (x >= y && x >= z) drop = 0;
  const flip = normal[drop] < 0;
  const iu = (drop + (flip ? 2 : 1)) % 3;
  const iv = (drop + (flip ? 1 : 2)) % 3;
  const flat = new Array<number>(2 * size);
  for (let i = 0; i < size; i++) {
    const v = 3 * cornerVertex[s + i];
    flat[2 * i] = p[v + iu];
    flat[2 * i + 1] = p[v + iv];
  }
  const cut = (size > LONG ? longPolygon(flat) : undefined) ?? earcut(flat);
  const want = size - 2;
  // Earcut gives fewer triangles where points coincide or lie on one line: a fan then keeps counts and indices whole.
  const whole = cut.length === 3 * want;
  for (let i = 0; i < want; i++) {
    let a = 0;
    let b = i + 1;
    let c = i + 2;
    if (whole) {
      a = cut[3 * i];
      b = cut[3 * i + 1];
      c = cut[3 * i + 2];
    }
    const area =
      (flat[2 * b] - flat[2 * a]) * (flat[2 * c + 1] - flat[2 * a + 1]) -
      (flat[2 * b + 1] - flat[2 * a + 1]) * (flat[2 * c] - flat[2 * a]);
    if (whole && area < 0) {
      const q = b;
      b = c;
      c = q;
    }
    corners[3 * n] = s + a;
    corners[3 * n + 1] = s + b;
    corners[3 * n + 2] = s + c;
    n++;
  }
}
