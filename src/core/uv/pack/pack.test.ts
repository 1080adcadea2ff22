import fc from 'fast-check';
import { rectangle } from '../../testing/islands';
import { pack, thoseTooNear, type PackIsland } from './pack';

const triangle = (w: number, h: number): PackIsland => ({
  points: Float64Array.from([0, 0, w, 0, 0, h]),
  triangles: Uint32Array.from([0, 1, 2]),
});
const at = (island: PackIsland, points: Float64Array): PackIsland => ({ points, triangles: island.triangles });
const options = { size: 512, padding: 4, turn: true, scale: 0 };
const side = fc.double({ min: 0.05, max: 1, noNaN: true });

test('no two islands come nearer than the padding, all lie inside, and no shape is changed', () => {
  fc.assert(
    fc.property(fc.array(fc.tuple(side, side, fc.boolean()), { minLength: 1, maxLength: 14 }), (shapes) => {
      const islands = shapes.map(([w, h, t]) => (t ? triangle(w, h) : rectangle(w, h)));
      const { placed, scale, fits } = pack(islands, options);
      expect(fits).toBe(true);
      expect(scale).toBeGreaterThan(0);
      placed.forEach((p, i) => {
        for (const x of p) {
          expect(x).toBeGreaterThanOrEqual(0);
          expect(x).toBeLessThanOrEqual(1);
        }
        // Edge lengths are the island's own, times the scale.
        const a = islands[i].points;
        for (let k = 0; k + 3 < a.length; k += 2) {
          const was = Math.hypot(a[k + 2] - a[k], a[k + 3] - a[k + 1]);
          const is = Math.hypot(p[k + 2] - p[k], p[k + 3] - p[k + 1]);
          expect(is).toBeCloseTo(was * scale, 9);
        }
        // On a finer raster than the packing's own: nothing touches.
        const others = placed.filter((_, j) => j > i).map((q, j) => at(islands[i + 1 + j], q));
        expect(thoseTooNear([at(islands[i], p)], others, 512, 0)).toEqual([]);
      });
    }),
    { numRuns: 12 },
  );
});

test('equal squares fill most of the sheet', () => {
  for (const n of [4, 9, 16]) {
    const { scale } = pack(
      Array.from({ length: n }, () => rectangle(1, 1)),
      { ...options, padding: 0 },
    );
    expect(n * scale * scale).toBeGreaterThan(0.85);
  }
});

test('a wanted scale is kept, or said not to fit and the largest given', () => {
  const islands = [rectangle(1, 1), rectangle(1, 1)];
  expect(pack(islands, { ...options, scale: 0.3 })).toMatchObject({ fits: true, scale: 0.3 });
  const large = pack(islands, { ...options, scale: 0.9 });
  expect(large.fits).toBe(false);
  expect(large.scale).toBeGreaterThan(0.4);
  expect(large.scale).toBeLessThan(0.51);
});

test('without turning, islands keep their way up', () => {
  const { placed } = pack([rectangle(1, 0.2)], { ...options, turn: false });
  const p = placed[0];
  expect(Math.abs(p[2] - p[0])).toBeGreaterThan(Math.abs(p[3] - p[1]));
});

test('around places that are taken', () => {
  const taken: PackIsland[] = [
    { points: Float64Array.from([0, 0, 0.5, 0, 0.5, 1, 0, 1]), triangles: Uint32Array.from([0, 1, 2, 0, 2, 3]) },
  ];
  const { placed } = pack([rectangle(1, 1), triangle(1, 1)], { ...options, taken });
  for (const p of placed) for (let i = 0; i < p.length; i += 2) expect(p[i]).toBeGreaterThanOrEqual(0.5);
});

test('nothing, points, and islands without area are no harm', () => {
  expect(pack([], options).placed).toEqual([]);
  const point: PackIsland = { points: new Float64Array(6), triangles: Uint32Array.from([0, 1, 2]) };
  expect(pack([point], options).placed[0].every(Number.isFinite)).toBe(true);
  expect(pack([point, rectangle(1, 1)], options).placed.every((p) => p.every(Number.isFinite))).toBe(true);
});
