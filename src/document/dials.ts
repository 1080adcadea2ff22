/** Dials: named values of a project that formulas go by. Where a recipe is followed its formulas are worked out first, so only what uses a dial runs again. */
import { ANGLE, FormulaError, LENGTH, PLAIN, valueOf, type Known, type Scope, type Type } from '../core/formula';
import { unitSize } from '../core/recipe/quantity';
import { isFormula, type Expression, type Move, type ValueDef, type ValueDefs } from '../core/recipe/values';
import { stepDef } from '../core/steps';
import { toolDef } from '../core/tools';
import type { Dial, ProjectDocument, Step } from './types';

type WithDials = Pick<ProjectDocument, 'dials' | 'units'>;

const TYPES: Readonly<Record<string, Type>> = { length: LENGTH, angle: ANGLE, number: PLAIN, count: PLAIN };
export const typeOfDial = (kind: string): Type => TYPES[kind] ?? PLAIN;

/** A word of letters and figures, as formulas name it. */
export const isDialName = (name: string): boolean => /^[\p{L}_][\p{L}\p{N}_]*$/u.test(name) && name.length <= 40;

const knownOf = (d: Dial): Known => ({ type: typeOfDial(d.kind), help: 'a dial', constant: [d.value] });

export function dialScope(doc: WithDials): Scope {
  const dials = doc.dials ?? [];
  return {
    unit: unitSize(doc.units),
    known: (name) => {
      const found = dials.find((d) => d.name === name);
      return found && knownOf(found);
    },
    names: () => dials.map((d) => d.name),
  };
}

/** Whether a text names a dial: by whole words. */
const names = (text: string, name: string): boolean =>
  new RegExp(`(?<![\\p{L}\\p{N}_.])${name}(?![\\p{L}\\p{N}_])`, 'u').test(text);

/** Steps that have no formula stay the very same; which those are is asked once for each. */
const plainSteps = new WeakSet<Step>();

/** The same steps with numbers in the place of formulas. What cannot be worked out says why when it is read. */
export function resolved(steps: readonly Step[], doc: WithDials): readonly Step[] {
  if (!doc.dials || doc.dials.length === 0) return steps;
  const scope = dialScope(doc);
  return steps.map((step) => {
    if (plainSteps.has(step)) return step;
    const values = resolvedValues(stepDef(step.kind)?.values, step.values, scope, doc);
    if (values !== step.values) return { ...step, values };
    if (Object.isFrozen(step) && !hasExpression(stepDef(step.kind)?.values)) plainSteps.add(step);
    return step;
  });
}

/** Stored values of a tool as they are now: numbers in the place of formulas, as far as they can be worked out. */
export const valuesNow = (defs: ValueDefs, stored: Record<string, unknown>, doc: WithDials): Record<string, unknown> =>
  resolvedValues(defs, stored, dialScope(doc), doc);

const hasExpression = (defs: ValueDefs | undefined): boolean =>
  Object.values(defs ?? {}).some((d) => d.kind === 'expression' || d.kind === 'moves');

function resolvedValues(
  defs: ValueDefs | undefined,
  stored: Record<string, unknown>,
  scope: Scope,
  doc: WithDials,
): Record<string, unknown> {
  let out = stored;
  const put = (name: string, value: unknown): void => {
    if (out === stored) out = { ...stored };
    out[name] = value;
  };
  for (const [name, def] of Object.entries(defs ?? {})) {
    const value = stored[name];
    if (isFormula(value)) put(name, worked(value.formula, def, scope));
    else if (def.kind === 'expression' && value) {
      const used = (doc.dials ?? []).filter((d) => names((value as Expression).text, d.name));
      if (used.length > 0) put(name, { ...(value as Expression), given: used.map((d) => [d.name, d.kind, d.value]) });
    } else if (def.kind === 'moves' && value) {
      const list = value as readonly Move[];
      const next = list.map((m) => {
        const values = resolvedValues(toolDef(m.tool)?.values, m.values, scope, doc);
        return values === m.values ? m : { ...m, values };
      });
      if (next.some((m, i) => m !== list[i])) put(name, next);
    }
  }
  return out;
}

