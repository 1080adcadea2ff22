/** Steps that work on the whole mesh before them. */
import { mirrorCurves } from '../curve/curves';
import { transformGeometry, whole } from '../geometry';
import { compose, placeMatrix, scaling } from '../math/affine';
import { layOn } from '../edit/layon';
import { mirrorMesh } from '../edit/mirror';
import { weld as weldMesh } from '../edit/weld';
import { edgeKeys } from '../mesh/picks';
import { defineStep, everything, input, otherPiece } from '../recipe/define';
import { angle, choice, count, length, number, pick, toggle } from '../recipe/values';
import { subdivide as subdivideMesh } from '../subdivide/catmullclark';
import { lostSentence } from './lost';

const AXES = [
  ['x', 'X'],
  ['y', 'Y'],
  ['z', 'Z'],
] as const;

export const mirror = defineStep({
  kind: 'mirror',
  title: 'Mirror',
  sentence: ' across {axis}, keeping the {keep} side, welding within {weld}, {clip} at the plane',
  inputs: { all: everything() },
  help: 'Copy one half to the other side, welded in the middle',
  values: {
    axis: choice('across', 'x', AXES),
    keep: choice('keep', 'positive', [
      ['positive', 'positive'],
      ['negative', 'negative'],
    ]),
    weld: length('weld within', 0.0001, { min: 0, max: 1 }),
    clip: toggle('cut at the plane', true, 'cutting', 'not cutting'),
  },
  run: ({ all: given }, v, c) => {
    const all = whole(given);
    const mesh = all.mesh && mirrorMesh(all.mesh, v, c.id);
    if (all.mesh?.faceCount && mesh?.faceCount === 0)
      throw new Error(`Nothing lies on the ${v.keep} side of the mirror.`);
    const across = scaling(v.axis === 'x' ? -1 : 1, v.axis === 'y' ? -1 : 1, v.axis === 'z' ? -1 : 1);
    return { mesh, curves: all.curves && mirrorCurves(all.curves, across, c.id) };
  },
});

export const subdivide = defineStep({
  kind: 'subdivide',
  title: 'Subdivide',
  sentence: ' {levels}, keeping {creases} sharp for {sharpness} levels',
  inputs: { mesh: input('mesh') },
  help: 'Smooth by Catmull–Clark subdivision, with creases',
  values: {
    levels: count('times', 2, { min: 0, max: 6, noun: ['time', 'times'] }),
    creases: pick('creases', 'edge', ['crease', 'creases']),
    sharpness: number('sharpness', 10, { min: 0, max: 10 }),
    surface: choice('surface', 'smooth', [
      ['smooth', 'smooth'],
      ['flat', 'flat: only divided'],
    ]),
    corners: toggle('corners of borders', false, 'held', 'rounded'),
    limit: toggle('vertices', false, 'on the limit surface', 'as they come'),
    uv: choice('UVs', 'divided', [
      ['divided', 'divided within faces'],
      ['inside', 'smoothed, borders kept'],
      ['all', 'smoothed with their borders'],
    ]),
  },
  run: ({ mesh }, v, c) => {
    const faces = mesh.cornerCount * 4 ** Math.max(0, v.levels - 1);
    if (faces > 20_000_000)
      throw new Error(`${v.levels} times would make ${Math.round(faces / 1e6)} million faces; ask for fewer.`);
    const r = c.find(mesh, v.creases, 'creases');
    const keys = edgeKeys(mesh);
    if (r.lost.length) c.warn(lostSentence(r, v.creases, 'creases', 'creases'));
    return subdivideMesh(mesh, {
      levels: v.levels,
      progress: c.progress,
      flat: v.surface === 'flat',
      holdCorners: v.corners,
      limit: v.limit,
      uv: v.uv,
      creases: new Map(Array.from(r.indices, (e) => [keys[e], v.sharpness >= 10 ? Infinity : v.sharpness])),
    });
  },
});

export const place = defineStep({
  kind: 'place',
  title: 'Place',
  sentence: ' at {x}, {y}, {z}, turned {turnX} {turnY} {turnZ}, sized {size}',
  inputs: { all: everything() },
  help: 'Move, turn and size everything so far',
  values: {
    x: length('x', 0),
    y: length('y', 0),
    z: length('z', 0),
    turnX: angle('about x', 0),
    turnY: angle('about y', 0),
    turnZ: angle('about z', 0),
    size: number('size', 1, { min: -1000, max: 1000 }),
    sizeX: number('size along x', 1, { min: -1000, max: 1000 }),
    sizeY: number('size along y', 1, { min: -1000, max: 1000 }),
    sizeZ: number('size along z', 1, { min: -1000, max: 1000 }),
    leanXY: number('x leans with y', 0),
    leanXZ: number('x leans with z', 0),
    leanYZ: number('y leans with z', 0),
  },
  run: ({ all }, v) => {
    const m = compose(
      placeMatrix({
        at: [v.x, v.y, v.z],
        turn: [v.turnX, v.turnY, v.turnZ],
        size: [v.sizeX, v.sizeY, v.sizeZ],
        lean: [v.leanXY, v.leanXZ, v.leanYZ],
        pivot: [0, 0, 0],
      }),
      scaling(v.size, v.size, v.size),
    );
    return transformGeometry(all, m);
  },
});

export const lay = defineStep({
  kind: 'lay',
  title: 'Lay on',
  sentence: ' {other}, {vertices} {how}, {off} off it, no farther than {most}',
  inputs: { mesh: input('mesh'), other: otherPiece('the other piece') },
  help: 'Brings vertices onto the surface of another piece: the nearest place of it, or straight along an axis',
  words: 'project shrinkwrap wrap conform snap surface drape retopology',
  values: {
    vertices: pick('vertices', 'vertex', ['vertex', 'vertices']),
    how: choice('to', 'nearest', [
      ['nearest', 'to the nearest place'],
      ['normals', 'along their normals'],
      ['x', 'along X'],
      ['y', 'along Y'],
      ['z', 'along Z'],
    ]),
    off: length('off', 0),
    most: length('no farther than', 0, { min: 0, zero: 'any distance' }),
  },
  run: ({ mesh, other }, v, c) => {
    const ground = whole(other.geometry).mesh;
    if (!ground || ground.faceCount === 0) throw new Error(`“${other.name}” has no surface to lay anything on.`);
    const r = c.find(mesh, v.vertices, 'vertices');
    if (r.lost.length) c.warn(lostSentence(r, v.vertices, 'vertices', 'vertices'));
    const all = v.vertices.keys.length === 0 && !v.vertices.rule;
    const which = all ? Uint32Array.from({ length: mesh.vertexCount }, (_, i) => i) : r.indices;
    const { mesh: laid, missed } = layOn(mesh, which, ground, { how: v.how, off: v.off, most: v.most || Infinity });
    if (missed > 0)
      c.warn(`${missed} of ${which.length} vertices met nothing of “${other.name}” and stay where they are.`);
    return laid;
  },
});

export const weld = defineStep({
  kind: 'weld',
  title: 'Weld',
  sentence: ' all that is closer than {distance}',
  inputs: { mesh: input('mesh') },
  help: 'Join vertices that stand close together',
  values: { distance: length('closer than', 0.0001, { min: 0, max: 100 }) },
  run: ({ mesh }, v) => weldMesh(mesh, v.distance),
});
