/** Picks by sentence, picks remembered and kept, and the last move again, on the bench's state without a page. */
import { box } from '../../core/make/primitives';
import { pickOf } from '../../core/mesh/picks';
import * as changes from '../../document/changes';
import { History } from '../../document/history';
import {
  beginMove,
  cancel,
  changePick,
  keep,
  keepPickAs,
  lastMove,
  pickBefore,
  pickSet,
  repeatMove,
  setPick,
} from './actions';
import { beginChoosing, setChoosing } from './choosing';
import { command, runCommand } from './commands';
import { session } from './session';
import { bench, workedOn } from './store';

const mesh = box({ width: 1, height: 1, depth: 1, cutX: 3, cutY: 3, cutZ: 3, onGround: true }, 1);
const picked = () => bench.get().pick.keys.length;
const moves = () =>
  workedOn(bench.get())!.recipe.find((s) => s.kind === 'shape')!.values.moves as {
    pick: object;
    mirror?: string;
    tool: string;
  }[];

beforeEach(() => {
  bench.reset();
  const doc = changes.newProject('Test', 'game', 'mm');
  changes.addPiece(doc, 'p', 'body');
  changes.addStep(doc, 'p', 'box', 's', { width: 1, height: 1, depth: 1, cutX: 3, cutY: 3, cutZ: 3 });
  session.history = new History(doc, () => {});
  bench.set({ document: session.history.document, piece: 'p', picked: ['p'], step: 's', mode: 'face', mesh });
});

test('a rule in hand: its values pick at once, Esc goes back, Enter keeps, and it stays a rule where asked', () => {
  setPick('face', [mesh.faceKey[5]]);
  beginChoosing('rule-looks');
  expect(picked()).toBe(9);
  setChoosing({ angle: 3.2 });
  expect(picked()).toBe(54);
  cancel();
  expect(bench.get().pick.keys).toEqual([mesh.faceKey[5]]);
  beginChoosing('rule-looks');
  setChoosing({ way: 'front', live: true });
  keep();
  expect(bench.get().hand).toBeNull();
  beginMove('extrude', { by: 0.1 });
  keep();
  expect(moves()[0].pick).toEqual({
    kind: 'face',
    keys: [],
    rule: { id: 'looks', values: expect.objectContaining({ way: 'front' }) },
  });
});

test('what follows from a pick asks for one of its kind', () => {
  beginChoosing('loops');
  expect(bench.get().say).toBe('Pick edges first.');
  setPick('face', [mesh.faceKey[0]]);
  beginChoosing('like-face-normal');
  expect(picked()).toBe(9);
  expect(bench.get().hand).toBeNull();
  runCommand(command('invert')!);
  expect(picked()).toBe(45);
  runCommand(command('none')!);
  expect(picked()).toBe(0);
});

test('the picks before come round, and the border of faces is of edges', () => {
  for (const i of [0, 1, 2]) changePick('face', [mesh.faceKey[i]], 'set');
  pickBefore();
  expect(bench.get().pick.keys).toEqual([mesh.faceKey[1]]);
  pickBefore();
  expect(bench.get().pick.keys).toEqual([mesh.faceKey[0]]);
  pickBefore();
  expect(bench.get().pick.keys).toEqual([mesh.faceKey[2]]);
  runCommand(command('border')!);
  expect([bench.get().mode, picked()]).toEqual(['edge', 4]);
});

test('the way between the last two picked is added', () => {
  setPick('vertex', []);
  bench.set({ mode: 'vertex' });
  changePick('vertex', [mesh.vertexKey[0]], 'set');
  runCommand(command('path')!);
  expect(picked()).toBe(1);
  changePick('vertex', [mesh.vertexKey[mesh.vertexCount - 1]], 'add');
  runCommand(command('path')!);
  expect(picked()).toBeGreaterThan(3);
});

test('sets: kept with places, picked alone, added, taken away, crossed', () => {
  setPick('face', Array.from(mesh.faceKey.slice(0, 6)));
  keepPickAs(' lid ');
  const [set] = workedOn(bench.get())!.sets!;
  expect([set.name, set.pick]).toEqual(['lid', pickOf(mesh, 'face', [0, 1, 2, 3, 4, 5])]);
  setPick('face', Array.from(mesh.faceKey.slice(4, 10)));
  const meet = (how: Parameters<typeof pickSet>[1]) => {
    setPick('face', Array.from(mesh.faceKey.slice(4, 10)));
    pickSet(set.pick, how);
    return picked();
  };
  expect([meet('set'), meet('add'), meet('remove'), meet('cross')]).toEqual([6, 10, 4, 2]);
});

test('the last move again, on another pick and on both sides', () => {
  setPick('face', [mesh.faceKey[0]]);
  beginMove('inset', { inset: 0.05 });
  keep();
  setPick('face', [mesh.faceKey[1]]);
  runCommand(command('both-sides')!);
  repeatMove();
  expect(lastMove()).toMatchObject({ tool: 'inset', values: { inset: 0.05 } });
  expect(moves().map((m) => [m.tool, m.mirror])).toEqual([
    ['inset', undefined],
    ['inset', 'x'],
  ]);
});
