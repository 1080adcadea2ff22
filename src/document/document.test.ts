import fc from 'fast-check';
import { Memory } from '../core/recipe';
import { volumeOf } from '../core/mesh';
import { writePng } from '../core/formats';
import { signalLamp } from '../demo/lamp';
import { buildScene, SHIP_DEFAULTS } from './build';
import * as changes from './changes';
import { History } from './history';
import { applyChange } from './patches';
import { checkDocument, checkExport, checkPatches, InvalidDocument } from './schema';
import type { Patch, ProjectDocument } from './types';

const withBox = (): ProjectDocument => {
  const d = changes.newProject('Test', 'game', 'mm');
  changes.addPiece(d, 'p', 'box');
  changes.addStep(d, 'p', 'box', 's');
  changes.addStep(d, 'p', 'shape', 'h');
  return d;
};
const move = (id: string, x: number, keys = [1, 2]) => ({
  id,
  tool: 'move',
  pick: { kind: 'face' as const, keys },
  values: { x, y: 0, z: 0 },
});

describe('changes', () => {
  test('consecutive moves of one pick become one; of another pick they do not', () => {
    const d = withBox();
    changes.addMove(d, 'p', 'h', move('a', 1));
    changes.addMove(d, 'p', 'h', move('b', 2));
    changes.addMove(d, 'p', 'h', move('c', 4, [3]));
    expect(d.pieces[0].recipe[1].values.moves).toMatchObject([
      { id: 'a', values: { x: 3 } },
      { id: 'c', values: { x: 4 } },
    ]);
  });
  test('seams: an edge has one mark at a time', () => {
    const d = withBox();
    changes.addStep(d, 'p', 'unwrap', 'u');
    changes.markSeams(d, 'p', 'u', [1, 2, 3], 'cut');
    changes.markSeams(d, 'p', 'u', [2], 'hold');
    changes.markSeams(d, 'p', 'u', [3], 'let be');
    expect(d.pieces[0].recipe[2].values).toMatchObject({ cut: { keys: [1] }, hold: { keys: [2] } });
  });
  test('places by hand replace earlier ones of the same corner, and can be given back by face', () => {
    const d = withBox();
    changes.addStep(d, 'p', 'unwrap', 'u');
    changes.placeByHand(d, 'p', 'u', { face: [1, 1], vertex: [5, 6], uv: [0, 0, 1, 1] });
    changes.placeByHand(d, 'p', 'u', { face: [1, 2], vertex: [5, 5], uv: [0.5, 0.5, 2, 2] });
    expect(d.pieces[0].recipe[2].values.placed).toEqual({
      face: [1, 2, 1],
      vertex: [5, 5, 6],
      uv: [0.5, 0.5, 2, 2, 1, 1],
    });
    changes.releasePlaces(d, 'p', 'u', new Set([1]));
    expect(d.pieces[0].recipe[2].values.placed).toEqual({ face: [2], vertex: [5], uv: [2, 2] });
  });
  test('colours: a face belongs to one material', () => {
    const d = withBox();
    changes.addStep(d, 'p', 'color', 'c');
    changes.colorFaces(d, 'p', 'c', 'red', [1, 2, 3]);
    changes.colorFaces(d, 'p', 'c', 'blue', [2]);
    expect(d.pieces[0].recipe[2].values.colors).toEqual([
      { material: 'red', keys: [1, 3] },
      { material: 'blue', keys: [2] },
    ]);
    changes.colorFaces(d, 'p', 'c', 'red', []);
    expect(d.pieces[0].recipe[2].values).toMatchObject({ base: 'red', colors: [] });
  });
  test('the tree: copies with what they hold, groups not into themselves, deleting takes children along', () => {
    const d = withBox();
    changes.addGroup(d, 'g', 'group');
    changes.addGroup(d, 'g2', 'inner', 'g');
    changes.setParent(d, 'p', 'g2');
    changes.setParent(d, 'g', 'g2');
    expect(d.pieces.find((p) => p.id === 'g')!.parent).toBeNull();
    expect(() => checkDocument(d)).not.toThrow();
    let n = 0;
    const copy = changes.copyPiece(d, 'g', () => `copy${n++}`);
    expect(d.pieces.length).toBe(6);
    expect(new Set(d.pieces.map((p) => p.name)).size).toBe(6);
    changes.removePiece(d, copy);
    expect(d.pieces.map((p) => p.id).sort()).toEqual(['g', 'g2', 'p']);
    changes.renamePiece(d, 'p', 'inner');
    expect(d.pieces.find((p) => p.id === 'p')!.name).toBe('inner 2');
  });
  test('the marker goes to the step before when its step is removed', () => {
    const d = withBox();
    changes.setPiece(d, 'p', { upTo: 'h' });
    changes.removeStep(d, 'p', 'h');
    expect(d.pieces[0].upTo).toBe('s');
  });
});

