/** The bench's state, in slices. Changes of the document go through `actions`; components select what they use. */
import { create } from 'zustand';
import { visiblePieces } from '../../../document/build';
import type { SharedLayout } from '../../../core/recipe/values';
import type { Piece, Step } from '../../../document/types';
import { answersSlice, type AnswersSlice } from './answers';
import { handSlice, type HandSlice } from './hand';
import { pickSlice, type PickSlice } from './pick';
import { projectSlice, type ProjectSlice } from './project';
import { viewSlice, type ViewSlice } from './view';

export * from './answers';
export * from './hand';
export * from './pick';
export * from './project';
export * from './view';

export type BenchState = ProjectSlice & PickSlice & HandSlice & ViewSlice & AnswersSlice;

const initial: BenchState = { ...projectSlice, ...pickSlice, ...handSlice, ...viewSlice, ...answersSlice };

export const useBench = create<BenchState>()(() => initial);
export const bench = { get: useBench.getState, set: useBench.setState, reset: () => useBench.setState(initial, true) };

export const say = (text: string): void => bench.set({ say: text });
const BRIEFLY = 2000;
/** Something worth a glance; what is being said stays beside it. */
export function sayBriefly(text: string): void {
  const { say: said } = bench.get();
  const both = said ? `${said} · ${text}` : text;
  say(both);
  setTimeout(() => {
    if (bench.get().say === both) say(said);
  }, BRIEFLY);
}

/** The piece whose recipe is worked on: the picked one, or what it is linked to. */
export function workedOn(s: Pick<BenchState, 'document' | 'piece'>): Piece | undefined {
  const p = s.document?.pieces.find((x) => x.id === s.piece);
  return p?.link ? s.document!.pieces.find((x) => x.id === p.link) : p;
}

type Focus = Pick<BenchState, 'document' | 'piece' | 'step'>;

/** The step that is focused, where it lays several pieces on one sheet. */
export function sharing(s: Focus): Step | undefined {
  return workedOn(s)?.recipe.find((x) => x.id === s.step && x.kind === 'share' && x.on);
}

/**
 * The step that lays out the sheet that is worked on: the one that is focused, the one whose islands are on the shared
 * sheet that is, or the last of the piece.
 */
export function layingOut(s: Focus): Step | undefined {
  const recipe = workedOn(s)?.recipe;
  const own = (sharing(s)?.values.layouts as readonly SharedLayout[] | undefined)?.find((x) => x.own)?.step;
  const laid = recipe?.find((x) => x.id === (own ?? s.step) && x.kind === 'unwrap');
  return laid ?? recipe?.findLast((x) => x.kind === 'unwrap');
}

let seenFor: [unknown, unknown] = [null, null];
let seenNow: ReadonlySet<string> = new Set();
/** What is seen: shown, in groups that are shown, and not left out by isolating others. */
export function seenPieces(s: Pick<BenchState, 'document' | 'only'>): ReadonlySet<string> {
  if (seenFor[0] !== s.document?.pieces || seenFor[1] !== s.only) {
    seenFor = [s.document?.pieces, s.only];
    const visible = s.document ? visiblePieces(s.document) : new Set<string>();
    seenNow = s.only ? new Set([...visible].filter((id) => s.only!.has(id))) : visible;
  }
  return seenNow;
}
