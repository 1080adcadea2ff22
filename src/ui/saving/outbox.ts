/**
 * Changes on their way to the server. Each is written to IndexedDB before it is sent and removed when it is acknowledged, so that a crash, a
 * reload or a lost connection loses nothing. Sent one at a time, in order.
 */
import { openDB, type IDBPDatabase } from 'idb';
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
}

export type SavingState =
  | { kind: 'saved' }
  | { kind: 'saving'; count: number }
  | { kind: 'waiting'; count: number; why: string }
  | { kind: 'conflict'; revision: number }
  | { kind: 'refused'; why: string };

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
    const left = db ? ((await db.getAllFromIndex('unsent', 'project', this.project)) as Unsent[]) : [];
    for (let i = 0; i < left.length; i++) {
      try {
        await this.post(left[i], left[i].base);
      } catch (e) {
        if (e instanceof ServerError && (e.status === 409 || e.status === 422 || e.status === 410))
          return left.slice(i);
        throw e;
      }
      await db!.delete('unsent', left[i].key!);
    }
    return [];
  }

  async forgetLeftovers(): Promise<void> {
    const db = await this.db;
    if (!db) return;
    for (const key of await db.getAllKeysFromIndex('unsent', 'project', this.project)) await db.delete('unsent', key);
  }

  startAt(revision: number): void {
    this.revision = revision;
  }

  add(label: string, patches: Patch[]): void {
    const entry: Unsent = {
      project: this.project,
      id: globalThis.crypto.randomUUID(),
      base: this.revision + this.queue.length,
      label,
      patches,
      window: this.window,
    };
    this.queue.push(entry);
    void this.db
      .then(async (db) => {
        if (db) entry.key = Number(await db.add('unsent', entry));
      })
      .catch(() => undefined)
      .then(() => this.pump());
    this.told({ kind: 'saving', count: this.queue.length }, this.revision);
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
      const db = await this.db;
      if (db && entry.key !== undefined) await db.delete('unsent', entry.key);
      this.told(this.queue.length ? { kind: 'saving', count: this.queue.length } : { kind: 'saved' }, this.revision);
      this.sending = false;
      void this.pump();
    } catch (e) {
      this.sending = false;
      if (e instanceof ServerError && e.status === 409) {
        this.stopped = true;
        this.told({ kind: 'conflict', revision: Number(e.details.revision ?? 0) }, this.revision);
        return;
      }
      if (e instanceof ServerError && e.status < 500 && e.status !== 408 && e.status !== 429) {
        this.stopped = true;
        this.told({ kind: 'refused', why: e.message }, this.revision);
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
