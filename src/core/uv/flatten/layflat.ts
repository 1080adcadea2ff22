/**
 * One patch laid flat as well as may be: conformal with an even rim first, mended where it flips, its lengths made even
 * where they are off. Says whether it will do.
 *
 * A least-squares conformal map with two pins was the first try for long: on what is rough it shrank whole parts to a
 * hundredth where the map with an even rim keeps within 1.8. With that, and darts, a coral of 28,196 faces comes to 70
 * islands for 112, rocks of 99,428 to 37 for 60, rough ground of 14,400 to 114 for 207, in about the same time.
 */
import { withEvenRim } from './evenrim';
import { conformal } from './lscm';
import { flatnessOf, restOf, rimCrosses, type Flatness, type Rest } from './flatness';
import type { Patch } from './patch';
import { heavierWhere, refine, tutte } from './refine';
import { liesAs, rimOfArea, welded } from './welded';

export interface Laid {
  uv: Float64Array;
  rest: Rest;
  figures: Flatness;
  /** Nothing flipped, nothing twice, stretched beyond the bound nowhere to speak of, and on the mean within its own. */
  good: boolean;
  /** Nothing flipped and nothing twice. */
  sound: boolean;
}

/** Of the area; what is stretched beyond the bound within this is too little to be cut for. */
export const SPARE = 0.003;
/** Beyond this much more than the bound allows, evening out has never been seen to get there. */
const HOPELESS = 1.9;
const ROUNDS = 12;
/**
 * How much lengths have to say against angles: as much as holds density within the bound, which is a wide one. Of a
 * coral of 28,000 faces this makes 101 islands at a mean stretch of 1.032, of lengths alone 115 at 1.048; of angles
 * alone 120 at 1.027.
 */
const LENGTHS = 0.1;
/** Two rounds that gain less than this between them are the last. */
const LITTLE = 4e-4;
/** Where no more than this of the area is beyond the bound, it is made heavier, some times over. */
const FEW = 0.03;
const HEAVIER = 4;
const TURNS = 4;
/** From a circle it is a long way. */
const ROUNDS_FROM_CIRCLE = 40;

export interface Laying {
  /** All is tried, for a patch that cannot be parted any more. */
  hard?: boolean;
  /** Nothing of it is to lie twice, however far that draws it. */
  once?: boolean;
  /** 2 per vertex: a map without flips to begin from, which is known to be nearer than the conformal one. */
  start?: Float64Array;
  /** Drawn no more than this one way against the other, on the mean; as it comes where it is not said. */
  mean?: number;
}

export function layFlat(given: Patch, bound: number, o: Laying = {}): Laid {
  const one = welded(given);
  if (!one) return laidAsIs(given, bound, o);
  let start: Float64Array | undefined;
  if (o.start) {
    start = new Float64Array((2 * one.patch.points.length) / 3);
    for (let v = 0; v < one.of.length; v++) start.set(o.start.subarray(2 * v, 2 * v + 2), 2 * one.of[v]);
  }
  const { uv, figures, good, sound } = laidAsIs(one.patch, bound, { ...o, start });
  const out = new Float64Array((2 * given.points.length) / 3);
  one.of.forEach((w, v) => {
    out[2 * v] = uv[2 * w];
    out[2 * v + 1] = uv[2 * w + 1];
  });
  return { uv: out, rest: restOf(given), figures, good, sound };
}

/** A map that is taken as it is. 2 per vertex. */
export function asItLies(patch: Patch, rest: Rest, uv: Float64Array, bound: number, mean = Infinity): Laid {
  const figures = flatnessOf(patch, rest, uv, bound);
  figures.flips += foldedOver(patch, rest, uv);
  const sound = figures.flips === 0 && !rimCrosses(rimOfArea(patch, rest, uv), uv);
  return { uv, rest, figures, good: sound && fits(figures, mean), sound };
}

