/** Dials: named values of a project that formulas go by. Where a recipe is followed its formulas are worked out first, so only what uses a dial runs again. */
import { ANGLE, FormulaError, LENGTH, PLAIN, TRUTH, valueOf, type Known, type Scope, type Type } from '../core/formula';
import { unitSize } from '../core/recipe/quantity';
import { isFormula, type Expression, type Move, type ValueDef, type ValueDefs } from '../core/recipe/values';
import { stepDef } from '../core/steps';
import { toolDef } from '../core/tools';
import type { Dial, Piece, ProjectDocument, Step } from './types';

type WithDials = Pick<ProjectDocument, 'dials' | 'units'> & Partial<Pick<ProjectDocument, 'pieces'>>;
/** What dials are kept by: a piece, a group, or the project. */
interface Holder {
  dials?: Dial[];
}

const indices = new WeakMap<readonly Piece[], Map<string, Piece>>();
/** Pieces by their ids. Of a list that cannot change any more the index is kept: each of thousands asks for it. */
function pieceIn(pieces: readonly Piece[]): (id: string | null | undefined) => Piece | undefined {
  if (!Object.isFrozen(pieces)) return (id) => pieces.find((p) => p.id === id);
  let index = indices.get(pieces);
  if (!index) {
    index = new Map(pieces.map((p) => [p.id, p]));
    indices.set(pieces, index);
  }
  const known = index;
  return (id) => known.get(id ?? '');
}

/** Whose dials a piece's formulas may name: its own, those of the groups it is in, the project's. The nearest of a name is meant. */
function holdersOf(doc: WithDials, piece: string | undefined): Holder[] {
  const out: Holder[] = [];
  const of = pieceIn(doc.pieces ?? []);
  for (let p = of(piece), i = 0; p && i < 1000; p = of(p.parent), i++) out.push(p);
  return [...out, doc];
}

/** Dials that a piece's formulas may name; without a piece the project's. */
export function dialsFor(doc: WithDials, piece?: string): Dial[] {
  const seen = new Set<string>();
  return holdersOf(doc, piece).flatMap((h) =>
    (h.dials ?? []).filter((d) => {
      if (seen.has(d.name)) return false;
      seen.add(d.name);
      return true;
    }),
  );
}

/** A dial by its id, and what keeps it. */
export function dialById(doc: WithDials, id: string): { dial: Dial; holder: Holder } | undefined {
  for (const holder of [doc, ...(doc.pieces ?? [])]) {
    const dial = holder.dials?.find((d) => d.id === id);
    if (dial) return { dial, holder };
  }
  return undefined;
}

const TYPES: Readonly<Record<string, Type>> = {
  length: LENGTH,
  angle: ANGLE,
  number: PLAIN,
  count: PLAIN,
  toggle: TRUTH,
};
export const typeOfDial = (kind: string): Type => TYPES[kind] ?? PLAIN;

/** A word of letters and figures, as formulas name it. */
export const isDialName = (name: string): boolean => /^[\p{L}_][\p{L}\p{N}_]*$/u.test(name) && name.length <= 40;

const knownOf = (d: Dial): Known => ({ type: typeOfDial(d.kind), help: 'a dial', constant: [d.value] });

export function dialScope(doc: WithDials, piece?: string): Scope {
  return scopeOf(dialsFor(doc, piece), doc);
}

const scopeOf = (dials: readonly Dial[], doc: WithDials): Scope => ({
  unit: unitSize(doc.units),
  known: (name) => {
    const found = dials.find((d) => d.name === name);
    return found && knownOf(found);
  },
  names: () => dials.map((d) => d.name),
});

/** Whether a text names a dial: by whole words. */
const names = (text: string, name: string): boolean =>
  new RegExp(`(?<![\\p{L}\\p{N}_.])${name}(?![\\p{L}\\p{N}_])`, 'u').test(text);

/** Steps that have no formula stay the very same; which those are is asked once for each. */
const plainSteps = new WeakSet<Step>();

/** Values that a placement of a kit gives its dials: by name, numbers or formulas of where it is placed. */
export type OwnValues = Readonly<Record<string, unknown>>;

/** The dials of a kit as a placement turns them. */
export function turned(dials: readonly Dial[], own: OwnValues): Dial[] {
  return dials.map((d) => {
    const value = own[d.name];
    return typeof value === 'number' && Number.isFinite(value) ? { ...d, value: within(d, value) } : d;
  });
}

const within = (d: Dial, value: number): number =>
  Math.min(d.max ?? Infinity, Math.max(d.min ?? -Infinity, d.kind === 'count' ? Math.round(value) : value));

/**
 * The same steps with numbers in the place of formulas. What cannot be worked out says why when it is read. `piece`: whose steps they are; `own`:
 * what its dials are turned to.
 */
