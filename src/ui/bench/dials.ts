/** Dials as the bench deals with them: what a number is typed by, and numbers made dials. */
import { angle, count, length, number, type ValueDef } from '../../core/recipe/values';
import * as changes from '../../document/changes';
import { addDial, freeName } from '../../document/dials';
import type { Dial } from '../../document/types';
import { session } from './session';
import { bench, say, workedOn } from './store';

const MAKERS = { length, angle, number, count } as const;

/** How the value of a dial is shown and typed. */
export const dialDef = (d: Dial): ValueDef<unknown> => {
  const make = d.kind === 'angle' ? angleDef : MAKERS[d.kind];
  return make(d.name, 0, { min: d.min ?? -1e6, max: d.max ?? 1e6 }) as ValueDef<unknown>;
};
const angleDef: typeof length = (label, value, range) => angle(label, value, range) as ReturnType<typeof length>;

/** A number made a dial of the piece that is worked on, or of the project: it keeps its value, and gets a name that formulas may use. */
export function makeDial(
  def: ValueDef<unknown>,
  value: number,
  put: (value: unknown, live: boolean) => void,
  of: 'piece' | 'project',
): void {
  const s = bench.get();
  const { document } = s;
  const piece = workedOn(s)?.id;
  if (!document) return;
  const name = freeName(document, def.label, piece);
  const limits = { ...(def.min! > -1e6 ? { min: def.min } : {}), ...(def.max! < 1e6 ? { max: def.max } : {}) };
  const dial: Dial = { id: changes.newId(), name, kind: def.kind as Dial['kind'], value, ...limits };
  session.change('make a dial', (d) => addDial(d, dial, of === 'piece' ? piece : undefined));
  put({ formula: name }, false);
  say(`${name} is a dial now: it stands under Dials, and formulas may name it.`);
}