/** Whether all that is asked of a map is so, but for what lies twice. */
const fits = ({ flips, beyond, mean }: Flatness, most: number): boolean =>
  flips === 0 && beyond <= SPARE && mean <= most;

function laidAsIs(given: Patch, bound: number, { hard = false, once = false, start, mean = Infinity }: Laying): Laid {
  const patch = filled(given);
  const rest = restOf(patch);
  if (!(rest.total > 0)) {
    const uv = flattened(given.points);
    return {
      uv,
      rest,
      figures: { flips: 0, beyond: 0, spread: 1, mean: 1, scale: 1, density: 1 },
      good: true,
      sound: true,
    };
  }
  // What fills a hole is not asked how it lies.
  const own = given === patch ? rest : restOf(given);
  const judge = (uv: Float64Array): Flatness => {
    const found = flatnessOf(given, own, uv, bound);
    found.flips += foldedOver(given, own, uv);
    return found;
  };
  // What fills holes has no place in what is given to begin from.
  const begun = start && given === patch ? start.slice() : undefined;
  let { uv, figures } = begun ? { uv: begun, figures: judge(begun) } : conformally(patch, judge);
  if (begun && figures.flips === 0) {
    refine(patch, rest, uv, ROUNDS_FROM_CIRCLE, () => false, { lengths: LENGTHS, little: LITTLE });
    figures = judge(uv);
  }
  // Holes that fold over make their rims cross: what fills them is to lie without flips too.
  const folds = (at: Float64Array): number => flipsFrom(patch, rest, at, given.triangles.length);
  const turned = figures.flips + folds(uv);
  if (turned > 0 && (hard || turned * 3 * 15 < patch.triangles.length)) {
    const mended = tutte(patch, rest, uv);
    const now = mended && judge(mended);
    if (mended && now && now.flips + folds(mended) < turned) {
      uv = mended;
      figures = now;
    }
  }
  if (figures.flips > 0 && hard) {
    const round = tutte(patch, rest);
    const now = round && judge(round);
    if (round && now && now.flips === 0) {
      uv = round;
      const judged = (k: number): boolean => {
        if (k % 4 !== 0) return false;
        figures = judge(uv);
        return fits(figures, mean);
      };
      refine(patch, rest, uv, ROUNDS_FROM_CIRCLE, judged, { lengths: LENGTHS });
      figures = judge(uv);
    }
  }
  // Evening out takes from the angles: what is drawn too far on the mean already will not come back.
  const hopeless = figures.spread >= HOPELESS * bound * bound || figures.mean > mean;
  if (figures.flips === 0 && !fits(figures, mean) && (hard || !hopeless)) {
    const judged = (): boolean => {
      figures = judge(uv);
      return fits(figures, mean);
    };
    const goOn = refine(patch, rest, uv, ROUNDS, judged, { lengths: LENGTHS, little: LITTLE });
    figures = judge(uv);
    let heavier = rest;
    for (
      let k = 0;
      k < TURNS && goOn && !fits(figures, mean) && figures.beyond < FEW && figures.spread < bound * bound;
      k++
    ) {
      heavier = heavierWhere(patch, heavier, uv, bound, HEAVIER);
      goOn(heavier, 4);
      figures = judge(uv);
    }
  }
  const lies = (at: Float64Array): boolean => judge(at).flips === 0 && !rimCrosses(rimOfArea(given, own, at), at);
  let sound = figures.flips === 0 && !rimCrosses(rimOfArea(given, own, uv), uv);
  const round = once && !sound ? fromCircle(patch, rest, lies) : undefined;
  if (round) {
    uv = round;
    figures = judge(uv);
    sound = true;
  }
  return {
    // What fills holes goes.
    uv: uv.slice(0, (2 * given.points.length) / 3),
    rest: own,
    figures,
    good: sound && fits(figures, mean),
    sound,
  };
}

