/** Gather and place, in a real browser: dropping files, the tree, copies, placing, blueprints, measures, views, the library, bundles. */
import { mkdtempSync, readdirSync, readFileSync, rmSync, writeFileSync } from 'node:fs';
import { tmpdir } from 'node:os';
import { join } from 'node:path';
import type { Browser, ElementHandle, Page } from 'puppeteer-core';
import { writeStl, writePng, emptyScene, writeZip } from '../src/core/formats';
import { box, cubeSphere } from '../src/core/make';
import { Sheet } from '../src/demo/drawing';
import type { ProjectDocument } from '../src/document/types';
import { openBrowser, startApp, type App } from './support';

jest.setTimeout(90000);
let app: App, browser: Browser, page: Page;
const files = mkdtempSync(join(tmpdir(), 'glypta-gather-'));
const sleep = (ms: number) => new Promise((r) => setTimeout(r, ms));
const deg = Math.PI / 180;

interface View {
  screenAt(at: readonly number[]): [number, number];
  layer: { cost: { meshes: number; surfaces: number } };
  planes: { worldAt(piece: string, u: number, v: number): { x: number; y: number; z: number } | null };
  panes: { x: number; y: number; width: number; camera: { view: string } }[];
  camera: { yaw: number };
}
type Window = typeof globalThis & { glyptaView: View };

