/** Benchmarks in a real browser: from the shelf to a usable bench, the tree with 5,000 pieces, 2,000 linked copies. */
import { gzipSync } from 'node:zlib';
import type { CDPSession, Page } from 'puppeteer-core';
import { writeBundle } from '../src/document/bundle';
import * as changes from '../src/document/changes';
import type { ProjectDocument } from '../src/document/types';
import { startApp, openBrowser, type App } from '../tests/support';

type Window = typeof globalThis & {
  glyptaView?: { screenOf(kind: string, i: number): unknown; layer: { cost: { meshes: number; surfaces: number } } };
};

async function inBrowser<T>(work: (page: Page, app: App) => Promise<T>): Promise<T> {
  const app = await startApp();
  const browser = await openBrowser();
  try {
    return await work(await browser.newPage(), app);
  } finally {
    await browser.close();
    await app.stop();
  }
}

const usable = (page: Page) =>
  page.waitForFunction(
    () => document.querySelector('[data-ready=true]') && (globalThis as Window).glyptaView?.screenOf('face', 0),
    { polling: 20, timeout: 60000 },
  );

export const openBench = (): Promise<number> =>
  inBrowser(async (page, app) => {
    const times: number[] = [];
    for (let i = 0; i < 5; i++) {
      await page.goto(app.address, { waitUntil: 'networkidle0' });
      await page.waitForSelector('a[aria-label="Open Signal lamp"]');
      const start = performance.now();
      await page.click('a[aria-label="Open Signal lamp"]');
      await usable(page);
      times.push(performance.now() - start);
    }
    return times.sort((a, b) => a - b)[2];
  });

