import { pinsOf, type HandPlaces } from '../../core/uv';
import { ownerOf } from '../../core/recipe';
import { defineCall } from './define';

/**
 * Of what is being worked on: faces that took over what was placed on the sheet by hand on others that are gone, by
 * key, with the keys of those.
 */
export const placed = defineCall(
  ({ doc, edited, memory }, { piece, step }: { piece: string; step: string }): [number, number[]][] => {
    const held = doc.pieces.find((p) => p.id === piece)?.recipe.find((s) => s.id === step);
    if (!edited || !held) return [];
    const { from } = pinsOf(edited, held.values.placed as HandPlaces, memory.witnesses.of(ownerOf(held, 'placed')));
    return [...from].map(([face, keys]) => [edited.faceKey[face], keys]);
  },
);
