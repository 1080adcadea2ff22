import fc from 'fast-check';
import { firstDifference } from '../testing/arrays';
import { detach } from '../edit/detach';
import { extrude } from '../edit/extrude';
import { mergeMeshes } from '../edit/merge';
import { mirrorMesh } from '../edit/mirror';
import { weld } from '../edit/weld';
import { box } from '../make/primitives';
import { edgeKey, key2 } from '../math/hash';
import { elementsBy } from '../rules';
import { subdivide } from '../subdivide/catmullclark';
import { closedBody } from '../testing/arbitrary';
import { dice } from '../testing/mutants';
import { animal } from '../testing/zoo';
import { toolDefs } from '../tools';
import { complete } from '../recipe/values';
import { cornerNormals } from './normals';
import { ALWAYS, marked, marksNow, marksOf } from './marks';
import type { Mesh } from './mesh';
import { edgeKeys } from './picks';
import { topologyOf } from './topology';
import { areaOf, volumeOf } from './measure';

const cut = (n: number) => box({ width: 2, height: 2, depth: 2, cutX: n, cutY: n, cutZ: n, onGround: false }, 1);
const cube = cut(1);
const count = (m: Mesh) => marksOf(m, 'crease')?.reduce((n, w) => n + (w > 0 ? 1 : 0), 0) ?? 0;
/** The edge between two places. */
function edgeAt(m: Mesh, a: readonly number[], b: readonly number[]): number {
  const { edgeVertex } = topologyOf(m);
  const is = (v: number, p: readonly number[]) => p.every((x, k) => Math.abs(m.positions[3 * v + k] - x) < 1e-6);
  return Array.from(edgeKeys(m), (_, e) => e).findIndex((e) => {
    const [v, w] = [edgeVertex[2 * e], edgeVertex[2 * e + 1]];
    return (is(v, a) && is(w, b)) || (is(v, b) && is(w, a));
  });
}
const upright = edgeAt(cube, [1, -1, 1], [1, 1, 1]);

test('said, said otherwise, taken away', () => {
  const once = marked(cube, 'crease', [upright, 0], 2.5);
  expect(count(once)).toBe(2);
  expect(marksOf(once, 'crease')![upright]).toBe(2.5);
  expect(marksOf(once, 'hard')).toBeUndefined();
  const twice = marked(once, 'crease', [0], 0);
  expect([...elementsBy(twice, 'edge', { id: 'creased', values: { least: 2 } })]).toEqual([upright]);
  expect(count(marked(twice, 'crease', [upright], 0))).toBe(0);
  expect(marksOf(cube, 'crease')).toBeUndefined();
});

test('a crease of an edge holds in a subdivision as one of the step does, each as sharp as it is said', () => {
  fc.assert(
    fc.property(
      closedBody,
      fc.array(fc.tuple(fc.nat(40), fc.constantFrom(0.5, 1, 2, ALWAYS)), { maxLength: 6 }),
      (m, list) => {
        const keys = edgeKeys(m);
        const creases = new Map<number, number>();
        let said: Mesh = m;
        for (const [i, w] of list) {
          const e = i % keys.length;
          said = marked(said, 'crease', [e], w);
          creases.set(keys[e], w >= ALWAYS ? Infinity : w);
        }
        const a = subdivide(said, { levels: 2 });
        const b = subdivide(m, { levels: 2, creases });
        expect(firstDifference(a.positions, b.positions)).toBe(-1);
        // Once and once more is twice.
        const again = subdivide(subdivide(said, { levels: 1 }), { levels: 1 });
        expect(volumeOf(again)).toBeCloseTo(volumeOf(a), 4);
        expect(areaOf(again)).toBeCloseTo(areaOf(a), 4);
      },
    ),
    { numRuns: 40 },
  );
});

test('a split edge leaves it to its parts, a copy has it too', () => {
  const said = marked(cube, 'crease', [upright], ALWAYS);
  for (const n of [1, 2]) expect(count(subdivide(said, { levels: n, flat: true }))).toBe(2 ** n);
  expect(count(mirrorMesh(said, { axis: 'z', keep: 'positive', weld: 0.001, clip: true }, 5))).toBe(2);
  expect(
    count(
      mergeMeshes([
        { mesh: said, name: 'a' },
        { mesh: said, name: 'b', seed: 4 },
        { mesh: cube, name: 'c', seed: 6 },
      ]),
    ),
  ).toBe(2);
  const t = topologyOf(said);
  const face = t.cornerFace[t.edgeCorner[t.edgeCornerStart[upright]]];
  expect(count(detach(said, Uint32Array.of(face), false, 3))).toBe(2);
  const drawn = extrude(said, Uint32Array.of(face), { by: 1, along: 'normals', inset: 0, each: false }, 9);
  expect(count(drawn)).toBe(2);
});

