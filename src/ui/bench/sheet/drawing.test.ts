/** What is drawn of a sheet, told by a canvas that only writes down what it is asked for. */
import { plane } from '../../../core/make/primitives';
import type { Mesh } from '../../../core/mesh/mesh';
import { topologyOf } from '../../../core/mesh/topology';
import { themed } from '../../testing/theme';
import { drawOthers, drawPart, SheetDrawing } from './drawing';
import type { Heat } from './heat';

/** One stroke or fill: in which colour, and the places its path went through. */
interface Drawn {
  kind: 'stroke' | 'fill' | 'strokeRect' | 'fillRect';
  style: string;
  alpha: number;
  width: number;
  /** Where lines begin, and where each goes on to. */
  starts: number;
  path: [number, number][];
}

class Paper {
  readonly drawn: Drawn[] = [];
  fillStyle = '';
  strokeStyle = '';
  globalAlpha = 1;
  lineWidth = 1;
  dash: number[] = [];
  private path: [number, number][] = [];
  private starts = 0;

  beginPath(): void {
    this.path = [];
    this.starts = 0;
  }
  moveTo(x: number, y: number): void {
    this.path.push([x, y]);
    this.starts++;
  }
  lineTo(x: number, y: number): void {
    this.path.push([x, y]);
  }
  arc(): void {}
  setLineDash(dash: number[]): void {
    this.dash = dash;
  }
  stroke(): void {
    this.put('stroke', this.strokeStyle, this.path);
  }
  fill(): void {
    this.put('fill', this.fillStyle, this.path);
  }
  strokeRect(x: number, y: number, w: number, h: number): void {
    this.put('strokeRect', this.strokeStyle, [
      [x, y],
      [w, h],
    ]);
  }
  fillRect(x: number, y: number, w: number, h: number): void {
    this.put('fillRect', this.fillStyle, [
      [x, y],
      [w, h],
    ]);
  }
  private put(kind: Drawn['kind'], style: string, path: [number, number][]): void {
    const { globalAlpha: alpha, lineWidth: width, starts } = this;
    this.drawn.push({ kind, style, alpha, width, starts, path: [...path] });
  }

  lines(style: string): Drawn[] {
    return this.drawn.filter((d) => d.kind === 'stroke' && d.style === style);
  }
  get context(): CanvasRenderingContext2D {
    return this as unknown as CanvasRenderingContext2D;
  }
}

themed();

/** A square of so many faces each way, laid as it is, what is right of its middle a little apart. */
function cutGrid(n: number, apart = 0.1): { mesh: Mesh; uv: Float32Array } {
  const mesh = plane({ width: 1, depth: 1, cutX: n, cutZ: n } as never, 1);
  const uv = new Float32Array(2 * mesh.cornerCount);
  for (let f = 0; f < mesh.faceCount; f++) {
    const corners = Array.from({ length: mesh.faceStart[f + 1] - mesh.faceStart[f] }, (_, i) => mesh.faceStart[f] + i);
    const place = corners.map((c) => mesh.positions.subarray(3 * mesh.cornerVertex[c], 3 * mesh.cornerVertex[c] + 3));
    const right = place.reduce((sum, p) => sum + p[0], 0) > 0;
    corners.forEach((c, i) => uv.set([0.3 + place[i][0] / 2 + (right ? apart : 0), 0.3 + place[i][2] / 2], 2 * c));
  }
  return { mesh, uv };
}

const SIDE = 1000;
const toScreen = (u: number, v: number): [number, number] => [u * SIDE, (1 - v) * SIDE];
const onPaper = (mesh: Mesh, uv: Float32Array, screen = toScreen): { paper: Paper; drawing: SheetDrawing } => {
  const paper = new Paper();
  return { paper, drawing: new SheetDrawing(paper.context, mesh, uv, uv, screen) };
};

