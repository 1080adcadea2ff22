/** Steps that start a recipe: simple bodies, and what came from a file. */
import {
  box as makeBox,
  cubeSphere,
  cylinder as makeCylinder,
  plane as makePlane,
  ringSphere,
} from '../make/primitives';
import { curveThrough } from '../curve/through';
import { flatten } from '../formats/scene';
import { transformGeometry, type Geometry } from '../geometry';
import type { Affine } from '../math/affine';
import { defineStep } from '../recipe/define';
import { blob, choice, count, length, line as points, slots, text, toggle } from '../recipe/values';

const size = (label: string, value: number) => length(label, value, { min: 0.000001, max: 100000 });
/** Not shown: how elements are named. Documents of earlier formats say `ranks`. */
const namedBy = choice('names', 'shares', [
  ['shares', 'by their share'],
  ['ranks', 'by their rank'],
]);
const cuts = (label: string) => count(label, 1, { min: 1, max: 512 });

export const box = defineStep({
  kind: 'box',
  title: 'Start with a box',
  sentence: ' {width} × {height} × {depth}, cut {cutX} × {cutY} × {cutZ}',
  inputs: {},
  help: 'A box with exact sizes and even cuts',
  values: {
    width: size('width', 0.1),
    height: size('height', 0.1),
    depth: size('depth', 0.1),
    cutX: cuts('cuts along x'),
    cutY: cuts('cuts along y'),
    cutZ: cuts('cuts along z'),
    onGround: toggle('stands on the ground', true, 'on the ground', 'centred'),
    names: namedBy,
  },
  run: (_, v, c) => makeBox(v, c.id),
});

export const cylinder = defineStep({
  kind: 'cylinder',
  title: 'Start with a cylinder',
  sentence: ' {across} {size}, {height} tall, {sides} sides, ends {cap}',
  inputs: {},
  help: 'An upright cylinder, cone or tube',
  values: {
    across: choice('measured by', 'diameter', [
      ['diameter', 'of diameter'],
      ['radius', 'of radius'],
    ]),
    size: size('size', 0.1),
    height: size('height', 0.1),
    sides: count('sides', 16, { min: 3, max: 512 }),
    rows: cuts('rows'),
    cap: choice('ends', 'polygon', [
      ['polygon', 'closed by one face'],
      ['fan', 'closed by triangles'],
      ['open', 'open'],
    ]),
    taper: length('narrower at the top by', 0, { min: 0, max: 100000 }),
    onGround: toggle('stands on the ground', true, 'on the ground', 'centred'),
    names: namedBy,
  },
  run: (_, v, c) => {
    const radius = v.across === 'diameter' ? v.size / 2 : v.size;
    const narrower = v.across === 'diameter' ? v.taper / 2 : v.taper;
    return makeCylinder(
      {
        radius,
        topRadius: Math.max(0, radius - narrower),
        height: v.height,
        sides: v.sides,
        rows: v.rows,
        cap: v.cap,
        onGround: v.onGround,
        names: v.names,
      },
      c.id,
    );
  },
});

export const plane = defineStep({
  kind: 'plane',
  title: 'Start with a plane',
  sentence: ' {width} × {depth}, cut {cutX} × {cutZ}',
  inputs: {},
  help: 'A flat grid on the ground',
  values: {
    width: size('width', 0.1),
    depth: size('depth', 0.1),
    cutX: cuts('cuts along x'),
    cutZ: cuts('cuts along z'),
    names: namedBy,
  },
  run: (_, v, c) => makePlane(v, c.id),
});

export const sphere = defineStep({
  kind: 'sphere',
  title: 'Start with a sphere',
  sentence: ' of diameter {diameter}, made of {made}, {cuts} fine',
  inputs: {},
  help: 'A sphere of rings, or of a divided cube',
  values: {
    diameter: size('diameter', 0.1),
    made: choice('made of', 'cube', [
      ['cube', 'a divided cube'],
      ['rings', 'rings'],
    ]),
    cuts: count('fineness', 6, { min: 1, max: 256 }),
    names: namedBy,
  },
  run: (_, v, c) =>
    v.made === 'cube'
      ? cubeSphere({ radius: v.diameter / 2, cuts: v.cuts, names: v.names }, c.id)
      : ringSphere(
          {
            radius: v.diameter / 2,
            sides: Math.max(3, 4 * v.cuts),
            rings: Math.max(2, 2 * v.cuts),
            names: v.names,
          },
          c.id,
        ),
});

export const line = defineStep({
  kind: 'line',
  title: 'Start with a line',
  sentence: ' through {points}, {smooth}, {closed}',
  inputs: {},
  help: 'A curve through points, for others to go along',
  words: 'path spline curve polyline rail',
  values: {
    points: points('points', [
      [0, 0, 0],
      [0, 0.1, 0],
      [0.05, 0.2, 0],
      [0.15, 0.25, 0],
    ]),
    smooth: toggle('way', true, 'smoothly', 'straight from one to the next'),
    closed: toggle('end', false, 'back to the first', 'open'),
  },
  run: (_, v, c) => {
    const curves = curveThrough(v.points, v, c.id);
    if (curves.closed.length === 0) throw new Error('A line needs two different points at least.');
    return { curves };
  },
});

export const broughtIn = defineStep({
  kind: 'brought-in',
  title: 'Start with',
  sentence: ' {piece} from the file {file}, one unit {unit}, {up} up',
  inputs: {},
  hidden: true,
  help: 'A piece that came from a file',
  values: {
    file: text('file', ''),
    piece: text('piece', ''),
    item: count('number in the file', 0, { max: 100000 }),
    blob: blob('stored as'),
    slots: slots('materials'),
    unit: length('one unit of the file', 1, { min: 1e-9, max: 1e6 }),
    up: choice('up in the file', 'y', [
      ['y', 'Y'],
      ['z', 'Z'],
    ]),
    local: toggle('placed by the tree', false, 'placed by the tree', 'placed by the file'),
  },
  run: async (_, v, c) => {
    const scene = await c.scene(v.blob, v.file);
    const item = (v.local ? scene : flatten(scene)).pieces[v.item];
    if (!item) throw new Error(`${v.file} does not hold a piece number ${v.item + 1}.`);
    const k = v.unit;
    const upright: Affine = [k, 0, 0, 0, 0, k, 0, 0, 0, 0, k, 0];
    const lying: Affine = [k, 0, 0, 0, 0, 0, k, 0, 0, -k, 0, 0];
    const own: Geometry = { mesh: item.mesh, curves: item.curves };
    const g = k === 1 && v.up === 'y' ? own : transformGeometry(own, v.up === 'z' ? lying : upright);
    const mesh = g.mesh?.with({ slots: g.mesh.slots.map((s) => v.slots[s] ?? s) });
    return { ...g, mesh };
  },
});
