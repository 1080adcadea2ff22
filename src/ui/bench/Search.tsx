'use client';
import { useState } from 'react';
import { Dialog } from '../parts/Dialog';
import { commands } from './actions';
import { session } from './session';
import { bench, useBench } from './store';

/** Ctrl K: every command by name, with its key. */
export function Search() {
  const open = useBench((s) => s.search);
  const close = () => bench.set({ search: false });
  return (
    <Dialog title="Find a command" open={open} onClose={close} width={460}>
      {open && <List close={close} />}
    </Dialog>
  );
}

function List({ close }: { close: () => void }) {
  const [text, setText] = useState(''),
    [at, setAt] = useState(0);
  const words = text.toLowerCase().split(/\s+/).filter(Boolean);
  const found = commands().filter((c) => words.every((w) => c.title.toLowerCase().includes(w)));
  const run = (i: number) => {
    const c = found[i];
    if (!c) return;
    close();
    requestAnimationFrame(() => c.run());
  };
  return (
    <>
      <input
        autoFocus
        className="field w-full"
        placeholder="What would you like to do?"
        aria-label="Command"
        role="combobox"
        aria-expanded
        aria-controls="commands"
        value={text}
        onChange={(e) => {
          setText(e.target.value);
          setAt(0);
        }}
        onKeyDown={(e) => {
          if (e.key === 'ArrowDown') {
            setAt(Math.min(found.length - 1, at + 1));
            e.preventDefault();
          }
          if (e.key === 'ArrowUp') {
            setAt(Math.max(0, at - 1));
            e.preventDefault();
          }
          if (e.key === 'Enter') {
            e.preventDefault();
            run(at);
          }
        }}
      />
      <ul id="commands" role="listbox" aria-label="Commands" className="scroll-thin mt-2 h-80 overflow-y-auto">
        {found.map((c, i) => (
          <li
            key={c.id}
            role="option"
            aria-selected={i === at}
            ref={
              i === at
                ? (el) => {
                    el?.scrollIntoView({ block: 'nearest' });
                  }
                : undefined
            }
            className={`flex cursor-pointer justify-between rounded-md px-2.5 py-1.5 ${i === at ? 'bg-wash' : ''}`}
            onPointerMove={() => setAt(i)}
            onClick={() => run(i)}
          >
            <span>{c.title}</span>
            <span className="num quiet">{c.key}</span>
          </li>
        ))}
        {found.length === 0 && <li className="quiet px-2.5 py-1.5">No command is called that.</li>}
      </ul>
    </>
  );
}

/** "?": the keys that work right now. */
export function KeysHelp() {
  const open = useBench((s) => s.keysHelp);
  if (!open) return null;
  const mouse: [string, string][] = [
    ['Left click', 'pick; Shift adds, Ctrl takes away'],
    ['Drag from empty ground', 'pick in a box'],
    ['Double click', 'the loop, the flat region, or all that is joined'],
    ['Right drag', 'orbit'],
    ['Middle drag, or Shift and right', 'pan'],
    ['Wheel', 'zoom to the pointer'],
    ['Space held', 'pan with the left button'],
    ['Drag a value', 'scrub; Shift fine, Ctrl coarse'],
  ];
  return (
    <Dialog title="Keys that work now" open onClose={() => bench.set({ keysHelp: false })} width={720}>
      <div className="scroll-thin grid max-h-[60vh] grid-cols-2 gap-x-8 gap-y-0.5 overflow-y-auto">
        {commands()
          .filter((c) => c.key)
          .map((c) => (
            <div key={c.id} className="row">
              <span>{c.title}</span>
              <kbd className="num quiet rounded border border-line px-1.5">{c.key}</kbd>
            </div>
          ))}
        {mouse.map(([k, t]) => (
          <div key={k} className="row">
            <span>{t}</span>
            <span className="quiet text-right">{k}</span>
          </div>
        ))}
      </div>
      <div className="mt-3 text-right">
        <button className="button" onClick={() => bench.set({ keysHelp: false })}>
          Close
        </button>
      </div>
    </Dialog>
  );
}

/** Two windows on one project: the second to save gets a plain choice. */
export function Conflict() {
  const saving = useBench((s) => s.saving);
  const [busy, setBusy] = useState(false),
    [error, setError] = useState('');
  if (saving.kind !== 'conflict' && saving.kind !== 'refused') return null;
  const act = async (work: () => Promise<void>) => {
    setBusy(true);
    setError('');
    try {
      await work();
    } catch (e) {
      setError((e as Error).message);
      setBusy(false);
    }
  };
  return (
    <Dialog
      title={saving.kind === 'conflict' ? 'This project was changed in another window' : 'A change could not be saved'}
      open
      onClose={() => undefined}
    >
      <p className="mb-4">
        {saving.kind === 'conflict'
          ? 'What you did here has not been saved over it. Take over the other window’s work, or keep yours as a project of its own.'
          : `${saving.why} Take the project as it was last saved, or keep what you see as a copy.`}
      </p>
      {error && (
        <p role="alert" className="mb-3 text-wrong">
          {error}
        </p>
      )}
      <div className="flex justify-end gap-2">
        <button className="button" disabled={busy} onClick={() => void act(() => session.reload())}>
          Reload
        </button>
        <button className="button main" disabled={busy} onClick={() => void act(() => session.keepAsCopy())}>
          Keep mine as a copy
        </button>
      </div>
    </Dialog>
  );
}
