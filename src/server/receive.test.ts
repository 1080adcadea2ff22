import { readdirSync } from 'node:fs';
import { tmpdir } from 'node:os';
import { received, type Received } from './receive';
import { Refusal } from './refusal';

const sent = (body: BodyInit | ReadableStream<Uint8Array>, address = 'a') =>
  new Request('http://127.0.0.1/x', {
    method: 'POST',
    body,
    headers: { 'x-forwarded-for': address },
    duplex: 'half',
  } as RequestInit);
const left = () => readdirSync(tmpdir()).filter((n) => n.startsWith('glypta-received-'));
const read = async (f: Received) => {
  const parts: Uint8Array[] = [];
  for await (const p of f.parts()) parts.push(p);
  return Buffer.concat(parts);
};

test('what comes is handed on as it came, and leaves nothing', async () => {
  const bytes = Buffer.alloc(3_000_000, 7);
  const before = left();
  expect((await received(sent(bytes), 1e7, read)).equals(bytes)).toBe(true);
  expect(left()).toEqual(before);
});

test('too large, stalled, broken off or refused later: a sentence, and nothing is left', async () => {
  const before = left();
  await expect(received(sent(Buffer.alloc(2000)), 1000, read)).rejects.toThrow(/larger than/);
  const stalled = new ReadableStream<Uint8Array>({ start: (c) => c.enqueue(new Uint8Array(10)) });
  await expect(received(sent(stalled), 1000, read, 60)).rejects.toMatchObject({ status: 408 });
  const broken = new ReadableStream<Uint8Array>({
    pull(c) {
      c.enqueue(new Uint8Array(10));
      c.error(new Error('gone'));
    },
  });
  await expect(received(sent(broken), 1000, read)).rejects.toThrow();
  const refuses = () => Promise.reject(new Refusal(422, 'No.'));
  await expect(received(sent(Buffer.alloc(5)), 1000, refuses)).rejects.toThrow('No.');
  expect(left()).toEqual(before);
});

test('one address may not take every place; others go on', async () => {
  let go = () => {};
  const wait = new Promise<void>((r) => {
    go = r;
  });
  const held = Array.from({ length: 48 }, () => received(sent('x', 'greedy'), 10, () => wait));
  await new Promise((r) => setTimeout(r, 200));
  await expect(received(sent('x', 'greedy'), 10, read)).rejects.toMatchObject({ status: 429 });
  expect((await received(sent('x', 'modest'), 10, read)).toString()).toBe('x');
  go();
  await Promise.all(held);
  expect((await received(sent('x', 'greedy'), 10, read)).toString()).toBe('x');
});
