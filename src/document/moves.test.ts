/**
 * Moves of a shape by hand as a list, and picks that are kept: what a document holds of them, and what following it
 * gives.
 */
import { Memory } from '../core/recipe';
import type { Move } from '../core/recipe/values';
import { followRecipe } from '../core/steps';
import * as c from './changes';
import { checkDocument } from './schema';
import type { ProjectDocument } from './types';

function project(): ProjectDocument {
  const d = c.newProject('Moves');
  c.addPiece(d, 'p', 'block');
  c.addStep(d, 'p', 'box', 'b', { width: 1, height: 1, depth: 1, cutX: 1, cutY: 1, cutZ: 1 });
  c.addStep(d, 'p', 'shape', 's');
  const up = { kind: 'face' as const, keys: [], rule: { id: 'looks', values: { way: 'up' } } };
  c.addMove(d, 'p', 's', { id: 'm1', tool: 'extrude', pick: up, values: { by: 1 } });
  c.addMove(d, 'p', 's', { id: 'm2', tool: 'extrude', pick: up, values: { by: 2 } });
  return d;
}
const moves = (d: ProjectDocument) => d.pieces[0].recipe[1].values.moves as Move[];
const height = async (d: ProjectDocument): Promise<number> => {
  const out = await followRecipe(d.pieces[0].recipe, { memory: new Memory(1 << 24) });
  const p = out[out.length - 1].mesh.positions;
  return p.reduce((h, y, i) => (i % 3 === 1 ? Math.max(h, y) : h), 0);
};

test('a move is passed over while it is off, and is there again', async () => {
  const d = project();
  const all = await height(d);
  c.markMove(d, 'p', 's', 'm1', { off: true });
  expect(await height(d)).toBeCloseTo(all - 1, 5);
  c.markMove(d, 'p', 's', 'm2', { off: true });
  expect(await height(d)).toBeCloseTo(all - 3, 5);
  expect(() => checkDocument(d)).not.toThrow();
  c.markMove(d, 'p', 's', 'm1', { off: false });
  c.markMove(d, 'p', 's', 'm2', { off: false });
  expect(await height(d)).toBeCloseTo(all, 5);
  expect(moves(d)[0]).not.toHaveProperty('off');
});

test('named, copied, put elsewhere', async () => {
  const d = project();
  const all = await height(d);
  c.markMove(d, 'p', 's', 'm1', { name: '  the stem ' });
  expect(moves(d)[0].name).toBe('the stem');
  c.copyMove(d, 'p', 's', 'm1', 'm3');
  expect(moves(d).map((m) => m.id)).toEqual(['m1', 'm3', 'm2']);
  expect(await height(d)).toBeCloseTo(all + 1, 5);
  c.placeMove(d, 'p', 's', 'm2', 0);
  expect(moves(d).map((m) => m.id)).toEqual(['m2', 'm1', 'm3']);
  c.placeMove(d, 'p', 's', 'm2', 99);
  expect(moves(d).map((m) => m.id)).toEqual(['m1', 'm3', 'm2']);
  c.markMove(d, 'p', 's', 'm1', { name: ' ' });
  expect(moves(d)[0]).not.toHaveProperty('name');
  expect(() => checkDocument(d)).not.toThrow();
});

test('what is stored of moves is checked', () => {
  const spoil = (part: object) => {
    const d = project();
    Object.assign(moves(d)[0], part);
    return () => checkDocument(d);
  };
  expect(spoil({ mirror: 'x', off: true, name: 'a' })).not.toThrow();
  for (const bad of [
    { mirror: 'w' },
    { off: 7 },
    { name: 'x'.repeat(300) },
    { pick: { kind: 'face', keys: [], rule: { id: 5, values: {} } } },
  ])
    expect(spoil(bad)).toThrow();
});

test('a rule of a later version is told, and passed over', async () => {
  const d = project();
  moves(d)[0].pick = { kind: 'face', keys: [], rule: { id: 'from tomorrow', values: {} } };
  const out = await followRecipe(d.pieces[0].recipe, { memory: new Memory(1 << 24) });
  expect(out[1].warnings.map((w) => w.text).join()).toMatch(/Move 1, extrude: its rule “from tomorrow” is not known/);
});

test('sets: one name is one set; the last taken away leaves nothing', () => {
  const d = project();
  const pick = (keys: number[]) => ({ kind: 'face' as const, keys });
  c.keepSet(d, 'p', 'a', 'lid', pick([1, 2]));
  c.keepSet(d, 'p', 'b', 'lid', pick([3]));
  c.keepSet(d, 'p', 'b', 'rim', pick([4]));
  expect(d.pieces[0].sets).toEqual([
    { id: 'a', name: 'lid', pick: pick([3]) },
    { id: 'b', name: 'rim', pick: pick([4]) },
  ]);
  c.renameSet(d, 'p', 'b', ' edge ');
  c.renameSet(d, 'p', 'b', ' ');
  expect(d.pieces[0].sets![1].name).toBe('edge');
  expect(() => checkDocument(d)).not.toThrow();
  d.pieces[0].sets!.push({ id: 'x', name: 'bad', pick: { kind: 'moon' as never, keys: [] } });
  expect(() => checkDocument(d)).toThrow();
  d.pieces[0].sets!.pop();
  c.removeSet(d, 'p', 'a');
  c.removeSet(d, 'p', 'b');
  expect(d.pieces[0]).not.toHaveProperty('sets');
});
