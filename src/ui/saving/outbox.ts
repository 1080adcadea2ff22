/**
 * Changes on their way to the server. Each is written to IndexedDB before it is sent and removed when it is
 * acknowledged, so that a crash, a reload or a lost connection loses nothing. Sent one at a time, in order.
 */
import { openDB, type IDBPDatabase } from 'idb';
import { dependsOn } from '../../document/patches';
import type { Change } from '../../document/history';
import type { Patch } from '../../document/types';
import { api, ServerError } from '../parts/api';

export interface Unsent {
  key?: number;
  project: string;
  id: string;
  base: number;
  label: string;
  patches: Patch[];
  window: string;
  /** It only writes down what follows from the project itself. */
  noted?: boolean;
  /** Why it was set apart: the server will not take it, or it rests on one that it did not take. */
  aside?: string;
}

/**
 * Answers after which the same change need not be tried again. What the server did not foresee is tried a few times
 * first.
 */
const isFinal = (e: unknown, tries: number): e is ServerError =>
  e instanceof ServerError &&
  ((e.status < 500 && ![408, 409, 421, 429].includes(e.status)) || (e.status === 500 && tries >= MOST_TRIES));
const MOST_TRIES = 5;

export type SavingState =
  | { kind: 'saved' }
  | { kind: 'saving'; count: number }
  | { kind: 'waiting'; count: number; why: string }
  | { kind: 'conflict'; revision: number };

const open = async (): Promise<IDBPDatabase> =>
  openDB('glypta', 1, {
    upgrade(db) {
      db.createObjectStore('unsent', { keyPath: 'key', autoIncrement: true }).createIndex('project', 'project');
    },
  });

export class Outbox {
  private queue: Unsent[] = [];
  private sending = false;
  private stopped = false;
  private retry: ReturnType<typeof setTimeout> | undefined;
  private db: Promise<IDBPDatabase | undefined>;
  private wait = 500;
  private tries = 0;
  private readonly apart: Unsent[] = [];
  /** Changes that were set apart, all of them, whenever there is one more. */
  onAside: (aside: readonly Unsent[]) => void = () => {};
  /** Another window was faster, and nothing that was done here is lost by going on from there. */
  onOvertaken: () => void = () => {};
  readonly window = globalThis.crypto.randomUUID();

  constructor(
    private readonly project: string,
    private revision: number,
    private readonly told: (state: SavingState, revision: number) => void,
  ) {
    // Without IndexedDB (a private window may refuse it) saving still works, only a crash is not covered.
    this.db = open().catch(() => undefined);
  }

  get unsent(): readonly Unsent[] {
    return this.queue;
  }

  /** Sends what an earlier visit left behind. Answers what could not be sent because another window was faster. */
  async sendLeftovers(): Promise<Unsent[]> {
    const db = await this.db;
    const all = db ? ((await db.getAllFromIndex('unsent', 'project', this.project)) as Unsent[]) : [];
    this.apart.push(...all.filter((e) => e.aside !== undefined));
    let left = all.filter((e) => e.aside === undefined);
    // Those set apart below took no revision: what came after them begins that much earlier.
    let fewer = 0;
    while (left.length) {
      const [entry] = left;
      try {
        await this.post(entry, entry.base - fewer);
        left = left.slice(1);
        await db!.delete('unsent', entry.key!);
      } catch (e) {
        if (e instanceof ServerError && e.status === 409) {
          if (!left.every((x) => x.noted)) return left;
          for (const x of left) await db!.delete('unsent', x.key!);
          return [];
        }
        // Opening always works: what cannot be sent now waits as what another window overtook does.
        if (!isFinal(e, MOST_TRIES)) throw e;
        const rest = this.setApart(left, e.message);
        fewer += left.length - rest.length;
        left = rest;
      }
    }
    return [];
  }

  /** Sets the first of these apart, with all that rest on it; answers the others. */
  private setApart(entries: readonly Unsent[], why: string): Unsent[] {
    const [first] = entries;
    const apart = [first];
    const rest: Unsent[] = [];
    first.aside = why;
    for (const e of entries.slice(1))
      if (apart.some((a) => dependsOn(e.patches, a.patches))) {
        e.aside = `It rests on “${first.label}”, which could not be saved.`;
        apart.push(e);
      } else rest.push(e);
    this.keepApart(apart);
    return rest;
  }

