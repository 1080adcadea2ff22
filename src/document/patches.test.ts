import { applyPatches, enablePatches, produceWithPatches } from 'immer';
import fc from 'fast-check';
import { ENOUGH } from '../core/testing/thorough';
import { addGroup, addPiece, addStep, newProject } from './changes';
import { allClean, cleanName, cleanText, cleanValue, isClean } from './clean';
import { History } from './history';
import { applyChange, dependsOn, PatchError } from './patches';
import { checkDocument } from './schema';
import type { Patch, ProjectDocument } from './types';

enablePatches();
const apply = (doc: unknown, ...patches: Patch[]) => applyChange(doc as ProjectDocument, patches) as unknown;
const list = (n: number) => ({ pieces: Array.from({ length: n }, (_, i) => ({ id: i })), name: 'a' });

describe('patches', () => {
  test('what they give is what a well-known library gives, for any changes', () => {
    const tree = fc.letrec((tie) => ({
      value: fc.oneof({ depthSize: 'small' }, fc.integer(), tie('list'), tie('record')),
      list: fc.array(tie('value'), { maxLength: 5 }),
      record: fc.dictionary(fc.constantFrom('a', 'b', 'c'), tie('value'), { maxKeys: 3 }),
    }));
    const edit = fc.record({ at: fc.array(fc.nat(6), { maxLength: 4 }), how: fc.nat(5), value: tree.value });
    fc.assert(
      fc.property(tree.record, fc.array(edit, { maxLength: 6 }), (start, edits) => {
        const [next, patches, inverse] = produceWithPatches(start as Record<string, unknown>, (draft) => {
          for (const { at, how, value } of edits) {
            let c: unknown = draft;
            for (const k of at) {
              const keys = Object.keys(c as object);
              const inner = keys.length ? (c as Record<string, unknown>)[keys[k % keys.length]] : undefined;
              if (typeof inner === 'object' && inner !== null) c = inner;
            }
            if (Array.isArray(c)) {
              if (how === 0) c.splice(at.length % (c.length + 1), 0, structuredClone(value));
              else if (how === 1) c.splice(0, 1);
              else if (how === 2) c.length = Math.floor(c.length / 2);
              else c.push(structuredClone(value));
            } else if (how < 2) delete (c as Record<string, unknown>).a;
            else (c as Record<string, unknown>).b = structuredClone(value);
          }
        });
        const before = JSON.stringify(start);
        const sent = JSON.parse(JSON.stringify(patches)) as Patch[];
        expect(apply(start, ...sent)).toEqual(next);
        expect(applyPatches(start as object, sent as never)).toEqual(apply(start, ...sent));
        expect(apply(next, ...(inverse as Patch[]))).toEqual(start);
        expect(JSON.stringify(start)).toBe(before); // the document that was there is untouched
      }),
      { numRuns: 400 },
    );
  });

  test.each<[string, Patch]>([
    ['a length that makes holes', { op: 'replace', path: ['pieces', 'length'], value: 4294967295 }],
    ['a length that is none', { op: 'replace', path: ['pieces', 'length'], value: 1.5 }],
    ['a place beyond the end', { op: 'add', path: ['pieces', 5], value: 1 }],
    ['nothing to replace', { op: 'replace', path: ['pieces', 3], value: 1 }],
    ['a negative place', { op: 'remove', path: ['pieces', -1] }],
    ['a name in a list', { op: 'add', path: ['pieces', 'push'], value: 1 }],
    ['a length added', { op: 'add', path: ['pieces', 'length'], value: 1 }],
    ['a way through a text', { op: 'replace', path: ['name', 0, 'x'], value: 1 }],
    ['a way through nothing', { op: 'replace', path: ['nowhere', 'x'], value: 1 }],
    ['what objects inherit', { op: 'replace', path: ['__proto__', 'x'], value: 1 }],
    ['what objects inherit, last', { op: 'add', path: ['constructor'], value: 1 }],
    ['a method as a container', { op: 'add', path: ['toString', 'x'], value: 1 }],
    ['all of it removed', { op: 'remove', path: [] }],
  ])('refused in a sentence, and nothing is changed: %s', (_, patch) => {
    const doc = list(3);
    expect(() => apply(doc, { op: 'replace', path: ['name'], value: 'b' }, patch)).toThrow(PatchError);
    expect(doc).toEqual(list(3));
    expect(({} as { x?: number }).x).toBeUndefined();
  });

  test('thousands of insertions at the front are quick; what moves without end is refused', () => {
    const doc = { pieces: [] as unknown[] };
    const many = Array.from({ length: 10000 }, (_, i): Patch => ({ op: 'add', path: ['pieces', 0], value: { id: i } }));
    const out = apply(doc, ...many) as { pieces: { id: number }[] };
    expect(out.pieces.length).toBe(10000);
    expect(out.pieces[0].id).toBe(9999);
    const large = { pieces: new Array(20000).fill(0) };
    expect(() => apply(large, ...many)).toThrow(/more than can be done/);
  });

  test('a change depends on another where lists shift or paths meet, and only there', () => {
    const add: Patch[] = [{ op: 'add', path: ['pieces', 2], value: {} }];
    const inList: Patch[] = [{ op: 'replace', path: ['pieces', 0, 'name'], value: 'x' }];
    const other: Patch[] = [{ op: 'replace', path: ['materials', 0, 'name'], value: 'x' }];
    const like: Patch[] = [{ op: 'replace', path: ['piecesOf'], value: 'x' }];
    const whole: Patch[] = [{ op: 'replace', path: [], value: {} }];
    expect(dependsOn(inList, add)).toBe(true);
    expect(dependsOn(other, add)).toBe(false);
    expect(dependsOn(like, add)).toBe(false);
    expect(dependsOn(other, inList)).toBe(false);
    expect(dependsOn([{ op: 'replace', path: ['pieces', 0], value: 1 }], inList)).toBe(true);
    expect(dependsOn([{ op: 'replace', path: ['pieces', 1, 'name'], value: 1 }], inList)).toBe(false);
    expect(dependsOn(other, whole)).toBe(true);
    expect(dependsOn([{ op: 'replace', path: ['pieces', 'length'], value: 0 }], inList)).toBe(true);
  });
});