async function until(what: string, test: () => Promise<unknown>, ms = 20000): Promise<void> {
  for (const end = Date.now() + ms; Date.now() < end; await sleep(80)) if (await test().catch(() => false)) return;
  throw new Error(
    `waited for ${what}; the page says: ${await page.evaluate(() => document.body.innerText.slice(0, 1200))}`,
  );
}
const click = async (selector: string) => {
  await page.waitForSelector(selector);
  await page.click(selector);
};
const button = (text: string, within = '') =>
  click(`::-p-xpath(//${within ? `*[@aria-label="${within}"]//` : ''}button[normalize-space()="${text}"])`);
const rows = () => page.$$eval('[role=treeitem]', (l) => l.map((e) => e.getAttribute('aria-label')));
const row = (name: string, ...keys: ('Control' | 'Shift')[]) =>
  (async () => {
    for (const k of keys) await page.keyboard.down(k);
    await click(`[role=treeitem][aria-label="${name}"]`);
    for (const k of keys) await page.keyboard.up(k);
    await sleep(250);
  })();
const project = (): string => page.url().split('/').pop()!;
const saved = () =>
  until('it saved', async () =>
    (await page.$eval('[data-testid=saving]', (e) => (e as HTMLElement).innerText)).startsWith('Saved'),
  );
const document_ = async (): Promise<ProjectDocument> => {
  await sleep(150);
  await saved();
  return ((await (await fetch(`${app.address}/api/projects/${project()}`)).json()) as { document: ProjectDocument })
    .document;
};
const piece = async (name: string) => (await document_()).pieces.find((p) => p.name === name)!;
const give = async (label: string, ...paths: string[]) => {
  await page.waitForSelector(`input[aria-label="${label}"]`);
  await ((await page.$(`input[aria-label="${label}"]`)) as ElementHandle<HTMLInputElement>).uploadFile(...paths);
};
const write = (name: string, content: string | Uint8Array) => {
  writeFileSync(join(files, name), content);
  return join(files, name);
};
const frame = async (): Promise<[number, number]> =>
  page.$eval('[data-testid=view]', (e) => {
    const r = e.getBoundingClientRect();
    return [r.left, r.top] as [number, number];
  });
const at = async (p: readonly [number, number, number]): Promise<[number, number]> => {
  const [x, y] = await page.evaluate((q) => (globalThis as unknown as Window).glyptaView.screenAt(q), p);
  const [l, t] = await frame();
  return [l + x, t + y];
};
const stage = (name: string) => click(`::-p-xpath(//nav[@aria-label="Stages"]//button[normalize-space()="${name}"])`);
const command = async (title: string) => {
  await page.keyboard.down('Control');
  await page.keyboard.press('k');
  await page.keyboard.up('Control');
  await page.waitForSelector('[aria-label="Command"]');
  await page.type('[aria-label="Command"]', title);
  await page.keyboard.press('Enter');
  await sleep(120);
};
/** Types into a value that stands in a sentence or a panel. */
const setValue = async (name: string, text: string, nth = 0) => {
  await page.waitForSelector(`[data-value="${name}"]`);
  await (await page.$$(`[data-value="${name}"]`))[nth].click();
  await page.waitForSelector('input.value-input');
  await page.keyboard.down('Control');
  await page.keyboard.press('a');
  await page.keyboard.up('Control');
  await page.keyboard.type(text);
  await page.keyboard.press('Enter');
};
async function begin(name: string): Promise<void> {
  await page.goto(app.address);
  await click('::-p-xpath(//button[normalize-space()="New project"])');
  await page.waitForSelector('dialog input');
  await page.type('dialog input', name);
  await click('::-p-xpath(//button[normalize-space()="Begin"])');
  await page.waitForSelector('[data-ready=true]');
  await page.waitForFunction(() => (globalThis as unknown as Window).glyptaView);
}
const addBox = async () => {
  await click('[aria-label="New piece"]');
  await click('::-p-xpath(//*[@role="menuitem" and normalize-space()="box"])');
  await sleep(300);
};

beforeAll(async () => {
  app = await startApp();
  browser = await openBrowser();
  page = await browser.newPage();
  await (await page.createCDPSession()).send('Browser.setDownloadBehavior', { behavior: 'allow', downloadPath: files });
}, 240000);
afterAll(async () => {
  await browser?.close();
  await app?.stop();
  rmSync(files, { recursive: true, force: true });
});

test('a drop of many kinds comes in, each with its report; what is broken stays outside with a sentence', async () => {
  await begin('Drop');
  await stage('Gather');
  const cube = box({ width: 20, height: 30, depth: 40, cutX: 1, cutY: 1, cutZ: 1, onGround: true }, 1);
  const picture = writePng({ width: 2, height: 2, data: new Uint8Array(16).fill(128) });
  const zip = write(
    'hut.zip',
    writeZip(
      new Map(
        [
          ['hut.obj', 'mtllib hut.mtl\nusemtl Tar\nv 0 0 0\nv 1 0 0\nv 1 1 0\nf 1 2 3\n'],
          ['hut.mtl', 'newmtl Tar\nKd 1 1 1\nmap_Kd tar.png\n'],
        ]
          .map(([n, t]): [string, Uint8Array] => [n, new TextEncoder().encode(t)])
          .concat([['tar.png', picture]]),
      ),
    ),
  );
  await give(
    'Files to bring in',
    zip,
    write('block.stl', writeStl({ ...emptyScene(), pieces: [{ name: 'block', parent: -1, mesh: cube }] })),
    write('plan.png', picture),
    write('nil.png', ''),
    write('letter.glb', 'Dear keeper'),
    write('land.raw', new Uint8Array(32)),
  );
  await until('the pieces', async () => {
    const r = await rows();
    return r.includes('block') && r.includes('hut') && r.includes('plan');
  });
  const report = await page.$eval('[aria-label^="Report on"]', (e) => (e as HTMLElement).innerText);
  expect(report).toMatch(/nil\.png is empty\./);
  expect(report).toMatch(/letter\.glb is not a GLB, whatever its name says\./);
  expect(report).toMatch(/plan\.png: a blueprint, 2 × 2 px/);
  expect(report).toMatch(/land\.raw: heights, 4 × 4 at 16 bits/);
  expect(report).toMatch(/Size, mm\n20 × 30 × 40/); // STL has no unit: millimetres are the guess
  let doc = await document_();
  expect(doc.materials[0].maps?.color).toBe(doc.images.find((i) => i.name === 'tar.png')!.id);
  // The guess is changed in the report, and the model with it.
  await page.select('[aria-label="One unit of block.stl"]', '0.01');
  doc = await document_();
  expect(doc.pieces.find((p) => p.name === 'block')!.recipe[0].values.unit).toBe(0.01);
  await until('its new size', async () =>
    /200 × 300 × 400/.test(await page.$eval('[aria-label^="Report on"]', (e) => (e as HTMLElement).innerText)),
  );
});

test('a map that did not come can be given later', async () => {
  await give(
    'Files to bring in',
    write('bare.obj', 'mtllib bare.mtl\nusemtl Oak\nv 0 0 0\nv 1 0 0\nv 0 1 0\nf 1 2 3\n'),
    write('bare.mtl', 'newmtl Oak\nmap_Kd oak.png\n'),
  );
  await until('the place for it', () => page.$('input[aria-label="File for oak.png"]'));
  await give(
    'File for oak.png',
    write('oak.png', writePng({ width: 1, height: 1, data: new Uint8Array([9, 9, 9, 255]) })),
  );
  await until('it taken', async () => !(await page.$('input[aria-label="File for oak.png"]')));
  const doc = await document_();
  expect(doc.images.find((i) => i.id === doc.materials.find((m) => m.name === 'Oak')!.maps!.color)!.name).toBe(
    'oak.png',
  );
});

test('the tree is a rig: grouped, turned as one, moved in the tree without moving in the world; found, hidden, ghosted, seen alone', async () => {
  await begin('Rig');
  for (let i = 0; i < 3; i++) await addBox();
  expect(await rows()).toEqual(['box', 'box 2', 'box 3']);
  await setValue('at-x', '300 mm'); // the third
  await row('box');
  await row('box 2', 'Control');
  await page.keyboard.down('Control');
  await page.keyboard.press('g');
  await page.keyboard.up('Control');
  await until('the group', async () => (await rows()).includes('group'));
  await setValue('turn-y', '90');
  expect((await piece('group')).place.turn[1]).toBeCloseTo(Math.PI / 2, 9);
  // Dragged onto the group: into it, keeping its place.
  const rowAt = (name: string) =>
    page.$eval(`[role=treeitem][aria-label="${name}"]`, (e) => {
      const r = e.getBoundingClientRect();
      return [r.left + 60, r.top + 18];
    });
  const [fromX, fromY] = await rowAt('box 3');
  const [toX, toY] = await rowAt('group');
  await page.mouse.move(fromX, fromY);
  await page.mouse.down();
  await page.mouse.move(fromX + 4, fromY - 8, { steps: 3 });
  await page.mouse.move(toX, toY, { steps: 8 });
  await sleep(200);
  await page.mouse.up();
  await until('it in the group', async () => (await piece('box 3')).parent === (await piece('group')).id);
  const third = await piece('box 3');
  expect(third.parent).toBe((await piece('group')).id);
  expect(third.place.at.map((x) => Math.round(x * 1e6) / 1e6)).toEqual([0, 0, 0.3]); // a quarter turn about y takes z to x
  await click('[aria-label="Find a piece"]');
  await page.type('[aria-label="Find a piece by name"]', '2');
  await until('it found', async () => (await rows()).join() === 'group,box 2');
  await page.keyboard.press('Enter');
  await page.keyboard.press('Escape');
  expect(
    await page.$$eval('[role=treeitem][aria-selected=true]', (l) => l.map((e) => e.getAttribute('aria-label'))),
  ).toEqual(['box 2']);
  await page.$eval('[role=tree]', (e) => (e as HTMLElement).blur());
  await command('Ghost');
  expect((await piece('box 2')).ghost).toBe(true);
  await command('Only the picked');
  await until('the sign of it', async () =>
    /only the picked/.test(await page.$eval('[data-testid=view]', (e) => (e as HTMLElement).innerText)),
  );
  await command('Only the picked');
  await command('Hide the pieces');
  expect((await piece('box 2')).visible).toBe(false);
  await command('Show all');
  expect((await piece('box 2')).visible).toBe(true);
});

test('a linked copy follows the recipe of its first; 400 of them are one mesh and one call; made its own, it goes its own way', async () => {
  await begin('Links');
  await addBox();
  await command('Linked copy');
  await until('the copy', async () => (await rows()).includes('box 2'));
  await setValue('at-x', '250');
  await row('box');
  await setValue('width', '60 mm');
  await row('box 2');
  await until('its size', async () =>
    /Size, mm\s+60\s+100\s+100/.test(await page.$eval('[aria-label="Place"]', (e) => (e as HTMLElement).innerText)),
  );
  await button('Make its own', 'Place');
  await sleep(400);
  await setValue('width', '90 mm');
  const doc = await document_();
  expect(doc.pieces.map((p) => [p.link, p.recipe[0]?.values.width])).toEqual([
    [null, 0.06],
    [null, 0.09],
  ]);
  // Many, through the document.
  const patches = Array.from({ length: 400 }, (_, i) => ({
    op: 'add',
    path: ['pieces', 2 + i],
    value: {
      ...doc.pieces[1],
      id: `copy${i}`,
      name: `copy ${i}`,
      recipe: [],
      link: doc.pieces[0].id,
      place: { ...doc.pieces[1].place, at: [(i % 20) * 0.2, 0, Math.floor(i / 20) * 0.2] },
    },
  }));
  const revision = ((await (await fetch(`${app.address}/api/projects/${project()}`)).json()) as { revision: number })
    .revision;
  const r = await fetch(`${app.address}/api/projects/${project()}/changes`, {
    method: 'POST',
    headers: { 'Content-Type': 'application/json' },
    body: JSON.stringify({ base: revision, patches, label: 'many', window: 'test', id: 'many' }),
  });
  expect(r.status).toBe(200);
  await page.reload();
  await page.waitForFunction(() => (globalThis as unknown as Window).glyptaView?.layer.cost.meshes === 2);
  expect(await page.evaluate(() => (globalThis as unknown as Window).glyptaView.layer.cost)).toEqual({
    meshes: 2,
    surfaces: 2,
  });
});

test('a mirrored copy stands on the other side, its side words swapped', async () => {
  await begin('Mirror');
  await addBox();
  await page.keyboard.press('1');
  await setValue('at-x', '200 mm');
  await page.evaluate(() =>
    document.querySelector('[data-rename]')!.dispatchEvent(new MouseEvent('dblclick', { bubbles: true })),
  );
  await page.waitForSelector('input[aria-label="Name"]');
  await page.keyboard.down('Control');
  await page.keyboard.press('a');
  await page.keyboard.up('Control');
  await page.keyboard.type('wing_l');
  await page.keyboard.press('Enter');
  await button('Mirror …');
  await button('Mirrored copy');
  await until('the twin', async () => (await rows()).join() === 'wing_l,wing_r');
  const twin = await piece('wing_r');
  expect(twin.place.at).toEqual([-0.2, 0, 0]);
  expect(twin.place.size).toEqual([-1, 1, 1]);
});

test('pieces are moved by a handle and by typed values, all as one change; merged, split and detached', async () => {
  await begin('Place');
  await addBox();
  await page.keyboard.press('1');
  await page.keyboard.press('m');
  await sleep(400);
  const [x, y] = await at([0, 0, 0]);
  const [x1, y1] = await at([0.1, 0, 0]);
  const l = Math.hypot(x1 - x, y1 - y);
  const way = [(x1 - x) / l, (y1 - y) / l];
  await page.mouse.move(x + way[0] * 60, y + way[1] * 60);
  await page.mouse.down();
  for (let i = 1; i <= 8; i++) await page.mouse.move(x + way[0] * (60 + 10 * i), y + way[1] * (60 + 10 * i));
  await page.mouse.up();
  const moved = (await piece('box')).place.at;
  expect(moved[0]).toBeGreaterThan(0.02);
  expect(moved.slice(1)).toEqual([0, 0]);
  await until('the sentence', async () =>
    /Move the piece by/.test(await page.$eval('.tool-line', (e) => (e as HTMLElement).innerText)),
  );
  await setValue('x', '40 mm');
  expect((await piece('box')).place.at[0]).toBeCloseTo(0.04, 9);
  await setValue('at-x', '+ 10 mm'); // relative
  expect((await piece('box')).place.at[0]).toBeCloseTo(0.05, 9);
  await setValue('size-y', '250 mm'); // real sizes
  expect((await piece('box')).place.size[1]).toBeCloseTo(2.5, 6);
  await button('Bake placement');
  const baked = await piece('box');
  expect(baked.recipe.map((s) => s.kind)).toEqual(['box', 'place']);
  expect(baked.place.at).toEqual(baked.place.pivot); // it stands at its parent's origin, its pivot where it was
  expect(baked.place.size).toEqual([1, 1, 1]);
  await command('Copy the pieces');
  await setValue('at-x', '300 mm');
  await row('box', 'Control');
  await command('Merge into one');
  await until('one piece', async () => (await rows()).length === 1);
  await until('its sets', async () =>
    /box 2/.test(await page.$eval('[aria-label="Sets"]', (e) => (e as HTMLElement).innerText)),
  );
  await button('Split: loose parts');
  await until('two in a group', async () => (await rows()).length === 3);
  for (let i = 0; i < 2; i++) {
    await page.keyboard.down('Control');
    await page.keyboard.press('z');
    await page.keyboard.up('Control');
    await sleep(200);
  }
  await until('two again', async () => (await rows()).length === 2);
  await row('box');
  await page.keyboard.press('4');
  await sleep(400);
  await command('Pick all');
  await command('Detach as a piece');
  await until('the detached', async () => (await rows()).includes('box part'));
});

test('elements of a piece that is turned, sized and mirrored are picked and moved where they are seen', async () => {
  await begin('Inside');
  await addBox();
  await page.keyboard.press('1');
  await setValue('at-x', '150 mm');
  await setValue('turn-y', '30');
  await setValue('size-y', '200 mm');
  await button('Mirror …');
  await button('Mirrored copy');
  await until('the twin', async () => (await rows()).length === 2);
  await page.keyboard.press('Home');
  await page.keyboard.press('4');
  await sleep(600);
  type V = {
    screenOf(kind: string, i: number): [number, number];
    under(x: number, y: number, mode: string): { index: number; point: { y: number } } | null;
  };
  // The face that looks up, found where it is drawn.
  const seen = await page.evaluate(() => {
    const v = (globalThis as unknown as { glyptaView: V }).glyptaView;
    return Array.from({ length: 6 }, (_, i) => {
      const [x, y] = v.screenOf('face', i);
      const u = v.under(x, y, 'face');
      return [i, x, y, u ? u.index : -1, u ? u.point.y : 0];
    });
  });
  const top = seen.find((f) => f[3] === f[0] && Math.abs(f[4] - 0.2) < 1e-6)!;
  const [l, t] = await frame();
  expect(top).toBeDefined();
  expect(seen.filter((f) => f[3] === f[0]).length).toBe(3); // three faces look this way, as of any box
  await page.mouse.click(l + top[1], t + top[2]);
  await until('it picked', async () =>
    /1 of 6/.test(await page.$eval('[aria-label="Facts"]', (e) => (e as HTMLElement).innerText)),
  );
  await until('its true area', async () =>
    /100 cm²/.test(await page.$eval('[aria-label="Facts"]', (e) => (e as HTMLElement).innerText)),
  );
  await page.keyboard.press('m');
  await sleep(300);
  const up = await at([0, 0.3, 0]);
  const down = await at([0, 0.2, 0]);
  const len = Math.hypot(up[0] - down[0], up[1] - down[1]);
  const way = [(up[0] - down[0]) / len, (up[1] - down[1]) / len];
  const [x0, y0] = [l + top[1], t + top[2]];
  await page.mouse.move(x0 + way[0] * 60, y0 + way[1] * 60);
  await page.mouse.down();
  for (let i = 1; i <= 6; i++) await page.mouse.move(x0 + way[0] * (60 + 8 * i), y0 + way[1] * (60 + 8 * i));
  await page.mouse.up();
  const move = (
    (await document_()).pieces.find((p) => p.name === 'box 2')!.recipe.find((q) => q.kind === 'shape')!.values
      .moves as { values: Record<string, number> }[]
  )[0].values;
  // Straight up in the world is straight up in the piece, half as far: it is sized by two that way.
  expect(Math.abs(move.x) + Math.abs(move.z)).toBeLessThan(1e-6);
  expect(move.y).toBeGreaterThan(0.005);
});

test('a scanned drawing is levelled, scaled and given its origin by clicks, within 0.1 %; stations and a circle are put on it', async () => {
  await begin('Blueprint');
  await stage('Gather');
  const s = new Sheet(1200, 700, 0.001, [520, 420], 0.3 * deg);
  s.line(
    [
      [-0.4, 0],
      [0.5, 0],
    ],
    2,
  );
  s.line(
    [
      [0, 0],
      [0, 0.3],
    ],
    2,
  );
  s.ellipse([0.3, 0.15], 0.08, 0.08, 2);
  await give('Files to bring in', write('side.png', writePng(s.image)));
  await until('it in', async () => (await rows()).includes('side'));
  await click('::-p-xpath(//*[@aria-label="Views"]//button[normalize-space()="Front"])');
  await page.keyboard.press('Home');
  await sleep(600);
  const id = (await piece('side')).id;
  /** Clicks where a point of the drawing is now, whatever has been trued up so far. */
  const clickAt = async (u: number, v: number) => {
    const b = (await document_()).pieces.find((p) => p.id === id)!.blueprint!;
    const [px, py] = s.pixel([u, v]);
    const c = Math.cos(b.level);
    const q = Math.sin(b.level);
    const dx = (px - b.origin[0]) * b.scale;
    const dy = (b.origin[1] - py) * b.scale;
    await page.keyboard.press('Home');
    await sleep(300);
    await page.mouse.click(...(await at([c * dx - q * dy, q * dx + c * dy, 0])));
    await sleep(120);
  };
  await button('Level');
  await clickAt(-0.4, 0);
  await clickAt(0.5, 0);
  await button('Scale');
  await clickAt(-0.4, 0);
  await clickAt(0.5, 0);
  await page.waitForSelector('[aria-label="In reality this is"]');
  await page.type('[aria-label="In reality this is"]', '900 mm');
  await page.keyboard.press('Enter');
  await button('Origin');
  await clickAt(0, 0);
  let b = (await piece('side')).blueprint!;
  // Clicks fall on whole pixels of the screen: each is a fraction of a picture's pixel off at the most.
  expect(Math.abs(b.level + 0.3 * deg)).toBeLessThan(0.1 * deg);
  expect(Math.abs(b.scale / 0.001 - 1)).toBeLessThan(0.002);
  await button('Stations across');
  await clickAt(-0.2, 0.05);
  await clickAt(0.2, 0.05);
  await page.keyboard.press('Escape');
  await button('Fit a circle');
  for (const t of [0.2, 1.5, 3, 4.5]) await clickAt(0.3 + 0.08 * Math.cos(t), 0.15 + 0.08 * Math.sin(t));
  await page.keyboard.press('Enter');
  b = (await piece('side')).blueprint!;
  expect(b.stations.map((q) => q.name)).toEqual(['A', 'B']);
  expect(b.stations[1].at - b.stations[0].at).toBeCloseTo(0.4, 2);
  expect(b.rounds[0].a).toBeCloseTo(0.08, 2);
  await until(
    'the labels',
    async () =>
      (await page.$$eval('[data-label=station]', (l) => l.map((e) => (e as HTMLElement).innerText))).join() === 'A,B',
  );
  await button('As a section');
  await until('the section', async () => (await rows()).includes('side section'));
});

test('a pinned tape is snapped to the model and follows it', async () => {
  await begin('Tape');
  await addBox();
  await page.keyboard.press('1');
  await page.keyboard.press('End');
  await sleep(500);
  await page.keyboard.press('q');
  await until('the tool', async () =>
    /Click where it begins/.test(await page.$eval('.tool-line', (e) => (e as HTMLElement).innerText)),
  );
  for (const p of [
    [-0.05, 0.1, 0.05],
    [0.05, 0.1, 0.05],
  ] as const) {
    const [x, y] = await at(p);
    await page.mouse.move(x - 3, y + 3);
    await sleep(80);
    await page.mouse.click(x - 3, y + 3);
    await sleep(150);
  }
  await until('the tape', async () =>
    /100 mm/.test(await page.$eval('[aria-label="Measure"]', (e) => (e as HTMLElement).innerText)),
  );
  expect((await document_()).tapes[0].ends.map((e) => e.kind)).toEqual(['vertex', 'vertex']);
  await setValue('width', '160 mm');
  await until('it following', async () =>
    /160 mm/.test(await page.$eval('[aria-label="Measure"]', (e) => (e as HTMLElement).innerText)),
  );
});

test('four views, each with its own shading; views go back and forward apart from undo', async () => {
  await page.keyboard.press('j');
  await until('four', () => page.evaluate(() => (globalThis as unknown as Window).glyptaView.panes.length === 4));
  expect(
    await page.evaluate(() => (globalThis as unknown as Window).glyptaView.panes.map((p) => p.camera.view).sort()),
  ).toEqual(['Front', 'Persp', 'Side', 'Top']);
  await page.keyboard.press('j');
  await until('one', () => page.evaluate(() => (globalThis as unknown as Window).glyptaView.panes.length === 1));
  const before = await page.evaluate(() => (globalThis as unknown as Window).glyptaView.camera.yaw);
  const [l, t] = await frame();
  const undo = await page.$eval('[aria-label^="Undo"]', (e) => e.getAttribute('aria-label'));
  await page.mouse.move(l + 80, t + 120);
  await page.mouse.down({ button: 'right' });
  for (let i = 0; i < 6; i++) await page.mouse.move(l + 80 + 20 * i, t + 120);
  await page.mouse.up({ button: 'right' });
  const yaw = () => page.evaluate(() => (globalThis as unknown as Window).glyptaView.camera.yaw);
  await until('it turned', async () => Math.abs((await yaw()) - before) > 0.3);
  const after = await yaw();
  const turn = async (key: 'ArrowLeft' | 'ArrowRight') => {
    await page.keyboard.down('Alt');
    await page.keyboard.press(key);
    await page.keyboard.up('Alt');
  };
  await turn('ArrowLeft');
  await until('the view before', async () => Math.abs((await yaw()) - before) < 1e-6);
  await turn('ArrowRight');
  await until('the view after', async () => Math.abs((await yaw()) - after) < 1e-6);
  expect(await page.$eval('[aria-label^="Undo"]', (e) => e.getAttribute('aria-label'))).toBe(undo); // views are no changes
});

test('a piece is kept in the library, used in another project, and cannot vanish while it is used', async () => {
  await page.keyboard.down('Shift');
  await page.keyboard.press('l');
  await page.keyboard.up('Shift');
  await page.waitForSelector('[aria-label="Library drawer"]');
  const kept = '[aria-label="Library drawer"] li[title^="box:"]';
  await row('box');
  await button('Keep the piece in the library');
  await until('it there', () => page.$(kept));
  await begin('Borrower');
  await page.keyboard.down('Shift');
  await page.keyboard.press('l');
  await page.keyboard.up('Shift');
  await page.waitForSelector(kept);
  await page.$eval(kept, (e) => (e as HTMLElement).focus());
  await page.keyboard.press('Enter');
  await until('it inserted', async () => (await rows()).join() === 'box');
  expect((await piece('box')).recipe[0].values.width).toBe(0.16);
  await page.goto(`${app.address}/library`);
  await until('its use', async () => /used in 1 project/.test(await page.$eval('main', (m) => m.innerText)));
  expect(await page.$eval('[aria-label="Remove box"]', (e) => (e as HTMLButtonElement).disabled)).toBe(true);
  await page.type('[aria-label="Tags of box"]', 'quay, crate');
  await page.keyboard.press('Enter');
  await until('the tag', async () =>
    /#crate/.test(await page.$eval('[aria-label="Narrow down"]', (m) => (m as HTMLElement).innerText)),
  );
  await page.type('[aria-label="Find in the library"]', 'nothing like it');
  await until('nothing', async () => /Nothing here is called that/.test(await page.$eval('main', (m) => m.innerText)));
});

test('a project with pictures leaves as one ZIP and comes back the same, to the byte', async () => {
  await page.goto(app.address);
  const choose = async () => {
    await click('[aria-label="Actions for Pilot skiff"]');
    await click('::-p-xpath(//*[@role="menuitem" and normalize-space()="Export"])');
  };
  await choose();
  await until('the file', async () => readdirSync(files).includes('pilot-skiff.glypta.zip'));
  await sleep(500);
  const first = readFileSync(join(files, 'pilot-skiff.glypta.zip'));
  await give('Project file', join(files, 'pilot-skiff.glypta.zip'));
  await until('two of them', async () => (await page.$$('[aria-label="Open Pilot skiff"]')).length === 2);
  const list = (
    (await (await fetch(`${app.address}/api/projects`)).json()) as { projects: { id: string; name: string }[] }
  ).projects.filter((p) => p.name === 'Pilot skiff');
  for (const p of list)
    expect(
      Buffer.from(await (await fetch(`${app.address}/api/projects/${p.id}/export`)).arrayBuffer()).equals(first),
    ).toBe(true);
});

test('a large file is read beside the page, and can be stopped; nothing of it comes in', async () => {
  await begin('Stopped');
  await stage('Gather');
  const ball = cubeSphere({ radius: 50, cuts: 160 }, 1);
  await give(
    'Files to bring in',
    write('ball.stl', writeStl({ ...emptyScene(), pieces: [{ name: 'ball', parent: -1, mesh: ball }] }, true)),
  ); // as text: 90 MB or so, seconds of work
  await button('Stop');
  await until('its end', async () =>
    /Stopped; nothing came in/.test(await page.$eval('[aria-label^="Report on"]', (e) => (e as HTMLElement).innerText)),
  );
  await sleep(1500);
  expect(await rows()).toEqual([]);
  expect((await document_()).pieces).toEqual([]);
});
