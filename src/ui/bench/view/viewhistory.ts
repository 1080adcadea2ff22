/** Views to go back and forward to, of each pane by itself: those the camera rested in, not those it passed. */
import type { Camera, CameraState } from './camera';

/** A pane as far as its views go. */
export interface Viewing {
  readonly camera: Pick<Camera, 'state'>;
  past: CameraState[];
  future: CameraState[];
}

const MOST = 100;
/** The camera rests when it has not moved for so long, ms. */
const REST = 350;

export class ViewHistory {
  private timer: ReturnType<typeof setTimeout> | undefined;
  /** Where it stood before it began to move; undefined while it rests. */
  private from: CameraState | undefined;
  private before: { pane: Viewing; state: CameraState } | undefined;

  /** Says where the camera stands before it is moved. */
  begin(p: Viewing): void {
    if (!this.from) this.stands(p);
  }

  private stands(p: Viewing): void {
    this.before = { pane: p, state: p.camera.state };
  }

  /** Called as the camera moves: once it rests, where it was before becomes the last entry of the pane's history. */
  moved(p: Viewing, held: boolean): void {
    // What another pane showed is no view of this one.
    this.from ??= this.before?.pane === p ? this.before.state : p.camera.state;
    clearTimeout(this.timer);
    if (!held) this.timer = setTimeout(() => this.rest(p), REST);
  }

  /** The camera came to rest: where it stood before is a view to go back to. */
  private rest(p: Viewing): void {
    clearTimeout(this.timer);
    // Events that moved nothing leave no view behind.
    if (this.from && JSON.stringify(this.from) !== JSON.stringify(p.camera.state)) {
      p.past.push(this.from);
      if (p.past.length > MOST) p.past.shift();
      p.future = [];
    }
    this.from = undefined;
    this.stands(p);
  }

  /** Goes to the view before, or to the one after; false where there is none. */
  back(p: Viewing, way: -1 | 1): boolean {
    if (this.from) this.rest(p); // asked for before the camera had rested
    const from = way < 0 ? p.past : p.future;
    const to = way < 0 ? p.future : p.past;
    const s = from.pop();
    if (!s) return false;
    to.push(p.camera.state);
    p.camera.state = s;
    this.stands(p);
    return true;
  }
}
