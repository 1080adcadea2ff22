import { box } from '../../../core/make';
import { topologyOf } from '../../../core/mesh';
import { UNWRAPPING, uvOf } from '../../../core/testing/unwrapping';
import { islandsOf } from '../../../core/uv/measure';
import { unwrapMesh } from '../../../core/uv';
import { cornersOf, facesAt, facesOfIslands, facesWithin, verticesAt } from './chosen';

// Two cells along one side: its four long faces are two each.
const { mesh } = unwrapMesh(
  box({ width: 2, height: 1, depth: 1, cutX: 2, cutY: 1, cutZ: 1, onGround: false }, 1),
  UNWRAPPING,
);
const uv = uvOf(mesh);
const { ofFace, count } = islandsOf(mesh, uv);
const t = topologyOf(mesh);
const sorted = (list: Iterable<number>): number[] => [...list].sort((a, b) => a - b);

test('faces at a vertex are those it is a corner of, at an edge its two, of faces themselves', () => {
  for (let v = 0; v < mesh.vertexCount; v++) {
    const has = (f: number) => mesh.cornerVertex.subarray(mesh.faceStart[f], mesh.faceStart[f + 1]).includes(v);
    const all = Array.from({ length: mesh.faceCount }, (_, f) => f).filter(has);
    expect(sorted(facesAt(mesh, 'vertex', [v]))).toEqual(all);
  }
  for (let e = 0; e < t.edgeCount; e++) {
    const faces = facesAt(mesh, 'edge', [e]);
    expect(faces.size).toBe(2);
    const ends = [t.edgeVertex[2 * e], t.edgeVertex[2 * e + 1]];
    for (const f of faces) for (const v of ends) expect(verticesAt(mesh, 'face', [f]).has(v)).toBe(true);
  }
  expect([...facesAt(mesh, 'face', Uint32Array.from([4, 4, 1]))]).toEqual([4, 1]);
});

test('of an island all faces, of several islands those of all, of nothing nothing', () => {
  expect(count).toBe(6);
  for (let f = 0; f < mesh.faceCount; f++) {
    const own = facesOfIslands(ofFace, [f]);
    expect(own).toContain(f);
    expect(new Set(own.map((x) => ofFace[x]))).toEqual(new Set([ofFace[f]]));
    expect(own).toEqual(sorted(own));
  }
  expect(facesOfIslands(ofFace, Array(mesh.faceCount).keys())).toHaveLength(mesh.faceCount);
  expect(facesOfIslands(ofFace, [])).toEqual([]);
});

test('vertices of edges are their ends, each once; corners of faces come in their order', () => {
  const both = verticesAt(mesh, 'edge', [0, 1]);
  const ends = [0, 1].flatMap((e) => [t.edgeVertex[2 * e], t.edgeVertex[2 * e + 1]]);
  expect(both).toEqual(new Set(ends));
  expect(verticesAt(mesh, 'vertex', [3, 3, 2])).toEqual(new Set([3, 2]));
  const corners = cornersOf(mesh, [2, 0]);
  expect(corners).toHaveLength(8);
  expect(Array.from(corners, (c) => t.cornerFace[c])).toEqual([2, 2, 2, 2, 0, 0, 0, 0]);
  expect(cornersOf(mesh, [])).toHaveLength(0);
});

test('within a rectangle are the islands with a corner there, whole', () => {
  expect(facesWithin(mesh, uv, ofFace, { x0: 0, y0: 0, x1: 1, y1: 1 })).toHaveLength(mesh.faceCount);
  expect(facesWithin(mesh, uv, ofFace, { x0: 2, y0: 0, x1: 3, y1: 1 })).toEqual([]);
  const c = mesh.faceStart[5];
  const [x, y] = [uv[2 * c], uv[2 * c + 1]];
  const near = { x0: x - 1e-6, y0: y - 1e-6, x1: x + 1e-6, y1: y + 1e-6 };
  expect(facesWithin(mesh, uv, ofFace, near)).toEqual(facesOfIslands(ofFace, [5]));
});
