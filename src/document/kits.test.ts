/** Kits: pieces whose recipes others follow, with dials of their own. */
import { Memory } from '../core/recipe';
import { shapeOf, volumeOf } from '../core/mesh';
import * as changes from './changes';
import { addDial, dialsFor, removeDial, renameDial, setDial, usesOf } from './dials';
import { followDocument } from './follow';
import { History } from './history';
import { nextEdition, placeKit, setOwn, takeEdition, unpackKit } from './kits';
import { checkContent, contentOfPieces, insertContent } from './library';
import { checkDocument } from './schema';
import type { Dial, ProjectDocument } from './types';

const dial = (name: string, value: number, more: Partial<Dial> = {}): Dial => ({
  id: `dial-${name}`,
  name,
  kind: 'length',
  value,
  ...more,
});
/** A post whose height and girth are its own dials. */
function project(): ProjectDocument {
  const d = changes.newProject('Quay', 'game', 'm');
  changes.addPiece(d, 'post', 'post');
  addDial(d, dial('height', 1, { min: 0.1, max: 5 }), 'post');
  addDial(d, dial('girth', 0.2), 'post');
  changes.addStep(d, 'post', 'box', 'b', {
    width: { formula: 'girth' },
    height: { formula: 'height' },
    depth: { formula: 'girth' },
  });
  return d;
}
const place = (d: ProjectDocument, id: string, own: Record<string, unknown> = {}) => {
  changes.addPiece(d, id, id);
  changes.addStep(d, id, 'kit', `${id}-kit`, { kit: 'post', own });
};
const follow = async (given: ProjectDocument, id: string, memory = new Memory()) => {
  const d = checkDocument(structuredClone(given));
  const out = await followDocument(d, { memory }).piece(d.pieces.find((p) => p.id === id)!);
  const { mesh } = out.outcomes.at(-1)!;
  const error = out.outcomes.find((x) => x.error)?.error;
  return { mesh, error, volume: volumeOf(mesh), took: out.outcomes.map((o) => o.took) };
};

test('a placement follows the kit wherever it has no value of its own', async () => {
  const d = project();
  place(d, 'a');
  place(d, 'b', { height: 2 });
  expect((await follow(d, 'a')).volume).toBeCloseTo(0.04, 6);
  expect((await follow(d, 'b')).volume).toBeCloseTo(0.08, 6);
  setDial(d, 'dial-girth', { value: 0.4 });
  setDial(d, 'dial-height', { value: 3 });
  expect((await follow(d, 'a')).volume).toBeCloseTo(0.48, 6);
  expect((await follow(d, 'b')).volume).toBeCloseTo(0.32, 6);
});

test('own values keep within the range of the dial, and may be formulas of where they stand', async () => {
  const d = project();
  addDial(d, dial('tall', 2));
  place(d, 'a', { height: 99 });
  place(d, 'b', { height: { formula: 'tall / 4' } });
  place(d, 'c', { height: { formula: 'tall / nothing' } });
  expect((await follow(d, 'a')).volume).toBeCloseTo(0.2, 6);
  expect((await follow(d, 'b')).volume).toBeCloseTo(0.02, 6);
  expect((await follow(d, 'c')).error).toMatch(/height: In “tall \/ nothing”/);
});

test('of a thousand placements only the one that was changed is followed', async () => {
  const d = project();
  for (let i = 0; i < 1000; i++) place(d, `p${i}`, i % 7 === 0 ? { girth: 0.1 + (i % 5) / 10 } : {});
  const memory = new Memory();
  const all = followDocument(d, { memory });
  for (const p of d.pieces) await all.piece(p);
  const before = memory.size;
  (d.pieces.find((p) => p.id === 'p500')!.recipe[0].values as { own: object }).own = { height: 4 };
  const again = followDocument(d, { memory });
  const took: string[] = [];
  for (const p of d.pieces) if ((await again.piece(p)).outcomes.some((x) => x.took > 0)) took.push(p.id);
  expect(took).toEqual(['p500']);
  expect(volumeOf((await again.piece(d.pieces.find((p) => p.id === 'p500')!)).shown!.mesh)).toBeCloseTo(0.16, 6);
  // The step, and the kit's one step with other values.
  expect(memory.size - before).toBe(2);
});

