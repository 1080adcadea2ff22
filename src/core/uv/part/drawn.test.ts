import fc from 'fast-check';
import type { Mesh } from '../../mesh/mesh';
import { lumpyBall } from '../../testing/organic';
import { hose } from '../../testing/tubes';
import { UNWRAPPING, uvOf } from '../../testing/unwrapping';
import { uvFigures } from '../measure';
import { unwrapMesh } from '../unwrap';
import { drawnWithin, meanOf } from './drawn';
import type { Island } from './island';
import { thoroughly } from '../../testing/thoroughly';

/** Islands as large and as far drawn as that. */
const drawn = (...each: [number, number][]): { islands: Pick<Island, 'laid'>[] } => ({
  islands: each.map(([total, mean]) => ({ laid: { rest: { total }, figures: { mean } } as Island['laid'] })),
});

test('the mean is by area, and of nothing it is 1', () => {
  expect(meanOf(drawn([3, 1.1], [1, 1.3]).islands)).toBeCloseTo(1.15, 12);
  expect(meanOf([])).toBe(1);
  expect(meanOf(drawn([0, 1.5]).islands)).toBe(1);
});

test('what is within it as it comes is parted once', () => {
  const asked: (number | undefined)[] = [];
  const found = drawnWithin(1.02, (each) => {
    asked.push(each);
    return drawn([1, 1.019]);
  });
  expect(asked).toEqual([undefined]);
  expect(found.islands).toHaveLength(1);
});

/** A surface that comes to a share of what each island may be drawn, in the more islands the less that is. */
const surface =
  (share: number, comes: number, asked: number[] = []) =>
  (each?: number): { islands: Pick<Island, 'laid'>[] } => {
    asked.push(each ?? 0);
    const mean = Math.min(comes, each === undefined ? comes : 1 + share * (each - 1));
    const many = Math.max(1, Math.round(0.1 / (mean - 1)));
    return drawn(...Array.from({ length: many }, (): [number, number] => [1 / many, mean]));
  };

test('it comes to no more than is asked, in hardly more islands than the fewest, in a few goes', () => {
  fc.assert(
    fc.property(
      fc.double({ min: 0.3, max: 1, noNaN: true }),
      fc.double({ min: 1.003, max: 1.05, noNaN: true }),
      (share, wanted) => {
        const asked: number[] = [];
        const { islands } = drawnWithin(wanted, surface(share, 1.1, asked));
        expect(meanOf(islands)).toBeLessThanOrEqual(wanted + 1e-9);
        expect(asked.length).toBeLessThanOrEqual(6);
        const fewest = 0.1 / (wanted - 1);
        expect(islands.length).toBeLessThanOrEqual(1.35 * fewest + 1);
      },
    ),
  );
});

test('where it cannot be had, every island by itself is asked for as much, once', () => {
  const asked: number[] = [];
  const { islands } = drawnWithin(1.01, (each) => {
    asked.push(each ?? 0);
    return drawn([1, 1.04]);
  });
  expect(meanOf(islands)).toBeCloseTo(1.04, 9);
  expect(asked.filter((x) => Math.abs(x - 1.01) < 1e-9)).toHaveLength(1);
  expect(asked[asked.length - 1]).toBeCloseTo(1.01, 9);
});

test('how far it is grows, and ends', () => {
  const told: number[] = [];
  drawnWithin(
    1.01,
    (_, progress) => {
      for (const x of [0.5, 1]) progress?.(x);
      return drawn([1, 1.04]);
    },
    (share) => told.push(share),
  );
  expect([...told].sort((a, b) => a - b)).toEqual(told);
  expect(told[told.length - 1]).toBeLessThanOrEqual(1);
});

thoroughly('soft bodies and a hose come to the mean that is asked, and to nothing that lies twice', () => {
  const tried: [Mesh, number][] = [
    [lumpyBall(7), 1.02],
    [hose(60), 1.06],
  ];
  for (const [mesh, mean] of tried) {
    const asItComes = unwrapMesh(mesh, UNWRAPPING);
    const told: number[] = [];
    const out = unwrapMesh(mesh, { ...UNWRAPPING, mean, progress: (share) => told.push(share) });
    expect(told.length).toBeGreaterThan(3);
    expect([...told].sort((a, b) => a - b)).toEqual(told);
    const figures = uvFigures(out.mesh, uvOf(out.mesh));
    expect(figures).toMatchObject({ flips: 0, overlap: 0, outside: 0 });
    expect(asItComes.mean).toBeGreaterThan(mean);
    expect(out.mean).toBeLessThanOrEqual(mean);
    expect(figures.stretchMean).toBeCloseTo(out.mean, 3);
    expect(out.beyond).toBeLessThan(0.005);
    expect(out.islands).toBeGreaterThan(asItComes.islands);
    expect(out.islands).toBeLessThan(mesh.faceCount / 10);
  }
});
