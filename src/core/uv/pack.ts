/**
 * Packing of islands into the unit square: each is laid in its tightest box, then put, largest first, as low as it goes
 * in whichever of its turns ends lowest. The common scale is found by steps on a coarse bitmap of the sheet, then by
 * bisection on a fine one; holes are used, and islands placed by hand are kept clear.
 *
 * The hood of the lamp, 25 islands: 110 ms. Tried: 512 cells and eight turns for few islands as well, 500 ms for half a
 * point of fill; all orders at every scale, three times that; a horizon of columns (Lévy, Petitjean, Ray, Maillot
 * 2002), which uses no holes, 9 points less.
 */
import { Bits, findPlace, freeIn, maskOf, nameOf, rowFull, sameBits, stamp } from './bits';
import { outlineOf, type Outline } from './outline';
import { pulse } from '../math/pulse';

const { abs, hypot, max, min, sqrt } = Math;
export interface PackIsland {
  /** 2 per vertex. */
  points: Float64Array;
  /** 3 vertex indices per triangle. */
  triangles: Uint32Array;
}

export interface PackOptions {
  /** Texels along the side of the sheet. */
  size: number;
  /** Free texels between islands, and half of it to the border. */
  padding: number;
  /** May islands be turned by quarters? */
  turn: boolean;
  /** Scale from island units to the unit square; 0 for the largest that fits. */
  scale: number;
  /** Never larger than this in the search for the largest. */
  maxScale?: number;
  /** Places already taken, in the unit square. */
  taken?: readonly PackIsland[];
}

export interface Packed {
  scale: number;
  /** False where the wanted scale does not fit; then the places are those of the largest that does. */
  fits: boolean;
  /** New points of every island, in the unit square. */
  placed: Float64Array[];
}

const HEAVY = 60_000;
const FEW = 100;
/** The largest scale that fits is found to within less than a hundredth. */
const HALVINGS = 5;
const BETTER = 1.02;
/** So many large islands lose little to coarser cells; small ones do. */
const MEDIUM = 60;

export function pack(islands: readonly PackIsland[], options: PackOptions): Packed {
  if (islands.length === 0) return { scale: options.scale || 1, fits: true, placed: [] };
  const boxed = islands.map(tightest);
  let area = 0;
  let widest = 0;
  for (const b of boxed) {
    pulse();
    area += b.area;
    widest = max(widest, b.width, b.height);
  }
  if (!(widest > 0)) return { scale: 1, fits: true, placed: boxed.map((b) => b.points) };
  const order = boxed
    .map((_, i) => i)
    .sort((a, b) => max(boxed[b].width, boxed[b].height) - max(boxed[a].width, boxed[a].height) || a - b);
  let sides = 0;
  for (const { outline: o } of boxed) sides += (o.rim?.length ?? 0) / 2 + (o.triangles?.length ?? 0) / 3;
  // Of many sides each try takes long: fewer turns, and fewer cells.
  const heavy = sides > HEAVY;
  const fine = min(options.size, heavy || boxed.length <= MEDIUM ? 256 : 512);
  const coarse = min(fine, boxed.length > 400 ? 128 : 64);
  // Few islands are worth several tries: the tallest first, the largest first, the widest for its height last.
  const sums = boxed.map((b) => b.width + b.height);
  const orders =
    boxed.length > FEW || heavy
      ? [order]
      : [
          order,
          [...order].sort((a, b) => boxed[b].area - boxed[a].area || a - b),
          [...order].sort((a, b) => sums[b] - sums[a] || a - b),
        ];
  let turns = heavy || boxed.length > 150 ? 4 : 8;
  if (boxed.length > 600) turns = 2;
  const attempt = (scale: number, cells: number, own = order) =>
    place(boxed, own, scale, cells, options, cells === coarse ? min(4, turns) : turns);
  if (options.scale > 0) {
    const placed = attempt(options.scale, fine);
    if (placed) return { scale: options.scale, fits: true, placed };
  }
  let hi = min(1 / widest, sqrt(1 / area)) * 1.02;
  let lo = 0;
  if (options.maxScale) hi = min(hi, options.maxScale);
  if (options.scale > 0) hi = min(hi, options.scale);
  if (options.maxScale && hi === options.maxScale) {
    const placed = attempt(hi, fine);
    if (placed) return { scale: hi, fits: options.scale <= 0, placed };
  }
  const highest = hi;
  // The first guesses fall by steps, for the top of the range is never reached; then bisection, all on the coarse grid.
  for (let s = hi * 0.86, least = hi * 1e-4; s > least; s *= 0.86) {
    if (attempt(s, coarse)) {
      lo = s;
      break;
    }
    hi = s;
  }
  for (let i = 0; i < 4 && lo > 0; i++) {
    const mid = (lo + hi) / 2;
    if (attempt(mid, coarse)) lo = mid;
    else hi = mid;
  }
  // The fine grid wastes less: somewhat more than the coarse result fits.
  const from = lo || highest * 1e-3;
  let best: { scale: number; placed: Float64Array[] } | undefined;
  let [below, above] = [from * 0.97, min(highest * 1.0001, from * 1.22)];
  for (let i = 0; i < HALVINGS; i++) {
    const mid = (below + above) / 2;
    const placed = attempt(mid, fine);
    if (placed) {
      best = { scale: mid, placed };
      below = mid;
    } else above = mid;
  }
  for (let s = from * 0.985; !best && s > highest * 1e-5; s *= 0.93) {
    const placed = attempt(s, fine);
    if (placed) best = { scale: s, placed };
  }
  // Other orders have to do better than that by something to speak of.
  for (const own of orders.slice(1))
    for (let placed: Float64Array[] | undefined, k = 0; best && k < 3; k++) {
      const more: number = min(highest, best.scale * BETTER);
      placed = more > best.scale ? attempt(more, fine, own) : undefined;
      if (!placed) break;
      best = { scale: more, placed };
    }
  if (best) return { scale: best.scale, fits: options.scale <= 0, placed: best.placed };
  return { scale: 0, fits: false, placed: boxed.map((b) => b.points.map(() => 0)) };
}

