/** Whatever is welded, drawn out, cut or refined, on whatever nasty mesh: every result is a mesh. */
import fc from 'fast-check';
import { keyOf } from '../math/hash';
import { meshFrom, type Mesh } from '../mesh/mesh';
import { countOf } from '../mesh/picks';
import { subdivide } from '../subdivide/catmullclark';
import { box } from '../make/primitives';
import { someOf } from '../testing/arbitrary';
import { dice } from '../testing/mutants';
import { problemsOf } from '../testing/valid';
import { animal } from '../testing/zoo';
import { extrude } from './extrude';
import { fill } from './fill';
import { loopCut } from './loopcut';
import { mirrorMesh } from './mirror';
import { weld } from './weld';

/**
 * Soup: few vertices, some at one place, faces of three to six of them in any order, so that edges have many faces and
 * fans meet.
 */
const soup: fc.Arbitrary<Mesh> = fc
  .record({
    places: fc.array(
      fc.tuple(fc.integer({ min: -2, max: 2 }), fc.integer({ min: -2, max: 2 }), fc.integer({ min: -2, max: 2 })),
      {
        minLength: 4,
        maxLength: 12,
      },
    ),
    faces: fc.array(fc.uniqueArray(fc.nat(11), { minLength: 3, maxLength: 6 }), { minLength: 1, maxLength: 10 }),
    scale: fc.constantFrom(1, 0.02, 1e6, 1e-6),
  })
  .map(({ places, faces, scale }) => {
    const n = places.length;
    const fit = faces.map((ring) => [...new Set(ring.map((v) => v % n))]).filter((ring) => ring.length >= 3);
    return meshFrom(
      places.flat().map((x) => x * scale),
      fit.length > 0 ? fit : [[0, 1, 2]],
    );
  });

test('a rhombus whose ends meet is gone, not a face that passes a vertex twice', () => {
  const rhombus = meshFrom([0, 0, 0.01, -1, 0, 0, 0, 0, -0.01, 1, 0, 0], [[0, 1, 2, 3]]);
  expect(weld(rhombus, 0.05).faceCount).toBe(0);
});

test('a figure of eight falls into two faces', () => {
  const eight = meshFrom([0, 0, 0, 2, 0, 0, 2, 2, 0, 0.01, 0, 0, -2, 1, 0, -2, 0, 0], [[0, 1, 2, 3, 4, 5]]);
  const out = weld(eight, 0.05);
  expect(out.faceCount).toBe(2);
  expect(problemsOf(out)).toEqual([]);
});

test('a book of three pages drawn out has walls with keys of their own', () => {
  const book = meshFrom(
    [0, 0, 0, 0, 1, 0, 1, 0, 0, 1, 1, 0, 0, 0, 1, 0, 1, 1, -1, 0, 0, -1, 1, 0],
    [
      [0, 1, 3, 2],
      [0, 1, 5, 4],
      [0, 1, 7, 6],
    ],
  );
  const out = extrude(book, [0, 1, 2], { by: 0.1, along: 'normals', each: false, inset: 0 }, keyOf('x'));
  expect(problemsOf(out)).toEqual([]);
});

const numbers = fc.array(fc.nat(1000), { minLength: 1, maxLength: 5 });
const tools: [string, (mesh: Mesh, seeds: readonly number[]) => Mesh][] = [
  ['welded', (m) => weld(m, m.positions.reduce((a, b) => Math.max(a, Math.abs(b)), 0) * 0.6)],
  ['welded closely', (m) => weld(m, 0)],
  [
    'drawn out',
    (m, s) => extrude(m, someOf(m.faceCount, s), { by: 0.1, along: 'normals', each: false, inset: 0.01 }, 1),
  ],
  ['drawn out each', (m, s) => extrude(m, someOf(m.faceCount, s), { by: 0.1, along: 'x', each: true, inset: 0 }, 2)],
  ['cut', (m, s) => loopCut(m, someOf(countOf(m, 'edge'), s), { count: 2, slide: 0.2 }, 3)],
  ['mirrored', (m) => mirrorMesh(m, { axis: 'x', keep: 'positive', weld: 0.001, clip: true }, 4)],
  ['refined', (m) => subdivide(m, { levels: 1 })],
];

test.each(tools)('soup %s is a mesh', (_, run) => {
  fc.assert(
    fc.property(soup, numbers, (mesh, seeds) => {
      expect(problemsOf(run(mesh, seeds))).toEqual([]);
    }),
    { numRuns: 150 },
  );
});

test.each(tools)('soup welded, then %s, is a mesh', (_, run) => {
  fc.assert(
    fc.property(soup, numbers, (mesh, seeds) => {
      const welded = weld(mesh, 0);
      if (welded.faceCount === 0) return;
      expect(problemsOf(run(welded, seeds))).toEqual([]);
    }),
    { numRuns: 150 },
  );
});

test('an edge laid anew where one was halved before has a middle of its own when it is refined again', () => {
  const sheet = meshFrom([0, 0, 0, 1, 0, 0, 1, 0, 1, 0, 0, 1], [[0, 1, 2, 3]]);
  const fine = subdivide(sheet, { levels: 1 });
  const corners = sheet.vertexKey.subarray(0, 3).map((k) => fine.vertexKey.indexOf(k));
  const filled = fill(fine, 'vertex', corners, keyOf('f'));
  expect(filled.faceCount).toBe(5);
  expect(problemsOf(subdivide(filled, { levels: 2 }))).toEqual([]);
});

test('cuts that multiply beyond all use are refused in a sentence', () => {
  const block = box({ width: 1, height: 1, depth: 1, cutX: 60, cutY: 60, cutZ: 60, onGround: true }, 1);
  expect(() => loopCut(block, [0], { count: 20000, slide: 0 }, 1)).toThrow(/million faces; ask for fewer/);
});

test('a wander through the zoo leaves a mesh after every move', () => {
  fc.assert(
    fc.property(fc.integer({ min: 1, max: 1 << 30 }), numbers, (seed, seeds) => {
      const { name, mesh } = animal(dice(seed));
      expect([name, problemsOf(mesh)]).toEqual([name, []]);
      for (const [what, run] of tools) expect([name, what, problemsOf(run(mesh, seeds))]).toEqual([name, what, []]);
    }),
    { numRuns: 200 },
  );
});
