/** What is picked now. */
import { remember, resolve, type ElementPick, type PickKind } from '../../../core/mesh/picks';
import type { Rule } from '../../../core/rules';
import { session } from '../session';
import { bench } from '../store';

/** So many picks are remembered. */
const REMEMBERED = 10;

/** `indices`: the elements whose keys these are, each once, where they are at hand: they need not be looked for. */
export function setPick(
  kind: PickKind,
  keys: readonly number[],
  last: number | null = keys[keys.length - 1] ?? null,
  rule?: Rule,
  indices?: ArrayLike<number>,
): void {
  const { pick: before, pickedBefore } = bench.get();
  const pick: ElementPick = { kind, keys, ...(rule ? { rule } : {}) };
  const { mesh } = bench.get();
  if (mesh && indices && !rule) remember(mesh, pick, Uint32Array.from(indices).sort());
  const same = before.kind === kind && before.keys.length === keys.length && keys.every((k, i) => k === before.keys[i]);
  const kept = before.keys.length > 0 && !same ? [before, ...pickedBefore].slice(0, REMEMBERED) : pickedBefore;
  bench.set({ pick, last, pickedBefore: kept });
  session.askFacts(pick);
}

/** The pick before this one; this one becomes the last of those remembered, so going on comes round. */
export function pickBefore(): void {
  const { pick, pickedBefore } = bench.get();
  const [before, ...rest] = pickedBefore;
  if (!before) return;
  const kept = pick.keys.length > 0 ? [...rest, pick] : rest;
  bench.set({ mode: before.kind, pick: before, last: null, pickedBefore: kept });
  session.askFacts(before);
}

/** What is picked, by index. */
export const indicesNow = (): Uint32Array => {
  const { mesh, pick } = bench.get();
  return mesh ? resolve(mesh, pick).indices : new Uint32Array(0);
};
