'use client';
/** "?": keys and gestures, to be filtered; and keys of one's own. */
import { useRef, useState } from 'react';
import { Dialog } from '../../parts/Dialog';
import { command, commands, type Command } from '../commands';
import {
  conflicts,
  exportKeys,
  importKeys,
  keyFor,
  onKeysChanged,
  pressName,
  resetKeys,
  setKey,
} from '../commands/keys';
import { bench, say } from '../store';
import { saveFile } from '../../parts/handover';
import { findCommands } from './Search';
import { useSyncExternalStore } from 'react';

const GESTURES: readonly (readonly [string, string])[] = [
  ['Left click', 'pick; Shift adds, Ctrl takes away'],
  ['Drag from empty ground', 'pick in a box'],
  ['Double click', 'the loop, the flat region, or all that is joined'],
  ['Right click', 'what can be done here'],
  ['Right drag', 'orbit'],
  ['Middle drag, or Shift and right', 'pan'],
  ['Wheel', 'zoom to the pointer'],
  ['Space held', 'pan with the left button'],
  ['Drag a value', 'scrub; Shift fine, Ctrl coarse'],
  ['A number, with a tool in hand', 'types its main value; Tab goes on to the next'],
  ['E held over a step', 'shows what it gives, as long as it is held'],
  ['Ctrl, while clicking points', 'no snapping'],
];

const MODIFIERS = ['Control', 'Shift', 'Alt', 'Meta'];

/** All keys as one text, so that the list follows every change. */
const useKeys = () =>
  useSyncExternalStore(
    onKeysChanged,
    () => commands().map(keyFor).join('|'),
    () => '',
  );

export function Keys() {
  useKeys();
  const [text, setText] = useState('');
  const [asking, setAsking] = useState<Command | null>(null);
  const file = useRef<HTMLInputElement>(null);
  const close = () => bench.set({ over: null });
  const list = text.trim() ? findCommands(text) : commands().filter((c) => keyFor(c) !== '');
  const words = text.trim().toLowerCase();
  const gestures = GESTURES.filter((g) => g.join(' ').toLowerCase().includes(words));
  const save = () => saveFile('glypta-keys.json', exportKeys(), 'application/json');
  const load = async (e: React.ChangeEvent<HTMLInputElement>) => {
    const chosen = e.target.files?.[0];
    e.target.value = '';
    try {
      if (chosen) importKeys(await chosen.text());
    } catch (wrong) {
      say((wrong as Error).message);
    }
  };
  return (
    <Dialog title="Keys and gestures" onClose={close} width={760}>
      <input
        autoFocus
        className="input input-sm mb-2 w-full"
        placeholder="Filter, or find a command to give it a key"
        aria-label="Filter keys"
        value={text}
        onChange={(e) => setText(e.target.value)}
      />
      <div className="scroll-thin grid max-h-[56vh] grid-cols-2 gap-x-8 gap-y-0.5 overflow-y-auto pr-1">
        {list.map((c) => (
          <div key={c.id} className="row">
            <span>{c.title}</span>
            <KeyButton command={c} asking={asking?.id === c.id} ask={setAsking} />
          </div>
        ))}
        {gestures.map(([how, what]) => (
          <div key={how} className="row">
            <span>{what}</span>
            <span className="quiet text-right">{how}</span>
          </div>
        ))}
        {list.length + gestures.length === 0 && <p className="quiet">Nothing is called that.</p>}
      </div>
      <div className="mt-3 flex justify-between gap-2">
        <span className="join">
          <button className="btn btn-sm join-item" onClick={save}>
            Export keys
          </button>
          <button className="btn btn-sm join-item" onClick={() => file.current?.click()}>
            Import keys
          </button>
          <button className="btn btn-sm join-item" onClick={resetKeys}>
            As they were
          </button>
        </span>
        <input ref={file} type="file" hidden accept=".json" aria-label="File of keys" onChange={(e) => void load(e)} />
        <button className="btn btn-sm" onClick={close}>
          Close
        </button>
      </div>
    </Dialog>
  );
}

/** A command's key: a click asks for another. Backspace takes it away, Esc leaves it. */
function KeyButton({
  command: c,
  asking,
  ask,
}: {
  command: Command;
  asking: boolean;
  ask: (c: Command | null) => void;
}) {
  const key = keyFor(c);
  const press = (e: React.KeyboardEvent) => {
    if (!asking || MODIFIERS.includes(e.key)) return;
    e.preventDefault();
    e.stopPropagation();
    ask(null);
    if (e.key === 'Escape') return;
    const name = e.key === 'Backspace' ? '' : pressName(e.nativeEvent);
    const taken = conflicts(c.id, name);
    setKey(c.id, name);
    if (taken.length) say(`${name} was the key of “${command(taken[0].id)?.title}”, which has none now.`);
  };
  return (
    <button
      className={`kbd kbd-sm num ${asking ? 'outline outline-value' : 'hover:border-value'}`}
      aria-label={`Key of ${c.title}: ${key || 'none'}. Change it`}
      title="Click, then press the new key; Backspace for none"
      onClick={() => ask(asking ? null : c)}
      onKeyDown={press}
      onBlur={() => {
        if (asking) ask(null);
      }}
    >
      {asking ? 'press a key' : key || '–'}
    </button>
  );
}
