/** The kinds of values that steps and tools have. A new kind is one `defineValueKind` here. */
import * as yup from 'yup';
import type { Affine, Triple } from '../math/affine';
import type { Dab } from '../edit/brush';
import type { ElementPick, PickKind } from '../mesh/picks';
import type { DialValue } from '../formula/dial';
import type { LengthUnit } from './quantity';
import type { SurfacePlace } from '../mesh/surfaceplace';
import type { HandPlaces } from '../uv/follow/placed';
import {
  defineValueKind,
  isFormula,
  readNumber,
  readToggle,
  readWord,
  type Reference,
  type Step,
  type ValueDef,
  type ValueDefs,
} from './value';

export {
  complete,
  defaultsOf,
  isFormula,
  type Formula,
  type Reference,
  type Rename,
  type Step,
  type ValueDef,
  type ValueDefs,
  type ValuesOf,
} from './value';

interface Range {
  min?: number;
  max?: number;
  zero?: string;
  unit?: string;
  digits?: number;
}

const FORMULA = yup.object({ formula: yup.string().required().max(2000) }).noUnknown();

/** What it is, or a formula that comes to it. */
const orFormula = (plain: yup.AnySchema): yup.AnySchema =>
  yup.lazy((v) => (isFormula(v) ? FORMULA : plain)) as unknown as yup.AnySchema;

/** A number in its limits, or a formula that gives one. */
const numberSchema = (min: number, max: number, whole: boolean): yup.AnySchema => {
  const finite = yup
    .number()
    .required()
    .min(min)
    .max(max)
    .test('finite', '${path} must be a finite number', (x) => Number.isFinite(x));
  const number = whole ? finite.integer() : finite;
  return orFormula(number);
};

function numeric(kind: 'length' | 'angle' | 'number' | 'count') {
  const make = defineValueKind<number>({ kind, read: readNumber });
  return (label: string, value: number, { min = -1e6, max = 1e6, ...rest }: Range & { noun?: Noun } = {}) =>
    make({ label, default: value, min, max, ...rest, schema: numberSchema(min, max, kind === 'count') });
}

type Noun = readonly [string, string];

/** Metres. */
export const length = numeric('length');
const radians = numeric('angle');
/** Radians inside, degrees at the surface. */
export const angle = (label: string, degrees: number, range: Range = {}): ValueDef<number> =>
  radians(label, (degrees * Math.PI) / 180, range);
export const number = numeric('number');
const whole = numeric('count');
export const count = (label: string, value: number, range: Range & { noun?: Noun } = {}): ValueDef<number> =>
  whole(label, value, { min: 0, max: 4096, ...range });

const makeToggle = defineValueKind<boolean>({ kind: 'toggle', read: readToggle });
export const toggle = (label: string, value: boolean, on = 'yes', off = 'no'): ValueDef<boolean> =>
  makeToggle({
    label,
    default: value,
    options: [
      ['true', on],
      ['false', off],
    ],
    schema: orFormula(yup.boolean().required()),
  });

const makeChoice = defineValueKind<string>({ kind: 'choice', read: readWord });
export function choice<const O extends readonly (readonly [string, string])[]>(
  label: string,
  value: O[number][0],
  options: O,
): ValueDef<O[number][0]> {
  const schema = orFormula(
    yup
      .string()
      .required()
      .oneOf(options.map((o) => o[0])),
  );
  return makeChoice({ label, default: value, options, schema }) as ValueDef<O[number][0]>;
}

/**
 * A formula over elements, with the unit that its plain numbers were typed in: another unit of the project changes
 * nothing.
 */
export interface Expression {
  readonly text: string;
  readonly unit: LengthUnit;
  /** Dials that it names, with what they are and stand at; only where a recipe is followed. */
  readonly given?: readonly (DialValue & { readonly name: string })[];
}
const makeExpression = defineValueKind<Expression>({ kind: 'expression' });
export const expression = (label: string, formula: string): ValueDef<Expression> =>
  makeExpression({
    label,
    default: { text: formula, unit: 'mm' },
    schema: yup
      .object({
        text: yup.string().max(2000).defined(),
        unit: yup.string().required().oneOf(['mm', 'cm', 'm', 'in', 'ft']),
      })
      .noUnknown()
      .required(),
  });

// What is only text

const makeText = defineValueKind<string>({ kind: 'text' });
const WORDS = yup.string().max(500).defined();
export const text = (label: string, value: string): ValueDef<string> =>
  makeText({ label, default: value, schema: WORDS });

