/** What is picked now. */
import { resolve, type PickKind } from '../../../core/mesh/picks';
import { session } from '../session';
import { bench } from '../store';

export function setPick(
  kind: PickKind,
  keys: readonly number[],
  last: number | null = keys[keys.length - 1] ?? null,
): void {
  const pick = { kind, keys };
  bench.set({ pick, last });
  session.askFacts(pick);
}

/** What is picked, by index. */
export const indicesNow = (): Uint32Array => {
  const { mesh, pick } = bench.get();
  return mesh ? resolve(mesh, pick).indices : new Uint32Array(0);
};
