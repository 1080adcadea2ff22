/**
 * A small software renderer for pictures where there is no graphics card: shelf thumbnails, first of all. Z-buffer, flat or smooth
 * shading under a soft light from above, four samples a pixel.
 */
import type { ImageData8, Mesh } from '../mesh/mesh';
import { boundsOf } from '../mesh/measure';
import { cornerNormals } from '../mesh/normals';
import { triangulate } from '../mesh/triangulate';

export interface SketchItem {
  mesh: Mesh;
  /** Colour of a face's slot, sRGB 0..1. */
  color: (slot: number) => readonly [number, number, number];
  smooth: number;
}

export interface SketchOptions { width: number; height: number; top: readonly [number, number, number]; bottom: readonly [number, number, number] }

const SAMPLES = 2;

/** Looks at all items together from the front, right and above. */
export function sketch(items: readonly SketchItem[], o: SketchOptions): ImageData8 {
  const w = o.width * SAMPLES, h = o.height * SAMPLES;
  const color = new Float32Array(3 * w * h), depth = new Float32Array(w * h).fill(Infinity);
  for (let y = 0; y < h; y++) for (let x = 0; x < w; x++) for (let k = 0; k < 3; k++) color[3 * (y * w + x) + k] = o.top[k] + (o.bottom[k] - o.top[k]) * (y / h);
  const lo = [Infinity, Infinity, Infinity], hi = [-Infinity, -Infinity, -Infinity];
  for (const { mesh } of items) {
    if (mesh.vertexCount === 0) continue;
    const b = boundsOf(mesh.positions);
    for (let k = 0; k < 3; k++) { lo[k] = Math.min(lo[k], b.min[k]); hi[k] = Math.max(hi[k], b.max[k]); }
  }
  if (lo[0] <= hi[0]) {
    const centre = [0, 1, 2].map((k) => (lo[k] + hi[k]) / 2);
    const radius = Math.hypot(hi[0] - lo[0], hi[1] - lo[1], hi[2] - lo[2]) / 2 || 1;
    const yaw = 0.6, pitch = 0.36, cy = Math.cos(yaw), sy = Math.sin(yaw), cp = Math.cos(pitch), sp = Math.sin(pitch);
    const distance = radius * 3.4, scale = 0.94 * Math.min(w, h) * 1.55;
    const view = (x: number, y: number, z: number): [number, number, number] => {
      const dx = x - centre[0], dy = y - centre[1], dz = z - centre[2];
      const rx = dx * cy - dz * sy, rz = dx * sy + dz * cy;
      const ry = dy * cp - rz * sp, d = distance - (dy * sp + rz * cp);
      return [w / 2 + (rx / d) * scale, h / 2 - (ry / d) * scale, d];
    };
    for (const item of items) draw(item, view, color, depth, w, h);
  }
  const data = new Uint8Array(4 * o.width * o.height);
  for (let y = 0; y < o.height; y++) for (let x = 0; x < o.width; x++) {
    for (let k = 0; k < 3; k++) {
      let sum = 0;
      for (let sy = 0; sy < SAMPLES; sy++) for (let sx = 0; sx < SAMPLES; sx++) sum += color[3 * ((y * SAMPLES + sy) * w + x * SAMPLES + sx) + k];
      data[4 * (y * o.width + x) + k] = Math.round(255 * Math.min(1, Math.max(0, sum / (SAMPLES * SAMPLES))));
    }
    data[4 * (y * o.width + x) + 3] = 255;
  }
  return { width: o.width, height: o.height, data };
}

function draw({ mesh, color: colorOf, smooth }: SketchItem, view: (x: number, y: number, z: number) => [number, number, number], color: Float32Array, depth: Float32Array, w: number, h: number): void {
  const t = triangulate(mesh), n = cornerNormals(mesh, smooth), p = mesh.positions, slot = mesh.attributes.material?.data;
  const at = new Float32Array(3 * mesh.vertexCount);
  for (let v = 0; v < mesh.vertexCount; v++) at.set(view(p[3 * v], p[3 * v + 1], p[3 * v + 2]), 3 * v);
  const light = (c: number) => 0.42 + 0.4 * Math.max(0, 0.45 * n[3 * c] + 0.75 * n[3 * c + 1] + 0.5 * n[3 * c + 2]) + 0.14 * (n[3 * c + 1] * 0.5 + 0.5) + 0.1 * Math.max(0, n[3 * c + 2]);
  for (let i = 0; i < t.face.length; i++) {
    const [ca, cb, cc] = [t.corners[3 * i], t.corners[3 * i + 1], t.corners[3 * i + 2]];
    const a = 3 * mesh.cornerVertex[ca], b = 3 * mesh.cornerVertex[cb], c = 3 * mesh.cornerVertex[cc];
    const area = (at[b] - at[a]) * (at[c + 1] - at[a + 1]) - (at[b + 1] - at[a + 1]) * (at[c] - at[a]);
    if (area >= 0) continue; // looks away (y runs down)
    const base = colorOf(slot ? slot[t.face[i]] : -1), la = light(ca), lb = light(cb), lc = light(cc);
    const x0 = Math.max(0, Math.floor(Math.min(at[a], at[b], at[c]))), x1 = Math.min(w - 1, Math.ceil(Math.max(at[a], at[b], at[c])));
    const y0 = Math.max(0, Math.floor(Math.min(at[a + 1], at[b + 1], at[c + 1]))), y1 = Math.min(h - 1, Math.ceil(Math.max(at[a + 1], at[b + 1], at[c + 1])));
    for (let y = y0; y <= y1; y++) for (let x = x0; x <= x1; x++) {
      const px = x + 0.5, py = y + 0.5;
      const wa = ((at[b] - px) * (at[c + 1] - py) - (at[b + 1] - py) * (at[c] - px)) / area;
      const wb = ((at[c] - px) * (at[a + 1] - py) - (at[c + 1] - py) * (at[a] - px)) / area;
      const wc = 1 - wa - wb;
      if (wa < 0 || wb < 0 || wc < 0) continue;
      const z = wa * at[a + 2] + wb * at[b + 2] + wc * at[c + 2], o = y * w + x;
      if (z >= depth[o]) continue;
      depth[o] = z;
      const l = wa * la + wb * lb + wc * lc;
      for (let k = 0; k < 3; k++) color[3 * o + k] = base[k] * l;
    }
  }
}
