/** Mass against closed forms; fans counted where they are known. */
import { box, cubeSphere } from '../make';
import { transformMesh } from '../edit/transform';
import { massOf, pinchedVertices } from './mass';
import { meshFrom } from './mesh';

const brick = (cut: number) =>
  box({ width: 2, height: 3, depth: 4, cutX: cut, cutY: 2 * cut, cutZ: cut, onGround: false }, 1);

test('a brick, wherever it stands and however it is turned', () => {
  const [a, b, c] = [2, 3, 4].map((x) => x * x);
  const own = [(24 * (b + c)) / 12, (24 * (a + c)) / 12, (24 * (a + b)) / 12, 0, 0, 0];
  const at = massOf(brick(3))!;
  expect(at.volume).toBeCloseTo(24, 9);
  at.inertia.forEach((x, k) => expect(x).toBeCloseTo(own[k], 6));
  const far = massOf(transformMesh(brick(2), [1, 0, 0, 4096, 0, 1, 0, -8192, 0, 0, 1, 1024]))!;
  expect(far.centre).toEqual([4096, -8192, 1024]);
  far.inertia.forEach((x, k) => expect(x).toBeCloseTo(own[k], 6));
  // By 30° about z: the moments turn as a tensor.
  const [s, co] = [Math.sin(Math.PI / 6), Math.cos(Math.PI / 6)];
  const turned = massOf(transformMesh(brick(1), [co, -s, 0, 0, s, co, 0, 0, 0, 0, 1, 0]))!.inertia;
  expect(turned[0]).toBeCloseTo(co * co * own[0] + s * s * own[1], 4);
  expect(turned[3]).toBeCloseTo(s * co * (own[0] - own[1]), 4);
});

test('a ball comes near two fifths of m r²', () => {
  const m = massOf(cubeSphere({ radius: 1, cuts: 40 }, 1))!;
  for (const k of [0, 1, 2]) expect(m.inertia[k] / m.volume).toBeCloseTo(0.4, 2);
});

test('what encloses nothing has none', () => {
  expect(massOf(meshFrom([0, 0, 0, 1, 0, 0, 0, 1, 0], [[0, 1, 2]]))).toBeUndefined();
  expect(massOf(meshFrom([], []))).toBeUndefined();
});

test('two fans at a vertex are found; a border, a fin and a closed body have none', () => {
  const two = meshFrom(
    [0, 0, 0, 1, 0, 0, 0, 1, 0, -1, 0, 0, 0, -1, 0],
    [
      [0, 1, 2],
      [0, 3, 4],
    ],
  );
  expect(pinchedVertices(two)).toEqual([0]);
  expect(pinchedVertices(brick(2))).toEqual([]);
  const fin = meshFrom(
    [0, 0, 0, 1, 0, 0, 0, 1, 0, 0, -1, 0, 0, 0, 1],
    [
      [0, 1, 2],
      [1, 0, 3],
      [0, 1, 4],
    ],
  );
  expect(pinchedVertices(fin)).toEqual([]);
});
