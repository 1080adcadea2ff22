/**
 * The harbour: things made once and changed by their dials. A striped float whose panels run from 1 to 12, a signal
 * tower whose storeys are one number, and bollards along a quay. Metres.
 */
import * as changes from '../document/changes';
import { addDial } from '../document/dials';
import { newProject } from '../document/changes';
import type { Dial, ProjectDocument } from '../document/types';
import { Maker, type PieceMaker } from './maker';

export const HARBOUR_ID = '5a17e2e0-0005-4000-8000-000000000005';

const formula = (text: string) => ({ formula: text });
const expression = (text: string) => ({ text, unit: 'm' });

export async function harbour(): Promise<ProjectDocument> {
  const m = new Maker(newProject('Harbour', 'render', 'm'));
  m.edit('set up the project', (d) => changes.setSettings(d, { grid: 1, precision: 2 }));
  const dial = (name: string, kind: Dial['kind'], value: number, min: number, max: number, note: string) =>
    m.edit(`dial ${name}`, (d) => addDial(d, { id: m.id('dial'), name, kind, value, min, max, note }));
  dial('panels', 'count', 6, 1, 12, 'Bands of the float, from top to bottom');
  dial('float_size', 'length', 1.6, 0.2, 5, 'How far the float is across');
  dial('gap', 'length', 0, 0, 0.2, 'Between the bands of the float; at 0 they are welded');
  dial('groove', 'length', 0.02, 0, 0.05, 'Half as wide as the grooves of the float');
  dial('storeys', 'count', 5, 1, 60, 'Of the signal tower');
  const look = {
    red: m.material('Signal red', '#a8402f', 0.55, 0),
    chalk: m.material('Chalk', '#e4dfd2', 0.8, 0),
    stone: m.material('Skerry stone', '#9a978c', 0.9, 0),
    iron: m.material('Iron', '#3c3a38', 0.6, 0.7),
    lamp: m.material('Lamp glass', '#d9c77a', 0.15, 0),
  };
  float(m, look);
  await tower(m, look);
  await bollards(m, look);
  stone(m, look);
  return m.document;
}

type Look = Record<'red' | 'chalk' | 'stone' | 'iron' | 'lamp', string>;

function float(m: Maker, look: Look): void {
  const float = m.piece('harbour float', null);
  const n = formula('panels');
  float.step('box', { width: 1, height: 1, depth: 1, cutX: n, cutY: n, cutZ: n, onGround: false });
  float.step('note', {
    name: 'band',
    domain: 'face',
    formula: expression('min(panels - 1, floor(share.y * panels))'),
  });
  float.step('form', { to: 'ball', diameter: formula('float_size'), axis: 'y', share: 1 });
  float.step('color', { base: look.chalk });
  float.step('dress', { material: look.red, formula: expression('mod(band, 2) = 0') });
  float.step('part', { formula: expression('band') });
  float.step('burst', { by: 0, share: formula('gap * panels / float_size') });
  float.step('all-extrude', {
    by: formula('float_size / 20'),
    along: 'normals',
    inset: formula('groove'),
    each: false,
  });
  float.step('weld', { distance: 0.0001 });
  float.step('subdivide', { levels: 2 });
  m.edit('place the float', (d) => changes.setPlace(d, float.id, { at: [-6, 0.6, 3] }));
}

