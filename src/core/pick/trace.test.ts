import { answer } from '.';
import { box, plane } from '../make/primitives';
import { topologyOf } from '../mesh/topology';
import { traceSeam } from './trace';

const lengthOf = (mesh: ReturnType<typeof plane>, edges: readonly number[]): number => {
  const t = topologyOf(mesh);
  return edges.reduce((sum, e) => {
    const [a, b] = [3 * t.edgeVertex[2 * e], 3 * t.edgeVertex[2 * e + 1]];
    return sum + Math.hypot(...[0, 1, 2].map((k) => mesh.positions[a + k] - mesh.positions[b + k]));
  }, 0);
};
const vertexAt = (mesh: ReturnType<typeof plane>, at: readonly number[]): number => {
  for (let v = 0; v < mesh.vertexCount; v++)
    if ([0, 1, 2].every((k) => Math.abs(mesh.positions[3 * v + k] - at[k]) < 1e-6)) return v;
  throw new Error(`no vertex at ${at.join(' ')}`);
};

test('a seam runs along a crease where that is hardly longer, and hides beneath', () => {
  const mesh = box({ width: 2, height: 2, depth: 2, cutX: 4, cutY: 4, cutZ: 4, onGround: false }, 1);
  const [a, b] = [
    [-1, 1, 0.5],
    [1, 1, 0.5],
  ].map((at) => vertexAt(mesh, at));
  const straight = traceSeam(mesh, [a, b], 0);
  expect(lengthOf(mesh, straight)).toBeCloseTo(2, 6);
  // Down to the rim and back costs 1 m more than straight on; creases are cheap enough for that.
  const hidden = traceSeam(mesh, [a, b], 1);
  expect(lengthOf(mesh, hidden)).toBeCloseTo(3, 6);
});

test('it goes through all that was clicked, in one piece', () => {
  const mesh = plane({ width: 2, depth: 2, cutX: 8, cutZ: 8 }, 1);
  const through = [
    [-1, 0, -1],
    [1, 0, -1],
    [1, 0, 1],
  ].map((at) => vertexAt(mesh, at));
  const edges = traceSeam(mesh, through, 0.5);
  expect(lengthOf(mesh, edges)).toBeCloseTo(4, 6);
  const { edgeVertex } = topologyOf(mesh);
  const met = new Set(edges.flatMap((e) => [edgeVertex[2 * e], edgeVertex[2 * e + 1]]));
  for (const v of through) expect(met.has(v)).toBe(true);
  expect(met.size).toBe(edges.length + 1);
  expect(
    answer(mesh, { name: 'trace', kind: 'vertex', from: Uint32Array.from(through), values: { hide: 0.5 } }),
  ).toEqual({
    kind: 'edge',
    indices: edges,
  });
  expect(traceSeam(mesh, [through[0]], 0.5)).toEqual([]);
});

test('of ways equally long it takes one with a single corner, and no longer one for that', () => {
  const mesh = plane({ width: 4, depth: 4, cutX: 16, cutZ: 16 }, 1);
  const p = mesh.positions;
  const { edgeVertex } = topologyOf(mesh);
  for (const [from, to] of [
    [
      [-1, 0, -1],
      [1, 0, 1.25],
    ],
    [
      [1.5, 0, -1],
      [-0.5, 0, 0.25],
    ],
  ]) {
    const edges = traceSeam(mesh, [vertexAt(mesh, from), vertexAt(mesh, to)], 0);
    expect(lengthOf(mesh, edges)).toBeCloseTo(Math.abs(to[0] - from[0]) + Math.abs(to[2] - from[2]), 6);
    const across = (e: number): boolean => p[3 * edgeVertex[2 * e]] !== p[3 * edgeVertex[2 * e + 1]];
    // Along x and then along z, or the other way about.
    const turns = edges.filter((e, i) => i > 0 && across(e) !== across(edges[i - 1])).length;
    expect(turns).toBe(1);
  }
});
