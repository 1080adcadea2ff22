/**
 * What whole-application tests and the browser benchmark share: an application on its own data, and a browser on it.
 */
import { execFileSync, spawn, type ChildProcess } from 'node:child_process';
import { chmodSync, mkdtempSync, readFileSync, rmSync } from 'node:fs';
import { tmpdir } from 'node:os';
import { join } from 'node:path';
import puppeteer, { type Browser, type Page } from 'puppeteer-core';

export interface App {
  address: string;
  data: string;
  process: ChildProcess;
  output(): string;
  /** Ends it; its data stay. */
  end(): Promise<void>;
  /** Ends it and removes its data. */
  stop(): Promise<void>;
}

const root = process.env.GLYPTA_ROOT ?? process.cwd();

/** A port below those the system hands out by itself: two starts side by side cannot be given the same one. */
async function quietPort(): Promise<number> {
  const { portIsFree } = await import('../src/cli/setup');
  for (;;) {
    const port = 12000 + Math.floor(Math.random() * 18000);
    if (await portIsFree(port)) return port;
  }
}

/**
 * A fresh data folder: a copy of one with the demo in it where the tests made one beforehand (`before.ts`), which
 * spares its making.
 */
function freshData(demo: boolean): string {
  const data = mkdtempSync(join(tmpdir(), 'glypta-test-'));
  const template = process.env.GLYPTA_TEMPLATE;
  if (demo && template) execFileSync('cp', ['-a', `${template}/.`, data]); // keeps whose files they are
  return data;
}

/** Starts `./glypta start` on a fresh data folder and a free port, and waits for its address. */
export async function startApp(
  args: string[] = [],
  data = freshData(args.length === 0),
  env: Record<string, string> = {},
): Promise<App> {
  chmodSync(data, 0o755); // the database's own user must reach it
  const port = await quietPort();
  const child = spawn(join(root, 'glypta'), ['start', '--port', String(port), '--data', data, ...args], {
    cwd: root,
    stdio: ['ignore', 'pipe', 'pipe'],
    env: { ...process.env, ...env },
  });
  let output = '';
  child.stdout.on('data', (b) => {
    output += String(b);
  });
  child.stderr.on('data', (b) => {
    output += String(b);
  });
  const ended = new Promise<void>((r) => child.once('exit', () => r()));
  const app: App = {
    address: `http://127.0.0.1:${port}`,
    data,
    process: child,
    output: () => output,
    async end() {
      if (child.exitCode !== null || child.signalCode !== null) return;
      child.kill('SIGTERM');
      await ended;
    },
    async stop() {
      await app.end();
      rmSync(data, { recursive: true, force: true });
    },
  };
  for (let i = 0; i < 1200; i++) {
    if (output.includes('Glypta is open at')) return app;
    if (child.exitCode !== null) throw new Error(`start ended: ${output}`);
    await new Promise((r) => setTimeout(r, 100));
  }
  throw new Error(`start did not answer: ${output}`);
}

/** A browser with a profile of its own, which goes with it, or with one that is kept. */
export async function openBrowser(kept?: string): Promise<Browser> {
  const { chromiumPath } = await import('../src/cli/setup');
  return puppeteer.launch({
    protocolTimeout: 120000,
    executablePath: chromiumPath(),
    headless: true,
    userDataDir: kept,
    // A third as many pixels each way: all is laid out and picked as ever, and drawing without a graphics card costs a
    // tenth. The wheel turns as much further.
    defaultViewport: { width: 1280, height: 800, deviceScaleFactor: 0.3 },
    args: [
      '--no-sandbox',
      '--use-angle=swiftshader',
      '--enable-unsafe-swiftshader',
      '--disable-quic',
      '--no-first-run',
      '--disable-background-networking',
      '--disable-component-update',
      '--disable-sync',
      '--force-prefers-reduced-motion',
      '--disable-gpu-compositing',
    ],
  });
}

/** A page with patience: several tests share two cores with a browser each that draws without a graphics card. */
export async function openPage(browser: Browser): Promise<Page> {
  const page = await browser.newPage();
  page.setDefaultTimeout(60000);
  page.setDefaultNavigationTimeout(60000);
  return page;
}

/** What the page downloads goes to this folder. */
export async function downloadsTo(page: Page, folder: string): Promise<void> {
  const cdp = await page.createCDPSession();
  await cdp.send('Browser.setDownloadBehavior', { behavior: 'allow', downloadPath: folder });
}

export const postgresPid = (data: string): number =>
  Number(readFileSync(join(data, 'pg/postmaster.pid'), 'utf8').split('\n')[0]);
