/** What is done with whole pieces: picks, copies, pivots, sizes, order in space; each one change that can be undone. */
import { applyPoint, placeMatrix, type Triple } from '../../core/math/affine';
import * as changes from '../../document/changes';
import { History, type Change } from '../../document/history';
import { checkDocument } from '../../document/schema';
import type { Piece } from '../../document/types';
import type { PieceShown } from '../../workers/protocol';
import {
  align,
  bakePlaces,
  branchFrom,
  copyPieces,
  deletePieces,
  detachPicked,
  distribute,
  drawOver,
  foldSteps,
  groupPicked,
  isolate,
  makeOwn,
  mergePicked,
  mirrorCopy,
  movePivot,
  ownBox,
  pickedPieces,
  pickPieces,
  placeAsKit,
  putCage,
  setOwnSize,
  setPicked,
  splitPicked,
  stepPieces,
  toggleGhost,
  worldBox,
} from './pieceActions';
import { session } from './session';
import { bench } from './store';

let sent: Change[] = [];
const doc = () => bench.get().document!;
const called = (name: string): Piece => doc().pieces.find((p) => p.name === name)!;
const names = () => doc().pieces.map((p) => p.name);
const at = (name: string): Triple => {
  const m = changes.worlds(doc()).get(called(name).id)!;
  return [m[3], m[7], m[11]];
};

/** Where its pivot is in the world. */
const pivot = (name: string): Triple =>
  applyPoint(changes.worlds(doc()).get(called(name).id)!, called(name).place.pivot);

/** What a worker would have shown of each: a box of so many metres on the ground, its pivot under it. */
const BOX = { min: [-0.5, 0, -1] as Triple, max: [0.5, 1, 1] as Triple };
const shows = (...ids: string[]): void =>
  bench.set({ shown: new Map(ids.map((piece) => [piece, { piece, hash: piece, bounds: BOX } as PieceShown])) });

beforeEach(() => {
  bench.reset();
  sent = [];
  const d = changes.newProject('Quay', 'game', 'm');
  for (const [id, x] of [
    ['a', 0],
    ['b', 3],
    ['c', 10],
  ] as const) {
    changes.addPiece(d, id, `crate ${id}`);
    changes.addStep(d, id, 'box', `${id}1`, { width: 1, height: 1, depth: 2 });
    changes.setPlace(d, id, { at: [x, 0, 0] });
  }
  session.history = new History(d, (c) => sent.push(c));
  bench.set({ document: session.history.document, piece: 'a', picked: ['a'], ready: true });
  shows('a', 'b', 'c');
});
// Whatever was done, the server would take it.
afterEach(() => {
  checkDocument(JSON.parse(JSON.stringify(doc())));
});

/** Does something, sees that it is one change, and that undoing gives the very document that was there. */
function onceAndBack(what: () => void, check: () => void): void {
  const before = doc();
  what();
  expect(sent).toHaveLength(1);
  check();
  session.undo();
  expect(doc()).toEqual(before);
  session.redo();
  check();
}

describe('which pieces are picked', () => {
  test('set, added, taken off, turned over; the last is worked on', () => {
    pickPieces(['a', 'b']);
    expect([pickedPieces(), bench.get().piece]).toEqual([['a', 'b'], 'b']);
    pickPieces(['c'], 'add');
    expect([pickedPieces(), bench.get().piece]).toEqual([['a', 'b', 'c'], 'c']);
    pickPieces(['c', 'a'], 'remove');
    expect([pickedPieces(), bench.get().piece]).toEqual([['b'], 'b']);
    pickPieces(['b', 'c'], 'toggle');
    expect([pickedPieces(), bench.get().piece]).toEqual([['c'], 'c']);
    pickPieces([]);
    expect([pickedPieces(), bench.get().piece]).toEqual([[], null]);
  });

  test('another piece is worked on from its end, and nothing of it is picked', () => {
    bench.set({ step: 'a1', pick: { kind: 'face', keys: [1, 2] } });
    pickPieces(['b']);
    expect(bench.get()).toMatchObject({ step: null, pick: { kind: 'face', keys: [] } });
  });

  test('one goes round all that are seen, either way', () => {
    stepPieces(1);
    expect(bench.get().piece).toBe('b');
    stepPieces(-1);
    stepPieces(-1);
    expect(bench.get().piece).toBe('c');
    setPicked('hide', { visible: false });
    pickPieces(['b']);
    stepPieces(1);
    expect(bench.get().piece).toBe('a');
  });

  test('seen alone with all that it holds, and again all; the project does not change', () => {
    pickPieces(['a', 'b']);
    groupPicked();
    sent = [];
    isolate();
    expect([...bench.get().only!].sort()).toEqual(['a', 'b', called('group').id].sort());
    isolate();
    expect(bench.get().only).toBeNull();
    expect(sent).toEqual([]);
  });
});

