/** What cuts: edges divided, corners joined across, faces poked and made triangles, planes through everything. */
import { connect as connectVertices, divideEdges } from '../edit/divide';
import { planeCut } from '../edit/planecut';
import { poke as pokeFaces } from '../edit/poke';
import { toTriangles } from '../edit/triangles';
import { applyVector, turned, type Axis, type Triple } from '../math/affine';
import { centreOf } from '../edit/transform';
import { mask, verticesOf } from '../mesh/picks';
import { angle, choice, count, length, toggle } from '../recipe/values';
import { AXES, defineTool } from './define';

export const divide = defineTool({
  id: 'divide',
  title: 'Divide edges',
  sentence: ' {pick} into {parts}',
  help: 'Puts vertices on edges, at equal distances',
  words: 'subdivide split insert vertex middle add point',
  family: 'cut',
  icon: 'M4 20L20 4 M9 15a1 1 0 1 0 .1 0 M15 9a1 1 0 1 0 .1 0',
  picks: ['edge'],
  rare: true,
  values: { parts: count('parts', 2, { min: 2, max: 1000, noun: ['part', 'parts'] }) },
  run: (mesh, { indices }, v, id) => divideEdges(mesh, indices, v.parts, id),
});

export const connect = defineTool({
  id: 'connect',
  title: 'Connect',
  sentence: ' {pick} across the faces between',
  help: 'Lays edges between vertices of one face; of edges, between their middles',
  words: 'join cut split edge across link',
  key: 'Shift C',
  family: 'cut',
  icon: 'M4 5h16v14H4z M4 12h16 M4 12a1 1 0 1 0 .1 0 M20 12a1 1 0 1 0 .1 0',
  strip: ['vertex'],
  picks: ['vertex', 'edge'],
  begins: 'at once',
  values: {},
  run: (mesh, { kind, indices }, _, id, tell) => {
    if (kind !== 'edge') return connectVertices(mesh, indices, id, tell);
    const halved = divideEdges(mesh, indices, 2, id);
    const known = new Set(mesh.vertexKey);
    const middles: number[] = [];
    halved.vertexKey.forEach((k, v) => {
      if (!known.has(k)) middles.push(v);
    });
    return connectVertices(halved, middles, id, tell);
  },
});

export const poke = defineTool({
  id: 'poke',
  title: 'Poke',
  sentence: ' {pick}, by {by} out',
  help: 'Puts a vertex in the middle of each face, with triangles round it',
  words: 'fan middle star centre spike',
  family: 'cut',
  icon: 'M4 4h16v16H4z M4 4l16 16 M20 4L4 20',
  picks: ['face'],
  rare: true,
  values: { by: length('by', 0) },
  run: (mesh, { indices }, v, id) => pokeFaces(mesh, indices, v.by, id),
});

export const triangles = defineTool({
  id: 'triangulate',
  title: 'To triangles',
  sentence: ' {pick}, cut {rule}',
  help: 'Cuts faces into triangles',
  words: 'triangulate tris split ngon game',
  family: 'cut',
  icon: 'M4 4h16v16H4z M4 20L20 4',
  picks: ['face'],
  empty: 'all',
  begins: 'at once',
  rare: true,
  values: {
    rule: choice('cut', 'short', [
      ['short', 'the shortest way'],
      ['even', 'as evenly as can be'],
      ['fan', 'all from one corner'],
    ]),
  },
  run: (mesh, { indices }, v, id) => toTriangles(mesh, indices, v.rule, id),
});

/** Way the plane looks: an axis, tilted about the next two. */
function normalOf(axis: Axis, tilt: number, lean: number): Triple {
  if (axis === 'x') return applyVector(turned([0, tilt, lean]), [1, 0, 0]);
  if (axis === 'y') return applyVector(turned([tilt, 0, lean]), [0, 1, 0]);
  return applyVector(turned([tilt, lean, 0]), [0, 0, 1]);
}

export const plane = defineTool({
  id: 'plane-cut',
  title: 'Cut by a plane',
  sentence: ' {pick} across {axis} at {at} from their middle, tilted by {tilt} and {lean}, keeping {keep}, {fill}',
  help: 'Cuts faces along a plane; keeps one side or both, closed or open',
  words: 'slice knife section halve bisect trim',
  key: 'Alt C',
  family: 'cut',
  icon: 'M4 6h16v12H4z M2 14L22 9 M9 3l6 18',
  picks: ['face'],
  rare: true,
  empty: 'all',
  values: {
    axis: choice('across', 'y', AXES),
    at: length('at', 0),
    tilt: angle('tilted by', 0),
    lean: angle('and', 0),
    keep: choice('keeping', 'both', [
      ['both', 'both sides'],
      ['front', 'what is in front'],
      ['back', 'what is behind'],
    ]),
    fill: toggle('cut', false, 'closing the cut', 'leaving it open'),
  },
  main: 'at',
  run: (mesh, { kind, indices }, v, id) => {
    const normal = normalOf(v.axis, v.tilt, v.lean);
    const middle = centreOf(mesh, verticesOf(mesh, kind, indices));
    const through: Triple = [middle[0] + normal[0] * v.at, middle[1] + normal[1] * v.at, middle[2] + normal[2] * v.at];
    const faces = indices.length === mesh.faceCount ? undefined : mask(mesh.faceCount, indices);
    return planeCut(mesh, { normal, through, keep: v.keep, fill: v.fill }, id, faces);
  },
});
