/** What may be named in formulas, each with what it means: for completion while one is typed. */
import { emptyMesh } from '../mesh/mesh';
import { FUNCTIONS } from './functions';
import { curveScope } from './curvenames';
import { elementScope, type Domain } from './names';

export interface Word {
  readonly name: string;
  readonly help: string;
  /** What is written for it: a function with its bracket. */
  readonly written: string;
}

const DOMAINS: readonly Domain[] = ['vertex', 'face', 'edge', 'corner'];
let all: readonly Word[] | undefined;

/** Names of elements of any kind, and functions. */
export function words(): readonly Word[] {
  if (all) return all;
  const out = new Map<string, Word>();
  const scopes = DOMAINS.map((domain) => elementScope(emptyMesh(), domain, 1));
  for (const scope of [...scopes, curveScope([], 1)]) {
    for (const name of scope.names())
      if (!out.has(name)) out.set(name, { name, help: scope.known(name)?.help ?? '', written: name });
  }
  for (const [name, f] of Object.entries(FUNCTIONS)) out.set(name, { name, help: f.help, written: `${name}(` });
  for (const [name, help] of [
    ['set', 'whether a face is of a set: its name in quotes'],
    ['material', 'whether a face has a material: its id in quotes'],
    ['away', 'how far it is to the faces of a set: its name in quotes'],
  ])
    out.set(name, { name, help, written: `${name}("` });
  all = [...out.values()];
  return all;
}

const WORD = /[\p{L}_][\p{L}\p{N}_]{0,60}$/u;

/** Those that go on from what stands before the caret, the shortest first, and where their beginning is. */
export function completions(before: string, own: readonly Word[] = [], most = 6): { from: number; list: Word[] } {
  const found = WORD.exec(before.slice(-61));
  if (!found) return { from: before.length, list: [] };
  const [word] = found;
  const low = word.toLowerCase();
  const list = [...own, ...words()].filter((w) => w.name.toLowerCase().startsWith(low) && w.name !== word);
  list.sort((a, b) => a.name.length - b.name.length || a.name.localeCompare(b.name));
  return { from: before.length - word.length, list: list.slice(0, most) };
}
