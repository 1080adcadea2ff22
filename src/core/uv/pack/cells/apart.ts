/**
 * Islands that lie on each other, moved one by one to where they lie least on others, until none does: guided local
 * search, by which what two share counts the more the longer they share it (Umetani, Yagiura, Imahori, Imamichi, Nonobe,
 * Ibaraki 2009, Solving the irregular strip packing problem via a guided local search for overlap minimization).
 *
 * What others take of the sheet, weighed, is summed up along rows, so that an island is tried in a place by two numbers a
 * run; and its largest rectangle by four, which bars nine of ten places: 20 to 30 islands on 128 cells are moved 3,500
 * times a second, each tried in 16 turns and some 5,000 places. Near by few places are tried on many more cells: there
 * it is asked of each neighbour what the two share, half the time that summing up takes.
 */
import { pulse } from '../../../math/pulse';
import { shared, type Cells } from './cells';

const { max, min } = Math;

/** Where islands lie: of each, which way round, by number, and the cell its lower left is in. */
export interface Lying {
  way: Int32Array;
  x: Int32Array;
  y: Int32Array;
}

export const copied = ({ way, x, y }: Lying): Lying => ({ way: way.slice(), x: x.slice(), y: y.slice() });

export interface Drawing {
  /** Cells of the sheet, along and up. */
  width: number;
  height: number;
  /** Islands are moved by so many cells at most, as they are turned; all over the sheet and turned where left out. */
  reach?: number;
  /** All over the sheet every so many cells are tried, each way. */
  step: number;
  /** What still lies on others is put anywhere, before it is given up. */
  anywhere?: boolean;
  /** Given up after so many rounds without less that is shared, or once so much was looked at. */
  patience: number;
  until: number;
}

/** What is no less than this share of the least so far is not less. */
const LESS = 0.98;
/** What shares most counts more by this factor after a round, what shares little by the lesser one. */
const MOST = 2;
const LITTLE = 1.2;
/** What shares nothing counts less. */
const FORGIVEN = 0.95;
/** Rounds before it is given up in which what lies on others is put anywhere. */
const LAST = 4;
/** Weighed, less than one cell: what is lost to rounding. */
const NOTHING = 0.5;
const DX = [1, -1, 0, 0, 1, 1, -1, -1];
const DY = [0, 0, 1, -1, 1, -1, 1, -1];
/** Near by, so many places are thrown. */
const THROWN = 4;

export class Apart {
  /** Runs and places that were looked at: what it costs, the same on every machine. */
  work = 0;
  private readonly n: number;
  private readonly weights: Float64Array;
  private readonly sharing: Float64Array;
  /** What others take of a window, summed up along each row; and of that the sum from below. */
  private rows = new Float64Array(0);
  private sums = new Float64Array(0);

  constructor(
    /** Of each island, the ways round it may lie. */
    private readonly ways: readonly (readonly Cells[])[],
    private readonly roll: (below: number) => number,
  ) {
    this.n = ways.length;
    this.weights = new Float64Array(this.n ** 2);
    this.sharing = new Float64Array(this.n ** 2);
  }

  /** Whether none shares a cell now; where not, `lying` is what shared least. It is changed. */
  separate(lying: Lying, o: Drawing): { apart: boolean; lying: Lying } {
    const { n, weights, sharing } = this;
    weights.fill(1);
    let least = Infinity;
    let best = lying;
    let since = 0;
    let all = this.shareAll(lying);
    while (all > 0) {
      if (all < LESS * least) {
        least = all;
        best = copied(lying);
        since = 0;
      } else if (++since > o.patience) return { apart: false, lying: best };
      if (this.work > o.until) return { apart: false, lying: best };
      const near = o.reach !== undefined && !(o.anywhere && since > o.patience - LAST);
      for (const i of this.mixed(this.thoseThatShare())) {
        pulse();
        if (near) this.moveNear(i, lying, o);
        else this.moveAnywhere(i, lying, o);
      }
      all = this.shareAll(lying);
      let most = 0;
      for (let k = 0; k < n * n; k++) most = max(most, sharing[k]);
      for (let k = 0; k < n * n; k++)
        weights[k] =
          sharing[k] > 0
            ? weights[k] * (LITTLE + ((MOST - LITTLE) * sharing[k]) / most)
            : max(1, weights[k] * FORGIVEN);
    }
    return { apart: true, lying };
  }

