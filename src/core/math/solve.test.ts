import fc from 'fast-check';
import { solve } from './solve';

const on = (f: (x: number) => number) => {
  let asked = 0;
  return { f: async (x: number) => (asked++, f(x)), asked: () => asked };
};

test('straight lines and curves through the wanted value are found within a few askings', async () => {
  for (const [f, lo, hi, wanted, root] of [
    [(x: number) => 3 * x + 1, 0, 10, 7, 2],
    [(x: number) => x ** 3, -4, 4, 2, Math.cbrt(2)],
    [(x: number) => Math.exp(x), 0, 3, 5, Math.log(5)],
    [(x: number) => 4 * Math.PI * x ** 2, 0, 1, 0.5, Math.sqrt(0.5 / (4 * Math.PI))],
  ] as const) {
    const asked = on(f);
    const r = await solve(asked.f, { lo, hi, wanted, tolerance: 1e-10 });
    expect([r.found, r.x]).toEqual([true, expect.closeTo(root, 8)]);
    expect(asked.asked()).toBeLessThan(24);
  }
});

test('any rising function, steps among them: what is answered is as near as it says', async () => {
  await fc.assert(
    fc.asyncProperty(
      fc.double({ min: 0.1, max: 5, noNaN: true }),
      fc.double({ min: -2, max: 2, noNaN: true }),
      fc.double({ min: -3, max: 3, noNaN: true }),
      async (slope, bow, wanted) => {
        const f = (x: number) => slope * x + bow * Math.abs(bow) * x ** 3 * Math.sign(bow);
        const r = await solve(async (x) => f(x), { lo: -2, hi: 2, wanted, tolerance: 1e-7 });
        expect(r.value).toBeCloseTo(f(r.x), 9);
        if (r.found) expect(Math.abs(f(r.x) - wanted)).toBeLessThanOrEqual(1e-7);
        else expect(wanted > f(2) || wanted < f(-2)).toBe(true);
      },
    ),
    { numRuns: 200 },
  );
});

test('whole numbers: the one, or the nearest', async () => {
  const f = async (n: number) => 306 * n + 308;
  expect(await solve(f, { lo: 1, hi: 60, wanted: 306 * 37 + 308, tolerance: 0.5, whole: true })).toMatchObject({
    x: 37,
    found: true,
  });
  const r = await solve(f, { lo: 1, hi: 60, wanted: 306 * 37.4 + 308, tolerance: 0.5, whole: true });
  expect([r.x, r.found]).toEqual([37, false]);
});

test('out of reach: the nearest that can be had, and what was seen on the way', async () => {
  const r = await solve(async (x) => 1 - (x - 0.3) ** 2, { lo: 0, hi: 1, wanted: 2, tolerance: 1e-6 });
  expect([r.found, r.x, r.value]).toEqual([false, expect.closeTo(0.3, 3), expect.closeTo(1, 6)]);
  expect(r.asked.map((a) => a[0])).toEqual([...r.asked.map((a) => a[0])].sort((a, b) => a - b));
});

test('of two answers the one nearer to where it stands; what is not a number is passed over', async () => {
  const f = async (x: number) => (x < 0.05 ? NaN : Math.abs(x - 0.5));
  const near = { lo: 0, hi: 1, wanted: 0.25, tolerance: 1e-8 };
  expect((await solve(f, { ...near, near: 0.9 })).x).toBeCloseTo(0.75, 6);
  expect((await solve(f, { ...near, near: 0.1 })).x).toBeCloseTo(0.25, 6);
});
