/** Kinds of values that steps and moves have: what they hold, their limits, and how a stored one is checked. */
import * as yup from 'yup';
import type { Affine } from '../math/affine';
import type { Pick, PickKind } from '../mesh/picks';
import type { Placed } from '../uv/unwrap';

export type ValueKind =
  | 'length'
  | 'angle'
  | 'count'
  | 'number'
  | 'choice'
  | 'toggle'
  | 'text'
  | 'pick'
  | 'moves'
  | 'colors'
  | 'placed'
  | 'slots'
  | 'parts';

export interface ValueDef<T> {
  readonly kind: ValueKind;
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
}

export type ValueDefs = Readonly<Record<string, ValueDef<unknown>>>;
export type ValuesOf<D> = { [K in keyof D]: D[K] extends ValueDef<infer T> ? T : never };

interface Range {
  min?: number;
  max?: number;
  zero?: string;
  unit?: string;
  digits?: number;
}

function numeric(
  kind: ValueKind,
  label: string,
  value: number,
  { min = -1e6, max = 1e6, ...rest }: Range,
): ValueDef<number> {
  return {
    kind,
    label,
    default: value,
    min,
    max,
    ...rest,
    schema: yup
      .number()
      .required()
      .min(min)
      .max(max)
      .test('finite', '${path} must be a finite number', (x) => Number.isFinite(x)),
  };
}

/** Metres. */
export const length = (label: string, value: number, range: Range = {}): ValueDef<number> =>
  numeric('length', label, value, range);
/** Radians inside, degrees at the surface. */
export const angle = (label: string, degrees: number, range: Range = {}): ValueDef<number> =>
  numeric('angle', label, (degrees * Math.PI) / 180, range);
export const number = (label: string, value: number, range: Range = {}): ValueDef<number> =>
  numeric('number', label, value, range);
export const count = (
  label: string,
  value: number,
  range: Range & { noun?: readonly [string, string] } = {},
): ValueDef<number> => {
  const def = numeric('count', label, value, { min: 0, max: 4096, ...range });
  return { ...def, noun: range.noun, schema: (def.schema as yup.NumberSchema).integer() };
};
export const toggle = (label: string, value: boolean, on = 'yes', off = 'no'): ValueDef<boolean> => ({
  kind: 'toggle',
  label,
  default: value,
  options: [
    ['true', on],
    ['false', off],
  ],
  schema: yup.boolean().required(),
});
export const text = (label: string, value: string): ValueDef<string> => ({
  kind: 'text',
  label,
  default: value,
  schema: yup.string().max(500).defined(),
});

export function choice<const O extends readonly (readonly [string, string])[]>(
  label: string,
  value: O[number][0],
  options: O,
): ValueDef<O[number][0]> {
  return {
    kind: 'choice',
    label,
    default: value,
    options,
    schema: yup
      .string()
      .required()
      .oneOf(options.map((o) => o[0])),
  };
}

/** Long lists of keys are checked in one plain loop: element by element through the schema library takes seconds for large picks. */
const isKeys = (v: unknown): boolean => {
  if (!Array.isArray(v) || v.length > 2_000_000) return false;
  for (const k of v) if (typeof k !== 'number' || !Number.isSafeInteger(k) || k < 0) return false;
  return true;
};
const isNumbers = (v: unknown): boolean =>
  Array.isArray(v) && v.length <= 4_000_000 && v.every((x) => typeof x === 'number' && Math.abs(x) <= 1000);
const KEYS = yup.mixed<number[]>().required().test('keys', '${path} must be a list of keys', isKeys);
export const pickSchema = yup
  .object({ kind: yup.string().required().oneOf(['vertex', 'edge', 'face']), keys: KEYS })
  .noUnknown();

export const pick = (label: string, kind: PickKind, noun: readonly [string, string]): ValueDef<Pick> => ({
  kind: 'pick',
  label,
  default: { kind, keys: [] },
  noun,
  schema: pickSchema.required(),
});

