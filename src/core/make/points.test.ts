import fc from 'fast-check';
import { remove } from '../edit/remove';
import { transformMesh } from '../edit/transform';
import { scaling } from '../math/affine';
import { FACING } from '../mesh/points';
import { faceAreas } from '../rules/measures';
import { box } from './primitives';
import { pointsOn, pointsWithin, thinned } from './points';

const crate = box({ width: 4, height: 2, depth: 1, cutX: 8, cutY: 4, cutZ: 2, onGround: false }, 3);
const where = (m: { positions: Float32Array; vertexKey: Float64Array }) =>
  new Map(Array.from(m.vertexKey, (k, v) => [k, Array.from(m.positions.subarray(3 * v, 3 * v + 3)).join()]));

test('exactly as many as asked for, on the surface, looking out of it', () => {
  fc.assert(
    fc.property(fc.integer({ min: 1, max: 700 }), fc.integer({ min: 0, max: 99 }), (count, seed) => {
      const out = pointsOn(crate, { count, seed, apart: 0 });
      expect(out.vertexCount).toBe(count);
      expect(new Set(out.vertexKey).size).toBe(count);
      const half = [2, 1, 0.5];
      for (let v = 0; v < count; v++) {
        const p = out.positions.subarray(3 * v, 3 * v + 3);
        const n = out.attributes[FACING].data.subarray(3 * v, 3 * v + 3);
        const k = n.findIndex((x) => Math.abs(x) > 0.9);
        expect(p[k] * n[k]).toBeCloseTo(half[k], 5);
      }
    }),
    { numRuns: 40 },
  );
});

test('spread by area: large and small sides have their share', () => {
  const out = pointsOn(crate, { count: 28_000, seed: 1, apart: 0 });
  let top = 0;
  for (let v = 0; v < out.vertexCount; v++) if (out.attributes[FACING].data[3 * v + 1] > 0.9) top++;
  // 4 of 28 square metres.
  expect(Math.abs(top - 4000)).toBeLessThan(100);
});

test('no density, no points; where there is none at all it is said', () => {
  const only = Float64Array.from(areas(), (_, f) => (f === 5 ? 2 : 0));
  const out = pointsOn(crate, { count: 20, density: only, seed: 1, apart: 0 });
  expect(out.vertexCount).toBe(20);
  expect(() => pointsOn(crate, { count: 20, density: new Float64Array(crate.faceCount), seed: 1, apart: 0 })).toThrow(
    'no area, or its density is 0',
  );
  expect(() => pointsOn(crate, { count: 1e9, seed: 1, apart: 0 })).toThrow('1,000,000,000 points');
});
function areas(): number[] {
  const of = faceAreas(crate);
  return Array.from({ length: crate.faceCount }, (_, f) => of(f));
}

test('they stay where their face does: when others go, and when all is sized', () => {
  const before = where(pointsOn(crate, { count: 640, seed: 4, apart: 0 }));
  const fewer = remove(crate, 'face', Uint32Array.of(0));
  const after = where(pointsOn(fewer, { count: 640 - 640 / 112, seed: 4, apart: 0 }));
  const kept = [...before].filter(([k, at]) => after.get(k) === at).length;
  expect(kept / before.size).toBeGreaterThan(0.9);
  for (const [k, at] of after) if (before.has(k)) expect(before.get(k)).toBe(at);
  const twice = pointsOn(transformMesh(crate, scaling(2, 2, 2)), { count: 640, seed: 4, apart: 0 });
  expect([...where(twice).keys()].sort()).toEqual([...before.keys()].sort());
});

test('none nearer than asked, and none left out that had room', () => {
  const all = pointsOn(crate, { count: 900, seed: 2, apart: 0 });
  const kept = thinned(all, 0.3);
  const p = kept.positions;
  const far = (q: Float32Array, a: number, b: number) =>
    Math.hypot(q[3 * a] - p[3 * b], q[3 * a + 1] - p[3 * b + 1], q[3 * a + 2] - p[3 * b + 2]);
  for (let a = 0; a < kept.vertexCount; a++)
    for (let b = 0; b < a; b++) expect(far(p, a, b)).toBeGreaterThanOrEqual(0.3 - 1e-6);
  for (let v = 0; v < all.vertexCount; v++)
    expect(Math.min(...Array.from({ length: kept.vertexCount }, (_, b) => far(all.positions, v, b)))).toBeLessThan(0.3);
});

describe('within', () => {
  test('as many as cells fit, none outside; more of the body leaves them where they were', () => {
    const out = pointsWithin(crate, { apart: 0.25, stray: 0, seed: 1 });
    expect(out.vertexCount).toBe(16 * 8 * 4);
    const wide = box({ width: 8, height: 2, depth: 1, cutX: 1, cutY: 1, cutZ: 1, onGround: false }, 3);
    const more = where(pointsWithin(wide, { apart: 0.25, stray: 0.4, seed: 1 }));
    const fewer = where(pointsWithin(crate, { apart: 0.25, stray: 0.4, seed: 1 }));
    for (const [k, at] of fewer) expect(more.get(k)).toBe(at);
  });
  test('cells larger than the body: one sentence', () => {
    expect(() => pointsWithin(crate, { apart: 50, stray: 0, seed: 1 })).toThrow('let them be closer');
    expect(() => pointsWithin(crate, { apart: 0.0001, stray: 0, seed: 1 })).toThrow('are the most');
  });
});
