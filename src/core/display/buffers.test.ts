import { keyOf } from '../math/hash';
import { box, cylinder, plane } from '../make/primitives';
import { displayBuffers } from './buffers';

const id = keyOf('t');

test('a cube: one display vertex a corner, two triangles a face, one line an edge', () => {
  const cube = box({ width: 2, height: 2, depth: 2, cutX: 1, cutY: 1, cutZ: 1, onGround: false }, id);
  const b = displayBuffers(cube);
  expect(b.position.length).toBe(3 * 24);
  expect(b.index.length).toBe(3 * 12);
  expect(b.edgePosition.length).toBe(6 * 12);
  expect(b).toMatchObject({ faces: 6, triangles: 12 });
  // Every normal is that of its face: along one axis, the way the vertex lies.
  for (let c = 0; c < 24; c++) {
    const n = b.normal.subarray(3 * c, 3 * c + 3);
    const axis = n.findIndex((x) => Math.abs(x) > 0.5);
    expect(Math.abs(n[axis])).toBeCloseTo(1, 6);
    expect(n[axis]).toBeCloseTo(b.position[3 * c + axis], 6);
  }
});

test('triangles look the same way as their normals', () => {
  const m = cylinder({ radius: 1, topRadius: 0.5, height: 1, sides: 7, rows: 2, cap: 'polygon', onGround: true }, id);
  const { position: p, normal: n, index } = displayBuffers(m);
  for (let i = 0; i < index.length; i += 3) {
    const [a, b, c] = [index[i], index[i + 1], index[i + 2]].map((k) => 3 * k);
    const u = [0, 1, 2].map((k) => p[b + k] - p[a + k]);
    const v = [0, 1, 2].map((k) => p[c + k] - p[a + k]);
    const cross = [u[1] * v[2] - u[2] * v[1], u[2] * v[0] - u[0] * v[2], u[0] * v[1] - u[1] * v[0]];
    expect(cross[0] * n[a] + cross[1] * n[a + 1] + cross[2] * n[a + 2]).toBeGreaterThan(0);
  }
});

test('ink: strong where open or sharp, faint where flat', () => {
  const p = plane({ width: 1, depth: 1, cutX: 2, cutZ: 1 }, id);
  const inks = new Set([...displayBuffers(p).edgeInk].map((x) => x.toFixed(2)));
  expect(inks).toEqual(new Set(['0.55', '0.18']));
  const cube = box({ width: 1, height: 1, depth: 1, cutX: 1, cutY: 1, cutZ: 1, onGround: true }, id);
  for (const x of displayBuffers(cube).edgeInk) expect(x).toBeCloseTo(0.55, 5);
});

test('UVs and slots come along as copies that may be handed over', () => {
  const p = plane({ width: 1, depth: 1, cutX: 1, cutZ: 1 }, id)
    .withAttribute('uv', { domain: 'corner', width: 2, data: Float32Array.from([0, 0, 1, 0, 1, 1, 0, 1]) })
    .withAttribute('material', { domain: 'face', width: 1, data: Int32Array.from([3]) });
  const b = displayBuffers(p);
  expect(b.uv).toEqual(p.attributes.uv.data);
  expect(b.uv).not.toBe(p.attributes.uv.data);
  expect([...b.slot!]).toEqual([3]);
  expect(displayBuffers(plane({ width: 1, depth: 1, cutX: 1, cutZ: 1 }, id)).uv).toBeUndefined();
});
