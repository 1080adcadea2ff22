/**
 * What nothing places, beside what keeps its place: it is planned by itself, as a surface of its own, so that none of
 * it lies folded or on itself and all of it keeps within the bound.
 */
import { areaOf } from '../../mesh/measure';
import type { Mesh } from '../../mesh/mesh';
import { edgeValence, topologyOf } from '../../mesh/topology';
import { charts, seamEdges, type Charts } from '../part/charts';
import { liesOnItself, unfoldAll, type Flat } from '../flat';
import { parted, type AutoParted, type PartingOptions } from '../part/parted';
import { onlyFaces } from '../../mesh/onlyfaces';

/** No bound to speak of. */
const LOOSE = 50;

/**
 * `bound`: of the stretch; 0 where only the seams there are part anything, and what lies on itself for that is cut
 * until it does not. `all`: whatever was not laid flat when the surface was parted, not only what lies on itself.
 * `beyond` of the answer: share of the area of the surface that is stretched by more. `mean`: as it was parted before.
 */
export function laidAnew(
  mesh: Mesh,
  o: PartingOptions,
  { bound, all }: { bound: number; all: boolean },
  { ch, flat }: { ch: Charts; flat: Flat[] },
  auto?: AutoParted,
): { ch: Charts; flat: Flat[]; beyond: number; mean: number } {
  const poor = flat.filter((f) => !f.held && !f.solvedBefore && (all || liesOnItself(f)));
  const before = auto?.beyond ?? 0;
  const mean = auto?.mean ?? 1;
  if (poor.length === 0) return { ch, flat, beyond: before, mean };
  const faces = Uint32Array.from(poor.flatMap((f) => [...f.faces])).sort();
  const { part, edge } = onlyFaces(mesh, faces);
  const t = topologyOf(part);
  const numbers = Array.from(edge.keys());
  const whole = topologyOf(mesh);
  // Of an edge of three faces two may be here: it stays a seam, as it does not join them in the whole.
  const parts = (e: number): boolean => (bound ? o.cut.has(e) || edgeValence(whole, e) !== 2 : ch.seam[e] === 1);
  const cut = new Set(numbers.filter((e) => parts(edge[e])));
  const hold = new Set(numbers.filter((e) => o.hold.has(edge[e])));
  const own = { ...o, cut, hold, islands: 0, area: areaOf(mesh), progress: undefined };
  const plan = parted(part, seamEdges(part, { cut, hold, angle: o.seamAngle }), own, bound || LOOSE);
  const seam = ch.seam.slice();
  for (const e of numbers) if (edgeValence(t, e) === 2) seam[edge[e]] = plan.seam[e];

  const first = auto?.faces.length ?? 0;
  const of = auto?.of.slice() ?? new Int32Array(mesh.faceCount).fill(-1);
  const uv = auto?.uv.slice() ?? new Float64Array(2 * mesh.cornerCount);
  faces.forEach((f, k) => {
    of[f] = first + plan.of[k];
    const size = 2 * (mesh.faceStart[f + 1] - mesh.faceStart[f]);
    uv.set(plan.uv.subarray(2 * part.faceStart[k], 2 * part.faceStart[k] + size), 2 * mesh.faceStart[f]);
  });
  const again = new Map(flat.flatMap((f) => (poor.includes(f) ? [] : [[f.faces[0], f]])));
  const next = charts(mesh, seam);
  const merged = { seam, of, uv, faces: Int32Array.of(...(auto?.faces ?? []), ...plan.faces), beyond: 0, mean: 1 };
  return {
    ch: next,
    flat: unfoldAll(mesh, next, { auto: merged, again }),
    mean,
    beyond: bound ? before + plan.beyond * (areaOf(part) / areaOf(mesh) || 0) : 0,
  };
}
