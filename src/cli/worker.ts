import { join } from 'node:path';
import { connect } from '../server/database';
import { Drawer, LIMITS } from '../server/drawer';
import { keepPicture } from '../server/pictures';
import { openQueue, PICTURES, TIDY, type PictureJob } from '../server/queue';
import { tidyBlobs } from '../server/tidy';
import { root } from './setup';
import { databaseOption } from './stored';
import { numberOption, parseArgs, Usage } from './usage';

/**
 * `worker [--database URL] [--processes N] [--seconds N]`: draws what is asked for, until it is stopped; no picture may
 * take more seconds of work than so many (`GLYPTA_PICTURE_SECONDS` says the same to the worker of `start`).
 */
export async function run(args: string[]): Promise<number> {
  const o = parseArgs(args, ['database', 'processes', 'seconds'], []);
  const url = databaseOption(o) ?? process.env.GLYPTA_DATABASE;
  if (!url) throw new Usage('worker needs --database, the address of the database that the server uses.');
  process.env.GLYPTA_DATABASE = url; // for the processes that draw
  const db = connect(url, 2);
  const boss = await openQueue(url, true);
  await boss.work(TIDY, async () => void (await tidyBlobs(db)));
  const drawers: Drawer[] = [];
  const usual = Number(process.env.GLYPTA_PICTURE_SECONDS) || LIMITS.time / 1000;
  const limits = { ...LIMITS, time: 1000 * numberOption(o, 'seconds', usual, 1, 3600) };
  for (let i = 0; i < numberOption(o, 'processes', 1, 1, 64); i++) {
    const drawer = new Drawer(join(root, '.build/cli/src/cli/main.mjs'), ['draw'], limits);
    drawers.push(drawer);
    await boss.work<PictureJob>(PICTURES, { batchSize: 4, pollingIntervalSeconds: 0.5 }, async (jobs) => {
      for (const { data } of jobs) {
        const drawn = await drawer.draw(data);
        if ('again' in drawn) throw new Error(drawn.again); // the queue gives it out again
        await keepPicture(db, data, drawn);
      }
    });
  }
  await new Promise<void>((resolve) => {
    for (const s of ['SIGINT', 'SIGTERM', 'SIGHUP', 'disconnect'] as const)
      process.once(s as 'SIGINT', () => resolve());
  });
  for (const d of drawers) d.end();
  await Promise.race([boss.stop({ graceful: false, wait: false }), new Promise((r) => setTimeout(r, 500))]);
  process.exit(0);
}
