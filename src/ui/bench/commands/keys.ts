/** Which key does what: as declared, or as the person chose on this browser. */
import * as yup from 'yup';
import { command, commands, type Command } from './define';

const STORED = 'glypta-keys';
type Chosen = Record<string, string>;

let chosen: Chosen | undefined;
const listeners = new Set<() => void>();

function own(): Chosen {
  if (chosen) return chosen;
  try {
    chosen = readKeys(localStorage.getItem(STORED) ?? '{}');
  } catch {
    chosen = {};
  }
  return chosen;
}

function keep(next: Chosen): void {
  chosen = next;
  try {
    localStorage.setItem(STORED, JSON.stringify(next));
  } catch {
    /* then they last for this page */
  }
  listeners.forEach((l) => l());
}

/** The key of a command now; empty where it was taken away. */
export const keyFor = (c: Command): string => own()[c.id] ?? c.key ?? '';

/** Commands that a key would stand for beside this one. */
export const conflicts = (id: string, key: string): Command[] =>
  key === '' ? [] : commands().filter((c) => c.id !== id && keyFor(c) === key);

/** Gives a command another key; `undefined` gives its own back. Others that had it lose it. */
export function setKey(id: string, key: string | undefined): void {
  const next = { ...own() };
  if (key === undefined || key === command(id)?.key) delete next[id];
  else next[id] = key;
  const now = key ?? command(id)?.key ?? '';
  if (now !== '') for (const c of conflicts(id, now)) next[c.id] = '';
  keep(next);
}

export const resetKeys = (): void => keep({});

export const exportKeys = (): string => JSON.stringify({ glyptaKeys: 1, keys: own() }, null, 2);

const schema = yup.object({ glyptaKeys: yup.number().required().oneOf([1]), keys: yup.object().required() });

/** Takes over keys that were exported. Throws one sentence where they are none. */
export function importKeys(text: string): void {
  let value: unknown;
  try {
    value = JSON.parse(text);
    schema.validateSync(value, { strict: true });
  } catch {
    throw new Error('This is not a file of keys that Glypta wrote.');
  }
  keep(readKeys(JSON.stringify((value as { keys: Chosen }).keys)));
}

function readKeys(text: string): Chosen {
  const value = JSON.parse(text) as unknown;
  const out: Chosen = {};
  if (typeof value !== 'object' || value === null) return out;
  for (const [id, key] of Object.entries(value)) if (typeof key === 'string' && key.length < 40) out[id] = key;
  return out;
}

export function onKeysChanged(listener: () => void): () => void {
  listeners.add(listener);
  return () => listeners.delete(listener);
}

/** How a key press is written: "Ctrl Shift K", "Delete", "?". */
export function pressName(e: Pick<KeyboardEvent, 'key' | 'ctrlKey' | 'metaKey' | 'altKey' | 'shiftKey'>): string {
  let name = e.key.length === 1 ? e.key.toUpperCase() : e.key;
  if (e.key === ' ') name = 'Space';
  const letter = /^[A-Z]$/.test(name);
  const parts = [
    e.ctrlKey || e.metaKey ? 'Ctrl' : '',
    e.altKey ? 'Alt' : '',
    e.shiftKey && (letter || name.length > 1) ? 'Shift' : '',
    name,
  ];
  return parts.filter(Boolean).join(' ');
}

/** The command a key press means, if any. */
export function commandFor(e: Parameters<typeof pressName>[0]): Command | undefined {
  const name = pressName(e);
  return commands().find((c) => keyFor(c) === name || (name === 'Backspace' && keyFor(c) === 'Delete'));
}
