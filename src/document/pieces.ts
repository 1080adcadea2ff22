/**
 * Changes to the tree of pieces: adding, ordering, copying, mirroring. Each takes a draft and alters it.
 */
import type { ElementPick } from '../core/mesh';
import {
  type Affine,
  type Axis,
  IDENTITY,
  NO_PLACE,
  type Place,
  compose,
  invert,
  scaling,
  translation,
} from '../core/math';
import { type Move, type Seen, holdingOf, sumOf } from '../core/recipe';
import type { Piece, Step } from './types';
import { type Draft, namer, pieceOf, plain, topmost, uniqueName, withChildren } from './tree';
import { newId } from './ids';
import { pivotOf, placeInWorld, worlds } from './placing';
import { renameInDials, renameReferences } from './references';
import { swapSides } from './names';
import { withFreshIds } from './dials';

export const blank = (id: string, name: string, kind: Piece['kind'], parent: string | null): Piece => ({
  id,
  name,
  kind,
  parent,
  link: null,
  recipe: [],
  place: plain(NO_PLACE),
  visible: true,
  locked: false,
  ghost: false,
  upTo: null,
  smooth: kind === 'mesh' ? 0.52 : 0,
});

export function addPiece(
  doc: Draft,
  id: string,
  name: string,
  parent: string | null = null,
  recipe: Step[] = [],
  place?: Place,
): void {
  doc.pieces.push({
    ...blank(id, uniqueName(doc, name), 'mesh', parent),
    recipe,
    ...(place ? { place: plain(place) } : {}),
  });
}

export function addGroup(doc: Draft, id: string, name: string, parent: string | null = null, place?: Place): void {
  doc.pieces.push({ ...blank(id, uniqueName(doc, name), 'group', parent), ...(place ? { place: plain(place) } : {}) });
}

export function renamePiece(doc: Draft, id: string, name: string): void {
  const p = pieceOf(doc, id);
  if (name.trim() && name !== p.name) {
    p.name = '';
    p.name = uniqueName(doc, name.slice(0, 200));
  }
}

/**
 * Removes pieces with all in them. What is linked to a removed piece inherits its recipe: the first becomes what the
 * others follow.
 */
export function removePieces(doc: Draft, ids: readonly string[]): void {
  const gone = withChildren(doc, ids);
  const heir = new Map<string, string>();
  for (const p of doc.pieces) {
    if (gone.has(p.id) || p.link === null || !gone.has(p.link)) continue;
    const had = heir.get(p.link);
    if (had !== undefined) {
      p.link = had;
      continue;
    }
    heir.set(p.link, p.id);
    const source = pieceOf(doc, p.link);
    Object.assign(p, { recipe: plain(source.recipe), upTo: source.upTo, smooth: source.smooth, link: null });
  }
  doc.pieces = doc.pieces.filter((p) => !gone.has(p.id));
  doc.tapes = doc.tapes.filter((t) => !t.ends.some((e) => e.piece !== null && gone.has(e.piece)));
}
export const removePiece = (doc: Draft, id: string): void => removePieces(doc, [id]);

export function setPiece(doc: Draft, id: string, part: Partial<Piece>): void {
  Object.assign(pieceOf(doc, id), part);
}

// Order

/**
 * Puts pieces into a group (null: the top), before another piece or at the end. They stay where they stand in the
 * world.
 */
export function movePieces(
  doc: Draft,
  ids: readonly string[],
  parent: string | null,
  before: string | null = null,
): void {
  const tops = topmost(doc, ids);
  const moving = withChildren(doc, tops);
  if (parent !== null && (moving.has(parent) || pieceOf(doc, parent).kind !== 'group')) return;
  const world = new Map(worlds(doc));
  const moved = doc.pieces.filter((p) => moving.has(p.id));
  const rest = doc.pieces.filter((p) => !moving.has(p.id));
  let at = before !== null && !moving.has(before) ? rest.findIndex((p) => p.id === before) : -1;
  if (at < 0) at = rest.length;
  // Groups stand before what they hold, whatever was asked.
  if (parent !== null) at = Math.max(at, rest.findIndex((p) => p.id === parent) + 1);
  doc.pieces = [...rest.slice(0, at), ...moved, ...rest.slice(at)];
  for (const id of tops) {
    const p = pieceOf(doc, id);
    if (p.parent === parent) continue;
    p.parent = parent;
    placeInWorld(doc, id, world.get(id) ?? IDENTITY, world);
  }
}

export const setParent = (doc: Draft, id: string, parent: string | null): void => movePieces(doc, [id], parent);

/** A new group around pieces, where the first of them was. */
export function groupPieces(doc: Draft, ids: readonly string[], id: string, name: string): void {
  const tops = topmost(doc, ids);
  if (tops.length === 0) {
    addGroup(doc, id, name);
    return;
  }
  const first = pieceOf(doc, tops[0]);
  const at = doc.pieces.indexOf(first);
  doc.pieces.splice(
    at < 0 ? doc.pieces.findIndex((p) => p.id === first.id) : at,
    0,
    blank(id, uniqueName(doc, name), 'group', first.parent),
  );
  movePieces(doc, tops, id);
}

// Copies

export interface CopyOptions {
  linked?: boolean;
  makeId?: () => string;
  rename?: (name: string) => string;
}

