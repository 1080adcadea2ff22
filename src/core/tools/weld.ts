import { joinVertices, snapped, weld as weldVertices } from '../edit/weld';
import { axisIndex, type Axis } from '../math/affine';
import type { Mesh } from '../mesh/mesh';
import { verticesOf } from '../mesh/picks';
import { choice, length, pieceName } from '../recipe/values';
import { ANY_KIND, defineTool, otherOf, type Picked } from './define';

/** Every vertex of a pick at the first or the last that was picked. */
function ontoEnd(mesh: Mesh, { kind, indices, ends }: Picked, which: 0 | 1): Mesh {
  if (kind !== 'vertex' || !ends)
    throw new Error('Pick vertices one after the other, so that there is a first and a last.');
  const to = Uint32Array.from({ length: mesh.vertexCount }, (_, v) => v);
  for (const v of indices) to[v] = ends[which];
  return joinVertices(mesh, to);
}

export const weld = defineTool({
  id: 'weld',
  title: 'Weld',
  sentence: ' {pick} {how}, closer than {distance}, of {other}',
  help: 'Makes one vertex of those that stand close together, or brings them onto a plane or another piece',
  words: 'merge join vertices collapse doubles snap first last mirror plane',
  key: 'W',
  family: 'join',
  icon: 'M4 6l8 6-8 6 M20 6l-8 6 8 6 M12 9.5a2.5 2.5 0 1 0 0 5a2.5 2.5 0 1 0 0-5',
  strip: ['vertex'],
  picks: ANY_KIND,
  values: {
    distance: length('closer than', 0.0001, { min: 0, max: 100 }),
    how: choice('how', 'near', [
      ['near', 'with what is near'],
      ['first', 'all to the first'],
      ['last', 'all to the last'],
      ['x', 'to the plane X = 0'],
      ['y', 'to the plane Y = 0'],
      ['z', 'to the plane Z = 0'],
      ['piece', 'to vertices of another piece'],
    ]),
    other: pieceName('the other piece', 'no other piece'),
  },
  begins: 'at once',
  run: (mesh, p, v, _, tell, around) => {
    if (v.how === 'first' || v.how === 'last') return ontoEnd(mesh, p, v.how === 'first' ? 0 : 1);
    const vertices = verticesOf(mesh, p.kind, p.indices);
    if (v.how === 'near') return weldVertices(mesh, v.distance, vertices);
    if (v.how === 'piece') {
      const other = otherOf(v.other, around);
      const ground = other.geometry.mesh;
      if (!ground || ground.vertexCount === 0) throw new Error(`“${other.name}” has no vertices.`);
      const { mesh: out, missed } = snapped(mesh, vertices, ground.positions, v.distance);
      if (missed > 0)
        tell?.(`${missed} of ${vertices.length} vertices have none of “${other.name}” within that distance.`);
      return out;
    }
    return ontoPlane(mesh, vertices, v.how, v.distance);
  },
});

/** Vertices within a distance of a plane through the origin stand in it. */
function ontoPlane(mesh: Mesh, vertices: Uint32Array, axis: Axis, distance: number): Mesh {
  const k = axisIndex(axis);
  const near = vertices.filter((w) => Math.abs(mesh.positions[3 * w + k]) <= distance);
  const positions = mesh.positions.slice();
  for (const w of near) positions[3 * w + k] = 0;
  return near.length === 0 ? mesh : mesh.moved(positions, near);
}
