/** Processes that draw: what hangs, eats memory or dies ends alone, and the next picture is drawn by another. */
import { mkdtempSync, rmSync, writeFileSync } from 'node:fs';
import { tmpdir } from 'node:os';
import { join } from 'node:path';
import { Drawer } from './drawer';

const folder = mkdtempSync(join(tmpdir(), 'glypta-drawer-'));
const script = join(folder, 'draw.mjs');
writeFileSync(
  script,
  `process.on('message', ({ id }) => {
    if (id === 'hangs') for (;;);
    if (id === 'eats') { const all = []; for (;;) all.push(new Uint8Array(1 << 24).fill(1)); }
    if (id === 'dies') process.exit(3);
    if (id === 'throws') throw new Error('secret');
    process.send({ png: Buffer.from(id + process.pid) });
  });`,
);
const job = (id: string) => ({ key: id, kind: 'item' as const, id, revision: 0 });
let drawer: Drawer;
beforeEach(() => {
  drawer = new Drawer(script, [], { time: 1500, memory: 200 * 1024 * 1024, patience: 90_000, gives: 0 });
});
afterEach(() => drawer.end());
afterAll(() => rmSync(folder, { recursive: true, force: true }));

test('pictures come from one process after another', async () => {
  const a = (await drawer.draw(job('a'))) as { png: Buffer };
  const b = (await drawer.draw(job('a'))) as { png: Buffer };
  expect(Buffer.from(a.png).toString()).toBe(Buffer.from(b.png).toString()); // by the same process
});

test.each([
  ['hangs', /^It takes more than 1.5 s to draw\.$/],
  ['eats', /^It takes more than 200 MB to draw\.$/],
  ['dies', /^The drawing ended before it was done\.$/],
  ['throws', /^The drawing ended before it was done\.$/],
])('what %s fails in a sentence within its limits, and the next is drawn', async (id, told) => {
  const begun = performance.now();
  expect(((await drawer.draw(job(id))) as { failed: string }).failed).toMatch(told);
  expect(performance.now() - begun).toBeLessThan(90000);
  expect(Buffer.from(((await drawer.draw(job('next'))) as { png: Buffer }).png).toString()).toMatch(/^next/);
});
