import { outlineOf } from './outline';

/** What a rim encloses, by the shoelace formula. */
const enclosed = (points: Float64Array, rim: Uint32Array): number => {
  let twice = 0;
  for (let i = 0; i < rim.length; i += 2) {
    const [a, b] = [2 * rim[i], 2 * rim[i + 1]];
    twice += points[a] * points[b + 1] - points[a + 1] * points[b];
  }
  return twice / 2;
};
/** A square of two triangles. */
const SQUARE = [0, 0, 2, 0, 2, 2, 0, 2];

test('the rim of what lies the same way round is its sides that are not shared', () => {
  const { points, rim, thin } = outlineOf(Float64Array.from(SQUARE), Uint32Array.of(0, 1, 2, 0, 2, 3));
  expect([rim!.length / 2, enclosed(points, rim!), thin]).toEqual([4, 4, false]);
});

test.each([
  ['between two others', [...SQUARE, 1, 1], [0, 1, 4, 1, 2, 4, 0, 4, 2, 0, 2, 3]],
  ['at the rim, along a side', [...SQUARE, 1, 0], [0, 4, 1, 0, 1, 2, 0, 2, 3]],
  ['in one place', SQUARE, [0, 1, 2, 0, 2, 3, 3, 3, 3]],
])('a triangle without area %s leaves the rim what it is', (_, points, triangles) => {
  const found = outlineOf(Float64Array.from(points), Uint32Array.from(triangles));
  expect(found.thin).toBe(true);
  expect(enclosed(found.points, found.rim!)).toBeCloseTo(4, 12);
});

test('what is folded, or all without area, is told by its triangles', () => {
  expect(outlineOf(Float64Array.from(SQUARE), Uint32Array.of(0, 1, 2, 0, 3, 2)).rim).toBeUndefined();
  expect(outlineOf(Float64Array.from([0, 0, 1, 1, 2, 2]), Uint32Array.of(0, 1, 2)).rim).toBeUndefined();
});
