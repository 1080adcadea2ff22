/** `./glypta start`: repeated, beside another, killed in every way; and a page that lost its server in mid-edit. */
import { execFileSync } from 'node:child_process';
import { existsSync, readFileSync } from 'node:fs';
import { join } from 'node:path';
import type { Browser } from 'puppeteer-core';
import { openBrowser, openPage, postgresPid, startApp, type App } from './support';

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

test('the launcher killed outright: nothing is left running, and the next start finds everything', async () => {
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
