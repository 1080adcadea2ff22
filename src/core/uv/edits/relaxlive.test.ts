/** Islands relaxed while one looks on: held where they are held, turned over nowhere, stopped when told to. */
import fc from 'fast-check';
import { box } from '../../make/primitives';
import { meshFrom, type Mesh } from '../../mesh/mesh';
import { topologyOf } from '../../mesh/topology';
import { triangulate } from '../../mesh/triangulate';
import { animal, lumpyBall } from '../../testing/organic';
import { UNWRAPPING, allFaces, uvOf, withUv } from '../../testing/unwrapping';
import { triangleFigures, uvFigures } from '../measure';
import { unwrapMesh } from '../unwrap';
import { relaxedLive, type RelaxLiveOptions } from './relaxlive';
import { bordersOf, SheetEdit } from './sheet';

const laid = (mesh: Mesh): Mesh => unwrapMesh(mesh, { ...UNWRAPPING, stretch: 1.6 }).mesh;
const relaxed = (m: Mesh, o: Partial<RelaxLiveOptions> = {}) =>
  relaxedLive(m, {
    ...{
      faces: allFaces(m),
      held: [],
      border: false,
      lengths: 0.5,
      rounds: 200,
      stop: () => false,
      better: () => undefined,
    },
    ...o,
  });
const figures = (m: Mesh, uv: Float32Array) => uvFigures(withUv(m, uv), uv);
/** Area on the sheet over that of the surface, the largest against the smallest, without the outermost hundredth. */
function unevenness(m: Mesh, uv: Float32Array): number {
  const { area, uvArea } = triangleFigures(m, uv, triangulate(m));
  const scales = [...area.keys()]
    .filter((i) => area[i] > 0)
    .map((i) => Math.abs(uvArea[i]) / area[i])
    .sort((a, b) => a - b);
  return scales[Math.floor(0.99 * scales.length)] / scales[Math.floor(0.01 * scales.length)];
}
const ball = laid(lumpyBall(10));
const grid = laid(box({ width: 1, height: 1, depth: 1, cutX: 6, cutY: 6, cutZ: 6, onGround: false }, 5));

test('angles or lengths: the one bends less, the other stays more even; each better than what was', () => {
  const angles = relaxed(ball, { lengths: 0 }).uv;
  const lengths = relaxed(ball, { lengths: 1 }).uv;
  const [a, l] = [figures(ball, angles), figures(ball, lengths)];
  for (const f of [a, l]) expect(f).toMatchObject({ flips: 0, islands: figures(ball, uvOf(ball)).islands });
  expect(a.stretchMean).toBeLessThan(l.stretchMean);
  expect(unevenness(ball, lengths)).toBeLessThan(unevenness(ball, angles));
  expect(a.stretchMean).toBeLessThanOrEqual(figures(ball, uvOf(ball)).stretchMean + 1e-4);
});

test('a border that is held stays where it is, and so do corners; within, what was bent comes to rest', () => {
  const sheet = new SheetEdit(grid);
  const t = topologyOf(grid);
  const borders = bordersOf(grid, uvOf(grid));
  const rim = new Set<number>();
  for (let c = 0; c < grid.cornerCount; c++) if (borders[t.cornerEdge[c]]) rim.add(grid.cornerVertex[c]);
  // Everything within its border is shaken a little; what would be turned over by it is let be.
  const shaken = uvOf(grid).slice();
  for (let c = 0; c < grid.cornerCount; c++) {
    const v = grid.cornerVertex[c];
    if (rim.has(v)) continue;
    shaken[2 * c] += 0.012 * Math.sin(17 * v);
    shaken[2 * c + 1] += 0.012 * Math.cos(11 * v);
  }
  const before = figures(grid, shaken);
  expect(before.flips).toBe(0);
  const kept = sheet.cornersOf(allFaces(grid).slice(0, 2));
  const out = relaxed(withUv(grid, shaken), { border: true, held: kept });
  for (let c = 0; c < grid.cornerCount; c++)
    if (rim.has(grid.cornerVertex[c]) || kept.includes(c)) {
      expect(out.uv[2 * c]).toBeCloseTo(shaken[2 * c], 6);
      expect(out.uv[2 * c + 1]).toBeCloseTo(shaken[2 * c + 1], 6);
    }
  expect(figures(grid, out.uv).stretchMean).toBeLessThan(1 + (before.stretchMean - 1) / 2);
});

