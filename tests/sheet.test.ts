/** The sheet, in a real browser: layouts that are kept, seams, packing, relaxing, brushes and UV sets. */
import { mkdtempSync, writeFileSync } from 'node:fs';
import { tmpdir } from 'node:os';
import { join } from 'node:path';
import type { Page } from 'puppeteer-core';
import { writeGlb, writePng } from '../src/core/formats';
import { box } from '../src/core/make';
import { UNWRAPPING } from '../src/core/testing/unwrapping';
import { Memory } from '../src/core/recipe';
import { followRecipe } from '../src/core/steps';
import { mergeMeshes } from '../src/core/edit/merge';
import type { Mesh } from '../src/core/mesh';
import { followDocument } from '../src/document/follow';
import { topologyOf } from '../src/core/mesh/topology';
import { uvFigures, unwrapMesh, type HandPlaces } from '../src/core/uv';
import {
  addBox,
  at,
  atHand,
  begin,
  button,
  chord,
  click,
  command,
  dragIsland,
  give,
  menuItem,
  piece,
  row,
  rows,
  savedDocument,
  setValue,
  sleep,
  stage,
  text,
  until,
} from './hand';
import { thoroughly } from '../src/core/testing/thoroughly';

let page: Page;
const files = mkdtempSync(join(tmpdir(), 'glypta-sheet-'));

atHand(
  (opened) => {
    ({ page } = opened);
  },
  { files },
);

const figures = (): Promise<string> => text('[aria-label="Figures of the sheet"]');

/** The piece that was added last, unfolded. */
async function unfold(): Promise<void> {
  await stage('Unwrap');
  await until('the sheet', () => page.$('[aria-label="Sheet tools"]'));
  await sleep(300);
  await button('Unfold', 'Sheet tools');
}

test('a layout that is kept follows the surface; islands are turned and stacked at once, and faults are picked', async () => {
  await begin('Layout');
  await addBox();
  await unfold();
  await until('its islands', async () => /Islands\s*6/.test(await figures()));
  await button('Keep', 'Sheet tools');
  await until('what is kept', async () => /Kept\s*6 of 6 faces/.test(await figures()));
  const unwrap = async () => (await piece('box')).recipe.find((s) => s.kind === 'unwrap')!.values;
  await until('the file', async () => typeof (await unwrap()).layout === 'string' && (await unwrap()).layout !== '');
  // Upstream: cut into more faces, each of which lies in the one it came from.
  await setValue('cutX', '3');
  await button('On to the sheet', 'Sheet');
  await until('it following', async () => /Kept\s*14 of 14 faces/.test(await figures()));
  expect(await figures()).toMatch(/Islands\s*6[^]*Overlaps\s*0$/);
  // A seam is closed: what lies along it is laid out anew, the rest stays kept.
  await command('Suggest seams');
  await until('what could be closed', () => page.$('[aria-label="Suggested seams"] li'));
  await button('Close', 'Suggested seams');
  await until('one island less', async () => /Islands\s*5[^]*Overlaps\s*0/.test(await figures()));
  expect(Number(/Kept\s*(\d+) of 14 faces/.exec(await figures())?.[1])).toBeLessThan(14);
  expect(((await unwrap()).anew as { keys: number[] }).keys.length).toBeGreaterThan(1);
  await click('[aria-label="Close suggestions"]');
  await chord('Control', 'z');
  await until('all of it kept', async () => /Islands\s*6[^]*Kept\s*14 of 14 faces/.test(await figures()));
  // All of them by a rectangle, then one on the other.
  const sheet = await page.$eval('[data-testid=sheet]', (e) => {
    const r = e.getBoundingClientRect();
    return { x: r.left, y: r.top, w: r.width, h: r.height };
  });
  await button('Island', 'Sheet tools');
  await page.mouse.move(sheet.x + 4, sheet.y + 110);
  await page.mouse.down();
  await page.mouse.move(sheet.x + sheet.w - 4, sheet.y + sheet.h - 110, { steps: 4 });
  await page.mouse.up();
  await button('More', 'Sheet tools');
  await menuItem('Lay alike on each other');
  await until('what lies on others', async () => /Overlaps\s*[1-9]/.test(await figures()));
  await button('More', 'Sheet tools');
  await menuItem('Under others');
  await until('those', async () => /faces picked/.test(await text('body')));
  await chord('Control', 'z');
  await until('as before', async () => /Overlaps\s*0$/.test(await figures()));
  await button('Keep', 'Sheet tools');
  await until('it let go', async () => (await unwrap()).layout === '');
});

