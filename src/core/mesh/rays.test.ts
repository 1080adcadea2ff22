/** Rays and nearest places, beside a library and by trying every triangle. */
import fc from 'fast-check';
import { BufferAttribute, BufferGeometry, DoubleSide, Ray, Vector3 } from 'three';
import { MeshBVH } from 'three-mesh-bvh';
import { cubeSphere } from '../make/primitives';
import { closedBody } from '../testing/arbitrary';
import { dice } from '../testing/mutants';
import { animal } from '../testing/zoo';
import type { Mesh } from './mesh';
import { raysOf } from './rays';
import { triangulate } from './triangulate';

type P = [number, number, number];
function peerOf(mesh: Mesh): MeshBVH {
  const g = new BufferGeometry();
  g.setAttribute('position', new BufferAttribute(mesh.positions, 3));
  g.setIndex(
    new BufferAttribute(
      triangulate(mesh).corners.map((c) => mesh.cornerVertex[c]),
      1,
    ),
  );
  return new MeshBVH(g);
}
const coordinate = fc.double({ min: -3, max: 3, noNaN: true });
/** Never on an edge of a body with round numbers: there two answers are right. */
const place = fc
  .tuple(coordinate, coordinate, coordinate)
  .map((p) => p.map((x, k) => x + [0.01234567, 0.03171717, -0.02718281][k] * (1 + 0.1 * x)) as P);

test('as far as the library says, whether they meet something or not', () => {
  fc.assert(
    fc.property(closedBody, place, place, (m, o, to) => {
      const d = to.map((x, k) => x - o[k]) as P;
      if (Math.hypot(...d) < 1e-3) return;
      const own = raysOf(m).cast(o, d);
      const length = Math.hypot(...d);
      const peer = peerOf(m).raycastFirst(new Ray(new Vector3(...o), new Vector3(...d).normalize()), DoubleSide);
      if (peer) expect(own).toBeDefined();
      // What only grazes an edge may be met or not; then it is on the surface at least.
      if (own && !peer) expect(raysOf(m).nearest(o.map((x, k) => x + own.t * d[k]) as P)!.distance).toBeLessThan(1e-6);
      if (own && peer) expect(own.t * length).toBeCloseTo(peer.distance, 4);
      expect(raysOf(m).blocked(o, d)).toBe(own !== undefined);
    }),
    { numRuns: 300 },
  );
});

test('along an axis, through an edge, and from where it left nothing slips', () => {
  const m = cubeSphere({ radius: 1, cuts: 4 }, 1);
  for (let k = 0; k < 3; k++) {
    const o: P = [0, 0, 0];
    const d: P = [0, 0, 0];
    o[k] = 5;
    d[k] = -1;
    const hit = raysOf(m).cast(o, d)!;
    expect(hit.t).toBeCloseTo(4, 5);
    expect(raysOf(m).cast(o, d, 0, 3.9)).toBeUndefined();
    expect(raysOf(m).cast(o, d, 4.5)!.t).toBeCloseTo(6, 5);
    const n = raysOf(m).normal(hit.triangle);
    expect(n[k]).toBeGreaterThan(0.9);
  }
});

test('the nearest place is as near as the library finds', () => {
  fc.assert(
    fc.property(closedBody, place, (m, q) => {
      const own = raysOf(m).nearest(q)!;
      const peer = peerOf(m).closestPointToPoint(new Vector3(...q))!;
      expect(own.distance).toBeCloseTo(peer.distance, 5);
      expect(Math.hypot(...own.at.map((x, k) => x - q[k]))).toBeCloseTo(own.distance, 6);
      expect(raysOf(m).nearest(q, own.distance * 0.9 - 1e-6)).toBeUndefined();
    }),
    { numRuns: 200 },
  );
});

test('nothing nasty stops them', () => {
  for (let seed = 1; seed < 80; seed++) {
    const { mesh } = animal(dice(seed * 104729));
    const size = mesh.positions.reduce((a, b) => Math.max(a, Math.abs(b)), 0);
    const hit = raysOf(mesh).cast([size * 3, size * 0.1, 0], [-1, 0.01, 0.02]);
    if (hit) expect(hit.face).toBeLessThan(mesh.faceCount);
    const near = raysOf(mesh).nearest([size, 0, 0]);
    if (mesh.faceCount > 0) expect(Number.isFinite(near!.distance)).toBe(true);
  }
});
