/**
 * A layout as a drawing to paint over: islands filled each in a tone of its own and numbered, their borders and the
 * edges within, as SVG or as pixels.
 */
import { UV, type ImageData8, type Mesh } from '../mesh/mesh';
import { edgeValence, topologyOf } from '../mesh/topology';
import { triangulate } from '../mesh/triangulate';
import { bordersOf } from './edits/sheet';
import { escapeXml } from '../formats/xml';
import { islandsOf } from './measure';
import { fillTriangle } from './raster';

export interface DrawingOptions {
  /** Pixels along the side. */
  size: number;
  /** Width of borders in pixels; edges within are half as wide. */
  line: number;
  /** Islands in tones of their own. */
  filled: boolean;
  /** The number of each island in its middle (SVG alone). */
  numbered: boolean;
  /** What islands are called, by one of their faces (SVG alone). */
  names?: readonly { face: number; name: string }[];
}

interface Line {
  from: [number, number];
  to: [number, number];
  border: boolean;
}

/** Throws one sentence where there is no layout. */
function uvOf(mesh: Mesh): Float32Array {
  const uv = mesh.attributes[UV]?.data;
  if (!uv) throw new Error('There is no layout to draw: unfold the piece first.');
  return uv as Float32Array;
}

/** Every edge once, or once for each of its sides where these lie apart. */
function linesOf(mesh: Mesh, uv: Float32Array): Line[] {
  const t = topologyOf(mesh);
  const borders = bordersOf(mesh, uv);
  const drawn = new Uint8Array(t.edgeCount);
  const out: Line[] = [];
  for (let f = 0; f < mesh.faceCount; f++)
    for (let c = mesh.faceStart[f], e = mesh.faceStart[f + 1]; c < e; c++) {
      const edge = t.cornerEdge[c];
      // Of faces that lie doubled each layer has its own.
      if (!borders[edge] && drawn[edge] && edgeValence(t, edge) === 2) continue;
      drawn[edge] = 1;
      const n = c + 1 < e ? c + 1 : mesh.faceStart[f];
      out.push({ from: [uv[2 * c], uv[2 * c + 1]], to: [uv[2 * n], uv[2 * n + 1]], border: borders[edge] === 1 });
    }
  return out;
}

/** A tone of its own: round the circle by the golden share, so neighbours by number are far apart. */
function toneOf(island: number): [number, number, number] {
  const h = (island * 0.618033988749895) % 1;
  const part = (k: number): number => {
    const x = (h + k / 3) % 1;
    return Math.round(150 + 90 * Math.max(0, Math.min(1, Math.abs(6 * x - 3) - 1)));
  };
  return [part(0), part(2), part(1)];
}

export function layoutAsSvg(mesh: Mesh, { size, line, filled, numbered, names = [] }: DrawingOptions): string {
  const uv = uvOf(mesh);
  const { ofFace, count } = islandsOf(mesh, uv);
  const x = (u: number): string => (u * size).toFixed(2);
  const y = (v: number): string => ((1 - v) * size).toFixed(2);
  const out = [
    `<svg xmlns="http://www.w3.org/2000/svg" width="${size}" height="${size}" viewBox="0 0 ${size} ${size}">`,
  ];
  const paths: string[][] = Array.from({ length: count }, () => []);
  const middles = Array.from({ length: count }, () => ({ x: 0, y: 0, n: 0 }));
  for (let f = 0; f < mesh.faceCount; f++) {
    const points: string[] = [];
    const m = middles[ofFace[f]];
    for (let c = mesh.faceStart[f]; c < mesh.faceStart[f + 1]; c++) {
      points.push(`${x(uv[2 * c])} ${y(uv[2 * c + 1])}`);
      m.x += uv[2 * c];
      m.y += uv[2 * c + 1];
      m.n++;
    }
    paths[ofFace[f]].push(`M${points.join('L')}Z`);
  }
  if (filled)
    paths.forEach((list, i) => {
      out.push(`<path id="island-${i + 1}" fill="rgb(${toneOf(i).join(' ')})" d="${list.join('')}"/>`);
    });
  const lines = linesOf(mesh, uv);
  for (const [border, width] of [
    [false, line / 2],
    [true, line],
  ] as const) {
    const d = lines
      .filter((l) => l.border === border)
      .map((l) => `M${x(l.from[0])} ${y(l.from[1])}L${x(l.to[0])} ${y(l.to[1])}`);
    if (d.length > 0 && width > 0)
      out.push(`<path fill="none" stroke="#1d1a17" stroke-linecap="round" stroke-width="${width}" d="${d.join('')}"/>`);
  }
  const called = new Map(names.map((n) => [ofFace[n.face], ` ${escapeXml(n.name)}`]));
  if (numbered)
    middles.forEach((m, i) => {
      out.push(
        `<text x="${x(m.x / m.n)}" y="${y(m.y / m.n)}" font-family="sans-serif" ` +
          `font-size="${Math.max(8, size / 64)}" text-anchor="middle" ` +
          `dominant-baseline="central">${i + 1}${called.get(i) ?? ''}</text>`,
      );
    });
  out.push('</svg>');
  return out.join('\n');
}

