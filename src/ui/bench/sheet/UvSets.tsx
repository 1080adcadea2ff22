'use client';
import { nameOfUvSet, uvSetCalled } from '../../../core/mesh';
import type { Piece, Step } from '../../../document/types';
import { addUvSet, focusStep } from '../actions';

const ANOTHER = 'another';

const setOf = (step: Step): string => uvSetCalled(String(step.values.set ?? ''));

/** Which of the piece's UV sets the sheet shows, with what draws on each; another can be begun. */
export function UvSets({ piece, step }: { piece: Piece; step: Step }) {
  const layouts = piece.recipe.filter((x) => x.kind === 'unwrap');
  const drawn = (set: string): string => {
    const names = piece.recipe
      .filter((x) => x.kind === 'texture' && setOf(x) === set)
      .map((x) => String(x.values.name));
    return names.length ? `: ${names.join(', ')}` : '';
  };
  return (
    <select
      className="select select-xs w-32"
      aria-label="UV set"
      title="The UV set that is worked on, and the pictures drawn on it"
      value={step.id}
      onChange={(e) => (e.target.value === ANOTHER ? addUvSet() : focusStep(e.target.value))}
    >
      {layouts.map((x) => (
        <option key={x.id} value={x.id}>
          {nameOfUvSet(setOf(x))}
          {drawn(setOf(x))}
        </option>
      ))}
      <option value={ANOTHER}>Another set</option>
    </select>
  );
}
