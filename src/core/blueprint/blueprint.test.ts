import fc from 'fast-check';
import { hull, LONG, MAST, pilotSkiff, STATIONS } from '../../demo/skiff';
import {
  crossCheck,
  levelBy,
  newBlueprint,
  nextStation,
  scaleBy,
  sharedAxis,
  sideTurn,
  toPixel,
  toPlane,
  type Point,
} from './blueprint';
import { fitCircle, fitEllipse } from './fit';
import { applyPoint, turned } from '../math/affine';
import { thoroughly } from '../testing/thoroughly';

const n = fc.double({ min: -500, max: 500, noNaN: true });
const deg = Math.PI / 180;

describe('truing up', () => {
  test('a drawing skewed by 0.3° and scaled by anything is true to 0.1 % after a level, a scale and an origin', () => {
    fc.assert(
      fc.property(
        fc.double({ min: 0.0002, max: 0.02, noNaN: true }),
        fc.constantFrom(0.3 * deg, -0.3 * deg),
        n,
        n,
        (scale, skew, ox, oy) => {
          // The truth: metres → pixels of a scan that lies askew.
          const scan = ([u, v]: Point): Point => {
            const c = Math.cos(skew);
            const s = Math.sin(skew);
            return [1000 + ox + (c * u - s * v) / scale, 800 + oy - (s * u + c * v) / scale];
          };
          const long = 1500 * scale;
          const p = scan([0, 0]);
          const q = scan([long, 0]);
          // Clicks fall anywhere within their pixel.
          const click = ([x, y]: Point): Point => [Math.floor(x) + 0.5, Math.floor(y) + 0.5];
          const b = {
            ...newBlueprint('i', 3000, 2000),
            level: levelBy(click(p), click(q))!,
            scale: scaleBy(click(p), click(q), long)!,
            origin: click(p) as [number, number],
          };
          const measured = toPlane(b, scan([long * 0.8, long * 0.4]));
          expect(Math.hypot(measured[0] - long * 0.8, measured[1] - long * 0.4) / long).toBeLessThan(0.001);
          expect(b.level).toBeCloseTo(-skew, 2);
        },
      ),
      { numRuns: 300 },
    );
  });
  test('to the plane and back', () => {
    fc.assert(
      fc.property(n, n, fc.double({ min: -3, max: 3, noNaN: true }), (x, y, level) => {
        const b = { level, scale: 0.01, origin: [7, 9] as [number, number] };
        const [px, py] = toPixel(b, toPlane(b, [x, y]));
        expect(px).toBeCloseTo(x, 6);
        expect(py).toBeCloseTo(y, 6);
      }),
    );
  });
  test('a line nearer to upright is made upright; one point levels and scales nothing', () => {
    for (const [p, q] of [
      [
        [0, 0],
        [1, 100],
      ],
      [
        [0, 0],
        [-2, 70],
      ],
      [
        [3, 9],
        [300, 4],
      ],
    ] as const) {
      const b = { level: levelBy(p, q)!, scale: 1, origin: [0, 0] as [number, number] };
      const [u, v] = toPlane(b, q).map((x, k) => x - toPlane(b, p)[k]);
      expect(Math.min(Math.abs(u), Math.abs(v))).toBeLessThan(1e-9);
      expect(Math.abs(b.level)).toBeLessThan(0.05); // turned by the little it is off, not by a quarter
    }
    expect(levelBy([5, 5], [5, 5])).toBeUndefined();
    expect([scaleBy([0, 0], [0, 0], 1), scaleBy([0, 0], [1, 0], 0), scaleBy([0, 0], [10, 0], 2)]).toEqual([
      undefined,
      undefined,
      0.2,
    ]);
  });
  test('each side faces the view it is tied to; two sides share one axis', () => {
    const facing = (s: Parameters<typeof sideTurn>[0]) =>
      applyPoint(turned(sideTurn(s)), [0, 0, 1]).map((x) => Math.round(x) + 0);
    expect([facing('front'), facing('back'), facing('right'), facing('left'), facing('top'), facing('bottom')]).toEqual(
      [
        [0, 0, 1],
        [0, 0, -1],
        [1, 0, 0],
        [-1, 0, 0],
        [0, 1, 0],
        [0, -1, 0],
      ],
    );
    expect(sharedAxis('front', 'right')).toEqual({ axis: 'y', inA: 'v', inB: 'v' });
    expect(sharedAxis('front', 'top')).toEqual({ axis: 'x', inA: 'u', inB: 'u' });
    expect(sharedAxis('left', 'top')).toEqual({ axis: 'z', inA: 'u', inB: 'v' });
    expect([sharedAxis('front', 'back'), sharedAxis('free', 'top')]).toEqual([undefined, undefined]);
    expect(crossCheck(2, 2.01).share).toBeCloseTo(0.005, 9);
  });
  test('stations are named in order, over Z too', () => {
    const named = (count: number) =>
      Array.from({ length: count })
        .reduce<{ id: string; name: string; along: 'u'; at: number }[]>(
          (l) => [...l, { id: '', name: nextStation(l), along: 'u', at: 0 }],
          [],
        )
        .map((s) => s.name);
    expect(named(28).slice(24)).toEqual(['Y', 'Z', 'AA', 'AB']);
    expect(nextStation([{ id: '', name: 'B', along: 'u', at: 0 }])).toBe('A');
  });
});

