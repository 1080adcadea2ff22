/** What was laid on coarse cells, seated on fine ones. */
import fc from 'fast-check';
import { dice } from '../../../testing/mutants';
import { star } from '../../../testing/islands';
import { tightest } from './boxes';
import { Grid } from './grid';
import { thoseTooNear } from '../pack';
import { tried } from './search';

const PADDING = 4;
const SIZE = 512;
const options = { size: SIZE, padding: PADDING, turn: true };

test('seated on finer cells, stars are as large or larger, and as far apart as asked', () => {
  let larger = 0;
  let times = 0;
  fc.assert(
    fc.property(fc.integer({ min: 1, max: 1e6 }), fc.integer({ min: 2, max: 12 }), (seed, n) => {
      times++;
      const roll = dice(seed);
      const stars = Array.from({ length: n }, () => star(roll));
      const boxed = stars.map(tightest);
      const order = boxed.map((_, i) => i).sort((a, b) => boxed[b].area - boxed[a].area);
      const [rough, sharp] = [new Grid(boxed, 64, options, 8), new Grid(boxed, 512, options, 8)];
      const area = boxed.reduce((sum, b) => sum + b.area, 0);
      const given = rough.at(Math.sqrt(0.2 / area), { order }, rough.rows);
      if (!given) return;
      const { best } = tried(rough, { from: { order }, given, most: Infinity, many: 200 });
      if (!best) return;
      const seated = sharp.seated(rough, best, Infinity);
      if (!seated) return;
      expect(seated.masks.scale).toBeGreaterThan(best.masks.scale);
      expect(seated.filled.top).toBeLessThanOrEqual(sharp.most);
      larger++;
      const placed = stars.map(({ triangles }, i) => ({
        points: seated.masks.placed(i, seated.filled.spots[i]),
        triangles,
      }));
      placed.forEach((p, i) => {
        for (const x of p.points) {
          expect(x).toBeGreaterThan(0);
          expect(x).toBeLessThan(1);
        }
        // Cells are drawn whole, so what is measured is up to two of them wider than what was asked for.
        expect(thoseTooNear([p], placed.slice(i + 1), SIZE, PADDING - 2)).toEqual([]);
      });
    }),
    { numRuns: 40, seed: 7 },
  );
  expect(larger).toBeGreaterThan(0.5 * times);
});