test('seams are closed as suggested and traced between corners; what is locked stays through packing; all is projected', async () => {
  await begin('Seams');
  await addBox();
  await unfold();
  const unwrap = async () => (await piece('box')).recipe.find((s) => s.kind === 'unwrap')!.values;
  const keysOf = async (name: string) => ((await unwrap())[name] as { keys: number[] }).keys;
  await until('its islands', async () => /Islands\s*6/.test(await figures()));
  await command('Suggest seams');
  await until('what could be closed', () => page.$('[aria-label="Suggested seams"] li'));
  await button('Close', 'Suggested seams');
  await until('one island less', async () => /Islands\s*5/.test(await figures()));
  expect(await keysOf('hold')).toHaveLength(1);
  await click('[aria-label="Close suggestions"]');
  await chord('Control', 'z');
  await until('as before', async () => /Islands\s*6/.test(await figures()));

  const { width, height, depth } = (await piece('box')).recipe[0].values as Record<string, number>;
  const corner = (x: number, z: number): Promise<[number, number]> => at([(x * width) / 2, height, (z * depth) / 2]);
  // From farther off, so that no corner lies under what stands over the view.
  await page.keyboard.press('Home');
  await sleep(800);
  await page.mouse.move(...(await corner(0, 0)));
  for (let k = 0; k < 4; k++) {
    await page.mouse.wheel({ deltaY: 144 });
    await sleep(120);
  }
  await sleep(500);
  await command('Trace a seam');
  for (const [x, z] of [
    [-1, 1],
    [1, 1],
    [1, -1],
  ]) {
    await page.mouse.click(...(await corner(x, z)));
    await sleep(200);
  }
  await page.keyboard.press('Backspace');
  await page.keyboard.press('Enter');
  await until('the seam', async () => (await keysOf('cut')).length === 1);
  await page.keyboard.press('Escape');

  const [x, y] = await dragIsland();
  await until('where it was put', async () => ((await unwrap()).placed as HandPlaces).face.length > 0);
  const before = (await unwrap()).placed as HandPlaces;
  // Twice more at a stroke, so that the picture of the first cannot be there when the second begins.
  await page.$eval(
    '[data-testid=sheet]',
    async (e, x0, clientY) => {
      const go = async (kind: string, clientX: number) => {
        e.dispatchEvent(new PointerEvent(kind, { bubbles: true, clientX, clientY, pointerId: 1 }));
        await Promise.resolve();
        await Promise.resolve();
      };
      for (const k of [0, 1]) {
        await go('pointerdown', x0 + 20 * k);
        await go('pointermove', x0 + 20 * k + 20);
        await go('pointerup', x0 + 20 * k + 20);
      }
    },
    x,
    y,
  );
  const goneBy = async () => ((await unwrap()).placed as HandPlaces).uv[0] - before.uv[0];
  const side = await page.$eval('[data-testid=sheet]', (e) => Math.min(e.clientWidth - 52, e.clientHeight - 190));
  await until('both ways', async () => Math.abs((await goneBy()) - 40 / side) < 2 / 1024);
  const there = (await unwrap()).placed as HandPlaces;
  await button('More', 'Sheet tools');
  await menuItem('Lock where it lies');
  await until('its lock', async () => (await keysOf('locked')).length === 1);
  await button('Pack', 'Sheet tools');
  await until('the packing', async () => (await unwrap()).repack === true);
  await until('no overlap', async () => /Islands\s*6[^]*Overlaps\s*0$/.test(await figures()));
  const out = await followRecipe((await piece('box')).recipe, { memory: new Memory(), materials: [] });
  const { mesh } = out.at(-1)!;
  const uvNow = Array.from(mesh.attributes.uv.data);
  there.uv.forEach((x) => expect(Math.min(...uvNow.map((y) => Math.abs(x - y)))).toBeLessThan(1e-5));

  await page.keyboard.press('Escape');
  await chord('Control', 'a');
  await button('More', 'Sheet tools');
  await menuItem('From six sides');
  await until('all of it placed', async () => ((await unwrap()).placed as HandPlaces).face.length === 24);
  expect(await figures()).toMatch(/Islands\s*6/);
});

