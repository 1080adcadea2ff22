/** Looking at what a step gives while a key is held over it; and two steps pinned to be compared. */
import { session } from './session';
import { bench } from './store';

const KEY = 'e';
let over: string | null = null;

const typing = (t: EventTarget | null): boolean =>
  t instanceof HTMLElement && t.closest('input, textarea, select') !== null;

function show(step: string | null): void {
  if (bench.get().peek === step) return;
  bench.set({ peek: step });
  session.refresh();
}

/** The step that the pointer is over; null for none. */
export function hoverStep(step: string | null): void {
  over = step;
  if (bench.get().peek !== null) show(step);
}

/** While the key is down over a step, the view shows what that step gives. */
export function watchPeek(): () => void {
  const down = (e: KeyboardEvent) => {
    if (e.key.toLowerCase() !== KEY || e.ctrlKey || e.metaKey || e.altKey || over === null || typing(e.target)) return;
    e.preventDefault();
    e.stopPropagation();
    show(over);
  };
  const up = (e: KeyboardEvent) => {
    if (e.key.toLowerCase() === KEY) show(null);
  };
  const leave = () => show(null);
  window.addEventListener('keydown', down, true);
  window.addEventListener('keyup', up, true);
  window.addEventListener('blur', leave);
  return () => {
    window.removeEventListener('keydown', down, true);
    window.removeEventListener('keyup', up, true);
    window.removeEventListener('blur', leave);
  };
}

/** Pins a step; the second that is pinned is compared with the first. */
export function pinStep(step: string): void {
  const had = bench.get().pinned.filter((x) => x !== step);
  const pinned = [...had, step].slice(-2);
  bench.set({ pinned, ...(pinned.length === 2 ? { over: 'compare' } : {}) });
}
