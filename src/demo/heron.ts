/** The heron automaton: a concept picture, and its body blocked out as a rig of groups, one side mirrored from the other. Metres. */
import { newBlueprint, sideTurn } from '../core/blueprint';
import type { Triple } from '../core/math';
import { pickOf, resolve, type ElementPick } from '../core/mesh';
import { Memory } from '../core/recipe';
import { followRecipe } from '../core/steps';
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

/**
 * The body, shaped from a box: half of it is drawn out and bent, the other half is its live mirror. Wing beds and breast are plates with creased
 * rims; the neck's collar is drawn out of the shoulder, the tail out of the rump.
 */
async function plated(m: Maker, trunk: string, plate: string, brass: string): Promise<void> {
  const body = m.piece('body', trunk);
  body.step('box', { width: 0.33, height: 0.19, depth: 0.18, cutX: 7, cutY: 4, cutZ: 4, onGround: false });
  const by = body.step('shape');
  const all = await body.faces(() => true);
  body.move(by, 'ball', all, { share: 0.62, radius: 0 });
  body.move(by, 'size', all, { x: 1.38, y: 0.86, z: 0.78, about: 'pick' });
  body.move(by, 'bend', all, { angle: 20 * deg, axis: 'x', towards: 'y' });
  const look = (x: number, y: number, z: number) => (f: { normal: Triple }) =>
    f.normal[0] * x + f.normal[1] * y + f.normal[2] * z > 0.72;
  const farthest = async (x: number, y: number, share: number) => {
    let most = -Infinity;
    await body.faces(({ centre }) => {
      most = Math.max(most, centre[0] * x + centre[1] * y);
      return true;
    });
    return body.faces(({ centre }) => centre[0] * x + centre[1] * y > most - share);
  };
  // Tail: out of the rump, flatter each time.
  const rump = await farthest(-1, -0.1, 0.026);
  for (let i = 0; i < 4; i++) {
    body.move(by, 'extrude', rump, { by: 0.042, along: 'normals', inset: 0.003 });
    body.move(by, 'size', rump, { x: 1, y: 0.72, z: 1.12, about: 'pick' });
    body.move(by, 'turn', rump, { angle: -5 * deg, axis: 'z', about: 'pick' });
  }
  // Shoulder: a collar that takes the neck.
  const shoulder = await farthest(0.8, 0.6, 0.022);
  for (let i = 0; i < 3; i++) {
    body.move(by, 'extrude', shoulder, { by: 0.016, along: 'normals', inset: 0.004 });
    body.move(by, 'turn', shoulder, { angle: 7 * deg, axis: 'z', about: 'pick' });
  }
  body.move(by, 'inset', shoulder, { inset: 0.004 });
  body.move(by, 'extrude', shoulder, { by: -0.008, along: 'normals' });
  // Plates: a wing bed on the side, a keel below; each inset and raised by its own thickness.
  const wing = await body.faces((f) => look(0, 0.1, 1)(f) && f.centre[0] > -0.13 && f.centre[0] < 0.11);
  body.move(by, 'inset', wing, { inset: 0.005 });
  body.move(by, 'extrude', wing, { by: 0.007, along: 'normals', inset: 0.002 });
  const keel = await body.faces((f) => look(0, -1, 0)(f) && f.centre[0] > -0.11 && f.centre[0] < 0.09);
  body.move(by, 'inset', keel, { inset: 0.002 });
  body.move(by, 'extrude', keel, { by: 0.006, along: 'normals' });
  body.step('mirror', { axis: 'z', keep: 'positive', weld: 0.001, clip: true });
  const fine = body.step('subdivide', { levels: 1 });
  const rims = await creasesOf(m, body.id, 32 * deg);
  m.edit('crease the plates', (d) => {
    changes.stepOf(d, body.id, fine).values.creases = rims;
    changes.stepOf(d, body.id, fine).values.sharpness = 1.5;
  });
  const colour = body.step('color', { base: plate });
  body.color(colour, brass, await body.faces((f) => f.normal[1] < -0.6 && f.centre[0] > -0.1 && f.centre[0] < 0.08));
  m.edit('place the body', (d) => changes.setPlace(d, body.id, { at: [0.01, 0.61, 0], turn: [0, 0, 8 * deg] }));
}

/** Edges of the cage that bend by more than an angle: what the mirror before the last step gives. */
async function creasesOf(m: Maker, piece: string, angle: number): Promise<ElementPick> {
  const p = changes.pieceOf(m.document, piece);
  const out = await followRecipe(p.recipe.slice(0, -1), { memory: new Memory(64 << 20), materials: [] });
  const cage = out[out.length - 1].mesh;
  const { indices } = resolve(cage, { kind: 'edge', keys: [], rule: { id: 'sharp', values: { angle } } });
  return pickOf(cage, 'edge', indices);
}

