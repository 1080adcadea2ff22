/** Blueprints in the view: where a ray meets them, what of them is seen, how far they reach. */
import fc from 'fast-check';
import * as THREE from 'three';
import { newBlueprint, toPixel, toPlane, type Blueprint } from '../../../core/blueprint/blueprint';
import type { Piece } from '../../../document/types';
import { extent, Planes } from './planes';

const drawing = (id: string, more: Partial<Blueprint> = {}, locked = false): Piece =>
  ({
    ...{ id, name: id, kind: 'blueprint', locked, recipe: [] },
    blueprint: { ...newBlueprint('chart', 400, 200, 2), pickable: true, ...more },
  }) as unknown as Piece;

/** Planes with these pieces on them, each where it stands; what is not said stands at the origin. */
function shown(pieces: Piece[], worlds: Record<string, THREE.Matrix4> = {}, seen = pieces.map((p) => p.id)): Planes {
  const out = new Planes();
  out.show(pieces, new Map(Object.entries(worlds)), new Set(seen), []);
  out.dress('Persp');
  return out;
}

const from = (x: number, y: number, z: number, dx: number, dy: number, dz: number): THREE.Ray =>
  new THREE.Ray(new THREE.Vector3(x, y, z), new THREE.Vector3(dx, dy, dz).normalize());

test('a ray straight on meets it where it is drawn, in metres and in pixels', () => {
  const planes = shown([drawing('hull')]);
  const hit = planes.cast(from(0.5, -0.25, 3, 0, 0, -1))!;
  expect([hit.u, hit.v]).toEqual([0.5, -0.25]);
  // 2 m for 400 pixels, its middle at the origin, pixels from the top left.
  expect(hit.pixel[0]).toBeCloseTo(300, 9);
  expect(hit.pixel[1]).toBeCloseTo(150, 9);
  expect(hit.distance).toBeCloseTo(3, 9);
  expect(hit.piece).toBe('hull');
});

test('wherever it stands and however it is levelled: there and back', () => {
  const number = (min: number, max: number) => fc.double({ min, max, noNaN: true });
  fc.assert(
    fc.property(
      fc.record({
        turn: fc.tuple(number(-3, 3), number(-3, 3), number(-3, 3)),
        at: fc.tuple(number(-9, 9), number(-9, 9), number(-9, 9)),
        level: number(-1, 1),
        size: number(0.2, 4),
        x: number(1, 399),
        y: number(1, 199),
      }),
      ({ turn, at, level, size, x, y }) => {
        const world = new THREE.Matrix4().compose(
          new THREE.Vector3(...at),
          new THREE.Quaternion().setFromEuler(new THREE.Euler(...turn)),
          new THREE.Vector3(size, size, size),
        );
        const piece = drawing('hull', { level });
        const planes = shown([piece], { hull: world });
        const [u, v] = toPlane(piece.blueprint!, [x, y]);
        const point = planes.worldAt('hull', u, v)!;
        const eye = new THREE.Vector3(0.3, 0.2, 5).applyMatrix4(world);
        const ray = new THREE.Ray(eye, point.clone().sub(eye).normalize());
        const hit = planes.cast(ray)!;
        expect(hit.point.distanceTo(point)).toBeLessThan(1e-9 * (100 + eye.distanceTo(point)));
        expect(hit.pixel[0]).toBeCloseTo(x, 5);
        expect(hit.pixel[1]).toBeCloseTo(y, 5);
        expect(hit.distance).toBeCloseTo(eye.distanceTo(point), 7);
      },
    ),
  );
});

test('of two the nearer is met; what is behind, edge-on, or beside the picture is not', () => {
  const planes = shown([drawing('near'), drawing('far')], { near: new THREE.Matrix4().makeTranslation(0, 0, 1) });
  expect(planes.cast(from(0, 0, 3, 0, 0, -1))!.piece).toBe('near');
  expect(planes.cast(from(0, 0, -3, 0, 0, 1))!.piece).toBe('far');
  expect(planes.cast(from(0, 0, 3, 0, 0, 1))).toBeNull();
  expect(planes.cast(from(-5, 0, 1, 1, 0, 0))).toBeNull();
  expect(planes.cast(from(1.01, 0, 3, 0, 0, -1))).toBeNull();
  expect(planes.cast(from(0.99, 0, 3, 0, 0, -1))).not.toBeNull();
});

