'use client';
import {
  IconArrowDown,
  IconArrowUp,
  IconColumns2,
  IconCopy,
  IconDotsVertical,
  IconEye,
  IconEyeOff,
  IconListDetails,
  IconNote,
  IconPackageOff,
  IconSitemap,
  IconTrash,
} from '@tabler/icons-react';
import {
  closestCenter,
  DndContext,
  KeyboardSensor,
  PointerSensor,
  useDraggable,
  useSensor,
  useSensors,
  type DragEndEvent,
} from '@dnd-kit/core';
import {
  SortableContext,
  sortableKeyboardCoordinates,
  useSortable,
  verticalListSortingStrategy,
} from '@dnd-kit/sortable';
import { useState } from 'react';
import { MenuButton, type MenuItem } from '../../parts/Tooltip';
import { PickCount } from './PickCount';
import { toolDef } from '../../../core/tools';
import { stepDef } from '../../../core/steps';
import type { Coloured, Move } from '../../../core/recipe/values';
import * as changes from '../../../document/changes';
import type { Material, Piece, Step } from '../../../document/types';
import type { StepReport } from '../../../workers/protocol';
import { focusStep, setValue } from '../actions';
import { hoverStep, pinStep } from '../peek';
import { session } from '../session';
import { kitOf } from '../../../document/kits';
import { makeOwn, unpack } from '../pieceActions';
import { Branches } from './Branches';
import { OwnDials } from './OwnDials';
import { bench, useBench, workedOn } from '../store';
import { Sentence } from './Sentence';
import { Then } from './Then';
import { Moves } from './Moves';
import { Told } from './Told';
import { Value } from './Value';

const NONE: readonly Material[] = [];

