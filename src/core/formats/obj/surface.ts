/**
 * Pictures of roughness and metalness: two grey ones in MTL, one with both (green and blue, as glTF has it) here. As
 * PNG: that is read and written without a page.
 */
import type { ImageData8 } from '../../mesh/mesh';
import { pictureInfo } from '../pictures';
import { readPng, writePng } from '../png';
import { safeName, type SceneImage } from '../scene';

/** Pixels that are worth the wait: more of them stay apart. */
const MOST_PIXELS = 4096 * 4096;

const opened = (bytes: Uint8Array | undefined, name: string): ImageData8 | undefined => {
  if (!bytes || bytes[0] !== 0x89) return undefined;
  try {
    const info = pictureInfo(bytes, name);
    return info && info.width * info.height <= MOST_PIXELS ? readPng(bytes, name) : undefined;
  } catch {
    return undefined;
  }
};

/**
 * One picture of two, as large as the larger; where one is absent its share stands in for it. Undefined where one
 * cannot be opened.
 */
export function joinSurface(
  rough: Uint8Array | undefined,
  metal: Uint8Array | undefined,
  shares: { roughness: number; metalness: number },
): Uint8Array | undefined {
  const a = opened(rough, 'roughness');
  const b = opened(metal, 'metalness');
  if ((rough && !a) || (metal && !b) || (!a && !b)) return undefined;
  const width = Math.max(a?.width ?? 1, b?.width ?? 1);
  const height = Math.max(a?.height ?? 1, b?.height ?? 1);
  const data = new Uint8Array(4 * width * height).fill(255);
  const at = (from: ImageData8, x: number, y: number) =>
    from.data[4 * (Math.floor((y * from.height) / height) * from.width + Math.floor((x * from.width) / width))];
  const constant = (share: number) => Math.round(255 * share);
  for (let y = 0, o = 0; y < height; y++)
    for (let x = 0; x < width; x++, o += 4) {
      data[o + 1] = a ? at(a, x, y) : constant(shares.roughness);
      data[o + 2] = b ? at(b, x, y) : constant(shares.metalness);
    }
  return writePng({ width, height, data });
}

export interface SplitSurface {
  roughness: SceneImage;
  metalness: SceneImage;
}

/** The two grey pictures of one with both; undefined where it cannot be opened. */
export function splitSurface(image: SceneImage): SplitSurface | undefined {
  const both = opened(image.bytes, image.name);
  if (!both) return undefined;
  const stem = safeName(image.name).replace(/\.[^.]*$/, '');
  const grey = (channel: number): Uint8Array => {
    const data = new Uint8Array(both.data.length).fill(255);
    for (let o = 0; o < data.length; o += 4) data.fill(both.data[o + channel], o, o + 3);
    return writePng({ width: both.width, height: both.height, data });
  };
  return {
    roughness: { name: `${stem}-roughness.png`, mime: 'image/png', bytes: grey(1) },
    metalness: { name: `${stem}-metalness.png`, mime: 'image/png', bytes: grey(2) },
  };
}
