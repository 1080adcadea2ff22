/** Placing pieces, in a real browser: the tree, copies, handles, measures, views and the library. */
import type { Page } from 'puppeteer-core';
import { areaOf } from '../src/core/mesh';
import { Memory } from '../src/core/recipe';
import { followRecipe } from '../src/core/steps';
import { pinsOf, type HandPlaces } from '../src/core/uv';
import type { ProjectDocument } from '../src/document/types';
import {
  addBox,
  at,
  begin,
  button,
  chord,
  click,
  command,
  dragIsland,
  frame,
  atHand,
  isPlaced,
  piece,
  project,
  row,
  rows,
  savedDocument,
  setValue,
  sleep,
  stage,
  text,
  until,
  type Shown,
} from './hand';
import { thoroughly } from '../src/core/testing/thoroughly';

let app: Shown, page: Page;

atHand((opened) => {
  ({ app, page } = opened);
});

thoroughly(
  'the tree is a rig: grouped, turned as one, moved in the tree without moving in the world; found, hidden, ghosted, seen alone',
  async () => {
    await begin('Rig');
    for (let i = 0; i < 3; i++) await addBox();
    expect(await rows()).toEqual(['box', 'box 2', 'box 3']);
    await setValue('at-x', '300 mm'); // the third
    await row('box');
    await row('box 2', 'Control');
    await chord('Control', 'g');
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
    await until('the sign of it', async () => /only the picked/.test(await text('[data-testid=view]')));
    await command('Only the picked');
    await command('Hide the pieces');
    expect((await piece('box 2')).visible).toBe(false);
    await command('Show all');
    expect((await piece('box 2')).visible).toBe(true);
  },
);

thoroughly(
  'a linked copy follows the recipe of its first; 400 of them are one mesh and one call; made its own, it goes its own way',
  async () => {
    await begin('Links');
    await addBox();
    await command('Linked copy');
    await until('the copy', async () => (await rows()).includes('box 2'));
    await setValue('at-x', '250');
    await row('box');
    await setValue('width', '60 mm');
    await row('box 2');
    await until('its size', async () => /Size, mm\s+60\s+100\s+100/.test(await text('[aria-label="Place"]')));
    await button('Make its own', 'Place');
    await sleep(400);
    await setValue('width', '90 mm');
    const doc = await savedDocument();
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
    await page.waitForFunction(() => window.glyptaView?.layer.cost.meshes === 2);
    expect(await page.evaluate(() => window.glyptaView.layer.cost)).toEqual({
      meshes: 2,
      surfaces: 2,
    });
  },
);

