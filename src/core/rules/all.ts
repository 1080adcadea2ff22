/**
 * The rules there are: by the way things look, where they are, how large and how sharp they are, and what they belong
 * to.
 */
import { edgeKey, key2, keyOf } from '../math/hash';
import { ALWAYS, marksOf } from '../mesh/marks';
import type { Mesh } from '../mesh/mesh';
import type { PickKind } from '../mesh/picks';
import { drawnRole } from '../mesh/places';
import { mirrorImages } from '../mesh/mirrorimages';
import { topologyOf } from '../mesh/topology';
import { angle, choice, count, length, number, text } from '../recipe/values';
import { defineRule } from './define';
import { bends, edgeLengths, faceAreas, facesOnEdge, lookOf, onBorder, sidesOf, valences } from './measures';

const EVERY_KIND: readonly PickKind[] = ['face', 'edge', 'vertex'];
const WAYS = [
  ['up', 'up'],
  ['down', 'down'],
  ['left', 'left'],
  ['right', 'right'],
  ['front', 'to the front'],
  ['back', 'to the back'],
] as const;
const WAY: Readonly<Record<string, readonly [number, number, number]>> = {
  up: [0, 1, 0],
  down: [0, -1, 0],
  left: [-1, 0, 0],
  right: [1, 0, 0],
  front: [0, 0, 1],
  back: [0, 0, -1],
};

/** Vertices of one element. */
function cornersOf(mesh: Mesh, kind: PickKind): (index: number) => ArrayLike<number> {
  if (kind === 'vertex') return (v) => [v];
  if (kind === 'face') return (f) => mesh.cornerVertex.subarray(mesh.faceStart[f], mesh.faceStart[f + 1]);
  const { edgeVertex } = topologyOf(mesh);
  return (e) => edgeVertex.subarray(2 * e, 2 * e + 2);
}

const every = (list: ArrayLike<number>, test: (v: number) => boolean): boolean => {
  for (let i = 0; i < list.length; i++) if (!test(list[i])) return false;
  return list.length > 0;
};
const some = (list: ArrayLike<number>, test: (v: number) => boolean): boolean => {
  for (let i = 0; i < list.length; i++) if (test(list[i])) return true;
  return false;
};

const all = defineRule({
  id: 'all',
  title: 'All there is',
  sentence: 'all there are',
  words: 'everything whole',
  picks: EVERY_KIND,
  values: {},
  fits: () => () => true,
});

const looks = defineRule({
  id: 'looks',
  title: 'Look one way',
  sentence: 'that look {way}, within {angle}',
  words: 'normal facing direction up down top bottom',
  picks: EVERY_KIND,
  values: { way: choice('way', 'up', WAYS), angle: angle('within', 30, { min: 0, max: Math.PI }) },
  fits: (mesh, kind, v) => {
    const look = lookOf(mesh, kind);
    const [x, y, z] = WAY[v.way];
    const least = Math.cos(v.angle) - 1e-6;
    const n = new Float64Array(3);
    return (i) => {
      look(i, n);
      return n[0] * x + n[1] * y + n[2] * z >= least && (n[0] !== 0 || n[1] !== 0 || n[2] !== 0);
    };
  },
});

const inside = defineRule({
  id: 'inside',
  title: 'Within a box',
  sentence: 'within {x0} to {x1} across, {y0} to {y1} up, {z0} to {z1} to the front',
  words: 'box region bounds area position',
  picks: EVERY_KIND,
  values: {
    x0: length('from x', -1e6),
    x1: length('to x', 1e6),
    y0: length('from y', 0),
    y1: length('to y', 1e6),
    z0: length('from z', -1e6),
    z1: length('to z', 1e6),
  },
  fits: (mesh, kind, v) => {
    const corners = cornersOf(mesh, kind);
    const { positions: p } = mesh;
    const lo = [v.x0, v.y0, v.z0];
    const hi = [v.x1, v.y1, v.z1];
    const within = (w: number) => [0, 1, 2].every((k) => p[3 * w + k] >= lo[k] - 1e-9 && p[3 * w + k] <= hi[k] + 1e-9);
    return (i) => every(corners(i), within);
  },
});

