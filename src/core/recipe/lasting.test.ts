import { lasting, type Lasting } from './lasting';

/** A place to keep things in, and what was asked of it. */
function place(): Lasting & { kept: Map<string, Uint8Array>; asked: string[] } {
  const kept = new Map<string, Uint8Array>();
  const asked: string[] = [];
  return {
    kept,
    asked,
    get: (name) => {
      asked.push(name);
      return Promise.resolve(kept.get(name));
    },
    put: (name, bytes) => void kept.set(name, bytes),
  };
}

let done = 0;
const work = (ms: number) => ({
  name: () => 'this',
  work: () => {
    for (const end = performance.now() + ms; performance.now() < end;);
    return ++done;
  },
  write: (n: number) => Uint8Array.of(n),
  read: (bytes: Uint8Array) => (bytes.length === 1 ? bytes[0] : undefined),
});
beforeEach(() => {
  done = 0;
});

test('what takes long is done once; what does not, each time, and is not kept', async () => {
  const p = place();
  expect([await lasting(p, work(260)), await lasting(p, work(260)), done]).toEqual([1, 1, 1]);
  const q = place();
  expect([await lasting(q, work(0)), await lasting(q, work(0)), q.kept.size]).toEqual([2, 3, 0]);
});

test('what cannot be read is done anew and kept anew', async () => {
  const p = place();
  p.kept.set('this', new Uint8Array(9));
  expect(await lasting(p, work(260))).toBe(1);
  expect(p.kept.get('this')).toEqual(Uint8Array.of(1));
});

test('where nothing is kept nothing is named', async () => {
  const named = jest.fn(() => 'this');
  expect(await lasting(undefined, { ...work(0), name: named })).toBe(1);
  expect(named).not.toHaveBeenCalled();
});

test('what fails is not kept', async () => {
  const p = place();
  const failing = {
    ...work(0),
    work: () => {
      work(260).work();
      throw new Error('No.');
    },
  };
  await expect(lasting(p, failing)).rejects.toThrow('No.');
  expect(p.kept.size).toBe(0);
});
