import fc from 'fast-check';
import { applyPoint, IDENTITY } from '../math/affine';
import { apart, cross, dot, size, type Vector } from '../math/vector';
import { curveLength, curvesFrom, ellipse } from './curves';
import { fromTo, railOf, railThrough } from './rail';
import { curveThrough } from './through';

const point = fc.tuple(...[0, 1, 2].map(() => fc.double({ min: -5, max: 5, noNaN: true }))) as fc.Arbitrary<Vector>;
const points = fc
  .array(point, { minLength: 3, maxLength: 9 })
  .filter((l) => l.every((p, i) => i === 0 || apart(p, l[i - 1]) > 0.1));

test('a circle: its length, its places, and axes that stay in its plane', () => {
  const rail = railOf(ellipse(2, 2, 'xz', 1))!;
  expect(rail.closed).toBe(true);
  expect(rail.length / (4 * Math.PI)).toBeCloseTo(1, 3);
  for (let i = 0; i <= 20; i++) {
    const { place, x, y, z } = rail.at((rail.length * i) / 20);
    expect(Math.hypot(place[0], place[2]) / 2).toBeCloseTo(1, 3);
    expect(Math.abs(dot(z, [0, 1, 0]))).toBeLessThan(1e-9);
    // One of the axes square to the way stands on the plane all the way round: nothing winds.
    expect(Math.max(Math.abs(x[1]), Math.abs(y[1]))).toBeGreaterThan(0.69);
  }
});

test('axes are square to one another, of length 1, and meet at the end of a closed curve', () => {
  fc.assert(
    fc.property(points, fc.boolean(), fc.boolean(), (list, smooth, closed) => {
      const rail = railOf(curveThrough(list, { smooth, closed }, 1));
      if (!rail) return;
      for (let i = 0; i <= 12; i++) {
        const { x, y, z } = rail.at((rail.length * i) / 12);
        for (const v of [x, y, z]) expect(size(v)).toBeCloseTo(1, 6);
        for (const d of [dot(x, y), dot(y, z), dot(z, x)]) expect(d).toBeCloseTo(0, 6);
        expect(dot(cross(x, y), z)).toBeCloseTo(1, 5);
      }
      if (rail.closed && smooth) expect(dot(rail.at(0).x, rail.at(rail.length).x)).toBeGreaterThan(0.99);
    }),
    { numRuns: 60 },
  );
});

test('the curve passes its points; a straight one is as long as their distances', () => {
  fc.assert(
    fc.property(points, fc.boolean(), (list, smooth) => {
      const c = curveThrough(list, { smooth, closed: false }, 1);
      const rail = railOf(c)!;
      for (const p of list) expect(apart(rail.at(rail.nearest(p)).place, p)).toBeLessThan(0.02);
      const chords = list.reduce((sum, p, i) => (i === 0 ? 0 : sum + apart(p, list[i - 1])), 0);
      if (smooth) expect(curveLength(c)).toBeGreaterThan(chords * 0.999);
      else expect(rail.length).toBeCloseTo(chords, 3);
    }),
    { numRuns: 60 },
  );
});

test('beyond an open end it goes straight on; round a closed one it begins anew', () => {
  const open = railThrough(
    [
      [0, 0, 0],
      [1, 0, 0],
      [1, 1, 0],
    ],
    false,
  );
  expect(open.at(3).place).toEqual([1, 2, 0]);
  expect(open.at(-1).place).toEqual([-1, 0, 0]);
  const round = railOf(ellipse(1, 1, 'xy', 1))!;
  expect(apart(round.at(round.length * 1.25).place, round.at(round.length * 0.25).place)).toBeLessThan(1e-6);
});

test('nothing, one point, the same point again: no way to go', () => {
  expect(railOf(undefined)).toBeUndefined();
  expect(railOf(curvesFrom([], 1))).toBeUndefined();
  expect(railOf(curveThrough([[1, 2, 3]], { smooth: true, closed: true }, 1))).toBeUndefined();
  expect(
    railOf(
      curveThrough(
        [
          [1, 2, 3],
          [1, 2, 3],
        ],
        { smooth: true, closed: false },
        1,
      ),
    ),
  ).toBeUndefined();
});

test('carried from a stop to itself nothing moves; turned by all of a turn neither', () => {
  const rail = railOf(ellipse(2, 1, 'yz', 1))!;
  const a = rail.at(1);
  for (const m of [fromTo(a, a), fromTo(a, a, 2 * Math.PI)]) m.forEach((x, i) => expect(x).toBeCloseTo(IDENTITY[i], 9));
  const b = rail.at(3);
  expect(apart(applyPoint(fromTo(a, b), a.place) as Vector, b.place)).toBeLessThan(1e-9);
});
