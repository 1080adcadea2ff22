/** What commands do to the document and to the pick, with recipes followed here instead of in a worker. */
import { followRecipe } from '../../core/steps';
import { Memory } from '../../core/recipe/memory';
import { edgeKeys } from '../../core/mesh/picks';
import { topologyOf } from '../../core/mesh/topology';
import type { Mesh } from '../../core/mesh/mesh';
import type { Move } from '../../core/recipe/values';
import * as changes from '../../document/changes';
import { History } from '../../document/history';
import type { Change } from '../../document/history';
import { checkDocument } from '../../document/schema';
import {
  addPiece,
  addStep,
  beginMove,
  cancel,
  changePick,
  dragMove,
  focusPiece,
  giveMaterial,
  keep,
  makeTexture,
  cutTraced,
  markSeams,
  packAll,
  pickWider,
  placeByHand,
  runMove,
  setInHand,
  setMode,
  setPick,
  setStage,
  unfold,
} from './actions';
import { commandFor, commands } from './commands';
import { session } from './session';
import { bench } from './store';

let sent: Change[] = [];
const piece = () => bench.get().document!.pieces[0];
const kinds = () => piece().recipe.map((s) => s.kind);
const moves = () => (piece().recipe.find((s) => s.kind === 'shape')?.values.moves ?? []) as Move[];

/** Follows the recipe to the focused step, as the worker would. */
async function follow(): Promise<Mesh> {
  const { step, document } = bench.get();
  const out = await followRecipe(piece().recipe, {
    memory: new Memory(),
    materials: document!.materials,
    upTo: step ?? undefined,
  });
  const mesh = out[out.length - 1].mesh;
  bench.set({ mesh });
  return mesh;
}

beforeEach(async () => {
  bench.reset();
  sent = [];
  const doc = changes.newProject('Test', 'game', 'mm');
  changes.addPiece(doc, 'p', 'body');
  changes.addStep(doc, 'p', 'box', 's', { width: 1, height: 1, depth: 1 });
  session.history = new History(doc, (c) => sent.push(c));
  bench.set({ document: session.history.document, piece: 'p', ready: true });
  await follow();
});
afterEach(() => {
  checkDocument(bench.get().document);
}); // whatever was done, the server would take it

describe('moves', () => {
  test('an extrusion: one change with its step, values still open, kept by Enter, undone at once', async () => {
    setPick('face', [bench.get().mesh!.faceKey[0]]);
    runMove('extrude');
    expect(kinds()).toEqual(['box', 'shape']);
    expect(sent).toEqual([]); // still in hand
    setInHand({ by: 0.25 });
    setInHand({ inset: 0.1 });
    expect(moves()).toMatchObject([{ tool: 'extrude', values: { by: 0.25, inset: 0.1 } }]);
    keep();
    expect(sent).toHaveLength(1);
    expect((await follow()).faceCount).toBe(10);
    setInHand({ by: 0.5 }); // later: a change of its own
    expect(moves()[0].values.by).toBe(0.5);
    expect(sent).toHaveLength(2);
    session.undo();
    session.undo();
    expect(kinds()).toEqual(['box']);
  });

  test('Esc takes back the move and the step that came with it', () => {
    setPick('face', [bench.get().mesh!.faceKey[0]]);
    runMove('inset');
    cancel();
    expect(kinds()).toEqual(['box']);
    expect(sent).toEqual([]);
    expect(bench.get().hand).toBeNull();
  });

  test('a dragged handle is one move however many frames it took, and merges with the one before', () => {
    setPick('face', [bench.get().mesh!.faceKey[0]]);
    for (const way of [0.1, 0.2]) {
      const id = beginMove('move', { y: 0 })!;
      for (let i = 1; i <= 10; i++) dragMove(id, 'move', { y: (way * i) / 10 });
      keep();
    }
    expect(moves()).toHaveLength(1);
    expect(moves()[0].values.y as number).toBeCloseTo(0.3, 9);
    expect(sent).toHaveLength(2);
  });

  test('with nothing picked: moving takes the whole piece, extruding asks for faces', () => {
    beginMove('move', { x: 1 });
    expect(moves()[0].pick).toEqual({ kind: 'face', keys: [], rule: { id: 'all', values: {} } });
    cancel();
    runMove('extrude');
    expect(bench.get().say).toBe('Pick faces first.');
    expect(kinds()).toEqual(['box']);
  });

  test('a tool that needs another kind of pick takes what the pick means in it', () => {
    const mesh = bench.get().mesh!;
    setPick('vertex', [...mesh.vertexKey]);
    runMove('loop');
    expect(moves()[0].pick).toMatchObject({ kind: 'edge' });
    expect(moves()[0].pick.keys).toHaveLength(12);
  });

  test('a locked piece is left alone', () => {
    session.change('lock', (d) => changes.setPiece(d, 'p', { locked: true }));
    setPick('face', [bench.get().mesh!.faceKey[0]]);
    runMove('extrude');
    expect(bench.get().say).toMatch(/is locked/);
    expect(kinds()).toEqual(['box']);
  });

  test('new edits go in before the mirror, not after it', async () => {
    addStep('mirror');
    setPick('face', [(await follow()).faceKey[0]]);
    bench.set({ step: 's' });
    runMove('extrude');
    expect(kinds()).toEqual(['box', 'shape', 'mirror']);
  });
});

