import type { HandPlaces } from '../../../core/uv/follow/placed';
import { partOf, type Part } from '../../../core/uv/pack/sheets';
import type { OfSheet } from '../../../document/changes';
import { worldSize } from '../../../document/placing';
import type { Piece, Step } from '../../../document/types';
import { layingOut, sharing, useBench, workedOn, type BenchState } from '../store';
import { placedBy } from './placedSince';

/** The sheet that is seen: that of a piece, or one that it shares with others. */
export interface SheetSeen {
  piece: Piece | undefined;
  /** The step that lays the piece out. */
  step: Step | undefined;
  /** What lays out the sheet: that step, or one that packs several pieces. */
  laying: Step | undefined;
  placed: { piece: string | undefined; step: string | undefined; sheet: OfSheet };
  /** What is placed by hand, as the document has it now, and as the picture of the sheet has it. */
  placedNow: HandPlaces | undefined;
  placedThen: HandPlaces | undefined;
  texels: number;
  padding: number;
  sheets: number;
  part: Part | undefined;
  /** What following it told. */
  told: Readonly<Record<string, number>> | undefined;
  /** Texels per metre of the piece by itself. */
  density: number | undefined;
}

export function useSeen(s: Pick<BenchState, 'document' | 'piece' | 'step'>): SheetSeen {
  const piece = workedOn(s);
  const step = layingOut(s);
  const laying = sharing(s) ?? step;
  const sheet: OfSheet = laying === step ? 'placed' : 'shared';
  const placed = { piece: piece?.id, step: step?.id, sheet };
  const placedThen = useBench((b) => placedBy(b.followed, placed));
  const told = useBench((b) => b.shown.get(piece?.id ?? '')?.reports.find((r) => r.step === laying?.id)?.figures);
  const values = laying?.values ?? {};
  // Pieces that share a sheet are as dense as each other in the world.
  const size = sheet === 'shared' && s.document && piece ? worldSize(s.document, piece.id) : 1;
  return {
    piece,
    step,
    laying,
    placed,
    placedNow: step?.values[sheet] as HandPlaces | undefined,
    placedThen,
    texels: Number(values.size ?? 1024),
    padding: Number(values.padding ?? 0),
    sheets: Number(values.sheets ?? 1) || 1,
    part: partOf(values),
    told,
    density: told?.density === undefined ? undefined : told.density * size,
  };
}