test('islands are relaxed until that is stopped, and dropped or kept; a picture lies behind them', async () => {
  await begin('Relaxing');
  await click('[aria-label="New piece"]');
  await menuItem('sphere');
  await unfold();
  const unwrap = async () => (await piece('sphere')).recipe.find((s) => s.kind === 'unwrap')!.values;
  const placed = async () => ((await unwrap()).placed as HandPlaces).face.length;
  await until('its islands', async () => /Islands\s*[1-9]/.test(await figures()));
  await page.select('[aria-label="Behind the islands"]', 'checker');
  await page.waitForSelector('[aria-label="How strongly it shows"]');
  await chord('Control', 'a');
  const relax = async () => {
    await button('More', 'Sheet tools');
    await menuItem('Relax until stopped');
    await until('rounds of it', async () => /Stretch\s*1\.\d+ on average/.test(await text('[aria-label="Relaxing"]')));
  };
  await relax();
  await click('[aria-label="Relaxing"] input[type=checkbox]');
  await until('rounds of the other way', async () =>
    /Stretch\s*1\.\d+ on average/.test(await text('[aria-label="Relaxing"]')),
  );
  await button('Drop', 'Relaxing');
  await until('it gone', async () => (await page.$('[aria-label="Relaxing"]')) === null);
  expect(await placed()).toBe(0);
  await relax();
  await until('what came of it kept', async () => {
    // It may have come to rest just as it was pressed.
    await (await page.$('[aria-label="Relaxing"] .btn-primary'))?.click();
    return (await placed()) > 0;
  });
  expect(await page.$('[aria-label="Relaxing"]')).toBeNull();
  await chord('Control', 'z');
  await until('it undone', async () => (await placed()) === 0);

  // Another of its kind, is laid out as it.
  const islands = async () => /Islands\s*(\d+)/.exec(await figures())?.[1];
  const lain = await islands();
  await command('Copy the layout');
  await until('it taken', async () => /is copied/.test(await page.evaluate(() => document.body.innerText)));
  await click('[aria-label="New piece"]');
  await menuItem('sphere');
  await sleep(300);
  await command('Lay out as copied');
  await until('all of it', async () => {
    const [, kept, all] = /Kept\s*([\d,]+) of ([\d,]+) faces/.exec(await figures()) ?? [];
    return kept !== undefined && kept === all;
  });
  expect(await islands()).toBe(lain);
});

/** Where a place of the sheet is on the screen, as it is seen at first. */
async function onSheet(u: number, v: number): Promise<[number, number]> {
  const r = await page.$eval('[data-testid=sheet]', (e) => {
    const b = e.getBoundingClientRect();
    return { x: b.left, y: b.top, w: b.width, h: b.height };
  });
  const side = Math.min(r.w - 52, r.h - 190);
  return [r.x + (r.w - side) / 2 + u * side, r.y + (r.h - 90 - side) / 2 + 36 + (1 - v) * side];
}

