'use client';
/** What lies over the picture: the names and settings of the panes, the tripod, labels, and the actions of a right click. */
import { useState } from 'react';
import { formatQuantity } from '../../../core/recipe/quantity';
import * as changes from '../../../document/changes';
import type { Settings } from '../../../document/types';
import { token } from '../../parts/theme';
import { commands, setShading } from '../actions';
import { session } from '../session';
import { bench, OPPOSITE, SHADINGS, useBench, type PickMode, type ViewName } from '../store';
import type { DrawnLabel, Viewer } from './viewer';

const TITLE: Readonly<Record<ViewName, string>> = {
  Persp: 'Perspective',
  Front: 'Front',
  Back: 'Back',
  Side: 'Right side',
  Left: 'Left side',
  Top: 'Top',
  Bottom: 'Bottom',
};
const GRIDS = [0.001, 0.005, 0.01, 0.05, 0.1, 0.5, 1, 5, 10];
const GROUNDS: readonly Settings['background'][] = ['dawn', 'plain', 'dusk'];

export function PaneNames({ viewer }: { viewer: Viewer | null }) {
  const s = useBench(),
    settings = s.document?.settings;
  const set = (part: Partial<Settings>) => session.change('set up the view', (d) => changes.setSettings(d, part));
  // With four views the line stands in the one that is worked in; where that is narrow, with only what is its own.
  const corner = s.four && viewer ? viewer.pane : { x: 0, y: 0 },
    tight = s.four && !!viewer && viewer.pane.width < 460;
  const nextGrid = () => {
    const g = settings!.grid,
      i = GRIDS.findIndex((x) => x > g * 1.001);
    set({ grid: GRIDS[i < 0 ? 0 : i] });
  };
  return (
    <>
      <div
        className="quiet pointer-events-none absolute flex gap-1 whitespace-nowrap"
        style={{ left: 14 + corner.x, top: 10 + corner.y }}
        onPointerDown={(e) => e.stopPropagation()}
      >
        <span>{TITLE[s.view]}</span>
        <span>·</span>
        <button
          className="pointer-events-auto hover:text-ink"
          title="Next shading (Y)"
          onClick={() => setShading(SHADINGS[(SHADINGS.findIndex((x) => x[0] === s.shading) + 1) % SHADINGS.length][0])}
        >
          {SHADINGS.find((x) => x[0] === s.shading)![1]}
        </button>
        {settings && !tight && (
          <>
            <span>·</span>
            <button className="pointer-events-auto hover:text-ink" title="Grid step" onClick={nextGrid}>
              {formatQuantity(settings.grid, 'length', s.document?.units)} grid
            </button>
            <span>·</span>
            <button
              className="pointer-events-auto hover:text-ink"
              title="Ground shown or not"
              onClick={() => set({ ground: !settings.ground })}
            >
              {settings.ground ? 'ground' : 'no ground'}
            </button>
            <span>·</span>
            <button
              className="pointer-events-auto hover:text-ink"
              title="Background"
              onClick={() => set({ background: GROUNDS[(GROUNDS.indexOf(settings.background) + 1) % GROUNDS.length] })}
            >
              {settings.background}
            </button>
          </>
        )}
        {s.only && (
          <>
            <span>·</span>
            <button
              className="pointer-events-auto text-warn hover:text-ink"
              title="Show the others again (O)"
              onClick={() => bench.set({ only: null })}
            >
              only the picked
            </button>
          </>
        )}
      </div>
      {s.four &&
        viewer?.panes.map((p, i) =>
          i === viewer.active || p.width < 2 ? null : (
            <span
              key={i}
              className="quiet pointer-events-none absolute text-[11px]"
              style={{ left: p.x + 14, top: p.y + 10 }}
            >
              {TITLE[p.camera.view]}
            </span>
          ),
        )}
      <div
        className="absolute right-3 top-[132px] flex flex-col items-end gap-1"
        onPointerDown={(e) => e.stopPropagation()}
        role="group"
        aria-label="Views"
      >
        {(['Persp', 'Front', 'Side', 'Top'] as const).map((name) => {
          const other = OPPOSITE[name],
            on = s.view === name || s.view === other;
          return (
            <button
              key={name}
              aria-pressed={on}
              title={other ? `${TITLE[name]}; again for ${TITLE[other].toLowerCase()}` : undefined}
              className={on ? 'font-semibold' : 'quiet hover:text-ink'}
              onClick={() => bench.set({ view: s.view === name && other ? other : name })}
            >
              {other && s.view === other ? other : name}
            </button>
          );
        })}
        <button
          aria-pressed={s.four}
          className={s.four ? 'font-semibold' : 'quiet hover:text-ink'}
          title="Four views, or one (J)"
          onClick={() => bench.set({ four: !s.four })}
        >
          Four
        </button>
      </div>
    </>
  );
}

