/**
 * Places that are hardly meant: corners on edges, bent polygons, slivers, regions that look the wrong way, many faces
 * where it is flat.
 */
import { EVERY, pulse } from '../math/pulse';
import { UnionFind } from '../math/unionfind';
import type { Mesh } from '../mesh/mesh';
import { faceNormals } from '../mesh/normals';
import { topologyOf } from '../mesh/topology';
import { bends } from '../rules/measures';

const { abs, hypot, max, min } = Math;

/** A share of the farthest coordinate that counts as nothing. */
const NOTHING = 1e-6;
export const sizeOf = (mesh: Mesh): number => {
  let size = 0;
  for (let i = 0; i < mesh.positions.length; i++) size = max(size, abs(mesh.positions[i]));
  return size;
};

/** Faces whose area is nothing beside the length of their longest side. */
export function flatFaces(mesh: Mesh): number[] {
  const n = faceNormals(mesh, true);
  const { positions: p, faceStart, cornerVertex: cv } = mesh;
  const out: number[] = [];
  const least = NOTHING * sizeOf(mesh);
  for (let f = 0; f < mesh.faceCount; f++) {
    if ((f & EVERY) === 0) pulse();
    let long = 0;
    for (let c = faceStart[f]; c < faceStart[f + 1]; c++) {
      const a = 3 * cv[c];
      const b = 3 * cv[c + 1 < faceStart[f + 1] ? c + 1 : faceStart[f]];
      long = max(long, hypot(p[a] - p[b], p[a + 1] - p[b + 1], p[a + 2] - p[b + 2]));
    }
    const area = hypot(n[3 * f], n[3 * f + 1], n[3 * f + 2]);
    if (2 * area <= long * min(long * 1e-5, least) || long === 0) out.push(f);
  }
  return out;
}

/** Triangles whose longest side is over `ratio` times their height on it. */
export function slivers(mesh: Mesh, ratio = 20): number[] {
  const n = faceNormals(mesh, true);
  const { positions: p, faceStart, cornerVertex: cv } = mesh;
  const out: number[] = [];
  for (let f = 0; f < mesh.faceCount; f++) {
    const s = faceStart[f];
    if (faceStart[f + 1] - s !== 3) continue;
    let long = 0;
    for (let k = 0; k < 3; k++) {
      const a = 3 * cv[s + k];
      const b = 3 * cv[s + ((k + 1) % 3)];
      long = max(long, hypot(p[a] - p[b], p[a + 1] - p[b + 1], p[a + 2] - p[b + 2]));
    }
    const height = (2 * hypot(n[3 * f], n[3 * f + 1], n[3 * f + 2])) / (long || 1);
    if (long > ratio * height) out.push(f);
  }
  return out;
}

/** Faces of more than three corners that leave their own plane by over a share of their size. */
export function bentFaces(mesh: Mesh, share = 0.02): number[] {
  const n = faceNormals(mesh);
  const { positions: p, faceStart, cornerVertex: cv } = mesh;
  const out: number[] = [];
  for (let f = 0; f < mesh.faceCount; f++) {
    if ((f & EVERY) === 0) pulse();
    const [s, e] = [faceStart[f], faceStart[f + 1]];
    if (e - s < 4) continue;
    let lo = Infinity;
    let hi = -Infinity;
    let size = 0;
    const o = 3 * cv[s];
    for (let c = s; c < e; c++) {
      const v = 3 * cv[c];
      const [x, y, z] = [p[v] - p[o], p[v + 1] - p[o + 1], p[v + 2] - p[o + 2]];
      const d = x * n[3 * f] + y * n[3 * f + 1] + z * n[3 * f + 2];
      lo = min(lo, d);
      hi = max(hi, d);
      size = max(size, hypot(x, y, z));
    }
    if (hi - lo > share * size) out.push(f);
  }
  return out;
}

/**
 * Faces that look the other way than most of what they hang together with, or that close a body inside out. Neighbours
 * that pass their edge the same way look opposite ways; of the two sides of a part the smaller is the flipped one, of a
 * closed part the one that encloses less than nothing.
 */
