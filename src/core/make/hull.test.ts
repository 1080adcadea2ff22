import fc from 'fast-check';
import { volumeOf } from '../mesh';
import { insideOf } from '../mesh/inside';
import { pointsFrom } from '../mesh/points';
import { topologyOf } from '../mesh/topology';
import { hullOf } from './hull';
import { pointsInGrid } from './points';
import { box, cubeSphere } from './primitives';

const SIDE = { width: 1, height: 1, depth: 1, cutX: 4, cutY: 4, cutZ: 4, onGround: false };
const points = (p: readonly number[]) =>
  pointsFrom(
    Float32Array.from(p),
    Float64Array.from({ length: p.length / 3 }, (_, i) => 7 * i + 3),
  );

test('a cut box has the hull of a box, with the keys of its corners', () => {
  const from = box(SIDE, 5);
  const hull = hullOf(from);
  // A place on an edge may be one of the four it begins with; no more than that.
  expect(hull.vertexCount).toBeLessThanOrEqual(10);
  expect(hull.faceCount).toBe(2 * hull.vertexCount - 4);
  expect(volumeOf(hull)).toBeCloseTo(1, 6);
  const keys = new Set(from.vertexKey);
  for (const k of hull.vertexKey) expect(keys.has(k)).toBe(true);
  expect(new Set(hull.faceKey).size).toBe(hull.faceCount);
});

test('all points are within, the hull is closed and convex', () => {
  const one = fc.double({ min: -1, max: 1, noNaN: true });
  fc.assert(
    fc.property(fc.array(fc.tuple(one, one, one), { minLength: 5, maxLength: 60 }), (list) => {
      const mesh = points(list.flat());
      let hull;
      try {
        hull = hullOf(mesh);
      } catch (e) {
        expect((e as Error).message).toContain('flat');
        return;
      }
      const t = topologyOf(hull);
      for (let e = 0; e < t.edgeCount; e++) expect(t.edgeCornerStart[e + 1] - t.edgeCornerStart[e]).toBe(2);
      expect(hull.vertexCount - t.edgeCount + hull.faceCount).toBe(2);
      const p = hull.positions;
      for (let f = 0; f < hull.faceCount; f++) {
        const [a, b, c] = [0, 1, 2].map((k) => [
          ...p.subarray(3 * hull.cornerVertex[3 * f + k], 3 * hull.cornerVertex[3 * f + k] + 3),
        ]);
        const u = [0, 1, 2].map((k) => b[k] - a[k]);
        const v = [0, 1, 2].map((k) => c[k] - a[k]);
        const n = [u[1] * v[2] - u[2] * v[1], u[2] * v[0] - u[0] * v[2], u[0] * v[1] - u[1] * v[0]];
        for (const q of list) expect(n.reduce((s, x, k) => s + x * (Math.fround(q[k]) - a[k]), 0)).toBeLessThan(1e-5);
      }
    }),
    { numRuns: 60 },
  );
});

test.each([
  ['nothing', []],
  ['three points', [0, 0, 0, 1, 0, 0, 0, 1, 0]],
  ['a flat sheet', [0, 0, 0, 1, 0, 0, 0, 1, 0, 1, 1, 0, 0.5, 0.5, 0]],
  ['a line', [0, 0, 0, 1, 1, 1, 2, 2, 2, 3, 3, 3]],
  ['one place over and over', [1, 1, 1, 1, 1, 1, 1, 1, 1, 1, 1, 1, 1, 1, 1]],
])('%s has none, and says so', (_, p) => {
  expect(() => hullOf(points(p))).toThrow('This is flat: it has no hull.');
});

test('a grid keeps its points’ keys when rows are added, and too many are refused', () => {
  const few = pointsInGrid([3, 1, 2], 0.5, 9);
  const more = pointsInGrid([5, 2, 2], 0.5, 9);
  expect(few.vertexCount).toBe(6);
  expect([few.positions[0], few.positions[3]]).toEqual([-0.5, 0]);
  for (const k of few.vertexKey) expect(more.vertexKey.includes(k)).toBe(true);
  expect(() => pointsInGrid([1000, 1000, 1000], 1, 1)).toThrow();
});

test('inside a ball, outside of it, and nowhere of an open sheet', () => {
  const ball = cubeSphere({ radius: 1, cuts: 12 }, 3);
  const inside = insideOf(ball)!;
  for (let i = 0; i < 500; i++) {
    const way = [Math.sin(i * 12.9), Math.cos(i * 7.3), Math.sin(i * 3.1 + 1)];
    const r = (i % 2 === 0 ? 0.9 : 1.05) / Math.hypot(...way);
    expect(inside([way[0] * r, way[1] * r, way[2] * r])).toBe(i % 2 === 0);
  }
  expect(
    insideOf(
      hullOf(ball).with({
        faceStart: new Uint32Array([0, 3]),
        cornerVertex: new Uint32Array([0, 1, 2]),
        faceKey: new Float64Array([1]),
      } as never),
    ),
  ).toBeUndefined();
});
