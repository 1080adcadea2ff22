/** Dials as the bench deals with them: what a number is typed by, and numbers made dials. */
import {
  angle,
  choice,
  count,
  length,
  material,
  number,
  pieceName,
  toggle,
  type ValueDef,
} from '../../core/recipe/values';
import * as changes from '../../document/changes';
import { addDial, freeName } from '../../document/dials';
import type { Dial } from '../../document/types';
import { session } from './session';
import { bench, say, workedOn } from './store';

const MAKERS = { length, angle, number, count } as const;
const angleDef: typeof length = (label, value, range) => angle(label, value, range) as ReturnType<typeof length>;

/**
 * How the value of a dial is shown and typed, where it is a number, a switch or a word; of other kinds it has its own
 * control.
 */
export function dialDef(d: Dial): ValueDef<unknown> {
  if (d.kind === 'toggle') return toggle(d.name, false) as ValueDef<unknown>;
  if (d.kind === 'choice')
    return choice(
      d.name,
      '',
      (d.options ?? []).map((x) => [x, x] as const),
    ) as ValueDef<unknown>;
  if (d.kind === 'piece') return pieceName(d.name, 'none') as ValueDef<unknown>;
  if (d.kind === 'material') return material(d.name) as ValueDef<unknown>;
  if (d.kind === 'picture')
    return choice(d.name, '', [
      ['', 'none'],
      ...(bench.get().document?.images ?? []).map((i) => [i.id, i.name] as const),
    ]) as ValueDef<unknown>;
  const make = d.kind === 'angle' ? angleDef : MAKERS[d.kind as 'number'];
  return make(d.name, 0, { min: d.min ?? -1e6, max: d.max ?? 1e6 }) as ValueDef<unknown>;
}

/** A dial's value as its control has it, and the other way: what is new among the options comes with them. */
export function shownOf(d: Dial, value = d.value): unknown {
  if (d.kind === 'toggle') return value !== 0;
  return d.options ? (d.options[Math.round(value)] ?? '') : value;
}
export function storedOf(d: Dial, shown: unknown): Partial<Dial> {
  if (typeof shown === 'boolean') return { value: shown ? 1 : 0 };
  if (typeof shown !== 'string') return { value: shown as number };
  const options = d.options ?? [];
  const at = options.indexOf(shown);
  return at >= 0 ? { value: at } : { options: [...options, shown], value: options.length };
}

/**
 * A number made a dial of the piece that is worked on, or of the project: it keeps its value, and gets a name that
 * formulas may use.
 */
export function makeDial(
  def: ValueDef<unknown>,
  value: unknown,
  put: (value: unknown, live: boolean) => void,
  of: 'piece' | 'project',
): void {
  const s = bench.get();
  const { document } = s;
  const piece = workedOn(s)?.id;
  if (!document) return;
  const name = freeName(document, def.label, piece);
  const kind = def.kind as Dial['kind'];
  const numeric = typeof value === 'number';
  const limits = numeric
    ? { ...(def.min! > -1e6 ? { min: def.min } : {}), ...(def.max! < 1e6 ? { max: def.max } : {}) }
    : {};
  const options = kind === 'choice' ? { options: (def.options ?? []).map((o) => o[0]) } : {};
  const dial: Dial = { id: changes.newId(), name, kind, value: 0, ...options, ...limits };
  Object.assign(dial, storedOf(dial, value));
  session.change('make a dial', (d) => addDial(d, dial, of === 'piece' ? piece : undefined));
  put({ formula: name }, false);
  say(`${name} is a dial now: it stands under Dials, and formulas may name it.`);
}