describe('fitting', () => {
  const r = fc.double({ min: 0.01, max: 100, noNaN: true });
  const angles = fc.uniqueArray(fc.integer({ min: 0, max: 23 }), { minLength: 5, maxLength: 5 });
  test('a circle through three to five points of one is that one', () => {
    fc.assert(
      fc.property(n, n, r, angles, fc.integer({ min: 3, max: 5 }), (u, v, radius, list, count) => {
        const c = fitCircle(
          list
            .slice(0, count)
            .map((k): Point => [u + radius * Math.cos((k * Math.PI) / 12), v + radius * Math.sin((k * Math.PI) / 12)]),
        )!;
        expect(c.u - u).toBeCloseTo(0, 5);
        expect(c.v - v).toBeCloseTo(0, 5);
        expect(c.radius / radius).toBeCloseTo(1, 5);
        expect(c.off / radius).toBeLessThan(1e-5);
      }),
      { numRuns: 300 },
    );
  });
  test('an ellipse through five points of one is that one, leaning or not', () => {
    fc.assert(
      fc.property(
        n,
        n,
        r,
        fc.double({ min: 0.2, max: 0.9, noNaN: true }),
        fc.double({ min: -1.5, max: 1.5, noNaN: true }),
        (u, v, a, flat, turn) => {
          const b = a * flat;
          const e = fitEllipse(
            [1, 5, 10, 16, 21].map((k): Point => {
              const t = (k * Math.PI) / 12;
              const x = a * Math.cos(t);
              const y = b * Math.sin(t);
              return [u + x * Math.cos(turn) - y * Math.sin(turn), v + x * Math.sin(turn) + y * Math.cos(turn)];
            }),
          )!;
          expect(e.a / a).toBeCloseTo(1, 4);
          expect(e.b / b).toBeCloseTo(1, 4);
          expect(Math.abs(Math.sin(e.turn - turn))).toBeLessThan(1e-3);
          expect((e.u - u) / a).toBeCloseTo(0, 4);
          expect((e.v - v) / a).toBeCloseTo(0, 4);
        },
      ),
      { numRuns: 300 },
    );
  });
  test('four points give one that does not lean', () => {
    const e = fitEllipse([
      [3, 0],
      [0, 2],
      [-3, 0],
      [0, -2],
    ])!;
    expect([e.a, e.b, e.turn]).toEqual([expect.closeTo(3, 6), expect.closeTo(2, 6), 0]);
  });
  test('clicks a little off give a circle in their midst, and say by how much they are off', () => {
    const c = fitCircle([
      [1.01, 0],
      [0, 0.99],
      [-1.01, 0],
      [0, -0.99],
      [0.7, 0.72],
    ])!;
    expect(c.radius).toBeCloseTo(1, 1);
    expect(c.off).toBeGreaterThan(0.005);
  });
  test('points on a line, too few, or all in one place have neither', () => {
    expect(
      fitCircle([
        [0, 0],
        [1, 1],
        [2, 2],
      ]),
    ).toBeUndefined();
    expect(
      fitCircle([
        [0, 0],
        [1, 1],
      ]),
    ).toBeUndefined();
    expect(
      fitCircle([
        [1, 1],
        [1, 1],
        [1, 1],
      ]),
    ).toBeUndefined();
    expect(
      fitEllipse([
        [0, 0],
        [1, 0],
        [2, 0],
        [3, 0],
        [4, 0],
      ]),
    ).toBeUndefined();
    expect(
      fitEllipse([
        [0, 0],
        [1, 1],
        [2, 4],
        [-1, 1],
        [-2, 4],
      ]),
    ).toBeUndefined(); // a parabola
  });
});

thoroughly('the skiff’s drawings are true: stations, mast step and sections where the hull has them', async () => {
  const { document } = await pilotSkiff();
  const by = (name: string) => document.pieces.find((p) => p.name === name)!;
  for (const view of ['side view', 'plan view'])
    by(view).blueprint!.stations.forEach((s, i) => expect(Math.abs(s.at - STATIONS[i]) / LONG).toBeLessThan(0.001));
  const mast = by('plan view').blueprint!.rounds[0];
  const mid = by('body plan').blueprint!.rounds[0];
  expect(Math.abs(mast.u - MAST.x)).toBeLessThan(0.002);
  expect(mast.a).toBeCloseTo(MAST.radius, 3);
  expect(mid.a).toBeCloseTo(hull.half(0), 2);
  expect(mid.v).toBeCloseTo(hull.sheer(0), 2);
  STATIONS.forEach((x, i) => expect(by(`section ${'ABCDEFG'[i]}`).place.at[0]).toBeCloseTo(x, 3));
});
