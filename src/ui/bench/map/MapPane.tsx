'use client';
/**
 * The map: the recipe as slips of paper joined by threads. A slip dropped on a thread goes in there; one drawn out into
 * the open is a branch.
 */
import { IconArrowsMaximize, IconGitBranch, IconNote, IconX } from '@tabler/icons-react';
import { MiniMap, ReactFlow, ReactFlowProvider, useReactFlow, type Edge, type Node } from '@xyflow/react';
import '@xyflow/react/dist/base.css';
import { useEffect, useMemo, useRef, useState } from 'react';
import { stepDef } from '../../../core/steps';
import * as changes from '../../../document/changes';
import { focusStep } from '../actions';
import { branchFrom, pickPieces } from '../pieceActions';
import { session } from '../session';
import { bench, say, useBench, workedOn } from '../store';
import { dropNote, NoteCard, noteNodes, writeNote } from './MapNotes';
import { FoldButton } from './FoldButton';
import { isSlip, known, SlipCard, type SlipNode } from './SlipCard';
import { Writing, type Here } from './Writing';
import { flowWords, mapOf, neighbour, type RecipeMap, type Slip } from './graph';

/** More slips than these are too small to be read at once. */
const READABLE = 40;
const NEAR = 0.8;

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

const NODE_TYPES = { slip: SlipCard, note: NoteCard };
