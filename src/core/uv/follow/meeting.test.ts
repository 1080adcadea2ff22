import fc from 'fast-check';
import { meetingLoosely } from './meeting';

/** Triangles, one a face, by their places. */
function pairsOf(triangles: readonly (readonly number[])[], loose: readonly number[]): string[] {
  const found: string[] = [];
  const t = {
    corners: Uint32Array.from({ length: 3 * triangles.length }, (_, c) => c),
    face: Uint32Array.from(triangles.keys()),
  };
  meetingLoosely(t, triangles.flat(), loose, (a, b) => found.push(`${Math.min(a, b)} ${Math.max(a, b)}`));
  return found.sort();
}
const A = [0, 0, 1, 0, 0, 1];
const OVER_A = [0.2, 0.2, 1, 1, 0.3, 0.9];

test('what is far narrower than a pixel counts, a side in common does not, whichever way round they lie', () => {
  const beside = (by: number): number[] => [1, 0, 1, 1, 0, 1].map((x) => x - by);
  const turned = (t: number[]): number[] => [...t.slice(4), ...t.slice(2, 4), ...t.slice(0, 2)];
  expect([beside(1e-7), turned(beside(1e-7))].map((t) => pairsOf([A, t], [0, 1]))).toEqual([['0 1'], ['0 1']]);
  expect(
    [0, 1e-12].flatMap((by) => [...pairsOf([A, beside(by)], [1, 1]), ...pairsOf([A, turned(beside(by))], [1, 1])]),
  ).toEqual([]);
});

test('only what one of is loose counts, once; what lies nowhere, and what has no area, lies on nothing', () => {
  expect(pairsOf([A, OVER_A], [0, 0])).toEqual([]);
  expect(pairsOf([A, OVER_A], [0, 1])).toEqual(['0 1']);
  expect(pairsOf([A, OVER_A], [1, 1])).toEqual(['0 1']);
  expect(pairsOf([A, [NaN, NaN, NaN, NaN, NaN, NaN], [0, 0, 0.5, 0.1, 1, 0.2]], [1, 1, 1])).toEqual([]);
  expect(pairsOf([], [])).toEqual([]);
});

test('the same pairs as by every pair, for any triangles', () => {
  const place = fc.integer({ min: 0, max: 12 }).map((x) => x / 4);
  const triangle = fc.array(place, { minLength: 6, maxLength: 6 });
  fc.assert(
    fc.property(fc.array(triangle, { minLength: 2, maxLength: 14 }), fc.integer(), (list, bits) => {
      const loose = list.map((_, i) => (bits >> i) & 1);
      const one: string[] = [];
      for (let i = 0; i < list.length; i++)
        for (let j = 0; j < i; j++)
          if ((loose[i] || loose[j]) && pairsOf([list[j], list[i]], [1, 1]).length > 0) one.push(`${j} ${i}`);
      expect(pairsOf(list, loose)).toEqual(one.sort());
    }),
  );
});

test('of two triangles, as many as points within both tell', () => {
  const place = fc.double({ min: 0, max: 1, noNaN: true });
  const triangle = fc.array(place, { minLength: 6, maxLength: 6 });
  const within = (t: readonly number[], x: number, y: number): boolean => {
    const side = (i: number): number => {
      const [a, b] = [2 * i, (2 * i + 2) % 6];
      return (t[b] - t[a]) * (y - t[a + 1]) - (t[b + 1] - t[a + 1]) * (x - t[a]);
    };
    const s = [0, 1, 2].map(side);
    return s.every((d) => d > 1e-3) || s.every((d) => d < -1e-3);
  };
  fc.assert(
    fc.property(triangle, triangle, (a, b) => {
      let both = false;
      for (let i = 0; i < 40 && !both; i++)
        for (let j = 0; j < 40 && !both; j++) both = within(a, i / 40, j / 40) && within(b, i / 40, j / 40);
      if (both) expect(pairsOf([a, b], [1, 0])).toEqual(['0 1']);
    }),
  );
});
