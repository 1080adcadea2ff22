'use client';
/** Ctrl K: every command, by its name or by another word for it, with forgiving spelling. */
import Fuse from 'fuse.js';
import { useMemo, useState } from 'react';
import { Dialog } from '../../parts/Dialog';
import { Icon } from '../../parts/Icon';
import { commands, runCommand, whenOf, type Command } from '../commands';
import { keyFor } from '../commands/keys';
import { bench, useBench } from '../store';

export function findCommands(text: string, all: readonly Command[] = commands()): readonly Command[] {
  const wanted = text.trim();
  if (wanted === '') return all;
  const fuse = new Fuse(all, {
    keys: [
      { name: 'title', weight: 3 },
      { name: 'words', weight: 1.2 },
      { name: 'help', weight: 0.6 },
    ],
    threshold: 0.34,
    ignoreLocation: true,
    useTokenSearch: false,
    ignoreDiacritics: true,
  });
  return fuse.search(wanted).map((r) => r.item);
}

export function Search() {
  const close = () => bench.set({ over: null });
  return (
    <Dialog title="Find a command" onClose={close} width={480}>
      <Found close={close} />
    </Dialog>
  );
}

function Found({ close }: { close: () => void }) {
  const [text, setText] = useState('');
  const [at, setAt] = useState(0);
  const found = useMemo(() => findCommands(text), [text]);
  const run = (i: number) => {
    const c = found[i];
    if (!c) return;
    close();
    requestAnimationFrame(() => runCommand(c));
  };
  const key = (e: React.KeyboardEvent) => {
    const way = { ArrowDown: 1, ArrowUp: -1 }[e.key];
    if (way) setAt(Math.max(0, Math.min(found.length - 1, at + way)));
    else if (e.key === 'Enter') run(at);
    else return;
    e.preventDefault();
  };
  return (
    <>
      <input
        autoFocus
        className="input input-sm w-full"
        placeholder="What would you like to do?"
        aria-label="Command"
        role="combobox"
        aria-expanded
        aria-controls="commands"
        aria-activedescendant={found[at] ? `command-${found[at].id}` : undefined}
        value={text}
        onChange={(e) => {
          setText(e.target.value);
          setAt(0);
        }}
        onKeyDown={key}
      />
      <ul id="commands" role="listbox" aria-label="Commands" className="scroll-thin mt-2 h-80 overflow-y-auto">
        {found.map((c, i) => (
          <Row key={c.id} command={c} on={i === at} hover={() => setAt(i)} run={() => run(i)} />
        ))}
        {found.length === 0 && <li className="quiet px-2.5 py-1.5">No command is called that.</li>}
      </ul>
    </>
  );
}

function Row({ command: c, on, hover, run }: { command: Command; on: boolean; hover: () => void; run: () => void }) {
  const can = useBench((s) => whenOf(c, s));
  return (
    <li
      id={`command-${c.id}`}
      role="option"
      aria-selected={on}
      aria-disabled={can !== true}
      ref={on ? (el) => el?.scrollIntoView({ block: 'nearest' }) : undefined}
      className={`flex cursor-pointer items-center gap-2 rounded-md px-2.5 py-1.5 ${on ? 'bg-wash' : ''}`}
      onPointerMove={hover}
      onClick={run}
    >
      <span className="quiet w-5">{c.icon && <Icon path={c.icon} size={16} />}</span>
      <span className={`flex-1 ${can === true ? '' : 'quiet'}`}>
        {c.title}
        {can !== true && on && <span className="block text-[11px]">{can}</span>}
      </span>
      <kbd className="num quiet">{keyFor(c)}</kbd>
    </li>
  );
}
