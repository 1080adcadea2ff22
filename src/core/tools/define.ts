/**
 * One declaration per tool. The strip, the menu of a right click, the command search, keys, help, the sentence in hand,
 * the handle in the view and the command line all follow from it: a new tool is a file beside this one and its line in
 * `index.ts`.
 */
import type { Triple } from '../math/affine';
import { whole } from '../geometry';
import type { Mesh } from '../mesh/mesh';
import type { PickKind } from '../mesh/picks';
import type { Handed } from '../recipe/define';
import { choice, length, number, type ValueDefs, type ValuesOf } from '../recipe/values';

/** What a tool is given: elements of one kind, by index, ascending. */
export interface Picked {
  readonly kind: PickKind;
  readonly indices: Uint32Array;
  /** Of those that were picked one by one and are still there: the first and the last. */
  readonly ends?: readonly [number, number];
}

/** An arrow in the view that drives one value of the tool in hand. */
export interface ToolHandle<D extends ValueDefs> {
  /** Name of the length it drives. */
  readonly drives: keyof D & string;
  /** The way it points, in the mesh's own space; any length but 0. It stands in the middle of the pick. */
  along(mesh: Mesh, picked: Picked, values: ValuesOf<D>): Triple;
}

/** What tools are listed under. */
export const FAMILIES = {
  place: 'Put in place',
  form: 'Bring into form',
  grow: 'Draw out and fill',
  cut: 'Cut',
  join: 'Join and take away',
} as const;
export type Family = keyof typeof FAMILIES;

export interface ToolDef<D extends ValueDefs = ValueDefs> {
  /** Kept in documents: never to be changed. */
  readonly id: string;
  /** The verb of the sentence. */
  readonly title: string;
  /** The rest of the sentence; {pick} stands for what was picked. */
  readonly sentence: string;
  /** What it does, in one line. */
  readonly help: string;
  /** Other words by which people look for it. */
  readonly words: string;
  readonly key?: string;
  readonly family: Family;
  /** A drawing on a field of 24 by 24, as SVG path data, drawn in thin lines. */
  readonly icon: string;
  /** Kinds it works on, the one it likes best first; picks of others are converted to that one. */
  readonly picks: readonly PickKind[];
  readonly values: D;
  /** The value that a typed number goes to; the first number where not said. */
  readonly main?: keyof D & string;
  /** What it does where nothing is picked: takes the whole piece, or asks for a pick (where not said). */
  readonly empty?: 'all';
  /** It works on all there is, whatever is picked. */
  readonly whole?: true;
  /**
   * `handles`: taken up by handles with three axes. `at once`: kept as soon as it is made, for it has little to be set.
   * `points`: worked by clicking points, which the bench collects. `strokes`: by drawing over the surface.
   */
  readonly begins?: 'handles' | 'at once' | 'points' | 'strokes';
  /** What was picked is gone afterwards. */
  readonly clears?: boolean;
  /** A shorter name, for the strip. */
  readonly label?: string;
  /** Left out of the strip: found in menus and the search. */
  readonly rare?: boolean;
  /** It stands on the strip only where these are picked; for all it works on, where not said. */
  readonly strip?: readonly PickKind[];
  readonly handle?: ToolHandle<D>;
  /** Consecutive moves of one pick by this tool become one; undefined if these two cannot. */
  merge?(a: ValuesOf<D>, b: ValuesOf<D>): ValuesOf<D> | undefined;
  /**
   * A new mesh. Throws an Error with one sentence where it cannot be done; what was done but is hardly meant is told in
   * a sentence. `id` seeds the keys of what it makes.
   */
  run(
    mesh: Mesh,
    picked: Picked,
    values: ValuesOf<D>,
    id: number,
    tell?: (text: string) => void,
    around?: Around,
  ): Mesh;
}

/** What a tool may ask for besides the mesh it works on. */
export interface Around {
  /** Another piece by its id, where it stands as seen from this one. Throws one sentence where it is not to be had. */
  other(id: string): Handed;
}

/** Another piece that a value names; a sentence where none is. */
export function otherOf(id: string, around: Around | undefined): Handed {
  if (id === '') throw new Error('Choose the other piece.');
  if (!around) throw new Error('Other pieces are not to be had here.');
  const other = around.other(id);
  return { ...other, geometry: whole(other.geometry), before: other.before && whole(other.before) };
}

export const defineTool = <const D extends ValueDefs>(def: ToolDef<D>): ToolDef<D> => def;

export const ANY_KIND: readonly PickKind[] = ['face', 'edge', 'vertex'];

export const AXES = [
  ['x', 'X'],
  ['y', 'Y'],
  ['z', 'Z'],
] as const;
export const FALLOFF = [
  ['smooth', 'smoothly'],
  ['dome', 'like a dome'],
  ['sharp', 'to a tip'],
  ['straight', 'evenly'],
] as const;

export const REACH = [
  ['space', 'through space'],
  ['surface', 'along the surface'],
] as const;

/** The way it is looked at, in the mesh's own space: filled in by the bench when the tool is taken up. */
export const view = { vx: number('looked at x', 0), vy: number('looked at y', 0), vz: number('looked at z', -1) };

/** Values of a tool that draws along what is near. */
export const soft = {
  soft: length('taking along', 0, { min: 0, max: 10000, zero: 'nothing' }),
  falloff: choice('fading', 'smooth', FALLOFF),
  reach: choice('measured', 'space', REACH),
};
export interface Soft {
  soft: number;
  reach: 'space' | 'surface';
  falloff: 'smooth' | 'dome' | 'sharp' | 'straight';
}