/** The recipe of the picked piece: numbered sentences, top to bottom. */
export function Recipe() {
  const picked = useBench((s) => s.document?.pieces.find((p) => p.id === s.piece));
  const piece = useBench(workedOn);
  const focused = useBench((s) => s.step);
  const reports = useBench((s) => s.shown.get(workedOn(s)?.id ?? '')?.reports);
  const working = useBench((s) => s.working);
  const sensors = useSensors(
    useSensor(PointerSensor, { activationConstraint: { distance: 4 } }),
    useSensor(KeyboardSensor, { coordinateGetter: sortableKeyboardCoordinates }),
  );
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
  const drop = ({ active, over }: DragEndEvent) => {
    const to = piece.recipe.findIndex((x) => x.id === over?.id);
    if (to < 0) return;
    if (active.id === MARKER) setMarker(to);
    else if (active.id !== over?.id)
      session.change('move a step', (d) => changes.moveStep(d, piece.id, String(active.id), to));
  };
  return (
    <section aria-label={`Recipe of ${piece.name}`} className="flex min-h-0 flex-1 flex-col">
      <div className="row px-3.5 pb-1 pt-2.5">
        <h2 className="panel-title">Recipe of {piece.name}</h2>
        <span className="quiet flex items-center gap-1.5">
          {piece.recipe.length} {piece.recipe.length === 1 ? 'step' : 'steps'}
          <MapButton />
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
      <DndContext id="recipe" sensors={sensors} collisionDetection={closestCenter} onDragEnd={drop}>
        <SortableContext items={piece.recipe.map((x) => x.id)} strategy={verticalListSortingStrategy}>
          <ol className="scroll-thin min-h-0 flex-1 overflow-y-auto pb-3">
            {piece.recipe.map((step, i) => (
              <li key={step.id}>
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
        </SortableContext>
      </DndContext>
    </section>
  );
}

function MapButton() {
  const on = useBench((s) => s.map);
  return (
    <button
      className="btn btn-ghost btn-square icon-small"
      aria-label="Map of the recipe"
      aria-pressed={on}
      title="The recipe as a map (Shift M)"
      onClick={() => bench.set({ map: !on })}
    >
      <IconSitemap size={14} stroke={1.6} />
    </button>
  );
}

const MARKER = 'marker';

function Marker({ index, count, setMarker }: { index: number; count: number; setMarker: (i: number) => void }) {
  const { setNodeRef, listeners, transform } = useDraggable({ id: MARKER });
  return (
    <div
      ref={setNodeRef}
      {...listeners}
      className="relative z-10 ml-8 mr-3.5 h-5 touch-none"
      style={transform ? { transform: `translateY(${transform.y}px)` } : undefined}
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
  const [all, setAll] = useState(false);
  const [note, setNote] = useState(false);
  const change = (name: string, value: unknown, live: boolean) => setValue(piece.id, step.id, name, value, live);
  const on = { onChange: change, onSettle: () => session.settle(), onCancel: () => session.cancel() };
  const moves = step.kind === 'shape' ? (step.values.moves as Move[]) : undefined;
  const last = moves?.[moves.length - 1];
  const lastDef = last && toolDef(last.tool);
  const sort = useSortable({ id: step.id });
  const { transform } = sort;
  const items = stepMenu(piece, step, index, all, setAll, () => setNote(true));
  return (
    <div
      ref={sort.setNodeRef}
      style={transform ? { transform: `translateY(${transform.y}px)`, transition: sort.transition } : undefined}
      className={
        `group relative flex gap-2 py-1.5 pl-3.5 pr-2 ${sort.isDragging ? 'z-10 bg-base-100 shadow-lg' : ''} ` +
        `${focused ? 'bg-wash' : ''} ${after || !step.on ? 'opacity-45' : ''}`
      }
      aria-current={focused ? 'step' : undefined}
      onPointerEnter={() => hoverStep(step.id)}
      onPointerLeave={() => hoverStep(null)}
      onClick={() => {
        if (!focused) focusStep(step.id);
      }}
    >
      {focused && <span className="absolute inset-y-0 left-0 w-[3px] bg-value" />}
      <span
        ref={sort.setActivatorNodeRef}
        {...sort.attributes}
        {...sort.listeners}
        aria-label={`Move step ${index + 1}`}
        className="-mx-1.5 h-[24px] w-[24px] shrink-0 cursor-grab touch-none text-center font-serif text-[14px] quiet"
        title="Drag to another place; or Space, then arrows"
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
            className="textarea textarea-sm mt-1 w-full"
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
        {kitOf(step) && <OwnDials piece={piece} step={step} kit={kitOf(step)!} />}
        <Branches step={step} within={[piece.id]} />
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
        {step.on && report && <Told piece={piece} step={step} report={report} />}
      </div>
      <MenuButton items={items} label={`Actions for step ${index + 1}`}>
        <button className="btn btn-ghost btn-square icon-btn opacity-0 focus-visible:opacity-100 group-hover:opacity-100 aria-expanded:opacity-100">
          <IconDotsVertical size={14} stroke={1.6} />
        </button>
      </MenuButton>
    </div>
  );
}

/** What can be done with a step. */
function stepMenu(
  piece: Piece,
  step: Step,
  index: number,
  all: boolean,
  setAll: (on: boolean) => void,
  writeNote: () => void,
): MenuItem[] {
  const last = index === piece.recipe.length - 1;
  const act = (label: string, edit: Parameters<typeof session.change>[1]) => () => session.change(label, edit);
  const icon = { size: 14, stroke: 1.6 };
  return [
    {
      id: 'all',
      icon: <IconListDetails {...icon} />,
      label: all ? 'Fewer values' : 'All values',
      run: () => setAll(!all),
    },
    {
      id: 'on',
      icon: step.on ? <IconEyeOff {...icon} /> : <IconEye {...icon} />,
      label: step.on ? 'Switch off' : 'Switch on',
      run: act(step.on ? 'switch a step off' : 'switch a step on', (d) =>
        changes.setStep(d, piece.id, step.id, { on: !step.on }),
      ),
    },
    {
      id: 'marker',
      icon: <IconArrowDown {...icon} />,
      label: 'Show up to here',
      run: act('show up to here', (d) => changes.setPiece(d, piece.id, { upTo: last ? null : step.id })),
    },
    {
      id: 'up',
      icon: <IconArrowUp {...icon} />,
      label: 'Move up',
      disabled: index === 0,
      run: act('move a step', (d) => changes.moveStep(d, piece.id, step.id, index - 1)),
    },
    {
      id: 'down',
      icon: <IconArrowDown {...icon} />,
      label: 'Move down',
      disabled: last,
      run: act('move a step', (d) => changes.moveStep(d, piece.id, step.id, index + 1)),
    },
    ...(step.kind === 'kit'
      ? [
          {
            id: 'unpack',
            icon: <IconPackageOff {...icon} />,
            label: 'Make it a piece of its own',
            run: () => unpack(piece.id, step.id),
          },
        ]
      : []),
    {
      id: 'compare',
      icon: <IconColumns2 {...icon} />,
      label: bench.get().pinned.length === 1 ? 'Compare with the pinned' : 'Pin to compare',
      run: () => pinStep(step.id),
    },
    { id: 'note', icon: <IconNote {...icon} />, label: 'Note', run: writeNote },
    {
      id: 'copy',
      icon: <IconCopy {...icon} />,
      label: 'Copy',
      run: act('copy a step', (d) => changes.copyStep(d, piece.id, step.id, changes.newId())),
    },
    {
      id: 'remove',
      icon: <IconTrash {...icon} />,
      label: 'Remove',
      run: act('remove a step', (d) => changes.removeStep(d, piece.id, step.id)),
    },
  ];
}

/** Every value of a step, below its sentence; for shape by hand the list of its moves. */
function AllValues({ piece, step, moves }: { piece: Piece; step: Step; moves?: Move[] }) {
  const def = stepDef(step.kind)!;
  const materials = useBench((s) => s.document?.materials ?? NONE);
  if (moves) return <Moves piece={piece} step={step} moves={moves} />;
  if (step.kind === 'color') {
    const list = step.values.colors as Coloured[];
    const base = materials.find((m) => m.id === step.values.base);
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
        .filter(([, d]) => !d.inner && d.kind !== 'own')
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
