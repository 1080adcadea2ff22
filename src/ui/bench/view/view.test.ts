/** The view's own geometry, without a screen: camera, picking. */
import fc from 'fast-check';
import * as THREE from 'three';
import { keyOf } from '../../../core/math/hash';
import { box, cubeSphere } from '../../../core/make/primitives';
import { meshFrom } from '../../../core/mesh/mesh';
import { topologyOf } from '../../../core/mesh/topology';
import { triangulate } from '../../../core/mesh/triangulate';
import { camera, H, W } from '../../testing/cameras';
import { castRay, nearEdges, nearestOn, nearVertices, project, seenOnly } from './picking';
import { withinOutline } from '../../../core/pick';

const cube = box({ width: 2, height: 2, depth: 2, cutX: 1, cutY: 1, cutZ: 1, onGround: false }, keyOf('t'));
const indexOf = (m: typeof cube) => triangulate(m).corners.map((c) => m.cornerVertex[c]);
describe('camera', () => {
  test('seeing a box puts all of it on the screen, in every view', () => {
    for (const view of ['Persp', 'Front', 'Side', 'Top'] as const) {
      const c = camera();
      c.view = view;
      c.update();
      const { places: s } = project(cube, c.now, W, H);
      for (let v = 0; v < 8; v++) {
        expect(s[3 * v]).toBeGreaterThan(0);
        expect(s[3 * v]).toBeLessThan(W);
        expect(s[3 * v + 1]).toBeGreaterThan(0);
        expect(s[3 * v + 1]).toBeLessThan(H);
      }
    }
  });

  test('zooming keeps what is under the pointer there', () => {
    fc.assert(
      fc.property(
        fc.double({ min: -0.9, max: 0.9, noNaN: true }),
        fc.double({ min: -0.9, max: 0.9, noNaN: true }),
        fc.double({ min: 0.3, max: 3, noNaN: true }),
        fc.constantFrom('Persp' as const, 'Front' as const, 'Top' as const),
        (x, y, factor, view) => {
          const c = camera();
          c.view = view;
          c.update();
          const n = c.forward();
          const ray = c.ray(x, y);
          const point = ray.at(c.target.clone().sub(ray.origin).dot(n) / ray.direction.dot(n), new THREE.Vector3());
          c.zoom(factor, x, y);
          const after = point.clone().project(c.now);
          expect(after.x).toBeCloseTo(x, 4);
          expect(after.y).toBeCloseTo(y, 4);
        },
      ),
      { numRuns: 60 },
    );
  });

  test('panning by pixels moves the target by as many', () => {
    const c = camera();
    const before = c.target.clone();
    c.pan(100, 0);
    const p = before.project(c.now);
    expect((p.x * W) / 2).toBeCloseTo(100, 3);
    expect(p.y).toBeCloseTo(0, 6);
  });

  test('turning a straight view leaves it from where it stood', () => {
    const c = camera();
    c.view = 'Side';
    c.update();
    c.orbit(1, 0);
    expect(c.view).toBe('Persp');
    expect(c.forward().x).toBeLessThan(-0.99);
  });
});

