/**
 * A small software renderer for pictures where there is no graphics card: shelf thumbnails, first of all. Z-buffer,
 * flat or smooth shading under a soft light from above, four samples a pixel.
 */
import type { ImageData8, Mesh } from '../mesh/mesh';
import { boundsOfGeometry, sketchGeometry, type Geometry } from '../geometry';
import { boundsOf, centreOfBounds, joinBounds, type Bounds } from '../mesh/bounds';
import { cornerNormals } from '../mesh/normals';
import { triangulate } from '../mesh/triangulate';

export interface SketchItem {
  geometry: Geometry;
  /** Colour of a face's slot, sRGB 0..1. */
  color: (slot: number) => readonly [number, number, number];
  smooth: number;
}

/**
 * A picture on a plane: its corners in the world from the lower left on, counter-clockwise; paper where it cannot be
 * read.
 */
export interface SketchPicture {
  corners: readonly (readonly [number, number, number])[];
  image?: ImageData8;
  /** The part that is shown: left, top, right, bottom in pixels. */ frame: readonly [number, number, number, number];
}

export interface SketchOptions {
  width: number;
  height: number;
  top: readonly [number, number, number];
  bottom: readonly [number, number, number];
  /** Turned about the upright by this; radians. */
  turn?: number;
  /** What has to be in the picture, where it is more than what is drawn. */
  bounds?: Bounds;
}

const SAMPLES = 2;

/** Looks at all items together from the front, right and above. */
export function sketch(
  items: readonly SketchItem[],
  o: SketchOptions,
  pictures: readonly SketchPicture[] = [],
): ImageData8 {
  const w = o.width * SAMPLES;
  const h = o.height * SAMPLES;
  const color = new Float32Array(3 * w * h);
  const depth = new Float32Array(w * h).fill(Infinity);
  for (let y = 0; y < h; y++)
    for (let x = 0; x < w; x++)
      for (let k = 0; k < 3; k++) color[3 * (y * w + x) + k] = o.top[k] + (o.bottom[k] - o.top[k]) * (y / h);
  let bounds: Bounds | null = o.bounds ?? null;
  for (const item of items) bounds = joinBounds(bounds, boundsOfGeometry(item.geometry));
  for (const p of pictures) bounds = joinBounds(bounds, boundsOf(Float32Array.from(p.corners.flat())));
  if (bounds) {
    const { min, max } = bounds;
    const centre = centreOfBounds(bounds);
    const radius = Math.hypot(max[0] - min[0], max[1] - min[1], max[2] - min[2]) / 2 || 1;
    const yaw = 0.6 + (o.turn ?? 0);
    const pitch = 0.36;
    const cy = Math.cos(yaw);
    const sy = Math.sin(yaw);
    const cp = Math.cos(pitch);
    const sp = Math.sin(pitch);
    const distance = radius * 3.4;
    const scale = 0.94 * Math.min(w, h) * 1.55;
    const view = (x: number, y: number, z: number): [number, number, number] => {
      const dx = x - centre[0];
      const dy = y - centre[1];
      const dz = z - centre[2];
      const rx = dx * cy - dz * sy;
      const rz = dx * sy + dz * cy;
      const ry = dy * cp - rz * sp;
      const d = distance - (dy * sp + rz * cp);
      return [w / 2 + (rx / d) * scale, h / 2 - (ry / d) * scale, d];
    };
    for (const p of pictures) drawPicture(p, view, color, depth, w, h);
    for (const item of items)
      for (const drawn of sketchGeometry(item.geometry, radius)) {
        if (drawn.mesh) draw(drawn.mesh, item, view, color, depth, w, h);
        for (const line of drawn.lines ?? [])
          drawLine(
            line.map((p) => view(p[0], p[1], p[2])),
            color,
            depth,
            w,
            h,
            radius * 0.01,
          );
      }
  }
  const data = new Uint8Array(4 * o.width * o.height);
  for (let y = 0; y < o.height; y++)
    for (let x = 0; x < o.width; x++) {
      for (let k = 0; k < 3; k++) {
        let sum = 0;
        for (let sy = 0; sy < SAMPLES; sy++)
          for (let sx = 0; sx < SAMPLES; sx++) sum += color[3 * ((y * SAMPLES + sy) * w + x * SAMPLES + sx) + k];
        data[4 * (y * o.width + x) + k] = Math.round(255 * Math.min(1, Math.max(0, sum / (SAMPLES * SAMPLES))));
      }
      data[4 * (y * o.width + x) + 3] = 255;
    }
  return { width: o.width, height: o.height, data };
}