describe('picks', () => {
  test('set, add, take away', () => {
    changePick('face', [1, 2], 'set');
    changePick('face', [3], 'add');
    changePick('face', [1], 'remove');
    expect(bench.get().pick).toEqual({ kind: 'face', keys: [2, 3] });
    changePick('edge', [9], 'add'); // another kind begins anew
    expect(bench.get().pick).toEqual({ kind: 'edge', keys: [9] });
  });

  test('going from faces to vertices and back keeps the place', () => {
    const mesh = bench.get().mesh!;
    setMode('face');
    setPick('face', [mesh.faceKey[2]]);
    setMode('vertex');
    expect(bench.get().pick.keys).toHaveLength(4);
    setMode('face');
    expect(bench.get().pick.keys).toEqual([mesh.faceKey[2]]);
  });

  test('a double click on a vertex takes all that is joined; on an edge its loop', () => {
    pickWider('vertex', 0, false);
    expect(bench.get().pick.keys).toHaveLength(8);
    pickWider('edge', 0, false);
    expect(bench.get().pick.kind).toBe('edge');
    expect(bench.get().pick.keys.length).toBeGreaterThan(0);
  });
});

describe('unwrap and finish', () => {
  test('marking seams makes the unwrap step; later marks go into it; packing and placing by hand alternate', () => {
    const keys = edgeKeys(bench.get().mesh!);
    setStage('unwrap');
    setPick('edge', [keys[0], keys[1]]);
    markSeams('cut');
    markSeams('hold');
    expect(kinds()).toEqual(['box', 'unwrap']);
    expect(piece().recipe[1].values).toMatchObject({ cut: { keys: [] }, hold: { keys: [keys[0], keys[1]] } });
    placeByHand({ face: [1], vertex: [2], uv: [0.5, 0.5] }, 'drag');
    session.settle();
    packAll();
    expect(piece().recipe[1].values.repack).toBe(true);
    placeByHand({ face: [1], vertex: [3], uv: [0.1, 0.1] }, 'drag again');
    session.settle();
    expect(piece().recipe[1].values).toMatchObject({ repack: false, placed: { face: [1, 1] } });
    unfold();
    expect(piece().recipe[1].values.placed).toEqual({ face: [], vertex: [], uv: [] });
  });

  test('where both sides are worked on, seams are marked on both, also those that are traced', () => {
    const mesh = bench.get().mesh!;
    const keys = edgeKeys(mesh);
    const { edgeVertex } = topologyOf(mesh);
    const xOf = (e: number): number =>
      mesh.positions[3 * edgeVertex[2 * e]] + mesh.positions[3 * edgeVertex[2 * e + 1]];
    const edge = Array.from(keys.keys()).find((e) => xOf(e) > 0.01)!;
    setStage('unwrap');
    bench.set({ bothSides: 'x' });
    setPick('edge', [keys[edge]]);
    markSeams('cut');
    const cut = (): number[] => (piece().recipe[1].values.cut as { keys: number[] }).keys;
    expect(cut()).toHaveLength(2);
    const indices = cut().map((k) => keys.indexOf(k));
    expect(xOf(indices[0]) + xOf(indices[1])).toBeCloseTo(0, 6);
    markSeams('let be');
    expect(cut()).toEqual([]);
    cutTraced([edge]);
    expect(cut()).toHaveLength(2);
    bench.set({ bothSides: null });
    cutTraced([edge]);
    expect(cut()).toHaveLength(2);
  });

  test('nothing picked, nothing marked', () => {
    markSeams('cut');
    expect(bench.get().say).toMatch(/Pick edges/);
    expect(kinds()).toEqual(['box']);
  });

  test('a colour for all, one for a face, a texture only when there is a sheet; the unwrap goes in before the colour', () => {
    session.change('materials', (d) => {
      for (const id of ['red', 'blue'])
        changes.addMaterial(d, { id, name: id, color: '#112233', roughness: 0.5, metalness: 0 });
    });
    setStage('finish');
    giveMaterial('red');
    setPick('face', [bench.get().mesh!.faceKey[3]]);
    giveMaterial('blue');
    expect(piece().recipe[1].values).toMatchObject({
      base: 'red',
      colors: [{ material: 'blue', keys: [bench.get().mesh!.faceKey[3]] }],
    });
    makeTexture();
    expect(bench.get().say).toMatch(/unwrap the piece first/);
    unfold();
    makeTexture();
    makeTexture();
    expect(kinds()).toEqual(['box', 'unwrap', 'color', 'texture']);
  });
});