  /** Cells that any two share. */
  private shareAll({ way, x, y }: Lying): number {
    const { n, ways, sharing } = this;
    let all = 0;
    sharing.fill(0);
    for (let i = 0; i < n; i++) {
      const a = ways[i][way[i]];
      for (let j = i + 1; j < n; j++) {
        const b = ways[j][way[j]];
        const [dx, dy] = [x[j] - x[i], y[j] - y[i]];
        if (dx >= a.width || dx + b.width <= 0 || dy >= a.height || dy + b.height <= 0) continue;
        const cells = shared(a, b, dx, dy);
        this.work += min(a.height, dy + b.height) - max(0, dy);
        sharing[i * n + j] = cells;
        sharing[j * n + i] = cells;
        all += cells;
      }
    }
    return all;
  }

  private thoseThatShare(): number[] {
    const { n, sharing } = this;
    const out: number[] = [];
    for (let i = 0; i < n; i++) if (sharing.subarray(i * n, (i + 1) * n).some((cells) => cells > 0)) out.push(i);
    return out;
  }

  private mixed(list: number[]): number[] {
    for (let k = list.length - 1; k > 0; k--) {
      const q = this.roll(k + 1);
      [list[k], list[q]] = [list[q], list[k]];
    }
    return list;
  }

  /** Sums up what all but one take of a window, weighed. */
  private sumUp(i: number, lying: Lying, w: Window, below: boolean): void {
    const { n, ways, weights } = this;
    const { x0, y0, x1, y1 } = w;
    const wide = x1 - x0 + 1;
    const tall = y1 - y0;
    if (this.rows.length < wide * (tall + 1)) {
      this.rows = new Float64Array(2 * wide * (tall + 1));
      this.sums = new Float64Array(2 * wide * (tall + 1));
    }
    const { rows, sums } = this;
    rows.fill(0, 0, wide * tall);
    for (let j = 0; j < n; j++) {
      if (j === i) continue;
      const { width, height, start, runs } = ways[j][lying.way[j]];
      const dx = lying.x[j] - x0;
      const dy = lying.y[j] - y0;
      if (dx >= wide - 1 || dy >= tall || dx + width <= 0 || dy + height <= 0) continue;
      const weight = weights[i * n + j];
      const end = min(height, tall - dy);
      for (let y = max(0, -dy); y < end; y++) {
        const row = (y + dy) * wide;
        for (let k = 2 * start[y]; k < 2 * start[y + 1]; k += 2) {
          const from = max(0, runs[k] + dx);
          const before = min(wide - 1, runs[k + 1] + dx);
          if (from >= before) continue;
          rows[row + from] += weight;
          rows[row + before] -= weight;
        }
      }
      this.work += end;
    }
    if (below) sums.fill(0, 0, wide);
    for (let y = 0; y < tall; y++) {
      let here = 0;
      let sum = 0;
      const row = y * wide;
      for (let x = row; x < row + wide; x++) {
        const change = rows[x];
        rows[x] = sum;
        if (below) sums[x + wide] = sums[x] + sum;
        here += change;
        sum += here;
      }
    }
    this.work += (wide * tall) >> 2;
  }

  /** What an island shares in a place, weighed; infinite from a bound on. `sumUp` comes before. */
  private cost(cells: Cells, x: number, y: number, w: Window, bound: number): number {
    const { rows } = this;
    const { spread } = cells;
    const wide = w.x1 - w.x0 + 1;
    const at = (y - w.y0) * wide + x - w.x0;
    let sum = 0;
    for (let k = 0; k < spread.length; k += 3) {
      const row = at + spread[k] * wide;
      sum += rows[row + spread[k + 2]] - rows[row + spread[k + 1]];
      if (sum < bound) continue;
      this.work += k / 3;
      return Infinity;
    }
    this.work += spread.length / 3;
    return sum;
  }

  /** The same of its largest rectangle alone. */
  private costOfCore({ core }: Cells, x: number, y: number, w: Window): number {
    const { sums } = this;
    const wide = w.x1 - w.x0 + 1;
    const low = (y - w.y0 + core.below) * wide + x - w.x0 + core.left;
    const high = low + core.height * wide;
    return sums[high + core.width] - sums[high] - sums[low + core.width] + sums[low];
  }

  /** From a place on, to where less is shared, by steps that get shorter; into `best` where that is less than it. */
  private descend(from: Place, cells: Cells, w: Window, step: number, costAt: CostAt, best: Place): void {
    let { x, y, cost } = from;
    for (let by = step; by >= 1 && cost > NOTHING;) {
      let moved = false;
      for (let d = 0; d < DX.length && !moved; d++) {
        const nx = x + by * DX[d];
        const ny = y + by * DY[d];
        if (nx < w.x0 || ny < w.y0 || nx > w.x1 - cells.width || ny > w.y1 - cells.height) continue;
        const there = costAt(nx, ny, cost);
        this.work++;
        if (there >= cost) continue;
        [x, y, cost, moved] = [nx, ny, there, true];
      }
      if (!moved) by >>= 1;
    }
    if (cost < best.cost) Object.assign(best, { way: from.way, x, y, cost });
  }

