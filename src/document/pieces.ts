/**
 * Changes to the tree of pieces: adding, ordering, copying, mirroring, merging, splitting, placing. Each takes a draft
 * and alters it.
 */
import { holdingOf, sumOf, type Seen } from '../core/recipe';
import { dialsFor, withFreshIds, worked } from './dials';
import { renameInDials, renameReferences } from './references';
import {
  compose,
  invert,
  placeMatrix,
  placeOf,
  NO_PLACE,
  rotation,
  scaling,
  translation,
  turned,
  applyPoint,
  IDENTITY,
  type Affine,
  type Axis,
  type Place,
  type Triple,
} from '../core/math';
import { determinant } from '../core/math/affine';
import type { ElementPick } from '../core/mesh';
import { type Move, defaultsOf } from '../core/recipe';
import { stepDef } from '../core/steps';
import { swapSides } from './names';
import { newId } from './ids';
import { sideTurn } from '../core/blueprint';
import type { Blueprint, Dial, Piece, ProjectDocument, Step } from './types';

export type Draft = ProjectDocument;

export const plain = <T>(value: T): T => JSON.parse(JSON.stringify(value)) as T;

export const pieceOf = (doc: Draft, id: string): Piece => {
  const p = doc.pieces.find((x) => x.id === id);
  if (!p) throw new Error('That piece is no longer there.');
  return p;
};

/** The piece whose recipe this one shows: itself, or what it is linked to. */
export const sourceOf = (doc: Draft, piece: Piece): Piece =>
  piece.link === null ? piece : (doc.pieces.find((p) => p.id === piece.link) ?? piece);

/** The names in use, to be asked many times. */
function namer(doc: Draft): (wanted: string) => string {
  const taken = new Set(doc.pieces.map((p) => p.name));
  const next = new Map<string, number>();
  return (wanted) => {
    let name = wanted.trim() || 'piece';
    const stem = name.replace(/ \d+$/, '');
    for (let i = next.get(stem) ?? 2; taken.has(name); i++) {
      name = `${stem} ${i}`;
      next.set(stem, i + 1);
    }
    taken.add(name);
    return name;
  };
}
export const uniqueName = (doc: Draft, wanted: string): string => namer(doc)(wanted);