test('a mirrored copy stands on the other side, its side words swapped', async () => {
  await begin('Mirror');
  await addBox();
  await page.keyboard.press('1');
  await setValue('at-x', '200 mm');
  await page.evaluate(() =>
    document.querySelector('[data-rename]')!.dispatchEvent(new MouseEvent('dblclick', { bubbles: true })),
  );
  await page.waitForSelector('input[aria-label="Name"]');
  await chord('Control', 'a');
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
  await until('the sentence', async () => /Move the piece by/.test(await text('.tool-line')));
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
  await until('its sets', async () => /box 2/.test(await text('[aria-label="Sets"]')));
  await sleep(300); // the facts above it grow by what the one is made of: a click went to a set beside it
  await button('Split: loose parts');
  await until('two in a group', async () => (await rows()).length === 3);
  for (let i = 0; i < 2; i++) {
    await chord('Control', 'z');
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

thoroughly(
  'elements of a piece that is turned, sized and mirrored are picked and moved where they are seen',
  async () => {
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
    await until('it picked', async () => /1 of 6/.test(await text('[aria-label="Facts"]')));
    await until('its true area', async () => /100 cm²/.test(await text('[aria-label="Facts"]')));
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
      (await savedDocument()).pieces.find((p) => p.name === 'box 2')!.recipe.find((q) => q.kind === 'shape')!.values
        .moves as { values: Record<string, number> }[]
    )[0].values;
    // Straight up in the world is straight up in the piece, half as far: it is sized by two that way.
    expect(Math.abs(move.x) + Math.abs(move.z)).toBeLessThan(1e-6);
    expect(move.y).toBeGreaterThan(0.005);
  },
);

test('a pinned tape is snapped to the model and follows it', async () => {
  await begin('Tape');
  await addBox();
  await page.keyboard.press('1');
  await page.keyboard.press('End');
  await sleep(500);
  await page.keyboard.press('q');
  await until('the tool', async () => /Click where it begins/.test(await text('.tool-line')));
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
  await until('the tape', async () => /100 mm/.test(await text('[aria-label="Measure"]')));
  expect((await savedDocument()).tapes[0].ends.map((e) => e.kind)).toEqual(['vertex', 'vertex']);
  await setValue('width', '160 mm');
  await until('it following', async () => /160 mm/.test(await text('[aria-label="Measure"]')));
});

test('four views, each with its own shading; views go back and forward apart from undo', async () => {
  await page.keyboard.press('j');
  await until('four', () => page.evaluate(() => window.glyptaView.panes.length === 4));
  expect(await page.evaluate(() => window.glyptaView.panes.map((p) => p.camera.view).sort())).toEqual([
    'Front',
    'Persp',
    'Side',
    'Top',
  ]);
  await page.keyboard.press('j');
  await until('one', () => page.evaluate(() => window.glyptaView.panes.length === 1));
  const before = await page.evaluate(() => window.glyptaView.camera.yaw);
  const [l, t] = await frame();
  const undo = await page.$eval('[aria-label^="Undo"]', (e) => e.getAttribute('aria-label'));
  await page.mouse.move(l + 80, t + 120);
  await page.mouse.down({ button: 'right' });
  for (let i = 0; i < 6; i++) {
    await page.mouse.move(l + 80 + 20 * i, t + 120);
    if (i === 3) await sleep(450); // a pause in the middle does not make two views of it
  }
  await page.mouse.move(l + 180, t + 120); // nor does a move of nothing
  await page.mouse.up({ button: 'right' });
  const yaw = () => page.evaluate(() => window.glyptaView.camera.yaw);
  await until('it turned', async () => Math.abs((await yaw()) - before) > 0.7);
  const after = await yaw();
  const turn = async (key: 'ArrowLeft' | 'ArrowRight') => {
    await chord('Alt', key);
  };
  await turn('ArrowLeft');
  await until('the view before', async () => Math.abs((await yaw()) - before) < 1e-6);
  await turn('ArrowRight');
  await until('the view after', async () => Math.abs((await yaw()) - after) < 1e-6);
  expect(await page.$eval('[aria-label^="Undo"]', (e) => e.getAttribute('aria-label'))).toBe(undo); // views are no changes
});

test('a piece is kept in the library, used in another project, and cannot vanish while it is used', async () => {
  await chord('Shift', 'l');
  await page.waitForSelector('[aria-label="Library drawer"]');
  const kept = '[aria-label="Library drawer"] li[title^="box:"]';
  await row('box');
  await button('Keep the piece in the library');
  await until('it there', () => page.$(kept));
  await begin('Borrower');
  await chord('Shift', 'l');
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

/** What a piece of a document is, as a reader that has never seen it follows it. */
async function followAnew(doc: ProjectDocument, name: string) {
  const recipe = doc.pieces.find((p) => p.name === name)!.recipe.filter((s) => s.kind !== 'texture');
  const out = await followRecipe(recipe, { memory: new Memory(), materials: doc.materials });
  const { mesh } = out.at(-1)!;
  const unwrapped = recipe.find((s) => s.kind === 'unwrap')!;
  const pins = pinsOf(mesh, unwrapped.values.placed as HandPlaces);
  const sheet = [...pins.at.values()];
  const box = [0, 1].map((k) => [Math.min(...sheet.map((p) => p[k])), Math.max(...sheet.map((p) => p[k]))]).flat();
  const of = mesh.attributes.material.data;
  const shares = mesh.slots.map((_, slot) =>
    areaOf(
      mesh,
      Uint8Array.from(of, (m) => (m === slot ? 1 : 0)),
    ),
  );
  return { mesh, box, shares, warnings: out.flatMap((o) => o.warnings), pins };
}

test('a count in the first step changes: moves, seams, colours and an island placed by hand stay where they were, and it is said how', async () => {
  const shelf = (await (await fetch(`${app.address}/api/projects`)).json()) as {
    projects: { id: string; name: string }[];
  };
  await page.goto(`${app.address}/bench/${shelf.projects.find((p) => p.name === 'Signal lamp')!.id}`);
  await page.waitForSelector('[data-ready=true]');
  await row('hood');
  await until('its sentence', () => page.$('[data-value="cutZ"]'));
  const revision = async () => text('[data-testid=saving]');
  expect(await revision()).not.toMatch(/change [1-9]/); // looking at it has changed nothing
  await until('the model', () => page.$('[role=treeitem][aria-label="hood"] [data-count]'));
  await stage('Unwrap');
  const islands: [number, number][] = [];
  for (const from of [0, 24, 40]) islands.push(await dragIsland(from));
  await until('places beside keys', async () => {
    const recipe = (await piece('hood')).recipe;
    const moves = recipe[1].values.moves as { pick: { spots?: string } }[];
    const placed = recipe.find((s) => s.kind === 'unwrap')!.values.placed as HandPlaces;
    return moves.every((m) => m.pick.spots) && placed.face.length > 0 && placed.spots;
  });
  const before = await followAnew(await savedDocument(), 'hood');
  const followed = async () => (await text('body')).includes(' picked by place');
  expect(await followed()).toBe(false);
  await setValue('cutZ', '2');
  await until('what became of picks', async () =>
    /Picks: \d+ kept, [1-9]\d* followed, 0 lost/.test(await text('body')),
  );
  await until('what followed', followed);
  expect(await text('body')).not.toMatch(/ lost (its|their) | are gone /);
  const after = await followAnew(await savedDocument(), 'hood');
  expect(after.mesh.faceCount).toBeGreaterThan(before.mesh.faceCount);
  expect(after.warnings).toEqual([]);
  expect(after.pins.followed).toBeGreaterThan(0);
  after.box.forEach((x, k) => expect(x).toBeCloseTo(before.box[k], 2));
  after.shares.forEach((x, k) => expect(Math.abs(x - before.shares[k])).toBeLessThan(0.04 * areaOf(before.mesh)));
  expect(after.pins.at.size).toBeGreaterThanOrEqual(before.pins.at.size);
  await chord('Control', 'z');
  await until('as before', async () => !(await followed()));
  // Given back, all of what it came from is given back.
  await chord('Control', 'Shift', 'z');
  await until('what followed', followed);
  await stage('Shape');
  await stage('Unwrap');
  for (const island of islands) {
    await until('the island is known as placed', () => isPlaced(island));
    await click('button[title^="Release"]');
  }
  await until('nothing placed', async () => {
    const { values } = (await piece('hood')).recipe.find((s) => s.kind === 'unwrap')!;
    return (values.placed as HandPlaces).face.length === 0;
  });
});
