/**
 * Documents as they were last read or saved, by project and revision: a save applies its patches to what is here
 * instead of reading the whole anew. What a revision holds never changes, so this can never be out of date; several
 * servers may each keep their own.
 */
import type { ProjectDocument } from '../document/types';

interface Kept {
  revision: number;
  document: ProjectDocument;
  /** About how many bytes of JSON. */
  size: number;
}

const BUDGET = 96 * 1024 * 1024;

export class RecentDocuments {
  private readonly map = new Map<string, Kept>();
  private held = 0;

  constructor(private readonly budget = BUDGET) {}

  /** The newest that is not beyond a revision. */
  get(project: string, most: number): Kept | undefined {
    const k = this.map.get(project);
    if (!k || k.revision > most) return undefined;
    this.map.delete(project);
    this.map.set(project, k);
    return k;
  }

  /** Without `size` about as large as the one before. */
  keep(project: string, revision: number, document: ProjectDocument, size?: number): void {
    const had = this.map.get(project);
    if (had && had.revision > revision) return;
    const now = size ?? had?.size;
    this.forget(project);
    if (now === undefined || now > this.budget / 2) return;
    this.map.set(project, { revision, document, size: now });
    this.held += now;
    for (const id of this.map.keys()) {
      if (this.held <= this.budget) break;
      this.forget(id);
    }
  }

  forget(project: string): void {
    this.held -= this.map.get(project)?.size ?? 0;
    this.map.delete(project);
  }
}
