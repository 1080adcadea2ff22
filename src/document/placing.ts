/** Where pieces stand: in the world, in each other, and by their pivots. */
import { defaultsOf } from '../core/recipe';
import { determinant } from '../core/math/affine';
import { stepDef } from '../core/steps';
import {
  type Affine,
  type Axis,
  IDENTITY,
  NO_PLACE,
  type Place,
  type Triple,
  applyPoint,
  compose,
  invert,
  placeMatrix,
  placeOf,
  translation,
  turned,
} from '../core/math';
import type { Piece } from './types';
import { type Draft, pieceOf, plain, topmost } from './tree';

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

/** A point of the world in a piece's own space. */
export const toOwn = (doc: Pick2<Draft, 'pieces'>, id: string, at: Triple): [number, number, number] =>
  applyPoint(invert(worlds(doc).get(id) ?? IDENTITY), at);
