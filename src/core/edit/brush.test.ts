import fc from 'fast-check';
import { cubeSphere, plane } from '../make/primitives';
import { faceNormals } from '../mesh/normals';
import { volumeOf } from '../mesh/measure';
import type { Mesh } from '../mesh/mesh';
import { closedBody } from '../testing/arbitrary';
import { problemsOf } from '../testing/valid';
import { stroke, type BrushKind, type Dab, type Stroke } from './brush';

const ball = cubeSphere({ radius: 1, cuts: 10 }, 1);
const sheet = plane({ width: 2, depth: 2, cutX: 20, cutZ: 20 }, 1);
const on = (kind: BrushKind, part: Partial<Stroke> = {}): Stroke => ({
  kind,
  radius: 0.4,
  strength: 1,
  falloff: 'smooth',
  ...part,
});
const dab = (at: [number, number, number], by: [number, number, number] = [0, 0, 0]): Dab => ({
  at,
  by,
  normal: [0, 1, 0],
});
const away = (a: Mesh, b: Mesh, v: number) =>
  Math.hypot(...[0, 1, 2].map((k) => a.positions[3 * v + k] - b.positions[3 * v + k]));
const vertexAt = (m: Mesh, x: number, y: number, z: number) => {
  let best = 0;
  for (let v = 0; v < m.vertexCount; v++) {
    const d = (w: number) => Math.hypot(m.positions[3 * w] - x, m.positions[3 * w + 1] - y, m.positions[3 * w + 2] - z);
    if (d(v) < d(best)) best = v;
  }
  return best;
};

test('a grab takes its middle all the way, nothing beyond the radius, and all of it in one piece', () => {
  const dabs = [dab([0, 1, 0]), dab([0, 1.1, 0], [0, 0.1, 0]), dab([0.05, 1.3, 0], [0.05, 0.2, 0])];
  const out = stroke(ball, dabs, on('grab'));
  const top = vertexAt(ball, 0, 1, 0);
  expect(away(out, ball, top)).toBeCloseTo(Math.hypot(0.05, 0.3), 5);
  for (let v = 0; v < ball.vertexCount; v++) {
    const p = ball.positions;
    const d = Math.hypot(p[3 * v], p[3 * v + 1] - 1, p[3 * v + 2]);
    if (d >= 0.4) expect(away(out, ball, v)).toBe(0);
    else if (d < 0.3) expect(away(out, ball, v)).toBeGreaterThan(0);
  }
});

test('push swells a ball, and the other way round draws it in', () => {
  const dabs = [dab([0, 1, 0])];
  expect(volumeOf(stroke(ball, dabs, on('push')))).toBeGreaterThan(volumeOf(ball));
  expect(volumeOf(stroke(ball, dabs, on('push', { strength: -1 })))).toBeLessThan(volumeOf(ball));
});

test('smooth and flatten make rough ground even, and keep its border where it is', () => {
  const rough = sheet.moved(sheet.positions.map((y, i) => (i % 3 === 1 ? 0.03 * Math.sin(i * 12.9898) : y)));
  const over = Array.from({ length: 60 }, (_, i) => dab([((i % 8) - 3.5) / 4, 0, (Math.floor(i / 8) - 3.5) / 4]));
  const wild = (m: Mesh) => m.positions.reduce((s, y, i) => (i % 3 === 1 ? s + y * y : s), 0);
  for (const kind of ['smooth', 'flatten'] as const) {
    const out = stroke(rough, over, on(kind));
    expect(wild(out)).toBeLessThan(wild(rough) / 3);
    const corner = vertexAt(sheet, 1, 0, 1);
    expect(Math.hypot(out.positions[3 * corner] - 1, out.positions[3 * corner + 2] - 1)).toBeLessThan(0.08);
  }
});

test('pinch draws together along the surface only', () => {
  const out = stroke(
    sheet,
    Array.from({ length: 5 }, () => dab([0, 0, 0])),
    on('pinch'),
  );
  const near = (m: Mesh) => {
    let n = 0;
    for (let v = 0; v < m.vertexCount; v++) if (Math.hypot(m.positions[3 * v], m.positions[3 * v + 2]) < 0.15) n++;
    return n;
  };
  expect(near(out)).toBeGreaterThan(near(sheet));
  for (let f = 0; f < out.faceCount; f++) expect(faceNormals(out)[3 * f + 1]).toBeCloseTo(1, 5);
});

test('any stroke over any body: a mesh, finite, the same each time, and nothing where there is nothing', () => {
  const number = fc.double({ min: -2, max: 2, noNaN: true });
  const place = fc.tuple(number, number, number);
  const kinds = fc.constantFrom<BrushKind>('grab', 'smooth', 'push', 'flatten', 'pinch');
  fc.assert(
    fc.property(
      closedBody,
      fc.array(fc.tuple(place, place), { maxLength: 12 }),
      kinds,
      number,
      (m, list, kind, strength) => {
        const dabs = list.map(([at, by]): Dab => ({ at, by, normal: [0, 0, 1] }));
        const out = stroke(m, dabs, on(kind, { strength, radius: 1.5 }));
        expect(problemsOf(out)).toEqual([]);
        expect(stroke(m, dabs, on(kind, { strength, radius: 1.5 })).positions).toEqual(out.positions);
        expect(stroke(m, [], on(kind))).toBe(m);
        expect(stroke(m, [dab([50, 0, 0])], on(kind))).toBe(m);
        expect(stroke(m, dabs, on(kind, { radius: 0 }))).toBe(m);
      },
    ),
    { numRuns: 60 },
  );
});
