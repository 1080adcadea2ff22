/** Faces laid on the sheet in a frame that stands in the view, until that is kept or dropped. */
import type { Projection, Vector } from '../../../core/uv/edits/project';
import { session } from '../session';
import { bench, layingOut, say, workedOn, type ProjectingNow } from '../store';

/** One question at a time: what is asked meanwhile waits, and only the last of it is asked. */
let asked: ProjectingNow | null = null;
let busy = false;

async function ask(): Promise<void> {
  if (busy) return;
  busy = true;
  while (asked) {
    const now: ProjectingNow = asked;
    asked = null;
    try {
      const { faces, how, frame, size, wraps } = now;
      const found = await session.crew?.ask('projecting', { faces, how, frame, size, wraps });
      const still = bench.get().projecting;
      if (!found || !still || still.id !== now.id) continue;
      // A frame that was grabbed, or told otherwise, meanwhile stays as it is: it is asked for next.
      const answered = still.frame === frame && still.how === how;
      const part = answered ? { frame: found.frame, half: still.half ?? found.half } : {};
      bench.set({ projecting: { ...still, ...part, now: { faces: found.faces, uv: found.uv } } });
    } catch (e) {
      say((e as Error).message);
      endProjecting();
    }
  }
  busy = false;
}

let count = 0;

/** Begins with the frame that suits the faces best. */
export function beginProjecting(faces: readonly number[], how: Projection = 'plane'): void {
  const s = bench.get();
  const piece = workedOn(s);
  const step = layingOut(s);
  if (!piece || !step || faces.length === 0) {
    say('Pick faces on the sheet first.');
    return;
  }
  const fresh = { size: [1, 1, 1] as Vector, half: undefined, now: null };
  bench.set({
    handle: 'move',
    projecting: { id: ++count, piece: piece.id, step: step.id, faces, how, frame: undefined, wraps: 1, ...fresh },
  });
  asked = bench.get().projecting;
  void ask();
}

/** Another way, another frame: where the frame is told anew, it begins at its own size again. */
export function setProjecting(part: Partial<Pick<ProjectingNow, 'how' | 'frame' | 'half' | 'size' | 'wraps'>>): void {
  const now = bench.get().projecting;
  if (!now) return;
  const anew = 'how' in part || ('frame' in part && typeof part.frame !== 'object');
  const reset = anew ? { size: [1, 1, 1] as Vector, half: undefined, frame: undefined } : {};
  bench.set({ projecting: { ...now, ...reset, ...part } });
  asked = bench.get().projecting;
  void ask();
}

/** Ends it, and answers what came of it. */
export function endProjecting(): ProjectingNow | null {
  const { projecting } = bench.get();
  asked = null;
  if (projecting) bench.set({ projecting: null, handle: null });
  return projecting;
}
