/**
 * Dials: named values of a project that formulas go by. Where a recipe is followed its formulas are worked out first,
 * so only what uses a dial runs again.
 */
import { answerOf, FormulaError, knownOfDial, typeOfDial, type Scope } from '../core/formula';
import { unitSize } from '../core/recipe/quantity';
import { isFormula, type Expression, type Move, type ValueDef, type ValueDefs } from '../core/recipe/values';
import { stepDef } from '../core/steps';
import { toolDef } from '../core/tools';
import type { Dial, Piece, ProjectDocument, ProjectImage, Step } from './types';

type WithDials = Pick<ProjectDocument, 'dials' | 'units'> & Partial<Pick<ProjectDocument, 'pieces' | 'images'>>;
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

/**
 * Whose dials a piece's formulas may name: its own, those of the groups it is in, the project's. The nearest of a name
 * is meant.
 */
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

/** A word of letters and figures, as formulas name it. */
export const isDialName = (name: string): boolean => /^[\p{L}_][\p{L}\p{N}_]*$/u.test(name) && name.length <= 40;

export function dialScope(doc: WithDials, piece?: string): Scope {
  return scopeOf(dialsFor(doc, piece), doc);
}

const scopeOf = (dials: readonly Dial[], doc: WithDials): Scope => ({
  unit: unitSize(doc.units),
  known: (name) => {
    const found = dials.find((d) => d.name === name);
    return found && knownOfDial(found);
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
    const value = chosen(d, own[d.name]);
    return typeof value === 'number' && Number.isFinite(value) ? { ...d, value: within(d, value) } : d;
  });
}

/** A word as which of the options it is; what is none stays what it was. */
const chosen = (d: Dial, value: unknown): unknown =>
  typeof value === 'string' && d.options?.includes(value) ? d.options.indexOf(value) : value;

/** Dials whose values are ones of a list, or 0 and 1. */
const COUNTED = ['count', 'toggle', 'choice', 'piece', 'material', 'picture', 'colour'];
/** Limits of a dial that follow from what it is. */
export function limitsOf(d: Dial): { min?: number; max?: number } {
  if (d.kind === 'toggle') return { min: 0, max: 1 };
  if (d.kind === 'colour') return { min: 0, max: 0xffffff };
  if (d.options) return { min: 0, max: Math.max(0, d.options.length - 1) };
  return d;
}
/** Whether it is turned through values one after another: what solving and variations go over. */
export const isTurned = (d: Dial): boolean => !['colour', 'ramp'].includes(d.kind);
export const isWhole = (d: Pick<Dial, 'kind'>): boolean => COUNTED.includes(d.kind);

const within = (d: Dial, value: number): number => {
  const { min = -Infinity, max = Infinity } = limitsOf(d);
  return Math.min(max, Math.max(min, isWhole(d) ? Math.round(value) : value));
};

/**
 * The same steps with numbers in the place of formulas. What cannot be worked out says why when it is read. `piece`:
 * whose steps they are; `own`: what its dials are turned to.
 */
