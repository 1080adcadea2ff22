import fc from 'fast-check';
import { rampThrough, type RampPoints } from './ramp';

const P: RampPoints = [
  [0, 0],
  [0.5, 2],
  [1, 1],
];

test.each([false, true])('goes through its points and stays beyond its ends (smooth: %s)', (smooth) => {
  const f = rampThrough(P, smooth);
  expect([-1, 0, 0.5, 1, 9].map(f)).toEqual([0, 0, 2, 1, 1]);
});

test('straight between them', () => {
  const f = rampThrough(P, false);
  expect(f(0.25)).toBeCloseTo(1, 12);
  expect(f(0.75)).toBeCloseTo(1.5, 12);
});

test('none, one, two at one place, and not a number', () => {
  expect(rampThrough([], true)(3)).toBe(0);
  expect(rampThrough([[0.2, 7]], true)(3)).toBe(7);
  const jump = rampThrough(
    [
      [0, 0],
      [0.5, 0],
      [0.5, 1],
      [1, 1],
    ],
    true,
  );
  expect(jump(0.4999)).toBeCloseTo(0, 6);
  expect(jump(0.5)).toBe(1);
  expect(rampThrough(P, true)(NaN)).toBe(0);
});

test('a smooth ramp never leaves the two values it goes between', () => {
  const point = fc.tuple(fc.double({ min: 0, max: 1, noNaN: true }), fc.double({ min: -5, max: 5, noNaN: true }));
  fc.assert(
    fc.property(
      fc.array(point, { minLength: 2, maxLength: 9 }),
      fc.double({ min: 0, max: 1, noNaN: true }),
      (points, x) => {
        const p = [...points].sort((a, b) => a[0] - b[0]);
        const y = rampThrough(points, true)(x);
        const k = p.findIndex((q) => q[0] > x);
        const near = k <= 0 ? [p[k < 0 ? p.length - 1 : 0]] : [p[k - 1], p[k]];
        const ys = near.map((q) => q[1]);
        expect(y).toBeGreaterThanOrEqual(Math.min(...ys) - 1e-9);
        expect(y).toBeLessThanOrEqual(Math.max(...ys) + 1e-9);
      },
    ),
  );
});
