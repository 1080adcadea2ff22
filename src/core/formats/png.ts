/** PNG of RGBA pictures, through fast-png. */
import { decode, encode } from 'fast-png';
import type { ImageData8 } from '../mesh/mesh';
import { FileError } from './scene';

export const writePng = (image: ImageData8): Uint8Array =>
  encode({ width: image.width, height: image.height, data: image.data, channels: 4, depth: 8 });

/** Any PNG as 8-bit RGBA. */
export function readPng(bytes: Uint8Array, name = 'picture.png'): ImageData8 {
  let png: ReturnType<typeof decode>;
  try {
    png = decode(bytes);
  } catch {
    throw new FileError(`${name} is not a PNG that can be read.`);
  }
  const { width, height, channels, depth } = png;
  const data = new Uint8Array(4 * width * height);
  const scale = 255 / (2 ** depth - 1); // 1 for the usual eight bits, 1 / 257 for sixteen
  for (let i = 0; i < width * height; i++) {
    const at = (k: number) => Math.round(png.data[i * channels + k] * scale);
    if (png.palette) {
      const c = png.palette[png.data[i]];
      data.set([c[0], c[1], c[2], c[3] ?? 255], 4 * i);
      continue;
    }
    if (channels < 3) {
      data.fill(at(0), 4 * i, 4 * i + 3);
      data[4 * i + 3] = channels === 2 ? at(1) : 255;
    } else data.set([at(0), at(1), at(2), channels === 4 ? at(3) : 255], 4 * i);
  }
  return { width, height, data };
}
