/** Lines and faces drawn on surfaces, at random and by hand. */
import fc from 'fast-check';
import { box, cubeSphere, plane } from '../make/primitives';
import { keyOf } from '../math/hash';
import { elementPoint } from '../mesh/elements';
import { areaOf, shapeOf, volumeOf } from '../mesh/measure';
import { meshFrom, type Mesh } from '../mesh/mesh';
import { edgeKeys } from '../mesh/picks';
import { findPlaces, placeNear, type SurfacePlace } from '../mesh/surfaceplace';
import { topologyOf } from '../mesh/topology';
import { schemaOf } from '../recipe/values';
import { closedBody } from '../testing/arbitrary';
import { dice } from '../testing/mutants';
import { problemsOf } from '../testing/valid';
import { animal } from '../testing/zoo';
import { toolDef } from '../tools';
import { drawFace } from './drawface';
import { freeCut } from './freecut';

const id = keyOf('t');
const cube = (n = 1) => box({ width: 2, height: 2, depth: 2, cutX: n, cutY: n, cutZ: n, onGround: false }, id);
type P = [number, number, number];
const unit = fc.double({ min: 0, max: 1, noNaN: true });
/** A place on a mesh: which face, and where between three of its corners, often right on an edge or a vertex. */
const anyPlace = fc.tuple(fc.nat(), unit, unit, fc.constantFrom('face', 'edge', 'vertex', 'any'));
function placeOn(m: Mesh, [n, u, v, kind]: [number, number, number, string]): SurfacePlace {
  const f = n % m.faceCount;
  const [a, b, c] = [0, 1, 2].map((k) => elementPoint(m, 'vertex', m.cornerVertex[m.faceStart[f] + k]));
  const [s, t] = u + v > 1 ? [1 - u, 1 - v] : [u, v];
  return placeNear(m, a.map((x, k) => x + s * (b[k] - x) + t * (c[k] - x)) as P, kind as 'any')!;
}

test('any line over any closed body leaves it closed, of the same kind, area and volume', () => {
  fc.assert(
    fc.property(closedBody, fc.array(anyPlace, { minLength: 2, maxLength: 6 }), fc.boolean(), (m, list, closed) => {
      const told: string[] = [];
      const places = list.map((x) => placeOn(m, x as never));
      let out = m;
      try {
        out = freeCut(m, places, closed, id, (t) => told.push(t));
      } catch (e) {
        expect((e as Error).message).toMatch(/two places/);
      }
      expect(problemsOf(out)).toEqual([]);
      const [a, b] = [shapeOf(m), shapeOf(out)];
      expect([b.openEdges, b.nonManifoldEdges]).toEqual([0, 0]);
      expect(out.faceCount).toBeGreaterThanOrEqual(m.faceCount);
      // A point that parts nothing makes no vertex; all else keeps the number of Euler.
      expect(b.eulerCharacteristic).toBe(a.eulerCharacteristic);
      for (const t of told) expect(t).toMatch(/^[A-Z0-9].*\.$/);
    }),
    { numRuns: 400 },
  );
});

test('straight over flat faces: area and volume to the last digits', () => {
  fc.assert(
    fc.property(fc.array(anyPlace, { minLength: 2, maxLength: 2 }), (list) => {
      const m = cube(3);
      let out = m;
      try {
        out = freeCut(
          m,
          list.map((x) => placeOn(m, x as never)),
          false,
          id,
        );
      } catch (e) {
        expect((e as Error).message).toMatch(/two places/);
      }
      expect(areaOf(out)).toBeCloseTo(24, 4);
      expect(volumeOf(out)).toBeCloseTo(8, 4);
    }),
    { numRuns: 150 },
  );
});

test('from the middle of one edge to that of another, over two faces between', () => {
  const m = plane({ width: 3, depth: 1, cutX: 3, cutZ: 1 }, id);
  const from = placeNear(m, [-1.5, 0, 0.1], 'edge')!;
  const to = placeNear(m, [1.5, 0, -0.1], 'edge')!;
  const out = freeCut(m, [from, to], false, id);
  expect(out.faceCount).toBe(6);
  expect(out.vertexCount).toBe(8 + 4);
  expect(areaOf(out)).toBeCloseTo(3, 6);
});

test('a corner inside a face parts it with a bend; a square inside hangs from nothing and is told', () => {
  const m = plane({ width: 2, depth: 2, cutX: 1, cutZ: 1 }, id);
  const told: string[] = [];
  const bent = freeCut(
    m,
    [placeNear(m, [-1, 0, 0], 'edge')!, placeNear(m, [0.2, 0, 0.3], 'face')!, placeNear(m, [0, 0, -1], 'edge')!],
    false,
    id,
    (t) => told.push(t),
  );
  expect([bent.faceCount, bent.vertexCount, told.length]).toEqual([2, 7, 0]);
  expect(areaOf(bent)).toBeCloseTo(4, 6);
  const square = [[-0.5, -0.5], [0.5, -0.5], [0.5, 0.5], [-0.5, 0.5]].map(([x, z]) => placeNear(m, [x, 0, z], 'face')!); // prettier-ignore
  expect(freeCut(m, square.slice(0, 3), false, id, (t) => told.push(t)).faceCount).toBe(1);
  expect(told.join()).toMatch(/parts? no face/);
  const window = freeCut(m, square, true, id);
  expect([window.faceCount, window.vertexCount, areaOf(window)]).toEqual([3, 8, 4]);
  expect(shapeOf(window).eulerCharacteristic).toBe(1);
});

