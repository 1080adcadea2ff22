/** The pointer tools, in the order in which they are asked whether they take a press. */
import { bench } from '../../store';
import type { Viewer } from '../viewer';
import type { Marks, PointerAt, PointerTool } from './define';
import { brush } from './brush';
import { handle } from './handle';
import { orbit } from './orbit';
import { pick } from './pick';
import { points } from './points';
import { wall } from './wall';

export type { Marks, PointerAt } from './define';
export { watchSpace } from './held';

/** Who has the pointer: one machine from press to release, and whoever hovers meanwhile. */
export class Pointers {
  private readonly tools: readonly PointerTool[];
  private active: PointerTool | null = null;
  private frame = 0;

  constructor(
    private readonly viewer: Viewer,
    marks: Marks,
  ) {
    this.tools = [orbit, points, wall, brush, handle, pick].map((make) => make(viewer, marks));
  }

  get dragging(): boolean {
    return this.active !== null;
  }

  down(p: PointerAt): void {
    this.active?.cancel();
    this.active = this.tools.find((t) => t.down(p)) ?? null;
  }

  move(p: PointerAt): void {
    if (this.active) {
      this.active.move(p);
      return;
    }
    // Hovering asks rays of large pieces: at most once a frame.
    cancelAnimationFrame(this.frame);
    this.frame = requestAnimationFrame(() => {
      const { view, shading } = bench.get();
      const { camera, pane } = this.viewer;
      if (camera.view !== view || pane.shading !== shading) bench.set({ view: camera.view, shading: pane.shading });
      this.tools.find((t) => t.hover?.(p));
    });
  }

  up(p: PointerAt): void {
    const tool = this.active;
    this.active = null;
    tool?.up(p);
  }

  cancel(): void {
    this.active?.cancel();
    this.active = null;
  }

  leave(): void {
    cancelAnimationFrame(this.frame);
    this.viewer.hover(null);
  }
}
