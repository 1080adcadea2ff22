/** What is in hand: one thing or nothing. And how handles stand, which stays while things come and go. */
import type { Falloff, Reach } from '../../../core/edit/soft';
import type { Affine } from '../../../core/math/affine';
import type { ElementPick, PickKind } from '../../../core/mesh/picks';

export type Handle = 'move' | 'turn' | 'size';

/** A move of "shape by hand" whose values are open. While it is fresh all of it is one change. */
export interface MoveHand {
  kind: 'move';
  piece: string;
  step: string;
  /** The step after which a new shape step goes. */
  after?: string;
  move: string;
  /** The same in other pieces that were picked with it. */
  also?: readonly { piece: string; step: string; after?: string; move: string }[];
  fresh: boolean;
}

export interface PlaceValues {
  x: number;
  y: number;
  z: number;
  angle: number;
}

/** Pieces being moved, turned or sized: from where they began, by these values along these axes. */
export interface Placing {
  kind: 'placing';
  id: string;
  handle: Handle;
  ids: readonly string[];
  values: PlaceValues;
  axis: readonly [number, number, number];
  frame: Affine;
  about: readonly [number, number, number] | 'each';
  fresh: boolean;
  /** What of it is in the document as a change of its own. */
  done: PlaceValues | null;
}

/** A point that was clicked: in the world, on a blueprint's picture, and what it was snapped to. */
export interface Pointed {
  at: [number, number, number];
  piece: string | null;
  kind: 'vertex' | 'edge' | 'face' | 'pivot' | 'free';
  pixel?: [number, number];
  uv?: [number, number];
}

/** A tool that is worked by clicking points: which, on what, and the points so far. */
export interface Pointing {
  kind: 'pointing';
  tool: string;
  on: string | null;
  points: readonly Pointed[];
}

/** Wall thickness is told under the pointer. */
export interface WallHand {
  kind: 'wall';
  thickness: number;
}

/** Elements being picked by a sentence whose values are open. */
export interface Choosing {
  kind: 'choosing';
  id: string;
  picks: PickKind;
  values: Record<string, unknown>;
  /** What was picked when it began, by index, and as the pick it was. */
  from: readonly number[];
  before: ElementPick;
  fresh: true;
}

/** A brush for the cage: what it does, how wide and how strong; each stroke is a move. */
export interface BrushHand {
  kind: 'brush';
  values: { what: string; radius: number; strength: number; falloff: Falloff };
  fresh: true;
}

export type Hand = MoveHand | Placing | Pointing | WallHand | Choosing | BrushHand;
export type HandKind = Hand['kind'];

/** A value in the sentence in hand that is being typed; `text` is what was typed of it so far. */
export interface Typed {
  name: string;
  text: string | null;
}

export interface SnapKinds {
  grid: boolean;
  vertex: boolean;
  middle: boolean;
  edge: boolean;
  face: boolean;
  pivot: boolean;
  texel: boolean;
}
export interface Snap {
  move: number;
  turn: number;
  on: boolean;
  kinds: SnapKinds;
}

export type AxesOf = 'world' | 'parent' | 'own' | 'view' | 'surface';
export type AboutWhat = 'pivot' | 'pick' | 'origin' | 'each';

export interface HandSlice {
  hand: Hand | null;
  typed: Typed | null;
  handle: Handle | null;
  /** The pivot is moved, not the piece. */
  pivoting: boolean;
  axes: AxesOf;
  about: AboutWhat;
  /** Radius within which vertices are taken along; 0 for none. */
  soft: number;
  falloff: Falloff;
  /** How the radius is measured. */
  reach: Reach;
  snap: Snap;
}

export const handSlice: HandSlice = {
  hand: null,
  typed: null,
  handle: null,
  pivoting: false,
  axes: 'world',
  about: 'pick',
  soft: 0,
  falloff: 'smooth',
  reach: 'space',
  snap: {
    move: 0.001,
    turn: (5 * Math.PI) / 180,
    on: false,
    kinds: { grid: true, vertex: true, middle: true, edge: false, face: true, pivot: true, texel: false },
  },
};

/** What is in hand, if it is of this kind. */
export function handOf<K extends HandKind>(s: Pick<HandSlice, 'hand'>, kind: K): Extract<Hand, { kind: K }> | null {
  return s.hand?.kind === kind ? (s.hand as Extract<Hand, { kind: K }>) : null;
}
