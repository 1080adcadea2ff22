/** Islands laid into each other: told by sides against sides, not by the cells they are laid by. */
import fc from 'fast-check';
import { distance, frame, hook, rectangle, star } from '../../testing/islands';
import { dice } from '../../testing/mutants';
import { pack, type PackIsland, type PackOptions } from './pack';

const options: PackOptions = { size: 512, padding: 4, turn: true, scale: 0 };
/** Enough for islands to be laid into each other, and no more. */
const LITTLE = 0.15;

function laid(islands: readonly PackIsland[], o: Partial<PackOptions> = {}): { placed: PackIsland[]; scale: number } {
  const { placed, scale } = pack(islands, { ...options, care: LITTLE, ...o });
  return { scale, placed: placed.map((points, i) => ({ points, triangles: islands[i].triangles })) };
}

function expectSound(placed: readonly PackIsland[], apart: number, tall = 1): void {
  placed.forEach((p, i) => {
    p.points.forEach((x, k) => {
      expect(x).toBeGreaterThanOrEqual(apart / 2 - 1e-9);
      expect(x).toBeLessThanOrEqual((k % 2 === 0 ? 1 : tall) - apart / 2 + 1e-9);
    });
    for (const q of placed.slice(i + 1)) expect(distance(p, q)).toBeGreaterThanOrEqual(apart - 1e-9);
  });
}

const anyIsland = (roll: (most: number) => number): PackIsland => {
  const of = [
    () => star(roll),
    () => frame(1 + roll(4), 0.5 + roll(4) / 10),
    () => hook(2 + roll(4), roll(2)),
    () => rectangle(0.05 + roll(20) / 10, 0.05 + roll(20) / 10),
  ];
  return of[roll(of.length)]();
};

test('stars, frames, hooks and boxes are as far apart as asked, inside the sheet, and each has its shape', () => {
  fc.assert(
    fc.property(
      fc.integer({ min: 1, max: 1e6 }),
      fc.integer({ min: 2, max: 12 }),
      fc.constantFrom(0, 1, 4, 24),
      fc.constantFrom(0.4, 1, 2.3),
      (seed, n, padding, tall) => {
        const roll = dice(seed);
        const islands = Array.from({ length: n }, () => anyIsland(roll));
        const { placed, scale } = laid(islands, { padding, tall });
        expectSound(placed, padding / options.size, tall);
        placed.forEach(({ points: p }, i) => {
          const a = islands[i].points;
          for (let k = 2; k < a.length; k += 2)
            expect(Math.hypot(p[k] - p[0], p[k + 1] - p[1])).toBeCloseTo(
              scale * Math.hypot(a[k] - a[0], a[k + 1] - a[1]),
              9,
            );
        });
      },
    ),
    { numRuns: 12 },
  );
}, 60_000);

test('twenty stars fill more than one after the other, as low as each goes', () => {
  const roll = dice(1);
  const islands = Array.from({ length: 20 }, () => star(roll));
  const { placed, scale } = laid(islands, { care: 0.4 });
  expectSound(placed, 4 / 512);
  expect((scale / pack(islands, options).scale) ** 2).toBeGreaterThan(1.03);
});

test('many bars, which lie well in rows, are never less full for it', () => {
  const roll = dice(2);
  const few = Array.from({ length: 50 }, () => rectangle(0.5 + roll(100) / 100, 0.3));
  const alike = Array.from({ length: 75 }, () => rectangle(1, 0.12));
  for (const { bars, care } of [
    { bars: few, care: 0.4 },
    { bars: alike, care: LITTLE },
  ]) {
    const { placed, scale } = laid(bars, { care });
    expectSound(placed, 4 / 512);
    expect(scale).toBeGreaterThanOrEqual(pack(bars, options).scale);
  }
});

test('what fits into a hole is laid there', () => {
  const islands = [frame(4, 3), rectangle(2.7, 2.7), rectangle(0.3, 0.3)];
  const { placed, scale } = laid(islands);
  expectSound(placed, 4 / 512);
  // Beside the frame there would be no room for it.
  expect(scale).toBeGreaterThan(0.2);
});

test('no larger than is asked for, and all islands alike', () => {
  const roll = dice(5);
  const islands = Array.from({ length: 9 }, () => star(roll));
  const free = laid(islands).scale;
  for (const share of [0.7, 0.97]) {
    const { placed, scale } = laid(islands, { maxScale: share * free });
    expect(scale).toBeCloseTo(share * free, 9);
    expectSound(placed, 4 / 512);
  }
});

test('what may not be turned is not, and what stands upright stays so', () => {
  const roll = dice(9);
  const islands = Array.from({ length: 9 }, (_, i) => ({ ...star(roll), upright: i % 2 === 0 }));
  const heading = ({ points: p }: PackIsland): number => Math.atan2(p[3] - p[1], p[2] - p[0]);
  const { placed } = laid(islands);
  placed.forEach((p, i) => i % 2 === 0 && expect(heading(p)).toBeCloseTo(heading(islands[i]), 9));
  const straight = islands.map(() => ({ ...rectangle(1, 0.3) }));
  for (const { points: p } of laid(straight, { turn: false }).placed)
    expect(Math.abs(p[2] - p[0])).toBeGreaterThan(Math.abs(p[3] - p[1]));
});

test('the same each time; stopped at once it is a layout all the same', () => {
  const roll = dice(11);
  const islands = Array.from({ length: 8 }, () => star(roll));
  expect(laid(islands)).toEqual(laid(islands));
  const { placed, scale } = laid(islands, { stop: () => true, effort: 1e6 });
  expect(scale).toBeGreaterThan(0);
  expectSound(placed, 4 / 512);
});

test('longer, it is told what is better, never what is not', () => {
  const roll = dice(13);
  const islands = Array.from({ length: 10 }, () => star(roll));
  const told: number[] = [];
  const { placed, scale } = laid(islands, { effort: 1000, better: (found) => told.push(found.scale) });
  expectSound(placed, 4 / 512);
  expect(told).toEqual([...told].sort((a, b) => a - b));
  expect(scale).toBeGreaterThanOrEqual(laid(islands).scale);
  if (told.length) expect(told[told.length - 1]).toBe(scale);
});

test('points, slivers and what has no area are no harm beside others', () => {
  const point: PackIsland = { points: new Float64Array(6), triangles: Uint32Array.from([0, 1, 2]) };
  const sliver: PackIsland = {
    points: Float64Array.from([0, 0, 3, 0, 3, 1e-9]),
    triangles: Uint32Array.from([0, 1, 2]),
  };
  const { placed } = laid([point, sliver, rectangle(1, 1), frame(1, 0.5), point]);
  for (const { points } of placed) for (const x of points) expect(x >= 0 && x <= 1).toBe(true);
  expect(distance(placed[2], placed[3])).toBeGreaterThanOrEqual(4 / 512 - 1e-9);
});
