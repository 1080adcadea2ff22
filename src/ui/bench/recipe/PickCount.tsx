/** How many elements a move works on, and by which rule where it has one. */
import type { ElementPick } from '../../../core/mesh/picks';
import { ruleDef, type Rule } from '../../../core/rules';
import { useBench } from '../store';
import { readValue } from '../../../document/readvalue';

const MANY = { vertex: 'vertices', edge: 'edges', face: 'faces' } as const;

export function PickCount({ pick }: { pick: ElementPick }) {
  const n = pick.keys.length;
  const many = MANY[pick.kind];
  return (
    <span className="value plain !cursor-default !whitespace-normal">
      {(n > 0 || !pick.rule) && `${n.toLocaleString('en')} ${n === 1 ? pick.kind : many}`}
      {pick.rule && n > 0 && ' and '}
      {pick.rule?.id === 'all' && 'all of it'}
      {pick.rule && pick.rule.id !== 'all' && (
        <>
          {many} <RuleWords rule={pick.rule} />
        </>
      )}
    </span>
  );
}

/** A rule in words: “that look up, within 30°”. */
function RuleWords({ rule }: { rule: Rule }) {
  const units = useBench((s) => s.document?.units ?? 'mm');
  const digits = useBench((s) => s.document?.settings.precision ?? 3);
  const def = ruleDef(rule.id);
  if (!def) return <>by a rule that is not known here</>;
  const reading = { units, digits, materials: [], pieces: [] };
  return (
    <>
      {def.sentence.replace(/\{(\w+)\}/g, (_, name: string) =>
        readValue(def.values[name], rule.values[name] ?? def.values[name].default, reading),
      )}
    </>
  );
}
