/**
 * Modelling by pointer and keys, as a person would: a small figure from a cube, a cart over its wheels; picks, checks,
 * moves as a list.
 */
import type { Page } from 'puppeteer-core';
import type { Move } from '../src/core/recipe/values';
import {
  addBox,
  at,
  atHand,
  begin,
  chord,
  click,
  command,
  menuItem,
  piece,
  setValue,
  sleep,
  text,
  until,
} from './hand';
import { thoroughly } from '../src/core/testing/thoroughly';

let page: Page;
atHand((opened) => {
  page = opened.page;
});

const fact = async (name: string): Promise<string> =>
  page.evaluate((n) => {
    const dt = [...document.querySelectorAll('[aria-label="Facts"] dt')].find(
      (e) => (e as HTMLElement).innerText === n,
    );
    return (dt?.nextElementSibling as HTMLElement)?.innerText ?? '';
  }, name);
/** Millimetres. */
const mm = (x: number, y: number, z: number): [number, number, number] => [x / 1000, y / 1000, z / 1000];
async function clickAt(p: [number, number, number], ...keys: 'Shift'[]): Promise<void> {
  const [x, y] = await at(p);
  for (const k of keys) await page.keyboard.down(k);
  await page.mouse.click(x, y);
  for (const k of keys) await page.keyboard.up(k);
  await sleep(350); // two clicks in a row would be a double one
}
const key = async (k: string) => {
  await page.keyboard.press(k as 'x');
  await sleep(150);
};
async function type(words: string): Promise<void> {
  await page.keyboard.type(words);
  await key('Enter');
  await key('Enter');
}
/** Of what is worked on, as the view has it. */
const faces = () =>
  page.evaluate(() => (window.glyptaView as unknown as { mesh: { faceCount: number } | null }).mesh?.faceCount ?? 0);
const triangles = () => page.$eval('[role=treeitem] [data-count]', (e) => Number((e as HTMLElement).dataset.count));
const moves = async (name = 'box'): Promise<Move[]> =>
  (await piece(name)).recipe.find((s) => s.kind === 'shape')?.values.moves as Move[];

test('a figure from a cube: ring split, head and arms drawn out on both sides', async () => {
  await begin('Figure');
  await addBox();
  await until('a box', async () => (await faces()) === 6);
  await key('3');
  await clickAt(mm(50, 50, 50));
  await key('l');
  await key('Enter');
  await until('it is split round', async () => (await faces()) === 10);
  await key('4');
  await clickAt(mm(0, 100, 0));
  await until('the top is picked', async () => (await fact('Faces')) === '1 of 10');
  await key('x');
  await type('40 mm');
  await until('a neck', async () => (await faces()) === 14);
  await key('r');
  await until('a head, by the same again', async () => (await faces()) === 18);
  await chord('Alt', 'm');
  await until('it says so', async () => /both sides of X/.test(await text('[data-testid=view]')));
  await clickAt(mm(50, 75, 0));
  await until('a side is picked', async () => (await fact('Faces')) === '1 of 18');
  await key('x');
  await type('60 mm');
  await until('two arms', async () => (await faces()) === 26);
  await chord('Alt', 'm');
  await chord('Alt', 'm');
  await chord('Alt', 'm');
  const made = await moves();
  expect(made.map((m) => [m.tool, m.mirror ?? ''])).toEqual([
    ['loop', ''],
    ['extrude', ''],
    ['extrude', ''],
    ['extrude', 'x'],
  ]);
  await until('nothing is wrong with it', async () =>
    /checks, nothing found|other checks found nothing/.test(await text('[aria-label="Checks"]')),
  );
});

test('a rule stays one: what is drawn out follows the counts of the box', async () => {
  await begin('Rule');
  await addBox();
  await until('a box', async () => (await faces()) === 6);
  await key('4');
  await command('Pick by rule: look one way');
  await until('the sentence', async () =>
    /Pick faces that look up/.test(await text('[aria-label="The tool in hand"]')),
  );
  await click('[aria-label="The tool in hand"] [data-value="live"]');
  await key('Enter');
  await key('x');
  await type('20 mm');
  await until('drawn out', async () => (await faces()) === 10);
  expect((await moves())[0].pick).toMatchObject({ keys: [], rule: { id: 'looks' } });
  await setValue('cutX', '4');
  await until('all four are drawn out', async () => (await triangles()) === 2 * (4 * 4 + 2 + 10));
});

