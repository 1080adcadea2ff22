/** The database a verb works on: one that exists somewhere, or the one in a data folder, running or not. */
import { existsSync } from 'node:fs';
import { join, resolve } from 'node:path';
import { databaseAddress } from '../server/address';
import { Cluster, debianPackages, root } from './setup';
import { Usage, type Options } from './usage';

/** `--database URL`, checked; undefined where it is not given. */
export function databaseOption(o: Options): string | undefined {
  const url = o.values.database;
  if (url === undefined) return undefined;
  try {
    databaseAddress(url);
  } catch (e) {
    throw new Usage((e as Error).message);
  }
  return url;
}

/** Runs `work` with the address of the database. One that was not running is started for it, and stopped after. */
export async function withDatabase<T>(o: Options, work: (url: string) => Promise<T>, fresh = false): Promise<T> {
  const url = databaseOption(o);
  if (url) return work(url);
  const data = resolve(o.values.data ?? join(root, '.data'));
  if (!fresh && !existsSync(data)) throw new Usage(`There is no folder ${data}.`);
  await debianPackages({ postgres: true });
  const cluster = new Cluster(data);
  const ran = await cluster.running();
  await cluster.start();
  try {
    return await work(cluster.url);
  } finally {
    if (!ran) cluster.stop();
  }
}