test('places follow: a cut in the middle of a side is there when the side is longer; what is lost is told', () => {
  const m = cube();
  const places = [placeNear(m, [-1, 1, 0], 'edge')!, placeNear(m, [1, 1, 0], 'edge')!];
  const longer = m.moved(m.positions.map((x, i) => (i % 3 === 2 && x > 0 ? 3 : x)));
  const out = freeCut(longer, places, false, id);
  const z = [...Array(out.vertexCount).keys()]
    .map((v) => elementPoint(out, 'vertex', v)[2])
    .filter((x) => x > -1 && x < 3);
  expect(z).toEqual([1, 1]);
  const other = box({ width: 2, height: 2, depth: 2, cutX: 2, cutY: 2, cutZ: 2, onGround: false }, keyOf('other'));
  expect(() => freeCut(other, places, false, id)).toThrow(/two points on the surface/);
  expect(findPlaces(other, places)).toEqual([undefined, undefined]);
});

test('a drawn face takes the vertices it is clicked on, and looks as its neighbours do', () => {
  const m = cube();
  const rings = [...Array(5).keys()].map((f) => [...m.cornerVertex.subarray(m.faceStart[f], m.faceStart[f + 1])]);
  const open = meshFrom([...m.positions], rings);
  const missing = [...m.cornerVertex.subarray(m.faceStart[5], m.faceStart[6])];
  for (const order of [missing, [...missing].reverse()]) {
    const places = order.map((v) => placeNear(open, elementPoint(open, 'vertex', v), 'vertex')!);
    const out = drawFace(open, places, [0, 0, 0], id);
    expect([shapeOf(out).closed, shapeOf(out).oriented, out.vertexCount]).toEqual([true, true, 8]);
    expect(volumeOf(out)).toBeCloseTo(8, 5);
  }
  const free = [[0, 0, 5], [1, 0, 5], [1, 0, 6]].map((at): SurfacePlace => ({ on: 'free', key: 0, at: at as P })); // prettier-ignore
  const up = drawFace(m, free, [0, 1, 0], id);
  expect(up.faceCount).toBe(7);
  const n = up.faceCount - 1;
  const [a, b, c] = [0, 1, 2].map((k) => elementPoint(up, 'vertex', up.cornerVertex[up.faceStart[n] + k]));
  expect((b[2] - a[2]) * (c[0] - a[0]) - (b[0] - a[0]) * (c[2] - a[2])).toBeGreaterThan(0);
  expect(() => drawFace(m, [free[0], free[0], free[1]], [0, 1, 0], id)).not.toThrow();
  expect(() => drawFace(m, free.slice(0, 2), [0, 1, 0], id)).toThrow(/three corners/);
});

test('on anything nasty they leave a mesh or say why not', () => {
  for (let seed = 1; seed <= 120; seed++) {
    const roll = dice(seed * 7907);
    const { name, mesh } = animal(roll);
    if (mesh.faceCount === 0) continue;
    const places = Array.from({ length: 2 + roll(4) }, () =>
      placeOn(mesh, [roll(1000), roll(100) / 100, roll(100) / 100, ['any', 'face', 'edge', 'vertex'][roll(4)]]),
    );
    for (const run of [
      () => freeCut(mesh, places, roll(2) === 1, id, () => {}),
      () => drawFace(mesh, places, [0, 1, 0], id, () => {}),
    ]) {
      let out: Mesh;
      try {
        out = run();
      } catch (e) {
        expect((e as Error).message).toMatch(/^[A-Z].*\.$/);
        continue;
      }
      expect([name, seed, problemsOf(out)]).toEqual([name, seed, []]);
    }
  }
});

test('a ball cut in two rings: the same keys by the same line', () => {
  const m = cubeSphere({ radius: 1, cuts: 6 }, id);
  const line = [placeNear(m, [0.8, 0.3, 0.5])!, placeNear(m, [-0.7, 0.2, 0.6])!];
  const [a, b] = [freeCut(m, line, false, id), freeCut(m, line, false, id)];
  expect(a.faceKey).toEqual(b.faceKey);
  expect(a.faceCount).toBeGreaterThan(m.faceCount + 4);
  expect(new Set(edgeKeys(a)).size).toBe(topologyOf(a).edgeCount);
});

test('stored lines are checked', () => {
  const schema = schemaOf(toolDef('free-cut')!.values);
  const good = { line: [{ on: 'vertex', key: 5, at: [0, 0, 0] }], closed: false };
  expect(schema.isValidSync(good)).toBe(true);
  for (const bad of [
    { on: 'moon', key: 5, at: [0, 0, 0] },
    { on: 'vertex', key: -1, at: [0, 0, 0] },
    { on: 'edge', key: 1, t: 2, at: [0, 0, 0] },
    { on: 'face', key: 1, at: [0, 0] },
    7,
  ])
    // prettier-ignore
    expect(schema.isValidSync({ ...good, line: [bad] })).toBe(false);
});
