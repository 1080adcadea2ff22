/**
 * Every screen in a real browser: WCAG 2.2 AA in both themes, eight sizes and double zoom without overlap, and a
 * newcomer's first minutes.
 */
import { readFileSync } from 'node:fs';
import type { Page } from 'puppeteer-core';
import { chord, atHand, sleep, stage, text, until, type Shown } from './hand';
import { someOf, THOROUGH } from '../src/core/testing/thorough';

let app: Shown;
let page: Page;
const axe = readFileSync(require.resolve('axe-core/axe.min.js'), 'utf8');
/** Themes differ in colours only: what is not about them is looked at in the first. */
let rules: string[];
const RULES = ['wcag2a', 'wcag2aa', 'wcag21a', 'wcag21aa', 'wcag22aa'];
const STAGES = ['Gather', 'Shape', 'Unwrap', 'Finish', 'Stage', 'Ship'];
/** What axe finds wrong, each with where it is. */
async function violations(): Promise<string[]> {
  await page.evaluate(axe);
  return page.evaluate(async (tags) => {
    type Found = { violations: { id: string; nodes: { html: string }[] }[] };
    const run = (globalThis as unknown as { axe: { run(o: object): Promise<Found> } }).axe.run;
    // Of what passes nothing is asked: telling of it takes longer than looking.
    const found = await run({ runOnly: tags, resultTypes: ['violations'] });
    return found.violations.flatMap((v) => v.nodes.map((n) => `${v.id}: ${n.html.slice(0, 200)}`));
  }, rules);
}
const toStage = async (name: string) => {
  await stage(name);
  await page.mouse.move(640, 500);
  await sleep(400);
};
async function openLamp(): Promise<void> {
  await page.goto(app.address);
  await page.waitForSelector('a[aria-label="Open Signal lamp"]');
  await page.click('a[aria-label="Open Signal lamp"]');
  await page.waitForSelector('[data-ready=true]');
  await until('the model', () => page.$('[role=treeitem] [data-count]'));
  await sleep(800);
}

atHand(
  (opened) => {
    ({ app, page } = opened);
  },
  { alone: true },
);

const THEMES: [string, string[]][] = [
  ['plaster', RULES],
  ['basalt', ['color-contrast']],
];
test.each(someOf(THEMES, 1))('no violations of WCAG 2.2 AA: %s', async (theme, which) => {
  rules = which;
  await page.goto(app.address);
  await page.evaluate((t) => localStorage.setItem('glypta-theme', t), theme);
  await page.reload();
  await page.waitForSelector('a[aria-label^="Open"]');
  expect(await violations()).toEqual([]);
  await page.click('::-p-xpath(//button[normalize-space()="New project"])');
  await page.waitForSelector('dialog');
  expect(await violations()).toEqual([]);
  await page.goto(`${app.address}/library`);
  await until('the library', () => page.$('main li'));
  expect(await violations()).toEqual([]);
  await openLamp();
  for (const name of STAGES) {
    await toStage(name);
    expect([name, await violations()]).toEqual([name, []]);
  }
  await toStage('Shape');
  // The tool in hand, with the pointer over it.
  await page.hover('.strip button[aria-pressed=true]');
  await sleep(400);
  expect(['pointed at', await violations()]).toEqual(['pointed at', []]);
  for (const key of ['?', 'A']) {
    await chord(...(key === 'A' ? ['Shift', key] : [key]));
    await page.waitForSelector('dialog');
    await sleep(400); // it fades in
    expect([key, await violations()]).toEqual([key, []]);
    await page.keyboard.press('Escape');
    await sleep(300);
  }
});

