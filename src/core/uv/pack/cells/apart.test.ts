import fc from 'fast-check';
import { Apart, type Lying } from './apart';
import { Bits, meets, stamp } from './bits';
import { cellsOf, coarser, shared, type Cells } from './cells';
import { thrown } from './thrown';

/** Thrown cells. */
function anyBits(roll: (below: number) => number, most: number): Bits {
  const bits = new Bits(1 + roll(most), 1 + roll(most));
  for (let y = 0; y < bits.height; y++) for (let x = 0; x < bits.width; x++) if (roll(3) > 0) bits.fill(y, x, x);
  return bits;
}
const has = (bits: Bits, x: number, y: number): number =>
  x < 0 || y < 0 || x >= bits.width || y >= bits.height ? 0 : (bits.data[y * bits.words + (x >> 5)] >>> (x & 31)) & 1;

const full = (width: number, height: number): Bits => {
  const bits = new Bits(width, height);
  for (let y = 0; y < height; y++) bits.fill(y, 0, width - 1);
  return bits;
};

test('cells that two share are those counted one by one', () => {
  fc.assert(
    fc.property(fc.integer(), fc.integer({ min: -45, max: 45 }), fc.integer({ min: -45, max: 45 }), (seed, dx, dy) => {
      const roll = thrown(seed);
      const [a, b] = [anyBits(roll, 40), anyBits(roll, 40)];
      let sum = 0;
      for (let y = 0; y < b.height; y++) for (let x = 0; x < b.width; x++) sum += has(b, x, y) & has(a, x + dx, y + dy);
      expect(shared(cellsOf(a, 0), cellsOf(b, 0), dx, dy)).toBe(sum);
    }),
  );
});

test('runs by rows apart are the same cells', () => {
  const bits = anyBits(thrown(4), 60);
  const { spread, area } = cellsOf(bits, 0);
  const again = new Bits(bits.width, bits.height);
  for (let k = 0; k < spread.length; k += 3) again.fill(spread[k], spread[k + 1], spread[k + 2] - 1);
  expect(again.data).toEqual(bits.data);
  let all = 0;
  for (let y = 0; y < bits.height; y++) for (let x = 0; x < bits.width; x++) all += has(bits, x, y);
  expect(area).toBe(all);
});

test('on coarser cells: those that are taken by their share, and never none', () => {
  const bits = new Bits(8, 4);
  bits.fill(0, 0, 3);
  bits.fill(1, 0, 2);
  bits.fill(2, 5, 5);
  const by = (share: number): number[] => Array.from(coarser(bits, 4, share).data);
  expect(by(0.4)).toEqual([1]);
  expect(by(0.05)).toEqual([3]);
  expect(by(0.9)).toEqual([2]);
});

/** Whether none lies on another, or out of the sheet. */
function clear(all: readonly Bits[], { x, y }: Lying, side: number): boolean {
  const sheet = new Bits(side, side);
  return all.every((bits, i) => {
    if (x[i] < 0 || y[i] < 0 || x[i] + bits.width > side || y[i] + bits.height > side) return false;
    if (meets(sheet, bits, x[i], y[i])) return false;
    stamp(sheet, bits, x[i], y[i]);
    return true;
  });
}

const heap = (n: number): Lying => ({ way: new Int32Array(n), x: new Int32Array(n), y: new Int32Array(n) });
const drawing = { width: 40, height: 40, step: 3, patience: 60, until: 2e6 };

test('from a heap in a corner, boxes that leave a third of the sheet free come apart', () => {
  fc.assert(
    fc.property(fc.integer(), (seed) => {
      const roll = thrown(seed);
      const boxes: Bits[] = [];
      for (let area = 0; area < 0.6 * 1600;) {
        const box = full(2 + roll(12), 2 + roll(12));
        area += box.width * box.height;
        if (area < 0.67 * 1600) boxes.push(box);
      }
      const ways: Cells[][] = boxes.map((b) => [cellsOf(b, 0)]);
      const found = new Apart(ways, thrown(1)).separate(heap(boxes.length), drawing);
      expect(found.apart).toBe(true);
      expect(clear(boxes, found.lying, 40)).toBe(true);
    }),
    { numRuns: 20 },
  );
});

test('what cannot come apart is given up, with what shares least', () => {
  const boxes = Array.from({ length: 5 }, () => full(20, 20));
  const apart = new Apart(
    boxes.map((b) => [cellsOf(b, 0)]),
    thrown(2),
  );
  const found = apart.separate(heap(5), drawing);
  expect(found.apart).toBe(false);
  expect(apart.work).toBeLessThan(drawing.until + 1e6);
  const { x, y } = found.lying;
  // Four of them fill the sheet: the fifth lies on as much as it takes.
  let all = 0;
  for (let i = 0; i < 5; i++)
    for (let j = 0; j < i; j++)
      all += Math.max(0, 20 - Math.abs(x[i] - x[j])) * Math.max(0, 20 - Math.abs(y[i] - y[j]));
  expect(all).toBe(400);
});

test('near their places, none is moved further than the reach in a round, nor out of the sheet', () => {
  const boxes = Array.from({ length: 4 }, () => full(8, 8));
  const ways = boxes.map((b) => [cellsOf(b, 0)]);
  const begin: Lying = {
    way: new Int32Array(4),
    x: Int32Array.from([0, 5, 20, 31]),
    y: Int32Array.from([0, 3, 20, 31]),
  };
  const found = new Apart(ways, thrown(3)).separate(
    { way: begin.way.slice(), x: begin.x.slice(), y: begin.y.slice() },
    { ...drawing, reach: 4 },
  );
  expect(found.apart).toBe(true);
  expect(clear(boxes, found.lying, 40)).toBe(true);
  // Those that lay on nothing lie where they did.
  for (const i of [2, 3]) expect([found.lying.x[i], found.lying.y[i]]).toEqual([begin.x[i], begin.y[i]]);
});
