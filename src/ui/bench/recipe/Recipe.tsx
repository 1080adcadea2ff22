'use client';
import {
  IconArrowDown,
  IconArrowUp,
  IconCopy,
  IconDotsVertical,
  IconEye,
  IconEyeOff,
  IconListDetails,
  IconNote,
  IconTrash,
} from '@tabler/icons-react';
import { useState } from 'react';
import { moveDef } from '../../../core/recipe/moves';
import { stepDef, stepDefs } from '../../../core/recipe/registry';
import type { Coloured, Move } from '../../../core/recipe/values';
import * as changes from '../../../document/changes';
import type { Material, Piece, Step } from '../../../document/types';
import type { StepReport } from '../../../workers/protocol';
import { addStep, focusStep, setValue } from '../actions';
import { session } from '../session';
import { makeOwn } from '../pieceActions';
import { useBench, workedOn } from '../store';
import { Sentence } from './Sentence';
import { Value } from './Value';

const NONE: readonly Material[] = [];

/** The recipe of the picked piece: numbered sentences, top to bottom. */
export function Recipe() {
  const picked = useBench((s) => s.document?.pieces.find((p) => p.id === s.piece)),
    piece = useBench(workedOn);
  const focused = useBench((s) => s.step),
    reports = useBench((s) => s.shown.get(workedOn(s)?.id ?? '')?.reports),
    working = useBench((s) => s.working);
  const [over, setOver] = useState<number | null>(null);
  if (!piece)
    return (
      <section className="panel-section !border-0" aria-label="Recipe">
        <p className="quiet">Pick a piece to see how it is made.</p>
      </section>
    );
  if (piece.kind === 'blueprint')
    return (
      <section className="panel-section !border-0" aria-label="Recipe">
        <p className="quiet">
          {piece.name} is a blueprint: a picture made true to scale. Its settings are on the right in Gather.
        </p>
      </section>
    );
  if (piece.kind === 'group')
    return (
      <section className="panel-section !border-0" aria-label="Recipe">
        <p className="quiet">{piece.name} is a group: it holds other pieces, and has no recipe of its own.</p>
      </section>
    );
  const marker = piece.upTo === null ? piece.recipe.length - 1 : piece.recipe.findIndex((s) => s.id === piece.upTo);
  const setMarker = (i: number) =>
    session.change('show up to here', (d) =>
      changes.setPiece(d, piece.id, { upTo: i >= piece.recipe.length - 1 ? null : piece.recipe[Math.max(0, i)].id }),
    );
  return (
    <section aria-label={`Recipe of ${piece.name}`} className="flex min-h-0 flex-1 flex-col">
      <div className="row px-3.5 pb-1 pt-2.5">
        <h2 className="panel-title">Recipe of {piece.name}</h2>
        <span className="quiet">
          {piece.recipe.length} {piece.recipe.length === 1 ? 'step' : 'steps'}
        </span>
      </div>
      {picked?.link && (
        <p className="quiet px-3.5 pb-1">
          {picked.name} is a linked copy: what is changed here changes {piece.name} and all its copies.{' '}
          <button className="link-remedy" onClick={makeOwn}>
            Make its own
          </button>
        </p>
      )}
      <ol className="scroll-thin min-h-0 flex-1 overflow-y-auto pb-3">
        {piece.recipe.map((step, i) => (
          <li
            key={step.id}
            onDragOver={(e) => {
              e.preventDefault();
              setOver(i);
            }}
            onDragLeave={() => setOver(null)}
            className={over === i ? 'border-b-2 border-value' : ''}
            onDrop={(e) => {
              setOver(null);
              const id = e.dataTransfer.getData('glypta/step');
              if (e.dataTransfer.types.includes('glypta/marker')) setMarker(i);
              else if (id) session.change('move a step', (d) => changes.moveStep(d, piece.id, id, i));
            }}
          >
            <StepLine
              piece={piece}
              step={step}
              index={i}
              focused={focused === step.id}
              after={i > marker}
              report={reports?.find((r) => r.step === step.id)}
              working={working?.step === step.id ? working.share : null}
            />
            {i === marker && i < piece.recipe.length - 1 && (
              <Marker index={i} count={piece.recipe.length} setMarker={setMarker} />
            )}
          </li>
        ))}
        <li className="px-3.5 pl-8 pt-2">
          <Then />
        </li>
      </ol>
    </section>
  );
}

