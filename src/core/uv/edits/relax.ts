/** Islands relaxed at once: by their angles, or by their lengths, or within their border. */
import { withEvenRim } from '../flatten/evenrim';
import { flatnessOf, restOf, type Rest } from '../flatten/flatness';
import { conformal } from '../flatten/lscm';
import type { Patch } from '../flatten/patch';
import { refine, Relaxing, tutte } from '../flatten/refine';
import { welded } from '../flatten/welded';
import { areaOf, laidBack, liesWell, LOOSELY, mirrored, signedArea } from './shape';
import { leftAsTheyAre, onSheet, type SheetEdit } from './sheet';

const { sqrt } = Math;

const ROUNDS = 60;
/** A round that gains no more than this is the last. */
const SETTLED = 1e-5;

/**
 * Laid anew in their place: by angles (conformal), or by lengths (the least stretch of any kind). Nothing is flipped by
 * it that was not, nothing comes to lie on the rest of its island, and what lay on the sheet stays on it. `rim`: the
 * border stays as it is. Islands for which that cannot be stay as they are: answers a sentence that tells of them, or
 * throws it where there are no others.
 */
export function relax(
  s: SheetEdit,
  islands: readonly number[],
  keep: 'angles' | 'lengths',
  rim: boolean,
): string | undefined {
  let laid = 0;
  for (const i of islands) {
    const faces = s.facesOf(i);
    const { patch, at } = s.patchOf(faces);
    const rest = restOf(patch);
    if (!(rest.total > 0)) {
      laid++;
      continue;
    }
    // Either way up: an island that lies mirrored goes on to.
    const over = signedArea(at, patch.triangles) < 0;
    const up = over ? mirrored(at) : at;
    const was = liesWell(patch, rest, at);
    for (const next of relaxedWays(patch, up, keep, rim)) {
      const back = rim ? next : laidBack(next, up, patch.triangles);
      const shown = onSheet(over ? mirrored(back) : back, at);
      // As it is kept, in single precision.
      const is = liesWell(patch, rest, shown.map(Math.fround));
      if (is.figures.flips > was.figures.flips || (was.sound && !is.sound)) continue;
      s.put(faces, patch, shown);
      laid++;
      break;
    }
  }
  return leftAsTheyAre(islands.length - laid, islands.length, 'Laid anew, some of it would lie on the rest of it');
}

/** Maps of a patch that keep angles or lengths, the better ones first; none is sure to be without flips. */
function* relaxedWays(
  given: Patch,
  at: Float64Array,
  keep: 'angles' | 'lengths',
  rim: boolean,
): Generator<Float64Array> {
  const { patch, at: there, spread } = withoutSlivers(given, at);
  const rest = restOf(patch);
  const flips = (uv: Float64Array): number => flatnessOf(patch, rest, uv, LOOSELY).flips;
  const angles = (pins?: ReadonlyMap<number, readonly [number, number]>) =>
    conformal({ points: patch.points, triangles: patch.triangles, pins });
  if (rim) {
    const next = angles(new Map(Array.from(patch.rim, (v) => [v, [there[2 * v], there[2 * v + 1]] as const])));
    if (next && flips(next) === 0) yield spread(next);
    if (flips(there) === 0) yield spread(relaxedWithin(patch, rest, there));
    else for (const uv of [tutte(patch, rest, there), next]) if (uv) yield spread(uv);
    return;
  }
  const flat = angles();
  if (keep === 'angles') {
    if (flat) yield spread(flat);
    const even = withEvenRim(patch);
    if (even) yield spread(even);
    return;
  }
  // From where it lies and from a flat one, if nothing lies on its face there; else from a map that is sure. From far
  // off it does not come there in so many rounds.
  const better = (start: Float64Array | undefined): Float64Array[] => {
    if (!start || flips(start) > 0) return [];
    const next = start.slice();
    refine(patch, rest, next, ROUNDS, () => false);
    return [next];
  };
  const mean = (uv: Float64Array): number => flatnessOf(patch, rest, uv, LOOSELY).mean;
  const found = [...better(there), ...better(flat)].sort((a, b) => mean(a) - mean(b));
  for (const next of found) yield spread(next);
  // From a circle it comes to lie worse than it did, where it did not lie on its face.
  if (flips(there) > 0) for (const next of better(tutte(patch, rest))) yield spread(next);
}

/**
 * A patch whose triangles of no area are gone, where it lies, of which of its vertices each of the given one is, and
 * how places of its vertices are given back to those. What has no area would come to lie anywhere.
 */
export function withoutSlivers(
  given: Patch,
  at: Float64Array,
): { patch: Patch; at: Float64Array; of: (v: number) => number; spread: (uv: Float64Array) => Float64Array } {
  const one = welded(given);
  if (!one) return { patch: given, at, of: (v) => v, spread: (uv) => uv };
  const { patch, of } = one;
  const there = new Float64Array((2 * patch.points.length) / 3);
  of.forEach((w, v) => there.set(at.subarray(2 * v, 2 * v + 2), 2 * w));
  const spread = (uv: Float64Array): Float64Array => Float64Array.from(at, (_, i) => uv[2 * of[i >> 1] + (i & 1)]);
  return { patch, at: there, of: (v) => of[v], spread };
}

/** By angles, from where it lies, with its border held: without flips as long as there are none. */
function relaxedWithin(patch: Patch, rest: Rest, at: Float64Array): Float64Array {
  const scale = sqrt(rest.total / (areaOf(at, patch.triangles) || 1));
  const uv = at.map((x) => x * scale);
  const held = new Uint8Array(at.length / 2);
  for (const v of patch.rim) held[v] = 1;
  const relaxing = new Relaxing(patch, rest, uv, { held, lengths: 0 });
  for (let k = 0; k < ROUNDS && (relaxing.round() ?? 0) > SETTLED; k++);
  return uv.map((x) => x / scale);
}
