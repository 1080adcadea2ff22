/** Textures of pieces that are put together: never one on what it was not drawn for. */
import { produce } from 'immer';
import { writePng } from '../core/formats';
import { Memory, TEXTURE_ENDS } from '../core/recipe';
import { buildScene, SHIP_DEFAULTS } from './build';
import * as changes from './changes';
import { followDocument } from './follow';
import type { ProjectDocument } from './types';

/** A crate and a drum, each in a texture of its own, and a piece that is empty. */
const start = (): ProjectDocument =>
  produce(changes.newProject('Quay', 'game', 'mm'), (d) => {
    for (const [id, kind] of [
      ['crate', 'box'],
      ['drum', 'cylinder'],
    ]) {
      changes.addPiece(d, id, id);
      changes.addStep(d, id, kind, `${id}1`);
      changes.addStep(d, id, 'unwrap', `${id}2`, { size: '256' });
      changes.addStep(d, id, 'texture', `${id}3`, { size: '256' });
    }
    changes.addPiece(d, 'own', 'own');
  });
const outcomes = async (d: ProjectDocument, id: string) => {
  const { outcomes: all, shown } = await followDocument(d, { memory: new Memory() }).piece(changes.pieceOf(d, id));
  return { textures: shown!.mesh.textures, told: all.flatMap((o) => o.warnings.map((w) => w.text)), all };
};
const ship = async (d: ProjectDocument) =>
  (await buildScene(d, SHIP_DEFAULTS, { memory: new Memory(), encode: writePng })).scene;

test('joined with another piece, or laid out anew after it was drawn, a texture ends, and that is told', async () => {
  const joined = await outcomes(
    produce(start(), (d) => changes.addStep(d, 'crate', 'join', 'j', { other: 'drum' })),
    'crate',
  );
  expect(joined.textures).toBeUndefined();
  expect(joined.told).toEqual([TEXTURE_ENDS]);
  const anew = await outcomes(
    produce(start(), (d) => changes.addStep(d, 'crate', 'unwrap', 'u', { size: '512' })),
    'crate',
  );
  expect([anew.textures, anew.told]).toEqual([undefined, [TEXTURE_ENDS]]);
});

test('on another UV set, mirrored, or subdivided it goes on', async () => {
  for (const [kind, values] of [
    ['unwrap', { size: '512', set: 'bake' }],
    ['mirror', {}],
    ['subdivide', { levels: 1 }],
  ] as const) {
    const after = await outcomes(
      produce(start(), (d) => changes.addStep(d, 'crate', kind, 's', { ...values })),
      'crate',
    );
    expect([kind, after.textures === undefined, after.told]).toEqual([kind, false, []]);
  }
});

test('copies of several pieces ship each in its own texture; made one mesh they wear none', async () => {
  const stacked = produce(start(), (d) =>
    changes.addStep(d, 'own', 'stack', 's', { foot: 'crate', low: 1, middle: 'drum', times: 2, top: 'crate', high: 1 }),
  );
  const scene = await ship(
    produce(stacked, (d) => {
      for (const id of ['crate', 'drum']) changes.pieceOf(d, id).visible = false;
    }),
  );
  const worn = scene.pieces.flatMap((p) => p.mesh?.slots ?? []);
  expect(new Set(worn).size).toBe(2);
  const shown = [...new Set(worn)].map((id) => scene.materials.find((m) => m.id === id)!.maps!.color);
  expect(new Set(shown).size).toBe(2);
  // Two pictures of each: the crate's are shown by both of its copies.
  expect(scene.images.length).toBe(4);
  const flat = await outcomes(
    produce(stacked, (d) => changes.addStep(d, 'own', 'flat', 'f')),
    'own',
  );
  expect([flat.textures, flat.told]).toEqual([undefined, [TEXTURE_ENDS]]);
  const alike = await outcomes(
    produce(start(), (d) => {
      changes.addStep(d, 'own', 'stack', 's', { foot: 'crate', low: 3, middle: '', top: '' });
      changes.addStep(d, 'own', 'flat', 'f');
    }),
    'own',
  );
  expect([alike.textures === undefined, alike.told]).toEqual([false, []]);
});
