import { type Seen, seenOf } from '../../core/recipe';
import { defineCall } from './define';

/** Where the picks of a piece's recipe were seen, of those that do not say it themselves. */
export const whereabouts = defineCall((host, { piece }: { piece: string }): Seen[] => {
  const p = host.doc.pieces.find((x) => x.id === piece);
  return p ? seenOf(p.recipe, host.memory.witnesses) : [];
});
