/** Steps that take a mesh apart, bring it onto forms, strew points and colour by formulas. */
import { outwards, reshape } from '../edit/reshape';
import { ontoForm, partAlong, pushedApart } from '../edit/parts';
import { TRUTH, PLAIN } from '../formula';
import { boundsOfGeometry, whole } from '../geometry';
import { translation } from '../math/affine';
import { transformMesh } from '../edit/transform';
import { components } from '../mesh/measure';
import { box as makeBox } from '../make/primitives';
import { hullOf } from '../make/hull';
import { pointsInGrid, pointsOn, pointsWithin } from '../make/points';
import { defineStep, everything, input, otherPiece } from '../recipe/define';
import { choice, count, expression, length, material, number, pieceNames } from '../recipe/values';
import { codeFor, columnFor } from './columns';

export const part = defineStep({
  kind: 'part',
  title: 'Part',
  sentence: ' along borders of {formula}',
  inputs: { mesh: input('mesh') },
  help: 'Lets faces go of one another where a value differs: what is alike hangs together, and is a part of its own',
  words: 'split separate cut by attribute partition panels pieces',
  values: { formula: expression('value', 'floor(share.y * 4)') },
  run: ({ mesh }, v, c) => {
    const code = codeFor(mesh, 'face', v.formula);
    const width = code.type.kind === 'vector' || code.type.kind === 'colour' ? 3 : 1;
    const out = partAlong(mesh, columnFor(mesh, 'face', code, c), width, c.id);
    c.tell('parts', components(out).count);
    return out;
  },
});

export const burst = defineStep({
  kind: 'burst',
  title: 'Push apart',
  sentence: ' by {by}, and by {share} of how far each is from the middle',
  inputs: { mesh: input('mesh') },
  help: 'Moves each part away from the middle of all: to look between them, or to leave gaps for good',
  words: 'explode burst separate spread gap view',
  values: {
    by: length('by', 0.01),
    share: number('share', 0, { min: -1, max: 100 }),
  },
  run: ({ mesh }, v) => pushedApart(mesh, v.by, v.share),
});

export const form = defineStep({
  kind: 'form',
  title: 'Bring to',
  sentence: ' {to} of {diameter}, along {axis}, {share} of the way',
  inputs: { mesh: input('mesh') },
  help: 'Every vertex onto a ball, a cylinder or a box of a real size, round the middle of the whole',
  words: 'spherify sphere cylinder cube cast shape round project',
  values: {
    to: choice('form', 'ball', [
      ['ball', 'a ball'],
      ['cylinder', 'a cylinder'],
      ['box', 'a box'],
    ]),
    diameter: length('across', 0.3, { min: 0 }),
    axis: choice('along', 'y', [
      ['y', 'Y'],
      ['x', 'X'],
      ['z', 'Z'],
    ]),
    share: number('share', 1, { min: -10, max: 10 }),
  },
  run: ({ mesh }, v) => ontoForm(mesh, v),
});

export const dress = defineStep({
  kind: 'dress',
  title: 'Give material',
  sentence: ' {material} to each face where {formula}',
  inputs: { mesh: input('mesh') },
  usesMaterials: true,
  help: 'A material for the faces for which a formula is true; the others keep theirs',
  words: 'material assign colour paint by attribute condition',
  values: { material: material('material'), formula: expression('where', 'mod(part, 2) = 0') },
  run: ({ mesh }, v, c) => {
    if (v.material === '' || !c.materials.some((m) => m.id === v.material)) {
      c.warn('Choose the material that is to be given.');
      return mesh;
    }
    const is = columnFor(mesh, 'face', codeFor(mesh, 'face', v.formula, TRUTH), c);
    const slots = mesh.slots.includes(v.material) ? mesh.slots : [...mesh.slots, v.material];
    const own = slots.indexOf(v.material);
    const had = mesh.attributes.material?.data;
    const data = Int32Array.from(is, (x, f) => (x !== 0 ? own : (had?.[f] ?? -1)));
    return mesh.with({ slots, attributes: { ...mesh.attributes, material: { domain: 'face', width: 1, data } } });
  },
});