interface Boxed {
  points: Float64Array;
  outline: Outline;
  width: number;
  height: number;
  area: number;
  /** Looks the same after a half turn. */
  even: boolean;
}

/**
 * Turned so that its box is smallest (rotating calipers: one side of the smallest box lies on the hull), lower left at
 * the origin.
 */
function tightest(island: PackIsland): Boxed {
  const hull = convexHull(island.points);
  let best = Infinity;
  let cos = 1;
  let sin = 0;
  for (let i = 0; i < hull.length; i += 2) {
    const j = (i + 2) % hull.length;
    let dx = hull[j] - hull[i];
    let dy = hull[j + 1] - hull[i + 1];
    const l = hypot(dx, dy);
    if (l === 0) continue;
    dx /= l;
    dy /= l;
    let u0 = Infinity;
    let u1 = -Infinity;
    let v0 = Infinity;
    let v1 = -Infinity;
    for (let k = 0; k < hull.length; k += 2) {
      const u = hull[k] * dx + hull[k + 1] * dy;
      const v = hull[k + 1] * dx - hull[k] * dy;
      if (u < u0) u0 = u;
      if (u > u1) u1 = u;
      if (v < v0) v0 = v;
      if (v > v1) v1 = v;
    }
    const a = (u1 - u0) * (v1 - v0);
    if (a < best * (1 - 1e-9)) {
      best = a;
      cos = dx;
      sin = dy;
    }
  }
  const n = island.points.length;
  const points = new Float64Array(n);
  let x0 = Infinity;
  let y0 = Infinity;
  let x1 = -Infinity;
  let y1 = -Infinity;
  for (let i = 0; i < n; i += 2) {
    const x = island.points[i] * cos + island.points[i + 1] * sin;
    const y = island.points[i + 1] * cos - island.points[i] * sin;
    points[i] = x;
    points[i + 1] = y;
    x0 = min(x0, x);
    x1 = max(x1, x);
    y0 = min(y0, y);
    y1 = max(y1, y);
  }
  let area = 0;
  for (let i = 0; i < n; i += 2) {
    points[i] -= x0;
    points[i + 1] -= y0;
  }
  const t = island.triangles;
  for (let i = 0; i < t.length; i += 3) {
    const a = 2 * t[i];
    const b = 2 * t[i + 1];
    const c = 2 * t[i + 2];
    area +=
      abs(
        (points[b] - points[a]) * (points[c + 1] - points[a + 1]) -
          (points[b + 1] - points[a + 1]) * (points[c] - points[a]),
      ) / 2;
  }
  const outline = outlineOf(points, t);
  return { points, outline, width: x1 - x0, height: y1 - y0, area, even: looksEven(points, x1 - x0, y1 - y0) };
}

