/**
 * The document as it is being edited: changes as patches, undo and redo, and live changes (a value being dragged) that count as one when
 * they settle. Views are not in it. No React here: the interface subscribes.
 */
import { applyPatches, enablePatches, freeze, produceWithPatches } from 'immer';
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
}

const LIMIT = 500;

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

  /** Makes a change. With a `live` key, later calls with the same key start again from where the first began, until `settle`. */
  change(label: string, edit: (draft: ProjectDocument) => void, live?: string): void {
    if (this.live && this.live.key !== live) this.settle();
    const base = this.live?.base ?? this.current;
    const [next, patches, inverse] = produceWithPatches(base, (d) => {
      edit(d as ProjectDocument);
    });
    this.current = next;
    if (live !== undefined) {
      this.live = { key: live, label, base, patches: patches as Patch[], inverse: inverse as Patch[] };
      return;
    }
    this.push({ label, at: Date.now(), patches: patches as Patch[], inverse: inverse as Patch[] });
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
    this.current = applyPatches(this.current, e.inverse as never) as ProjectDocument;
    this.future.push(e);
    this.sent({ label: `undo ${e.label}`, patches: e.inverse });
    return e.label;
  }

  redo(): string | undefined {
    this.settle();
    const e = this.future.pop();
    if (!e) return undefined;
    this.current = applyPatches(this.current, e.patches as never) as ProjectDocument;
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

/** Applies patches from outside. Throws where they do not fit. */
export function applyChange(doc: ProjectDocument, patches: readonly Patch[]): ProjectDocument {
  return applyPatches(doc, patches as never) as ProjectDocument;
}
