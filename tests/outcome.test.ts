/**
 * The whole outcome in a real browser: a person models a lamp from a box, unwraps it, colours it, takes it home, the
 * database dies in the middle, another window interferes, the browser is closed, and everything is there and still
 * editable.
 */
import { mkdtempSync, readdirSync, readFileSync, rmSync } from 'node:fs';
import { tmpdir } from 'node:os';
import { join } from 'node:path';
import type { Browser, Page } from 'puppeteer-core';
import * as validator from 'gltf-validator';
import { readAny, reportOf } from '../src/core/formats';
import { button, chord, click, dragIsland, hold, saved, setValue, sleep, stage, text, until } from './hand';
import { downloadsTo, openBrowser, openPage, postgresPid, startApp, type App } from './support';

let app: App;
let browser: Browser;
let page: Page;
let project = '';
const profile = mkdtempSync(join(tmpdir(), 'glypta-profile-'));
const downloads = mkdtempSync(join(tmpdir(), 'glypta-downloads-'));
const drawn = (p = page) =>
  until('the model in the view', () => p.evaluate(() => !!window.glyptaView?.screenOf('face', 0)));
const fact = async (name: string) =>
  page.evaluate(
    (n) =>
      [...document.querySelectorAll('dl .row')]
        .find((r) => r.querySelector('dt')?.textContent === n)
        ?.querySelector('dd')?.textContent ?? '',
    name,
  );
/** Clicks the element of this number where it stands on the screen. */
async function pick(kind: string, index: number, how: { shift?: boolean; double?: boolean } = {}): Promise<void> {
  const at = await page.evaluate(
    (k, i) => {
      const r = document.querySelector('[data-testid=view]')!.getBoundingClientRect();
      const s = window.glyptaView.screenOf(k, i)!;
      return [r.left + s[0], r.top + s[1]];
    },
    kind,
    index,
  );
  if (how.shift) await page.keyboard.down('Shift');
  await page.mouse.click(at[0], at[1], { count: how.double ? 2 : 1 });
  if (how.shift) await page.keyboard.up('Shift');
}
/** The number of an element whose middle can be picked: the topmost on the screen, or the lowest. */
const extreme = (kind: string, count: number, way: 1 | -1) =>
  page.evaluate(
    (k, n, w) =>
      Array.from({ length: n }, (_, i) => i).sort(
        (a, b) => w * (window.glyptaView.screenOf(k, a)![1] - window.glyptaView.screenOf(k, b)![1]),
      )[0],
    kind,
    count,
    way,
  );
const then = async (words: string) => {
  await page.keyboard.press('/');
  await page.keyboard.type(words);
  await page.keyboard.press('Enter');
};
beforeAll(async () => {
  app = await startApp();
  browser = await openBrowser(profile);
  page = await openPage(browser);
  await downloadsTo(page, downloads);
  hold(page, app);
});
afterAll(async () => {
  await browser?.close();
  await app?.stop();
  for (const d of [profile, downloads]) rmSync(d, { recursive: true, force: true });
});

test('the shelf shows the demo with a picture; a new project opens its bench', async () => {
  await page.goto(app.address);
  await page.waitForSelector('a[aria-label="Open Signal lamp"] img');
  await until('the picture', () =>
    page.$eval('a[aria-label="Open Signal lamp"] img', (i) => (i as HTMLImageElement).naturalWidth === 480),
  );
  await button('New project');
  await page.waitForSelector('dialog input');
  await page.type('dialog input', 'Harbour lamp');
  await button('Begin');
  await page.waitForSelector('[data-ready=true]');
  project = page.url().split('/').pop()!;
  await until('what to start with', async () => (await text('[data-testid=view]')).includes('Start with'));
});

test('a box, a face extruded with a typed value, undone and done again', async () => {
  await click('[aria-label="New piece"]');
  await click('::-p-xpath(//button[@role="menuitem" and normalize-space()="box"])');
  await drawn();
  expect(await fact('Faces')).toBe('6');
  await pick('face', await extreme('face', 6, 1)); // the top
  await until('one face picked', async () => (await fact('Faces')) === '1 of 6');
  await until('its area', async () => (await fact('Area')) === '100 cm²');
  await page.keyboard.press('x');
  await page.waitForSelector('[aria-label="The tool in hand"]');
  await click('[aria-label="The tool in hand"] [data-value="by"]');
  await page.keyboard.down('Control');
  await page.keyboard.press('a');
  await page.keyboard.up('Control');
  await page.keyboard.type('2 cm + 30 mm');
  await page.keyboard.press('Enter');
  await page.keyboard.press('Enter');
  await until('eleven faces… ten of them walls and caps', async () => (await fact('Faces')) === '1 of 10');
  await saved();
  await chord('Control', 'z');
  await until('the undo', async () => (await fact('Faces')).endsWith('of 6') || (await fact('Faces')) === '6');
  await chord('Control', 'Shift', 'z');
  await until('the redo', async () => (await fact('Faces')).endsWith('10'));
  expect(await text('ol')).toMatch(/extrude 1 face by 50 mm along their normals/);
});

