/**
 * The workers of an open project: one follows what is seen, where the newest request wins; a few do long jobs, one at a
 * time each.
 */
import type { ProjectDocument } from '../document/types';
import type { Answer, CallName, Query } from './calls';
import { makeWorker, WorkCancelled, WorkerLink, type AskOptions, type WorkerLike } from './link';

/**
 * How long work that was overtaken may go on, ms: pictures of a value being dragged that come within it are always
 * shown.
 */
const GRACE = 120;
/**
 * Each time work was stopped the next may take longer, up to this, so that something is seen even of slow steps that
 * are dragged.
 */
const MOST_GRACE = 4000;
const MOST_HELPERS = 2;

interface Job {
  run(link: WorkerLink): Promise<void>;
  cancelled(): boolean;
}

export interface ShowRequest {
  document: ProjectDocument;
  query: Query<'show'>;
  done(answer: Answer<'show'>): void;
  failed(e: Error): void;
}

export class Crew {
  private readonly front: WorkerLink;
  private running: { stop: AbortController; since: number; timer?: ReturnType<typeof setTimeout> } | undefined;
  private next: ShowRequest | undefined;
  /** Who waits until all that was to be shown is shown. */
  private readonly waiting: (() => void)[] = [];
  private grace = GRACE;
  private readonly idle: WorkerLink[] = [];
  private readonly busy = new Set<WorkerLink>();
  private readonly jobs: Job[] = [];
  onProgress: NonNullable<AskOptions['progress']> = () => {};

  constructor(
    private readonly make: () => WorkerLike = makeWorker,
    private readonly shared?: boolean,
  ) {
    this.front = new WorkerLink(make(), shared);
  }

  set onNote(take: WorkerLink['onNote']) {
    this.front.onNote = take;
  }

  /**
   * Shows a document. While one request is worked on only the newest other waits, and the one that is worked on is told
   * to stop.
   */
  show(request: ShowRequest): void {
    this.next = request;
    if (!this.running) {
      this.start();
      return;
    }
    const { stop, since } = this.running;
    this.running.timer ??= setTimeout(() => stop.abort(), Math.max(0, this.grace - (performance.now() - since)));
  }

  private start(): void {
    const request = this.next;
    this.next = undefined;
    if (!request) {
      for (const go of this.waiting.splice(0)) go();
      return;
    }
    const own = { stop: new AbortController(), since: performance.now() } as NonNullable<Crew['running']>;
    this.running = own;
    this.front.sync(request.document);
    const after = () => {
      clearTimeout(own.timer);
      this.running = undefined;
      this.start();
    };
    this.front.ask('show', request.query, { signal: own.stop.signal, progress: (p) => this.onProgress(p) }).then(
      (answer) => {
        this.grace = GRACE;
        request.done(answer);
        after();
      },
      (e: Error) => {
        if (e instanceof WorkCancelled) this.grace = Math.min(MOST_GRACE, this.grace * 2);
        request.failed(e);
        after();
      },
    );
  }

  /** Asks the worker that follows what is seen: for what is quick. */
  ask<K extends CallName>(call: K, query: Query<K>, o?: AskOptions): Promise<Answer<K>> {
    return this.front.ask(call, query, o);
  }

  /**
   * The same, once the newest document is followed: what is asked of the model as it is by now, not as it was when it
   * was last seen.
   */
  async askNow<K extends CallName>(call: K, query: Query<K>, o?: AskOptions): Promise<Answer<K>> {
    if (this.running || this.next) await new Promise<void>((go) => this.waiting.push(go));
    return this.front.ask(call, query, o);
  }

  /** Hands a long job to a helper, so that editing goes on meanwhile. */
  long<K extends CallName>(
    document: ProjectDocument,
    call: K,
    query: Query<K>,
    o: AskOptions = {},
  ): Promise<Answer<K>> {
    return new Promise<Answer<K>>((resolve, reject) => {
      const cancelled = () => o.signal?.aborted ?? false;
      const run = async (link: WorkerLink) => {
        link.sync(document);
        const ended = () => {
          if (!link.canStop) link.end();
        };
        o.signal?.addEventListener('abort', ended, { once: true });
        try {
          resolve(await link.ask(call, query, o));
        } catch (e) {
          reject(e as Error);
        } finally {
          o.signal?.removeEventListener('abort', ended);
        }
      };
      o.signal?.addEventListener('abort', () => reject(new WorkCancelled()), { once: true });
      this.jobs.push({ run, cancelled });
      this.hand();
    });
  }

  private hand(): void {
    while (this.jobs.length && (this.idle.length || this.busy.size < MOST_HELPERS)) {
      const job = this.jobs.shift()!;
      if (job.cancelled()) continue;
      const link = this.idle.pop() ?? new WorkerLink(this.make(), this.shared);
      this.busy.add(link);
      void job.run(link).finally(() => {
        this.busy.delete(link);
        // A helper that could only be stopped by ending it is gone.
        if (!job.cancelled() || link.canStop) this.idle.push(link);
        this.hand();
      });
    }
  }

  end(): void {
    clearTimeout(this.running?.timer);
    this.next = undefined;
    this.jobs.length = 0;
    for (const link of [this.front, ...this.idle, ...this.busy]) link.end();
  }
}
