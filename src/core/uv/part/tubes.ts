/**
 * Tubes, found on the cells of a surface: how far each cell is from a ring round the longest of them, and where what is
 * as far hangs together in one ring after the other (the level sets of Verroust & Lazarus, Extracting skeletal curves
 * from 3D scattered data, 2000). Joined from cells a tube comes to patches that lie round it in halves, no two alike,
 * and many of them; cut across and once along it lies flat in as many as its length asks for.
 */
import { pulse } from '../../math/pulse';
import type { Parting } from '../flatten/patch';
import { facesOfCells, type Cells } from './cells';
import { far } from './network';
import { Foretelling } from './plan';

const { ceil, floor, max, min, sqrt } = Math;

export interface Tubes {
  /** Part of a tube that each cell is of; −1 for none. Parts of one tube have numbers after each other. */
  of: Int32Array;
  /** Tube of each part. */
  tube: number[];
  /** Of each tube; m². */
  areas: number[];
}

/** Fewer cells are no tube that it is worth to look for. */
const LEAST_CELLS = 24;
/** Rings are as wide as so many cells: as narrow as will do. */
const RINGS = [1.5, 2.5, 4];
/** Wider ones are taken where they find this much more. */
const MORE = 1.1;
/** What is shorter than this, against how far it is round it, is none. */
const LONG = 1.5;
/** Rings of one tube are alike long round, within this. */
const ALIKE = 3;
/** What would be so much wider than the next is not one ring. */
const AS_WIDE = 1.3;
/** What hangs on a ring by itself and is smaller than it, by this, belongs to it: a bump. */
const BUMP = 0.5;

/** What is left at an end is no longer than this against how far it is round. */
const END = 2;

/** Parts of tubes are at most this long against the side of a square that takes all. */
const LONGEST = 1.15;
/** Where one part ends and the next begins the border may have a step, against how far it is round. */
const STEP = 0.5;

export interface TubesAsked {
  /** Largest over smallest scale that a part is foretold to lie at. */
  spread: number;
  /** Of all that goes on the sheet, if that is more; m². */
  area?: number;
}

/** Undefined where there are none. Uses up labels. */
export function tubesOf(parting: Parting, cells: Cells, { spread, area = 0 }: TubesAsked): Tubes | undefined {
  const { count, start, to, facts } = cells;
  const net = { cells, open: new Uint8Array(count), goes: new Uint8Array(to.length) };
  let total = 0;
  for (let i = 0; i < count; i++) {
    total += facts.area[i];
    if (cells.rim[i] > 0) net.open[i] = 1;
    for (let k = start[i]; k < start[i + 1]; k++)
      if (cells.firm[k] > 0.5) net.open[i] = 1;
      else net.goes[k] = 1;
  }
  const hasTwoEnds = tubeTest(parting, cells);
  const fore = new Foretelling(cells);
  const isTube = (part: readonly number[]): boolean => hasTwoEnds(part) && fore.spread(part, spread) <= spread;
  const longest = LONGEST * sqrt(max(area, total));
  const out: Tubes = { of: new Int32Array(count).fill(-1), tube: [], areas: [] };
  const seen = new Uint8Array(count);
  for (let i = 0; i < count; i++) {
    if (seen[i]) continue;
    const whole = hanging(net, i, seen);
    if (whole.length < LEAST_CELLS) continue;
    pulse();
    for (const parts of partsOfTubes(net, whole, longest, isTube)) {
      let sum = 0;
      for (const part of parts) {
        for (const c of part) {
          out.of[c] = out.tube.length;
          sum += facts.area[c];
        }
        out.tube.push(out.areas.length);
      }
      out.areas.push(sum);
    }
  }
  return out.areas.length > 0 ? out : undefined;
}

