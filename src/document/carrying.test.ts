import { encode } from 'fast-png';
import { produce } from 'immer';
import { readPng, writePng } from '../core/formats';
import { Memory } from '../core/recipe/memory';
import { buildScene, SHIP_DEFAULTS } from './build';
import { beforeUnwrap, carriedBy, carryPictures, firstUnwrap, leavesPictures, picturesOn } from './carrying';
import * as changes from './changes';
import type { ProjectDocument } from './types';

const image = (id: string, side: number) => ({
  ...{ id, name: `${id}.png`, blob: id, mime: 'image/png', bits: 8, use: 'picture' as const },
  width: side,
  height: side,
});
/** A box in a material that shows rust, bumps on another UV set, and nothing of a third picture. */
const start = (): ProjectDocument =>
  produce(changes.newProject('Quay', 'game', 'mm'), (d) => {
    changes.addPiece(d, 'p', 'box');
    changes.addStep(d, 'p', 'box', 'b');
    d.images.push(image('rust', 600), image('bumps', 9000), image('other', 50));
    d.materials.push({
      ...{ id: 'm', name: 'Rusty', color: '#ffffff', roughness: 1, metalness: 0, bothSides: true },
      maps: { color: 'rust', normal: 'bumps' },
      laid: { normal: { set: 1 } },
    });
    d.materials.push({
      id: 'n',
      name: 'Other',
      color: '#ffffff',
      roughness: 1,
      metalness: 0,
      maps: { color: 'other' },
    });
    changes.addStep(d, 'p', 'unwrap', 'u', { size: '512' });
    changes.addStep(d, 'p', 'color', 'c', { base: 'm' });
  });
const piece = (d: ProjectDocument) => changes.pieceOf(d, 'p');
const red = encode({
  width: 2,
  height: 2,
  channels: 4,
  data: new Uint8Array(16).fill(255).map((x, i) => (i % 4 ? 9 : x)),
});
const blob = async (sha: string) => {
  if (sha === 'gone') throw new Error('That file is not there.');
  return red;
};

test('the pictures on a piece are those of the materials it wears, on its main UV set', () => {
  const d = start();
  expect(picturesOn(d, piece(d)).map((i) => i.id)).toEqual(['rust']);
  expect(picturesOn(d, piece(d), ['n']).map((i) => i.id)).toEqual(['rust', 'other']);
  expect(leavesPictures(d, piece(d))).toBe(false);
  const brought = produce(d, (x) => {
    const { recipe } = changes.pieceOf(x, 'p');
    recipe[0] = { ...recipe[0], kind: 'brought-in' };
  });
  expect(leavesPictures(brought, piece(brought))).toBe(true);
  expect(
    leavesPictures(
      produce(brought, (x) => void changes.setStep(x, 'p', 'u', { on: false })),
      piece(d),
    ),
  ).toBe(false);
});

test('by what it is laid out as now: another unwrap step, and a texture of the size of the largest picture', () => {
  const d = produce(start(), (x) => {
    changes.setValues(x, 'p', 'u', { layout: 'kept', stretch: 1.7 });
    carryPictures(x, changes.pieceOf(x, 'p'), picturesOn(x, changes.pieceOf(x, 'p')));
  });
  const { recipe } = piece(d);
  expect(recipe.map((s) => s.kind)).toEqual(['box', 'unwrap', 'unwrap', 'color', 'texture']);
  expect([recipe[1].id, recipe[1].values.layout]).toEqual(['u', 'kept']);
  expect([recipe[2].values.layout, recipe[2].values.stretch]).toEqual(['', 1.7]);
  expect([recipe[4].values.pictures, recipe[4].values.size]).toEqual(['u', '1024']);
  expect(carriedBy(piece(d))).toBe(recipe[4]);
  expect(firstUnwrap(piece(d))!.id).toBe('u');
});

