/** Steps that go by formulas: vertices moved, faces kept, colours, each by a value for every element. */
import { keepFaces } from '../edit/detach';
import { remove } from '../edit/remove';
import { LENGTH, PLAIN, TRUTH, type Code, type Type } from '../formula';
import { COLOR, type Mesh } from '../mesh/mesh';
import { mask } from '../mesh/picks';
import { defineStep, input } from '../recipe/define';
import { choice, count, expression, toggle, type Expression } from '../recipe/values';
import { cutPieces, placesOn, throughPlaces } from '../curve/places';
import { codeFor, codeOnCurves, columnFor, columnOf } from './columns';

const MOST_PLACES = 500_000;

export const shift = defineStep({
  kind: 'shift',
  title: 'Move each vertex',
  sentence: ' {along} by {formula}',
  inputs: { mesh: input('mesh') },
  help: 'Moves every vertex by a formula of its own place, normal, number and attributes',
  words: 'displace formula noise deform expression wave offset procedural',
  values: {
    along: choice('along', 'normal', [
      ['normal', 'along its normal'],
      ['x', 'along X'],
      ['y', 'along Y'],
      ['z', 'along Z'],
      ['vector', 'along a vector'],
    ]),
    formula: expression('formula', '3 mm * noise(position / (40 mm), 3)'),
  },
  run: ({ mesh }, v, c) => {
    const vector = v.along === 'vector';
    const wanted: Type = vector ? { ...LENGTH, kind: 'vector' } : LENGTH;
    const by = columnFor(mesh, 'vertex', codeFor(mesh, 'vertex', v.formula, wanted), c);
    const ways =
      v.along === 'normal'
        ? columnFor(mesh, 'vertex', codeFor(mesh, 'vertex', { text: 'normal', unit: 'm' }), c)
        : undefined;
    const positions = mesh.positions.slice();
    const axis = 'xyz'.indexOf(v.along);
    for (let i = 0; i < mesh.vertexCount; i++)
      for (let k = 0; k < 3; k++) {
        if (vector) positions[3 * i + k] += by[3 * i + k];
        else if (ways) positions[3 * i + k] += by[i] * ways[3 * i + k];
        else if (k === axis) positions[3 * i + k] += by[i];
      }
    return mesh.moved(positions);
  },
});

export const shiftCurve = defineStep({
  kind: 'shift-curve',
  title: 'Move along its curves',
  sentence: ' each place {along} by {formula}, {cuts}',
  inputs: { curves: input('curves') },
  help: 'Moves curves place by place, by a formula of how far along it is, where, and which way it goes',
  words: 'displace curve wave coil noise deform formula expression path line',
  values: {
    along: choice('along', 'y', [
      ['x', 'along X'],
      ['y', 'along Y'],
      ['z', 'along Z'],
      ['vector', 'along a vector'],
      ['tangent', 'along the curve'],
    ]),
    formula: expression('formula', '20 mm * sin(360 deg * 3 * along)'),
    cuts: count('pieces', 4, { min: 1, max: 200, noun: ['part a piece', 'parts a piece'] }),
  },
  run: ({ curves }, v, c) => {
    const many = (v.cuts * curves.points.length) / 3;
    if (many > MOST_PLACES)
      throw new Error(
        `That would be ${many.toLocaleString('en')} places; ${MOST_PLACES.toLocaleString('en')} are the most.`,
      );
    const finer = cutPieces(curves, v.cuts, c.id);
    const places = placesOn(finer);
    const vector = v.along === 'vector';
    const wanted: Type = vector ? { ...LENGTH, kind: 'vector' } : LENGTH;
    const moved = columnOf(codeOnCurves(places, v.formula, wanted), places.length, c);
    const axis = 'xyz'.indexOf(v.along);
    const by = new Float64Array(3 * places.length);
    for (let i = 0; i < places.length; i++)
      for (let k = 0; k < 3; k++) {
        if (vector) by[3 * i + k] = moved[3 * i + k];
        else if (axis < 0) by[3 * i + k] = moved[i] * places[i].way[k];
        else if (k === axis) by[3 * i + k] = moved[i];
      }
    return { curves: throughPlaces(finer, places, by) };
  },
});

export const where = defineStep({
  kind: 'where',
  title: 'Faces where',
  sentence: ' {formula} {keep}',
  inputs: { mesh: input('mesh') },
  help: 'Keeps faces by a formula, or takes them away',
  words: 'filter delete keep remove by rule condition formula expression mask',
  values: {
    formula: expression('formula', 'normal.y > 0.5'),
    keep: toggle('kept', true, 'are kept', 'are taken away'),
  },
  run: ({ mesh }, v, c) => {
    const is = columnFor(mesh, 'face', codeFor(mesh, 'face', v.formula, TRUTH), c);
    const found = Uint32Array.from(is.keys()).filter((f) => is[f] !== 0);
    c.tell('found', found.length);
    if (v.keep ? found.length === mesh.faceCount : found.length === 0) return mesh;
    if (v.keep ? found.length === 0 : found.length === mesh.faceCount)
      throw new Error('That would leave nothing of it.');
    return v.keep ? keepFaces(mesh, mask(mesh.faceCount, found)) : remove(mesh, 'face', found);
  },
});

export const tint = defineStep({
  kind: 'tint',
  title: 'Tint each vertex',
  sentence: ' by {formula}, from {from} to {to}',
  inputs: { mesh: input('mesh') },
  help: 'Colours of vertices by a formula: from 0 to 1 a way between two numbers, or red, green and blue of its own',
  words: 'vertex colour attribute show heat gradient paint formula expression',
  values: {
    formula: expression('formula', 'share.y'),
    from: expression('from', 'colour(0.16, 0.2, 0.24)'),
    to: expression('to', 'colour(0.93, 0.86, 0.62)'),
  },
  run: ({ mesh }, v, c) => {
    const code = codeFor(mesh, 'vertex', v.formula);
    const own = code.type.kind === 'vector' || code.type.kind === 'colour';
    const values = columnFor(mesh, 'vertex', own ? code : codeFor(mesh, 'vertex', v.formula, PLAIN), c);
    const data = new Float32Array(4 * mesh.vertexCount).fill(1);
    const ends = own ? [] : [v.from, v.to].map((x) => columnFor(mesh, 'vertex', colourOf(mesh, x), c));
    for (let i = 0; i < mesh.vertexCount; i++)
      for (let k = 0; k < 3; k++) {
        const t = own ? 0 : Math.min(1, Math.max(0, values[i]));
        const x = own ? values[3 * i + k] : ends[0][3 * i + k] + (ends[1][3 * i + k] - ends[0][3 * i + k]) * t;
        data[4 * i + k] = Math.min(1, Math.max(0, x));
      }
    return mesh.withAttribute(COLOR, { domain: 'vertex', width: 4, data });
  },
});

function colourOf(mesh: Mesh, x: Expression): Code {
  const code = codeFor(mesh, 'vertex', x);
  if (code.type.kind !== 'colour') throw new Error('A colour is wanted here, as in colour(1, 0.5, 0).');
  return code;
}
