/** Dials set by text, as command lines and forms have it: `storeys=12`, `wall=2.5 mm`, and ranges of them. */
import { FormulaError, valueOf } from '../core/formula';
import { dialScope, setDial, typeOfDial } from './dials';
import type { Dial, ProjectDocument } from './types';

function dialNamed(doc: ProjectDocument, name: string): Dial {
  const found = doc.dials?.find((d) => d.name === name.trim());
  if (found) return found;
  const all = (doc.dials ?? []).map((d) => d.name);
  throw new Error(
    all.length > 0
      ? `There is no dial “${name.trim()}”; there are ${all.join(', ')}.`
      : `There is no dial “${name.trim()}”: this project has none.`,
  );
}

/** A text as a value of a dial: with units, and formulas of the other dials. */
function valueFor(doc: ProjectDocument, dial: Dial, text: string): number {
  try {
    return valueOf(text, dialScope(doc), typeOfDial(dial.kind))[0];
  } catch (e) {
    if (!(e instanceof FormulaError)) throw e;
    throw new Error(`“${text}” cannot be ${dial.name}: ${e.message}`);
  }
}

/** Sets a dial by `name=value`, in place. Answers what it stands at then; one that is out of its range is refused. */
export function setByText(doc: ProjectDocument, text: string): Dial {
  const at = text.indexOf('=');
  if (at < 1) throw new Error(`“${text}” sets nothing: it takes a dial and a value, as in storeys=12.`);
  const dial = dialNamed(doc, text.slice(0, at));
  const value = valueFor(doc, dial, text.slice(at + 1));
  setDial(doc, dial.id, { value });
  if (Math.abs(dial.value - value) > 1e-9 * Math.max(1, Math.abs(value)))
    throw new Error(`${dial.name} goes from ${dial.min} to ${dial.max}, so ${text.slice(at + 1).trim()} cannot be.`);
  return dial;
}

const MOST_VALUES = 1000;

/** The values of `name=a..b/n`: n of them, both ends among them. */
export function sweepOf(doc: ProjectDocument, text: string): { dial: Dial; values: number[] } {
  const at = text.indexOf('=');
  const range = text.slice(at + 1);
  const dots = range.indexOf('..');
  const over = range.lastIndexOf('/');
  if (at < 1 || dots < 1 || over < dots) throw new Error(`“${text}” is no range: it reads as in storeys=3..12/4.`);
  const dial = dialNamed(doc, text.slice(0, at));
  const n = Number(range.slice(over + 1));
  if (!Number.isInteger(n) || n < 1 || n > MOST_VALUES)
    throw new Error(`A range has from 1 to ${MOST_VALUES} values, not “${range.slice(over + 1)}”.`);
  const [a, b] = [range.slice(0, dots), range.slice(dots + 2, over)].map((t) => valueFor(doc, dial, t));
  const all = Array.from({ length: n }, (_, i) => (n === 1 ? a : a + ((b - a) * i) / (n - 1)));
  return { dial, values: dial.kind === 'count' ? [...new Set(all.map(Math.round))] : all };
}
