/** Picks that follow from others: found on the page where that is quick, in the worker where it is not. */
import { answer, type Found, type PickQuery } from '../../../core/pick';
import { session } from '../session';
import { bench, say } from '../store';

/** Of more faces than this no frame of the page could be spared to go through all of them. */
const QUICK = 50_000;
/** An answer to a question that was overtaken by the next is dropped. */
let turn = 0;

export function askPick(query: PickQuery, then: (found: Found) => void): void {
  const { mesh, edited } = bench.get();
  if (!mesh) return;
  const own = ++turn;
  const { crew } = session;
  if (mesh.faceCount <= QUICK || !crew || !edited) {
    then(answer(mesh, query));
    return;
  }
  crew.ask('pick', { ...query, of: edited.hash }).then(
    (found) => {
      if (found && own === turn && bench.get().mesh === mesh) then(found);
    },
    (e: Error) => say(e.message),
  );
}
