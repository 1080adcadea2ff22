/** What is drawn by clicking points: cuts over the surface, faces. */
import { drawFace } from '../edit/drawface';
import { freeCut } from '../edit/freecut';
import { drawStrip } from '../edit/strip';
import { raysOf } from '../mesh/rays';
import { findPlaces } from '../mesh/surfaceplace';
import { count, length, number, pieceName, places, toggle } from '../recipe/values';
import { defineTool, otherOf } from './define';

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

export const strip = defineTool({
  id: 'draw-strip',
  title: 'Draw a strip',
  sentence: ' along {line} on {other}, {width} wide, each {long} long, relaxed {rounds}',
  help: 'Lays a row of quads along a line drawn over another piece; where it meets what is there it joins',
  words: 'retopology quads stroke row band drag lay over',
  family: 'grow',
  icon: 'M3 17c4-9 12-3 18-11 M3 21c5-9 13-3 18-10 M8 12.500v4.500 M13.500 11v5 M18 8.500l.500 4.500',
  picks: ['face', 'edge', 'vertex'],
  empty: 'all',
  whole: true,
  begins: 'points',
  rare: true,
  values: {
    line: places('points'),
    other: pieceName('on', 'nothing'),
    width: length('wide', 0.01, { min: 0, max: 10000 }),
    long: length('long', 0, { min: 0, max: 10000, zero: 'as long as wide' }),
    rounds: count('rounds', 0, { min: 0, max: 50, zero: 'not at all', noun: ['round', 'rounds'] }),
    nx: number('looks x', 0),
    ny: number('looks y', 1),
    nz: number('looks z', 0),
  },
  main: 'width',
  run: (mesh, _, v, id, tell, around) => {
    const found = findPlaces(mesh, v.line);
    const line = v.line.map((p, i) => found[i]?.at ?? p.at);
    const ground = v.other === '' ? undefined : otherOf(v.other, around).geometry.mesh;
    if (v.other !== '' && !ground?.faceCount) tell?.('What it was drawn on has no surface now: it stays where it was.');
    const on = ground && ground.faceCount > 0 ? { mesh: ground, rays: raysOf(ground) } : undefined;
    return drawStrip(mesh, line, { ...v, towards: [v.nx, v.ny, v.nz] }, id, on);
  },
});
