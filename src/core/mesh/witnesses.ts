/** What is remembered of where picked elements were, so that picks can be followed when their keys are gone. */
import type { Mesh } from './mesh';
import type { ElementPick } from './picks';
import { spotOf, type Spot } from './spots';

/** Most spots that are kept, the pick that was looked for longest ago forgotten first. */
const MOST = 400_000;
/** Picks of more than this are of whole surfaces: 280 kB in the document for what their keys nearly always tell. */
const MOST_OF_PICK = 4_000;

/** Where the elements of one pick, in one place of a recipe, were when they were last found. */
export interface Witness {
  get(key: number): Spot | undefined;
  /** Keeps spots by keys or names of one's own. */
  put(seen: ReadonlyMap<number, Spot>): void;
  /** Keeps where the elements of those keys are that have one in this mesh. */
  note(mesh: Mesh, pick: ElementPick, indexOf: ReadonlyMap<number, number>): void;
}

/**
 * By what picks them: a face that a move drew out keeps its key and is elsewhere from then on, so what one move picked
 * and what a later one picks by the same key are two places.
 */
export class Witnesses {
  private readonly owners = new Map<string, Map<number, Spot>>();
  private held = 0;

  of(owner: string): Witness {
    const put: Witness['put'] = (seen) => {
      if (seen.size === 0 || seen.size > 2 * MOST_OF_PICK) return;
      const map = this.owners.get(owner) ?? new Map<number, Spot>();
      this.owners.delete(owner);
      this.owners.set(owner, map);
      this.held -= map.size;
      for (const [key, spot] of seen) map.set(key, spot);
      this.held += map.size;
      for (const [name, other] of this.owners) {
        if (this.held <= MOST || name === owner) break;
        this.held -= other.size;
        this.owners.delete(name);
      }
    };
    return {
      get: (key) => this.owners.get(owner)?.get(key),
      put,
      note: (mesh, pick, indexOf) => {
        if (indexOf.size === 0 || pick.keys.length > MOST_OF_PICK) return;
        const seen = new Map<number, Spot>();
        for (const [key, index] of indexOf) seen.set(key, spotOf(mesh, pick.kind, index));
        put(seen);
      },
    };
  }
}
