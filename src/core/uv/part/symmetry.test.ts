/** What is alike on both sides is found to be, and is cut alike. */
import { box, cubeSphere } from '../../make/primitives';
import { meshFrom, type Mesh } from '../../mesh/mesh';
import { topologyOf } from '../../mesh/topology';
import { lumpyBall, thrown } from '../../testing/organic';
import { UNWRAPPING } from '../../testing/unwrapping';
import { someOf } from '../../testing/thorough';
import { bordersOf } from '../edits/sheet';
import { uvFigures } from '../measure';
import { mirrorOf } from './symmetry';
import { unwrapMesh, type UnwrapOptions } from '../unwrap';

/** A ball drawn out of shape, alike on both sides of x. */
function creature(cuts: number): Mesh {
  const m = cubeSphere({ radius: 1, cuts }, 3);
  const positions = m.positions.slice();
  for (let v = 0; v < m.vertexCount; v++) {
    const [x, y, z] = m.positions.subarray(3 * v, 3 * v + 3);
    const far = Math.abs(x);
    const r = 1 + 0.3 * Math.sin(4 * y + 2 * z) + 0.5 * far * Math.max(0, z) + 0.2 * Math.cos(5 * far);
    for (let k = 0; k < 3; k++) positions[3 * v + k] *= r;
  }
  return m.with({ positions });
}
const O: UnwrapOptions = { ...UNWRAPPING, symmetric: true };

/** Seams that are cut on one side and not on the other, of those off the plane; and how many seams there are. */
function oneSided(mesh: Mesh, o = O): { alone: number; all: number } {
  const { vertex } = mirrorOf(mesh)!;
  const out = unwrapMesh(mesh, o).mesh;
  const borders = bordersOf(out, out.attributes.uv.data);
  const t = topologyOf(mesh);
  const name = (v: number, w: number): string => `${Math.min(v, w)} ${Math.max(v, w)}`;
  const cut = new Set<string>();
  for (let e = 0; e < t.edgeCount; e++) if (borders[e]) cut.add(name(t.edgeVertex[2 * e], t.edgeVertex[2 * e + 1]));
  let alone = 0;
  for (const e of cut) {
    const [v, w] = e.split(' ').map(Number);
    if (vertex[v] === v && vertex[w] === w) continue;
    if (!cut.has(name(vertex[v], vertex[w]))) alone++;
  }
  return { alone, all: cut.size };
}

test('twins of vertices and faces: each is its twin’s twin, across the plane, and none is missed', () => {
  const m = creature(6);
  const { axis, vertex, face, own } = mirrorOf(m)!;
  expect(axis).toBe(0);
  for (let v = 0; v < m.vertexCount; v++) {
    expect(vertex[vertex[v]]).toBe(v);
    expect(m.positions[3 * vertex[v]]).toBeCloseTo(-m.positions[3 * v], 4);
    expect(m.positions[3 * vertex[v] + 1]).toBeCloseTo(m.positions[3 * v + 1], 4);
  }
  expect([...face].every((g, f) => face[g] === f && own[f] + own[g] === (f === g ? 2 : 1))).toBe(true);
});

test.each([
  ['x', 0],
  ['z', 2],
  ['y', 1],
] as const)('it is found across %s, wherever the piece stands', (_, axis) => {
  const m = creature(4);
  const positions = m.positions.slice();
  for (let v = 0; v < m.vertexCount; v++)
    for (let k = 0; k < 3; k++) positions[3 * v + k] = m.positions[3 * v + ((k - axis + 3) % 3)] + [0.7, -3, 0.2][k];
  expect(mirrorOf(m.with({ positions }))!.axis).toBe(axis);
});

test('what is not alike is taken as it is: a bump on one side, twins in one place, a lump, nothing at all', () => {
  const m = creature(6);
  const positions = m.positions.slice();
  positions[60] += 0.01;
  expect(mirrorOf(m.with({ positions }))).toBeUndefined();
  expect(mirrorOf(lumpyBall(6))).toBeUndefined();
  expect(mirrorOf(meshFrom([], []))).toBeUndefined();
  expect(mirrorOf(meshFrom([0, 0, 0, 0, 0, 0, 0, 0, 0], [[0, 1, 2]]))).toBeUndefined();
  const two = meshFrom(
    [0, 0, 0, 1, 0, 0, 0, 1, 0, 0, 0, 0, -1, 0, 0, 0, 1, 0],
    [
      [0, 1, 2],
      [3, 5, 4],
    ],
  );
  expect(mirrorOf(two)).toBeUndefined();
});