describe('pieces and commands', () => {
  test('a new piece goes beside the picked one and is picked', () => {
    addPiece('sphere');
    const { document, piece: now } = bench.get();
    expect(document!.pieces).toHaveLength(2);
    expect(document!.pieces.find((p) => p.id === now)!.recipe[0].kind).toBe('sphere');
    focusPiece('p');
    expect(bench.get().piece).toBe('p');
  });

  test('steps go in at the marker, and the marker goes along', () => {
    addStep('mirror');
    session.change('marker', (d) => changes.setPiece(d, 'p', { upTo: 's' }));
    addStep('weld');
    expect(kinds()).toEqual(['box', 'weld', 'mirror']);
    expect(piece().upTo).toBe(piece().recipe[1].id);
  });

  test('no two commands share a key, and each key finds its command', () => {
    const keys = commands().flatMap((c) => (c.key ? [c.key] : []));
    expect(new Set(keys).size).toBe(keys.length);
    const press = (key: string, more: object = {}) =>
      commandFor({ key, ctrlKey: false, metaKey: false, altKey: false, shiftKey: false, ...more } as KeyboardEvent)?.id;
    expect(press('x')).toBe('extrude');
    expect(press('X', { shiftKey: true })).toBe('inset');
    expect(press('z', { ctrlKey: true })).toBe('undo');
    expect(press('Z', { ctrlKey: true, shiftKey: true })).toBe('redo');
    expect(press('?', { shiftKey: true })).toBe('keys');
    expect(press('Backspace')).toBe('delete');
    expect(press('Home')).toBe('see-all');
    expect(press('z')).toBeUndefined();
  });
});

test('whole pieces: a tool for all of it is done to every one that is picked, with one set of values and one undo', () => {
  const added = (id: string, more: object = {}) =>
    session.change('add', (d) => {
      changes.addPiece(d, id, id);
      changes.addStep(d, id, 'box', `${id}-s`, {});
      changes.setPiece(d, id, more);
    });
  added('q');
  added('r', { locked: true });
  const of = (id: string) =>
    (bench
      .get()
      .document!.pieces.find((p) => p.id === id)!
      .recipe.find((x) => x.kind === 'shape')?.values.moves ?? []) as Move[];
  bench.set({ mode: 'piece', picked: ['q', 'r', 'p'], piece: 'p' });
  const tool = commands().find((c) => c.id === 'push')!;
  expect(tool.when!(bench.get())).toBe(true);
  expect(commands().find((c) => c.id === 'extrude')!.when!(bench.get())).not.toBe(true);
  runMove('push');
  setInHand({ by: 0.02 });
  expect(['p', 'q', 'r'].map((id) => of(id).map((m) => [m.tool, m.values.by, m.pick.rule?.id]))).toEqual([
    [['push', 0.02, 'all']],
    [['push', 0.02, 'all']],
    [],
  ]);
  keep();
  setInHand({ by: 0.03 });
  expect([of('p')[0].values.by, of('q')[0].values.by]).toEqual([0.03, 0.03]);
  expect(of('p')[0].id).not.toBe(of('q')[0].id);
  session.history!.undo();
  session.history!.undo();
  bench.set({ document: session.history!.document });
  expect([of('p').length, of('q').length]).toEqual([0, 0]);
});
