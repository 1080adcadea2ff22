/**
 * What a value of a step or tool is. A kind of value says in one place how a stored one is checked and read, what of
 * the project it names, and which recipes lie within it; documents are checked, followed, copied and bundled by that
 * alone.
 */
import type * as yup from 'yup';
import { parseQuantity, type QuantityKind } from './quantity';

/** Something of the project that a value names. */
export interface Reference {
  readonly to: 'blob' | 'material' | 'piece' | 'image';
  readonly id: string;
  /** Of a piece, the step after which it is taken; all of its recipe where that is left out. */
  readonly step?: string;
}

export type Rename = (reference: Reference) => string;

/** A number that is worked out from text each time it is read. */
export interface Formula {
  readonly formula: string;
  /** Why it could not be worked out; only where a recipe is followed. */
  readonly wrong?: string;
}

export const isFormula = (stored: unknown): stored is Formula =>
  typeof stored === 'object' && stored !== null && typeof (stored as Formula).formula === 'string';

/** One step of a recipe, as it is kept. */
export interface Step {
  id: string;
  kind: string;
  values: Record<string, unknown>;
  on: boolean;
  note?: string;
  /** What it is folded under on the map, with those next to it of the same name. */
  fold?: string;
}

/** How values of one kind behave. */
export interface ValueKindDef<T> {
  readonly kind: string;
  /**
   * The stored value as `run` gets it: what is missing made whole, numbers within their limits. Throws one sentence.
   */
  read(stored: unknown, def: ValueDef<T>): T;
  /** What of the project it names. */
  refs?(value: T): readonly Reference[];
  /** The same value with what it names renamed. */
  renamed?(value: T, to: Rename): T;
  /** Recipes within it, and the value with others in their place. */
  recipes?(value: T): readonly (readonly Step[])[];
  withRecipes?(value: T, recipes: readonly (readonly Step[])[]): T;
}

export interface ValueDef<T> extends ValueKindDef<T> {
  readonly label: string;
  readonly default: T;
  readonly schema: yup.AnySchema;
  readonly min?: number;
  readonly max?: number;
  /** For choices: the stored word and how it reads in a sentence. */
  readonly options?: readonly (readonly [string, string])[];
  /** For picks and counts: what is counted, in singular and plural. */
  readonly noun?: readonly [string, string];
  /** A word shown instead of the number 0. */
  readonly zero?: string;
  /** Digits shown after the point, where the project's own number of them is not right for it. */
  readonly digits?: number;
  /** A unit that the number carries in sentences. */
  readonly unit?: string;
  /** Made by the tools only: not shown among "all values". */
  readonly inner?: boolean;
}

export type ValueDefs = Readonly<Record<string, ValueDef<unknown>>>;
export type ValuesOf<D> = { [K in keyof D]: D[K] extends ValueDef<infer T> ? T : never };

/** A kind of value; what it returns makes values of that kind from a label, a default, a schema and options. */
export function defineValueKind<T>(kind: Omit<ValueKindDef<T>, 'read'> & Partial<Pick<ValueKindDef<T>, 'read'>>) {
  const read = (stored: unknown, def: ValueDef<T>): T => (stored === undefined ? def.default : (stored as T));
  type Own = Omit<ValueDef<T>, keyof ValueKindDef<T>>;
  return (own: Own): ValueDef<T> => ({ read, ...kind, ...own });
}

/** A number as it is stored: itself, or a formula that gives it. */
export function readNumber(stored: unknown, def: ValueDef<number>): number {
  if (isFormula(stored) && stored.wrong) throw new Error(stored.wrong);
  const x = isFormula(stored) ? parseQuantity(stored.formula, def.kind as QuantityKind, 'm') : stored;
  if (typeof x !== 'number' || !Number.isFinite(x)) return def.default;
  const whole = def.kind === 'count' ? Math.round(x) : x;
  return Math.min(def.max ?? Infinity, Math.max(def.min ?? -Infinity, whole));
}

/** Yes or no as it is stored: itself, or a formula that gives it. */
export function readToggle(stored: unknown, def: ValueDef<boolean>): boolean {
  if (isFormula(stored) && stored.wrong) throw new Error(stored.wrong);
  if (isFormula(stored)) return stored.formula.trim() === 'true';
  return typeof stored === 'boolean' ? stored : def.default;
}

/** A word as it is stored: itself, or a formula that comes to one. */
export function readWord(stored: unknown, def: ValueDef<string>): string {
  if (isFormula(stored)) throw new Error(stored.wrong ?? `“${stored.formula}” cannot be worked out here.`);
  return typeof stored === 'string' ? stored : def.default;
}

/**
 * Stored values as they are used: what is missing filled in and numbers kept within their limits. Throws one sentence.
 */
export function complete<D extends ValueDefs>(defs: D, stored: Readonly<Record<string, unknown>>): ValuesOf<D> {
  const out: Record<string, unknown> = {};
  for (const [name, def] of Object.entries(defs)) out[name] = def.read(stored[name], def);
  return out as ValuesOf<D>;
}

/** A copy of its own each time: whoever takes it may write to it. */
export function defaultsOf<D extends ValueDefs>(defs: D): ValuesOf<D> {
  return structuredClone(Object.fromEntries(Object.entries(defs).map(([k, d]) => [k, d.default]))) as ValuesOf<D>;
}
