/** Commands, keys and what the strip shows, from their declarations alone. */
import { toolDefs } from '../../../core/tools';
import { stepDefs } from '../../../core/steps';
import { isStart } from '../../../core/recipe/define';
import { findCommands } from '../over/Search';
import { stageDefs } from '../stages';
import { bench } from '../store';
import { menuCommands } from '../view/Overlays';
import { command, commandFor, commands, runCommand, whenOf } from '.';
import { conflicts, exportKeys, importKeys, keyFor, pressName, resetKeys, setKey } from './keys';

const stored = new Map<string, string>();
beforeAll(() => {
  (globalThis as { localStorage?: unknown }).localStorage = {
    getItem: (k: string) => stored.get(k) ?? null,
    setItem: (k: string, v: string) => void stored.set(k, v),
  };
});
afterAll(() => {
  delete (globalThis as { localStorage?: unknown }).localStorage;
});
beforeEach(() => {
  bench.reset();
  resetKeys();
});

const press = (key: string, more: object = {}) =>
  commandFor({ key, ctrlKey: false, metaKey: false, altKey: false, shiftKey: false, ...more })?.id;

describe('the list', () => {
  test('ids, titles and keys are each used once', () => {
    for (const name of ['id', 'title', 'key'] as const) {
      const all = commands().flatMap((c) => (c[name] ? [c[name]] : []));
      expect([name, all.filter((x, i) => all.indexOf(x) !== i)]).toEqual([name, []]);
    }
  });
  test('every tool, every step and every stage has its command, with the key and words it declares', () => {
    for (const t of toolDefs()) expect(command(t.id)).toMatchObject({ title: t.title, words: t.words, icon: t.icon });
    for (const t of toolDefs()) expect(command(t.id)!.key).toBe(t.key);
    for (const s of stepDefs()) if (!s.hidden) expect(command(`step-${s.kind}`)!.help).toBe(s.help);
    for (const s of stageDefs()) expect(command(`stage-${s.id}`)).toBeDefined();
  });
  test('what a stage names on its strip and in its help exists', () => {
    for (const s of stageDefs())
      for (const id of [...s.tools, ...s.first]) expect([s.id, id, command(id)?.id]).toEqual([s.id, id, id]);
  });
  test('one that cannot be done says why, and does nothing', () => {
    expect(whenOf(command('extrude')!)).toBe('Pick a piece first.');
    runCommand('extrude');
    expect(bench.get().say).toBe('Pick a piece first.');
    bench.set({ piece: 'p' });
    expect(whenOf(command('extrude')!)).toBe('Pick face first.'.replace('face', 'faces'));
    expect(whenOf(command('undo')!)).toBe('Nothing has been done yet.');
    bench.set({ canUndo: 'extrude' });
    expect(whenOf(command('undo')!)).toBe(true);
    for (const c of commands()) {
      const can = whenOf(c);
      expect([c.id, can === true || /^[A-Z].*\.$/.test(can)]).toEqual([c.id, true]);
    }
  });
});

describe('menus', () => {
  const ids = (stage: string, mode: 'piece' | 'vertex' | 'edge' | 'face') => menuCommands(stage, mode).map((c) => c.id);
  test('only what fits the pick', () => {
    expect(ids('shape', 'face')).toEqual(expect.arrayContaining(['extrude', 'inset', 'detach', 'delete', 'grow']));
    expect(ids('shape', 'face')).not.toContain('loop');
    expect(ids('shape', 'edge')).toEqual(expect.arrayContaining(['loop', 'fill', 'delete']));
    expect(ids('shape', 'edge')).not.toContain('extrude');
    expect(ids('shape', 'piece')).toEqual(
      expect.arrayContaining(['copy', 'linked', 'merge', 'split', 'hide', 'delete']),
    );
    expect(ids('shape', 'piece')).not.toContain('weld');
    expect(ids('unwrap', 'edge')).toEqual(expect.arrayContaining(['cut', 'hold', 'letbe', 'unfold']));
    expect(ids('unwrap', 'edge')).not.toContain('extrude');
    expect(ids('gather', 'piece')).not.toContain('cut');
  });
});

describe('finding', () => {
  const first = (text: string) =>
    findCommands(text)
      .map((c) => c.id)
      .slice(0, 3);
  test.each([
    ['extrude', 'extrude'],
    ['extrud', 'extrude'],
    ['exturde', 'extrude'],
    ['duplicate', 'copy'],
    ['rotate', 'turn'],
    ['scale', 'size'],
    ['isolate', 'only'],
    ['ruler', 'tape'],
    ['hotkeys', 'keys'],
    ['merge into', 'merge'],
  ])('“%s” finds %s', (text, id) => {
    expect(first(text)).toContain(id);
  });
  test('nothing typed is everything; nonsense is nothing', () => {
    expect(findCommands('  ')).toHaveLength(commands().length);
    expect(findCommands('qqqqzzzz')).toEqual([]);
  });
});

describe('keys', () => {
  test('how a press is written', () => {
    const e = { ctrlKey: false, metaKey: false, altKey: false, shiftKey: false };
    expect(pressName({ ...e, key: 'x' })).toBe('X');
    expect(pressName({ ...e, key: 'X', shiftKey: true })).toBe('Shift X');
    expect(pressName({ ...e, key: '?', shiftKey: true })).toBe('?');
    expect(pressName({ ...e, key: 'z', metaKey: true })).toBe('Ctrl Z');
    expect(pressName({ ...e, key: 'ArrowLeft', altKey: true })).toBe('Alt ArrowLeft');
    expect(pressName({ ...e, key: ' ' })).toBe('Space');
  });
  test('a key given to one is taken from another, told beforehand, and comes back', () => {
    expect(conflicts('theme', 'X').map((c) => c.id)).toEqual(['extrude']);
    setKey('theme', 'X');
    expect(press('x')).toBe('theme');
    expect(keyFor(command('extrude')!)).toBe('');
    setKey('extrude', undefined);
    expect(press('x')).toBe('extrude');
    expect(keyFor(command('theme')!)).toBe('');
  });
  test('exported and imported, they are the same; what is no file of keys is refused in a sentence', () => {
    setKey('extrude', 'Ctrl E');
    const file = exportKeys();
    resetKeys();
    expect(press('x')).toBe('extrude');
    importKeys(file);
    expect(press('e', { ctrlKey: true })).toBe('extrude');
    for (const bad of ['', '{', '{}', '[]', '{"glyptaKeys":2,"keys":{}}', 'null'])
      expect(() => importKeys(bad)).toThrow('not a file of keys');
    importKeys('{"glyptaKeys":1,"keys":{"extrude":7,"inset":"Q"}}'); // rubbish among them is left out
    expect(press('x')).toBe('extrude');
    expect(press('q')).toBe('inset');
  });
  test('they are kept by the browser', () => {
    setKey('extrude', 'E');
    expect(JSON.parse(stored.get('glypta-keys')!)).toEqual({ extrude: 'E' });
  });
});

test('starting steps need no piece, the others say so', () => {
  for (const s of stepDefs()) {
    if (s.hidden) continue;
    expect(whenOf(command(`step-${s.kind}`)!) === true).toBe(isStart(s));
  }
});
