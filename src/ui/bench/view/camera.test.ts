/** What the camera sees, told by projecting places into it. */
import fc from 'fast-check';
import * as THREE from 'three';
import type { ViewName } from '../store';
import { Camera } from './camera';

const [WIDTH, HEIGHT] = [900, 600];
const VIEWS: readonly ViewName[] = ['Persp', 'Front', 'Back', 'Side', 'Left', 'Top', 'Bottom'];

function camera(view: ViewName = 'Persp', width = WIDTH, height = HEIGHT): Camera {
  const out = new Camera();
  out.view = view;
  out.resize(width, height);
  return out;
}

/** Pixels from the upper left. */
function onScreen(c: Camera, at: THREE.Vector3, width = WIDTH, height = HEIGHT): [number, number] {
  const p = at.clone().project(c.now);
  return [((p.x + 1) / 2) * width, ((1 - p.y) / 2) * height];
}

/** Where a ray meets the plane through a place that the camera looks at straight on. */
function under(c: Camera, at: THREE.Vector3, x: number, y: number): THREE.Vector3 {
  const plane = new THREE.Plane().setFromNormalAndCoplanarPoint(c.forward(), at);
  return c.ray(x, y).intersectPlane(plane, new THREE.Vector3())!;
}

const anyView = fc.constantFrom(...VIEWS);
const along = fc.double({ min: -1, max: 1, noNaN: true });

test('what is under the pointer stays there when it zooms, from every side', () => {
  fc.assert(
    fc.property(
      anyView,
      along,
      along,
      fc.double({ min: 0.2, max: 5, noNaN: true }),
      fc.double({ min: -3, max: 3, noNaN: true }),
      (view, x, y, factor, turn) => {
        const c = camera(view);
        if (view === 'Persp') c.orbit(100 * turn, 40 * turn);
        const at = c.target.clone();
        const before = under(c, at, x, y);
        c.zoom(factor, x, y);
        expect(under(c, at, x, y).distanceTo(before)).toBeLessThan(1e-5 * (1 + before.length()));
      },
    ),
  );
});

test('however far it zooms, it stays at a distance that can be drawn', () => {
  const c = camera();
  for (let k = 0; k < 400; k++) c.zoom(0.5, 0.3, -0.2);
  expect(c.distance).toBeCloseTo(1e-4, 12);
  for (let k = 0; k < 400; k++) c.zoom(2, 0.3, -0.2);
  expect(c.distance).toBeCloseTo(5e4, 6);
  for (const m of [c.now.projectionMatrix, c.now.matrixWorld]) expect(m.elements.every(Number.isFinite)).toBe(true);
});

test('what it looks at moves with the pointer, pixel by pixel, when it pans', () => {
  fc.assert(
    fc.property(anyView, fc.integer({ min: -300, max: 300 }), fc.integer({ min: -200, max: 200 }), (view, dx, dy) => {
      const c = camera(view);
      const at = c.target.clone();
      const [x0, y0] = onScreen(c, at);
      c.pan(dx, dy);
      const [x1, y1] = onScreen(c, at);
      expect(x1 - x0).toBeCloseTo(dx, 3);
      expect(y1 - y0).toBeCloseTo(dy, 3);
    }),
  );
});

test('a pixel is as wide as it says, at what it looks at and elsewhere', () => {
  for (const view of VIEWS) {
    const c = camera(view);
    const right = new THREE.Vector3().setFromMatrixColumn(c.now.matrixWorld, 0);
    for (const deep of [-0.3, 0, 0.4]) {
      const at = c.target.clone().addScaledVector(c.forward(), deep);
      const beside = at.clone().addScaledVector(right, c.pixel(at));
      expect(onScreen(c, beside)[0] - onScreen(c, at)[0]).toBeCloseTo(1, 4);
    }
  }
});

test.each([
  ['Front', [0, 0, -1], [1, 0, 0]],
  ['Back', [0, 0, 1], [-1, 0, 0]],
  ['Side', [-1, 0, 0], [0, 0, -1]],
  ['Left', [1, 0, 0], [0, 0, 1]],
  ['Top', [0, -1, 0], [1, 0, 0]],
  ['Bottom', [0, 1, 0], [1, 0, 0]],
] as const)('%s looks straight on', (view, forward, right) => {
  const c = camera(view);
  expect(c.forward().distanceTo(new THREE.Vector3(...forward))).toBeLessThan(1e-9);
  const side = new THREE.Vector3().setFromMatrixColumn(c.now.matrixWorld, 0);
  expect(side.distanceTo(new THREE.Vector3(...right))).toBeLessThan(1e-9);
});

