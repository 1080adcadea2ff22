/**
 * Rules: picks that are described rather than enumerated. A rule is declared once; the list of rules, the sentence in
 * hand, the command line and the pick that is kept live in a recipe follow from the declaration. A new one is an entry
 * in a file beside this one.
 */
import type { Mesh } from '../mesh/mesh';
import type { PickKind } from '../mesh/picks';
import type { ValueDefs, ValuesOf } from '../recipe/values';

/** A rule as it is kept in a pick. */
export interface Rule {
  readonly id: string;
  readonly values: Readonly<Record<string, unknown>>;
}

export interface RuleDef<D extends ValueDefs = ValueDefs> {
  /** Kept in documents: never to be changed. */
  readonly id: string;
  /** What fits it, after “Faces” or “Edges”: “that look {way} within {angle}”. */
  readonly sentence: string;
  /** Its name in lists. */
  readonly title: string;
  /** Other words by which people look for it. */
  readonly words: string;
  /** What it can be asked of. */
  readonly picks: readonly PickKind[];
  readonly values: D;
  /**
   * Answers for each element of the kind, by index, whether it fits. Made once for a mesh, so what is the same for all
   * is worked out first.
   */
  fits(mesh: Mesh, kind: PickKind, values: ValuesOf<D>): (index: number) => boolean;
}

export const defineRule = <const D extends ValueDefs>(def: RuleDef<D>): RuleDef<D> => def;
