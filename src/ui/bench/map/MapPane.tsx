'use client';
/**
 * The map: the recipe as slips of paper joined by threads. A slip dropped on a thread goes in there; one drawn out into
 * the open is a branch.
 */
import { IconArrowsMaximize, IconFold, IconGitBranch, IconNote, IconX } from '@tabler/icons-react';
import {
  Handle,
  MiniMap,
  Position,
  ReactFlow,
  ReactFlowProvider,
  useReactFlow,
  useStore,
  type Edge,
  type Node,
  type NodeProps,
} from '@xyflow/react';
import '@xyflow/react/dist/base.css';
import { memo, useEffect, useMemo, useRef, useState } from 'react';
import { stepDef } from '../../../core/steps';
import * as changes from '../../../document/changes';
import type { Step } from '../../../document/types';
import type { StepReport } from '../../../workers/protocol';
import { addStep, focusStep, setValue } from '../actions';
import { branchFrom, foldSteps, pickPieces } from '../pieceActions';
import { Sentence } from '../recipe/Sentence';
import { Then } from '../recipe/Then';
import { session } from '../session';
import { bench, say, useBench, workedOn } from '../store';
import { dropNote, NoteCard, noteNodes, writeNote } from './MapNotes';
import { flowWords, mapOf, neighbour, tookWords, type RecipeMap, type Slip } from './graph';

type SlipNode = Node<{ slip: Slip; dim: boolean; toggle: (slip: Slip) => void }, 'slip'>;
const isSlip = (n: Node): n is SlipNode => n.type === 'slip';

/** More slips than these are too small to be read at once. */
const READABLE = 40;
const NEAR = 0.8;
/** Fewer slips are drawn whole, however small. */
const MANY = 80;
/** Below this a slip says its title alone: of 500, drawn whole, each frame took 50 to 150 ms. */
const FAR = 0.45;
const isFar = (s: { transform: [number, number, number]; nodes: readonly unknown[] }): boolean =>
  s.transform[2] < FAR && s.nodes.length > MANY;

/**
 * Sizes and pins as they are known beforehand: what is not known has to be drawn once to be measured, and of 500 slips
 * that took 1.6 s.
 */
const known = ({ wide, high }: Slip): Pick<SlipNode, 'measured' | 'handles'> => {
  const pin = { x: wide / 2 - PIN / 2, width: PIN, height: PIN };
  return {
    measured: { width: wide, height: high },
    handles: [
      { ...pin, type: 'target', position: Position.Top, y: -PIN / 2 },
      { ...pin, type: 'source', position: Position.Bottom, y: high - PIN / 2 },
    ],
  };
};
const PIN = 8;

const NO_REPORTS: readonly StepReport[] = [];

export const MapPane = () => (
  <ReactFlowProvider>
    <Paper />
  </ReactFlowProvider>
);