/** The cells of each part of each tube of what hangs together. */
function partsOfTubes(
  net: Net,
  whole: readonly number[],
  longest: number,
  isTube: (part: readonly number[]) => boolean,
): number[][][] {
  const { area } = net.cells.facts;
  const away = (from: readonly number[]): Float64Array => far(net.cells, net.cells.facts.centre, from, net.goes);
  const first = away([whole[0]]);
  let most = 0;
  let best: number[][][] = [];
  for (const ring of RINGS) {
    const wide = ring * meanWidth(net.cells, whole);
    const found = tubesAmong(chainsOf(net, whole, first, wide), wide);
    if (found.length === 0) continue;
    const along = found.reduce((a, b) => (b.length > a.length ? b : a));
    const middle = along[along.length >> 1];
    const chains = tubesAmong(chainsOf(net, whole, away(middle.cells), wide), wide);
    const taken = new Uint8Array(net.cells.count);
    for (const { cells } of chains.flat()) for (const c of cells) taken[c] = 1;
    const tubes = chains
      .map((rings) => {
        const whole = inParts(withEnds(net, rings, taken, wide), wide, longest);
        return whole.every(isTube) ? whole : inParts(rings, wide, longest).filter(isTube);
      })
      .filter((parts) => parts.length > 0);
    let sum = 0;
    for (const c of tubes.flat(2)) sum += area[c];
    if (sum <= MORE * most) continue;
    most = sum;
    best = tubes;
  }
  return best;
}

/** Whether the faces of some cells have two borders and no handle. */
function tubeTest(parting: Parting, cells: Cells): (part: readonly number[]) => boolean {
  const { label } = parting;
  const faces = facesOfCells(cells);
  let stamp = 1;
  return (part) => {
    const own = faces(part);
    for (const f of own) label[f] = stamp;
    stamp++;
    const { borders, euler } = parting.patch(own);
    return borders === 2 && euler === 0;
  };
}

/**
 * What has come to a tube since it was labelled so, a cap at its end, and leaves it none, gets a label of its own, from
 * `fresh` on.
 */
export function withoutCaps(
  { of }: Tubes,
  names: ReadonlySet<number>,
  cells: Cells,
  parting: Parting,
  fresh: number,
): void {
  const { label } = parting;
  const faces = new Map<number, number[]>();
  label.forEach((k, f) => {
    if (!names.has(k)) return;
    const list = faces.get(k);
    if (list) list.push(f);
    else faces.set(k, [f]);
  });
  let next = fresh;
  for (const own of faces.values()) {
    const { borders, euler } = parting.patch(Uint32Array.from(own));
    if (borders === 2 && euler === 0) continue;
    for (const f of own) if (of[cells.of[f]] < 0) label[f] = next;
    next++;
  }
}

/** A patch has to do with a tube that it has this share of. */
const OVER = 0.1;

/**
 * Those tubes that come to more patches than they have parts, or to one that will not do; undefined where there are
 * none. `area` and `label`: of each cell.
 */
export function worthIt(
  tubes: Tubes,
  area: ArrayLike<number>,
  { label, count }: { label: ArrayLike<number>; count: number },
  does: (patch: number) => boolean,
): Tubes | undefined {
  const all = new Float64Array(count);
  const within = new Map<number, Float64Array>();
  tubes.of.forEach((part, c) => {
    all[label[c]] += area[c];
    if (part < 0) return;
    const own = within.get(label[c]) ?? new Float64Array(tubes.areas.length);
    own[tubes.tube[part]] += area[c];
    within.set(label[c], own);
  });
  const parts = new Int32Array(tubes.areas.length);
  for (const tube of tubes.tube) parts[tube]++;
  const patches = new Int32Array(tubes.areas.length);
  const worth = tubes.areas.map(() => false);
  for (const [k, own] of within) {
    if (own.reduce((sum, x) => sum + x, 0) < all[k] / 2) continue;
    own.forEach((x, tube) => {
      if (x > all[k] / 2) patches[tube]++;
    });
    if (own.every((x, tube) => x === 0 || worth[tube]) || does(k)) continue;
    own.forEach((x, tube) => {
      if (x > OVER * tubes.areas[tube]) worth[tube] = true;
    });
  }
  patches.forEach((n, tube) => {
    if (n > parts[tube]) worth[tube] = true;
  });
  if (!worth.includes(true)) return undefined;
  return { ...tubes, of: tubes.of.map((x) => (x >= 0 && worth[tubes.tube[x]] ? x : -1)) };
}