test('kits within kits; a circle is refused in words, whichever way round it is asked', async () => {
  const d = project();
  changes.addPiece(d, 'pair', 'pair');
  addDial(d, dial('tall', 1), 'pair');
  changes.addStep(d, 'pair', 'kit', 'k', { kit: 'post', own: { height: { formula: 'tall' } } });
  changes.addStep(d, 'pair', 'row', 'r', { times: 2, x: 1 });
  changes.addPiece(d, 'a', 'a');
  changes.addStep(d, 'a', 'kit', 'ka', { kit: 'pair', own: { tall: 3 } });
  expect((await follow(d, 'a')).volume).toBeCloseTo(2 * 3 * 0.04, 6);
  changes.addStep(d, 'post', 'join', 'j', { other: 'a' });
  for (const id of ['post', 'a', 'pair']) {
    const { error } = await follow(d, id);
    expect([id, error]).toEqual([id, expect.stringMatching(/“(a|post|pair)” (takes in|is made of) this piece|In “/)]);
  }
});

test('a kit that is gone, or that fails, says so', async () => {
  const d = project();
  place(d, 'a');
  (d.pieces[0].recipe[0].values as { width: unknown }).width = { formula: 'girth / colour' };
  expect((await follow(d, 'a')).error).toMatch(/^In “post”: In “girth \/ colour”/);
  changes.removePieces(d, ['post']);
  expect((await follow(d, 'a')).error).toBe('The kit is no longer there.');
});

describe('dials of pieces and groups', () => {
  test('the nearest of a name is meant; renaming reaches those that mean it, and placements', async () => {
    const d = project();
    addDial(d, dial('height', 9));
    d.dials![0].id = 'all';
    place(d, 'a', { height: 2 });
    changes.addStep(d, 'a', 'place', 'pl', { y: { formula: 'height' } });
    expect(dialsFor(d, 'post').find((x) => x.name === 'height')!.value).toBe(1);
    expect(usesOf(d, 'all')).toEqual([{ piece: 'a', step: 2 }]);
    renameDial(d, 'dial-height', 'tall');
    expect(d.pieces[0].recipe[0].values.height).toEqual({ formula: 'tall' });
    expect(d.pieces[1].recipe.map((s) => s.values.own ?? s.values.y)).toEqual([{ tall: 2 }, { formula: 'height' }]);
    expect((await follow(d, 'a')).volume).toBeCloseTo(0.08, 6);
    // A name that is seen there already would change what other formulas mean.
    renameDial(d, 'dial-girth', 'height');
    expect(d.pieces[0].dials!.map((x) => x.name)).toEqual(['tall', 'girth']);
    removeDial(d, 'dial-tall');
    expect(d.pieces[0].dials).toHaveLength(2);
  });
  test('a group hands its dials to all it holds', async () => {
    const d = project();
    changes.addGroup(d, 'g', 'g');
    addDial(d, dial('wide', 0.5), 'g');
    changes.addPiece(d, 'in', 'in', 'g');
    changes.addStep(d, 'in', 'box', 'bx', { width: { formula: 'wide' }, height: 1, depth: 1 });
    expect((await follow(d, 'in')).volume).toBeCloseTo(0.5, 6);
    changes.addPiece(d, 'out', 'out');
    changes.addStep(d, 'out', 'box', 'by', { width: { formula: 'wide' }, height: 1, depth: 1 });
    expect((await follow(d, 'out')).error).toMatch(/wide/);
  });
});

