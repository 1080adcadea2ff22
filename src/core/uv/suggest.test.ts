import { box } from '../make/primitives';
import { meshFrom } from '../mesh';
import { UV, type Mesh } from '../mesh/mesh';
import { topologyOf } from '../mesh/topology';
import { animal, lumpyBall } from '../testing/organic';
import { UNWRAPPING } from '../testing/unwrapping';
import { someOf } from '../testing/thorough';
import { uvFigures } from './measure';
import { suggestSeams, type Suggestion } from './suggest';
import { takenTogether } from './together';
import { unwrapMesh, type UnwrapOptions } from './unwrap';

const BASE: UnwrapOptions = { ...UNWRAPPING, stretch: undefined };
const ASK = { hold: new Set<number>(), bound: 1.3, hide: 0.5 };
const islandsOf = (m: Mesh): number => uvFigures(m, m.attributes[UV].data as Float32Array, 64).islands;
const loosely = (mesh: Mesh): Mesh => unwrapMesh(mesh, { ...BASE, stretch: 2.5 }).mesh;

/** What a seam that is cut comes to, by solving anew with nothing but it and the seams that were there. */
function cutAnew(mesh: Mesh, borders: ReadonlySet<number>, s: Suggestion): number {
  const cut = new Set([...borders, ...s.edges]);
  const again = unwrapMesh(mesh, { ...BASE, seamAngle: Math.PI, cut }).mesh;
  return islandsOf(again);
}

function bordersNow(mesh: Mesh): Set<number> {
  const uv = mesh.attributes[UV].data;
  const t = topologyOf(mesh);
  const out = new Set<number>();
  for (let e = 0; e < t.edgeCount; e++) {
    const [a, b] = [t.edgeCorner[t.edgeCornerStart[e]], t.edgeCorner[t.edgeCornerStart[e] + 1]];
    const f = t.cornerFace[a];
    const next = a + 1 === mesh.faceStart[f + 1] ? mesh.faceStart[f] : a + 1;
    const g = t.cornerFace[b];
    const after = b + 1 === mesh.faceStart[g + 1] ? mesh.faceStart[g] : b + 1;
    const same = (p: number, q: number) =>
      Math.abs(uv[2 * p] - uv[2 * q]) + Math.abs(uv[2 * p + 1] - uv[2 * q + 1]) < 2e-6;
    if (!(same(a, after) && same(next, b))) out.add(e);
  }
  return out;
}

const STRETCHED: [string, () => Mesh][] = [
  ['an animal', () => animal(14)],
  ['a lumpy ball', () => lumpyBall(9)],
];
test.each(someOf(STRETCHED, 1))(
  '%s that is stretched too far: each cut gains what it says, and leads from a border to where it is needed',
  (_, make) => {
    const mesh = loosely(make());
    const found = suggestSeams(mesh, ASK);
    const cuts = found.filter((s) => s.kind === 'cut');
    expect(cuts.length).toBeGreaterThan(0);
    const t = topologyOf(mesh);
    const borders = bordersNow(mesh);
    const atBorder = new Set([...borders].flatMap((e) => [t.edgeVertex[2 * e], t.edgeVertex[2 * e + 1]]));
    for (const s of someOf(cuts, 3)) {
      expect(s.before).toBeGreaterThan(ASK.bound);
      expect(s.after).toBeLessThan(s.before);
      expect(s.long).toBeGreaterThan(0);
      // It hangs on what is cut already, else it would open nothing.
      expect(s.edges.some((e) => [0, 1].some((k) => atBorder.has(t.edgeVertex[2 * e + k])))).toBe(true);
      expect(s.edges.every((e) => !borders.has(e))).toBe(true);
      expect(cutAnew(mesh, borders, s)).toBeGreaterThanOrEqual(islandsOf(mesh));
    }
    // The most worthwhile first.
    const worth = cuts.map((s) => (s.before - s.after) / s.long);
    expect(worth).toEqual([...worth].sort((a, b) => b - a));
  },
);

test('a box in six: seams can be closed, and the islands are fewer where they are', () => {
  const mesh = box({ width: 1, height: 1, depth: 1, cutX: 1, cutY: 1, cutZ: 1, onGround: false }, 1);
  const flat = unwrapMesh(mesh, BASE).mesh;
  expect(islandsOf(flat)).toBe(6);
  const closes = suggestSeams(flat, ASK).filter((s) => s.kind === 'close');
  expect(closes.length).toBe(12);
  for (const s of someOf(closes, 2)) {
    expect(s.after).toBeCloseTo(1, 3);
    expect(s.long).toBeCloseTo(1, 5);
    for (const stretch of [0, 1.3])
      expect(islandsOf(unwrapMesh(mesh, { ...BASE, stretch, hold: new Set(s.edges) }).mesh)).toBe(5);
  }
});

test('what can be closed is told to be stretched within the bound that it is closed by, sizes too', () => {
  const flat = unwrapMesh(lumpyBall(9), { ...BASE, stretch: 1.1, fill: 0 }).mesh;
  const bound = 1.4;
  const closes = suggestSeams(flat, { ...ASK, bound }).filter((s) => s.kind === 'close');
  expect(closes.length).toBeGreaterThan(3);
  const most = Math.max(...closes.map((s) => s.after));
  expect(most).toBeLessThan(1.02 * bound);
  // Some come near to it, else this would say nothing of how sizes are told.
  expect(most).toBeGreaterThan(0.8 * bound);
});

test('what is held is not cut, what lies within the bound is let be', () => {
  const mesh = loosely(lumpyBall(8));
  const all = new Set(Array.from({ length: topologyOf(mesh).edgeCount }, (_, e) => e));
  expect(suggestSeams(mesh, { ...ASK, hold: all }).filter((s) => s.kind === 'cut')).toEqual([]);
  expect(suggestSeams(mesh, { ...ASK, bound: 9 }).filter((s) => s.kind === 'cut')).toEqual([]);
});

test('nothing on the sheet, one face, no area: no suggestion and no harm', () => {
  expect(
    suggestSeams(box({ width: 1, height: 1, depth: 1, cutX: 1, cutY: 1, cutZ: 1, onGround: false }, 1), ASK),
  ).toEqual([]);
  for (const points of [
    [0, 0, 0, 1, 0, 0, 0, 1, 0],
    [0, 0, 0, 1, 0, 0, 2, 0, 0],
  ]) {
    const one = unwrapMesh(meshFrom(Float32Array.from(points), [[0, 1, 2]]), BASE).mesh;
    expect(suggestSeams(one, ASK)).toEqual([]);
  }
});

test('of two cuts of one island one is taken', () => {
  const seam = (face: number, kind: 'cut' | 'close') => ({ face, kind });
  expect(takenTogether([seam(1, 'cut'), seam(1, 'cut'), seam(2, 'close'), seam(3, 'cut')])).toEqual([
    seam(1, 'cut'),
    seam(3, 'cut'),
  ]);
});
