/** Bevels against closed forms of what they take away, and on bodies of every kind. */
import fc from 'fast-check';
import { keyOf } from '../../math/hash';
import { box, cubeSphere, cylinder } from '../../make/primitives';
import { shapeOf, volumeOf } from '../../mesh/measure';
import type { Mesh } from '../../mesh/mesh';
import { topologyOf } from '../../mesh/topology';
import { closedBody, seeds, someOf } from '../../testing/arbitrary';
import { problemsOf } from '../../testing/valid';
import { bevelEdges, type BevelOptions } from './bevel';
import { bevelVertices } from './vertices';

const id = keyOf('b');
const usual: BevelOptions = { width: 0.1, share: 0, segments: 1, shape: 0.5, clamp: true, corner: 'patch' };
const cube = (cuts = 1) =>
  box({ width: 1, height: 1, depth: 1, cutX: cuts, cutY: cuts, cutZ: cuts, onGround: false }, 1);
const allEdges = (m: Mesh) => Array.from({ length: topologyOf(m).edgeCount }, (_, e) => e);
const edgeBetween = (m: Mesh, fits: (p: number[], q: number[]) => boolean): number => {
  const t = topologyOf(m);
  const at = (v: number) => Array.from(m.positions.subarray(3 * v, 3 * v + 3));
  return allEdges(m).find((e) => fits(at(t.edgeVertex[2 * e]), at(t.edgeVertex[2 * e + 1])))!;
};

describe('a cube', () => {
  test('one edge cut off takes a prism', () => {
    const m = cube();
    const out = bevelEdges(m, [0], usual, id);
    expect(problemsOf(out)).toEqual([]);
    expect(shapeOf(out).closed).toBe(true);
    expect([out.vertexCount, out.faceCount]).toEqual([10, 7]);
    expect(volumeOf(out)).toBeCloseTo(1 - (0.1 * 0.1) / 2, 6);
  });
  test('all edges rounded: the volume of a cube rolled round by a ball', () => {
    const w = 0.2;
    const inner = 1 - 2 * w;
    const exact = inner ** 3 + 6 * inner ** 2 * w + 3 * Math.PI * w ** 2 * inner + (4 / 3) * Math.PI * w ** 3;
    for (const segments of [8, 9]) {
      const out = bevelEdges(cube(), allEdges(cube()), { ...usual, width: w, segments }, id);
      expect(problemsOf(out)).toEqual([]);
      const s = shapeOf(out);
      expect([s.closed, s.components]).toEqual([true, 1]);
      expect(Math.abs(volumeOf(out) - exact)).toBeLessThan(0.004);
    }
  });
  test('the round corner lies on its ball within a hundredth of the width', () => {
    const w = 0.2;
    const out = bevelEdges(cube(), allEdges(cube()), { ...usual, width: w, segments: 6 }, id);
    const c = 0.5 - w;
    for (let v = 0; v < out.vertexCount; v++) {
      const p = Array.from(out.positions.subarray(3 * v, 3 * v + 3), Math.abs);
      if (!p.every((x) => x >= c - 1e-6)) continue;
      expect(Math.abs(Math.hypot(...p.map((x) => x - c)) - w)).toBeLessThan(0.01 * w);
    }
  });
  test('with the profile kept sharp, its shape stays: lines beside the edges', () => {
    const out = bevelEdges(cube(), allEdges(cube()), { ...usual, segments: 2, shape: 1 }, id);
    expect(volumeOf(out)).toBeGreaterThan(0.99);
  });
  test('wider than there is room is made as wide as fits, and told', () => {
    const told: string[] = [];
    const out = bevelEdges(cube(), allEdges(cube()), { ...usual, width: 9 }, id, (x) => told.push(x));
    expect(told).toEqual(['There is not so much room: the bevel was made as wide as fits.']);
    expect(problemsOf(out)).toEqual([]);
    expect(volumeOf(out)).toBeGreaterThan(0.1);
  });
  test('a width of nothing is refused in a sentence', () => {
    expect(() => bevelEdges(cube(), [0], { ...usual, width: 0 }, id)).toThrow(/width over 0/);
    expect(() => bevelEdges(cube(), [0], { ...usual, width: -1 }, id)).toThrow(/width over 0/);
  });
  test('half of the room is half as wide as all of it', () => {
    const whole = bevelEdges(cube(), [0], { ...usual, share: 1, clamp: false }, id);
    const half = bevelEdges(cube(), [0], { ...usual, share: 0.5 }, id);
    expect(1 - volumeOf(half)).toBeCloseTo((1 - volumeOf(whole)) / 4, 5);
  });
});

test('a bevel that ends amid a grid ends in a small face, and nothing cracks', () => {
  const m = cube(3);
  const e = edgeBetween(m, (p, q) => Math.abs(p[1] - 0.5) < 1e-6 && Math.abs(q[1] - 0.5) < 1e-6);
  const out = bevelEdges(m, [e], { ...usual, width: 0.05, segments: 3 }, id);
  expect(problemsOf(out)).toEqual([]);
  expect(shapeOf(out).closed).toBe(true);
});

