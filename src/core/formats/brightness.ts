/**
 * How bright pictures are, for formulas: PNG, JPEG, and all that height pictures may be. Values as they are kept, 0 to
 * 1; of coloured pictures their luma (Rec. 709).
 */
import { readHeights } from './heights';
import { pictureInfo } from './pictures';
import { readJpeg } from './pixels';
import { readPng } from './png';
import { FileError } from './scene';

export interface Brightness {
  readonly width: number;
  readonly height: number;
  /** Rows from the top. */
  readonly data: Float32Array;
}

/** Throws one sentence for what cannot be read. */
export function readBrightness(bytes: Uint8Array, name: string): Brightness {
  const info = pictureInfo(bytes, name);
  if (info?.kind === 'jpeg') return luma(readJpeg(bytes, name));
  if (info?.kind === 'png' && (info.channels > 2 || info.bits < 8 || isIndexed(bytes)))
    return luma(readPng(bytes, name));
  if (info && info.kind !== 'png' && info.kind !== 'tiff')
    throw new FileError(`${name} is of a kind that formulas cannot go by: save it as PNG, JPEG or TIFF.`);
  return readHeights(bytes, name);
}

/** Colours of a PNG looked up in a palette. */
const isIndexed = (bytes: Uint8Array): boolean => bytes[25] === 3;

function luma({ width, height, data }: { width: number; height: number; data: Uint8Array }): Brightness {
  const out = new Float32Array(width * height);
  for (let i = 0; i < out.length; i++)
    out[i] = (0.2126 * data[4 * i] + 0.7152 * data[4 * i + 1] + 0.0722 * data[4 * i + 2]) / 255;
  return { width, height, data: out };
}

/**
 * Between the four pixels around a place: x to the right and y up, both 0 to 1, and the picture over again beyond that.
 */
export function brightnessAt({ width, height, data }: Brightness, x: number, y: number): number {
  const px = (x - Math.floor(x)) * width - 0.5;
  const py = (1 - (y - Math.floor(y))) * height - 0.5;
  const [x0, y0] = [Math.floor(px), Math.floor(py)];
  const [fx, fy] = [px - x0, py - y0];
  const column = (i: number) => ((i % width) + width) % width;
  const row = (i: number) => (((i % height) + height) % height) * width;
  const [a, b] = [column(x0), column(x0 + 1)];
  const [c, d] = [row(y0), row(y0 + 1)];
  const low = data[c + a] + (data[c + b] - data[c + a]) * fx;
  const high = data[d + a] + (data[d + b] - data[d + a]) * fx;
  return low + (high - low) * fy;
}
