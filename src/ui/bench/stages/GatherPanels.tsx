'use client';
import { IconBooks, IconFileImport } from '@tabler/icons-react';
import { useRef, useState } from 'react';
import { formatNumber, unitSize, type LengthUnit } from '../../../core/recipe/quantity';
import { count, length } from '../../../core/recipe/values';
import * as changes from '../../../document/changes';
import type { Settings } from '../../../document/types';
import {
  drawingAsCurves,
  forgetArrival,
  giveMissing,
  importFiles,
  setArrivalScale,
  stopArrival,
} from '../gather/arrivals';
import { Value } from '../recipe/Value';
import { keepImage } from '../library';
import { session } from '../session';
import { bench, useBench, type Arrival } from '../store';
import { Buttons, Check, Choice, Section, Small, Remove } from './Fields';

const UNITS: readonly LengthUnit[] = ['mm', 'cm', 'm', 'in', 'ft'];
const bedDef = length('Printer’s bed', 0.2, { min: 0.001, max: 1000 });
const budgetDef = count('Triangle budget', 0, { min: 0, max: 1e9 });
const digitsDef = count('Digits shown', 3, { min: 0, max: 8 });

/** The project's settings. */
export function ProjectSection() {
  const doc = useBench((s) => s.document);
  if (!doc) return null;
  const g = doc.settings;
  const set = (part: Partial<Settings>, live?: string) =>
    session.change('change the settings', (d) => changes.setSettings(d, part), live);
  return (
    <Section title="Project">
      <label className="row">
        <span className="quiet">Name</span>
        <input
          key={doc.name}
          className="input input-xs w-36"
          defaultValue={doc.name}
          maxLength={200}
          onKeyDown={(e) => {
            e.stopPropagation();
            if (e.key === 'Enter') e.currentTarget.blur();
          }}
          onBlur={(e) => {
            const name = e.target.value.trim();
            if (name && name !== doc.name) session.change('rename the project', (d) => changes.setProject(d, { name }));
          }}
        />
      </label>
      <Choice
        name="Made"
        value={doc.purpose}
        options={[
          ['render', 'to render'],
          ['game', 'for a game'],
          ['print', 'to print'],
        ]}
        onChange={(purpose) => session.change('change the purpose', (d) => changes.setProject(d, { purpose }))}
      />
      <Choice
        name="Units"
        value={doc.units}
        options={UNITS.map((u) => [u, u] as const)}
        onChange={(units) => session.change('change the units', (d) => changes.setProject(d, { units }))}
      />
      <div className="row">
        <span className="quiet">Digits shown</span>
        <Value
          name="precision"
          def={digitsDef}
          value={g.precision}
          onChange={(v, live) => set({ precision: v as number }, live ? 'precision' : undefined)}
          onSettle={() => session.settle()}
          onCancel={() => session.cancel()}
        />
      </div>
      <div className="row">
        <span className="quiet">Triangle budget</span>
        <span>
          {g.triangles === 0 && <span className="quiet">none · </span>}
          <Value
            name="budget"
            def={budgetDef}
            value={g.triangles}
            onChange={(v, live) => set({ triangles: v as number }, live ? 'budget' : undefined)}
            onSettle={() => session.settle()}
            onCancel={() => session.cancel()}
          />
        </span>
      </div>
      {doc.purpose === 'print' && (
        <div className="row">
          <span className="quiet">Printer’s bed</span>
          <span>
            {g.bed.map((b, i) => (
              <span key={i}>
                {i > 0 && ' × '}
                <Value
                  name={`bed-${i}`}
                  def={bedDef}
                  value={b}
                  onChange={(v, live) => {
                    const bed: [number, number, number] = [...g.bed];
                    bed[i] = v as number;
                    set({ bed }, live ? 'bed' : undefined);
                  }}
                  onSettle={() => session.settle()}
                  onCancel={() => session.cancel()}
                />
              </span>
            ))}
          </span>
        </div>
      )}
      <Choice
        name="Exports have"
        value={g.up}
        options={[
          ['y', 'Y up'],
          ['z', 'Z up'],
        ]}
        onChange={(up) => set({ up })}
      />
      <Check name="Ground shown" value={g.ground} onChange={(ground) => set({ ground })} />
    </Section>
  );
}

