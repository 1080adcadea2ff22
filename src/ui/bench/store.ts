/** The bench's state: the document as edited, what is picked and shown, what the worker answered. Changes go through `actions`. */
import { create } from 'zustand';
import { Mesh } from '../../core/mesh/mesh';
import type { Pick, PickKind } from '../../core/mesh/picks';
import type { UvFigures } from '../../core/uv/measure';
import type { ProjectDocument } from '../../document/types';
import type { Affine } from '../../core/math/affine';
import type { Falloff } from '../../core/edit/soft';
import type { Piece } from '../../document/types';
import { visiblePieces } from '../../document/build';
import type { Edited, Facts, FoundAnchors, PieceShown, TreeNote } from '../../workers/protocol';
import type { Arrival } from './gather/arrivals';
import type { SavingState } from '../saving/outbox';

export type Stage = 'gather' | 'shape' | 'unwrap' | 'finish' | 'stage' | 'ship';
export const STAGES: readonly (readonly [Stage, string])[] = [
  ['gather', 'Gather'],
  ['shape', 'Shape'],
  ['unwrap', 'Unwrap'],
  ['finish', 'Finish'],
  ['stage', 'Stage'],
  ['ship', 'Ship'],
];

export type Shading = 'clay' | 'lines' | 'xray' | 'materials' | 'checker';
export const SHADINGS: readonly (readonly [Shading, string])[] = [
  ['clay', 'clay with edges'],
  ['lines', 'lines only'],
  ['xray', 'x-ray'],
  ['materials', 'materials'],
  ['checker', 'checker'],
];

export type ViewName = 'Persp' | 'Front' | 'Back' | 'Side' | 'Left' | 'Top' | 'Bottom';
/** The other way round. */
export const OPPOSITE: Readonly<Partial<Record<ViewName, ViewName>>> = {
  Front: 'Back',
  Back: 'Front',
  Side: 'Left',
  Left: 'Side',
  Top: 'Bottom',
  Bottom: 'Top',
};
export type Handle = 'move' | 'turn' | 'size';
export type PickMode = 'piece' | PickKind;

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

/** Pieces being moved, turned or sized: from where they began, by these values along these axes. */
export interface Placing {
  id: string;
  handle: Handle;
  ids: readonly string[];
  values: { x: number; y: number; z: number; angle: number };
  axis: readonly [number, number, number];
  frame: Affine;
  about: readonly [number, number, number] | 'each';
  fresh: boolean;
  /** What of it is in the document as a change of its own. */ done: {
    x: number;
    y: number;
    z: number;
    angle: number;
  } | null;
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
  tool: string;
  on: string | null;
  points: readonly Pointed[];
}

export interface BenchState {
  ready: boolean;
  failed: string;
  document: ProjectDocument | undefined;
  saving: SavingState;
  revision: number;
  canUndo: string | undefined;
  canRedo: string | undefined;
  stage: Stage;
  piece: string | null;
  /** All pieces that are picked; the one worked on is the last. */
  picked: readonly string[];
  /** Only these are seen, when some were isolated. */
  only: ReadonlySet<string> | null;
  /** The step that is worked in; null for the end of the recipe. */
  step: string | null;
  mode: PickMode;
  pick: Pick;
  last: number | null;
  /** The move whose values the sentence over the strip shows. */
  inHand: { piece: string; step: string; after?: string; move: string; fresh: boolean } | null;
  handle: Handle | null;
  axes: AxesOf;
  about: AboutWhat;
  /** Radius within which vertices are taken along; 0 for none. */
  soft: number;
  falloff: Falloff;
  /** The pivot is moved, not the piece. */
  pivoting: boolean;
  /** Normal of the surface picked last, in the world. */
  surface: readonly [number, number, number];
  placing: Placing | null;
  pointing: Pointing | null;
  /** Where the tool would land, told under the pointer. */
  wall: number | null;
  four: boolean;
  /** Some pane shows materials. */
  textures: boolean;
  shading: Shading;
  view: ViewName;
  snap: Snap;
  panels: boolean;
  search: boolean;
  keysHelp: boolean;
  say: string;
  arrivals: readonly Arrival[];
  drawer: boolean;
  anchors: FoundAnchors;
  trees: readonly TreeNote['tree'][];
  shown: ReadonlyMap<string, PieceShown>;
  edited: Edited | null;
  mesh: Mesh | null;
  facts: Facts | null;
  uv: UvFigures | null;
  working: { step: string; share: number } | null;
}

const initial: BenchState = {
  ready: false,
  failed: '',
  document: undefined,
  saving: { kind: 'saved' },
  revision: 0,
  canUndo: undefined,
  canRedo: undefined,
  stage: 'shape',
  piece: null,
  picked: [],
  only: null,
  step: null,
  mode: 'face',
  pick: { kind: 'face', keys: [] },
  last: null,
  inHand: null,
  handle: null,
  axes: 'world',
  about: 'pick',
  soft: 0,
  falloff: 'smooth',
  pivoting: false,
  surface: [0, 1, 0],
  placing: null,
  pointing: null,
  wall: null,
  four: false,
  textures: false,
  shading: 'clay',
  view: 'Persp',
  snap: {
    move: 0.001,
    turn: (5 * Math.PI) / 180,
    on: false,
    kinds: { grid: true, vertex: true, middle: true, edge: false, face: true, pivot: true, texel: false },
  },
  arrivals: [],
  drawer: false,
  anchors: {},
  trees: [],
  panels: true,
  search: false,
  keysHelp: false,
  say: '',
  shown: new Map(),
  edited: null,
  mesh: null,
  facts: null,
  uv: null,
  working: null,
};

export const useBench = create<BenchState>()(() => initial);
export const bench = { get: useBench.getState, set: useBench.setState, reset: () => useBench.setState(initial, true) };

export const meshOf = ({ mesh }: Edited): Mesh =>
  new Mesh({
    ...mesh!,
    attributes: {
      ...(mesh!.uv ? { uv: { domain: 'corner', width: 2, data: mesh!.uv } } : {}),
      ...(mesh!.slot ? { material: { domain: 'face', width: 1, data: mesh!.slot } } : {}),
      ...(mesh!.group ? { group: { domain: 'face', width: 1, data: mesh!.group } } : {}),
    },
  });

/** The piece whose recipe is worked on: the picked one, or what it is linked to. */
export function workedOn(s: Pick2<BenchState, 'document' | 'piece'>): Piece | undefined {
  const p = s.document?.pieces.find((x) => x.id === s.piece);
  return p?.link ? s.document!.pieces.find((x) => x.id === p.link) : p;
}
type Pick2<T, K extends keyof T> = { [P in K]: T[P] };

let seenFor: [unknown, unknown] = [null, null],
  seenNow: ReadonlySet<string> = new Set();
/** What is seen: shown, in groups that are shown, and not left out by isolating others. */
export function seenPieces(s: Pick2<BenchState, 'document' | 'only'>): ReadonlySet<string> {
  if (seenFor[0] !== s.document?.pieces || seenFor[1] !== s.only) {
    seenFor = [s.document?.pieces, s.only];
    const visible = s.document ? visiblePieces(s.document) : new Set<string>();
    seenNow = s.only ? new Set([...visible].filter((id) => s.only!.has(id))) : visible;
  }
  return seenNow;
}
