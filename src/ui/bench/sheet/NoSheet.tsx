'use client';
import { IconFold } from '@tabler/icons-react';
import type { ReactElement } from 'react';
import type { Step } from '../../../document/types';
import { focusStep, unfold } from '../actions';

/**
 * Where nothing lies on the sheet: why, and what to do. `ahead`: the step of the sheet, where one before it is worked
 * on.
 */
export function NoSheet({ name, ahead }: { name: string | undefined; ahead: Step | undefined }): ReactElement {
  return (
    <div className="absolute inset-0 grid place-items-center">
      <div className="text-center">
        <p className="quiet mb-3 w-64">{wordsFor(name, ahead !== undefined)}</p>
        {ahead && (
          <button className="btn btn-sm btn-primary" onClick={() => focusStep(ahead.id)}>
            On to the sheet
          </button>
        )}
        {name !== undefined && !ahead && (
          <button className="btn btn-sm btn-primary" onClick={unfold}>
            <IconFold size={15} stroke={1.6} />
            Unfold
          </button>
        )}
      </div>
    </div>
  );
}

function wordsFor(name: string | undefined, ahead: boolean): string {
  if (name === undefined) return 'Pick a piece to unwrap.';
  if (ahead) return 'The step that is worked on comes before the sheet.';
  return `${name} has no UVs yet. Pick edges in the view and cut seams, or unfold at once by its bends.`;
}