test('brushed, sewn, snapped, packed within a rectangle; another UV set leaves the first as it is', async () => {
  await begin('Brushes');
  await addBox();
  await unfold();
  const recipe = async () => (await piece('box')).recipe;
  const unwrap = async () => (await recipe()).find((s) => s.kind === 'unwrap')!.values;
  const followed = async () =>
    (await followRecipe(await recipe(), { memory: new Memory(), materials: [] })).at(-1)!.mesh;
  const placed = async () => ((await unwrap()).placed as HandPlaces).uv;
  await until('its islands', async () => /Islands\s*6/.test(await figures()));

  // A corner of an island is dragged by the brush.
  const before = Array.from((await followed()).attributes.uv.data);
  const drag = async (from: [number, number], to: [number, number]) => {
    await page.mouse.move(...from);
    await page.mouse.down();
    await page.mouse.move(...to, { steps: 5 });
    await page.mouse.up();
  };
  const middle = [0, 1].map((k) => [0, 1, 2, 3].reduce((sum, c) => sum + before[2 * c + k] / 4, 0));
  // The corner of it that is nearest to the middle of the sheet: there is nothing over it.
  const corner = [0, 1, 2, 3].sort((c, d) => before[2 * d] + before[2 * d + 1] - before[2 * c] - before[2 * c + 1])[0];
  const inside = [0, 1].map((k) => before[2 * corner + k] + 0.2 * (middle[k] - before[2 * corner + k])) as [
    number,
    number,
  ];
  await button('Brush', 'Sheet tools');
  await page.select('[aria-label="What the brush does"]', 'grab');
  await drag(await onSheet(...inside), await onSheet(inside[0] + 0.03, inside[1] + 0.03));
  await until('what was brushed', async () => (await placed()).length > 0);
  const brushed = await placed();
  const pairs = (list: ArrayLike<number>) =>
    Array.from({ length: list.length / 2 }, (_, i) => [list[2 * i], list[2 * i + 1]]);
  const were = pairs(before);
  const moved = pairs(brushed).map(([u, v]) => Math.min(...were.map(([x, y]) => Math.hypot(u - x, v - y))));
  expect(Math.max(...moved)).toBeGreaterThan(0.002);
  await chord('Control', 'z');
  await until('it undone', async () => (await placed()).length === 0);

  // An edge at the border of an island is sewn to its other side.
  await button('Edge', 'Sheet tools');
  const edge = [0, 1].map((k) => (before[k] + before[2 + k]) / 2) as [number, number];
  await page.mouse.click(...(await onSheet(...edge)));
  await button('More', 'Sheet tools');
  await menuItem('Sew the picked edges');
  await until('it sewn', async () => /Islands\s*5/.test(await figures()));
  expect(topologyOf(await followed()).edgeCount).toBe(12);
  await chord('Control', 'z');
  await until('as before', async () => /Islands\s*6/.test(await figures()));

  // An island is dragged: it comes to stand on sixteenths.
  await button('Island', 'Sheet tools');
  await page.select('[aria-label="What is moved snaps"]', 'grid');
  await drag(await onSheet(middle[0], middle[1]), await onSheet(middle[0] + 0.017, middle[1] + 0.011));
  await until('where it was dropped', async () => (await placed()).length > 0);
  const now = await placed();
  for (const k of [0, 1]) {
    const low = 16 * Math.min(...now.filter((_, i) => i % 2 === k));
    expect(Math.abs(low - Math.round(low))).toBeLessThan(1e-4);
  }
  await chord('Control', 'z');
  await until('back', async () => (await placed()).length === 0);

  // Within a rectangle that is drawn.
  await button('More', 'Sheet tools');
  await menuItem('Within a rectangle');
  await drag(await onSheet(0.5, 0.02), await onSheet(0.98, 0.5));
  await until('the part', async () => Math.abs(((await unwrap()).partLeft as number) - 0.5) < 0.02);
  const low = Array.from((await followed()).attributes.uv.data).filter((_, i) => i % 2 === 0);
  expect(Math.min(...low)).toBeGreaterThan(0.48);
  await until('it smaller', async () => /Fill\s*1?\d\.\d %/.test(await figures()));

  // Another set is laid out on all of the sheet; the first stays within its part.
  await page.select('[aria-label="UV set"]', 'another');
  await until('the other', async () => (await recipe()).filter((s) => s.kind === 'unwrap').length === 2);
  await until('all of the sheet', async () => /Fill\s*[4-9]\d\.\d %/.test(await figures()));
  const mesh = await followed();
  expect(Object.keys(mesh.attributes).filter((name) => name.startsWith('uv'))).toEqual(['uv', 'uv:set 2']);
  expect(Math.min(...Array.from(mesh.attributes.uv.data).filter((_, i) => i % 2 === 0))).toBeGreaterThan(0.48);
  const [first] = (await recipe()).filter((s) => s.kind === 'unwrap');
  await page.select('[aria-label="UV set"]', first.id);
  await until('the first', async () => /Fill\s*1?\d\.\d %/.test(await figures()));

  // All of it in a frame that stands in the view: live, dropped, then kept.
  await chord('Control', 'a');
  await button('More', 'Sheet tools');
  await menuItem('In a frame in the view');
  await page.waitForSelector('[aria-label="Projecting"] .btn-primary:not([disabled])');
  await page.keyboard.press('Escape');
  await until('it gone', async () => (await page.$('[aria-label="Projecting"]')) === null);
  expect(await placed()).toHaveLength(0);
  await button('More', 'Sheet tools');
  await menuItem('In a frame in the view');
  await page.select('[aria-label="How they are seen"]', 'cylinder');
  await page.click('[aria-label="Projecting"] button[title="Up along Y"]');
  await until('how often round', async () => (await page.$('[aria-label="Times round"]')) !== null);
  await sleep(600);
  await button('Keep', 'Projecting');
  await until('all of it placed', async () => (await placed()).length === 48);
  const round = (await placed()).filter((_, i) => i % 2 === 0);
  const high = (await placed()).filter((_, i) => i % 2 === 1);
  expect(Math.max(...round) - Math.min(...round)).toBeGreaterThan(Math.max(...high) - Math.min(...high));
});

