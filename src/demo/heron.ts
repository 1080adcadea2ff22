/**
 * The heron automaton: a concept picture, and its body blocked out as a rig of groups, one side mirrored from the
 * other. Metres.
 */
import { newBlueprint, sideTurn } from '../core/blueprint';
import type { Triple } from '../core/math';
import { railOf } from '../core/curve/rail';
import { curveThrough } from '../core/curve/through';
import type { ElementPick } from '../core/mesh';
import * as changes from '../document/changes';
import { newProject } from '../document/changes';
import { Sheet } from './drawing';
import { Maker, type PieceMaker } from './maker';

export const HERON_ID = '5a17e2e0-0003-4000-8000-000000000003';
type P = readonly [number, number];
const deg = Math.PI / 180;

/** The picture: a heron of plates and gears, seen from its left. */
function concept(): Sheet {
  const s = new Sheet(1000, 1300, 0.00105, [470, 1235], 0, '#efe8d8');
  const ink = '#3c362d';
  const arc = (c: P, a: number, b: number, from: number, to: number): P[] =>
    Array.from({ length: 49 }, (_, i) => {
      const t = from + ((to - from) * i) / 48;
      return [c[0] + a * Math.cos(t), c[1] + b * Math.sin(t)] as const;
    });
  const body = arc([0, 0.62], 0.3, 0.15, 0.25, 0.25 + 2 * Math.PI);
  s.fill(
    [
      [-0.28, 0.58],
      [-0.46, 0.47],
      [-0.3, 0.68],
    ],
    '#8f9a94',
  );
  s.fill(body, '#a9b3ad');
  s.line(body, 3, ink);
  s.line(arc([0.02, 0.66], 0.22, 0.09, 2.6, 6.4), 2, ink);
  const neck: P[] = [
    [0.22, 0.66],
    [0.34, 0.76],
    [0.32, 0.9],
    [0.22, 1.0],
    [0.25, 1.1],
  ];
  s.line(neck, 30, '#a9b3ad');
  s.line(
    neck.map(([x, y]): P => [x - 0.015, y]),
    2,
    ink,
  );
  s.line(
    neck.map(([x, y]): P => [x + 0.017, y]),
    2,
    ink,
  );
  const head = arc([0.28, 1.13], 0.065, 0.045, 0, 2 * Math.PI);
  s.fill(head, '#a9b3ad');
  s.line(head, 3, ink);
  s.fill(
    [
      [0.33, 1.155],
      [0.52, 1.11],
      [0.33, 1.1],
    ],
    '#b08a45',
  );
  s.line(
    [
      [0.33, 1.155],
      [0.52, 1.11],
      [0.33, 1.1],
    ],
    2,
    ink,
  );
  s.ellipse([0.295, 1.14], 0.012, 0.012, 3, ink);
  for (const [x, fold] of [
    [0.05, 0.02],
    [-0.06, -0.04],
  ] as const) {
    s.line(
      [
        [x, 0.5],
        [x + fold, 0.3],
        [x - 0.02, 0.03],
      ],
      7,
      ink,
    );
    s.line(
      [
        [x - 0.02, 0.03],
        [x + 0.1, 0.005],
      ],
      5,
      ink,
    );
    s.line(
      [
        [x - 0.02, 0.03],
        [x - 0.07, 0.005],
      ],
      5,
      ink,
    );
    s.fill(arc([x + fold, 0.3], 0.022, 0.022, 0, 2 * Math.PI), '#b08a45');
    s.ellipse([x + fold, 0.3], 0.022, 0.022, 2, ink);
  }
  for (const [c, r] of [
    [[0.03, 0.6], 0.07],
    [[-0.12, 0.6], 0.045],
  ] as const) {
    s.ellipse(c, r, r, 2, '#7a5c22');
    s.ellipse(c, r * 0.35, r * 0.35, 2, '#7a5c22');
    for (let i = 0; i < 12; i++) {
      const a = (i * Math.PI) / 6;
      s.line(
        [
          [c[0] + r * Math.cos(a), c[1] + r * Math.sin(a)],
          [c[0] + (r + 0.012) * Math.cos(a), c[1] + (r + 0.012) * Math.sin(a)],
        ],
        4,
        '#7a5c22',
      );
    }
  }
  s.line(
    [
      [-0.45, 0],
      [0.5, 0],
    ],
    1.5,
    '#6d6558',
  );
  return s;
}