/** The conformal map with an even rim; where something is flipped in it, or it is no disc, one without that. */
function conformally(patch: Patch, judge: (uv: Float64Array) => Flatness): { uv: Float64Array; figures: Flatness } {
  const even = withEvenRim(patch);
  const one = even && { uv: even, figures: judge(even) };
  if (one?.figures.flips === 0) return one;
  const uv = conformal({ points: patch.points, triangles: patch.triangles }) ?? flattened(patch.points);
  const other = { uv, figures: judge(uv) };
  return one && one.figures.flips <= other.figures.flips ? one : other;
}

/** On a circle nothing lies on anything: from there a map is made even, as far as that goes on to be so. */
function fromCircle(patch: Patch, rest: Rest, lies: (uv: Float64Array) => boolean): Float64Array | undefined {
  const uv = tutte(patch, rest);
  if (!uv || !lies(uv)) return undefined;
  let kept = uv.slice();
  const enough = (): boolean => {
    if (!lies(uv)) return true;
    kept = uv.slice();
    return false;
  };
  refine(patch, rest, uv, ROUNDS_FROM_CIRCLE, enough, { lengths: LENGTHS, little: LITTLE });
  return kept;
}

/** What has no area on the surface, and less than none on the sheet: folds. */
export function foldedOver({ triangles }: Patch, rest: Rest, uv: Float64Array): number {
  let folds = 0;
  for (let i = 0; i < rest.area.length; i++) if (!(rest.area[i] > 0) && liesAs(triangles, i, uv) < 0) folds++;
  return folds;
}

/** Flips among triangles from one of them on. */
function flipsFrom({ triangles }: Patch, rest: Rest, uv: Float64Array, first: number): number {
  let flips = 0;
  for (let t = first; t < triangles.length; t += 3) {
    const [a, b, c] = [2 * triangles[t], 2 * triangles[t + 1], 2 * triangles[t + 2]];
    const det = (uv[b] - uv[a]) * (uv[c + 1] - uv[a + 1]) - (uv[b + 1] - uv[a + 1]) * (uv[c] - uv[a]);
    if (rest.area[t / 3] > 0 && !(det > 0)) flips++;
  }
  return flips;
}

/**
 * The same patch with its holes filled: each by triangles round a place in its middle. What is left is its longest
 * border.
 */
function filled(patch: Patch): Patch {
  if (patch.borders < 2 || patch.euler !== 2 - patch.borders) return patch;
  const { rim, points } = patch;
  const n = points.length / 3;
  const next = new Int32Array(n).fill(-1);
  for (let i = 0; i < rim.length; i += 2) next[rim[i]] = rim[i + 1];
  const seen = new Uint8Array(n);
  const loops: { ring: number[]; long: number }[] = [];
  for (let i = 0; i < rim.length; i += 2) {
    if (seen[rim[i]]) continue;
    const ring: number[] = [];
    let long = 0;
    for (let v = rim[i]; v >= 0 && !seen[v]; v = next[v]) {
      seen[v] = 1;
      ring.push(v);
      const to = next[v];
      if (to >= 0) long += Math.hypot(...[0, 1, 2].map((k) => points[3 * to + k] - points[3 * v + k]));
    }
    loops.push({ ring, long });
  }
  loops.sort((a, b) => b.long - a.long);
  const [main, ...holes] = loops;
  const more = new Float64Array(points.length + 3 * holes.length);
  more.set(points);
  const fans: number[] = [];
  holes.forEach(({ ring }, h) => {
    for (const v of ring) for (let k = 0; k < 3; k++) more[3 * (n + h) + k] += points[3 * v + k] / ring.length;
    ring.forEach((v, i) => fans.push(ring[(i + 1) % ring.length], v, n + h));
  });
  const triangles = new Uint32Array(patch.triangles.length + fans.length);
  triangles.set(patch.triangles);
  triangles.set(fans, patch.triangles.length);
  const outer = main.ring.flatMap((v, i) => [v, main.ring[(i + 1) % main.ring.length]]);
  return { ...patch, points: more, triangles, rim: Uint32Array.from(outer), borders: 1, euler: 1 };
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
