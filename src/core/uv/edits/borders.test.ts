/** Borders brought into shape: they have it exactly, and nothing within them is turned over. */
import { box, cubeSphere } from '../../make/primitives';
import type { Mesh } from '../../mesh/mesh';
import { lumpyBall } from '../../testing/organic';
import { UNWRAPPING, uvOf, withUv } from '../../testing/unwrapping';
import { uvFigures } from '../measure';
import { unwrapMesh } from '../unwrap';
import { editSheet, type EditName } from '.';
import { SheetEdit } from './sheet';

const laid = (mesh: Mesh, cut = new Set<number>()): Mesh => unwrapMesh(mesh, { ...UNWRAPPING, cut }).mesh;

interface Own {
  faces: Uint32Array;
  rim: [number, number][];
  one: boolean;
}
function islandsOf(m: Mesh): Own[] {
  const s = new SheetEdit(m);
  return s.islandsWith(Array.from({ length: m.faceCount }, (_, f) => f)).map((i) => {
    const faces = s.facesOf(i);
    const { patch, at } = s.patchOf(faces);
    const rim = Array.from(patch.rim, (v): [number, number] => [at[2 * v], at[2 * v + 1]]);
    return { faces, rim, one: patch.borders === 1 && patch.euler === 1 };
  });
}
const shaped = (m: Mesh, name: EditName, faces: Iterable<number>): Mesh =>
  withUv(m, editSheet(m, name, { faces: [...faces], edges: [], texels: 1024 }).uv);
const figures = (m: Mesh) => uvFigures(m, uvOf(m));

const SHAPES: readonly (readonly [string, Mesh, boolean])[] = [
  ['a lumpy ball', laid(lumpyBall(12)), false],
  ['a ball', laid(cubeSphere({ radius: 1, cuts: 8 }, 1)), false],
  ['a box', laid(box({ width: 1, height: 2, depth: 3, cutX: 3, cutY: 4, cutZ: 5, onGround: false }, 1)), true],
];

describe.each(SHAPES)('%s', (_, m, regular) => {
  const own = islandsOf(m).filter((i) => i.one);
  test('on a circle: all of the border as far from the middle, as large as it was', () => {
    expect(own.length).toBeGreaterThan(0);
    for (const { faces } of own) {
      const out = shaped(m, 'border on a circle', faces);
      const { rim } = islandsOf(out).find((i) => i.faces[0] === faces[0])!;
      const n = rim.length;
      const [cx, cy] = [0, 1].map((k) => rim.reduce((sum, p) => sum + p[k], 0) / n);
      // The middle of the places is near that of the circle, which three of them give.
      const radii = rim.map(([x, y]) => Math.hypot(x - cx, y - cy));
      expect(Math.max(...radii) / Math.min(...radii)).toBeLessThan(1.5);
      const [ox, oy] = middleOf(rim[0], rim[Math.floor(n / 6) * 2], rim[Math.floor(n / 3) * 2 + 1]);
      const exact = rim.map(([x, y]) => Math.hypot(x - ox, y - oy));
      expect(Math.max(...exact) / Math.min(...exact)).toBeCloseTo(1, 3);
      expect(figures(out).flips).toBe(figures(m).flips);
    }
  });
  test('on a rectangle: all of the border on its four sides, which are level', () => {
    let done = 0;
    for (const { faces } of own) {
      let out: Mesh;
      try {
        out = shaped(m, 'border on a rectangle', faces);
      } catch (e) {
        // A face with all its corners on one side has no room there.
        expect((e as Error).message).toMatch(/^Within such an outline faces would lie on each other/);
        continue;
      }
      done++;
      const { rim } = islandsOf(out).find((i) => i.faces[0] === faces[0])!;
      const [x0, x1] = [Math.min(...rim.map((p) => p[0])), Math.max(...rim.map((p) => p[0]))];
      const [y0, y1] = [Math.min(...rim.map((p) => p[1])), Math.max(...rim.map((p) => p[1]))];
      for (const [x, y] of rim) expect(Math.min(x - x0, x1 - x, y - y0, y1 - y)).toBeLessThan(1e-5);
      expect(figures(out).flips).toBe(figures(m).flips);
    }
    if (regular) expect(done).toBeGreaterThan(0);
  });
});

/** The middle of the circle through three places. */
function middleOf(a: [number, number], b: [number, number], c: [number, number]): [number, number] {
  const d = 2 * (a[0] * (b[1] - c[1]) + b[0] * (c[1] - a[1]) + c[0] * (a[1] - b[1]));
  const q = (p: [number, number]): number => p[0] ** 2 + p[1] ** 2;
  return [
    (q(a) * (b[1] - c[1]) + q(b) * (c[1] - a[1]) + q(c) * (a[1] - b[1])) / d,
    (q(a) * (c[0] - b[0]) + q(b) * (a[0] - c[0]) + q(c) * (b[0] - a[0])) / d,
  ];
}

test('level: what ran nearly across runs exactly so', () => {
  const m = SHAPES[2][1];
  const bent = uvOf(m).slice();
  for (let c = 0; c < bent.length; c += 2) {
    bent[c] += 0.02 * bent[c + 1];
    bent[c + 1] += 0.01 * Math.sin(40 * bent[c]);
  }
  const { faces, rim: before } = islandsOf(withUv(m, bent))[0];
  const off = (rim: [number, number][]): number => {
    let sum = 0;
    for (let i = 0; i < rim.length; i += 2)
      sum += Math.min(Math.abs(rim[i][0] - rim[i + 1][0]), Math.abs(rim[i][1] - rim[i + 1][1]));
    return sum;
  };
  expect(off(before)).toBeGreaterThan(0.01);
  const { rim } = islandsOf(shaped(withUv(m, bent), 'border level', faces))[0];
  expect(off(rim)).toBeLessThan(1e-5);
});

test('what has a hole, or lies round and round, is told in a sentence', () => {
  const tube = laid(box({ width: 1, height: 1, depth: 1, cutX: 3, cutY: 3, cutZ: 3, onGround: false }, 1));
  // All sides sewn to one heap: no disc.
  const heap = withUv(
    tube,
    uvOf(tube).map((_, i) => (tube.cornerVertex[i >> 1] * (i % 2 ? 7 : 13)) % 1.37),
  );
  for (const name of ['border on a circle', 'border on a rectangle', 'border level'] as const)
    expect(() => shaped(heap, name, [0])).toThrow(/^Only an island with one border and no holes/);
});