test('Esc takes back what is in hand', async () => {
  await page.keyboard.press('x');
  await until('the second extrusion', async () => (await fact('Faces')) === '1 of 14');
  await page.keyboard.press('Escape');
  await until('ten faces again', async () => (await fact('Faces')) === '1 of 10');
});

test('a handle dragged moves the pick; a value typed with a unit where none fits is refused in words', async () => {
  await page.keyboard.press('s');
  await setValue('cutX', '2 m');
  expect(await text('[role=alert]')).toMatch(/plain number/);
  await page.keyboard.press('Escape');
  await page.keyboard.press('s');
  await page.keyboard.press('Home');
  await page.keyboard.press('m');
  await sleep(300);
  const at = await page.evaluate(() => {
    const r = document.querySelector('[data-testid=view]')!.getBoundingClientRect();
    return [r.left, r.top];
  });
  const faces = 10;
  const top = await extreme('face', faces, 1);
  const from = await page.evaluate((i) => window.glyptaView.screenOf('face', i)!, top);
  await page.mouse.move(at[0] + from[0], at[1] + from[1] - 60); // on the y handle
  await page.mouse.down();
  await page.mouse.move(at[0] + from[0], at[1] + from[1] - 80, { steps: 4 });
  await page.mouse.up();
  await until('a move in the recipe', async () => /move 1 face by/i.test(await text('ol')));
  await chord('Control', 'z');
  await page.keyboard.press('Escape');
});

test('steps after it: mirror and subdivide, live while the cage is edited', async () => {
  await then('mirror');
  await then('subdivide');
  await until(
    'the smooth result',
    async () => Number(await page.$eval('[role=treeitem] [data-count]', (e) => (e as HTMLElement).dataset.count)) > 300,
  );
  expect(await text('ol')).toMatch(/3\s*Mirror across X[\s\S]*4\s*Subdivide 2 times/);
  await setValue('levels', '1');
  await until('one level', async () => /Subdivide 1 time/.test(await text('ol')));
});

test('seams marked in the view, unfolded, packed; figures; an island moved by hand', async () => {
  await stage('Unwrap');
  await button('Unfold');
  await until('the figures', async () =>
    /Fill[\s\S]*Stretch[\s\S]*Texels[\s\S]*Overlaps/.test(await text('[data-testid=sheet]')),
  );
  await page.keyboard.press('3');
  await pick('edge', await extreme('edge', 40, 1), { double: true });
  await page.keyboard.press('k');
  await until('seams in the sentence', async () => /Unwrap along [1-9]\d* seam/.test(await text('ol')));
  await click('[aria-label="Sheet tools"] button[title="Island on the sheet"]');
  await dragIsland();
  await saved();
});

test('materials: a colour for all, another for picked faces, a texture', async () => {
  await stage('Finish');
  await click('[aria-label="New material"]');
  await click('::-p-xpath(//button[starts-with(normalize-space(), "Give to all")])');
  await until('a colour step', async () => /Colour in Material/.test(await text('ol')));
  await click('[aria-label="New material"]');
  await page.keyboard.press('4');
  await pick('face', await extreme('face', 20, 1));
  await click('::-p-xpath(//button[starts-with(normalize-space(), "Give to 1 face")])');
  await until('one material more', async () => /Colour in Material, and 1 other/.test(await text('ol')));
  await button('Make texture');
  await until('the texture step', async () => /Make texture color at 1024 px/.test(await text('ol')));
  await saved();
});

test('the database killed in the middle: work goes on, waits here, and is saved when it is back', async () => {
  await stage('Shape');
  const before = await text('[data-testid=saving]');
  process.kill(postgresPid(app.data), 'SIGKILL');
  await setValue('width', '120 mm');
  await until('the new width', async () => /box 120 mm/.test(await text('ol')));
  await until(
    'saved after all',
    async () => {
      const now = await text('[data-testid=saving]');
      return now.startsWith('Saved') && now !== before;
    },
    40000,
  );
}, 90000);

