import { Memory } from '../core/recipe';
import * as changes from './changes';
import { addDial, freeName, isDialName, removeDial, renameDial, setDial, usesOf } from './dials';
import { followDocument } from './follow';
import { checkDocument } from './schema';
import type { Dial, ProjectDocument } from './types';

const dial = (name: string, value: number, more: Partial<Dial> = {}): Dial => ({
  id: name,
  name,
  kind: 'length',
  value,
  ...more,
});
function project(): ProjectDocument {
  const d = changes.newProject('Float', 'game', 'mm');
  addDial(d, dial('wall', 0.003, { min: 0.001, max: 0.01 }));
  addDial(d, dial('storeys', 4, { kind: 'count' }));
  changes.addPiece(d, 'p', 'tower');
  changes.addStep(d, 'p', 'box', 's', {
    width: { formula: '10 * wall' },
    height: 0.02,
    cutY: { formula: 'storeys' },
    onGround: false,
  });
  changes.addStep(d, 'p', 'shift', 'f', { along: 'y', formula: { text: 'wall * 2 + 1', unit: 'mm' } });
  return checkDocument(d);
}
const shown = async (d: ProjectDocument, memory = new Memory()) => {
  const out = await followDocument(d, { memory }).piece(d.pieces[0]);
  const { mesh } = out.shown!;
  const along = (k: number) => Array.from(mesh.positions).filter((_, i) => i % 3 === k);
  return {
    width: Math.max(...along(0)) - Math.min(...along(0)),
    top: Math.max(...along(1)),
    faces: mesh.faceCount,
    errors: out.outcomes.flatMap((o) => o.error ?? []),
    took: out.outcomes.map((o) => o.took),
  };
};

test('formulas go by dials: numbers of steps, and formulas over elements', async () => {
  const d = project();
  const now = await shown(d);
  expect(now.errors).toEqual([]);
  expect(now.width).toBeCloseTo(0.03, 6);
  expect(now.faces).toBe(4 * 4 + 2);
  expect(now.top).toBeCloseTo(0.01 + 0.007, 6);
  setDial(d, 'wall', { value: 0.005 });
  setDial(d, 'storeys', { value: 2.4 });
  const then = await shown(d);
  expect(then.width).toBeCloseTo(0.05, 6);
  expect(then.faces).toBe(4 * 2 + 2);
  expect(then.top).toBeCloseTo(0.01 + 0.011, 6);
  // Another unit of the project changes no formula that was typed before.
  expect((await shown({ ...d, units: 'm' })).top).toBeCloseTo(then.top, 6);
});

test('only what uses a dial runs again', async () => {
  const d = project();
  const memory = new Memory();
  await shown(d, memory);
  addDial(d, dial('other', 1));
  setDial(d, 'other', { value: 2 });
  expect((await shown(d, memory)).took).toEqual([0, 0]);
  setDial(d, 'wall', { value: 0.004 });
  expect((await shown(d, memory)).took.every((t) => t > 0)).toBe(true);
});

test('a dial keeps within its ends, and whole where it counts', () => {
  const d = project();
  setDial(d, 'wall', { value: 5 });
  setDial(d, 'storeys', { value: 7.6 });
  expect(d.dials!.map((x) => x.value)).toEqual([0.01, 8]);
  expect(() => checkDocument(d)).not.toThrow();
});

test('renamed, it is renamed everywhere; used, it is not taken away', async () => {
  const d = project();
  renameDial(d, 'wall', 'thickness');
  expect(d.pieces[0].recipe[0].values.width).toEqual({ formula: '10 * thickness' });
  expect(d.pieces[0].recipe[1].values.formula).toMatchObject({ text: 'thickness * 2 + 1' });
  expect((await shown(d)).errors).toEqual([]);
  expect(usesOf(d, 'wall')).toEqual([
    { piece: 'tower', step: 1 },
    { piece: 'tower', step: 2 },
  ]);
  removeDial(d, 'wall');
  expect(d.dials).toHaveLength(2);
  renameDial(d, 'wall', 'storeys');
  renameDial(d, 'wall', 'two words');
  expect(d.dials![0].name).toBe('thickness');
  addDial(d, dial('spare', 1));
  removeDial(d, 'spare');
  expect(d.dials).toHaveLength(2);
});

test('what cannot be worked out is said at its step, and the rest goes on', async () => {
  const d = project();
  d.pieces[0].recipe[0].values.width = { formula: 'wall * wall' };
  d.pieces[0].recipe[1].values.formula = { text: 'wal', unit: 'mm' };
  const { errors } = await shown(d);
  expect(errors[0]).toBe('In “wall * wall”: This is an area; a length is wanted.');
  expect(errors).toHaveLength(2);
});

test('names', () => {
  const d = project();
  expect([isDialName('wall'), isDialName('2 walls'), isDialName('größe_2'), isDialName('')]).toEqual([
    true,
    false,
    true,
    false,
  ]);
  expect(freeName(d, 'Wall')).toBe('wall_2');
  expect(freeName(d, 'narrower at the top by')).toBe('narrower_at_the_top_by');
  expect(freeName(d, '3 sides')).toBe('dial_3_sides');
  addDial(d, dial('wall', 9));
  expect(d.dials!.filter((x) => x.name === 'wall')).toHaveLength(1);
  expect(() => checkDocument({ ...d, dials: [{ ...d.dials![0], name: 'a b' }] })).toThrow();
});

test('yes or no goes by a formula too', async () => {
  const d = project();
  d.pieces[0].recipe[0].values.onGround = { formula: 'storeys > 3' };
  d.pieces[0].recipe.pop();
  const low = async () => {
    const { mesh } = (
      await followDocument(checkDocument(structuredClone(d)), { memory: new Memory() }).piece(d.pieces[0])
    ).shown!;
    return Math.min(...mesh.positions.filter((_, i) => i % 3 === 1));
  };
  expect(await low()).toBeCloseTo(0, 6);
  setDial(d, 'storeys', { value: 2 });
  expect(await low()).toBeCloseTo(-0.01, 6);
  d.pieces[0].recipe[0].values.onGround = { formula: 'storeys + 3' };
  const out = await followDocument(d, { memory: new Memory() }).piece(d.pieces[0]);
  expect(out.outcomes[0].error).toMatch(/In “storeys \+ 3”: .*yes or no/);
});

test('formulas are worked out without a dial as well: in the unit of the project, and yes or no', async () => {
  const d = changes.newProject('Plain', 'game', 'mm');
  changes.addPiece(d, 'p', 'p');
  changes.addStep(d, 'p', 'box', 's', {
    width: { formula: '20 + 10' },
    height: 0.02,
    onGround: { formula: '3 > 2' },
  });
  const { width, top, errors } = await shown(d);
  expect([width, top, errors]).toEqual([expect.closeTo(0.03, 6), expect.closeTo(0.02, 6), []]);
});
