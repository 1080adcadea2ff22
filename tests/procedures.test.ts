/**
 * Procedures as a person makes them: a float from an empty project, its dials, placements of it as a kit, and its map
 * by pointer and keys.
 */
import type { Page } from 'puppeteer-core';
import {
  addBox,
  atHand,
  begin,
  chord,
  click,
  command,
  menuItem,
  piece,
  row,
  savedDocument,
  setValue,
  sleep,
  text,
  until,
} from './hand';
import { thoroughly } from '../src/core/testing/thoroughly';
import { THOROUGH } from '../src/core/testing/thorough';

let page: Page;
atHand((opened) => {
  page = opened.page;
});

/** Quads that a piece shows, by the triangles beside its name. */
const quads = (name = 'box') =>
  page.$eval(`[role=treeitem][aria-label="${name}"] [data-count]`, (e) => Number((e as HTMLElement).dataset.count) / 2);

/** "Then…", a few letters, Enter. */
async function then(name: string): Promise<void> {
  await click('[data-then]');
  await page.keyboard.type(name);
  await page.keyboard.press('Enter');
  await sleep(150);
}
/** Types in the place of all that stands in a field, and Enter. */
async function typeOver(field: string, words: string): Promise<void> {
  await page.waitForSelector(field);
  await chord('Control', 'a');
  await page.keyboard.type(words);
  await page.keyboard.press('Enter');
}
/** A value of the last step of the recipe, typed. */
async function setLast(name: string, words: string): Promise<void> {
  const all = await page.$$(`[aria-label^="Recipe of"] [data-value="${name}"]`);
  await all[all.length - 1].click();
  await typeOver('input.value-input', words);
  await sleep(100);
}
/** A value in a panel, typed: clicked itself, as the buttons among the dials are. */
async function turn(name: string, words: string): Promise<void> {
  await page.waitForSelector(`[data-value="${name}"]`);
  await page.$eval(`[data-value="${name}"]`, (e) => (e as HTMLElement).click());
  await typeOver('input.value-input', words);
}
/**
 * A button among the dials. Sections above it come and grow meanwhile: it is clicked itself, not the place where it
 * was.
 */
const press = (label: string) =>
  page.$$eval(
    '[aria-label="Dials"] button',
    (list, wanted) => (list.find((b) => (b as HTMLElement).innerText.trim() === wanted) as HTMLElement).click(),
    label,
  );

async function dial(kind: string, name: string, value: string): Promise<void> {
  const had = await page.$$eval('[aria-label="Dials"] [data-value^="dial-"]', (l) => l.length);
  await press(kind);
  await page.waitForFunction(
    (n) => document.querySelectorAll('[aria-label="Dials"] [data-value^="dial-"]').length > n,
    {},
    had,
  );
  await press(kind.toLowerCase());
  await page.waitForSelector('[aria-label^="Name of the dial"]');
  await page.keyboard.down('Control');
  await page.keyboard.press('a');
  await page.keyboard.up('Control');
  await page.keyboard.type(name);
  await page.keyboard.press('Enter');
  await turn(`dial-${name}`, value);
}

test('a striped float from an empty project; its dials turned from end to end; placed three times with values of its own', async () => {
  await begin('Float');
  await addBox();
  await page.waitForFunction(() =>
    document.querySelector('[aria-label="Dials"]')?.textContent?.includes('Of this piece'),
  );
  await press('Of this piece');
  await dial('Count', 'panels', '4');
  await dial('Length', 'wide', '300 mm');
  for (const side of ['cutX', 'cutY', 'cutZ']) await setValue(side, '= panels');
  await then('Note');
  await setLast('name', 'band');
  await click('[data-value=domain]');
  await setLast('formula', 'min(panels - 1, floor(share.y * panels))');
  await then('Bring to');
  await setLast('diameter', '= wide');
  await then('Part');
  await setLast('formula', 'band');
  await then('Extrude');
  await setLast('by', '= wide / 20');
  await setLast('inset', '= wide / 100');
  await then('Weld');
  await then('Subdivide');
  const faces = (n: number) => 16 * (6 * n * n + 8 * n * (n - 1));
  await until('four bands', async () => (await quads()) === faces(4));
  for (const n of THOROUGH ? [1, 12, 3] : [1, 3]) {
    await turn('dial-panels', String(n));
    await until(`${n} bands`, async () => (await quads()) === faces(n));
    expect(await text('[aria-label^="Recipe of"]')).not.toMatch(/cannot|gone|wrong/);
  }
  for (const [i, n] of [2, 5, 7].entries()) {
    await row('box');
    await command('Place as a kit');
    await until('a placement', async () => /own value|kit value/.test(await text('[aria-label^="Recipe of"]')));
    await turn('own-panels', String(n));
    const names = (await savedDocument()).pieces.map((p) => p.name);
    expect(names).toHaveLength(i + 2);
    await until('its own bands', async () => (await quads(names[i + 1])) === faces(n));
  }
  // One click back; and what is changed in the kit changes what has no value of its own.
  await click('[aria-label="panels as the kit has it"]');
  const last = (await savedDocument()).pieces[3].name;
  await until('as the kit', async () => (await quads(last)) === faces(3));
  await row('box');
  await turn('dial-panels', '2');
  await until('it follows', async () => (await quads(last)) === faces(2));
  await row(last);
  await click('[aria-label="Actions for step 1"]');
  await menuItem('Make it a piece of its own');
  const own = await piece(last);
  expect([own.recipe.map((s) => s.kind), own.dials!.map((d) => [d.name, d.value])]).toEqual([
    ['box', 'note', 'form', 'part', 'all-extrude', 'weld', 'subdivide'],
    [
      ['panels', 2],
      ['wide', 0.3],
    ],
  ]);
});