describe('pieces come and go', () => {
  test('deleted', () => {
    pickPieces(['a', 'c']);
    onceAndBack(deletePieces, () => expect(names()).toEqual(['crate b']));
  });

  test('copied with a recipe of its own, or as a linked copy that may become its own', () => {
    copyPieces(false);
    const own = doc().pieces.find((p) => p.id === pickedPieces()[0])!;
    expect([own.link, own.recipe.map((s) => s.kind)]).toEqual([null, ['box']]);
    pickPieces(['a']);
    copyPieces(true);
    const linked = pickedPieces()[0];
    expect(doc().pieces.find((p) => p.id === linked)).toMatchObject({ link: 'a', recipe: [] });
    makeOwn();
    expect(doc().pieces.find((p) => p.id === linked)).toMatchObject({ link: null, recipe: [{ kind: 'box' }] });
  });

  test('mirrored across the world, where they stand', () => {
    pickPieces(['b']);
    onceAndBack(
      () => mirrorCopy({ axis: 'x', across: 'world', linked: true, frontRear: false }),
      () => {
        const made = doc().pieces.find((p) => p.link === 'b')!;
        const m = placeMatrix(made.place);
        expect(m[3]).toBeCloseTo(-3, 12);
        // It is mirrored: its axes are a left hand.
        const [x, , , , , y, , , , , z] = m;
        expect(x * y * z).toBeLessThan(0);
      },
    );
  });

  test('grouped, merged into one', () => {
    pickPieces(['a', 'b']);
    onceAndBack(groupPicked, () => {
      expect(called('crate a').parent).toBe(called('group').id);
      expect(called('crate c').parent).toBeNull();
    });
    sent = [];
    pickPieces(['a', 'c']);
    onceAndBack(mergePicked, () => {
      expect(names()).toContain('crate b');
      expect(doc().pieces.filter((p) => p.kind === 'mesh')).toHaveLength(2);
    });
  });

  test('picked faces become a piece of their own, after the step that is worked on', () => {
    bench.set({ step: 'a1', pick: { kind: 'face', keys: [7, 9] } });
    onceAndBack(
      () => detachPicked(false),
      () => {
        expect(called('crate a').recipe.map((s) => s.kind)).toEqual(['box', 'shape']);
        expect(doc().pieces).toHaveLength(4);
      },
    );
  });

  test('one to draw over it, one that takes it as a kit, a branch: each stands where it does', () => {
    pickPieces(['b']);
    drawOver();
    expect(called('crate b drawn over').recipe.map((s) => s.kind)).toEqual(['shape', 'lay']);
    expect(at('crate b drawn over')).toEqual([3, 0, 0]);
    const { off } = called('crate b drawn over').recipe[1].values;
    expect(off).toBeCloseTo(0.004 * 2, 12);
    pickPieces(['b']);
    placeAsKit();
    expect(doc().pieces.at(-1)!.recipe[0].values).toMatchObject({ kit: 'b' });
    branchFrom('b', 'b1');
    expect(called('crate b branch').recipe[0]).toMatchObject({ kind: 'branch', values: { other: 'b', step: 'b1' } });
    expect(at('crate b branch')).toEqual([3, 0, 0]);
  });

  test('a cage goes all round it, and the piece follows that', () => {
    pickPieces(['b']);
    onceAndBack(putCage, () => {
      const [start, put] = called('Cage of crate b').recipe;
      expect(start.values).toMatchObject({ width: 1.1, height: 1.1, depth: 2.1 });
      expect(put.values).toMatchObject({ x: 0, y: 0.5, z: 0 });
      expect(called('Cage of crate b').ghost).toBe(true);
      const moves = called('crate b').recipe[1].values.moves as { tool: string; values: { other: string } }[];
      expect(moves).toMatchObject([{ tool: 'by-cage', values: { other: called('Cage of crate b').id } }]);
    });
  });

  test('steps fold under a name, and apart again', () => {
    foldSteps('a', ['a1'], 'start');
    expect(called('crate a').recipe[0].fold).toBe('start');
    foldSteps('a', ['a1'], undefined);
    expect(called('crate a').recipe[0].fold).toBeUndefined();
  });
});

