/**
 * Islands that are to lie near each other on the sheet: those of one material, one set or one part. Each group is packed
 * by itself, as tight as it goes, and then laid as one; round it others may lie, and in its holes.
 */
import { UnionFind } from '../math/unionfind';
import type { Mesh } from '../mesh/mesh';
import { pack, type Packed, type PackIsland } from './pack';
import { areaOf, layOut, type HeldIsland, type LayOutOptions } from './sheets';
import { asOne, eachAlone, togetherBy } from './stacks';

const { sqrt } = Math;

/** By what islands are kept together. */
export const TOGETHER = ['material', 'set', 'part'] as const;
export type Together = (typeof TOGETHER)[number];

/** The group of a face, by number. */
export function groupOf(mesh: Mesh, by: Together): (face: number) => number {
  if (by === 'part') {
    const joined = new UnionFind(mesh.vertexCount);
    for (let f = 0; f < mesh.faceCount; f++)
      for (let c = mesh.faceStart[f] + 1; c < mesh.faceStart[f + 1]; c++)
        joined.join(mesh.cornerVertex[c - 1], mesh.cornerVertex[c]);
    return (f) => joined.find(mesh.cornerVertex[mesh.faceStart[f]]);
  }
  const data = mesh.attributes[by === 'material' ? 'material' : 'group']?.data;
  return (f) => data?.[f] ?? -1;
}

/** Sheets are laid out so often, until the groups stand as far apart within as from each other. */
const ROUNDS = 4;

/** As `layOut`; `names`: the group of each island. On whole texels islands are laid singly, as they fit. */
export function layOutInGroups(
  free: readonly PackIsland[],
  held: readonly HeldIsland[],
  heldScale: number,
  o: LayOutOptions,
  names: readonly number[],
): Packed {
  const groups = togetherBy(names);
  if (o.pixels || groups.length === free.length || groups.length === 1) return layOut(free, held, heldScale, o);
  let scale = o.density > 0 ? o.density / o.size : layOut(free, held, heldScale, o).scale;
  if (!(scale > 0)) return layOut(free, held, heldScale, o);
  let best: Packed | undefined;
  for (let round = 0; round < ROUNDS; round++) {
    // What cannot be packed by itself is laid singly.
    const blocks = groups.map((list) => (list.length > 1 ? blockOf(list, free, o, scale) : undefined));
    const lists = groups.flatMap((list, k) => (blocks[k] ? [list] : list.map((i) => [i])));
    const packed = free.slice();
    groups.forEach((list, k) =>
      list.forEach((i, q) => blocks[k] && (packed[i] = { ...free[i], points: blocks[k][q] })),
    );
    const found = layOut(asOne(packed, lists), held, heldScale, o);
    if (!(found.scale > 0)) break;
    best = { ...found, placed: eachAlone(free, lists, found.placed) };
    // Laid out coarser than was thought, they would stand too near each other within.
    if (found.scale >= scale * (1 - 1e-3)) return best;
    scale = found.scale * 0.98;
  }
  return best ?? layOut(free, held, heldScale, o);
}

/** Cells of a group's own sheet, for its padding. */
const CELLS = 1024;

/** A group packed by itself, in its own measure, its islands as far apart as the sheet wants them at that scale. */
function blockOf(
  list: readonly number[],
  islands: readonly PackIsland[],
  o: LayOutOptions,
  scale: number,
): Float64Array[] | undefined {
  const apart = o.padding / o.size / scale;
  const own = list.map((i) => islands[i]);
  let side = sqrt(own.reduce((sum, i) => sum + areaOf(i), 0) / 0.7);
  if (!(side > 0)) return undefined;
  let out: Float64Array[] | undefined;
  for (let round = 0; round < ROUNDS; round++) {
    const found = pack(own, { size: CELLS, padding: (apart / side) * CELLS, turn: o.turn, scale: 0 });
    if (!(found.scale > 0)) return out;
    out = found.placed.map((p) => p.map((x) => x / found.scale));
    if (1 / found.scale >= side) break;
    side = 0.98 / found.scale;
  }
  return out;
}