type Look = { centre: Triple; normal: Triple };
const looks =
  (x: number, y: number, z: number, least = 0.72) =>
  (f: Look): boolean =>
    f.normal[0] * x + f.normal[1] * y + f.normal[2] * z > least;

/** Those of the faces of a piece that reach farthest along a way. */
async function farthest(p: PieceMaker, [x, y, z]: Triple, share: number): Promise<ElementPick> {
  const along = ({ centre }: Look) => centre[0] * x + centre[1] * y + centre[2] * z;
  let most = -Infinity;
  await p.faces((f) => {
    most = Math.max(most, along(f));
    return true;
  });
  return p.faces((f) => along(f) > most - share);
}

/** What comes last for every part: edges that bend are creased, by a rule, and all is refined. */
function finish(m: Maker, p: PieceMaker, material: string, angle: number, levels = 1.5): string {
  const by = p.step('shape');
  const rule = { id: 'sharp', values: { angle: angle * deg } };
  m.edit('crease the plates', (d) =>
    changes.addMove(d, p.id, by, {
      id: m.id('move'),
      tool: 'crease',
      pick: { kind: 'edge', keys: [], rule },
      values: { levels },
      name: 'rims of plates',
    }),
  );
  p.step('subdivide', { levels: 1 });
  return p.step('color', { base: material });
}

interface Metals {
  plate: string;
  brass: string;
  dark: string;
}

/**
 * The body, shaped from a box: half of it is drawn out and bent, the other half is its live mirror. Wing beds, flanks
 * and breast are plates with creased rims; the neck's collar is drawn out of the shoulder, the tail out of the rump.
 */
async function shapeBody(m: Maker, trunk: string, { plate, brass }: Metals): Promise<void> {
  const body = m.piece('body', trunk);
  body.step('box', { width: 0.33, height: 0.19, depth: 0.18, cutX: 10, cutY: 6, cutZ: 6, onGround: false });
  const by = body.step('shape');
  const all = await body.faces(() => true);
  body.move(by, 'ball', all, { share: 0.68, radius: 0 });
  body.move(by, 'size', all, { x: 1.38, y: 0.86, z: 0.78, about: 'pick' });
  body.move(by, 'bend', all, { angle: 20 * deg, axis: 'x', towards: 'y' });
  // Tail: out of the rump, flatter each time, in two vanes at the end.
  const rump = await farthest(body, [-1, -0.1, 0], 0.02);
  for (let i = 0; i < 4; i++) {
    body.move(by, 'extrude', rump, { by: 0.042, along: 'normals', inset: 0.003 });
    body.move(by, 'size', rump, { x: 1, y: 0.7, z: 1.14, about: 'pick' });
    body.move(by, 'turn', rump, { angle: -5 * deg, axis: 'z', about: 'pick' });
  }
  body.move(by, 'extrude', rump, { by: 0.05, along: 'normals', inset: 0.002, each: true });
  // Shoulder: a collar that takes the neck.
  const shoulder = await farthest(body, [0.8, 0.6, 0], 0.018);
  for (let i = 0; i < 3; i++) {
    body.move(by, 'extrude', shoulder, { by: 0.016, along: 'normals', inset: 0.004 });
    body.move(by, 'turn', shoulder, { angle: 7 * deg, axis: 'z', about: 'pick' });
  }
  body.move(by, 'inset', shoulder, { inset: 0.004 });
  body.move(by, 'extrude', shoulder, { by: -0.008, along: 'normals' });
  // Plates: a wing bed on the side, another on the flank, a keel below; each inset and raised by its own thickness.
  const side = looks(0, 0.1, 1, 0.6);
  for (const [from, to, raise] of [
    [-0.15, -0.05, 0.005],
    [-0.03, 0.13, 0.008],
  ] as const) {
    const bed = await body.faces((f) => side(f) && f.centre[0] > from && f.centre[0] < to);
    body.move(by, 'inset', bed, { inset: 0.004 });
    body.move(by, 'extrude', bed, { by: raise, along: 'normals', inset: 0.002 });
  }
  const keel = await body.faces((f) => looks(0, -1, 0)(f) && f.centre[0] > -0.11 && f.centre[0] < 0.09);
  body.move(by, 'inset', keel, { inset: 0.002 });
  body.move(by, 'extrude', keel, { by: 0.006, along: 'normals' });
  body.step('mirror', { axis: 'z', keep: 'positive', weld: 0.001, clip: true });
  const colour = finish(m, body, plate, 32);
  body.color(colour, brass, await body.faces((f) => f.normal[1] < -0.6 && f.centre[0] > -0.1 && f.centre[0] < 0.08));
  m.edit('place the body', (d) => changes.setPlace(d, body.id, { at: [0.01, 0.61, 0], turn: [0, 0, 8 * deg] }));
}

