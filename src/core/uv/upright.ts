/**
 * Places on the sheet are kept in single precision. A triangle far thinner than that can tell (1 to 10,000,000) may
 * turn over when its corners are rounded; here one of them is moved by a few last places, so that none does.
 */
import { cos, sin } from '../math/exact';
import { EVERY, pulse } from '../math/pulse';

const { hypot, max } = Math;

/** Rounds are few: a corner moved seldom turns another triangle. */
const PASSES = 4;
/** How far beyond the opposite side a corner is tried, in last places of single precision. */
const STEPS = [1, 2, 4, 8, 16, 64];
/** Ways in which a corner is tried where that does not help. */
const WAYS = 16;
/** Against the width of the sheet: what lies farther over is no matter of rounding, but folded. */
const FAR = 1e-5;

/**
 * Rounds `uv` (2 per vertex) to single precision, and turns back what lies on its face for it. `points` are the places
 * on the surface, 3 per vertex. Returns how many triangles still lie on their face.
 */
export function uprightInSingle(points: Float64Array, triangles: Uint32Array, uv: Float64Array): number {
  let most = 0;
  for (let i = 0; i < uv.length; i++) {
    uv[i] = Math.fround(uv[i]);
    most = max(most, Math.abs(uv[i]));
  }
  const turned = (t: number): number => {
    const [a, b, c] = [2 * triangles[t], 2 * triangles[t + 1], 2 * triangles[t + 2]];
    return (uv[b] - uv[a]) * (uv[c + 1] - uv[a + 1]) - (uv[b + 1] - uv[a + 1]) * (uv[c] - uv[a]);
  };
  const bad: number[] = [];
  for (let t = 0; t < triangles.length; t += 3) {
    if ((t & EVERY) === 0) pulse();
    if (!(turned(t) > 0) && hasArea(points, triangles, t)) bad.push(t);
  }
  if (bad.length === 0) return 0;
  const round = new Map<number, number[]>();
  for (const t of bad) for (let q = 0; q < 3; q++) round.set(triangles[t + q], []);
  for (let t = 0; t < triangles.length; t += 3) for (let q = 0; q < 3; q++) round.get(triangles[t + q])?.push(t);
  const last = 2 ** -24 * max(most, 2 ** -10);

  /** A place for one of its corners where it lies right, and all round that corner stays as it is. */
  const righted = (t: number): boolean => {
    for (let q = 0; q < 3; q++) {
      const v = triangles[t + q];
      const [a, b] = [2 * triangles[t + ((q + 1) % 3)], 2 * triangles[t + ((q + 2) % 3)]];
      const [ex, ey] = [uv[b] - uv[a], uv[b + 1] - uv[a + 1]];
      const long = hypot(ex, ey);
      if (!(long > 0)) continue;
      const [x, y] = [uv[2 * v], uv[2 * v + 1]];
      const under = -turned(t) / long;
      if (under > FAR * most) continue;
      const around = round.get(v)!.filter((s) => s === t || turned(s) > 0);
      for (const step of STEPS) {
        const by = under + step * last;
        uv[2 * v] = Math.fround(x - (ey / long) * by);
        uv[2 * v + 1] = Math.fround(y + (ex / long) * by);
        if (around.every((s) => turned(s) > 0)) return true;
      }
      uv[2 * v] = x;
      uv[2 * v + 1] = y;
    }
    return false;
  };
  /** Where several lie on their faces side by side: a place for a corner where fewer do, all about it. */
  const bettered = (t: number): boolean => {
    const wrong = (v: number): number => round.get(v)!.reduce((sum, s) => sum + (turned(s) > 0 ? 0 : 1), 0);
    for (let q = 0; q < 3; q++) {
      const v = triangles[t + q];
      const [x, y] = [uv[2 * v], uv[2 * v + 1]];
      const before = wrong(v);
      for (const step of STEPS)
        for (let k = 0; k < WAYS; k++) {
          const angle = (2 * Math.PI * k) / WAYS;
          uv[2 * v] = Math.fround(x + cos(angle) * 2 * step * last);
          uv[2 * v + 1] = Math.fround(y + sin(angle) * 2 * step * last);
          if (wrong(v) < before) return true;
        }
      uv[2 * v] = x;
      uv[2 * v + 1] = y;
    }
    return false;
  };
  let left = bad;
  for (let pass = 0; pass < PASSES && left.length > 0; pass++)
    left = left.filter((t) => !(turned(t) > 0) && !righted(t) && !(bettered(t) && turned(t) > 0));
  return left.length;
}

/** m²; less is rounding of the places themselves. */
const NO_AREA = 1e-16;

function hasArea(p: Float64Array, triangles: Uint32Array, t: number): boolean {
  const [a, b, c] = [3 * triangles[t], 3 * triangles[t + 1], 3 * triangles[t + 2]];
  const [ex, ey, ez] = [p[b] - p[a], p[b + 1] - p[a + 1], p[b + 2] - p[a + 2]];
  const [fx, fy, fz] = [p[c] - p[a], p[c + 1] - p[a + 1], p[c + 2] - p[a + 2]];
  return hypot(ey * fz - ez * fy, ez * fx - ex * fz, ex * fy - ey * fx) / 2 > NO_AREA;
}
