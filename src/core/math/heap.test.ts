import fc from 'fast-check';
import { Heap } from './heap';

test('whatever is put in, put in again at another cost, or dropped: the least comes first, each once', () => {
  const N = 12;
  const act = fc.record({
    item: fc.integer({ min: 0, max: N - 1 }),
    kind: fc.constantFrom('put', 'put', 'drop', 'pop'),
    cost: fc.integer({ min: 0, max: 1000 }),
  });
  fc.assert(
    fc.property(fc.array(act, { maxLength: 80 }), (acts) => {
      const heap = new Heap(N);
      const plain = new Map<number, number>();
      const least = (): number => Math.min(...plain.values());
      const pop = (): void => {
        const want = least();
        const item = heap.pop();
        expect(plain.get(item)).toBe(want);
        plain.delete(item);
      };
      for (const { item, kind, cost } of acts) {
        if (kind === 'put') {
          heap.put(item, cost);
          plain.set(item, cost);
        } else if (kind === 'drop') {
          heap.drop(item);
          plain.delete(item);
        } else if (plain.size > 0) pop();
        expect(heap.size).toBe(plain.size);
      }
      while (plain.size > 0) pop();
      expect(heap.size).toBe(0);
    }),
    { seed: 4, numRuns: 200 },
  );
});
