/** What is drawn by clicking points: cuts over the surface, faces. */
import { drawFace } from '../edit/drawface';
import { freeCut } from '../edit/freecut';
import { number, places, toggle } from '../recipe/values';
import { defineTool } from './define';

export const cut = defineTool({
  id: 'free-cut',
  title: 'Cut',
  sentence: ' along {line}, {closed}',
  help: 'Cuts faces along a line one clicks: over vertices, edges and faces',
  words: 'knife free split draw line slice',
  key: 'C',
  family: 'cut',
  icon: 'M4 20L14 6l4 3L7 20z M14 6l2-3 4 3-2 3 M4 20l3-5',
  picks: ['face', 'edge', 'vertex'],
  empty: 'all',
  whole: true,
  begins: 'points',
  rare: true,
  values: { line: places('points'), closed: toggle('closed', false, 'back to where it began', 'from end to end') },
  run: (mesh, _, v, id, tell) => freeCut(mesh, v.line, v.closed, id, tell),
});

export const draw = defineTool({
  id: 'draw-face',
  title: 'Draw a face',
  sentence: ' through {outline}',
  help: 'Lays a face through corners one clicks: on vertices, on the ground, on other pieces',
  words: 'polygon create quad retopology append add point by point',
  key: 'Shift F',
  family: 'grow',
  icon: 'M5 18L8 6l11 2-3 11z M5 18a1 1 0 1 0 .1 0 M8 6a1 1 0 1 0 .1 0 M19 8a1 1 0 1 0 .1 0 M16 19a1 1 0 1 0 .1 0',
  picks: ['face', 'edge', 'vertex'],
  empty: 'all',
  whole: true,
  begins: 'points',
  rare: true,
  values: { outline: places('corners'), nx: number('looks x', 0), ny: number('looks y', 1), nz: number('looks z', 0) },
  run: (mesh, _, v, id, tell) => drawFace(mesh, v.outline, [v.nx, v.ny, v.nz], id, tell),
});