/** Controls that lie over one another, and whether the page scrolls sideways. */
const crowded = () =>
  page.evaluate(() => {
    const boxes = [
      ...document.querySelectorAll('header button, header a, .strip button, aside button, aside select, aside input'),
    ]
      .filter((e) => e.checkVisibility({ opacityProperty: true, visibilityProperty: true }))
      .map((e) => ({ e, r: e.getBoundingClientRect() }))
      .filter(({ e, r }) => {
        // What is scrolled out of its panel is not seen.
        const clip = e.closest('aside, .scroll-thin, header, .strip')?.getBoundingClientRect();
        return r.width > 0 && (!clip || (r.bottom <= clip.bottom + 1 && r.top >= clip.top - 1));
      });
    const found: string[] = [];
    for (let i = 0; i < boxes.length; i++)
      for (let j = i + 1; j < boxes.length; j++) {
        const a = boxes[i];
        const b = boxes[j];
        if (a.e.contains(b.e) || b.e.contains(a.e)) continue;
        const w = Math.min(a.r.right, b.r.right) - Math.max(a.r.left, b.r.left);
        const h = Math.min(a.r.bottom, b.r.bottom) - Math.max(a.r.top, b.r.top);
        const name = (e: Element) => e.getAttribute('aria-label') ?? (e as HTMLElement).innerText;
        if (w > 3 && h > 3) found.push(`${name(a.e)} over ${name(b.e)}`);
      }
    if (document.documentElement.scrollWidth > innerWidth + 1) found.push('the page scrolls sideways');
    const strip = document.querySelector('.strip')?.getBoundingClientRect();
    if (strip && (strip.left < 0 || strip.right > innerWidth)) found.push('the strip does not fit');
    return found;
  });

const SIZES: readonly (readonly [number, number, number])[] = [
  [1280, 800, 1],
  [1366, 768, 1],
  [1440, 900, 1],
  [1536, 864, 1],
  [1680, 1050, 1],
  [1920, 1080, 1],
  [2560, 1080, 1],
  [2560, 1440, 1],
  [2560, 1600, 2], // 200 % of 1280 × 800
];
test('nothing overlaps, in eight sizes and zoomed to twice', async () => {
  await openLamp();
  for (const name of STAGES) {
    await toStage(name);
    // Every stage in the smallest and twice as large; thoroughly in the largest, too, and the sizes between on the stage
    // with the most controls.
    for (const [width, height, zoom] of SIZES.filter(
      (_, k) => k === 0 || k === 8 || (THOROUGH && (name === 'Shape' || k === 7)),
    )) {
      // Half as many pixels each way, as everywhere: all is laid out as ever.
      await page.setViewport({ width: width / zoom, height: height / zoom, deviceScaleFactor: zoom / 2 });
      await sleep(250);
      expect([name, width, height, await crowded()]).toEqual([name, width, height, []]);
    }
    await page.setViewport({ width: 1280, height: 800, deviceScaleFactor: 0.5 });
  }
});

test('first minutes: an empty project offers what to begin with, a number typed goes to the tool in hand', async () => {
  await page.goto(app.address);
  await page.click('::-p-xpath(//button[normalize-space()="New project"])');
  await page.waitForSelector('dialog input');
  await page.click('::-p-xpath(//button[normalize-space()="Begin"])');
  await until('what is missing', async () => /Give it a name/.test(await text('dialog')));
  await page.type('dialog input', 'First');
  await page.keyboard.press('Enter');
  await page.waitForSelector('[data-ready=true]');
  await until('the cards', async () => /Start with …[\s\S]*From a picture/.test(await text('[data-testid=view]')));
  await page.keyboard.press('/');
  await until('the same over the bench', async () => /From the library/.test(await text('dialog')));
  await page.keyboard.press('Escape');
  await until('it gone', async () => (await page.$('dialog')) === null);
  await page.click('::-p-xpath(//div[@data-testid="view"]//button[starts-with(normalize-space(), "box")])');
  await until('six faces', async () => /Faces\s*6/.test(await text('[aria-label=Facts]')));
  await sleep(600);
  const [x, y] = await page.evaluate(() => {
    const r = document.querySelector('[data-testid=view]')!.getBoundingClientRect();
    const view = (globalThis as unknown as { glyptaView: { screenOf(k: string, i: number): [number, number] } })
      .glyptaView;
    const at = [0, 1, 2, 3, 4, 5].map((i) => view.screenOf('face', i)).sort((a, b) => a[1] - b[1])[0];
    return [r.left + at[0], r.top + at[1]];
  });
  await page.mouse.click(x, y);
  await until('a face', async () => /1 of 6/.test(await text('[aria-label=Facts]')));
  await page.keyboard.press('x');
  await page.waitForSelector('.tool-line');
  await page.keyboard.type('3 cm'); // begins with a digit that picks edges otherwise
  await page.keyboard.press('Tab'); // on to the inset
  await page.keyboard.type('4');
  await page.keyboard.press('Enter');
  await page.keyboard.press('Enter');
  await until('both values', async () => /extrude 1 face by 30 mm[\s\S]*insetting 4 mm/.test(await text('ol')));
});

