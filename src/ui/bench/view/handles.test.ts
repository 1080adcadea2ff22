/** Handles: what the pointer hits, what a drag of it comes to, and how large they are drawn. */
import fc from 'fast-check';
import * as THREE from 'three';
import { themed } from '../../testing/theme';
import { camera, H, W } from '../../testing/cameras';
import type { Camera } from './camera';
import { Handles, type Part } from './handles';

const setUp = (kind: 'move' | 'turn' | 'size' | 'along') => {
  const h = new Handles();
  h.kind = kind;
  return { h, c: camera() };
};

function screen(c: Camera, p: THREE.Vector3): [number, number] {
  const q = p.clone().project(c.now);
  return [(q.x * 0.5 + 0.5) * W, (0.5 - q.y * 0.5) * H];
}

const rayAt = (c: Camera, [x, y]: [number, number]) => c.ray((x / W) * 2 - 1, 1 - (y / H) * 2);
const through = (c: Camera, p: THREE.Vector3) => rayAt(c, screen(c, p));

themed(() => '#456789');

describe('handles', () => {
  test('each axis is hit along its arrow, nothing away from them', () => {
    const { h, c } = setUp('move');
    const k = c.pixel(h.at);
    for (const axis of ['x', 'y', 'z'] as const) {
      const p = new THREE.Vector3(axis === 'x' ? 1 : 0, axis === 'y' ? 1 : 0, axis === 'z' ? 1 : 0).multiplyScalar(
        70 * k,
      );
      expect(h.hit(c, ...screen(c, p), W, H)).toBe(axis);
    }
    expect(h.hit(c, 5, 5, W, H)).toBeNull();
    h.kind = null;
    expect(h.hit(c, W / 2, H / 2, W, H)).toBeNull();
  });

  test('dragging along an axis measures metres along it', () => {
    const { h, c } = setUp('move');
    const from = rayAt(c, screen(c, new THREE.Vector3(0, 0.2, 0)));
    const to = rayAt(c, screen(c, new THREE.Vector3(0, 0.7, 0)));
    expect(h.measure('y', c, from, to, 0).move[1]).toBeCloseTo(0.5, 3);
  });

  test('dragging round measures the angle, sizing the ratio, a single arrow its own way', () => {
    const { h, c } = setUp('turn');
    const on = (a: number) => rayAt(c, screen(c, new THREE.Vector3(Math.sin(a), 0, Math.cos(a))));
    expect(h.measure('y', c, on(0.2), on(0.9), 0).angle).toBeCloseTo(0.7, 3);
    h.kind = 'size';
    const x = (d: number) => rayAt(c, screen(c, new THREE.Vector3(d, 0, 0)));
    expect(h.measure('x', c, x(0.4), x(0.8), 0).size[0]).toBeCloseTo(2, 2);
    for (const k of h.measure('all', c, x(0), x(0), 60).size) expect(k).toBeCloseTo(1.5, 6);
    h.kind = 'along';
    h.along.set(0, 0, 1);
    const z = (d: number) => rayAt(c, screen(c, new THREE.Vector3(0, 0, d)));
    expect(h.measure('all', c, z(0.1), z(0.4), 0).move[1]).toBeCloseTo(0.3, 3);
  });

  test('the squares between two axes, and the middle, are hit where they are drawn', () => {
    const { h, c } = setUp('move');
    const k = c.pixel(h.at);
    for (const [part, ...at] of [
      ['yz', 0, 1, 1],
      ['zx', 1, 0, 1],
      ['xy', 1, 1, 0],
    ] as const)
      expect(h.hit(c, ...screen(c, new THREE.Vector3(...at).multiplyScalar(31 * k)), W, H)).toBe(part);
    expect(h.hit(c, ...screen(c, h.at), W, H)).toBe('all');
  });

  test('what cannot be dragged is not there: an axis towards the eye, a square seen from its side', () => {
    const { h, c } = setUp('move');
    c.view = 'Front';
    c.update();
    const k = c.pixel(h.at);
    expect(h.hit(c, ...screen(c, new THREE.Vector3(0, 0, 70 * k)), W, H)).toBe('all');
    expect(h.hit(c, ...screen(c, new THREE.Vector3(0, 31 * k, 31 * k)), W, H)).toBe('y');
    expect(h.hit(c, ...screen(c, new THREE.Vector3(31 * k, 31 * k, 0)), W, H)).toBe('xy');
  });

  test('behind the eye there is nothing to take hold of', () => {
    for (const kind of ['move', 'turn', 'size', 'along'] as const) {
      const { h, c } = setUp(kind);
      const eye = new THREE.Vector3().setFromMatrixPosition(c.now.matrixWorld);
      h.at.copy(eye).addScaledVector(c.forward(), -2);
      const found = new Set<Part | null>();
      for (let x = 0; x <= W; x += 20) for (let y = 0; y <= H; y += 20) found.add(h.hit(c, x, y, W, H));
      expect([...found]).toEqual([null]);
    }
  });

  test('axes of its own turn what is dragged; without them it goes by the world’s', () => {
    const { h, c } = setUp('move');
    const turned = new THREE.Matrix4().makeRotationY(Math.PI / 6);
    h.setAxes(turned);
    const x = new THREE.Vector3(1, 0, 0).applyMatrix4(turned);
    const from = through(c, x.clone().multiplyScalar(0.2));
    const to = through(c, x.clone().multiplyScalar(0.5));
    expect(h.measure('x', c, from, to, 0).move[0]).toBeCloseTo(0.3, 6);
    h.setAxes(null);
    expect(h.axes.x.toArray()).toEqual([1, 0, 0]);
    expect(h.axes.z.toArray()).toEqual([0, 0, 1]);
  });

  test('a square moves and sizes along two axes and leaves the third', () => {
    const { h, c } = setUp('move');
    const [from, to] = [new THREE.Vector3(0.1, 0, 0.2), new THREE.Vector3(0.4, 0, -0.1)].map((p) => through(c, p));
    const { move } = h.measure('zx', c, from, to, 0);
    expect(move[0]).toBeCloseTo(0.3, 6);
    expect(move[1]).toBeCloseTo(0, 9);
    expect(move[2]).toBeCloseTo(-0.3, 6);
    h.kind = 'size';
    const [a, b] = [new THREE.Vector3(0.2, 0.2, 0), new THREE.Vector3(0.3, 0.3, 0)].map((p) => through(c, p));
    const { size } = h.measure('xy', c, a, b, 0);
    expect(size[0]).toBeCloseTo(1.5, 6);
    expect(size[1]).toBeCloseTo(1.5, 6);
    expect(size[2]).toBe(1);
  });

  test('in the view’s own plane a piece follows the pointer, to the pixel', () => {
    const { h, c } = setUp('move');
    const pixel = fc.tuple(fc.integer({ min: 100, max: W - 100 }), fc.integer({ min: 100, max: H - 100 }));
    fc.assert(
      fc.property(pixel, pixel, (from, to) => {
        const { move } = h.measure('all', c, rayAt(c, from), rayAt(c, to), 0);
        // What lay under the pointer in that plane lies under it still.
        const n = c.forward();
        const r = rayAt(c, from);
        const held = r.at(h.at.clone().sub(r.origin).dot(n) / r.direction.dot(n), new THREE.Vector3());
        const [x, y] = screen(c, held.add(new THREE.Vector3(...move)));
        expect(Math.hypot(x - to[0], y - to[1])).toBeLessThan(0.01);
      }),
    );
  });

  test('a ring seen from its side turns by how far the pointer goes, and half a turn is never more than that', () => {
    const { h, c } = setUp('turn');
    c.view = 'Front';
    c.update();
    const [from, to] = [rayAt(c, [400, 300]), rayAt(c, [430, 300])];
    expect(h.measure('y', c, from, to, 30).angle).toBeCloseTo(0.3, 9);
    const on = (a: number) => through(c, new THREE.Vector3(Math.cos(a), Math.sin(a), 0).multiplyScalar(0.5));
    for (const [a, b] of [
      [3, 3.4],
      [-0.2, 0.3],
      [3.1, -3.1],
    ]) {
      const { angle } = h.measure('z', c, on(a), on(b), 0);
      expect(Math.cos(angle)).toBeCloseTo(Math.cos(b - a), 6);
      expect(Math.sin(angle)).toBeCloseTo(Math.sin(b - a), 6);
      expect(Math.abs(angle)).toBeLessThan(Math.PI);
    }
  });

  test('sizing never comes to nothing, however far the pointer goes', () => {
    const { h, c } = setUp('size');
    const r = rayAt(c, [400, 300]);
    for (const k of h.measure('all', c, r, r, -9000).size) expect(k).toBe(0.01);
  });

  test.each(['move', 'turn', 'size', 'along'] as const)(
    'for %s they are as large on the screen from near and far',
    (kind) => {
      const { h, c } = setUp(kind);
      const wide = () => {
        h.draw(c);
        h.group.updateMatrixWorld(true);
        const box = new THREE.Box3().setFromObject(h.group, true);
        return box.getSize(new THREE.Vector3()).length() / c.pixel(h.at);
      };
      const near = wide();
      expect(near).toBeGreaterThan(90);
      expect(near).toBeLessThan(600);
      c.distance *= 7;
      c.update();
      expect(wide()).toBeCloseTo(near, 3);
      h.kind = null;
      h.draw(c);
      expect(h.group.children).toHaveLength(0);
    },
  );

  test('the part under the pointer is told apart, once', () => {
    const { h } = setUp('move');
    expect(h.setHot('x')).toBe(true);
    expect(h.setHot('x')).toBe(false);
    expect(h.setHot(null)).toBe(true);
  });
});