describe('kits that work on something', () => {
  /** Makes what it is handed as much taller as its number says. */
  function taller(): ProjectDocument {
    const d = project();
    changes.addPiece(d, 'taller', 'taller');
    addDial(d, dial('number', 1, { kind: 'count' }), 'taller');
    changes.addStep(d, 'taller', 'handed', 'h', { other: 'post' });
    changes.addStep(d, 'taller', 'place', 't', { sizeY: { formula: 'number + 1' } });
    return d;
  }
  test('tried on a piece where they are made, and handed what comes before where they are used', async () => {
    const d = taller();
    expect((await follow(d, 'taller')).volume).toBeCloseTo(0.08, 6);
    changes.addPiece(d, 'u', 'u');
    changes.addStep(d, 'u', 'box', 'ub', { width: 1, height: 1, depth: 1 });
    changes.addStep(d, 'u', 'through', 'ut', { kit: 'taller', own: { number: 3 } });
    expect((await follow(d, 'u')).volume).toBeCloseTo(4, 5);
  });
  test('each part by itself, knowing its number; parts keep their elements when others are gone', async () => {
    const d = taller();
    changes.addPiece(d, 'u', 'u');
    changes.addStep(d, 'u', 'box', 'ub', { width: 1, height: 1, depth: 1 });
    changes.addStep(d, 'u', 'row', 'ur', { times: 3, x: 2 });
    changes.addStep(d, 'u', 'each', 'ue', { by: 'part', kit: 'taller' });
    const three = await follow(d, 'u');
    expect(three.volume).toBeCloseTo(2 + 3 + 4, 4);
    expect(new Set(three.mesh.faceKey).size).toBe(three.mesh.faceCount);
    d.pieces.at(-1)!.recipe[1].values.times = 2;
    const two = await follow(d, 'u');
    const kept = new Set(three.mesh.faceKey);
    expect(Array.from(two.mesh.faceKey).every((k) => kept.has(k))).toBe(true);
  });
  test('each copy is worked on once, and stays a copy', async () => {
    const d = taller();
    changes.addPiece(d, 'u', 'u');
    changes.addStep(d, 'u', 'box', 'ub', { width: 1, height: 1, depth: 1 });
    changes.addStep(d, 'u', 'row', 'ur', { times: 50, x: 2 });
    changes.addStep(d, 'u', 'each', 'ue', { by: 'copy', kit: 'taller' });
    expect((await follow(d, 'u')).volume).toBeCloseTo(100, 3);
    expect(shapeOf((await follow(d, 'u')).mesh).components).toBe(50);
  });
  test('again and again: what comes of one round is handed to the next; a change of the kit reaches every round', async () => {
    const d = taller();
    changes.addPiece(d, 'u', 'u');
    changes.addStep(d, 'u', 'box', 'ub', { width: 1, height: 1, depth: 1 });
    changes.addStep(d, 'u', 'repeat', 'ur', { times: 3, kit: 'taller' });
    const memory = new Memory();
    expect((await follow(d, 'u', memory)).volume).toBeCloseTo(2 * 3 * 4, 4);
    d.pieces.find((p) => p.id === 'taller')!.recipe[1].values.sizeY = { formula: '2 * number' };
    expect((await follow(d, 'u', memory)).volume).toBeCloseTo(2 * 4 * 6, 4);
    d.pieces.at(-1)!.recipe[1].values.times = 0;
    expect((await follow(d, 'u', memory)).volume).toBeCloseTo(1, 5);
    d.pieces.at(-1)!.recipe[1].values.times = 1e6;
    expect((await follow(d, 'u', memory)).error).toBe('That would be 1,000,000 rounds; 10,000 are the most.');
  });
  test('rounds that make elements make others each time', async () => {
    const d = project();
    changes.addPiece(d, 'grow', 'grow');
    changes.addStep(d, 'grow', 'handed', 'h');
    changes.addStep(d, 'grow', 'all-inset', 'i', { inset: 0.05, each: true });
    changes.addPiece(d, 'u', 'u');
    changes.addStep(d, 'u', 'box', 'ub', { width: 1, height: 1, depth: 1 });
    changes.addStep(d, 'u', 'repeat', 'ur', { times: 3, kit: 'grow' });
    const { mesh, error } = await follow(d, 'u');
    expect(error).toBeUndefined();
    expect(mesh.faceCount).toBe(6 * 5 ** 3);
    expect(new Set(mesh.faceKey).size).toBe(mesh.faceCount);
    expect(new Set(mesh.vertexKey).size).toBe(mesh.vertexCount);
  });
});