test('the rim of a cylinder: one strip all round', () => {
  const m = cylinder({ radius: 1, topRadius: 1, height: 2, sides: 12, rows: 1, cap: 'polygon', onGround: true }, 1);
  const t = topologyOf(m);
  const rim = allEdges(m).filter((e) => [0, 1].every((k) => m.positions[3 * t.edgeVertex[2 * e + k] + 1] > 1.99));
  const out = bevelEdges(m, rim, { ...usual, segments: 4 }, id);
  expect(problemsOf(out)).toEqual([]);
  expect(out.faceCount).toBe(m.faceCount + 4 * 12);
  expect(shapeOf(out).closed).toBe(true);
});

test('UVs go on over the strip: nothing is stretched to another place of the sheet', () => {
  const m = cube(2);
  const uv = new Float32Array(2 * m.cornerCount);
  for (let c = 0; c < m.cornerCount; c++)
    uv.set([m.positions[3 * m.cornerVertex[c]], m.positions[3 * m.cornerVertex[c] + 2]], 2 * c);
  const e = edgeBetween(m, (p, q) => [p, q].every((x) => x[1] > 0.49 && Math.abs(x[0]) < 1e-6));
  const charted = m.withAttribute('uv', { domain: 'corner', width: 2, data: uv });
  const out = bevelEdges(charted, [e], { ...usual, width: 0.1 }, id);
  const data = out.attributes.uv.data;
  for (let c = 0; c < out.cornerCount; c++) {
    const v = out.cornerVertex[c];
    if (out.positions[3 * v + 1] < 0.49) continue;
    expect(data[2 * c]).toBeCloseTo(out.positions[3 * v], 5);
    expect(data[2 * c + 1]).toBeCloseTo(out.positions[3 * v + 2], 5);
  }
});

test('closed bodies stay closed and of one kind, whatever edges are picked and however they are cut', () => {
  fc.assert(
    fc.property(
      closedBody,
      seeds,
      fc.integer({ min: 1, max: 5 }),
      fc.constantFrom(0, 0.5, 1),
      fc.constantFrom('patch' as const, 'flat' as const),
      (m, s, segments, shape, corner) => {
        const before = shapeOf(m);
        const some = someOf(topologyOf(m).edgeCount, s);
        const out = bevelEdges(m, some, { ...usual, width: 0.03, segments, shape, corner }, id);
        expect(problemsOf(out)).toEqual([]);
        const after = shapeOf(out);
        expect([after.closed, after.components]).toEqual([before.closed, before.components]);
        expect(euler(out)).toBe(euler(m));
        // Convex bodies lose what is cut off, and no more than a strip of the width's square along each edge.
        expect(volumeOf(out)).toBeLessThan(volumeOf(m) + 1e-3);
        expect(volumeOf(out)).toBeGreaterThan(volumeOf(m) * 0.9);
      },
    ),
    { numRuns: 250 },
  );
});

test('vertices cut off: closed stays closed', () => {
  fc.assert(
    fc.property(closedBody, seeds, fc.constantFrom(0, 0.4), (m, s, round) => {
      const out = bevelVertices(m, someOf(m.vertexCount, s), 0.05, round, id);
      expect(problemsOf(out)).toEqual([]);
      expect(shapeOf(out).closed).toBe(true);
      expect(euler(out)).toBe(euler(m));
    }),
    { numRuns: 120 },
  );
});

test('a cube with its corners cut at a third is what the ancients called truncated', () => {
  const m = cube();
  const out = bevelVertices(m, [0, 1, 2, 3, 4, 5, 6, 7], 0.25, 0, id);
  expect([out.vertexCount, out.faceCount]).toEqual([24, 14]);
  expect(volumeOf(out)).toBeCloseTo(1 - 8 * (0.25 ** 3 / 6), 6);
});

test('the same keys when an earlier move shifts vertices, and others beside do not change names', () => {
  const m = cube(2);
  const one = bevelEdges(m, [3], usual, id);
  const moved = bevelEdges(m.moved(m.positions.map((x) => x * 1.5)), [3], usual, id);
  expect(moved.faceKey).toEqual(one.faceKey);
  expect(moved.vertexKey).toEqual(one.vertexKey);
});

test('a ball bevelled everywhere', () => {
  const m = cubeSphere({ radius: 1, cuts: 4 }, 1);
  const out = bevelEdges(m, allEdges(m), { ...usual, width: 0.02, segments: 2 }, id);
  expect(problemsOf(out)).toEqual([]);
  expect(shapeOf(out).closed).toBe(true);
});

const euler = (m: Mesh) => m.vertexCount - topologyOf(m).edgeCount + m.faceCount;
