import fc from 'fast-check';
import { meshFrom, UV, type Mesh } from '../mesh/mesh';
import { withUv } from '../testing/unwrapping';
import { uvFigures } from './measure';

/** Squares apart from each other, by their sides; each laid `wide` times as wide and `high` times as high on the sheet. */
function squares(of: readonly { side: number; wide: number; high: number }[]): Mesh {
  const positions: number[] = [];
  const uv: number[] = [];
  of.forEach(({ side, wide, high }, i) => {
    for (const [x, y] of [
      [0, 0],
      [1, 0],
      [1, 1],
      [0, 1],
    ]) {
      positions.push(3 * i + x * side, 0, y * side);
      uv.push(3 * i + x * side * wide, y * side * high);
    }
  });
  const faces = of.map((_, i) => [0, 1, 2, 3].map((k) => 4 * i + k));
  return withUv(meshFrom(Float32Array.from(positions), faces), Float32Array.from(uv));
}
const mostly = (mesh: Mesh) => uvFigures(mesh, mesh.attributes[UV].data as Float32Array, 64);

test('a speck that is stretched says nothing of the rest, but is told as the worst', () => {
  const f = mostly(
    squares([
      { side: 1, wide: 0.5, high: 0.5 },
      { side: 0.01, wide: 3, high: 0.1 },
    ]),
  );
  expect(f.stretchMax).toBeCloseTo(30, 2);
  expect(f.mostly.stretch).toBeCloseTo(1, 5);
  expect([f.mostly.densityMin, f.mostly.densityMax]).toEqual([expect.closeTo(0.5, 5), expect.closeTo(0.5, 5)]);
});

test('a hundredth of the area is not a speck', () => {
  const f = mostly(
    squares([
      { side: 1, wide: 0.5, high: 0.5 },
      { side: 0.1, wide: 2, high: 0.5 },
    ]),
  );
  expect(f.mostly.stretch).toBeCloseTo(4, 4);
  expect(f.mostly.densityMax).toBeCloseTo(1, 5);
  const none = mostly(
    squares([
      { side: 1, wide: 0.5, high: 0.5 },
      { side: 0.1, wide: 0, high: 0.5 },
    ]),
  );
  expect(none.mostly.densityMin).toBe(0);
});

test('no more than half a percent of the area lies beyond what is told, and no less could be told', () => {
  const factor = fc.double({ min: 0.05, max: 1, noNaN: true });
  const square = fc.record({ side: fc.double({ min: 0.01, max: 1, noNaN: true }), wide: factor, high: factor });
  fc.assert(
    fc.property(fc.array(square, { minLength: 1, maxLength: 60 }), (list) => {
      const f = mostly(squares(list));
      const all = list.reduce((sum, { side }) => sum + side * side, 0);
      const beyond = (test: (s: { wide: number; high: number }) => boolean): number =>
        list.reduce((sum, s) => sum + (test(s) ? s.side ** 2 : 0), 0) / all;
      const stretch = (s: { wide: number; high: number }): number =>
        Math.max(s.wide, s.high) / Math.min(s.wide, s.high);
      const density = (s: { wide: number; high: number }): number => Math.sqrt(s.wide * s.high);
      // Bins are a third of a percent wide.
      const [more, less] = [1.004, 0.996];
      expect(beyond((s) => stretch(s) > f.mostly.stretch * more)).toBeLessThanOrEqual(0.005 + 1e-5);
      expect(beyond((s) => stretch(s) >= f.mostly.stretch * less)).toBeGreaterThan(0.005 - 1e-5);
      expect(beyond((s) => density(s) > f.mostly.densityMax * more)).toBeLessThanOrEqual(0.0025 + 1e-5);
      expect(beyond((s) => density(s) < f.mostly.densityMin * less)).toBeLessThanOrEqual(0.0025 + 1e-5);
      expect(f.mostly.stretch).toBeLessThanOrEqual(f.stretchMax * (1 + 1e-6));
      expect(f.mostly.densityMin).toBeLessThanOrEqual(f.mostly.densityMax);
    }),
    { numRuns: 150 },
  );
});