test('by a step before: nothing is laid out again, and a texture that is there takes it on', () => {
  const d = produce(start(), (x) => {
    changes.addStep(x, 'p', 'texture', 't', { size: '2048' });
    expect(carryPictures(x, changes.pieceOf(x, 'p'), [], 'b')).toBeUndefined();
  });
  expect(piece(d).recipe.map((s) => s.kind)).toEqual(['box', 'unwrap', 'color', 'texture']);
  expect(piece(d).recipe[3].values).toMatchObject({ pictures: 'b', size: '2048' });
  const once = produce(start(), (x) => {
    changes.removeStep(x, 'p', 'u');
    expect(beforeUnwrap(changes.pieceOf(x, 'p'))!.id).toBe('b');
    carryPictures(x, changes.pieceOf(x, 'p'), [], 'b');
  });
  expect(piece(once).recipe.map((s) => s.kind)).toEqual(['box', 'unwrap', 'color', 'texture']);
  const bare = produce(changes.newProject('Quay', 'game', 'mm'), (x) => changes.addPiece(x, 'p', 'box'));
  expect(() => carryPictures(structuredClone(bare), structuredClone(piece(bare)), [])).toThrow('not laid out');
});

test('on two sheets it has pictures of each, and every face is in the material of its own', async () => {
  const d = produce(start(), (x) => {
    changes.setValues(x, 'p', 'u', { sheets: 2, size: '256' });
    x.materials[0].laid = {};
    carryPictures(x, changes.pieceOf(x, 'p'), []);
    const last = changes.pieceOf(x, 'p').recipe.at(-1)!;
    changes.setValues(x, 'p', last.id, { size: '256' });
  });
  const { scene } = await buildScene(d, SHIP_DEFAULTS, { memory: new Memory(), encode: writePng, blob });
  expect(scene.warnings).toEqual([]);
  expect(scene.images.map((i) => i.name)).toEqual([
    ...['box_color.png', 'box_color_surface.png', 'box_color_normal.png'],
    ...['box_color_2.png', 'box_color_surface_2.png', 'box_color_normal_2.png'],
  ]);
  const mesh = scene.pieces[0].mesh!;
  const { uv, material } = mesh.attributes;
  const seen = new Set<number>();
  for (let f = 0; f < mesh.faceCount; f++) {
    seen.add(material.data[f]);
    for (let c = mesh.faceStart[f]; c < mesh.faceStart[f + 1]; c++)
      expect(Math.floor(uv.data[2 * c])).toBe(material.data[f]);
  }
  expect(seen).toEqual(new Set([0, 1]));
  for (const [k, id] of mesh.slots.entries())
    expect(scene.materials.find((m) => m.id === id)!.maps).toMatchObject({ color: 3 * k });
  // Rust all over, on either.
  for (const k of [0, 3]) {
    const { data, width } = readPng(scene.images[k].bytes);
    let rusty = 0;
    for (let i = 0; i < data.length; i += 4) if (data[i] === 255 && data[i + 1] === 9) rusty++;
    expect([width, rusty / (width * width) > 0.3]).toEqual([256, true]);
  }
});

test('it ships with its pictures drawn anew, and the rest of its look; without a picture that is gone, and says so', async () => {
  const d = produce(start(), (x) => {
    x.materials[0].laid = {};
    carryPictures(x, changes.pieceOf(x, 'p'), []);
  });
  const ship = async (doc: ProjectDocument) =>
    (await buildScene(doc, SHIP_DEFAULTS, { memory: new Memory(), encode: writePng, blob })).scene;
  const out = await ship(d);
  expect(out.warnings).toEqual([]);
  expect(out.images.map((i) => i.name)).toEqual(['box_color.png', 'box_color_surface.png', 'box_color_normal.png']);
  const [m] = out.materials.filter((x) => x.id === out.pieces[0].mesh!.slots[0]);
  expect(m).toMatchObject({ maps: { color: 0, surface: 1, normal: 2 }, bothSides: true });
  const less = await ship(produce(d, (x) => void (x.images[1].blob = 'gone')));
  expect(less.images.map((i) => i.name)).toEqual(['box_color.png', 'box_color_surface.png']);
});
