/**
 * The document as it is being edited: changes as patches, undo and redo, and live changes (a value being dragged) that
 * count as one when they settle. Views are not in it. No React here: the interface subscribes.
 */
import { enablePatches, freeze, produceWithPatches } from 'immer';
import { cleanName, cleanValue } from './clean';
import { applyChange, dependsOn } from './patches';
import type { Patch, ProjectDocument } from './types';

enablePatches();

export interface Entry {
  label: string;
  /** When it settled, milliseconds. */
  at: number;
  /** A small picture of how it looked afterwards, for whoever shows the list. */
  picture?: string;
  patches: Patch[];
  inverse: Patch[];
}

export interface Change {
  label: string;
  patches: Patch[];
  /** It only writes down what follows from the rest: where it is too late, nothing is lost. */
  noted?: boolean;
}

const LIMIT = 500;

/** Patches as they can be kept; the very same where nothing had to be done. */
function cleanPatches(patches: Patch[]): Patch[] {
  let out: Patch[] | undefined;
  patches.forEach((p, i) => {
    const last = p.path[p.path.length - 1];
    let value = cleanValue(p.value, typeof last === 'string' ? last : '');
    if (p.path.length === 1 && last === 'name') value = cleanName(String(value)) as never;
    if (value !== p.value) (out ??= patches.slice())[i] = { ...p, value };
  });
  return out ?? patches;
}

export class History {
  private past: Entry[] = [];
  private future: Entry[] = [];
  private live: { key: string; label: string; base: ProjectDocument; patches: Patch[]; inverse: Patch[] } | undefined;
  private current: ProjectDocument;

  /** `sent` is called with every settled change, undo and redo among them, in order. */
  constructor(
    doc: ProjectDocument,
    private readonly sent: (change: Change) => void = () => {},
  ) {
    this.current = freeze(doc, true);
  }

  get document(): ProjectDocument {
    return this.current;
  }
  get canUndo(): string | undefined {
    return this.live?.label ?? this.past[this.past.length - 1]?.label;
  }
  get canRedo(): string | undefined {
    return this.future[this.future.length - 1]?.label;
  }
  get isLive(): boolean {
    return this.live !== undefined;
  }

  /**
   * Makes a change. With a `live` key, later calls with the same key start again from where the first began, until
   * `settle`.
   */
  change(label: string, edit: (draft: ProjectDocument) => void, live?: string): void {
    if (this.live && this.live.key !== live) this.settle();
    const base = this.live?.base ?? this.current;
    const [drafted, drafts, inverse] = produceWithPatches(base, (d) => {
      edit(d as ProjectDocument);
    });
    // One gate for all that people type and files bring: what could not be kept does not come in.
    const patches = cleanPatches(drafts as Patch[]);
    const next = patches === (drafts as Patch[]) ? drafted : freeze(applyChange(base, patches), true);
    this.current = next;
    if (live !== undefined) {
      this.live = { key: live, label, base, patches, inverse: inverse as Patch[] };
      return;
    }
    this.push({ label, at: Date.now(), patches, inverse: inverse as Patch[] });
  }

  /**
   * Writes down what is known of what is there already: nothing to be undone, and kept like a change. Not while one is
   * live.
   */
  note(label: string, edit: (draft: ProjectDocument) => void): void {
    if (this.live) return;
    const [next, patches] = produceWithPatches(this.current, (d) => {
      edit(d as ProjectDocument);
    });
    if (patches.length === 0) return;
    this.current = next;
    this.sent({ label, patches: patches as Patch[], noted: true });
  }

  /**
   * Goes on from what somebody else has changed meanwhile. What was done here can still be undone or done again as far
   * as neither rests on the other. Throws `PatchError` where it does not fit, and nothing has changed. Not while a
   * change is live.
   */
  follow(patches: readonly Patch[]): void {
    this.current = freeze(applyChange(this.current, patches), true);
    const rests = (e: Entry): boolean => dependsOn(e.patches, patches) || dependsOn(e.inverse, patches);
    this.past = this.past.slice(this.past.findLastIndex(rests) + 1);
    this.future = this.future.slice(this.future.findLastIndex(rests) + 1);
  }

  /** Ends a live change: what it came to is one entry. */
  settle(): void {
    if (!this.live) return;
    const { label, patches, inverse } = this.live;
    this.live = undefined;
    this.push({ label, at: Date.now(), patches, inverse });
  }

  /** Drops a live change: the document is as before it began. */
  cancel(): void {
    if (!this.live) return;
    this.current = this.live.base;
    this.live = undefined;
  }

  undo(): string | undefined {
    this.settle();
    const e = this.past.pop();
    if (!e) return undefined;
    this.current = freeze(applyChange(this.current, e.inverse), true);
    this.future.push(e);
    this.sent({ label: `undo ${e.label}`, patches: e.inverse });
    return e.label;
  }

  redo(): string | undefined {
    this.settle();
    const e = this.future.pop();
    if (!e) return undefined;
    this.current = freeze(applyChange(this.current, e.patches), true);
    this.past.push(e);
    this.sent({ label: `redo ${e.label}`, patches: e.patches });
    return e.label;
  }

  /** All that was done and can still be undone or done again, in order, and how many of them stand now. */
  list(): { entries: readonly Entry[]; done: number } {
    return { entries: [...this.past, ...[...this.future].reverse()], done: this.past.length };
  }

  /** Undoes or does again until so many of the listed changes stand. */
  goTo(done: number): void {
    this.settle();
    while (this.past.length > done && this.undo());
    while (this.past.length < done && this.redo());
  }

  private push(e: Entry): void {
    if (e.patches.length === 0) return;
    this.past.push(e);
    if (this.past.length > LIMIT) this.past.shift();
    this.future = [];
    this.sent({ label: e.label, patches: e.patches });
  }
}
