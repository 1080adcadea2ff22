/**
 * A value for every element by a formula, as steps take them: dials that were given to it are known, what cannot be
 * worked out is told.
 */
import {
  compile,
  elementScope,
  evaluate,
  FormulaError,
  knownOfDial,
  type Code,
  type Domain,
  type Known,
  type Type,
} from '../formula';
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
export function codeFor(mesh: Mesh, domain: Domain, written: Expression, wanted?: Type): Code {
  const { text: formula, unit } = written;
  try {
    const code = compile(formula, elementScope(mesh, domain, unitSize(unit), givenTo(written)), wanted);
    if (code.type.kind === 'text') throw new FormulaError('This is a word; a number is wanted.', [0, formula.length]);
    return code;
  } catch (e) {
    if (!(e instanceof FormulaError)) throw e;
    const at = formula.slice(...e.at).trim();
    throw new Error(at && at !== formula.trim() ? `At “${at}”: ${e.message}` : e.message);
  }
}

export function columnFor(mesh: Mesh, domain: Domain, code: Code, c: StepContext): Float32Array {
  const { values, bad } = evaluate(code, countOf(mesh, domain), c.progress);
  if (bad > 0)
    c.warn(`${bad} of ${values.length} values are not numbers (something divided by 0, perhaps) and count as 0.`);
  return values;
}
