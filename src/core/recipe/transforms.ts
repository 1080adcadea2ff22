/** Move, turn and size as moves: along any axes, about any point, drawing along what is near. */
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
import { partsOf, verticesOf, type PickKind } from '../mesh/picks';
import { defineMove } from './define';
import { angle, choice, length, number } from './values';

const ALL: readonly PickKind[] = ['vertex', 'edge', 'face'];
const AXES = [
  ['x', 'X'],
  ['y', 'Y'],
  ['z', 'Z'],
] as const;
const ABOUT = [
  ['pick', 'its middle'],
  ['origin', 'the origin'],
  ['point', 'a point'],
  ['each', 'the middle of each part'],
] as const;
export const FALLOFF = [
  ['smooth', 'smoothly'],
  ['dome', 'like a dome'],
  ['sharp', 'to a tip'],
  ['straight', 'evenly'],
] as const;

type Picked = { kind: PickKind; indices: Uint32Array };

const soft = {
  soft: length('taking along', 0, { min: 0, max: 10000, zero: 'nothing' }),
  falloff: choice('fading', 'smooth', FALLOFF),
};
const frame = {
  frameX: angle('axes turned about x', 0),
  frameY: angle('axes turned about y', 0),
  frameZ: angle('axes turned about z', 0),
};
const point = { px: length('point x', 0), py: length('point y', 0), pz: length('point z', 0) };

interface Soft {
  soft: number;
  falloff: 'smooth' | 'dome' | 'sharp' | 'straight';
}
interface About extends Soft {
  about: string;
  px: number;
  py: number;
  pz: number;
}

/** The map for each share of itself, put on the picked vertices and, weaker, on what is near them. */
function apply(mesh: Mesh, vertices: Uint32Array, v: Soft, map: (share: number) => Affine): Mesh {
  if (!(v.soft > 0)) return transformVertices(mesh, map(1), vertices);
  return blendVertices(mesh, softWeights(mesh, vertices, v.soft, v.falloff), map);
}

function aboutPoints(mesh: Mesh, p: Picked, v: About, map: (share: number) => Affine): Mesh {
  if (v.about !== 'each') {
    const vertices = verticesOf(mesh, p.kind, p.indices);
    const [x, y, z] =
      v.about === 'origin' ? [0, 0, 0] : v.about === 'point' ? [v.px, v.py, v.pz] : centreOf(mesh, vertices);
    return apply(mesh, vertices, v, (share) => about(map(share), x, y, z));
  }
  return partsOf(mesh, p.kind, p.indices).reduce((m, vertices) => {
    const [x, y, z] = centreOf(mesh, vertices);
    return apply(m, vertices, v, (share) => about(map(share), x, y, z));
  }, mesh);
}

const sameKeys = (a: object, b: object, keys: readonly string[]): boolean =>
  keys.every((k) => (a as Record<string, unknown>)[k] === (b as Record<string, unknown>)[k]);
const FRAME = ['about', 'soft', 'falloff', 'frameX', 'frameY', 'frameZ', 'px', 'py', 'pz'];
const inFrame = (v: { frameX: number; frameY: number; frameZ: number }, m: Affine): Affine => {
  if (v.frameX === 0 && v.frameY === 0 && v.frameZ === 0) return m;
  const f = turned([v.frameX, v.frameY, v.frameZ]);
  return compose(f, compose(m, invert(f)));
};

export const move = defineMove({
  tool: 'move',
  title: 'Move',
  sentence: ' {pick} by {x}, {y}, {z}, taking along {soft} around, {falloff}',
  picks: ALL,
  values: { x: length('along x', 0), y: length('along y', 0), z: length('along z', 0), ...soft, ...frame },
  merge: (a, b) => (sameKeys(a, b, FRAME) ? { ...a, x: a.x + b.x, y: a.y + b.y, z: a.z + b.z } : undefined),
  run: (mesh, p: Picked, v) => {
    const [x, y, z] =
      v.frameX || v.frameY || v.frameZ
        ? applyVector(turned([v.frameX, v.frameY, v.frameZ]), [v.x, v.y, v.z])
        : [v.x, v.y, v.z];
    return apply(mesh, verticesOf(mesh, p.kind, p.indices), v, (s) => translation(x * s, y * s, z * s));
  },
});

export const turn = defineMove({
  tool: 'turn',
  title: 'Turn',
  sentence: ' {pick} by {angle} about {axis} through {about}, taking along {soft} around',
  picks: ALL,
  values: {
    angle: angle('by', 0),
    axis: choice('axis', 'y', AXES),
    about: choice('through', 'pick', ABOUT),
    ...soft,
    ...frame,
    ...point,
  },
  merge: (a, b) => (a.axis === b.axis && sameKeys(a, b, FRAME) ? { ...a, angle: a.angle + b.angle } : undefined),
  run: (mesh, p: Picked, v) => aboutPoints(mesh, p, v, (s) => inFrame(v, rotation(v.axis, v.angle * s))),
});

export const size = defineMove({
  tool: 'size',
  title: 'Size',
  sentence: ' {pick} by {x} × {y} × {z} from {about}, taking along {soft} around',
  picks: ALL,
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
  run: (mesh, p: Picked, v) =>
    aboutPoints(mesh, p, v, (s) => inFrame(v, scaling(1 + (v.x - 1) * s, 1 + (v.y - 1) * s, 1 + (v.z - 1) * s))),
});
