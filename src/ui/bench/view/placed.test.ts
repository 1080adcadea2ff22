/**
 * The view's geometry of placed things: handles along any axes, rays through trees, snapping, linked copies,
 * blueprints.
 */
import fc from 'fast-check';
import * as THREE from 'three';
import { newBlueprint, sideTurn } from '../../../core/blueprint/blueprint';
import { displayBuffers } from '../../../core/display/buffers';
import {
  compose,
  placeMatrix,
  rotation,
  scaling,
  toMatrix4,
  translation,
  type Affine,
} from '../../../core/math/affine';
import { box, cubeSphere } from '../../../core/make/primitives';
import { boundsOf } from '../../../core/mesh/bounds';
import * as changes from '../../../document/changes';
import type { ProjectDocument } from '../../../document/types';
import { makeTree } from '../../../workers/tree';
import type { PieceShown } from '../../../workers/protocol';
import { Camera } from './camera';
import { Handles, type Part } from './handles';
import { Layer } from './layer';
import { Picker } from './picker';
import { extent, Planes } from './planes';
import { snap, type SnapScene } from './snap';
import { imageOf } from '../../../document/testing/image';

const W = 800;
const H = 600;
const camera = (view: Camera['view'] = 'Persp') => {
  const c = new Camera();
  c.view = view;
  c.resize(W, H);
  c.see(new THREE.Box3(new THREE.Vector3(-1, -1, -1), new THREE.Vector3(1, 1, 1)));
  return c;
};
const screen = (c: Camera, p: THREE.Vector3): [number, number] => {
  const q = p.clone().project(c.now);
  return [(q.x * 0.5 + 0.5) * W, (0.5 - q.y * 0.5) * H];
};
const ray = (c: Camera, x: number, y: number) => c.ray((x / W) * 2 - 1, 1 - (y / H) * 2);
const shownOf = (mesh: ReturnType<typeof box>, hash = 'h'): PieceShown => ({
  piece: 'a',
  hash,
  buffers: displayBuffers(mesh, 0),
  bounds: boundsOf(mesh.positions),
  reports: [],
});
const cube = box({ width: 1, height: 1, depth: 1, cutX: 1, cutY: 1, cutZ: 1, onGround: false }, 1);

// What the layer needs of a page: colours by token.
beforeAll(() => {
  (globalThis as { document?: unknown }).document ??= {
    documentElement: {},
    createElementNS: () => ({ addEventListener: () => undefined, removeEventListener: () => undefined }),
  };
  (globalThis as { getComputedStyle?: unknown }).getComputedStyle ??= () => ({ getPropertyValue: () => '#888888' });
});

describe('handles along any axes', () => {
  const turn = fc.double({ min: -3, max: 3, noNaN: true });
  const set = (a: number, b: number, kind: Handles['kind']) => {
    const h = new Handles();
    const m = new THREE.Matrix4().makeRotationFromEuler(new THREE.Euler(a, b, 0.3));
    h.kind = kind;
    h.setAxes(m);
    return h;
  };
  test('dragging along an axis or in a plane gives metres in the handle’s own axes', () => {
    const c = camera();
    fc.assert(
      fc.property(turn, turn, fc.constantFrom<Part>('x', 'y', 'z', 'yz', 'zx', 'xy', 'all'), (a, b, part) => {
        const h = set(a, b, 'move');
        const f = c.forward();
        const n = { yz: h.axes.x, zx: h.axes.y, xy: h.axes.z, all: f }[part as string] ?? null;
        if ((n && part !== 'all' && Math.abs(n.dot(f)) < 0.3) || (!n && Math.abs(h.axes[part as 'x'].dot(f)) > 0.9))
          return; // looked at edge-on
        const own = part === 'all' ? null : [0, 1, 2].map((k) => (part.includes('xyz'[k]) ? 0.1 * (k + 1) : 0));
        const to = own
          ? new THREE.Vector3()
              .addScaledVector(h.axes.x, own[0])
              .addScaledVector(h.axes.y, own[1])
              .addScaledVector(h.axes.z, own[2])
          : new THREE.Vector3(0.1, 0.05, 0).applyQuaternion(c.now.quaternion);
        const d = h.measure(part, c, ray(c, ...screen(c, new THREE.Vector3())), ray(c, ...screen(c, to)), 0).move;
        const got = new THREE.Vector3()
          .addScaledVector(h.axes.x, d[0])
          .addScaledVector(h.axes.y, d[1])
          .addScaledVector(h.axes.z, d[2]);
        expect(got.distanceTo(to)).toBeLessThan(1e-3);
      }),
      { numRuns: 200 },
    );
  });
  test('every part that is drawn can be hit where it is drawn, and a plane sizes its two axes alike', () => {
    const c = camera();
    for (const kind of ['move', 'turn', 'size'] as const) {
      const h = set(0.2, 0.4, kind);
      h.at.set(0.1, 0, 0);
      h.draw(c);
      expect(h.group.children.length).toBeGreaterThanOrEqual(4);
    }
    const h = set(0, 0, 'size');
    const p = (k: number) => ray(c, ...screen(c, new THREE.Vector3(k, k, 0)));
    expect(h.measure('xy', c, p(0.2), p(0.4), 0).size).toEqual([expect.closeTo(2, 2), expect.closeTo(2, 2), 1]);
    expect(h.axisOf('all', c).dot(c.forward())).toBeCloseTo(-1, 6);
  });
});

