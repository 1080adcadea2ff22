/** Values that corners share, found by their bits: files name each once. */
import { EVERY, pulse } from '../math/pulse';

/** Distinct tuples of an attribute: their number for each element, and the first element that has each. */
export function distinct(data: Float32Array, width: 2 | 3): { of: Uint32Array; first: Uint32Array; count: number } {
  const n = data.length / width;
  const bits = new Int32Array(data.buffer, data.byteOffset, data.length);
  let size = 16;
  while (size < 2 * n) size *= 2;
  const table = new Int32Array(size).fill(-1);
  const of = new Uint32Array(n);
  const first = new Uint32Array(n);
  let count = 0;
  const { imul } = Math;
  for (let c = 0; c < n; c++) {
    if ((c & EVERY) === 0) pulse();
    const o = width * c;
    let h =
      imul(bits[o], 0x9e3779b1) ^ imul(bits[o + 1], 0x85ebca6b) ^ (width === 3 ? imul(bits[o + 2], 0xc2b2ae35) : 0);
    h = (h ^ (h >>> 15)) & (size - 1);
    for (;;) {
      const i = table[h];
      if (i < 0) {
        table[h] = count;
        first[count] = c;
        of[c] = count++;
        break;
      }
      const q = width * first[i];
      if (bits[q] === bits[o] && bits[q + 1] === bits[o + 1] && (width === 2 || bits[q + 2] === bits[o + 2])) {
        of[c] = i;
        break;
      }
      h = (h + 1) & (size - 1);
    }
  }
  return { of, first, count };
}
