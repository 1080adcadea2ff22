/** Picks in a recipe that do not say yet where their elements are, and what was seen of them. */
import type { ElementPick, PickKind } from '../mesh/picks';
import { packSpots, SPOT_SIZE } from '../mesh/picks';
import type { Witnesses } from '../mesh/witnesses';
import type { Step } from './values';

export interface Seen {
  /** From the recipe to the pick. */
  readonly path: readonly (string | number)[];
  /** How many keys it had: one that has changed since is left alone. */
  readonly count: number;
  readonly spots: string;
}

/** Everything that picks elements: an object with keys, and a kind (of a colour: faces). */
const asPick = (value: object): (ElementPick & { material?: string }) | undefined => {
  const v = value as { kind?: unknown; keys?: unknown; material?: unknown };
  if (!Array.isArray(v.keys) || v.keys.length === 0) return undefined;
  if (typeof v.kind === 'string' && v.kind in SPOT_SIZE) return value as ElementPick;
  return typeof v.material === 'string' ? { ...(value as ElementPick), kind: 'face' } : undefined;
};

const lengthOf = (kind: PickKind, keys: number): number => 4 * Math.ceil((4 * SPOT_SIZE[kind] * keys) / 3);

/** Spots for every pick that has none, as far as its keys were seen; recipes within steps look after themselves. */
export function seenOf(recipe: readonly Step[], witnesses: Witnesses): Seen[] {
  const out: Seen[] = [];
  const walk = (value: unknown, path: (string | number)[]): void => {
    if (typeof value !== 'object' || value === null) return;
    const pick = asPick(value);
    if (pick) {
      if (pick.spots?.length === lengthOf(pick.kind, pick.keys.length)) return;
      const spots = pick.keys.map((k) => witnesses.get(pick.kind, k));
      if (!spots.some((s) => s !== undefined)) return;
      const unseen = new Float64Array(SPOT_SIZE[pick.kind]).fill(NaN);
      out.push({ path, count: pick.keys.length, spots: packSpots(spots.map((s) => s ?? unseen)) });
      return;
    }
    if (Array.isArray(value)) {
      if (typeof value[0] === 'object') value.forEach((v, i) => walk(v, [...path, i]));
    } else for (const [k, v] of Object.entries(value)) if (k !== 'parts') walk(v, [...path, k]);
  };
  recipe.forEach((step, i) => walk(step.values, [i, 'values']));
  return out;
}
