'use client';
import { useEffect, useMemo, useRef, useState } from 'react';
import { formatQuantity } from '../../../core/recipe/quantity';
import { importFiles } from '../gather/arrivals';
import { pickWider } from '../actions';
import { bench, handOf, useBench } from '../store';
import { Legend } from '../stages/AttributesSection';
import { EmptyView } from './EmptyView';
import { Actions, Labels, PaneNames, Tripod } from './Overlays';
import { Pointers, watchSpace, type Marks, type PointerAt } from './pointer';
import { useViewer } from './useViewer';
import type { Viewer } from './viewer';

interface Rect {
  x0: number;
  y0: number;
  x1: number;
  y1: number;
}

/** The view of the bench, and every way to point at things in it. */
export function View() {
  const canvas = useRef<HTMLCanvasElement>(null);
  const frame = useRef<HTMLDivElement>(null);
  const { viewer, tripod, labels } = useViewer(canvas, frame);
  const [box, setBox] = useState<Rect | null>(null);
  const [lasso, setLasso] = useState<readonly (readonly [number, number])[] | null>(null);
  const [brush, setBrush] = useState<{ at: readonly [number, number]; radius: number } | null>(null);
  const [menu, setMenu] = useState<{ x: number; y: number } | null>(null);
  const [pointer, setPointer] = useState<[number, number]>([0, 0]);
  const four = useBench((s) => s.four);
  const view = useBench((s) => s.view);
  const name = useBench((s) => s.document?.name ?? 'the project');
  const background = useBench((s) => s.document?.settings.background ?? 'dawn');
  const pointing = useBench((s) => handOf(s, 'pointing') !== null);
  const empty = useBench((s) => s.ready && !!s.document?.pieces.every((p) => p.kind === 'group'));
  const pointers = useMemo(() => {
    const marks: Marks = {
      box: setBox,
      lasso: setLasso,
      brush: (at, radius = 0) => setBrush(at && { at, radius }),
      menu: setMenu,
      pointer: (x, y) => setPointer([x, y]),
    };
    return viewer && new Pointers(viewer, marks);
  }, [viewer]);
  useEffect(watchSpace, []);
  useWheel(frame, viewer);

  /** Where an event is: in the pane the press began in, or else in the one under the pointer. */
  const at = (e: React.PointerEvent | React.MouseEvent): PointerAt => {
    const r = frame.current!.getBoundingClientRect();
    const frameX = e.clientX - r.left;
    const frameY = e.clientY - r.top;
    const [x, y] = pointers!.dragging ? viewer!.inPane(frameX, frameY) : viewer!.enter(frameX, frameY).at;
    return { x, y, frameX, frameY, button: e.button, shift: e.shiftKey, ctrl: e.ctrlKey || e.metaKey, alt: e.altKey };
  };
  const down = (e: React.PointerEvent) => {
    if (!viewer || !pointers) return;
    setMenu(null);
    (document.activeElement as HTMLElement | null)?.blur?.();
    const p = at(e);
    const { camera, pane } = viewer;
    if (camera.view !== bench.get().view || pane.shading !== bench.get().shading)
      bench.set({ view: camera.view, shading: pane.shading });
    frame.current!.setPointerCapture(e.pointerId);
    viewer.begin();
    if (e.button === 1) e.preventDefault();
    pointers.down(p);
  };
  const double = (e: React.MouseEvent) => {
    const { mode } = bench.get();
    if (!viewer || !pointers || pointing || mode === 'piece') return;
    const p = at(e);
    const under = viewer.under(p.x, p.y, mode);
    if (under) pickWider(mode, under.index, e.shiftKey);
  };
  return (
    <div
      ref={frame}
      className={
        `view-ground ground-${background} relative h-full min-w-0 overflow-hidden ` +
        `${pointing ? 'cursor-crosshair' : ''}`
      }
      data-testid="view"
      onPointerDown={down}
      onPointerMove={(e) => pointers?.move(at(e))}
      onPointerUp={(e) => pointers?.up(at(e))}
      onPointerLeave={() => {
        pointers?.leave();
        setBrush(null);
      }}
      onPointerCancel={() => pointers?.cancel()}
      onDoubleClick={double}
      onContextMenu={(e) => e.preventDefault()}
      onDragOver={(e) => {
        if (e.dataTransfer.types.includes('glypta/item')) e.preventDefault();
      }}
      onDrop={dropOn}
    >
      <canvas
        ref={canvas}
        className="absolute inset-0 h-full w-full outline-none"
        role="img"
        tabIndex={0}
        aria-label={`${viewLabel(four, view)} of ${name}`}
      />
      {four && <Cross />}
      <PaneNames viewer={viewer} />
      <Tripod axes={tripod} />
      <Labels labels={labels} />
      <Hovered />
      <Wall at={pointer} />
      {box && (
        <div
          className="pointer-events-none absolute border border-value bg-wash/40"
          style={{ left: box.x0, top: box.y0, width: box.x1 - box.x0, height: box.y1 - box.y0 }}
        />
      )}
      <Drawn lasso={lasso} brush={brush} />
      {menu && <Actions at={menu} close={() => setMenu(null)} />}
      <Legend />
      {empty && <EmptyView />}
    </div>
  );
}