describe('picking', () => {
  test('a ray finds the nearest face, from any side, where it meets the surface', () => {
    const ball = cubeSphere({ radius: 1, cuts: 6 }, keyOf('b'));
    const t = triangulate(ball);
    const index = indexOf(ball);
    fc.assert(
      fc.property(
        fc.double({ min: -1, max: 1, noNaN: true }),
        fc.double({ min: 0, max: 6.28, noNaN: true }),
        (z, a) => {
          const r = Math.sqrt(1 - z * z);
          const from = new THREE.Vector3(r * Math.cos(a), z, r * Math.sin(a)).multiplyScalar(5);
          const hit = castRay(
            new THREE.Ray(from, from.clone().multiplyScalar(-1).normalize()),
            ball.positions,
            index,
            t.face,
          )!;
          expect(hit.point.length()).toBeGreaterThan(0.95);
          expect(hit.point.length()).toBeLessThanOrEqual(1.0001);
          expect(hit.point.clone().normalize().dot(from.clone().normalize())).toBeCloseTo(1, 4);
        },
      ),
    );
  });

  test('a ray beside it finds nothing; from inside only with the backs of faces', () => {
    const t = triangulate(cube);
    const index = indexOf(cube);
    const beside = new THREE.Ray(new THREE.Vector3(5, 5, 5), new THREE.Vector3(0, 0, -1));
    expect(castRay(beside, cube.positions, index, t.face)).toBeUndefined();
    const inside = new THREE.Ray(new THREE.Vector3(0.1, 0.2, 0), new THREE.Vector3(0, 0, 1));
    expect(castRay(inside, cube.positions, index, t.face)).toBeUndefined();
    expect(castRay(inside, cube.positions, index, t.face, false)!.distance).toBeCloseTo(1, 6);
  });

  test('vertices and edges near the pointer, nearest first', () => {
    const c = camera();
    const screen = project(cube, c.now, W, H);
    const s = screen.places;
    expect(nearVertices(cube, screen, s[0] + 3, s[1] - 2, 12)[0]).toBe(0);
    expect(nearVertices(cube, screen, -500, -500, 12)).toEqual([]);
    const { edgeVertex } = topologyOf(cube);
    const [a, b] = [3 * edgeVertex[6], 3 * edgeVertex[7]];
    const [x, y] = [(s[a] + s[b]) / 2, (s[a + 1] + s[b + 1]) / 2];
    const near = nearEdges(cube, screen, x, y, 4);
    expect(near[0].edge).toBe(3);
    // Where along it is told in space: what is nearer takes more of the screen.
    const at = new THREE.Vector3().fromArray(cube.positions, a);
    at.lerp(new THREE.Vector3().fromArray(cube.positions, b), near[0].at).project(c.now);
    expect((at.x * 0.5 + 0.5) * W).toBeCloseTo(x, 3);
    expect((0.5 - at.y * 0.5) * H).toBeCloseTo(y, 3);
    expect(Math.abs(near[0].at - 0.5)).toBeGreaterThan(0.01);
  });

  test('an edge that leads past the eye is there as far as it is seen, whichever of its ends is behind', () => {
    const c = camera();
    const eye = new THREE.Vector3().setFromMatrixPosition(c.now.matrixWorld);
    const ahead = c.forward();
    const beside = new THREE.Vector3().crossVectors(ahead, new THREE.Vector3(0, 1, 0)).normalize();
    const behind = eye.clone().addScaledVector(ahead, -3).addScaledVector(beside, 0.5);
    const before = eye.clone().addScaledVector(ahead, 4).addScaledVector(beside, 0.1);
    const third = behind.clone().add(new THREE.Vector3(0, 5, 0));
    const triangle = meshFrom(
      [behind, before, third].flatMap((p) => p.toArray()),
      [[0, 1, 2]],
    );
    const screen = project(triangle, c.now, W, H);
    expect(Array.from({ length: 3 }, (_, v) => screen.places[3 * v + 2] > 1)).toEqual([true, false, true]);
    const seen = behind.clone().lerp(before, 0.9);
    const p = seen.clone().project(c.now);
    const [x, y] = [(p.x * 0.5 + 0.5) * W, (0.5 - p.y * 0.5) * H];
    const [near] = nearEdges(triangle, screen, x, y, 3);
    const { edgeVertex } = topologyOf(triangle);
    expect([...edgeVertex.subarray(2 * near.edge, 2 * near.edge + 2)].sort()).toEqual([0, 1]);
    const share = edgeVertex[2 * near.edge] === 0 ? near.at : 1 - near.at;
    expect(share).toBeCloseTo(0.9, 2);
    // What lies behind the eye altogether is nowhere, and no vertex behind it is near anything.
    expect(nearEdges(triangle, screen, x, y, Infinity).map((e) => e.edge)).toHaveLength(2);
    expect(nearVertices(triangle, screen, x, y, Infinity)).toEqual([1]);
  });

  test('as near as the nearest of many places along it, whatever lies behind the eye', () => {
    const place = fc.integer({ min: -5000, max: 5000 }).map((n) => n / 1000);
    const depth = fc.integer({ min: -4000, max: 9000 }).map((n) => n / 1000 + 0.0005);
    fc.assert(
      fc.property(place, place, depth, place, place, depth, place, place, (ax, ay, aw, bx, by, bw, x, y) => {
        const found = nearestOn([ax / aw, ay / aw, aw], [bx / bw, by / bw, bw], x, y);
        let best = Infinity;
        for (let k = 0; k <= 800; k++) {
          const w = aw + ((bw - aw) * k) / 800;
          if (w < 1e-3) continue;
          const px = (ax + ((bx - ax) * k) / 800) / w;
          const py = (ay + ((by - ay) * k) / 800) / w;
          best = Math.min(best, Math.hypot(px - x, py - y));
        }
        if (best === Infinity) return;
        expect(found!.away).toBeLessThan(best + 1e-6);
        // And what it says is where it is.
        const w = aw + (bw - aw) * found!.at;
        expect(w).toBeGreaterThan(0);
        const at = [(ax + (bx - ax) * found!.at) / w - x, (ay + (by - ay) * found!.at) / w - y];
        expect(Math.hypot(...at)).toBeCloseTo(found!.away, 4);
      }),
      { numRuns: 200 },
    );
  });

  test('a box picks what faces the viewer, or all of it through the surface', () => {
    const c = camera();
    const { places: s } = project(cube, c.now, W, H);
    const all = [
      [0, 0],
      [W, 0],
      [W, H],
      [0, H],
    ] as const;
    const seen = (kind: 'face' | 'edge' | 'vertex', mirrored = false) =>
      seenOnly(cube, kind, withinOutline(cube, kind, s, all), s, mirrored);
    expect(seen('face')).toHaveLength(3);
    expect(withinOutline(cube, 'face', s, all)).toHaveLength(6);
    expect(seen('edge')).toHaveLength(9);
    expect(seen('vertex')).toHaveLength(7);
    expect(seen('vertex', true)).toHaveLength(7);
    expect(
      withinOutline(cube, 'vertex', s, [
        [0, 0],
        [1, 0],
        [1, 1],
      ]),
    ).toHaveLength(0);
  });
});
