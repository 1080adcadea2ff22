/** The sheet as it is drawn: paper, islands, their borders as seams, what is picked. */
import type { Mesh } from '../../../core/mesh/mesh';
import { mask } from '../../../core/mesh/picks';
import { nextCorner, topologyOf } from '../../../core/mesh/topology';
import type { Part } from '../../../core/uv/pack/sheets';
import { token } from '../../parts/theme';
import { bandOf, type Heat } from './heat';

/** Places nearer to each other than this are one. */
const SAME = 1e-6;
/** Pixels from one tick of a seam to the next, and half of their length; with more sides than this there are none. */
const TICK = 8;
const TICK_HALF = 2.2;
const MOST_TICKED = 2000;

/** The paper of one sheet, in eighths, with its number where there are several. */
export function drawPaper(g: CanvasRenderingContext2D, x: number, y: number, side: number, name: string): void {
  g.fillStyle = token('paper');
  g.fillRect(x, y, side, side);
  g.strokeStyle = token('line');
  g.lineWidth = 1;
  g.strokeRect(x + 0.5, y + 0.5, side, side);
  g.globalAlpha = 0.5;
  for (let i = 1; i < 8; i++) {
    g.beginPath();
    g.moveTo(x + (side * i) / 8, y);
    g.lineTo(x + (side * i) / 8, y + side);
    g.moveTo(x, y + (side * i) / 8);
    g.lineTo(x + side, y + (side * i) / 8);
    g.stroke();
  }
  g.globalAlpha = 1;
  if (!name) return;
  g.fillStyle = token('ink-soft');
  g.font = '12px sans-serif';
  g.fillText(name, x + 4, y + side + 14);
}

export function drawBehind(
  g: CanvasRenderingContext2D,
  picture: CanvasImageSource,
  opacity: number,
  x: number,
  y: number,
  side: number,
): void {
  g.globalAlpha = opacity;
  g.drawImage(picture, x, y, side, side);
  g.globalAlpha = 1;
}

/** The part of a sheet that may be used. */
export function drawPart(g: CanvasRenderingContext2D, part: Part, x: number, y: number, side: number): void {
  g.strokeStyle = token('value');
  g.setLineDash([4, 4]);
  g.strokeRect(x + part.x * side, y + (1 - part.y - part.height) * side, part.width * side, part.height * side);
  g.setLineDash([]);
}

/** The borders of islands of other pieces: 4 numbers per side. */
export function drawOthers(
  g: CanvasRenderingContext2D,
  sides: Float32Array,
  toScreen: (u: number, v: number) => [number, number],
): void {
  g.beginPath();
  for (let i = 0; i < sides.length; i += 4) {
    g.moveTo(...toScreen(sides[i], sides[i + 1]));
    g.lineTo(...toScreen(sides[i + 2], sides[i + 3]));
  }
  g.strokeStyle = token('ink-soft');
  g.lineWidth = 1;
  g.globalAlpha = 0.6;
  g.stroke();
  g.globalAlpha = 1;
}

/** Sides of faces as they are drawn, two corners each: those between faces of an island, and those at its border. */
interface Sides {
  inner: Uint32Array;
  border: Uint32Array;
}
/** Faces or sides between two chances for the page to do something else. */
const STEP = 2048;
/** Faces narrower than so many pixels are drawn without the edges between them: of these nothing else would be seen. */
const SMALLEST = 2.5;
const LOOKED_AT = 500;

function allOf(steps: Iterator<void>): void {
  while (!steps.next().done);
}

/** Told once for a layout: it is drawn anew with every move of the pointer. */
const sidesOf = new WeakMap<Mesh, Sides>();

/** `uv` tells what hangs together, `at` where it is shown just now. */
export class SheetDrawing {
  constructor(
    private readonly g: CanvasRenderingContext2D,
    private readonly mesh: Mesh,
    private readonly uv: Float32Array,
    private readonly at: Float32Array,
    private readonly toScreen: (u: number, v: number) => [number, number],
  ) {}

  private corner(c: number): [number, number] {
    return this.toScreen(this.at[2 * c], this.at[2 * c + 1]);
  }

  fill(faces: Iterable<number>, style: string, alpha: number): void {
    allOf(this.filling(faces, style, alpha));
  }

