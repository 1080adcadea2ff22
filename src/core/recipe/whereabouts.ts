/** Picks in a recipe that do not say yet where their elements are, and what was seen of them. */
import type { ElementPick, PickKind } from '../mesh/picks';
import { packSpots, SPOT_SIZE } from '../mesh/picks';
import type { Witnesses } from '../mesh/witnesses';
import type { Move, Step } from './values';

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

/** What a pick is remembered under: the step, and the value or the move that holds it. */
export const ownerOf = (step: Step, name: string): string => `${step.id}/${name}`;

/** Spots for every pick that has none, as far as its elements were seen; recipes within steps look after themselves. */
export function seenOf(recipe: readonly Step[], witnesses: Witnesses): Seen[] {
  const out: Seen[] = [];
  const look = (value: unknown, owner: string, path: (string | number)[]): void => {
    const pick = typeof value === 'object' && value !== null ? asPick(value) : undefined;
    if (!pick || pick.spots?.length === lengthOf(pick.kind, pick.keys.length)) return;
    const witness = witnesses.of(owner);
    const spots = pick.keys.map((k) => witness.get(k));
    if (!spots.some((s) => s !== undefined)) return;
    const unseen = new Float64Array(SPOT_SIZE[pick.kind]).fill(NaN);
    out.push({ path, count: pick.keys.length, spots: packSpots(spots.map((s) => s ?? unseen)) });
  };
  recipe.forEach((step, i) => {
    for (const [name, value] of Object.entries(step.values)) {
      const path = [i, 'values', name];
      if (name === 'moves' && Array.isArray(value))
        (value as Move[]).forEach((m, j) => look(m.pick, ownerOf(step, m.id), [...path, j, 'pick']));
      else if (Array.isArray(value)) value.forEach((v, j) => look(v, ownerOf(step, name), [...path, j]));
      else look(value, ownerOf(step, name), path);
    }
  });
  return out;
}
