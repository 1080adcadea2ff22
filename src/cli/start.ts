import { spawn, type ChildProcess } from 'node:child_process';
import { mkdirSync, rmSync, writeFileSync } from 'node:fs';
import { join, resolve } from 'node:path';
import { numberOption, parseArgs } from './usage';
import { buildApplication, Cluster, debianPackages, lockedBy, portIsFree, root, SetupError } from './setup';

const sleep = (ms: number) => new Promise((r) => setTimeout(r, ms));

/** `start [--port N] [--data DIR] [--no-demo]` */
export async function run(args: string[]): Promise<number> {
  const o = parseArgs(args, ['port', 'data'], ['no-demo']);
  const wanted = numberOption(o, 'port', 0, 0, 65535);
  const data = resolve(o.values.data ?? join(root, '.data'));
  debianPackages({ postgres: true });
  const lock = join(data, 'lock');
  mkdirSync(data, { recursive: true });
  const other = lockedBy(lock);
  if (other) {
    console.log(`Glypta already runs on this data, at ${other.address}.`);
    return 0;
  }
  await buildApplication();

  let port = wanted || 4810;
  if (wanted && !(await portIsFree(wanted)))
    throw new SetupError(`Port ${wanted} is in use. Choose another with --port.`);
  while (!wanted && !(await portIsFree(port))) port++;
  const address = `http://127.0.0.1:${port}`;
  writeFileSync(lock, `${process.pid}\n${address}\n`);

  const cluster = new Cluster(data);
  let web: ChildProcess | undefined;
  let stopping = false;
  let ended: (status: number) => void = () => {};
  const done = new Promise<number>((r) => {
    ended = r;
  });
  const stop = (status: number) => {
    if (stopping) return;
    stopping = true;
    void (async () => {
      if (web && web.exitCode === null && web.signalCode === null) {
        const gone = new Promise((r) => web!.once('exit', r));
        web.kill('SIGTERM');
        await Promise.race([gone, sleep(5000).then(() => web!.kill('SIGKILL'))]);
      }
      cluster.stop();
      rmSync(lock, { force: true });
      rmSync(join(data, 'web.pid'), { force: true });
      ended(status);
    })();
  };
  for (const s of ['SIGINT', 'SIGTERM', 'SIGHUP'] as const)
    process.on(s, () => {
      console.error('Stopping …');
      stop(0);
    });

  try {
    cluster.watchdog(data);
    await cluster.start();
    const { connect } = await import('../server/database');
    const { migrate } = await import('../server/migrations');
    const db = connect(cluster.url);
    try {
      await migrate(db.sequelize);
      if (!o.flags.has('no-demo')) {
        const { loadDemo } = await import('./demo');
        await loadDemo(db, data);
      }
    } finally {
      await db.sequelize.close();
    }
    if (stopping) return done;

    const serve = () => {
      web = spawn(
        process.execPath,
        [join(root, 'node_modules/next/dist/bin/next'), 'start', '-H', '127.0.0.1', '-p', String(port)],
        {
          cwd: root,
          detached: true,
          stdio: ['ignore', 'ignore', 'inherit'],
          env: { ...process.env, NODE_ENV: 'production', GLYPTA_DATABASE: cluster.url, NEXT_TELEMETRY_DISABLED: '1' },
        },
      );
      writeFileSync(join(data, 'web.pid'), String(web.pid));
    };
    const started = Date.now();
    serve();
    while (!stopping && !(await answers(`${address}/api/health`))) {
      if (Date.now() - started > 60000) throw new SetupError('The server did not answer within a minute.');
      await sleep(150);
    }
    if (!stopping) console.log(`Glypta is open at ${address}\nStop it with Ctrl C.`);
    // Whichever of the two is killed is started again.
    void (async () => {
      while (!stopping) {
        await sleep(700);
        if (stopping) break;
        if (web!.exitCode !== null || web!.signalCode !== null) {
          console.error('The server ended; starting it again.');
          serve();
        }
        if (cluster.pid() === undefined) {
          console.error('The database ended; starting it again.');
          try {
            await cluster.start();
          } catch (e) {
            console.error((e as Error).message);
          }
        }
      }
    })();
    return await done;
  } catch (e) {
    stop(1);
    await done;
    throw e;
  }
}

async function answers(url: string): Promise<boolean> {
  try {
    return (await fetch(url, { signal: AbortSignal.timeout(2000) })).ok;
  } catch {
    return false;
  }
}
