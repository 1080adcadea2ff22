/** Strips along a tube, which are drawn less than the whole of it is; each laid as a rectangle where that will do. */
import { rectangular } from '../flatten/cylinder';
import { drawnBy, restOf } from '../flatten/flatness';
import { asItLies, layFlat, type Laid } from '../flatten/layflat';
import type { Parting, Patch } from '../flatten/patch';

/** What a rectangle may be drawn more on the mean than the strip would be as any patch is. */
const DEARER = 1.6;

/** `isSide`: whether what has this label lies along it. */
export function laidAsStripOf(
  parting: Parting,
  patch: Patch,
  { bound, mean = Infinity }: { bound: number; mean?: number },
  isSide: (label: number) => boolean,
): Laid {
  const laid = layFlat(patch, bound, { mean });
  const runs = runsOf(parting, patch, isSide);
  if (!runs) return laid;
  const rest = restOf(patch);
  const uv = rectangular(patch, rest, runs);
  if (!uv || drawnBy(patch, rest, uv).flips > 0) return laid;
  const straight = asItLies(patch, rest, uv, bound, mean);
  const worth = !laid.good || straight.figures.mean - 1 <= DEARER * (laid.figures.mean - 1);
  return straight.good && worth ? straight : laid;
}

/** Its rim as a side, an end, a side and an end, from corner to corner; undefined where it has others. */
function runsOf(parting: Parting, patch: Patch, isSide: (label: number) => boolean): number[][] | undefined {
  const { mesh, t, label } = parting;
  const own = label[patch.faces[0]];
  const next = new Map<number, number>();
  const side = new Map<number, boolean>();
  let at = 0;
  for (const f of patch.faces) {
    const first = at;
    const many = mesh.faceStart[f + 1] - mesh.faceStart[f];
    for (let k = 0; k < many; k++, at++) {
      const o = parting.across(mesh.faceStart[f] + k);
      const other = o < 0 ? -1 : label[t.cornerFace[o]];
      if (other === own) continue;
      const v = patch.corners[at];
      if (next.has(v)) return undefined;
      next.set(v, patch.corners[first + ((k + 1) % many)]);
      side.set(v, other >= 0 && isSide(other));
    }
  }
  const before = new Map([...next].map(([v, w]) => [w, v]));
  const begin = [...next.keys()].find((v) => side.get(v) === true && side.get(before.get(v) ?? -1) === false);
  if (begin === undefined) return undefined;
  const runs: number[][] = [[begin]];
  let [v, left] = [begin, next.size];
  for (; left > 0; left--) {
    const to = next.get(v);
    if (to === undefined) return undefined;
    runs[runs.length - 1].push(to);
    if (to !== begin && side.get(to) !== side.get(v)) runs.push([to]);
    v = to;
  }
  return v === begin && runs.length === 4 ? runs : undefined;
}
