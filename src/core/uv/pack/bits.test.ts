/** Cells of the sheet, and how they are turned. */
import fc from 'fast-check';
import { Bits, count, turnedBits } from './bits';

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
