/** How full islands make the sheet, by packing them in a hurry: by that it is told whether one more of them pays. */
import { tightest, type PackIsland } from '../pack/cells/boxes';
import { scaleInHaste } from '../pack/pack';
import type { Island } from './island';

export interface SheetOf {
  /** Texels: of its side, and between islands. */
  size: number;
  padding: number;
  /** May islands be turned? */
  turn?: boolean;
  /** Of all that goes on the sheet, m²; that of the islands where it is no more. */
  area?: number;
}

/** Answers which share of a square sheet islands cover, all of one density. What it was told before it need not box. */
export function fullnessOn({
  size,
  padding,
  turn = true,
  area: all = 0,
}: SheetOf): (list: readonly Island[]) => number {
  const known = new WeakMap<Island, PackIsland>();
  const boxed = (island: Island): PackIsland => {
    let out = known.get(island);
    if (!out) {
      const { patch, laid } = island;
      const { density } = laid.figures;
      const flat = { points: laid.uv.map((x) => (density > 0 ? x / density : 0)), triangles: patch.triangles };
      known.set(island, (out = { ...flat, boxed: tightest(flat) }));
    }
    return out;
  };
  return (list) => {
    let area = 0;
    for (const { laid } of list) area += laid.rest.total;
    // With much else on the sheet these lie on a part of it, as far apart.
    const own = Math.max(1, Math.round(size * Math.sqrt(Math.min(1, all > 0 ? area / all : 1))));
    return area * scaleInHaste(list.map(boxed), { size: own, padding, turn }) ** 2;
  };
}
