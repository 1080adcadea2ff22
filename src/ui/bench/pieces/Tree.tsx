'use client';
import { DndContext, PointerSensor, pointerWithin, useSensor, useSensors, type DragEndEvent } from '@dnd-kit/core';
import { useVirtualizer } from '@tanstack/react-virtual';
import { useMemo, useRef, useState } from 'react';
import * as changes from '../../../document/changes';
import { pickPieces } from '../pieceActions';
import { session } from '../session';
import { bench, useBench } from '../store';
import { between, type Held, type Row } from './rows';
import { TreeRow } from './TreeRow';

const ROW = 26;

interface TreeProps {
  rows: readonly Row[];
  held: ReadonlyMap<string, Held>;
  closed: ReadonlySet<string>;
  setClosed: (change: (c: ReadonlySet<string>) => ReadonlySet<string>) => void;
  none: string;
}

/** Pieces go into a group, or before another piece. All that is picked goes, when one of them is what is moved. */
function moveTo(id: string, parent: string | null, before: string | null): void {
  const { picked } = bench.get();
  const ids = picked.includes(id) ? picked : [id];
  const label = ids.length === 1 ? 'move a piece in the tree' : `move ${ids.length} pieces in the tree`;
  session.change(label, (d) => changes.movePieces(d, ids, parent, before));
}

/** Alt and an arrow: up and down among its neighbours, right into the group above, left out of its group. */
function moveByKey(rows: readonly Row[], id: string, key: string): boolean {
  const own = rows.findIndex((r) => r.piece.id === id);
  if (own < 0) return false;
  const { piece } = rows[own];
  const beside = rows.filter((r) => r.piece.parent === piece.parent).map((r) => r.piece);
  const at = beside.findIndex((p) => p.id === id);
  if (key === 'ArrowUp' && at > 0) moveTo(id, piece.parent, beside[at - 1].id);
  else if (key === 'ArrowDown' && at < beside.length - 1) moveTo(id, piece.parent, beside[at + 2]?.id ?? null);
  else if (key === 'ArrowRight') {
    const group = beside.slice(0, at).findLast((p) => p.kind === 'group');
    if (group) moveTo(id, group.id, null);
  } else if (key === 'ArrowLeft' && piece.parent !== null) {
    const group = rows.find((r) => r.piece.id === piece.parent)?.piece;
    moveTo(id, group?.parent ?? null, null);
  } else return false;
  return true;
}

export function Tree({ rows, held, closed, setClosed, none }: TreeProps) {
  const picked = useBench((s) => s.picked);
  const worked = useBench((s) => s.piece);
  const list = useRef<HTMLDivElement>(null);
  const chosen = useMemo(() => new Set(picked), [picked]);
  const [dragged, setDragged] = useState<string | null>(null);
  const sensors = useSensors(useSensor(PointerSensor, { activationConstraint: { distance: 5 } }));
  const virtual = useVirtualizer({
    count: rows.length,
    getScrollElement: () => list.current,
    estimateSize: () => ROW,
    overscan: 6,
    useFlushSync: false,
  });
  const [toggle] = useState(
    () => (id: string) =>
      setClosed((c) => {
        const n = new Set(c);
        if (!n.delete(id)) n.add(id);
        return n;
      }),
  );
  const rowsNow = useRef(rows);
  rowsNow.current = rows;
  const [pickRow] = useState(() => (id: string, e: { shiftKey: boolean; ctrlKey: boolean; metaKey: boolean }) => {
    if (e.shiftKey) pickPieces(between(rowsNow.current, bench.get().piece, id), 'add');
    else pickPieces([id], e.ctrlKey || e.metaKey ? 'toggle' : 'set');
  });
  const step = (by: number, more: boolean) => {
    const i = rows.findIndex((r) => r.piece.id === worked);
    const next = rows[Math.max(0, Math.min(rows.length - 1, i + by))];
    if (!next) return;
    pickPieces([next.piece.id], more ? 'add' : 'set');
    virtual.scrollToIndex(rows.indexOf(next));
  };
  const key = (e: React.KeyboardEvent) => {
    if (e.target !== e.currentTarget) return;
    const way = { ArrowDown: 1, ArrowUp: -1 }[e.key];
    const folds = e.key === 'ArrowLeft' || e.key === 'ArrowRight';
    if (e.altKey && worked && e.key.startsWith('Arrow')) {
      if (!moveByKey(rows, worked, e.key)) return;
    } else if (way) step(way, e.shiftKey);
    else if (e.key === 'F2') document.querySelector<HTMLElement>('[data-rename]')?.dispatchEvent(doubleClick());
    else if (folds && worked && closed.has(worked) === (e.key === 'ArrowRight')) toggle(worked);
    else return;
    e.preventDefault();
    e.stopPropagation();
  };
  const drop = ({ active, over }: DragEndEvent) => {
    setDragged(null);
    const id = String(active.id);
    if (!over) return;
    const [how, target] = String(over.id).split('/');
    const onto = rows.find((r) => r.piece.id === target)?.piece;
    if (how === 'end') moveTo(id, null, null);
    else if (onto && how === 'into') moveTo(id, onto.id, null);
    else if (onto && onto.id !== id) moveTo(id, onto.parent, onto.id);
  };
  return (
    <DndContext
      id="pieces"
      sensors={sensors}
      collisionDetection={pointerWithin}
      onDragStart={({ active }) => setDragged(String(active.id))}
      onDragEnd={drop}
      onDragCancel={() => setDragged(null)}
    >
      <div
        ref={list}
        role="tree"
        aria-label="Pieces"
        aria-multiselectable
        aria-keyshortcuts="Alt+ArrowUp Alt+ArrowDown Alt+ArrowLeft Alt+ArrowRight"
        tabIndex={0}
        className="scroll-thin min-h-0 flex-1 overflow-y-auto px-2 pb-2"
        onKeyDown={key}
      >
        {rows.length === 0 && <p className="quiet px-1.5 py-2">{none}</p>}
        <div role="none" style={{ height: virtual.getTotalSize(), position: 'relative' }}>
          {virtual.getVirtualItems().map((v) => {
            const { piece, depth, open } = rows[v.index];
            return (
              <TreeRow
                key={piece.id}
                piece={piece}
                depth={depth}
                open={open}
                top={v.start}
                picked={chosen.has(piece.id)}
                worked={worked === piece.id}
                held={held.get(piece.id)}
                dragging={dragged !== null}
                toggle={toggle}
                pick={pickRow}
              />
            );
          })}
        </div>
      </div>
    </DndContext>
  );
}

const doubleClick = () => new MouseEvent('dblclick', { bubbles: true });
