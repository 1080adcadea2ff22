/**
 * Recipes in words: every step as its sentence, with what the sentence does not say after it. The same document gives
 * the same text, line by line.
 */
import { stepDef } from '../core/steps';
import { toolDef } from '../core/tools';
import { formatNumber, formatQuantity, type QuantityKind } from '../core/recipe/quantity';
import type { Move, ValueDef, ValueDefs } from '../core/recipe/values';
import { readValue, type Reading } from './readvalue';
import { optionNames } from './set';
import type { Dial, Piece, ProjectDocument, Step } from './types';

/** Enough to tell any two values apart that an artist would. */
const DIGITS = 6;

const readingOf = (doc: ProjectDocument): Reading => ({
  units: doc.units,
  digits: DIGITS,
  materials: doc.materials,
  pieces: doc.pieces,
});

const same = (a: unknown, b: unknown): boolean => JSON.stringify(a) === JSON.stringify(b);

/**
 * A title and a sentence with the values put in, and those that differ from how they begin though the sentence does not
 * name them.
 */
function told(
  title: string,
  sentence: string,
  defs: ValueDefs,
  values: Record<string, unknown>,
  r: Reading,
  pick = '',
): string {
  const said = new Set<string>();
  const read = (name: string, def: ValueDef<unknown>) => readValue(def, values[name] ?? def.default, r);
  const text = sentence.replace(/\{(\w+)\}/g, (_, name: string) => {
    if (name === 'pick') return pick;
    const def = defs[name];
    if (!def) return '';
    said.add(name);
    return read(name, def);
  });
  const rest = Object.entries(defs)
    .filter(
      ([name, def]) => !said.has(name) && !def.inner && values[name] !== undefined && !same(values[name], def.default),
    )
    .map(([name, def]) => `${def.label}: ${read(name, def)}`);
  return `${title}${text}.${rest.length > 0 ? ` (${rest.join('; ')})` : ''}`;
}

function pickWords({ pick }: Move): string {
  if (pick.rule) return `${pick.kind}s by the rule “${pick.rule.id}”`;
  const many = { vertex: 'vertices', edge: 'edges', face: 'faces' }[pick.kind];
  return pick.keys.length === 1 ? `1 ${pick.kind}` : `${pick.keys.length} ${many}`;
}

function tellMove(move: Move, r: Reading): string {
  const def = toolDef(move.tool);
  if (!def) return `A move of an unknown kind, “${move.tool}”.`;
  const text = told(def.title, def.sentence, def.values, move.values, r, pickWords(move));
  return `${move.off ? 'off: ' : ''}${text}${move.mirror ? ` On both sides of ${move.mirror}.` : ''}`;
}

/** One step: its sentence, and its moves below it. */
export function tellStep(step: Step, doc: ProjectDocument): string[] {
  const def = stepDef(step.kind);
  if (!def) return [`A step of an unknown kind, “${step.kind}”.`];
  const r = readingOf(doc);
  const out = [`${step.on ? '' : 'off: '}${told(def.title, def.sentence, def.values, step.values, r)}`];
  if (step.note) out.push(`  “${step.note.replace(/\s+/g, ' ')}”`);
  for (const [name, value] of Object.entries(def.values))
    if (value.kind === 'moves')
      ((step.values[name] ?? []) as readonly Move[]).forEach((m, i) => out.push(`  ${i + 1}. ${tellMove(m, r)}`));
  return out;
}

/** A dial's value with its unit. */
export function tellDialValue(
  dial: Pick<Dial, 'kind' | 'value' | 'options' | 'points'>,
  doc: Pick<ProjectDocument, 'units' | 'pieces' | 'materials' | 'images'>,
): string {
  const { kind, value } = dial;
  if (kind === 'toggle') return value === 0 ? 'no' : 'yes';
  if (kind === 'colour') return hexOf(value);
  if (kind === 'ramp')
    return (dial.points ?? []).map(([x, y]) => `${formatNumber(x, 'number')}: ${formatNumber(y, 'number')}`).join(', ');
  if (dial.options) return optionNames(doc, dial)[Math.round(value)] ?? 'none';
  return kind === 'length' || kind === 'angle'
    ? formatQuantity(value, kind as QuantityKind, doc.units, DIGITS)
    : formatNumber(value, 'number');
}
export const hexOf = (value: number): string => `#${Math.round(value).toString(16).padStart(6, '0')}`;

export function tellDials(doc: ProjectDocument, dials = doc.dials): string[] {
  return (dials ?? []).map((d) => {
    const at = (value: number) => tellDialValue({ ...d, value }, doc);
    const range = d.min !== undefined && d.max !== undefined ? `, ${at(d.min)} to ${at(d.max)}` : '';
    return `${d.name} = ${at(d.value)}${range}${d.note ? `: ${d.note}` : ''}`;
  });
}

function tellPiece(piece: Piece, doc: ProjectDocument): string[] {
  const stands = piece.place.at.map((x) => formatQuantity(x, 'length', doc.units, DIGITS)).join(', ');
  const head = `${piece.name}${piece.kind === 'mesh' ? '' : ` (${piece.kind})`}, at ${stands}`;
  if (piece.link)
    return [`${head}: a copy of ${doc.pieces.find((p) => p.id === piece.link)?.name ?? 'a piece that is gone'}`];
  const steps = piece.recipe.flatMap((step, i) => {
    const [first, ...more] = tellStep(step, doc);
    return [
      `  ${i + 1}. ${first}`,
      ...more.map((line) => `   ${line}`),
      ...(piece.upTo === step.id ? ['  — showing up to here —'] : []),
    ];
  });
  return [head, ...tellDials(doc, piece.dials ?? []).map((d) => `  with ${d}`), ...steps];
}

/** All of a project, or some pieces of it. */
export function tellProject(doc: ProjectDocument, pieces?: (piece: Piece) => boolean): string {
  const out: string[] = [];
  if (!pieces) {
    out.push(`${doc.name}, in ${doc.units}, for ${doc.purpose}`);
    const dials = tellDials(doc);
    if (dials.length > 0) out.push('', 'Dials', ...dials.map((d) => `  ${d}`));
  }
  for (const p of doc.pieces) if (!pieces || pieces(p)) out.push('', ...tellPiece(p, doc));
  return `${out.join('\n').replace(/^\n+/, '')}\n`;
}