  private *filling(faces: Iterable<number>, style: string, alpha: number): Generator<void> {
    const { g, mesh } = this;
    const filled = (): void => {
      g.fillStyle = style;
      g.globalAlpha = alpha;
      g.fill();
      g.globalAlpha = 1;
    };
    let n = 0;
    g.beginPath();
    for (const f of faces) {
      if (++n % STEP === 0) {
        filled();
        yield;
        g.beginPath();
      }
      for (let k = mesh.faceStart[f]; k < mesh.faceStart[f + 1]; k++) {
        const [x, y] = this.corner(k);
        if (k === mesh.faceStart[f]) g.moveTo(x, y);
        else g.lineTo(x, y);
      }
      // What is filled is closed by itself; closing it would measure all of the path each time.
    }
    filled();
  }

  /** All that is there, a step at a time: for what is too much at once. */
  *all(heat: Heat | null, alpha: number): Generator<void> {
    if (heat) yield* this.heating(heat);
    else yield* this.filling(Array(this.mesh.faceCount).keys(), token('clay'), alpha);
    yield* this.edging();
  }

  heat(heat: Heat): void {
    allOf(this.heating(heat));
  }

  private *heating(heat: Heat): Generator<void> {
    const bands = new Map<number, number[]>();
    for (let f = 0; f < this.mesh.faceCount; f++) {
      const band = bandOf(heat, f);
      const list = bands.get(band);
      if (list) list.push(f);
      else bands.set(band, [f]);
    }
    for (const [band, list] of bands) yield* this.filling(list, heat.colours[band], 0.9);
  }

  /** What islands are called, in their middles. */
  names(names: readonly { name: string; u: number; v: number }[]): void {
    const { g } = this;
    g.font = '12px "Hanken Grotesk Variable", sans-serif';
    g.textAlign = 'center';
    g.textBaseline = 'middle';
    for (const { name, u, v } of names) {
      const [x, y] = this.toScreen(u, v);
      g.lineWidth = 3;
      g.strokeStyle = token('paper');
      g.strokeText(name, x, y);
      g.fillStyle = token('ink');
      g.fillText(name, x, y);
    }
    g.textAlign = 'start';
    g.textBaseline = 'alphabetic';
  }

  private line(from: number, to: number): void {
    this.g.moveTo(...this.corner(from));
    this.g.lineTo(...this.corner(to));
  }

  /** Does the face across an edge lie next to this one on the sheet? */
  private isInner(k: number, n: number): boolean {
    const { mesh, uv } = this;
    const t = topologyOf(mesh);
    const e = t.cornerEdge[k];
    const same = (a: number, b: number): boolean =>
      Math.abs(uv[2 * a] - uv[2 * b]) < SAME && Math.abs(uv[2 * a + 1] - uv[2 * b + 1]) < SAME;
    for (let i = t.edgeCornerStart[e]; i < t.edgeCornerStart[e + 1]; i++) {
      const o = t.edgeCorner[i];
      if (o === k) continue;
      const on = nextCorner(mesh, t.cornerFace[o], o);
      const turned = mesh.cornerVertex[o] !== mesh.cornerVertex[k];
      if (turned ? same(on, k) && same(o, n) : same(o, k) && same(on, n)) return true;
    }
    return false;
  }

  private *sides(): Generator<void, Sides> {
    const { mesh } = this;
    const had = sidesOf.get(mesh);
    if (had) return had;
    const inner: number[] = [];
    const border: number[] = [];
    for (let f = 0; f < mesh.faceCount; f++) {
      if ((f + 1) % STEP === 0) yield;
      for (let k = mesh.faceStart[f]; k < mesh.faceStart[f + 1]; k++) {
        const n = nextCorner(mesh, f, k);
        (this.isInner(k, n) ? inner : border).push(k, n);
      }
    }
    const made = { inner: Uint32Array.from(inner), border: Uint32Array.from(border) };
    sidesOf.set(mesh, made);
    return made;
  }

  /** Inner edges in ink, island borders as seams: a plum line with ticks. */
  edges(): void {
    allOf(this.edging());
  }

  private *edging(): Generator<void> {
    const { g } = this;
    const { inner, border: borders } = yield* this.sides();
    if (this.cell() >= SMALLEST) yield* this.lining(inner, token('ink'), 0.9, 0.75);
    yield* this.lining(borders, token('seam'), 1.2, 1);
    g.globalAlpha = 1;
    if (borders.length < 2 * MOST_TICKED) this.ticks(borders);
  }