/** What is drawn to pick by. */
function Drawn({
  lasso,
  brush,
}: {
  lasso: readonly (readonly [number, number])[] | null;
  brush: { at: readonly [number, number]; radius: number } | null;
}) {
  if (!lasso && !brush) return null;
  return (
    <svg className="pointer-events-none absolute inset-0 h-full w-full" aria-hidden="true">
      {lasso && (
        <polygon
          points={lasso.map((p) => p.join()).join(' ')}
          fill="var(--value-wash)"
          fillOpacity={0.4}
          stroke="var(--value)"
        />
      )}
      {brush && (
        <circle
          cx={brush.at[0]}
          cy={brush.at[1]}
          r={brush.radius}
          fill="none"
          stroke="var(--value)"
          strokeWidth={1.4}
        />
      )}
    </svg>
  );
}

function viewLabel(four: boolean, view: string): string {
  if (four) return 'Four views';
  return view === 'Persp' ? 'Perspective view' : `${view} view`;
}

/** The lines between four panes. */
const Cross = () => (
  <>
    <span className="pointer-events-none absolute inset-x-0 top-1/2 h-px bg-line" />
    <span className="pointer-events-none absolute inset-y-0 left-1/2 w-px bg-line" />
  </>
);

/** What is under the pointer, in words. */
function Hovered() {
  const text = useBench((s) => (s.mode === 'piece' ? '' : s.hovered));
  return text ? (
    <span
      className="num quiet over-view pointer-events-none absolute left-[15px] top-8 text-[11px]"
      data-testid="hovered"
    >
      {text}
    </span>
  ) : null;
}

/** The thickness of the wall under the pointer. */
function Wall({ at }: { at: readonly [number, number] }) {
  const wall = useBench((s) => handOf(s, 'wall'));
  const units = useBench((s) => s.document?.units);
  if (!wall || wall.thickness === 0) return null;
  return (
    <span
      className="num pointer-events-none absolute z-10 rounded bg-tool px-1.5 py-0.5 text-[11px] text-tool-ink"
      style={{ left: at[0] + 14, top: at[1] + 10 }}
    >
      wall {formatQuantity(wall.thickness, 'length', units)}
    </span>
  );
}

/** Items from the library, and files held with Alt: drawings as curves. Other files are taken by the whole bench. */
function dropOn(e: React.DragEvent): void {
  const item = e.dataTransfer.getData('glypta/item');
  const files = [...e.dataTransfer.files];
  if (!item && !(files.length && e.altKey)) return;
  e.preventDefault();
  e.stopPropagation();
  if (item) void import('../library').then((l) => l.insertItem(item));
  else void importFiles(files, true);
}

/** The wheel zooms to the pointer. */
function useWheel(frame: React.RefObject<HTMLDivElement | null>, viewer: Viewer | null): void {
  useEffect(() => {
    const el = frame.current;
    if (!el || !viewer) return;
    const wheel = (e: WheelEvent) => {
      e.preventDefault();
      const r = el.getBoundingClientRect();
      const [x, y] = viewer.enter(e.clientX - r.left, e.clientY - r.top).at;
      const { width, height } = viewer.pane;
      viewer.begin();
      viewer.camera.zoom(Math.exp(e.deltaY * (e.ctrlKey ? 0.01 : 0.0012)), (x / width) * 2 - 1, 1 - (y / height) * 2);
      viewer.moved();
      viewer.invalidate();
    };
    el.addEventListener('wheel', wheel, { passive: false });
    return () => el.removeEventListener('wheel', wheel);
  }, [frame, viewer]);
}
