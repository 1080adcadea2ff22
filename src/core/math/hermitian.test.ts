/** The sparse solver, against elimination by hand on whole matrices. */
import fc from 'fast-check';
import { dissectionOrder, factorHermitian, HermitianBuilder } from './hermitian';

type Complex = [number, number];

/** Gauss and Jordan, on all of it. */
function solvedWhole(a: Complex[][], b: Complex[]): Complex[] {
  const n = b.length;
  const m = a.map((row, i) => [...row.map((x): Complex => [...x]), [...b[i]] as Complex]);
  const times = ([a, b]: Complex, [c, d]: Complex): Complex => [a * c - b * d, a * d + b * c];
  for (let k = 0; k < n; k++) {
    const [r, i] = m[k][k];
    const inverse: Complex = [r / (r * r + i * i), -i / (r * r + i * i)];
    for (let j = k; j <= n; j++) m[k][j] = times(m[k][j], inverse);
    for (let q = 0; q < n; q++) {
      if (q === k) continue;
      const by = m[q][k];
      for (let j = k; j <= n; j++) {
        const [x, y] = times(by, m[k][j]);
        m[q][j] = [m[q][j][0] - x, m[q][j][1] - y];
      }
    }
  }
  return m.map((row) => row[n]);
}

/** Some entries, heavy on the diagonal, so that it is positive definite. */
const systems = (real: boolean) =>
  fc.integer({ min: 1, max: 14 }).chain((n) =>
    fc.record({
      n: fc.constant(n),
      entries: fc.array(
        fc.record({
          i: fc.integer({ min: 0, max: n - 1 }),
          j: fc.integer({ min: 0, max: n - 1 }),
          re: fc.double({ min: -1, max: 1, noNaN: true }),
          im: real ? fc.constant(0) : fc.double({ min: -1, max: 1, noNaN: true }),
        }),
        { maxLength: 3 * n },
      ),
      right: fc.array(fc.double({ min: -5, max: 5, noNaN: true }), { minLength: 2 * n, maxLength: 2 * n }),
      order: fc.shuffledSubarray(
        Array.from({ length: n }, (_, i) => i),
        { minLength: n, maxLength: n },
      ),
    }),
  );

test.each([
  ['complex', false],
  ['real, with two right sides at once', true],
])('%s: as when all of it is eliminated, in whatever order', (_, real) => {
  fc.assert(
    fc.property(systems(real), ({ n, entries, right, order }) => {
      const a: Complex[][] = Array.from({ length: n }, () => Array.from({ length: n }, (): Complex => [0, 0]));
      const m = new HermitianBuilder(n, 1);
      for (const { i, j, re, im } of entries) {
        if (i === j) continue;
        m.add(i, j, re, im);
        a[i][j] = [a[i][j][0] + re, a[i][j][1] + im];
        a[j][i] = [a[j][i][0] + re, a[j][i][1] - im];
      }
      for (let i = 0; i < n; i++) {
        m.diagonal[i] = 1 + a[i].reduce((sum, [x, y]) => sum + Math.abs(x) + Math.abs(y), 0);
        a[i][i] = [m.diagonal[i], 0];
      }
      const [re, im] = [Float64Array.from(right.slice(0, n)), Float64Array.from(right.slice(n))];
      const whole = solvedWhole(
        a,
        Array.from(re, (x, i): Complex => [x, im[i]]),
      );
      factorHermitian(m, Int32Array.from(order))!.solve(re, im);
      whole.forEach(([x, y], i) => {
        expect(re[i]).toBeCloseTo(x, 8);
        expect(im[i]).toBeCloseTo(y, 8);
      });
    }),
    { seed: 3, numRuns: 150 },
  );
});

test('what is not positive definite is not factored', () => {
  for (const im of [0, 2]) {
    const m = new HermitianBuilder(2);
    m.diagonal.fill(1);
    m.add(0, 1, 2, im);
    expect(factorHermitian(m, Int32Array.of(0, 1))).toBeUndefined();
  }
});

test('the order names each unknown once, wherever it lies, and keeps what is to be worked out small', () => {
  const places = fc.oneof(fc.double({ noNaN: false }), fc.constantFrom(0, 1, 2), fc.double({ min: 0, max: 1 }));
  fc.assert(
    fc.property(fc.array(places, { maxLength: 600 }), (p) => {
      const n = Math.floor(p.length / 3);
      const order = dissectionOrder(n, Float64Array.from(p), new Int32Array(n + 1), new Int32Array(0));
      expect([...order].sort((a, b) => a - b)).toEqual(Array.from({ length: n }, (_, i) => i));
    }),
    { seed: 8, numRuns: 200 },
  );

  // A grid of 40 × 40: entries of the factor, by marking what meets what as each goes.
  const side = 40;
  const points = new Float64Array(3 * side * side);
  const near = Array.from({ length: side * side }, (_, v) => {
    points.set([v % side, Math.floor(v / side), 0], 3 * v);
    const beside = [v % side > 0 ? v - 1 : -1, v % side < side - 1 ? v + 1 : -1, v - side, v + side];
    return beside.filter((w) => w >= 0 && w < side * side);
  });
  const start = Int32Array.from({ length: near.length + 1 }, (_, v) =>
    near.slice(0, v).reduce((sum, list) => sum + list.length, 0),
  );
  const entries = (order: ArrayLike<number>): number => {
    const left = near.map((list) => new Set(list));
    let sum = 0;
    for (const v of Array.from(order)) {
      const around = [...left[v]];
      sum += around.length;
      for (const w of around) {
        left[w].delete(v);
        for (const x of around) if (x !== w) left[w].add(x);
      }
    }
    return sum;
  };
  const dissected = dissectionOrder(near.length, points, start, Int32Array.from(near.flat()));
  // Row by row it is some side³; dissected some multiple of side² log side.
  expect(entries(dissected)).toBeLessThan(0.5 * entries(Array.from(near.keys())));
});
