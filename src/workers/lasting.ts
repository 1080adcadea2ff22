/**
 * What workers keep in the browser beyond the session: results that took long, by names of all they depend on, those
 * used longest ago forgotten first. Without a database there all goes on without it.
 */
import { openDB, type DBSchema, type IDBPDatabase } from 'idb';
import type { Lasting } from '../core/recipe';

interface Kept extends DBSchema {
  bytes: { key: string; value: Uint8Array };
  /** Read without what it is about. */
  facts: { key: string; value: { size: number; used: number; edition: string } };
}

const MOST = 256 * 1024 * 1024;

/** `edition`: of the application; what another one worked out is of no use. */
export function lastingIn(edition: string, most = MOST, database = 'glypta-kept'): Lasting {
  let opened: Promise<IDBPDatabase<Kept>> | undefined;
  const open = (): Promise<IDBPDatabase<Kept>> =>
    (opened ??= openDB<Kept>(database, 1, {
      upgrade(db) {
        db.createObjectStore('bytes');
        db.createObjectStore('facts');
      },
    }));

  async function get(name: string): Promise<Uint8Array | undefined> {
    const tx = (await open()).transaction(['bytes', 'facts'], 'readwrite');
    const facts = await tx.objectStore('facts').get(name);
    const bytes = facts?.edition === edition ? await tx.objectStore('bytes').get(name) : undefined;
    if (facts && bytes) await tx.objectStore('facts').put({ ...facts, used: Date.now() }, name);
    await tx.done;
    return bytes;
  }

  async function put(name: string, bytes: Uint8Array): Promise<void> {
    if (bytes.length > most) return;
    const tx = (await open()).transaction(['bytes', 'facts'], 'readwrite');
    const [all, things] = [tx.objectStore('facts'), tx.objectStore('bytes')];
    const [names, facts] = await Promise.all([all.getAllKeys(), all.getAll()]);
    const had = names.map((of, i) => ({ of, ...facts[i] })).filter((x) => x.of !== name);
    const useful = had.filter((x) => x.edition === edition).sort((a, b) => b.used - a.used);
    let left = most - bytes.length;
    const stays = new Set(useful.filter((x) => (left -= x.size) >= 0).map((x) => x.of));
    await Promise.all([
      ...had.filter((x) => !stays.has(x.of)).flatMap(({ of }) => [all.delete(of), things.delete(of)]),
      things.put(bytes, name),
      all.put({ size: bytes.length, used: Date.now(), edition }, name),
      tx.done,
    ]);
  }

  return {
    get: (name) => get(name).catch(() => undefined),
    put: (name, bytes) => void put(name, bytes).catch(() => undefined),
  };
}
