/**
 * Where islands are to be cut, found on a few thousand cells in place of all faces. How unevenly a patch will lie is
 * foretold from its curvature: the scale of a conformal map with an even rim is e^u, where the Laplacian of u is the
 * Gaussian curvature and u is 0 at the rim (Ben-Chen, Gotsman & Bunin 2008; Sawhney & Crane 2017), solved over the
 * cells by a few sweeps. Patches are parted and joined by that alone; what they come to is looked at afterwards, on the
 * faces themselves.
 */
import { Queue } from '../../math/queue';
import { pulse } from '../../math/pulse';
import type { Cells } from './cells';

const { abs, max, min, sqrt } = Math;

const SWEEPS = 60;
const SETTLED = 0.01;
/** Every so many sweeps it is looked whether a patch is this much too uneven already. */
const LOOK = 4;
const FAR_OFF = 1.25;
/** So little curvature in all, radians, makes no scale worth looking at. */
const FLAT = 0.12;

/** Solves for the scales of patches of cells. Arrays are as long as there are cells, and used again. */
export class Foretelling {
  private readonly u: Float64Array;
  private readonly kept: Float64Array;
  private readonly patch: Int32Array;
  /** Curvature of each cell as a part of the patch that is asked for. */
  private readonly load: Float64Array;
  private stamp = 0;

  constructor(private readonly cells: Cells) {
    this.u = new Float64Array(cells.count);
    this.kept = new Float64Array(cells.count);
    this.patch = new Int32Array(cells.count);
    this.load = new Float64Array(cells.count);
  }

  /** What was found last of a patch is where the next one that it is a part of begins. */
  keep(list: ArrayLike<number>): void {
    for (let i = 0; i < list.length; i++) this.kept[list[i]] = this.u[list[i]];
  }

  /**
   * Largest over smallest scale that a patch of cells will have; infinite for what is closed. Beyond `most` by enough
   * it is not followed to the end: scales grow from those of the parts, so what is off already will not come back.
   */
  spread(list: ArrayLike<number>, most = Infinity): number {
    const { start, to, lead, rim, bent, ridge, joints } = this.cells;
    const { u, kept, patch, load } = this;
    const own = ++this.stamp;
    const n = list.length;
    for (let i = 0; i < n; i++) {
      patch[list[i]] = own;
      u[list[i]] = kept[list[i]];
    }
    let open = false;
    for (let i = 0; i < n && !open; i++) {
      const c = list[i];
      if (rim[c] > 0) open = true;
      for (let k = start[c]; k < start[c + 1] && !open; k++) if (patch[to[k]] !== own) open = true;
    }
    if (!open) return Infinity;
    let all = 0;
    for (let i = 0; i < n; i++) {
      const c = list[i];
      let sum = bent[c];
      for (let k = start[c]; k < start[c + 1]; k++) if (patch[to[k]] === own) sum += ridge[k];
      for (let q = joints.ofStart[c]; q < joints.ofStart[c + 1]; q++) {
        const j = joints.of[q];
        let whole = true;
        const [from, end] = [joints.start[j], joints.start[j + 1]];
        for (let k = from; k < end && whole; k++) whole = patch[joints.cells[k]] === own;
        if (whole) sum += joints.bent[j] / (end - from);
      }
      load[c] = sum;
      all += abs(sum);
    }
    if (all < FLAT) return 1;
    let [lo, hi] = [0, 0];
    const farOff = FAR_OFF * Math.log(most);
    // Over-relaxed, forward and back.
    const over = n > 30 ? 1.7 : 1.3;
    for (let sweep = 0; sweep < SWEEPS; sweep++) {
      let moved = 0;
      for (let q = 0; q < n; q++) {
        const c = list[(sweep & 1) === 0 ? q : n - 1 - q];
        let sum = load[c];
        let weight = 2 * rim[c];
        for (let k = start[c]; k < start[c + 1]; k++) {
          // A border of the patch lies half as far off as the middle of the next cell.
          const w = patch[to[k]] === own ? lead[k] : 2 * lead[k];
          weight += w;
          if (patch[to[k]] === own) sum += w * u[to[k]];
        }
        if (!(weight > 0)) continue;
        const next = u[c] + over * (sum / weight - u[c]);
        moved = max(moved, abs(next - u[c]));
        u[c] = next;
      }
      if (moved < SETTLED) break;
      if (sweep % LOOK !== LOOK - 1) continue;
      lo = 0;
      hi = 0;
      for (let i = 0; i < n; i++) {
        lo = min(lo, u[list[i]]);
        hi = max(hi, u[list[i]]);
      }
      if (hi - lo > farOff) return Infinity;
    }
    lo = 0;
    hi = 0;
    for (let i = 0; i < n; i++) {
      lo = min(lo, u[list[i]]);
      hi = max(hi, u[list[i]]);
    }
    return Math.exp(min(50, hi - lo));
  }
}

export interface CellPlan {
  cells: Cells;
  /** Patch of each cell. */
  label: Int32Array;
  count: number;
}

