'use client';
/**
 * What lies over the picture: the names and settings of the panes, the tripod, labels, and the actions of a right
 * click.
 */
import { formatQuantity } from '../../../core/recipe/quantity';
import * as changes from '../../../document/changes';
import type { Settings } from '../../../document/types';
import { token } from '../../parts/theme';
import { Icon } from '../../parts/Icon';
import { MenuAt, type MenuItem } from '../../parts/Tooltip';
import { setShading } from '../actions';
import { command, commands, runCommand, whenOf, type Command } from '../commands';
import { keyFor } from '../commands/keys';
import { session } from '../session';
import { stageDef } from '../stages/define';
import { bench, OPPOSITE, SHADINGS, useBench, type BenchState, type ViewName } from '../store';
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

const setSettings = (part: Partial<Settings>) => session.change('set up the view', (d) => changes.setSettings(d, part));

const QUIET = 'pointer-events-auto min-h-[24px] -my-1 rounded px-0.5 hover:text-ink';

/** With four views the line stands in the one that is worked in; where that is narrow, with only what is its own. */
export function PaneNames({ viewer }: { viewer: Viewer | null }) {
  const settings = useBench((s) => s.document?.settings);
  const units = useBench((s) => s.document?.units);
  const view = useBench((s) => s.view);
  const four = useBench((s) => s.four);
  const shading = useBench((s) => s.shading);
  const only = useBench((s) => s.only);
  const both = useBench((s) => s.bothSides);
  const through = useBench((s) => s.through);
  const corner = four && viewer ? viewer.pane : { x: 0, y: 0 };
  const tight = four && !!viewer && viewer.pane.width < 460;
  const at = SHADINGS.findIndex((x) => x[0] === shading);
  return (
    <>
      <div
        className="quiet over-view pointer-events-none absolute flex gap-1 whitespace-nowrap"
        style={{ left: 14 + corner.x, top: 10 + corner.y }}
        onPointerDown={(e) => e.stopPropagation()}
      >
        <span>{TITLE[view]}</span>
        <span>·</span>
        <button
          className={QUIET}
          title="Next shading (Y)"
          onClick={() => setShading(SHADINGS[(at + 1) % SHADINGS.length][0])}
        >
          {SHADINGS[at][1]}
        </button>
        {settings && !tight && <GroundSettings settings={settings} units={units} />}
        {both && (
          <>
            <span>·</span>
            <button
              className={`${QUIET} text-warn`}
              title="Next axis, or off (Alt M)"
              onClick={() => runCommand(command('both-sides')!)}
            >
              both sides of {both.toUpperCase()}
            </button>
          </>
        )}
        {through && (
          <>
            <span>·</span>
            <button
              className={`${QUIET} text-warn`}
              title="Only what is seen (Alt X)"
              onClick={() => runCommand(command('through')!)}
            >
              picking through
            </button>
          </>
        )}
        {only && (
          <>
            <span>·</span>
            <button
              className={`${QUIET} text-warn`}
              title="Show the others again (O)"
              onClick={() => bench.set({ only: null })}
            >
              only the picked
            </button>
          </>
        )}
      </div>
      {four && <OtherNames viewer={viewer} />}
      <ViewNames view={view} four={four} />
    </>
  );
}

function GroundSettings({ settings, units }: { settings: Settings; units: BenchUnits }) {
  const { grid, ground, background } = settings;
  const nextGrid = GRIDS.find((x) => x > grid * 1.001) ?? GRIDS[0];
  const nextBackground = GROUNDS[(GROUNDS.indexOf(background) + 1) % GROUNDS.length];
  return (
    <>
      <span>·</span>
      <button className={QUIET} title="Grid step" onClick={() => setSettings({ grid: nextGrid })}>
        {formatQuantity(grid, 'length', units)} grid
      </button>
      <span>·</span>
      <button className={QUIET} title="Ground shown or not" onClick={() => setSettings({ ground: !ground })}>
        {ground ? 'ground' : 'no ground'}
      </button>
      <span>·</span>
      <button className={QUIET} title="Background" onClick={() => setSettings({ background: nextBackground })}>
        {background}
      </button>
    </>
  );
}
type BenchUnits = NonNullable<BenchState['document']>['units'] | undefined;

