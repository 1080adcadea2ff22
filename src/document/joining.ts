/** Pieces merged into one, split, and detached from each other. */
import type { ElementPick } from '../core/mesh';
import type { Move } from '../core/recipe';
import { IDENTITY, compose, invert, placeMatrix } from '../core/math';
import type { Dial, Step } from './types';
import { type Draft, pieceOf, plain, sourceOf, topmost, uniqueName, withChildren } from './tree';
import { addPiece, blank, movePieces, removePieces } from './pieces';
import { dialsFor, worked } from './dials';
import { newId } from './ids';
import { worlds } from './placing';

/** One piece of several, groups among them: each becomes a set inside, and keeps its recipe there. */
export function mergePieces(doc: Draft, ids: readonly string[], id: string, stepId: string): void {
  const tree = withChildren(doc, ids);
  const parts = doc.pieces.filter((p) => tree.has(p.id) && p.kind === 'mesh');
  if (parts.length < 2) throw new Error('Pick two pieces or more to merge them.');
  const tops = topmost(doc, ids);
  const first = pieceOf(doc, tops[0]);
  const world = worlds(doc);
  const parent = first.parent !== null && !tree.has(first.parent) ? first.parent : null;
  const above = parent === null ? IDENTITY : (world.get(parent) ?? IDENTITY);
  const base = compose(above, placeMatrix(first.place));
  const back = invert(base);
  // Dials of the parts become the whole's; of two with one name the later stands in its formulas as it is now.
  const dials: Dial[] = [];
  const list = parts.map((p) => {
    const source = sourceOf(doc, p);
    const taken = new Set([...dialsFor(doc, parent ?? undefined), ...dials].map((d) => d.name));
    const own = plain(source.dials ?? []);
    const clash = own.filter((d) => taken.has(d.name));
    dials.push(...own.filter((d) => !taken.has(d.name)));
    const end = source.upTo === null ? source.recipe.length : source.recipe.findIndex((s) => s.id === source.upTo) + 1;
    return {
      id: p.id,
      name: p.name,
      recipe: worked(plain(source.recipe.slice(0, end)), clash, doc),
      place: compose(back, world.get(p.id) ?? IDENTITY),
    };
  });
  const name = first.name;
  const place = plain(first.place);
  const at = doc.pieces.findIndex((p) => p.id === tops[0]);
  const smooth = sourceOf(doc, parts[0]).smooth;
  doc.pieces.splice(at, 0, {
    ...blank(id, '', 'mesh', parent),
    place,
    smooth,
    ...(dials.length > 0 ? { dials } : {}),
    recipe: [{ id: stepId, kind: 'merged', on: true, values: { parts: list } }],
  });
  // Drawings inside the groups have no faces to merge: they stay, beside the new piece.
  movePieces(
    doc,
    doc.pieces.filter((p) => tree.has(p.id) && p.kind === 'blueprint').map((p) => p.id),
    parent,
  );
  removePieces(doc, tops);
  pieceOf(doc, id).name = uniqueName(doc, name);
}

/** One wanted part of a split: its name, and what tells it. */
export interface SplitPart {
  name: string;
  by: 'part' | 'faces' | 'material' | 'set';
  faces?: ElementPick;
  set?: string;
}

/**
 * A piece becomes several, each the whole recipe and a last step that keeps its part. They stand in a group of the old
 * name.
 */
export function splitPiece(
  doc: Draft,
  id: string,
  parts: readonly SplitPart[],
  makeId: () => string = newId,
): string[] {
  const old = pieceOf(doc, id);
  const source = plain(sourceOf(doc, old));
  const group = makeId();
  const at = doc.pieces.findIndex((p) => p.id === id);
  if (parts.length < 2) throw new Error(`${old.name} is in one part already.`);
  const { place, parent, name } = plain(old);
  removePieces(doc, [id]);
  const dials = source.dials?.length ? { dials: source.dials } : {};
  doc.pieces.splice(at, 0, { ...blank(group, name, 'group', parent), place, ...dials });
  return parts.map((part) => {
    const piece = makeId();
    addPiece(doc, piece, part.name, group, [...plain(source.recipe), keepStep(makeId(), part)]);
    Object.assign(pieceOf(doc, piece), { smooth: source.smooth, upTo: null });
    return piece;
  });
}

const keepStep = (id: string, part: SplitPart): Step => ({
  id,
  kind: 'keep',
  on: true,
  values: {
    by: part.by,
    faces: part.faces ? (plain(part.faces) as unknown as object) : { kind: 'face', keys: [] },
    name: part.set ?? '',
  },
});

/**
 * Picked faces as a piece of their own: the recipe as far as `step`, and a last step that keeps them. Unless copied,
 * they are deleted from the old piece by a move in `step` (its "shape by hand").
 */
export function detachPiece(
  doc: Draft,
  id: string,
  step: string,
  faces: ElementPick,
  copy: boolean,
  ids: { piece: string; keep: string; move: string },
): void {
  const old = pieceOf(doc, id);
  const source = sourceOf(doc, old);
  const at = source.recipe.findIndex((s) => s.id === step);
  const recipe = plain(source.recipe.slice(0, at + 1));
  addPiece(
    doc,
    ids.piece,
    `${old.name} part`,
    old.parent,
    [...recipe, keepStep(ids.keep, { name: '', by: 'faces', faces })],
    old.place,
  );
  pieceOf(doc, ids.piece).smooth = source.smooth;
  if (!copy)
    (source.recipe[at].values.moves as Move[]).push({ id: ids.move, tool: 'delete', pick: plain(faces), values: {} });
}