export function flippedFaces(mesh: Mesh): number[] {
  const t = topologyOf(mesh);
  const { cornerVertex: cv, faceCount } = mesh;
  // Two nodes to a face: it as it is, and it turned round.
  const joined = new UnionFind(2 * faceCount);
  const connected = new UnionFind(faceCount);
  for (let e = 0; e < t.edgeCount; e++) {
    if ((e & EVERY) === 0) pulse();
    const s = t.edgeCornerStart[e];
    if (t.edgeCornerStart[e + 1] - s !== 2) continue;
    const [c, o] = [t.edgeCorner[s], t.edgeCorner[s + 1]];
    const [f, g] = [t.cornerFace[c], t.cornerFace[o]];
    if (f === g) continue;
    const same = cv[c] !== cv[o];
    joined.join(2 * f, same ? 2 * g : 2 * g + 1);
    joined.join(2 * f + 1, same ? 2 * g + 1 : 2 * g);
    connected.join(f, g);
  }
  const parts = new Map<number, number[]>();
  for (let f = 0; f < faceCount; f++) {
    const root = connected.find(f);
    const list = parts.get(root);
    if (list) list.push(f);
    else parts.set(root, [f]);
  }
  const out: number[] = [];
  for (const list of parts.values()) {
    const root = joined.find(2 * list[0]);
    if (root === joined.find(2 * list[0] + 1)) continue; // one-sided: it has no outside
    const apart = list.filter((f) => joined.find(2 * f) !== root);
    let flipped = apart;
    if (2 * apart.length > list.length) flipped = list.filter((f) => joined.find(2 * f) === root);
    if (isClosed(mesh, list)) {
      const turned = new Set(flipped);
      const volume = signedVolume(mesh, list, (f) => (turned.has(f) ? -1 : 1));
      if (volume < 0) flipped = list.filter((f) => !turned.has(f));
    }
    out.push(...flipped);
  }
  return out.sort((a, b) => a - b);
}

function isClosed(mesh: Mesh, faces: readonly number[]): boolean {
  const t = topologyOf(mesh);
  for (const f of faces)
    for (let c = mesh.faceStart[f]; c < mesh.faceStart[f + 1]; c++) {
      const e = t.cornerEdge[c];
      if (t.edgeCornerStart[e + 1] - t.edgeCornerStart[e] !== 2) return false;
    }
  return true;
}

function signedVolume(mesh: Mesh, faces: readonly number[], sign: (f: number) => number): number {
  const { positions: p, cornerVertex: cv, faceStart } = mesh;
  const o = 3 * cv[faceStart[faces[0]]];
  let sum = 0;
  for (const f of faces)
    for (let c = faceStart[f] + 1; c + 1 < faceStart[f + 1]; c++) {
      const [a, b, d] = [3 * cv[faceStart[f]], 3 * cv[c], 3 * cv[c + 1]];
      const q = (i: number, k: number) => p[i + k] - p[o + k];
      sum +=
        sign(f) *
        (q(a, 0) * (q(b, 1) * q(d, 2) - q(b, 2) * q(d, 1)) +
          q(a, 1) * (q(b, 2) * q(d, 0) - q(b, 0) * q(d, 2)) +
          q(a, 2) * (q(b, 0) * q(d, 1) - q(b, 1) * q(d, 0)));
    }
  return sum;
}

/** Of flat places of over 64 faces those that are less than a hundredth of the place: they cost and show nothing. */
export function denseFaces(mesh: Mesh): number[] {
  const t = topologyOf(mesh);
  const bend = bends(mesh);
  const n = faceNormals(mesh, true);
  const area = (f: number) => hypot(n[3 * f], n[3 * f + 1], n[3 * f + 2]);
  const joined = new UnionFind(mesh.faceCount);
  for (let e = 0; e < t.edgeCount; e++) {
    if ((e & EVERY) === 0) pulse();
    const x = bend(e);
    if (x < 0 || x > 0.02) continue;
    const s = t.edgeCornerStart[e];
    joined.join(t.cornerFace[t.edgeCorner[s]], t.cornerFace[t.edgeCorner[s + 1]]);
  }
  const { of, count } = joined.parts();
  const whole = new Float64Array(count);
  const faces = new Uint32Array(count);
  for (let f = 0; f < mesh.faceCount; f++) {
    whole[of[f]] += area(f);
    faces[of[f]]++;
  }
  const out: number[] = [];
  for (let f = 0; f < mesh.faceCount; f++) if (faces[of[f]] > 64 && area(f) < whole[of[f]] / 100) out.push(f);
  return out;
}