/** The same in pixels, what is not covered left clear. */
export function layoutAsPixels(mesh: Mesh, { size, line, filled }: DrawingOptions): ImageData8 {
  const uv = uvOf(mesh);
  const data = new Uint8Array(4 * size * size);
  if (filled) {
    const { ofFace } = islandsOf(mesh, uv);
    const t = triangulate(mesh);
    for (let i = 0; i < t.face.length; i++) {
      const [a, b, c] = [0, 1, 2].map((k) => 2 * t.corners[3 * i + k]);
      const tone = toneOf(ofFace[t.face[i]]);
      const at = [uv[a], 1 - uv[a + 1], uv[b], 1 - uv[b + 1], uv[c], 1 - uv[c + 1]].map((x) => x * size);
      fillTriangle(at[0], at[1], at[2], at[3], at[4], at[5], size, size, (y, x0, x1) => {
        for (let x = x0; x <= x1; x++) data.set([...tone, 255], 4 * (y * size + x));
      });
    }
  }
  // Which line inked a pixel last: each inks it once.
  const inked = new Int32Array(size * size);
  linesOf(mesh, uv).forEach(({ from, to, border }, i) => {
    const half = (border ? line : line / 2) / 2;
    if (half > 0) stroke({ data, inked, size }, i + 1, from, to, half);
  });
  return { width: size, height: size, data };
}

/** A line with soft sides: how far each pixel near it lies from its middle says how much of the ink it gets. */
function stroke(
  { data, inked, size }: { data: Uint8Array; inked: Int32Array; size: number },
  line: number,
  from: readonly [number, number],
  to: readonly [number, number],
  half: number,
): void {
  const [ax, ay, bx, by] = [from[0] * size, (1 - from[1]) * size, to[0] * size, (1 - to[1]) * size];
  if (![ax, ay, bx, by].every((q) => Math.abs(q) < 1e6)) return;
  const [dx, dy] = [bx - ax, by - ay];
  const l = dx * dx + dy * dy;
  const reach = half + 1;
  const steps = Math.max(1, Math.ceil(Math.sqrt(l)));
  // Along the line, a little square at a time: long slanted lines have large bounds and few pixels.
  for (let k = 0; k <= steps; k++) {
    const [mx, my] = [ax + (dx * k) / steps, ay + (dy * k) / steps];
    for (let y = Math.max(0, Math.floor(my - reach)); y <= Math.min(size - 1, Math.ceil(my + reach)); y++)
      for (let x = Math.max(0, Math.floor(mx - reach)); x <= Math.min(size - 1, Math.ceil(mx + reach)); x++) {
        if (inked[y * size + x] === line) continue;
        const [px, py] = [x + 0.5 - ax, y + 0.5 - ay];
        const w = l > 0 ? Math.max(0, Math.min(1, (px * dx + py * dy) / l)) : 0;
        const ink = Math.max(0, Math.min(1, half + 0.5 - Math.hypot(px - dx * w, py - dy * w)));
        const o = 4 * (y * size + x);
        const alpha = Math.round(255 * ink);
        if (alpha === 0) continue;
        inked[y * size + x] = line;
        const had = data[o + 3];
        for (let q = 0; q < 3; q++) data[o + q] = had === 0 ? INK[q] : mixed(data[o + q], INK[q], ink);
        data[o + 3] = Math.max(had, alpha);
      }
  }
}
const INK = [29, 26, 23];
const mixed = (from: number, to: number, share: number): number => Math.round(from + (to - from) * share);