function looksEven(p: Float64Array, w: number, h: number): boolean {
  if (p.length > 400) return false;
  const near = max(w, h) * 1e-3;
  for (let i = 0; i < p.length; i += 2) {
    let found = false;
    for (let j = 0; j < p.length && !found; j += 2)
      found = abs(w - p[i] - p[j]) < near && abs(h - p[i + 1] - p[j + 1]) < near;
    if (!found) return false;
  }
  return true;
}

/** Andrew's monotone chain. */
function convexHull(p: Float64Array): number[] {
  const order = Array.from({ length: p.length / 2 }, (_, i) => 2 * i).sort(
    (a, b) => p[a] - p[b] || p[a + 1] - p[b + 1],
  );
  const hull: number[] = [];
  const half = (list: number[]) => {
    const base = hull.length;
    for (const i of list) {
      while (hull.length - base >= 4) {
        const n = hull.length;
        const cross =
          (hull[n - 2] - hull[n - 4]) * (p[i + 1] - hull[n - 3]) - (hull[n - 1] - hull[n - 3]) * (p[i] - hull[n - 4]);
        if (cross > 0) break;
        hull.length -= 2;
      }
      hull.push(p[i], p[i + 1]);
    }
    hull.length -= 2;
  };
  half(order);
  half(order.reverse());
  return hull;
}

/** Turns that are tried, as cosine and sine: quarters of the tightest box, then what lies between. */
const DIAGONAL = Math.SQRT1_2;
const TURNS: readonly (readonly [number, number])[] = [
  [1, 0],
  [0, 1],
  [-1, 0],
  [0, -1],
  [DIAGONAL, DIAGONAL],
  [-DIAGONAL, DIAGONAL],
  [-DIAGONAL, -DIAGONAL],
  [DIAGONAL, -DIAGONAL],
];

/** Places in one of the turns, scaled. */
function turnedBy(given: Float64Array, turn: number, scale: number): Float64Array {
  const [c, s] = TURNS[turn];
  const out = new Float64Array(given.length);
  for (let k = 0; k < given.length; k += 2) {
    out[k] = (given[k] * c - given[k + 1] * s) * scale;
    out[k + 1] = (given[k] * s + given[k + 1] * c) * scale;
  }
  return out;
}

interface Turned {
  points: Float64Array;
  width: number;
  height: number;
  /** Where its lower left was before it was brought to the origin. */
  x: number;
  y: number;
}

/** The outline of an island in one of its turns, scaled, lower left at the origin. */
function turned(b: Boxed, turn: number, scale: number): Turned {
  const points = turnedBy(b.outline.points, turn, scale);
  const n = points.length;
  let [x0, y0, x1, y1] = [Infinity, Infinity, -Infinity, -Infinity];
  for (let k = 0; k < n; k += 2) {
    const [x, y] = [points[k], points[k + 1]];
    if (x < x0) x0 = x;
    if (x > x1) x1 = x;
    if (y < y0) y0 = y;
    if (y > y1) y1 = y;
  }
  for (let k = 0; k < n; k += 2) {
    points[k] -= x0;
    points[k + 1] -= y0;
  }
  return { points, width: x1 - x0, height: y1 - y0, x: x0, y: y0 };
}

/** The mask's or outline's first cell stands half a padding outside the island's box. */
function shifted(points: Float64Array, x: number, y: number, pad: number, cells: number, t: Turned): Float64Array {
  const dx = (x + pad / 2) / cells - t.x;
  const dy = (y + pad / 2) / cells - t.y;
  for (let k = 0; k < points.length; k += 2) {
    points[k] += dx;
    points[k + 1] += dy;
  }
  return points;
}

