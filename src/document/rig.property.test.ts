/**
 * Whatever is done to the tree, in whatever order: the document stays one that would be accepted, and undo leads all
 * the way back.
 */
import fc from 'fast-check';
import { compose, rotation, scaling, translation } from '../core/math';
import { newBlueprint } from '../core/blueprint';
import * as c from './changes';
import { History } from './history';
import { asDocument, checkContent, contentOfPieces, insertContent } from './library';
import { readProject, writeBundle } from './bundle';
import { checkDocument } from './schema';
import type { ProjectDocument } from './types';
import { upgrade } from './upgrade';
import { imageOf } from './testing/image';

type Edit = (d: ProjectDocument, pick: (n: number) => string, ids: () => string) => void;
const some = fc.nat(1000);
const edits: fc.Arbitrary<Edit> = fc.oneof(
  some.map(
    (a): Edit =>
      (d, pick, id) =>
        c.addPiece(d, id(), `part ${a % 3}`, group(d, a), [{ id: 's', kind: 'box', on: true, values: {} }]),
  ),
  some.map(
    (a): Edit =>
      (d, _, id) =>
        c.addGroup(d, id(), a % 2 ? 'arm left' : 'arm_r', group(d, a)),
  ),
  fc.tuple(some, some, some).map(
    ([a, b, e]): Edit =>
      (d, pick) =>
        c.movePieces(d, [pick(a), pick(b)], group(d, e), e % 2 ? pick(e) : null),
  ),
  fc.tuple(some, fc.boolean()).map(([a, linked]): Edit => (d, pick, id) => {
    c.copyPieces(d, [pick(a)], { linked, makeId: id });
  }),
  fc
    .tuple(
      some,
      fc.constantFrom('x' as const, 'y' as const, 'z' as const),
      fc.constantFrom('world' as const, 'parent' as const, 'pivot' as const),
    )
    .map(([a, axis, across]): Edit => (d, pick, id) => {
      c.mirrorPieces(d, [pick(a)], { axis, across, makeId: id });
    }),
  fc.tuple(some, some).map(
    ([a, b]): Edit =>
      (d, pick) =>
        c.removePieces(d, a % 5 ? [] : [pick(b)]),
  ),
  some.map(
    (a): Edit =>
      (d, pick) =>
        c.makeOwn(d, pick(a)),
  ),
  fc.tuple(some, some).map(
    ([a, b]): Edit =>
      (d, pick, id) =>
        c.groupPieces(d, [pick(a), pick(b)], id(), 'group'),
  ),
  fc.tuple(some, fc.double({ min: -2, max: 2, noNaN: true })).map(
    ([a, t]): Edit =>
      (d, pick) =>
        c.transformPieces(d, [pick(a)], compose(translation(t, 1, 0), compose(rotation('y', t), scaling(1.2, 1, 0.9)))),
  ),
  fc.tuple(some, some).map(
    ([a, b]): Edit =>
      (d, pick) =>
        c.setPivot(d, pick(a), [b / 100, 0, 1]),
  ),
  fc.tuple(some, some).map(([a, b]): Edit => (d, pick) => {
    c.alignPieces(d, [pick(a), pick(b)], 'y', 0.5);
    c.distributePieces(d, [pick(a), pick(b), pick(a + b)], 'x');
  }),
  fc.tuple(some, some).map(([a, b]): Edit => (d, pick, id) => {
    try {
      c.mergePieces(d, [pick(a), pick(b)], id(), 'm');
    } catch (e) {
      if (!/two pieces or more/.test((e as Error).message)) throw e;
    }
  }),
  some.map((a): Edit => (d, pick, id) => {
    const p = c.pieceOf(d, pick(a));
    if (p.kind === 'mesh')
      c.splitPiece(
        d,
        p.id,
        [
          { name: 'one', by: 'set', set: 'a' },
          { name: 'two', by: 'set', set: '' },
        ],
        id,
      );
  }),
  some.map(
    (a): Edit =>
      (d, pick, id) =>
        c.bakePlacement(d, pick(a), id()),
  ),
  some.map((a): Edit => (d, pick, id) => {
    const p = c.pieceOf(d, pick(a));
    if (p.kind === 'blueprint') c.cutBlueprint(d, p.id, id(), [1, 1, 9, 9]);
    else c.renamePiece(d, p.id, 'piece');
  }),
);
const group = (d: ProjectDocument, n: number): string | null => {
  const g = d.pieces.filter((p) => p.kind === 'group');
  return n % 3 === 0 || g.length === 0 ? null : g[n % g.length].id;
};

