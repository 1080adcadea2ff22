/** The outbox against a server that behaves in every way a server can. No IndexedDB here: it must do without. */
import type { Patch } from '../../document/types';
import { Outbox, type SavingState } from './outbox';

const rename = (name: string): Patch[] => [{ op: 'replace', path: ['name'], value: name }];
const put = (box: Outbox, label: string, patches: Patch[], noted?: boolean): void => box.add({ label, patches, noted });
const until = async (test: () => boolean) => {
  for (let i = 0; i < 400 && !test(); i++) await new Promise((r) => setTimeout(r, 10));
  expect(test()).toBe(true);
};

type Answer = () => Promise<Response>;
const ok =
  (revision: number): Answer =>
  async () =>
    Response.json({ revision });
const refuse =
  (status: number, body: object = { error: 'No.' }): Answer =>
  async () =>
    Response.json(body, { status });
const lost: Answer = () => Promise.reject(new TypeError('fetch failed'));

let sent: { base: number; id: string; label: string; patches: Patch[] }[];
let states: SavingState[];

function outbox(answers: Answer[], revision = 0): Outbox {
  sent = [];
  states = [];
  globalThis.fetch = jest.fn(async (_url: unknown, init?: RequestInit) => {
    sent.push(JSON.parse(String(init?.body)) as (typeof sent)[number]);
    return (answers.shift() ?? refuse(500))();
  }) as never;
  return new Outbox('p', revision, (s) => states.push(s));
}
const real = globalThis.fetch;
afterAll(() => {
  globalThis.fetch = real;
});

test('changes go one at a time, in order, each on the revision before it', async () => {
  const box = outbox([ok(8), ok(9), ok(10)], 7);
  for (const name of ['a', 'b', 'c']) put(box, name, rename(name));
  await until(() => states.at(-1)?.kind === 'saved');
  expect(sent.map((s) => [s.label, s.base])).toEqual([
    ['a', 7],
    ['b', 8],
    ['c', 9],
  ]);
  expect(new Set(sent.map((s) => s.id)).size).toBe(3);
  expect(box.unsent).toEqual([]);
});

test('a lost connection: the change waits, and goes with the same id when it is back', async () => {
  const box = outbox([lost, refuse(503, { error: 'The database cannot be reached just now.' }), ok(1)]);
  put(box, 'a', rename('a'));
  await until(() => states.some((s) => s.kind === 'waiting'));
  expect(box.unsent).toHaveLength(1);
  await until(() => states.at(-1)?.kind === 'saved');
  expect(sent).toHaveLength(3);
  expect(new Set(sent.map((s) => s.id)).size).toBe(1);
});

test('another window was faster: it stops there and sends nothing more', async () => {
  const box = outbox([refuse(409, { error: 'Changed elsewhere.', revision: 5 }), ok(9)]);
  put(box, 'a', rename('a'));
  put(box, 'b', rename('b'));
  await until(() => states.at(-1)?.kind === 'conflict');
  await new Promise((r) => setTimeout(r, 700));
  expect(sent).toHaveLength(1);
  expect(box.unsent.map((u) => u.label)).toEqual(['a', 'b']);
  expect(states.at(-1)).toEqual({ kind: 'conflict', revision: 5 });
});

test('another window was faster than notes alone: they are let go, and it goes on from there', async () => {
  const box = outbox([refuse(409, { error: 'Changed elsewhere.', revision: 5 }), ok(6)]);
  let overtaken = 0;
  box.onOvertaken = () => overtaken++;
  put(box, 'where picks are', rename('a'), true);
  put(box, 'where picks are', rename('b'), true);
  await until(() => overtaken === 1);
  expect([sent.length, box.unsent, states.at(-1)]).toEqual([1, [], { kind: 'saved' }]);
  box.startAt(5);
  put(box, 'c', rename('c'));
  await until(() => sent.length === 2 && states.at(-1)?.kind === 'saved');
  expect(sent[1]).toMatchObject({ label: 'c', base: 5 });
});

test('a note behind what somebody did is no reason to let that go', async () => {
  const box = outbox([refuse(409, { error: 'Changed elsewhere.', revision: 5 })]);
  put(box, 'a', rename('a'));
  put(box, 'where picks are', rename('b'), true);
  await until(() => states.at(-1)?.kind === 'conflict');
  expect(box.unsent.map((u) => u.label)).toEqual(['a', 'where picks are']);
});

describe('what the server will never take is set apart', () => {
  const replace = (path: (string | number)[], value: unknown): Patch[] => [{ op: 'replace', path, value }];
  const labels = (box: Outbox) => box.aside.map((a) => [a.label, a.aside]);

  test('with all that rests on it; the rest goes on, on the revision that there is', async () => {
    const box = outbox([refuse(422, { error: 'Its width must be a number.' }), ok(8), ok(9)], 7);
    let told = 0;
    box.onAside = () => told++;
    put(box, 'add a piece', [{ op: 'add', path: ['pieces', 0], value: {} }]);
    put(box, 'name it', replace(['pieces', 0, 'name'], 'x'));
    put(box, 'a material', replace(['materials', 0, 'color'], '#111111'));
    put(box, 'rename', rename('b'));
    await until(() => states.at(-1)?.kind === 'saved');
    expect(labels(box)).toEqual([
      ['add a piece', 'Its width must be a number.'],
      ['name it', 'It rests on “add a piece”, which could not be saved.'],
    ]);
    expect(sent.map((s) => [s.label, s.base])).toEqual([
      ['add a piece', 7],
      ['a material', 7],
      ['rename', 8],
    ]);
    expect(told).toBeGreaterThan(0);
    expect(box.unsent).toEqual([]);
  });

  test('what is done afterwards, while it is still seen, does not go either; once the page has let go, it does', async () => {
    const box = outbox([refuse(422), ok(1), ok(2)]);
    put(box, 'add', [{ op: 'add', path: ['pieces', 0], value: {} }]);
    await until(() => box.aside.length === 1);
    put(box, 'size', replace(['pieces', 0, 'smooth'], 1));
    await until(() => box.aside.length === 2);
    put(box, 'rename', rename('b'));
    await until(() => states.at(-1)?.kind === 'saved');
    box.letGo();
    put(box, 'size of another', replace(['pieces', 0, 'smooth'], 1));
    await until(() => sent.length === 3);
    await until(() => states.at(-1)?.kind === 'saved');
    expect(sent.map((s) => s.label)).toEqual(['add', 'rename', 'size of another']);
    await box.dropAside();
    expect(box.aside).toEqual([]);
  });

  test('what the server did not foresee is tried again, and set apart in the end', async () => {
    const box = outbox([...Array.from({ length: 5 }, () => refuse(500)), ok(1)]);
    (box as unknown as { wait: number }).wait = 1;
    put(box, 'odd', rename('a'));
    put(box, 'plain', replace(['units'], 'mm'));
    await until(() => box.aside.length === 1 && states.at(-1)?.kind === 'saved');
    expect(sent.map((s) => s.label)).toEqual(['odd', 'odd', 'odd', 'odd', 'odd', 'plain']);
  });

  test('no request for which only the moment is wrong is final', async () => {
    const box = outbox([refuse(429), refuse(408), refuse(503), ok(1)]);
    (box as unknown as { wait: number }).wait = 1;
    put(box, 'a', rename('a'));
    await until(() => states.at(-1)?.kind === 'saved');
    expect(box.aside).toEqual([]);
  });
});