export function resolved(steps: readonly Step[], doc: WithDials, piece?: string, own?: OwnValues): readonly Step[] {
  const dials = turned(dialsFor(doc, piece), own ?? {});
  const scope = scopeOf(dials, doc);
  let changed = false;
  // Without a dial too: plain numbers in a formula are of the project's unit, wherever it is worked out.
  const out = steps.map((step) => {
    if (plainSteps.has(step)) return step;
    const values = resolvedValues(stepDef(step.kind)?.values, step.values, scope, dials);
    if (values !== step.values) {
      changed = true;
      return { ...step, values };
    }
    if (Object.isFrozen(step) && !hasExpression(stepDef(step.kind)?.values)) plainSteps.add(step);
    return step;
  });
  return changed ? out : steps;
}

/** Stored values of a tool as they are now: numbers in the place of formulas, as far as they can be worked out. */
export function valuesNow(
  defs: ValueDefs,
  stored: Record<string, unknown>,
  doc: WithDials,
  piece?: string,
): Record<string, unknown> {
  const dials = dialsFor(doc, piece);
  return resolvedValues(defs, stored, scopeOf(dials, doc), dials);
}

function resolvedStep(step: Step, scope: Scope, dials: readonly Dial[]): Step {
  const values = resolvedValues(stepDef(step.kind)?.values, step.values, scope, dials);
  return values === step.values ? step : { ...step, values };
}

/** Steps in which some dials stand as the numbers they are now; other formulas stay. */
export function worked(steps: readonly Step[], dials: readonly Dial[], doc: WithDials): Step[] {
  if (dials.length === 0) return [...steps];
  const scope = scopeOf(dials, doc);
  return steps.map((step) => {
    const out = resolvedStep(step, scope, dials);
    // What names other dials as well could not be worked out by these: it stays as it was written.
    const values = Object.fromEntries(
      Object.entries(out.values).map(([name, v]) => [name, isFormula(v) && v.wrong ? step.values[name] : v]),
    );
    return { ...out, values };
  });
}

/** The same dials as another thing's: no two of a project have one id. */
export const withFreshIds = (dials: readonly Dial[], makeId: () => string): Dial[] =>
  dials.map((d) => ({ ...d, id: makeId() }));

const hasExpression = (defs: ValueDefs | undefined): boolean =>
  Object.values(defs ?? {}).some((d) => ['expression', 'moves', 'own', 'parts'].includes(d.kind));

function resolvedValues(
  defs: ValueDefs | undefined,
  stored: Record<string, unknown>,
  scope: Scope,
  dials: readonly Dial[],
): Record<string, unknown> {
  let out = stored;
  const put = (name: string, value: unknown): void => {
    if (out === stored) out = { ...stored };
    out[name] = value;
  };
  for (const [name, def] of Object.entries(defs ?? {})) {
    const value = stored[name];
    if (isFormula(value)) put(name, numberOf(value.formula, def, scope));
    else if (def.kind === 'expression' && value) {
      const used = dials.filter((d) => names((value as Expression).text, d.name));
      if (used.length > 0) put(name, { ...(value as Expression), given: used.map((d) => [d.name, d.kind, d.value]) });
    } else if (def.recipes && def.withRecipes && value) {
      // Pieces within pieces: merged ones go by the dials of what they became.
      const inner = def.recipes(value);
      const next = inner.map((list) => list.map((step) => resolvedStep(step, scope, dials)));
      if (next.some((list, i) => list.some((step, k) => step !== inner[i][k]))) put(name, def.withRecipes(value, next));
    } else if (def.kind === 'own' && value) {
      const entries = Object.entries(value as OwnValues);
      if (entries.some(([, x]) => isFormula(x)))
        put(name, Object.fromEntries(entries.map(([n, x]) => [n, isFormula(x) ? plainly(x.formula, scope) : x])));
    } else if (def.kind === 'moves' && value) {
      const list = value as readonly Move[];
      const next = list.map((m) => {
        const values = resolvedValues(toolDef(m.tool)?.values, m.values, scope, dials);
        return values === m.values ? m : { ...m, values };
      });
      if (next.some((m, i) => m !== list[i])) put(name, next);
    }
  }
  return out;
}

/** A formula whose kind only the kit knows. */
function plainly(formula: string, scope: Scope): unknown {
  try {
    return valueOf(formula, scope)[0];
  } catch (e) {
    if (!(e instanceof FormulaError)) throw e;
    return { formula, wrong: `In “${formula}”: ${e.message}` };
  }
}

function numberOf(formula: string, def: ValueDef<unknown>, scope: Scope): unknown {
  try {
    const [x] = valueOf(formula, scope, typeOfDial(def.kind));
    return def.kind === 'toggle' ? x !== 0 : x;
  } catch (e) {
    if (!(e instanceof FormulaError)) throw e;
    return { formula, wrong: `In “${formula}”: ${e.message}` };
  }
}

