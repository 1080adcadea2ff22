'use client';
/** Above the sheet: what it shows and how, and its figures. */
import { IconCrosshair } from '@tabler/icons-react';
import { useMemo, useState, type ReactElement, type ReactNode } from 'react';
import { BRUSHES, type Brush } from '../../../core/uv/edits/brush';
import type { UvFigures } from '../../../core/uv/measure';
import { leavesPictures } from '../../../document/carrying';
import type { Piece, Step } from '../../../document/types';
import { carryOver, focusStep, haveOwnSheet, keepPickAs, pickSet } from '../actions';
import { useBench } from '../store';
import { Legend, type Heat, type HeatOf } from './heat';
import { SNAPS, type Snap } from './snapping';
import type { BrushNow } from './useBrush';
import type { SharedNow } from './useShared';
import { UvSets } from './UvSets';

interface SheetHeadProps {
  piece: Piece | undefined;
  step: Step | undefined;
  texels: number;
  /** There is something on the sheet. */
  there: boolean;
  whole: () => void;
  heat: Heat | null;
  heatOf: HeatOf;
  setHeatOf: (of: HeatOf) => void;
  snap: Snap;
  setSnap: (snap: Snap) => void;
  /** What lies behind. */
  behind: ReactNode;
  /** How far around a vertex others go along; undefined where no vertex is moved. */
  soft?: { value: number; set: (value: number) => void };
  brush?: { now: BrushNow; set: (now: BrushNow) => void };
  /** Names of the islands that are picked; undefined where none is. */
  naming?: readonly { name: string }[];
  release?: () => void;
  shared: SharedNow | null;
  figures: UvFigures | null;
  kept?: Readonly<Record<string, number>>;
}

const BRUSH_NAMES: Readonly<Record<Brush, string>> = {
  grab: 'Grab',
  relax: 'Relax',
  pinch: 'Draw together',
  spread: 'Spread',
};

export function SheetHead(p: SheetHeadProps): ReactElement {
  const { piece, step, texels, brush } = p;
  return (
    <div
      className="pointer-events-none absolute left-1.5 right-1.5 top-1 rounded-lg bg-bench/85 px-2 py-1.5 [&>*>*]:pointer-events-auto"
      onPointerDown={(e) => e.stopPropagation()}
    >
      <div className="quiet flex flex-wrap items-center gap-x-2 gap-y-1">
        Sheet · {piece?.name ?? 'nothing picked'} · {texels} px{' '}
        <button
          className="btn btn-ghost btn-square icon-btn"
          aria-label="See the whole sheet"
          title="See the whole sheet"
          onClick={p.whole}
        >
          <IconCrosshair size={14} stroke={1.6} />
        </button>
        {piece && step && <UvSets piece={piece} step={step} />}
        <select
          className="select select-xs w-24"
          aria-label="Colours of the sheet"
          value={p.heatOf}
          disabled={!p.there}
          onChange={(e) => p.setHeatOf(e.target.value as HeatOf)}
        >
          <option value="nothing">Plain</option>
          <option value="stretch">Stretch</option>
          <option value="density">Texels</option>
        </select>
        {p.behind}
        <select
          className="select select-xs w-28"
          aria-label="What is moved snaps"
          title="What is moved snaps; hold Ctrl to move it freely"
          value={p.snap}
          onChange={(e) => p.setSnap(e.target.value as Snap)}
        >
          {SNAPS.map(([name, label]) => (
            <option key={name} value={name}>
              {label}
            </option>
          ))}
        </select>
        {p.soft && (
          <Slider
            label="Soft"
            name="How far around others go along"
            title="How far around a vertex others go along, less and less"
            most={0.4}
            value={p.soft.value}
            set={p.soft.set}
          />
        )}
        {piece && p.there && <Naming piece={piece} naming={p.naming} />}
        {brush && (
          <>
            <select
              className="select select-xs w-32"
              aria-label="What the brush does"
              value={brush.now.brush}
              onChange={(e) => brush.set({ ...brush.now, brush: e.target.value as Brush })}
            >
              {BRUSHES.map((name) => (
                <option key={name} value={name}>
                  {BRUSH_NAMES[name]}
                </option>
              ))}
            </select>
            <Slider
              label="Width"
              name="How wide the brush is"
              least={0.01}
              most={0.3}
              value={brush.now.radius}
              set={(radius) => brush.set({ ...brush.now, radius })}
            />
          </>
        )}
      </div>
      {p.release && (
        <p className="mt-0.5 text-[12px]">
          Placed by hand.{' '}
          <button
            className="link-remedy"
            title="Release the island: unfold and pack it with the rest"
            onClick={p.release}
          >
            Give it back
          </button>
        </p>
      )}
      {p.shared && (
        <p className="mt-0.5 text-[12px]">
          On one sheet with {p.shared.count} other {p.shared.count === 1 ? 'piece' : 'pieces'}.{' '}
          {p.shared.seen ? (
            p.shared.alone && (
              <button className="link-remedy" onClick={() => focusStep(p.shared!.alone!)}>
                See its own layout
              </button>
            )
          ) : (
            <button className="link-remedy" onClick={() => focusStep(p.shared!.step)}>
              See the sheet
            </button>
          )}{' '}
          <button className="link-remedy" onClick={haveOwnSheet}>
            Have it for itself
          </button>
        </p>
      )}
      <LeftBehind piece={piece} />
      {p.heat && <Legend heat={p.heat} texels={texels} />}
      {p.figures && <Figures figures={p.figures} texels={texels} kept={p.kept} />}
    </div>
  );
}