const one = (to: Reference['to']) => (id: string) => (id === '' ? [] : [{ to, id }]);

/** Names one thing of the project by its id; empty for none. */
const naming = (to: Reference['to']) => {
  const make = defineValueKind<string>({
    kind: to,
    read: readWord,
    refs: one(to),
    renamed: (id, rename) => (id === '' ? '' : rename({ to, id })),
  });
  return (label: string, none?: string) =>
    make({
      label,
      default: '',
      schema: to === 'blob' ? WORDS : orFormula(WORDS),
      inner: to === 'blob',
      ...(none ? { zero: none } : {}),
    });
};
/** A stored file, by its SHA-256. */
export const blob = naming('blob');
export const material = naming('material');

const makeEarlier = defineValueKind<string>({ kind: 'step', read: readWord });
/** An earlier step of the same recipe, by its name; empty for none. It is not chosen in the recipe. */
export const earlierStep = (label: string): ValueDef<string> =>
  makeEarlier({ label, default: '', schema: WORDS, inner: true });

/** Another piece, whose result is taken in; `none`: the word for going without one. */
export const pieceName = naming('piece');

/** Another piece as it is after one of its steps. */
export const branchName = (piece: string, step: string): string => (step === '' ? piece : `${piece}@${step}`);
export const branchOf = (name: string): { piece: string; step?: string } => {
  const at = name.indexOf('@');
  return at < 0 ? { piece: name } : { piece: name.slice(0, at), step: name.slice(at + 1) };
};

const makePieceNames = defineValueKind<readonly string[]>({
  kind: 'pieces',
  refs: (ids) => ids.map((id) => ({ to: 'piece', id })),
  renamed: (ids, to) => ids.map((id) => to({ to: 'piece', id })),
});
/** Several other pieces; `none`: the word for going without. */
export const pieceNames = (label: string, none: string): ValueDef<readonly string[]> =>
  makePieceNames({
    label,
    default: [],
    zero: none,
    noun: ['piece', 'pieces'],
    schema: yup.array().required().max(100).of(yup.string().required().max(60)),
  });

/** A layout that lies on a sheet with others: a piece as it is after its unwrap step. */
export interface SharedLayout {
  piece: string;
  step: string;
  /** The piece whose recipe this is. */
  own?: boolean;
}
const makeLayouts = defineValueKind<readonly SharedLayout[]>({
  kind: 'layouts',
  refs: (list) => list.map(({ piece, step }) => ({ to: 'piece', id: piece, step })),
  renamed: (list, to) => list.map((x) => ({ ...x, piece: to({ to: 'piece', id: x.piece }) })),
});
/** Pieces that share a sheet, their own among them, in the order in which they are packed. */
export const layouts = (label: string): ValueDef<readonly SharedLayout[]> =>
  makeLayouts({
    label,
    default: [],
    noun: ['piece', 'pieces'],
    inner: true,
    schema: yup
      .array()
      .required()
      .max(1000)
      .of(
        yup
          .object({
            piece: yup.string().required().max(60),
            step: yup.string().required().max(60),
            own: yup.boolean(),
          })
          .noUnknown(),
      ),
  });

const makeSlotName = defineValueKind<string>({
  kind: 'text',
  refs: one('material'),
  renamed: (id, rename) => rename({ to: 'material', id }),
});
/** A set by its name, or a material by its id. */
export const setOrMaterial = (label: string): ValueDef<string> => makeSlotName({ label, default: '', schema: WORDS });

// Picks

/**
 * Long lists of keys are checked in one plain loop: element by element through the schema library takes seconds for
 * large picks.
 */
const isKeys = (v: unknown): boolean => {
  if (!Array.isArray(v) || v.length > 2_000_000) return false;
  for (const k of v) if (typeof k !== 'number' || !Number.isSafeInteger(k) || k < 0) return false;
  return true;
};
const isNumbers = (v: unknown): boolean =>
  Array.isArray(v) && v.length <= 4_000_000 && v.every((x) => typeof x === 'number' && Math.abs(x) <= 1000);
const isBase64 = (v: string): boolean => v.length % 4 === 0 && /^[A-Za-z0-9+/]*={0,2}$/.test(v);
const KEYS = yup.mixed<number[]>().required().test('keys', '${path} must be a list of keys', isKeys);
const SPOTS = yup
  .string()
  .max(4_000_000)
  .test('spots', '${path} must be places in base 64', (v) => v === undefined || isBase64(v));