test('two pieces on one sheet: an island of one is put where it is wanted, and the other goes round it', async () => {
  await begin('Together');
  await addBox();
  await addBox();
  const [first, second] = (await savedDocument()).pieces.map((p) => p.name);
  await row(first);
  await row(second, 'Control');
  await command('Lay on one sheet');
  await until('both laid out', async () =>
    (await savedDocument()).pieces.every((p) => p.recipe.some((s) => s.kind === 'share')),
  );
  await stage('Unwrap');
  await row(first);
  // What is read at first may be the other's, as long as this one is not taken up yet.
  await until('the sheet', async () => {
    const seen = await text('[data-testid=sheet]');
    if (seen.includes('See the sheet')) await button('See the sheet', 'Sheet');
    return seen.includes('See its own layout') && seen.includes(`Sheet · ${first}`);
  });
  const layout = async () => {
    const doc = await savedDocument();
    const own = doc.pieces.find((p) => p.name === first)!;
    const followed = followDocument(doc, { memory: new Memory() });
    const all = await Promise.all(doc.pieces.map(async (p) => (await followed.piece(p)).shown!.geometry.mesh!));
    const { shared, placed } = own.recipe.find((s) => s.kind === 'unwrap')!.values as Record<string, HandPlaces>;
    return { shared, placed, all };
  };
  const apart = (meshes: readonly Mesh[]) => {
    const one = mergeMeshes(meshes.map((mesh, i) => ({ mesh, name: `${i}`, seed: i + 1 })));
    return uvFigures(one, one.attributes.uv.data, 1024);
  };
  const before = await layout();
  await dragIsland();
  await until('its place', async () => (await layout()).shared.face.length > 0);
  const now = await layout();
  expect(now.placed.face).toHaveLength(0);
  expect(apart(now.all)).toMatchObject({ overlap: 0, flips: 0, outside: 0 });
  // It lies where it was dropped, to the pixel, and was elsewhere before.
  const placeOf = (mesh: Mesh, key: number): number[] => {
    const f = mesh.faceKey.indexOf(key);
    return Array.from(mesh.attributes.uv.data.slice(2 * mesh.faceStart[f], 2 * mesh.faceStart[f + 1]));
  };
  const [key] = now.shared.face;
  const entries = now.shared.face.flatMap((f, i) =>
    f === key ? [now.shared.uv[2 * i], now.shared.uv[2 * i + 1]] : [],
  );
  placeOf(now.all[0], key).forEach((x, i) => expect(x).toBeCloseTo(entries[i], 5));
  expect(placeOf(before.all[0], key)).not.toEqual(placeOf(now.all[0], key));

  // A texel further by a key; on its own sheet nothing has moved.
  await page.focus('[data-testid=sheet]');
  await page.keyboard.press('ArrowRight');
  await until('a texel further', async () => (await layout()).shared.uv[0] > entries[0] + 0.5 / 1024);
  expect((await layout()).placed.face).toHaveLength(0);
  await button('Pack', 'Sheet tools');
  await until('all packed anew', async () => (await layout()).shared.face.length === 0);
  expect(placeOf((await layout()).all[0], key)).toEqual(placeOf(before.all[0], key));
});

thoroughly(
  'a model with its picture: laid out anew it says that the picture stays behind, and carries it over',
  async () => {
    await begin('Carried');
    await stage('Gather');
    const cube = unwrapMesh(
      box({ width: 1, height: 1, depth: 1, cutX: 2, cutY: 2, cutZ: 2, onGround: true }, 3),
      UNWRAPPING,
    ).mesh;
    const material = { domain: 'face' as const, width: 1, data: new Int32Array(cube.faceCount) };
    const paint = {
      id: 'm',
      name: 'Paint',
      color: [1, 1, 1, 1] as const,
      roughness: 1,
      metalness: 0,
      maps: { color: 0 },
    };
    const path = join(files, 'crate.glb');
    const data = new Uint8Array(4 * 64 * 64).fill(200);
    writeFileSync(
      path,
      await writeGlb({
        pieces: [{ name: 'crate', parent: -1, mesh: cube.with({ slots: ['m'] }).withAttribute('material', material) }],
        materials: [paint],
        images: [{ name: 'paint.png', mime: 'image/png', bytes: writePng({ width: 64, height: 64, data }) }],
        warnings: [],
      }),
    );
    await give('input[aria-label="Files to bring in"]', path);
    await until('the piece', async () => (await rows()).includes('crate'));
    await row('crate');
    await unfold();
    const left = 'The pictures of its materials lie by the layout before.';
    await until('what is said of its picture', async () => (await text('body')).includes(left));
    await button('Carry them over');
    await until('it done', async () => !(await text('body')).includes(left));
    const kinds = async () => (await piece('crate')).recipe.map((s) => s.kind);
    expect(await kinds()).toEqual(['brought-in', 'unwrap', 'texture']);
    const { recipe } = await piece('crate');
    expect(recipe[2].values.pictures).toBe(recipe[0].id);
    // Once is enough; it follows from then on.
    await command('Carry the pictures over');
    await until('that it is so already', async () => (await text('body')).includes('carried over already'));
    await chord('Control', 'z');
    await until('it undone', async () => (await text('body')).includes(left));
    expect(await kinds()).toEqual(['brought-in', 'unwrap']);
  },
);
