/** Islands that were laid on each other stay so, packed once or for longer. */
import { box } from '../../make/primitives';
import type { Mesh } from '../../mesh/mesh';
import { UNWRAPPING, allFaces, uvOf, withUv } from '../../testing/unwrapping';
import { editSheet } from '../edits';
import { SheetEdit } from '../edits/sheet';
import { packedLonger } from './longer';
import { asOne, eachAlone, stacksOf, togetherBy } from './stacks';
import { unwrapMesh, type UnwrapOptions } from '../unwrap';

const O: UnwrapOptions = { ...UNWRAPPING, padding: 8 };
const plain = unwrapMesh(box({ width: 1, height: 2, depth: 3, cutX: 1, cutY: 1, cutZ: 1, onGround: false }, 1), O).mesh;
/** Six sides, each on the one across from it. */
const stacked = withUv(plain, editSheet(plain, 'stack', { faces: allFaces(plain), edges: [], texels: 1024 }).uv);
/** How many places there are where islands lie. */
function places(m: Mesh): number {
  const s = new SheetEdit(m);
  const boxes = s.islandsWith(allFaces(m)).map((i) => s.boxOf(s.facesOf(i)));
  return new Set(boxes.map((b) => [b.x0, b.y0, b.x1, b.y1].map((x) => Math.round(x * 2000)).join(' '))).size;
}

test('three places for six sides, and so they stay when all is packed', () => {
  expect(places(plain)).toBe(6);
  expect(places(stacked)).toBe(3);
  const pins = new Map<number, readonly [number, number]>();
  for (let c = 0; c < stacked.cornerCount; c++) pins.set(c, [uvOf(stacked)[2 * c], uvOf(stacked)[2 * c + 1]]);
  for (const pixels of [false, true]) {
    const { mesh } = unwrapMesh(stacked, { ...O, pins, repack: true, pixels });
    expect(places(mesh)).toBe(3);
    // Half as much to lay: larger than six would be.
    const area = (m: Mesh): number => new SheetEdit(m).areasOf([0]).sheet;
    expect(area(mesh)).toBeGreaterThan(1.1 * area(plain));
  }
});

test('and when it is packed for longer', () => {
  const out = packedLonger(stacked, {
    ...{ size: 1024, padding: 8, turn: true, locked: new Set<number>(), upright: new Set<number>(), effort: 500 },
    ...{ stop: () => false, better: () => undefined },
  });
  expect(places(withUv(stacked, out))).toBe(3);
});

test('boxes within a hair are one, others are not; put together and taken apart nothing is lost', () => {
  const square = (x: number, y: number, s = 0.1): Float64Array =>
    Float64Array.of(x, y, x + s, y, x + s, y + s, x, y + s);
  const islands = [square(0, 0), square(0.5, 0.5), square(1e-5, -1e-5), square(0, 0, 0.11), square(0.5, 0.5)];
  const stacks = stacksOf(islands);
  expect(stacks).toEqual([[0, 2], [1, 4], [3]]);
  const list = islands.map((points) => ({ points, triangles: Uint32Array.of(0, 1, 2, 0, 2, 3) }));
  const one = asOne(list, stacks);
  expect(one.map((i) => i.points.length)).toEqual([16, 16, 8]);
  expect([...one[0].triangles]).toEqual([0, 1, 2, 0, 2, 3, 4, 5, 6, 4, 6, 7]);
  expect(
    eachAlone(
      list,
      stacks,
      one.map((i) => i.points),
    ),
  ).toEqual(islands);
  expect(stacksOf([])).toEqual([]);
  expect(stacksOf([Float64Array.of(1, 1), Float64Array.of(1, 1)])).toEqual([[0], [1]]);
  expect(togetherBy([undefined, 4, undefined, 4, 7])).toEqual([[0], [1, 3], [2], [4]]);
});