export const pickSchema = yup
  .object({
    kind: yup.string().required().oneOf(['vertex', 'edge', 'face']),
    keys: KEYS,
    spots: SPOTS,
    rule: yup
      .object({ id: yup.string().required().max(40), values: yup.object().required() })
      .noUnknown()
      .default(undefined)
      .optional(),
  })
  .noUnknown();

const makePick = defineValueKind<ElementPick>({ kind: 'pick' });
export const pick = (label: string, kind: PickKind, noun: Noun): ValueDef<ElementPick> =>
  makePick({ label, default: { kind, keys: [] }, noun, schema: pickSchema.required() });

/** One edit made by hand, kept to be made again on whatever comes before it. */
export interface Move {
  id: string;
  tool: string;
  pick: ElementPick;
  values: Record<string, unknown>;
  /** Switched off: kept, and passed over. */
  off?: true;
  /** What its maker calls it. */
  name?: string;
  /** Done on the other side of this plane through the origin too, by place. */
  mirror?: 'x' | 'y' | 'z';
}
const moveSchema = yup
  .object({
    id: yup.string().required().max(60),
    tool: yup.string().required().max(40),
    pick: pickSchema.required(),
    values: yup.object().required(),
    off: yup.boolean().oneOf([true]),
    name: yup.string().max(200),
    mirror: yup.string().oneOf(['x', 'y', 'z']),
  })
  .noUnknown();
const makeMoves = defineValueKind<readonly Move[]>({ kind: 'moves' });
export const moves = (label: string): ValueDef<readonly Move[]> =>
  makeMoves({
    label,
    default: [],
    noun: ['move', 'moves'],
    inner: true,
    schema: yup.array().required().max(100_000).of(moveSchema),
  });

/** Faces and the material each list of them has. */
export interface Coloured {
  material: string;
  keys: readonly number[];
  /** As in `ElementPick`. */
  spots?: string;
}
const makeColors = defineValueKind<readonly Coloured[]>({
  kind: 'colors',
  refs: (list) => list.map((c) => ({ to: 'material', id: c.material })),
  renamed: (list, to) => list.map((c) => ({ ...c, material: to({ to: 'material', id: c.material }) })),
});
export const colors = (label: string): ValueDef<readonly Coloured[]> =>
  makeColors({
    label,
    default: [],
    noun: ['material', 'materials'],
    inner: true,
    schema: yup
      .array()
      .required()
      .max(1000)
      .of(yup.object({ material: yup.string().required().max(60), keys: KEYS, spots: SPOTS }).noUnknown()),
  });

const makeHandPlaces = defineValueKind<HandPlaces>({ kind: 'placed' });
/** Places on the sheet fixed by hand. */
export const handPlaces = (label: string): ValueDef<HandPlaces> =>
  makeHandPlaces({
    label,
    default: { face: [], vertex: [], uv: [] },
    inner: true,
    schema: yup
      .object({
        face: KEYS,
        vertex: KEYS,
        uv: yup.mixed<number[]>().required().test('places', '${path} must be a list of places', isNumbers),
        spots: SPOTS,
      })
      .noUnknown()
      .test(
        'lengths',
        '${path} must have as many places as keys',
        (v) => !!v && v.face!.length === v.vertex!.length && v.uv!.length === 2 * v.face!.length,
      ),
  });

const isTriple = (v: unknown): boolean =>
  Array.isArray(v) && v.length === 3 && v.every((x) => typeof x === 'number' && Math.abs(x) <= 1e9);
const isKey = (v: unknown): boolean => typeof v === 'number' && Number.isSafeInteger(v) && v >= 0;
const isPlaceOn = (v: unknown): boolean => {
  if (typeof v !== 'object' || v === null) return false;
  const { on, key, t, of, weights, at, ...rest } = v as Record<string, unknown>;
  if (!['vertex', 'edge', 'face', 'free'].includes(on as string) || !isKey(key) || !isTriple(at)) return false;
  if (t !== undefined && !(typeof t === 'number' && t >= 0 && t <= 1)) return false;
  if (of !== undefined && !(Array.isArray(of) && of.length === 3 && of.every(isKey))) return false;
  return (weights === undefined || isTriple(weights)) && Object.keys(rest).length === 0;
};
const makePlaces = defineValueKind<readonly SurfacePlace[]>({ kind: 'places' });
/** Places on a surface, in the order in which they were drawn. */
export const places = (label: string): ValueDef<readonly SurfacePlace[]> =>
  makePlaces({
    label,
    default: [],
    noun: ['point', 'points'],
    inner: true,
    schema: yup
      .mixed<SurfacePlace[]>()
      .required()
      .test(
        'places',
        '${path} must be a list of places on a surface',
        (v) => Array.isArray(v) && v.length <= 10_000 && v.every(isPlaceOn),
      ),
  });

