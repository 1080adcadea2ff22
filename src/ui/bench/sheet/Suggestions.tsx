'use client';
/** Seams that could be cut or closed, each with what it would gain, taken one by one or all at once. */
import { IconLink, IconScissors, IconX } from '@tabler/icons-react';
import { useEffect, useRef, useState, type ReactElement } from 'react';
import { takenTogether } from '../../../core/uv/together';
import { formatQuantity } from '../../../core/recipe/quantity';
import type { SuggestedSeam } from '../../../workers/calls/seams';
import { endPacking, endSuggesting, lookAtSeam, suggestSeams, takeSeams } from '../actions';
import { useBench } from '../store';

/** Milliseconds after a change until seams are looked for anew. */
const SOON = 500;

export function Suggestions({ piece, step }: { piece: string; step: string }): ReactElement | null {
  const found = useBench((s) => s.suggested);
  const units = useBench((s) => s.document?.units ?? 'mm');
  const recipe = useBench((s) => s.document?.pieces.find((p) => p.id === piece)?.recipe);
  const of = useRef(recipe);
  const bound = found?.bound;
  useEffect(() => endSuggesting, [piece, step]);
  // Whatever changes the piece may make other seams worth their length.
  useEffect(() => {
    if (of.current === recipe) return undefined;
    of.current = recipe;
    if (bound === undefined) return undefined;
    const soon = setTimeout(() => void suggestSeams(bound), SOON);
    return () => clearTimeout(soon);
  }, [recipe, bound]);
  if (found?.piece !== piece || found.step !== step) return null;
  const long = (metres: number): string => formatQuantity(metres, 'length', units);
  const cuts = takenTogether(found.list);
  const searching = found.share !== null;
  const row = (s: SuggestedSeam, i: number): ReactElement => (
    <li
      key={i}
      className="flex items-center gap-2 rounded px-1.5 py-0.5 hover:bg-clay/30"
      onPointerEnter={() => lookAtSeam(i)}
      onPointerLeave={() => lookAtSeam(null)}
    >
      {s.kind === 'cut' ? <IconScissors size={14} stroke={1.6} /> : <IconLink size={14} stroke={1.6} />}
      <span className="min-w-0 flex-1">
        {s.kind === 'cut' ? (
          <>
            <b className="num text-value">−{(s.before - s.after).toFixed(2)}</b> stretch for{' '}
            <b className="num">{long(s.long)}</b>
          </>
        ) : (
          <>
            <b className="num">{long(s.long)}</b> of seam less, stretch{' '}
            <b className="num text-value">{s.after.toFixed(2)}</b>
          </>
        )}
      </span>
      <button
        className="btn btn-xs"
        onFocus={() => lookAtSeam(i)}
        onBlur={() => lookAtSeam(null)}
        disabled={searching}
        onClick={() => takeSeams([s])}
      >
        {s.kind === 'cut' ? 'Cut' : 'Close'}
      </button>
    </li>
  );
  return (
    <section
      aria-label="Suggested seams"
      className="absolute bottom-24 left-3.5 right-3.5 flex max-h-64 flex-col rounded-lg border border-line bg-paper p-2.5 shadow-lg"
      onPointerDown={(e) => e.stopPropagation()}
      onWheel={(e) => e.stopPropagation()}
    >
      <div className="mb-1.5 flex items-center gap-2">
        <b>Suggested seams</b>
        <label className="quiet flex items-center gap-1.5">
          where stretched by more than
          <Bound key={found.bound} bound={found.bound} />
        </label>
        <span className="flex-1" />
        {cuts.length > 1 && (
          <button className="btn btn-xs btn-primary" disabled={searching} onClick={() => takeSeams(cuts)}>
            Cut {cuts.length}
          </button>
        )}
        <button className="btn btn-ghost btn-square icon-btn" aria-label="Close suggestions" onClick={endSuggesting}>
          <IconX size={14} stroke={1.6} />
        </button>
      </div>
      {searching && (
        <progress className="progress mb-1 w-full" aria-label="Looking for seams" value={found.share ?? 0} max={1} />
      )}
      {!searching && found.list.length === 0 && (
        <p className="quiet">
          No seam is worth its length here, and none can be closed. A lower bound would find more.
        </p>
      )}
      <ul className="min-h-0 overflow-y-auto">{found.list.map(row)}</ul>
    </section>
  );
}

function Bound({ bound }: { bound: number }): ReactElement {
  const [text, setText] = useState(bound.toFixed(2));
  const keep = (): void => {
    const x = Number(text.replace(',', '.'));
    if (x >= 1.01 && x <= 10 && Math.abs(x - bound) > 1e-6) void suggestSeams(x);
    else setText(bound.toFixed(2));
  };
  return (
    <input
      className="input input-xs num w-16"
      aria-label="Stretched by more than"
      inputMode="decimal"
      value={text}
      onChange={(e) => setText(e.target.value)}
      onBlur={keep}
      onKeyDown={(e) => {
        if (e.key === 'Enter') e.currentTarget.blur();
      }}
    />
  );
}

/** A packing that goes on until it is stopped. */
export function PackingNow({ fill, better }: { fill: number; better: boolean }): ReactElement {
  return (
    <section
      aria-label="Packing"
      className="absolute bottom-24 left-3.5 right-3.5 flex items-center gap-3 rounded-lg border border-line bg-paper p-2.5 shadow-lg"
      onPointerDown={(e) => e.stopPropagation()}
    >
      <span className="loading loading-spinner loading-sm" aria-hidden="true" />
      <span className="min-w-0 flex-1" role="status">
        {better ? 'Better: filled by ' : 'Trying other places. Filled by '}
        <b className="num text-value">{(100 * fill).toFixed(1)} %</b>
      </span>
      <button className="btn btn-xs" onClick={() => void endPacking('nothing')}>
        Drop
      </button>
      <button className="btn btn-xs btn-primary" disabled={!better} onClick={() => void endPacking('best')}>
        Stop and keep
      </button>
    </section>
  );
}
