/**
 * Where the vertices of the next level lie, and where all would come to lie after endless ones. Sums are Float64 beside
 * Float32 results.
 */
import { EVERY, pulse } from '../math/pulse';
import type { Level } from './level';

/** What stays where it is: nothing, corners of borders where one face has both edges, or all vertices of borders. */
export type Hold = 'none' | 'corners' | 'borders';

/** New positions: old vertices moved, then edge points, then face points. */
export function smooth(level: Level, p: Float32Array, sharp: Float32Array | undefined, hold: Hold): Float32Array {
  const { vertices, faceStart, cornerVertex, cornerEdge, edgeVertex } = level;
  const faces = faceStart.length - 1;
  const edges = edgeVertex.length / 2;
  const out = new Float32Array(3 * (vertices + edges + faces));
  const sumF = new Float64Array(3 * vertices);
  const sumE = new Float64Array(3 * vertices);
  const nf = new Uint16Array(vertices);
  const ne = new Uint16Array(vertices);
  const edgeSum = new Float64Array(3 * edges);
  const edgeFaces = new Uint8Array(edges);

  for (let f = 0; f < faces; f++) {
    if ((f & EVERY) === 0) pulse();
    const s = faceStart[f];
    const end = faceStart[f + 1];
    let x = 0;
    let y = 0;
    let z = 0;
    for (let c = s; c < end; c++) {
      const v = 3 * cornerVertex[c];
      x += p[v];
      y += p[v + 1];
      z += p[v + 2];
    }
    const k = 1 / (end - s);
    x *= k;
    y *= k;
    z *= k;
    const o = 3 * (vertices + edges + f);
    out[o] = x;
    out[o + 1] = y;
    out[o + 2] = z;
    for (let c = s; c < end; c++) {
      const v = cornerVertex[c];
      const e = cornerEdge[c];
      sumF[3 * v] += x;
      sumF[3 * v + 1] += y;
      sumF[3 * v + 2] += z;
      nf[v]++;
      edgeSum[3 * e] += x;
      edgeSum[3 * e + 1] += y;
      edgeSum[3 * e + 2] += z;
      if (edgeFaces[e] < 255) edgeFaces[e]++;
    }
  }

  // Vertices on sharp edges (borders among them) follow the crease rule; these lists stay short.
  const sharpCount = new Uint8Array(vertices);
  const sharpSum = new Map<number, { x: number; y: number; z: number; s: number }>();
  for (let e = 0; e < edges; e++) {
    if ((e & EVERY) === 0) pulse();
    const a = edgeVertex[2 * e];
    const b = edgeVertex[2 * e + 1];
    const mx = (p[3 * a] + p[3 * b]) / 2;
    const my = (p[3 * a + 1] + p[3 * b + 1]) / 2;
    const mz = (p[3 * a + 2] + p[3 * b + 2]) / 2;
    sumE[3 * a] += mx;
    sumE[3 * a + 1] += my;
    sumE[3 * a + 2] += mz;
    ne[a]++;
    sumE[3 * b] += mx;
    sumE[3 * b + 1] += my;
    sumE[3 * b + 2] += mz;
    ne[b]++;
    const crease = sharp ? sharp[e] : 0;
    const s = edgeFaces[e] === 2 ? crease : Infinity;
    const o = 3 * (vertices + e);
    const w = s >= 1 ? 1 : s;
    if (w < 1) {
      const sx = (2 * mx + edgeSum[3 * e]) / 4;
      const sy = (2 * my + edgeSum[3 * e + 1]) / 4;
      const sz = (2 * mz + edgeSum[3 * e + 2]) / 4;
      out[o] = sx + (mx - sx) * w;
      out[o + 1] = sy + (my - sy) * w;
      out[o + 2] = sz + (mz - sz) * w;
    } else {
      out[o] = mx;
      out[o + 1] = my;
      out[o + 2] = mz;
    }
    if (s > 0)
      for (const [v, q] of [
        [a, b],
        [b, a],
      ]) {
        if (sharpCount[v] < 255) sharpCount[v]++;
        const at = sharpSum.get(v) ?? { x: 0, y: 0, z: 0, s: 0 };
        at.x += p[3 * q];
        at.y += p[3 * q + 1];
        at.z += p[3 * q + 2];
        at.s += Math.min(s, 8);
        sharpSum.set(v, at);
      }
  }

  for (let v = 0; v < vertices; v++) {
    if ((v & EVERY) === 0) pulse();
    const o = 3 * v;
    const n = nf[v];
    if (n === 0) {
      out[o] = p[o];
      out[o + 1] = p[o + 1];
      out[o + 2] = p[o + 2];
      continue;
    }
    const m = ne[v];
    let x = (sumF[o] / n + (2 * sumE[o]) / m + (m - 3) * p[o]) / m;
    let y = (sumF[o + 1] / n + (2 * sumE[o + 1]) / m + (m - 3) * p[o + 1]) / m;
    let z = (sumF[o + 2] / n + (2 * sumE[o + 2]) / m + (m - 3) * p[o + 2]) / m;
    const k = sharpCount[v];
    if (k >= 2) {
      const at = sharpSum.get(v)!;
      const w = Math.min(1, at.s / k); // mean sharpness: below 1 the rules blend
      const held = hold === 'borders' || (hold === 'corners' && n === 1);
      const curved = k === 2 && !held;
      const hx = curved ? 0.75 * p[o] + at.x / 8 : p[o];
      const hy = curved ? 0.75 * p[o + 1] + at.y / 8 : p[o + 1];
      const hz = curved ? 0.75 * p[o + 2] + at.z / 8 : p[o + 2];
      x += (hx - x) * w;
      y += (hy - y) * w;
      z += (hz - z) * w;
    }
    out[o] = x;
    out[o + 1] = y;
    out[o + 2] = z;
  }
  return out;
}

