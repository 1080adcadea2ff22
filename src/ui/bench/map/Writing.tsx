'use client';
import { stepDef } from '../../../core/steps';
import * as changes from '../../../document/changes';
import { addStep } from '../actions';
import { Then } from '../recipe/Then';
import { session } from '../session';
import { useBench } from '../store';

export interface Here {
  piece: string;
  step: string;
  note: boolean;
}

/** At the head of the paper: the step that goes in at a place, or the note on one. */
export function Writing({ here, close }: { here: Here; close: () => void }) {
  const step = useBench((s) =>
    s.document?.pieces.find((p) => p.id === here.piece)?.recipe.find((x) => x.id === here.step),
  );
  if (!step) return null;
  const title = stepDef(step.kind)?.title ?? step.kind;
  const write = (note: string) => {
    if (note.trim() !== (step.note ?? ''))
      session.change('note', (d) => changes.setStep(d, here.piece, step.id, { note: note.trim() || undefined }));
  };
  return (
    <div
      className="absolute left-3 top-11 z-20 w-72 rounded-lg border border-line bg-paper p-2 shadow-lg"
      key={`${here.step} ${here.note}`}
    >
      <p className="quiet mb-1 text-[11px]">{here.note ? `Note on “${title}”` : `After “${title}”`}</p>
      {here.note ? (
        <textarea
          autoFocus
          className="textarea textarea-xs w-full"
          aria-label={`Note on ${title}`}
          maxLength={2000}
          defaultValue={step.note ?? ''}
          onBlur={(e) => {
            write(e.target.value);
            close();
          }}
          onKeyDown={(e) => {
            e.stopPropagation();
            if (e.key === 'Escape' || (e.key === 'Enter' && !e.shiftKey)) e.currentTarget.blur();
          }}
        />
      ) : (
        <Then add={(kind) => addStep(kind, { piece: here.piece, after: here.step })} over={close} />
      )}
    </div>
  );
}