describe('branches', () => {
  test('a branch goes from a step, and its piece may take it in again further on', async () => {
    const d = project();
    changes.addStep(d, 'post', 'row', 'r', { times: 2, x: 1 });
    changes.addPiece(d, 'side', 'side');
    changes.addStep(d, 'side', 'branch', 'br', { other: 'post', step: 'b' });
    changes.addStep(d, 'side', 'place', 'pl', { y: 5, sizeY: 2 });
    changes.addStep(d, 'post', 'join', 'j', { other: 'side' });
    const post = await follow(d, 'post');
    expect(post.error).toBeUndefined();
    expect(post.volume).toBeCloseTo(2 * 0.04 + 0.08, 5);
    expect((await follow(d, 'side')).volume).toBeCloseTo(0.08, 5);
    // From after where it is taken in it would be made of itself.
    d.pieces[1].recipe[0].values.step = 'j';
    expect((await follow(d, 'side')).error).toMatch(/takes in this piece/);
    expect((await follow(d, 'post')).volume).toBeCloseTo(2 * 0.04, 5);
    d.pieces[1].recipe[0].values.step = 'gone';
    expect((await follow(d, 'side')).error).toBe('The step of “post” that this goes from is no longer there.');
  });
});

test('placed and unpacked by a change that can be undone: steps keep their ids, dials come along as they stand there', async () => {
  const h = new History(project());
  h.change('place', (d) => placeKit(d, 'post', 'a', 'k'));
  h.change('own', (d) => setOwn(d, 'a', 'k', 'height', 2));
  expect((await follow(h.document, 'a')).volume).toBeCloseTo(0.08, 6);
  h.change('unpack', (d) => unpackKit(d, 'a', 'k'));
  const a = h.document.pieces.find((p) => p.id === 'a')!;
  expect(a.recipe.map((s) => s.id)).toEqual(['b']);
  expect(a.dials!.map((d) => [d.name, d.value])).toEqual([
    ['height', 2],
    ['girth', 0.2],
  ]);
  expect((await follow(h.document, 'a')).volume).toBeCloseTo(0.08, 6);
  h.undo();
  h.change('formula', (d) => setOwn(d, 'a', 'k', 'height', { formula: '1 + 1' }));
  expect(() => h.change('unpack', (d) => unpackKit(d, 'a', 'k'))).toThrow('“height” goes by a formula here');
});

describe('kits elsewhere', () => {
  test('into another project go the kit, what it takes in, and the dials that its formulas name', async () => {
    const d = project();
    addDial(d, dial('tall', 3));
    place(d, 'a', { height: { formula: 'tall' } });
    const content = contentOfPieces(d, ['a']);
    expect(content.pieces.map((p) => [p.name, p.visible, (p.dials ?? []).map((x) => x.name)])).toEqual([
      ['post', false, ['height', 'girth']],
      ['a', true, ['tall']],
    ]);
    const other = changes.newProject('Other', 'game', 'mm');
    for (let i = 0; i < 2; i++) insertContent(other, content);
    expect(new Set(other.pieces.flatMap((p) => (p.dials ?? []).map((x) => x.id))).size).toBe(6);
    for (const p of other.pieces.filter((x) => x.visible))
      expect((await follow(other, p.id)).volume).toBeCloseTo(0.12, 6);
  });
  test('a copy has dials of its own; a linked one goes by those it is linked to', async () => {
    const d = project();
    const [copy] = changes.copyPieces(d, ['post']);
    const [linked] = changes.copyPieces(d, ['post'], { linked: true });
    const made = d.pieces.find((p) => p.id === copy)!;
    setDial(d, made.dials![0].id, { value: 5 });
    expect((await follow(d, copy)).volume).toBeCloseTo(0.2, 6);
    expect((await follow(d, 'post')).volume).toBeCloseTo(0.04, 6);
    expect((await follow(d, linked)).volume).toBeCloseTo(0.04, 6);
  });
  test('merged, pieces go by their dials still; of two with one name the later stands as it is now', async () => {
    const d = project();
    const [copy] = changes.copyPieces(d, ['post']);
    setDial(d, d.pieces.find((p) => p.id === copy)!.dials![0].id, { value: 2 });
    changes.setPlace(d, copy, { at: [5, 0, 0] });
    changes.mergePieces(d, ['post', copy], 'both', 'm');
    expect((await follow(d, 'both')).volume).toBeCloseTo(0.04 + 0.08, 6);
    const both = d.pieces.find((p) => p.id === 'both')!;
    setDial(d, both.dials!.find((x) => x.name === 'height')!.id, { value: 3 });
    expect((await follow(d, 'both')).volume).toBeCloseTo(0.12 + 0.08, 6);
  });
});

