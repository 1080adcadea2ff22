/** Plan drawings and a concept picture, drawn by code: ink on paper, a little turned, as scans come back. */
import { fromHex } from '../core/formats';
import type { ImageData8 } from '../core/mesh';

type P = readonly [number, number];

/** Letters as strokes on a 4 × 6 grid, y upwards. */
const LETTERS: Readonly<Record<string, readonly (readonly P[])[]>> = {
  A: [
    [
      [0, 0],
      [2, 6],
      [4, 0],
    ],
    [
      [0.8, 2.4],
      [3.2, 2.4],
    ],
  ],
  B: [
    [
      [0, 0],
      [0, 6],
      [3, 6],
      [4, 5],
      [4, 4],
      [3, 3.2],
      [0, 3.2],
    ],
    [
      [3, 3.2],
      [4, 2.4],
      [4, 1],
      [3, 0],
      [0, 0],
    ],
  ],
  C: [
    [
      [4, 5],
      [3, 6],
      [1, 6],
      [0, 5],
      [0, 1],
      [1, 0],
      [3, 0],
      [4, 1],
    ],
  ],
  D: [
    [
      [0, 0],
      [0, 6],
      [2.6, 6],
      [4, 4.6],
      [4, 1.4],
      [2.6, 0],
      [0, 0],
    ],
  ],
  E: [
    [
      [4, 0],
      [0, 0],
      [0, 6],
      [4, 6],
    ],
    [
      [0, 3],
      [3, 3],
    ],
  ],
  F: [
    [
      [0, 0],
      [0, 6],
      [4, 6],
    ],
    [
      [0, 3],
      [3, 3],
    ],
  ],
  G: [
    [
      [4, 5],
      [3, 6],
      [1, 6],
      [0, 5],
      [0, 1],
      [1, 0],
      [3, 0],
      [4, 1],
      [4, 3],
      [2.4, 3],
    ],
  ],
};

/** A sheet in metres: what is drawn at (u, v) lands on a pixel by the sheet's own scale, origin and skew. */
export class Sheet {
  readonly data: Uint8Array;
  private readonly cos: number;
  private readonly sin: number;

  constructor(
    readonly width: number,
    readonly height: number,
    readonly scale: number,
    readonly origin: P,
    readonly skew: number,
    paper = '#f4efe2',
  ) {
    this.data = new Uint8Array(4 * width * height);
    const [r, g, b] = fromHex(paper).map((c) => c * 255);
    // Paper has a grain: a fixed pattern, so that the demo is the same on every machine.
    for (let i = 0, seed = 1; i < width * height; i++) {
      seed = (Math.imul(seed, 1664525) + 1013904223) >>> 0;
      const n = ((seed >>> 24) - 128) / 40;
      this.data.set([r + n, g + n, b + n, 255], 4 * i);
    }
    this.cos = Math.cos(skew);
    this.sin = Math.sin(skew);
  }

  /** The pixel of a point in metres. */
  pixel([u, v]: P): [number, number] {
    const x = this.cos * u - this.sin * v;
    const y = this.sin * u + this.cos * v;
    return [this.origin[0] + x / this.scale, this.origin[1] - y / this.scale];
  }

  private blend(x: number, y: number, color: readonly number[], a: number): void {
    if (x < 0 || y < 0 || x >= this.width || y >= this.height) return;
    const o = 4 * (y * this.width + x);
    for (let k = 0; k < 3; k++) this.data[o + k] += (color[k] * 255 - this.data[o + k]) * a;
  }

  /** A polyline `px` pixels wide, its edges smooth. */
  line(points: readonly P[], px = 2, hex = '#2a2620', opacity = 1): void {
    const color = fromHex(hex);
    const at = points.map((p) => this.pixel(p));
    const cover = new Map<number, number>();
    for (let i = 1; i < at.length; i++) {
      const [ax, ay] = at[i - 1];
      const [bx, by] = at[i];
      const dx = bx - ax;
      const dy = by - ay;
      const l = dx * dx + dy * dy || 1;
      const r = px / 2 + 1;
      for (let y = Math.floor(Math.min(ay, by) - r); y <= Math.max(ay, by) + r; y++) {
        for (let x = Math.floor(Math.min(ax, bx) - r); x <= Math.max(ax, bx) + r; x++) {
          const t = Math.max(0, Math.min(1, ((x + 0.5 - ax) * dx + (y + 0.5 - ay) * dy) / l));
          const d = Math.hypot(x + 0.5 - ax - t * dx, y + 0.5 - ay - t * dy);
          const a = Math.max(0, Math.min(1, px / 2 + 0.5 - d));
          if (a > 0) cover.set(y * 65536 + x, Math.max(a, cover.get(y * 65536 + x) ?? 0));
        }
      }
    }
    for (const [k, a] of cover) this.blend(k % 65536, Math.floor(k / 65536), color, a * opacity);
  }

  ellipse(middle: P, a: number, b: number, px = 2, hex?: string): void {
    this.line(
      Array.from({ length: 97 }, (_, i): P => [
        middle[0] + a * Math.cos((i * Math.PI) / 48),
        middle[1] + b * Math.sin((i * Math.PI) / 48),
      ]),
      px,
      hex,
    );
  }

  /** Fills a polygon, by its crossings with the middle of each row. */
  fill(points: readonly P[], hex: string, opacity = 1): void {
    const color = fromHex(hex);
    const at = points.map((p) => this.pixel(p));
    for (let y = Math.floor(Math.min(...at.map((p) => p[1]))); y <= Math.max(...at.map((p) => p[1])); y++) {
      const xs: number[] = [];
      at.forEach(([ax, ay], i) => {
        const [bx, by] = at[(i + 1) % at.length];
        if (ay > y + 0.5 !== by > y + 0.5) xs.push(ax + ((y + 0.5 - ay) / (by - ay)) * (bx - ax));
      });
      xs.sort((p, q) => p - q);
      for (let i = 0; i + 1 < xs.length; i += 2)
        for (let x = Math.round(xs[i]); x < Math.round(xs[i + 1]); x++) this.blend(x, y, color, opacity);
    }
  }

  /** A word in strokes, its lower left corner at a point; `size` in metres. */
  word(text: string, at: P, size: number, px = 2): void {
    [...text].forEach((c, i) => {
      for (const stroke of LETTERS[c] ?? [])
        this.line(
          stroke.map(([x, y]): P => [at[0] + ((x + 6 * i) * size) / 6, at[1] + (y * size) / 6]),
          px,
        );
    });
  }

  /** A cross, as a draughtsman marks the origin. */
  cross(at: P, size: number): void {
    this.line(
      [
        [at[0] - size, at[1]],
        [at[0] + size, at[1]],
      ],
      2,
      '#a4372b',
    );
    this.line(
      [
        [at[0], at[1] - size],
        [at[0], at[1] + size],
      ],
      2,
      '#a4372b',
    );
  }

  get image(): ImageData8 {
    return { width: this.width, height: this.height, data: this.data };
  }
}
