/** The outbox against a server that behaves in every way a server can. No IndexedDB here: it must do without. */
import type { Patch } from '../../document/types';
import { Outbox, type SavingState } from './outbox';

const rename = (name: string): Patch[] => [{ op: 'replace', path: ['name'], value: name }];
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
  for (const name of ['a', 'b', 'c']) box.add(name, rename(name));
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
  box.add('a', rename('a'));
  await until(() => states.some((s) => s.kind === 'waiting'));
  expect(box.unsent).toHaveLength(1);
  await until(() => states.at(-1)?.kind === 'saved');
  expect(sent).toHaveLength(3);
  expect(new Set(sent.map((s) => s.id)).size).toBe(1);
});

test('another window was faster: it stops there and sends nothing more', async () => {
  const box = outbox([refuse(409, { error: 'Changed elsewhere.', revision: 5 }), ok(9)]);
  box.add('a', rename('a'));
  box.add('b', rename('b'));
  await until(() => states.at(-1)?.kind === 'conflict');
  await new Promise((r) => setTimeout(r, 700));
  expect(sent).toHaveLength(1);
  expect(box.unsent.map((u) => u.label)).toEqual(['a', 'b']);
  expect(states.at(-1)).toEqual({ kind: 'conflict', revision: 5 });
});

test('a change the server will never take is told, and not sent again and again', async () => {
  const box = outbox([refuse(422, { error: 'The project cannot be accepted: width must be a number.' })]);
  box.add('a', rename('a'));
  await until(() => states.at(-1)?.kind === 'refused');
  expect((states.at(-1) as { why: string }).why).toMatch(/width must be a number/);
  expect(sent).toHaveLength(1);
});

test('ended while waiting: it stays quiet', async () => {
  const box = outbox([lost, ok(1)]);
  box.add('a', rename('a'));
  await until(() => states.at(-1)?.kind === 'waiting');
  box.end();
  await new Promise((r) => setTimeout(r, 700));
  expect(sent).toHaveLength(1);
});

test('without a memory of its own there are no leftovers, and that is no error', async () => {
  const box = outbox([]);
  expect(await box.sendLeftovers()).toEqual([]);
  await box.forgetLeftovers();
});
