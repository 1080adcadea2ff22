import * as changes from '../../../document/changes';
import { shareSheet } from '../../../document/sharing';
import type { ProjectDocument } from '../../../document/types';
import { flowWords, mapOf, neighbour, tookWords } from './graph';

function project(): ProjectDocument {
  const d = changes.newProject('Harbour', 'render', 'm');
  for (const [id, steps] of [
    ['base', ['box', 'subdivide']],
    ['storey', ['cylinder', 'shape', 'color']],
    ['tower', ['stack', 'flat', 'weld']],
  ] as const) {
    changes.addPiece(d, id, id);
    steps.forEach((kind, i) => changes.addStep(d, id, kind, `${id}${i}`));
  }
  Object.assign(d.pieces[2].recipe[0].values, { foot: 'base', middle: 'storey' });
  return d;
}

test('slips for all steps that a piece hangs on, threads for what goes along, each below what it takes', () => {
  const map = mapOf(project(), 'tower');
  expect(map.pieces.map((p) => p.id)).toEqual(['tower', 'base', 'storey']);
  expect(map.slips).toHaveLength(8);
  const threads = map.threads.map((t) => `${t.from} ${t.to} ${t.within}`).sort();
  expect(threads).toEqual(
    [
      'base/base0 base/base1 true',
      'base/base1 tower/tower0 false',
      'storey/storey0 storey/storey1 true',
      'storey/storey1 storey/storey2 true',
      'storey/storey2 tower/tower0 false',
      'tower/tower0 tower/tower1 true',
      'tower/tower1 tower/tower2 true',
    ].sort(),
  );
  const at = new Map(map.slips.map((s) => [s.id, s]));
  for (const t of map.threads) expect(at.get(t.to)!.y).toBeGreaterThan(at.get(t.from)!.y + at.get(t.from)!.high - 1);
  const { slips } = map;
  for (const a of slips)
    for (const b of slips)
      if (a !== b)
        expect(a.x + a.wide <= b.x || b.x + b.wide <= a.x || a.y + a.high <= b.y || b.y + b.high <= a.y).toBe(true);
});

test('what is shown up to a step goes on from there; a branch goes from its step', () => {
  const d = project();
  d.pieces[1].upTo = 'storey1';
  changes.addPiece(d, 'side', 'side');
  changes.addStep(d, 'side', 'branch', 's0', { other: 'base', step: 'base0' });
  changes.addStep(d, 'tower', 'join', 'j', { other: 'side' });
  const threads = mapOf(d, 'tower').threads.map((t) => `${t.from} ${t.to}`);
  expect(threads).toContain('storey/storey1 tower/tower0');
  expect(threads).toContain('base/base0 side/s0');
  expect(threads).toContain('side/s0 tower/j');
});

test('pieces that share a sheet are joined by their layouts, and by nothing that goes round', () => {
  const d = project();
  shareSheet(d, ['base', 'storey']);
  const map = mapOf(d, 'base');
  const kind = (id: string) => map.slips.find((s) => s.id === id)!.steps[0].kind;
  const across = map.threads.filter((t) => !t.within);
  expect(across.map((t) => [kind(t.from), kind(t.to)])).toEqual([
    ['unwrap', 'share'],
    ['unwrap', 'share'],
  ]);
  for (const t of across) expect(t.from.split('/')[0]).not.toBe(t.to.split('/')[0]);
  const at = new Map(map.slips.map((s) => [s.id, s]));
  for (const t of map.threads) expect(at.get(t.to)!.y).toBeGreaterThan(at.get(t.from)!.y);
});

test('steps next to each other of one fold are one slip, and each their own once it is opened', () => {
  const d = project();
  for (const i of [0, 1]) d.pieces[1].recipe[i].fold = 'walls';
  const folded = mapOf(d, 'tower');
  expect(folded.slips.filter((s) => s.piece === 'storey').map((s) => [s.fold, s.steps.length])).toEqual([
    ['walls', 2],
    [undefined, 1],
  ]);
  expect(folded.threads.map((t) => `${t.from} ${t.to}`)).toContain('storey/storey0 storey/storey2');
  expect(mapOf(d, 'tower', new Set(['storey/walls'])).slips).toHaveLength(8);
});

test('by the arrow keys from slip to slip', () => {
  const map = mapOf(project(), 'tower');
  expect(neighbour(map, 'tower/tower1', 'down')).toBe('tower/tower2');
  expect(neighbour(map, 'tower/tower1', 'up')).toBe('tower/tower0');
  expect(neighbour(map, 'tower/tower2', 'down')).toBeUndefined();
  expect(['base/base1', 'storey/storey2']).toContain(neighbour(map, 'tower/tower0', 'up'));
  expect(neighbour(map, 'nothing', 'up')).toBe(map.slips[0].id);
});

test('500 slips in a row stand one below the other, none over the next', () => {
  const d = changes.newProject('Long', 'render', 'm');
  changes.addPiece(d, 'p', 'p');
  changes.addStep(d, 'p', 'box', 'b');
  for (let i = 0; i < 499; i++) changes.addStep(d, 'p', 'weld', `w${i}`);
  const { slips } = mapOf(d, 'p');
  expect(slips).toHaveLength(500);
  slips.slice(1).forEach((s, i) => expect([s.x, s.y]).toEqual([slips[i].x, slips[i].y + slips[i].high + 40]));
});

test('what flows, in words', () => {
  const none = { faces: 0, points: 0, curves: 0, copies: 0 };
  expect(flowWords({ ...none, faces: 1 })).toBe('1 face');
  expect(flowWords({ ...none, faces: 18668, copies: 62 })).toBe('62 copies');
  expect(flowWords({ ...none, points: 300, curves: 2 })).toBe('300 points, 2 curves');
  expect(flowWords(undefined)).toBe('');
  expect([tookWords(0.4), tookWords(36.7), tookWords(1540)]).toEqual(['0 ms', '37 ms', '1.5 s']);
});
