/** What is kept in the browser beyond the session. */
import 'fake-indexeddb/auto';
import { lastingIn } from './lasting';

let count = 0;
const fresh = (): string => `test ${++count}`;
const bytes = (n: number, of = 1): Uint8Array => new Uint8Array(n).fill(of);
const rest = () => new Promise((r) => setTimeout(r, 30));

test('what was kept is there for another session of the same edition, and for no other', async () => {
  const db = fresh();
  lastingIn('one', 1000, db).put('a', bytes(10, 7));
  await rest();
  expect(await lastingIn('one', 1000, db).get('a')).toEqual(bytes(10, 7));
  expect(await lastingIn('one', 1000, db).get('b')).toBeUndefined();
  expect(await lastingIn('two', 1000, db).get('a')).toBeUndefined();
});

test('there is no more of it than so many bytes: what was used longest ago goes first', async () => {
  const db = fresh();
  const kept = lastingIn('one', 100, db);
  for (const name of ['a', 'b', 'c']) {
    kept.put(name, bytes(30));
    await rest();
  }
  expect(await kept.get('a')).toBeDefined(); // and so it was used last
  await rest();
  kept.put('d', bytes(40));
  await rest();
  const there = await Promise.all(['a', 'b', 'c', 'd'].map((name) => kept.get(name)));
  expect(there.map((x) => x?.length)).toEqual([30, undefined, 30, 40]);
  kept.put('huge', bytes(101));
  await rest();
  expect(await kept.get('huge')).toBeUndefined();
  expect(await kept.get('d')).toBeDefined();
});

test('another edition’s goes when something is kept; the same name is kept once', async () => {
  const db = fresh();
  lastingIn('old', 100, db).put('a', bytes(60));
  await rest();
  const kept = lastingIn('new', 100, db);
  kept.put('b', bytes(60));
  await rest();
  kept.put('b', bytes(70, 3));
  await rest();
  expect(await kept.get('b')).toEqual(bytes(70, 3));
  expect(await lastingIn('old', 100, db).get('a')).toBeUndefined();
});

test('without a database all goes on without it', async () => {
  const { indexedDB } = globalThis;
  Object.assign(globalThis, {
    indexedDB: {
      open: () => {
        throw new Error('Nothing may be kept here.');
      },
    },
  });
  try {
    const kept = lastingIn('one', 100, fresh());
    kept.put('a', bytes(10));
    expect(await kept.get('a')).toBeUndefined();
  } finally {
    Object.assign(globalThis, { indexedDB });
  }
});
