/** Sheets of a UV set that lie side by side: the first from u = 0 to 1, the next from 1 to 2, and so on. */
import type { Mesh } from './mesh';

/** So many are told apart; what lies farther over is a picture that repeats, and no sheet. */
export const MOST_SHEETS = 16;
/** What reaches over the border of its sheet by less has been rounded. */
const OVER = 1e-4;

export interface SheetsOfFaces {
  /** By face; the first for what lies on none. */
  of: Uint8Array;
  /** Up to the last that has a face; at least 1. */
  count: number;
  /** Faces that reach beyond their sheet: what of them lies outside has no place on a picture. */
  beyond: number;
}

/** The sheet of each face: the one on which the middle of its corners lies. `uv`: 2 numbers per corner. */
export function sheetsOfFaces({ faceCount, faceStart }: Mesh, uv: ArrayLike<number>): SheetsOfFaces {
  const out: SheetsOfFaces = { of: new Uint8Array(faceCount), count: 1, beyond: 0 };
  for (let f = 0; f < faceCount; f++) {
    let [left, right, low, high, sum] = [Infinity, -Infinity, Infinity, -Infinity, 0];
    for (let c = faceStart[f]; c < faceStart[f + 1]; c++) {
      const [u, v] = [uv[2 * c], uv[2 * c + 1]];
      sum += u;
      left = Math.min(left, u);
      right = Math.max(right, u);
      low = Math.min(low, v);
      high = Math.max(high, v);
    }
    const at = Math.floor(sum / (faceStart[f + 1] - faceStart[f]));
    const sheet = at > 0 && at < MOST_SHEETS ? at : 0;
    out.of[f] = sheet;
    out.count = Math.max(out.count, sheet + 1);
    // Said so that what is no number counts.
    if (!(left >= sheet - OVER && right <= sheet + 1 + OVER && low >= -OVER && high <= 1 + OVER)) out.beyond++;
  }
  return out;
}
