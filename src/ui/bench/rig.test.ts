/** Placing pieces by values, tools worked by points, measures, the tree's rows. */
import { newBlueprint, toPlane } from '../../core/blueprint/blueprint';
import { applyPoint, IDENTITY, rotation } from '../../core/math/affine';
import * as changes from '../../document/changes';
import { History, type Change } from '../../document/history';
import { checkDocument } from '../../document/schema';
import type { Tape } from '../../document/types';
import { cancel, keep } from './actions';
import { commands } from './commands';
import { lineOf, measureLines, tapeEnds } from './measure';
import {
  bakePlaces,
  copyPieces,
  groupPicked,
  isolate,
  makeOwn,
  mirrorCopy,
  movePivot,
  ownBox,
  pickPieces,
  setOwnSize,
  stepPieces,
  toggleGhost,
  worldBox,
} from './pieceActions';
import { between, heldBy, rowsOf } from './pieces/rows';
import { beginPlacing, frameOf, inOwnSpace, keepPlacing, onSurface, setPlacing } from './placing';
import { addPoint, answer, begin, checkViews, finish, offeredRound, soFar } from './pointing';
import { session } from './session';
import { bench, seenPieces, type Pointed } from './store';
import { imageOf } from '../../document/testing/image';

let sent: Change[] = [];
const doc = () => bench.get().document!;
const piece = (id: string) => doc().pieces.find((p) => p.id === id)!;
const near = (a: ArrayLike<number>, b: ArrayLike<number>) => {
  for (let i = 0; i < b.length; i++) expect(a[i]).toBeCloseTo(b[i], 7);
};

beforeEach(() => {
  bench.reset();
  sent = [];
  const d = changes.newProject('Test', 'game', 'mm');
  changes.addGroup(d, 'g', 'arm');
  changes.addPiece(d, 'p', 'hand_l', 'g');
  changes.addStep(d, 'p', 'box', 's', { width: 1, height: 1, depth: 1 });
  changes.addPiece(d, 'q', 'rock');
  changes.addStep(d, 'q', 'box', 's2');
  changes.setPlace(d, 'g', { at: [1, 0, 0], turn: [0, Math.PI / 2, 0] });
  changes.addImage(d, imageOf('i', 200, 100));
  for (const [id, side] of [
    ['front', 'front'],
    ['top', 'top'],
  ] as const) {
    changes.addBlueprint(d, id, id, { ...newBlueprint('i', 200, 100), scale: 0.01, side });
  }
  session.history = new History(d, (c) => sent.push(c));
  const bounds = { min: [-0.5, 0, -0.5] as [number, number, number], max: [0.5, 1, 0.5] as [number, number, number] };
  bench.set({
    document: session.history.document,
    piece: 'q',
    picked: ['q'],
    ready: true,
    mode: 'piece',
    shown: new Map(['p', 'q'].map((id) => [id, { piece: id, hash: '', reports: [], bounds }])),
  });
});
afterEach(() => {
  checkDocument(doc());
});

