/** Shape by hand: direct edits, kept as moves. Every move's result is remembered, so while one is dragged only that one runs. */
import { keyOf, textHash } from '../math/hash';
import { resolve } from '../mesh/picks';
import { canonical } from '../recipe/canonical';
import { defineStep } from '../recipe/define';
import { moveDef } from '../recipe/moves';
import { complete, moves } from '../recipe/values';

export const shape = defineStep({
  kind: 'shape',
  title: 'Shape by hand',
  sentence: ', {moves}',
  takes: 'mesh',
  help: 'Pick vertices, edges or faces and move, extrude, cut …',
  values: { moves: moves('moves') },
  run: ({ mesh }, { moves: list }, context) => {
    let now = mesh,
      hash = 'start',
      lost = 0,
      lostMoves = 0;
    list.forEach((move, i) => {
      context.progress(i / list.length);
      const def = moveDef(move.tool);
      if (!def) {
        context.warn(`Move ${i + 1} is of a kind this version does not know (“${move.tool}”). It was passed over.`);
        return;
      }
      hash = textHash(`${hash}|${canonical(move)}`);
      const before = now;
      const picked = resolve(before, move.pick);
      if (picked.lost.length) {
        lost += picked.lost.length;
        lostMoves++;
      }
      if (picked.indices.length === 0) return;
      try {
        now = context.remember(hash, () =>
          def.run(
            before,
            { kind: move.pick.kind, indices: picked.indices },
            complete(def.values, move.values),
            keyOf(move.id),
          ),
        );
      } catch (e) {
        context.warn(
          `Move ${i + 1}, ${def.title.toLowerCase()}: ${e instanceof Error ? e.message : 'it could not be done.'}`,
        );
      }
    });
    if (lost)
      context.warn(
        `${lostMoves} of ${list.length} moves lost ${lost} of what ${lostMoves === 1 ? 'it' : 'they'} picked, by a change before this step. They come back if that change is undone.`,
      );
    return now;
  },
});
