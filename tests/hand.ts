/** What whole-application tests do as a person would: on the page they hold, in the words that stand on it. */
import { rmSync } from 'node:fs';
import type { Browser, ElementHandle, Page } from 'puppeteer-core';
import type { ProjectDocument } from '../src/document/types';
import { downloadsTo, openBrowser, openPage, startApp, type App } from './support';

/** As much of the view as tests look into. */
export interface TestView {
  screenAt(at: readonly number[]): [number, number];
  screenOf(kind: string, i: number): [number, number] | null;
  layer: { cost: { meshes: number; surfaces: number } };
  panes: { x: number; y: number; width: number; camera: { view: string } }[];
  camera: { yaw: number };
}
declare global {
  interface Window {
    glyptaView: TestView;
  }
}

/** As much of an application as most tests know of it. */
export type Shown = Pick<App, 'address'>;

let page: Page;
let app: Shown;

/** The page and the application that all else here acts on. */
export function hold(onPage: Page, inApp: Shown): void {
  page = onPage;
  app = inApp;
}

/** What the tests of a file need beside a page. */
export interface Needs {
  /** A folder for what is downloaded. */
  files?: string;
  /** An application of their own: what the shelf, the library or the whole of it comes to is theirs alone. */
  alone?: boolean;
  /** What that application is started with. */
  env?: Record<string, string>;
}

/**
 * The tests of a file have a browser and a page, on the application that most of them share unless they need one alone;
 * all of it ends with them.
 */
export function atHand(
  take: (opened: { app: Shown; page: Page }) => void,
  { files, env, alone = env !== undefined }: Needs = {},
): void {
  let own: App | undefined;
  let browser: Browser | undefined;
  beforeAll(async () => {
    const shared = process.env.GLYPTA_SHARED;
    if (alone || shared === undefined) own = await startApp([], undefined, env);
    browser = await openBrowser();
    const opened = await openPage(browser);
    if (files) await downloadsTo(opened, files);
    const shown = own ?? { address: shared! };
    hold(opened, shown);
    take({ app: shown, page: opened });
  });
  afterAll(async () => {
    await browser?.close();
    await own?.stop();
    if (files) rmSync(files, { recursive: true, force: true });
  });
}

export const sleep = (ms: number) => new Promise((r) => setTimeout(r, ms));

export async function until(what: string, test: () => Promise<unknown>, ms = 45000): Promise<void> {
  for (const end = Date.now() + ms; Date.now() < end; await sleep(50)) if (await test().catch(() => false)) return;
  throw new Error(
    `waited for ${what}; the page says: ${await page.evaluate(() => document.body.innerText.slice(0, 1500))}`,
  );
}
export const text = (selector: string, p = page) => p.$eval(selector, (e) => (e as HTMLElement).innerText);
export async function click(selector: string, p = page): Promise<void> {
  await p.waitForSelector(selector);
  await p.click(selector);
}
export const button = (label: string, within = '', p = page) =>
  click(
    `::-p-xpath(//${within ? `*[@aria-label="${within}"]//` : ''}button[normalize-space()=${JSON.stringify(label)}])`,
    p,
  );
export const menuItem = (label: string) => click(`::-p-xpath(//*[@role="menuitem" and normalize-space()="${label}"])`);
export const stage = (name: string) =>
  click(`::-p-xpath(//nav[@aria-label="Stages"]//button[normalize-space()="${name}"])`);
/** Presses the last key while the others are held. */
export async function chord(...keys: string[]): Promise<void> {
  for (const k of keys.slice(0, -1)) await page.keyboard.down(k as 'Control');
  await page.keyboard.press(keys[keys.length - 1] as 'z');
  for (const k of keys.slice(0, -1).reverse()) await page.keyboard.up(k as 'Control');
}
/** Finds a command by its name and runs it. */
export async function command(title: string): Promise<void> {
  await chord('Control', 'k');
  await page.waitForSelector('[aria-label="Command"]');
  await page.type('[aria-label="Command"]', title);
  await page.keyboard.press('Enter');
  await sleep(120);
}
/** Types into a value that stands in a sentence or a panel. */
export async function setValue(name: string, words: string): Promise<void> {
  await click(`[data-value="${name}"]`);
  await page.waitForSelector('input.value-input');
  await chord('Control', 'a');
  await page.keyboard.type(words);
  await page.keyboard.press('Enter');
}
export async function give(selector: string, ...paths: string[]): Promise<void> {
  await page.waitForSelector(selector);
  await ((await page.$(selector)) as ElementHandle<HTMLInputElement>).uploadFile(...paths);
}