async function tower(m: Maker, look: Look): Promise<void> {
  const parts = m.group('parts of the tower');
  const round = (name: string, low: number, high: number, tall: number, sides: number, rows: number): PieceMaker => {
    const p = m.piece(name, parts);
    p.step('cylinder', {
      across: 'radius',
      size: low,
      taper: low - high,
      height: tall,
      sides,
      rows,
      cap: 'polygon',
      onGround: true,
    });
    return p;
  };
  const rim = (p: PieceMaker, step: string, lo: number, hi: number, by: number) =>
    p
      .faces((f) => Math.abs(f.normal[1]) < 0.5 && f.centre[1] > lo && f.centre[1] < hi)
      .then((faces) => p.move(step, 'extrude', faces, { by, along: 'normals', inset: 0 }));

  const base = round('base', 2.6, 2.2, 2, 24, 4);
  const baseBy = base.step('shape');
  await rim(base, baseBy, 0, 0.5, 0.3);
  base.step('color', { base: look.stone });

  const storey = round('storey', 2, 2, 3, 24, 6);
  const by = storey.step('shape');
  const windows = await storey.faces(
    (f) => f.centre[1] > 1 && f.centre[1] < 2 && Math.abs(Math.sin(2 * Math.atan2(f.centre[2], f.centre[0]))) < 0.3,
  );
  storey.move(by, 'inset', windows, { inset: 0.08, each: false });
  storey.move(by, 'extrude', windows, { by: -0.2, along: 'normals', inset: 0.02 });
  await rim(storey, by, 2.5, 3, 0.18);
  await rim(storey, by, 0, 0.5, 0.08);
  const paint = storey.step('color', { base: look.chalk });
  storey.color(paint, look.iron, windows);
  storey.step('dress', {
    material: look.red,
    formula: expression('abs(normal.y) < 0.5 and share.y > 0.85'),
  });

  const lantern = round('lantern', 1.7, 1.5, 2.6, 16, 5);
  const lit = lantern.step('shape');
  await rim(lantern, lit, 0, 0.5, 0.5);
  await rim(lantern, lit, 2.1, 2.6, 0.35);
  const glass = await lantern.faces((f) => Math.abs(f.normal[1]) < 0.5 && f.centre[1] > 0.6 && f.centre[1] < 2);
  const roof = await lantern.faces(
    (f) => f.normal[1] > 0.9 && f.centre[1] > 2.5 && Math.hypot(f.centre[0], f.centre[2]) < 0.1,
  );
  lantern.move(lit, 'extrude', roof, { by: 1.1, along: 'y', inset: 1.1 });
  const colours = lantern.step('color', { base: look.red });
  lantern.color(colours, look.lamp, glass);

  m.edit('parts aside', (d) => {
    changes.setPlace(d, base.id, { at: [-9, 0, -6] });
    changes.setPlace(d, storey.id, { at: [-9, 0, 0] });
    changes.setPlace(d, lantern.id, { at: [-9, 0, 6] });
    changes.setPiece(d, parts, { visible: false });
  });
  const whole = m.piece('signal tower', null);
  whole.step('stack', {
    foot: base.id,
    low: 1,
    middle: storey.id,
    times: formula('storeys'),
    top: lantern.id,
    high: 1,
    axis: 'y',
    gap: 0,
    turn: 0,
  });
  await m.mesh(whole.id);
}

async function bollards(m: Maker, look: Look): Promise<void> {
  // A kit: its three dials are its own, and what places it turns them as it likes.
  const bollard = m.piece('row of bollards', null);
  const own = (name: string, kind: Dial['kind'], value: number, min: number, max: number, note: string) =>
    m.edit(`dial ${name}`, (d) => addDial(d, { id: m.id('dial'), name, kind, value, min, max, note }, bollard.id));
  own('along', 'count', 7, 1, 40, 'How many bollards there are');
  own('spacing', 'length', 2.2, 0.5, 10, 'From bollard to bollard');
  own('height', 'length', 0.8, 0.3, 2, 'Of each bollard');
  bollard.step('cylinder', {
    across: 'radius',
    size: 0.26,
    taper: 0.06,
    height: formula('height'),
    sides: 16,
    rows: 5,
    cap: 'polygon',
    onGround: true,
  });
  const by = bollard.step('shape');
  const head = await bollard.faces((f) => Math.abs(f.normal[1]) < 0.5 && f.centre[1] > 0.64);
  bollard.move(by, 'extrude', head, { by: 0.1, along: 'normals', inset: 0.02 });
  const foot = await bollard.faces((f) => Math.abs(f.normal[1]) < 0.5 && f.centre[1] < 0.16);
  bollard.move(by, 'extrude', foot, { by: 0.12, along: 'normals', inset: 0 });
  bollard.step('color', { base: look.iron });
  bollard.step('row', {
    times: formula('along'),
    x: formula('spacing'),
    y: 0,
    z: 0,
    turn: expression('20° * random(index)'),
  });
  m.edit('place the bollards', (d) => changes.setPlace(d, bollard.id, { at: [-6, 0, 6] }));
  const far = m.piece('bollards behind', null);
  far.step('kit', { kit: bollard.id, own: { along: 4, spacing: 4.5, height: 1.1 } });
  m.edit('place the others', (d) => changes.setPlace(d, far.id, { at: [-6.5, 0, -6] }));

  const quay = m.piece('quay', null);
  quay.step('box', {
    width: 22,
    height: 1.2,
    depth: 14,
    cutX: 10,
    cutY: 1,
    cutZ: 6,
    onGround: true,
  });
  quay.step('color', { base: look.stone });
  m.edit('place the quay', (d) => changes.setPlace(d, quay.id, { at: [0.5, -1.2, 0] }));
}

/** A boulder laid out in five islands, then made fine: what is subdivided afterwards lies where it lay. */
function stone(m: Maker, look: Look): void {
  const stone = m.piece('harbour stone', null);
  stone.step('sphere', { diameter: 1.6, made: 'cube', cuts: 8 });
  stone.step('shift', { along: 'normal', formula: expression('0.22 m * noise(position / (0.7 m), 4)') });
  stone.step('unwrap', { islands: 5 });
  stone.step('color', { base: look.stone });
  stone.step('subdivide', { levels: 2 });
  m.edit('place the stone', (d) => {
    changes.setPlace(d, stone.id, { at: [6.5, 0.55, 3.5] });
    changes.setPiece(d, stone.id, { smooth: 1 });
  });
}
