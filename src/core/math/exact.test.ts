import fc from 'fast-check';
import * as exact from './exact';

const any = (min: number, max: number) => fc.double({ min, max, noNaN: true });
/** Off by so many units in the last place of what it should be. */
const off = (got: number, want: number) => Math.abs(got - want) / Math.max(Number.EPSILON * Math.abs(want), 1e-16);

test.each([
  ['sin', any(-1e6, 1e6)],
  ['cos', any(-1e6, 1e6)],
  ['atan', any(-1e9, 1e9)],
  ['exp', any(-700, 700)],
  ['log', any(1e-300, 1e300)],
  ['asin', any(-1, 1)],
  ['acos', any(-1, 1)],
] as const)('%s is that of the engine, to a few units in the last place', (name, of) => {
  fc.assert(
    fc.property(of, (x) => {
      expect([x, off(exact[name](x), Math[name](x)) < 8]).toEqual([x, true]);
    }),
    { numRuns: 800 },
  );
});

test('powers, two arguments, and the ends of the range', () => {
  fc.assert(
    fc.property(any(1e-3, 1e3), any(-20, 20), (a, b) => {
      expect(exact.pow(a, b) / a ** b).toBeCloseTo(1, 11);
    }),
  );
  fc.assert(
    fc.property(any(-5, 5), any(-5, 5), (y, x) => {
      expect(exact.atan2(y, x)).toBeCloseTo(Math.atan2(y === 0 ? 0 : y, x === 0 ? 0 : x), 13);
    }),
  );
  for (const name of ['sin', 'cos', 'tan', 'atan', 'exp', 'log', 'asin', 'acos'] as const)
    expect(exact[name](NaN)).toBeNaN();
  expect([
    exact.log(0),
    exact.log(-1),
    exact.exp(1000),
    exact.exp(-1000),
    exact.pow(2, 10),
    exact.pow(2, -1),
    exact.pow(-3, 3),
  ]).toEqual([-Infinity, NaN, Infinity, 0, 1024, 0.5, -27]);
  expect([exact.sin(0), exact.cos(0), exact.exp(0), exact.log(1), exact.atan(0)]).toEqual([0, 1, 1, 0, 0]);
  expect(exact.sin(Infinity)).toBeNaN();
});

test('whole and half turns come out even, and far away a sine is a sine still', () => {
  expect([exact.sin(0), exact.cos(0), exact.sin(Math.PI / 2), exact.cos(Math.PI), exact.cos(2 * Math.PI)]).toEqual([
    0, 1, 1, -1, 1,
  ]);
  for (const x of [1e9, -3e12, 1e100, -1e300])
    for (const f of [exact.sin, exact.cos]) expect(Math.abs(f(x))).toBeLessThanOrEqual(1);
  expect([exact.sin(Infinity), exact.cos(NaN)]).toEqual([NaN, NaN]);
});
