/** The page's side of one worker: typed questions, answers as promises, the document kept up to date, and stopping. */
import { differences } from '../document/diff';
import type { ProjectDocument } from '../document/types';
import type { Answer, CallName, Query } from './calls';
import type { Note, Progress, ToPage, ToWorker } from './protocol';

export class WorkCancelled extends Error {}

/** As much of a Worker as is used; tests give their own. */
export interface WorkerLike {
  postMessage(message: ToWorker, transfer?: Transferable[]): void;
  terminate(): void;
  onmessage: ((e: MessageEvent<ToPage>) => void) | null;
  onerror: ((e: ErrorEvent) => void) | null;
}

export interface AskOptions {
  signal?: AbortSignal;
  progress?: (p: Progress) => void;
  transfer?: Transferable[];
}

interface Waiting {
  resolve(answer: unknown): void;
  reject(e: Error): void;
  progress?: (p: Progress) => void;
}

/** Places for the numbers of requests that are to stop. Far more than are ever open at once. */
const PLACES = 256;
const canShare = (): boolean =>
  typeof SharedArrayBuffer !== 'undefined' &&
  (globalThis as { crossOriginIsolated?: boolean }).crossOriginIsolated === true;

export const makeWorker = (): WorkerLike =>
  new Worker(new URL('./bench.worker.ts', import.meta.url), { type: 'module' }) as unknown as WorkerLike;

export class WorkerLink {
  private readonly worker: WorkerLike;
  private readonly waiting = new Map<number, Waiting>();
  private readonly stops: Int32Array | undefined;
  private count = 0;
  private known: ProjectDocument | undefined;
  onNote: (note: Note) => void = () => {};

  constructor(worker: WorkerLike = makeWorker(), shared = canShare()) {
    this.worker = worker;
    worker.onmessage = ({ data }) => this.take(data);
    worker.onerror = (e) => this.fail(new Error(e.message || 'The worker stopped.'));
    if (shared) {
      this.stops = new Int32Array(new SharedArrayBuffer(4 * PLACES));
      worker.postMessage({ stops: this.stops });
    }
  }

  /** Whether a request that is being worked on can be stopped without ending the worker. */
  get canStop(): boolean {
    return this.stops !== undefined;
  }

  /** Sends what changed in the document since the last time; before anything is asked of it. */
  sync(doc: ProjectDocument): void {
    if (doc === this.known) return;
    const sync = this.known ? differences(this.known, doc) : [{ path: [], value: doc }];
    this.known = doc;
    this.worker.postMessage({ sync });
  }

  ask<K extends CallName>(call: K, query: Query<K>, o: AskOptions = {}): Promise<Answer<K>> {
    const id = ++this.count;
    return new Promise<Answer<K>>((resolve, reject) => {
      if (o.signal?.aborted) {
        reject(new WorkCancelled());
        return;
      }
      const stop = () => {
        if (this.stops) Atomics.store(this.stops, id % PLACES, id);
      };
      o.signal?.addEventListener('abort', stop, { once: true });
      const done = () => o.signal?.removeEventListener('abort', stop);
      this.waiting.set(id, {
        progress: o.progress,
        resolve: (answer) => {
          done();
          resolve(answer as Answer<K>);
        },
        reject: (e) => {
          done();
          reject(e);
        },
      });
      this.worker.postMessage({ id, call, query }, o.transfer ?? []);
    });
  }

  private take(data: ToPage): void {
    if ('note' in data) {
      this.onNote(data.note);
      return;
    }
    const w = this.waiting.get(data.id);
    if ('progress' in data) {
      w?.progress?.(data.progress);
      return;
    }
    this.waiting.delete(data.id);
    if (data.ok) w?.resolve(data.answer);
    else w?.reject(data.cancelled ? new WorkCancelled() : new Error(data.error));
  }

  private fail(e: Error): void {
    const all = [...this.waiting.values()];
    this.waiting.clear();
    for (const w of all) w.reject(e);
  }

  end(): void {
    this.worker.terminate();
    this.fail(new WorkCancelled());
  }
}
