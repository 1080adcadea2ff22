/**
 * Islands laid out: on one sheet or several, as fine as fits or as fine as is asked for, round what is taken, and on
 * whole texels where that is wanted.
 */
import { pulse } from '../../math/pulse';
import { outlineOf } from './cells/outline';
import { pack, thoseTooNear, type Packed, type PackIsland, type PackOptions } from './pack';
import { onTexels } from './pixels';
import { asOne, eachAlone } from './stacks';

const { abs, max, min, round } = Math;

export interface LayOutOptions {
  /** Texels along the side of a sheet. */
  size: number;
  padding: number;
  turn: boolean;
  /** How much work it may be for a fuller sheet; see `PackOptions`. */
  care?: number;
  /** Texels per unit of the islands; 0 for as many as fit. */
  density: number;
  /** Every island on whole texels. */
  pixels: boolean;
  sheets: number;
  /** The part of each sheet that may be used; all of it where that is left out. */
  part?: Part;
}

/** Packing is to take no longer than the rest of the work; where a fuller sheet is asked for, up to four times as long. */
const CAREFUL = 3_000;
const FULLER = 4;

/** For a model of so many faces; `fill` as for unwrapping. */
export function careFor(faces: number, fill = 0.5): number {
  const more = max(0, 2 * fill - 1);
  return max(min(1, faces / CAREFUL), FULLER * more);
}

/** A rectangle of a sheet, in sheets from its lower left. */
export interface Part {
  x: number;
  y: number;
  width: number;
  height: number;
}

/** The part that the values of a step tell; undefined for all of the sheet. */
export function partOf(values: Readonly<Record<string, unknown>>): Part | undefined {
  const [x, y] = [Number(values.partLeft) || 0, Number(values.partLow) || 0];
  const width = min(Number(values.partWidth) || 1, 1 - x);
  const height = min(Number(values.partHeight) || 1, 1 - y);
  return width < 1 || height < 1 ? { x, y, width, height } : undefined;
}

/** Islands that are laid as one, as they lie in it, and which these are. */
export interface Blocks {
  lists: number[][];
  islands: PackIsland[];
}

/** An island in place already, and as it would be laid without that. */
export interface HeldIsland extends PackIsland {
  solved: () => Float64Array;
  /** So many of the others come before it: packed in another order they would all lie elsewhere. */
  after?: number;
}

/**
 * With something placed by hand, the others stay where they would lie without it; only if they are in its way are they
 * packed around it. `heldScale`: sheets per unit of what is in place. `blocks`: of islands on whole texels.
 */
export function layOut(
  free: readonly PackIsland[],
  held: readonly HeldIsland[],
  heldScale: number,
  o: LayOutOptions,
  blocks?: (whole: readonly PackIsland[]) => Blocks,
): Packed {
  const scale = o.density > 0 ? o.density / o.size : 0;
  const packing = { size: o.size, padding: o.padding, turn: o.turn, care: o.care, scale };
  if (o.pixels) return onWholeTexels(free, held, heldScale, packing, o, blocks);

  const { all, own } = inTurn(free, held);
  const packed = onSheets(all, packing, o);
  if (held.length === 0) return packed;
  const placed = own.map((i) => packed.placed[i]);
  const there = free.map((f, i) => ({ points: placed[i], triangles: f.triangles }));
  const away = inTheWay(there, held, o);
  if (away.length === 0) return { ...packed, placed };
  const round = aroundThem(free, there, { held, away }, { ...packing, scale: packed.scale }, o);
  if (round) return { ...packed, placed: round };
  const maxScale = scale > 0 ? undefined : packed.scale || heldScale || undefined;
  return onSheets(free, { ...packing, maxScale, taken: held }, o);
}

/**
 * Those that are in the way of what is in place, `away`, laid elsewhere, at the same scale, all others where they lie;
 * undefined where there is no room for them.
 */
function aroundThem(
  free: readonly PackIsland[],
  there: readonly PackIsland[],
  { held, away }: { held: readonly PackIsland[]; away: readonly number[] },
  packing: PackOptions,
  o: LayOutOptions,
): Float64Array[] | undefined {
  if (away.length === there.length || !(packing.scale > 0)) return undefined;
  const moving = new Set(away);
  const taken = [...held, ...there.filter((_, i) => !moving.has(i))];
  const found = onSheets(
    away.map((i) => free[i]),
    { ...packing, only: true, taken },
    o,
  );
  if (!found.fits || !found.placed.every((p) => p.length > 0)) return undefined;
  const out: Float64Array[] = there.map((t) => Float64Array.from(t.points));
  away.forEach((i, k) => (out[i] = found.placed[k]));
  return out;
}

