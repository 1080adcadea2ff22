/** Points that are held on to: they stay where they are on the surface, whatever cells it is made of. */
import { box, cylinder, plane } from '../make/primitives';
import { keyOf } from '../math/hash';
import { subdivide } from '../subdivide/catmullclark';
import { anchorSpots, findAnchor, type Held } from './anchors';
import { elementPoint, nearestElement } from './elements';
import type { Mesh } from './mesh';
import { keysOf, type PickKind } from './picks';

const id = keyOf('t');
const sheet = (cutX: number, cutZ: number) => plane({ width: 2, depth: 2, cutX, cutZ }, id);

function hold(mesh: Mesh, kind: PickKind, point: number[]): Held & { at: number[] } {
  const { key, t, at } = nearestElement(mesh, kind, point);
  return { kind, key, t, at, spots: anchorSpots(mesh, kind, keysOf(mesh, kind).indexOf(key), t) };
}
const close = (found: number[] | null, at: number[], digits = 5) =>
  found ? at.forEach((x, k) => expect(found[k]).toBeCloseTo(x, digits)) : expect(found).not.toBeNull();

test.each([
  ['edge', [0.3, 0, 0.5]],
  ['edge', [0.5, 0, -0.85]],
  ['face', [0.25, 0, -0.25]],
  ['vertex', [1, 0, -1]],
] as const)('a point of a %s at %j stays, whatever the cells', (kind, point) => {
  const before = sheet(4, 4);
  const held = hold(before, kind, [...point]);
  close(held.at, [...point]);
  for (const [x, z] of [
    [8, 8],
    [8, 4],
    [4, 12],
  ])
    close(findAnchor(sheet(x, z), held), held.at);
});

test('where a line is gone, the point goes to the nearest; where all is gone, it says so', () => {
  const held = hold(sheet(4, 4), 'edge', [0.3, 0, 0.5]);
  const [x, , z] = findAnchor(sheet(4, 3), held)!;
  expect(x).toBeCloseTo(0.3, 5);
  expect(Math.abs(z - 0.5)).toBeLessThan(0.34);
  const far = box({ width: 1, height: 1, depth: 1, cutX: 1, cutY: 1, cutZ: 1, onGround: true }, keyOf('other'));
  expect(findAnchor(far, { ...held, spots: undefined })).toBeNull();
  expect(findAnchor(sheet(3, 3), { ...held, spots: '!! ??' })).toBeNull();
});

test('on what is finer it is the same point of the parts, on what is round the same share of the turn', () => {
  const before = sheet(2, 2);
  const held = hold(before, 'edge', [0.2, 0, 0]);
  close(findAnchor(subdivide(before, { levels: 2 }), held), held.at, 1);
  const made = (sides: number) =>
    cylinder({ radius: 1, topRadius: 1, height: 1, sides, rows: 1, cap: 'polygon', onGround: true }, id);
  const rim = hold(made(16), 'vertex', [0, 1, 1]);
  close(findAnchor(made(32), rim), rim.at);
  close(findAnchor(made(8), rim), rim.at);
});

test('its text is short, and an element that is there is taken as it is', () => {
  const mesh = sheet(2, 2);
  for (const kind of ['vertex', 'edge', 'face'] as const) {
    expect(anchorSpots(mesh, kind, 0, 0.3).length).toBeLessThanOrEqual(101);
    const held = { kind, key: keysOf(mesh, kind)[0], t: 0.3, spots: anchorSpots(mesh, kind, 0, 0.3) };
    expect(findAnchor(mesh, held)).toEqual(elementPoint(mesh, kind, 0, 0.3));
  }
});