describe('rays', () => {
  test('through a tree they meet what they meet without one', () => {
    const ball = cubeSphere({ radius: 1, cuts: 12 }, 1);
    const b = displayBuffers(ball, 0);
    const bounds = boundsOf(ball.positions);
    const plain = new Picker(b.position, b.index, b.triangleFace, bounds);
    const planted = new Picker(b.position, b.index, b.triangleFace, bounds);
    const made = makeTree(b.position.slice(), b.index.slice());
    planted.plant({ piece: 'a', hash: 'h', ...made });
    const n = fc.double({ min: -1, max: 1, noNaN: true });
    fc.assert(
      fc.property(n, n, n, n, n, (x, y, a, d, e) => {
        const from = new THREE.Vector3(3 * x, 3 * y, 4);
        const way = new THREE.Vector3(a - 3 * x, d - 3 * y, e - 4).multiplyScalar(2.5);
        const p = plain.cast(new THREE.Ray(from.clone(), way.clone()));
        const q = planted.cast(new THREE.Ray(from.clone(), way.clone()));
        expect(!!q).toBe(!!p);
        if (p && q) expect(q.point.distanceTo(p.point)).toBeLessThan(1e-5);
      }),
      { numRuns: 300 },
    );
    expect(plain.polygon(0)).toHaveLength(4);
  });
});