/** All as they would be laid with nothing in place, in the order of then; and which of them each of `free` is. */
function inTurn(
  free: readonly PackIsland[],
  held: readonly HeldIsland[],
): { all: readonly PackIsland[]; own: number[] } {
  const all: PackIsland[] = [];
  const own: number[] = [];
  const lay = (before: number): void => {
    for (const f of held)
      if (min(f.after ?? free.length, free.length) === before) all.push({ ...f, points: f.solved() });
  };
  free.forEach((f, i) => {
    lay(i);
    own.push(all.length);
    all.push(f);
  });
  lay(free.length);
  return { all, own };
}

/** Cells are made no finer than that, by halves, for the sake of what is more than a sheet has texels for. */
const FINEST = 8192;

/** `padding` and `size` as it came to be laid; size 0 where there is no room at all, and all lies in a heap. */
export interface LaidAtLast {
  packed: Packed;
  padding: number;
  size: number;
}

/**
 * With less between islands, and where that is not enough as if the sheet had more texels, something fits at last.
 * `any`: whether there is anything to be laid.
 */
export function laidAtLast<T extends LayOutOptions>(o: T, any: boolean, layThem: (o: T) => Packed): LaidAtLast {
  let laying = o;
  let packed = layThem(laying);
  const heap = (): boolean => any && !(packed.scale > 0);
  while (heap() && laying.padding > 0) {
    laying = { ...laying, padding: laying.padding >> 1 };
    packed = layThem(laying);
  }
  while (heap() && laying.size < FINEST) {
    laying = { ...laying, size: 2 * laying.size, density: 2 * laying.density };
    packed = layThem(laying);
  }
  return { packed, padding: laying.padding, size: heap() ? 0 : laying.size };
}

/** What is to be said of how islands came to be laid; undefined where it is as was asked. */
export function crowdedSentence(
  { islands, padding, size }: { islands: number; padding: number; size: number },
  asked: { padding: number; size: number },
): string | undefined {
  const many = islands === 1 ? '1 island does' : `${islands.toLocaleString('en')} islands do`;
  if (size === 0) return 'There is no room left on the sheet: what has no place yet lies in a heap.';
  if (size > asked.size)
    return (
      `${many} not fit ${asked.size} px, even with nothing between them: some share ` +
      `a texel. It takes ${size} px for each to have its own.`
    );
  if (padding < asked.padding)
    return `With ${asked.padding} px between, ${many} not fit ${asked.size} px at all; laid out with ${padding} px.`;
  return undefined;
}

/** Which lie on one of the sheets, or reach onto it. */
function numbersOn(islands: readonly PackIsland[], k: number): number[] {
  return Array.from(islands.keys()).filter((i) => {
    const p = islands[i].points;
    let [low, high] = [Infinity, -Infinity];
    for (let q = 0; q < p.length; q += 2) {
      low = min(low, p[q]);
      high = max(high, p[q]);
    }
    return high > k && low < k + 1;
  });
}

/** What lies on one of the sheets, or reaches onto it, as that sheet has it. */
function lyingOn(islands: readonly PackIsland[], k: number): PackIsland[] {
  const there = numbersOn(islands, k).map((i) => islands[i]);
  return k === 0 ? there : there.map((t) => ({ ...t, points: t.points.map((x, i) => (i % 2 === 0 ? x - k : x)) }));
}

/** Which come nearer to what is in place than the padding, by number. */
function inTheWay(there: readonly PackIsland[], held: readonly PackIsland[], o: LayOutOptions): number[] {
  const out = new Set<number>();
  for (let k = 0; k < max(1, o.sheets); k++) {
    const numbers = numbersOn(there, k);
    for (const i of thoseTooNear(lyingOn(there, k), lyingOn(held, k), o.size, o.padding)) out.add(numbers[i]);
  }
  return [...out].sort((a, b) => a - b);
}

/** Sheets side by side, each a unit further to the right. */
function onSheets(islands: readonly PackIsland[], o: PackOptions, { sheets, part }: LayOutOptions): Packed {
  if (sheets <= 1 || islands.length === 0) return packPart(islands, o, part);
  const taken = Array.from({ length: sheets }, (_, k) => lyingOn(o.taken ?? [], k));
  const of = shared(islands, taken);
  const lists = Array.from({ length: sheets }, (_, k) => islands.flatMap((_island, i) => (of[i] === k ? [i] : [])));
  // As much for all of them as for one.
  const care = (o.care ?? 0) / sheets;
  const onOne = (k: number, scale: number): Packed =>
    packPart(
      lists[k].map((i) => islands[i]),
      { ...o, care, scale, taken: taken[k].length ? taken[k] : undefined },
      part,
    );
  let found = lists.map((_, k) => onOne(k, o.scale));
  // All as dense as the one that fits least.
  for (let round = 0; round < 4; round++) {
    const used = found.filter((_, k) => lists[k].length > 0);
    const scale = used.reduce((s, p) => min(s, p.scale), Infinity);
    if (!used.some((p) => p.scale > scale * (1 + 1e-9)) || !(scale > 0)) break;
    found = lists.map((_, k) => onOne(k, scale));
  }
  const placed = new Array<Float64Array>(islands.length);
  lists.forEach((list, k) =>
    list.forEach((i, at) => {
      placed[i] = found[k].placed[at]?.map((x, q) => (q % 2 === 0 ? x + k : x)) ?? new Float64Array(0);
    }),
  );
  const used = found.filter((_, k) => lists[k].length > 0);
  const scale = used.reduce((s, p) => min(s, p.scale), Infinity);
  return { scale, fits: o.scale > 0 ? used.every((p) => p.fits && p.scale >= o.scale * (1 - 1e-9)) : true, placed };
}

