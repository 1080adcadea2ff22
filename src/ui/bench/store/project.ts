/** The open project: its document as edited, how it is saved, and what is coming in. */
import type { Intake } from '../../../core/formats/intake';
import type { ProjectDocument } from '../../../document/types';
import type { SavingState, Unsent } from '../../saving/outbox';

/** Files that were dropped together, from reading to what became of them. */
export interface Arrival {
  id: string;
  names: string;
  state: 'reading' | 'keeping' | 'done' | 'failed' | 'stopped';
  file: string;
  share: number;
  reports: (Intake & { pieceIds: string[] })[];
  notes: string[];
  refused: string[];
  /** Drawings that could have been curves. */
  drawings: { name: string; bytes: Uint8Array }[];
}

export type SavingText = SavingState;

export interface ProjectSlice {
  ready: boolean;
  failed: string;
  document: ProjectDocument | undefined;
  saving: SavingState;
  revision: number;
  /** Changes that the server will not take, and how many of them the person was told of. */
  aside: readonly Unsent[];
  asideSeen: number;
  /** What the next undo and redo would take back or do again. */
  canUndo: string | undefined;
  canRedo: string | undefined;
  arrivals: readonly Arrival[];
}

export const projectSlice: ProjectSlice = {
  ready: false,
  failed: '',
  document: undefined,
  saving: { kind: 'saved' },
  revision: 0,
  aside: [],
  asideSeen: 0,
  canUndo: undefined,
  canRedo: undefined,
  arrivals: [],
};