describe('editions of a kit', () => {
  /** What the library would hold of a piece as it is now. */
  const kept = (d: ProjectDocument, edition = d.pieces[0].edition!) =>
    checkContent('post', structuredClone({ ...contentOfPieces(d, ['post']), edition }));

  test('each time a kit is kept it is the next edition, also where the library has gone on without this project', () => {
    const d = project();
    expect(nextEdition(d, 'post', [], 'k1')).toEqual({ kit: 'k1', number: 1 });
    expect(nextEdition(d, 'post', [{ kit: 'k1', number: 1 }, undefined], 'other')).toEqual({ kit: 'k1', number: 2 });
    expect(
      nextEdition(
        d,
        'post',
        [
          { kit: 'k1', number: 7 },
          { kit: 'k2', number: 40 },
        ],
        'x',
      ).number,
    ).toBe(8);
    expect(kept(d).edition).toEqual({ kit: 'k1', number: 8 });
    // What says it is an edition of what it does not hold is not believed.
    expect(kept(d, { kit: 'k9', number: 1 }).edition).toBeUndefined();
  });

  test('another edition takes the place of the one that is here: placements and what they turned stay', async () => {
    const maker = project();
    nextEdition(maker, 'post', [], 'k1');
    const first = kept(maker);
    // Elsewhere: placed, one of them turned.
    const d = changes.newProject('Pier', 'game', 'm');
    const [kit] = insertContent(d, first);
    placeKit(d, kit, 'a', 'a-kit');
    placeKit(d, kit, 'b', 'b-kit');
    setOwn(d, 'b', 'b-kit', 'height', 2);
    const had = d.pieces.find((p) => p.id === kit)!.dials!.map((x) => x.id);
    expect((await follow(d, 'a')).volume).toBeCloseTo(0.04, 6);
    // The maker goes on: wider, a new dial, a text.
    setDial(maker, 'dial-girth', { value: 0.4 });
    addDial(maker, dial('sink', 0), 'post');
    changes.setPiece(maker, 'post', { about: 'A post for lines.' });
    nextEdition(maker, 'post', [], 'k1');
    const second = kept(maker);
    const h = new History(checkDocument(structuredClone(d)));
    h.change('take', (x) => takeEdition(x, kit, second));
    const now = h.document;
    expect((await follow(now, 'a')).volume).toBeCloseTo(0.16, 6);
    expect((await follow(now, 'b')).volume).toBeCloseTo(0.32, 6);
    const piece = now.pieces.find((p) => p.id === kit)!;
    expect(piece).toMatchObject({ about: 'A post for lines.', edition: { kit: 'k1', number: 2 }, name: 'post' });
    expect(piece.dials!.slice(0, 2).map((x) => x.id)).toEqual(had);
    expect(now.pieces).toHaveLength(d.pieces.length);
    checkDocument(structuredClone(now));
    // And back again, by undo and by the first edition.
    h.undo();
    expect((await follow(h.document, 'a')).volume).toBeCloseTo(0.04, 6);
    const back = structuredClone(now);
    takeEdition(back, kit, first);
    expect((await follow(back, 'b')).volume).toBeCloseTo(0.08, 6);
  });

  test('what is no edition of it is refused, and nothing is changed', () => {
    const d = project();
    nextEdition(d, 'post', [], 'k1');
    const other = project();
    nextEdition(other, 'post', [], 'k2');
    const before = structuredClone(d);
    expect(() => takeEdition(d, 'post', kept(other))).toThrow('no edition');
    expect(() => takeEdition(d, 'post', contentOfPieces(other, ['post']))).toThrow('no edition');
    expect(d).toEqual(before);
  });
});
