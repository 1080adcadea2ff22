/** The page's side of the bench worker: promises, one "show" in flight, the newest wins. */
import type { Material, Piece, ProjectDocument } from '../document/types';
import type { AskedAnchor, ProgressNote, Reply, Request, TreeNote } from './protocol';

type Ask<T extends Request['ask']> = Omit<Extract<Request, { ask: T }>, 'id' | 'ask'>;
type Shown = Extract<Reply, { shown: unknown }>;

export class WorkCancelled extends Error {}

export class BenchWorker {
  private readonly worker: Worker;
  private count = 0;
  private readonly waiting = new Map<number, { resolve: (r: never) => void; reject: (e: Error) => void }>();
  private readonly newest =
    typeof SharedArrayBuffer !== 'undefined' && globalThis.crossOriginIsolated
      ? new Int32Array(new SharedArrayBuffer(4))
      : undefined;
  private known = new Map<string, Piece>();
  private busy = false;
  private next: (() => void) | undefined;
  onProgress: (p: ProgressNote['progress']) => void = () => {};
  onTree: (t: TreeNote['tree']) => void = () => {};

  constructor() {
    this.worker = new Worker(new URL('./bench.worker.ts', import.meta.url), { type: 'module' });
    this.worker.onmessage = (e: MessageEvent<Reply | ProgressNote | TreeNote>) => {
      if ('tree' in e.data) {
        this.onTree(e.data.tree);
        return;
      }
      if ('progress' in e.data) {
        this.onProgress(e.data.progress);
        return;
      }
      const reply = e.data,
        w = this.waiting.get(reply.id);
      this.waiting.delete(reply.id);
      if (reply.ok) w?.resolve(reply as never);
      else w?.reject(reply.cancelled ? new WorkCancelled() : new Error(reply.error));
    };
    this.worker.onerror = (e) => {
      for (const w of this.waiting.values()) w.reject(new Error(e.message || 'The bench worker stopped.'));
      this.waiting.clear();
    };
    if (this.newest) this.worker.postMessage({ newest: this.newest });
  }

  private post<R>(request: Omit<Request, 'id'>, transfer: Transferable[] = []): Promise<R> {
    const id = ++this.count;
    if (request.ask === 'show' && this.newest) Atomics.store(this.newest, 0, id);
    return new Promise<R>((resolve, reject) => {
      this.waiting.set(id, { resolve: resolve as (r: never) => void, reject });
      this.worker.postMessage({ ...request, id }, transfer);
    });
  }

  ask<T extends Request['ask']>(ask: T, what: Ask<T>, transfer: Transferable[] = []): Promise<Reply & { ok: true }> {
    return this.post({ ask, ...what } as Omit<Request, 'id'>, transfer);
  }

  /** Sends what changed since the last time. While one is on its way the newest waits, the ones between are never sent. */
  show(
    doc: ProjectDocument,
    focus: { piece: string; step: string | null } | null,
    textures: boolean,
    anchors: readonly AskedAnchor[],
    elements: boolean,
    done: (r: Shown) => void,
    failed: (e: Error) => void,
  ): void {
    const send = () => {
      this.busy = true;
      this.next = undefined;
      const pieces = doc.pieces.filter((p) => this.known.get(p.id) !== p);
      this.known = new Map(doc.pieces.map((p) => [p.id, p]));
      const materials: readonly Material[] = doc.materials;
      this.post<Shown>({
        ask: 'show',
        pieces,
        order: doc.pieces.map((p) => p.id),
        materials,
        focus,
        textures,
        anchors,
        elements,
      } as Omit<Request, 'id'>)
        .then(done, failed)
        .finally(() => {
          this.busy = false;
          this.next?.();
        });
    };
    if (this.busy) this.next = send;
    else send();
  }

  end(): void {
    this.worker.terminate();
  }
}
