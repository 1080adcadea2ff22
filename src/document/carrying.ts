/** Pictures of materials carried over to another layout of a piece, as steps of its recipe. */
import { UV, uvSetCalled } from '../core/mesh';
import { addStep, newId, setValues } from './changes';
import { plain, type Draft } from './tree';
import { referencesIn } from './references';
import { unwrapStepIn } from './sharing';
import type { Piece, ProjectDocument, ProjectImage, Step } from './types';

const SIZES = [256, 512, 1024, 2048, 4096];
const onMain = ({ values }: Step): boolean => uvSetCalled(String(values.set ?? '')) === UV;

/** The step that draws a piece's pictures by a layout from before. */
export const carriedBy = (piece: Piece): Step | undefined =>
  piece.recipe.find((x) => x.kind === 'texture' && onMain(x) && !!x.values.pictures);

/** The first step that lays out its main UV set anew. */
export const firstUnwrap = (piece: Piece): Step | undefined =>
  piece.recipe.find((x) => x.kind === 'unwrap' && x.on && onMain(x));

/** The step before that which lays it out, or before which such a step would be put. */
export function beforeUnwrap(piece: Piece): Step | undefined {
  const first = firstUnwrap(piece) ?? piece.recipe.find((x) => x.kind === 'color' || x.kind === 'texture');
  return first ? piece.recipe[piece.recipe.indexOf(first) - 1] : piece.recipe.at(-1);
}

/**
 * Pictures that lie on the main UV set of a piece, by the materials that its steps name. `slots`: those that its
 * surface has from elsewhere, a file say.
 */
export function picturesOn(doc: ProjectDocument, piece: Piece, slots: readonly string[] = []): ProjectImage[] {
  const named = referencesIn(piece.recipe).flatMap((r) => (r.to === 'material' ? [r.id] : []));
  const worn = new Set([...named, ...slots]);
  const ids = new Set<string>();
  for (const { id, maps, laid } of doc.materials)
    if (worn.has(id))
      for (const [name, picture] of Object.entries(maps ?? {}))
        if (!laid?.[name as keyof typeof laid]?.set) ids.add(picture);
  return doc.images.filter((i) => ids.has(i.id));
}

/**
 * Has the pictures drawn anew by a texture step. `before`: the step by which they lie, after which the piece is laid
 * out anew; without one they lie as it is laid out now, and it is laid out by a step more from now on. Answers that
 * step's name, or undefined.
 */
export function carryPictures(
  doc: Draft,
  piece: Piece,
  pictures: readonly ProjectImage[],
  before?: string,
): string | undefined {
  let from = before;
  let again: string | undefined;
  if (from !== undefined) unwrapStepIn(doc, piece);
  else {
    const own = piece.recipe.findLast((x) => x.kind === 'unwrap' && onMain(x));
    if (!own) throw new Error('The piece is not laid out: its pictures lie on nothing.');
    from = own.id;
    again = newId();
    // What was placed and kept is what the pictures lie by: it stays with the first.
    const { placed: _placed, layout: _layout, ...values } = plain(own.values);
    addStep(doc, piece.id, 'unwrap', again, values, own.id);
  }
  const sheet = Number(piece.recipe.findLast((x) => x.kind === 'unwrap' && onMain(x))?.values.size ?? 0);
  const widest = Math.max(1, sheet || 0, ...pictures.map((i) => Math.max(i.width, i.height)));
  const size = String(SIZES.find((s) => s >= widest) ?? 4096);
  const had = piece.recipe.find((x) => x.kind === 'texture' && onMain(x));
  if (had) setValues(doc, piece.id, had.id, { pictures: from });
  else addStep(doc, piece.id, 'texture', newId(), { pictures: from, size });
  return again;
}

/** A piece from a file was laid out anew, and its pictures lie as the file had them. */
export const leavesPictures = (doc: ProjectDocument, piece: Piece, slots: readonly string[] = []): boolean =>
  piece.recipe[0]?.kind === 'brought-in' &&
  firstUnwrap(piece) !== undefined &&
  carriedBy(piece) === undefined &&
  picturesOn(doc, piece, slots).length > 0;
