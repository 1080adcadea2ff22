import type { ImageData8 } from '../mesh/mesh';
import { sideBySide } from './sidebyside';

/** Each pixel tells its sheet and its place. */
const picture = (sheet: number, side = 8): ImageData8 => ({
  width: side,
  height: side,
  data: Uint8Array.from({ length: 4 * side * side }, (_, i) => {
    const [x, y] = [(i >> 2) % side, Math.floor((i >> 2) / side)];
    return [16 * sheet, 8 * x, 8 * y, 255][i % 4];
  }),
});
const at = (p: ImageData8, x: number, y: number): number[] => [
  ...p.data.subarray(4 * (y * p.width + x)).subarray(0, 4),
];

test('one is itself; several lie beside each other, from left to right', () => {
  const one = picture(0);
  expect(sideBySide(1, 4, () => one)).toBe(one);
  const three = sideBySide(3, 24, picture);
  expect([three.width, three.height]).toEqual([24, 8]);
  for (const [sheet, x, y] of [
    [0, 0, 0],
    [0, 7, 7],
    [1, 0, 3],
    [2, 7, 5],
  ])
    expect(at(three, 8 * sheet + x, y)).toEqual([16 * sheet, 8 * x, 8 * y, 255]);
});

test('what would be too wide is the mean of its pixels', () => {
  const three = sideBySide(3, 23, picture);
  expect([three.width, three.height]).toEqual([12, 4]);
  expect(at(three, 4 + 1, 2)).toEqual([16, 8 * 2.5, 8 * 4.5, 255]);
  expect(at(three, 11, 0)).toEqual([32, 8 * 6.5, 8 * 0.5, 255]);
  const tiny = sideBySide(3, 1, picture);
  expect([tiny.width, tiny.height, at(tiny, 2, 0)[0]]).toEqual([3, 1, 32]);
});
