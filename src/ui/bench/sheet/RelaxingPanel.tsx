'use client';
/** Islands that are being relaxed: how far they have come, and what is kept and held by it. */
import type { ReactElement } from 'react';
import type { RelaxingNow, RelaxingWay } from '../store';

const PICKED: readonly (readonly [RelaxingWay['picked'], string])[] = [
  ['nothing', 'All may move'],
  ['stays', 'What is picked stays'],
  ['moves', 'Only what is picked moves'],
];

interface RelaxingPanelProps {
  relaxing: RelaxingNow;
  /** Something less than whole islands is picked. */
  some: boolean;
  change: (way: RelaxingWay) => void;
  drop: () => void;
  keep: () => void;
}

export function RelaxingPanel({ relaxing, some, change, drop, keep }: RelaxingPanelProps): ReactElement {
  const { way, now, rests } = relaxing;
  return (
    <section
      aria-label="Relaxing"
      className="absolute bottom-24 left-3.5 right-3.5 flex flex-col gap-2 rounded-lg border border-line bg-paper p-2.5 shadow-lg"
      onPointerDown={(e) => e.stopPropagation()}
      onWheel={(e) => e.stopPropagation()}
    >
      {/* Room for two lines, and for the longer word: what is about to be pressed stays where it is. */}
      <div className="flex min-h-11 items-center gap-3">
        {!rests && <span className="loading loading-spinner loading-sm" aria-hidden="true" />}
        <span className="min-w-0 flex-1" role="status">
          {rests ? 'At rest after ' : 'Relaxing, round '}
          <b className="num">{(now?.round ?? 0).toLocaleString('en')}</b>
          {rests && ' rounds'}
          {now && (
            <>
              {'. Stretch '}
              <b className="num text-value">{now.mean.toFixed(3)}</b> on average
            </>
          )}
        </span>
        <button className="btn btn-xs" onClick={drop}>
          Drop
        </button>
        <button className="btn btn-xs btn-primary min-w-28" disabled={!now} onClick={keep}>
          {rests ? 'Keep' : 'Stop and keep'}
        </button>
      </div>
      <div className="flex flex-wrap items-center gap-x-4 gap-y-1.5">
        <label className="flex items-center gap-2">
          <span className="quiet">Angles</span>
          <input
            type="range"
            className="range range-xs w-28"
            aria-label="Keep angles or lengths"
            min={0}
            max={1}
            step={0.05}
            value={way.lengths}
            onChange={(e) => change({ ...way, lengths: Number(e.target.value) })}
          />
          <span className="quiet">Lengths</span>
        </label>
        <label className="flex items-center gap-1.5">
          <input
            type="checkbox"
            className="checkbox checkbox-xs"
            checked={way.border}
            onChange={(e) => change({ ...way, border: e.target.checked })}
          />
          Hold the border
        </label>
        {some && (
          <select
            className="select select-xs w-48"
            aria-label="What may move"
            value={way.picked}
            onChange={(e) => change({ ...way, picked: e.target.value as RelaxingWay['picked'] })}
          >
            {PICKED.map(([value, label]) => (
              <option key={value} value={value}>
                {label}
              </option>
            ))}
          </select>
        )}
      </div>
    </section>
  );
}
