/** Dials set by text, as command lines and forms have it: `storeys=12`, `wall=2.5 mm`, and ranges of them. */
import { answerOf, FormulaError, typeOfDial } from '../core/formula';
import { dialScope, isTurned, isWhole, limitsOf, setDial } from './dials';
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

/** Options as a person reads them: names of pieces and materials, words. */
export function optionNames(
  doc: Pick<ProjectDocument, 'pieces' | 'materials' | 'images'>,
  { kind, options = [] }: Pick<Dial, 'kind' | 'options'>,
): string[] {
  const lists: Partial<Record<Dial['kind'], readonly { id: string; name: string }[]>> = {
    piece: doc.pieces,
    material: doc.materials,
    picture: doc.images,
  };
  const list = lists[kind];
  if (!list) return options;
  return options.map((id) => list.find((x) => x.id === id)?.name ?? 'one that is gone');
}

/** What is written plainly, without quotes: one of the options by its name, a colour as #RRGGBB. */
function wordFor(doc: ProjectDocument, dial: Dial, text: string): number | undefined {
  if (dial.kind === 'colour' && /^#[0-9a-f]{6}$/i.test(text)) return parseInt(text.slice(1), 16);
  const bare = text.replace(/^"(.*)"$/, '$1').toLowerCase();
  const at = optionNames(doc, dial).findIndex((name) => name.toLowerCase() === bare);
  return at >= 0 ? at : undefined;
}

/** A text as a value of a dial: with units, and formulas of the other dials. */
function valueFor(doc: ProjectDocument, dial: Dial, text: string): number {
  try {
    const word = wordFor(doc, dial, text.trim());
    if (word !== undefined) return word;
    const found = answerOf(text, dialScope(doc), typeOfDial(dial.kind));
    if (typeof found !== 'string') return found[0];
    const at = dial.options?.indexOf(found) ?? -1;
    if (at >= 0) return at;
    throw new Error(
      `“${found}” is nothing that ${dial.name} can be: it is one of ${optionNames(doc, dial).join(', ')}.`,
    );
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
    throw new Error(
      `${dial.name} goes from ${limitsOf(dial).min} to ${limitsOf(dial).max}, so ${text.slice(at + 1).trim()} ` +
        'cannot be.',
    );
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
  if (!isTurned(dial)) throw new Error(`${dial.name} is a ${dial.kind}: there is no range of it.`);
  const n = Number(range.slice(over + 1));
  if (!Number.isInteger(n) || n < 1 || n > MOST_VALUES)
    throw new Error(`A range has from 1 to ${MOST_VALUES} values, not “${range.slice(over + 1)}”.`);
  const [a, b] = [range.slice(0, dots), range.slice(dots + 2, over)].map((t) => valueFor(doc, dial, t));
  const all = Array.from({ length: n }, (_, i) => (n === 1 ? a : a + ((b - a) * i) / (n - 1)));
  return { dial, values: isWhole(dial) ? [...new Set(all.map(Math.round))] : all };
}