function Paper() {
  const document = useBench((s) => s.document);
  const piece = useBench((s) => workedOn(s));
  const shown = useBench((s) => s.shown);
  const [open, setOpen] = useState<ReadonlySet<string>>(new Set());
  const [text, setText] = useState('');
  const [chosen, setChosen] = useState<readonly string[]>([]);
  const flow = useReactFlow();
  const [drag, setDrag] = useState<{ id: string; x: number; y: number } | null>(null);
  const target = useRef<string | null>(null);
  /** Where a new step is to go in, or on what a note is written. */
  const [here, setHere] = useState<Here | null>(null);
  const map = useMemo(
    () => (document && piece?.kind === 'mesh' ? mapOf(document, piece.id, open) : null),
    [document, piece, open],
  );
  const id = piece?.id;
  const whole = useRef(map);
  whole.current = map;
  useEffect(() => {
    const later = setTimeout(() => {
      // All of it where it can be read so; else where work goes on.
      const all = whole.current?.slips ?? [];
      const { step } = bench.get();
      const at = all.find((s) => s.piece === id && s.steps.some((x) => x.id === step)) ?? all[all.length - 1];
      if (all.length <= READABLE || !at) void flow.fitView({ duration: 200, maxZoom: 1, padding: 0.1 });
      else void flow.setCenter(at.x + at.wide / 2, at.y + at.high / 2, { zoom: NEAR, duration: 200 });
    }, 60);
    return () => clearTimeout(later);
  }, [id, flow]);
  if (!map || !piece || !document)
    return (
      <Frame title="Map">
        <p className="quiet p-4">Pick a piece to see how it comes about.</p>
      </Frame>
    );
  const words = text.trim().toLowerCase();
  const matches = (s: Slip) => words === '' || wordsOf(s).includes(words);
  const toggle = (slip: Slip) => {
    const name = `${slip.piece}/${slip.fold ?? slip.steps[0].fold}`;
    setOpen((had) => {
      const next = new Set(had);
      if (!next.delete(name)) next.add(name);
      return next;
    });
  };
  const slips: SlipNode[] = map.slips.map((slip) => ({
    id: slip.id,
    type: 'slip',
    position: drag?.id === slip.id ? { x: drag.x, y: drag.y } : { x: slip.x, y: slip.y },
    width: slip.wide,
    height: slip.high,
    ...known(slip),
    selected: chosen.includes(slip.id),
    zIndex: drag?.id === slip.id ? 10 : 0,
    data: { slip, dim: !matches(slip), toggle },
    ariaLabel: wordsOf(slip),
  }));
  const nodes: Node[] = [...slips, ...noteNodes(map, drag)];
  const edges: Edge[] = map.threads.map((t) => ({
    id: t.id,
    source: t.from,
    target: t.to,
    type: 'default',
    label: flowWords(shown.get(t.piece)?.reports.find((r) => r.step === t.step)?.flow),
    className: target.current === t.id ? 'thread-target' : undefined,
    focusable: false,
    interactionWidth: 24,
  }));
  const pointOf = (e: MouseEvent | React.MouseEvent | TouchEvent) => {
    const at = 'touches' in e ? e.changedTouches[0] : e;
    return flow.screenToFlowPosition({ x: at.clientX, y: at.clientY });
  };
  const pick = (slip: Slip, add: boolean) => {
    setChosen((had) => (add ? [...had.filter((x) => x !== slip.id), slip.id] : [slip.id]));
    if (slip.piece !== piece.id) return;
    focusStep(slip.steps[slip.steps.length - 1].id);
  };
  return (
    <Frame
      title={`Map of ${piece.name}`}
      tools={
        <>
          <input
            className="input input-xs w-32"
            placeholder="Find a step"
            aria-label="Find a step on the map"
            value={text}
            onChange={(e) => setText(e.target.value)}
            onKeyDown={(e) => {
              e.stopPropagation();
              const first = map.slips.find(matches);
              if (e.key === 'Enter' && first)
                void flow.setCenter(first.x + first.wide / 2, first.y + first.high / 2, { zoom: 1, duration: 200 });
            }}
          />
          <button
            className="btn btn-ghost btn-square icon-btn"
            aria-label="Write a note on the map"
            title="Write a note on the map, beside the chosen step"
            disabled={map.slips.length === 0}
            onClick={() => {
              const at = writeNote(map.slips.find((s) => s.id === chosen[chosen.length - 1]) ?? map.slips[0]);
              void flow.setCenter(at.x, at.y, { zoom: flow.getZoom(), duration: 150 });
            }}
          >
            <IconNote size={15} stroke={1.6} />
          </button>
          <FoldButton map={map} chosen={chosen} />
          <button
            className="btn btn-ghost btn-square icon-btn"
            aria-label="Branch from the chosen step"
            title="Branch from the chosen step"
            disabled={chosen.length !== 1}
            onClick={() => branchAt(map, chosen[0])}
          >
            <IconGitBranch size={15} stroke={1.6} />
          </button>
          <button
            className="btn btn-ghost btn-square icon-btn"
            aria-label="See all of the map"
            title="See all of the map"
            onClick={() => void flow.fitView({ duration: 200, padding: 0.1 })}
          >
            <IconArrowsMaximize size={15} stroke={1.6} />
          </button>
        </>
      }
    >
      {here && <Writing here={here} close={() => setHere(null)} />}
      <ReactFlow
        nodes={nodes}
        edges={edges}
        nodeTypes={NODE_TYPES}
        onlyRenderVisibleElements
        minZoom={0.1}
        maxZoom={1.5}
        defaultViewport={{ x: 0, y: 0, zoom: NEAR }}
        deleteKeyCode={null}
        selectionKeyCode={null}
        multiSelectionKeyCode={null}
        panActivationKeyCode={null}
        disableKeyboardA11y
        nodesFocusable={false}
        proOptions={{ hideAttribution: true }}
        onNodeClick={(e, n) => isSlip(n) && pick(n.data.slip, e.shiftKey)}
        onNodeDoubleClick={(_, n) => {
          if (!isSlip(n)) return;
          const { slip } = n.data;
          if (slip.piece !== piece.id) pickPieces([slip.piece]);
        }}
        onEdgeClick={(_, e) => {
          const t = map.threads.find((x) => x.id === e.id);
          if (t?.within) setHere({ piece: t.piece, step: t.step, note: false });
          else say('This thread joins two pieces: steps go in on the threads within one.');
        }}
        onNodeDrag={(e, n) => {
          setDrag({ id: n.id, ...n.position });
          target.current = isSlip(n) ? threadUnder(map, n.data.slip, pointOf(e)) : null;
        }}
        onNodeDragStop={(e, n) => {
          if (isSlip(n)) drop(map, n.data.slip, pointOf(e));
          else dropNote(map, n, n.position);
          target.current = null;
          setDrag(null);
        }}
        onConnectEnd={(_, state) => {
          // Drawn out from a slip's lower edge into the open: a branch goes from there.
          if (!state.toNode && state.fromNode) branchAt(map, state.fromNode.id);
          else if (state.toNode && state.fromNode)
            say('A step takes in another piece by a value of its own: choose it there.');
        }}
        onKeyDown={(e) =>
          onKey(e, map, chosen, setHere, (next) => {
            const slip = map.slips.find((s) => s.id === next);
            if (!slip) return;
            pick(slip, false);
            void flow.setCenter(slip.x + slip.wide / 2, slip.y + slip.high / 2, {
              zoom: flow.getZoom(),
              duration: 120,
            });
          })
        }
        tabIndex={0}
        aria-label={
          `Map of ${piece.name}: arrows go from step to step, Enter adds one after it, N writes a note, Space ` +
          'switches it off, B branches'
        }
      >
        <MiniMap
          pannable
          zoomable
          ariaLabel="The whole map, small"
          style={{ width: 120, height: 84 }}
          nodeBorderRadius={4}
        />
      </ReactFlow>
    </Frame>
  );
}