export function resolved(steps: readonly Step[], doc: WithDials, piece?: string, own?: OwnValues): readonly Step[] {
  const dials = turned(dialsFor(doc, piece), own ?? {});
  const scope = scopeOf(dials, doc);
  const images = doc.images ?? [];
  let changed = false;
  // Without a dial too: plain numbers in a formula are of the project's unit, wherever it is worked out.
  const out = steps.map((step) => {
    if (plainSteps.has(step)) return step;
    const values = resolvedValues(stepDef(step.kind)?.values, step.values, scope, dials, images);
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
  return resolvedValues(defs, stored, scopeOf(dials, doc), dials, doc.images ?? []);
}

function resolvedStep(step: Step, scope: Scope, dials: readonly Dial[], images: readonly ProjectImage[]): Step {
  const values = resolvedValues(stepDef(step.kind)?.values, step.values, scope, dials, images);
  return values === step.values ? step : { ...step, values };
}

/** Steps in which some dials stand as the numbers they are now; other formulas stay. */
export function worked(steps: readonly Step[], dials: readonly Dial[], doc: WithDials): Step[] {
  if (dials.length === 0) return [...steps];
  const scope = scopeOf(dials, doc);
  const images = doc.images ?? [];
  return steps.map((step) => {
    const out = resolvedStep(step, scope, dials, images);
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

/** What a formula over elements needs of a dial. */
function givenOf(
  { name, kind, value, options, points, smooth }: Dial,
  images: readonly ProjectImage[],
): NonNullable<Expression['given']>[number] {
  const picture = kind === 'picture' ? images.find((i) => i.id === options?.[value]) : undefined;
  return {
    name,
    kind,
    value,
    ...(options ? { options } : {}),
    ...(points ? { points, smooth: smooth === true } : {}),
    ...(picture ? { file: { sha: picture.blob, name: picture.name } } : {}),
  };
}

function resolvedValues(
  defs: ValueDefs | undefined,
  stored: Record<string, unknown>,
  scope: Scope,
  dials: readonly Dial[],
  images: readonly ProjectImage[],
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
      if (used.length > 0) put(name, { ...(value as Expression), given: used.map((d) => givenOf(d, images)) });
    } else if (def.recipes && def.withRecipes && value) {
      // Pieces within pieces: merged ones go by the dials of what they became.
      const inner = def.recipes(value);
      const next = inner.map((list) => list.map((step) => resolvedStep(step, scope, dials, images)));
      if (next.some((list, i) => list.some((step, k) => step !== inner[i][k]))) put(name, def.withRecipes(value, next));
    } else if (def.kind === 'own' && value) {
      const entries = Object.entries(value as OwnValues);
      if (entries.some(([, x]) => isFormula(x)))
        put(name, Object.fromEntries(entries.map(([n, x]) => [n, isFormula(x) ? plainly(x.formula, scope) : x])));
    } else if (def.kind === 'moves' && value) {
      const list = value as readonly Move[];
      const next = list.map((m) => {
        const values = resolvedValues(toolDef(m.tool)?.values, m.values, scope, dials, images);
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
    const found = answerOf(formula, scope);
    return typeof found === 'string' ? found : found[0];
  } catch (e) {
    if (!(e instanceof FormulaError)) throw e;
    return { formula, wrong: `In “${formula}”: ${e.message}` };
  }
}

/** What a formula comes to as such a value. Throws a FormulaError. */
export function answerFor(formula: string, def: Pick<ValueDef<unknown>, 'kind' | 'options'>, scope: Scope): unknown {
  const found = answerOf(formula, scope, typeOfDial(def.kind));
  if (typeof found !== 'string') return def.kind === 'toggle' ? found[0] !== 0 : found[0];
  const wrong = (why: string) => new FormulaError(why, [0, formula.length]);
  if (def.kind === 'choice') {
    const low = found.toLowerCase();
    const option = def.options?.find(([id, label]) => id === found || label.toLowerCase() === low);
    if (option) return option[0];
    throw wrong(`“${found}” is none of ${(def.options ?? []).map(([, label]) => `“${label}”`).join(', ')}.`);
  }
  // Ids stand in dials alone: a name in quotes would be another thing as soon as it is named otherwise.
  if (found !== '' && !scope.names().some((n) => scope.known(n)?.text === found))
    throw wrong('Pieces and materials are named by dials here, not in quotes: make a dial of it first.');
  return found;
}

function numberOf(formula: string, def: ValueDef<unknown>, scope: Scope): unknown {
  try {
    return answerFor(formula, def, scope);
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

export function setDial(doc: ProjectDocument, id: string, part: Partial<Omit<Dial, 'id' | 'name' | 'kind'>>): void {
  const dial = dialById(doc, id)?.dial;
  if (!dial) return;
  for (const [name, value] of Object.entries(part))
    if (value === undefined) delete dial[name as 'note'];
    else Object.assign(dial, { [name]: value });
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
