/**
 * Pictures drawn anew: what a material's picture shows at a place of the surface, by where that lies on the picture, is
 * written where it lies on another sheet. Within a triangle both sheets are an affine map of each other, so a pixel
 * costs a product and the four pixels around a place; where many old pixels fall on one new, several places of it are
 * looked at. Directions of normal pictures turn with the sheet.
 */
import { toLinear, toSrgb } from '../math/colour';
import type { ImageData8 } from '../mesh/mesh';
import type { Laid } from '../material';

const { ceil, cos, floor, hypot, max, min, sin, sqrt } = Math;

/** sRGB to light and back: light is what may be averaged and multiplied. */
const LIGHT = Float64Array.from({ length: 256 }, (_, i) => toLinear(i / 255));
const SHADES = 4096;
const BYTES = Uint8Array.from({ length: SHADES + 1 }, (_, i) => Math.round(255 * toSrgb(i / SHADES)));

/** '0..1' in sRGB as light. */
export const lightOf = (rgb: readonly number[]): number[] => rgb.map(toLinear);
export const lightOfByte = (byteInSrgb: number): number => LIGHT[byteInSrgb];
/** Light, 0..1, as a byte in sRGB. */
export const byteOf = (light: number): number => BYTES[Math.round(SHADES * max(0, min(1, light)))];

/** Places on a picture, in its pixels from its upper left, of what lies at `u`, `v` of the UVs. */
export function onPicture(
  { width, height }: ImageData8,
  laid: Laid | undefined,
  u: number,
  v: number,
): [number, number] {
  const [w, h] = laid?.size ?? [1, 1];
  const [x, y] = laid?.shift ?? [0, 0];
  const [c, s] = [cos(laid?.turn ?? 0), sin(laid?.turn ?? 0)];
  return [width * (c * w * u - s * h * v + x), height * (1 - (s * w * u + c * h * v + y))];
}

/**
 * From pixels of the new picture to those of the old: x' = m[0]·x + m[1]·y + m[2], and y' likewise by m[3..5]. `from`
 * and `to`: three places each. Undefined where the new triangle has no width.
 */
export function affineOf(from: ArrayLike<number>, to: ArrayLike<number>): Float64Array | undefined {
  const [ax, ay] = [from[2] - from[0], from[3] - from[1]];
  const [bx, by] = [from[4] - from[0], from[5] - from[1]];
  const det = ax * by - ay * bx;
  if (!(Math.abs(det) > 1e-12)) return undefined;
  const out = new Float64Array(6);
  for (let k = 0; k < 2; k++) {
    const a = to[2 + k] - to[k];
    const b = to[4 + k] - to[k];
    out[3 * k] = (a * by - b * ay) / det;
    out[3 * k + 1] = (b * ax - a * bx) / det;
    out[3 * k + 2] = to[k] - out[3 * k] * from[0] - out[3 * k + 1] * from[1];
  }
  return out;
}

/** Places along a side of a pixel that are looked at, at the most. */
const MOST_LOOKS = 8;

/** How often along its side a new pixel has to be looked at, for every old one under it to be seen. */
export function looksOf(m: Float64Array): number {
  const wide = sqrt(Math.abs(m[0] * m[4] - m[1] * m[3]));
  return wide > 1.5 ? min(MOST_LOOKS, ceil(wide)) : 1;
}

/**
 * What a picture shows within the pixel at x, y of the new one: four numbers, 0..1. `srgb`: the first three are
 * colours, and come as light. The picture repeats beyond its borders.
 */
export function look(
  image: ImageData8,
  m: Float64Array,
  looks: number,
  x: number,
  y: number,
  srgb: boolean,
  out: Float64Array,
): void {
  out.fill(0);
  const share = 1 / (looks * looks);
  for (let i = 0; i < looks; i++)
    for (let j = 0; j < looks; j++) {
      const px = x + (i + 0.5) / looks;
      const py = y + (j + 0.5) / looks;
      addAt(image, m[0] * px + m[1] * py + m[2], m[3] * px + m[4] * py + m[5], srgb, share, out);
    }
}

