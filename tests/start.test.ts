/** `./glypta start`: repeated, beside another, killed in every way; and a page that lost its server in mid-edit. */
import { execFileSync, spawn, spawnSync } from 'node:child_process';
import { chmodSync, existsSync, mkdtempSync, readFileSync, rmSync, writeFileSync } from 'node:fs';
import { tmpdir } from 'node:os';
import { join } from 'node:path';
import type { Browser } from 'puppeteer-core';
import { openBrowser, openPage, postgresPid, startApp, type App } from './support';
import { thoroughly } from '../src/core/testing/thoroughly';

const sleep = (ms: number) => new Promise((r) => setTimeout(r, ms));
const alive = (pid: number) => {
  try {
    process.kill(pid, 0);
    return !/\) Z /.test(readFileSync(`/proc/${pid}/stat`, 'utf8'));
  } catch {
    return false;
  }
};
const until = async (test: () => unknown, ms = 30000) => {
  for (const end = Date.now() + ms; Date.now() < end; await sleep(100)) {
    try {
      if (await test()) return;
    } catch {
      /* not yet */
    }
  }
  throw new Error('waited in vain');
};
const shelf = async (app: App) =>
  ((await (await fetch(`${app.address}/api/projects`)).json()) as { projects: { name: string; id: string }[] })
    .projects;

let app: App, browser: Browser | undefined;
beforeAll(async () => {
  app = await startApp(['--no-demo']);
});
afterAll(async () => {
  await browser?.close();
  await app?.stop();
});

