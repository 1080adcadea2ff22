/** Bringing things in, in a real browser: dropping files, blueprints, bundles, and large files that are stopped. */
import { mkdtempSync, writeFileSync } from 'node:fs';
import { tmpdir } from 'node:os';
import { join } from 'node:path';
import type { Page } from 'puppeteer-core';
import { WebIO } from '@gltf-transform/core';
import { ALL_EXTENSIONS, KHRDracoMeshCompression } from '@gltf-transform/extensions';
import draco from 'draco3dgltf';
import { writeGlb, writeStl, writePng, emptyScene, writeZip } from '../src/core/formats';
import { box, cubeSphere } from '../src/core/make';
import { Sheet } from '../src/demo/drawing';
import { at, begin, button, click, give, atHand, piece, rows, savedDocument, sleep, stage, text, until } from './hand';
import { thoroughly } from '../src/core/testing/thoroughly';

let page: Page;
const files = mkdtempSync(join(tmpdir(), 'glypta-gather-'));
const deg = Math.PI / 180;
const FILES = 'input[aria-label="Files to bring in"]';
const write = (name: string, content: string | Uint8Array) => {
  writeFileSync(join(files, name), content);
  return join(files, name);
};

atHand(
  (opened) => {
    ({ page } = opened);
  },
  { files },
);

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
    FILES,
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
  const report = await text('[aria-label^="Report on"]');
  expect(report).toMatch(/nil\.png is empty\./);
  expect(report).toMatch(/letter\.glb is not a GLB, whatever its name says\./);
  expect(report).toMatch(/plan\.png: a blueprint, 2 × 2 px/);
  expect(report).toMatch(/land\.raw: heights, 4 × 4 at 16 bits/);
  expect(report).toMatch(/Size, mm\n20 × 30 × 40/); // STL has no unit: millimetres are the guess
  let doc = await savedDocument();
  expect(doc.materials[0].maps?.color).toBe(doc.images.find((i) => i.name === 'tar.png')!.id);
  // The guess is changed in the report, and the model with it.
  await page.select('[aria-label="One unit of block.stl"]', '0.01');
  doc = await savedDocument();
  expect(doc.pieces.find((p) => p.name === 'block')!.recipe[0].values.unit).toBe(0.01);
  await until('its new size', async () => /200 × 300 × 400/.test(await text('[aria-label^="Report on"]')));
});

test('a map that did not come can be given later', async () => {
  await give(
    FILES,
    write('bare.obj', 'mtllib bare.mtl\nusemtl Oak\nv 0 0 0\nv 1 0 0\nv 0 1 0\nf 1 2 3\n'),
    write('bare.mtl', 'newmtl Oak\nmap_Kd oak.png\n'),
  );
  await until('the place for it', () => page.$('input[aria-label="File for oak.png"]'));
  await give(
    'input[aria-label="File for oak.png"]',
    write('oak.png', writePng({ width: 1, height: 1, data: new Uint8Array([9, 9, 9, 255]) })),
  );
  await until('it taken', async () => !(await page.$('input[aria-label="File for oak.png"]')));
  const doc = await savedDocument();
  expect(doc.images.find((i) => i.id === doc.materials.find((m) => m.name === 'Oak')!.maps!.color)!.name).toBe(
    'oak.png',
  );
});

thoroughly(
  'a scanned drawing is levelled, scaled and given its origin by clicks, within 0.1 %; stations and a circle are put on it',
  async () => {
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
    await give(FILES, write('side.png', writePng(s.image)));
    await until('it in', async () => (await rows()).includes('side'));
    await click('::-p-xpath(//*[@aria-label="Views"]//button[normalize-space()="Front"])');
    await page.keyboard.press('Home');
    await sleep(600);
    const id = (await piece('side')).id;
    /** Clicks where a point of the drawing is now, whatever has been trued up so far. */
    const clickAt = async (u: number, v: number) => {
      const b = (await savedDocument()).pieces.find((p) => p.id === id)!.blueprint!;
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
  },
);

thoroughly('a large file is read beside the page, and can be stopped; nothing of it comes in', async () => {
  await begin('Stopped');
  await stage('Gather');
  const ball = cubeSphere({ radius: 50, cuts: 160 }, 1);
  await give(
    FILES,
    write('ball.stl', writeStl({ ...emptyScene(), pieces: [{ name: 'ball', parent: -1, mesh: ball }] }, true)),
  ); // as text: 90 MB or so, seconds of work
  await button('Stop');
  await until('its end', async () => /Stopped; nothing came in/.test(await text('[aria-label^="Report on"]')));
  await sleep(1500);
  expect(await rows()).toEqual([]);
  expect((await savedDocument()).pieces).toEqual([]);
});

thoroughly('a GLB with packed triangles, glow and colours of its own is unpacked on the page', async () => {
  const mesh = cubeSphere({ radius: 0.5, cuts: 12 }, 1);
  const colors = Float32Array.from({ length: 4 * mesh.vertexCount }, (_, i) =>
    i % 4 === 3 ? 1 : 0.5 + mesh.positions[3 * (i >> 2) + (i % 4)],
  );
  const lamp = {
    name: 'lamp',
    parent: -1,
    mesh: mesh
      .with({
        slots: ['lit'],
        attributes: { material: { domain: 'face', width: 1, data: new Int32Array(mesh.faceCount) } },
      })
      .withAttribute('color', { domain: 'vertex', width: 4, data: colors }),
  };
  const lit = {
    id: 'lit',
    name: 'Lens',
    color: [1, 1, 1, 0.6] as const,
    roughness: 0.2,
    metalness: 0,
    glow: '#ff8000',
  };
  const plain = await writeGlb({ ...emptyScene(), pieces: [lamp], materials: [lit] });
  const io = new WebIO().registerExtensions(ALL_EXTENSIONS);
  io.registerDependencies({ 'draco3d.encoder': await draco.createEncoderModule() });
  const doc = await io.readBinary(plain as Uint8Array<ArrayBuffer>);
  doc.createExtension(KHRDracoMeshCompression).setRequired(true);
  await begin('Packed');
  await stage('Gather');
  await give(FILES, write('lamp.glb', await io.writeBinary(doc)));
  await until('the lamp', async () => (await rows()).includes('lamp'));
  expect(await text('[aria-label^="Report on"]')).toMatch(/1,728/);
  expect((await savedDocument()).materials).toMatchObject([
    { name: 'Lens', opacity: expect.closeTo(0.6), seeThrough: true, glow: '#ff8000' },
  ]);
  await stage('Finish');
  await until('the glow', async () => (await text('section[aria-label="Material Lens"]')).includes('Glow strength'));
});
