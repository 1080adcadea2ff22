'use client';
/** Faces that are being projected: in which way, in which frame, how often round. */
import { IconArrowsMove, IconResize, IconRotate } from '@tabler/icons-react';
import type { ReactElement } from 'react';
import type { Projection } from '../../../core/uv/edits/project';
import { viewer } from '../view/ways';
import { endProjecting, setProjecting } from '../actions';
import { bench, useBench, type Handle, type ProjectingNow } from '../store';

const WAYS: readonly (readonly [Projection, string])[] = [
  ['plane', 'From one side'],
  ['box', 'From six sides'],
  ['cylinder', 'Round an axis'],
  ['sphere', 'Round a middle'],
];
const HANDLES: readonly (readonly [Handle, string, typeof IconResize])[] = [
  ['move', 'Move the frame', IconArrowsMove],
  ['turn', 'Turn the frame', IconRotate],
  ['size', 'Size the frame', IconResize],
];

export function ProjectingPanel({ projecting, keep }: { projecting: ProjectingNow; keep: () => void }): ReactElement {
  const handle = useBench((s) => s.handle);
  const { how, wraps, now } = projecting;
  const round = how === 'cylinder' || how === 'sphere';
  return (
    <section
      aria-label="Projecting"
      className="absolute bottom-24 left-3.5 right-3.5 flex flex-col gap-2 rounded-lg border border-line bg-paper p-2.5 shadow-lg"
      onPointerDown={(e) => e.stopPropagation()}
      onWheel={(e) => e.stopPropagation()}
    >
      <div className="flex items-center gap-2">
        <select
          className="select select-xs w-36"
          aria-label="How they are seen"
          value={how}
          onChange={(e) => setProjecting({ how: e.target.value as Projection })}
        >
          {WAYS.map(([name, label]) => (
            <option key={name} value={name}>
              {label}
            </option>
          ))}
        </select>
        <div className="join">
          {HANDLES.map(([name, label, Icon]) => (
            <button
              key={name}
              className={`btn btn-xs join-item ${handle === name ? 'btn-active' : ''}`}
              aria-pressed={handle === name}
              aria-label={label}
              title={label}
              onClick={() => bench.set({ handle: name })}
            >
              <Icon size={14} stroke={1.6} />
            </button>
          ))}
        </div>
        <span className="flex-1" />
        <button className="btn btn-xs" onClick={() => endProjecting()}>
          Drop
        </button>
        <button className="btn btn-xs btn-primary" disabled={!now} onClick={keep}>
          Keep
        </button>
      </div>
      <div className="flex flex-wrap items-center gap-x-2 gap-y-1.5">
        <span className="quiet">Frame</span>
        <button className="btn btn-xs" onClick={() => setProjecting({ frame: undefined })}>
          Best fit
        </button>
        {([0, 1, 2] as const).map((axis) => (
          <button
            key={axis}
            className="btn btn-xs"
            title={`Up along ${'XYZ'[axis]}`}
            onClick={() => setProjecting({ frame: axis })}
          >
            {'XYZ'[axis]}
          </button>
        ))}
        <button
          className="btn btn-xs"
          title="Turned as it is seen in the view now"
          onClick={() => {
            const seen = viewer.seen();
            if (seen && typeof projecting.frame === 'object')
              setProjecting({ frame: { ...seen, at: projecting.frame.at }, half: undefined, size: [1, 1, 1] });
          }}
        >
          As seen
        </button>
        {round && (
          <label className="ml-auto flex items-center gap-1.5">
            <span className="quiet">Times round</span>
            <input
              type="number"
              className="input input-xs w-16"
              aria-label="Times round"
              min={1}
              max={100}
              value={wraps}
              onChange={(e) => setProjecting({ wraps: Math.max(1, Math.min(100, Number(e.target.value) || 1)) })}
            />
          </label>
        )}
      </div>
    </section>
  );
}