test('--no-demo is an empty shelf; headers isolate and restrict; another site is refused', async () => {
  expect(await shelf(app)).toEqual([]);
  const page = await fetch(app.address);
  expect(page.headers.get('content-security-policy')).toMatch(/script-src 'self' 'nonce-.*object-src 'none'/);
  expect(page.headers.get('cross-origin-opener-policy')).toBe('same-origin');
  const evil = await fetch(`${app.address}/api/projects`, {
    method: 'POST',
    headers: { origin: 'http://evil.example', 'content-type': 'application/json' },
    body: '{}',
  });
  expect(evil.status).toBe(403);
});

test.each([
  ['{', 400],
  ['{"name":"","purpose":"game","units":"mm"}', 400],
  ['{"name":"A","purpose":"war","units":"mm"}', 400],
  ['{"name":"A","purpose":"game","units":"mm"}', 200],
])('a new project from %s is answered with %d', async (body, status) => {
  const r = await fetch(`${app.address}/api/projects`, {
    method: 'POST',
    body,
    headers: { 'content-type': 'application/json' },
  });
  expect(r.status).toBe(status);
  if (status !== 200) expect(((await r.json()) as { error: string }).error).toMatch(/^[A-Z].*\.$/);
});

test('a second start on the same data says where the first is, and leaves it alone', () => {
  const out = execFileSync(join(process.cwd(), 'glypta'), ['start', '--data', app.data], { encoding: 'utf8' });
  expect(out).toContain(`already runs on this data, at ${app.address}`);
});

test('a backup of what is in use is restored elsewhere, whole; never over anything; and damaged ones are refused', async () => {
  const glypta = (...args: string[]) => spawnSync(join(process.cwd(), 'glypta'), args, { encoding: 'utf8' });
  const folder = mkdtempSync(join(tmpdir(), 'glypta-backup-'));
  chmodSync(folder, 0o755);
  const file = join(folder, 'all.backup');
  const made = glypta('backup', file, '--data', app.data);
  expect(made.stdout).toMatch(/Kept 1 projects .* and read it back/);
  expect(glypta('backup', file, '--data', app.data).stderr).toMatch(/never writes over/);
  expect(glypta('restore', file, '--data', app.data).stderr).toMatch(/There are projects already/);
  writeFileSync(join(folder, 'half'), readFileSync(file).subarray(0, 3000));
  const half = glypta('restore', join(folder, 'half'), '--data', join(folder, 'a'));
  expect(half.stderr).toMatch(/^That is no backup that can be restored: .*\n$/);
  const put = glypta('restore', file, '--data', join(folder, 'a')); // where the half one left nothing
  expect(put.stdout).toMatch(/Restored 1 projects and 0 files; every one of them was read and is whole/);
  rmSync(folder, { recursive: true, force: true });
});

test('the server or the database killed: started again, data kept', async () => {
  const web = Number(readFileSync(join(app.data, 'web.pid'), 'utf8'));
  process.kill(web, 'SIGKILL');
  await until(
    async () => Number(readFileSync(join(app.data, 'web.pid'), 'utf8')) !== web && (await shelf(app)).length === 1,
  );
  const pg = postgresPid(app.data);
  process.kill(pg, 'SIGKILL');
  await until(async () => postgresPid(app.data) !== pg && (await shelf(app)).length === 1);
});

test('a page that lost its connection keeps its changes through a reload', async () => {
  browser = await openBrowser();
  const page = await openPage(browser);
  const id = (await shelf(app))[0].id;
  await page.goto(`${app.address}/bench/${id}`);
  await page.waitForSelector('[data-ready=true]');
  await page.setRequestInterception(true);
  let lost = true;
  page.on('request', (r) => {
    if (lost && r.url().endsWith('/changes')) void r.abort('connectionfailed');
    else void r.continue();
  });
  await page.click('[aria-label="New piece"]');
  await page.click('::-p-xpath(//button[@role="menuitem" and normalize-space()="cylinder"])');
  await until(async () =>
    /waits? here/.test(await page.$eval('[data-testid=saving]', (e) => (e as HTMLElement).innerText)),
  );
  expect(((await (await fetch(`${app.address}/api/projects/${id}`)).json()) as { revision: number }).revision).toBe(0);
  lost = false;
  await page.goto(`${app.address}/bench/${id}`); // before the retry: only IndexedDB knows
  await until(async () => (await page.$$('[role=treeitem][aria-label="cylinder"]')).length === 1);
  await until(
    async () =>
      ((await (await fetch(`${app.address}/api/projects/${id}`)).json()) as { revision: number }).revision === 1,
  );
  await page.close();
});

thoroughly('the launcher killed outright: nothing is left running, and the next start finds everything', async () => {
  const pg = postgresPid(app.data);
  const web = Number(readFileSync(join(app.data, 'web.pid'), 'utf8'));
  const launcher = Number(readFileSync(join(app.data, 'lock'), 'utf8').split('\n')[0]);
  process.kill(launcher, 'SIGKILL');
  await until(() => !alive(pg) && !alive(web));
  app = await startApp(['--no-demo'], app.data);
  expect((await shelf(app)).map((p) => p.name)).toEqual(['A']);
  // And an end by Ctrl C leaves nothing either.
  const again = postgresPid(app.data);
  app.process.kill('SIGINT');
  await new Promise((r) => app.process.once('exit', r));
  expect(alive(again)).toBe(false);
  expect(existsSync(join(app.data, 'lock'))).toBe(false);
});

describe('first starts', () => {
  const folders: string[] = [];
  const folder = (name = 'glypta-first-') => {
    const at = mkdtempSync(join(tmpdir(), name));
    chmodSync(at, 0o755);
    folders.push(at);
    return at;
  };
  const launch = (data: string) => {
    const child = spawn(join(process.cwd(), 'glypta'), ['start', '--no-demo', '--data', data], { detached: true });
    let said = '';
    for (const from of [child.stdout, child.stderr])
      from.on('data', (b) => {
        said += String(b);
      });
    const ended = new Promise<number | null>((r) => child.once('exit', r));
    return { pid: child.pid!, said: () => said, ended, end: () => process.kill(child.pid!, 'SIGTERM') };
  };
  afterAll(() => folders.forEach((f) => rmSync(f, { recursive: true, force: true })));

  thoroughly('two at once on a fresh folder: one serves, the other says where', async () => {
    const data = folder();
    const both = [launch(data), launch(data)];
    await until(() => both.every((b) => /open at|already runs/.test(b.said())), 60000);
    const [serving, other] = /open at/.test(both[0].said()) ? both : [both[1], both[0]];
    const address = /open at (\S+)/.exec(serving.said())![1];
    expect(other.said()).toContain(`already runs on this data, at ${address}`);
    expect(await other.ended).toBe(0);
    serving.end();
    expect(await serving.ended).toBe(0);
  });

  thoroughly(
    'killed again and again in the middle of its first start, it starts in the end; odd letters in the path',
    async () => {
      const data = join(folder(`glypta "it's $HOME" `), 'the keeper’s "data"');
      for (const after of [700, 1100, 1700]) {
        const l = launch(data);
        await sleep(after);
        try {
          process.kill(-l.pid, 'SIGKILL'); // all of its group, as when a terminal is closed hard
        } catch {
          /* gone already */
        }
        await l.ended;
      }
      const l = launch(data);
      await until(() => /open at/.test(l.said()), 60000);
      const begun = performance.now();
      l.end();
      expect(await l.ended).toBe(0);
      expect(performance.now() - begun).toBeLessThan(8000);
    },
  );

  test('a folder that is none, and one that nobody may write to: one sentence', async () => {
    const file = join(folder(), 'file');
    writeFileSync(file, '');
    const l = launch(file);
    expect(await l.ended).toBe(1);
    expect(l.said()).toBe(`${file} is not a folder.\n`);
    const k = launch('/proc/here');
    expect(await k.ended).toBe(1);
    expect(k.said()).toMatch(/^\/proc\/here cannot be written to\. .*\n$/);
  });
});
