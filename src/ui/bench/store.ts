/** The bench's state: the document as edited, what is picked and shown, what the worker answered. Changes go through `actions`. */
import { create } from 'zustand';
import { Mesh } from '../../core/mesh/mesh';
import type { Pick, PickKind } from '../../core/mesh/picks';
import type { UvFigures } from '../../core/uv/measure';
import type { ProjectDocument } from '../../document/types';
import type { Edited, Facts, PieceShown } from '../../workers/protocol';
import type { SavingState } from '../saving/outbox';

export type Stage = 'gather' | 'shape' | 'unwrap' | 'finish' | 'stage' | 'ship';
export const STAGES: readonly (readonly [Stage, string])[] = [['gather', 'Gather'], ['shape', 'Shape'], ['unwrap', 'Unwrap'], ['finish', 'Finish'], ['stage', 'Stage'], ['ship', 'Ship']];

export type Shading = 'clay' | 'lines' | 'xray' | 'materials' | 'checker';
export const SHADINGS: readonly (readonly [Shading, string])[] = [['clay', 'clay with edges'], ['lines', 'lines only'], ['xray', 'x-ray'], ['materials', 'materials'], ['checker', 'checker']];

export type ViewName = 'Persp' | 'Front' | 'Side' | 'Top';
export type Handle = 'move' | 'turn' | 'size';
export type PickMode = 'piece' | PickKind;

export interface Snap { move: number; turn: number; on: boolean }

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
  /** The step that is worked in; null for the end of the recipe. */
  step: string | null;
  mode: PickMode;
  pick: Pick;
  last: number | null;
  /** The move whose values the sentence over the strip shows. */
  inHand: { piece: string; step: string; after?: string; move: string; fresh: boolean } | null;
  handle: Handle | null;
  shading: Shading;
  view: ViewName;
  snap: Snap;
  grid: number;
  panels: boolean;
  search: boolean;
  keysHelp: boolean;
  say: string;
  shown: ReadonlyMap<string, PieceShown>;
  edited: Edited | null;
  mesh: Mesh | null;
  facts: Facts | null;
  uv: UvFigures | null;
  working: { step: string; share: number } | null;
}

const initial: BenchState = {
  ready: false, failed: '', document: undefined, saving: { kind: 'saved' }, revision: 0, canUndo: undefined, canRedo: undefined, stage: 'shape', piece: null, step: null,
  mode: 'face', pick: { kind: 'face', keys: [] }, last: null, inHand: null, handle: null, shading: 'clay', view: 'Persp', snap: { move: 0.001, turn: (5 * Math.PI) / 180, on: false }, grid: 0.05,
  panels: true, search: false, keysHelp: false, say: '', shown: new Map(), edited: null, mesh: null, facts: null, uv: null, working: null,
};

export const useBench = create<BenchState>()(() => initial);
export const bench = { get: useBench.getState, set: useBench.setState, reset: () => useBench.setState(initial, true) };

export const meshOf = (e: Edited): Mesh => new Mesh({
  ...e.mesh,
  attributes: { ...(e.mesh.uv ? { uv: { domain: 'corner', width: 2, data: e.mesh.uv } } : {}), ...(e.mesh.slot ? { material: { domain: 'face', width: 1, data: e.mesh.slot } } : {}) },
});
