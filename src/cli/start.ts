import { spawn, type ChildProcess } from 'node:child_process';
import { mkdirSync, rmSync, writeFileSync } from 'node:fs';
import { join, resolve } from 'node:path';
import { numberOption, parseArgs, Usage } from './usage';
import { buildApplication, Cluster, debianPackages, lockedBy, portIsFree, root, SetupError } from './setup';

const sleep = (ms: number) => new Promise((r) => setTimeout(r, ms));

/** Names that other machines know this one by. */
function hostNames(text: string): string {
  const names = text.split(',').map((n) => n.trim().toLowerCase());
  if (text && !names.every((n) => /^(?:[\w-]+(?:\.[\w-]+)*|\[[\da-f:]+\])$/.test(n)))
    throw new Usage('--host takes names, without ports, with commas between them.');
  return text && names.join(',');
}

/** `start [--port N] [--data DIR] [--host NAME,…] [--no-demo]`. With --host, other machines are answered too, by these names. */
export async function run(args: string[]): Promise<number> {
  const o = parseArgs(args, ['port', 'data', 'host'], ['no-demo']);
  const hosts = hostNames(o.values.host ?? '');
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
  let worker: ChildProcess | undefined;
  const stop = (status: number) => {
    if (stopping) return;
    stopping = true;
    void (async () => {
      if (web && web.exitCode === null && web.signalCode === null) {
        const gone = new Promise((r) => web!.once('exit', r));
        web.kill('SIGTERM');
        await Promise.race([gone, sleep(5000).then(() => web!.kill('SIGKILL'))]);
      }
      worker?.kill('SIGKILL');
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
        [
          join(root, 'node_modules/next/dist/bin/next'),
          'start',
          '-H',
          hosts ? '0.0.0.0' : '127.0.0.1',
          '-p',
          String(port),
        ],
        {
          cwd: root,
          detached: true,
          stdio: ['ignore', 'ignore', 'inherit'],
          env: {
            ...process.env,
            NODE_ENV: 'production',
            GLYPTA_DATABASE: cluster.url,
            GLYPTA_HOSTS: hosts,
            NEXT_TELEMETRY_DISABLED: '1',
          },
        },
      );
      writeFileSync(join(data, 'web.pid'), String(web.pid));
    };
    // Draws pictures; gone when this process is, by the channel between them.
    const work = () => {
      worker = spawn(process.execPath, [join(root, '.build/cli/src/cli/main.mjs'), 'worker'], {
        cwd: root,
        stdio: ['ignore', 'ignore', 'inherit', 'ipc'],
        env: { ...process.env, GLYPTA_DATABASE: cluster.url },
      });
      worker.on('error', () => undefined);
    };
    const started = Date.now();
    serve();
    work();
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
        if (worker!.exitCode !== null || worker!.signalCode !== null) work();
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
