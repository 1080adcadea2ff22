import fc from 'fast-check';
import { cubeSphere, plane } from '../make/primitives';
import { emptyMesh } from '../mesh/mesh';
import { raysOf } from '../mesh/rays';
import { shapeOf } from '../mesh/measure';
import { faceNormals } from '../mesh/normals';
import { problemsOf } from '../testing/valid';
import type { Triple } from '../math/affine';
import { drawStrip, type StripOptions } from './strip';

const flat = plane({ width: 10, depth: 10, cutX: 1, cutZ: 1 }, 1);
const ball = cubeSphere({ radius: 2, cuts: 24, names: 'shares' }, 2);
const on = (mesh: typeof flat) => ({ mesh, rays: raysOf(mesh) });
const options: StripOptions = { width: 0.5, long: 0, rounds: 0, towards: [0, 1, 0] };
const row = (z: number, from = -2, to = 2): Triple[] =>
  Array.from({ length: 21 }, (_, i) => [from + ((to - from) * i) / 20, 0, z]);

test('a straight stroke: squares in a row, on the ground, looking up, whichever way it was drawn', () => {
  for (const line of [row(0), row(0).reverse()])
    for (const ground of [on(flat), undefined]) {
      const m = drawStrip(emptyMesh(), line, options, 1, ground);
      expect([m.faceCount, m.vertexCount]).toEqual([8, 18]);
      expect(problemsOf(m)).toEqual([]);
      const n = faceNormals(m);
      for (let f = 0; f < 8; f++) expect(n[3 * f + 1]).toBeCloseTo(1, 5);
      expect(m.positions.filter((_, i) => i % 3 === 1).every((y) => Math.abs(y) < 1e-9)).toBe(true);
    }
  expect(drawStrip(emptyMesh(), row(0), { ...options, long: 2 }, 1).faceCount).toBe(2);
});

test('a strip beside another joins it: an edge is shared for each of its quads', () => {
  const first = drawStrip(emptyMesh(), row(0), options, 1, on(flat));
  const both = drawStrip(first, row(0.52), options, 2, on(flat));
  expect(both.faceCount).toBe(16);
  expect(both.vertexCount).toBe(27);
  expect(shapeOf(both)).toMatchObject({ nonManifoldEdges: 0, eulerCharacteristic: 1, oriented: true });
  // One that goes on where it ended.
  const on2 = drawStrip(first, row(0, 2, 4), options, 3, on(flat));
  expect(shapeOf(on2).eulerCharacteristic).toBe(1);
});

test('over a ball: every corner on its surface, relaxed or not, every face looking out of it', () => {
  fc.assert(
    fc.property(fc.double({ min: -1, max: 1, noNaN: true }), fc.integer({ min: 0, max: 6 }), (lean, rounds) => {
      const line = Array.from({ length: 40 }, (_, i): Triple => {
        const a = (i / 39) * 2.5;
        return [2 * Math.cos(a), 2 * Math.sin(a) * Math.cos(lean), 2 * Math.sin(a) * Math.sin(lean)];
      });
      const m = drawStrip(emptyMesh(), line, { ...options, rounds }, 5, on(ball));
      expect(problemsOf(m)).toEqual([]);
      const n = faceNormals(m);
      for (let f = 0; f < m.faceCount; f++) {
        const v = 3 * m.cornerVertex[m.faceStart[f]];
        const out = [0, 1, 2].reduce((s, k) => s + n[3 * f + k] * m.positions[v + k], 0);
        expect(out).toBeGreaterThan(0);
      }
      for (let v = 0; v < m.vertexCount; v++)
        expect(Math.hypot(...m.positions.subarray(3 * v, 3 * v + 3))).toBeCloseTo(2, 1);
    }),
    { numRuns: 25 },
  );
});

test('no line, no width, far too fine: one sentence each', () => {
  expect(() => drawStrip(flat, [], options, 1)).toThrow('a line that has a length');
  expect(() =>
    drawStrip(
      flat,
      [
        [0, 0, 0],
        [0, 0, 0],
      ],
      options,
      1,
    ),
  ).toThrow('a line that has a length');
  expect(() => drawStrip(flat, row(0), { ...options, width: 0 }, 1)).toThrow('needs a width');
  expect(() => drawStrip(flat, row(0), { ...options, width: 1e-5 }, 1)).toThrow('at most 4000');
});