function start(): ProjectDocument {
  const d = c.newProject('Rig');
  c.addGroup(d, 'g', 'arm left');
  c.addPiece(d, 'p', 'hand_l', 'g', [{ id: 's', kind: 'box', on: true, values: {} }]);
  c.addPiece(d, 'q', 'rock', null, [{ id: 's', kind: 'sphere', on: true, values: {} }]);
  c.addImage(d, imageOf('i', 20, 10));
  c.addBlueprint(d, 'b', 'plan', newBlueprint('i', 20, 10), [0, 0, 0], 'g');
  c.addTape(d, {
    id: 't',
    kind: 'length',
    ends: [
      { piece: 'p', kind: 'vertex', key: 1, t: 0, at: [0, 0, 0] },
      { piece: null, kind: 'free', key: 0, t: 0, at: [1, 1, 1] },
    ],
  });
  return d;
}

test('any sequence of changes leaves a whole document; undone one by one it is the first, done again the last', () => {
  fc.assert(
    fc.property(fc.array(edits, { minLength: 1, maxLength: 18 }), (list) => {
      let n = 0;
      const sent: number[] = [];
      const h = new History(start(), (x) => sent.push(x.patches.length));
      const first = h.document;
      for (const e of list) {
        h.change('edit', (d) => {
          if (d.pieces.length)
            e(
              d,
              (k) => d.pieces[k % d.pieces.length].id,
              () => `n${n++}`,
            );
        });
        checkDocument(h.document);
        expect(new Set(h.document.pieces.map((p) => p.name)).size).toBe(h.document.pieces.length); // names stay different
      }
      const last = h.document;
      while (h.undo());
      expect(h.document).toEqual(first);
      while (h.redo());
      expect(h.document).toEqual(last);
    }),
    { numRuns: 150 },
  );
});

test('what is kept in the library is whole, and twice inserted it is there twice, under ids of its own', () => {
  fc.assert(
    fc.property(fc.array(edits, { maxLength: 10 }), some, (list, a) => {
      let n = 0;
      const d = start();
      for (const e of list)
        if (d.pieces.length)
          e(
            d,
            (k) => d.pieces[k % d.pieces.length].id,
            () => `n${n++}`,
          );
      if (d.pieces.length === 0) return;
      const content = checkContent(
        'item',
        JSON.parse(JSON.stringify(contentOfPieces(d, [d.pieces[a % d.pieces.length].id]))) as ReturnType<
          typeof contentOfPieces
        >,
      );
      const target = c.newProject('Target');
      insertContent(target, content, () => `t${n++}`);
      insertContent(target, content, () => `t${n++}`);
      checkDocument(target);
      expect(target.pieces).toHaveLength(2 * content.pieces.length);
      expect(target.images).toHaveLength(content.images.length); // pictures are used again
      expect(checkDocument(asDocument('x', content)).pieces).toHaveLength(content.pieces.length);
    }),
    { numRuns: 80 },
  );
});

test('a bundle reads back as the document, and writes the same bytes whatever order the keys came in', () => {
  const d = start();
  const files = new Map([['a'.repeat(64), new Uint8Array([1, 2, 3])]]);
  const bytes = writeBundle(d, files);
  const back = readProject(bytes);
  expect(back.document).toEqual(JSON.parse(JSON.stringify(d)));
  expect(back.files.get('a'.repeat(64))).toEqual(new Uint8Array([1, 2, 3]));
  const turned = JSON.parse(JSON.stringify(d), (_, v: unknown) =>
    typeof v === 'object' && v !== null && !Array.isArray(v) ? Object.fromEntries(Object.entries(v).reverse()) : v,
  ) as ProjectDocument;
  expect(writeBundle(turned, files)).toEqual(bytes);
  expect(() => writeBundle(d, new Map())).toThrow(/missing/);
  expect(() => readProject(new Uint8Array([0x50, 0x4b, 3, 4, 0]))).toThrow(/not a ZIP/);
});

