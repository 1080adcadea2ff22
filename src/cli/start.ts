import { spawn, type ChildProcess } from 'node:child_process';
import { readFileSync, rmSync, writeFileSync } from 'node:fs';
import { join, resolve } from 'node:path';
import { numberOption, parseArgs, Usage } from './usage';
import {
  buildApplication,
  Cluster,
  debianPackages,
  endWatchdog,
  holdFolder,
  makeFolder,
  portIsFree,
  root,
  SetupError,
  watchdog,
} from './setup';
import { databaseOption } from './stored';
import { SCHEMA } from '../server/schema';

const sleep = (ms: number) => new Promise((r) => setTimeout(r, ms));

/** Names that other machines know this one by. */
function hostNames(text: string): string {
  const names = text.split(',').map((n) => n.trim().toLowerCase());
  if (text && !names.every((n) => /^(?:[\w-]+(?:\.[\w-]+)*|\[[\da-f:]+\])$/.test(n)))
    throw new Usage('--host takes names, without ports, with commas between them.');
  return text && names.join(',');
}

const LEVELS = ['debug', 'info', 'warn', 'error'];

/**
 * `start [--port N] [--data DIR] [--host NAME,…] [--no-demo] [--database URL] [--connections N] [--behind-proxy] [--log
 * LEVEL]`. With --host, other machines are answered too, by these names. With --database there is no database of our
 * own, and no demo: several servers may use one.
 */
