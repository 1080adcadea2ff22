/** How much room an island takes: the box that it would lie in. */
import { cos, sin } from '../../math/exact';
import type { Laid } from '../flatten/layflat';
import type { Patch } from '../flatten/patch';
import { levelling } from '../pack/pixels';

const { max, min } = Math;

/** So much of a sheet is to be filled: what is longer than the side of such a sheet would make all else small. */
export const FILLED = 0.6;
/** An island may fill so little of its box where it is round or long. */
export const THIN = 0.4;

/** Share of its box that a patch fills, level as it will lie on texels, and how long that is; metres. */
export function boxOf({ rim }: Patch, { uv, rest, figures }: Laid): { fill: number; long: number } {
  const turn = levelling(uv, rim);
  const [c, s] = [cos(turn), sin(turn)];
  let [x0, y0, x1, y1] = [Infinity, Infinity, -Infinity, -Infinity];
  for (let i = 0; i < uv.length; i += 2) {
    const [x, y] = [c * uv[i] - s * uv[i + 1], s * uv[i] + c * uv[i + 1]];
    x0 = min(x0, x);
    x1 = max(x1, x);
    y0 = min(y0, y);
    y1 = max(y1, y);
  }
  const [width, height] = [(x1 - x0) / figures.density, (y1 - y0) / figures.density];
  return { fill: rest.total / (width * height || Infinity), long: max(width, height) };
}
