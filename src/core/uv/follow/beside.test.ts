/** Whatever else lies beside it: what was placed by hand lies where it was put. */
import fc from 'fast-check';
import { plane } from '../../make/primitives';
import { UV, type Mesh } from '../../mesh/mesh';
import { UNWRAPPING } from '../../testing/unwrapping';
import { unwrapMesh } from '../unwrap';

const [ACROSS, DOWN] = [4, 5];
const grid = plane({ width: ACROSS, depth: DOWN, cutX: ACROSS, cutZ: DOWN }, 3);

/** Places of the faces that have a block, each block somewhere else on the sheet. */
function placed(mesh: Mesh, block: (f: number) => number): Map<number, readonly [number, number]> {
  const pins = new Map<number, readonly [number, number]>();
  for (let f = 0; f < mesh.faceCount; f++) {
    const k = block(f);
    if (k < 0) continue;
    for (let c = mesh.faceStart[f]; c < mesh.faceStart[f + 1]; c++) {
      const [x, , z] = mesh.positions.subarray(3 * mesh.cornerVertex[c], 3 * mesh.cornerVertex[c] + 3);
      pins.set(c, [0.15 + 0.04 * (x + ACROSS / 2) + 0.3 * k, 0.1 + 0.04 * (z + DOWN / 2)]);
    }
  }
  return pins;
}

/** How far the corner that is farthest from its place is from it. */
function farthest(pins: ReadonlyMap<number, readonly [number, number]>): number {
  const out = unwrapMesh(grid, { ...UNWRAPPING, stretch: 1.3, pins });
  const { data } = out.mesh.attributes[UV];
  return Math.max(0, ...Array.from(pins, ([c, [u, v]]) => Math.hypot(data[2 * c] - u, data[2 * c + 1] - v)));
}

test('two islands that hang together by what was not placed: each stays, and that is cut off', () => {
  // Two columns of it each, apart on the sheet; the last row has no place, and joins them.
  const island = (f: number): number => (f % ACROSS < 2 ? 0 : 1);
  const pins = placed(grid, (f) => (Math.floor(f / ACROSS) === DOWN - 1 ? -1 : island(f)));
  expect(2 * pins.size).toBeGreaterThan(grid.cornerCount);
  expect(farthest(pins)).toBeLessThan(1e-6);
});

test('any faces, placed as any of three islands or not at all', () => {
  fc.assert(
    fc.property(
      fc.array(fc.integer({ min: -1, max: 2 }), { minLength: grid.faceCount, maxLength: grid.faceCount }),
      (blocks) => farthest(placed(grid, (f) => blocks[f])) < 1e-6,
    ),
    { numRuns: 16 },
  );
});
