/**
 * What a picture is, from the first bytes of its file, before anything is unpacked: its kind, its size, how fine its
 * samples are.
 */
import { FileError } from './scene';

export type PictureKind = 'png' | 'jpeg' | 'webp' | 'tiff' | 'svg' | 'pdf';
export interface PictureInfo {
  kind: PictureKind;
  mime: string;
  width: number;
  height: number;
  /** Per sample. */ bits: number;
  /** Samples per pixel, 1 for grey. */ channels: number;
}

/** The longest side and the most pixels that are taken in. */
export const LONGEST = 16384;
export const MOST_PIXELS = 128 * 1024 * 1024;

/** Undefined for what is no picture. Throws a sentence for pictures that are empty, cut short or too large. */
export function pictureInfo(bytes: Uint8Array, name: string): PictureInfo | undefined {
  const info = headOf(bytes, name);
  if (!info) return undefined;
  if (info.kind === 'svg' || info.kind === 'pdf') return info;
  if (!(info.width > 0 && info.height > 0))
    throw new FileError(`${name} is a picture of ${info.width} × ${info.height} pixels: there is nothing in it.`);
  if (info.width > LONGEST || info.height > LONGEST || info.width * info.height > MOST_PIXELS)
    throw new FileError(
      `${name} is ${info.width.toLocaleString('en')} × ${info.height.toLocaleString('en')} pixels; at most ` +
        `${LONGEST.toLocaleString('en')} on a side and ${MOST_PIXELS / 1048576} million in all are taken in.`,
    );
  return info;
}

function headOf(b: Uint8Array, name: string): PictureInfo | undefined {
  const v = new DataView(b.buffer, b.byteOffset, b.byteLength);
  const is = (at: number, text: string) =>
    b.length >= at + text.length && [...text].every((c, i) => b[at + i] === c.charCodeAt(0));
  const short = () => new FileError(`${name} is a picture that is cut short.`);
  if (b[0] === 0x89 && is(1, 'PNG')) {
    if (b.length < 33) throw short();
    return {
      kind: 'png',
      mime: 'image/png',
      width: v.getUint32(16),
      height: v.getUint32(20),
      bits: b[24],
      channels: [1, 0, 3, 1, 2, 0, 4][b[25]] ?? 1,
    };
  }
  if (b[0] === 0xff && b[1] === 0xd8) {
    for (let at = 2; at + 9 < b.length;) {
      if (b[at] !== 0xff) {
        at++;
        continue;
      }
      const m = b[at + 1];
      if (m >= 0xc0 && m <= 0xcf && m !== 0xc4 && m !== 0xc8 && m !== 0xcc)
        return {
          kind: 'jpeg',
          mime: 'image/jpeg',
          width: v.getUint16(at + 7),
          height: v.getUint16(at + 5),
          bits: 8,
          channels: b[at + 9],
        };
      at += m === 0xff ? 1 : 2 + (m >= 0xd0 && m <= 0xd8 ? 0 : v.getUint16(at + 2));
    }
    throw short();
  }
  if (is(0, 'RIFF') && is(8, 'WEBP')) {
    if (b.length < 30) throw short();
    if (is(12, 'VP8X'))
      return {
        kind: 'webp',
        mime: 'image/webp',
        width: 1 + (b[24] | (b[25] << 8) | (b[26] << 16)),
        height: 1 + (b[27] | (b[28] << 8) | (b[29] << 16)),
        bits: 8,
        channels: 4,
      };
    if (is(12, 'VP8L')) {
      const n = v.getUint32(21, true);
      return {
        kind: 'webp',
        mime: 'image/webp',
        width: 1 + (n & 0x3fff),
        height: 1 + ((n >> 14) & 0x3fff),
        bits: 8,
        channels: 4,
      };
    }
    return {
      kind: 'webp',
      mime: 'image/webp',
      width: v.getUint16(26, true) & 0x3fff,
      height: v.getUint16(28, true) & 0x3fff,
      bits: 8,
      channels: 3,
    };
  }
  if ((is(0, 'II*\0') || is(0, 'MM\0*')) && b.length >= 8) return tiffHead(v, name, b[0] === 0x49);
  if (is(0, '%PDF-')) return { kind: 'pdf', mime: 'application/pdf', width: 0, height: 0, bits: 8, channels: 3 };
  const text = new TextDecoder()
    .decode(b.subarray(0, 2048))
    .replace(/^\uFEFF/, '')
    .trimStart();
  if (/^<(\?xml|!--|!doctype svg|svg[\s>])/i.test(text) && /<svg[\s>]/i.test(text))
    return { kind: 'svg', mime: 'image/svg+xml', width: 0, height: 0, bits: 8, channels: 4 };
  return undefined;
}

function tiffHead(v: DataView, name: string, little: boolean): PictureInfo {
  const at = v.getUint32(4, little);
  const out: PictureInfo = { kind: 'tiff', mime: 'image/tiff', width: 0, height: 0, bits: 1, channels: 1 };
  if (at + 2 > v.byteLength) throw new FileError(`${name} is a picture that is cut short.`);
  for (let i = 0, n = v.getUint16(at, little); i < n; i++) {
    const e = at + 2 + 12 * i;
    if (e + 12 > v.byteLength) break;
    const tag = v.getUint16(e, little);
    const short = v.getUint16(e + 2, little) === 3;
    const count = v.getUint32(e + 4, little);
    const value = short ? v.getUint16(e + 8, little) : v.getUint32(e + 8, little);
    if (tag === 256) out.width = value;
    else if (tag === 257) out.height = value;
    else if (tag === 277) out.channels = value;
    else if (tag === 258) {
      const p = short && count > 2 ? v.getUint32(e + 8, little) : 0;
      out.bits = p && p + 2 <= v.byteLength ? v.getUint16(p, little) : value;
    }
  }
  return out;
}

/** A picture with one grey channel finer than 8 bits holds heights, not looks. */
export const looksLikeHeights = (i: PictureInfo): boolean =>
  (i.kind === 'png' || i.kind === 'tiff') && i.bits >= 16 && i.channels <= 2;