describe('placing', () => {
  test('a drag is one change however many steps it took; kept, further values go on from it', () => {
    beginPlacing('move', IDENTITY, [1, 0, 0], [0, 0, 0]);
    for (let i = 1; i <= 5; i++) setPlacing({ x: i / 10 });
    expect(sent).toHaveLength(0);
    keep();
    expect(sent).toHaveLength(1);
    near(piece('q').place.at, [0.5, 0, 0]);
    setPlacing({ x: 0.2 });
    keepPlacing();
    near(piece('q').place.at, [0.2, 0, 0]);
    session.undo();
    session.undo();
    near(piece('q').place.at, [0, 0, 0]);
  });
  test('Esc takes it back', () => {
    beginPlacing('move', IDENTITY, [1, 0, 0], [0, 0, 0]);
    setPlacing({ y: 3 });
    cancel();
    near(piece('q').place.at, [0, 0, 0]);
    expect(bench.get().hand).toBeNull();
  });
  test('along other axes, about other points, each about its own pivot', () => {
    beginPlacing('move', rotation('y', Math.PI / 2), [0, 1, 0], [0, 0, 0]);
    setPlacing({ x: 1 });
    near(piece('q').place.at, [0, 0, -1]);
    keep();
    pickPieces(['p', 'q']);
    beginPlacing('turn', IDENTITY, [0, 0, 1], 'each');
    setPlacing({ angle: Math.PI / 2 });
    near(piece('q').place.at, [0, 0, -1]); // it turned where it stood
    expect(piece('q').place.turn[2]).toBeCloseTo(Math.PI / 2, 9);
    keep();
    beginPlacing('size', IDENTITY, [0, 0, 1], [0, 0, 0]);
    setPlacing({ x: 2, y: 2, z: 2 });
    near(piece('q').place.at, [0, 0, -2]);
  });
  test('locked pieces stay; with none to move it says so', () => {
    session.change('lock', (d) => changes.setPiece(d, 'q', { locked: true }));
    expect(beginPlacing('move', IDENTITY, [1, 0, 0], [0, 0, 0])).toBe(false);
    expect(bench.get().say).toMatch(/not locked/);
  });
  test('the pivot alone: moved and turned, the piece stays, and its own axes follow', () => {
    bench.set({ pivoting: true, axes: 'own' });
    beginPlacing('move', IDENTITY, [1, 0, 0], [0, 0, 0]);
    setPlacing({ x: 0.3 });
    keep();
    near(piece('q').place.pivot, [0.3, 0, 0]);
    near(changes.worlds(doc()).get('q')!, IDENTITY);
    beginPlacing('turn', IDENTITY, [0, 0, 1], [0, 0, 0]);
    setPlacing({ angle: 0.5 });
    keep();
    near(changes.worlds(doc()).get('q')!, IDENTITY);
    near(frameOf(null), rotation('z', 0.5));
    setPlacing({ angle: 0.2 });
    keepPlacing();
    near(frameOf(null), rotation('z', 0.2));
  });
  test('axes: of the group, its own, the view, the surface', () => {
    bench.set({ piece: 'p', axes: 'parent' });
    near(frameOf(null), rotation('y', Math.PI / 2));
    bench.set({ axes: 'own' });
    near(frameOf(null), rotation('y', Math.PI / 2));
    bench.set({ axes: 'view' });
    near(frameOf({ right: [0, 0, 1], up: [0, 1, 0], back: [-1, 0, 0] }), [0, 0, -1, 0, 0, 1, 0, 0, 1, 0, 0, 0]);
    bench.set({ axes: 'surface', surface: [1, 0, 0] });
    near(applyPoint(frameOf(null), [0, 0, 1]), [1, 0, 0]);
    near(applyPoint(onSurface([0, 2, 0]), [0, 0, 1]), [0, 1, 0]);
    expect(inOwnSpace(rotation('y', Math.PI / 2), IDENTITY).vector([1, 0, 0])).toEqual({
      x: expect.closeTo(0, 9),
      y: 0,
      z: expect.closeTo(1, 9),
    });
  });
});

describe('whole pieces', () => {
  test('sizes are real: typed, they set the factor; boxes are of the world and of the piece', () => {
    setOwnSize('q', 1, 0.25, false);
    expect(piece('q').place.size).toEqual([1, 0.25, 1]);
    expect(worldBox(['q'])).toEqual({ min: [-0.5, 0, -0.5], max: [0.5, 0.25, 0.5] });
    near(ownBox('g')!.max, [0.5, 1, 0.5]);
    setOwnSize('g', 0, 3, false);
    expect(piece('g').place.size[0]).toBeCloseTo(3, 9);
    setOwnSize('front', 0, 3, false);
    expect(bench.get().say).toMatch(/no extent/);
  });
  test('pivots go to the centre, the bottom, the world', () => {
    movePivot('centre');
    near(piece('q').place.pivot, [0, 0.5, 0]);
    movePivot('bottom');
    near(piece('q').place.pivot, [0, 0, 0]);
    pickPieces(['p']);
    movePivot('world');
    near(changes.pivotOf(doc(), piece('p')), [0, 0, 0]);
    movePivot('pick');
    expect(bench.get().say).toMatch(/Pick vertices/);
  });
  test('copied, linked, made their own, mirrored, grouped, baked, ghosted, isolated: each by one command', () => {
    copyPieces(true);
    const link = bench.get().picked[0];
    expect(piece(link).link).toBe('q');
    makeOwn();
    expect(piece(link).link).toBeNull();
    makeOwn();
    expect(bench.get().say).toMatch(/None of what is picked is a linked copy/);
    pickPieces(['g']);
    mirrorCopy({ axis: 'x', across: 'world', linked: false, frontRear: false });
    expect(doc().pieces.map((p) => p.name)).toContain('hand_r');
    pickPieces(['q', link]);
    groupPicked();
    expect(piece(link).parent).toBe(bench.get().piece);
    pickPieces(['q']);
    toggleGhost();
    expect(piece('q').ghost).toBe(true);
    isolate();
    expect([...seenPieces(bench.get())]).toEqual(['q']);
    isolate();
    expect(bench.get().only).toBeNull();
    pickPieces(['g']);
    isolate();
    expect([...seenPieces(bench.get())].sort()).toEqual(['g', 'p']);
    isolate();
    pickPieces(['front']);
    bakePlaces();
    expect(bench.get().say).toMatch(/recipes of their own/);
    pickPieces(['q']);
    stepPieces(1);
    expect(bench.get().piece).not.toBe('q');
    const count = sent.length;
    session.undo();
    expect(sent).toHaveLength(count + 1);
  });
  test('picked by adding, taking away, one by one', () => {
    pickPieces(['p'], 'add');
    expect(bench.get()).toMatchObject({ picked: ['q', 'p'], piece: 'p' });
    pickPieces(['q'], 'toggle');
    expect(bench.get().picked).toEqual(['p']);
    pickPieces(['p'], 'remove');
    expect(bench.get()).toMatchObject({ picked: [], piece: null });
  });
});