/** Adds what lies between the four pixels around a place. */
function addAt(
  { width, height, data }: ImageData8,
  x: number,
  y: number,
  srgb: boolean,
  share: number,
  out: Float64Array,
): void {
  const x0 = floor(x - 0.5);
  const y0 = floor(y - 0.5);
  const fx = x - 0.5 - x0;
  const fy = y - 0.5 - y0;
  const xa = x0 - width * floor(x0 / width);
  const ya = y0 - height * floor(y0 / height);
  const xb = xa + 1 === width ? 0 : xa + 1;
  const yb = ya + 1 === height ? 0 : ya + 1;
  const aa = 4 * (ya * width + xa);
  const ba = 4 * (ya * width + xb);
  const ab = 4 * (yb * width + xa);
  const bb = 4 * (yb * width + xb);
  const waa = share * (1 - fx) * (1 - fy);
  const wba = share * fx * (1 - fy);
  const wab = share * (1 - fx) * fy;
  const wbb = share * fx * fy;
  for (let k = 0; k < 3; k++)
    out[k] += srgb
      ? waa * LIGHT[data[aa + k]] + wba * LIGHT[data[ba + k]] + wab * LIGHT[data[ab + k]] + wbb * LIGHT[data[bb + k]]
      : (waa * data[aa + k] + wba * data[ba + k] + wab * data[ab + k] + wbb * data[bb + k]) / 255;
  out[3] += (waa * data[aa + 3] + wba * data[ba + 3] + wab * data[ab + 3] + wbb * data[bb + 3]) / 255;
}

/**
 * How directions across the surface, as two numbers along and up a sheet, are said on another: a 2 × 2 matrix in rows.
 * `corners`: three places in space, 3 each; `old` and `now`: where they lie, 2 each, v upwards. Undefined where either
 * sheet has no width there.
 */
export function turning(
  corners: ArrayLike<number>,
  old: ArrayLike<number>,
  now: ArrayLike<number>,
): Float64Array | undefined {
  const a = frameOf(corners, old);
  const b = frameOf(corners, now);
  if (!a || !b) return undefined;
  // From along and up of the old, through the plane of the triangle, to along and up of the new.
  return Float64Array.of(
    a[0] * b[0] + a[1] * b[1],
    a[2] * b[0] + a[3] * b[1],
    a[0] * b[2] + a[1] * b[3],
    a[2] * b[2] + a[3] * b[3],
  );
}

/** Along a sheet and up it, each of length 1, in the plane of a triangle: along its first side, and across that. */
function frameOf(p: ArrayLike<number>, uv: ArrayLike<number>): [number, number, number, number] | undefined {
  const e = [p[3] - p[0], p[4] - p[1], p[5] - p[2]];
  const f = [p[6] - p[0], p[7] - p[1], p[8] - p[2]];
  const l = hypot(e[0], e[1], e[2]);
  const along = l > 0 ? (e[0] * f[0] + e[1] * f[1] + e[2] * f[2]) / l : 0;
  const across = sqrt(max(0, f[0] ** 2 + f[1] ** 2 + f[2] ** 2 - along ** 2));
  const [du, dv] = [uv[2] - uv[0], uv[3] - uv[1]];
  const [eu, ev] = [uv[4] - uv[0], uv[5] - uv[1]];
  const det = du * ev - dv * eu;
  if (!(Math.abs(det) > 1e-20) || !(across > 0)) return undefined;
  // Where one goes in the plane for a step along u.
  const [x, y] = [(l * ev - along * dv) / det, (-across * dv) / det];
  const n = hypot(x, y);
  if (!(n > 0)) return undefined;
  // Up is across that, on the side on which the sheet has it.
  const side = det > 0 ? 1 : -1;
  return [x / n, y / n, (-side * y) / n, (side * x) / n];
}
