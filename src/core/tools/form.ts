/** Vertices brought into form: onto planes, levels and balls, out along their normals, smoother. */
import { acrossWay, ontoBall, ontoLevel, ontoOwnPlane, outwards, reshape, type PlaceMap } from '../edit/reshape';
import { relax as relaxVertices } from '../edit/relax';
import { verticesOf } from '../mesh/picks';
import { partsOf } from '../mesh/walks';
import { choice, count, length, number, toggle } from '../recipe/values';
import type { Mesh } from '../mesh/mesh';
import { ANY_KIND, AXES, defineTool, soft, view, type Picked } from './define';

const share = number('this much', 1, { min: 0, max: 1 });

/** All of the pick at once, or part by part. */
function overParts(mesh: Mesh, p: Picked, each: boolean, run: (m: Mesh, vertices: Uint32Array) => Mesh): Mesh {
  if (!each) return run(mesh, verticesOf(mesh, p.kind, p.indices));
  return partsOf(mesh, p.kind, p.indices).reduce(run, mesh);
}

function flatOn(m: Mesh, vertices: Uint32Array, v: { onto: string; vx: number; vy: number; vz: number }): PlaceMap {
  if (v.onto === 'own') return ontoOwnPlane(m, vertices);
  if (v.onto === 'view') return acrossWay(m, vertices, [v.vx, v.vy, v.vz]);
  return ontoLevel(m, vertices, v.onto as 'x' | 'y' | 'z', 'middle');
}

export const flatten = defineTool({
  id: 'flatten',
  title: 'Flatten',
  sentence: ' {pick} onto {onto}, {share} of the way, {each}, taking along {soft} around',
  help: 'Brings vertices onto one plane: their own, or square to an axis',
  words: 'plane level even press planar make flat',
  family: 'form',
  icon: 'M3 17h18 M6 5v8 M4 11l2 2.5L8 11 M12 4v9 M10 11l2 2.5 2-2.5 M18 6v7 M16 11l2 2.5 2-2.5',
  picks: ANY_KIND,
  rare: true,
  values: {
    onto: choice('onto', 'own', [
      ['own', 'their own plane'],
      ['x', 'one X'],
      ['y', 'one Y'],
      ['z', 'one Z'],
      ['view', 'a plane across the view'],
    ]),
    ...view,
    share,
    each: toggle('each part alone', false, 'each part alone', 'all together'),
    ...soft,
  },
  begins: 'at once',
  run: (mesh, p, v) =>
    overParts(mesh, p, v.each, (m, vertices) => reshape(m, vertices, flatOn(m, vertices, v), v, v.share)),
});

export const align = defineTool({
  id: 'align-vertices',
  title: 'Align',
  sentence: ' {pick} along {axis} to {where}, at {at}',
  help: 'Gives vertices the same place along an axis: the lowest, the highest, or one you type',
  words: 'level line up same height coordinate value snap',
  family: 'place',
  icon: 'M4 20h16 M7 16v-4 M12 16V6 M17 16v-7',
  picks: ANY_KIND,
  rare: true,
  values: {
    axis: choice('along', 'y', AXES),
    where: choice('to', 'lowest', [
      ['lowest', 'the lowest'],
      ['middle', 'the middle'],
      ['highest', 'the highest'],
      ['exact', 'a place of its own'],
    ]),
    at: length('at', 0),
  },
  run: (mesh, p, v) => {
    const vertices = verticesOf(mesh, p.kind, p.indices);
    return reshape(mesh, vertices, ontoLevel(mesh, vertices, v.axis, v.where === 'exact' ? v.at : v.where));
  },
});

export const push = defineTool({
  id: 'push',
  title: 'Push',
  sentence: ' {pick} along their normals by {by}, taking along {soft} around, {falloff}',
  help: 'Moves vertices in or out along their normals',
  words: 'inflate shrink fatten normals swell thinner thicker',
  family: 'form',
  icon:
    'M12 8a4 4 0 1 0 0 8a4 4 0 1 0 0-8 M12 6V3 M12 21v-3 M6 12H3 M21 12h-3 M7.8 7.8L5.6 5.6 M18.4 18.4l-2.2-2.2 ' +
    'M7.8 16.2l-2.2 2.2 M18.4 5.6l-2.2 2.2',
  picks: ANY_KIND,
  rare: true,
  empty: 'all',
  values: { by: length('by', 0.005), ...soft },
  merge: (a, b) =>
    a.soft === b.soft && a.falloff === b.falloff && a.reach === b.reach ? { ...a, by: a.by + b.by } : undefined,
  run: (mesh, p, v) => reshape(mesh, verticesOf(mesh, p.kind, p.indices), outwards(mesh, v.by), v),
});

export const ball = defineTool({
  id: 'ball',
  title: 'To a ball',
  sentence: ' {pick} {share} of the way, of radius {radius}, {each}, taking along {soft} around',
  help: 'Brings vertices onto a ball round their middle',
  words: 'spherify sphere round globe',
  family: 'form',
  icon: 'M12 4a8 8 0 1 0 0 16a8 8 0 1 0 0-16 M4 12c4 3 12 3 16 0 M12 4c3 4 3 12 0 16',
  picks: ANY_KIND,
  empty: 'all',
  rare: true,
  values: {
    share,
    radius: length('of radius', 0, { min: 0, max: 10000, zero: 'their own' }),
    each: toggle('each part alone', false, 'each part alone', 'all together'),
    ...soft,
  },
  run: (mesh, p, v) =>
    overParts(mesh, p, v.each, (m, vertices) => reshape(m, vertices, ontoBall(m, vertices, v.radius), v, v.share)),
});

export const relax = defineTool({
  id: 'relax',
  title: 'Relax',
  sentence: ' {pick} {rounds}, by {strength} each, {volume}, borders {borders}',
  help: 'Evens out the distances between vertices',
  words: 'smooth even soften average tension',
  family: 'form',
  icon: 'M3 8c3-5 5 5 9 0s6 5 9 0 M3 17c5-2 13-2 18 0',
  picks: ANY_KIND,
  rare: true,
  empty: 'all',
  values: {
    rounds: count('rounds', 5, { min: 1, max: 200, noun: ['round', 'rounds'] }),
    strength: number('by', 0.5, { min: 0, max: 1 }),
    volume: toggle('volume', true, 'keeping the volume', 'as it comes'),
    borders: toggle('borders', true, 'held', 'free'),
  },
  run: (mesh, p, v) =>
    relaxVertices(mesh, verticesOf(mesh, p.kind, p.indices), {
      rounds: v.rounds,
      strength: v.strength,
      keepVolume: v.volume,
      holdBorders: v.borders,
    }),
});