test('what lay whole on a sheet lies whole on it after, at its very edge too', () => {
  for (const [du, dv] of [
    [0, 0],
    [1, 0],
  ])
    for (const lengths of [0, 1]) {
      const sheet = new SheetEdit(ball);
      const faces = sheet.facesOf(0);
      const b = sheet.boxOf(faces);
      const size = 1 / Math.max(b.x1 - b.x0, b.y1 - b.y0);
      const wide = uvOf(ball).slice();
      for (const c of sheet.cornersOf(faces)) {
        wide[2 * c] = (wide[2 * c] - b.x0) * size + du;
        wide[2 * c + 1] = (wide[2 * c + 1] - b.y0) * size + dv;
      }
      const out = withUv(ball, relaxed(withUv(ball, wide), { faces: [faces[0]], lengths }).uv);
      const now = new SheetEdit(out).boxOf(faces);
      expect(Math.min(now.x0 - du, now.y0 - dv, du + 1 - now.x1, dv + 1 - now.y1)).toBeGreaterThan(-2e-5);
    }
});

test('only what is picked moves', () => {
  const only = allFaces(ball).slice(40, 90);
  const may = new Set(only);
  /** A vertex where it lies on one island: on others its corners are their own. */
  const place = (c: number): string =>
    `${ball.cornerVertex[c]} ${uvOf(ball)[2 * c].toFixed(5)} ${uvOf(ball)[2 * c + 1].toFixed(5)}`;
  const fixed = new Set<string>();
  for (const f of allFaces(ball))
    if (!may.has(f)) for (let c = ball.faceStart[f]; c < ball.faceStart[f + 1]; c++) fixed.add(place(c));
  const shaken = uvOf(ball).slice();
  for (let c = 0; c < ball.cornerCount; c++)
    if (!fixed.has(place(c))) shaken[2 * c] += 0.0015 * Math.sin(7 * ball.cornerVertex[c]);
  const { uv } = relaxed(withUv(ball, shaken), { only });
  let moved = 0;
  for (let c = 0; c < ball.cornerCount; c++) {
    const far = Math.hypot(uv[2 * c] - shaken[2 * c], uv[2 * c + 1] - shaken[2 * c + 1]);
    if (fixed.has(place(c))) expect(far).toBeLessThan(1e-6);
    else if (far > 1e-5) moved++;
  }
  expect(moved).toBeGreaterThan(20);
});

test('it ends when it is told to, with what there is by then; each stage is told, and none is worse', () => {
  const means: number[] = [];
  let rounds = 0;
  const out = relaxed(ball, {
    lengths: 1,
    rounds: 1000,
    stop: () => ++rounds > 35,
    better: (uv, mean) => {
      expect(uv).toHaveLength(uvOf(ball).length);
      means.push(mean);
    },
  });
  expect(out.rounds).toBe(35);
  expect(means.length).toBeGreaterThanOrEqual(4);
});

test('what was mirrored by hand stays mirrored, where it lay', () => {
  const turned = uvOf(ball).map((x, i) => (i % 2 === 0 ? 1 - x : x));
  const m = withUv(ball, turned);
  const out = relaxed(m, { lengths: 1 }).uv;
  const { uvArea } = triangleFigures(m, out, triangulate(m));
  expect(uvArea.every((a) => a <= 0)).toBe(true);
});

test('an island on its face is laid anew, or left where something of it is held', () => {
  const heap = new Float32Array(uvOf(ball).length);
  for (let c = 0; c < ball.cornerCount; c++) {
    heap[2 * c] = 0.5 + 0.1 * Math.sin(5 * ball.cornerVertex[c]);
    heap[2 * c + 1] = 0.5 + 0.1 * Math.sin(3 * ball.cornerVertex[c] + 1);
  }
  // All in one heap is one island: cut open it cannot be by this, and it is left.
  expect(relaxed(withUv(ball, heap)).left).toBe(1);
  const cube = laid(box({ width: 1, height: 1, depth: 1, cutX: 4, cutY: 4, cutZ: 4, onGround: false }, 3));
  const crossed = uvOf(cube).slice();
  const t = topologyOf(cube);
  const borders = bordersOf(cube, uvOf(cube));
  const rim = new Set<number>();
  for (let c = 0; c < cube.cornerCount; c++) if (borders[t.cornerEdge[c]]) rim.add(cube.cornerVertex[c]);
  for (let c = 0; c < cube.cornerCount; c++)
    if (!rim.has(cube.cornerVertex[c])) crossed[2 * c] += cube.cornerVertex[c] % 2 ? 0.2 : -0.2;
  const m = withUv(cube, crossed);
  expect(figures(cube, crossed).flips).toBeGreaterThan(0);
  for (const border of [true, false]) {
    const out = relaxed(m, { border, lengths: 1 });
    expect(out.left).toBe(0);
    expect(figures(cube, out.uv)).toMatchObject({ flips: 0, stretchMean: expect.closeTo(1, 2) });
  }
  expect(relaxed(m, { held: [0] }).left).toBeGreaterThan(0);
});

