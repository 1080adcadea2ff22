/** A number made a dial of the project: it keeps its value, and gets a name that formulas may use. */
import type { ValueDef } from '../../core/recipe/values';
import * as changes from '../../document/changes';
import { addDial, freeName } from '../../document/dials';
import type { Dial } from '../../document/types';
import { session } from './session';
import { bench, say } from './store';

export function makeDial(def: ValueDef<unknown>, value: number, put: (value: unknown, live: boolean) => void): void {
  const { document } = bench.get();
  if (!document) return;
  const name = freeName(document, def.label);
  const limits = { ...(def.min! > -1e6 ? { min: def.min } : {}), ...(def.max! < 1e6 ? { max: def.max } : {}) };
  const dial: Dial = { id: changes.newId(), name, kind: def.kind as Dial['kind'], value, ...limits };
  session.change('make a dial', (d) => addDial(d, dial));
  put({ formula: name }, false);
  say(`${name} is a dial now: it stands under Dials, and formulas may name it.`);
}
