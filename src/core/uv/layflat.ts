/** One patch laid flat as well as may be: conformal first, mended where it flips, its lengths made even where they are off. Says whether it will do. */
import { conformal } from './lscm';
import { flatnessOf, restOf, rimCrosses, type Flatness, type Rest } from './flatness';
import type { Patch } from './patch';
import { refine, tutte } from './refine';

export interface Laid {
  uv: Float64Array;
  rest: Rest;
  figures: Flatness;
  /** Nothing flipped, nothing twice, and stretched beyond the bound nowhere to speak of. */
  good: boolean;
  /** Nothing flipped and nothing twice. */
  sound: boolean;
}

/** Of the area; what is stretched beyond the bound within this is too little to be cut for. */
const SPARE = 0.003;
/** Beyond this much more than the bound allows, evening out has never been seen to get there. */
const HOPELESS = 1.9;
const ROUNDS = 12;
/** From a circle it is a long way. */
const ROUNDS_FROM_CIRCLE = 40;

/** `hard`: all is tried, for a patch that cannot be parted any more. */
export function layFlat(patch: Patch, bound: number, hard = false): Laid {
  const rest = restOf(patch);
  if (!(rest.total > 0)) {
    const uv = flattened(patch.points);
    return { uv, rest, figures: { flips: 0, beyond: 0, spread: 1, mean: 1, scale: 1 }, good: true, sound: true };
  }
  const judge = (uv: Float64Array): Flatness => flatnessOf(patch, rest, uv, bound);
  let uv = conformal({ points: patch.points, triangles: patch.triangles }) ?? flattened(patch.points);
  let figures = judge(uv);
  const fits = (): boolean => figures.flips === 0 && figures.beyond <= SPARE;
  if (figures.flips > 0 && (hard || figures.flips * 3 * 20 < patch.triangles.length)) {
    const mended = tutte(patch, rest, uv);
    const now = mended && judge(mended);
    if (mended && now && now.flips < figures.flips) {
      uv = mended;
      figures = now;
    }
  }
  if (figures.flips > 0 && hard) {
    const round = tutte(patch, rest);
    const now = round && judge(round);
    if (round && now && now.flips === 0) {
      uv = round;
      refine(patch, rest, uv, ROUNDS_FROM_CIRCLE, (k) => {
        if (k % 4 !== 0) return false;
        figures = judge(uv);
        return fits();
      });
      figures = judge(uv);
    }
  }
  if (figures.flips === 0 && !fits() && (hard || figures.spread < HOPELESS * bound * bound)) {
    refine(patch, rest, uv, ROUNDS, () => {
      figures = judge(uv);
      return fits();
    });
    figures = judge(uv);
  }
  const good = fits() && !rimCrosses(patch.rim, uv);
  const sound = good || (figures.flips === 0 && !rimCrosses(patch.rim, uv));
  return { uv, rest, figures, good, sound };
}

/** The plane of the two widest axes. */
function flattened(p: Float64Array): Float64Array {
  const lo = [Infinity, Infinity, Infinity];
  const hi = [-Infinity, -Infinity, -Infinity];
  for (let i = 0; i < p.length; i++) {
    lo[i % 3] = Math.min(lo[i % 3], p[i]);
    hi[i % 3] = Math.max(hi[i % 3], p[i]);
  }
  const size = lo.map((x, k) => hi[k] - x);
  const drop = size.indexOf(Math.min(...size));
  const out = new Float64Array((2 * p.length) / 3);
  for (let v = 0; v < p.length / 3; v++) {
    out[2 * v] = p[3 * v + ((drop + 1) % 3)];
    out[2 * v + 1] = p[3 * v + ((drop + 2) % 3)];
  }
  return out;
}
