/** The steps that lay out the sheet that is seen. */
import * as changes from '../../../document/changes';
import { unwrapStepIn } from '../../../document/sharing';
import { refocus, session } from '../session';
import { bench, layingOut, say, sharing, workedOn } from '../store';

export function unwrapStep(): { piece: string; step: string } | null {
  const s = bench.get();
  const piece = workedOn(s);
  if (piece?.kind !== 'mesh') {
    say('Pick a piece to unwrap first.');
    return null;
  }
  const had = layingOut(s);
  if (had) return { piece: piece.id, step: had.id };
  const id = changes.newId();
  session.change('unwrap', (d) => unwrapStepIn(d, changes.pieceOf(d, piece.id), id));
  bench.set({ step: id });
  refocus();
  return { piece: piece.id, step: id };
}

/** Which sheet is seen: that of the piece, or the one it shares with others. */
export const sheetSeen = (): changes.OfSheet => (sharing(bench.get()) ? 'shared' : 'placed');

/** The step after which the sheet is as it is seen. */
export function seenStep(): { piece: string; step: string } | null {
  const at = unwrapStep();
  const share = sharing(bench.get());
  return at && share ? { piece: at.piece, step: share.id } : at;
}

/** What is packed for one piece alone has no say on a sheet that it shares: that is said. */
export function ownSheetOnly(what: string): boolean {
  if (sheetSeen() === 'placed') return true;
  say(`${what} is for the sheet of one piece: see its own layout for that.`);
  return false;
}
