/** Loop cuts that follow the curve there, and that keep their distance. */
import { cylinder } from '../make/primitives';
import { keyOf } from '../math/hash';
import { meshFrom, type Mesh } from '../mesh/mesh';
import { shapeOf } from '../mesh/measure';
import { topologyOf } from '../mesh/topology';
import { loopCut } from './loopcut';

const id = keyOf('t');
const added = (before: Mesh, after: Mesh) =>
  Array.from({ length: after.vertexCount - before.vertexCount }, (_, i) => before.vertexCount + i).map((v) =>
    Array.from(after.positions.subarray(3 * v, 3 * v + 3)),
  );

test('round a drum new vertices lie nearly on the circle, and on the chord where that is not asked', () => {
  const drum = cylinder({ radius: 1, topRadius: 1, height: 2, sides: 8, rows: 3, cap: 'open', onGround: false }, id);
  const t = topologyOf(drum);
  const level = Array.from({ length: t.edgeCount }, (_, e) => e).find((e) => {
    const [a, b] = [0, 1].map((k) => drum.positions[3 * t.edgeVertex[2 * e + k] + 1]);
    return Math.abs(a - b) < 1e-6 && Math.abs(a) < 0.9;
  })!;
  const radii = (curve: number) =>
    added(drum, loopCut(drum, [level], { count: 1, slide: 0, curve }, id)).map(([x, , z]) => Math.hypot(x, z));
  const inner = (list: number[]) => list.sort((a, b) => a - b);
  for (const r of radii(0)) expect(r).toBeCloseTo(Math.cos(Math.PI / 8), 5);
  const bent = inner(radii(1));
  expect(bent[bent.length - 1]).toBeGreaterThan(0.985);
  expect(bent[bent.length - 1]).toBeLessThan(1.001);
  const out = loopCut(drum, [level], { count: 2, slide: 0, curve: 1 }, id);
  expect(shapeOf(out).openEdges).toBe(shapeOf(drum).openEdges + 4);
});

test('evenly from one side: the same distance on edges of any length', () => {
  const wedge = meshFrom(
    [0, 0, 0, 1, 0, 0, 2, 0, 0, 0, 1, 0, 1, 2, 0, 2, 4, 0],
    [
      [0, 1, 4, 3],
      [1, 2, 5, 4],
    ],
  );
  const t = topologyOf(wedge);
  const side = Array.from({ length: t.edgeCount }, (_, e) => e).find(
    (e) => t.edgeVertex[2 * e] === 0 && t.edgeVertex[2 * e + 1] === 3,
  )!;
  const places = (spacing: 'share' | 'low' | 'high') =>
    added(wedge, loopCut(wedge, [side], { count: 1, slide: 0, spacing }, id))
      .map(([x, y]) => [x, y])
      .sort((a, b) => a[0] - b[0]);
  expect(places('share')).toEqual([[0, 0.5], [1, 1], [2, 2]]); // prettier-ignore
  expect(places('low')).toEqual([[0, 0.5], [1, 0.5], [2, 0.5]]); // prettier-ignore
  expect(places('high')).toEqual([[0, 0.5], [1, 1.5], [2, 3.5]]); // prettier-ignore
});
