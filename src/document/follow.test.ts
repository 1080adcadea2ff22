/**
 * Documents followed: pieces that take in others, wherever they stand; and what steps name, by the kinds of their
 * values.
 */
import { volumeOf } from '../core/mesh';
import { boundsOfGeometry } from '../core/geometry';
import { Memory } from '../core/recipe';
import { addPiece, addStep, copyPieces, newProject, removePieces, setPlace, setPiece } from './changes';
import { followDocument } from './follow';
import { asDocument, contentOfPieces, insertContent } from './library';
import { blobsOf, referencesIn, renameReferences } from './references';
import { checkDocument } from './schema';
import type { Piece, ProjectDocument } from './types';

const box = { width: 2, height: 2, depth: 2, onGround: false };
function two(): ProjectDocument {
  const doc = newProject('Two');
  for (const id of ['a', 'b']) {
    addPiece(doc, id, id, null);
    addStep(doc, id, 'box', `${id}-box`, box);
  }
  addStep(doc, 'a', 'join', 'a-join', { other: 'b' });
  return doc;
}
const piece = (doc: ProjectDocument, id: string): Piece => doc.pieces.find((p) => p.id === id)!;
const follow = async (doc: ProjectDocument, id = 'a', memory = new Memory()) =>
  (await followDocument(doc, { memory }).piece(piece(doc, id))).shown!;

describe('a piece that takes in another', () => {
  test('has it where it stands, seen from where it stands itself', async () => {
    const doc = two();
    setPlace(doc, 'b', { at: [5, 0, 0] });
    expect(boundsOfGeometry((await follow(doc)).geometry)).toMatchObject({ min: [-1, -1, -1], max: [6, 1, 1] });
    setPlace(doc, 'a', { at: [5, 3, 0], size: [2, 2, 2] });
    expect(boundsOfGeometry((await follow(doc)).geometry)).toMatchObject({ min: [-1, -2, -1], max: [1, 1, 1] });
    setPlace(doc, 'b', { size: [-1, 1, 1] });
    expect(volumeOf((await follow(doc)).mesh)).toBeCloseTo(8 + 1, 4); // mirrored, it still looks outwards
  });
  test('follows what the other becomes, and remembers while it is as it was', async () => {
    const doc = two();
    const memory = new Memory();
    const before = await follow(doc, 'a', memory);
    expect((await follow(doc, 'a', memory)).took).toBe(0);
    piece(doc, 'b').recipe[0].values.cutX = 3;
    const after = await follow(doc, 'a', memory);
    expect(after.mesh.faceCount - before.mesh.faceCount).toBe(8);
  });
  test('round in a circle is refused in a sentence, by whatever way, and the rest goes on', async () => {
    const doc = two();
    addStep(doc, 'b', 'join', 'b-join', { other: 'a' });
    const out = await follow(doc);
    expect(out.error).toMatch(/cannot take it in/);
    expect(out.mesh.faceCount).toBe(6);
    piece(doc, 'a').recipe[1].values.other = 'a';
    expect((await follow(doc)).error).toMatch(/cannot take it in/);
  });
  test('whatever piece is asked for first, a circle gives each the same', async () => {
    const doc = two();
    addStep(doc, 'b', 'join', 'b-join', { other: 'a' });
    const memory = new Memory();
    const one = followDocument(doc, { memory });
    const first = (await one.piece(piece(doc, 'a'))).shown!.mesh.faceCount;
    await one.piece(piece(doc, 'b'));
    const other = followDocument(doc, { memory: new Memory() });
    await other.piece(piece(doc, 'b'));
    expect((await other.piece(piece(doc, 'a'))).shown!.mesh.faceCount).toBe(first);
  });
  test('one that is gone is told, and comes back with an undo', async () => {
    const doc = two();
    const gone = structuredClone(doc);
    removePieces(gone, ['b']);
    const out = await follow(gone);
    expect(out.error).toMatch(/no longer there/);
    expect(out.mesh.faceCount).toBe(6);
    expect((await follow(doc)).mesh.faceCount).toBe(12);
  });
  test('stops at the marker, or follows beyond it', async () => {
    const doc = two();
    setPiece(doc, 'a', { upTo: 'a-box' });
    const at = await followDocument(doc, { memory: new Memory() }).piece(piece(doc, 'a'));
    expect([at.outcomes.length, at.shown!.mesh.faceCount]).toEqual([1, 6]);
    const beyond = await followDocument(doc, { memory: new Memory(), beyond: true }).piece(piece(doc, 'a'));
    expect([beyond.outcomes.length, beyond.shown!.mesh.faceCount]).toEqual([2, 6]);
  });
});