interface Net {
  cells: Cells;
  /** The surface ends at the cell, or bends. */
  open: Uint8Array;
  /** Whether it goes on over each border, as in `to`. */
  goes: Uint8Array;
}

interface Ring {
  cells: number[];
  area: number;
}

function hanging({ cells: { start, to }, goes }: Net, from: number, seen: Uint8Array): number[] {
  const list = [from];
  seen[from] = 1;
  for (let q = 0; q < list.length; q++)
    for (let k = start[list[q]]; k < start[list[q] + 1]; k++)
      if (goes[k] && !seen[to[k]]) {
        seen[to[k]] = 1;
        list.push(to[k]);
      }
  return list;
}

/** How wide cells are on the mean; metres. */
function meanWidth({ facts }: Cells, list: readonly number[]): number {
  let area = 0;
  for (const c of list) area += facts.area[c];
  return sqrt(area / list.length);
}

/** Rings next to each other in a row, none of which has more than two others next to it. */
function chainsOf(net: Net, whole: readonly number[], d: Float64Array, wide: number): Ring[][] {
  const { cells, goes, open } = net;
  const { start, to, facts } = cells;
  const node = new Map<number, number>();
  const rings: (Ring & { open: boolean; near: Set<number> })[] = [];
  // Where it begins is a ring by itself: counted with what is next to it on both sides it would be three times as wide.
  const beside = meanWidth(cells, whole) / 2;
  const level = (c: number): number => (d[c] > 0 ? 1 + floor(max(0, d[c] - beside) / wide) : 0);
  for (const first of whole) {
    if (node.has(first)) continue;
    const list = [first];
    node.set(first, rings.length);
    for (let q = 0; q < list.length; q++)
      for (let k = start[list[q]]; k < start[list[q] + 1]; k++) {
        const g = to[k];
        if (!goes[k] || node.has(g) || level(g) !== level(first)) continue;
        node.set(g, rings.length);
        list.push(g);
      }
    const area = list.reduce((sum, c) => sum + facts.area[c], 0);
    rings.push({ cells: list, area, open: list.some((c) => open[c] > 0), near: new Set() });
  }
  for (const c of whole)
    for (let k = start[c]; k < start[c + 1]; k++) {
      const [a, b] = [node.get(c)!, node.get(to[k])];
      if (goes[k] && b !== undefined && a !== b) rings[a].near.add(b);
    }
  // Where the cells of one ring reach past the next, the one between them is on the way.
  const at = rings.map((r) => level(r.cells[0]));
  rings.forEach(({ near }, i) => {
    for (const j of near)
      if (at[j] > at[i] + 1 && [...near].some((k) => at[k] > at[i] && at[k] < at[j] && rings[k].near.has(j))) {
        near.delete(j);
        rings[j].near.delete(i);
      }
  });
  // A narrow ring that has come in two, with the same on both its sides, is one.
  for (let i = 0; i < rings.length; i++) {
    const own = rings[i];
    if (own.near.size !== 2) continue;
    const [a, b] = own.near;
    const wider = AS_WIDE * max(rings[a].area, rings[b].area);
    for (const j of rings[a].near) {
      const other = rings[j];
      if (j <= i || at[j] !== at[i] || other.near.size !== 2 || !other.near.has(b)) continue;
      if (own.area + other.area > wider) continue;
      own.cells.push(...other.cells);
      own.area += other.area;
      own.open ||= other.open;
      for (const k of [a, b]) rings[k].near.delete(j);
      other.near.clear();
    }
  }
  // Bumps go to what they are on.
  for (let i = 0; i < rings.length; i++) {
    const own = rings[i];
    if (own.near.size !== 1 || own.open) continue;
    const [on] = own.near;
    if (rings[on].near.size < 3 || own.area > BUMP * rings[on].area) continue;
    rings[on].cells.push(...own.cells);
    rings[on].near.delete(i);
    own.near.clear();
  }
  const passes = (i: number): boolean => rings[i].near.size === 2 && !rings[i].open;
  const done = new Uint8Array(rings.length);
  const out: Ring[][] = [];
  for (let i = 0; i < rings.length; i++) {
    if (done[i] || !passes(i)) continue;
    done[i] = 1;
    const chain = [i];
    for (const side of [0, 1]) {
      if (side === 1) chain.reverse();
      for (;;) {
        const next = [...rings[chain[chain.length - 1]].near].find((x) => !done[x] && !chain.includes(x));
        if (next === undefined) break;
        const last = rings[next].open && rings[next].near.size === 1;
        if (!passes(next) && !last) break;
        done[next] = 1;
        chain.push(next);
        if (last) break;
      }
    }
    out.push(chain.map((x) => rings[x]));
  }
  return out;
}

