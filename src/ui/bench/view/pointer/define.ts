/**
 * Pointer tools: small machines with the same handlers. A press goes to the first that takes it; that one has every
 * move until the button is let go; while no button is down, the first that hovers has the pointer. A new one (a brush,
 * a lasso) is a file beside this one and its place in the list in `index.ts`.
 */
import type { Viewer } from '../viewer';

/** Where the pointer is, and what is held down with it. */
export interface PointerAt {
  /** In the pane it began in, pixels from its upper left corner. */
  x: number;
  y: number;
  /** In the whole view. */
  frameX: number;
  frameY: number;
  button: number;
  shift: boolean;
  ctrl: boolean;
  alt: boolean;
}

/** What lies over the picture and is not drawn by the viewer. */
export interface Marks {
  box(b: { x0: number; y0: number; x1: number; y1: number } | null): void;
  /** A line drawn freely, in the whole view. */
  lasso(points: readonly (readonly [number, number])[] | null): void;
  /** The brush one picks or draws with: where in the whole view, and how wide. */
  brush(at: readonly [number, number] | null, radius?: number): void;
  menu(at: { x: number; y: number } | null): void;
  /** Where the pointer is, for what is told beside it. */
  pointer(x: number, y: number): void;
}

export interface PointerTool {
  /** Whether it takes this press. */
  down(p: PointerAt): boolean;
  move(p: PointerAt): void;
  up(p: PointerAt): void;
  /** The press was taken away: by the system, or by Esc. */
  cancel(): void;
  /** Whether it takes the pointer while no button is down. */
  hover?(p: PointerAt): boolean;
}

export type MakePointerTool = (viewer: Viewer, marks: Marks) => PointerTool;
