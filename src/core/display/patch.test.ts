import fc from 'fast-check';
import { transformVertices } from '../edit/transform';
import { keyOf } from '../math/hash';
import { box, cubeSphere, cylinder, plane } from '../make/primitives';
import { Mesh, meshFrom } from '../mesh/mesh';
import { closedBody, seeds, someOf } from '../testing/arbitrary';
import { ENOUGH } from '../testing/thorough';
import { displayBuffers } from './buffers';
import { applyPatch, displayPatch, movedVertices } from './patch';

const id = keyOf('t');
const shift = (x: number, y: number, z: number) => [1, 0, 0, x, 0, 1, 0, y, 0, 0, 1, z] as const;

/** −0 is 0 here. */
const zero = (x: number) => x + 0;

/** Buffers of `before`, patched, against those of `after` made anew: the same to the bit. */
function expectPatched(before: Mesh, after: Mesh, smooth: number): void {
  const patch = displayPatch(before, after, smooth);
  if (!patch) return;
  const buffers = displayBuffers(before, smooth);
  applyPatch(buffers, patch);
  const plain = (b: object) => Object.values(b).map((a) => (ArrayBuffer.isView(a) ? Array.from(a as never, zero) : a));
  expect(plain(buffers)).toEqual(plain(displayBuffers(after, smooth)));
}

test('a patched picture is the same to the bit as one made anew, whatever moved and however smooth', () => {
  let patched = 0;
  fc.assert(
    fc.property(
      closedBody,
      seeds,
      fc.tuple(fc.double({ min: -2, max: 2, noNaN: true }), fc.double({ min: -2, max: 2, noNaN: true })),
      fc.constantFrom(0, 0.3, 0.8, 3),
      (mesh, some, [x, y], smooth) => {
        const after = transformVertices(mesh, [...shift(x, y, x - y)], someOf(mesh.vertexCount, some.slice(0, 2)));
        if (displayPatch(mesh, after, smooth)) patched++;
        expectPatched(mesh, after, smooth);
      },
    ),
    { numRuns: 300, interruptAfterTimeLimit: ENOUGH },
  );
  expect(patched).toBeGreaterThan(20); // it is not a test of nothing
});

test('large polygons, quads that bend until they are cut the other way, and edges of three faces', () => {
  const drum = cylinder({ radius: 1, topRadius: 1, height: 1, sides: 30, rows: 6, cap: 'polygon', onGround: true }, id);
  for (const v of [0, 40, drum.vertexCount - 1])
    expectPatched(drum, transformVertices(drum, [...shift(0.4, 0, -0.3)], [v]), 0.5);
  const sheet = plane({ width: 8, depth: 8, cutX: 8, cutZ: 8 }, id);
  for (const by of [0.3, 2, -1.4]) {
    const bent = transformVertices(sheet, [...shift(by, by, by / 2)], [40]);
    const patch = displayPatch(sheet, bent, 0.5)!;
    expect(patch.triangles.length).toBe(8);
    expectPatched(sheet, bent, 0.5);
  }
  const fin = meshFrom(
    [0, 0, 0, 1, 0, 0, 0, 1, 0, 0, 0, 1, 0, -1, 0, 5, 5, 5, 6, 5, 5, 5, 6, 5, 5, 5, 6],
    [
      [0, 1, 2],
      [0, 1, 3],
      [1, 0, 4],
      [5, 6, 7],
      [5, 7, 8],
      [6, 5, 8],
    ],
  );
  expectPatched(fin, transformVertices(fin, [...shift(0, 0.2, 0.1)], [4]), 0.6);
});

test('only what is near what moved is in it', () => {
  const ball = cubeSphere({ radius: 1, cuts: 24 }, id);
  const patch = displayPatch(ball, transformVertices(ball, [...shift(0.01, 0, 0)], [500]), 0.5)!;
  expect(patch.corners.length).toBeLessThan(60); // nine vertices of four corners, and some
  expect(patch.triangles.length).toBe(8);
  expect(patch.edges.length).toBe(12);
});

test('nothing moved: an empty patch; other connectivity, UVs or materials, or nearly all of it: none', () => {
  const cube = box({ width: 2, height: 2, depth: 2, cutX: 9, cutY: 9, cutZ: 9, onGround: false }, id);
  expect(displayPatch(cube, transformVertices(cube, [...shift(0, 0, 0)]))!.corners.length).toBe(0);
  expect(movedVertices(cube, cube.with({ positions: cube.positions.slice() }))!.length).toBe(0);
  expect(displayPatch(cube, transformVertices(cube, [...shift(1, 0, 0)]))).toBeNull();
  expect(displayPatch(cube, cube.with({ cornerVertex: cube.cornerVertex.slice() }))).toBeNull();
  expect(displayPatch(cube, cube.with({ slots: ['tar'] }))).toBeNull();
  const uv = { domain: 'corner', width: 2, data: new Float32Array(2 * cube.cornerCount) } as const;
  expect(displayPatch(cube, cube.withAttribute('uv', uv))).toBeNull();
  const paint = { domain: 'face', width: 1, data: new Int32Array(cube.faceCount) } as const;
  expect(displayPatch(cube.withAttribute('material', paint), cube)).toBeNull();
});

test('places that are no numbers come through as they are', () => {
  const ball = cubeSphere({ radius: 1, cuts: 12 }, id);
  const positions = ball.positions.slice();
  positions[30] = NaN;
  expectPatched(ball, ball.with({ positions }), 0.5);
  expect(displayPatch(ball, ball.with({ positions }), 0.5)).not.toBeNull();
});
