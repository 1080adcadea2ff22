/**
 * Islands that are to lie near each other on the sheet: those of one material, one set or one part. Each group is
 * packed by itself, as tight as it goes, and then laid as one; round it others may lie, and in its holes.
 */
import { UnionFind } from '../../math/unionfind';
import { pulse } from '../../math/pulse';
import type { Mesh } from '../../mesh/mesh';
import { pack, type Packed, type PackIsland } from './pack';
import { areaOf, layOut, type Blocks, type HeldIsland, type LayOutOptions } from './sheets';
import { asOne, eachAlone, togetherBy } from './stacks';

const { abs, ceil, max, min, round, sqrt } = Math;

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

/** As `layOut`; `names`: the group of each island. */
export function layOutInGroups(
  free: readonly PackIsland[],
  held: readonly HeldIsland[],
  heldScale: number,
  o: LayOutOptions,
  names: readonly number[],
): Packed {
  const groups = togetherBy(names);
  if (groups.length === free.length || groups.length === 1) return layOut(free, held, heldScale, o);
  if (o.pixels) {
    // As fine as it comes without whole texels is where to begin: most of what does not fit is not even tried.
    const { scale } = layOutInGroups(free, held, heldScale, { ...o, pixels: false }, names);
    const whole = { ...o, density: o.density > 0 ? o.density : scale * o.size };
    const found = layOut(free, held, heldScale, whole, (islands) => wholeBlocks(groups, islands, o));
    return o.density > 0 ? found : { ...found, fits: true };
  }
  let scale = o.density > 0 ? o.density / o.size : layOut(free, held, heldScale, o).scale;
  if (!(scale > 0)) return layOut(free, held, heldScale, o);
  let best: Packed | undefined;
  for (let round = 0; round < ROUNDS; round++) {
    // What cannot be packed by itself is laid singly.
    const blocks = groups.map((list) => (list.length > 1 ? blockOf(list, groups.length, free, o, scale) : undefined));
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

/** A block is tried in squares, each larger than the last by so much. */
const WIDER = 1.04;
const WIDEST = 60;

/** Groups of islands on whole texels, each packed by itself; what cannot be is laid singly. */
function wholeBlocks(groups: readonly number[][], islands: readonly PackIsland[], o: LayOutOptions): Blocks {
  const out: Blocks = { lists: [], islands: islands.slice() };
  for (const list of groups) {
    pulse();
    const block = list.length > 1 ? wholeBlock(list, islands, o) : undefined;
    list.forEach((i, q) => block && (out.islands[i] = { ...islands[i], points: block[q] }));
    out.lists.push(...(block ? [list] : list.map((i) => [i])));
  }
  return out;
}

function wholeBlock(
  list: readonly number[],
  islands: readonly PackIsland[],
  o: LayOutOptions,
): Float64Array[] | undefined {
  const own = list.map((i) => islands[i]);
  // Of what has no area there is a square all the same.
  let side = max(1, ceil(sqrt(own.reduce((sum, i) => sum + areaOf(i), 0))));
  for (let k = 0; k < WIDEST && side <= o.size; k++, side = ceil(side * WIDER) + 1) {
    const { padding, turn } = o;
    const found = pack(own, { size: side, padding, turn, scale: 1 / side, only: true, whole: true });
    if (found.fits && found.placed.every((p) => p.length > 0))
      return found.placed.map((p) => p.map((x) => texel(x * side)));
  }
  return undefined;
}

/** Where something is a hair off a whole texel, it is meant to be on it. */
const texel = (x: number): number => (abs(x - round(x)) < 1e-6 ? round(x) : x);

/** So many groups are tried in all orders; more take long, and each of them matters less. */
const MANY = 12;
/** Cells of a group's own sheet: so many for each texel that it will have on the sheet, within limits. */
const PER_TEXEL = 2;
const LEAST_CELLS = 64;
const MOST_CELLS = 1024;

/** A group packed by itself, in its own measure, its islands as far apart as the sheet wants them at that scale. */
function blockOf(
  list: readonly number[],
  groups: number,
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
    const cells = max(LEAST_CELLS, min(MOST_CELLS, ceil(PER_TEXEL * side * scale * o.size)));
    const found = pack(own, {
      size: cells,
      padding: (apart / side) * cells,
      turn: o.turn,
      scale: 0,
      once: groups > MANY,
    });
    if (!(found.scale > 0)) return out;
    out = found.placed.map((p) => p.map((x) => x / found.scale));
    if (1 / found.scale >= side) break;
    side = 0.98 / found.scale;
  }
  return out;
}
