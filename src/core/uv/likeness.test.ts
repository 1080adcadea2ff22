import fc from 'fast-check';
import { likeness, similarity } from './likeness';

const far = fc.double({ min: -40, max: 40, noNaN: true });
const points = fc.array(far, { minLength: 6, maxLength: 24 }).map((p) => (p.length % 2 ? p.slice(1) : p));
const turn = fc.double({ min: -Math.PI, max: Math.PI, noNaN: true });
const size = fc.double({ min: 0.01, max: 30, noNaN: true });

function moved(p: readonly number[], angle: number, by: number, x: number, y: number, mirrored: boolean): number[] {
  const [c, s] = [by * Math.cos(angle), by * Math.sin(angle)];
  return p.flatMap((_, i) => {
    if (i % 2) return [];
    const v = mirrored ? -p[i + 1] : p[i + 1];
    return [x + c * p[i] - s * v, y + s * p[i] + c * v];
  });
}

test('however points were turned, sized, moved or mirrored, they come to lie on themselves, known or not', () => {
  fc.assert(
    fc.property(points, turn, size, far, far, fc.boolean(), fc.nat(), (p, angle, by, x, y, mirrored, left) => {
      // Points on a line are as well mirrored as not: three that are not are among them.
      const from = [...p, 0, 0, 90, 0, 0, 70];
      const to = moved(from, angle, by, x, y, mirrored);
      const partly = to.slice();
      const k = 2 * (left % (p.length / 2));
      partly[k] = NaN;
      const found = likeness(from, partly)!;
      expect(found.scale / by).toBeCloseTo(1, 6);
      for (let i = 0; i < from.length; i += 2) {
        const [u, v] = found.map(from[i], from[i + 1]);
        expect(Math.hypot(u - to[i], v - to[i + 1])).toBeLessThan(1e-6 * (1 + by * 100));
      }
      if (mirrored) return;
      const map = similarity(from, to);
      for (let i = 0; i < from.length; i += 2)
        expect(Math.hypot(map(from[i], from[i + 1])[0] - to[i])).toBeLessThan(1e-6 * (1 + by * 100));
    }),
    { numRuns: 200 },
  );
});

test('no other map of the kind lays points nearer', () => {
  fc.assert(
    fc.property(points, points, turn, size, far, far, (p, q, angle, by, x, y) => {
      // Two are far apart: a size is there to be found.
      const from = [...p.slice(0, q.length), 50, 0, 0, 60];
      const n = from.length;
      const to = [...q.slice(0, n - 4), 1, 2, 30, 40];
      const off = (map: (u: number, v: number) => readonly number[]): number => {
        let sum = 0;
        for (let i = 0; i < n; i += 2) {
          const [u, v] = map(from[i], from[i + 1]);
          sum += (u - to[i]) ** 2 + (v - to[i + 1]) ** 2;
        }
        return sum;
      };
      const best = off(similarity(from, to));
      const other = moved(from, angle, by, x, y, false);
      let there = 0;
      for (let i = 0; i < n; i++) there += (other[i] - to[i]) ** 2;
      expect(best).toBeLessThanOrEqual(there * (1 + 1e-9) + 1e-6);
      const mirrored = likeness(from, to);
      if (mirrored) expect(off(mirrored.map)).toBeLessThanOrEqual(best * (1 + 1e-6) + 1e-6);
    }),
    { numRuns: 200 },
  );
});

test('points in one place are moved, and say nothing of how large they are', () => {
  expect(similarity([1, 2, 1, 2], [5, 5, 7, 7])(1, 2)).toEqual([6, 6]);
  expect(likeness([1, 2, 1, 2], [5, 5, 7, 7])).toBeUndefined();
  expect(likeness([1, 2, 3, 4], [NaN, NaN, NaN, NaN])).toBeUndefined();
});
