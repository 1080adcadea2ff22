/** Going from stage to stage, and how things are shaded. */
import { refocus, session } from '../session';
import { stageDef } from '../stages/define';
import type { PickKind } from '../../../core/mesh/picks';
import { bench, type Shading } from '../store';
import { keep } from './hand';
import { aboutFor, nothingOf } from './pick';

/** Shadings that belong to a stage: they go when it is left. */
const OF_STAGES: readonly Shading[] = ['checker', 'materials'];

export function setStage(id: string): void {
  keep();
  const s = bench.get();
  const def = stageDef(id);
  const left = stageDef(s.stage);
  let { shading } = s;
  if (def.shading) shading = def.shading;
  else if (shading === left.shading && OF_STAGES.includes(shading)) shading = 'clay';
  const [first] = def.modes;
  const fits = first === undefined || (def.modes.includes(s.mode) && !def.fresh);
  let picking = {};
  if (!fits && first === 'piece') picking = { mode: first, about: aboutFor(first, s.about) };
  else if (!fits) picking = nothingOf(first as PickKind);
  bench.set({ stage: id, focusKind: def.focusKind, step: null, handle: null, hand: null, shading, ...picking });
  refocus();
}

export function setShading(shading: Shading): void {
  bench.set({ shading });
  session.refresh();
}
