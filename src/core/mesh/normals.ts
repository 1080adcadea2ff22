/**
 * Normals: of faces (Newell's method, exact for planar polygons, area-weighted otherwise) and of corners, smooth up to
 * an angle.
 */
import { angleAt } from '../math/angle';
import { EVERY, pulse } from '../math/pulse';
import { marksOf } from './marks';
import type { Mesh } from './mesh';
import { topologyOf, nextCorner, previousCorner } from './topology';

const { cos, sqrt } = Math;

/** 3 per face, unit length (0,0,0 for faces without area). With `scaled`, length is the area. */
export function faceNormals(mesh: Mesh, scaled = false): Float32Array {
  const out = new Float32Array(3 * mesh.faceCount);
  for (let f = 0; f < mesh.faceCount; f++) {
    if ((f & EVERY) === 0) pulse();
    faceNormal(mesh, f, out, 3 * f, scaled);
  }
  return out;
}

/** The normal of one face, written to `out` from `at` on. */
export function faceNormal(mesh: Mesh, f: number, out: Float32Array, at: number, scaled = false): void {
  const { positions: p, faceStart, cornerVertex } = mesh;
  const s = faceStart[f];
  const e = faceStart[f + 1];
  let x = 0;
  let y = 0;
  let z = 0;
  const o = 3 * cornerVertex[s];
  const ox = p[o];
  const oy = p[o + 1];
  const oz = p[o + 2];
  for (let c = s + 1; c + 1 < e; c++) {
    const a = 3 * cornerVertex[c];
    const b = 3 * cornerVertex[c + 1];
    const ax = p[a] - ox;
    const ay = p[a + 1] - oy;
    const az = p[a + 2] - oz;
    const bx = p[b] - ox;
    const by = p[b + 1] - oy;
    const bz = p[b + 2] - oz;
    x += ay * bz - az * by;
    y += az * bx - ax * bz;
    z += ax * by - ay * bx;
  }
  const k = scaled ? 0.5 : 1 / (sqrt(x * x + y * y + z * z) || Infinity);
  out[at] = x * k;
  out[at + 1] = y * k;
  out[at + 2] = z * k;
}

/**
 * 3 per corner, unit. Corners around a vertex share a normal as long as neighbouring faces meet at less than `angle`
 * (radians); weighted by each face's corner angle (Thürmer and Wüthrich 1998). `angle` 0 gives flat shading.
 */
export function cornerNormals(mesh: Mesh, angle: number, normals = faceNormals(mesh)): Float32Array {
  const out = new Float32Array(3 * mesh.cornerCount);
  cornerNormalsInto(mesh, angle, normals, out);
  return out;
}

/** Angle between the two edges of a face that meet at a corner, radians; 0 where one of them has no length. */
function cornerAngle(mesh: Mesh, f: number, c: number): number {
  const { positions, cornerVertex } = mesh;
  const [a, b] = [nextCorner(mesh, f, c), previousCorner(mesh, f, c)];
  return angleAt(positions, 3 * cornerVertex[c], 3 * cornerVertex[a], 3 * cornerVertex[b]);
}

/**
 * The same, written to their places in `out`, for the corners at `vertices` only where these are given: `normals` then
 * needs the faces around them only.
 */
export function cornerNormalsInto(
  mesh: Mesh,
  angle: number,
  normals: Float32Array,
  out: Float32Array,
  vertices?: Uint32Array,
): void {
  const { faceStart, cornerVertex } = mesh;
  const { cornerFace, cornerEdge, edgeCornerStart, edgeCorner, vertexCornerStart, vertexCorner } = topologyOf(mesh);
  const cosLimit = cos(angle) - 1e-6;
  const hard = marksOf(mesh, 'hard');
  /**
   * The corner across the edge that leaves a corner, where the two faces smooth into one another; −1 where they do not.
   */
  const over = (c: number): number => {
    const e = cornerEdge[c];
    const s = edgeCornerStart[e];
    if (edgeCornerStart[e + 1] - s !== 2) return -1;
    const d = edgeCorner[s] === c ? edgeCorner[s + 1] : edgeCorner[s];
    if (hard && hard[e] !== 0) return hard[e] > 0 ? -1 : d;
    const f = 3 * cornerFace[c];
    const g = 3 * cornerFace[d];
    return normals[f] * normals[g] + normals[f + 1] * normals[g + 1] + normals[f + 2] * normals[g + 2] < cosLimit
      ? -1
      : d;
  };
  // Corners of one vertex that smooth together form a run: walked once, round the vertex one way, then, if it did not
  // close, the other.
  const done = new Uint8Array(mesh.cornerCount);
  let run = new Int32Array(64);
  const total = vertices ? vertices.length : mesh.vertexCount;
  for (let k = 0; k < total; k++) {
    if ((k & EVERY) === 0) pulse();
    const v = vertices ? vertices[k] : k;
    for (let i = vertexCornerStart[v]; i < vertexCornerStart[v + 1]; i++) {
      const start = vertexCorner[i];
      if (angle <= 0 && !hard) {
        const f = 3 * cornerFace[start];
        out[3 * start] = normals[f];
        out[3 * start + 1] = normals[f + 1];
        out[3 * start + 2] = normals[f + 2];
        continue;
      }
      if (done[start]) continue;
      let n = 1;
      run[0] = start;
      done[start] = 1;
      for (let way = 0; way < 2; way++) {
        for (let c = start; ;) {
          const f = cornerFace[c];
          const s = faceStart[f];
          const before = c > s ? c - 1 : faceStart[f + 1] - 1;
          const d = over(way === 0 ? c : before);
          if (d < 0) break;
          // Consistently turned faces meet at v one corner on; others at that very corner.
          const g = cornerFace[d];
          const after = d + 1 < faceStart[g + 1] ? d + 1 : faceStart[g];
          const q = cornerVertex[d] === v ? d : after;
          if (done[q] || cornerVertex[q] !== v) break;
          done[q] = 1;
          if (n === run.length) {
            const more = new Int32Array(2 * n);
            more.set(run);
            run = more;
          }
          run[n++] = c = q;
        }
      }
      let x = 0;
      let y = 0;
      let z = 0;
      for (let j = 0; j < n; j++) {
        const f = cornerFace[run[j]];
        // A run of one has the face's own normal, whatever its weight.
        const w = n === 1 ? 1 : cornerAngle(mesh, f, run[j]);
        x += w * normals[3 * f];
        y += w * normals[3 * f + 1];
        z += w * normals[3 * f + 2];
      }
      const l = sqrt(x * x + y * y + z * z);
      for (let j = 0; j < n; j++) {
        const c = 3 * run[j];
        const f = 3 * cornerFace[run[j]];
        out[c] = l > 1e-12 ? x / l : normals[f];
        out[c + 1] = l > 1e-12 ? y / l : normals[f + 1];
        out[c + 2] = l > 1e-12 ? z / l : normals[f + 2];
      }
    }
  }
}
