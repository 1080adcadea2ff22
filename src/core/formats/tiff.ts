/** TIFF pictures as 8-bit RGBA, through the tiff package. */
import { decode } from 'tiff';
import type { ImageData8 } from '../mesh/mesh';
import { FileError } from './scene';

export function readTiff(bytes: Uint8Array, name = 'picture.tiff'): ImageData8 {
  let t: ReturnType<typeof decode>[number];
  try {
    [t] = decode(bytes, { pages: [0] });
  } catch (e) {
    throw new FileError(
      `${name} cannot be read: ` +
        `${e instanceof Error && /unsupported/i.test(e.message) ? 'it is a kind of TIFF that is not known here' : 'it is broken or cut short'}.`,
    );
  }
  const n = t.samplesPerPixel;
  const float = t.data instanceof Float32Array || t.data instanceof Float64Array;
  const scale = float ? 255 : 255 / (2 ** t.bitsPerSample - 1);
  const out = new Uint8Array(4 * t.width * t.height);
  const level = (x: number) => Math.max(0, Math.min(255, Math.round(x * scale)));
  for (let i = 0; i < t.width * t.height; i++) {
    const grey = n < 3;
    for (let k = 0; k < 3; k++) out[4 * i + k] = level(t.data[n * i + (grey ? 0 : k)]);
    out[4 * i + 3] = n === 2 || n === 4 ? level(t.data[n * i + n - 1]) : 255;
  }
  return { width: t.width, height: t.height, data: out };
}
