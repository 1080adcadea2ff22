import fc from 'fast-check';
import { boxesOf, snapped, type Box, type SnapOptions } from './snapping';
import { meshFrom } from '../../../core/mesh/mesh';

const BOX: Box = { x0: 0.1, y0: 0.2, x1: 0.3, y1: 0.25 };
const options = (o: Partial<SnapOptions>): SnapOptions => ({
  snap: 'texels',
  texels: 512,
  padding: 8,
  others: [],
  near: 0.02,
  ...o,
});
const way = fc.double({ min: -1, max: 1, noNaN: true });

test('to texels and sixteenths: the lower left corner stands on one, no farther off than half of it', () => {
  fc.assert(
    fc.property(
      way,
      way,
      fc.constantFrom<[SnapOptions['snap'], number]>(['texels', 512], ['grid', 16]),
      (x, y, [snap, n]) => {
        const [du, dv] = snapped(BOX, x, y, options({ snap }));
        for (const [at, by, asked] of [
          [BOX.x0, du, x],
          [BOX.y0, dv, y],
        ]) {
          expect(Math.abs((at + by) * n - Math.round((at + by) * n))).toBeLessThan(1e-6);
          expect(Math.abs(by - asked)).toBeLessThanOrEqual(0.5 / n + 1e-9);
        }
      },
    ),
  );
});

test('to islands: in line with a side that is near, or beside it with the padding between; else as it goes', () => {
  const others = [{ x0: 0.5, y0: 0.6, x1: 0.7, y1: 0.9 }];
  const o = options({ snap: 'islands', others });
  // Its left side to that of the other.
  expect(snapped(BOX, 0.395, 0, o)[0]).toBeCloseTo(0.4, 12);
  // Beside it on the right, and on the left, a padding away.
  expect(snapped(BOX, 0.61, 0, o)[0]).toBeCloseTo(0.7 + 8 / 512 - 0.1, 12);
  expect(snapped(BOX, 0.19, 0, o)[0]).toBeCloseTo(0.5 - 8 / 512 - 0.3, 12);
  // Its upper side to that of the other, whatever goes on across.
  expect(snapped(BOX, 0.05, 0.66, o)).toEqual([0.05, expect.closeTo(0.65, 12)]);
  expect(snapped(BOX, 0.05, 0.05, o)).toEqual([0.05, 0.05]);
});

test('to nothing: as it goes', () => {
  expect(snapped(BOX, 0.123, -0.321, options({ snap: 'nothing' }))).toEqual([0.123, -0.321]);
});

test('boxes of islands are those of their corners', () => {
  const mesh = meshFrom(
    [0, 0, 0, 1, 0, 0, 0, 1, 0, 1, 1, 0],
    [
      [0, 1, 2],
      [1, 3, 2],
    ],
  );
  const uv = [0, 0, 0.2, 0, 0, 0.3, 0.5, 0.5, 0.9, 0.6, 0.4, 0.8];
  expect(boxesOf(mesh, uv, [0, 1], 2)).toEqual([
    { x0: 0, y0: 0, x1: 0.2, y1: 0.3 },
    { x0: 0.4, y0: 0.5, x1: 0.9, y1: 0.8 },
  ]);
});
