/** What draws out and fills: edges, sheets, gaps. */
import { bridge as bridgeBorders } from '../edit/bridge';
import { cap as capBorders } from '../edit/cap';
import { extrudeEdges } from '../edit/extrudeedges';
import { thicken as thickenFaces } from '../edit/thicken';
import { choice, count, length, number, toggle } from '../recipe/values';
import { defineTool } from './define';

export const edgesOut = defineTool({
  id: 'extrude-edges',
  title: 'Extrude edges',
  sentence: ' {pick} by {by} {along}',
  help: 'Draws a strip of faces out of edges',
  words: 'pull fin wing sheet border strip',
  family: 'grow',
  icon: 'M4 16h16 M4 8h16 M4 16V8 M20 16V8 M12 8V3 M9.5 5.5L12 3l2.5 2.5',
  label: 'Extrude',
  picks: ['edge'],
  values: {
    by: length('by', 0.01),
    along: choice('way', 'on', [
      ['on', 'on in their plane'],
      ['up', 'along the normals'],
      ['x', 'along X'],
      ['y', 'along Y'],
      ['z', 'along Z'],
    ]),
  },
  run: (mesh, { indices }, v, id) => extrudeEdges(mesh, indices, v, id),
});

export const thicken = defineTool({
  id: 'thicken',
  title: 'Thicken',
  sentence: ' {pick} by {by} {side}, rims {rims}',
  help: 'Makes a body of a sheet: a second wall, and rims between',
  words: 'solidify shell wall thickness hollow',
  family: 'grow',
  icon: 'M4 8c5-4 11-4 16 0 M4 14c5-4 11-4 16 0 M4 8v6 M20 8v6',
  picks: ['face'],
  empty: 'all',
  values: {
    by: length('by', 0.002, { min: 0, max: 10000 }),
    side: choice('side', 'in', [
      ['in', 'inwards'],
      ['out', 'outwards'],
      ['both', 'to both sides'],
    ]),
    rims: toggle('rims', true, 'closed', 'left open'),
  },
  run: (mesh, { indices }, v, id) => thickenFaces(mesh, indices, v, id),
});

export const bridge = defineTool({
  id: 'bridge',
  title: 'Bridge',
  sentence: ' {pick} with {parts}, turned on by {twist}, {smooth} smooth',
  help: 'Joins two borders, or two groups of faces, by a tube or a strip',
  words: 'connect loft tunnel join hole tube',
  family: 'grow',
  icon: 'M4 5v14 M20 5v14 M4 8c6 2 10 2 16 0 M4 16c6-2 10-2 16 0',
  picks: ['edge', 'face'],
  values: {
    parts: count('rows', 1, { min: 1, max: 200, noun: ['row', 'rows'] }),
    twist: number('turned on by', 0, { min: -4096, max: 4096, digits: 0 }),
    smooth: number('smooth', 0, { min: 0, max: 3 }),
  },
  clears: true,
  run: (mesh, { kind, indices }, v, id) => bridgeBorders(mesh, kind, indices, v, id),
});

export const cap = defineTool({
  id: 'cap',
  title: 'Cap',
  sentence: ' the open borders at {pick} with {rule}, turned on by {turn}',
  help: 'Closes open borders by a face, a fan of triangles or a grid of quads',
  words: 'fill hole close grid lid end patch',
  family: 'grow',
  icon:
    'M12 5c5 0 8 1.500 8 3.500S17 12 12 12 4 10.500 4 8.500 7 5 12 5 M4 8.500V17c0 2 3 3 8 3s8-1 8-3V8.500 M12 ' +
    '5v7 M5 7l14 3',
  picks: ['edge', 'vertex'],
  rare: true,
  begins: 'at once',
  values: {
    rule: choice('with', 'face', [
      ['face', 'one face'],
      ['fan', 'a fan of triangles'],
      ['grid', 'a grid of quads'],
    ]),
    turn: number('turned on by', 0, { min: -4096, max: 4096, digits: 0 }),
  },
  run: (mesh, { kind, indices }, v, id) => capBorders(mesh, kind, indices, v.rule, v.turn, id),
});