const sharp = defineRule({
  id: 'sharp',
  title: 'Sharper than',
  sentence: 'that bend by more than {angle} and less than {most}',
  words: 'sharpness crease hard angle dihedral',
  picks: ['edge'],
  values: {
    angle: angle('more than', 40, { min: 0, max: Math.PI }),
    most: angle('less than', 180, { min: 0, max: Math.PI }),
  },
  fits: (mesh, _, v) => {
    const bend = bends(mesh);
    return (e) => bend(e) > v.angle && bend(e) <= v.most + 1e-6;
  },
});

const open = defineRule({
  id: 'open',
  title: 'On an open border',
  sentence: 'on an open border',
  words: 'boundary hole edge naked',
  picks: ['edge', 'vertex', 'face'],
  values: {},
  fits: (mesh, kind) => {
    if (kind === 'edge') {
      const faces = facesOnEdge(mesh);
      return (e) => faces(e) === 1;
    }
    const on = onBorder(mesh);
    const corners = cornersOf(mesh, kind);
    return (i) => some(corners(i), on);
  },
});

const crowded = defineRule({
  id: 'crowded',
  title: 'On three faces or more',
  sentence: 'on {least} faces or more',
  words: 'non-manifold fin inner',
  picks: ['edge'],
  values: { least: count('least', 3, { min: 1, max: 64 }) },
  fits: (mesh, _, v) => {
    const faces = facesOnEdge(mesh);
    return (e) => faces(e) >= v.least;
  },
});

const sides = defineRule({
  id: 'sides',
  title: 'By number of sides',
  sentence: 'with {least} to {most} sides',
  words: 'ngon triangle quad polygon corners',
  picks: ['face'],
  values: {
    least: count('from', 5, { min: 3, max: 4096, noun: ['side', 'sides'] }),
    most: count('to', 4096, { min: 3, max: 4096, noun: ['side', 'sides'] }),
  },
  fits: (mesh, _, v) => {
    const n = sidesOf(mesh);
    return (f) => n(f) >= v.least && n(f) <= v.most;
  },
});

const valence = defineRule({
  id: 'valence',
  title: 'By number of edges that meet',
  sentence: 'where {least} to {most} edges meet',
  words: 'pole star valence',
  picks: ['vertex'],
  values: { least: count('from', 5, { min: 0, max: 4096 }), most: count('to', 4096, { min: 0, max: 4096 }) },
  fits: (mesh, _, v) => {
    const n = valences(mesh);
    return (w) => n(w) >= v.least && n(w) <= v.most;
  },
});

const area = defineRule({
  id: 'area',
  title: 'By area',
  sentence: 'as large as a square of {least} to one of {most}',
  words: 'small large size surface',
  picks: ['face'],
  values: { least: length('from', 0, { min: 0 }), most: length('to', 0.01, { min: 0 }) },
  fits: (mesh, _, v) => {
    const of = faceAreas(mesh);
    return (f) => of(f) >= v.least * v.least && of(f) <= v.most * v.most;
  },
});

const long = defineRule({
  id: 'length',
  title: 'By length',
  sentence: 'of {least} to {most}',
  words: 'short long size',
  picks: ['edge'],
  values: { least: length('from', 0, { min: 0 }), most: length('to', 0.01, { min: 0 }) },
  fits: (mesh, _, v) => {
    const of = edgeLengths(mesh);
    return (e) => of(e) >= v.least && of(e) <= v.most;
  },
});

/** Faces whose attribute is the index of a name. */
function named(mesh: Mesh, attribute: 'material' | 'group', names: readonly string[], name: string) {
  const data = mesh.attributes[attribute]?.data;
  const wanted = name === '' ? -1 : names.indexOf(name);
  return (f: number) => (wanted >= 0 || name === '' ? (data ? data[f] : -1) === wanted : false);
}

const material = defineRule({
  id: 'material',
  title: 'Of a material',
  sentence: 'of the material “{name}”',
  words: 'colour slot',
  picks: ['face'],
  values: { name: text('material', '') },
  fits: (mesh, _, v) => named(mesh, 'material', mesh.slots, v.name),
});

