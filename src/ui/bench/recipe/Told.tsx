/** What a step has to say of its last run: that picks were followed, what is wrong, and what can be done about it. */
import { withPicked, type Remedy } from '../../../core/recipe/define';
import * as changes from '../../../document/changes';
import type { Piece, Step } from '../../../document/types';
import type { StepReport } from '../../../workers/protocol';
import { setMode } from '../actions';
import { session } from '../session';
import { bench, say } from '../store';

const MANY = { vertex: 'vertices', edge: 'edges', face: 'faces' } as const;

function take(piece: Piece, step: Step, { label, values, again }: Remedy): void {
  let right = values;
  if (again) {
    const { pick, mode } = bench.get();
    if (mode !== again || pick.kind !== again || pick.keys.length === 0) {
      setMode(again);
      say(`Pick the ${MANY[again]} that are meant in the view, then choose “${label}” once more.`);
      return;
    }
    right = withPicked(values, pick.keys);
    say('');
  }
  session.change(label.toLowerCase(), (d) => changes.setValues(d, piece.id, step.id, right));
}

export function Told({ piece, step, report }: { piece: Piece; step: Step; report: StepReport }) {
  return (
    <>
      {!!report.figures.followed && (
        <p
          className="quiet mt-0.5 text-[12px]"
          title="Their names are gone by a change before this step; they were found by where they were."
        >
          {report.figures.followed} picked by place
        </p>
      )}
      {!!report.figures.flattened && (
        <p
          className="quiet mt-0.5 text-[12px]"
          title="This step works on faces, which copies have none of until they are made one mesh."
        >
          {report.figures.flattened.toLocaleString('en')} copies made one mesh here
        </p>
      )}
      {report.warnings.map((w, i) => (
        <p
          key={i}
          className="mt-0.5 text-[12px] text-warn"
          onPointerEnter={() => w.at?.length && bench.set({ lit: step.id })}
          onPointerLeave={() => bench.set({ lit: null })}
        >
          {w.text}{' '}
          {w.remedies?.map((r) => (
            <button
              key={r.label}
              className="link-remedy mr-2"
              onFocus={() => w.at?.length && bench.set({ lit: step.id })}
              onBlur={() => bench.set({ lit: null })}
              onClick={(e) => {
                e.stopPropagation();
                take(piece, step, r);
              }}
            >
              {r.label}
            </button>
          ))}
        </p>
      ))}
    </>
  );
}
