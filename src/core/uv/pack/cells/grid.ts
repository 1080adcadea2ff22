/** The sheet in cells of one size, and islands laid on it at one scale after the other. */
import { Bits, maskOf, stamp } from './bits';
import type { PackIsland } from './boxes';
import { fillStrip, Masks, seatedStrip, Strip, type Boxed, type Filled, type Like } from './strip';

const { ceil, floor, max, min, round, sqrt } = Math;

/** Of the options of packing. */
export interface GridOptions {
  /** Texels along the side of the sheet. */
  size: number;
  /** Free texels between islands. */
  padding: number;
  turn: boolean;
  whole?: boolean;
  tall?: number;
  taken?: readonly PackIsland[];
}

/** Rows of the strip, in sheets: what is taller is a scale far off. */
const TALL = 1.6;

export interface Way {
  order: readonly number[];
  /** The one turn to be tried for each, −1 for all. */
  forced?: Int8Array;
}

export interface Fit {
  masks: Masks;
  filled: Filled;
}

/** What is laid on finer cells is looked for within so many of the coarser ones. */
const NEAR = 3;
/** So many scales are tried for that, the first so much larger. */
const SEATED = 6;
const LARGER = 1.02;
/** Scales as close as that are as good as one. */
export const CLOSE = 1.004;

/** Masks of so many scales are at hand: of what fits, and of what is tried on from there. */
const KEPT = 2;

/** The sheet in so many cells. */
export class Grid {
  private readonly strip: Strip;
  /** Of the last scales, the newest first. */
  private known: Masks[] = [];
  readonly rows: number;
  /** Rows of the sheet. */
  readonly most: number;
  /** Cells between islands. */
  private readonly pad: number;

  constructor(
    private readonly boxed: readonly Boxed[],
    readonly cells: number,
    private readonly o: GridOptions,
    private readonly turns: number,
  ) {
    this.most = max(1, floor((o.tall ?? 1) * cells + 1e-9));
    this.rows = round(TALL * this.most);
    const pad = (o.padding / o.size) * cells;
    // Half of it stands on each side: whole cells there, where islands are to stand on whole ones.
    this.pad = o.whole ? 2 * ceil(pad / 2 - 1e-9) : pad;
    const taken = o.taken?.length ? new Bits(cells, this.rows) : undefined;
    for (const t of o.taken ?? []) {
      const { bits, x, y } = maskOf(t, cells, this.pad / 2, true, 2 * max(cells, this.rows));
      stamp(taken!, bits, x, y);
    }
    this.strip = new Strip(cells, this.rows, taken);
  }

  turnsOf(island: number): number {
    return min(this.turns, this.boxed[island].turns);
  }

  masks(scale: number): Masks {
    let found = this.known.find((m) => m.scale === scale);
    if (!found) {
      const turns = this.o.turn ? this.turns : 1;
      found = new Masks(this.boxed, scale, this.cells, this.pad, turns, this.rows, this.o.whole);
      this.known = [found, ...this.known.slice(0, KEPT - 1)];
    }
    return found;
  }

  /** `like`: what was laid at this scale before. */
  at(scale: number, way: Way, rows: number, like?: Like & { masks: Masks }): Fit | undefined {
    const masks = like?.masks ?? this.masks(scale);
    const filled = fillStrip(masks, way.order, rows, this.strip, way.forced, like);
    return filled && { masks, filled };
  }

  /**
   * What lies on coarser cells, each island near its spot there: on these it needs less room, for what a cell is only
   * touched by counts as all of it. The largest scale that was found to fit.
   */
  seated(from: Grid, { masks, filled }: Fit, most: number): Fit | undefined {
    const { order } = filled;
    const near = ceil((NEAR * this.cells) / from.cells);
    let best: Fit | undefined;
    let above = Infinity;
    let [spots, cells, own] = [filled.spots, from.cells, masks.scale];
    let scale = min(most, masks.scale * sqrt(from.most / filled.top) * LARGER);
    for (let k = 0; k < SEATED; k++) {
      const grown = (this.cells / cells) * (scale / own);
      const begin = spots.map(({ mask, x, y }) => ({ mask, x: round(x * grown), y: round(y * grown) }));
      const finer = this.masks(scale);
      const found = seatedStrip(finer, { spots: begin, order }, this.rows, this.strip, near);
      const fits = found !== undefined && found.top <= this.most;
      if (fits) {
        best = { masks: finer, filled: found };
        [spots, cells, own] = [found.spots, this.cells, scale];
        if (scale >= most) break;
      } else above = scale;
      const below = best?.masks.scale ?? masks.scale;
      if (above / below < CLOSE) break;
      const by = found ? sqrt(this.most / found.top) : 0.985;
      let next = min(most, scale * (fits ? max(by, CLOSE) : min(by, 1 / CLOSE)));
      if (next <= below || next >= above) next = (below + above) / 2;
      scale = next;
    }
    return best;
  }
}

/**
 * The largest scale that was found to fit, from a guess on; each try tells how far off it was. `next`: what would be
 * tried next; `near`: the best, or what came last.
 */
export function fitting(
  grid: Grid,
  way: Way,
  start: number,
  most: number,
  tries: number,
): { best: Fit | undefined; near: Fit | undefined; next: number } {
  let best: Fit | undefined;
  let near: Fit | undefined;
  let below = 0;
  let above = Infinity;
  let scale = start;
  for (let k = 0; k < tries; k++) {
    const found = grid.at(scale, way, grid.rows);
    const fits = found !== undefined && found.filled.top <= grid.most;
    near = found ?? near;
    const by = found ? sqrt(grid.most / found.filled.top) : 0.8;
    if (fits) {
      best = found;
      below = scale;
      if (scale >= most) break;
    } else above = scale;
    if (above / below < CLOSE) break;
    let next = min(most, scale * (fits ? max(by, CLOSE) : min(by, 1 / CLOSE)));
    if (next <= below || next >= above) next = (below + above) / 2;
    scale = next;
  }
  return { best, near: best ?? near, next: scale };
}

/** Where no guess fits: whether anything would, and then how much, by halves of the powers between. */
export function smaller(grid: Grid, way: Way, start: number, most: number): Fit | undefined {
  let [below, above] = [most * 1e-5, start];
  let best = grid.at(below, way, grid.most);
  for (let k = 0; best && k < 9; k++) {
    const scale = sqrt(below * above);
    const found = grid.at(scale, way, grid.most);
    if (found) [best, below] = [found, scale];
    else above = scale;
  }
  return best;
}
