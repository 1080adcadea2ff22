/** Picking elements: which kind, which ones, and picks that follow from others. */
import { keysOf, pickOf, resolve, type ElementPick, type PickKind } from '../../../core/mesh/picks';
import { convert } from '../../../core/mesh/walks';
import type { Move } from '../../../core/recipe/values';
import type { QueryName } from '../../../core/pick';
import { session } from '../session';
import * as changes from '../../../document/changes';
import { bench, say, workedOn, type AboutWhat, type PickMode } from '../store';
import { keep } from './hand';
import { indicesNow, setPick } from './picked';
import { askPick } from './query';

/** Nothing picked, of this kind. */
export const nothingOf = (kind: PickKind) => ({
  mode: kind as PickMode,
  pick: { kind, keys: [] as number[] },
  last: null,
});

/** Pieces turn about their pivots, elements about their middle, unless something else was chosen. */
export function aboutFor(mode: PickMode, about: AboutWhat): AboutWhat {
  if (mode === 'piece') return about === 'pick' ? 'pivot' : about;
  return about === 'pivot' ? 'pick' : about;
}

export function setMode(mode: PickMode): void {
  keep();
  if ((mode === 'piece') !== (bench.get().mode === 'piece')) bench.set((s) => ({ about: aboutFor(mode, s.about) }));
  const { mesh, pick } = bench.get();
  if (bench.get().mode === 'piece' && mode !== 'piece') {
    bench.set({ mode });
    session.refresh();
  }
  if (mode === 'piece') {
    bench.set({ mode, pick: { kind: 'face', keys: [] }, last: null, hand: null });
    return;
  }
  bench.set({ hand: null, pivoting: false });
  // What is picked is kept, as far as it means something in the other kind.
  const indices = mesh ? convert(mesh, pick.kind, resolve(mesh, pick).indices, mode) : [];
  setPick(mode, mesh ? Array.from(indices, (i) => keysOf(mesh, mode)[i]) : []);
  bench.set({ mode });
}

/** `indices`: the elements whose keys these are, where they are at hand. */
export function changePick(
  kind: PickKind,
  keys: readonly number[],
  how: 'set' | 'add' | 'remove',
  indices?: readonly number[],
): void {
  keep();
  const { pick } = bench.get();
  const last = keys[keys.length - 1] ?? null;
  if (how === 'set' || pick.kind !== kind) {
    setPick(kind, keys, last, undefined, indices);
    return;
  }
  if (how === 'add' && indices && !pick.rule) {
    const had = indicesNow();
    // What is lost has a key and no element: then all are looked for.
    const whole = had.length === pick.keys.length ? [...new Set([...had, ...indices])] : undefined;
    setPick(kind, [...new Set([...pick.keys, ...keys])], last, undefined, whole);
    return;
  }
  const now = new Set(pick.keys);
  for (const k of keys) {
    if (how === 'add') now.add(k);
    else now.delete(k);
  }
  setPick(kind, [...now], how === 'add' ? (keys[keys.length - 1] ?? null) : null);
}

/** Picks what follows from what is picked. */
export function repick(name: QueryName): void {
  const { mesh, pick } = bench.get();
  if (!mesh) return;
  askPick({ name, kind: pick.kind, from: indicesNow() }, ({ kind, indices }) => {
    const keys = keysOf(mesh, kind);
    if (kind !== pick.kind) bench.set({ mode: kind });
    const list = Array.from(indices, (i) => keys[i]);
    setPick(kind, list, list[list.length - 1] ?? null, undefined, indices);
  });
}

/** What a double click picks: an edge's loop, a face's flat region, all that is joined to a vertex. */
export function pickWider(kind: PickKind, index: number, add: boolean): void {
  const { mesh } = bench.get();
  if (!mesh) return;
  askPick({ name: 'wider', kind, from: Uint32Array.of(index) }, ({ indices }) => {
    const keys = keysOf(mesh, kind);
    changePick(
      kind,
      Array.from(indices, (i) => keys[i]),
      add ? 'add' : 'set',
    );
  });
}

/** Picks what a move picked, and what it drew out. */
export function showMove(move: Move): void {
  const { mesh } = bench.get();
  if (!mesh) return;
  const { kind } = move.pick;
  const keys = keysOf(mesh, kind);
  const own = resolve(mesh, move.pick).indices;
  const values = { id: 'made', values: { move: move.id, part: 'all' } };
  askPick({ name: 'rule', kind, from: own, values }, ({ indices: drawn }) => {
    setMode(kind);
    setPick(
      kind,
      [...new Set([...own, ...Array.from(drawn)])].map((i) => keys[i]),
    );
    if (own.length === 0 && drawn.length === 0) say('Nothing that it picked or made is there any more.');
  });
}

/** How a kept pick meets the one there is. */
export type Meeting = 'set' | 'add' | 'remove' | 'cross';

/** Picks what a set means now: alone, besides what is picked, without it, or only what is in both. */
export function pickSet(pick: ElementPick, how: Meeting): void {
  const { mesh, pick: now } = bench.get();
  if (!mesh) return;
  keep();
  const keys = keysOf(mesh, pick.kind);
  const { indices, lost } = resolve(mesh, pick);
  const found = Array.from(indices, (i) => keys[i]);
  const other = now.kind === pick.kind ? new Set(now.keys) : new Set<number>();
  const own = new Set(found);
  const made: Readonly<Record<Meeting, () => number[]>> = {
    set: () => found,
    add: () => [...new Set([...other, ...found])],
    remove: () => [...other].filter((k) => !own.has(k)),
    cross: () => found.filter((k) => other.has(k)),
  };
  setMode(pick.kind);
  setPick(pick.kind, made[how](), null, how === 'set' ? pick.rule : undefined);
  if (lost.length > 0) say(`${lost.length} of ${pick.keys.length} of the set are gone.`);
}

/** Keeps what is picked as a set of the piece that is worked on, where each of it is beside its key. */
export function keepPickAs(name: string): void {
  const s = bench.get();
  const piece = workedOn(s);
  const { mesh, pick } = s;
  if (!piece || !mesh || !name.trim()) return;
  const kept = pick.rule ? { kind: pick.kind, keys: [], rule: pick.rule } : pickOf(mesh, pick.kind, indicesNow());
  session.change('keep a set', (d) => changes.keepSet(d, piece.id, changes.newId(), name.trim(), kept));
}
