/** What lies under the pointer and in an outline: of small meshes and large ones, as they stand and mirrored. */
import fc from 'fast-check';
import * as THREE from 'three';
import { box, cubeSphere } from '../../../core/make/primitives';
import { boundsOf } from '../../../core/mesh/bounds';
import { elementPoint } from '../../../core/mesh/elements';
import type { Mesh } from '../../../core/mesh/mesh';
import { topologyOf } from '../../../core/mesh/topology';
import type { Shading } from '../store';
import { Camera } from './camera';
import { Elements, LARGE, type Eye } from './elements';
import { Layer } from './layer';

const W = 800;
const H = 600;

/** An eye on a mesh that stands somewhere. */
function looking(mesh: Mesh, world = new THREE.Matrix4(), shading: Shading = 'clay') {
  const camera = new Camera();
  camera.resize(W, H);
  camera.see(new THREE.Box3(new THREE.Vector3(-1, -1, -1), new THREE.Vector3(1, 1, 1)));
  const pane = { x: 0, y: 0, width: W, height: H, shading };
  const eye: Eye = {
    pane,
    camera,
    layer: new Layer(),
    ownWorld: world,
    ownVisible: true,
    rayAt: (x, y) => camera.ray((x / W) * 2 - 1, 1 - (y / H) * 2),
  };
  const elements = new Elements(eye);
  elements.set(mesh, null);
  const screen = (p: THREE.Vector3): [number, number] => {
    const q = p.clone().applyMatrix4(world).project(camera.now);
    return [(q.x * 0.5 + 0.5) * W, (0.5 - q.y * 0.5) * H];
  };
  const middle = (kind: 'vertex' | 'edge' | 'face', i: number) =>
    new THREE.Vector3().fromArray(elementPoint(mesh, kind, i));
  return { camera, elements, pane, screen, middle };
}

const cube = box({ width: 1, height: 1, depth: 1, cutX: 1, cutY: 1, cutZ: 1, onGround: false }, 1);
const mirror = new THREE.Matrix4().makeScale(-1.2, 0.8, 1);
/** Wholly in the outline. */
const ALL: [number, number][] = [
  [0, 0],
  [W, 0],
  [W, H],
  [0, H],
];

describe.each([
  ['as it stands', new THREE.Matrix4()],
  ['moved and turned', new THREE.Matrix4().makeRotationY(0.4).setPosition(0.1, -0.2, 0.1)],
  ['mirrored and sized', mirror],
])('a cube %s', (_, world) => {
  test.each([
    ['face', 6, 3],
    ['edge', 12, 9],
    ['vertex', 8, 7],
  ] as const)('%s: what is seen is found at its middle, what is hidden is not', (kind, all, seen) => {
    const { elements, screen, middle } = looking(cube, world);
    const found = Array.from({ length: all }, (_u, i) => elements.under(...screen(middle(kind, i)), kind)?.index);
    // Of those that are hidden another may lie there instead.
    expect(found.filter((f, i) => f === i)).toHaveLength(seen);
    expect(elements.within(ALL, kind)).toHaveLength(seen);
    for (const i of elements.within(ALL, kind)) expect(found[i]).toBe(i);
  });

  test('through its surface all is found', () => {
    const { elements } = looking(cube, world);
    elements.through = true;
    expect(['face', 'edge', 'vertex'].map((k) => elements.within(ALL, k as 'face').length)).toEqual([6, 12, 8]);
    const lines = looking(cube, world, 'lines');
    expect(lines.elements.within(ALL, 'vertex')).toHaveLength(8);
  });

  test('where the pointer meets the surface: on it, and the way it looks, outwards', () => {
    const { elements, screen } = looking(cube, world);
    for (const p of [new THREE.Vector3(0.1, 0.2, 0.5), new THREE.Vector3(-0.2, 0.5, 0.1)]) {
      const at = elements.surfaceAt(...screen(p))!;
      expect(at.own.distanceTo(p)).toBeLessThan(1e-5);
      expect(at.world.distanceTo(p.clone().applyMatrix4(world))).toBeLessThan(1e-5);
      expect(at.normal.dot(p)).toBeCloseTo(0.5, 5);
    }
  });
});

test('beside it and of what is not seen there is nothing; without a mesh neither', () => {
  const { elements } = looking(cube);
  for (const kind of ['face', 'edge', 'vertex'] as const) expect(elements.under(3, 3, kind)).toBeNull();
  expect(elements.surfaceAt(3, 3)).toBeNull();
  expect(
    elements.within(
      [
        [1, 1],
        [2, 1],
        [2, 2],
      ],
      'face',
    ),
  ).toEqual([]);
  elements.set(null, null);
  expect(elements.under(400, 300, 'face')).toBeNull();
  expect(elements.within(ALL, 'vertex')).toEqual([]);
});

test('of very many faces the same is found as by going through all of them', () => {
  const side = 102;
  const mesh = cubeSphere({ radius: 0.8, cuts: side }, 1);
  expect(mesh.faceCount).toBeGreaterThan(LARGE);
  const { elements, middle, screen } = looking(mesh);
  const { edgeVertex } = topologyOf(mesh);
  const front = elements.within(
    [
      [380, 280],
      [420, 280],
      [420, 320],
      [380, 320],
    ],
    'edge',
  );
  expect(front.length).toBeGreaterThan(10);
  fc.assert(
    fc.property(fc.constantFrom(...front), (e) => {
      const under = elements.under(...screen(middle('edge', e)), 'edge')!;
      // Two that lie on one another on the screen are as good as each other.
      const [x, y] = screen(middle('edge', under.index));
      const [u, v] = screen(middle('edge', e));
      expect(Math.hypot(x - u, y - v)).toBeLessThan(2);
      const vertex = elements.under(...screen(middle('vertex', edgeVertex[2 * e])), 'vertex')!;
      expect(vertex.index).toBe(edgeVertex[2 * e]);
    }),
    { numRuns: 20 },
  );
});

test('near a corner of a face that leads past the eye it is the side that is seen there', () => {
  const floor = box({ width: 60, height: 0.01, depth: 60, cutX: 1, cutY: 1, cutZ: 1, onGround: false }, 1);
  const { elements, camera } = looking(floor, new THREE.Matrix4().makeTranslation(0, -1, 0));
  const eye = new THREE.Vector3().setFromMatrixPosition(camera.now.matrixWorld);
  const ends = Array.from(floor.positions).length / 3;
  const behind = Array.from({ length: ends }, (_, v) =>
    new THREE.Vector3()
      .fromArray(floor.positions, 3 * v)
      .setY(-1)
      .sub(eye)
      .dot(camera.forward()),
  ).filter((d) => d < 0);
  // Some corners are behind the eye, and its far sides are seen.
  expect(behind.length).toBeGreaterThan(0);
  const found = new Set<number>();
  for (let x = 4; x < W; x += 8)
    for (let y = 4; y < H; y += 8) {
      const under = elements.under(x, y, 'edge');
      if (under) found.add(under.index);
    }
  expect(found.size).toBeGreaterThan(0);
  const b = boundsOf(floor.positions);
  for (const e of found) {
    const p = new THREE.Vector3().fromArray(elementPoint(floor, 'edge', e));
    expect(Math.max(Math.abs(p.x), Math.abs(p.z))).toBeCloseTo(b.max[0], 3);
  }
});