test('what is welded keeps it', () => {
  const two = cut(2);
  const low = edgeAt(two, [1, -1, 1], [1, 0, 1]);
  const high = edgeAt(two, [1, 0, 1], [1, 1, 1]);
  const said = marked(two, 'crease', [low, high], 3);
  const welded = weld(
    mergeMeshes([
      { mesh: said, name: 'a' },
      { mesh: said, name: 'b', seed: key2(1, 2) },
    ]),
    0.001,
  );
  expect(count(welded)).toBe(2);
  expect(marksOf(welded, 'crease')!.filter((w) => w > 0)).toEqual(Float32Array.of(3, 3));
});

test('every tool on any nasty mesh: marks stay numbers of edges that are there', () => {
  const tools = toolDefs();
  for (let seed = 1; seed <= 150; seed++) {
    const roll = dice(seed * 7919);
    const { mesh } = animal(roll);
    const edges = topologyOf(mesh).edgeCount;
    if (edges === 0) continue;
    const said = marked(mesh, 'crease', [roll(edges), roll(edges)], 2);
    const def = tools[roll(tools.length)];
    if (!def.picks.includes('face') || mesh.faceCount === 0) continue;
    let made: Mesh;
    try {
      made = def.run(
        said,
        { kind: 'face', indices: Uint32Array.of(roll(mesh.faceCount)) },
        complete(def.values, {}) as never,
        seed,
      );
    } catch {
      continue;
    }
    const there = new Set(edgeKeys(made));
    const now = marksNow(made).crease ?? new Map<number, number>();
    for (const [key, w] of now) expect([seed, there.has(key), w]).toEqual([seed, true, 2]);
    // What was not touched has it still.
    const t = topologyOf(said);
    const before = marksOf(said, 'crease')!;
    for (let e = 0; e < edges; e++) {
      const key = edgeKey(said.vertexKey[t.edgeVertex[2 * e]], said.vertexKey[t.edgeVertex[2 * e + 1]]);
      if (before[e] > 0 && there.has(key) && def.id !== 'crease') expect([def.id, now.get(key)]).toEqual([def.id, 2]);
    }
  }
});

test('shading breaks at hard edges whatever they bend by, and never at soft ones', () => {
  const flat = cut(2);
  const e = edgeAt(flat, [0, 0, 1], [0, 1, 1]);
  expect(cornerNormals(marked(flat, 'hard', [e], 1), 1)).toEqual(cornerNormals(flat, 1));
  const sharp = cornerNormals(cube, 3);
  const all = Array.from(edgeKeys(cube), (_, i) => i);
  expect(cornerNormals(marked(cube, 'hard', all, 1), 3)).toEqual(cornerNormals(cube, 0));
  expect(cornerNormals(marked(cube, 'hard', all, -1), 0)).toEqual(sharp);
});

test('UVs of a subdivision: smoothed inside with borders kept, or with them; divided alike where they are affine', () => {
  const sheet = box({ width: 2, height: 2, depth: 2, cutX: 2, cutY: 2, cutZ: 2, onGround: false }, 1);
  // Each side of the box an island of its own: a corner's place on it by the two axes it spans.
  const data = new Float32Array(2 * sheet.cornerCount);
  for (let f = 0; f < sheet.faceCount; f++) {
    const ring = Array.from({ length: 4 }, (_, k) => sheet.cornerVertex[sheet.faceStart[f] + k]);
    const flatAxis = [0, 1, 2].find((k) =>
      ring.every((v) => sheet.positions[3 * v + k] === sheet.positions[3 * ring[0] + k]),
    )!;
    const sign = sheet.positions[3 * ring[0] + flatAxis];
    const [u, w] = [0, 1, 2].filter((k) => k !== flatAxis);
    ring.forEach((v, k) => {
      data[2 * (4 * f + k)] = sheet.positions[3 * v + u] + 10 * flatAxis + 30 * sign;
      data[2 * (4 * f + k) + 1] = sheet.positions[3 * v + w];
    });
  }
  const m = sheet.withAttribute('uv', { domain: 'corner', width: 2, data });
  const uv = (how: 'divided' | 'inside' | 'all') => subdivide(m, { levels: 2, uv: how }).attributes.uv.data;
  const [divided, inside, all] = [uv('divided'), uv('inside'), uv('all')];
  // An even grid is its own smooth surface inside; only the borders are drawn in.
  const far = (a: ArrayLike<number>) => Math.max(...Array.from(a, (x, i) => Math.abs(x - divided[i])));
  expect(far(inside)).toBeLessThan(1e-5);
  expect(far(all)).toBeGreaterThan(0.1);
  // The border of an island becomes the curve that an open border of such a surface would.
  const lone = box({ width: 2, height: 2, depth: 2, cutX: 2, cutY: 2, cutZ: 2, onGround: false }, 1);
  expect(lone.faceCount).toBe(24);
  const span = (a: ArrayLike<number>) => Math.max(...Array.from(a, (x, i) => (i % 2 ? x : -9)));
  expect(span(all)).toBeCloseTo(1, 2);
  expect(volumeOf(subdivide(m, { levels: 2, uv: 'all' }))).toBe(volumeOf(subdivide(m, { levels: 2 })));
});