function draw(
  mesh: Mesh,
  { color: colorOf, smooth }: SketchItem,
  view: (x: number, y: number, z: number) => [number, number, number],
  color: Float32Array,
  depth: Float32Array,
  w: number,
  h: number,
): void {
  const t = triangulate(mesh);
  const n = cornerNormals(mesh, smooth);
  const p = mesh.positions;
  const slot = mesh.attributes.material?.data;
  const at = new Float32Array(3 * mesh.vertexCount);
  for (let v = 0; v < mesh.vertexCount; v++) at.set(view(p[3 * v], p[3 * v + 1], p[3 * v + 2]), 3 * v);
  const light = (c: number) =>
    0.42 +
    0.4 * Math.max(0, 0.45 * n[3 * c] + 0.75 * n[3 * c + 1] + 0.5 * n[3 * c + 2]) +
    0.14 * (n[3 * c + 1] * 0.5 + 0.5) +
    0.1 * Math.max(0, n[3 * c + 2]);
  for (let i = 0; i < t.face.length; i++) {
    const [ca, cb, cc] = [t.corners[3 * i], t.corners[3 * i + 1], t.corners[3 * i + 2]];
    const a = 3 * mesh.cornerVertex[ca];
    const b = 3 * mesh.cornerVertex[cb];
    const c = 3 * mesh.cornerVertex[cc];
    const area = (at[b] - at[a]) * (at[c + 1] - at[a + 1]) - (at[b + 1] - at[a + 1]) * (at[c] - at[a]);
    if (area >= 0) continue; // looks away (y runs down)
    const base = colorOf(slot ? slot[t.face[i]] : -1);
    const la = light(ca);
    const lb = light(cb);
    const lc = light(cc);
    const x0 = Math.max(0, Math.floor(Math.min(at[a], at[b], at[c])));
    const x1 = Math.min(w - 1, Math.ceil(Math.max(at[a], at[b], at[c])));
    const y0 = Math.max(0, Math.floor(Math.min(at[a + 1], at[b + 1], at[c + 1])));
    const y1 = Math.min(h - 1, Math.ceil(Math.max(at[a + 1], at[b + 1], at[c + 1])));
    for (let y = y0; y <= y1; y++)
      for (let x = x0; x <= x1; x++) {
        const px = x + 0.5;
        const py = y + 0.5;
        const wa = ((at[b] - px) * (at[c + 1] - py) - (at[b + 1] - py) * (at[c] - px)) / area;
        const wb = ((at[c] - px) * (at[a + 1] - py) - (at[c + 1] - py) * (at[a] - px)) / area;
        const wc = 1 - wa - wb;
        if (wa < 0 || wb < 0 || wc < 0) continue;
        const z = wa * at[a + 2] + wb * at[b + 2] + wc * at[c + 2];
        const o = y * w + x;
        if (z >= depth[o]) continue;
        depth[o] = z;
        const l = wa * la + wb * lb + wc * lc;
        for (let k = 0; k < 3; k++) color[3 * o + k] = base[k] * l;
      }
  }
}

type View = (x: number, y: number, z: number) => [number, number, number];
const PAPER = [0.95, 0.93, 0.88];
const LINE = [0.04, 0.43, 0.37];

/** Unlit, from both sides, in two triangles. */
function drawPicture(
  { corners, image, frame: [left, top, right, bottom] }: SketchPicture,
  view: View,
  color: Float32Array,
  depth: Float32Array,
  w: number,
  h: number,
): void {
  const at = corners.map((c) => view(c[0], c[1], c[2]));
  const uv = [
    [left, bottom],
    [right, bottom],
    [right, top],
    [left, top],
  ];
  for (const [a, b, c] of [
    [0, 1, 2],
    [0, 2, 3],
  ]) {
    const area = (at[b][0] - at[a][0]) * (at[c][1] - at[a][1]) - (at[b][1] - at[a][1]) * (at[c][0] - at[a][0]);
    if (Math.abs(area) < 1e-9) continue;
    const xs = [at[a][0], at[b][0], at[c][0]];
    const ys = [at[a][1], at[b][1], at[c][1]];
    for (let y = Math.max(0, Math.floor(Math.min(...ys))); y <= Math.min(h - 1, Math.ceil(Math.max(...ys))); y++)
      for (let x = Math.max(0, Math.floor(Math.min(...xs))); x <= Math.min(w - 1, Math.ceil(Math.max(...xs))); x++) {
        const px = x + 0.5;
        const py = y + 0.5;
        const wa = ((at[b][0] - px) * (at[c][1] - py) - (at[b][1] - py) * (at[c][0] - px)) / area;
        const wb = ((at[c][0] - px) * (at[a][1] - py) - (at[c][1] - py) * (at[a][0] - px)) / area;
        const wc = 1 - wa - wb;
        if (wa < 0 || wb < 0 || wc < 0) continue;
        const z = wa * at[a][2] + wb * at[b][2] + wc * at[c][2];
        const o = y * w + x;
        if (z >= depth[o]) continue;
        depth[o] = z;
        const u = Math.floor(wa * uv[a][0] + wb * uv[b][0] + wc * uv[c][0]);
        const v = Math.floor(wa * uv[a][1] + wb * uv[b][1] + wc * uv[c][1]);
        const q = image && u >= 0 && v >= 0 && u < image.width && v < image.height ? 4 * (v * image.width + u) : -1;
        for (let k = 0; k < 3; k++) color[3 * o + k] = q >= 0 ? image!.data[q + k] / 255 : PAPER[k];
      }
  }
}

/** A line three samples wide, hidden by what lies before it. */
function drawLine(
  points: readonly (readonly [number, number, number])[],
  color: Float32Array,
  depth: Float32Array,
  w: number,
  h: number,
  slack: number,
): void {
  for (let i = 1; i < points.length; i++) {
    const [a, b] = [points[i - 1], points[i]];
    const n = Math.max(1, Math.ceil(Math.hypot(b[0] - a[0], b[1] - a[1])));
    for (let k = 0; k <= n; k++) {
      const t = k / n;
      const x = Math.round(a[0] + (b[0] - a[0]) * t);
      const y = Math.round(a[1] + (b[1] - a[1]) * t);
      const z = a[2] + (b[2] - a[2]) * t;
      for (let dy = -1; dy <= 1; dy++)
        for (let dx = -1; dx <= 1; dx++) {
          const o = (y + dy) * w + x + dx;
          if (x + dx < 0 || y + dy < 0 || x + dx >= w || y + dy >= h || z - slack > depth[o]) continue;
          for (let c = 0; c < 3; c++) color[3 * o + c] = LINE[c];
        }
    }
  }
}
