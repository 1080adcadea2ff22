import { Memory } from '../core/recipe';
import * as changes from './changes';
import { addDial, setDial } from './dials';
import { dialsByRule, FACTS, factDef, solveDial, tellFact } from './facts';
import { followDocument } from './follow';
import { checkDocument } from './schema';
import type { ProjectDocument } from './types';

/** A block of 2 × `high` × 1 m, thickened by nothing. */
function project(): ProjectDocument {
  const d = changes.newProject('Weights', 'print', 'm');
  addDial(d, { id: 'high', name: 'high', kind: 'length', value: 3, min: 0.1, max: 50 });
  addDial(d, { id: 'long', name: 'long', kind: 'length', value: 2 });
  changes.addPiece(d, 'p', 'block');
  changes.addStep(d, 'p', 'box', 's', { width: { formula: 'long' }, height: { formula: 'high' }, depth: 1 });
  return checkDocument(d);
}
const o = () => ({ memory: new Memory() });

test('facts of a block are those of a block', async () => {
  const d = project();
  const { shown } = await followDocument(d, o()).piece(d.pieces[0]);
  const of = (id: string) => factDef(id)!.of(shown!.geometry, 7.85);
  expect(of('volume')).toBeCloseTo(6, 5);
  expect(of('area')).toBeCloseTo(22, 5);
  // 6 m³ of steel: 47.1 t.
  expect(of('weight')).toBeCloseTo(47_100_000, -2);
  expect(of('wall')).toBeCloseTo(1, 5);
  expect(of('bend')).toBeCloseTo(90, 4);
  expect(of('triangles')).toBe(12);
  for (const f of FACTS) expect(f.of({}, 1)).toBe(0);
  expect(tellFact(factDef('bend')!, 90, 'mm')).toBe('90°');
  expect(tellFact(factDef('volume')!, 6, 'm')).toBe('6 m³');
});

test('a weight and a wall are found', async () => {
  const d = project();
  const weight = await solveDial(d, { piece: 'p', fact: 'weight', wanted: 8e6, density: 1, dial: 'high' }, o());
  expect([weight.found, weight.x]).toEqual([true, expect.closeTo(4, 4)]);
  const wall = await solveDial(d, { piece: 'p', fact: 'wall', wanted: 0.5, dial: 'high' }, o());
  expect([wall.found, wall.x]).toEqual([true, expect.closeTo(0.5, 5)]);
});

test('a dial that is kept by a rule follows the others; one that is there already is left alone', async () => {
  const d = project();
  setDial(d, 'high', { rule: { piece: 'p', fact: 'volume', wanted: 6 } });
  expect(await dialsByRule(checkDocument(d), o())).toEqual([]);
  setDial(d, 'long', { value: 4 });
  const [found] = await dialsByRule(d, o());
  expect([found.dial.id, found.found]).toEqual(['high', true]);
  expect(found.x).toBeCloseTo(1.5, 4);
  setDial(d, 'long', { value: 1000 });
  const [missed] = await dialsByRule(d, o());
  expect([missed.found, missed.x]).toEqual([false, expect.closeTo(0.1, 4)]);
  setDial(d, 'high', { rule: { piece: 'gone', fact: 'volume', wanted: 6 } });
  expect(await dialsByRule(d, o())).toEqual([]);
});
