/**
 * Checks: what may be wrong with a mesh, found and pointed at. A check is declared once; the panel, the project's list,
 * the command line and their tests follow from the declaration. A new one is an entry in a file beside this one.
 */
import type { Mesh } from '../mesh/mesh';
import type { PickKind } from '../mesh/picks';

/** What a project is for; other areas know more of it. */
export type CheckedFor = 'render' | 'game' | 'print';

/** A tool that puts right what was found, with the found elements for its pick. */
export interface Mend {
  readonly tool: string;
  readonly values?: Readonly<Record<string, unknown>>;
  /** What the button says. */
  readonly label: string;
}

export interface CheckDef {
  readonly id: string;
  readonly title: string;
  /** Why it matters, in one line. */
  readonly help: string;
  /** What it finds. */
  readonly kind: PickKind;
  /** Where it is a fault; elsewhere it is worth knowing. */
  readonly wrongFor: readonly CheckedFor[];
  /** It takes more than a moment: looked for when it is asked for. */
  readonly slow?: boolean;
  /** Where putting it right is safe. */
  readonly mend?: Mend;
  /** Elements of its kind, ascending. */
  find(mesh: Mesh): ArrayLike<number>;
}

export const defineCheck = (def: CheckDef): CheckDef => def;