test('a cart: rings split, a face taken out and the gap closed; every sharp edge broken', async () => {
  await begin('Cart');
  await addBox();
  await setValue('width', '140 mm');
  await setValue('cutX', '3');
  await setValue('depth', '80 mm');
  await setValue('cutZ', '2');
  await until('cells', async () => (await faces()) === 2 * (3 * 2 + 3 + 2));
  await key('Home');
  await key('4');
  await clickAt(mm(0, 50, 40));
  await until('a side', async () => /1 of 22/.test(await fact('Faces')));
  await key('Delete');
  await until('it is out', async () => (await faces()) === 21);
  await key('3');
  await clickAt(mm(0, 100, 40));
  await command('Cap');
  await until('closed again', async () => (await faces()) === 22);
  await chord('Control', 'a');
  await command('Pick by rule: sharper than');
  await key('Enter');
  await key('v');
  await type('3 mm');
  await until('bevelled', async () => (await faces()) > 40);
  await until('still sound', async () => !/Open edges/.test(await text('[aria-label="Checks"]')));
});

test('moves as a list: switched off and on, named, shown; checks found, gone through and mended', async () => {
  await click('[data-value="moves"]');
  await until('the list', async () => (await page.$$('ol[aria-label="Moves"] > li')).length === 3);
  const act = async (n: number, what: string) => {
    await click(`[aria-label="Actions for move ${n}"]`);
    await menuItem(what);
    await sleep(300);
  };
  const before = await faces();
  await act(3, 'Switch off');
  await until('no bevel', async () => (await faces()) === 22);
  expect((await moves())[2].off).toBe(true);
  await act(3, 'Switch on');
  await until('the bevel', async () => (await faces()) === before);
  await act(2, 'Switch off');
  await until('a hole is found', async () => /Open edges\s*\d/.test(await text('[aria-label="Checks"]')));
  await click('[aria-label="Next of open edges"]');
  await until('one edge is picked', async () => /^1 of/.test(await fact('Edges')));
  await click('::-p-xpath(//section[@aria-label="Checks"]//button[normalize-space()="Close the holes"])');
  await until('it is closed', async () => !/Open edges/.test(await text('[aria-label="Checks"]')));
  expect((await moves()).map((m) => m.tool)).toEqual(['delete', 'cap', 'bevel', 'cap']);
  await act(1, 'Name');
  await page.keyboard.type('the arch');
  await key('Enter');
  await until('its name', async () => (await moves())[0].name === 'the arch');
});

thoroughly('a lasso, a brush stroke and a free cut', async () => {
  await begin('Drawn');
  await addBox();
  await setValue('cutX', '6');
  await setValue('cutY', '6');
  await setValue('cutZ', '6');
  await until('cells', async () => (await faces()) === 216);
  await key('4');
  const corners = [mm(-60, 100, -60), mm(60, 100, -60), mm(60, 100, 60), mm(-60, 100, 60)];
  await page.keyboard.down('Alt');
  const [x0, y0] = await at(corners[0]);
  await page.mouse.move(x0, y0);
  await page.mouse.down();
  for (const p of [...corners.slice(1), corners[0]]) {
    const [x, y] = await at(p);
    await page.mouse.move(x, y, { steps: 6 });
  }
  await page.mouse.up();
  await page.keyboard.up('Alt');
  await until('the top is picked, and nothing hidden', async () => /^(3[6-9]|4\d) of 216/.test(await fact('Faces')));
  await key('g');
  const [x, y] = await at(mm(0, 100, 0));
  await page.mouse.move(x, y);
  await page.mouse.down();
  await page.mouse.move(x, y - 40, { steps: 5 });
  await page.mouse.up();
  await key('Enter');
  await until('a stroke', async () => /brush/i.test(await text('ol')));
  await key('c');
  await clickAt(mm(50, 83.3, 0));
  await clickAt(mm(50, 16.7, 8.33));
  await key('Enter');
  await until('a cut', async () => (await faces()) > 216);
  expect((await moves()).map((m) => m.tool)).toEqual(['brush', 'free-cut']);
  await chord('Control', 'z');
  await until('taken back', async () => (await faces()) === 216);
});

