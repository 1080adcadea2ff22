/** Surfaces of which faces lie doubled: leaves and cloths made of both their sides, and what came in twice. */
import { box } from '../make/primitives';
import { meshFrom, type Mesh } from '../mesh/mesh';
import { topologyOf } from '../mesh/topology';
import { animal, lumpyBall } from '../testing/organic';
import { UNWRAPPING, uvOf } from '../testing/unwrapping';
import { someOf } from '../testing/thorough';
import { bordersOf, SheetEdit } from './edits/sheet';
import { relaxedLive } from './edits/relaxlive';
import { layersApart } from './layers';
import { islandsOf, uvFigures } from './measure';
import { suggestSeams } from './suggest';
import { unwrapMesh } from './unwrap';

type Ring = number[];
const rings = (m: Mesh): Ring[] =>
  Array.from({ length: m.faceCount }, (_, f) => [...m.cornerVertex.subarray(m.faceStart[f], m.faceStart[f + 1])]);
const turned = (ring: Ring): Ring => [...ring].reverse();
const made = (m: Mesh, faces: readonly Ring[]): Mesh => meshFrom(m.positions, faces, 3);

const ball = lumpyBall(8);
const WAYS: [string, (m: Mesh) => Mesh, number][] = [
  ['both its sides, one after the other', (m) => made(m, [...rings(m), ...rings(m).map(turned)]), 2],
  [
    'both its sides, face by face',
    (m) =>
      made(
        m,
        rings(m).flatMap((r) => [r, turned(r)]),
      ),
    2,
  ],
  [
    'now one side first, now the other',
    (m) =>
      made(
        m,
        rings(m).flatMap((r, f) => (f % 3 ? [r, turned(r)] : [turned(r), r])),
      ),
    2,
  ],
  ['the same side twice', (m) => made(m, [...rings(m), ...rings(m)]), 2],
  [
    'four layers, from other corners on',
    (m) =>
      made(
        m,
        rings(m).flatMap((r) => [r, turned(r), [...r.slice(1), r[0]], turned([...r.slice(1), r[0]])]),
      ),
    4,
  ],
];

test.each(someOf(WAYS, 2))('%s: as few islands for each layer as for one, and sound', (_, double, layers) => {
  // What is cut for a fuller sheet hangs on how many there are.
  const alone = unwrapMesh(ball, { ...UNWRAPPING, fill: 0 }).islands;
  const mesh = double(ball);
  const out = unwrapMesh(mesh, { ...UNWRAPPING, fill: 0 });
  expect(out.mesh.cornerVertex).toEqual(mesh.cornerVertex);
  const found = uvFigures(out.mesh, uvOf(out.mesh), 512);
  expect(found).toMatchObject({ flips: 0, overlap: 0, outside: 0, islands: out.islands });
  // Neither side is cut like the other to the last face, for it looks another way.
  expect(out.islands).toBeLessThanOrEqual(layers * (alone + 2));
});

test('some faces that came in twice lie apart, and leave the others as they are', () => {
  const list = rings(ball);
  const twice = list.filter((__, f) => f % 17 === 0);
  const out = unwrapMesh(made(ball, [...list, ...twice]), UNWRAPPING);
  const alone = unwrapMesh(ball, UNWRAPPING).islands;
  expect(uvFigures(out.mesh, uvOf(out.mesh), 512)).toMatchObject({ flips: 0, overlap: 0, outside: 0 });
  expect(out.islands).toBeLessThanOrEqual(alone + twice.length + 1);
  const { ofFace } = islandsOf(out.mesh, uvOf(out.mesh));
  const large = new Set(ofFace.subarray(0, list.length));
  expect(large.size).toBeLessThanOrEqual(alone + 2);
  for (let f = list.length; f < out.mesh.faceCount; f++) expect(large.has(ofFace[f])).toBe(false);
});

test('nothing is told apart where nothing lies doubled: edges that three faces share are seams as ever', () => {
  expect(layersApart(ball)).toBeUndefined();
  const fin = meshFrom(
    [0, 0, 0, 0, 1, 0, 1, 0, 0, 0, 0, 1, -1, 0, 0],
    [
      [0, 1, 2],
      [1, 0, 3],
      [0, 1, 4],
    ],
  );
  expect(layersApart(fin)).toBeUndefined();
  // With one of the three doubled they still meet at one edge, and the other layer by itself.
  const more = meshFrom(fin.positions, [...rings(fin), turned(rings(fin)[2])]);
  const { mesh } = layersApart(more)!;
  const t = topologyOf(mesh);
  const valences = Array.from({ length: t.edgeCount }, (_, e) => t.edgeCornerStart[e + 1] - t.edgeCornerStart[e]);
  expect(valences.sort()).toEqual([...Array<number>(9).fill(1), 3]);
});

test('a seam of the given surface is one in every layer', () => {
  const crate = box({ width: 1, height: 1, depth: 1, cutX: 2, cutY: 2, cutZ: 2, onGround: false }, 1);
  const both = WAYS[1][1](crate);
  const t = topologyOf(both);
  const cut = new Set(Array.from({ length: t.edgeCount }, (_, e) => e));
  const held = unwrapMesh(both, { ...UNWRAPPING, hold: cut });
  const parted = unwrapMesh(both, { ...UNWRAPPING, cut });
  expect(parted.islands).toBe(both.faceCount);
  expect(held.islands).toBeLessThan(both.faceCount / 2);
  expect(layersApart(both)!.edges(cut).size).toBe(2 * t.edgeCount);
});

test('relaxed, nothing of either layer is torn; and suggestions leave what they share alone', () => {
  const { mesh } = unwrapMesh(WAYS[2][1](animal(8)), UNWRAPPING);
  const uv = uvOf(mesh);
  const before = islandsOf(mesh, uv).count;
  const sheet = new SheetEdit(mesh);
  expect(new Set(sheet.of).size).toBe(before);
  const faces = Array.from({ length: mesh.faceCount }, (_, f) => f);
  const out = relaxedLive(mesh, {
    ...{ faces, held: [], border: false, lengths: 0.5, rounds: 6 },
    ...{ stop: () => false, better: () => undefined },
  });
  expect(out.rounds).toBeGreaterThan(0);
  expect(islandsOf(mesh, out.uv).count).toBe(before);
  expect(uvFigures(mesh, out.uv, 256).flips).toBe(0);
  // An edge within both layers is no border, one that is within one of them alone is.
  const borders = bordersOf(mesh, uv);
  expect(borders.some((x) => x === 0)).toBe(true);
  expect(() => suggestSeams(mesh, { hide: 0.5, bound: 1.3 } as Parameters<typeof suggestSeams>[1])).not.toThrow();
});