describe('what steps name', () => {
  const laden = (): ProjectDocument => {
    const doc = two();
    doc.materials.push({ id: 'm1', name: 'Tar', color: '#111111', roughness: 1, metalness: 0 });
    addStep(doc, 'a', 'color', 'a-color', { base: 'm1', colors: [{ material: 'm1', keys: [1] }] });
    const sha = 'a'.repeat(64);
    const inner = { id: 'i', kind: 'brought-in', on: true, values: { blob: sha, slots: { Tar: 'm1' } } };
    const part = { id: 'q', name: 'q', recipe: [inner], place: [1, 0, 0, 0, 0, 1, 0, 0, 0, 0, 1, 0] };
    addPiece(doc, 'c', 'c', null);
    addStep(doc, 'c', 'merged', 'c-merged', { parts: [part] });
    return doc;
  };
  test('is found through every step, moves and recipes within recipes among them', () => {
    const doc = laden();
    expect(referencesIn(piece(doc, 'a').recipe)).toEqual([
      { to: 'piece', id: 'b' },
      { to: 'material', id: 'm1' },
      { to: 'material', id: 'm1' },
    ]);
    expect(referencesIn(piece(doc, 'c').recipe)).toEqual([
      { to: 'blob', id: 'a'.repeat(64) },
      { to: 'material', id: 'm1' },
    ]);
    expect([...blobsOf(doc)]).toEqual(['a'.repeat(64)]);
    expect(checkDocument(doc).pieces).toHaveLength(3);
  });
  test('is renamed everywhere, and nothing else is: a word that only looks like an id stays', () => {
    const doc = laden();
    piece(doc, 'a').recipe.push({ id: 't', kind: 'texture', on: true, values: { name: 'm1', size: '512', bleed: 8 } });
    const to = renameReferences(piece(doc, 'a').recipe, (r) => `${r.to}:${r.id}`);
    expect(to[1].values.other).toBe('piece:b');
    expect(to[2].values).toMatchObject({ base: 'material:m1', colors: [{ material: 'material:m1', keys: [1] }] });
    expect(to[3].values.name).toBe('m1');
    expect(referencesIn(renameReferences(piece(doc, 'c').recipe, (r) => `${r.id}!`)).map((r) => r.id)).toEqual([
      `${'a'.repeat(64)}!`,
      'm1!',
    ]);
  });
  test('a piece of the library takes in its own neighbour, not one of the project it came from', () => {
    const doc = laden();
    const content = contentOfPieces(doc, ['a', 'b']);
    expect(content.materials.map((m) => m.id)).toEqual(['m1']);
    const other = newProject('Other');
    const tops = insertContent(other, structuredClone(asDocument('x', content)));
    const a = other.pieces.find((p) => p.id === tops[0])!;
    expect(a.recipe[1].values.other).toBe(tops[1]);
    expect(other.materials.map((m) => m.id)).toContain(a.recipe[2].values.base);
  });
  test('a copy of both takes in the copy', () => {
    const doc = laden();
    const made = copyPieces(doc, ['a', 'b'], { linked: false });
    expect(made).toHaveLength(2);
    const a = piece(doc, made[0]);
    expect(a.recipe[1].values.other).toBe(made[1]);
    const alone = copyPieces(doc, ['a'], { linked: false });
    expect(piece(doc, alone[0]).recipe[1].values.other).toBe('b');
  });
});
