/** Work that is done outside of requests: queued in the same database, taken by any worker on any machine. */
import PgBoss from 'pg-boss';
import { databaseAddress } from './address';

export interface PictureJob {
  /** What the picture is kept under. */
  key: string;
  kind: 'project' | 'turn' | 'item';
  id: string;
  /** Of a project; 0 for items. */
  revision: number;
}

export const PICTURES = 'picture';
export const TIDY = 'tidy';
/** Every night: whichever worker takes it. */
const TIDY_AT = '17 3 * * *';
/** Longer than any picture may take, so that a job whose worker died is given to another. */
const EXPIRES = 300;

/** The queue as whoever asks sees it: it neither makes tables nor tidies, which workers do. */
export async function openQueue(url: string, working = false): Promise<PgBoss> {
  const { url: connectionString, ssl } = databaseAddress(url);
  const boss = new PgBoss({
    connectionString,
    ...(ssl ? { ssl } : {}),
    max: working ? 4 : 1,
    supervise: working,
    schedule: working,
    migrate: working,
    archiveCompletedAfterSeconds: 60,
    deleteAfterHours: 1,
  });
  boss.on('error', () => undefined); // the database may be away; each call says so itself
  await boss.start();
  if (working) {
    // One waiting and one at work for each key, however often it is asked for.
    const policy = {
      name: PICTURES,
      policy: 'stately' as const,
      retryLimit: 3,
      retryDelay: 1,
      expireInSeconds: EXPIRES,
    };
    await boss.createQueue(PICTURES, policy);
    await boss.createQueue(TIDY, { name: TIDY, policy: 'singleton', retryLimit: 2 });
    await boss.schedule(TIDY, TIDY_AT);
  }
  return boss;
}

const holder = globalThis as typeof globalThis & { glyptaQueue?: Promise<PgBoss> };

export async function askForPicture(url: string, job: PictureJob): Promise<void> {
  holder.glyptaQueue ??= openQueue(url);
  try {
    const boss = await holder.glyptaQueue;
    await boss.send(PICTURES, job, { singletonKey: job.key });
  } catch (e) {
    holder.glyptaQueue = undefined; // opened anew by the next who asks
    throw e;
  }
}
