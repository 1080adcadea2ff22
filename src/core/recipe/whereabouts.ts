/** Picks in a recipe that do not say yet where their elements are, and what was seen of them. */
import type { PickKind } from '../mesh/picks';
import { SPOT_SIZE } from '../mesh/picks';
import { packSpots } from '../mesh/packedspots';
import type { Witnesses } from '../mesh/witnesses';
import { CORNER_SPOT, cornerNames } from '../uv/follow/placed';
import type { Move, Step } from './values';

export interface Seen {
  /**
   * What holds the pick, by names that stay when things are put in another order: the step, its value, and in that a
   * move or a place.
   */
  readonly step: string;
  readonly value: string;
  readonly move?: string;
  readonly at?: number;
  /** Of its keys or names, as it was when it was seen: one that has changed since is left alone. */
  readonly count: number;
  readonly sum: number;
  readonly spots: string;
}

/** Tells lists of keys apart. */
export const sumOf = (keys: readonly number[]): number =>
  keys.reduce((sum, k, i) => (sum + (k % 1e9) * (1 + (i % 97))) % 1e12, 0);

/** What holds on to elements: what each is remembered under, and of how many numbers its spot is. */
interface Holding {
  names: readonly number[];
  size: number;
  spots?: string;
}

/**
 * Everything that picks elements: an object with keys, and a kind (of a colour: faces); or with places on the sheet, by
 * face and vertex.
 */
export function holdingOf(value: unknown): Holding | undefined {
  if (typeof value !== 'object' || value === null) return undefined;
  const { kind, keys, material, face, vertex, spots } = value as Record<string, unknown>;
  const kept = typeof spots === 'string' ? { spots } : {};
  if (Array.isArray(keys)) {
    if (typeof kind === 'string' && kind in SPOT_SIZE)
      return { names: keys as number[], size: SPOT_SIZE[kind as PickKind], ...kept };
    return typeof material === 'string' ? { names: keys as number[], size: SPOT_SIZE.face, ...kept } : undefined;
  }
  if (!Array.isArray(face) || !Array.isArray(vertex)) return undefined;
  return { names: cornerNames({ face: face as number[], vertex: vertex as number[] }), size: CORNER_SPOT, ...kept };
}

const lengthOf = (size: number, names: number): number => 4 * Math.ceil((4 * size * names) / 3);

/** What a pick is remembered under: the step, and the value or the move that holds it. */
export const ownerOf = (step: Step, name: string): string => `${step.id}/${name}`;

/** Spots for every pick that has none, as far as its elements were seen; recipes within steps look after themselves. */
export function seenOf(recipe: readonly Step[], witnesses: Witnesses): Seen[] {
  const out: Seen[] = [];
  const look = (value: unknown, owner: string, where: Pick<Seen, 'step' | 'value' | 'move' | 'at'>): void => {
    const held = holdingOf(value);
    if (!held || held.names.length === 0 || held.spots?.length === lengthOf(held.size, held.names.length)) return;
    const witness = witnesses.of(owner);
    const spots = held.names.map((k) => witness.get(k));
    if (!spots.some((s) => s !== undefined)) return;
    const unseen = new Float64Array(held.size).fill(NaN);
    out.push({
      ...where,
      count: held.names.length,
      sum: sumOf(held.names),
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