test('a new step has values of its own: what is written to one never shows in another', () => {
  const a = withBox();
  const b = withBox();
  changes.addMove(a, 'p', 'h', move('a', 1));
  expect(b.pieces[0].recipe[1].values.moves).toEqual([]);
  expect(withBox().pieces[0].recipe[1].values.moves).toEqual([]);
});

describe('history', () => {
  test('any run of changes undone to the start is the start, and redone the end; what was sent leads there too', () => {
    const edit = fc.oneof(
      fc.string({ minLength: 1, maxLength: 8 }).map((name) => (d: ProjectDocument) => changes.setProject(d, { name })),
      fc.nat(1000).map((w) => (d: ProjectDocument) => {
        if (d.pieces.length) changes.setValues(d, d.pieces[0].id, d.pieces[0].recipe[0].id, { width: w / 1000 });
      }),
      fc.constant((d: ProjectDocument) => changes.addGroup(d, changes.newId(), 'g')),
      fc.nat(5).map((i) => (d: ProjectDocument) => {
        if (d.pieces.length > 1) changes.removePiece(d, d.pieces[1 + (i % (d.pieces.length - 1))].id);
      }),
      fc.nat(9).map((x) => (d: ProjectDocument) => {
        if (d.pieces.length) changes.addMove(d, d.pieces[0].id, 'h', move(changes.newId(), x, [x % 2]));
      }),
    );
    fc.assert(
      fc.property(fc.array(edit, { maxLength: 15 }), (edits) => {
        const sent: Patch[][] = [];
        const start = withBox();
        const h = new History(withBox(), (c) => sent.push(c.patches));
        edits.forEach((e, i) => h.change(`edit ${i}`, e));
        const end = h.document;
        while (h.undo());
        expect(h.document).toEqual(start);
        while (h.redo());
        expect(h.document).toEqual(end);
        expect(sent.reduce((d, p) => applyChange(d, JSON.parse(JSON.stringify(p)) as Patch[]), withBox())).toEqual(end);
      }),
      { numRuns: 60 },
    );
  });
  test('a live change is one entry, can be cancelled, and sends nothing until it settles', () => {
    const sent: string[] = [];
    const h = new History(withBox(), (c) => sent.push(c.label));
    for (let i = 1; i <= 20; i++) h.change('drag', (d) => changes.setValues(d, 'p', 's', { width: i }), 'drag s');
    expect(sent).toEqual([]);
    h.settle();
    expect(sent).toEqual(['drag']);
    h.undo();
    expect(h.document.pieces[0].recipe[0].values.width).toBe(0.1);
    h.change('drag', (d) => changes.setValues(d, 'p', 's', { width: 5 }), 'x');
    h.cancel();
    expect(h.document.pieces[0].recipe[0].values.width).toBe(0.1);
    expect(h.canRedo).toBe('drag');
  });
  test('a change that changes nothing leaves no entry', () => {
    const h = new History(withBox());
    h.change('nothing', (d) => changes.setProject(d, { name: 'Test' }));
    expect(h.canUndo).toBeUndefined();
  });
});