describe('the layer', () => {
  const doc = (count: number, mirrored = 0): ProjectDocument => {
    const d = changes.newProject('Chain');
    changes.addPiece(d, 'a', 'link');
    for (let i = 1; i < count; i++) {
      changes.addPiece(d, `l${i}`, 'link', null);
      changes.setPiece(d, `l${i}`, { link: 'a' });
      changes.setPlace(d, `l${i}`, { at: [3 * i, 0, 0], ...(i <= mirrored ? { size: [-1, 1, 1] as const } : {}) });
    }
    return d;
  };
  const put = (d: ProjectDocument, l = new Layer()) => {
    l.show(
      new Map([['a', shownOf(cube)]]),
      d.pieces,
      changes.worlds(d),
      new Set(d.pieces.filter((p) => p.visible).map((p) => p.id)),
      [],
      [],
    );
    return l;
  };
  test('2,000 linked copies are one mesh and one call for their faces; mirrored ones a second', () => {
    expect(put(doc(2000)).cost).toEqual({ meshes: 1, surfaces: 1 });
    expect(put(doc(20, 5)).cost).toEqual({ meshes: 1, surfaces: 2 });
  });
  test('each copy is met where it stands; locked and ghosted ones are not met', () => {
    const d = doc(4, 1);
    const at = (x: number) => new THREE.Ray(new THREE.Vector3(x, 0.1, 9), new THREE.Vector3(0, 0, -1));
    for (const [x, id] of [
      [0, 'a'],
      [3, 'l1'],
      [6, 'l2'],
    ] as const) {
      const h = put(d).cast(at(x))!;
      expect(h.piece).toBe(id);
      expect(h.point.z).toBeCloseTo(0.5, 6);
    }
    changes.setPiece(d, 'l1', { locked: true });
    changes.setPiece(d, 'l2', { ghost: true });
    expect([put(d).cast(at(3)), put(d).cast(at(6)), put(d).cast(at(9))?.piece]).toEqual([null, null, 'l3']);
  });
  test('the wall under a ray is as thick as the piece, whatever was sized', () => {
    const d = doc(1);
    changes.setPlace(d, 'a', { size: [1, 1, 0.25], turn: [0, 0.4, 0] });
    const l = put(d);
    const r = new THREE.Ray(new THREE.Vector3(0, 0, 9), new THREE.Vector3(0, 0, -1));
    const h = l.cast(r)!;
    expect(l.thickness(h, r)).toBeCloseTo(0.25, 4);
  });
  test('a new result takes the old one’s place, and what is gone goes', () => {
    const d = doc(3);
    const l = put(d);
    l.show(
      new Map([['a', shownOf(cubeSphere({ radius: 2, cuts: 2 }, 1), 'h2')]]),
      d.pieces,
      changes.worlds(d),
      new Set(['a']),
      [],
      [],
    );
    expect(l.bounds().max.x).toBeCloseTo(2, 5);
    l.show(new Map(), [], new Map(), new Set(), [], []);
    expect(l.cost).toEqual({ meshes: 0, surfaces: 0 });
    l.dispose();
  });
});

describe('snapping', () => {
  const c = camera('Front');
  const d = changes.newProject('S');
  changes.addPiece(d, 'a', 'box');
  const l = new Layer();
  const all = { grid: true, vertex: true, middle: true, edge: true, face: true, pivot: true, texel: false };
  beforeAll(() => l.show(new Map([['a', shownOf(cube)]]), d.pieces, changes.worlds(d), new Set(['a']), [], []));
  const scene: SnapScene = {
    ray: (x, y) => ray(c, x, y),
    cast: (r) => l.cast(r),
    polygon: (id, t) => l.polygon(id, t),
    texel: () => null,
    pivots: [],
    plane: () => null,
  };
  const at = (
    p: readonly [number, number, number],
    kinds: Partial<typeof all> = {},
    dx = 3,
    dy = 2,
    more: Partial<SnapScene> = {},
  ) => {
    const [x, y] = screen(c, new THREE.Vector3(...p));
    return snap(
      ray(c, x + dx, y + dy),
      (q) => screen(c, q),
      x + dx,
      y + dy,
      { ...all, ...kinds },
      { ...scene, ...more },
      0.25,
      new THREE.Plane(new THREE.Vector3(0, 0, 1), 0),
    );
  };
  test('to the vertex, the middle, the edge, the face: the nearest that is wanted', () => {
    expect(at([0.5, 0.5, 0.5], {}, -3, 2)).toMatchObject({ kind: 'vertex', piece: 'a' });
    expect(at([0.5, 0.5, 0.5], {}, 4, -3)?.kind).toBe('vertex'); // just beside the piece too
    expect(at([0, 0.5, 0.5])?.at.toArray()).toEqual([0, 0.5, 0.5]);
    expect(at([0, 0.5, 0.5])?.kind).toBe('middle');
    expect(at([0.25, 0.5, 0.5])?.kind).toBe('edge');
    expect(at([0.2, 0.1, 0.5])).toMatchObject({ kind: 'face' });
    expect(at([0.5, 0.5, 0.5], { vertex: false, middle: false, edge: false }, -3, 2)?.kind).toBe('face');
    expect(at([0.2, 0.1, 0.5], { face: false, grid: false })).toBeNull();
  });
  test('beside everything to the grid, on the plane of the view; pivots before faces', () => {
    expect(
      at([1.3, 0.9, 0])
        ?.at.toArray()
        .map((x) => Math.round(x * 4) / 4),
    ).toEqual([1.25, 1, 0]);
    expect(
      at([0.2, 0.1, 0.5], {}, 1, 1, { pivots: [{ piece: 'p', at: new THREE.Vector3(0.2, 0.1, 0) }] }),
    ).toMatchObject({ kind: 'pivot', piece: 'p' });
  });
});

