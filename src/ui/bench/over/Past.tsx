'use client';
/**
 * What was done, the last on top: a click goes back to just after it, or forward again. With small pictures of how it
 * looked.
 */
import { formatDistanceToNow } from 'date-fns';
import { Dialog } from '../../parts/Dialog';
import { session } from '../session';
import { bench, useBench } from '../store';

export function Past() {
  useBench((s) => s.document);
  const close = () => bench.set({ over: null });
  const { entries, done } = session.past();
  return (
    <Dialog title="What was done" onClose={close} width={440}>
      <ol className="scroll-thin max-h-[60vh] overflow-y-auto" aria-label="Changes, the last first">
        {[...entries].reverse().map((e, k) => {
          const i = entries.length - k;
          const undone = i > done;
          return (
            <li key={i}>
              <button
                className={
                  'flex w-full items-center gap-3 rounded-md px-2 py-1.5 text-left hover:bg-wash ' +
                  `${i === done ? 'bg-wash font-semibold' : ''} ${undone ? 'opacity-55' : ''}`
                }
                aria-current={i === done ? 'step' : undefined}
                onClick={() => session.goTo(i)}
              >
                <Picture of={e.picture} />
                <span className="flex-1 first-letter:uppercase">{e.label}</span>
                <span className="quiet text-[11px] font-normal">
                  {undone ? 'undone' : formatDistanceToNow(e.at, { addSuffix: true })}
                </span>
              </button>
            </li>
          );
        })}
        <li>
          <button
            className={
              'flex w-full items-center gap-3 rounded-md px-2 py-1.5 text-left hover:bg-wash ' +
              `${done === 0 ? 'bg-wash font-semibold' : ''}`
            }
            aria-current={done === 0 ? 'step' : undefined}
            onClick={() => session.goTo(0)}
          >
            <Picture of={undefined} />
            As it was opened
          </button>
        </li>
      </ol>
      {entries.length === 0 && <p className="quiet mt-2">Nothing has been done since it was opened.</p>}
    </Dialog>
  );
}

const Picture = ({ of }: { of: string | undefined }) =>
  of ? (
    <img src={of} alt="" width={72} height={48} className="h-12 w-[72px] rounded border border-line object-cover" />
  ) : (
    <span className="h-12 w-[72px] rounded border border-dashed border-line" />
  );
