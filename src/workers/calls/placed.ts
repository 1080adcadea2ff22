import { pinsOf, type HandPlaces } from '../../core/uv';
import { ownerOf } from '../../core/recipe';
import type { OfSheet } from '../../document/changes';
import type { AtStep } from './afterStep';
import { defineCall } from './define';

/**
 * Of what is being worked on: faces that took over what was placed on the sheet by hand on others that are gone, by
 * key, with the keys of those.
 */
export const placed = defineCall(
  ({ doc, edited, memory }, { piece, step, sheet }: AtStep & { sheet: OfSheet }): [number, number[]][] => {
    const held = doc.pieces.find((p) => p.id === piece)?.recipe.find((s) => s.id === step);
    const hand = held?.values[sheet] as HandPlaces | undefined;
    if (!edited || !hand) return [];
    const { from } = pinsOf(edited, hand, memory.witnesses.of(ownerOf(held!, sheet)));
    return [...from].map(([face, keys]) => [edited.faceKey[face], keys]);
  },
);