const isLine = (v: unknown): boolean => Array.isArray(v) && v.length <= 10_000 && v.every(isTriple);
const makeLine = defineValueKind<readonly Triple[]>({ kind: 'line' });
/** Points one after the other, in the piece's own space. */
export const line = (label: string, value: readonly Triple[]): ValueDef<readonly Triple[]> =>
  makeLine({
    label,
    default: value,
    noun: ['point', 'points'],
    schema: yup.mixed<Triple[]>().required().test('line', '${path} must be a list of points', isLine),
  });

const makeDabs = defineValueKind<readonly Dab[]>({ kind: 'dabs' });
/** Dabs of a brush, in the order in which they were made. */
export const dabs = (label: string): ValueDef<readonly Dab[]> =>
  makeDabs({
    label,
    default: [],
    noun: ['dab', 'dabs'],
    inner: true,
    schema: yup
      .mixed<Dab[]>()
      .required()
      .test(
        'dabs',
        '${path} must be a list of dabs of a brush',
        (v) =>
          Array.isArray(v) &&
          v.length <= 20_000 &&
          v.every((d) => typeof d === 'object' && d !== null && isTriple(d.at) && isTriple(d.normal) && isTriple(d.by)),
      ),
  });

/** A piece inside another: its recipe, and the map that places it. */
export interface Part {
  id: string;
  name: string;
  recipe: readonly Step[];
  place: Affine;
}
const isPlace = (v: unknown): boolean =>
  Array.isArray(v) && v.length === 12 && v.every((x) => typeof x === 'number' && Math.abs(x) <= 1e9);
const partSchema = yup
  .object({
    id: yup.string().required().max(60),
    name: yup.string().required().max(200),
    recipe: yup.array().required().max(1000),
    place: yup.mixed<Affine>().required().test('place', '${path} must be twelve numbers', isPlace),
  })
  .noUnknown();
const makeParts = defineValueKind<readonly Part[]>({
  kind: 'parts',
  recipes: (list) => list.map((p) => p.recipe),
  withRecipes: (list, recipes) => list.map((p, i) => ({ ...p, recipe: recipes[i] })),
});
export const parts = (label: string): ValueDef<readonly Part[]> =>
  makeParts({
    label,
    default: [],
    noun: ['piece', 'pieces'],
    schema: yup.array().required().max(20000).of(partSchema),
  });

const makeOwn = defineValueKind<Readonly<Record<string, unknown>>>({ kind: 'own' });
/** What a placement turns the dials of a kit to: numbers or formulas by their names. */
export const ownValues = (label: string): ValueDef<Readonly<Record<string, unknown>>> =>
  makeOwn({
    label,
    default: {},
    schema: yup
      .mixed<Record<string, unknown>>()
      .required()
      .test('own', '${path} must be numbers by their names', (v) => {
        const entries = typeof v === 'object' && v !== null && !Array.isArray(v) ? Object.entries(v) : undefined;
        return (
          entries !== undefined &&
          entries.length <= 1000 &&
          entries.every(([n, x]) => n.length <= 40 && (isFormula(x) ? x.formula.length <= 2000 : Number.isFinite(x)))
        );
      }),
  });

type Slots = Readonly<Record<string, string>>;
const makeSlots = defineValueKind<Slots>({
  kind: 'slots',
  refs: (slots) => Object.values(slots).map((id) => ({ to: 'material', id })),
  renamed: (slots, to) =>
    Object.fromEntries(Object.entries(slots).map(([name, id]) => [name, to({ to: 'material', id })])),
});
/** Names of a file's materials → ids of the project's. */
export const slots = (label: string): ValueDef<Slots> =>
  makeSlots({ label, default: {}, inner: true, schema: yup.object().required() });

export function schemaOf(defs: ValueDefs): yup.AnySchema {
  return yup.object(Object.fromEntries(Object.entries(defs).map(([k, d]) => [k, d.schema]))).noUnknown();
}
