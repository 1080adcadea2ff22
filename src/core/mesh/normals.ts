/** Normals: of faces (Newell's method, exact for planar polygons, area-weighted otherwise) and of corners, smooth up to an angle. */
import type { Mesh } from './mesh';
import { topologyOf, oppositeCorner, nextCorner, previousCorner } from './topology';

const { acos, cos, max, min, sqrt } = Math;

/** 3 per face, unit length (0,0,0 for faces without area). With `scaled`, length is the area. */
export function faceNormals(mesh: Mesh, scaled = false): Float32Array {
  const { positions: p, faceStart, cornerVertex, faceCount } = mesh;
  const out = new Float32Array(3 * faceCount);
  for (let f = 0; f < faceCount; f++) {
    const s = faceStart[f], e = faceStart[f + 1];
    let x = 0, y = 0, z = 0;
    const o = 3 * cornerVertex[s];
    const ox = p[o], oy = p[o + 1], oz = p[o + 2];
    for (let c = s + 1; c + 1 < e; c++) {
      const a = 3 * cornerVertex[c], b = 3 * cornerVertex[c + 1];
      const ax = p[a] - ox, ay = p[a + 1] - oy, az = p[a + 2] - oz;
      const bx = p[b] - ox, by = p[b + 1] - oy, bz = p[b + 2] - oz;
      x += ay * bz - az * by; y += az * bx - ax * bz; z += ax * by - ay * bx;
    }
    const k = scaled ? 0.5 : 1 / (sqrt(x * x + y * y + z * z) || Infinity);
    out[3 * f] = x * k; out[3 * f + 1] = y * k; out[3 * f + 2] = z * k;
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
    for (let f = 0; f < faceCount; f++) for (let c = faceStart[f]; c < faceStart[f + 1]; c++) {
      out[3 * c] = normals[3 * f]; out[3 * c + 1] = normals[3 * f + 1]; out[3 * c + 2] = normals[3 * f + 2];
    }
    return out;
  }
  const t = topologyOf(mesh);
  const cosLimit = cos(angle) - 1e-6;
  const weight = new Float32Array(cornerCount);
  for (let f = 0; f < faceCount; f++) for (let c = faceStart[f]; c < faceStart[f + 1]; c++) {
    const o = 3 * cornerVertex[c], a = 3 * cornerVertex[nextCorner(mesh, f, c)], b = 3 * cornerVertex[previousCorner(mesh, f, c)];
    const ax = p[a] - p[o], ay = p[a + 1] - p[o + 1], az = p[a + 2] - p[o + 2];
    const bx = p[b] - p[o], by = p[b + 1] - p[o + 1], bz = p[b + 2] - p[o + 2];
    const l = sqrt((ax * ax + ay * ay + az * az) * (bx * bx + by * by + bz * bz));
    weight[c] = l > 0 ? acos(max(-1, min(1, (ax * bx + ay * by + az * bz) / l))) : 0;
  }
  // Corners of one vertex that smooth together form a run; each run is walked once from a corner not yet done.
  const done = new Uint8Array(cornerCount);
  const run: number[] = [];
  const smooth = (c: number, d: number) => {
    const f = 3 * t.cornerFace[c], g = 3 * t.cornerFace[d];
    return normals[f] * normals[g] + normals[f + 1] * normals[g + 1] + normals[f + 2] * normals[g + 2] >= cosLimit;
  };
  for (let start = 0; start < cornerCount; start++) {
    if (done[start]) continue;
    run.length = 0;
    run.push(start);
    done[start] = 1;
    for (let i = 0; i < run.length; i++) {
      const c = run[i], f = t.cornerFace[c], v = cornerVertex[c];
      const over = oppositeCorner(t, c); // across the edge that leaves v
      if (over >= 0) {
        const d = cornerVertex[over] === v ? over : nextCorner(mesh, t.cornerFace[over], over);
        if (!done[d] && cornerVertex[d] === v && smooth(c, d)) { done[d] = 1; run.push(d); }
      }
      const before = oppositeCorner(t, previousCorner(mesh, f, c)); // across the edge that arrives at v
      if (before >= 0) {
        const d = cornerVertex[before] === v ? before : nextCorner(mesh, t.cornerFace[before], before);
        if (!done[d] && cornerVertex[d] === v && smooth(c, d)) { done[d] = 1; run.push(d); }
      }
    }
    let x = 0, y = 0, z = 0;
    for (const c of run) {
      const f = 3 * t.cornerFace[c], w = weight[c];
      x += w * normals[f]; y += w * normals[f + 1]; z += w * normals[f + 2];
    }
    const l = sqrt(x * x + y * y + z * z);
    for (const c of run) {
      const f = 3 * t.cornerFace[c];
      if (l > 1e-12) { out[3 * c] = x / l; out[3 * c + 1] = y / l; out[3 * c + 2] = z / l; }
      else { out[3 * c] = normals[f]; out[3 * c + 1] = normals[f + 1]; out[3 * c + 2] = normals[f + 2]; }
    }
  }
  return out;
}