/**
 * Copies pieces with all in them. Linked copies follow the recipe of what they were copied from. Answers the ids of the
 * new tops, in order.
 */
export function copyPieces(doc: Draft, ids: readonly string[], o: CopyOptions = {}): string[] {
  const makeId = o.makeId ?? newId;
  const tops = topmost(doc, ids);
  const tree = withChildren(doc, tops);
  const to = new Map([...tree].map((x) => [x, makeId()]));
  const name = namer(doc);
  const copies: Piece[] = [];
  for (const old of doc.pieces) {
    if (!tree.has(old.id)) continue;
    const p = plain(old);
    // Step and move ids seed keys: a copy keeps them, so its picks find the same places.
    let link = null;
    if (old.kind === 'mesh' && o.linked) link = old.link ?? old.id;
    else if (old.kind === 'mesh' && old.link !== null) link = to.get(old.link) ?? old.link;
    copies.push({
      ...p,
      id: to.get(p.id)!,
      parent: p.parent !== null && to.has(p.parent) ? to.get(p.parent)! : p.parent,
      link,
      // What was copied together goes on together: pieces taken in are those of the copy.
      recipe: link !== null ? [] : renameReferences(p.recipe, (r) => (r.to === 'piece' && to.get(r.id)) || r.id),
      upTo: link !== null ? null : p.upTo,
      ...(p.dials
        ? {
            dials:
              link !== null
                ? []
                : withFreshIds(
                    renameInDials(p.dials, (r) => (r.to === 'piece' && to.get(r.id)) || r.id),
                    makeId,
                  ),
          }
        : {}),
      name: name(o.rename ? o.rename(p.name) : p.name),
    });
  }
  doc.pieces.push(...copies);
  return tops.map((id) => to.get(id)!);
}
export const copyPiece = (doc: Draft, id: string, makeId: () => string = newId): string =>
  copyPieces(doc, [id], { makeId })[0];

/** A linked copy gets a recipe of its own, the same to begin with. */
export function makeOwn(doc: Draft, id: string): void {
  const p = pieceOf(doc, id);
  if (p.link === null) return;
  const source = pieceOf(doc, p.link);
  Object.assign(p, { recipe: plain(source.recipe), upTo: source.upTo, smooth: source.smooth, link: null });
}

export interface MirrorOptions extends CopyOptions {
  axis: Axis;
  across: 'world' | 'parent' | 'pivot';
  /** Front and rear are swapped in names too. */ frontRear?: boolean;
}

/**
 * Copies of pieces and their groups on the other side of a plane; side words in their names are swapped. Answers the
 * new tops.
 */
export function mirrorPieces(doc: Draft, ids: readonly string[], o: MirrorOptions): string[] {
  const tops = topmost(doc, ids);
  const made = copyPieces(doc, tops, { linked: o.linked, makeId: o.makeId, rename: (n) => swapSides(n, o.frontRear) });
  const flip = scaling(o.axis === 'x' ? -1 : 1, o.axis === 'y' ? -1 : 1, o.axis === 'z' ? -1 : 1);
  const now = worlds(doc);
  tops.forEach((id, i) => {
    const p = pieceOf(doc, id);
    const world = now.get(id) ?? IDENTITY;
    const parent = p.parent === null ? IDENTITY : (now.get(p.parent) ?? IDENTITY);
    let map: Affine = flip;
    if (o.across === 'parent') map = compose(parent, compose(flip, invert(parent)));
    if (o.across === 'pivot') {
      const [x, y, z] = pivotOf(doc, p, now);
      map = compose(translation(x, y, z), compose(flip, translation(-x, -y, -z)));
    }
    placeInWorld(doc, made[i], compose(map, world), now);
  });
  return made;
}

// Sets

/** Keeps a pick under a name; one of that name becomes this. */
export function keepSet(doc: Draft, piece: string, id: string, name: string, pick: ElementPick): void {
  const p = pieceOf(doc, piece);
  const sets = (p.sets ??= []);
  const had = sets.find((x) => x.name === name);
  if (had) had.pick = pick;
  else sets.push({ id, name, pick });
}
export function renameSet(doc: Draft, piece: string, id: string, name: string): void {
  const set = pieceOf(doc, piece).sets?.find((x) => x.id === id);
  if (set && name.trim()) set.name = name.trim();
}
export function removeSet(doc: Draft, piece: string, id: string): void {
  const p = pieceOf(doc, piece);
  p.sets = p.sets?.filter((x) => x.id !== id);
  if (p.sets?.length === 0) delete p.sets;
}

/** Keeps where picks were seen beside their keys; a pick that has changed since is left alone. */
export function noteSpots(doc: Draft, piece: string, seen: readonly Seen[]): void {
  const p = doc.pieces.find((x) => x.id === piece);
  for (const { step, value, move, at, count, sum, spots } of seen) {
    const held: unknown = p?.recipe.find((s) => s.id === step)?.values[value];
    let pick = held;
    if (move !== undefined) pick = (held as Move[] | undefined)?.find((m) => m.id === move)?.pick;
    else if (at !== undefined) pick = (held as unknown[] | undefined)?.[at];
    const names = holdingOf(pick)?.names;
    if (names?.length === count && sumOf(names) === sum) (pick as { spots?: string }).spots = spots;
  }
}
