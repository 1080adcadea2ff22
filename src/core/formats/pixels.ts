/** The pixels of a picture that a material shows: PNG and JPEG. */
import jpeg from 'jpeg-js';
import type { ImageData8 } from '../mesh/mesh';
import { pictureInfo } from './pictures';
import { readPng } from './png';
import { FileError } from './scene';

/** 8-bit RGBA, rows from the top. Throws one sentence for what cannot be read. */
export function readPixels(bytes: Uint8Array, name: string): ImageData8 {
  const kind = pictureInfo(bytes, name)?.kind;
  if (kind === 'png') return readPng(bytes, name);
  if (kind === 'jpeg') return readJpeg(bytes, name);
  throw new FileError(`${name} is of a kind that cannot be drawn anew: save it as PNG or JPEG.`);
}

export function readJpeg(bytes: Uint8Array, name: string): ImageData8 {
  try {
    return jpeg.decode(bytes, { useTArray: true, maxResolutionInMP: 128, maxMemoryUsageInMB: 2048 });
  } catch {
    throw new FileError(`${name} cannot be read: it is broken or cut short.`);
  }
}