test('what is locked or not to be picked is passed by, unless it is asked for by name: then all of its plane is met', () => {
  const planes = shown([drawing('locked', {}, true), drawing('quiet', { pickable: false })]);
  const ray = from(0, 0, 3, 0, 0, -1);
  expect(planes.cast(ray)).toBeNull();
  expect(planes.cast(ray, 'locked')!.piece).toBe('locked');
  expect(planes.cast(ray, 'quiet')!.piece).toBe('quiet');
  expect(planes.cast(ray, 'none')).toBeNull();
  const beside = planes.cast(from(50, 0, 3, 0, 0, -1), 'quiet')!;
  expect(beside.u).toBeCloseTo(50, 9);
  expect(beside.pixel[0]).toBeCloseTo(200 + 50 * 200, 6);
});

test('cropped, only what is left of it is met', () => {
  const planes = shown([drawing('crop', { frame: [200, 0, 400, 200] })]);
  expect(planes.cast(from(-0.1, 0, 3, 0, 0, -1))).toBeNull();
  expect(planes.cast(from(0.1, 0, 3, 0, 0, -1))).not.toBeNull();
});

test('one of a side is seen from that side alone, where it is to be seen in its own view', () => {
  const planes = shown([drawing('plan', { side: 'top', seen: 'own view' }), drawing('all', { seen: 'always' })]);
  const ray = from(0, 0, 3, 0, 0, -1);
  const met = (): string[] => ['plan', 'all'].filter((id) => planes.cast(ray, id));
  planes.dress('Front');
  expect(met()).toEqual(['all']);
  planes.dress('Top');
  expect(met()).toEqual(['plan', 'all']);
  planes.dress('Persp');
  expect(met()).toEqual(['all']);
});

test('what is no longer seen is gone; what is no blueprint never was', () => {
  const piece = drawing('hull');
  const planes = shown([piece, { id: 'box', kind: 'mesh', recipe: [] } as unknown as Piece]);
  expect(planes.group.children).toHaveLength(1);
  planes.show([piece], new Map(), new Set(), []);
  expect(planes.group.children).toHaveLength(0);
  expect(planes.worldAt('hull', 0, 0)).toBeNull();
  expect(planes.bounds().isEmpty()).toBe(true);
});

test('stations are named at the ends of their lines, but not on what is seen edge-on', () => {
  const stations = [
    { id: 'a', name: 'Mast', along: 'u' as const, at: 0.5 },
    { id: 'b', name: 'Deck', along: 'v' as const, at: -0.2 },
  ];
  const planes = shown([drawing('hull', { stations })]);
  const labels = planes.labels(new THREE.Vector3(0, 0, -1));
  expect(labels.map((l) => [l.text, ...l.at.toArray()])).toEqual([
    ['Mast', 0.5, 0.5, 0],
    ['Deck', 1, -0.2, 0],
  ]);
  expect(planes.labels(new THREE.Vector3(1, 0, 0))).toEqual([]);
});

test('how far it reaches holds all of it, levelled too, and no more', () => {
  fc.assert(
    fc.property(
      fc.double({ min: -3, max: 3, noNaN: true }),
      fc.tuple(fc.integer({ min: -50, max: 450 }), fc.integer({ min: -50, max: 250 })),
      (level, origin) => {
        const b = { ...newBlueprint('chart', 400, 200, 2), level, origin };
        const [lo, hi] = extent(b);
        const corners = [
          [0, 0],
          [400, 0],
          [400, 200],
          [0, 200],
        ].map(([x, y]) => toPlane(b, [x, y]));
        for (const k of [0, 1]) {
          expect(Math.min(...corners.map((p) => p[k]))).toBeCloseTo(lo[k], 9);
          expect(Math.max(...corners.map((p) => p[k]))).toBeCloseTo(hi[k], 9);
        }
        // No corner is lost on the way back.
        corners.forEach((p, i) => expect(toPixel(b, p)[0]).toBeCloseTo(i === 1 || i === 2 ? 400 : 0, 6));
      },
    ),
  );
});

test('bounds are those of all, or of one, where they stand', () => {
  const planes = shown([drawing('near'), drawing('far')], { far: new THREE.Matrix4().makeTranslation(0, 3, -4) });
  expect(planes.bounds('near').max.toArray()).toEqual([1, 0.5, 0]);
  expect(planes.bounds('far').min.toArray()).toEqual([-1, 2.5, -4]);
  const all = planes.bounds();
  expect([...all.min.toArray(), ...all.max.toArray()]).toEqual([-1, -0.5, -4, 1, 3.5, 0]);
});