export interface Move {
  id: string;
  tool: string;
  pick: Pick;
  values: Record<string, unknown>;
}
export const moves = (label: string): ValueDef<readonly Move[]> => ({
  kind: 'moves',
  label,
  default: [],
  noun: ['move', 'moves'],
  schema: yup
    .array()
    .required()
    .max(100_000)
    .of(
      yup
        .object({
          id: yup.string().required().max(60),
          tool: yup.string().required().max(40),
          pick: pickSchema.required(),
          values: yup.object().required(),
        })
        .noUnknown(),
    ),
});

/** Faces and the material each list of them has. */
export interface Coloured {
  material: string;
  keys: readonly number[];
}
export const colors = (label: string): ValueDef<readonly Coloured[]> => ({
  kind: 'colors',
  label,
  default: [],
  noun: ['material', 'materials'],
  schema: yup
    .array()
    .required()
    .max(1000)
    .of(yup.object({ material: yup.string().required().max(60), keys: KEYS }).noUnknown()),
});

export const placed = (label: string): ValueDef<Placed> => ({
  kind: 'placed',
  label,
  default: { face: [], vertex: [], uv: [] },
  schema: yup
    .object({
      face: KEYS,
      vertex: KEYS,
      uv: yup.mixed<number[]>().required().test('places', '${path} must be a list of places', isNumbers),
    })
    .noUnknown()
    .test(
      'lengths',
      '${path} must have as many places as keys',
      (v) => !!v && v.face!.length === v.vertex!.length && v.uv!.length === 2 * v.face!.length,
    ),
});

/** One step of a recipe, as it is kept. */
export interface Step {
  id: string;
  kind: string;
  values: Record<string, unknown>;
  on: boolean;
  note?: string;
}

/** A piece inside another: its recipe, and the map that places it. */
export interface Part {
  id: string;
  name: string;
  recipe: readonly Step[];
  place: Affine;
}
const isPlace = (v: unknown): boolean =>
  Array.isArray(v) && v.length === 12 && v.every((x) => typeof x === 'number' && Math.abs(x) <= 1e9);
export const parts = (label: string): ValueDef<readonly Part[]> => ({
  kind: 'parts',
  label,
  default: [],
  noun: ['piece', 'pieces'],
  schema: yup
    .array()
    .required()
    .max(20000)
    .of(
      yup
        .object({
          id: yup.string().required().max(60),
          name: yup.string().required().max(200),
          recipe: yup.array().required().max(1000),
          place: yup.mixed<Affine>().required().test('place', '${path} must be twelve numbers', isPlace),
        })
        .noUnknown(),
    ),
});

/** Names of a file's materials → ids of the project's. */
export const slots = (label: string): ValueDef<Readonly<Record<string, string>>> => ({
  kind: 'slots',
  label,
  default: {},
  schema: yup.object().required(),
});

/** A copy of its own each time: whoever takes it may write to it. */
export function defaultsOf<D extends ValueDefs>(defs: D): ValuesOf<D> {
  return structuredClone(Object.fromEntries(Object.entries(defs).map(([k, d]) => [k, d.default]))) as ValuesOf<D>;
}

export function schemaOf(defs: ValueDefs): yup.AnySchema {
  return yup.object(Object.fromEntries(Object.entries(defs).map(([k, d]) => [k, d.schema]))).noUnknown();
}

/** Stored values with what is missing filled in and numbers kept within their limits. */
export function complete<D extends ValueDefs>(defs: D, stored: Readonly<Record<string, unknown>>): ValuesOf<D> {
  const out: Record<string, unknown> = {};
  for (const [k, d] of Object.entries(defs)) {
    const v = stored[k];
    if (typeof d.default === 'number')
      out[k] = typeof v === 'number' && Number.isFinite(v) ? Math.min(d.max!, Math.max(d.min!, v)) : d.default;
    else out[k] = v === undefined ? d.default : v;
  }
  return out as ValuesOf<D>;
}
