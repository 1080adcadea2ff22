/** Two windows on one document: each goes on from what the other has changed, and keeps its own undo as far as it can. */
import fc from 'fast-check';
import * as changes from './changes';
import { History, type Change } from './history';
import { applyChange, PatchError } from './patches';
import type { ProjectDocument } from './types';

const start = (): ProjectDocument => {
  const d = changes.newProject('Quay', 'game', 'mm');
  for (const id of ['a', 'b', 'c']) {
    changes.addPiece(d, id, `crate ${id}`);
    changes.addStep(d, id, 'box', `${id}1`, { width: 1, height: 1, depth: 1 });
  }
  return d;
};
type Edit = (d: ProjectDocument) => void;
const width =
  (piece: string, to: number): Edit =>
  (d) =>
    changes.setValues(d, piece, `${piece}1`, { width: to });
const height =
  (piece: string, to: number): Edit =>
  (d) =>
    changes.setValues(d, piece, `${piece}1`, { height: to });
const widthOf = (h: History, piece: string): unknown => changes.pieceOf(h.document, piece).recipe[0].values.width;
const heightOf = (h: History, piece: string): unknown => changes.pieceOf(h.document, piece).recipe[0].values.height;
/** What an edit of the document as it is would send. */
function sentBy(doc: ProjectDocument, edit: Edit): Change['patches'] {
  const sent: Change[] = [];
  new History(doc, (c) => sent.push(c)).change('of another', edit);
  return sent.flatMap((c) => c.patches);
}

test('what was done here can be undone and done again round what another did elsewhere', () => {
  const h = new History(start());
  h.change('wider', width('a', 2));
  h.change('taller', height('b', 3));
  h.undo();
  h.follow(sentBy(h.document, width('c', 7)));
  expect([widthOf(h, 'a'), heightOf(h, 'b'), widthOf(h, 'c')]).toEqual([2, 1, 7]);
  expect([h.canUndo, h.canRedo]).toEqual(['wider', 'taller']);
  h.undo();
  expect([widthOf(h, 'a'), widthOf(h, 'c')]).toEqual([1, 7]);
  h.redo();
  h.redo();
  expect([widthOf(h, 'a'), heightOf(h, 'b'), widthOf(h, 'c')]).toEqual([2, 3, 7]);
});

test('what the other has changed too cannot be undone from here, nor what was done before that', () => {
  const h = new History(start());
  h.change('first', height('b', 2));
  h.change('wider', width('a', 2));
  h.change('last', height('c', 2));
  h.follow(sentBy(h.document, width('a', 9)));
  expect(h.canUndo).toBe('last');
  h.undo();
  expect([h.canUndo, widthOf(h, 'a'), heightOf(h, 'b')]).toEqual([undefined, 9, 2]);
  expect(h.canRedo).toBe('last');
});

test('where the other has taken a piece away, nothing of pieces is undone to the wrong one', () => {
  const h = new History(start());
  h.change('name', (d) => changes.setProject(d, { name: 'Mole' }));
  h.change('wider', width('c', 2));
  h.follow(sentBy(h.document, (d) => void d.pieces.shift()));
  expect([h.canUndo, h.document.pieces.map((p) => p.id)]).toEqual([undefined, ['b', 'c']]);
  h.change('wider', width('c', 3));
  h.undo();
  expect([widthOf(h, 'c'), widthOf(h, 'b')]).toEqual([2, 1]);
});

test('what does not fit is refused, and nothing has changed', () => {
  const h = new History(start());
  h.change('wider', width('a', 2));
  const was = h.document;
  expect(() => h.follow([{ op: 'replace', path: ['pieces', 8, 'name'], value: 'x' }])).toThrow(PatchError);
  expect([h.document, h.canUndo]).toEqual([was, 'wider']);
});

test('two that take turns, and undo as they like, have the same document, and so has the server', () => {
  const edit = fc.oneof(
    fc.tuple(fc.constantFrom('a', 'b', 'c'), fc.integer({ min: 1, max: 9 })).map(([p, x]) => width(p, x)),
    fc.tuple(fc.constantFrom('a', 'b', 'c'), fc.integer({ min: 1, max: 9 })).map(([p, x]) => height(p, x)),
    fc.string({ minLength: 1, maxLength: 5 }).map(
      (name): Edit =>
        (d) =>
          changes.setProject(d, { name: `N ${name}` }),
    ),
    fc.integer({ min: 0, max: 1e9 }).map((n): Edit => (d) => {
      changes.addPiece(d, `p${n}`, `piece ${n}`);
    }),
  );
  const turn = fc.record({ who: fc.boolean(), act: fc.oneof(edit, fc.constantFrom('undo' as const, 'redo' as const)) });
  fc.assert(
    fc.property(fc.array(turn, { maxLength: 25 }), (turns) => {
      let server = start();
      const two: History[] = [];
      const saves = (own: number) => (c: Change) => {
        server = applyChange(server, JSON.parse(JSON.stringify(c.patches)) as Change['patches']);
        two[1 - own].follow(c.patches);
      };
      two.push(new History(start(), saves(0)), new History(start(), saves(1)));
      for (const { who, act } of turns) {
        const h = two[who ? 1 : 0];
        try {
          if (act === 'undo') h.undo();
          else if (act === 'redo') h.redo();
          else h.change('turn', act);
        } catch (e) {
          // A piece of that name is there already.
          if (e instanceof PatchError) throw e;
        }
        expect(two[0].document).toEqual(server);
        expect(two[1].document).toEqual(server);
      }
    }),
    { numRuns: 80 },
  );
});
