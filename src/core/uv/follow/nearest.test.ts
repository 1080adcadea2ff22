import fc from 'fast-check';
import { spotOfRing } from '../../mesh/spots';
import { nearestOf, Surroundings, type Seated } from './nearest';

const place = fc.tuple(...[0, 1, 2].map(() => fc.double({ min: -1, max: 1, noNaN: true })));

/** Triangles all over a ball or a plane, most of them small, some of them large, some in one place. */
const faces = fc
  .array(fc.tuple(place, place, place, fc.constantFrom(0.02, 0.02, 0.05, 0.5)), { minLength: 50, maxLength: 300 })
  .map((list) =>
    list.map(([at, a, b, size]): Seated => {
      const corner = (by: readonly number[]) => [...at.map((x, k) => x + size * by[k]), 0];
      const ring = Float64Array.from([...corner([0, 0, 0]), ...corner(a), ...corner(b)]);
      const spot = spotOfRing(ring, 0);
      return { ring, spot, size: Math.hypot(...spot.slice(4, 8)) + Math.hypot(...spot.slice(8, 12)) };
    }),
  );

test('by cells the very face is found that is found by looking at all of them, wherever it is looked for', () => {
  fc.assert(
    fc.property(faces, fc.array(fc.tuple(place, place, fc.constantFrom(1, 1, 30)), { minLength: 5 }), (list, asked) => {
      const around = new Surroundings(list);
      for (const [at, towards, far] of asked) {
        const from = [...at.map((x) => far * x), 0];
        const near = from.map((x, k) => (k < 3 ? x + 0.01 * towards[k] : 0));
        const [found, wanted] = [around.nearest(from, near), nearestOf(list, from, near)];
        expect(found && list.indexOf(found.face)).toBe(wanted && list.indexOf(wanted.face));
        expect(found?.distance).toBe(wanted?.distance);
      }
    }),
    { numRuns: 60 },
  );
});
