/** What goes by the curve of another piece. */
import { laidAlong, ontoRail, stationsAlong } from '../edit/along';
import { extrude } from '../edit/extrude';
import { reshape } from '../edit/reshape';
import { centreOf } from '../edit/transform';
import { chainsOfPick } from '../edit/chains';
import { railOf, type Rail } from '../curve/rail';
import { verticesOf } from '../mesh/picks';
import { angle, choice, count, number, pieceName, toggle } from '../recipe/values';
import { ANY_KIND, AXES, defineTool, otherOf, soft, type Around } from './define';

function railFor(id: string, around: Around | undefined): Rail {
  const other = otherOf(id, around);
  const rail = railOf(other.geometry.curves);
  if (!rail) throw new Error(`“${other.name}” has no curve to go by.`);
  return rail;
}

export const drawAlong = defineTool({
  id: 'extrude-along',
  title: 'Draw out along',
  sentence: ' the curve of {other}: {pick} in {steps}, {turning}, twisted by {twist}, sized {end} at the end',
  help: 'Draws faces out along a curve of another piece, with walls behind them',
  words: 'extrude sweep path spline follow curve loft tube',
  family: 'grow',
  icon: 'M4 20c0-8 4-12 12-12 M14 5l3 3-3 3 M3 17h5v4H3z M17 6h4v4h-4z',
  picks: ['face'],
  rare: true,
  values: {
    other: pieceName('the other piece'),
    steps: count('steps', 8, { min: 1, max: 512, noun: ['step', 'steps'] }),
    turning: toggle('turning', true, 'turning with it', 'keeping their way'),
    twist: angle('twisted by', 0),
    end: number('sized at the end', 1, { min: 0.001, max: 1000 }),
    share: number('share of the way', 1, { min: 0.001, max: 1 }),
    each: toggle('each alone', false, 'each alone', 'as one'),
  },
  run: (mesh, { indices }, v, id, _, around) => {
    const rail = railFor(v.other, around);
    const middle = centreOf(mesh, verticesOf(mesh, 'face', indices));
    const stations = stationsAlong(rail, middle, v);
    return extrude(mesh, indices, { by: 0, along: 'normals', inset: 0, each: v.each, stations }, id);
  },
});

export const layAlong = defineTool({
  id: 'lay-along',
  title: 'Lay along',
  sentence: ' the curve of {other}: {pick}, what runs along {axis}, {fit}, from {from} of its length, turned by {turn}',
  help: 'Bends what is straight along a curve of another piece',
  words: 'bend path deform curve spline follow wrap',
  family: 'form',
  icon: 'M3 18c4 0 5-12 9-12s5 12 9 12 M12 3v6 M5 15v5 M19 15v5',
  picks: ANY_KIND,
  empty: 'all',
  rare: true,
  values: {
    other: pieceName('the other piece'),
    axis: choice('along', 'y', AXES),
    fit: toggle('length', true, 'as long as the curve', 'as long as it is'),
    from: number('from', 0, { min: -10, max: 10 }),
    turn: angle('turned by', 0),
    ...soft,
  },
  run: (mesh, p, v, _id, _, around) => {
    const rail = railFor(v.other, around);
    const vertices = verticesOf(mesh, p.kind, p.indices);
    return reshape(mesh, vertices, laidAlong(mesh, vertices, rail, v), v);
  },
});

export const ontoCurve = defineTool({
  id: 'onto-curve',
  title: 'Bring onto the curve',
  sentence: ' of {other}: {pick}, {even}, {share} of the way',
  help: 'Brings a chain of edges, or the border of faces, onto a curve of another piece',
  words: 'fit snap edge loop path spline follow curve',
  family: 'place',
  icon: 'M3 17c5-14 13-14 18 0 M7 10a1 1 0 1 0 .1 0 M12 6.500a1 1 0 1 0 .1 0 M17 10a1 1 0 1 0 .1 0',
  picks: ['edge', 'vertex', 'face'],
  rare: true,
  values: {
    other: pieceName('the other piece'),
    even: toggle('spaced', true, 'along all of it in equal parts', 'each to its nearest place'),
    share: number('this much', 1, { min: 0, max: 1 }),
  },
  run: (mesh, p, v, _id, _, around) => {
    const rail = railFor(v.other, around);
    const chains = chainsOfPick(mesh, p.kind, p.indices);
    if (chains.length === 0 && (v.even || p.kind !== 'vertex'))
      throw new Error('Pick edges that hang together, or the vertices at both ends of each.');
    const loose = chains.length === 0 ? [...p.indices].map((w) => ({ vertices: [w], closed: false })) : chains;
    const goal = ontoRail(mesh, loose, rail, v.even);
    return reshape(mesh, Uint32Array.from(goal.keys()), (at, w) => goal.get(w) ?? at, undefined, v.share);
  },
});
