/** What a worker holds: the document, what was remembered of following it, and the files it fetched. */
import { Memory, type Lasting } from '../core/recipe';
import type { Geometry } from '../core/geometry';
import type { Mesh } from '../core/mesh';
import type { Stroke } from '../core/uv/edits/brush';
import { applyDifferences, type Difference } from '../document/diff';
import type { ProjectDocument } from '../document/types';
import type { Note, Progress } from './protocol';

/** One request while it is worked on. */
export interface Task {
  /** The page no longer wants the answer. */
  cancelled(): boolean;
  progress(progress: Progress): void;
  /** Memory to be handed over with the answer rather than copied. */
  transfer: Transferable[];
}

/** Files by their SHA-256, those asked for longest ago forgotten first. */
export class BlobCache {
  private readonly map = new Map<string, { bytes: Promise<Uint8Array>; size: number }>();
  private held = 0;
  constructor(
    private readonly fetchOne: (sha: string) => Promise<Uint8Array>,
    private readonly budget = 256 * 1024 * 1024,
  ) {}

  get(sha: string): Promise<Uint8Array> {
    const had = this.map.get(sha);
    if (had) {
      this.map.delete(sha);
      this.map.set(sha, had);
      return had.bytes;
    }
    const bytes = this.fetchOne(sha);
    const entry = { bytes, size: 0 };
    this.map.set(sha, entry);
    bytes.then(
      (b) => {
        if (this.map.get(sha) !== entry) return;
        entry.size = b.length;
        this.held += b.length;
        this.trim(sha);
      },
      () => this.map.delete(sha),
    );
    return bytes;
  }

  /** A file the page has already. */
  keep(sha: string, bytes: Uint8Array): void {
    if (this.map.has(sha)) return;
    this.map.set(sha, { bytes: Promise.resolve(bytes), size: bytes.length });
    this.held += bytes.length;
    this.trim(sha);
  }

  private trim(newest: string): void {
    for (const [sha, e] of this.map) {
      if (this.held <= this.budget || sha === newest) break;
      this.map.delete(sha);
      this.held -= e.size;
    }
  }

  get size(): number {
    return this.held;
  }
}

/** What the page holds of a piece. */
export interface SentPiece {
  hash: string;
  geometry: Geometry;
  smooth: number;
  texture: boolean;
  /** Sources of copies whose buffers it has. */
  copied?: ReadonlySet<string>;
  /** In the colours of an attribute. */
  heat?: boolean;
}

export class Host {
  document: ProjectDocument | undefined;
  readonly memory: Memory;
  readonly blobs: BlobCache;
  /** What each piece shows. */
  readonly results = new Map<string, Geometry>();
  /** What the focused step gives. */
  edited: Mesh | undefined;
  /** The stroke of a brush on the sheet that goes on, and on what. */
  stroke: { id: number; mesh: Mesh; stroke: Stroke } | undefined;
  /** What the page was last sent of each piece, and of the focused step (by hash). */
  readonly sent = new Map<string, SentPiece>();
  sentEdited = '';

  constructor(
    fetchBlob: (sha: string) => Promise<Uint8Array>,
    readonly note: (note: Note, transfer: Transferable[]) => void,
    /** What took long is kept there for another session. */
    lasting?: Lasting,
  ) {
    this.memory = new Memory(undefined, lasting);
    this.blobs = new BlobCache(fetchBlob);
  }

  readonly blob = (sha: string): Promise<Uint8Array> => this.blobs.get(sha);

  sync(changes: readonly Difference[]): void {
    this.document = applyDifferences(this.document, changes);
  }

  get doc(): ProjectDocument {
    if (!this.document) throw new Error('No project is open.');
    return this.document;
  }
}