describe('what comes in is made fit to be kept', () => {
  test('any text, cleaned, is what a database takes; clean text stays the very same', () => {
    fc.assert(
      fc.property(fc.string({ unit: 'binary', maxLength: 40 }), fc.array(fc.nat(0xffff)), (text, units) => {
        const wild = text + String.fromCharCode(...units);
        const clean = cleanText(wild);
        expect(isClean(clean)).toBe(true);
        expect(() => encodeURIComponent(clean)).not.toThrow(); // no half of a pair is left
        expect(cleanText(clean)).toBe(clean);
        const name = cleanName(wild);
        expect(isClean(name) && name.length > 0 && name.length <= 200).toBe(true);
      }),
      { numRuns: 500 },
    );
    expect(cleanName('Kelp lantern 🜂')).toBe('Kelp lantern 🜂');
    expect(cleanName(' \u0000 ')).toBe('unnamed');
    expect(() => encodeURIComponent(cleanName('x'.repeat(199) + '🜂'))).not.toThrow();
  });

  test('values, deep; the same object where nothing was wrong', () => {
    const good = { name: 'bell', list: [1, { name: 'a' }], none: null };
    expect(cleanValue(good)).toBe(good);
    const bad = { name: 'b\u0000ell', at: [NaN, 1, Infinity], in: [{ note: '\ud800' }] };
    expect(cleanValue(bad)).toEqual({ name: 'bell', at: [0, 1, 0], in: [{ note: '\ufffd' }] });
    expect(allClean(good)).toBe(true);
    expect(allClean(bad)).toBe(false);
    let deep: unknown = 'x\u0000';
    for (let i = 0; i < 200000; i++) deep = [deep];
    expect(allClean(deep)).toBe(false);
  });

  test('the history is a gate: a name that could not be saved is mended as it comes in, and undone as ever', () => {
    const sent: Patch[][] = [];
    const h = new History(newProject('Quay'), (c) => sent.push(c.patches));
    h.change('add', (d) => addGroup(d, 'g', `pier\u0000\ud800${'x'.repeat(300)}`));
    expect(h.document.pieces[0].name.length).toBeLessThanOrEqual(200);
    expect(isClean(h.document.pieces[0].name)).toBe(true);
    expect(allClean(sent)).toBe(true);
    h.undo();
    expect(h.document.pieces).toEqual([]);
    h.redo();
    expect(h.document.pieces[0].name).toMatch(/^pier�x+$/);
  });
});

describe('checking what a change touches', () => {
  const start = (): ProjectDocument => {
    const doc = newProject('Quay');
    for (let i = 0; i < 4; i++) {
      addPiece(doc, `p${i}`, `box ${i}`);
      addStep(doc, `p${i}`, 'box', `s${i}`);
    }
    return doc;
  };
  const verdict = (check: () => unknown): string => {
    try {
      check();
      return 'good';
    } catch (e) {
      return (e as Error).message;
    }
  };

  test('finds what checking the whole finds, for any change of any part', () => {
    const key = fc.constantFrom<string | number>(
      'pieces',
      'materials',
      'settings',
      'recipe',
      'values',
      'place',
      'name',
      'id',
      0,
      1,
      3,
    );
    const value = fc.oneof(
      fc.constantFrom<unknown>('', 'p1', null, -1, 1e300, [], {}, 'x'.repeat(300)),
      fc.jsonValue(),
    );
    let good = 0;
    let bad = 0;
    fc.assert(
      fc.property(
        fc.constantFrom('add', 'replace', 'remove'),
        fc.array(key, { minLength: 1, maxLength: 5 }),
        value,
        (op, path, v) => {
          const before = start();
          let after: ProjectDocument;
          try {
            after = applyChange(before, [{ op, path, value: v } as Patch]);
          } catch (e) {
            expect(e).toBeInstanceOf(PatchError);
            return;
          }
          const whole = verdict(() => checkDocument(structuredClone(after)));
          expect(verdict(() => checkDocument(after, before))).toBe(whole);
          if (whole === 'good') good++;
          else bad++;
        },
      ),
      { numRuns: 600, interruptAfterTimeLimit: ENOUGH },
    );
    expect(good).toBeGreaterThan(20);
    expect(bad).toBeGreaterThan(50);
  });
});