function Frame({ title, tools, children }: { title: string; tools?: React.ReactNode; children: React.ReactNode }) {
  return (
    <section aria-label={title} className="map-paper relative flex min-h-0 min-w-0 flex-col border-l border-line">
      <div className="row border-b border-line px-3 py-1.5">
        <h2 className="panel-title truncate">{title}</h2>
        <span className="flex items-center gap-1">
          {tools}
          <button
            className="btn btn-ghost btn-square icon-btn"
            aria-label="Close the map"
            onClick={() => bench.set({ map: false })}
          >
            <IconX size={15} stroke={1.6} />
          </button>
        </span>
      </div>
      <div className="min-h-0 flex-1">{children}</div>
    </section>
  );
}

const wordsOf = (s: Slip): string =>
  [s.fold ?? '', ...s.steps.map((x) => `${stepDef(x.kind)?.title ?? x.kind} ${x.note ?? ''}`)].join(' ').toLowerCase();

function branchAt(map: RecipeMap, id: string): void {
  const slip = map.slips.find((s) => s.id === id);
  if (slip) branchFrom(slip.piece, slip.steps[slip.steps.length - 1].id);
}

interface Here {
  piece: string;
  step: string;
  note: boolean;
}

/** At the head of the paper: the step that goes in at a place, or the note on one. */
function Writing({ here, close }: { here: Here; close: () => void }) {
  const step = useBench((s) =>
    s.document?.pieces.find((p) => p.id === here.piece)?.recipe.find((x) => x.id === here.step),
  );
  if (!step) return null;
  const title = stepDef(step.kind)?.title ?? step.kind;
  const write = (note: string) => {
    if (note.trim() !== (step.note ?? ''))
      session.change('note', (d) => changes.setStep(d, here.piece, step.id, { note: note.trim() || undefined }));
  };
  return (
    <div
      className="absolute left-3 top-11 z-20 w-72 rounded-lg border border-line bg-paper p-2 shadow-lg"
      key={`${here.step} ${here.note}`}
    >
      <p className="quiet mb-1 text-[11px]">{here.note ? `Note on “${title}”` : `After “${title}”`}</p>
      {here.note ? (
        <textarea
          autoFocus
          className="textarea textarea-xs w-full"
          aria-label={`Note on ${title}`}
          maxLength={2000}
          defaultValue={step.note ?? ''}
          onBlur={(e) => {
            write(e.target.value);
            close();
          }}
          onKeyDown={(e) => {
            e.stopPropagation();
            if (e.key === 'Escape' || (e.key === 'Enter' && !e.shiftKey)) e.currentTarget.blur();
          }}
        />
      ) : (
        <Then add={(kind) => addStep(kind, { piece: here.piece, after: here.step })} over={close} />
      )}
    </div>
  );
}

