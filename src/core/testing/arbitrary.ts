/**
 * Meshes for property tests: closed bodies with by-hand changes on them, named by values that fast-check can shrink.
 */
import fc from 'fast-check';
import { keyOf } from '../math/hash';
import type { Mesh } from '../mesh/mesh';
import { unwrapMesh } from '../uv/unwrap';
import { box, cubeSphere, cylinder, ringSphere } from '../make/primitives';

const id = keyOf('test');

export const closedBody: fc.Arbitrary<Mesh> = fc.oneof(
  fc
    .record({ w: fc.integer({ min: 1, max: 4 }), h: fc.integer({ min: 1, max: 4 }), d: fc.integer({ min: 1, max: 4 }) })
    .map(({ w, h, d }) => box({ width: 1, height: 2, depth: 1.5, cutX: w, cutY: h, cutZ: d, onGround: false }, id)),
  fc
    .record({
      sides: fc.integer({ min: 3, max: 12 }),
      rows: fc.integer({ min: 1, max: 4 }),
      cap: fc.constantFrom('polygon' as const, 'fan' as const),
      top: fc.constantFrom(0, 0.5, 1),
    })
    .map(({ sides, rows, cap, top }) =>
      cylinder({ radius: 1, topRadius: top, height: 2, sides, rows, cap, onGround: true }, id),
    ),
  fc
    .record({ sides: fc.integer({ min: 3, max: 10 }), rings: fc.integer({ min: 2, max: 8 }) })
    .map((o) => ringSphere({ radius: 1, ...o }, id)),
  fc.integer({ min: 1, max: 5 }).map((cuts) => cubeSphere({ radius: 1, cuts }, id)),
);

/** Some element indices of a mesh of `count` elements, at least one. */
export const someOf = (count: number, seeds: readonly number[]): Uint32Array =>
  Uint32Array.from(new Set(seeds.map((s) => s % count))).sort();

export const seeds = fc.array(fc.nat(100000), { minLength: 1, maxLength: 6 });

/** The same body with UVs of islands that hang together by angle. */
export const charted = (m: Mesh): Mesh =>
  unwrapMesh(m, {
    cut: new Set(),
    hold: new Set(),
    seamAngle: 0.8,
    size: 256,
    padding: 2,
    density: 0,
    turn: true,
  }).mesh;