/** Old vertices where they are, middles of edges, middles of faces. */
export function divided({ vertices, faceStart, cornerVertex, edgeVertex }: Level, p: Float32Array): Float32Array {
  const faces = faceStart.length - 1;
  const edges = edgeVertex.length / 2;
  const out = new Float32Array(3 * (vertices + edges + faces));
  out.set(p);
  for (let e = 0; e < edges; e++)
    for (let k = 0; k < 3; k++)
      out[3 * (vertices + e) + k] = (p[3 * edgeVertex[2 * e] + k] + p[3 * edgeVertex[2 * e + 1] + k]) / 2;
  for (let f = 0; f < faces; f++) {
    if ((f & EVERY) === 0) pulse();
    for (let k = 0; k < 3; k++) {
      let sum = 0;
      for (let c = faceStart[f]; c < faceStart[f + 1]; c++) sum += p[3 * cornerVertex[c] + k];
      out[3 * (vertices + edges + f) + k] = sum / (faceStart[f + 1] - faceStart[f]);
    }
  }
  return out;
}

/**
 * All vertices of a level of quads at their limit; along borders and what is still sharp at that of the curve there.
 */
export function toLimit(
  { vertices, faceStart, cornerVertex, cornerEdge, edgeVertex }: Level,
  p: Float32Array,
  sharp: Float32Array | undefined,
  holdCorners: boolean,
): Float32Array {
  const sum = new Float64Array(3 * vertices);
  const faces = new Uint32Array(vertices);
  const onEdge = new Uint32Array(edgeVertex.length / 2);
  for (let f = 0; f + 1 < faceStart.length; f++) {
    if ((f & EVERY) === 0) pulse();
    for (let c = 4 * f; c < 4 * f + 4; c++) {
      const v = cornerVertex[c];
      const next = 3 * cornerVertex[4 * f + ((c + 1) & 3)];
      const across = 3 * cornerVertex[4 * f + ((c + 2) & 3)];
      faces[v]++;
      onEdge[cornerEdge[c]]++;
      for (let k = 0; k < 3; k++) sum[3 * v + k] += 4 * p[next + k] + p[across + k];
    }
  }
  const along = new Float64Array(3 * vertices);
  const lines = new Uint8Array(vertices);
  for (let e = 0; e < onEdge.length; e++) {
    if (onEdge[e] === 2 && !(sharp && sharp[e] > 0)) continue;
    const [a, b] = [edgeVertex[2 * e], edgeVertex[2 * e + 1]];
    if (lines[a] < 255) lines[a]++;
    if (lines[b] < 255) lines[b]++;
    for (let k = 0; k < 3; k++) {
      along[3 * a + k] += p[3 * b + k];
      along[3 * b + k] += p[3 * a + k];
    }
  }
  const out = p.slice();
  for (let v = 0; v < vertices; v++) {
    const n = faces[v];
    if (n === 0 || lines[v] === 1) continue;
    for (let k = 0; k < 3; k++) {
      if (lines[v] === 0) out[3 * v + k] = (n * n * p[3 * v + k] + sum[3 * v + k]) / (n * (n + 5));
      else if (lines[v] === 2 && !(holdCorners && n === 1)) out[3 * v + k] = (4 * p[3 * v + k] + along[3 * v + k]) / 6;
    }
  }
  return out;
}
