import { spawn, type ChildProcess } from 'node:child_process';
import { accessSync, constants, existsSync, mkdirSync, statSync, readFileSync, rmSync, writeFileSync } from 'node:fs';
import { dirname, join, resolve } from 'node:path';
import { numberOption, parseArgs, Usage } from './usage';
import { buildApplication, Cluster, debianPackages, holdFolder, portIsFree, root, SetupError } from './setup';

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
  makeFolder(data);
  const hold = await holdFolder(data);
  if ('other' in hold) {
    console.log(`Glypta already runs on this data, at ${hold.other}.`);
    return 0;
  }
  endLeftover(join(data, 'web.pid'));
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
        await Promise.race([gone, sleep(800).then(() => web!.kill('SIGKILL'))]);
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
    hold.tell(address);
    if (!stopping) console.log(`Glypta is open at ${address}\nStop it with Ctrl C.`);
    // Whichever is killed is started again; so is a server that lives and does not answer.
    let silent = 0;
    void (async () => {
      for (let round = 1; !stopping; round++) {
        await sleep(700);
        if (stopping) break;
        if (round % HEALTH_EVERY === 0) {
          silent = (await speaks(`${address}/api/health`)) ? 0 : silent + 1;
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

/** Rounds of the watch between two looks at whether the server answers, and looks in vain before it is ended. */
const HEALTH_EVERY = 6;
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

function makeFolder(data: string): void {
  try {
    // One by one: made all at once, in folders of the system's own, the making never ends.
    const missing: string[] = [];
    for (let at = data; !existsSync(at); at = dirname(at)) missing.unshift(at);
    for (const folder of missing) mkdirSync(folder);
    if (!statSync(data).isDirectory()) throw Object.assign(new Error('no folder'), { code: 'ENOTDIR' });
    accessSync(data, constants.W_OK | constants.X_OK);
    writeFileSync(join(data, '.writable'), '');
    rmSync(join(data, '.writable'), { force: true });
  } catch (e) {
    const code = (e as NodeJS.ErrnoException).code;
    if (code === 'ENOSPC') throw new SetupError(`The disk that holds ${data} is full.`);
    if (code === 'EEXIST' || code === 'ENOTDIR') throw new SetupError(`${data} is not a folder.`);
    throw new SetupError(`${data} cannot be written to. Choose another folder with --data.`);
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
