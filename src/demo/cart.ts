/**
 * The quay cart: a hard little object. Loops cut, faces taken out, edges bridged over the wheels, a tray inset, every
 * sharp edge broken. Centimetres.
 */
import type { Triple } from '../core/math';
import * as changes from '../document/changes';
import { newProject } from '../document/changes';
import type { ProjectDocument } from '../document/types';
import { Maker } from './maker';

export const CART_ID = '5a17e2e0-0004-4000-8000-000000000004';
const cm = 0.01;
const deg = Math.PI / 180;
const near = (a: number, b: number) => Math.abs(a - b) < 0.2 * cm;
const between = (x: number, lo: number, hi: number) => x > lo * cm && x < hi * cm;

export async function quayCart(): Promise<ProjectDocument> {
  const m = new Maker(newProject('Quay cart', 'game', 'cm'));
  m.edit('set up the project', (d) => changes.setSettings(d, { grid: 0.1, precision: 1, triangles: 8000 }));
  const paint = m.material('Quay blue', '#51707f', 0.6, 0);
  const iron = m.material('Iron', '#3c3a38', 0.6, 0.7);
  const plank = m.material('Planks', '#a58a63', 0.8, 0);
  const cart = m.group('cart');

  // The body: a box of which one half is shaped.
  const body = m.piece('body', cart);
  body.step('box', { width: 140 * cm, height: 34 * cm, depth: 80 * cm, cutX: 7, cutY: 1, cutZ: 2, onGround: true });
  const by = body.step('shape');
  body.move(by, 'move', await body.faces(() => true), { x: 0, y: 28 * cm, z: 0 });
  const upright = (e: { from: Triple; to: Triple }) => !near(e.from[1], e.to[1]);
  body.move(by, 'loop', first(await body.edges((e) => upright(e) && near(e.middle[2], 40 * cm))), { count: 1 });
  const deep = (e: { from: Triple; to: Triple; middle: Triple }) => !near(e.from[2], e.to[2]) && e.middle[2] > 0;
  body.move(by, 'loop', first(await body.edges((e) => deep(e) && near(e.middle[1], 62 * cm))), { count: 1 });
  for (const [lo, hi] of [
    [-50, -10],
    [10, 50],
  ]) {
    // Out goes what is over the wheel; the gap is bridged by an arch, its ends are closed.
    const inside = (x: number) => between(x, lo - 1, hi + 1);
    const gone = await body.faces(
      ({ centre: [x, y, z], normal }) =>
        inside(x) && ((normal[2] > 0.9 && y < 44 * cm) || (normal[1] < -0.9 && z > 20 * cm && z < 40 * cm)),
    );
    body.move(by, 'delete', gone);
    const rims = await body.edges(
      ({ from, to }) =>
        inside((from[0] + to[0]) / 2) &&
        near(from[1], to[1]) &&
        !near(from[0], to[0]) &&
        ((near(from[1], 45 * cm) && near(from[2], 40 * cm)) || (near(from[1], 28 * cm) && near(from[2], 20 * cm))),
    );
    body.move(by, 'bridge', rims, { parts: 3, smooth: 0.8 });
    const open = await body.edges(
      (e) => (near(e.from[0], lo * cm) || near(e.from[0], hi * cm)) && near(e.from[0], e.to[0]),
    );
    body.move(by, 'cap', open, { rule: 'face' });
  }
  const top = () => body.faces((f) => f.normal[1] > 0.9 && f.centre[1] > 60 * cm && f.centre[2] > -41 * cm);
  body.move(by, 'inset', await top(), { inset: 4 * cm });
  const floor = await body.faces(
    (f) =>
      f.normal[1] > 0.9 &&
      near(f.centre[1], 62 * cm) &&
      Math.abs(f.centre[0]) < 66 * cm &&
      Math.abs(f.centre[2]) < 36 * cm,
  );
  body.move(by, 'extrude', floor, { by: -12 * cm, along: 'y', inset: 1 * cm });
  body.step('mirror', { axis: 'z', keep: 'positive', weld: 0.1 * cm, clip: true });
  const edges = body.step('shape');
  m.edit('break every sharp edge', (d) =>
    changes.addMove(d, body.id, edges, {
      id: m.id('move'),
      tool: 'bevel',
      pick: { kind: 'edge', keys: [], rule: { id: 'sharp', values: { angle: 55 * deg } } },
      values: { width: 1.2 * cm, segments: 2, clamp: true },
      name: 'every sharp edge',
    }),
  );
  const colour = body.step('color', { base: paint });
  body.color(colour, plank, await body.faces((f) => f.normal[1] > 0.9 && near(f.centre[1], 50 * cm)));

  // A wheel: a drum with an inset face and a hub; four places, one recipe.
  const wheel = m.piece('wheel', cart);
  wheel.step('cylinder', {
    across: 'diameter',
    size: 34 * cm,
    height: 8 * cm,
    sides: 20,
    rows: 1,
    cap: 'polygon',
    onGround: false,
  });
  const round = wheel.step('shape');
  const outer = () => wheel.faces((f) => f.normal[1] > 0.9 && Math.hypot(f.centre[0], f.centre[2]) < 0.5 * cm);
  wheel.move(round, 'inset', await outer(), { inset: 4 * cm });
  wheel.move(round, 'extrude', await outer(), { by: -2 * cm, along: 'y', inset: 0.6 * cm });
  wheel.move(round, 'inset', await outer(), { inset: 7 * cm });
  wheel.move(round, 'extrude', await outer(), { by: 3.5 * cm, along: 'y', inset: 0.8 * cm });
  m.edit('break the rims', (d) =>
    changes.addMove(d, wheel.id, round, {
      id: m.id('move'),
      tool: 'bevel',
      pick: { kind: 'edge', keys: [], rule: { id: 'sharp', values: { angle: 45 * deg } } },
      values: { width: 0.6 * cm, segments: 1, clamp: true },
    }),
  );
  const tyre = wheel.step('color', { base: iron });
  wheel.color(
    tyre,
    plank,
    await wheel.faces((f) => f.normal[1] > 0.5 && Math.hypot(f.centre[0], f.centre[2]) < 11 * cm),
  );
  m.edit('wheels', (d) => {
    changes.setPlace(d, wheel.id, { at: [30 * cm, 17 * cm, 33 * cm], turn: [90 * deg, 0, 0] });
    const [back] = changes.copyPieces(d, [wheel.id], {
      linked: true,
      makeId: () => m.id('piece'),
      rename: () => 'wheel left back',
    });
    changes.setPlace(d, back, { at: [-30 * cm, 17 * cm, 33 * cm] });
    changes.mirrorPieces(d, [wheel.id, back], { axis: 'z', across: 'parent', makeId: () => m.id('piece') });
  });

  // What the wheels turn on.
  const axle = m.piece('axle', cart);
  axle.step('box', { width: 7 * cm, height: 15 * cm, depth: 58 * cm, cutX: 1, cutY: 2, cutZ: 5, onGround: true });
  const shaped = axle.step('shape');
  axle.move(shaped, 'size', await axle.faces((f) => f.normal[1] < -0.9), { x: 0.6, y: 1, z: 1 });
  axle.step('color', { base: iron });
  m.edit('axles', (d) => {
    changes.setPlace(d, axle.id, { at: [30 * cm, 14 * cm, 0] });
    const [back] = changes.copyPieces(d, [axle.id], {
      linked: true,
      makeId: () => m.id('piece'),
      rename: () => 'axle back',
    });
    changes.setPlace(d, back, { at: [-30 * cm, 14 * cm, 0] });
  });

  // The draw bar: one face drawn out again and again, turned a little each time.
  const bar = m.piece('draw bar', cart);
  bar.step('box', { width: 5 * cm, height: 5 * cm, depth: 5 * cm, cutX: 1, cutY: 1, cutZ: 1, onGround: true });
  const drawn = bar.step('shape');
  bar.move(drawn, 'move', await bar.faces(() => true), { x: 70 * cm, y: 32 * cm, z: 0 });
  const tip = await bar.faces((f) => f.normal[0] > 0.9);
  for (let i = 0; i < 5; i++) {
    bar.move(drawn, 'extrude', tip, { by: 11 * cm, along: 'normals' });
    bar.move(drawn, 'turn', tip, { angle: 9 * deg, axis: 'z', about: 'pick' });
  }
  bar.move(drawn, 'extrude', tip, { by: 5 * cm, along: 'normals' });
  const grip = await bar.faces((f) => Math.abs(f.normal[2]) > 0.9 && f.centre[0] > 117 * cm);
  bar.move(drawn, 'extrude', grip, { by: 13 * cm, along: 'normals', each: true, inset: 0.8 * cm });
  m.edit('break its edges', (d) =>
    changes.addMove(d, bar.id, drawn, {
      id: m.id('move'),
      tool: 'bevel',
      pick: { kind: 'edge', keys: [], rule: { id: 'sharp', values: { angle: 60 * deg } } },
      values: { width: 0.4 * cm, segments: 1, clamp: true },
    }),
  );
  bar.step('color', { base: iron });
  return m.document;
}

/** One of several: a ring is the same from any of its edges. */
const first = <P extends { keys: readonly number[] }>(pick: P): P => ({ ...pick, keys: pick.keys.slice(0, 1) });