export const rows = () => page.$$eval('[role=treeitem]', (l) => l.map((e) => e.getAttribute('aria-label')));
export async function row(name: string, ...keys: ('Control' | 'Shift')[]): Promise<void> {
  for (const k of keys) await page.keyboard.down(k);
  await click(`[role=treeitem][aria-label="${name}"]`);
  for (const k of keys) await page.keyboard.up(k);
  await sleep(250); // a second click on the same would rename it
}
export const saved = (p = page) =>
  until('it saved', async () => (await text('[data-testid=saving]', p)).startsWith('Saved'));
export const project = (): string => page.url().split('/').pop()!;
/** The project as the server has it, once all of it is saved. */
export async function savedDocument(): Promise<ProjectDocument> {
  await sleep(150);
  await saved();
  return ((await (await fetch(`${app.address}/api/projects/${project()}`)).json()) as { document: ProjectDocument })
    .document;
}
export const piece = async (name: string) => (await savedDocument()).pieces.find((p) => p.name === name)!;

/** Where the view stands on the page. */
export const frame = (): Promise<[number, number]> =>
  page.$eval('[data-testid=view]', (e) => {
    const r = e.getBoundingClientRect();
    return [r.left, r.top] as [number, number];
  });
/** Where a point of the world is on the page. */
export async function at(p: readonly [number, number, number]): Promise<[number, number]> {
  const [x, y] = await page.evaluate((q) => window.glyptaView.screenAt(q), p);
  const [l, t] = await frame();
  return [l + x, t + y];
}
/** A new project, without the shelf and its dialog: those have tests of their own. */
export async function begin(name: string): Promise<void> {
  const asked = { name, purpose: 'render', units: 'mm' };
  const made = await fetch(`${app.address}/api/projects`, {
    method: 'POST',
    headers: { 'content-type': 'application/json', origin: app.address },
    body: JSON.stringify(asked),
  });
  const { id } = (await made.json()) as { id: string };
  await page.goto(`${app.address}/bench/${id}`);
  await page.waitForSelector('[data-ready=true]');
  await page.waitForFunction(() => window.glyptaView);
}
export async function addBox(): Promise<void> {
  await click('[aria-label="New piece"]');
  await menuItem('box');
  await sleep(300);
}

const canRelease = () => page.evaluate(() => document.querySelector('button[title^="Release"]') !== null);

/**
 * Finds an island on the sheet by trying places (`from` one of 64 on), picks it and drags it a little; the answer is
 * where it then is on the page.
 */
export async function dragIsland(from = 0): Promise<[number, number]> {
  await until('the sheet', () => page.$('[aria-label="Figures of the sheet"]'));
  await click('[aria-label="Sheet tools"] button[title="Island on the sheet"]');
  const sheet = await page.$eval('[data-testid=sheet]', (e) => {
    const r = e.getBoundingClientRect();
    return { x: r.left, y: r.top, w: r.width, h: r.height };
  });
  const places = Array.from({ length: 64 }, (_, i) => [1 + (i >> 3), 1 + (i & 7)]);
  for (const [i, j] of places.slice(from)) {
    const x = sheet.x + 26 + ((sheet.w - 52) * i) / 9;
    const y = sheet.y + 120 + ((sheet.h - 260) * j) / 9;
    await page.mouse.click(x, y);
    await sleep(150); // what was picked before is not taken for what is picked now
    const found = await page.evaluate(
      () => !(document.querySelector('[aria-label="Sheet tools"] button[title^="Cut"]') as HTMLButtonElement).disabled,
    );
    // One that was placed already is not placed again.
    if (!found || (await canRelease())) continue;
    await page.mouse.move(x, y);
    await page.mouse.down();
    await page.mouse.move(x + 8, y + 6, { steps: 5 });
    await page.mouse.up();
    await until('the island can be released', canRelease);
    return [x + 8, y + 6];
  }
  throw new Error('There is no island on the sheet.');
}
/** Whether the island there was placed by hand. */
export async function isPlaced([x, y]: [number, number]): Promise<boolean> {
  await page.mouse.click(x, y);
  await sleep(200);
  return canRelease();
}