interface Point {
  x: number;
  y: number;
}

/** The thread within the slip's own recipe that the pointer is over. */
function threadUnder(map: RecipeMap, slip: Slip, at: Point): string | null {
  const byId = new Map(map.slips.map((s) => [s.id, s]));
  for (const t of map.threads) {
    const from = byId.get(t.from)!;
    const to = byId.get(t.to)!;
    if (!t.within || t.piece !== slip.piece || from.id === slip.id || to.id === slip.id) continue;
    const x0 = Math.min(from.x, to.x);
    const x1 = Math.max(from.x + from.wide, to.x + to.wide);
    if (at.x > x0 && at.x < x1 && at.y > from.y + from.high / 2 && at.y < to.y + to.high / 2) return t.id;
  }
  return null;
}

/** A slip let go over a thread goes in there; elsewhere it goes back to where it was. */
function drop(map: RecipeMap, slip: Slip, at: Point): void {
  const over = map.threads.find((t) => t.id === threadUnder(map, slip, at));
  const piece = map.pieces.find((p) => p.id === slip.piece);
  if (!over || !piece || slip.steps.length !== 1) return;
  const after = piece.recipe.findIndex((s) => s.id === over.step);
  const to = after < slip.index ? after + 1 : after;
  session.change('move a step', (d) => changes.moveStep(d, piece.id, slip.steps[0].id, to));
}

function onKey(
  e: React.KeyboardEvent,
  map: RecipeMap,
  chosen: readonly string[],
  write: (here: Here) => void,
  go: (id: string | undefined) => void,
): void {
  if (e.target instanceof HTMLElement && e.target.closest('input, textarea, select, button')) return;
  const id = chosen[chosen.length - 1] ?? '';
  const slip = map.slips.find((s) => s.id === id);
  const ways = { ArrowUp: 'up', ArrowDown: 'down', ArrowLeft: 'left', ArrowRight: 'right' } as const;
  const way = ways[e.key as keyof typeof ways];
  if (way) go(neighbour(map, id, way));
  else if (e.key === ' ' && slip)
    session.change('switch steps', (d) => {
      for (const step of slip.steps) changes.setStep(d, slip.piece, step.id, { on: !slip.steps[0].on });
    });
  else if (e.key === 'Enter' && slip)
    write({ piece: slip.piece, step: slip.steps[slip.steps.length - 1].id, note: false });
  else if (e.key.toLowerCase() === 'n' && slip)
    write({ piece: slip.piece, step: slip.steps[slip.steps.length - 1].id, note: true });
  else if (e.key.toLowerCase() === 'b' && slip) branchAt(map, slip.id);
  else return;
  e.preventDefault();
  e.stopPropagation();
}

/** Folds what is chosen under a name, or takes a fold apart. */
function FoldButton({ map, chosen }: { map: RecipeMap; chosen: readonly string[] }) {
  const [name, setName] = useState<string | null>(null);
  const slips = map.slips.filter((s) => chosen.includes(s.id));
  const folded = slips.length === 1 && slips[0].fold !== undefined;
  const can = folded || (slips.length > 1 && slips.every((s) => s.piece === slips[0].piece));
  const steps = slips.flatMap((s) => s.steps.map((x) => x.id));
  const finish = () => {
    const to = (name ?? '').trim();
    setName(null);
    if (to) foldSteps(slips[0].piece, steps, to);
  };
  if (name !== null)
    return (
      <input
        autoFocus
        className="input input-xs w-28"
        aria-label="Name of the fold"
        value={name}
        onChange={(e) => setName(e.target.value)}
        onBlur={finish}
        onKeyDown={(e) => {
          e.stopPropagation();
          if (e.key === 'Enter') finish();
          if (e.key === 'Escape') setName(null);
        }}
      />
    );
  const label = folded ? 'Take the fold apart' : 'Fold the chosen steps under a name';
  return (
    <button
      className="btn btn-ghost btn-square icon-btn"
      aria-label={label}
      title={can ? label : 'Choose several steps of one recipe by Shift and a click'}
      disabled={!can}
      onClick={() => (folded ? foldSteps(slips[0].piece, steps, undefined) : setName('fold'))}
    >
      <IconFold size={15} stroke={1.6} />
    </button>
  );
}

