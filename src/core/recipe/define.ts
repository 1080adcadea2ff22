/**
 * One definition per kind of step. From it come the schema, the sentence, the form, the command search entry and what
 * the evaluator runs.
 */
import type { Scene } from '../formats/scene';
import type { Look, Maps } from '../material';
import type { Geometry, KindName } from '../geometry';
import type { Triple } from '../math/affine';
import type { ImageData8, Mesh } from '../mesh/mesh';
import type { ElementPick, PickKind, Resolved } from '../mesh/picks';
import type { Witness } from '../mesh/witnesses';
import type { LastingWork } from './lasting';
import { pieceName, type Step, type ValueDef, type ValueDefs, type ValuesOf } from './values';

export interface Material extends Look {
  id: string;
  name: string;
  /** '#rrggbb', sRGB. */
  color: string;
  /** 1 where it is not said. */
  opacity?: number;
  /** Ids of the project's pictures. */
  maps?: Maps<string>;
}

export interface Remedy {
  readonly label: string;
  readonly values: Record<string, unknown>;
  /** Elements of this kind are to be picked for it; their keys come in the place of `PICKED`. */
  readonly again?: PickKind;
}
/** In lists of keys: those of what is picked. No key is below 0. */
const PICKED = -1;

/** The values of a remedy with what was picked for it. */
export function withPicked(values: Record<string, unknown>, picked: readonly number[]): Record<string, unknown> {
  const put = (v: unknown, name = ''): unknown => {
    if (Array.isArray(v) && name === 'keys' && v[v.length - 1] === PICKED)
      return [...new Set([...(v.slice(0, -1) as number[]), ...picked])];
    if (Array.isArray(v)) return v.map((x) => put(x));
    if (typeof v !== 'object' || v === null) return v;
    return Object.fromEntries(Object.entries(v).map(([k, x]) => [k, put(x, k)]));
  };
  return put(values) as Record<string, unknown>;
}
/** A list of keys to which what is picked is to come. */
export const toBePicked = (keys: readonly number[]): number[] => [...keys, PICKED];

/** Something a step wants said, and what could be done about it. */
export interface Warning {
  text: string;
  /** Links: what they say, and the values they set on this step. */
  remedies?: readonly Remedy[];
  /** 3 per place it is about, in the piece's own space: lit up in the view. */
  at?: readonly number[];
}

/** What the steps before, or another piece, hand over. */
export interface Handed {
  readonly geometry: Geometry;
  readonly name: string;
  /** What it was before it was shaped by hand, where that is known. */
  readonly before?: Geometry;
  /** Where its pivot stands, as its geometry does; the origin where that is not known. */
  readonly pivot?: Triple;
  /** The same in its own space, and how large it stands in the world: as told to whoever asks. */
  readonly own?: { readonly geometry: Geometry; readonly size: number; readonly hash: string };
}

/** Another piece that a value names, with what tells one result of it from another. */
export interface Named extends Handed {
  readonly hash: string;
}

/** What a step takes: from the steps before it, or from the end of another piece's recipe. */
export interface Input<T> {
  readonly from: 'before' | 'piece';
  /** One kind of geometry, or all of it. */
  readonly kind: KindName | 'all';
  readonly label: string;
  /** Only for the compiler. */
  readonly gives?: T;
}
export type Inputs = Readonly<Record<string, Input<unknown>>>;
export type Given<I> = { [K in keyof I]: I[K] extends Input<infer T> ? T : never };

/** One kind of what comes before; the other kinds go past the step untouched. */
export const input = <K extends KindName>(kind: K): Input<NonNullable<Geometry[K]>> => ({
  from: 'before',
  kind,
  label: '',
});
/** All that comes before. */
export const everything = (): Input<Geometry> => ({ from: 'before', kind: 'all', label: '' });
/** What another piece shows, put where it stands as seen from this one. Its name is a value of the step. */
export const otherPiece = (label: string): Input<Handed> => ({ from: 'piece', kind: 'all', label });

/** What was remembered of a part of the work. */
export interface Kept {
  geometry: Geometry;
  warnings: Warning[];
  figures: Record<string, number>;
  error?: string;
  /** What its parts lost of what they picked, by their ids. */
  losses?: ReadonlyMap<string, Pick<Resolved, 'lost' | 'nearest' | 'at'>>;
}

