/** The brush in hand: each stroke over the surface is a move, made while it is drawn. */
import type { Dab } from '../../core/edit/brush';
import { defaultsOf } from '../../core/recipe/values';
import { toolDef } from '../../core/tools';
import { beginMove, giveHand, keep, setInHand } from './actions/hand';
import { setMode } from './actions/pick';
import { bench, handOf, type BrushHand } from './store';

/** Of a piece's longest side: as wide as a brush is to begin with. */
const SHARE = 0.12;
let last: BrushHand['values'] | null = null;

export function takeBrush(): void {
  if (handOf(bench.get(), 'brush')) {
    keep();
    return;
  }
  keep();
  if (bench.get().mode === 'piece') setMode('face');
  const b = bench.get().edited?.bounds;
  const size = b ? Math.max(...[0, 1, 2].map((k) => b.max[k] - b.min[k])) : 0;
  const { what, strength, falloff } = defaultsOf(toolDef('brush')!.values) as unknown as BrushHand['values'];
  const values = last ?? { what, strength, falloff, radius: SHARE * (size || 1) };
  bench.set({ hand: { kind: 'brush', values, fresh: true }, handle: null, typed: null });
}

export function setBrush(part: Partial<BrushHand['values']>): void {
  const hand = handOf(bench.get(), 'brush');
  if (!hand) return;
  last = { ...hand.values, ...part };
  bench.set({ hand: { ...hand, values: last } });
}

/** A stroke as it is drawn: begun with its first dab, gone on with, ended. The brush stays in hand. */
export function beginStroke(dab: Dab): void {
  const hand = handOf(bench.get(), 'brush');
  if (!hand) return;
  beginMove('brush', { ...hand.values, dabs: [dab] });
}
export const goOn = (dabs: readonly Dab[]): void => setInHand({ dabs });
export function endStroke(values: BrushHand['values']): void {
  keep();
  bench.set({ hand: { kind: 'brush', values, fresh: true } });
}

giveHand('brush', { keep: () => bench.set({ hand: null }), cancel: () => bench.set({ hand: null }) });