thoroughly('a line is clicked point by point, and faces are drawn out along it', async () => {
  await begin('Along');
  await addBox();
  await until('a box', async () => (await faces()) === 6);
  await command('Draw a line');
  await clickAt(mm(50, 20, 20));
  await clickAt(mm(50, 80, -20));
  await clickAt(mm(20, 100, -40));
  await key('Enter');
  await until('a line of its own', async () => (await piece('line')).recipe[0]?.kind === 'line');
  expect(((await piece('line')).recipe[0].values.points as unknown[]).length).toBe(3);
  await click('[role=treeitem][aria-label="box"]');
  await until('the box again', async () => (await faces()) === 6);
  await key('4');
  await clickAt(mm(0, 100, 0));
  await command('Draw out along');
  await until('it says what it lacks', async () => /Choose the other piece/.test(await text('[aria-label^="Recipe"]')));
  await click('[aria-label="The tool in hand"] [data-value="other"]');
  await menuItem('line');
  await until('a row of walls', async () => (await faces()) === 6 + 4 * 8);
  await key('Enter');
});

thoroughly('a cage round a piece: what is done to its vertices the piece follows', async () => {
  await begin('Caged');
  await addBox();
  await until('a box', async () => (await faces()) === 6);
  await command('Put a cage round it');
  await until('the cage', async () => (await faces()) === 24);
  expect((await moves()).map((m) => m.tool)).toEqual(['by-cage']);
  await chord('Control', 'a');
  await key('s');
  await until('all of it is picked', async () => (await fact('Vertices')) === '26 of 26');
  await command('Push');
  await type('10 mm');
  await click('[role=treeitem][aria-label="box"]');
  await until('the box is larger', async () => Number.parseFloat((await fact('Size, mm')).split('×')[0]) > 110);
});

thoroughly('a light mesh drawn over a heavy one: strips by dragging, kept on the surface when it grows', async () => {
  await begin('Over');
  await addBox();
  await setValue('cutX', '8');
  await setValue('cutY', '8');
  await until('cells', async () => (await faces()) === 2 * (8 * 8 + 8 + 8));
  await command('Draw over it');
  await until('it waits for a stroke', async () =>
    /Drag over another piece/.test(await text('[aria-label="The tool in hand"]')),
  );
  const [x0, y0] = await at(mm(-30, 70, 50));
  const [x1, y1] = await at(mm(30, 60, 50));
  await page.mouse.move(x0, y0);
  await page.mouse.down();
  await page.mouse.move(x1, y1, { steps: 12 });
  await page.mouse.up();
  await until('a strip', async () => (await faces()) > 1);
  const recipe = (await piece('box drawn over')).recipe;
  expect(recipe.map((s) => s.kind)).toEqual(['shape', 'lay']);
  expect((recipe[0].values.moves as Move[])[0]).toMatchObject({ tool: 'draw-strip' });
  await page.keyboard.press('Escape');
  await until('it lies on the front', async () => /checks/.test(await text('[aria-label="Checks"]')));
});

test('a number becomes a dial; another goes by it through a formula; turning it turns both', async () => {
  await begin('Dials');
  await addBox();
  await setValue('width', '80 mm');
  await page.click('[data-value=width]', { button: 'right' });
  await menuItem('Make it a dial of the project');
  await until('a dial', async () => /width/.test(await text('[aria-label="Dials"]')));
  await setValue('depth', '= width / 2');
  await until('the box goes by it', async () => /80 × 100 × 40/.test(await fact('Size, mm')));
  await setValue('dial-width', '60 mm');
  await until('both follow', async () => /60 × 100 × 30/.test(await fact('Size, mm')));
  // Sections above the dials come and grow: it is pressed itself, not the place where it was.
  await page.$eval('[aria-label="Take the dial width away"]', (b) => (b as HTMLElement).click());
  await until('it says where it is used', async () => /used by step 1 of box/.test(await text('body')));
  const [start] = (await piece('box')).recipe;
  expect([start.values.width, start.values.depth]).toEqual([{ formula: 'width' }, { formula: 'width / 2' }]);
});
