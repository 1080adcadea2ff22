import { bench } from '../../store';
import { held } from './held';
import type { MakePointerTool, PointerAt } from './define';

/** Less than this is a click. Pixels. */
const STILL = 3;

/**
 * Turning and shifting the view: right drag orbits, middle drag (or Shift and right, or Space held) pans; a right click
 * opens the menu.
 */
export const orbit: MakePointerTool = (viewer, marks) => {
  let last: PointerAt | null = null;
  let panning = false;
  let moved = 0;
  return {
    down(p) {
      panning = p.button === 1 || (p.button === 2 && p.shift) || (p.button === 0 && held.space);
      if (!panning && p.button !== 2) return false;
      last = p;
      moved = 0;
      return true;
    },
    move(p) {
      if (!last) return;
      const dx = p.x - last.x;
      const dy = p.y - last.y;
      last = p;
      moved += Math.abs(dx) + Math.abs(dy);
      if (moved <= STILL) return;
      if (panning) viewer.camera.pan(dx, dy);
      else viewer.camera.orbit(dx, dy);
      if (bench.get().view !== viewer.camera.view) bench.set({ view: viewer.camera.view });
      viewer.moved(true); // a drag is one view, however long it pauses
      viewer.invalidate();
    },
    up(p) {
      last = null;
      if (!panning && moved <= STILL) marks.menu({ x: p.frameX, y: p.frameY });
      else {
        viewer.moved();
        viewer.markAgain();
      }
    },
    cancel() {
      last = null;
      viewer.moved();
    },
  };
};