  private keepApart(entries: readonly Unsent[]): void {
    this.apart.push(...entries);
    void this.db.then(async (db) => {
      for (const e of entries) if (db && e.key !== undefined) await db.put('unsent', e).catch(() => undefined);
    });
    this.onAside([...this.apart]);
  }

  get aside(): readonly Unsent[] {
    return this.apart;
  }

  /** The person has seen what was set apart, and lets it go. */
  async dropAside(): Promise<void> {
    const db = await this.db;
    for (const { key } of this.apart.splice(0)) if (db && key !== undefined) await db.delete('unsent', key);
    this.onAside([]);
  }

  async forgetLeftovers(): Promise<void> {
    const db = await this.db;
    if (!db) return;
    for (const key of await db.getAllKeysFromIndex('unsent', 'project', this.project)) await db.delete('unsent', key);
  }

  startAt(revision: number): void {
    this.revision = revision;
  }

  add({ label, patches, noted }: Change): void {
    const entry: Unsent = {
      project: this.project,
      id: globalThis.crypto.randomUUID(),
      base: this.revision + this.queue.length,
      label,
      patches,
      window: this.window,
      ...(noted ? { noted } : {}),
    };
    // What is still seen here of a change that was set apart may be built on before the page has let go of it.
    const on = this.apart.find((a) => !this.let.has(a) && dependsOn(patches, a.patches));
    if (on) entry.aside = `It rests on “${on.label}”, which could not be saved.`;
    else this.queue.push(entry);
    void this.db
      .then(async (db) => {
        if (db) entry.key = Number(await db.add('unsent', entry));
      })
      .catch(() => undefined)
      .then(() => (on ? this.keepApart([entry]) : this.pump()));
    if (!on) this.told({ kind: 'saving', count: this.queue.length }, this.revision);
  }

  private readonly let = new Set<Unsent>();
  /** The page no longer shows anything of what was set apart: changes from now on cannot rest on it. */
  letGo(): void {
    for (const a of this.apart) this.let.add(a);
  }

  private post(e: Unsent, base: number): Promise<{ revision: number }> {
    return api<{ revision: number }>(`/api/projects/${this.project}/changes`, {
      json: { base, patches: e.patches, label: e.label, window: e.window, id: e.id },
    });
  }

  private async pump(): Promise<void> {
    if (this.sending || this.stopped || this.queue.length === 0) return;
    this.sending = true;
    clearTimeout(this.retry);
    const entry = this.queue[0];
    try {
      const { revision } = await this.post(entry, this.revision);
      this.revision = revision;
      this.queue.shift();
      this.wait = 500;
      this.tries = 0;
      const db = await this.db;
      if (db && entry.key !== undefined) await db.delete('unsent', entry.key);
      this.told(this.queue.length ? { kind: 'saving', count: this.queue.length } : { kind: 'saved' }, this.revision);
      this.sending = false;
      void this.pump();
    } catch (e) {
      this.sending = false;
      if (e instanceof ServerError && e.status === 409 && this.queue.every((x) => x.noted)) {
        const db = await this.db;
        for (const { key } of this.queue.splice(0)) if (db && key !== undefined) await db.delete('unsent', key);
        if (this.queue.length === 0) this.told({ kind: 'saved' }, this.revision);
        this.onOvertaken();
        void this.pump();
        return;
      }
      if (e instanceof ServerError && e.status === 409) {
        this.stopped = true;
        this.told({ kind: 'conflict', revision: Number(e.details.revision ?? 0) }, this.revision);
        return;
      }
      if (isFinal(e, ++this.tries)) {
        this.tries = 0;
        this.queue = this.setApart(this.queue, e.message);
        this.told(this.queue.length ? { kind: 'saving', count: this.queue.length } : { kind: 'saved' }, this.revision);
        void this.pump();
        return;
      }
      this.told({ kind: 'waiting', count: this.queue.length, why: (e as Error).message }, this.revision);
      this.retry = setTimeout(() => void this.pump(), this.wait);
      this.wait = Math.min(8000, this.wait * 1.6);
    }
  }

  end(): void {
    this.stopped = true;
    clearTimeout(this.retry);
  }
}
