/** Looking for what may be wrong, going from one place to the next, and putting right what can be. */
import { checkDef, type CheckDef } from '../../core/check';
import type { Checked, Fault } from '../../workers/calls/checks';
import { WorkCancelled } from '../../workers/link';
import { beginMove, keep, setPick } from './actions';
import { pickPieces } from './pieceActions';
import { session } from './session';
import { bench, say, workedOn } from './store';
import { viewer as ways } from './view/ways';

let running: AbortController | null = null;

/** The result that is worked on now, told from others. */
export const checkedNow = (): string => bench.get().edited?.hash ?? '';

/** Looks at what is worked on, or at the whole project. What was being looked at before is let go. */
export async function look({ deep = false, whole = false } = {}): Promise<void> {
  const s = bench.get();
  const piece = workedOn(s);
  const { crew } = session;
  const { document } = s;
  if (!crew || !document || (!whole && piece?.kind !== 'mesh')) return;
  running?.abort();
  const own = new AbortController();
  running = own;
  const of = checkedNow();
  const at = { of, deep, whole };
  if (deep || whole) bench.set({ checks: { ...at, list: [], share: 0 } });
  try {
    const list = await crew.long(
      document,
      'checks',
      { piece: whole ? null : piece!.id, step: whole ? null : (s.edited?.step ?? null), deep },
      {
        signal: own.signal,
        progress: (p) => {
          if (running === own && (deep || whole)) bench.set({ checks: { ...at, list: [], share: p.share ?? 0 } });
        },
      },
    );
    if (running === own) bench.set({ checks: { ...at, list, share: null } });
  } catch (e) {
    if (e instanceof WorkCancelled || own.signal.aborted) return;
    bench.set({ checks: null });
    say((e as Error).message);
  }
}

export function stopLooking(): void {
  running?.abort();
  running = null;
  bench.set({ checks: null });
}

/** Picks what a check found, or one of it, and goes there. */
export function pickFault(at: Checked, fault: Fault, one?: number): void {
  if (bench.get().piece !== at.piece) pickPieces([at.piece]);
  const keys = one === undefined ? Array.from(fault.keys) : [fault.keys[one]];
  bench.set({ mode: fault.kind });
  setPick(fault.kind, keys);
  if (one !== undefined) ways.see(false);
}

/** Puts right what was found, as a move. */
export function mendFault(at: Checked, fault: Fault): void {
  const mend = checkDef(fault.check)?.mend;
  if (!mend) return;
  pickFault(at, fault);
  if (!beginMove(mend.tool, { ...mend.values })) return;
  keep();
  setPick(fault.kind, []);
}

/** Whether what a check finds is a fault in a project of this kind. */
export const isWrong = (check: CheckDef, purpose: string): boolean =>
  (check.wrongFor as readonly string[]).includes(purpose);
