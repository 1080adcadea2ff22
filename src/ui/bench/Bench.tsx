'use client';
import Link from 'next/link';
import { useEffect, useRef, useState } from 'react';
import { commandFor } from './actions';
import { Drawer } from './Drawer';
import { importFiles } from './gather/arrivals';
import { Pieces } from './pieces/Pieces';
import { Recipe } from './recipe/Recipe';
import { Conflict, KeysHelp, Search } from './Search';
import { session } from './session';
import { Sheet } from './sheet/Sheet';
import { GatherSide } from './stages/GatherSide';
import { ShapeSide } from './stages/ShapeSide';
import { FinishSide, ShipSide, StageSide } from './stages/Side';
import { Strip, ToolLine } from './strip/Strip';
import { useBench } from './store';
import { TopBar } from './TopBar';
import { View } from './view/View';

const typing = (t: EventTarget | null) =>
  (t instanceof HTMLInputElement && !['range', 'checkbox', 'color', 'file'].includes(t.type)) ||
  t instanceof HTMLTextAreaElement ||
  t instanceof HTMLSelectElement;

/** The bench: one project, open. */
export function Bench({ id }: { id: string }) {
  const ready = useBench((s) => s.ready),
    failed = useBench((s) => s.failed),
    stage = useBench((s) => s.stage),
    panels = useBench((s) => s.panels),
    drawer = useBench((s) => s.drawer),
    name = useBench((s) => s.document?.name);
  const [left, setLeft] = useWidth('left', 296, 220, 460),
    [right, setRight] = useWidth('right', 236, 190, 380);
  const [dropping, setDropping] = useState(false);

  useEffect(() => {
    void session.open(id);
    return () => session.close();
  }, [id]);
  useEffect(() => {
    if (name) document.title = `${name} · Glypta`;
  }, [name]);
  useEffect(() => {
    const key = (e: KeyboardEvent) => {
      if (typing(e.target) || document.querySelector('dialog[open]')) return;
      const onControl =
        e.target instanceof HTMLElement &&
        !!e.target.closest('button, a, [role=option], [role=menuitem], [role=slider]');
      if (onControl && (e.key === 'Enter' || e.key === ' ')) return;
      const c = commandFor(e);
      if (c) {
        e.preventDefault();
        c.run();
      }
    };
    // A value that was being dragged when the window goes away is kept.
    const leave = () => session.settle();
    window.addEventListener('keydown', key);
    window.addEventListener('pagehide', leave);
    return () => {
      window.removeEventListener('keydown', key);
      window.removeEventListener('pagehide', leave);
    };
  }, []);

  if (failed)
    return (
      <main className="grid h-screen place-items-center">
        <div className="text-center">
          <p role="alert" className="mb-4">
            {failed}
          </p>
          <div className="flex justify-center gap-2">
            <button className="button" onClick={() => void session.open(id)}>
              Try again
            </button>
            <Link className="button" href="/">
              Back to the shelf
            </Link>
          </div>
        </div>
      </main>
    );
  const Side = {
    shape: ShapeSide,
    finish: FinishSide,
    ship: ShipSide,
    gather: GatherSide,
    stage: StageSide,
    unwrap: null,
  }[stage];
  return (
    <div
      className="flex h-screen flex-col"
      data-ready={ready}
      onDragOver={(e) => {
        if (e.dataTransfer.types.includes('Files')) {
          e.preventDefault();
          setDropping(true);
        }
      }}
      onDragLeave={(e) => {
        if (e.currentTarget === e.target) setDropping(false);
      }}
      onDrop={(e) => {
        if (e.dataTransfer.files.length) {
          e.preventDefault();
          setDropping(false);
          void importFiles([...e.dataTransfer.files]);
        }
      }}
    >
      <TopBar />
      <div className="flex min-h-0 flex-1">
        {panels && (
          <aside
            aria-label="Pieces and recipe"
            className="relative flex shrink-0 flex-col border-r border-line"
            style={{ width: left }}
          >
            <Pieces />
            <Recipe />
            <Edge side="right" onMove={(dx) => setLeft(left + dx)} />
          </aside>
        )}
        {drawer && <Drawer />}
        <main className={`grid min-w-0 flex-1 ${stage === 'unwrap' ? 'grid-cols-2' : ''}`}>
          <div className="relative min-w-0">
            <View />
            <div className="strip-room pointer-events-none absolute inset-x-0 bottom-3.5 px-2 [&>*]:pointer-events-auto">
              <ToolLine />
              {['gather', 'shape', 'finish', 'unwrap'].includes(stage) && <Strip />}
            </div>
            {!ready && (
              <p role="status" className="quiet absolute inset-0 m-auto h-6 w-40 text-center">
                Opening …
              </p>
            )}
          </div>
          {stage === 'unwrap' && <Sheet />}
        </main>
        {panels && Side && (
          <aside
            aria-label="Watch"
            className="scroll-thin relative shrink-0 overflow-y-auto border-l border-line"
            style={{ width: right }}
          >
            <Edge side="left" onMove={(dx) => setRight(right - dx)} />
            <Side />
          </aside>
        )}
      </div>
      {dropping && (
        <div className="pointer-events-none fixed inset-3 grid place-items-center rounded-xl border-2 border-dashed border-value bg-wash/60 text-lg">
          Drop to bring it in
        </div>
      )}
      <Search />
      <KeysHelp />
      <Conflict />
    </div>
  );
}

/** A panel's width, remembered. */
function useWidth(name: string, initial: number, least: number, most: number): [number, (w: number) => void] {
  const [w, set] = useState(initial);
  useEffect(() => {
    const n = Number(localStorage.getItem(`glypta-width-${name}`));
    if (n >= least && n <= most) set(n);
  }, [name, least, most]);
  return [
    w,
    (n) => {
      const v = Math.max(least, Math.min(most, n));
      set(v);
      try {
        localStorage.setItem(`glypta-width-${name}`, String(v));
      } catch {
        /* then it lasts for this page */
      }
    },
  ];
}

function Edge({ side, onMove }: { side: 'left' | 'right'; onMove: (dx: number) => void }) {
  const from = useRef<number | null>(null);
  return (
    <div
      role="separator"
      aria-orientation="vertical"
      aria-label="Panel width"
      tabIndex={0}
      className={`absolute inset-y-0 z-10 w-1.5 cursor-col-resize ${side === 'right' ? '-right-1' : '-left-1'}`}
      onKeyDown={(e) => {
        if (e.key === 'ArrowLeft' || e.key === 'ArrowRight') {
          e.stopPropagation();
          onMove(e.key === 'ArrowLeft' ? -12 : 12);
        }
      }}
      onPointerDown={(e) => {
        from.current = e.clientX;
        e.currentTarget.setPointerCapture(e.pointerId);
      }}
      onPointerMove={(e) => {
        if (from.current === null) return;
        onMove(e.clientX - from.current);
        from.current = e.clientX;
      }}
      onPointerUp={() => {
        from.current = null;
      }}
    />
  );
}