/** The neck: four faces drawn out along a line, every other ring of them a plate. */
async function shapeNeck(m: Maker, parent: string, { plate, brass }: Metals): Promise<void> {
  const line = m.piece('neck line', parent);
  const points: Triple[] = [
    [0, 0, 0],
    [0.1, 0.07, 0],
    [0.155, 0.17, 0],
    [0.12, 0.27, 0],
    [0.06, 0.35, 0],
    [0.055, 0.43, 0],
  ];
  line.step('line', { points });
  const neck = m.piece('neck', parent);
  neck.step('box', { width: 0.05, height: 0.012, depth: 0.05, cutX: 2, cutY: 1, cutZ: 2, onGround: false });
  const by = neck.step('shape');
  const corners = await neck.edges(
    ({ from, to }) => Math.abs(from[1] - to[1]) > 0.001 && Math.abs(from[0]) + Math.abs(from[2]) > 0.04,
  );
  neck.move(by, 'bevel', corners, { width: 0.011, segments: 1, corner: 'flat' });
  neck.move(by, 'turn', await neck.faces(() => true), { angle: -52 * deg, axis: 'z', about: 'pick' });
  const top = await neck.faces(looks(0.79, 0.61, 0, 0.95));
  neck.move(by, 'extrude-along', top, { other: line.id, steps: 18, end: 0.62 });
  // Rings: every other one is raised.
  const rings: ElementPick[] = [];
  const along = (f: Look) => nearestShare(points, f.centre);
  for (let i = 1; i < 18; i += 2) {
    const ring = await neck.faces((f) => {
      const share = along(f);
      return share > i / 18 && share < (i + 1) / 18 && f.centre[1] > 0.012;
    });
    rings.push(ring);
  }
  for (const ring of rings) neck.move(by, 'extrude', ring, { by: 0.0035, along: 'normals', inset: 0.0012 });
  const colour = finish(m, neck, plate, 36);
  for (const [i, ring] of rings.entries()) if (i % 3 === 1) neck.color(colour, brass, ring);
  m.edit('hide the line', (d) => changes.setPiece(d, line.id, { visible: false }));
}

/** How far along a row of points what is nearest to a place is, from 0 to 1. */
function nearestShare(points: readonly Triple[], p: Triple): number {
  const rail = railOf(curveThrough(points, { smooth: true, closed: false }, 1))!;
  return rail.nearest(p) / rail.length;
}

