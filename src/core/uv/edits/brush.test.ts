import fc from 'fast-check';
import { plane } from '../../make/primitives';
import type { Mesh } from '../../mesh/mesh';
import { lumpyBall } from '../../testing/organic';
import { UNWRAPPING, uvOf, withUv } from '../../testing/unwrapping';
import { uvFigures } from '../measure';
import { unwrapMesh } from '../unwrap';
import { BRUSHES, Stroke, type Brush, type Dab } from './brush';

const ball = unwrapMesh(lumpyBall(9), UNWRAPPING).mesh;
const sheet = unwrapMesh(plane({ width: 1, depth: 1, cutX: 12, cutZ: 12 }, 1), { ...UNWRAPPING, turn: false }).mesh;
/** How it lies without the stroke on the brush: in the middle, of a tenth of the sheet. */
const DAB: Dab = { u: 0.5, v: 0.5, radius: 0.1, du: 0, dv: 0, strength: 1 };
const figures = (m: Mesh, uv: Float32Array) => uvFigures(withUv(m, uv), uv, 128);
const apart = (a: Float32Array, b: Float32Array): number =>
  a.reduce((most, x, i) => Math.max(most, Math.abs(x - b[i])), 0);

test('grabbing takes the middle all the way, the rim not at all, and nothing beyond', () => {
  const stroke = new Stroke(sheet, 0);
  const before = uvOf(sheet);
  expect(stroke.dab('grab', { ...DAB, radius: 0.3, du: 0.02, dv: -0.01 })).toBe(true);
  for (let c = 0; c < sheet.cornerCount; c++) {
    const far = Math.hypot(before[2 * c] - 0.5, before[2 * c + 1] - 0.5);
    const by = stroke.uv[2 * c] - before[2 * c];
    if (far >= 0.3) expect(by).toBe(0);
    else if (far < 1e-6) expect(by).toBeCloseTo(0.02, 6);
    else expect(by).toBeGreaterThan(-1e-9);
    expect(by).toBeLessThan(0.02 + 1e-6);
  }
});

test('relaxing leaves a flat surface that lies as it is where it is', () => {
  const stroke = new Stroke(sheet, 0);
  stroke.dab('relax', { ...DAB, radius: 2 });
  expect(apart(stroke.uv, uvOf(sheet))).toBeLessThan(1e-6);
});

test('what was grabbed comes to lie as it did by relaxing, time and again', () => {
  const stroke = new Stroke(sheet, 0);
  stroke.dab('grab', { ...DAB, radius: 0.25, du: 0.08, dv: 0.05 });
  const off = apart(stroke.uv, uvOf(sheet));
  expect(off).toBeGreaterThan(0.03);
  for (let k = 0; k < 120; k++) stroke.dab('relax', { ...DAB, radius: 2 });
  expect(apart(stroke.uv, uvOf(sheet))).toBeLessThan(0.05 * off);
});

test.each([
  ['pinch', -1],
  ['spread', 1],
] as const)('to %s changes what lies under it, and only that', (brush, sign) => {
  // On the middle of the first face.
  const own = Array.from({ length: sheet.faceStart[1] }, (_, c) => c);
  const [u, v] = [0, 1].map((k) => own.reduce((sum, c) => sum + uvOf(sheet)[2 * c + k], 0) / own.length);
  const area = (uv: Float32Array): number => {
    let sum = 0;
    for (let f = 0; f < sheet.faceCount; f++) {
      const [s, e] = [sheet.faceStart[f], sheet.faceStart[f + 1]];
      const corners = Array.from({ length: e - s }, (_, k) => s + k);
      if (corners.some((c) => Math.hypot(uvOf(sheet)[2 * c] - u, uvOf(sheet)[2 * c + 1] - v) > 0.08)) continue;
      corners.forEach((c, k) => {
        const n = corners[(k + 1) % corners.length];
        sum += (uv[2 * c] * uv[2 * n + 1] - uv[2 * n] * uv[2 * c + 1]) / 2;
      });
    }
    return Math.abs(sum);
  };
  const stroke = new Stroke(sheet, 0);
  for (let k = 0; k < 5; k++) stroke.dab(brush, { ...DAB, u, v, radius: 0.2, strength: 0.5 });
  expect(sign * (area(stroke.uv) / area(uvOf(sheet)) - 1)).toBeGreaterThan(0.05);
  expect(figures(sheet, stroke.uv).flips).toBe(0);
});

test('no stroke turns a triangle over, however wild', () => {
  const number = fc.double({ min: -0.5, max: 1.5, noNaN: true });
  const dab = fc.record({
    brush: fc.constantFrom<Brush>(...BRUSHES),
    u: number,
    v: number,
    radius: fc.double({ min: 0.001, max: 0.6, noNaN: true }),
    du: fc.double({ min: -1, max: 1, noNaN: true }),
    dv: fc.double({ min: -1, max: 1, noNaN: true }),
    strength: fc.double({ min: 0, max: 1, noNaN: true }),
  });
  fc.assert(
    fc.property(fc.array(dab, { minLength: 1, maxLength: 12 }), fc.nat(ball.faceCount - 1), (dabs, face) => {
      const stroke = new Stroke(ball, face);
      for (const { brush, ...o } of dabs) stroke.dab(brush, o);
      expect(figures(ball, stroke.uv).flips).toBe(0);
      const own = new Set(stroke.faces);
      for (let f = 0; f < ball.faceCount; f++)
        if (!own.has(f))
          for (let c = ball.faceStart[f]; c < ball.faceStart[f + 1]; c++)
            expect(stroke.uv[2 * c]).toBe(uvOf(ball)[2 * c]);
    }),
    { numRuns: 12 },
  );
});

test('an island that lies mirrored is brushed as well', () => {
  const mirrored = withUv(
    sheet,
    uvOf(sheet).map((x, i) => (i % 2 === 0 ? 1 - x : x)),
  );
  const stroke = new Stroke(mirrored, 0);
  expect(stroke.dab('grab', { ...DAB, radius: 0.3, du: 0.02 })).toBe(true);
  expect(apart(stroke.uv, uvOf(mirrored))).toBeGreaterThan(0.015);
  expect(stroke.moved.length).toBeGreaterThan(0);
  for (const c of stroke.moved)
    expect(Math.hypot(uvOf(mirrored)[2 * c] - 0.5, uvOf(mirrored)[2 * c + 1] - 0.5)).toBeLessThan(0.3);
});

test('without a layout there is nothing to brush, and that is said', () => {
  expect(() => new Stroke(plane({ width: 1, depth: 1, cutX: 1, cutZ: 1 }, 1), 0)).toThrow(
    'There is no sheet yet: unfold the piece first.',
  );
});
