/** Materials on faces, and textures made of them. */
import { beforeUnwrap, carriedBy, carryPictures, picturesOn } from '../../../document/carrying';
import * as changes from '../../../document/changes';
import { WorkCancelled } from '../../../workers/link';
import { refocus, session } from '../session';
import type { Piece } from '../../../document/types';
import { bench, say, workedOn } from '../store';

export function giveMaterial(material: string): void {
  const s = bench.get();
  const piece = workedOn(s);
  if (piece?.kind !== 'mesh') {
    say('Pick a piece first.');
    return;
  }
  const keys = s.mode !== 'piece' && s.pick.kind === 'face' ? s.pick.keys : [];
  let step = piece.recipe.findLast((x) => x.kind === 'color')?.id;
  session.change('colour', (d) => {
    if (!step) {
      step = changes.newId();
      const before = piece.recipe.find((x) => x.kind === 'texture');
      changes.addStep(
        d,
        piece.id,
        'color',
        step,
        {},
        before ? piece.recipe[piece.recipe.indexOf(before) - 1]?.id : undefined,
      );
    }
    changes.colorFaces(d, piece.id, step, material, keys);
  });
}

export function makeTexture(): void {
  const s = bench.get();
  const piece = workedOn(s);
  if (piece?.kind !== 'mesh') {
    say('Pick a piece first.');
    return;
  }
  if (!piece.recipe.some((x) => x.kind === 'unwrap')) {
    say('There are no UVs yet: unwrap the piece first.');
    return;
  }
  if (piece.recipe.some((x) => x.kind === 'texture')) {
    say('This piece has its texture; it follows every change.');
    return;
  }
  session.change('make texture', (d) => changes.addStep(d, piece.id, 'texture', changes.newId()));
}

/** Has the pictures of its materials drawn anew wherever the piece is laid out from now on. */
export async function carryOver(): Promise<void> {
  const { document, mesh } = bench.get();
  const piece = workedOn(bench.get());
  if (piece?.kind !== 'mesh' || !document) {
    say('Pick a piece first.');
    return;
  }
  const pictures = picturesOn(document, piece, mesh?.slots);
  if (pictures.length === 0) {
    say('Its materials show no pictures: there is nothing to carry over.');
    return;
  }
  if (carriedBy(piece)) {
    say('Its pictures are carried over already; they follow every change of the layout.');
    return;
  }
  let before: string | undefined;
  try {
    before = await lyingBefore(piece);
  } catch (e) {
    if (!(e instanceof WorkCancelled)) say((e as Error).message);
    return;
  }
  const now = workedOn(bench.get());
  if (now?.id !== piece.id) return;
  const had = bench.get().document;
  let step: string | undefined;
  session.change('carry the pictures over', (d) => {
    step = carryPictures(d, changes.pieceOf(d, piece.id), pictures, before);
  });
  // What cannot be done has been said.
  if (bench.get().document === had) return;
  if (step) bench.set({ step });
  refocus();
  say(
    step
      ? 'The pictures lie by the layout as it was; lay the piece out anew as you like, and they go along.'
      : 'The pictures are drawn anew: they lie by the layout from before it was unwrapped.',
  );
}

/** The step before that which lays a piece out, where it has a layout of its own there. */
async function lyingBefore(piece: Piece): Promise<string | undefined> {
  const step = beforeUnwrap(piece)?.id;
  if (!step || !session.crew) return undefined;
  return (await session.crew.ask('laidOut', { piece: piece.id, step })) ? step : undefined;
}
