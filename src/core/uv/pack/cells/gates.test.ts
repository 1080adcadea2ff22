import { thrown } from '../../../testing/organic';
import { Bits, stamp } from './bits';
import { coreOf, Gates } from './gates';
import { findPlace, Runs } from './room';

const has = (b: Bits, x: number, y: number): boolean => ((b.data[y * b.words + (x >> 5)] >>> (x & 31)) & 1) === 1;

/** Discs, frames, slants and dust, as islands are and as they are not. */
function shapeOf(r: () => number, most: number): Bits {
  const [width, height] = [1 + Math.floor(most * r()), 1 + Math.floor(most * r())];
  const out = new Bits(width, height);
  const kind = Math.floor(4 * r());
  const slope = 2 * r() - 1;
  const dust = r();
  for (let y = 0; y < height; y++)
    for (let x = 0; x < width; x++) {
      const [u, v] = [(2 * x + 1) / width - 1, (2 * y + 1) / height - 1];
      const within = [
        u * u + v * v <= 1,
        Math.max(Math.abs(u), Math.abs(v)) > 0.6,
        Math.abs(u - slope * v) < 0.5,
        r() < dust,
      ][kind];
      if (within) out.fill(y, x, x);
    }
  out.fill(0, 0, 0);
  return out;
}

test('the core is a rectangle of taken cells, and there is none larger', () => {
  const r = thrown(3);
  for (let n = 0; n < 60; n++) {
    const mask = shapeOf(r, n < 40 ? 14 : 70);
    const core = coreOf(mask)!;
    for (let y = 0; y < core.height; y++)
      for (let x = 0; x < core.width; x++) expect(has(mask, core.left + x, core.below + y)).toBe(true);
    if (mask.width > 14 || mask.height > 14) continue;
    // All there are, one by one.
    let most = 0;
    for (let y0 = 0; y0 < mask.height; y0++)
      for (let x0 = 0; x0 < mask.width; x0++)
        for (let y1 = y0, wide = Infinity; y1 < mask.height; y1++) {
          let x1 = x0;
          while (x1 < mask.width && has(mask, x1, y1)) x1++;
          wide = Math.min(wide, x1 - x0);
          most = Math.max(most, wide * (y1 - y0 + 1));
        }
    expect(core.width * core.height).toBe(most);
  }
  expect(coreOf(new Bits(40, 3))).toBeUndefined();
});

test.each([
  ['small ones', 200, 24],
  ['larger ones, wider than a word', 97, 70],
  ['on a sheet narrower than a word', 29, 9],
])('%s: room is found just where it is without, however full the sheet is', (_, cells, most) => {
  const r = thrown(cells);
  const rows = 160;
  const sheet = new Bits(cells, rows);
  const there = new Runs(sheet);
  const gates = new Gates(cells, rows);
  const masks = Array.from({ length: 1400 }, () => new Runs(shapeOf(r, most)));
  const cores = masks.map((m) => coreOf(m.bits)!);
  cores.forEach((core) => gates.of(core));
  let [laid, none] = [0, 0];
  masks.forEach((mask, i) => {
    const first = i % 3 ? 0 : Math.floor(20 * r());
    const last = rows - mask.bits.height - (i % 5 ? 0 : Math.floor(60 * r()));
    const wanted = findPlace(there, mask, first, last);
    expect(gates.place(cores[i], there, mask, first, last)).toEqual(wanted);
    if (!wanted) {
      none++;
      return;
    }
    laid++;
    stamp(sheet, mask.bits, wanted.x, wanted.y);
    there.forget(wanted.y, wanted.y + mask.bits.height);
    gates.take(mask.bits, wanted.x, wanted.y);
  });
  expect([laid > 40, none > 20]).toEqual([true, true]);
});
