/** Cells of the sheet, and how they are turned. */
import fc from 'fast-check';
import { Bits, count, meets, stamp, turnedBits } from './bits';

const has = (b: Bits, x: number, y: number): boolean => ((b.data[y * b.words + (x >> 5)] >>> (x & 31)) & 1) === 1;

test('cells turned by quarters are where a turn takes them, and nothing is beside them', () => {
  fc.assert(
    fc.property(
      fc.integer({ min: 1, max: 100 }),
      fc.integer({ min: 1, max: 100 }),
      fc.array(fc.tuple(fc.nat(), fc.nat()), { maxLength: 300 }),
      (w, h, cells) => {
        const bits = new Bits(w, h);
        for (const [x, y] of cells) bits.fill(y % h, x % w, x % w);
        for (const quarters of [0, 1, 2, 3]) {
          const turned = turnedBits(bits, quarters);
          expect([turned.width, turned.height]).toEqual(quarters & 1 ? [h, w] : [w, h]);
          expect(count(turned)).toBe(count(bits));
          for (const [a, b] of cells) {
            const [x, y] = [a % w, b % h];
            const at = [
              [x, y],
              [h - 1 - y, x],
              [w - 1 - x, h - 1 - y],
              [y, w - 1 - x],
            ][quarters];
            expect(has(turned, at[0], at[1])).toBe(true);
          }
        }
      },
    ),
    { numRuns: 60 },
  );
});

test('a mask meets what is taken where the two have a cell in common, on the sheet or reaching beyond it', () => {
  const size = fc.integer({ min: 1, max: 80 });
  const some = fc.array(fc.tuple(fc.nat(), fc.nat()), { maxLength: 8 });
  const at = fc.integer({ min: -70, max: 70 });
  fc.assert(
    fc.property(size, size, some, size, size, some, at, at, (w, h, there, width, height, own, x, y) => {
      const sheet = new Bits(w, h);
      for (const [a, b] of there) sheet.fill(b % h, a % w, a % w);
      const mask = new Bits(width, height);
      for (const [a, b] of own) mask.fill(b % height, a % width, a % width);
      const found = own.some(([a, b]) => {
        const [c, r] = [x + (a % width), y + (b % height)];
        return c >= 0 && r >= 0 && c < w && r < h && has(sheet, c, r);
      });
      expect(meets(sheet, mask, x, y)).toBe(found);
      // Once it is stamped it meets itself, if any of it is on the sheet.
      const before = count(sheet);
      stamp(sheet, mask, x, y);
      if (count(sheet) > before) expect(meets(sheet, mask, x, y)).toBe(true);
    }),
    { numRuns: 200 },
  );
});