const blank = (id: string, name: string, kind: Piece['kind'], parent: string | null): Piece => ({
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

export function addBlueprint(
  doc: Draft,
  id: string,
  name: string,
  blueprint: NonNullable<Piece['blueprint']>,
  turn: Triple = [0, 0, 0],
  parent: string | null = null,
): void {
  doc.pieces.push({
    ...blank(id, uniqueName(doc, name), 'blueprint', parent),
    place: { ...plain(NO_PLACE), turn: [...turn] as unknown as Triple },
    blueprint: plain(blueprint),
  });
}

export function renamePiece(doc: Draft, id: string, name: string): void {
  const p = pieceOf(doc, id);
  if (name.trim() && name !== p.name) {
    p.name = '';
    p.name = uniqueName(doc, name.slice(0, 200));
  }
}

/** The pieces and all that is in them. */
export function withChildren(doc: Draft, ids: string | readonly string[]): Set<string> {
  const out = new Set(typeof ids === 'string' ? [ids] : ids);
  for (const p of doc.pieces) if (p.parent !== null && out.has(p.parent)) out.add(p.id);
  return out;
}

/** Of several pieces those that are not inside another of them. */
export function topmost(doc: Draft, ids: Iterable<string>): string[] {
  const set = new Set(ids);
  const by = new Map(doc.pieces.map((p) => [p.id, p]));
  return doc.pieces
    .filter((p) => {
      if (!set.has(p.id)) return false;
      for (let q = p.parent; q !== null; q = by.get(q)?.parent ?? null) if (set.has(q)) return false;
      return true;
    })
    .map((p) => p.id);
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

// Places

/** The map from each piece's own space to the world. Groups stand before what they hold, so one pass is enough. */
export function worlds(doc: Pick2<Draft, 'pieces'>): Map<string, Affine> {
  const had = remembered.get(doc.pieces);
  if (had) return had;
  const out = new Map<string, Affine>();
  for (const p of doc.pieces) {
    const own = p.place === NO_PLACE ? IDENTITY : placeMatrix(p.place);
    const above = p.parent === null ? undefined : out.get(p.parent);
    out.set(p.id, above && above !== IDENTITY ? compose(above, own) : own);
  }
  if (Object.isFrozen(doc.pieces)) remembered.set(doc.pieces, out);
  return out;
}
const remembered = new WeakMap<readonly Piece[], Map<string, Affine>>();

/** How large a piece stands in the world, for one as it was made: on the mean of its three directions. */
export const worldSize = (doc: Pick2<Draft, 'pieces'>, id: string): number =>
  Math.cbrt(Math.abs(determinant(worlds(doc).get(id) ?? IDENTITY)));
type Pick2<T, K extends keyof T> = { [P in K]: T[P] };

/** Puts a piece where a world map says, whatever its parent. Its pivot stays where it is in the piece. */
export function placeInWorld(doc: Draft, id: string, world: Affine, now = worlds(doc)): void {
  const p = pieceOf(doc, id);
  const above = p.parent === null ? IDENTITY : (now.get(p.parent) ?? IDENTITY);
  p.place = withAxes(placeOf(compose(invert(above), world), p.place.pivot), p.place.axes);
}

/** One world map put on several pieces, with all in them: moved, turned or sized together. */
export function transformPieces(
  doc: Draft,
  ids: readonly string[],
  by: Affine | ((id: string, world: Affine) => Affine),
): void {
  const now = worlds(doc);
  for (const id of topmost(doc, ids)) {
    const world = now.get(id) ?? IDENTITY;
    placeInWorld(doc, id, compose(typeof by === 'function' ? by(id, world) : by, world), now);
  }
}

export function setPlace(doc: Draft, id: string, part: Partial<Place>): void {
  const p = pieceOf(doc, id);
  p.place = plain({ ...p.place, ...part });
}

/** Moves the pivot to a point of the world; the piece stays where it is, and so does all in it. */
export function setPivot(doc: Draft, id: string, at: Triple, now = worlds(doc)): void {
  const p = pieceOf(doc, id);
  const world = now.get(id) ?? IDENTITY;
  const own = applyPoint(invert(world), at);
  p.place = withAxes(placeOf(placeMatrix(p.place), own), p.place.axes);
}

const withAxes = (p: Place, axes: Triple | undefined): Place => plain(axes ? { ...p, axes } : p);

/** The axes of a piece's pivot, as a turn of the world's. */
export const pivotFrame = (piece: Piece, world: Affine): Affine => {
  const own = turned(placeOf(world).turn);
  return piece.place.axes ? compose(own, turned(piece.place.axes)) : own;
};

/** Turns the pivot's axes by a turn of the world; the piece and all in it stay. */
export function turnPivot(doc: Draft, id: string, by: Affine, now = worlds(doc)): void {
  const p = pieceOf(doc, id);
  const own = turned(placeOf(now.get(id) ?? IDENTITY).turn);
  p.place = withAxes(
    plain(p.place),
    placeOf(compose(invert(own), compose(by, pivotFrame(p, now.get(id) ?? IDENTITY)))).turn,
  );
}

/** Where a piece's pivot stands in the world. */
export const pivotOf = (doc: Pick2<Draft, 'pieces'>, piece: Piece, now = worlds(doc)): [number, number, number] =>
  applyPoint(now.get(piece.id) ?? IDENTITY, piece.place.pivot);

/**
 * Puts several pieces on one plane: their pivots come to a value along an axis of the world. With `pivots` the pivots
 * move and the pieces stay.
 */
export function alignPieces(doc: Draft, ids: readonly string[], axis: Axis, value: number, pivots = false): void {
  const k = 'xyz'.indexOf(axis);
  const now = worlds(doc);
  for (const id of pivots ? ids : topmost(doc, ids)) {
    const at = pivotOf(doc, pieceOf(doc, id), now);
    const to: [number, number, number] = [...at];
    to[k] = value;
    if (pivots) setPivot(doc, id, to, now);
    else
      placeInWorld(
        doc,
        id,
        compose(translation(to[0] - at[0], to[1] - at[1], to[2] - at[2]), now.get(id) ?? IDENTITY),
        now,
      );
  }
}

/** Spreads pieces evenly along an axis between the first and the last of them, by their pivots. */
export function distributePieces(doc: Draft, ids: readonly string[], axis: Axis): void {
  const k = 'xyz'.indexOf(axis);
  const now = worlds(doc);
  const list = topmost(doc, ids)
    .map((id) => ({ id, at: pivotOf(doc, pieceOf(doc, id), now) }))
    .sort((a, b) => a.at[k] - b.at[k]);
  if (list.length < 3) return;
  const lo = list[0].at[k];
  const hi = list[list.length - 1].at[k];
  list.forEach(({ id, at }, i) => {
    const d: [number, number, number] = [0, 0, 0];
    d[k] = lo + ((hi - lo) * i) / (list.length - 1) - at[k];
    if (d[k] !== 0) placeInWorld(doc, id, compose(translation(...d), now.get(id) ?? IDENTITY), now);
  });
}

/** Writes a piece's place into its recipe as a step, and puts the piece itself back at its parent's origin. */
export function bakePlacement(doc: Draft, id: string, stepId: string): void {
  const p = pieceOf(doc, id);
  if (p.kind !== 'mesh' || p.link !== null) return;
  const m = placeMatrix(p.place);
  const { at, turn, size, lean } = placeOf(m);
  const def = stepDef('place')!;
  p.recipe.push({
    id: stepId,
    kind: 'place',
    on: true,
    values: {
      ...defaultsOf(def.values),
      x: at[0],
      y: at[1],
      z: at[2],
      turnX: turn[0],
      turnY: turn[1],
      turnZ: turn[2],
      sizeX: size[0],
      sizeY: size[1],
      sizeZ: size[2],
      leanXY: lean[0],
      leanXZ: lean[1],
      leanYZ: lean[2],
    },
  });
  p.place = plain(placeOf(IDENTITY, applyPoint(m, p.place.pivot)));
  if (p.upTo !== null) p.upTo = null;
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

// Merge, split, detach

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

// Blueprints

/** A point of the world in a piece's own space. */
export const toOwn = (doc: Pick2<Draft, 'pieces'>, id: string, at: Triple): [number, number, number] =>
  applyPoint(invert(worlds(doc).get(id) ?? IDENTITY), at);

/**
 * A part of a blueprint's picture as a blueprint of its own, beside it, with the same calibration; its origin at the
 * frame's middle, low.
 */
export function cutBlueprint(doc: Draft, id: string, made: string, frame: [number, number, number, number]): void {
  const p = pieceOf(doc, id);
  const b = p.blueprint;
  if (!b) return;
  const [x0, y0, x1, y1] = frame.map((x, i) => Math.max(b.frame[i % 2], Math.min(b.frame[2 + (i % 2)], x)));
  addBlueprint(
    doc,
    made,
    p.name,
    { ...plain(b), frame: [x0, y0, x1, y1], origin: [(x0 + x1) / 2, y1], stations: [], rounds: [] },
    p.place.turn,
    p.parent,
  );
}

/** Ties a blueprint to the side it shows: turned to face it. */
export function setSide(doc: Draft, id: string, side: Blueprint['side']): void {
  const p = pieceOf(doc, id);
  if (!p.blueprint) return;
  p.blueprint.side = side;
  if (side !== 'free') p.place = { ...plain(p.place), turn: sideTurn(side) };
}

/**
 * Puts pieces with their pivots at a station of a blueprint, square to it: on the drawing where it is free to choose.
 */
export function placeAtStation(doc: Draft, blueprint: string, station: string, ids: readonly string[]): void {
  const p = pieceOf(doc, blueprint);
  const q = p.blueprint?.stations.find((s) => s.id === station);
  if (!q) throw new Error('That station is no longer there.');
  const now = worlds(doc);
  const m = now.get(blueprint) ?? IDENTITY;
  const origin = applyPoint(m, [0, 0, 0]);
  const at = applyPoint(m, q.along === 'u' ? [q.at, 0, 0] : [0, q.at, 0]);
  const way = at.map((x, k) => x - origin[k]);
  const far = applyPoint(m, q.along === 'u' ? [1, 0, 0] : [0, 1, 0]).map((x, k) => x - origin[k]);
  const l = Math.hypot(...far) || 1;
  const dir = far.map((x) => x / l);
  for (const id of topmost(doc, ids)) {
    // Only the distance along the drawing is the station's to say; where the piece stands across it is kept.
    const pivot = pivotOf(doc, pieceOf(doc, id), now);
    const has = pivot.reduce((s, x, k) => s + (x - origin[k]) * dir[k], 0);
    const wants = way.reduce((s, x, k) => s + x * dir[k], 0);
    placeInWorld(
      doc,
      id,
      compose(
        translation(dir[0] * (wants - has), dir[1] * (wants - has), dir[2] * (wants - has)),
        now.get(id) ?? IDENTITY,
      ),
      now,
    );
  }
}

/** A section curve where a round was laid on a blueprint: a piece of its own, facing as the drawing does. */
export function sectionFromRound(doc: Draft, blueprint: string, round: string, id: string, stepId: string): void {
  const p = pieceOf(doc, blueprint);
  const r = p.blueprint?.rounds.find((x) => x.id === round);
  if (!r) throw new Error('That round is no longer there.');
  const m = worlds(doc).get(blueprint) ?? IDENTITY;
  const above = p.parent === null ? IDENTITY : (worlds(doc).get(p.parent) ?? IDENTITY);
  const place = placeOf(compose(invert(above), compose(m, compose(translation(r.u, r.v, 0), rotation('z', r.turn)))));
  addPiece(
    doc,
    id,
    `${p.name} section`,
    p.parent,
    [
      {
        id: stepId,
        kind: 'section',
        on: true,
        values: { ...defaultsOf(stepDef('section')!.values), wide: 2 * r.a, high: 2 * r.b, facing: 'z' },
      },
    ],
    place,
  );
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