/** Skull, beak and crest: half of a cube, drawn out. */
async function shapeHead(m: Maker, parent: string, { plate, brass, dark }: Metals): Promise<void> {
  const head = m.piece('head', parent);
  head.step('box', { width: 0.12, height: 0.085, depth: 0.075, cutX: 4, cutY: 4, cutZ: 4, onGround: false });
  const by = head.step('shape');
  head.move(by, 'ball', await head.faces(() => true), { share: 0.75, radius: 0.05 });
  head.move(by, 'size', await head.faces(() => true), { x: 1.25, y: 0.92, z: 0.85, about: 'origin' });
  const mouth = await head.faces(
    (f) => looks(1, 0, 0, 0.6)(f) && Math.abs(f.centre[1]) < 0.018 && Math.abs(f.centre[2]) < 0.018,
  );
  for (let i = 0; i < 6; i++) {
    head.move(by, 'extrude', mouth, { by: i === 0 ? 0.012 : 0.034, along: 'x' });
    head.move(by, 'size', mouth, { x: 0.6, y: i === 0 ? 0.92 : 0.72, z: i === 0 ? 0.9 : 0.7, about: 'pick' });
    head.move(by, 'move', mouth, { x: 0, y: -0.002, z: 0 });
  }
  const nape = await head.faces((f) => looks(-0.8, 0.6, 0, 0.8)(f) && Math.abs(f.centre[2]) < 0.02);
  for (let i = 0; i < 4; i++) {
    head.move(by, 'extrude', nape, { by: 0.026, along: 'normals', inset: 0.003 });
    head.move(by, 'size', nape, { x: 0.85, y: 0.62, z: 0.6, about: 'pick' });
    head.move(by, 'turn', nape, { angle: 13 * deg, axis: 'z', about: 'pick' });
  }
  // An eye in its socket.
  const eye = () =>
    head.faces(
      (f) => looks(0, 0, 1, 0.5)(f) && f.centre[0] > 0 && f.centre[0] < 0.042 && Math.abs(f.centre[1] - 0.009) < 0.012,
    );
  const socket = await eye();
  head.move(by, 'inset', socket, { inset: 0.003 });
  head.move(by, 'extrude', socket, { by: -0.004, along: 'normals', inset: 0.001 });
  head.move(by, 'extrude', socket, { by: 0.007, along: 'normals', inset: 0.003 });
  head.step('mirror', { axis: 'z', keep: 'positive', weld: 0.0005, clip: true });
  // Loosely unfolded, then cut where it is said to be worth it.
  await head.suggested(head.step('unwrap', { stretch: 1.6, seamAngle: 180 * deg, padding: 6 }), 1.2, 2);
  const colour = finish(m, head, plate, 38);
  head.color(colour, brass, await head.faces((f) => f.centre[0] > 0.075));
  head.color(
    colour,
    dark,
    await head.faces(
      (f) => Math.abs(f.normal[2]) > 0.8 && Math.hypot(f.centre[0] - 0.021, f.centre[1] - 0.009) < 0.009,
    ),
  );
}

/** A wing: a slab whose rear faces are drawn out into feathers, longer towards the tip, under plates. */
async function shapeWing(m: Maker, parent: string, { plate, brass }: Metals): Promise<void> {
  const wing = m.piece('wing plate left', parent);
  wing.step('box', { width: 0.2, height: 0.12, depth: 0.02, cutX: 4, cutY: 6, cutZ: 1, onGround: false });
  const by = wing.step('shape');
  const all = await wing.faces(() => true);
  wing.move(by, 'taper', all, { end: 0.72, axis: 'x' });
  wing.move(by, 'bend', all, { angle: 14 * deg, axis: 'x', towards: 'z' });
  // Feathers: each rear face for itself, in four parts, turned down a little.
  const rear = await wing.faces(looks(-1, 0, 0, 0.6));
  wing.move(by, 'extrude', rear, { by: 0.03, along: 'normals', inset: 0.002, each: true });
  for (const [i, long] of [0.05, 0.06, 0.05].entries()) {
    wing.move(by, 'extrude', rear, { by: -long, along: 'x' });
    wing.move(by, 'turn', rear, { angle: (4 + 3 * i) * deg, axis: 'z', about: 'pick' });
  }
  wing.move(by, 'extrude', rear, { by: 0.04, along: 'normals', inset: 0.005, each: true });
  const outer = await wing.faces((f) => looks(0, 0, 1)(f) && f.centre[0] > -0.09);
  wing.move(by, 'inset', outer, { inset: 0.006 });
  wing.move(by, 'extrude', outer, { by: 0.006, along: 'normals', inset: 0.002 });
  const colour = finish(m, wing, plate, 34);
  wing.color(colour, brass, await wing.faces((f) => looks(0, 0, 1, 0.6)(f) && f.centre[0] > -0.08));
}

/** A leg: one face drawn out again and again, wide at the joints; its foot ends in toes. */
async function shapeLeg(m: Maker, parent: string, { brass, dark }: Metals): Promise<void> {
  const leg = m.piece('leg plates left', parent);
  leg.step('box', { width: 0.05, height: 0.03, depth: 0.04, cutX: 2, cutY: 1, cutZ: 2, onGround: false });
  const by = leg.step('shape');
  const sole = await leg.faces(looks(0, -1, 0));
  const out = (down: number, wide: number, back: number) => {
    leg.move(by, 'extrude', sole, { by: -down, along: 'y' });
    leg.move(by, 'size', sole, { x: wide, y: 1, z: wide, about: 'pick' });
    leg.move(by, 'move', sole, { x: back, y: 0, z: 0 });
  };
  for (const [down, wide, back] of [
    [0.05, 0.72, 0.006],
    [0.08, 0.72, 0.008],
    [0.06, 0.9, 0.006],
    [0.008, 1.7, 0],
    [0.02, 1.05, -0.002],
    [0.008, 0.5, 0],
    [0.09, 0.92, -0.018],
    [0.11, 0.95, -0.02],
    [0.012, 1.6, 0],
    [0.016, 1.15, 0],
  ] as const)
    out(down, wide, back);
  const foot = await leg.faces((f) => Math.abs(f.normal[1]) < 0.6 && f.centre[1] < -0.452);
  leg.move(by, 'extrude', foot, { by: 0.022, along: 'normals', each: true, inset: 0.001 });
  leg.move(by, 'extrude', foot, { by: 0.04, along: 'normals', each: true, inset: 0.0012 });
  leg.move(by, 'extrude', foot, { by: 0.04, along: 'normals', each: true, inset: 0.0015 });
  const colour = finish(m, leg, dark, 40);
  leg.color(colour, brass, await leg.faces((f) => f.centre[1] < -0.2 && f.centre[1] > -0.245));
}