/** Names the islands that are picked, and picks those of a name. */
function Naming({ piece, naming }: { piece: Piece; naming?: readonly { name: string }[] }): ReactElement {
  const sets = (piece.sets ?? []).filter((s) => s.pick.kind === 'face');
  const [text, setText] = useState('');
  const one = naming?.length === 1 ? naming[0].name : '';
  return (
    <>
      {sets.length > 0 && (
        <select
          className="select select-xs w-24"
          aria-label="Pick islands by name"
          value=""
          onChange={(e) => {
            const set = sets.find((s) => s.id === e.target.value);
            if (set) pickSet(set.pick, 'set');
          }}
        >
          <option value="">Names</option>
          {sets.map((s) => (
            <option key={s.id} value={s.id}>
              {s.name}
            </option>
          ))}
        </select>
      )}
      {naming && (
        <input
          className="input input-xs w-24"
          aria-label="Name of what is picked"
          placeholder={one || 'Name'}
          title="A name for the islands that are picked; it goes with them through changes"
          value={text}
          maxLength={60}
          onChange={(e) => setText(e.target.value)}
          onKeyDown={(e) => {
            e.stopPropagation();
            if (e.key !== 'Enter' || !text.trim()) return;
            keepPickAs(text);
            setText('');
          }}
        />
      )}
    </>
  );
}

interface SliderProps {
  label: string;
  name: string;
  title?: string;
  least?: number;
  most: number;
  value: number;
  set: (value: number) => void;
}

function Slider({ label, name, title, least = 0, most, value, set }: SliderProps): ReactElement {
  return (
    <label className="flex items-center gap-1.5" title={title}>
      {label}
      <input
        type="range"
        className="range range-xs w-16"
        aria-label={name}
        min={least}
        max={most}
        step={0.01}
        value={value}
        onChange={(e) => set(Number(e.target.value))}
      />
    </label>
  );
}

const Figure = ({ name, value, wrong, title }: { name: string; value: string; wrong?: boolean; title?: string }) => (
  <div className="flex gap-1.5" title={title}>
    <dt className="quiet">{name}</dt>
    <dd className={`num font-semibold ${wrong ? 'text-wrong' : 'text-value'}`}>{value}</dd>
  </div>
);

/** Less than this of the sheet is rounding. */
const OUTSIDE = 1e-5;

function Figures({
  figures: f,
  texels,
  kept,
}: {
  figures: UvFigures;
  texels: number;
  kept?: Readonly<Record<string, number>>;
}): ReactElement {
  const [lo, hi] = [f.mostly.densityMin * texels, f.mostly.densityMax * texels];
  return (
    <dl className="mt-1 flex flex-wrap gap-x-3.5 gap-y-0.5" aria-label="Figures of the sheet">
      <Figure name="Islands" value={f.islands.toLocaleString('en')} />
      <Figure name="Fill" value={`${(100 * f.coverage).toFixed(1)} %`} />
      <Figure
        name="Stretch ≤"
        value={f.mostly.stretch.toFixed(2)}
        title={
          `${f.stretchMean.toFixed(3)} on average, no more than that on 99.5 % of the surface, ` +
          `${f.stretchMax.toFixed(2)} at worst; 1 keeps all angles`
        }
      />
      <Figure
        name="Texels"
        value={`${Math.round((lo + hi) / 2)} / m ± ${hi > 0 ? Math.round((100 * (hi - lo)) / (hi + lo)) : 0} %`}
      />
      {!!kept?.faces && (
        <Figure
          name="Kept"
          value={`${kept.keptFaces.toLocaleString('en')} of ${kept.faces.toLocaleString('en')} faces`}
          title="Faces that lie where the layout that is kept has them; the others were laid out by themselves"
        />
      )}
      {f.flips > 0 && <Figure name="Flipped" value={f.flips.toLocaleString('en')} wrong />}
      {f.outside > OUTSIDE && <Figure name="Outside" value={`${(100 * f.outside).toFixed(1)} %`} wrong />}
      <Figure
        name="Overlaps"
        value={f.overlap === 0 ? '0' : `${(100 * f.overlap).toFixed(2)} %`}
        wrong={f.overlap > 0}
      />
    </dl>
  );
}

/** Where the pictures that its materials show do not lie by this layout. */
function LeftBehind({ piece }: { piece: Piece | undefined }) {
  const document = useBench((s) => s.document);
  const slots = useBench((s) => s.mesh?.slots);
  // Not at every change of the store: all steps are looked through.
  const left = useMemo(
    () => !!document && piece?.kind === 'mesh' && leavesPictures(document, piece, slots),
    [document, piece, slots],
  );
  if (!left) return null;
  return (
    <p className="mt-0.5 text-[12px]">
      The pictures of its materials lie by the layout before.{' '}
      <button className="link-remedy" onClick={() => void carryOver()}>
        Carry them over
      </button>
    </p>
  );
}
