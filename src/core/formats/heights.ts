/**
 * Height pictures: one channel, 8 or 16 bits (PNG), 16 or 32 bits (TIFF), or raw 16-bit samples of a square. Values
 * 0..1, or metres where they are floats.
 */
import { decode as decodePng, encode as encodePng } from 'fast-png';
import { decode as decodeTiff } from 'tiff';
import { pictureInfo } from './pictures';
import { FileError, safeName } from './scene';

export interface HeightPicture {
  width: number;
  height: number;
  /** How finely the file kept them; 32 is floating point. */
  bits: 8 | 16 | 32;
  /** Rows from the top. */
  data: Float32Array;
}

export function readHeights(bytes: Uint8Array, fileName: string): HeightPicture {
  const name = safeName(fileName);
  const info = pictureInfo(bytes, name);
  if (info?.kind === 'png') {
    const png = guarded(name, () => decodePng(bytes));
    const full = 2 ** png.depth - 1;
    const data = new Float32Array(png.width * png.height);
    for (let i = 0; i < data.length; i++) data[i] = png.data[i * png.channels] / full;
    return { width: png.width, height: png.height, bits: png.depth === 16 ? 16 : 8, data };
  }
  if (info?.kind === 'tiff') {
    const [t] = guarded(name, () => decodeTiff(bytes, { pages: [0] }));
    const step = t.samplesPerPixel;
    const float = t.data instanceof Float32Array || t.data instanceof Float64Array;
    const data = new Float32Array(t.width * t.height);
    const bits = t.bitsPerSample === 16 ? 16 : 8;
    const full = float ? 1 : 2 ** bits - 1;
    for (let i = 0; i < data.length; i++) {
      const x = t.data[i * step] / full;
      data[i] = Number.isFinite(x) ? x : 0;
    }
    return { width: t.width, height: t.height, bits: float ? 32 : bits, data };
  }
  const side = Math.sqrt(bytes.length / 2);
  if (/\.(raw|r16)$/i.test(name) && Number.isInteger(side) && side > 1) {
    const view = new DataView(bytes.buffer, bytes.byteOffset, bytes.byteLength);
    const data = new Float32Array(side * side);
    for (let i = 0; i < data.length; i++) data[i] = view.getUint16(2 * i, true) / 65535;
    return { width: side, height: side, bits: 16, data };
  }
  throw new FileError(
    /\.(raw|r16)$/i.test(name)
      ? `${name} is not a square of 16-bit heights: ${bytes.length.toLocaleString('en')} bytes make none.`
      : `${name} is not a height picture that can be read.`,
  );
}

function guarded<T>(name: string, work: () => T): T {
  try {
    return work();
  } catch {
    throw new FileError(`${name} cannot be read: it is broken or cut short.`);
  }
}

const sample = (x: number, full: number): number => Math.max(0, Math.min(full, Math.round(x * full)));

export function writeHeightsPng(h: HeightPicture): Uint8Array {
  const full = h.bits === 8 ? 255 : 65535;
  return encodePng({
    width: h.width,
    height: h.height,
    channels: 1,
    depth: h.bits === 8 ? 8 : 16,
    data:
      h.bits === 8 ? Uint8Array.from(h.data, (x) => sample(x, full)) : Uint16Array.from(h.data, (x) => sample(x, full)),
  });
}

export function writeHeightsRaw(h: HeightPicture): Uint8Array {
  if (h.width !== h.height) throw new FileError('Raw heights are square; this picture is not.');
  const out = new Uint8Array(2 * h.data.length);
  const view = new DataView(out.buffer);
  h.data.forEach((x, i) => view.setUint16(2 * i, sample(x, 65535), true));
  return out;
}

/** Baseline TIFF (revision 6.0), one strip, not compressed; 32 bits as floats, else 16. */
export function writeHeightsTiff(h: HeightPicture): Uint8Array {
  const size = h.bits === 32 ? 4 : 2;
  const entries: [number, number, number, number][] = [
    [256, 4, 1, h.width],
    [257, 4, 1, h.height],
    [258, 3, 1, 8 * size],
    [259, 3, 1, 1],
    [262, 3, 1, 1],
    [273, 4, 1, 8],
    [277, 3, 1, 1],
    [278, 4, 1, h.height],
    [279, 4, 1, size * h.data.length],
    [339, 3, 1, h.bits === 32 ? 3 : 1],
  ];
  const at = 8 + size * h.data.length;
  const out = new Uint8Array(at + 2 + 12 * entries.length + 4);
  const view = new DataView(out.buffer);
  view.setUint16(0, 0x4949);
  view.setUint16(2, 42, true);
  view.setUint32(4, at, true);
  h.data.forEach((x, i) => {
    if (size === 4) view.setFloat32(8 + 4 * i, x, true);
    else view.setUint16(8 + 2 * i, sample(x, 65535), true);
  });
  view.setUint16(at, entries.length, true);
  entries.forEach(([tag, type, count, value], i) => {
    const o = at + 2 + 12 * i;
    view.setUint16(o, tag, true);
    view.setUint16(o + 2, type, true);
    view.setUint32(o + 4, count, true);
    if (type === 3) view.setUint16(o + 8, value, true);
    else view.setUint32(o + 8, value, true);
  });
  return out;
}