describe('where they stand', () => {
  test('the box of some is that of all in them, wherever they stand', () => {
    expect(worldBox(['a', 'b'])).toEqual({ min: [-0.5, 0, -1], max: [3.5, 1, 1] });
    pickPieces(['b', 'c']);
    groupPicked();
    const group = called('group').id;
    expect(worldBox([group])).toEqual({ min: [2.5, 0, -1], max: [10.5, 1, 1] });
    const own = ownBox(group)!;
    expect(own.max[0] - own.min[0]).toBeCloseTo(8, 12);
    expect(worldBox([])).toBeNull();
    expect(ownBox('nobody')).toBeNull();
  });

  test.each([
    ['centre', [3, 0.5, 0]],
    ['bottom', [3, 0, 0]],
    ['world', [0, 0, 0]],
  ] as const)('a pivot goes to the %s, and what stands there stays', (to, where) => {
    pickPieces(['b']);
    onceAndBack(
      () => movePivot(to),
      () => {
        expect(at('crate b')).toEqual([3, 0, 0]);
        pivot('crate b').forEach((v, k) => expect(v).toBeCloseTo(where[k], 12));
      },
    );
  });

  test('lined up and spread by their pivots', () => {
    pickPieces(['a', 'b', 'c']);
    onceAndBack(
      () => distribute('x'),
      () => expect([at('crate a')[0], at('crate b')[0], at('crate c')[0]]).toEqual([0, 5, 10]),
    );
    sent = [];
    onceAndBack(
      () => align('x', 2, false),
      () => expect([at('crate a')[0], at('crate b')[0], at('crate c')[0]]).toEqual([2, 2, 2]),
    );
    align('y', 4, true);
    expect(at('crate a')).toEqual([2, 0, 0]);
    expect(pivot('crate a')).toEqual([2, 4, 0]);
  });

  test('sized to a length along its own axis, mirrored or not; a drag of it is one change', () => {
    setOwnSize('a', 2, 5, false);
    expect(called('crate a').place.size[2]).toBeCloseTo(2.5, 12);
    session.change('mirror', (d) => changes.setPlace(d, 'b', { size: [-1, 1, 1] }));
    setOwnSize('b', 0, 3, false);
    expect(called('crate b').place.size[0]).toBeCloseTo(-3, 12);
    sent = [];
    for (const metres of [1, 2, 4]) setOwnSize('c', 1, metres, true);
    session.settle();
    expect(sent).toHaveLength(1);
    expect(called('crate c').place.size[1]).toBeCloseTo(4, 12);
  });

  test('its place becomes a step of its recipe', () => {
    pickPieces(['b']);
    onceAndBack(bakePlaces, () => {
      expect(called('crate b').recipe).toHaveLength(2);
      expect(at('crate b')).toEqual([0, 0, 0]);
    });
  });

  test('drawn over the others, and no more', () => {
    toggleGhost();
    expect(called('crate a').ghost).toBe(true);
    toggleGhost();
    expect(called('crate a').ghost).toBe(false);
  });
});

test('where nothing is picked each says what to do, and nothing changes', async () => {
  pickPieces([]);
  const before = doc();
  const asks: (() => unknown)[] = [
    () => copyPieces(true),
    makeOwn,
    () => mirrorCopy({ axis: 'x', across: 'world', linked: false, frontRear: false }),
    drawOver,
    putCage,
    () => splitPicked('part'),
    () => detachPicked(true),
    isolate,
    bakePlaces,
    () => movePivot('pick'),
    () => distribute('x'),
    placeAsKit,
  ];
  for (const ask of asks) {
    bench.set({ say: '' });
    await ask();
    expect(bench.get().say).toMatch(/^(Pick|None) .*\.$/);
  }
  deletePieces();
  toggleGhost();
  expect(doc()).toBe(before);
  expect(sent).toEqual([]);
});