thoroughly('a kit that is kept again is its next edition; a placement is told, and takes it in its place', async () => {
  await begin('Editions');
  await addBox();
  await command('Keep in the library');
  await until('that it is kept', async () => /is in the library now/.test(await text('body')));
  await setValue('width', '300 mm');
  await command('Keep in the library');
  await until('the next', async () => /Edition 2 of “box” is in the library/.test(await text('body')));
  expect((await piece('box')).edition?.number).toBe(2);
  await command('Place as a kit');
  const choice = 'select[aria-label="Edition of box"]';
  await until('the editions', () => page.$(choice));
  const first = await page.$eval(choice, (e) => (e as HTMLSelectElement).options[1].value);
  await page.select(choice, first);
  await until('a newer one', async () => /There is a newer one/.test(await text('[aria-label^="Recipe of"]')));
  const box = await piece('box');
  expect([box.edition?.number, box.recipe[0].values.width]).toEqual([1, 0.1]);
  await chord('Control', 'z');
  await until('the second again', async () => (await piece('box')).edition?.number === 2);
});

test('the map: by pointer a slip goes in elsewhere and a branch is drawn out; by keys one goes along, switches off, branches', async () => {
  await begin('Map');
  await addBox();
  await then('Weld');
  await then('Subdivide');
  await then('Push apart');
  await click('[aria-label="Map of the recipe"]');
  await until('four slips', async () => (await page.$$('[data-slip]')).length === 4);
  expect(await text('[aria-label="Map of box"]')).toMatch(/6 faces[\s\S]*Start with a box[\s\S]*Subdivide/);
  const kinds = async () => (await piece('box')).recipe.map((s) => s.kind);
  const ids = (await piece('box')).recipe.map((s) => s.id);
  await sleep(600);
  const middle = async (i: number) => {
    const box = await (await page.$(`[data-slip="${ids[i]}"]`))!.boundingBox();
    return { x: box!.x + box!.width / 2, y: box!.y + 8, low: box!.y + box!.height, high: box!.y };
  };
  const [from, over, under] = [await middle(3), await middle(0), await middle(1)];
  await page.mouse.move(from.x, from.y);
  await page.mouse.down();
  await page.mouse.move(from.x, (over.low + under.high) / 2, { steps: 12 });
  await page.mouse.up();
  await until('it went in after the first', async () => (await kinds())[1] === 'burst');
  await page.keyboard.down('Control');
  await page.keyboard.press('z');
  await page.keyboard.up('Control');
  await until('it went back', async () => (await kinds())[3] === 'burst');

  const first = await middle(0);
  await page.mouse.click(first.x, first.y);
  await page.focus('[aria-label^="Map of box: arrows"]');
  await page.keyboard.press('ArrowDown');
  await page.keyboard.press('ArrowDown');
  await page.keyboard.press('Space');
  await until('the third is off', async () => (await piece('box')).recipe[2].on === false);
  await page.keyboard.press('b');
  await until('a branch', async () => (await savedDocument()).pieces.some((p) => p.name === 'box branch'));
  const branch = (await savedDocument()).pieces.find((p) => p.name === 'box branch')!;
  expect(branch.recipe[0].values).toMatchObject({ step: ids[2] });
  // A note lies free beside a slip, and goes when it is emptied.
  await click('[aria-label="Write a note on the map"]');
  await until('it being written', () => page.$('textarea[aria-label="Text of the note"]:focus'));
  await page.keyboard.type('Mind the bolts.');
  await page.keyboard.press('Enter');
  await until('the note', async () => (await piece('box')).notes?.[0].text === 'Mind the bolts.');
  await click('[aria-label="Take the note away"]');
  await until('it gone', async () => (await piece('box')).notes === undefined);
});