test('undo names what it undoes; many at once by the list, and forward again', async () => {
  await page.waitForSelector('button[aria-label="Undo extrude"]');
  await page.click('button[aria-label="What was done"]');
  await page.waitForSelector('dialog li');
  await until('the changes', async () => /Extrude[\s\S]*Add a box[\s\S]*As it was opened/i.test(await text('dialog')));
  await page.click('::-p-xpath(//dialog//button[contains(., "As it was opened")])');
  await until('nothing left', async () => /Start with/.test(await text('[data-testid=view]')));
  await page.click('dialog li:first-child button');
  await until('all of it', async () => /30 mm/.test(await text('ol[class*=scroll-thin]')));
  await page.keyboard.press('Escape');
});

test('a key of one’s own works, takes the key from another, and is kept', async () => {
  await sleep(300);
  await page.keyboard.press('?');
  await page.waitForSelector('[aria-label="Filter keys"]');
  await page.type('[aria-label="Filter keys"]', 'next shading');
  await page.click('button[aria-label^="Key of Next shading"]');
  await page.keyboard.press('j');
  await until('the new key', () => page.$('button[aria-label="Key of Next shading: J. Change it"]'));
  await page.keyboard.press('Escape');
  await until('the bench', async () => (await page.$('dialog')) === null);
  const before = await text('[data-testid=view]');
  await page.keyboard.press('j');
  await until(
    'another shading',
    async () => (await text('[data-testid=view]')) !== before && /lines only/.test(await text('[data-testid=view]')),
  );
  await page.reload();
  await page.waitForSelector('[data-ready=true]');
  await page.keyboard.press('j');
  await until('it again', async () => /lines only/.test(await text('[data-testid=view]')));
});

test('the tour has five stops and can be left', async () => {
  rules = RULES;
  await chord('Control', 'k');
  await page.waitForSelector('[aria-label="Command"]');
  await page.keyboard.type('tutorial'); // another word for it
  await sleep(200);
  await page.keyboard.press('Enter');
  for (let i = 1; i <= 5; i++) {
    await until(`stop ${i}`, async () => (await text('[aria-label="A short tour"]')).startsWith(`${i} of 5`));
    expect(await violations()).toEqual([]);
    await page.click(
      `::-p-xpath(//div[@aria-label="A short tour"]//button[normalize-space()="${i < 5 ? 'Next' : 'Begin'}"])`,
    );
  }
  await until('it gone', async () => (await page.$('[aria-label="A short tour"]')) === null);
});

test('a model dropped on the shelf begins a project with it', async () => {
  await page.goto(app.address);
  await page.waitForSelector('main li');
  await page.evaluate(() => {
    const data = new DataTransfer();
    data.items.add(new File(['o hut\nv 0 0 0\nv 1 0 0\nv 0 1 0\nf 1 2 3\n'], 'tide hut.obj'));
    const on = document.querySelector('main')!;
    for (const type of ['dragover', 'drop'])
      on.dispatchEvent(new DragEvent(type, { dataTransfer: data, bubbles: true, cancelable: true }));
  });
  await page.waitForSelector('[data-ready=true]');
  await until('the piece', () => page.$('[role=treeitem][aria-label="hut"]'));
  expect(await text('header')).toMatch(/tide hut/);
});
