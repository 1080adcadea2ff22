import fc from 'fast-check';
import { ENOUGH } from '../testing/thorough';
import { uprightInSingle } from './upright';

/** Triangles standing on one line, each far thinner than single precision tells, turned by some angle. */
function slivers(thin: number, angle: number, count: number) {
  const points = new Float64Array(3 * (2 * count + 1));
  const put = (i: number, x: number, y: number): void => {
    points[3 * i] = 0.5 + x * Math.cos(angle) - y * Math.sin(angle);
    points[3 * i + 1] = 0.5 + x * Math.sin(angle) + y * Math.cos(angle);
  };
  for (let i = 0; i <= count; i++) put(i, (0.4 * i) / count, 0);
  for (let i = 0; i < count; i++) put(count + 1 + i, (0.4 * (i + 0.3)) / count, thin * (1 + (i % 3)));
  const triangles = Uint32Array.from(Array.from({ length: count }, (_, i) => [i, i + 1, count + 1 + i]).flat());
  const uv = new Float64Array((2 * points.length) / 3);
  for (let i = 0; i < points.length / 3; i++) uv.set([points[3 * i], points[3 * i + 1]], 2 * i);
  return { points, triangles, uv };
}

function flips(triangles: Uint32Array, uv: Float64Array): number {
  let n = 0;
  for (let t = 0; t < triangles.length; t += 3) {
    const [a, b, c] = [2 * triangles[t], 2 * triangles[t + 1], 2 * triangles[t + 2]];
    if (!((uv[b] - uv[a]) * (uv[c + 1] - uv[a + 1]) - (uv[b + 1] - uv[a + 1]) * (uv[c] - uv[a]) > 0)) n++;
  }
  return n;
}

test('slivers stand upright when their places are rounded, and nothing moves farther than rounding would', () => {
  let rounded = 0;
  fc.assert(
    fc.property(
      fc.double({ min: -10, max: -7, noNaN: true }),
      fc.double({ min: 0, max: 6.28, noNaN: true }),
      fc.integer({ min: 1, max: 40 }),
      (power, angle, count) => {
        const { points, triangles, uv } = slivers(10 ** power, angle, count);
        expect(flips(triangles, uv)).toBe(0);
        const before = uv.slice();
        rounded += flips(triangles, uv.map(Math.fround));
        expect(uprightInSingle(points, triangles, uv)).toBe(0);
        expect(flips(triangles, uv)).toBe(0);
        expect(uv).toEqual(uv.map(Math.fround));
        for (let i = 0; i < uv.length; i++) expect(Math.abs(uv[i] - before[i])).toBeLessThan(5e-6);
      },
    ),
    { seed: 20, numRuns: 60, interruptAfterTimeLimit: ENOUGH },
  );
  // Rounding alone does turn them over: else this would test nothing.
  expect(rounded).toBeGreaterThan(100);
});

test('what is folded for good, and what has no area, is left as it is', () => {
  const points = Float64Array.of(0, 0, 0, 1, 0, 0, 0, 1, 0, 1, 1, 0);
  const folded = Float64Array.of(0, 0, 1, 0, 0, 1, 0.25, 0.25);
  expect(uprightInSingle(points, Uint32Array.of(0, 1, 2, 1, 3, 2), folded)).toBe(1);
  expect([...folded]).toEqual([0, 0, 1, 0, 0, 1, 0.25, 0.25]);
  expect(uprightInSingle(new Float64Array(9), Uint32Array.of(0, 1, 2), new Float64Array(6))).toBe(0);
});

test('a place where several vertices are a few last places apart: nothing lies on its face', () => {
  // A ring about a tiny ring about a middle, as exact numbers have it.
  const n = 6;
  for (let k = 0; k < 40; k++) {
    const tiny = (0.4 + 0.1 * k) * 2 ** -24;
    const uv = new Float64Array(2 * (2 * n + 1));
    const put = (i: number, far: number, turn: number): void => {
      uv[2 * i] = 0.61 + far * Math.cos(turn);
      uv[2 * i + 1] = 0.53 + far * Math.sin(turn);
    };
    put(2 * n, 0, 0);
    const triangles: number[] = [];
    for (let i = 0; i < n; i++) {
      put(i, 0.01, (2 * Math.PI * i) / n + 0.1 * k);
      put(n + i, tiny, (2 * Math.PI * i) / n + 0.07 * k);
      const j = (i + 1) % n;
      triangles.push(i, j, n + i, n + i, j, n + j, n + i, n + j, 2 * n);
    }
    const points = new Float64Array(3 * (2 * n + 1));
    for (let i = 0; i <= 2 * n; i++) points.set([10 * uv[2 * i], 10 * uv[2 * i + 1], 0], 3 * i);
    const flips = uprightInSingle(points, Uint32Array.from(triangles), uv);
    expect([k, flips]).toEqual([k, 0]);
  }
});
