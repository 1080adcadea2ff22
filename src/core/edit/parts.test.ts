import { box, plane } from '../make/primitives';
import { boundsOfMesh } from '../mesh/moved';
import { components, shapeOf, volumeOf } from '../mesh/measure';
import { topologyOf } from '../mesh/topology';
import { ontoForm, partAlong, pushedApart } from './parts';
import { weld } from './weld';

const cube = (n: number) => box({ width: 2, height: 2, depth: 2, cutX: n, cutY: n, cutZ: n, onGround: false }, 1);
/** The side of the box each face is on. */
const sides = (m: ReturnType<typeof cube>) =>
  Float32Array.from({ length: m.faceCount }, (_, f) => {
    for (let k = 0; k < 3; k++)
      for (const s of [-1, 1]) {
        const on = Array.from(m.cornerVertex.subarray(m.faceStart[f], m.faceStart[f + 1]));
        if (on.every((v) => Math.abs(m.positions[3 * v + k] - s) < 1e-6)) return 2 * k + (s > 0 ? 1 : 0);
      }
    return -1;
  });

describe('parted along borders of a value', () => {
  test.each([1, 2, 5])('a box of %i by its sides: six parts, welded it is whole again', (n) => {
    const m = cube(n);
    const out = partAlong(m, sides(m), 1, 9);
    expect(components(out).count).toBe(6);
    expect(Array.from(out.faceKey)).toEqual(Array.from(m.faceKey));
    expect(new Set(out.vertexKey).size).toBe(out.vertexCount);
    // Vertices of the old mesh keep their keys, one part each.
    const keys = new Set(out.vertexKey);
    expect(Array.from(m.vertexKey).every((k) => keys.has(k))).toBe(true);
    const back = weld(out, 1e-6);
    expect([back.vertexCount, shapeOf(back).closed]).toEqual([m.vertexCount, true]);
  });
  test('each face alone, and nothing where all are alike', () => {
    const m = cube(3);
    expect(components(partAlong(m, Float32Array.from(m.faceKey.keys()), 1, 9)).count).toBe(m.faceCount);
    expect(partAlong(m, new Float32Array(m.faceCount), 1, 9)).toBe(m);
  });
  test('values of three numbers differ where one of them does', () => {
    const m = cube(2);
    const values = new Float32Array(3 * m.faceCount);
    values[3 * 4 + 2] = 1;
    expect(components(partAlong(m, values, 3, 9)).count).toBe(2);
  });
  test('a chequered plane: squares that touch in a corner alone let go of it', () => {
    const m = plane({ width: 4, depth: 4, cutX: 4, cutZ: 4 } as never, 1);
    const values = Float32Array.from({ length: 16 }, (_, f) => ((f >> 2) + f) % 2);
    expect(components(partAlong(m, values, 1, 9)).count).toBe(16);
  });
});

test('pushed apart: each part goes straight away from the middle, keeping its form', () => {
  const m = cube(2);
  const parted = partAlong(m, sides(m), 1, 9);
  const out = pushedApart(parted, 0.5, 0);
  expect(boundsOfMesh(out)).toEqual({ min: [-1.5, -1.5, -1.5], max: [1.5, 1.5, 1.5] });
  const shared = pushedApart(parted, 0, 1);
  expect(boundsOfMesh(shared)).toEqual({ min: [-2, -2, -2], max: [2, 2, 2] });
  const { edgeVertex, edgeCount } = topologyOf(out);
  const length = (p: Float32Array, e: number) =>
    Math.hypot(...[0, 1, 2].map((k) => p[3 * edgeVertex[2 * e] + k] - p[3 * edgeVertex[2 * e + 1] + k]));
  for (let e = 0; e < edgeCount; e++) expect(length(out.positions, e)).toBeCloseTo(length(parted.positions, e), 5);
  // A part round the middle itself stays.
  expect(Array.from(pushedApart(m, 1, 1).positions)).toEqual(Array.from(m.positions));
});

describe('brought onto forms of a real size', () => {
  test('a ball: every vertex half a diameter from the middle', () => {
    const out = ontoForm(cube(6), { to: 'ball', axis: 'y', diameter: 0.3, share: 1 });
    for (let v = 0; v < out.vertexCount; v++)
      expect(Math.hypot(...out.positions.subarray(3 * v, 3 * v + 3))).toBeCloseTo(0.15, 6);
    expect(volumeOf(out)).toBeGreaterThan(0.9 * (4 / 3) * Math.PI * 0.15 ** 3);
  });
  test('a cylinder leaves heights, a box comes back from a ball', () => {
    const m = cube(4);
    const round = ontoForm(m, { to: 'cylinder', axis: 'y', diameter: 1, share: 1 });
    for (let v = 0; v < m.vertexCount; v++) expect(round.positions[3 * v + 1]).toBe(m.positions[3 * v + 1]);
    const ball = ontoForm(m, { to: 'ball', axis: 'y', diameter: 3, share: 1 });
    expect(volumeOf(ontoForm(ball, { to: 'box', axis: 'y', diameter: 2, share: 1 }))).toBeCloseTo(8, 4);
  });
  test('half the way is in the middle', () => {
    const m = cube(1);
    const half = ontoForm(m, { to: 'ball', axis: 'y', diameter: 2, share: 0.5 });
    expect(Math.hypot(...half.positions.subarray(0, 3))).toBeCloseTo((Math.sqrt(3) + 1) / 2, 6);
  });
});
