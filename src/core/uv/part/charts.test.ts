import { keyOf } from '../../math/hash';
import { box, cubeSphere, cylinder, plane } from '../../make/primitives';
import { meshFrom, type Mesh } from '../../mesh/mesh';
import { topologyOf } from '../../mesh/topology';
import { charts, chartShapes, facesByChart, linkBorders, partByDirection, seamEdges, type SeamMarks } from './charts';
import { islandsOf } from '../measure';

const id = keyOf('t');
const none: SeamMarks = { cut: new Set(), hold: new Set(), angle: Infinity };
const seams = (m: Mesh, marks: Partial<SeamMarks> = {}) => seamEdges(m, { ...none, ...marks });
const cube = box({ width: 1, height: 1, depth: 1, cutX: 1, cutY: 1, cutZ: 1, onGround: false }, id);
const tube = cylinder({ radius: 1, topRadius: 1, height: 3, sides: 10, rows: 3, cap: 'open', onGround: true }, id);

test('a bend over the angle is a seam, one just under it is not', () => {
  expect(seams(cube, { angle: (89 * Math.PI) / 180 }).reduce((a, b) => a + b, 0)).toBe(12);
  expect(seams(cube, { angle: (91 * Math.PI) / 180 }).reduce((a, b) => a + b, 0)).toBe(0);
});

test('marks win over bends: held edges are no seams, cut ones are, open borders always', () => {
  const s = seams(cube, { angle: 0.1, hold: new Set([2, 5]) });
  expect([s[2], s[5], s[0]]).toEqual([0, 0, 1]);
  expect(seams(cube, { cut: new Set([7]) })[7]).toBe(1);
  const p = plane({ width: 1, depth: 1, cutX: 1, cutZ: 1 }, id);
  expect([...seams(p, { hold: new Set([0, 1, 2, 3]) })]).toEqual([1, 1, 1, 1]);
});

test('edges of three faces, and of faces that disagree on which side is out, are seams', () => {
  const fin = meshFrom(
    [0, 0, 0, 1, 0, 0, 0, 1, 0, 0, -1, 0, 0, 0, 1],
    [
      [0, 1, 2],
      [1, 0, 3],
      [0, 1, 4],
    ],
  );
  expect(seams(fin).every((x) => x === 1)).toBe(true);
  const odd = meshFrom(
    [0, 0, 0, 1, 0, 0, 0, 1, 0, 0, -1, 0],
    [
      [0, 1, 2],
      [0, 1, 3],
    ],
  );
  expect(charts(odd, seams(odd)).count).toBe(2);
});

test('shapes: closed, tube, disc', () => {
  expect(chartShapes(cube, charts(cube, seams(cube)))).toEqual([{ euler: 2, borders: 0 }]);
  expect(chartShapes(tube, charts(tube, seams(tube)))).toEqual([{ euler: 0, borders: 2 }]);
  const p = plane({ width: 1, depth: 1, cutX: 3, cutZ: 2 }, id);
  expect(chartShapes(p, charts(p, seams(p)))).toEqual([{ euler: 1, borders: 1 }]);
});

test('a cut inside a chart parts corners along it without parting the chart', () => {
  const p = plane({ width: 1, depth: 1, cutX: 4, cutZ: 4 }, id);
  const t = topologyOf(p);
  // Two edges that meet in the middle: a dart open at one inner vertex, joined at its ends.
  const middle = [...Array(p.vertexCount).keys()].find(
    (v) => Math.hypot(...p.positions.subarray(3 * v, 3 * v + 3)) < 1e-6,
  )!;
  const dart = [...Array(t.edgeCount).keys()]
    .filter((e) => t.edgeVertex[2 * e] === middle || t.edgeVertex[2 * e + 1] === middle)
    .slice(0, 2);
  const whole = charts(p, seams(p));
  const cut = charts(p, seams(p, { cut: new Set(dart) }));
  expect(cut.count).toBe(1);
  expect(cut.uvCount).toBe(whole.uvCount + 1);
});

test('a tube is linked by the shortest way: as many edges as rows, and then it is a disc', () => {
  const ch = charts(tube, seams(tube));
  const before = ch.seam.reduce((a, b) => a + b, 0);
  linkBorders(tube, ch, facesByChart(ch).face);
  expect(ch.seam.reduce((a, b) => a + b, 0) - before).toBe(3);
  expect(chartShapes(tube, charts(tube, ch.seam))).toEqual([{ euler: 1, borders: 1 }]);
});

test('a disc needs no linking', () => {
  const p = plane({ width: 1, depth: 1, cutX: 3, cutZ: 3 }, id);
  const ch = charts(p, seams(p));
  const before = ch.seam.slice();
  linkBorders(p, ch, facesByChart(ch).face);
  expect(ch.seam).toEqual(before);
});

test('a closed body is parted into six looks, except where edges are held', () => {
  const ball = cubeSphere({ radius: 1, cuts: 4 }, id);
  const ch = charts(ball, seams(ball));
  partByDirection(ball, ch, Uint8Array.from([1]), new Set());
  const parted = charts(ball, ch.seam);
  expect(parted.count).toBe(6);
  expect(chartShapes(ball, parted).every((s) => s.euler === 1 && s.borders === 1)).toBe(true);
  const held = charts(ball, seams(ball));
  partByDirection(
    ball,
    held,
    Uint8Array.from([1]),
    new Set(Array.from({ length: topologyOf(ball).edgeCount }, (_, e) => e)),
  );
  expect(charts(ball, held.seam).count).toBe(1);
});

test('islands of a finished layout are found from the places alone', () => {
  const p = plane({ width: 1, depth: 1, cutX: 2, cutZ: 1 }, id);
  const uv = new Float32Array(2 * p.cornerCount);
  for (let c = 0; c < p.cornerCount; c++) {
    uv[2 * c] = p.positions[3 * p.cornerVertex[c]];
    uv[2 * c + 1] = p.positions[3 * p.cornerVertex[c] + 2];
  }
  expect(islandsOf(p, uv).count).toBe(1);
  for (let c = 0; c < 4; c++) uv[2 * c] += 5; // the first face moved away
  expect(islandsOf(p, uv).count).toBe(2);
});
