/** Every kind of step. A new kind is one declaration in a file beside this one and its name in the list. */
import { readAny } from '../formats/read';
import type { StepDef } from '../recipe/define';
import { evaluate, type EvaluateOptions, type Outcome } from '../recipe/evaluate';
import type { Step } from '../recipe/values';
import { farOff, handOn, note, takeOver } from './attributes';
import { alongCurve, flat, grid, onElements, round, row, stack } from './copies';
import { color, texture } from './finish';
import { shift, shiftCurve, tint, where } from './formulas';
import { join, keep, merged, section } from './gather';
import { branch, each, handed, placed, repeat, through } from './kits';
import { lay, mirror, place, subdivide, weld } from './modify';
import { stepsOfTools } from './oftools';
import { around, burst, choose, dress, form, gridded, part, spread, within } from './parts';
import { shape } from './shape';
import { share, shareOptions, sharerOf, unwrap } from './unwrap';
import { box, broughtIn, cylinder, line, plane, sphere } from './start';

const all = [
  ...[box, cylinder, plane, sphere, line, section, broughtIn, merged, stack, choose, spread, within, gridded],
  ...[placed, handed, branch, through, each, repeat],
  ...[shape, mirror, subdivide, place, weld, lay, join, keep],
  ...[row, grid, round, alongCurve, onElements, flat],
  ...[part, burst, form, dress, around],
  ...stepsOfTools,
  ...[note, handOn, takeOver, farOff, shift, shiftCurve, where, tint],
  ...[unwrap, share, color, texture],
] as unknown as StepDef[];
const byKind = new Map(all.map((s) => [s.kind, s]));

export { shareOptions, sharerOf };
export const stepDefs = (): readonly StepDef[] => all;
export const stepDef = (kind: string): StepDef | undefined => byKind.get(kind);

/** Follows a recipe with every step and every kind of file there is. */
export const followRecipe = (
  steps: readonly Step[],
  o: Omit<EvaluateOptions, 'stepDef' | 'read'>,
): Promise<Outcome[]> => evaluate(steps, { ...o, stepDef, read: readAny });