export interface PlanOptions {
  /** Largest over smallest scale that a patch may come to. */
  spread: number;
  /** Patches are not joined over a border that bends by more on the whole, but for small ones. Radians. */
  bend: number;
  /** Patches are joined, whatever bends, until there are no more than this. */
  islands: number;
  /** Cells of one number from 0 on are a patch as they are; the others have −1. */
  settled?: Int32Array;
}

/** What is smaller, against the whole that it is a part of, is joined over sharper bends as well: this much sharper. */
export const SMALL = 0.04;
export const CORNERED = 1.35;
/** Parts that are less than this of all there is are scraps: however they bend, one island of each is enough. */
export const SCRAP = 0.0005;

/** Joins cells into patches from the bottom up, the flattest border first, as long as each is foretold to lie flat. */
export function planned(cells: Cells, o: PlanOptions): CellPlan {
  const { count, start, to, long, bend, facts } = cells;
  const fore = new Foretelling(cells);
  const members: (number[] | undefined)[] = Array.from({ length: count }, (_, i) => [i]);
  const area = facts.area.slice();
  const near: Map<number, [number, number]>[] = Array.from({ length: count }, () => new Map());
  const whole = wholeAreas(cells);
  const total = area.reduce((sum, x) => sum + x, 0);
  for (let i = 0; i < count; i++)
    for (let k = start[i]; k < start[i + 1]; k++) near[i].set(to[k], [long[k], bend[k] * long[k]]);
  const version = new Int32Array(count);
  const queue = new Queue();
  const offers: [number, number, number, number][] = [];
  const settled = (i: number): boolean => o.settled !== undefined && o.settled[i] >= 0;
  const firsts = new Map<number, number>();
  for (let i = 0; i < count; i++) {
    if (!settled(i)) continue;
    const first = firsts.get(o.settled![i]);
    if (first === undefined) firsts.set(o.settled![i], i);
    else {
      members[first]!.push(i);
      members[i] = undefined;
    }
  }
  let left = members.reduce((sum, list) => sum + (list ? 1 : 0), 0);
  const offer = (a: number, b: number): void => {
    if (settled(a) || settled(b)) return;
    const [l, turned] = near[a].get(b)!;
    const bends = l > 0 ? turned / l : 0;
    const small = min(area[a], area[b]) <= SMALL * whole[a];
    const free = (left > o.islands && o.islands > 0) || whole[a] < SCRAP * total;
    const limit = free ? Math.PI : o.bend;
    if (bends > (small ? CORNERED * limit : limit)) return;
    // How round the two are together: long borders for their size.
    const worth = l / sqrt(min(area[a], area[b]) || 1e-30);
    queue.push(
      offers.push([a, b, version[a], version[b]]) - 1,
      bends * 2 - min(4, worth) + 2 * sqrt((area[a] + area[b]) / (whole[a] || 1)),
    );
  };
  for (let i = 0; i < count; i++) for (const j of near[i].keys()) if (i < j) offer(i, j);
  let tried = 0;
  while (queue.size > 0) {
    const [a, b, va, vb] = offers[queue.pop()[0]];
    if (version[a] !== va || version[b] !== vb || !members[a] || !members[b]) continue;
    if ((++tried & 255) === 0) pulse();
    const both = [...members[a], ...members[b]];
    const border = near[a].get(b)!;
    const most = CORNERED * o.bend * border[0];
    if (o.islands > 0 && left <= o.islands && border[1] > most) continue;
    if (fore.spread(both, o.spread) > o.spread) continue;
    fore.keep(both);
    const [keep, gone] = members[a].length >= members[b].length ? [a, b] : [b, a];
    members[keep] = both;
    members[gone] = undefined;
    area[keep] += area[gone];
    version[keep]++;
    version[gone]++;
    left--;
    near[keep].delete(gone);
    for (const [c, [l, turned]] of near[gone]) {
      near[c].delete(gone);
      if (c === keep) continue;
      const had = near[keep].get(c);
      const sum: [number, number] = had ? [had[0] + l, had[1] + turned] : [l, turned];
      near[keep].set(c, sum);
      near[c].set(keep, sum);
    }
    for (const c of near[keep].keys()) offer(keep, c);
  }
  const label = new Int32Array(count);
  let n = 0;
  for (const list of members) {
    if (!list) continue;
    for (const c of list) label[c] = n;
    n++;
  }
  return { cells, label, count: left };
}

/** Of each cell the area of all that hangs together with it. */
function wholeAreas({ count, start, to, facts }: Cells): Float64Array {
  const out = new Float64Array(count);
  const seen = new Uint8Array(count);
  for (let i = 0; i < count; i++) {
    if (seen[i]) continue;
    const list = [i];
    seen[i] = 1;
    let sum = 0;
    for (let q = 0; q < list.length; q++) {
      sum += facts.area[list[q]];
      for (let k = start[list[q]]; k < start[list[q] + 1]; k++)
        if (!seen[to[k]]) {
          seen[to[k]] = 1;
          list.push(to[k]);
        }
    }
    for (const c of list) out[c] = sum;
  }
  return out;
}