function Marker({ index, count, setMarker }: { index: number; count: number; setMarker: (i: number) => void }) {
  return (
    <div
      className="relative ml-8 mr-3.5 h-5"
      draggable
      onDragStart={(e) => e.dataTransfer.setData('glypta/marker', '1')}
      role="slider"
      tabIndex={0}
      aria-label="Showing up to here"
      aria-valuemin={1}
      aria-valuemax={count}
      aria-valuenow={index + 1}
      onKeyDown={(e) => {
        if (e.key === 'ArrowUp') {
          setMarker(index - 1);
          e.preventDefault();
          e.stopPropagation();
        }
        if (e.key === 'ArrowDown') {
          setMarker(index + 1);
          e.preventDefault();
          e.stopPropagation();
        }
      }}
    >
      <div className="absolute top-2 h-px w-full bg-ink" />
      <span
        className="absolute right-0 cursor-grab rounded-full px-2 text-[11px]"
        style={{ background: 'var(--tool)', color: 'var(--tool-ink)' }}
      >
        showing up to here
      </span>
    </div>
  );
}

function StepLine({
  piece,
  step,
  index,
  focused,
  after,
  report,
  working,
}: {
  piece: Piece;
  step: Step;
  index: number;
  focused: boolean;
  after: boolean;
  report?: StepReport;
  working: number | null;
}) {
  const def = stepDef(step.kind);
  const [menu, setMenu] = useState(false),
    [all, setAll] = useState(false),
    [note, setNote] = useState(false);
  const change = (name: string, value: unknown, live: boolean) => setValue(piece.id, step.id, name, value, live);
  const on = { onChange: change, onSettle: () => session.settle(), onCancel: () => session.cancel() };
  const moves = step.kind === 'shape' ? (step.values.moves as Move[]) : undefined,
    last = moves?.[moves.length - 1],
    lastDef = last && moveDef(last.tool);
  const act = (label: string, edit: Parameters<typeof session.change>[1]) => {
    setMenu(false);
    session.change(label, edit);
  };
  return (
    <div
      className={`group relative flex gap-2 py-1.5 pl-3.5 pr-2 ${focused ? 'bg-wash' : ''} ${after || !step.on ? 'opacity-45' : ''}`}
      aria-current={focused ? 'step' : undefined}
      onClick={() => {
        if (!focused) focusStep(step.id);
      }}
    >
      {focused && <span className="absolute inset-y-0 left-0 w-[3px] bg-value" />}
      <span
        draggable
        onDragStart={(e) => e.dataTransfer.setData('glypta/step', step.id)}
        className="w-3 shrink-0 cursor-grab font-serif text-[14px] quiet"
        title="Drag to another place"
      >
        {index + 1}
      </span>
      <div className="min-w-0 flex-1">
        {def ? (
          <Sentence
            title={def.title}
            sentence={def.sentence}
            defs={def.values}
            values={step.values}
            {...on}
            open={{
              ...(moves ? { moves: () => setAll(!all) } : {}),
              ...(step.kind === 'color' ? { colors: () => setAll(!all), base: () => setAll(!all) } : {}),
            }}
          />
        ) : (
          <b>{step.kind}</b>
        )}
        {lastDef && last && (
          <>
            {' '}
            <span className="quiet">Last:</span>{' '}
            <Sentence
              title={lastDef.title.toLowerCase()}
              sentence={lastDef.sentence}
              defs={lastDef.values}
              values={last.values}
              special={(n) => (n === 'pick' ? <PickCount pick={last.pick} /> : undefined)}
              onChange={(name, value, live) =>
                session.change(
                  'change a move',
                  (d) => changes.setMove(d, piece.id, step.id, last.id, { [name]: value }),
                  live ? `set ${last.id} ${name}` : undefined,
                )
              }
              onSettle={on.onSettle}
              onCancel={on.onCancel}
            />
          </>
        )}
        {step.note && !note && <p className="quiet mt-0.5 italic">{step.note}</p>}
        {note && (
          <textarea
            autoFocus
            className="field mt-1 w-full"
            rows={2}
            maxLength={2000}
            aria-label="Note"
            defaultValue={step.note ?? ''}
            onKeyDown={(e) => e.stopPropagation()}
            onBlur={(e) => {
              setNote(false);
              session.change('note', (d) => changes.setStep(d, piece.id, step.id, { note: e.target.value }));
            }}
          />
        )}
        {all && def && <AllValues piece={piece} step={step} moves={moves} />}
        {working !== null && (
          <progress
            className="progress progress-primary mt-1 h-1 w-full"
            value={working}
            max={1}
            aria-label="Working"
          />
        )}
        {report?.error && (
          <p role="alert" className="mt-0.5 text-wrong">
            {report.error}
          </p>
        )}
        {step.on &&
          report?.warnings.map((w, i) => (
            <p key={i} className="mt-0.5 text-[12px] text-warn">
              {w.text}{' '}
              {w.remedy && (
                <button
                  className="link-remedy"
                  onClick={(e) => {
                    e.stopPropagation();
                    const r = w.remedy!;
                    session.change(r.label.toLowerCase(), (d) => changes.setValues(d, piece.id, step.id, r.values));
                  }}
                >
                  {w.remedy.label}
                </button>
              )}
            </p>
          ))}
      </div>
      <button
        className="icon-button opacity-0 focus-visible:opacity-100 group-hover:opacity-100"
        aria-label={`Actions for step ${index + 1}`}
        aria-expanded={menu}
        onClick={(e) => {
          e.stopPropagation();
          setMenu(!menu);
        }}
      >
        <IconDotsVertical size={14} stroke={1.6} />
      </button>
      {menu && (
        <div
          role="menu"
          className="absolute right-2 top-7 z-20 w-44 rounded-lg border border-line bg-paper py-1 shadow-lg"
          onClick={(e) => e.stopPropagation()}
          onBlur={(e) => {
            if (!e.currentTarget.contains(e.relatedTarget)) setMenu(false);
          }}
          ref={(el) => {
            if (el && !el.contains(document.activeElement)) el.querySelector('button')?.focus();
          }}
        >
          <Item
            icon={<IconListDetails size={14} stroke={1.6} />}
            label={all ? 'Fewer values' : 'All values'}
            onClick={() => {
              setMenu(false);
              setAll(!all);
            }}
          />
          <Item
            icon={step.on ? <IconEyeOff size={14} stroke={1.6} /> : <IconEye size={14} stroke={1.6} />}
            label={step.on ? 'Switch off' : 'Switch on'}
            onClick={() =>
              act(step.on ? 'switch a step off' : 'switch a step on', (d) =>
                changes.setStep(d, piece.id, step.id, { on: !step.on }),
              )
            }
          />
          <Item
            icon={<IconArrowDown size={14} stroke={1.6} />}
            label="Show up to here"
            onClick={() =>
              act('show up to here', (d) =>
                changes.setPiece(d, piece.id, { upTo: index === piece.recipe.length - 1 ? null : step.id }),
              )
            }
          />
          <Item
            icon={<IconArrowUp size={14} stroke={1.6} />}
            label="Move up"
            disabled={index === 0}
            onClick={() => act('move a step', (d) => changes.moveStep(d, piece.id, step.id, index - 1))}
          />
          <Item
            icon={<IconArrowDown size={14} stroke={1.6} />}
            label="Move down"
            disabled={index === piece.recipe.length - 1}
            onClick={() => act('move a step', (d) => changes.moveStep(d, piece.id, step.id, index + 1))}
          />
          <Item
            icon={<IconNote size={14} stroke={1.6} />}
            label="Note"
            onClick={() => {
              setMenu(false);
              setNote(true);
            }}
          />
          <Item
            icon={<IconCopy size={14} stroke={1.6} />}
            label="Copy"
            onClick={() => act('copy a step', (d) => changes.copyStep(d, piece.id, step.id, changes.newId()))}
          />
          <Item
            icon={<IconTrash size={14} stroke={1.6} />}
            label="Remove"
            onClick={() => act('remove a step', (d) => changes.removeStep(d, piece.id, step.id))}
          />
        </div>
      )}
    </div>
  );
}