  private *lining(sides: Uint32Array, style: string, width: number, alpha: number): Generator<void> {
    const { g } = this;
    for (let from = 0; from < sides.length; from += 2 * STEP) {
      if (from > 0) yield;
      g.strokeStyle = style;
      g.lineWidth = width;
      g.globalAlpha = alpha;
      g.beginPath();
      for (let i = from; i < Math.min(sides.length, from + 2 * STEP); i += 2) this.line(sides[i], sides[i + 1]);
      g.stroke();
    }
  }

  /** About how wide a face is in pixels: of some, as they lie. */
  private cell(): number {
    const { mesh } = this;
    let [sum, n] = [0, 0];
    for (let f = 0; f < mesh.faceCount; f += 1 + Math.floor(mesh.faceCount / LOOKED_AT), n++) {
      const [ax, ay] = this.corner(mesh.faceStart[f]);
      const [bx, by] = this.corner(mesh.faceStart[f] + 1);
      sum += Math.hypot(bx - ax, by - ay);
    }
    return n > 0 ? sum / n : 0;
  }

  private ticks(borders: Uint32Array): void {
    const { g } = this;
    g.lineWidth = 1;
    g.beginPath();
    for (let i = 0; i < borders.length; i += 2) {
      const [ax, ay] = this.corner(borders[i]);
      const [bx, by] = this.corner(borders[i + 1]);
      const l = Math.hypot(bx - ax, by - ay);
      if (l < TICK) continue;
      const nx = (-(by - ay) / l) * TICK_HALF;
      const ny = ((bx - ax) / l) * TICK_HALF;
      const count = Math.floor(l / TICK);
      for (let k = 0; k < count; k++) {
        const w = (k + 0.5) / count;
        const x = ax + (bx - ax) * w;
        const y = ay + (by - ay) * w;
        g.moveTo(x - nx, y - ny);
        g.lineTo(x + nx, y + ny);
      }
    }
    g.stroke();
  }

  pickedEdges(picked: ArrayLike<number>): void {
    const { g, mesh } = this;
    const t = topologyOf(mesh);
    const on = mask(t.edgeCount, picked);
    g.strokeStyle = token('picked');
    g.lineWidth = 3;
    g.beginPath();
    for (let f = 0; f < mesh.faceCount; f++)
      for (let k = mesh.faceStart[f]; k < mesh.faceStart[f + 1]; k++)
        if (on[t.cornerEdge[k]]) this.line(k, nextCorner(mesh, f, k));
    g.stroke();
  }

  vertices(picked: ArrayLike<number>): void {
    const { g, mesh } = this;
    const on = mask(mesh.vertexCount, picked);
    for (let k = 0; k < mesh.cornerCount; k++) {
      const [x, y] = this.corner(k);
      const p = on[mesh.cornerVertex[k]];
      g.fillStyle = p ? token('picked') : token('ink');
      g.fillRect(x - (p ? 3.5 : 1.5), y - (p ? 3.5 : 1.5), p ? 7 : 3, p ? 7 : 3);
    }
  }

  /** The box round what is picked, with corners to size it by and a knob to turn it. */
  hold(box: { x0: number; y0: number; x1: number; y1: number }): void {
    const { g } = this;
    const [x0, y1] = this.toScreen(box.x0, box.y0);
    const [x1, y0] = this.toScreen(box.x1, box.y1);
    g.strokeStyle = token('value');
    g.fillStyle = token('paper');
    g.lineWidth = 1.2;
    g.setLineDash([4, 3]);
    g.strokeRect(x0 - 4, y0 - 4, x1 - x0 + 8, y1 - y0 + 8);
    g.setLineDash([]);
    for (const [x, y] of [
      [x0 - 4, y0 - 4],
      [x1 + 4, y0 - 4],
      [x0 - 4, y1 + 4],
      [x1 + 4, y1 + 4],
    ]) {
      g.fillRect(x - 4, y - 4, 8, 8);
      g.strokeRect(x - 4, y - 4, 8, 8);
    }
    g.beginPath();
    g.moveTo((x0 + x1) / 2, y0 - 4);
    g.lineTo((x0 + x1) / 2, y0 - 20);
    g.stroke();
    g.beginPath();
    g.arc((x0 + x1) / 2, y0 - 24, 5, 0, 7);
    g.fill();
    g.stroke();
  }
}
