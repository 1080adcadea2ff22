import fc from 'fast-check';
import { transformVertices } from '../edit/transform';
import { mergeMeshes } from '../edit/merge';
import { compose, rotation, translation } from '../math/affine';
import { box, cubeSphere } from '../make/primitives';
import { closedBody } from '../testing/arbitrary';
import { selfCrossings } from './crossings';
import { meshFrom, type Mesh } from './mesh';

const both = (...parts: Mesh[]) => mergeMeshes(parts.map((mesh, i) => ({ mesh, name: `${i}`, seed: i + 1 })));
const cube = box({ width: 1, height: 1, depth: 1, cutX: 1, cutY: 1, cutZ: 1, onGround: false }, 1);
const at = (x: number, y: number, z: number, turn = 0) =>
  transformVertices(cube, compose(translation(x, y, z), rotation('y', turn)));

test('a body that does not pass through itself has none, wherever it stands', () => {
  fc.assert(
    fc.property(closedBody, fc.double({ min: 0, max: 6, noNaN: true }), (body, turn) => {
      expect(selfCrossings(transformVertices(body, compose(rotation('x', turn), rotation('z', turn / 2))))).toBe(0);
    }),
    { numRuns: 100 },
  );
});

test('a rod through a wall crosses it with as many faces as it has sides; one that only touches does not', () => {
  const wall = meshFrom([0, -2, -2, 0, 2, -2, 0, 2, 2, 0, -2, 2], [[0, 1, 2, 3]]);
  const rod = transformVertices(cube, [3, 0, 0, 0, 0, 0.5, 0.1, 0.03, 0, 0, 0.5, 0.07]);
  expect(selfCrossings(both(wall, rod))).toBe(4);
  expect(selfCrossings(both(wall, transformVertices(cube, translation(0.5, 0, 0))))).toBe(0);
  expect(selfCrossings(both(wall, transformVertices(cube, translation(0.75, 0, 0))))).toBe(0);
});

test('two cubes, one turned into the other; two side by side, on one another, or far', () => {
  expect(selfCrossings(both(at(0, 0, 0), at(0.3, 0.2, 0.1, 0.5)))).toBeGreaterThan(5);
  expect(selfCrossings(both(at(0, 0, 0), at(1, 0, 0)))).toBe(0);
  expect(selfCrossings(both(at(0, 0, 0), at(0, 0, 0)))).toBe(0);
  expect(selfCrossings(both(at(0, 0, 0), at(5, 0, 0)))).toBe(0);
});

test('faces that share one vertex may cross too', () => {
  const m = meshFrom(
    [0, 0, 0, 2, 0, 0, 0, 2, 0, 1, 0.4, -1, 0.4, 1, 1],
    [
      [0, 1, 2],
      [0, 3, 4],
    ],
  );
  expect(selfCrossings(m)).toBe(1);
});

test('the same as holding every pair against one another', () => {
  fc.assert(
    fc.property(fc.array(fc.tuple(fc.nat(40), fc.nat(40), fc.nat(40)), { minLength: 6, maxLength: 60 }), (points) => {
      const fit = points.slice(0, points.length - (points.length % 3));
      const p = fit.flat().map((x, i) => x / 7 + (i % 11) / 97);
      const all = fit.map((_, i) => i).filter((i) => i % 3 === 0);
      const of = (list: number[]) =>
        meshFrom(
          p,
          list.map((i) => [i, i + 1, i + 2]),
        );
      let pairs = 0;
      for (const a of all) for (const b of all) if (a < b) pairs += selfCrossings(of([a, b]));
      expect(selfCrossings(of(all))).toBe(pairs);
    }),
    { numRuns: 100 },
  );
});

test('empty, one face, many in one place: an answer in time', () => {
  expect(selfCrossings(meshFrom([], []))).toBe(0);
  expect(selfCrossings(meshFrom([0, 0, 0, 1, 0, 0, 0, 1, 0], [[0, 1, 2]]))).toBe(0);
  const stack = Array.from({ length: 3000 }, () => [0, 1, 2]);
  expect(selfCrossings(meshFrom([0, 0, 0, 1, 0, 0, 0, 1, 0], stack))).toBe(0);
  const two = both(cubeSphere({ radius: 1, cuts: 20 }, 1), cubeSphere({ radius: 1, cuts: 20 }, 2));
  const half = Math.floor(two.vertexCount / 2);
  const moved = two.positions.map((x, i) => (i % 3 === 0 && i >= 3 * half ? x + 0.5 : x));
  const found = selfCrossings(two.moved(moved));
  expect(found).toBeGreaterThan(100);
  expect(found).toBeLessThan(600);
});