test('a cut is a border on both its sides, what hangs together is not', () => {
  const n = 6;
  const { mesh, uv } = cutGrid(n);
  const { paper, drawing } = onPaper(mesh, uv);
  drawing.edges();
  const borders = paper.lines('seam')[0];
  const inner = paper.lines('ink')[0];
  // Round the square, and both sides of the cut; all else twice, once for each of its faces.
  expect(borders.starts).toBe(4 * n + 2 * n);
  expect(inner.starts).toBe(2 * (2 * n * (n - 1) - n));
  expect(borders.starts + inner.starts).toBe(mesh.cornerCount);

  const whole = cutGrid(n, 0);
  const { paper: uncut, drawing: plain } = onPaper(whole.mesh, whole.uv);
  plain.edges();
  expect(uncut.lines('seam')[0].starts).toBe(4 * n);
});

test('ticks stand across borders, as far apart as is told, and there are none where there is no room', () => {
  const { mesh, uv } = cutGrid(2);
  const { paper, drawing } = onPaper(mesh, uv);
  drawing.edges();
  const ticks = paper.lines('seam')[1];
  // Each side is 250 pixels long.
  expect(ticks.starts).toBe(12 * Math.floor(250 / 8));
  for (let i = 0; i < ticks.path.length; i += 2) {
    const [[ax, ay], [bx, by]] = [ticks.path[i], ticks.path[i + 1]];
    expect(Math.hypot(bx - ax, by - ay)).toBeCloseTo(4.4, 9);
    // Its middle lies on a side: level or upright.
    const near = (x: number): number => Math.min(...[50, 300, 550, 150, 400, 650].map((k) => Math.abs(x - k)));
    expect(Math.min(near((ax + bx) / 2), near(SIDE - (ay + by) / 2))).toBeLessThan(1e-3);
  }
  const { paper: small, drawing: far } = onPaper(mesh, uv, (u, v) => [u * 20, v * 20]);
  far.edges();
  expect(small.lines('seam')[1].starts).toBe(0);
});

test('faces too small to be told apart are drawn without the edges between them, their borders are not lost', () => {
  const { mesh, uv } = cutGrid(40);
  const { paper, drawing } = onPaper(mesh, uv, (u, v) => [u * 100, v * 100]);
  drawing.edges();
  expect(paper.lines('ink')).toHaveLength(0);
  expect(paper.lines('seam')[0].starts).toBe(4 * 40 + 2 * 40);
});

test('step by step comes to the same as at once, and gives way in between', () => {
  const { mesh, uv } = cutGrid(70);
  const { paper: first, drawing } = onPaper(mesh, uv);
  drawing.fill(Array(mesh.faceCount).keys(), 'clay', 0.8);
  drawing.edges();
  const { paper: second, drawing: again } = onPaper(cutGrid(70).mesh, uv);
  let rests = 0;
  for (const steps = again.all(null, 0.8); !steps.next().done;) rests++;
  expect(rests).toBeGreaterThan(4);
  expect(second.drawn).toEqual(first.drawn);
  // Every corner of every face is filled once.
  const filled = first.drawn.filter((d) => d.kind === 'fill');
  expect(filled.reduce((sum, d) => sum + d.path.length, 0)).toBe(mesh.cornerCount);
  expect(filled.reduce((sum, d) => sum + d.starts, 0)).toBe(mesh.faceCount);
  expect(filled.every((d) => d.alpha === 0.8)).toBe(true);
  expect(first.globalAlpha).toBe(1);
});

test('in heat each face is drawn once, in the colour of its band', () => {
  const { mesh, uv } = cutGrid(8);
  const { paper, drawing } = onPaper(mesh, uv);
  const colours = Array.from({ length: 64 }, (_, k) => `band ${k}`);
  // By how far each is drawn, 1 to 2: from the first band to the last that there is.
  const stretch = Float32Array.from({ length: mesh.faceCount }, (_, f) => 1 + f / (mesh.faceCount - 1));
  drawing.heat({ of: 'stretch', look: { stretch }, lo: 1, hi: 2, colours } as unknown as Heat);
  const filled = paper.drawn.filter((d) => d.kind === 'fill');
  expect(filled.reduce((sum, d) => sum + d.starts, 0)).toBe(mesh.faceCount);
  const bands = filled.map((d) => Number(d.style.slice(5)));
  expect(new Set(bands).size).toBe(bands.length);
  expect(Math.min(...bands)).toBe(0);
  // None is empty, and they rise with the faces: of a square of 64 that are each drawn a little more.
  expect(bands).toEqual([...bands].sort((a, b) => a - b));
  expect(filled.every((d) => d.starts > 0)).toBe(true);
});