/** What is told where something is no longer as its texture was drawn. */
export const TEXTURE_ENDS =
  'The texture ends here: it was drawn for another sheet than there is now. Make the texture after this step.';

export interface StepContext {
  /** Seed of the keys this step makes. */
  id: number;
  /**
   * The elements that a pick means now; what is gone is followed to what is where it was. `owner`: its value's name, or
   * its move's id.
   */
  find(mesh: Mesh, pick: ElementPick, owner: string): Resolved;
  /** What is remembered of where things were that one of its values names. */
  witness(owner: string): Witness;
  materials: readonly Material[];
  /** Bytes of a blob by its SHA-256. Throws where it is not to be had. */
  blob(sha: string): Promise<Uint8Array>;
  /**
   * Another piece that its values name (`names`), put where it stands as seen from this one. Throws one sentence where
   * it is not to be had.
   */
  other(id: string): Named;
  /** What a kit makes of what it is handed, its dials turned. Throws one sentence where it cannot. */
  kit(id: string, own: Readonly<Record<string, unknown>>, handed?: Geometry, round?: string): Promise<Geometry>;
  /** What was handed to this recipe by who follows it as a kit. */
  readonly handed?: Geometry;
  /** The end of another recipe, remembered like any. Throws what its first failing step says. */
  follow(steps: readonly Step[]): Promise<Geometry>;
  /** A picture of a material, by its id. Throws one sentence where it cannot be read. */
  picture(id: string): Promise<ImageData8>;
  /** What an earlier step of this recipe gives; undefined where there is none of that name. */
  earlier(step: string): Geometry | undefined;
  /** A stored file, read as a scene. Files of several pieces are read once. */
  scene(sha: string, name: string): Promise<Scene>;
  /** 0..1. Throws Cancelled when the work has been overtaken. */
  progress(share: number): void;
  warn(warning: string | Warning): void;
  /** Figures worth showing beside the step. */
  tell(name: string, value: number): void;
  /** So much more of a figure. */
  add(name: string, by: number): void;
  /** A part of the work that was kept under a name of its own, as the evaluator keeps steps. */
  recall(name: string): Kept | undefined;
  /** Work that need not be done anew in another session, where its result was kept. */
  lasting<T>(work: LastingWork<T>): Promise<T>;
  keep(name: string, part: Kept): void;
}

export class Cancelled extends Error {
  constructor() {
    super('cancelled');
  }
}

export interface StepDef<D extends ValueDefs = ValueDefs, I extends Inputs = Inputs> {
  readonly kind: string;
  /** The verb of the sentence; shown bold. */
  readonly title: string;
  /** The rest of the sentence, with {values} in it. */
  readonly sentence: string;
  /** What it takes; a step that takes nothing starts a recipe. */
  readonly inputs: I;
  /** It reads the project's materials. */
  readonly usesMaterials?: boolean;
  /** It reads the pictures of materials as well. */
  readonly usesPictures?: boolean;
  /** What its values name is taken as it is in its own space: where it stands changes nothing. */
  readonly inOwnSpace?: boolean;
  /** Pieces that its values name besides its inputs. */
  names?(values: ValuesOf<D>): readonly string[];
  /** Kits that its values name. */
  kits?(values: ValuesOf<D>): readonly string[];
  /** One line for the command search. */
  readonly help: string;
  /** Other words by which people look for it. */
  readonly words?: string;
  /** Not offered in "Then…": made by other ways. */
  readonly hidden?: boolean;
  readonly values: D;
  /** The kinds it gives; a bare mesh where it gives only that. Throws an Error with one sentence where it cannot. */
  run(given: Given<I>, values: ValuesOf<D>, context: StepContext): Geometry | Mesh | Promise<Geometry | Mesh>;
}

export function defineStep<const D extends ValueDefs, const I extends Inputs>(def: StepDef<D, I>): StepDef<D, I> {
  const names: Record<string, ValueDef<unknown>> = {};
  for (const [name, taken] of Object.entries(def.inputs))
    if (taken.from === 'piece') names[name] = pieceName(taken.label) as ValueDef<unknown>;
  return { ...def, values: { ...def.values, ...names } };
}

/** Whether it starts a recipe: it takes nothing from before. */
export const isStart = (def: Pick<StepDef, 'inputs'>): boolean =>
  !Object.values(def.inputs).some((i) => i.from === 'before');
