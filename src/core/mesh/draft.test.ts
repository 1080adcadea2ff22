import { keyOf } from '../math/hash';
import { box, plane } from '../make/primitives';
import { MeshDraft, keepVertices } from './draft';
import { shapeOf } from './measure';
import { meshFrom } from './mesh';

const id = keyOf('t');
const cube = box({ width: 1, height: 1, depth: 1, cutX: 1, cutY: 1, cutZ: 1, onGround: false }, id);

test('a draft without changes is the mesh', () => {
  const m = new MeshDraft(cube).finish();
  expect(m.positions).toEqual(cube.positions);
  expect(m.cornerVertex).toEqual(cube.cornerVertex);
  expect(m.vertexKey).toEqual(cube.vertexKey);
  expect(m.faceKey).toEqual(cube.faceKey);
});

test('dropping a face drops the vertices only it used, not those that were loose before', () => {
  const m = meshFrom(
    [0, 0, 0, 1, 0, 0, 0, 1, 0, 9, 9, 9, 1, 1, 0],
    [
      [0, 1, 2],
      [1, 4, 2],
    ],
  );
  const draft = new MeshDraft(m);
  draft.drop(1);
  draft.drop(1); // twice is once
  const out = draft.finish();
  expect(out.faceCount).toBe(1);
  expect(out.vertexCount).toBe(4);
  expect([...out.positions].slice(9)).toEqual([9, 9, 9]);
  expect(shapeOf(out).looseVertices).toBe(1);
});

test('new faces take attributes from where they say: a face, a corner, or between two corners', () => {
  const p = plane({ width: 1, depth: 1, cutX: 1, cutZ: 1 }, id)
    .withAttribute('uv', { domain: 'corner', width: 2, data: Float32Array.from([0, 0, 1, 0, 1, 1, 0, 1]) })
    .withAttribute('material', { domain: 'face', width: 1, data: Int32Array.from([7]) })
    .withAttribute('weight', { domain: 'vertex', width: 1, data: Float32Array.from([1, 2, 3, 4]) });
  const draft = new MeshDraft(p);
  const v = draft.vertex(99, 0, 1, 0, 0, 2, 0.5);
  draft.begin(1, 0);
  draft.at(0, 0);
  draft.at(1, 1);
  draft.at(v, 1, 2, 0.25);
  draft.end();
  draft.begin(2);
  draft.at(0);
  draft.at(v);
  draft.at(2);
  draft.end();
  const m = draft.finish();
  expect([...m.attributes.uv.data].slice(8, 14)).toEqual([0, 0, 1, 0, 1, 0.25]);
  expect([...m.attributes.uv.data].slice(14)).toEqual([0, 0, 0, 0, 0, 0]);
  expect([...m.attributes.material.data]).toEqual([7, 7, -1]);
  expect([...m.attributes.weight.data]).toEqual([1, 2, 3, 4, 2]);
  expect([...m.vertexKey].slice(4)).toEqual([99]);
});

test('moving in a draft leaves the source as it was', () => {
  const before = cube.positions.slice();
  const draft = new MeshDraft(cube);
  draft.ownPositions()[0] = 42;
  expect(draft.finish().positions[0]).toBe(42);
  expect(cube.positions).toEqual(before);
});

test('many new elements: the lists grow', () => {
  const draft = new MeshDraft(cube);
  for (let i = 0; i < 1000; i++) {
    const a = draft.vertex(1000 + 3 * i, i, 0, 0);
    const b = draft.vertex(1001 + 3 * i, i, 1, 0);
    const c = draft.vertex(1002 + 3 * i, i, 0, 1);
    draft.begin(5000 + i);
    for (const v of [a, b, c]) draft.at(v);
    draft.end();
  }
  const m = draft.finish();
  expect(m.faceCount).toBe(1006);
  expect(m.vertexCount).toBe(3008);
  expect(shapeOf(m).components).toBe(1001);
});

test('keeping vertices carries their attributes and keys along', () => {
  const m = meshFrom([0, 0, 0, 1, 0, 0, 2, 0, 0, 0, 1, 0], [[0, 2, 3]]).withAttribute('weight', {
    domain: 'vertex',
    width: 1,
    data: Int32Array.from([1, 2, 3, 4]),
  });
  const out = keepVertices(m, Uint8Array.from([1, 0, 1, 1]));
  expect([...out.attributes.weight.data]).toEqual([1, 3, 4]);
  expect([...out.cornerVertex]).toEqual([0, 1, 2]);
  expect([...out.vertexKey]).toEqual([m.vertexKey[0], m.vertexKey[2], m.vertexKey[3]]);
});
