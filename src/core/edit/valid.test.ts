/** Whatever is welded, drawn out, cut or refined, on whatever nasty mesh: every result is a mesh. */
import fc from 'fast-check';
import { keyOf } from '../math/hash';
import { meshFrom, type Mesh } from '../mesh/mesh';
import { countOf } from '../mesh/picks';
import { subdivide } from '../subdivide/catmullclark';
import { someOf } from '../testing/arbitrary';
import { extrude } from './extrude';
import { loopCut } from './loopcut';
import { mirrorMesh } from './mirror';
import { weld } from './weld';

/** Indices in range, no vertex twice in a face, three corners at least, numbers finite, keys unique, attributes as long as what they are of. */
function problemsOf(mesh: Mesh): string[] {
  const out: string[] = [];
  for (let f = 0; f < mesh.faceCount; f++) {
    const ring = [...mesh.cornerVertex.subarray(mesh.faceStart[f], mesh.faceStart[f + 1])];
    if (ring.length < 3) out.push(`face ${f} has ${ring.length} corners`);
    if (new Set(ring).size !== ring.length) out.push(`face ${f} passes a vertex twice: ${ring.join(' ')}`);
    if (ring.some((v) => v >= mesh.vertexCount)) out.push(`face ${f} leaves the mesh`);
  }
  if (!mesh.positions.every(Number.isFinite)) out.push('a place is not finite');
  if (new Set(mesh.vertexKey).size !== mesh.vertexCount) out.push('two vertices share a key');
  if (new Set(mesh.faceKey).size !== mesh.faceCount) out.push('two faces share a key');
  const size = { vertex: mesh.vertexCount, face: mesh.faceCount, corner: mesh.cornerCount };
  for (const [name, a] of Object.entries(mesh.attributes))
    if (a.data.length !== size[a.domain] * a.width) out.push(`${name} is as long as something else`);
  return out;
}

/** Soup: few vertices, some at one place, faces of three to six of them in any order, so that edges have many faces and fans meet. */
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