/** Pieces whose formulas mean this very dial by its name. */
function reachOf(doc: ProjectDocument, id: string): Piece[] {
  const found = dialById(doc, id);
  if (!found) return [];
  return doc.pieces.filter((p) => dialsFor(doc, p.id).some((d) => d.id === id));
}

/** The dials that a piece's formulas name, and all of its own: what its recipe can hang on. */
export function dialsNamed(doc: WithDials, piece: Piece): Dial[] {
  const texts = piece.recipe.flatMap((step) => textsIn(step.values));
  return dialsFor(doc, piece.id).filter((d) => piece.dials?.includes(d) || texts.some((t) => names(t, d.name)));
}

/** Steps that turn the dials of a piece by their names: `own` values of what places it as a kit. */
function* placementsOf(
  doc: ProjectDocument,
  piece: string,
): Generator<{ step: Step; at: Piece; own: Record<string, unknown> }> {
  for (const at of doc.pieces)
    for (const step of at.recipe)
      if (step.values.kit === piece && typeof step.values.own === 'object' && step.values.own !== null)
        yield { step, at, own: step.values.own as Record<string, unknown> };
}

/** Where a dial is used: piece and step by step. */
export function usesOf(doc: ProjectDocument, id: string): { piece: string; step: number }[] {
  const out: { piece: string; step: number }[] = [];
  const found = dialById(doc, id);
  if (!found) return out;
  for (const p of reachOf(doc, id))
    p.recipe.forEach((step, i) => {
      if (textsIn(step.values).some((t) => names(t, found.dial.name))) out.push({ piece: p.name, step: i + 1 });
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

/** Formulas that name a dial name it otherwise, and so do placements that turn it; written to the draft in place. */
export function renameDial(doc: ProjectDocument, id: string, to: string): void {
  const found = dialById(doc, id);
  if (!found || found.dial.name === to || !isDialName(to)) return;
  const { dial, holder } = found;
  const reach = reachOf(doc, id);
  // A name that is taken anywhere it would be seen would change what other formulas mean.
  if (holder.dials!.some((d) => d.name === to)) return;
  if (reach.some((p) => dialsFor(doc, p.id).some((d) => d.name === to))) return;
  const word = new RegExp(`(?<![\\p{L}\\p{N}_.])${dial.name}(?![\\p{L}\\p{N}_])`, 'gu');
  const walk = (value: unknown): void => {
    if (typeof value !== 'object' || value === null) return;
    if (isFormula(value)) (value as { formula: string }).formula = value.formula.replace(word, to);
    else if (isExpression(value)) (value as { text: string }).text = value.text.replace(word, to);
    else Object.values(value).forEach(walk);
  };
  for (const p of reach) for (const s of p.recipe) walk(s.values);
  if ('id' in holder)
    for (const { own } of placementsOf(doc, (holder as Piece).id))
      if (dial.name in own) {
        own[to] = own[dial.name];
        delete own[dial.name];
      }
  dial.name = to;
}

/** A dial of the project, or of a piece or group. */
export function addDial(doc: ProjectDocument, dial: Dial, piece?: string): void {
  const holder: Holder | undefined = piece === undefined ? doc : doc.pieces.find((p) => p.id === piece);
  if (!holder || !isDialName(dial.name) || holder.dials?.some((d) => d.name === dial.name)) return;
  (holder.dials ??= []).push(dial);
}

export function setDial(
  doc: ProjectDocument,
  id: string,
  part: Partial<Pick<Dial, 'value' | 'min' | 'max' | 'note'>>,
): void {
  const dial = dialById(doc, id)?.dial;
  if (!dial) return;
  Object.assign(dial, part);
  dial.value = within(dial, dial.value);
}

/** Takes a dial away; where it is used, its value stays. */
export function removeDial(doc: ProjectDocument, id: string): void {
  const found = dialById(doc, id);
  if (!found || usesOf(doc, id).length > 0) return;
  found.holder.dials = found.holder.dials!.filter((d) => d.id !== id);
}

/** A name like a label that no dial has yet where it would be seen. */
export function freeName(doc: WithDials, label: string, piece?: string): string {
  const parts = label.toLowerCase().match(/[\p{L}\p{N}]+/gu) ?? ['dial'];
  const word = parts.join('_');
  const base = /^\p{L}/u.test(word) ? word.slice(0, 30) : `dial_${word.slice(0, 24)}`;
  const taken = new Set(dialsFor(doc, piece).map((d) => d.name));
  for (let i = 1; ; i++) {
    const name = i === 1 ? base : `${base}_${i}`;
    if (!taken.has(name)) return name;
  }
}
