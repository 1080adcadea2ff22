/**
 * The signal lamp of Saltmere Station: a base, a hood mirrored from one half, a lens, and a bail handle. Millimetres.
 */
import * as changes from '../document/changes';
import { newProject } from '../document/changes';
import type { ProjectDocument } from '../document/types';
import { Maker } from './maker';

export const LAMP_ID = '5a17e2e0-0001-4000-8000-000000000001';
const mm = 0.001;
const deg = Math.PI / 180;
const near = (a: number, b: number) => Math.abs(a - b) < 0.3 * mm;

export async function signalLamp(): Promise<ProjectDocument> {
  const m = new Maker(newProject('Signal lamp', 'game', 'mm'));
  const green = m.material('Station green', '#4a6b58', 0.6, 0);
  const brass = m.material('Worn brass', '#b08a45', 0.38, 1);
  const soot = m.material('Soot', '#34312d', 0.85, 0);
  const glass = m.material('Lens glass', '#e6d6a3', 0.12, 0);
  const lamp = m.group('lamp');

  // Base: an octagon, stepped in and up to the neck.
  const base = m.piece('base', lamp);
  base.step('cylinder', { across: 'diameter', size: 190 * mm, height: 22 * mm, sides: 8, rows: 1, cap: 'polygon' });
  let by = base.step('shape');
  const up = (p: typeof base, y: number) => p.faces((f) => f.normal[1] > 0.9 && near(f.centre[1], y * mm));
  base.move(by, 'extrude', await up(base, 22), { by: 30 * mm, along: 'normals', inset: 34 * mm, each: false });
  base.move(by, 'extrude', await up(base, 52), { by: 58 * mm, along: 'normals', inset: 9 * mm, each: false });
  m.edit('break the rims of the base', (d) =>
    changes.addMove(d, base.id, by, {
      id: m.id('move'),
      tool: 'bevel',
      pick: { kind: 'edge', keys: [], rule: { id: 'sharp', values: { angle: 60 * deg } } },
      values: { width: 2.5 * mm, segments: 2, clamp: true },
      name: 'rims',
    }),
  );
  base.step('unwrap', { pixels: true, seamAngle: 32 * deg, padding: 6 });
  let colour = base.step('color', { base: green });
  base.color(
    colour,
    brass,
    await base.faces((f) => f.centre[1] > 23 * mm && f.centre[1] < 51 * mm && f.normal[1] > 0.2),
  );
  base.step('texture', { name: 'color', size: '512', bleed: 6 });

  // Hood: one half is shaped, the other mirrored.
  const hood = m.piece('hood', lamp);
  hood.step('box', { width: 180 * mm, height: 120 * mm, depth: 140 * mm, cutX: 2, cutY: 1, cutZ: 1, onGround: true });
  by = hood.step('shape');
  const all = await hood.faces(() => true);
  hood.move(by, 'move', all, { x: 0, y: 104 * mm, z: 0 });
  hood.move(by, 'extrude', await up(hood, 224), { by: 44 * mm, along: 'y', inset: 40 * mm, each: false });
  hood.move(by, 'inset', await up(hood, 268), { inset: 18 * mm, each: false });
  hood.move(by, 'extrude', await up(hood, 268), { by: 40 * mm, along: 'y', inset: 7 * mm, each: false });
  hood.move(by, 'extrude', await up(hood, 308), { by: -14 * mm, along: 'y', inset: 6 * mm, each: false });
  // The shutter at the right, cut into the wall and drawn out; the mirror makes the left one.
  const side = () => hood.faces((f) => f.normal[0] > 0.9 && near(f.centre[0], 90 * mm));
  hood.move(by, 'inset', await side(), { inset: 24 * mm, each: false });
  hood.move(
    by,
    'extrude',
    await hood.faces(
      (f) => f.normal[0] > 0.9 && near(f.centre[0], 90 * mm) && near(f.centre[1], 164 * mm) && near(f.centre[2], 0),
    ),
    { by: 12 * mm, along: 'normals', inset: 4 * mm, each: false },
  );
  // The frame that holds the lens.
  hood.move(by, 'inset', await hood.faces((f) => f.normal[2] > 0.9 && near(f.centre[2], 70 * mm)), {
    inset: 14 * mm,
    each: false,
  });
  hood.move(
    by,
    'extrude',
    await hood.faces(
      (f) =>
        f.normal[2] > 0.9 &&
        near(f.centre[2], 70 * mm) &&
        near(f.centre[1], 164 * mm) &&
        Math.abs(f.centre[0]) < 60 * mm,
    ),
    { by: -22 * mm, along: 'z', inset: 5 * mm, each: false },
  );
  hood.step('mirror', { axis: 'x', keep: 'positive', weld: 0.1 * mm, clip: true });
  const unwrap = hood.step('unwrap', { pixels: true, seamAngle: 40 * deg, padding: 8 });
  hood.seams(unwrap, await hood.edges((e) => near(e.from[0], 0) && near(e.to[0], 0) && e.middle[2] < -60 * mm));
  colour = hood.step('color', { base: green });
  hood.color(
    colour,
    brass,
    await hood.faces((f) => f.normal[1] > 0.2 && f.centre[1] > 225 * mm && f.centre[1] < 267 * mm),
  );
  hood.color(colour, soot, await hood.faces((f) => f.centre[1] > 269 * mm));
  hood.color(colour, brass, await hood.faces((f) => Math.abs(f.centre[0]) > 91 * mm));
  hood.step('texture', { name: 'color', size: '1024', bleed: 8 });

  // Lens: a flattened sphere in the frame, smoothed.
  const lens = m.piece('lens', lamp);
  lens.step('sphere', { diameter: 92 * mm, made: 'cube', cuts: 4 });
  by = lens.step('shape');
  const ball = await lens.faces(() => true);
  lens.move(by, 'size', ball, { x: 1, y: 1, z: 0.55, about: 'pick' });
  lens.move(by, 'move', ball, { x: 0, y: 164 * mm, z: 56 * mm });
  lens.step('color', { base: glass });
  lens.step('unwrap', { seamAngle: 180 * deg, padding: 6 });
  lens.step('subdivide', { levels: 1 });

  // Bail handle: a rod bent a little at every extrusion, half of it mirrored.
  const bail = m.piece('bail handle', lamp);
  bail.step('box', { width: 9 * mm, height: 9 * mm, depth: 9 * mm, cutX: 1, cutY: 1, cutZ: 1, onGround: true });
  by = bail.step('shape');
  bail.move(by, 'move', await bail.faces(() => true), { x: 97 * mm, y: 196 * mm, z: 0 });
  bail.move(by, 'extrude', await bail.faces((f) => f.normal[1] > 0.9), {
    by: 44 * mm,
    along: 'normals',
    inset: 0,
    each: false,
  });
  const tip = await bail.faces((f) => f.normal[1] > 0.9);
  for (let i = 0; i < 9; i++) {
    bail.move(by, 'extrude', tip, { by: 19 * mm, along: 'normals', inset: 0, each: false });
    bail.move(by, 'turn', tip, { angle: 10 * deg, axis: 'z', about: 'pick' });
  }
  bail.step('mirror', { axis: 'x', keep: 'positive', weld: 0.1 * mm, clip: true });
  bail.step('color', { base: brass });
  const ends = await bail.edges((e) => near(e.from[1], 196 * mm) && near(e.to[1], 196 * mm));
  bail.step('subdivide', { levels: 2, creases: ends, sharpness: 1 });
  bail.step('unwrap', { pixels: true, seamAngle: 75 * deg, padding: 4 });

  // Guard before the lens: a plate whose cells are bridged from front to back, every sharp edge broken.
  const guard = m.piece('guard', lamp);
  guard.step('box', { width: 112 * mm, height: 112 * mm, depth: 5 * mm, cutX: 7, cutY: 7, cutZ: 1, onGround: false });
  by = guard.step('shape');
  const cell = 16 * mm;
  for (const x of [-2, 0, 2])
    for (const y of [-2, 0, 2]) {
      const both = await guard.faces(
        ({ centre, normal }) => Math.abs(normal[2]) > 0.9 && near(centre[0], x * cell) && near(centre[1], y * cell),
      );
      guard.move(by, 'bridge', both, { parts: 1 });
    }
  m.edit('break the edges of the guard', (d) =>
    changes.addMove(d, guard.id, by, {
      id: m.id('move'),
      tool: 'bevel',
      pick: { kind: 'edge', keys: [], rule: { id: 'sharp', values: { angle: 60 * deg } } },
      values: { width: 1.2 * mm, segments: 1, clamp: true },
      name: 'every sharp edge',
    }),
  );
  guard.step('color', { base: brass });
  guard.step('unwrap', { pixels: true, seamAngle: 50 * deg, padding: 4 });
  m.edit('place the guard', (d) => changes.setPlace(d, guard.id, { at: [0, 164 * mm, 74 * mm] }));
  return m.document;
}
