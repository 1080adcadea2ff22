import fc from 'fast-check';
import { Digest, edgeKey, key2, key3, key4, keyOf, textHash } from './hash';

const key = fc.integer({ min: 0, max: Number.MAX_SAFE_INTEGER });

test('keys are safe integers, whatever goes in', () => {
  fc.assert(
    fc.property(key, key, key, key, (a, b, c, d) => {
      for (const k of [key2(a, b), key3(a, b, c), key4(a, b, c, d), edgeKey(a, b)]) {
        expect(Number.isSafeInteger(k)).toBe(true);
        expect(k).toBeGreaterThanOrEqual(0);
      }
    }),
  );
});

test('an edge has one key, from either end; an ordered key has two', () => {
  fc.assert(
    fc.property(key, key, (a, b) => {
      expect(edgeKey(a, b)).toBe(edgeKey(b, a));
      if (a !== b) expect(key2(a, b)).not.toBe(key2(b, a));
    }),
  );
});

test('a million keys of a grid do not clash', () => {
  const seed = keyOf('grid');
  const seen = new Set<number>();
  for (let i = 0; i < 1000; i++) {
    for (let j = 0; j < 1000; j++) seen.add(key3(seed, i, j));
  }
  expect(seen.size).toBe(1_000_000);
});

test('every bit of a key is used about half the time', () => {
  const n = 20000;
  const low = new Array<number>(32).fill(0);
  const high = new Array<number>(21).fill(0);
  for (let i = 0; i < n; i++) {
    const k = key2(7, i);
    for (let b = 0; b < 32; b++) low[b] += (k >>> b) & 1;
    const h = Math.floor(k / 2 ** 32);
    for (let b = 0; b < 21; b++) high[b] += (h >>> b) & 1;
  }
  for (const count of [...low, ...high]) {
    expect(count / n).toBeGreaterThan(0.47);
    expect(count / n).toBeLessThan(0.53);
  }
});

test('texts that differ in one letter have other keys and hashes', () => {
  const texts = Array.from({ length: 5000 }, (_, i) => `step-${i}`);
  expect(new Set(texts.map(keyOf)).size).toBe(texts.length);
  expect(new Set(texts.map(textHash)).size).toBe(texts.length);
  expect(textHash('a')).toBe(textHash('a'));
});

describe('a name for a lot of data', () => {
  const name = (...parts: (ArrayBufferView | string)[]): string => {
    const d = new Digest();
    for (const p of parts) {
      if (typeof p === 'string') d.text(p);
      else d.data(p);
    }
    return d.name;
  };

  test('any byte, and where parts end, tells', () => {
    fc.assert(
      fc.property(fc.uint8Array({ maxLength: 80 }), fc.nat(79), fc.integer({ min: 1, max: 255 }), (bytes, at, by) => {
        const other = bytes.slice();
        if (at < other.length) other[at] ^= by;
        expect(name(other) === name(bytes)).toBe(at >= bytes.length);
        const cut = bytes.length ? at % bytes.length : 0;
        expect(name(bytes.subarray(0, cut), bytes.subarray(cut))).not.toBe(name(bytes));
        // Where it lies in memory does not.
        const shifted = new Uint8Array(bytes.length + 3);
        shifted.set(bytes, 3);
        expect(name(shifted.subarray(3))).toBe(name(bytes));
      }),
    );
    expect(name('ab', 'c')).not.toBe(name('a', 'bc'));
  });

  test('a hundred thousand lists that differ in one bit, or are swapped, have as many names', () => {
    const seen = new Set<string>();
    const list = new Int32Array(40);
    for (let i = 0; i < 40; i++)
      for (let bit = 0; bit < 32; bit++) {
        list[i] ^= 1 << bit;
        seen.add(name(list));
        for (let j = i + 1; j < 40; j++) {
          list[j] ^= 1 << bit;
          seen.add(name(list));
          list[j] ^= 1 << bit;
        }
        list[i] ^= 1 << bit;
      }
    expect(seen.size).toBe(40 * 32 + 32 * ((40 * 39) / 2));
    const order = Int32Array.from({ length: 300 }, (_, i) => i);
    const swapped = new Set<string>();
    for (let i = 0; i + 1 < 300; i++) {
      const other = order.slice();
      [other[i], other[i + 1]] = [other[i + 1], other[i]];
      swapped.add(name(other));
    }
    expect(swapped.size).toBe(299);
  });
});