test('whatever is picked and held: nothing is turned over, and numbers stay numbers', () => {
  const m = laid(animal(8));
  fc.assert(
    fc.property(
      fc.double({ min: 0, max: 1, noNaN: true }),
      fc.boolean(),
      fc.array(fc.nat(m.cornerCount - 1), { maxLength: 12 }),
      fc.array(fc.nat(m.faceCount - 1), { minLength: 1, maxLength: 5 }),
      (lengths, border, held, faces) => {
        const out = relaxed(m, { lengths, border, held, faces, rounds: 25 });
        const f = figures(m, out.uv);
        expect(f.flips).toBe(0);
        expect(f.islands).toBe(figures(m, uvOf(m)).islands);
        expect(out.uv.every(Number.isFinite)).toBe(true);
        for (const c of held) expect(out.uv[2 * c]).toBeCloseTo(uvOf(m)[2 * c], 5);
      },
    ),
    { numRuns: 25 },
  );
});

/** Half a cone of quads, whose tip is a row of vertices in one place: what is at it has no area to one half. */
function tip(): Mesh {
  const [around, up] = [16, 6];
  const places: number[] = [];
  for (let j = 0; j <= up; j++)
    for (let i = 0; i <= around; i++) {
      const a = (Math.PI * i) / around;
      places.push((j / up) * Math.cos(a), 2 - (2 * j) / up, (j / up) * Math.sin(a));
    }
  const at = (i: number, j: number): number => j * (around + 1) + i;
  const faces = Array.from({ length: around * up }, (_, k) => {
    const [i, j] = [k % around, Math.floor(k / around)];
    return [at(i, j), at(i + 1, j), at(i + 1, j + 1), at(i, j + 1)];
  });
  return laid(meshFrom(places, faces));
}

test.each([0, 0.5, 1])('what has no area is not turned over where it comes to have some (%d)', (lengths) => {
  const cone = tip();
  const t = triangulate(cone);
  const down = (uv: Float32Array): number =>
    triangleFigures(cone, uv, t).uvArea.reduce((n, a) => n + (a < -1e-12 ? 1 : 0), 0);
  expect(down(uvOf(cone))).toBe(0);
  expect(down(relaxed(cone, { lengths, rounds: 40 }).uv)).toBe(0);
});

test('with something held the rest does not grow over the edge of the sheet', () => {
  // Drawn to a third of its height at the upper edge, one corner of it held: it would grow back.
  const cube = laid(box({ width: 1, height: 1, depth: 1, cutX: 6, cutY: 6, cutZ: 6, onGround: false }, 3));
  const side = Array.from({ length: 36 }, (_, f) => f);
  const of = new SheetEdit(cube);
  const faces = [...of.facesOf(of.of[side[0]])];
  const corners = of.cornersOf(faces);
  const b = of.boxOf(faces);
  const flat = uvOf(cube).slice();
  for (const c of corners) {
    flat[2 * c] = 0.1 + (0.6 * (flat[2 * c] - b.x0)) / (b.x1 - b.x0);
    flat[2 * c + 1] = 0.8 + (0.2 * (flat[2 * c + 1] - b.y0)) / (b.y1 - b.y0);
  }
  const lowest = corners.filter((c) => flat[2 * c + 1] < 0.8 + 1e-6);
  const m = withUv(cube, flat);
  const out = relaxed(m, { faces, held: lowest, lengths: 1, rounds: 60 }).uv;
  const grown = new SheetEdit(withUv(cube, out)).boxOf(faces);
  expect(grown.y1).toBeLessThan(1 + 1e-5);
  expect(grown.y1).toBeGreaterThan(0.99);
  expect(figures(m, out).flips).toBe(0);
  for (const c of lowest) expect([out[2 * c], out[2 * c + 1]]).toEqual([flat[2 * c], flat[2 * c + 1]]);
});
