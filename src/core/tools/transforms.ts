/** Move, turn and size: along any axes, about any point, drawing along what is near. */
import { centreOf, transformVertices } from '../edit/transform';
import { blendVertices, softWeights } from '../edit/soft';
import {
  about,
  applyVector,
  compose,
  invert,
  rotation,
  scaling,
  translation,
  turned,
  type Affine,
} from '../math/affine';
import type { Mesh } from '../mesh/mesh';
import { verticesOf } from '../mesh/picks';
import { partsOf } from '../mesh/walks';
import { angle, choice, length, number } from '../recipe/values';
import { ANY_KIND, AXES, defineTool, soft, type Picked, type Soft } from './define';

const ABOUT = [
  ['pick', 'its middle'],
  ['origin', 'the origin'],
  ['point', 'a point'],
  ['each', 'the middle of each part'],
] as const;
const frame = {
  frameX: angle('axes turned about x', 0),
  frameY: angle('axes turned about y', 0),
  frameZ: angle('axes turned about z', 0),
};
const point = { px: length('point x', 0), py: length('point y', 0), pz: length('point z', 0) };

interface About extends Soft {
  about: string;
  px: number;
  py: number;
  pz: number;
}

/** The map for each share of itself, put on the picked vertices and, weaker, on what is near them. */
function apply(mesh: Mesh, vertices: Uint32Array, v: Soft, map: (share: number) => Affine): Mesh {
  if (!(v.soft > 0)) return transformVertices(mesh, map(1), vertices);
  return blendVertices(mesh, softWeights(mesh, vertices, v.soft, v.falloff, v.reach), map);
}

function aboutPoints(mesh: Mesh, p: Picked, v: About, map: (share: number) => Affine): Mesh {
  if (v.about !== 'each') {
    const vertices = verticesOf(mesh, p.kind, p.indices);
    let [x, y, z] = [0, 0, 0];
    if (v.about === 'point') [x, y, z] = [v.px, v.py, v.pz];
    else if (v.about !== 'origin') [x, y, z] = centreOf(mesh, vertices);
    return apply(mesh, vertices, v, (share) => about(map(share), x, y, z));
  }
  return partsOf(mesh, p.kind, p.indices).reduce((m, vertices) => {
    const [x, y, z] = centreOf(mesh, vertices);
    return apply(m, vertices, v, (share) => about(map(share), x, y, z));
  }, mesh);
}

const sameKeys = (a: object, b: object, keys: readonly string[]): boolean =>
  keys.every((k) => (a as Record<string, unknown>)[k] === (b as Record<string, unknown>)[k]);
const FRAME = ['about', 'soft', 'falloff', 'reach', 'frameX', 'frameY', 'frameZ', 'px', 'py', 'pz'];
const inFrame = (v: { frameX: number; frameY: number; frameZ: number }, m: Affine): Affine => {
  if (v.frameX === 0 && v.frameY === 0 && v.frameZ === 0) return m;
  const f = turned([v.frameX, v.frameY, v.frameZ]);
  return compose(f, compose(m, invert(f)));
};

export const move = defineTool({
  id: 'move',
  title: 'Move',
  sentence: ' {pick} by {x}, {y}, {z}, taking along {soft} around, {falloff}',
  help: 'Moves what is picked',
  words: 'translate shift drag slide position',
  key: 'M',
  family: 'place',
  icon:
    'M12 3v18 M3 12h18 M9.5 5.5L12 3l2.5 2.5 M9.5 18.5L12 21l2.5-2.5 M5.5 9.5L3 12l2.5 2.5 M18.5 9.5L21 12l-2.5 ' +
    '2.5',
  picks: ANY_KIND,
  empty: 'all',
  begins: 'handles',
  values: { x: length('along x', 0), y: length('along y', 0), z: length('along z', 0), ...soft, ...frame },
  merge: (a, b) => (sameKeys(a, b, FRAME) ? { ...a, x: a.x + b.x, y: a.y + b.y, z: a.z + b.z } : undefined),
  run: (mesh, p, v) => {
    const [x, y, z] =
      v.frameX || v.frameY || v.frameZ
        ? applyVector(turned([v.frameX, v.frameY, v.frameZ]), [v.x, v.y, v.z])
        : [v.x, v.y, v.z];
    return apply(mesh, verticesOf(mesh, p.kind, p.indices), v, (s) => translation(x * s, y * s, z * s));
  },
});

export const turn = defineTool({
  id: 'turn',
  title: 'Turn',
  sentence: ' {pick} by {angle} about {axis} through {about}, taking along {soft} around',
  help: 'Turns what is picked about an axis',
  words: 'rotate spin angle',
  key: 'T',
  family: 'place',
  icon: 'M19.5 12a7.5 7.5 0 1 1-2.2-5.3 M17.5 2.5v4.4h-4.4',
  picks: ANY_KIND,
  empty: 'all',
  begins: 'handles',
  values: {
    angle: angle('by', 0),
    axis: choice('axis', 'y', AXES),
    about: choice('through', 'pick', ABOUT),
    ...soft,
    ...frame,
    ...point,
  },
  merge: (a, b) => (a.axis === b.axis && sameKeys(a, b, FRAME) ? { ...a, angle: a.angle + b.angle } : undefined),
  run: (mesh, p, v) => aboutPoints(mesh, p, v, (s) => inFrame(v, rotation(v.axis, v.angle * s))),
});

export const size = defineTool({
  id: 'size',
  title: 'Size',
  sentence: ' {pick} by {x} × {y} × {z} from {about}, taking along {soft} around',
  help: 'Sizes what is picked, evenly or along an axis',
  words: 'scale resize grow stretch',
  key: 'S',
  family: 'place',
  icon: 'M4 13v7h7 M4 20L20 4 M13 4h7v7',
  picks: ANY_KIND,
  empty: 'all',
  begins: 'handles',
  values: {
    x: number('along x', 1, { min: -1000, max: 1000 }),
    y: number('along y', 1, { min: -1000, max: 1000 }),
    z: number('along z', 1, { min: -1000, max: 1000 }),
    about: choice('from', 'pick', ABOUT),
    ...soft,
    ...frame,
    ...point,
  },
  merge: (a, b) => (sameKeys(a, b, FRAME) ? { ...a, x: a.x * b.x, y: a.y * b.y, z: a.z * b.z } : undefined),
  run: (mesh, p, v) =>
    aboutPoints(mesh, p, v, (s) => inFrame(v, scaling(1 + (v.x - 1) * s, 1 + (v.y - 1) * s, 1 + (v.z - 1) * s))),
});
