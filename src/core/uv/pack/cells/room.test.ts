/** Where there is room, against every place looked at one by one. */
import fc from 'fast-check';
import { Bits, stamp } from './bits';
import { findPlace, Runs } from './room';

const bits = (width: number, height: number, cells: readonly boolean[]): Bits => {
  const out = new Bits(width, height);
  for (let y = 0; y < height; y++)
    for (let x = 0; x < width; x++) if (cells[(y * width + x) % cells.length]) out.fill(y, x, x);
  return out;
};
const taken = (b: Bits, x: number, y: number): boolean => ((b.data[y * b.words + (x >> 5)] >>> (x & 31)) & 1) === 1;

function oneByOne(
  sheet: Bits,
  mask: Bits,
  first: number,
  last: number,
  left = 0,
  right = sheet.width,
): { x: number; y: number } | undefined {
  const meets = (x: number, y: number): boolean => {
    for (let r = 0; r < mask.height; r++)
      for (let c = 0; c < mask.width; c++) if (taken(mask, c, r) && taken(sheet, x + c, y + r)) return true;
    return false;
  };
  for (let y = first; y <= last; y++)
    for (let x = left; x <= Math.min(right, sheet.width - mask.width); x++) if (!meets(x, y)) return { x, y };
  return undefined;
}

const some = (max: number) => fc.array(fc.boolean(), { minLength: 1, maxLength: max });

test('the lowest, then leftmost, place is found, also once more has been laid', () => {
  fc.assert(
    fc.property(
      fc.integer({ min: 1, max: 90 }),
      fc.integer({ min: 1, max: 14 }),
      fc.integer({ min: 1, max: 70 }),
      fc.integer({ min: 1, max: 6 }),
      some(300),
      some(97),
      fc.integer({ min: 2, max: 9 }),
      fc.integer({ min: 0, max: 90 }),
      fc.integer({ min: 0, max: 40 }),
      (width, height, w, h, sheetCells, maskCells, sparse, left, wide) => {
        fc.pre(w <= width && h <= height);
        // A sheet that has some room: every so manieth cell alone may be taken.
        const sheet = bits(
          width,
          height,
          sheetCells.map((c, i) => c && i % sparse === 0),
        );
        const mask = bits(w, h, maskCells);
        const there = new Runs(sheet);
        const own = new Runs(mask);
        for (let k = 0; k < 4; k++) {
          const within = findPlace(there, own, 0, height - h, left, left + wide);
          expect(within).toEqual(oneByOne(sheet, mask, 0, height - h, left, left + wide));
          const found = findPlace(there, own, 0, height - h);
          expect(found).toEqual(oneByOne(sheet, mask, 0, height - h));
          if (!found) return;
          stamp(sheet, mask, found.x, found.y);
          there.forget(found.y, found.y + h);
        }
      },
    ),
    { numRuns: 300 },
  );
});

test('a mask wider than the sheet has no room; an empty one lies anywhere', () => {
  const sheet = new Runs(bits(8, 4, [true]));
  expect(findPlace(sheet, new Runs(bits(9, 1, [true])), 0, 3)).toBeUndefined();
  expect(findPlace(sheet, new Runs(bits(3, 1, [true])), 0, 3)).toBeUndefined();
  expect(findPlace(sheet, new Runs(bits(3, 1, [false])), 1, 3)).toEqual({ x: 0, y: 1 });
});
