/** As few islands as are drawn no more than asked, one way against the other, on the mean of all. */
import { pulse } from '../../math/pulse';
import type { Island } from './island';

const { max, min } = Math;

/** Times that a surface is parted to come to it. */
const TRIES = 6;
/** Islands that may be drawn so much more each, mostly come to what is asked together. */
const EACH = 1.35;
/** Nearer to what is asked than this it is not tried again. */
const NEAR = 0.03;

type Drawn = Pick<Island, 'laid'>;

/** How far all of them are drawn, by area; 1 for what keeps angles. */
export function meanOf(islands: readonly Drawn[]): number {
  let sum = 0;
  let all = 0;
  for (const { laid } of islands) {
    sum += laid.rest.total * (laid.figures.mean - 1);
    all += laid.rest.total;
  }
  return all > 0 ? 1 + sum / all : 1;
}

/**
 * `part`: parts a surface into islands that are drawn no more than so much each; undefined for as it comes. How much
 * that may be is told by what came of it before. Where nothing else will do it is what is asked of all.
 */
export function drawnWithin<T extends { islands: readonly Drawn[] }>(
  wanted: number,
  part: (each: number | undefined, progress?: (share: number) => void) => T,
  progress?: (share: number) => void,
): T {
  const most = wanted - 1;
  const parted = (each: number, k: number): T => {
    pulse();
    const share = progress && ((x: number) => progress((k + x) / TRIES));
    return part(each < Infinity ? 1 + each : undefined, share);
  };
  let best: T | undefined;
  // What comes to less than is asked, and what comes to more.
  let [less, more] = [0, Infinity];
  let each = Infinity;
  for (let k = 0; k + 1 < TRIES && more > less * (1 + NEAR); k++) {
    const found = parted(each, k);
    const now = meanOf(found.islands) - 1;
    if (now <= most) {
      if (!best || found.islands.length < best.islands.length) best = found;
      if (each === Infinity || now > most * (1 - NEAR)) break;
      less = each;
    } else {
      if (each <= most) return found;
      more = each;
    }
    if (less === 0) each = each === Infinity ? EACH * most : max(most, ((each * most) / now) * (1 - NEAR));
    else each = more < Infinity ? (less + more) / 2 : each * min(EACH, most / now);
  }
  return best ?? parted(most, TRIES - 1);
}