export async function heron(): Promise<Maker> {
  const m = new Maker(newProject('Heron automaton', 'game', 'cm'));
  m.edit('set up the project', (d) => changes.setSettings(d, { grid: 0.1, precision: 1, triangles: 20000 }));
  const plate = m.material('Plate', '#9aa59f', 0.45, 0.8);
  const brass = m.material('Brass', '#b08a45', 0.35, 1);
  const dark = m.material('Iron', '#3c3a38', 0.6, 0.7);
  const picture = concept();
  const drawing = m.blueprint(
    'concept',
    m.picture('concept.png', picture.image),
    {
      ...newBlueprint('', picture.width, picture.height),
      scale: picture.scale,
      origin: [picture.origin[0], picture.origin[1]],
      opacity: 0.85,
    },
    sideTurn('front'),
    null,
  );
  m.edit('place the picture', (d) => {
    changes.setPlace(d, drawing, { at: [0, 0, -0.45] });
    changes.setPiece(d, drawing, { locked: true });
  });
  const bird = m.group('heron');
  const trunk = m.group('trunk', bird);
  const at = (id: string, place: { at?: Triple; turn?: Triple; size?: Triple }) =>
    m.edit('place', (d) => changes.setPlace(d, id, place));
  const metals = { plate, brass, dark };
  await shapeBody(m, trunk, metals);
  const gear = m.piece('breast gear', trunk);
  gear.step('cylinder', { across: 'diameter', size: 0.13, height: 0.02, sides: 16, rows: 1, cap: 'polygon' });
  const teeth = gear.step('shape');
  const every = await gear.faces(
    (f) =>
      Math.abs(f.normal[1]) < 0.5 && Math.round(Math.atan2(f.centre[2], f.centre[0]) * (8 / Math.PI) - 0.5) % 2 === 0,
  );
  gear.move(teeth, 'extrude', every, { by: 0.012, along: 'normals', inset: 0.003, each: true });
  const hub = await gear.faces((f) => f.normal[1] > 0.9 && Math.hypot(f.centre[0], f.centre[2]) < 0.01);
  gear.move(teeth, 'inset', hub, { inset: 0.014 });
  gear.move(teeth, 'extrude', hub, { by: -0.006, along: 'normals', inset: 0.002 });
  gear.step('color', { base: brass });
  at(gear.id, { at: [0.06, 0.585, 0.118], turn: [90 * deg, 0, 0] });

  // Joints stand where the parts turn: the head hangs on the neck, wings and legs on the trunk.
  const neck = m.group('neck joint', bird);
  at(neck, { at: [0.2, 0.675, 0] });
  await shapeNeck(m, neck, metals);
  const head = m.group('head joint', neck);
  at(head, { at: [0.075, 0.455, 0], turn: [0, 0, -8 * deg] });
  await shapeHead(m, head, metals);
  const wing = m.group('wing left', bird);
  at(wing, { at: [0.04, 0.665, 0.118], turn: [-12 * deg, 4 * deg, 14 * deg] });
  await shapeWing(m, wing, metals);
  const leg = m.group('leg left', bird);
  at(leg, { at: [0.03, 0.5, 0.06] });
  await shapeLeg(m, leg, metals);
  m.edit('the right side', (d) => {
    changes.mirrorPieces(d, [wing, leg], { axis: 'z', across: 'parent', makeId: () => m.id('piece') });
  });
  return m;
}
