/**
 * Polygons cut up by a sweep: whole, without overlap, whatever their shape; what is no simple polygon is left to
 * others.
 */
import earcut, { deviation } from 'earcut';
import fc from 'fast-check';
import { longPolygon } from './longpolygon';
import { areaOf } from './measure';
import { meshFrom } from './mesh';
import { triangulate } from './triangulate';

type Points = [number, number][];
const twice = (p: Points) =>
  p.reduce((sum, [x, y], i) => sum + x * p[(i + 1) % p.length][1] - p[(i + 1) % p.length][0] * y, 0);

function expectCut(points: Points): void {
  const ring = twice(points) < 0 ? [...points].reverse() : points;
  const flat = ring.flat();
  const cut = longPolygon(flat)!;
  expect(cut).toBeDefined();
  expect(cut.length).toBe(3 * (ring.length - 2));
  let sum = 0;
  let over = 0;
  const sides = new Map<number, number>();
  const n = ring.length;
  for (let i = 0; i < cut.length; i += 3) {
    const t = [cut[i], cut[i + 1], cut[i + 2]];
    const area = twice(t.map((v) => ring[v]));
    if (area < 0) over++;
    sum += area;
    t.forEach((a, k) => sides.set(a * n + t[(k + 1) % 3], (sides.get(a * n + t[(k + 1) % 3]) ?? 0) + 1));
  }
  expect(over).toBe(0);
  expect(Math.abs(sum - twice(ring))).toBeLessThan(1e-9 * Math.abs(twice(ring)));
  // Every side of the outline once, every other once each way: the triangles hang together as the polygon does.
  const missing = ring.filter((_, i) => sides.get(i * n + ((i + 1) % n)) !== 1).length;
  let loose = 0;
  for (const [side, times] of sides) {
    const [a, b] = [Math.floor(side / n), side % n];
    if (times !== 1 || ((a + 1) % n !== b && sides.get(b * n + a) !== 1)) loose++;
  }
  expect([missing, loose]).toEqual([0, 0]);
  expect(deviation(flat, null, 2, Array.from(cut))).toBeLessThan(1e-9);
}

const whole = fc.integer({ min: 1, max: 9 });
/** A star of any radii round a middle, on whole numbers often enough that corners lie level and in line. */
const star = fc
  .tuple(fc.array(whole, { minLength: 3, maxLength: 80 }), fc.boolean())
  .map(([radii, round]): Points =>
    radii.map((r, i) => {
      const a = (2 * Math.PI * i) / radii.length;
      const p: [number, number] = [r * Math.cos(a), r * Math.sin(a)];
      return round ? [Math.round(p[0] * 64) / 64, Math.round(p[1] * 64) / 64] : p;
    }),
  )
  .filter((p) => p.length >= 5);
/** A skyline over a lower one: level edges, corners in line, deep gaps. */
const skyline = fc.array(fc.tuple(whole, whole, whole), { minLength: 1, maxLength: 60 }).map((towers): Points => {
  const up: Points = [];
  const down: Points = [];
  let x = 0;
  for (const [width, high, low] of towers) {
    up.push([x, high], [x + width, high]);
    down.push([x, -low], [x + width, -low]);
    x += width;
  }
  const ring = [...up.reverse(), ...down];
  return ring.filter(([a, b], i) => {
    const [c, d] = ring[(i + 1) % ring.length];
    return a !== c || b !== d;
  });
});
const turned = (p: Points, quarter: number): Points =>
  p.map(
    ([x, y]) =>
      [
        [x, y],
        [-y, x],
        [-x, -y],
        [y, -x],
      ][quarter] as [number, number],
  );

test('stars and skylines, turned any way', () => {
  fc.assert(
    fc.property(fc.oneof(star, skyline), fc.nat(3), (points, quarter) => expectCut(turned(points, quarter))),
    { numRuns: 400 },
  );
});

test('a spiral of 6,000 corners and a comb of 8,000', () => {
  const arm = (r: number) =>
    Array.from({ length: 3000 }, (_, i): [number, number] => [
      (r + i * 0.002) * Math.cos(i * 0.02),
      (r + i * 0.002) * Math.sin(i * 0.02),
    ]);
  expectCut([...arm(1), ...arm(1.2).reverse()]);
  const teeth = Array.from({ length: 2000 }, (_, i): Points => [
    [i, 0],
    [i + 0.25, 5 + (i % 7)],
    [i + 0.5, 5],
    [i + 0.75, 0],
  ]).flat();
  expectCut([...teeth, [2000, -1], [0, -1]]);
});

test('what crosses itself, turns the other way or has no area is left alone', () => {
  expect(longPolygon([0, 0, 2, 2, 2, 0, 0, 2])).toBeUndefined();
  expect(longPolygon([0, 0, 0, 1, 1, 1, 1, 0])).toBeUndefined();
  for (const flat of [
    [0, 0, 1, 0, 2, 0, 3, 0],
    [0, 0, 0, 0, 0, 0, 0, 0],
    [NaN, 0, 1, 0, 1, 1, 0, 1],
  ])
    expect(longPolygon(flat)?.length ?? 6).toBe(6);
});

test('a face of thousands of corners that crosses itself still has as many triangles as it must', () => {
  const n = 1501;
  const ring = Array.from({ length: n }, (_, i) => [
    Math.cos((4 * Math.PI * i) / n),
    Math.sin((4 * Math.PI * i) / n),
    0,
  ]);
  const m = meshFrom(ring.flat(), [ring.map((_, i) => i)]);
  expect(triangulate(m).face.length).toBe(n - 2);
  const round = meshFrom(
    ring.flatMap((_, i) => [Math.cos((2 * Math.PI * i) / n), 0, Math.sin((2 * Math.PI * i) / n)]),
    [ring.map((_, i) => i)],
  );
  const flat = ring.flatMap((_, i) => [Math.cos((2 * Math.PI * i) / n), Math.sin((2 * Math.PI * i) / n)]);
  expect(earcut(flat).length).toBe(3 * triangulate(round).face.length);
  expect(areaOf(round)).toBeCloseTo(Math.PI, 4);
});
