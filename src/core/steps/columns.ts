/**
 * A value for every element by a formula, as steps take them: dials that were given to it are known, what cannot be
 * worked out is told.
 */
import {
  compile,
  curveScope,
  elementScope,
  evaluate,
  FormulaError,
  knownOfDial,
  type Code,
  type Domain,
  type Known,
  type Scope,
  type Type,
} from '../formula';
import type { PlaceOnCurve } from '../curve/places';
import type { Mesh } from '../mesh/mesh';
import { countOf } from '../mesh/picks';
import type { StepContext } from '../recipe/define';
import { unitSize } from '../recipe/quantity';
import type { Expression } from '../recipe/values';

/** Dials that a formula was given. */
const givenTo = ({ given = [] }: Expression) => ({
  known: (name: string): Known | undefined => {
    const found = given.find((g) => g.name === name);
    return found && knownOfDial(found);
  },
  names: () => given.map((g) => g.name),
});

/** Throws a sentence that says where, for what is not a formula of that kind. */
export const codeFor = (mesh: Mesh, domain: Domain, written: Expression, wanted?: Type): Code =>
  compiled(written, elementScope(mesh, domain, unitSize(written.unit), givenTo(written)), wanted);

/** The same for places on curves. */
export const codeOnCurves = (places: readonly PlaceOnCurve[], written: Expression, wanted?: Type): Code =>
  compiled(written, curveScope(places, unitSize(written.unit), givenTo(written)), wanted);

function compiled({ text: formula }: Expression, scope: Scope, wanted?: Type): Code {
  try {
    const code = compile(formula, scope, wanted);
    if (code.type.kind === 'text') throw new FormulaError('This is a word; a number is wanted.', [0, formula.length]);
    return code;
  } catch (e) {
    if (!(e instanceof FormulaError)) throw e;
    const at = formula.slice(...e.at).trim();
    throw new Error(at && at !== formula.trim() ? `At “${at}”: ${e.message}` : e.message);
  }
}

export const columnFor = (mesh: Mesh, domain: Domain, code: Code, c: StepContext): Float32Array =>
  columnOf(code, domain === 'corner' ? mesh.cornerCount : countOf(mesh, domain), c);

export function columnOf(code: Code, count: number, c: StepContext): Float32Array {
  const { values, bad } = evaluate(code, count, c.progress);
  if (bad > 0)
    c.warn(`${bad} of ${values.length} values are not numbers (something divided by 0, perhaps) and count as 0.`);
  return values;
}