/** What was brought in, with a report each; what is being read, with a way to stop it. */
/** What was brought in. */
export function Arrivals() {
  const arrivals = useBench((s) => s.arrivals);
  const drawer = useBench((s) => s.drawer);
  const file = useRef<HTMLInputElement>(null);
  return (
    <Section
      title="Bring in"
      aside={
        <Small pressed={drawer} onClick={() => bench.set({ drawer: !drawer })} title="Library drawer (Shift L)">
          Library
        </Small>
      }
    >
      {arrivals.length === 0 && (
        <p className="quiet">
          Drop models, drawings and pictures anywhere on the bench, alone, together or zipped. Held Alt: drawings come
          in as curves.
        </p>
      )}
      {arrivals.map((a) => (
        <ArrivalReport key={a.id} arrival={a} />
      ))}
      <button
        className="btn btn-sm font-normal mt-1.5 w-full justify-center !py-1"
        onClick={() => file.current?.click()}
      >
        <IconFileImport size={14} stroke={1.6} />
        From files …
      </button>
      <input
        ref={file}
        type="file"
        multiple
        hidden
        aria-label="Files to bring in"
        onChange={(e) => {
          void importFiles([...(e.target.files ?? [])]);
          e.target.value = '';
        }}
      />
    </Section>
  );
}

function ArrivalReport({ arrival: a }: { arrival: Arrival }) {
  const units = useBench((s) => s.document?.units ?? 'mm');
  const [open, setOpen] = useState(true);
  const busy = a.state === 'reading' || a.state === 'keeping';
  return (
    <div
      className="mt-1 rounded-md border border-line p-2 text-[12px]"
      role="group"
      aria-label={`Report on ${a.names}`}
    >
      <div className="row">
        <button
          className="min-w-0 flex-1 truncate text-left font-semibold"
          aria-expanded={open}
          onClick={() => setOpen(!open)}
        >
          {a.names}
        </button>
        {busy ? (
          <Small onClick={() => stopArrival(a.id)}>Stop</Small>
        ) : (
          <Remove label={`Forget the report on ${a.names}`} onClick={() => forgetArrival(a.id)} />
        )}
      </div>
      {busy && (
        <>
          <progress className="progress h-1.5 w-full" aria-label={`Reading ${a.file}`} value={a.share} max={1} />
          <p className="quiet truncate">{a.state === 'reading' ? `Reading ${a.file} …` : 'Keeping the files …'}</p>
        </>
      )}
      {a.state === 'stopped' && <p className="text-warn">Stopped; nothing came in.</p>}
      {open &&
        a.reports.map((r) => {
          const faces = r.pieces.reduce((n, p) => n + p.faces, 0);
          const open3 = r.pieces.reduce((n, p) => n + p.openEdges, 0);
          const bad = r.pieces.reduce((n, p) => n + p.nonManifoldEdges, 0);
          const twice = r.pieces.reduce((n, p) => n + p.doubledFaces, 0);
          const curves = r.pieces.reduce((n, p) => n + p.curves, 0);
          const size = r.size.map((x) => formatNumber(x * r.unit, 'length', units, 1)).join(' × ');
          return (
            <dl key={r.file} className="mt-1">
              {a.reports.length > 1 && <div className="truncate font-semibold">{r.file}</div>}
              <div className="row !min-h-5">
                <dt className="quiet">Pieces</dt>
                <dd className="num">{r.pieces.length}</dd>
              </div>
              {faces > 0 && (
                <div className="row !min-h-5">
                  <dt className="quiet">Faces</dt>
                  <dd className="num">{faces.toLocaleString('en')}</dd>
                </div>
              )}
              {curves > 0 && (
                <div className="row !min-h-5">
                  <dt className="quiet">Curves</dt>
                  <dd className="num">{curves}</dd>
                </div>
              )}
              <div className="row !min-h-5">
                <dt className="quiet">Size, {units}</dt>
                <dd className="num">{size}</dd>
              </div>
              <div className="row !min-h-5">
                <dt className="quiet">One unit{r.unitKnown ? '' : ' (guessed)'}</dt>
                <dd>
                  {r.unitKnown ? (
                    <span className="num">{formatNumber(r.unit, 'length', 'm', 6)} m</span>
                  ) : (
                    <select
                      aria-label={`One unit of ${r.file}`}
                      className="select select-sm !px-1 !py-0"
                      value={String(r.unit)}
                      onChange={(e) => setArrivalScale(r, { unit: Number(e.target.value) })}
                    >
                      {UNITS.map((u) => (
                        <option key={u} value={String(unitSize(u))}>
                          1 {u}
                        </option>
                      ))}
                    </select>
                  )}
                </dd>
              </div>
              <div className="row !min-h-5">
                <dt className="quiet">Up{r.upKnown ? '' : ' (guessed)'}</dt>
                <dd>
                  {r.upKnown ? (
                    r.up.toUpperCase()
                  ) : (
                    <select
                      aria-label={`Up in ${r.file}`}
                      className="select select-sm !px-1 !py-0"
                      value={r.up}
                      onChange={(e) => setArrivalScale(r, { up: e.target.value as 'y' })}
                    >
                      <option value="y">Y</option>
                      <option value="z">Z</option>
                    </select>
                  )}
                </dd>
              </div>
              {(
                [
                  ['Open edges', open3],
                  ['Edges on 3+ faces', bad],
                  ['Doubled faces', twice],
                ] as const
              )
                .filter(([, n]) => n > 0)
                .map(([label, n]) => (
                  <div key={label} className="row !min-h-5 text-warn">
                    <dt>{label}</dt>
                    <dd className="num">{n.toLocaleString('en')}</dd>
                  </div>
                ))}
              {r.missing.map((m) => (
                <Missing key={m} arrival={a.id} name={m} />
              ))}
              {r.warnings.slice(0, 6).map((w, i) => (
                <p key={i} className="mt-0.5 text-warn">
                  {w}
                </p>
              ))}
              {r.warnings.length > 6 && <p className="quiet">And {r.warnings.length - 6} more.</p>}
            </dl>
          );
        })}
      {open &&
        a.notes.map((n) => (
          <p key={n} className="mt-1">
            {n}
          </p>
        ))}
      {open &&
        a.drawings.map((d) => (
          <Buttons key={d.name}>
            <Small onClick={() => void drawingAsCurves(a.id, d.name)}>{d.name} as curves too</Small>
          </Buttons>
        ))}
      {open &&
        a.refused.map((n) => (
          <p key={n} role="alert" className="mt-1 text-wrong">
            {n}
          </p>
        ))}
    </div>
  );
}