test('picked edges are drawn on both their sides, picked vertices larger than others, at all their corners', () => {
  const { mesh, uv } = cutGrid(4);
  const t = topologyOf(mesh);
  const onCut = Array.from({ length: t.edgeCount }, (_, e) => e).filter((e) =>
    [0, 1].every((k) => Math.abs(mesh.positions[3 * t.edgeVertex[2 * e + k]]) < 1e-6),
  );
  expect(onCut).toHaveLength(4);
  const { paper, drawing } = onPaper(mesh, uv);
  drawing.pickedEdges(onCut);
  expect(paper.lines('picked')[0].starts).toBe(8);
  const xs = new Set(paper.lines('picked')[0].path.map(([x]) => Math.round(x)));
  expect([...xs].sort((a, b) => a - b)).toEqual([300, 400]);

  const { paper: dots, drawing: points } = onPaper(mesh, uv);
  points.vertices([mesh.cornerVertex[0]]);
  const rects = dots.drawn.filter((d) => d.kind === 'fillRect');
  expect(rects).toHaveLength(mesh.cornerCount);
  const own = Array.from(mesh.cornerVertex).filter((v) => v === mesh.cornerVertex[0]).length;
  expect(rects.filter((d) => d.style === 'picked' && d.path[1][0] === 7)).toHaveLength(own);
});

test('a mesh of no faces is drawn as nothing', () => {
  const { mesh } = cutGrid(1);
  const none = mesh.with({ faceStart: new Uint32Array(1), cornerVertex: new Uint32Array(0) });
  const { paper, drawing } = onPaper(none, new Float32Array(0));
  for (const steps = drawing.all(null, 1); !steps.next().done;);
  expect(paper.drawn.every((d) => d.path.length === 0)).toBe(true);
});

test('the box to hold by is a rim away from what it holds, however far it is zoomed', () => {
  for (const zoom of [10, 1000]) {
    const paper = new Paper();
    const { mesh, uv } = cutGrid(1);
    new SheetDrawing(paper.context, mesh, uv, uv, (u, v) => [u * zoom, -v * zoom]).hold({
      ...{ x0: 0.2, y0: 0.3, x1: 0.6, y1: 0.9 },
    });
    const [x, y] = paper.drawn[0].path[0];
    const [w, h] = paper.drawn[0].path[1];
    expect([x, y, w, h].map((k) => Number(k.toFixed(6)))).toEqual([
      0.2 * zoom - 4,
      -0.9 * zoom - 4,
      Number((0.4 * zoom + 8).toFixed(6)),
      Number((0.6 * zoom + 8).toFixed(6)),
    ]);
    expect(paper.drawn.filter((d) => d.kind === 'fillRect')).toHaveLength(4);
    expect(paper.dash).toEqual([]);
  }
});

test('the part of a sheet that may be used is drawn where it is, from below; others by their sides', () => {
  const paper = new Paper();
  drawPart(paper.context, { x: 0.25, y: 0.5, width: 0.5, height: 0.25 }, 100, 50, 400);
  expect(paper.drawn[0].path).toEqual([
    [200, 150],
    [200, 100],
  ]);
  expect(paper.dash).toEqual([]);
  drawOthers(paper.context, Float32Array.of(0, 0, 0.5, 0, 0.5, 0, 0.5, 0.5), toScreen);
  const [others] = paper.lines('ink-soft');
  expect(others.path).toEqual([
    [0, 1000],
    [500, 1000],
    [500, 1000],
    [500, 500],
  ]);
  expect(paper.globalAlpha).toBe(1);
});
