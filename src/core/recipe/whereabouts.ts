/** Picks in a recipe that do not say yet where their elements are, and what was seen of them. */
import type { ElementPick, PickKind } from '../mesh/picks';
import { packSpots, SPOT_SIZE } from '../mesh/picks';
import type { Witnesses } from '../mesh/witnesses';
import type { Move, Step } from './values';

export interface Seen {
  /** What holds the pick, by names that stay when things are put in another order: the step, its value, and in that a move or a place. */
  readonly step: string;
  readonly value: string;
  readonly move?: string;
  readonly at?: number;
  /** Of its keys, as it was when it was seen: one that has changed since is left alone. */
  readonly count: number;
  readonly sum: number;
  readonly spots: string;
}

/** Tells lists of keys apart. */
export const sumOf = (keys: readonly number[]): number =>
  keys.reduce((sum, k, i) => (sum + (k % 1e9) * (1 + (i % 97))) % 1e12, 0);

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
  const look = (value: unknown, owner: string, where: Pick<Seen, 'step' | 'value' | 'move' | 'at'>): void => {
    const pick = typeof value === 'object' && value !== null ? asPick(value) : undefined;
    if (!pick || pick.spots?.length === lengthOf(pick.kind, pick.keys.length)) return;
    const witness = witnesses.of(owner);
    const spots = pick.keys.map((k) => witness.get(k));
    if (!spots.some((s) => s !== undefined)) return;
    const unseen = new Float64Array(SPOT_SIZE[pick.kind]).fill(NaN);
    out.push({
      ...where,
      count: pick.keys.length,
      sum: sumOf(pick.keys),
      spots: packSpots(spots.map((s) => s ?? unseen)),
    });
  };
  for (const step of recipe)
    for (const [value, held] of Object.entries(step.values)) {
      const where = { step: step.id, value };
      if (value === 'moves' && Array.isArray(held))
        for (const m of held as Move[]) look(m.pick, ownerOf(step, m.id), { ...where, move: m.id });
      else if (Array.isArray(held)) held.forEach((v, at) => look(v, ownerOf(step, value), { ...where, at }));
      else look(held, ownerOf(step, value), where);
    }
  return out;
}
