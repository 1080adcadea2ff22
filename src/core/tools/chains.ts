/** Chains of edges: straight, evenly spaced, round, slid. */
import { chainsOfPick, slide as slideChains, slideVertices, spaceEvenly, straighten, toCircle } from '../edit/chains';
import type { Mesh } from '../mesh/mesh';
import { verticesOf } from '../mesh/picks';
import { choice, length, number, toggle } from '../recipe/values';
import { defineTool, type Picked } from './define';

function chains(mesh: Mesh, { kind, indices }: Picked) {
  const found = chainsOfPick(mesh, kind, indices);
  if (found.length === 0) throw new Error('Pick edges that hang together, or the vertices at both ends of each.');
  return found;
}

export const line = defineTool({
  id: 'straighten',
  title: 'Straighten',
  sentence: ' {pick}, spaced {even}',
  help: 'Lays a chain of edges on the line between its ends, a closed one on its own plane',
  words: 'line straight row even chain',
  family: 'place',
  icon: 'M4 18L20 6 M4 18a1 1 0 1 0 .1 0 M12 12a1 1 0 1 0 .1 0 M20 6a1 1 0 1 0 .1 0',
  picks: ['edge', 'vertex'],
  begins: 'at once',
  rare: true,
  values: { even: toggle('spaced', false, 'evenly', 'as they were') },
  run: (mesh, p, v) => straighten(mesh, chains(mesh, p), v.even),
});

export const space = defineTool({
  id: 'space',
  title: 'Space evenly',
  sentence: ' {pick}',
  help: 'Gives the vertices along a chain of edges the same distance',
  words: 'distribute even spread equal distance',
  family: 'place',
  icon: 'M3 12h18 M6 9v6 M12 9v6 M18 9v6',
  picks: ['edge', 'vertex'],
  begins: 'at once',
  rare: true,
  values: {},
  run: (mesh, p) => spaceEvenly(mesh, chains(mesh, p)),
});

export const circle = defineTool({
  id: 'circle',
  title: 'To a circle',
  sentence: ' {pick} {share} of the way, of radius {radius}',
  help: 'Brings a closed chain of edges, or the border of faces, to a circle; an open chain to an arc',
  words: 'round ring hole loop wheel arch',
  family: 'form',
  icon: 'M12 4a8 8 0 1 0 0 16a8 8 0 1 0 0-16 M12 3v2 M12 19v2 M3 12h2 M19 12h2',
  picks: ['edge', 'vertex', 'face'],
  rare: true,
  values: {
    share: number('this much', 1, { min: 0, max: 1 }),
    radius: length('of radius', 0, { min: 0, max: 10000, zero: 'its own' }),
  },
  run: (mesh, p, v) => toCircle(mesh, chains(mesh, p), v.radius, v.share),
});

export const slide = defineTool({
  id: 'slide',
  title: 'Slide',
  sentence: ' {pick} {towards} by {by} of the way to the next',
  help: 'Moves chains of edges along those that cross them, or vertices along their own, without changing the shape',
  words: 'shift loop along edges move',
  family: 'place',
  icon: 'M12 4v16 M4 6h16 M4 18h16 M15 12h5 M18 9.5l2.5 2.5L18 14.5',
  strip: ['vertex'],
  picks: ['edge', 'vertex'],
  values: {
    by: number('by', 0.25, { min: -1, max: 1 }),
    towards: choice('towards', 'across', [
      ['across', 'across'],
      ['x', 'along the edges that run most along X'],
      ['y', 'along the edges that run most along Y'],
      ['z', 'along the edges that run most along Z'],
    ]),
  },
  run: (mesh, p, v) =>
    v.towards === 'across'
      ? slideChains(mesh, chains(mesh, p), v.by)
      : slideVertices(mesh, verticesOf(mesh, p.kind, p.indices), v.towards, v.by),
});