function worked(formula: string, def: ValueDef<unknown>, scope: Scope): unknown {
  try {
    return valueOf(formula, scope, typeOfDial(def.kind))[0];
  } catch (e) {
    if (!(e instanceof FormulaError)) throw e;
    return { formula, wrong: `In “${formula}”: ${e.message}` };
  }
}

/** Where a dial is used: piece and step by step. */
export function usesOf(doc: ProjectDocument, name: string): { piece: string; step: number }[] {
  const out: { piece: string; step: number }[] = [];
  for (const p of doc.pieces)
    p.recipe.forEach((step, i) => {
      if (textsIn(step.values).some((t) => names(t, name))) out.push({ piece: p.name, step: i + 1 });
    });
  return out;
}

/** Every formula within stored values. */
function textsIn(value: unknown): string[] {
  if (typeof value !== 'object' || value === null) return [];
  if (isFormula(value)) return [value.formula];
  if (isExpression(value)) return [value.text];
  return Object.values(value).flatMap(textsIn);
}
const isExpression = (v: object): v is Expression => 'text' in v && 'unit' in v && typeof v.text === 'string';

/** Formulas that name a dial name it otherwise; written to the draft in place. */
export function renameDial(doc: ProjectDocument, id: string, to: string): void {
  const dial = doc.dials?.find((d) => d.id === id);
  if (!dial || dial.name === to || !isDialName(to) || doc.dials!.some((d) => d.name === to)) return;
  const word = new RegExp(`(?<![\\p{L}\\p{N}_.])${dial.name}(?![\\p{L}\\p{N}_])`, 'gu');
  const walk = (value: unknown): void => {
    if (typeof value !== 'object' || value === null) return;
    if (isFormula(value)) (value as { formula: string }).formula = value.formula.replace(word, to);
    else if (isExpression(value)) (value as { text: string }).text = value.text.replace(word, to);
    else Object.values(value).forEach(walk);
  };
  for (const p of doc.pieces) for (const s of p.recipe) walk(s.values);
  dial.name = to;
}

export function addDial(doc: ProjectDocument, dial: Dial): void {
  if (!isDialName(dial.name) || doc.dials?.some((d) => d.name === dial.name)) return;
  (doc.dials ??= []).push(dial);
}

export function setDial(
  doc: ProjectDocument,
  id: string,
  part: Partial<Pick<Dial, 'value' | 'min' | 'max' | 'note'>>,
): void {
  const dial = doc.dials?.find((d) => d.id === id);
  if (!dial) return;
  Object.assign(dial, part);
  const whole = dial.kind === 'count' ? Math.round(dial.value) : dial.value;
  dial.value = Math.min(dial.max ?? Infinity, Math.max(dial.min ?? -Infinity, whole));
}

/** Takes a dial away; where it is used, its value stays. */
export function removeDial(doc: ProjectDocument, id: string): void {
  const dial = doc.dials?.find((d) => d.id === id);
  if (!dial || usesOf(doc, dial.name).length > 0) return;
  doc.dials = doc.dials!.filter((d) => d.id !== id);
}

/** A name like a label that no dial has yet. */
export function freeName(doc: WithDials, label: string): string {
  const parts = label.toLowerCase().match(/[\p{L}\p{N}]+/gu) ?? ['dial'];
  const word = parts.join('_');
  const base = /^\p{L}/u.test(word) ? word.slice(0, 30) : `dial_${word.slice(0, 24)}`;
  const taken = new Set((doc.dials ?? []).map((d) => d.name));
  for (let i = 1; ; i++) {
    const name = i === 1 ? base : `${base}_${i}`;
    if (!taken.has(name)) return name;
  }
}
