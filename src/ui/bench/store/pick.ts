/** What is picked: pieces, a step, elements. */
import type { ElementPick, PickKind } from '../../../core/mesh/picks';

export type PickMode = 'piece' | PickKind;

export interface PickSlice {
  piece: string | null;
  /** All pieces that are picked; the one worked on is the last. */
  picked: readonly string[];
  /** Only these are seen, when some were isolated. */
  only: ReadonlySet<string> | null;
  /** The step that is worked in; null for the end of the recipe. */
  step: string | null;
  mode: PickMode;
  pick: ElementPick;
  /** Moves are done on the other side of this plane too. */
  bothSides: 'x' | 'y' | 'z' | null;
  /** The picks before this one, the latest first. */
  pickedBefore: readonly ElementPick[];
  /** The element picked last, by its key. */
  last: number | null;
  /** Normal of the surface picked last, in the world. */
  surface: readonly [number, number, number];
}

export const pickSlice: PickSlice = {
  piece: null,
  picked: [],
  only: null,
  step: null,
  mode: 'face',
  pick: { kind: 'face', keys: [] },
  bothSides: null,
  pickedBefore: [],
  last: null,
  surface: [0, 1, 0],
};
