/** Several pieces on one sheet, as steps of their recipes. */
import { uvSetCalled, UV } from '../core/mesh';
import type { SharedLayout } from '../core/recipe/values';
import type { HandPlaces } from '../core/uv/follow/placed';
import { addStep, newId, releasePlaces, removeStep } from './changes';
import { sourceOf, withChildren, type Draft } from './tree';
import type { Piece, Step } from './types';

const isMain = (step: Step): boolean => uvSetCalled(String(step.values.set ?? '')) === UV;

/** The step that lays a piece's main UV set out; put in, before anything that colours, where there is none. */
export function unwrapStepIn(doc: Draft, piece: Piece, id = newId()): Step {
  const had = piece.recipe.findLast((x) => x.kind === 'unwrap' && isMain(x));
  if (had) return had;
  // The texture needs UVs.
  const before = piece.recipe.findIndex((x) => x.kind === 'color' || x.kind === 'texture');
  const at = before < 0 ? piece.recipe.length : before;
  addStep(doc, piece.id, 'unwrap', id, {}, piece.recipe[at - 1]?.id);
  return piece.recipe.find((x) => x.id === id)!;
}

/**
 * Lays pieces, and those in groups among them, on one sheet: each gets a step after its unwrap step that packs the
 * islands of all. Sheets they shared before are left. Throws one sentence for fewer than two.
 */
export function shareSheet(doc: Draft, ids: readonly string[]): void {
  const tree = withChildren(doc, ids);
  const sources = new Set(doc.pieces.filter((p) => tree.has(p.id) && p.kind === 'mesh').map((p) => sourceOf(doc, p)));
  const pieces = [...sources].filter((p) => p.recipe.length > 0);
  if (pieces.length < 2) throw new Error('Pick two pieces or more to lay them on one sheet.');
  for (const p of pieces) leaveSheet(doc, p);
  const unwraps = pieces.map((p) => unwrapStepIn(doc, p));
  const sizes = unwraps.map((u) => Number(u.values.size));
  const [widest] = unwraps.slice().sort((a, b) => Number(b.values.size) - Number(a.values.size));
  const { padding, turn } = widest.values;
  const pixels = unwraps.some((u) => u.values.pixels === true);
  pieces.forEach((p, k) => {
    const layouts = pieces.map((other, i): SharedLayout => ({
      piece: other.id,
      step: unwraps[i].id,
      ...(other === p ? { own: true } : {}),
    }));
    addStep(
      doc,
      p.id,
      'share',
      newId(),
      { layouts, size: `${Math.max(...sizes)}`, padding, turn, pixels },
      unwraps[k].id,
    );
  });
}

/** The piece has its sheet for itself again. Where its islands were placed on the other is forgotten. */
export function leaveSheet(doc: Draft, piece: Piece): void {
  for (const step of piece.recipe.filter((x) => x.kind === 'share' && isMain(x))) {
    releaseShared(doc, step, piece.id);
    removeStep(doc, piece.id, step.id);
  }
}

/** What was placed by hand on a sheet that is shared is given back, of one of its pieces or of all. */
export function releaseShared(doc: Draft, share: Step, piece?: string): void {
  for (const at of share.values.layouts as readonly SharedLayout[]) {
    const step = doc.pieces.find((p) => p.id === at.piece)?.recipe.find((s) => s.id === at.step);
    const placed = step?.values.shared as HandPlaces | undefined;
    if ((piece ?? at.piece) === at.piece && placed?.face.length)
      releasePlaces(doc, at.piece, at.step, undefined, 'shared');
  }
}