test('documents of the first format come up once; what is complete is returned as it is', () => {
  const d = start();
  const { images: _i, tapes: _t, settings: _s, ...old } = d;
  const first = {
    ...old,
    format: 1,
    pieces: old.pieces.filter((p) => p.kind !== 'blueprint').map(({ place: _p, link: _l, ghost: _g, ...p }) => p),
  };
  const up = upgrade(JSON.parse(JSON.stringify(first)));
  checkDocument(up);
  expect(upgrade(up)).toBe(up);
  expect(upgrade(d)).toBe(d);
  for (const odd of [null, 7, 'x', {}, { pieces: 3 }, { format: 9, pieces: [] }]) expect(upgrade(odd)).toBe(odd);
});

describe('hostile values of the new parts', () => {
  const spoilt = (edit: (d: ProjectDocument & Record<string, unknown>) => void) => {
    const d = JSON.parse(JSON.stringify(start())) as ProjectDocument & Record<string, unknown>;
    edit(d);
    return d;
  };
  const print = (d: ProjectDocument) => d.pieces.find((p) => p.id === 'b')!.blueprint!;
  test.each<[string, (d: ProjectDocument & Record<string, unknown>) => void]>([
    [
      'a scale of nothing',
      (d) => {
        print(d).scale = 0;
      },
    ],
    [
      'an opacity of two',
      (d) => {
        print(d).opacity = 2;
      },
    ],
    [
      'a frame of three numbers',
      (d) => {
        (print(d).frame as number[]).pop();
      },
    ],
    [
      'a side that is none',
      (d) => {
        (print(d) as unknown as Record<string, unknown>).side = 'within';
      },
    ],
    [
      'a picture that is not there',
      (d) => {
        print(d).image = 'gone';
      },
    ],
    [
      'a blueprint without its part',
      (d) => {
        delete d.pieces.find((p) => p.id === 'b')!.blueprint;
      },
    ],
    [
      'a mesh with a picture',
      (d) => {
        d.pieces.find((p) => p.id === 'q')!.blueprint = print(d);
      },
    ],
    [
      'a link to a group',
      (d) => {
        d.pieces.find((p) => p.id === 'q')!.link = 'g';
      },
    ],
    [
      'a link to a link',
      (d) => {
        d.pieces.find((p) => p.id === 'q')!.link = 'p';
        d.pieces.find((p) => p.id === 'p')!.link = 'q';
      },
    ],
    [
      'a place of words',
      (d) => {
        (d.pieces[0].place as unknown as Record<string, unknown>).at = ['a', 0, 0];
      },
    ],
    [
      'a place of infinite size',
      (d) => {
        (d.pieces[0].place as unknown as Record<string, unknown>).size = [1e99, 1, 1];
      },
    ],
    [
      'a tape of four ends',
      (d) => {
        d.tapes[0].ends.push(...d.tapes[0].ends);
      },
    ],
    [
      'a stored file of no name',
      (d) => {
        d.images[0].blob = '../../etc';
      },
    ],
    [
      'thirteen bits',
      (d) => {
        d.images[0].bits = 13;
      },
    ],
    [
      'a bed of two sides',
      (d) => {
        (d.settings.bed as number[]).pop();
      },
    ],
    [
      'a grid of nothing',
      (d) => {
        d.settings.grid = 0;
      },
    ],
    [
      'unknown settings',
      (d) => {
        (d.settings as unknown as Record<string, unknown>).colour = 'red';
      },
    ],
    [
      'a merged piece of steps that are none',
      (d) => {
        d.pieces.find((p) => p.id === 'q')!.recipe = [
          {
            id: 'm',
            kind: 'merged',
            on: true,
            values: { parts: [{ id: 'x', name: 'x', recipe: [7], place: [1, 0, 0, 0, 0, 1, 0, 0, 0, 0, 1, 0] }] },
          },
        ];
      },
    ],
    [
      'a merged piece of pieces without end',
      (d) => {
        let inner: ProjectDocument['pieces'][number]['recipe'] = [];
        for (let i = 0; i < 40; i++)
          inner = [
            {
              id: 'm',
              kind: 'merged',
              on: true,
              values: { parts: [{ id: 'x', name: 'x', recipe: inner, place: [1, 0, 0, 0, 0, 1, 0, 0, 0, 0, 1, 0] }] },
            },
          ];
        d.pieces.find((p) => p.id === 'q')!.recipe = inner;
      },
    ],
  ])('%s', (_, edit) => {
    expect(() => checkDocument(spoilt(edit))).toThrow(/^[^\n]+\.$/);
  });
});