const set = defineRule({
  id: 'set',
  title: 'Of a set',
  sentence: 'of the set “{name}”',
  words: 'group part name',
  picks: ['face'],
  values: { name: text('set', '') },
  fits: (mesh, _, v) => named(mesh, 'group', mesh.groups, v.name),
});

const share = defineRule({
  id: 'share',
  title: 'A random share',
  sentence: 'one of {each} at random, dice {seed}',
  words: 'random some chance scatter',
  picks: EVERY_KIND,
  values: { each: number('one of', 3, { min: 1, max: 1e6 }), seed: count('dice', 1, { min: 0, max: 1e6 }) },
  fits: (mesh, kind, v) => {
    // By lasting keys: the same elements whatever number they have.
    const seed = keyOf(`dice ${v.seed}`);
    const { vertexKey } = mesh;
    const { edgeVertex } = topologyOf(mesh);
    const keyAt = (i: number): number => {
      if (kind === 'edge') return edgeKey(vertexKey[edgeVertex[2 * i]], vertexKey[edgeVertex[2 * i + 1]]);
      return kind === 'face' ? mesh.faceKey[i] : vertexKey[i];
    };
    return (i) => (key2(seed, keyAt(i)) / 2 ** 53) * v.each < 1;
  },
});

const made = defineRule({
  id: 'made',
  title: 'Made by a move',
  sentence: 'that move “{move}” drew out, {part}',
  words: 'step history walls cap extruded',
  picks: EVERY_KIND,
  values: {
    move: text('move', ''),
    part: choice('part', 'all', [
      ['all', 'all of it'],
      ['wall', 'its walls'],
      ['top', 'its top'],
    ]),
  },
  fits: (mesh, kind, v) => {
    const { at, role } = mesh.places;
    const wanted = drawnRole(0, keyOf(v.move)) & 0xffff;
    const corners = cornersOf(mesh, kind);
    const own = (w: number) => (role[w] & 0xffff) === wanted;
    return (i) => {
      const list = corners(i);
      if (!some(list, own)) return false;
      if (v.part === 'all') return true;
      let lo = Infinity;
      let hi = -Infinity;
      for (let k = 0; k < list.length; k++) {
        lo = Math.min(lo, at[4 * list[k] + 3]);
        hi = Math.max(hi, at[4 * list[k] + 3]);
      }
      return v.part === 'wall' ? hi - lo > 0.25 : hi - lo <= 0.25;
    };
  },
});

const lopsided = defineRule({
  id: 'lopsided',
  title: 'Without another side',
  sentence: 'that have nothing at their mirror image across {axis}',
  words: 'symmetry asymmetric mirror check',
  picks: ['vertex'],
  values: {
    axis: choice('across', 'x', [
      ['x', 'X'],
      ['y', 'Y'],
      ['z', 'Z'],
    ]),
  },
  fits: (mesh, _, v) => {
    const image = mirrorImages(mesh, v.axis);
    return (w) => image[w] < 0;
  },
});

const creased = defineRule({
  id: 'creased',
  title: 'Creased',
  sentence: 'creased for {least} levels or more',
  words: 'crease sharp subdivision weight',
  picks: ['edge'],
  values: { least: number('levels', 0.01, { min: 0.01, max: ALWAYS }) },
  fits: (mesh, _, v) => {
    const crease = marksOf(mesh, 'crease');
    return (e) => crease !== undefined && crease[e] >= v.least;
  },
});

const hard = defineRule({
  id: 'hard',
  title: 'Shaded hard or soft',
  sentence: 'that are said to be {how}',
  words: 'hard soft smooth sharp shading normal',
  picks: ['edge'],
  values: {
    how: choice('how', 'hard', [
      ['hard', 'hard'],
      ['soft', 'soft'],
    ]),
  },
  fits: (mesh, _, v) => {
    const said = marksOf(mesh, 'hard');
    return (e) => said !== undefined && (v.how === 'hard' ? said[e] > 0 : said[e] < 0);
  },
});

export const ALL = [
  all,
  looks,
  inside,
  sharp,
  open,
  crowded,
  sides,
  valence,
  area,
  long,
  material,
  set,
  share,
  made,
  lopsided,
  creased,
  hard,
];
