import { box } from '../../../core/make/primitives';
import { UV } from '../../../core/mesh/mesh';
import { pickOf } from '../../../core/mesh/picks';
import { layoutAsSvg } from '../../../core/uv/drawing';
import { islandsOf } from '../../../core/uv/measure';
import { unwrapMesh } from '../../../core/uv/unwrap';
import { UNWRAPPING } from '../../../core/testing/unwrapping';
import { namesOfIslands } from './islandNames';

const { mesh } = unwrapMesh(
  box({ width: 1, height: 2, depth: 3, cutX: 2, cutY: 1, cutZ: 1, onGround: false }, 1),
  UNWRAPPING,
);
const uv = mesh.attributes[UV].data as Float32Array;
const islands = islandsOf(mesh, uv);
const facesOf = (island: number): number[] =>
  Array.from(islands.ofFace.keys()).filter((f) => islands.ofFace[f] === island);
const set = (name: string, faces: number[]) => ({ id: name, name, pick: pickOf(mesh, 'face', faces) });
const wide = Array.from({ length: islands.count }, (_, i) => i).filter((i) => facesOf(i).length === 2);

test('a set names the islands that lie in it whole, at their middle; a part of an island is not named', () => {
  expect(islands.count).toBe(6);
  const [a, b] = wide;
  const names = namesOfIslands(mesh, uv, islands, [
    set('lid', facesOf(a)),
    set('half', facesOf(b).slice(0, 1)),
    set('both', [...facesOf(a), ...facesOf(b)]),
  ]);
  expect(names.map((n) => [islands.ofFace[n.face], n.name]).sort()).toEqual(
    [
      [a, 'lid, both'],
      [b, 'both'],
    ].sort(),
  );
  for (const n of names) {
    const corners = facesOf(islands.ofFace[n.face]).flatMap((f) => [0, 1, 2, 3].map((k) => mesh.faceStart[f] + k));
    const middle = (k: number) => corners.reduce((sum, c) => sum + uv[2 * c + k], 0) / corners.length;
    expect([n.u, n.v]).toEqual([expect.closeTo(middle(0), 9), expect.closeTo(middle(1), 9)]);
  }
});

test('sets of edges, and none, name nothing', () => {
  const edges = { id: 'e', name: 'e', pick: pickOf(mesh, 'edge', [0, 1]) };
  expect(namesOfIslands(mesh, uv, islands, [edges])).toEqual([]);
  expect(namesOfIslands(mesh, uv, islands, [])).toEqual([]);
});

test('a drawing tells names beside the numbers, whatever is in them', () => {
  const svg = layoutAsSvg(mesh, {
    ...{ size: 256, line: 1, filled: true, numbered: true },
    names: [{ face: facesOf(wide[0])[0], name: 'lid <&> "top"' }],
  });
  expect(svg).toContain(`>${wide[0] + 1} lid &#60;&#38;&#62; &#34;top&#34;</text>`);
  expect(svg.match(/<text/g)).toHaveLength(6);
});