const Item = ({
  icon,
  label,
  onClick,
  disabled,
}: {
  icon: React.ReactNode;
  label: string;
  onClick: () => void;
  disabled?: boolean;
}) => (
  <button
    role="menuitem"
    disabled={disabled}
    className="flex w-full items-center gap-2 px-3 py-1 text-left hover:bg-wash disabled:opacity-40"
    onClick={onClick}
  >
    {icon}
    {label}
  </button>
);

export function PickCount({ pick }: { pick: { kind: string; keys: readonly number[] } }) {
  const n = pick.keys.length,
    word = pick.kind === 'vertex' ? (n === 1 ? 'vertex' : 'vertices') : `${pick.kind}${n === 1 ? '' : 's'}`;
  return (
    <span className="value plain !cursor-default">
      {n} {word}
    </span>
  );
}

/** Every value of a step, below its sentence; for shape by hand the list of its moves. */
function AllValues({ piece, step, moves }: { piece: Piece; step: Step; moves?: Move[] }) {
  const def = stepDef(step.kind)!,
    materials = useBench((s) => s.document?.materials ?? NONE);
  if (moves) {
    return (
      <ol className="mt-1 border-l border-line pl-2">
        {moves.length === 0 && <li className="quiet">No moves yet. Pick something in the view and move it.</li>}
        {moves.map((m, i) => {
          const md = moveDef(m.tool);
          return (
            <li key={m.id} className="flex items-start gap-1 text-[12px]">
              <span className="num quiet w-5 shrink-0">{i + 1}</span>
              <span className="flex-1">
                {md ? (
                  <Sentence
                    title={md.title}
                    sentence={md.sentence}
                    defs={md.values}
                    values={m.values}
                    special={(n) => (n === 'pick' ? <PickCount pick={m.pick} /> : undefined)}
                    onChange={(name, value, live) =>
                      session.change(
                        'change a move',
                        (d) => changes.setMove(d, piece.id, step.id, m.id, { [name]: value }),
                        live ? `set ${m.id} ${name}` : undefined,
                      )
                    }
                    onSettle={() => session.settle()}
                    onCancel={() => session.cancel()}
                  />
                ) : (
                  m.tool
                )}
              </span>
              <button
                className="icon-button !h-5 !w-5"
                aria-label={`Remove move ${i + 1}`}
                onClick={(e) => {
                  e.stopPropagation();
                  session.change('remove a move', (d) => changes.removeMove(d, piece.id, step.id, m.id));
                }}
              >
                <IconTrash size={12} stroke={1.6} />
              </button>
            </li>
          );
        })}
      </ol>
    );
  }
  if (step.kind === 'color') {
    const list = step.values.colors as Coloured[],
      base = materials.find((m) => m.id === step.values.base);
    return (
      <ul className="mt-1 border-l border-line pl-2 text-[12px]">
        {base && (
          <li className="row">
            <span>{base.name}</span>
            <span className="quiet">all other faces</span>
          </li>
        )}
        {list.map((c) => (
          <li key={c.material} className="row">
            <span>{materials.find((m) => m.id === c.material)?.name ?? 'a deleted material'}</span>
            <span className="num quiet">{c.keys.length}</span>
          </li>
        ))}
        {!base && list.length === 0 && <li className="quiet">No colours yet.</li>}
      </ul>
    );
  }
  return (
    <dl className="mt-1 border-l border-line pl-2 text-[12px]">
      {Object.entries(def.values)
        .filter(([, d]) => !['placed', 'slots', 'moves', 'colors'].includes(d.kind))
        .map(([name, d]) => (
          <div key={name} className="row">
            <dt className="quiet">{d.label}</dt>
            <dd>
              <Value
                name={name}
                def={d}
                value={step.values[name] ?? d.default}
                onChange={(v, live) => setValue(piece.id, step.id, name, v, live)}
                onSettle={() => session.settle()}
                onCancel={() => session.cancel()}
              />
            </dd>
          </div>
        ))}
    </dl>
  );
}