export async function run(args: string[]): Promise<number> {
  const o = parseArgs(args, ['port', 'data', 'host', 'database', 'connections', 'log'], ['no-demo', 'behind-proxy']);
  const hosts = hostNames(o.values.host ?? '');
  const wanted = numberOption(o, 'port', 0, 0, 65535);
  const elsewhere = databaseOption(o);
  const connections = numberOption(o, 'connections', 6, 2, 200);
  const level = o.values.log ?? 'warn';
  if (!LEVELS.includes(level)) throw new Usage(`--log is one of ${LEVELS.join(', ')}.`);
  // A server of a database elsewhere needs a folder only for what runs: one for each port.
  const folder = elsewhere ? join('.data', 'servers', String(wanted || 'any')) : '.data';
  const data = resolve(o.values.data ?? join(root, folder));
  if (!elsewhere) await debianPackages({ postgres: true });
  const lock = join(data, 'lock');
  makeFolder(data);
  const hold = await holdFolder(data);
  if ('other' in hold) {
    console.log(`Glypta already runs on this data, at ${hold.other}.`);
    return 0;
  }
  endWatchdog(data);
  endLeftover(join(data, 'web.pid'));
  await buildApplication();

  let port = wanted || 4810;
  if (wanted && !(await portIsFree(wanted)))
    throw new SetupError(`Port ${wanted} is in use. Choose another with --port.`);
  while (!wanted && !(await portIsFree(port))) port++;
  const address = `http://127.0.0.1:${port}`;
  writeFileSync(lock, `${process.pid}\n${address}\n`);

  const cluster = elsewhere ? undefined : new Cluster(data);
  const url = () => elsewhere ?? cluster!.url;
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
        await Promise.race([gone, sleep(800).then(() => web!.kill('SIGKILL'))]);
      }
      worker?.kill('SIGKILL');
      cluster?.stop();
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

  let served = '';
  const serve = () => {
    served = url();
    const next = join(root, 'node_modules/next/dist/bin/next');
    web = spawn(process.execPath, [next, 'start', '-H', hosts ? '0.0.0.0' : '127.0.0.1', '-p', String(port)], {
      cwd: root,
      detached: true,
      stdio: ['ignore', 'ignore', 'inherit'],
      env: {
        ...process.env,
        NODE_ENV: 'production',
        GLYPTA_DATABASE: served,
        GLYPTA_SCHEMA: SCHEMA,
        GLYPTA_CONNECTIONS: String(connections),
        GLYPTA_HOSTS: hosts,
        GLYPTA_PROXY: o.flags.has('behind-proxy') ? '1' : '',
        GLYPTA_LOG: level,
        NEXT_TELEMETRY_DISABLED: '1',
      },
    });
    writeFileSync(join(data, 'web.pid'), String(web.pid));
  };
  // Draws pictures; gone when this process is, by the channel between them.
  const work = () => {
    worker = spawn(process.execPath, [join(root, '.build/cli/src/cli/main.mjs'), 'worker'], {
      cwd: root,
      stdio: ['ignore', 'ignore', 'inherit', 'ipc'],
      env: { ...process.env, GLYPTA_DATABASE: url() },
    });
    worker.on('error', () => undefined);
  };

  try {
    watchdog(data, cluster?.folder ?? data);
    // The server needs a second to begin, and so do the database and its tables: all at once. It says that it is
    // starting until it has them.
    await cluster?.prepare();
    serve();
    const [{ connect }, { migrate }] = await Promise.all([
      import('../server/database'),
      import('../server/migrations'),
      cluster?.start(),
    ]);
    const db = connect(url());
    try {
      await reached(db.sequelize, elsewhere);
      await migrate(db.sequelize);
      if (!elsewhere && !o.flags.has('no-demo')) {
        const { loadDemo } = await import('./demo');
        await loadDemo(db, data);
      }
    } finally {
      await db.sequelize.close();
    }
    if (stopping) return done;
    if (url() !== served) {
      web!.kill('SIGKILL');
      await sleep(100);
      serve();
    }
    const started = Date.now();
    while (!stopping && !(await answers(`${address}/api/health`))) {
      if (Date.now() - started > 60000) throw new SetupError('The server did not answer within a minute.');
      // One that was taken over may have been about to end.
      if (cluster && cluster.pid() === undefined) await cluster.start();
      await sleep(40);
    }
    work();
    hold.tell(address);
    if (!stopping) console.log(`Glypta is open at ${address}\nStop it with Ctrl C.`);
    // Whichever is killed is started again; so is a server that lives and does not answer.
    let silent = 0;
    void (async () => {
      for (let round = 1; !stopping; round++) {
        await sleep(ROUND);
        if (stopping) break;
        if (round % HEALTH_EVERY === 0 || silent > 0) {
          silent = (await speaks(`${address}/api/health/live`)) ? 0 : silent + 1;
          if (silent >= MOST_SILENT && !stopping) {
            console.error('The server does not answer; it is started anew.');
            silent = 0;
            web!.kill('SIGKILL');
            await sleep(300);
          }
        }
        if (web!.exitCode !== null || web!.signalCode !== null) {
          console.error('The server ended; starting it again.');
          serve();
        }
        if (worker!.exitCode !== null || worker!.signalCode !== null) work();
        if (cluster && cluster.pid() === undefined) {
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

/** A database of somebody else's may be away, or not let us in: said in one sentence, with what it said. */
async function reached(sequelize: { authenticate(): Promise<void> }, elsewhere: string | undefined): Promise<void> {
  try {
    await sequelize.authenticate();
  } catch (e) {
    if (!elsewhere) throw e;
    throw new SetupError(`The database at ${new URL(elsewhere).host} does not let us in: ${(e as Error).message}`);
  }
}

/**
 * Milliseconds of a round of the watch; rounds between two looks at whether the server answers, and looks in vain
 * before it is ended.
 */
const ROUND = 250;
const HEALTH_EVERY = 17;
const MOST_SILENT = 3;

/** It says something, be it that it has no database. */
async function speaks(url: string): Promise<boolean> {
  try {
    await fetch(url, { signal: AbortSignal.timeout(5000) });
    return true;
  } catch {
    return false;
  }
}

/** A server that a launcher left behind when it was killed: it would go on serving at its old address. */
function endLeftover(file: string): void {
  try {
    const pid = Number(readFileSync(file, 'utf8'));
    if (pid > 0 && /next/.test(readFileSync(`/proc/${pid}/cmdline`, 'utf8'))) process.kill(pid, 'SIGKILL');
  } catch {
    /* there is none */
  }
  rmSync(file, { force: true });
}

async function answers(url: string): Promise<boolean> {
  try {
    return (await fetch(url, { signal: AbortSignal.timeout(2000) })).ok;
  } catch {
    return false;
  }
}