/** Kilobytes of script, compressed, that a page names before anything is done on it. */
export const firstLoad = (): Promise<{ shelf: number; bench: number }> =>
  inBrowser(async (page, app) => {
    const size = async (path: string) => {
      const html = await (await fetch(app.address + path)).text();
      const scripts = new Set([...html.matchAll(/\/_next\/static\/chunks\/[^"'\\ ]+\.js/g)].map((m) => m[0]));
      let bytes = 0;
      for (const s of scripts) bytes += gzipSync(await (await fetch(app.address + s)).text()).length;
      return bytes / 1024;
    };
    await page.goto(app.address);
    const link = await page.waitForSelector('a[aria-label="Open Signal lamp"]');
    const bench = await link!.evaluate((a) => (a as HTMLAnchorElement).pathname);
    return { shelf: await size('/'), bench: await size(bench) };
  });

async function bring(app: App, doc: ProjectDocument): Promise<string> {
  const r = await fetch(`${app.address}/api/projects/import`, {
    method: 'POST',
    headers: { 'Content-Type': 'application/zip' },
    body: writeBundle(doc, new Map()) as Uint8Array<ArrayBuffer>,
  });
  return ((await r.json()) as { id: string }).id;
}

const scriptTime = async (cdp: CDPSession): Promise<number> =>
  1000 * ((await cdp.send('Performance.getMetrics')).metrics.find((m) => m.name === 'ScriptDuration')?.value ?? 0);

/** Script per frame, milliseconds: the 95th of a hundred steps of scrolling, and of typing into the filter. */
export const tree = (): Promise<{ scroll: number; filter: number }> =>
  inBrowser(async (page, app) => {
    const doc = changes.newProject('Quay', 'game', 'm');
    for (let g = 0; g < 50; g++) {
      doc.pieces.push({ ...structuredClone(groupLike), id: `g${g}`, name: `house ${g}` });
      for (let i = 0; i < 99; i++)
        doc.pieces.push({
          ...structuredClone(groupLike),
          id: `p${g}-${i}`,
          name: `brick ${g}-${i}`,
          kind: 'mesh',
          parent: `g${g}`,
          link: g + i ? 'p0-0' : null,
          recipe: g + i ? [] : [{ id: 's', kind: 'box', values: { width: 0.2, height: 0.1, depth: 0.1 }, on: true }],
          place: { at: [0.25 * i, 0, 0.5 * g], turn: [0, 0, 0], size: [1, 1, 1], lean: [0, 0, 0], pivot: [0, 0, 0] },
        });
    }
    const id = await bring(app, doc);
    const cdp = await page.createCDPSession();
    await cdp.send('Performance.enable');
    await page.goto(`${app.address}/bench/${id}`);
    await usable(page);
    const steps: number[] = [];
    const typed: number[] = [];
    const frame = () =>
      page.evaluate(
        () =>
          new Promise((r) => {
            requestAnimationFrame(() => requestAnimationFrame(r));
          }),
      );
    for (let i = 0; i < 100; i++) {
      const before = await scriptTime(cdp);
      await page.$eval('[role=tree]', (e) => {
        e.scrollTop += 390;
      });
      await frame();
      steps.push((await scriptTime(cdp)) - before);
    }
    await page.click('[aria-label="Find a piece"]');
    await page.waitForSelector('[aria-label="Find a piece by name"]');
    await page.focus('[aria-label="Find a piece by name"]');
    for (const key of 'brick 12-3'.split('').concat(Array<string>(10).fill('Backspace'))) {
      const before = await scriptTime(cdp);
      await page.keyboard.press(key as 'a');
      await frame();
      typed.push(((await scriptTime(cdp)) - before) / 2); // two frames: the key's, and the list's that follows it
    }
    const p95 = (l: number[]) => l.sort((a, b) => a - b)[Math.floor(0.95 * l.length)];
    return { scroll: p95(steps), filter: p95(typed) };
  });

const groupLike: ProjectDocument['pieces'][number] = {
  id: '',
  name: '',
  kind: 'group',
  parent: null,
  link: null,
  recipe: [],
  place: { at: [0, 0, 0], turn: [0, 0, 0], size: [1, 1, 1], lean: [0, 0, 0], pivot: [0, 0, 0] },
  visible: true,
  locked: false,
  ghost: false,
  upTo: null,
  smooth: 0.5,
};

/** 2,000 linked copies of a piece of about 1,000 faces: meshes held, and calls for their faces. */
export const links = (): Promise<{ meshes: number; surfaces: number }> =>
  inBrowser(async (page, app) => {
    const doc = changes.newProject('Chain', 'game', 'm');
    changes.addPiece(doc, 'link', 'link');
    changes.addStep(doc, 'link', 'box', 's', { width: 0.1, height: 0.1, depth: 0.1, cutX: 13, cutY: 13, cutZ: 13 });
    for (let i = 1; i <= 2000; i++)
      doc.pieces.push({
        ...structuredClone(doc.pieces[0]),
        id: `l${i}`,
        name: `link ${i}`,
        link: 'link',
        recipe: [],
        place: { ...structuredClone(groupLike.place), at: [0.15 * (i % 50), 0, 0.15 * Math.floor(i / 50)] },
      });
    const id = await bring(app, doc);
    await page.goto(`${app.address}/bench/${id}`);
    await usable(page);
    return page.evaluate(() => (globalThis as Window).glyptaView!.layer.cost);
  });

interface Profile {
  nodes: { id: number; callFrame: { url: string } }[];
  samples: number[];
  timeDeltas: number[];
}

/**
 * Milliseconds that the page's own code took while something was done: what the graphics driver in software takes is
 * not counted.
 */
async function ownTime(cdp: CDPSession, work: () => Promise<void>, wait: number): Promise<number> {
  await cdp.send('Profiler.start');
  await work();
  await new Promise((r) => {
    setTimeout(r, wait);
  });
  const { profile } = (await cdp.send('Profiler.stop')) as unknown as { profile: Profile };
  const own = new Set(profile.nodes.filter((n) => n.callFrame.url !== '').map((n) => n.id));
  return profile.samples.reduce((sum, id, i) => sum + (own.has(id) ? profile.timeDeltas[i] / 1000 : 0), 0);
}

/**
 * Picking in a million triangles: what the page's own code takes for a click, a growth, all that is flat around, other
 * kinds; milliseconds.
 */
export const picking = (): Promise<{ what: string; took: number }[]> =>
  inBrowser(async (page, app) => {
    const doc = changes.newProject('Block', 'game', 'm');
    changes.addPiece(doc, 'block', 'block');
    const cuts = { cutX: 289, cutY: 289, cutZ: 289 };
    changes.addStep(doc, 'block', 'box', 's', { width: 1, height: 1, depth: 1, ...cuts });
    const id = await bring(app, doc);
    await page.goto(`${app.address}/bench/${id}`);
    await usable(page);
    await page.click('[role=treeitem]');
    const cdp = await page.createCDPSession();
    await cdp.send('Profiler.enable');
    await cdp.send('Profiler.setSamplingInterval', { interval: 250 });
    const rest = (ms: number) =>
      new Promise((r) => {
        setTimeout(r, ms);
      });
    await page.keyboard.press('4');
    await rest(12000);
    const out: { what: string; took: number }[] = [];
    const act = async (what: string, work: () => Promise<void>) => {
      await rest(1500);
      out.push({ what, took: await ownTime(cdp, work, 4000) });
    };
    const [x, y] = [660, 420];
    await page.mouse.click(x - 20, y);
    await act('a click', () => page.mouse.click(x, y));
    await act('a click elsewhere', () => page.mouse.click(x + 40, y + 9));
    await act('one more, by Shift', async () => {
      await page.keyboard.down('Shift');
      await page.mouse.click(x + 70, y + 10);
      await page.keyboard.up('Shift');
    });
    await act('growing it', () => page.keyboard.press('.'));
    await act('its vertices', () => page.keyboard.press('2'));
    await act('a click on a vertex', () => page.mouse.click(x, y));
    await page.keyboard.press('3');
    await act('a click on an edge', () => page.mouse.click(x, y));
    return out;
  });