  /** What an island shares with those near by, one after the other: few places of it are tried. */
  private costNear(i: number, lying: Lying, near: readonly number[], x: number, y: number, bound: number): number {
    const { n, ways, weights } = this;
    const cells = ways[i][lying.way[i]];
    let sum = 0;
    for (const j of near) {
      const other = ways[j][lying.way[j]];
      const dx = lying.x[j] - x;
      const dy = lying.y[j] - y;
      if (dx >= cells.width || dx + other.width <= 0 || dy >= cells.height || dy + other.height <= 0) continue;
      this.work += min(cells.height, dy + other.height) - max(0, dy);
      sum += weights[i * n + j] * shared(cells, other, dx, dy);
      if (sum >= bound) return Infinity;
    }
    return sum;
  }

  private moveNear(i: number, lying: Lying, o: Drawing): void {
    const reach = o.reach!;
    const [way, x, y] = [lying.way[i], lying.x[i], lying.y[i]];
    const cells = this.ways[i][way];
    const w: Window = {
      x0: max(0, x - reach),
      y0: max(0, y - reach),
      x1: min(o.width, x + cells.width + reach),
      y1: min(o.height, y + cells.height + reach),
    };
    const near = this.thoseIn(w, i, lying);
    const costAt: CostAt = (px, py, bound) => this.costNear(i, lying, near, px, py, bound);
    const best: Place = { way, x, y, cost: costAt(x, y, Infinity) };
    const step = max(1, reach >> 1);
    this.descend({ ...best }, cells, w, step, costAt, best);
    for (let k = 0; k < THROWN && best.cost > NOTHING; k++) {
      const [px, py] = [
        w.x0 + this.roll(w.x1 - cells.width - w.x0 + 1),
        w.y0 + this.roll(w.y1 - cells.height - w.y0 + 1),
      ];
      const cost = costAt(px, py, 2 * best.cost);
      if (cost < Infinity) this.descend({ way, x: px, y: py, cost }, cells, w, step, costAt, best);
    }
    put(lying, i, best);
  }

  private thoseIn({ x0, y0, x1, y1 }: Window, but: number, { way, x, y }: Lying): number[] {
    const out: number[] = [];
    for (let j = 0; j < this.n; j++) {
      const { width, height } = this.ways[j][way[j]];
      if (j !== but && x[j] < x1 && x[j] + width > x0 && y[j] < y1 && y[j] + height > y0) out.push(j);
    }
    return out;
  }

  private moveAnywhere(i: number, lying: Lying, { width, height, step }: Drawing): void {
    const w: Window = { x0: 0, y0: 0, x1: width, y1: height };
    this.sumUp(i, lying, w, true);
    const [x, y, way] = [lying.x[i], lying.y[i], lying.way[i]];
    const ways = this.ways[i];
    const best: Place = { way, x, y, cost: this.cost(ways[way], x, y, w, Infinity) };
    const begin = this.roll(ways.length);
    for (let k = 0; k < ways.length && best.cost > NOTHING; k++) {
      const turned = (begin + k) % ways.length;
      const cells = ways[turned];
      const [right, top] = [width - cells.width, height - cells.height];
      if (right < 0 || top < 0) continue;
      const costAt: CostAt = (px, py, bound) => this.cost(cells, px, py, w, bound);
      const [ox, oy] = [this.roll(min(step, right + 1)), this.roll(min(step, top + 1))];
      for (let py = oy; py <= top && best.cost > NOTHING; py += step)
        for (let px = ox; px <= right; px += step) {
          // A cell this way or that may make good what is shared beyond the least so far.
          const bound = best.cost + ((step * step) >> 2);
          this.work++;
          if (this.costOfCore(cells, px, py, w) >= bound) continue;
          const cost = this.cost(cells, px, py, w, bound);
          if (cost < Infinity)
            this.descend({ way: turned, x: px, y: py, cost }, cells, w, max(1, step >> 2), costAt, best);
        }
    }
    put(lying, i, best);
  }
}

/** A part of the sheet, in cells. */
interface Window {
  x0: number;
  y0: number;
  x1: number;
  y1: number;
}

/** What is shared in a place; infinite from a bound on. */
type CostAt = (x: number, y: number, bound: number) => number;

interface Place {
  way: number;
  x: number;
  y: number;
  cost: number;
}

function put(lying: Lying, i: number, { way, x, y }: Place): void {
  lying.way[i] = way;
  lying.x[i] = x;
  lying.y[i] = y;
}