/** A place to drop a map that did not come with its model. */
function Missing({ arrival, name }: { arrival: string; name: string }) {
  const input = useRef<HTMLInputElement>(null);
  const [over, setOver] = useState(false);
  return (
    <button
      className={
        'mt-1 w-full rounded border border-dashed px-2 py-1 text-left ' +
        `${over ? 'border-value bg-wash' : 'border-warn text-warn'}`
      }
      onClick={() => input.current?.click()}
      onDragOver={(e) => {
        e.preventDefault();
        e.stopPropagation();
        setOver(true);
      }}
      onDragLeave={() => setOver(false)}
      onDrop={(e) => {
        e.preventDefault();
        e.stopPropagation();
        setOver(false);
        const f = e.dataTransfer.files[0];
        if (f) void giveMissing(arrival, f, name);
      }}
    >
      Missing: {name}. Drop it here.
      <input
        ref={input}
        type="file"
        hidden
        aria-label={`File for ${name}`}
        onChange={(e) => {
          const f = e.target.files?.[0];
          if (f) void giveMissing(arrival, f, name);
          e.target.value = '';
        }}
      />
    </button>
  );
}

/** Pictures of the project. */
export function Pictures() {
  const doc = useBench((s) => s.document);
  if (!doc?.images.length) return null;
  return (
    <Section title="Pictures" aside={String(doc.images.length)}>
      <ul className="scroll-thin max-h-40 overflow-y-auto">
        {doc.images.map((i) => (
          <li key={i.id} className="row">
            <span className="min-w-0 flex-1 truncate" title={i.name}>
              {i.name}
            </span>
            <span className="num quiet">
              {i.width} × {i.height}
              {i.use === 'height' ? ` · ${i.bits} bit heights` : ''}
            </span>
            <button
              className="btn btn-ghost btn-square icon-small"
              aria-label={`Keep the picture ${i.name} in the library`}
              title="Keep it in the library"
              onClick={() => void keepImage(i.id)}
            >
              <IconBooks size={12} stroke={1.6} />
            </button>
            <Remove
              label={`Remove the picture ${i.name}`}
              onClick={() => session.change('remove a picture', (d) => changes.removeImage(d, i.id))}
            />
          </li>
        ))}
      </ul>
    </Section>
  );
}
