/** The shelf and bringing files in, in a real browser. */
import { mkdtempSync, readdirSync, readFileSync, writeFileSync } from 'node:fs';
import { tmpdir } from 'node:os';
import { join } from 'node:path';
import { spawnSync } from 'node:child_process';
import type { Page } from 'puppeteer-core';
import { readZipPaths } from '../src/core/formats';
import { click, give, atHand, menuItem, sleep, until, type Shown } from './hand';
import { thoroughly } from '../src/core/testing/thoroughly';

let app: Shown, page: Page;
const files = mkdtempSync(join(tmpdir(), 'glypta-files-'));
const cards = () => page.$$eval('main ul > li', (l) => l.map((e) => (e as HTMLElement).innerText.split('\n')[0]));
const choose = async (project: string, action: string) => {
  await click(`[aria-label="Actions for ${project}"]`);
  await menuItem(action);
};
const write = (name: string, content: string) => {
  writeFileSync(join(files, name), content);
  return join(files, name);
};

atHand(
  (opened) => {
    ({ app, page } = opened);
  },
  { files, alone: true },
);
beforeAll(() => page.goto(app.address));

test('copy, search, bin, restore, remove for good', async () => {
  await until('the demo', async () => (await cards()).includes('Signal lamp'));
  await choose('Signal lamp', 'Make a copy');
  await until('the copy', async () => (await cards()).includes('Signal lamp copy'));
  await page.type('[aria-label="Find a project"]', 'copy');
  await until('one found', async () => (await cards()).join() === 'Signal lamp copy');
  await choose('Signal lamp copy', 'Put in the bin');
  await until('nothing by that name', async () =>
    /No project is called “copy”/.test(await page.$eval('main', (m) => m.innerText)),
  );
  await page.click('[aria-label="Find a project"]', { count: 3 });
  await page.keyboard.press('Backspace');
  await click('::-p-xpath(//button[starts-with(normalize-space(), "Bin")])');
  await until('it in the bin', async () => (await cards()).join() === 'Signal lamp copy');
  await choose('Signal lamp copy', 'Restore');
  await until('the bin empty', async () => /The bin is empty/.test(await page.$eval('main', (m) => m.innerText)));
  await click('::-p-xpath(//button[normalize-space()="Back to the projects"])');
  await choose('Signal lamp copy', 'Put in the bin');
  await click('::-p-xpath(//button[starts-with(normalize-space(), "Bin")])');
  await choose('Signal lamp copy', 'Remove for good');
  await until('it gone', async () => (await cards()).length === 0);
  await click('::-p-xpath(//button[normalize-space()="Back to the projects"])');
});

test('a project with pictures leaves as one ZIP and comes back the same, to the byte', async () => {
  await page.goto(app.address);
  await choose('Pilot skiff', 'Export');
  await until('the file', async () => readdirSync(files).includes('pilot-skiff.glypta.zip'));
  await sleep(500);
  const first = readFileSync(join(files, 'pilot-skiff.glypta.zip'));
  await give('input[aria-label="Project file"]', join(files, 'pilot-skiff.glypta.zip'));
  await until('two of them', async () => (await page.$$('[aria-label="Open Pilot skiff"]')).length === 2);
  const list = (
    (await (await fetch(`${app.address}/api/projects`)).json()) as { projects: { id: string; name: string }[] }
  ).projects.filter((p) => p.name === 'Pilot skiff');
  for (const p of list)
    expect(
      Buffer.from(await (await fetch(`${app.address}/api/projects/${p.id}/export`)).arrayBuffer()).equals(first),
    ).toBe(true);
});