function place(
  boxed: Boxed[],
  order: number[],
  scale: number,
  cells: number,
  o: PackOptions,
  turns: number,
): Float64Array[] | undefined {
  const pad = (o.padding / o.size) * cells; // in cells
  const sheet = new Bits(cells, cells);
  for (const taken of o.taken ?? []) {
    const { bits, x, y } = maskOf(taken, cells, pad / 2, true);
    stamp(sheet, bits, x, y);
  }
  const placed = new Array<Float64Array>(boxed.length);
  const runs = Int32Array.from({ length: cells }, (_, y) => sheet.run(y, 0));
  let free = 0;
  for (let y = 0; y < cells; y++) free += freeIn(sheet, y);
  // What is still to come takes no less than its area.
  let wanted = 0;
  for (const b of boxed) wanted += b.area * (scale * cells) ** 2;
  const tried = new Map<string, number>();
  let lowest = 0; // the first row with a free cell
  for (const i of order) {
    pulse();
    const b = boxed[i];
    if (wanted > free) return undefined;
    let best: { top: number; x: number; y: number; bits: Bits; turn: number; turned: Turned } | undefined;
    const seen: Bits[] = [];
    for (let turn = 0; turn < (o.turn ? turns : 1); turn++) {
      // Half turns of what looks alike both ways are none.
      if (b.even && (turn === 2 || turn === 3 || turn > 5)) continue;
      const t = turned(b, turn, scale);
      if (t.width * cells + pad > cells + 1e-9 || t.height * cells + pad > cells + 1e-9) continue;
      const { bits } = maskOf({ ...b.outline, points: t.points }, cells, pad / 2, false);
      if (bits.width > cells || bits.height > cells) continue;
      if (seen.some((other) => sameBits(other, bits))) continue;
      seen.push(bits);
      // Below where one of its very shape went, or found nothing, there is nothing for this either.
      const shape = nameOf(bits);
      const last = best ? best.top - bits.height : cells - bits.height;
      const at = findPlace(sheet, bits, max(lowest, tried.get(shape) ?? 0), last, runs);
      tried.set(shape, max(at ? at.y : last + 1, tried.get(shape) ?? 0));
      if (at && (!best || at.y + bits.height < best.top))
        best = { top: at.y + bits.height, x: at.x, y: at.y, bits, turn, turned: t };
    }
    if (!best) return undefined;
    for (let y = best.y; y < best.y + best.bits.height; y++) free -= freeIn(sheet, y);
    stamp(sheet, best.bits, best.x, best.y);
    for (let y = best.y; y < best.y + best.bits.height; y++) {
      free += freeIn(sheet, y);
      runs[y] = sheet.run(y, 0);
    }
    wanted -= b.area * (scale * cells) ** 2;
    placed[i] = shifted(turnedBy(b.points, best.turn, scale), best.x, best.y, pad, cells, best.turned);
    while (lowest < cells && rowFull(sheet, lowest)) lowest++;
  }
  return placed;
}

/** Does any of these islands, as it lies, come nearer than the padding to one of those? On a grid of 512 cells. */
export function tooNear(
  islands: readonly PackIsland[],
  taken: readonly PackIsland[],
  size: number,
  padding: number,
): boolean {
  const cells = min(size, 512);
  const grow = ((padding / size) * cells) / 2;
  const sheet = new Bits(cells, cells);
  for (const t of taken) {
    const { bits, x, y } = maskOf(t, cells, grow, true);
    stamp(sheet, bits, x, y);
  }
  for (const i of islands) {
    const { bits, x, y } = maskOf(i, cells, grow, true);
    for (let r = 0; r < bits.height; r++)
      for (let c = 0; c < bits.width; c++) {
        const xx = x + c;
        const yy = y + r;
        if (
          (bits.data[r * bits.words + (c >> 5)] >>> (c & 31)) & 1 &&
          xx >= 0 &&
          yy >= 0 &&
          xx < cells &&
          yy < cells &&
          (sheet.data[yy * sheet.words + (xx >> 5)] >>> (xx & 31)) & 1
        )
          return true;
      }
  }
  return false;
}
