import fc from 'fast-check';
import { produce } from 'immer';
import { applyDifferences, differences } from './diff';

const value = fc.letrec((tie) => ({
  any: fc.oneof({ maxDepth: 4 }, fc.integer(), fc.string({ maxLength: 3 }), fc.boolean(), tie('list'), tie('record')),
  list: fc.array(fc.oneof(tie('record'), fc.integer()), { maxLength: 5 }),
  record: fc.dictionary(fc.constantFrom('a', 'b', 'c', 'id'), tie('any'), { maxKeys: 4 }),
})).any;

test('what one version and the differences give is the other version, whatever they hold', () => {
  fc.assert(
    fc.property(value, value, (a, b) => {
      const sent = structuredClone(differences(a, b)); // as it crosses to the worker
      expect(applyDifferences(a, sent)).toEqual(b);
    }),
    { numRuns: 2000 },
  );
});

test('a change deep down sends that change alone, and the copy shares all the rest', () => {
  const long = Array.from({ length: 50000 }, (_, i) => i);
  const doc = { pieces: Array.from({ length: 200 }, (_, i) => ({ id: `${i}`, pick: { keys: long }, at: 0 })) };
  const next = produce(doc, (d) => {
    d.pieces[7].at = 5;
  });
  const sent = differences(doc, next);
  expect(sent).toEqual([{ path: ['pieces', 7, 'at'], value: 5 }]);
  const copy = applyDifferences(structuredClone(doc), []);
  const after = applyDifferences(copy, sent);
  expect(after.pieces[7].at).toBe(5);
  expect(after.pieces[7].pick).toBe(copy.pieces[7].pick);
  expect(after.pieces[8]).toBe(copy.pieces[8]);
});

test('a piece put in among thousands is sent alone; what is new is frozen', () => {
  const doc = { pieces: Array.from({ length: 3000 }, (_, i) => ({ id: `${i}` })) };
  const next = produce(doc, (d) => {
    d.pieces.splice(1000, 0, { id: 'new' });
  });
  const sent = differences(doc, next);
  expect(sent).toEqual([{ path: ['pieces'], at: 1000, removed: 0, items: [{ id: 'new' }] }]);
  const after = applyDifferences(doc, sent);
  expect(after).toEqual(next);
  expect(Object.isFrozen(after.pieces[1000])).toBe(true);
});
