import fc from 'fast-check';
import { keyOf } from '../math/hash';
import { boundsOf } from '../mesh/bounds';
import { areaOf, shapeOf, volumeOf } from '../mesh/measure';
import type { Mesh } from '../mesh/mesh';
import { box, cubeSphere, cylinder, plane, ringSphere } from './primitives';
import { names } from './naming';

const id = keyOf('t');
const n = fc.integer({ min: 1, max: 6 });
const length = fc.double({ min: 0.01, max: 10, noNaN: true });
const shared = (a: Mesh, b: Mesh) => {
  const other = new Set(b.vertexKey);
  return [...a.vertexKey].filter((k) => other.has(k)).length;
};

test('ranks count from the nearer end: both ends keep their names whatever the count', () => {
  const { line } = names('ranks');
  for (let count = 1; count < 40; count++) {
    const ranks = Array.from({ length: count + 1 }, (_, i) => line(i, count));
    expect(new Set(ranks).size).toBe(count + 1);
    expect(ranks[0]).toBe(0);
    expect(ranks[count]).toBe(1);
  }
});

test('shares: lines at the same share have the same name, and only they; no two cells do', () => {
  const { line, cell } = names('shares');
  const lines = new Map<number, number>();
  const cells = new Set<number>();
  let all = 0;
  for (let n = 1; n < 60; n++)
    for (let i = 0; i <= n; i++) {
      const name = line(i, n);
      expect(lines.get(name) ?? i / n).toBe(i / n);
      lines.set(name, i / n);
      if (i < n) cells.add(cell(i, n));
      if (i < n) all++;
    }
  expect(new Set(lines.values()).size).toBe(lines.size);
  expect(cells.size).toBe(all);
});

test('a box of any size and cuts: its volume, its area, its place', () => {
  fc.assert(
    fc.property(length, length, length, n, n, n, fc.boolean(), (width, height, depth, cutX, cutY, cutZ, onGround) => {
      const m = box({ width, height, depth, cutX, cutY, cutZ, onGround }, id);
      expect(volumeOf(m) / (width * height * depth)).toBeCloseTo(1, 4);
      expect(areaOf(m) / (2 * (width * height + height * depth + depth * width))).toBeCloseTo(1, 4);
      expect(m.faceCount).toBe(2 * (cutX * cutY + cutY * cutZ + cutZ * cutX));
      const { min, max } = boundsOf(m.positions);
      expect(min[1]).toBeCloseTo(onGround ? 0 : -height / 2, 4);
      expect(max[0]).toBeCloseTo(width / 2, 4);
    }),
    { numRuns: 60 },
  );
});

test('sizes do not touch keys; counts keep every line whose share there still is', () => {
  fc.assert(
    fc.property(n, n, length, (a, b, size) => {
      const small = box({ width: 1, height: 1, depth: 1, cutX: a, cutY: 1, cutZ: 1, onGround: true }, id);
      const large = box({ width: size, height: 2, depth: 3, cutX: a, cutY: 1, cutZ: 1, onGround: false }, id);
      expect(large.vertexKey).toEqual(small.vertexKey);
      expect(large.faceKey).toEqual(small.faceKey);
      const finer = box({ width: 1, height: 1, depth: 1, cutX: b, cutY: 1, cutZ: 1, onGround: true }, id);
      const common = Array.from({ length: a + 1 }, (_, i) => (i * b) % a === 0).filter(Boolean).length;
      expect(shared(small, finer)).toBe(4 * common);
    }),
  );
});

test('a cylinder keeps every line at the same share of the turn', () => {
  const of = (sides: number, rows: number) =>
    cylinder({ radius: 1, topRadius: 1, height: 1, sides, rows, cap: 'fan', onGround: true }, id);
  expect(shared(of(8, 1), of(12, 1))).toBe(2 * 4 + 2);
  expect(shared(of(8, 1), of(16, 1))).toBe(2 * 8 + 2);
  expect(shared(of(8, 1), of(8, 5))).toBe(2 * 8 + 2);
});

test('a cone frustum against its closed form', () => {
  fc.assert(
    fc.property(length, fc.double({ min: 0, max: 1, noNaN: true }), length, (r, share, h) => {
      const t = share < 0.01 ? 0 : share * r;
      const sides = 96;
      const m = cylinder({ radius: r, topRadius: t, height: h, sides, rows: 3, cap: 'polygon', onGround: true }, id);
      const polygon = (sides / 2) * Math.sin((2 * Math.PI) / sides);
      expect(volumeOf(m) / ((polygon * h * (r * r + r * t + t * t)) / 3)).toBeCloseTo(1, 3);
    }),
    { numRuns: 40 },
  );
});

test('open ends leave two borders; each has as many edges as sides', () => {
  const m = cylinder({ radius: 1, topRadius: 1, height: 1, sides: 9, rows: 2, cap: 'open', onGround: true }, id);
  expect(shapeOf(m)).toMatchObject({ openEdges: 18, closed: false, eulerCharacteristic: 0 });
});

test('every vertex of a sphere lies on it, and finer is nearer the true volume', () => {
  for (const make of [
    (k: number) => ringSphere({ radius: 2, sides: 4 * k, rings: 2 * k }, id),
    (k: number) => cubeSphere({ radius: 2, cuts: k }, id),
  ]) {
    let error = Infinity;
    for (const k of [2, 4, 8, 16]) {
      const m = make(k);
      for (let i = 0; i < m.positions.length; i += 3)
        expect(Math.hypot(...m.positions.subarray(i, i + 3))).toBeCloseTo(2, 5);
      const now = (32 * Math.PI) / 3 - volumeOf(m);
      expect(now).toBeGreaterThan(0);
      expect(now).toBeLessThan(error);
      error = now;
    }
  }
});

test('counts beyond reason are held', () => {
  expect(plane({ width: 1, depth: 1, cutX: 1e9, cutZ: 0 }, id).faceCount).toBe(512);
  expect(ringSphere({ radius: 1, sides: 0, rings: 0 }, id).faceCount).toBe(6);
});