describe('tools worked by points', () => {
  const on = (x: number, y: number): Pointed => {
    const b = piece('front').blueprint!;
    return { at: [0, 0, 0], piece: 'front', kind: 'free', pixel: [x, y], uv: toPlane(b, [x, y]) };
  };
  beforeEach(() => pickPieces(['front']));
  test('level, scale with a typed length, origin', () => {
    begin('level');
    addPoint(on(0, 50));
    addPoint(on(200, 51));
    expect(piece('front').blueprint!.level).toBeCloseTo(Math.atan2(1, 200), 9);
    begin('scale');
    addPoint(on(0, 50));
    addPoint(on(100, 50));
    expect(answer('nonsense')).toMatch(/./);
    expect(answer('0 mm')).toMatch(/more than zero/);
    expect(answer('2 m')).toBeNull();
    expect(piece('front').blueprint!.scale).toBeCloseTo(0.02, 12);
    begin('origin');
    addPoint(on(20, 30));
    expect(piece('front').blueprint!.origin).toEqual([20, 30]);
  });
  test('a view is cut out; too small a frame is none', () => {
    begin('cut');
    addPoint(on(90, 80));
    addPoint(on(10, 20));
    expect(doc().pieces.at(-1)!.blueprint!.frame).toEqual([10, 20, 90, 80]);
    begin('cut', 'front');
    addPoint(on(5, 5));
    addPoint(on(6, 6));
    expect(bench.get().say).toMatch(/too small/);
  });
  test('stations one after another until Enter; a circle from three to five points; the same size again', () => {
    begin('station-u');
    addPoint(on(50, 50));
    addPoint(on(150, 50));
    keep();
    expect(bench.get().hand).toBeNull();
    expect(piece('front').blueprint!.stations.map((s) => [s.name, s.at])).toEqual([
      ['A', -0.5],
      ['B', 0.5],
    ]);
    begin('circle');
    for (const a of [0, 2, 4]) addPoint(on(100 + 30 * Math.cos(a), 50 + 30 * Math.sin(a)));
    finish();
    expect(piece('front').blueprint!.rounds[0].a).toBeCloseTo(0.3, 9);
    expect(offeredRound()!.a).toBeCloseTo(0.3, 9);
    begin('same');
    addPoint(on(40, 40));
    cancel();
    expect(piece('front').blueprint!.rounds[1]).toMatchObject({
      u: expect.closeTo(-0.6, 9),
      v: expect.closeTo(0.1, 9),
      a: expect.closeTo(0.3, 9),
    });
    begin('ellipse');
    for (const x of [0, 10, 20, 30, 40]) addPoint(on(x, 10));
    expect(bench.get().say).toMatch(/no ellipse/);
  });
  test('with too few points Enter puts the tool down; one for blueprints wants one', () => {
    begin('circle');
    addPoint(on(1, 1));
    keep();
    expect(bench.get().hand).toBeNull();
    pickPieces(['q']);
    begin('level');
    expect(bench.get().say).toBe('Pick a blueprint first.');
  });
  test('two views are checked by the stations they share, else by their frames', () => {
    expect(checkViews('front', 'top')).toMatchObject({ axis: 'x', inA: 2, inB: 2, share: 0 });
    session.change('t', (d) => {
      for (const [id, at] of [
        ['front', 1],
        ['top', 1.01],
      ] as const)
        changes.pieceOf(d, id).blueprint!.stations = [
          { id: 'a', name: 'A', along: 'u', at: 0 },
          { id: 'b', name: 'B', along: 'u', at },
        ];
    });
    expect(checkViews('front', 'top')).toMatchObject({
      by: 'stations A, B',
      error: expect.closeTo(0.01, 9),
      share: expect.closeTo(0.01, 9),
    });
    expect(checkViews('front', 'front')).toMatch(/share no dimension/);
    expect(checkViews('front', 'q')).toMatch(/Pick two blueprints/);
  });
  test('the pivot is put where it is clicked; a tape tells its length as it goes', () => {
    pickPieces(['q']);
    begin('pivot');
    addPoint({ at: [1, 2, 3], piece: null, kind: 'free' });
    near(changes.pivotOf(doc(), piece('q')), [1, 2, 3]);
    begin('angle');
    addPoint({ at: [1, 0, 0], piece: null, kind: 'free' });
    addPoint({ at: [0, 0, 0], piece: null, kind: 'free' });
    expect(soFar()).toBe('');
  });
});

