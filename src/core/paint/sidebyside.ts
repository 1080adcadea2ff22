/** The pictures of several sheets as one, side by side: for what has room for one. */
import { EVERY, pulse } from '../math/pulse';
import type { ImageData8 } from '../mesh/mesh';

/** One of as many sheets at a time, all as large as each other; made half as large until `most` pixels hold them all. */
export function sideBySide(count: number, most: number, pictureOf: (sheet: number) => ImageData8): ImageData8 {
  const first = pictureOf(0);
  if (count === 1) return first;
  let by = 1;
  while ((count * first.width) / by > most && by < Math.min(first.width, first.height)) by *= 2;
  const [wide, height] = [Math.ceil(first.width / by), Math.ceil(first.height / by)];
  const width = count * wide;
  const data = new Uint8Array(4 * width * height);
  for (let sheet = 0; sheet < count; sheet++) {
    const from = pictureOf(sheet);
    for (let y = 0; y < height; y++) {
      pulse();
      const to = 4 * (y * width + sheet * wide);
      if (by === 1) data.set(from.data.subarray(4 * y * wide, 4 * (y + 1) * wide), to);
      else meanRow(from, y, by, data, to);
    }
  }
  return { width, height, data };
}

/** A row of pixels, each the mean of `by` × `by` of another picture. */
function meanRow(from: ImageData8, y: number, by: number, data: Uint8Array, to: number): void {
  const share = 1 / (by * by);
  for (let x = 0; x * by < from.width; x++) {
    if ((x & EVERY) === 0) pulse();
    for (let k = 0; k < 4; k++) {
      let sum = 0;
      for (let r = 0; r < by; r++)
        for (let c = 0; c < by; c++) sum += from.data[4 * ((y * by + r) * from.width + x * by + c) + k];
      data[to + 4 * x + k] = Math.round(sum * share);
    }
  }
}
