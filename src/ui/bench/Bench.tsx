'use client';
import dynamic from 'next/dynamic';
import Link from 'next/link';
import { useEffect } from 'react';
import { Group, Panel, Separator } from 'react-resizable-panels';
import { commandFor, runCommand } from './commands';
import { Drawer } from './Drawer';
import { importFiles } from './gather/arrivals';
import { Over } from './over';
import { tourSeen } from './over/seen';
import { Pieces } from './pieces/Pieces';
import { Recipe } from './recipe/Recipe';
import { useFileDrop } from '../parts/fileDrop';
import { keepRules } from './rules';
import { takeOver } from '../parts/handover';
import { watchPeek } from './peek';
import { takeBack } from './pointing';
import { session } from './session';
import { stageDef } from './stages';
import { Strip } from './strip/Strip';
import { ToolLine, typeNumber } from './strip/ToolLine';
import { bench, useBench } from './store';
import { TopBar } from './TopBar';

/** The view brings the whole of drawing in 3D: the rest of the bench is there before it. */
const View = dynamic(() => import('./view/View').then((m) => m.View), { ssr: false });
const MapPane = dynamic(() => import('./map/MapPane').then((m) => m.MapPane), { ssr: false });

/** Somewhere that keys are text. */
function takesKeys(t: EventTarget | null): boolean {
  if (t instanceof HTMLInputElement) return !['range', 'checkbox', 'radio', 'color', 'file'].includes(t.type);
  return t instanceof HTMLTextAreaElement || t instanceof HTMLSelectElement;
}
const CONTROLS = 'button, a, [role=button], [role=option], [role=menuitem], [role=slider], [role=separator]';

function onKey(e: KeyboardEvent): void {
  if (e.defaultPrevented || takesKeys(e.target) || document.querySelector('dialog[open], [role=menu]')) return;
  if (e.key === 'Backspace' && takeBack()) {
    e.preventDefault();
    return;
  }
  const onControl = e.target instanceof HTMLElement && e.target.closest(CONTROLS) !== null;
  if (onControl && ['Enter', ' ', 'Tab'].includes(e.key)) return;
  const c = typeNumber(e) ? undefined : commandFor(e);
  if (!c && !bench.get().typed) return;
  e.preventDefault();
  if (c) runCommand(c);
}

/** The bench: one project, open. */
export function Bench({ id }: { id: string }) {
  const ready = useBench((s) => s.ready);
  const failed = useBench((s) => s.failed);
  const name = useBench((s) => s.document?.name);
  useEffect(() => {
    void session.open(id);
    return () => session.close();
  }, [id]);
  useEffect(() => {
    if (name) document.title = `${name} · Glypta`;
  }, [name]);
  useEffect(() => {
    if (!ready) return;
    const files = takeOver();
    if (files.length) void importFiles(files);
    else if (!tourSeen()) bench.set({ over: 'tour' });
  }, [ready]);
  useEffect(() => {
    // A value that was being dragged when the window goes away is kept.
    const leave = () => session.settle();
    const endPeek = watchPeek();
    const endRules = keepRules();
    window.addEventListener('keydown', onKey);
    window.addEventListener('pagehide', leave);
    return () => {
      endPeek();
      endRules();
      window.removeEventListener('keydown', onKey);
      window.removeEventListener('pagehide', leave);
    };
  }, []);
  return failed ? <Failed id={id} why={failed} /> : <Opened ready={ready} />;
}

const Failed = ({ id, why }: { id: string; why: string }) => (
  <main className="grid h-screen place-items-center">
    <div className="text-center">
      <p role="alert" className="mb-4">
        {why}
      </p>
      <div className="flex justify-center gap-2">
        <button className="btn btn-sm" onClick={() => void session.open(id)}>
          Try again
        </button>
        <Link className="btn btn-sm" href="/">
          Back to the shelf
        </Link>
      </div>
    </div>
  </main>
);

function Opened({ ready }: { ready: boolean }) {
  const stage = stageDef(useBench((s) => s.stage));
  const panels = useBench((s) => s.panels);
  const drawer = useBench((s) => s.drawer);
  const drop = useFileDrop((files) => void importFiles(files));
  const map = useBench((s) => s.map);
  const Beside = map ? MapPane : stage.Beside;
  const watching = panels && stage.panels.length > 0;
  return (
    <div className="flex h-screen flex-col" data-ready={ready} {...drop.listens}>
      <TopBar />
      <Group orientation="horizontal" className="min-h-0 flex-1" id="bench">
        {panels && (
          <>
            <Panel
              id="left"
              defaultSize="296px"
              minSize="220px"
              maxSize="460px"
              groupResizeBehavior="preserve-pixel-size"
            >
              <aside aria-label="Pieces and recipe" className="flex h-full flex-col border-r border-line">
                <Pieces />
                <Recipe />
              </aside>
            </Panel>
            <Separator aria-label="Width of pieces and recipe" className="edge" />
          </>
        )}
        <Panel id="main" minSize="30%">
          <div className="flex h-full">
            {drawer && <Drawer />}
            <main className={`grid min-w-0 flex-1 ${Beside ? 'grid-cols-2' : ''}`}>
              <div className="relative min-w-0">
                <View />
                <div className="strip-room pointer-events-none absolute inset-x-0 bottom-3.5 px-2 [&>*]:pointer-events-auto">
                  <ToolLine />
                  <Strip />
                </div>
                {!ready && (
                  <p
                    role="status"
                    className="quiet absolute inset-0 m-auto flex h-6 w-40 items-center justify-center gap-2"
                  >
                    <span className="loading loading-spinner loading-xs" />
                    Opening …
                  </p>
                )}
              </div>
              {Beside && <Beside />}
            </main>
          </div>
        </Panel>
        {watching && (
          <>
            <Separator aria-label="Width of what is watched" className="edge" />
            <Panel
              id="right"
              defaultSize="236px"
              minSize="190px"
              maxSize="380px"
              groupResizeBehavior="preserve-pixel-size"
            >
              <aside
                aria-label="Watch"
                className="scroll-thin h-full overflow-y-auto border-l border-line"
                tabIndex={-1}
              >
                {stage.panels.map(({ id, Panel: Shown }) => (
                  <Shown key={id} />
                ))}
              </aside>
            </Panel>
          </>
        )}
      </Group>
      {drop.hovering && (
        <div className="pointer-events-none fixed inset-3 grid place-items-center rounded-xl border-2 border-dashed border-value bg-wash/60 text-lg">
          Drop to bring it in
        </div>
      )}
      <Over />
    </div>
  );
}