describe('blueprints in the view', () => {
  const d = changes.newProject('B');
  changes.addImage(d, imageOf('i', 200, 100));
  changes.addBlueprint(
    d,
    'b',
    'plan',
    {
      ...newBlueprint('i', 200, 100),
      scale: 0.01,
      side: 'right',
      seen: 'own view',
      stations: [{ id: 's', name: 'A', along: 'u', at: 0.5 }],
      rounds: [{ id: 'r', u: 0, v: 0, a: 0.3, b: 0.2, turn: 0.1 }],
    },
    sideTurn('right'),
  );
  const planes = (p = d) => {
    const x = new Planes();
    x.show(
      p.pieces,
      new Map(p.pieces.map((q) => [q.id, new THREE.Matrix4().fromArray(toMatrix4(placeMatrix(q.place)))])),
      new Set(['b']),
      p.images,
    );
    return x;
  };
  test('shown only in its own view when asked; its station named there, not when it is seen edge-on', () => {
    const p = planes();
    p.dress('Persp');
    expect(p.labels(new THREE.Vector3(-1, 0, 0))).toEqual([]);
    p.dress('Side');
    expect(p.labels(new THREE.Vector3(-1, 0, 0)).map((l) => l.text)).toEqual(['A']);
    expect(p.labels(new THREE.Vector3(0, 0, -1))).toEqual([]);
    expect(extent(d.pieces[0].blueprint!)).toEqual([
      [-1, -0.5],
      [1, 0.5],
    ]);
    expect(
      p
        .bounds()
        .getSize(new THREE.Vector3())
        .toArray()
        .map((x) => Math.round(x * 1e6) / 1e6),
    ).toEqual([0, 1, 2]);
  });
  test('a ray gives the pixel it falls on; picked only when asked for', () => {
    const p = planes();
    const r = new THREE.Ray(new THREE.Vector3(5, 0.25, -0.5), new THREE.Vector3(-1, 0, 0));
    p.dress('Side');
    expect(p.cast(r)).toBeNull();
    expect(p.cast(r, 'b')).toMatchObject({
      piece: 'b',
      pixel: [expect.closeTo(150, 5), expect.closeTo(25, 5)],
      u: expect.closeTo(0.5, 6),
      v: expect.closeTo(0.25, 6),
    });
    const open = structuredClone(d);
    open.pieces[0].blueprint!.pickable = true;
    const q = planes(open);
    q.dress('Side');
    expect(q.cast(r)?.piece).toBe('b');
    expect(q.cast(new THREE.Ray(new THREE.Vector3(5, 9, 0), new THREE.Vector3(-1, 0, 0)))).toBeNull(); // beside the picture
    expect(
      q
        .worldAt('b', 0.5, 0.25)!
        .toArray()
        .map((x) => Math.round(x * 1e6) / 1e6),
    ).toEqual([0, 0.25, -0.5]);
  });
});

test('a camera’s state is kept and given back', () => {
  const c = camera();
  const s = c.state;
  c.orbit(50, 20);
  c.pan(10, 10);
  c.zoom(0.5, 0.2, 0.1);
  c.state = s;
  expect(c.state).toEqual(s);
  for (const view of ['Back', 'Left', 'Bottom'] as const) {
    const o = camera(view);
    expect(
      Math.abs(o.forward().dot(camera(({ Back: 'Front', Left: 'Side', Bottom: 'Top' } as const)[view]).forward()) + 1),
    ).toBeLessThan(1e-9);
  }
  const m: Affine = compose(translation(1, 2, 3), compose(rotation('x', 0.2), scaling(2, 2, 2)));
  expect(new THREE.Matrix4().fromArray(toMatrix4(m)).determinant()).toBeCloseTo(8, 9);
});