export async function heron(): Promise<Maker> {
  const m = new Maker(newProject('Heron automaton', 'game', 'cm'));
  m.edit('set up the project', (d) => changes.setSettings(d, { grid: 0.1, precision: 1, triangles: 6000 }));
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
  const colored = (p: PieceMaker, material: string): PieceMaker => {
    p.step('color', { base: material });
    return p;
  };
  const ball = (
    name: string,
    parent: string,
    diameter: number,
    place: Parameters<typeof at>[1],
    material: string,
  ): PieceMaker => {
    const p = m.piece(name, parent);
    p.step('sphere', { diameter, made: 'rings', cuts: 3 });
    at(p.id, place);
    return colored(p, material);
  };
  const rod = (
    name: string,
    parent: string,
    long: number,
    thick: number,
    thin: number,
    place: Parameters<typeof at>[1],
    material: string,
  ): PieceMaker => {
    const p = m.piece(name, parent);
    p.step('cylinder', {
      across: 'diameter',
      size: thick,
      height: long,
      sides: 8,
      rows: 1,
      cap: 'polygon',
      taper: Math.max(0, thick - thin),
      onGround: true,
    });
    at(p.id, place);
    return colored(p, material);
  };
  await plated(m, trunk, plate, brass);
  rod('breast gear', trunk, 0.02, 0.15, 0.15, { at: [0.03, 0.6, 0.135], turn: [90 * deg, 0, 0] }, brass);
  // The neck is a chain: each part hangs in the one before, so a turn of one carries all that follow.
  const chain: readonly (readonly [number, number])[] = [
    [-42, 0.14],
    [52, 0.14],
    [38, 0.13],
    [-60, 0.1],
  ];
  let parent = m.group('neck', bird);
  let long = 0;
  at(parent, { at: [0.2, 0.67, 0] });
  chain.forEach(([turn, length], i) => {
    const joint = m.group(`neck joint ${i + 1}`, parent);
    at(joint, { at: [0, long, 0], turn: [0, 0, turn * deg] });
    rod(`neck plate ${i + 1}`, joint, length, 0.06 - 0.006 * i, 0.054 - 0.006 * i, {}, i % 2 ? brass : plate);
    parent = joint;
    long = length;
  });
  const head = m.group('head', parent);
  at(head, { at: [0, long, 0], turn: [0, 0, 12 * deg] });
  ball('skull', head, 0.1, { at: [0.02, 0.02, 0], size: [1.3, 0.9, 0.8] }, plate);
  rod('beak', head, 0.2, 0.05, 0.006, { at: [0.07, 0.02, 0], turn: [0, 0, -98 * deg], size: [1, 1, 0.6] }, brass);
  // The left side: an eye, a wing and a leg, each turning about its own joint; the right one is mirrored from it.
  ball('eye_l', head, 0.022, { at: [0.045, 0.035, 0.036] }, dark);
  const wing = m.group('wing left', bird);
  at(wing, { at: [0.12, 0.7, 0.13], turn: [0, 0, 10 * deg] });
  [0, 1, 2].forEach((i) =>
    rod(
      `feather ${i + 1} left`,
      wing,
      0.36 - 0.07 * i,
      0.1,
      0.03,
      { at: [-0.02 * i, -0.035 * i, 0.012 * i], turn: [0, 0, (98 + 4 * i) * deg], size: [1, 1, 0.16] },
      i === 1 ? brass : plate,
    ),
  );
  const leg = m.group('leg left', bird);
  at(leg, { at: [0.02, 0.53, 0.075] });
  rod('thigh left', leg, 0.23, 0.022, 0.03, { at: [0.02, -0.23, 0], turn: [0, 0, 4 * deg] }, dark);
  ball('knee left', leg, 0.044, { at: [0.02, -0.24, 0] }, brass);
  rod('shin left', leg, 0.27, 0.018, 0.018, { at: [-0.02, -0.51, 0], turn: [0, 0, -8 * deg] }, dark);
  const toe = rod('toe left', leg, 0.12, 0.016, 0.006, { at: [-0.02, -0.515, 0], turn: [0, 0, -88 * deg] }, dark);
  m.edit('linked toes', (d) => {
    // One recipe, four places.
    for (const [i, turn] of ([35, -35, 180] as const).entries()) {
      const [copy] = changes.copyPieces(d, [toe.id], {
        linked: true,
        makeId: () => m.id('piece'),
        rename: () => `toe ${i + 2} left`,
      });
      changes.setPlace(d, copy, { turn: [0, turn * deg, -88 * deg] });
    }
  });
  m.edit('the right side', (d) => {
    const eye = d.pieces.find((p) => p.name === 'eye_l')!;
    changes.mirrorPieces(d, [wing, leg], { axis: 'z', across: 'parent', makeId: () => m.id('piece') });
    changes.mirrorPieces(d, [eye.id], { axis: 'z', across: 'parent', makeId: () => m.id('piece') });
  });
  return m;
}
