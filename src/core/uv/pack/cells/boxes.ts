/** Islands in their tightest boxes, as they are packed. */
import { outlineOf } from './outline';
import type { Boxed } from './strip';

const { abs, hypot, max, min } = Math;

export interface PackIsland {
  /** 2 per vertex. */
  points: Float64Array;
  /** 3 vertex indices per triangle. */
  triangles: Uint32Array;
  /** It may not be turned. */
  upright?: boolean;
  /** It may be turned by quarters alone, as it lies. */
  level?: boolean;
  /** In its tightest box, where that is known. */
  boxed?: Boxed;
}

/** Share of its tightest box that an island fills which is laid upright only. */
const BOXY = 0.72;
/**
 * The smallest box round some points: which way one of its sides runs, and how large it is. One side of it lies on the
 * hull (rotating calipers).
 */
export function leastBox(points: Float64Array): { cos: number; sin: number; width: number; height: number } {
  let out = { cos: 1, sin: 0, width: 0, height: 0 };
  if (points.length === 0) return out;
  const hull = convexHull(points);
  let best = Infinity;
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
      out = { cos: dx, sin: dy, width: u1 - u0, height: v1 - v0 };
    }
  }
  return out;
}

/**
 * Turned so that its box is smallest (rotating calipers: one side of the smallest box lies on the hull), lower left at
 * the origin.
 */
export function tightest(island: PackIsland): Boxed {
  const upright = island.upright === true;
  const asItLies = upright || island.level === true;
  const { cos, sin } = asItLies ? { cos: 1, sin: 0 } : leastBox(island.points);
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
  const [width, height] = [x1 - x0, y1 - y0];
  // What fills its box reads best upright, and is not laid slanting for half a point of the sheet.
  const most = area > BOXY * width * height || island.level ? 4 : 16;
  const turns = upright ? 1 : most;
  return { points, outline, width, height, area, turns, even: looksEven(points, width, height) };
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