const OtherNames = ({ viewer }: { viewer: Viewer | null }) =>
  viewer?.panes.map((p, i) =>
    i === viewer.active || p.width < 2 ? null : (
      <span
        key={i}
        className="quiet over-view pointer-events-none absolute text-[11px]"
        style={{ left: p.x + 14, top: p.y + 10 }}
      >
        {TITLE[p.camera.view]}
      </span>
    ),
  );

function ViewNames({ view, four }: { view: ViewName; four: boolean }) {
  return (
    <div
      className="over-view absolute right-3 top-[132px] flex flex-col items-end"
      onPointerDown={(e) => e.stopPropagation()}
      role="group"
      aria-label="Views"
    >
      {(['Persp', 'Front', 'Side', 'Top'] as const).map((name) => {
        const other = OPPOSITE[name];
        const on = view === name || view === other;
        const next = view === name && other ? other : name;
        return (
          <button
            key={name}
            aria-pressed={on}
            title={other ? `${TITLE[name]}; again for ${TITLE[other].toLowerCase()}` : undefined}
            className={`min-h-[24px] min-w-[24px] text-right ${on ? 'font-semibold' : 'quiet hover:text-ink'}`}
            onClick={() => bench.set({ view: next })}
          >
            {other && view === other ? other : name}
          </button>
        );
      })}
      <button
        aria-pressed={four}
        className={`min-h-[24px] min-w-[24px] text-right ${four ? 'font-semibold' : 'quiet hover:text-ink'}`}
        title="Four views, or one (J)"
        onClick={() => bench.set({ four: !four })}
      >
        Four
      </button>
    </div>
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

const LABEL_TYPE: Readonly<Record<string, string>> = { station: 'font-semibold', measure: 'num' };

/** Names of stations, values of measures, what a point would land on, and where something was that is lost. */
export const Labels = ({ labels }: { labels: readonly DrawnLabel[] }) =>
  labels.map((l) =>
    l.kind === 'lost' ? (
      <span key={l.id} data-label="lost" className="lost-mark" style={{ left: l.x, top: l.y }} />
    ) : (
      <span
        key={l.id}
        data-label={l.kind}
        className={
          'pointer-events-none absolute whitespace-nowrap rounded bg-base-100/85 px-1 text-[11px] ' +
          `${LABEL_TYPE[l.kind] ?? ''}`
        }
        style={{
          left: l.x,
          top: l.y,
          transform: l.kind === 'snap' ? 'translate(12px, -20px)' : 'translate(-50%, -120%)',
          color: l.kind === 'snap' ? 'var(--last)' : 'var(--ink)',
        }}
      >
        {l.text}
      </span>
    ),
  );

/** Commands that fit what is picked, in a stage: those that say so themselves. */
export function menuCommands(stage: string, mode: BenchState['mode']): Command[] {
  const tools = stageDef(stage).tools;
  const place = (c: Command) => {
    const i = tools.indexOf(c.id);
    return i < 0 ? tools.length : i;
  };
  return commands()
    .filter((c) => c.menu && (c.menu === true ? stage !== 'unwrap' || c.modes?.length !== 1 : c.menu.includes(stage)))
    .filter((c) => !c.modes || c.modes.includes(mode))
    .sort((a, b) => place(a) - place(b));
}

/** A right click without a drag: what can be done here. */
export function Actions({ at, close }: { at: { x: number; y: number }; close: () => void }) {
  const { stage, mode } = bench.get();
  const frame = document.querySelector('[data-testid=view]')?.getBoundingClientRect();
  const list = menuCommands(stage, mode);
  const shown = list.length ? list : [command('see-all')!];
  const items = shown.map((c): MenuItem => {
    const can = whenOf(c);
    return {
      id: c.id,
      label: c.title,
      icon: c.icon ? <Icon path={c.icon} size={15} /> : <span className="w-[15px]" />,
      aside: <kbd className="num quiet">{keyFor(c)}</kbd>,
      disabled: can === true ? undefined : can,
      run: () => runCommand(c),
    };
  });
  return (
    <MenuAt
      x={(frame?.left ?? 0) + at.x}
      y={(frame?.top ?? 0) + at.y}
      items={items}
      label="What can be done here"
      close={close}
    />
  );
}
