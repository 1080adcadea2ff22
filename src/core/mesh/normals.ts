/** Normals: of faces (Newell's method, exact for planar polygons, area-weighted otherwise) and of corners, smooth up to an angle. */
import { EVERY, pulse } from '../math/pulse';
import type { Mesh } from './mesh';
import { topologyOf, nextCorner, previousCorner } from './topology';

const { acos, cos, max, min, sqrt } = Math;

/** 3 per face, unit length (0,0,0 for faces without area). With `scaled`, length is the area. */
export function faceNormals(mesh: Mesh, scaled = false): Float32Array {
  const { positions: p, faceStart, cornerVertex, faceCount } = mesh;
  const out = new Float32Array(3 * faceCount);
  for (let f = 0; f < faceCount; f++) {
    if ((f & EVERY) === 0) pulse();
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
    out[3 * f] = x * k;
    out[3 * f + 1] = y * k;
    out[3 * f + 2] = z * k;
  }
  return out;
}

/**
 * 3 per corner, unit. Corners around a vertex share a normal as long as neighbouring faces meet at less than `angle` (radians);
 * weighted by each face's corner angle (Thürmer and Wüthrich 1998). `angle` 0 gives flat shading.
 */
export function cornerNormals(mesh: Mesh, angle: number, normals = faceNormals(mesh)): Float32Array {
  const { positions: p, faceStart, cornerVertex, faceCount, cornerCount } = mesh;
  const out = new Float32Array(3 * cornerCount);
  if (angle <= 0) {
    for (let f = 0; f < faceCount; f++)
      for (let c = faceStart[f]; c < faceStart[f + 1]; c++) {
        out[3 * c] = normals[3 * f];
        out[3 * c + 1] = normals[3 * f + 1];
        out[3 * c + 2] = normals[3 * f + 2];
      }
    return out;
  }
  const t = topologyOf(mesh);
  const cosLimit = cos(angle) - 1e-6;
  const weight = new Float32Array(cornerCount);
  for (let f = 0; f < faceCount; f++)
    for (let c = faceStart[f]; c < faceStart[f + 1]; c++) {
      const o = 3 * cornerVertex[c];
      const a = 3 * cornerVertex[nextCorner(mesh, f, c)];
      const b = 3 * cornerVertex[previousCorner(mesh, f, c)];
      const ax = p[a] - p[o];
      const ay = p[a + 1] - p[o + 1];
      const az = p[a + 2] - p[o + 2];
      const bx = p[b] - p[o];
      const by = p[b + 1] - p[o + 1];
      const bz = p[b + 2] - p[o + 2];
      const l = sqrt((ax * ax + ay * ay + az * az) * (bx * bx + by * by + bz * bz));
      weight[c] = l > 0 ? acos(max(-1, min(1, (ax * bx + ay * by + az * bz) / l))) : 0;
    }
  // The corner across the edge that leaves each corner, where the two faces smooth into one another; −1 where they do not.
  const over = new Int32Array(cornerCount).fill(-1);
  const { edgeCornerStart, edgeCorner, edgeCount, cornerFace } = t;
  for (let e = 0; e < edgeCount; e++) {
    if ((e & EVERY) === 0) pulse();
    const s = edgeCornerStart[e];
    if (edgeCornerStart[e + 1] - s !== 2) continue;
    const c = edgeCorner[s];
    const d = edgeCorner[s + 1];
    const f = 3 * cornerFace[c];
    const g = 3 * cornerFace[d];
    if (normals[f] * normals[g] + normals[f + 1] * normals[g + 1] + normals[f + 2] * normals[g + 2] < cosLimit)
      continue;
    over[c] = d;
    over[d] = c;
  }
  // Corners of one vertex that smooth together form a run: walked once, round the vertex one way, then, if it did not close, the other.
  const done = new Uint8Array(cornerCount);
  let run = new Int32Array(64);
  for (let start = 0; start < cornerCount; start++) {
    if ((start & EVERY) === 0) pulse();
    if (done[start]) continue;
    const v = cornerVertex[start];
    let n = 1;
    let x = 0;
    let y = 0;
    let z = 0;
    run[0] = start;
    done[start] = 1;
    for (let way = 0; way < 2; way++) {
      for (let c = start; ;) {
        const f = cornerFace[c];
        const s = faceStart[f];
        const e = faceStart[f + 1];
        const before = c > s ? c - 1 : e - 1;
        const d = over[way === 0 ? c : before];
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
    for (let i = 0; i < n; i++) {
      const f = 3 * cornerFace[run[i]];
      const w = weight[run[i]];
      x += w * normals[f];
      y += w * normals[f + 1];
      z += w * normals[f + 2];
    }
    const l = sqrt(x * x + y * y + z * z);
    for (let i = 0; i < n; i++) {
      const c = run[i];
      const f = 3 * cornerFace[c];
      if (l > 1e-12) {
        out[3 * c] = x / l;
        out[3 * c + 1] = y / l;
        out[3 * c + 2] = z / l;
      } else {
        out[3 * c] = normals[f];
        out[3 * c + 1] = normals[f + 1];
        out[3 * c + 2] = normals[f + 2];
      }
    }
  }
  return out;
}
