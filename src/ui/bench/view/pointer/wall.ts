import { bench, handOf } from '../../store';
import type { MakePointerTool } from './define';

/** Tells the thickness of the wall under the pointer. It takes no press: one picks as usual meanwhile. */
export const wall: MakePointerTool = (viewer, marks) => ({
  down: () => false,
  move: () => {},
  up: () => {},
  cancel: () => {},
  hover(p) {
    if (!handOf(bench.get(), 'wall')) return false;
    const found = viewer.wallAt(p.x, p.y);
    marks.pointer(p.frameX, p.frameY);
    bench.set({ hand: { kind: 'wall', thickness: found?.thickness ?? 0 } });
    return true;
  },
});