export function Tripod({ axes }: { axes: [number, number][] }) {
  const names = ['x', 'y', 'z'] as const;
  return (
    <svg
      className="pointer-events-none absolute right-6 top-12"
      width={76}
      height={76}
      viewBox="-38 -38 76 76"
      aria-hidden="true"
    >
      {axes.map(([x, y], i) => (
        <g key={names[i]} stroke={token(`axis-${names[i]}`)} strokeWidth={1.6}>
          <line x1={0} y1={0} x2={x * 26} y2={y * 26} />
          <text
            x={x * 33}
            y={y * 33 + 3}
            stroke="none"
            fill={token(`axis-${names[i]}`)}
            fontSize={10}
            textAnchor="middle"
          >
            {names[i]}
          </text>
        </g>
      ))}
    </svg>
  );
}

/** Names of stations, values of measures, and what a point would land on. */
export const Labels = ({ labels }: { labels: readonly DrawnLabel[] }) => (
  <>
    {labels.map((l) => (
      <span
        key={l.id}
        data-label={l.kind}
        className={`pointer-events-none absolute whitespace-nowrap rounded px-1 text-[11px] ${l.kind === 'station' ? 'font-semibold' : l.kind === 'measure' ? 'num' : ''}`}
        style={{
          left: l.x,
          top: l.y,
          transform: l.kind === 'snap' ? 'translate(12px, -20px)' : 'translate(-50%, -120%)',
          background: 'color-mix(in srgb, var(--paper) 86%, transparent)',
          color: l.kind === 'snap' ? 'var(--last)' : 'var(--ink)',
        }}
      >
        {l.text}
      </span>
    ))}
  </>
);

/** A right click without a drag: what can be done here. */
export function Actions({ at, mode, close }: { at: { x: number; y: number }; mode: PickMode; close: () => void }) {
  const stage = bench.get().stage,
    [all] = useState(commands);
  const ids =
    stage === 'unwrap'
      ? ['cut', 'hold', 'letbe', 'unfold', 'grow', 'see-pick']
      : mode === 'piece'
        ? [
            'copy',
            'linked',
            'mirror',
            'own',
            'group',
            'merge',
            'split',
            'keep-library',
            'only',
            'ghost',
            'hide',
            'show',
            'delete',
            'see-pick',
          ]
        : ['extrude', 'inset', 'loop', 'fill', 'weld', 'detach', 'detach-piece', 'delete', 'grow', 'shrink', 'see-pick']
            .filter((id) => mode === 'face' || !['extrude', 'inset', 'detach', 'detach-piece'].includes(id))
            .filter((id) => mode === 'edge' || id !== 'loop')
            .filter((id) => mode !== 'face' || id !== 'fill');
  const list = all.filter((c) => ids.includes(c.id)),
    view = document.querySelector('[data-testid=view]');
  return (
    <div
      role="menu"
      className="absolute z-20 w-52 rounded-lg border border-line bg-paper py-1 shadow-lg"
      style={{
        left: Math.max(0, Math.min(at.x, (view?.clientWidth ?? 400) - 216)),
        top: Math.max(0, Math.min(at.y, (view?.clientHeight ?? 600) - 30 * list.length - 12)),
      }}
      onPointerDown={(e) => e.stopPropagation()}
      onKeyDown={(e) => {
        if (e.key === 'Escape') {
          e.stopPropagation();
          close();
        }
      }}
      ref={(el) => {
        if (el && !el.contains(document.activeElement)) el.querySelector('button')?.focus();
      }}
    >
      {list.map((c) => (
        <button
          key={c.id}
          role="menuitem"
          className="flex w-full justify-between px-3 py-1.5 text-left hover:bg-wash"
          onClick={() => {
            close();
            c.run();
          }}
        >
          <span>{c.title}</span>
          <span className="num quiet">{c.key}</span>
        </button>
      ))}
    </div>
  );
}