test.each(someOf([6, 10, 16], 1))('of %i cells along a side: cut alike on both sides, sound as ever', (cuts) => {
  const m = creature(cuts);
  const { alone, all } = oneSided(m);
  expect(all).toBeGreaterThan(0);
  expect(alone).toBe(0);
  const { mesh, beyond } = unwrapMesh(m, O);
  const f = uvFigures(mesh, mesh.attributes.uv.data);
  expect(f).toMatchObject({ flips: 0, overlap: 0, outside: 0 });
  expect(beyond).toBeLessThan(0.005);
  const free = unwrapMesh(m, { ...O, symmetric: false });
  expect(f.islands).toBeLessThanOrEqual(2 * free.islands + 2);
});

test('with faces across the plane, and with many separate parts, all of it lies sound', () => {
  for (const m of someOf([creature(7), creature(9)], 1)) {
    const { mesh } = unwrapMesh(m, O);
    expect(uvFigures(mesh, mesh.attributes.uv.data)).toMatchObject({ flips: 0, overlap: 0, outside: 0 });
  }
});

/** A plate with a ragged rim; its two lids are one face each. */
function plate(corners: number, seed: number): Mesh {
  const roll = thrown(seed);
  const rim = Array.from({ length: corners }, (_, i) => {
    const a = (2 * Math.PI * i) / corners;
    const r = 1 + 0.3 * Math.sin(3 * a + seed) + 0.15 * Math.sin(7 * a) + 0.05 * roll();
    return [r * Math.cos(a), r * Math.sin(a)];
  });
  const next = (i: number): number => (i + 1) % corners;
  return meshFrom(
    [0, 0.4].flatMap((z) => rim.flatMap(([x, y]) => [x, y, z])),
    [
      rim.map((_, i) => corners - 1 - i),
      rim.map((_, i) => corners + i),
      ...rim.map((_, i) => [i, next(i), corners + next(i), corners + i]),
    ],
  );
}

test.each([9, 11, 25])(
  'lids of many corners, drawn out by the rim they hang on, are not folded on the other side (%i)',
  (seed) => {
    const { mesh } = unwrapMesh(plate(80, seed), { ...O, seamAngle: Infinity, stretch: 2 });
    expect(uvFigures(mesh, mesh.attributes.uv.data)).toMatchObject({ flips: 0, overlap: 0 });
  },
);

test('seams by hand that are alike are kept so; one that is not makes no other, and all are cut', () => {
  const m = creature(8);
  const t = topologyOf(m);
  const { vertex } = mirrorOf(m)!;
  const twinOf = (e: number): number => {
    const [v, w] = [vertex[t.edgeVertex[2 * e]], vertex[t.edgeVertex[2 * e + 1]]];
    for (let k = 0; k < t.edgeCount; k++)
      if ([v, w].includes(t.edgeVertex[2 * k]) && [v, w].includes(t.edgeVertex[2 * k + 1])) return k;
    return -1;
  };
  const e = Array.from({ length: t.edgeCount }, (_, k) => k).find((k) => twinOf(k) !== k)!;
  const both = new Set([e, twinOf(e)]);
  expect(oneSided(m, { ...O, cut: both }).alone).toBe(0);
  const { mesh } = unwrapMesh(m, { ...O, cut: new Set([e]) });
  expect(uvFigures(mesh, mesh.attributes.uv.data)).toMatchObject({ flips: 0, overlap: 0 });
});

test('a box stays as it was: its sides are not cut along the middle', () => {
  const m = box({ width: 1, height: 2, depth: 3, cutX: 2, cutY: 2, cutZ: 2, onGround: false }, 1);
  expect(unwrapMesh(m, O).islands).toBe(unwrapMesh(m, { ...O, symmetric: false }).islands);
});