describe('what may be in a document', () => {
  test.each([
    ['not an object', () => 7],
    ['a newer format', (d: ProjectDocument) => ({ ...d, format: 5 })],
    ['unknown fields', (d: ProjectDocument) => ({ ...d, extra: 1 })],
    ['two pieces of one id', (d: ProjectDocument) => ({ ...d, pieces: [...d.pieces, ...d.pieces] })],
    ['a parent that is not there', (d: ProjectDocument) => ({ ...d, pieces: [{ ...d.pieces[0], parent: 'nobody' }] })],
    [
      'a value out of bounds',
      (d: ProjectDocument) => ({
        ...d,
        pieces: [{ ...d.pieces[0], recipe: [{ ...d.pieces[0].recipe[0], values: { width: -1 } }] }],
      }),
    ],
    [
      'a value that is not finite',
      (d: ProjectDocument) => ({
        ...d,
        pieces: [{ ...d.pieces[0], recipe: [{ ...d.pieces[0].recipe[0], values: { width: Infinity } }] }],
      }),
    ],
    [
      'keys that are no keys',
      (d: ProjectDocument) => ({
        ...d,
        pieces: [
          {
            ...d.pieces[0],
            recipe: [
              d.pieces[0].recipe[0],
              {
                ...d.pieces[0].recipe[1],
                values: { moves: [{ ...move('a', 1), pick: { kind: 'face', keys: [-1] } }] },
              },
            ],
          },
        ],
      }),
    ],
    [
      'a colour that is none',
      (d: ProjectDocument) => ({ ...d, materials: [{ id: 'm', name: 'M', color: 'red', roughness: 0, metalness: 0 }] }),
    ],
  ])('%s is refused in one sentence', (_, spoil) => {
    try {
      checkDocument(spoil(withBox()));
      throw new Error('it was accepted');
    } catch (e) {
      expect(e).toBeInstanceOf(InvalidDocument);
      expect((e as Error).message).toMatch(/^[^\n]+\.$/);
    }
  });
  test('a step of a later version is kept', () => {
    const d = withBox();
    d.pieces[0].recipe.push({ id: 'z', kind: 'later', values: { any: 1 }, on: true });
    expect(checkDocument(d)).toEqual(d);
  });
  test('exports are checked too', () => {
    expect(() => checkExport({ glypta: 1, document: withBox(), blobs: { nope: 'x' } })).toThrow(InvalidDocument);
    expect(() => checkExport(null)).toThrow(InvalidDocument);
  });
});

describe('the lamp', () => {
  test('is the same on every run, valid, and ships whole: closed pieces, UVs, two textures, in metres', async () => {
    const a = await signalLamp();
    expect(JSON.stringify(await signalLamp())).toBe(JSON.stringify(a));
    checkDocument(JSON.parse(JSON.stringify(a)));
    const { scene } = await buildScene(a, SHIP_DEFAULTS, { memory: new Memory(), encode: writePng });
    expect(scene.warnings).toEqual([]);
    expect(scene.images.map((i) => i.name)).toEqual([
      'base_color.png',
      'base_color_surface.png',
      'hood_color.png',
      'hood_color_surface.png',
    ]);
    expect(scene.pieces.map((p) => p.name)).toEqual(['lamp', 'base', 'hood', 'lens', 'bail handle', 'guard']);
    for (const p of scene.pieces)
      if (p.mesh) {
        expect(p.mesh.attributes.uv).toBeDefined();
        expect(volumeOf(p.mesh)).toBeGreaterThan(0);
      }
    const z = await buildScene(
      a,
      {
        ...SHIP_DEFAULTS,
        up: 'z',
        unit: 0.001,
        triangulate: true,
        subdivide: false,
        pieces: new Set([a.pieces[1].id]),
      },
      { memory: new Memory(), encode: writePng },
    );
    const base = z.scene.pieces[1].mesh!;
    expect(z.scene.pieces.map((p) => p.name)).toEqual(['lamp', 'base']);
    expect(Math.max(...base.positions.filter((_, i) => i % 3 === 2))).toBeCloseTo(110, 2);
    expect([...base.faceStart].every((s, i) => s === 3 * i)).toBe(true);
  });
});

test('a patch may set nothing: a link taken back, a marker put at the end', () => {
  expect(checkPatches([{ op: 'replace', path: ['pieces', 0, 'link'], value: null }])).toHaveLength(1);
});

test('an unwrap of a day before there was a bound keeps none; one of today keeps its own', () => {
  const doc = withBox();
  changes.addStep(doc, doc.pieces[0].id, 'unwrap', 'today');
  const old = structuredClone(doc) as unknown as { format: number; pieces: { recipe: { values: object }[] }[] };
  old.format = 3;
  const before = { ...old.pieces[0].recipe[2], id: 'before', values: { padding: 8 } };
  old.pieces[0].recipe.push(before, {
    ...{ id: 'm', kind: 'merged', on: true },
    values: { parts: [{ id: 'q', name: 'q', place: [1, 0, 0, 0, 1, 0, 0, 0, 1, 0, 0, 0], recipe: [before] }] },
  } as never);
  const now = checkDocument(old).pieces[0].recipe.slice(1);
  expect([now[1].values.stretch, now[2].values.stretch]).toEqual([1.3, 0]);
  expect((now[3].values.parts as { recipe: { values: object }[] }[])[0].recipe[0].values).toEqual({
    padding: 8,
    stretch: 0,
  });
  expect(checkDocument(doc).format).toBe(4);
});