thoroughly(
  'a project exported is made by the command line, and imported again; rubbish is refused in a sentence',
  async () => {
    await choose('Signal lamp', 'Export');
    await until('the file', async () => readdirSync(files).includes('signal-lamp.glypta.zip'));
    const exported = join(files, 'signal-lamp.glypta.zip');
    await sleep(500);
    const made = spawnSync(
      join(process.cwd(), 'glypta'),
      ['make', exported, '--out', join(files, 'out'), '--formats', 'glb'],
      { encoding: 'utf8' },
    );
    expect(made.status).toBe(0);
    await give('[aria-label="Project file"]', exported);
    await until('two of them', async () => (await cards()).filter((c) => c === 'Signal lamp').length === 2);
    for (const [name, content, told] of [
      ['broken.json', '{"glypta":1', /readable JSON/],
      ['other.json', '{"hello":1}', /not a project that Glypta exported/],
      ['newer.json', '{"glypta":99}', /newer version/],
      [
        'spoilt.json',
        new TextDecoder()
          .decode(readZipPaths(new Uint8Array(readFileSync(exported))).get('project.json'))
          .replace('"units":"mm"', '"units":"elbows"'),
        /cannot be accepted/,
      ],
    ] as const) {
      await give('[aria-label="Project file"]', write(name, content));
      await until(name, async () => told.test(await page.$eval('[role=alert]', (e) => (e as HTMLElement).innerText)));
    }
    expect((await cards()).filter((c) => c === 'Signal lamp').length).toBe(2);
  },
);

test('an OBJ with its MTL comes in as pieces with materials; what is wrong with it is said; it stays after a reload', async () => {
  await click('::-p-xpath(//button[normalize-space()="New project"])');
  await page.waitForSelector('dialog input');
  await page.type('dialog input', 'Imports');
  await click('::-p-xpath(//button[normalize-space()="Begin"])');
  await page.waitForSelector('[data-ready=true]');
  write('hut.mtl', 'newmtl Tar\nKd 0.1 0.1 0.12\nPr 0.9\n');
  const obj = write(
    'hut.obj',
    'mtllib hut.mtl\nusemtl Tar\no wall\nv 0 0 0\nv 1 0 0\nv 1 1 0\nv 0 1 0\nf 1 2 3 4\no roof\nv 0 2 0\n' +
      'f 4 3 5\nf 4 3 99\n',
  );
  await click('[aria-label="New piece"]');
  await give('[aria-label="Model file"]', obj, join(files, 'hut.mtl'));
  await until('the pieces', async () => (await page.$$('[role=treeitem]')).length === 3);
  await until('the report', async () =>
    /2 pieces, 2 faces\. .*face 3 names vertex 99, but the file has 5/.test(
      await page.$eval('.tool-line', (e) => (e as HTMLElement).innerText),
    ),
  );
  await until('it saved', async () =>
    (await page.$eval('[data-testid=saving]', (e) => (e as HTMLElement).innerText)).startsWith('Saved'),
  );
  await page.reload();
  await page.waitForFunction(() =>
    (globalThis as unknown as { glyptaView?: { screenOf(k: string, i: number): unknown } }).glyptaView?.screenOf(
      'face',
      0,
    ),
  );
  expect(await page.$$eval('[role=treeitem]', (l) => l.map((e) => e.getAttribute('aria-label')))).toEqual([
    'hut',
    'wall',
    'roof',
  ]);
  await click('::-p-xpath(//nav[@aria-label="Stages"]//button[normalize-space()="Finish"])');
  await until('its material', async () =>
    /Tar/.test(await page.$eval('[aria-label="Materials"]', (e) => (e as HTMLElement).innerText)),
  );
});

test.each([
  ['empty.obj', '', /empty\.obj is empty/],
  ['letter.obj', 'Dear keeper,\n', /holds no vertices/],
  ['picture.glb', 'PNG', /not a GLB/],
  ['notes.txt', 'hello', /of no kind that can be read/],
])('%s is refused in one sentence and changes nothing', async (name, content, told) => {
  await click('[aria-label="New piece"]');
  await give('[aria-label="Model file"]', write(name, content));
  await until('the sentence', async () =>
    told.test(await page.$eval('.tool-line', (e) => (e as HTMLElement).innerText)),
  );
  expect((await page.$$('[role=treeitem]')).length).toBe(3);
  await page.keyboard.press('Escape');
});