test('turned out of a straight view, it begins where that looked; it never goes over the top', () => {
  for (const view of VIEWS) {
    const c = camera(view);
    const before = c.forward();
    c.orbit(0, 0);
    expect(c.view).toBe('Persp');
    // From above and below it stays a little short of straight down: there is no side that is up there.
    expect(c.forward().angleTo(before)).toBeLessThan(0.03);
    c.orbit(13, 1e4);
    expect(c.forward().y).toBeLessThan(-0.99);
    expect(Math.abs(c.pitch)).toBeLessThan(Math.PI / 2);
    c.orbit(13, -1e4);
    expect(c.forward().y).toBeGreaterThan(0.99);
  }
});

describe('all of something is seen', () => {
  const boxes: [string, THREE.Box3][] = [
    ['a cube', new THREE.Box3(new THREE.Vector3(1, 2, 3), new THREE.Vector3(2, 3, 4))],
    ['a mast', new THREE.Box3(new THREE.Vector3(-0.1, 0, -0.1), new THREE.Vector3(0.1, 12, 0.1))],
    ['a quay', new THREE.Box3(new THREE.Vector3(-40, 0, -3), new THREE.Vector3(40, 1, 3))],
    ['a bead', new THREE.Box3(new THREE.Vector3(0, 0, 0), new THREE.Vector3(1e-3, 1e-3, 1e-3))],
  ];
  const panes: [number, number][] = [
    [900, 600],
    [493, 752],
    [200, 700],
    [1400, 120],
  ];
  test.each(boxes)('%s, from every side, in panes that are wide and that are narrow', (_, box) => {
    for (const [width, height] of panes)
      for (const view of VIEWS) {
        const c = camera(view, width, height);
        c.see(box);
        let [least, most] = [Infinity, -Infinity];
        for (let k = 0; k < 8; k++) {
          const corner = new THREE.Vector3(
            k & 1 ? box.max.x : box.min.x,
            k & 2 ? box.max.y : box.min.y,
            k & 4 ? box.max.z : box.min.z,
          );
          const [x, y] = onScreen(c, corner, width, height);
          expect(x).toBeGreaterThan(0);
          expect(x).toBeLessThan(width);
          expect(y).toBeGreaterThan(0);
          expect(y).toBeLessThan(height);
          const deep = corner.project(c.now).z;
          expect(Math.abs(deep)).toBeLessThan(1);
          [least, most] = [Math.min(least, x, y), Math.max(most, x, y)];
        }
        expect(most - least).toBeGreaterThan(0);
      }
  });

  test('nothing is nowhere: it stays where it is; a point is seen from near by', () => {
    const c = camera();
    const before = c.state;
    c.see(new THREE.Box3());
    expect(c.state).toEqual(before);
    c.see(new THREE.Box3(new THREE.Vector3(5, 5, 5), new THREE.Vector3(5, 5, 5)));
    expect(c.target.toArray()).toEqual([5, 5, 5]);
    expect(c.distance).toBeGreaterThan(0);
    expect(c.distance).toBeLessThan(1);
  });
});

test('what the history keeps brings it back, to the last digit', () => {
  for (const view of VIEWS) {
    const c = camera(view);
    c.pan(31, -17);
    c.zoom(0.7, 0.4, 0.1);
    const kept = JSON.parse(JSON.stringify(c.state)) as Camera['state'];
    const at = c.now.matrixWorld.clone();
    c.orbit(50, 20);
    c.pan(5, 5);
    c.state = kept;
    expect(c.state).toEqual(kept);
    expect(c.now.matrixWorld.elements).toEqual(at.elements);
  }
});

test('a pane without any size does no harm', () => {
  const c = camera('Persp', 0, 0);
  expect(c.now.projectionMatrix.elements.every(Number.isFinite)).toBe(true);
  c.zoom(0.5, 0, 0);
  c.pan(3, 4);
  expect(c.target.toArray().every(Number.isFinite)).toBe(true);
});
