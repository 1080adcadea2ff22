/** How values read in sentences. */
import type { ElementPick } from '../core/mesh/picks';
import { formatNumber, formatQuantity, type LengthUnit, type QuantityKind } from '../core/recipe/quantity';
import {
  isFormula,
  type Coloured,
  type Expression,
  type Move,
  type Part,
  type SharedLayout,
  type ValueDef,
} from '../core/recipe/values';

interface Named {
  id: string;
  name: string;
}
export interface Reading {
  units: LengthUnit;
  digits: number;
  materials: readonly Named[];
  pieces: readonly Named[];
}

/** So many of those that share a sheet are named. */
const MOST_NAMED = 3;

const plural = (n: number, [one, many]: readonly [string, string]) => `${n} ${n === 1 ? one : many}`;
const nameOf = (list: readonly Named[], id: unknown) => list.find((x) => x.id === id)?.name;

type Reader = (value: unknown, def: ValueDef<unknown>, r: Reading) => string;
const quantity: Reader = (value, def, { units, digits }) =>
  formatQuantity(value as number, def.kind as QuantityKind, units, def.digits ?? digits);
const option: Reader = (value, def) => def.options?.find((o) => o[0] === String(value))?.[1] ?? String(value);

const READERS: Readonly<Record<string, Reader>> = {
  length: quantity,
  angle: quantity,
  count: (value, def) => (def.noun ? plural(value as number, def.noun) : String(value)),
  number: (value, def) => `${formatNumber(value as number, 'number')}${def.unit ? ` ${def.unit}` : ''}`,
  choice: option,
  toggle: option,
  pick: (value, def) => plural((value as ElementPick).keys.length, def.noun ?? ['element', 'elements']),
  places: (value, def) => plural((value as unknown[]).length, def.noun ?? ['point', 'points']),
  own: (value) =>
    Object.entries(value as Record<string, unknown>)
      .map(([name, x]) => `${name} ${isFormula(x) ? x.formula : formatNumber(x as number, 'number')}`)
      .join(', ') || 'as the kit has them',
  expression: (value) => (value as Expression).text,
  line: (value, def) => plural((value as unknown[]).length, def.noun ?? ['point', 'points']),
  dabs: (value, def) => plural((value as unknown[]).length, def.noun ?? ['dab', 'dabs']),
  moves: (value) => plural((value as Move[]).length, ['move', 'moves']),
  parts: (value) => plural((value as Part[]).length, ['piece', 'pieces']),
  colors: (value) => plural(new Set((value as Coloured[]).map((c) => c.material)).size, ['other', 'others']),
  material: (value, _, { materials }) => nameOf(materials, value) ?? 'no material',
  pieces: (value, def, { pieces }) =>
    (value as string[]).map((id) => nameOf(pieces, id) ?? 'one that is gone').join(', ') || (def.zero ?? 'none'),
  layouts: (value, _, { pieces }) => {
    const others = (value as SharedLayout[]).filter((x) => !x.own);
    const names = others.slice(0, MOST_NAMED).map((x) => nameOf(pieces, x.piece) ?? 'one that is gone');
    const more = others.length - names.length;
    return `${names.join(', ') || 'no other'}${more > 0 ? ` and ${plural(more, ['other', 'others'])}` : ''}`;
  },
  piece: (value, def, { pieces }) => nameOf(pieces, value) ?? def.zero ?? 'a piece to be chosen',
  text: (value, _, { materials }) => nameOf(materials, value) ?? String(value),
};

export function readValue(def: ValueDef<unknown>, value: unknown, reading: Reading): string {
  if (isFormula(value)) return value.formula;
  if (value === 0 && def.zero) return def.zero;
  return READERS[def.kind]?.(value, def, reading) ?? '…';
}