/** "Then…": type to find the next step. */
function Then() {
  const [text, setText] = useState(''),
    [open, setOpen] = useState(false),
    [at, setAt] = useState(0);
  const found = stepDefs().filter(
    (d) => !d.hidden && d.takes === 'mesh' && `${d.title} ${d.help}`.toLowerCase().includes(text.trim().toLowerCase()),
  );
  const choose = (kind: string) => {
    addStep(kind);
    setText('');
    setOpen(false);
    (document.activeElement as HTMLElement | null)?.blur();
  };
  return (
    <div className="relative">
      <div className="flex items-center rounded-md border border-dashed border-soft px-2.5 py-1">
        <input
          data-then
          className="w-full bg-transparent outline-none"
          placeholder="Then…"
          aria-label="Add a step"
          role="combobox"
          aria-expanded={open}
          aria-controls="then-list"
          value={text}
          onFocus={() => setOpen(true)}
          onBlur={() => setTimeout(() => setOpen(false), 150)}
          onChange={(e) => {
            setText(e.target.value);
            setAt(0);
            setOpen(true);
          }}
          onKeyDown={(e) => {
            e.stopPropagation();
            if (e.key === 'ArrowDown') {
              setAt(Math.min(found.length - 1, at + 1));
              e.preventDefault();
            }
            if (e.key === 'ArrowUp') {
              setAt(Math.max(0, at - 1));
              e.preventDefault();
            }
            if (e.key === 'Enter' && found[at]) choose(found[at].kind);
            if (e.key === 'Escape') e.currentTarget.blur();
          }}
        />
        <kbd className="num quiet rounded border border-line px-1.5">/</kbd>
      </div>
      {open && (
        <ul
          id="then-list"
          role="listbox"
          aria-label="Steps"
          className="scroll-thin absolute bottom-9 left-0 z-20 max-h-72 w-full overflow-y-auto rounded-lg border border-line bg-paper py-1 shadow-lg"
        >
          {found.map((d, i) => (
            <li
              key={d.kind}
              role="option"
              aria-selected={i === at}
              className={`cursor-pointer px-3 py-1 ${i === at ? 'bg-wash' : ''}`}
              onPointerDown={(e) => {
                e.preventDefault();
                choose(d.kind);
              }}
            >
              <b className="font-semibold">{d.title}</b>
              <div className="quiet text-[11px]">{d.help}</div>
            </li>
          ))}
          {found.length === 0 && <li className="quiet px-3 py-1">No step is called that.</li>}
        </ul>
      )}
    </div>
  );
}