/** A slip as it is seen: near by with all there is to it, from afar by its title. */
const SlipCard = memo(function SlipCard(props: NodeProps<SlipNode>) {
  return useStore(isFar) ? <SlipFromAfar {...props} /> : <SlipNearBy {...props} />;
});

function SlipFromAfar({ data: { slip, dim }, selected }: NodeProps<SlipNode>) {
  const last = slip.steps[slip.steps.length - 1];
  const dimmed = dim || !slip.steps.some((s) => s.on);
  return (
    <div className={`slip h-full ${selected ? 'slip-chosen' : ''} ${dimmed ? 'opacity-40' : ''}`} data-slip={last.id}>
      <Handle type="target" position={Position.Top} isConnectable={false} className="slip-pin" />
      <b className="block truncate text-[20px]">{slip.fold ?? stepDef(last.kind)?.title ?? last.kind}</b>
      <Handle type="source" position={Position.Bottom} className="slip-pin slip-pull" />
    </div>
  );
}

function SlipNearBy({ data, selected }: NodeProps<SlipNode>) {
  const { slip, dim, toggle } = data;
  const name = useBench((s) => s.document?.pieces.find((p) => p.id === slip.piece)?.name ?? '');
  const marker = useBench((s) => s.document?.pieces.find((p) => p.id === slip.piece)?.upTo ?? null);
  const focused = useBench((s) => slip.steps.some((x) => x.id === s.step));
  const reports = useBench((s) => s.shown.get(slip.piece)?.reports ?? NO_REPORTS);
  const last = slip.steps[slip.steps.length - 1];
  const own = reports.filter((r) => slip.steps.some((x) => x.id === r.step));
  const took = own.reduce((n, r) => n + r.took, 0);
  const wrong = own.find((r) => r.error)?.error;
  const on = slip.steps.some((s) => s.on);
  return (
    <div
      className={`slip ${selected ? 'slip-chosen' : ''} ${focused ? 'slip-focused' : ''} ${dim || !on ? 'opacity-40' : ''}`}
      data-slip={last.id}
    >
      <Handle type="target" position={Position.Top} isConnectable={false} className="slip-pin" />
      <div className="row !gap-1 text-[10px] quiet">
        <span className="truncate">
          {name} · {slip.index + 1}
          {slip.steps.length > 1 && ` to ${slip.index + slip.steps.length}`}
        </span>
        <span className="num whitespace-nowrap">
          {marker === last.id && 'shown · '}
          {tookWords(took)}
        </span>
      </div>
      {slip.fold !== undefined ? (
        <button className="nodrag text-left font-semibold hover:underline" onClick={() => toggle(slip)}>
          {slip.fold}: {slip.steps.length} steps
        </button>
      ) : (
        <StepOnSlip piece={slip.piece} step={last} />
      )}
      {slip.fold === undefined && last.fold !== undefined && (
        <button className="nodrag quiet text-[10px] hover:underline" onClick={() => toggle(slip)}>
          fold under {last.fold}
        </button>
      )}
      {last.note && slip.fold === undefined && <p className="quiet truncate text-[11px] italic">{last.note}</p>}
      {wrong && <p className="text-[11px] text-wrong">{wrong}</p>}
      <Handle
        type="source"
        position={Position.Bottom}
        className="slip-pin slip-pull"
        title="Draw out to make a branch"
      />
    </div>
  );
}

function StepOnSlip({ piece, step }: { piece: string; step: Step }) {
  const def = stepDef(step.kind);
  if (!def) return <b>{step.kind}</b>;
  return (
    <div className="text-[12px] [&_.value]:nodrag">
      <Sentence
        title={def.title}
        sentence={def.sentence}
        defs={def.values}
        values={step.values}
        onChange={(name, value, live) => setValue(piece, step.id, name, value, live)}
        onSettle={() => session.settle()}
        onCancel={() => session.cancel()}
      />
    </div>
  );
}

const NODE_TYPES = { slip: SlipCard, note: NoteCard };