export const spread = defineStep({
  kind: 'spread',
  title: 'Start with points on',
  sentence: ' {other}: {count}, as thick as {density}, none nearer than {apart}, thrown by {seed}',
  inputs: { other: otherPiece('the other piece') },
  help:
    'Points strewn over the surface of another piece, for copies to stand on; each stays where it is while its ' +
    'face does',
  words: 'scatter distribute random points surface sprinkle strew instances',
  values: {
    count: count('how many', 100, { min: 1, max: 1_000_000_000, noun: ['point', 'points'] }),
    density: expression('density', '1'),
    apart: length('apart', 0, { min: 0, zero: 'at all' }),
    seed: count('seed', 1),
  },
  run: ({ other }, v, c) => {
    const { mesh } = whole(other.geometry);
    if (!mesh || mesh.faceCount === 0) throw new Error(`“${other.name}” has no surface for points.`);
    const density =
      v.density.text.trim() === '1' ? undefined : columnFor(mesh, 'face', codeFor(mesh, 'face', v.density, PLAIN), c);
    const out = pointsOn(mesh, { count: v.count, density, seed: v.seed, apart: v.apart });
    c.tell('points', out.vertexCount);
    if (out.vertexCount < v.count) c.warn(`${out.vertexCount} of ${v.count} points have room so far apart.`);
    return out;
  },
});

export const within = defineStep({
  kind: 'within',
  title: 'Start with points within',
  sentence: ' {other}, each {apart}, straying by {stray} of that, thrown by {seed}',
  inputs: { other: otherPiece('the other piece') },
  help: 'A grid of points that fills a closed piece, for copies to stand on',
  words: 'scatter volume fill grid lattice points random',
  values: {
    apart: length('apart', 0.05, { min: 0.000001 }),
    stray: number('stray', 0, { min: 0, max: 1 }),
    seed: count('seed', 1),
  },
  run: ({ other }, v, c) => {
    const { mesh } = whole(other.geometry);
    if (!mesh || mesh.faceCount === 0) throw new Error(`“${other.name}” has no inside.`);
    const out = pointsWithin(mesh, v);
    c.tell('points', out.vertexCount);
    return out;
  },
});

export const around = defineStep({
  kind: 'around',
  title: 'Put round',
  sentence: ' it all {what}, {more} away from it',
  inputs: { all: everything() },
  help: 'A box as large as all so far, or its convex hull, in its place',
  words: 'bounding box bounds crate convex hull wrap around packaging collision',
  values: {
    what: choice('what', 'box', [
      ['box', 'a box'],
      ['hull', 'a hull'],
    ]),
    more: length('away', 0),
  },
  run: ({ all }, v, c) => {
    const b = boundsOfGeometry(all);
    if (!b) throw new Error('There is nothing to put anything round.');
    if (v.what === 'hull') {
      const { mesh } = whole(all);
      if (!mesh || mesh.vertexCount === 0) throw new Error('There is no surface to put a hull round.');
      const hull = hullOf(mesh);
      return { mesh: v.more === 0 ? hull : reshape(hull, [...Array(hull.vertexCount).keys()], outwards(hull, v.more)) };
    }
    const side = [0, 1, 2].map((k) => Math.max(0.000001, b.max[k] - b.min[k] + 2 * v.more));
    const mesh = makeBox(
      { width: side[0], height: side[1], depth: side[2], cutX: 1, cutY: 1, cutZ: 1, onGround: false },
      c.id,
    );
    const middle = [0, 1, 2].map((k) => (b.min[k] + b.max[k]) / 2);
    return { mesh: transformMesh(mesh, translation(middle[0], middle[1], middle[2])) };
  },
});

export const gridded = defineStep({
  kind: 'gridded',
  title: 'Start with a grid of points',
  sentence: ': {acrossX} along x, {acrossY} along y, {acrossZ} along z, each {apart}',
  inputs: {},
  help: 'Points in rows, for copies to stand on',
  words: 'grid lattice points array rows matrix',
  values: {
    acrossX: count('along x', 5, { min: 1, max: 1_000_000 }),
    acrossY: count('along y', 1, { min: 1, max: 1_000_000 }),
    acrossZ: count('along z', 5, { min: 1, max: 1_000_000 }),
    apart: length('apart', 0.1, { min: 0.000001 }),
  },
  run: (_, v, c) => {
    const out = pointsInGrid([v.acrossX, v.acrossY, v.acrossZ], v.apart, c.id);
    c.tell('points', out.vertexCount);
    return out;
  },
});

export const choose = defineStep({
  kind: 'choose',
  title: 'Start with one of',
  sentence: ' {others}: number {which}',
  inputs: {},
  names: (v) => v.others,
  help: 'One of several pieces by a number: of a dial, it makes them a choice',
  words: 'switch choose select option variant branch if',
  values: {
    others: pieceNames('several pieces', 'no pieces'),
    which: count('which', 1, { min: 1, max: 1000 }),
  },
  run: (_, v, c) => {
    if (v.others.length === 0) throw new Error('Choose the pieces of which one is to be shown.');
    if (v.which > v.others.length) c.warn(`There are only ${v.others.length}: number ${v.which} is the last of them.`);
    return c.other(v.others[Math.min(v.which, v.others.length) - 1]).geometry;
  },
});