/** On a part of the sheet alone: a sheet of its own, as wide as that is. */
export function packPart(islands: readonly PackIsland[], o: PackOptions, part?: Part): Packed {
  if (!part) return pack(islands, o);
  // Whole texels stay such.
  const left = round(part.x * o.size) / o.size;
  const low = round(part.y * o.size) / o.size;
  const size = max(1, round(part.width * o.size));
  const rows = max(1, round(part.height * o.size));
  const by = size / o.size;
  const inPart = (p: Float64Array): Float64Array => p.map((x, q) => (x - (q % 2 === 0 ? left : low)) / by);
  const outOfPart = (found: Packed): Packed => ({
    ...found,
    scale: found.scale * by,
    placed: found.placed.map((p) => p.map((x, q) => x * by + (q % 2 === 0 ? left : low))),
  });
  const { better } = o;
  const found = pack(islands, {
    ...o,
    better: better && ((now) => better(outOfPart(now))),
    size,
    tall: rows / size,
    scale: o.scale / by,
    maxScale: o.maxScale && o.maxScale / by,
    taken: o.taken?.map((t) => ({ ...t, points: inPart(t.points) })),
  });
  return outOfPart(found);
}

/** Which sheet each goes to: the largest first, to the one that has least on it. `taken`: what lies on each already. */
function shared(islands: readonly PackIsland[], taken: readonly (readonly PackIsland[])[]): Int32Array {
  const areas = islands.map(areaOf);
  const all = areas.reduce((sum, x) => sum + x, 0);
  // Sheets hold what is taken in their own measure; about two thirds of each will be filled.
  const full = Float64Array.from(taken, (list) => {
    const held = list.reduce((sum, t) => sum + areaOf(t), 0);
    return held * (all / (0.65 * taken.length));
  });
  const out = new Int32Array(islands.length);
  for (const i of areas.map((_, k) => k).sort((a, b) => areas[b] - areas[a] || a - b)) {
    const k = full.indexOf(min(...full));
    out[i] = k;
    full[k] += areas[i];
  }
  return out;
}

/** What the triangles of an island take of the sheet. */
export function areaOf({ points: p, triangles: t }: PackIsland): number {
  let sum = 0;
  for (let i = 0; i < t.length; i += 3) {
    const [a, b, c] = [2 * t[i], 2 * t[i + 1], 2 * t[i + 2]];
    sum += abs((p[b] - p[a]) * (p[c + 1] - p[a + 1]) - (p[b + 1] - p[a + 1]) * (p[c] - p[a])) / 2;
  }
  return sum;
}

/** Each try is this much coarser than the last, until all fits. */
const COARSER = 0.98;
const TRIES = 80;

function onWholeTexels(
  free: readonly PackIsland[],
  held: readonly HeldIsland[],
  heldScale: number,
  packing: PackOptions,
  o: LayOutOptions,
  blocks?: (whole: readonly PackIsland[]) => Blocks,
): Packed {
  const taken = held.length ? held : undefined;
  const most = packing.scale > 0 ? packing.scale : onSheets(free, { ...packing, care: 0, taken }, o).scale;
  const start = packing.scale > 0 || heldScale === 0 ? most : min(most, heldScale);
  const outlines = free.map((f) => outlineOf(f.points, f.triangles));
  let density = start * o.size;
  for (let k = 0; k < TRIES; k++, density *= COARSER) {
    pulse();
    const by = density;
    const whole = free.map((f, i): PackIsland => {
      const { points, rim } = outlines[i];
      const times = (p: Float64Array): Float64Array => p.map((x) => x * by);
      return { ...f, points: onTexels(times(f.points), f.triangles, { points: times(points), rim }), level: true };
    });
    const as = blocks?.(whole);
    const single = as ? asOne(as.islands, as.lists) : whole;
    const found = onSheets(single, { ...packing, scale: 1 / o.size, only: true, whole: true, taken }, o);
    if (!found.fits || !found.placed.every((p) => p.length > 0)) continue;
    const placed = as ? eachAlone(whole, as.lists, found.placed) : found.placed;
    return { scale: by / o.size, fits: k === 0 || packing.scale <= 0, placed };
  }
  // Not even as scraps: laid out as they come.
  return { ...onSheets(free, { ...packing, scale: 0, taken }, o), fits: packing.scale <= 0 };
}