test('taken home as GLB and as OBJ, MTL and PNG', async () => {
  await stage('Ship');
  await until('it was looked over', async () => /tris/.test(await text('[aria-label="Before it goes"]')));
  await button('Download');
  await until('the GLB', async () => readdirSync(downloads).includes('harbour-lamp.glb'));
  const glb = new Uint8Array(readFileSync(join(downloads, 'harbour-lamp.glb')));
  expect((await validator.validateBytes(glb)).issues).toMatchObject({ numErrors: 0, numWarnings: 0 });
  const scene = await readAny(glb, 'a.glb');
  const r = reportOf(scene);
  expect(r).toMatchObject({ closed: true, oriented: true, uv: { sets: 1 } });
  expect(r.bounds.max[0] - r.bounds.min[0]).toBeGreaterThan(0.09); // metres, real size
  expect(scene.images.length).toBe(2);
  await page.select('[aria-label="How to ship"] select', 'obj');
  await button('Download');
  await until('the ZIP', async () => readdirSync(downloads).includes('harbour-lamp.zip'));
  const back = await readAny(new Uint8Array(readFileSync(join(downloads, 'harbour-lamp.zip'))), 'harbour-lamp.zip');
  expect(back.warnings).toEqual([]);
  expect(back.materials[0].maps?.color).toBe(0);
  expect(Math.abs(reportOf(back).volumeIfClosed / r.volumeIfClosed - 1)).toBeLessThan(1e-3);
});

test('two windows: each follows the other; the second of two at once gets a plain choice, and its work as a copy', async () => {
  const other = await openPage(browser);
  await other.goto(page.url());
  await drawn(other);
  const inOther = async (value: string, to: string) => {
    await other.bringToFront();
    await click(`[data-value="${value}"]`, other);
    await other.keyboard.down('Control');
    await other.keyboard.press('a');
    await other.keyboard.up('Control');
    await other.keyboard.type(to);
    await other.keyboard.press('Enter');
  };
  await page.bringToFront();
  await stage('Shape');
  await setValue('height', '95 mm');
  await until('it in the other', async () => /120 mm × 95 mm × 100 mm/.test(await text('ol', other)));
  await inOther('depth', '80 mm');
  await until('it in this one', async () => /120 mm × 95 mm × 80 mm/.test(await text('ol')));
  await inOther('depth', '100 mm');
  await until('that too', async () => /120 mm × 95 mm × 100 mm/.test(await text('ol')));
  // What was done here is undone from here, round what the other did.
  await page.bringToFront();
  await chord('Control', 'z');
  await until('undone in both', async () => /120 mm × (?!95 mm)\d+ mm × 100 mm/.test(await text('ol', other)));

  // What is done while it cannot be saved comes second.
  await other.setOfflineMode(true);
  await inOther('depth', '70 mm');
  await until('what waits', async () => /wait/.test(await text('[data-testid=saving]', other)));
  await page.bringToFront();
  await setValue('height', '90 mm');
  await saved();
  await other.bringToFront();
  await other.setOfflineMode(false);
  await other.waitForSelector('::-p-xpath(//dialog[contains(., "changed in another window")])');
  await Promise.all([other.waitForNavigation(), button('Keep mine as a copy', '', other)]);
  await drawn(other);
  const mine = await text('ol', other);
  expect(mine).toMatch(/120 mm × (?!90 mm)\d+ mm × 70 mm/);
  await other.close();
  await page.bringToFront();
  expect(await text('ol')).toMatch(/120 mm × 90 mm × 100 mm/);
});

test('keys, themes, search, panels', async () => {
  await chord('Control', 'k');
  await page.waitForSelector('dialog input');
  await page.keyboard.type('dark theme');
  await page.keyboard.press('Enter');
  await until('the other theme', () => page.evaluate(() => document.documentElement.dataset.theme === 'basalt'));
  await page.keyboard.press('\\');
  await until('the view alone', async () => (await page.$('[aria-label="Pieces and recipe"]')) === null);
  await page.keyboard.press('\\');
  await page.keyboard.press('?');
  await until('the keys', async () => /Loop cuts/.test(await text('dialog')));
  await page.keyboard.press('Escape');
  expect(await page.evaluate(() => document.documentElement.scrollWidth <= innerWidth)).toBe(true);
});

test('the browser closed, the application stopped; all is there the next day, and still editable', async () => {
  const recipe = await text('ol');
  await browser.close();
  app.process.kill('SIGTERM');
  await new Promise((r) => app.process.once('exit', r));
  expect(() => process.kill(postgresPid(app.data), 0)).toThrow(); // no server left behind
  app = await startApp([], app.data);
  browser = await openBrowser(profile);
  page = await openPage(browser);
  hold(page, app);
  await page.goto(`${app.address}/bench/${project}`);
  await drawn();
  expect(await text('ol')).toBe(recipe);
  await setValue('height', '95 mm');
  await saved();
  expect(await text('ol')).toMatch(/120 mm × 95 mm × 100 mm/);
}, 120000);
