/** What is remembered of where keys had their elements, so that picks can be followed when they are gone. */
import type { Mesh } from './mesh';
import type { ElementPick, PickKind } from './picks';
import { spotOf, type Spot } from './spots';

/** Most that are kept of each kind, the oldest forgotten first. */
const MOST = 200_000;
/** Picks of more than this are of whole surfaces: what they cost is not worth what they would tell. */
const MOST_OF_PICK = 20_000;

/** A key means one place for good, so it does not matter by which pick it was seen. */
export class Witnesses {
  private readonly spots: Record<PickKind, Map<number, Spot>> = { vertex: new Map(), edge: new Map(), face: new Map() };

  get(kind: PickKind, key: number): Spot | undefined {
    return this.spots[kind].get(key);
  }

  /** Keeps where the elements of a pick are, by those of its keys that have one in this very mesh. */
  note(mesh: Mesh, pick: ElementPick, indexOf: ReadonlyMap<number, number>): void {
    if (pick.keys.length > MOST_OF_PICK) return;
    const map = this.spots[pick.kind];
    for (const key of pick.keys) {
      const index = indexOf.get(key);
      if (index === undefined || map.has(key)) continue;
      this.keep(pick.kind, key, spotOf(mesh, pick.kind, index));
    }
  }

  /** What a pick itself says: known still when its keys are put together anew. */
  keep(kind: PickKind, key: number, spot: Spot): void {
    const map = this.spots[kind];
    map.set(key, spot);
    if (map.size > MOST) map.delete(map.keys().next().value!);
  }
}