describe('measures', () => {
  const tape = (...ends: Tape['ends']): Tape => ({ id: 't', kind: ends.length === 3 ? 'angle' : 'length', ends });
  const free = (at: [number, number, number], of: string | null = null): Tape['ends'][number] => ({
    piece: of,
    kind: 'free',
    key: 0,
    t: 0,
    at,
  });
  test('ends are in the world: free, in a piece, at a pivot, on an element wherever it is now', () => {
    const w = changes.worlds(doc());
    expect(
      tapeEnds(doc(), tape(free([1, 2, 3]), free([1, 0, 0], 'g')), {}, w).points.map((p) =>
        p.map((x) => Math.round(x * 1e6) / 1e6 + 0),
      ),
    ).toEqual([
      [1, 2, 3],
      [1, 0, -1],
    ]);
    const held = tape(
      { piece: 'q', kind: 'vertex', key: 5, t: 0, at: [0, 0, 0] },
      { piece: 'g', kind: 'pivot', key: 0, t: 0, at: [9, 9, 9] },
    );
    expect(tapeEnds(doc(), held, { 't/0': [0, 7, 0] }, w)).toEqual({
      points: [
        [0, 7, 0],
        [1, 0, 0],
      ],
      lost: false,
    });
    expect(tapeEnds(doc(), held, { 't/0': null }, w).lost).toBe(true);
  });
  test.each([
    ['length', 'mm', '500 mm', [[0, 0, 0], [0.3, 0.4, 0]]], // prettier-ignore
    ['angle', 'mm', '90°', [[1, 0, 0], [0, 0, 0], [0, 1, 0]]], // prettier-ignore
    ['diameter', 'm', '⌀ 2 m', [[1, 0, 0], [0, 1, 0], [-1, 0, 0]]], // prettier-ignore
    ['diameter', 'm', '', [[0, 0, 0], [1, 0, 0], [2, 0, 0]]], // prettier-ignore
  ] as const)('their words: %s in %s: %s', (kind, units, words, points) => {
    expect(lineOf('x', kind, points as unknown as [number, number, number][], { units }).text).toBe(words);
  });
  test('what is being cut out is a frame on the drawing', () => {
    const at = (x: number, y: number): Pointed => ({ at: [0, 0, 0], piece: 'front', kind: 'free', pixel: [x, y] });
    const [line] = measureLines(
      doc(),
      {},
      { kind: 'pointing', tool: 'cut', on: 'front', points: [at(0, 0), at(200, 100)] },
      changes.worlds(doc()),
    );
    expect(line.points).toHaveLength(5);
    near(line.points[2], [1, -0.5, 0]);
    expect(line.text).toBe('200 × 100 px');
  });
});

describe('rows of the tree', () => {
  test('closed groups hide what they hold; a search opens the way to what it finds', () => {
    const all = doc().pieces;
    expect(rowsOf(all, new Set(), '').map((r) => [r.piece.id, r.depth])).toEqual([
      ['g', 0],
      ['p', 1],
      ['q', 0],
      ['front', 0],
      ['top', 0],
    ]);
    expect(rowsOf(all, new Set(['g']), '').map((r) => r.piece.id)).toEqual(['g', 'q', 'front', 'top']);
    expect(rowsOf(all, new Set(['g']), 'HAND').map((r) => r.piece.id)).toEqual(['g', 'p']);
    expect(rowsOf(all, new Set(), 'nobody')).toEqual([]);
    expect(between(rowsOf(all, new Set(), ''), 'p', 'front')).toEqual(['p', 'q', 'front']);
    expect(between(rowsOf(all, new Set(), ''), null, 'q')).toEqual(['q']);
  });
  test('groups count what is in them, copies their triangles too', () => {
    session.change('c', (d) => {
      changes.copyPieces(d, ['p'], { linked: true });
    });
    expect(heldBy(doc().pieces, () => 12).get('g')).toEqual({ pieces: 2, triangles: 24 });
  });
  test('5,000 pieces are laid out within a frame’s time several times over', () => {
    const many = Array.from({ length: 5000 }, (_, i) => ({
      ...piece('q'),
      id: `n${i}`,
      name: `brick ${i}`,
      parent: i % 50 ? `n${i - (i % 50)}` : null,
      kind: i % 50 ? ('mesh' as const) : ('group' as const),
    }));
    expect(rowsOf(many, new Set(), '')).toHaveLength(5000);
    expect(rowsOf(many, new Set(), 'brick 77').map((r) => r.piece.name)).toContain('brick 4977'.replace('4977', '777'));
  });
});

test('every command has a name of its own and does not fail with nothing open', () => {
  const list = commands();
  expect(new Set(list.map((c) => c.title)).size).toBe(list.length);
});
