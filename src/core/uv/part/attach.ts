/**
 * A small patch laid beside a large one that lies already: the large one stays as it is, the small one is laid flat
 * with what they share held. A tenth of the work of laying both anew, where that does.
 */
import type { AutoOptions, Island } from './island';
import { leastBox } from '../pack/cells/boxes';
import { flatnessOf, restOf, rimCrosses } from '../flatten/flatness';
import { foldedOver, SPARE } from '../flatten/layflat';
import { conformal } from '../flatten/lscm';
import type { Parting, Patch } from '../flatten/patch';
import { rimOfArea, welded } from '../flatten/welded';

/** The box may grow by this, or by so many times what is laid there. */
const OUT = 0.05;
const EMPTIER = 3;

/** So many times larger the one is than the other. */
export const LARGER = 6;

/**
 * Both as one; undefined where that does not lie flat within the bound. `union`: their faces, which have one label
 * already; they border on each other, for a while at least, where nothing is cut.
 */
export function attachedTo(
  parting: Parting,
  big: Island,
  union: Uint32Array,
  { bound, mean = Infinity }: Pick<AutoOptions, 'bound' | 'mean'>,
): Island | undefined {
  const patch = parting.patch(union);
  if (patch.borders < 1 || patch.euler !== 2 - patch.borders || patch.borders > big.patch.borders) return undefined;
  const one = welded(patch);
  const base = one?.patch ?? patch;
  const of = (v: number): number => one?.of[v] ?? v;
  const uv = new Float64Array((2 * base.points.length) / 3).fill(NaN);
  if (!carriedOver(parting, big, patch, of, uv)) return undefined;
  if (!beside(base, uv)) return undefined;
  const rest = restOf(base);
  const figures = flatnessOf(base, rest, uv, bound);
  if (figures.flips + foldedOver(base, rest, uv) > 0 || figures.beyond > SPARE || figures.mean > mean) return undefined;
  const rim = rimOfArea(base, rest, uv);
  if (sprawls(big, rim, uv, figures.scale ** 2 * (rest.total - big.laid.rest.total)) || rimCrosses(rim, uv))
    return undefined;
  const own = new Float64Array((2 * patch.points.length) / 3);
  for (let v = 0; v < own.length / 2; v++) own.set(uv.subarray(2 * of(v), 2 * of(v) + 2), 2 * v);
  return { patch, laid: { uv: own, rest: restOf(patch), figures, good: true, sound: true } };
}

/** It reaches so far out of the box of the large one, for what it is, that the sheet would be the emptier for it. */
function sprawls({ patch, laid }: Island, rim: Uint32Array, uv: Float64Array, more: number): boolean {
  const boxOf = (sides: Uint32Array, at: Float64Array): number => {
    const { width, height } = leastBox(Float64Array.from(sides, (_, i) => at[2 * sides[i & ~1] + (i & 1)]));
    return width * height;
  };
  const before = boxOf(patch.rim, laid.uv);
  const grown = boxOf(rim, uv) - before;
  return grown > OUT * before && grown > EMPTIER * more;
}

/** Writes where the vertices of the large patch lie; false where two that lie apart would be one. */
function carriedOver(
  { mesh }: Parting,
  { patch: from, laid }: Island,
  { faces, corners }: Patch,
  of: (v: number) => number,
  uv: Float64Array,
): boolean {
  const size = laid.figures.scale * Math.sqrt(laid.rest.total || 1);
  let [at, there] = [0, 0];
  for (let i = 0, k = 0; i < faces.length; i++) {
    const many = mesh.faceStart[faces[i] + 1] - mesh.faceStart[faces[i]];
    if (from.faces[k] === faces[i]) {
      for (let q = 0; q < many; q++) {
        const [v, w] = [2 * of(corners[at + q]), 2 * from.corners[there + q]];
        const off = Math.abs(uv[v] - laid.uv[w]) + Math.abs(uv[v + 1] - laid.uv[w + 1]);
        if (off > 1e-9 * size) return false;
        if (Number.isNaN(uv[v])) uv.set(laid.uv.subarray(w, w + 2), v);
      }
      there += many;
      k++;
    }
    at += many;
  }
  return true;
}

/** Lays what has no place yet by what it shares with what has one. */
function beside({ points, triangles }: Patch, uv: Float64Array): boolean {
  const index = new Map<number, number>();
  const own: number[] = [];
  for (let t = 0; t < triangles.length; t += 3) {
    const open = [0, 1, 2].some((q) => Number.isNaN(uv[2 * triangles[t + q]]));
    if (!open) continue;
    for (let q = 0; q < 3; q++) {
      const v = triangles[t + q];
      if (!index.has(v)) index.set(v, index.size);
      own.push(index.get(v)!);
    }
  }
  if (own.length === 0) return !uv.includes(NaN);
  const at = new Float64Array(3 * index.size);
  const pins = new Map<number, readonly [number, number]>();
  for (const [v, k] of index) {
    at.set(points.subarray(3 * v, 3 * v + 3), 3 * k);
    if (!Number.isNaN(uv[2 * v])) pins.set(k, [uv[2 * v], uv[2 * v + 1]]);
  }
  if (pins.size < 2) return false;
  const laid = conformal({ points: at, triangles: Uint32Array.from(own), pins });
  if (!laid) return false;
  for (const [v, k] of index) uv.set(laid.subarray(2 * k, 2 * k + 2), 2 * v);
  return !uv.some(Number.isNaN);
}