/**
 * With what is left at either end, where that is short and hangs on nothing else: an end that is cut aslant is reached
 * by several rings, none of which is one any more. A patch by itself it would be joined to the tube again by a corner.
 */
function withEnds(net: Net, rings: readonly Ring[], taken: Uint8Array, wide: number): readonly Ring[] {
  const { cells, goes } = net;
  const { start, to, facts } = cells;
  const round = rings.reduce((sum, r) => sum + r.area, 0) / (rings.length * wide);
  const ended = (end: Ring): Ring => {
    const own = new Set(end.cells);
    const list = [...end.cells];
    let { area } = end;
    const most = area + END * round ** 2;
    for (let q = 0; q < list.length; q++) {
      if (area > most) return end;
      for (let k = start[list[q]]; k < start[list[q] + 1]; k++) {
        const c = to[k];
        if (!goes[k] || own.has(c)) continue;
        if (taken[c]) {
          if (q >= end.cells.length) return end;
          continue;
        }
        own.add(c);
        list.push(c);
        area += facts.area[c];
      }
    }
    return area > most ? end : { cells: list, area };
  };
  if (rings.length < 2) return rings;
  return [ended(rings[0]), ...rings.slice(1, -1), ended(rings[rings.length - 1])];
}

/**
 * The cells of some rings in parts as large as each other, each of a good length. That is told by area: rings at the
 * ends are what is left over, and none is quite as wide as the next.
 */
function inParts(rings: readonly Ring[], wide: number, longest: number): number[][] {
  const areas = rings.map((ring) => ring.area);
  const total = areas.reduce((sum, x) => sum + x, 0);
  // Of slivers there is no area to go by.
  if (!(total > 0)) return [];
  const round = max(areas.sort((x, y) => x - y)[areas.length >> 1], total / rings.length / 2) / wide;
  /** Side of the square that so many strips lie in, one beside the other. */
  const takes = (n: number): number => max(total / round / n + (n > 1 ? STEP * round : 0), n * round);
  let parts = max(1, ceil(total / round / longest - 0.1));
  while (parts < rings.length && takes(parts) > longest && takes(parts + 1) < takes(parts)) parts++;
  const out: number[][] = Array.from({ length: parts }, () => []);
  let before = 0;
  for (const { area, cells } of rings) {
    out[min(parts - 1, floor((parts * (before + area / 2)) / total))].push(...cells);
    before += area;
  }
  return out.filter((part) => part.length > 0);
}

/** Those runs of rings, alike far round, that are long enough. */
function tubesAmong(chains: readonly Ring[][], wide: number): Ring[][] {
  const round = (rings: readonly Ring[]): number => rings.reduce((sum, r) => sum + r.area, 0) / (rings.length * wide);
  return chains.flatMap(alike).filter((rings) => rings.length * wide > LONG * round(rings));
}

/** Runs of a chain whose rings are alike far round; a ring at an end is what is left over, and says nothing. */
function alike(chain: readonly Ring[]): Ring[][] {
  const out: Ring[][] = [];
  let run: Ring[] = [];
  let [lo, hi] = [Infinity, 0];
  chain.forEach((ring, i) => {
    const inner = i > 0 && i < chain.length - 1;
    if (inner && max(hi, ring.area) > ALIKE * min(lo, ring.area)) {
      out.push(run);
      run = [];
      [lo, hi] = [Infinity, 0];
    }
    run.push(ring);
    if (inner) [lo, hi] = [min(lo, ring.area), max(hi, ring.area)];
  });
  out.push(run);
  return out;
}
