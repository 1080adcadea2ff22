/** Circles and ellipses through a few clicked points, by least squares. */
import type { Point } from './blueprint';

export interface FittedCircle {
  u: number;
  v: number;
  radius: number;
  /** Root mean square distance of the points from it. */ off: number;
}
export interface FittedEllipse {
  u: number;
  v: number;
  a: number;
  b: number;
  turn: number;
  off: number;
}

/**
 * The circle through three or more points: Kåsa's algebraic fit for a start, then Gauss–Newton on the true distances.
 * Undefined where the points are too few or lie on one line.
 */
export function fitCircle(points: readonly Point[]): FittedCircle | undefined {
  if (points.length < 3) return undefined;
  const mu = points.reduce((s, p) => s + p[0], 0) / points.length;
  const mv = points.reduce((s, p) => s + p[1], 0) / points.length;
  const size = Math.max(...points.map((p) => Math.hypot(p[0] - mu, p[1] - mv)));
  if (!(size > 0)) return undefined;
  const local = points.map(([u, v]): Point => [(u - mu) / size, (v - mv) / size]);
  const start = solve(
    local.map(([u, v]) => [u, v, 1]),
    local.map(([u, v]) => u * u + v * v),
  );
  if (!start) return undefined;
  let u = start[0] / 2;
  let v = start[1] / 2;
  let r = Math.sqrt(start[2] + u * u + v * v);
  for (let i = 0; i < 12; i++) {
    const rows: number[][] = [];
    const off: number[] = [];
    for (const p of local) {
      const d = Math.hypot(p[0] - u, p[1] - v);
      if (d < 1e-12) continue;
      rows.push([(u - p[0]) / d, (v - p[1]) / d, -1]);
      off.push(r - d);
    }
    const step = solve(rows, off);
    if (!step) break;
    u += step[0];
    v += step[1];
    r += step[2];
    if (Math.hypot(...step) < 1e-13) break;
  }
  if (!(r > 0) || r > 1e4) return undefined; // as good as a straight line
  const off = Math.sqrt(local.reduce((s, p) => s + (Math.hypot(p[0] - u, p[1] - v) - r) ** 2, 0) / local.length);
  return { u: mu + u * size, v: mv + v * size, radius: r * size, off: off * size };
}

/**
 * The ellipse through five points, or through three or four with axes along u and v (four: a general middle; three need
 * the circle). The conic A u² + B uv + C v² + D u + E v = 1 is fitted by least squares. Undefined where it is no
 * ellipse.
 */
export function fitEllipse(points: readonly Point[]): FittedEllipse | undefined {
  if (points.length < 4) {
    const c = fitCircle(points);
    return c && { u: c.u, v: c.v, a: c.radius, b: c.radius, turn: 0, off: c.off };
  }
  const mu = points.reduce((s, p) => s + p[0], 0) / points.length;
  const mv = points.reduce((s, p) => s + p[1], 0) / points.length;
  const size = Math.max(...points.map((p) => Math.hypot(p[0] - mu, p[1] - mv)));
  if (!(size > 0)) return undefined;
  const local = points.map(([u, v]): Point => [(u - mu) / size, (v - mv) / size]);
  const tilted = points.length >= 5;
  const k = solve(
    local.map(([u, v]) => (tilted ? [u * u, u * v, v * v, u, v] : [u * u, v * v, u, v])),
    local.map(() => 1),
  );
  if (!k) return undefined;
  const [A, B, C, D, E] = tilted ? k : [k[0], 0, k[1], k[2], k[3]];
  const det = 4 * A * C - B * B;
  if (!(det > 1e-9)) return undefined;
  const u0 = (B * E - 2 * C * D) / det;
  const v0 = (B * D - 2 * A * E) / det;
  const f = 1 + A * u0 * u0 + B * u0 * v0 + C * v0 * v0;
  const turn = Math.abs(B) < 1e-12 && A <= C ? 0 : 0.5 * Math.atan2(B, A - C);
  const c = Math.cos(turn);
  const s = Math.sin(turn);
  const along = A * c * c + B * c * s + C * s * s;
  const across = A * s * s - B * c * s + C * c * c;
  if (!(f / along > 0) || !(f / across > 0)) return undefined;
  let a = Math.sqrt(f / along);
  let b = Math.sqrt(f / across);
  let t = turn;
  if (b > a && tilted) {
    [a, b] = [b, a];
    t += Math.PI / 2;
  }
  t -= Math.PI * Math.round(t / Math.PI);
  const off =
    Math.sqrt(
      local.reduce(
        (sum, [u, v]) =>
          sum +
          (Math.sqrt(Math.max(0, (A * (u - u0) ** 2 + B * (u - u0) * (v - v0) + C * (v - v0) ** 2) / f)) - 1) ** 2,
        0,
      ) / local.length,
    ) * Math.min(a, b);
  return { u: mu + u0 * size, v: mv + v0 * size, a: a * size, b: b * size, turn: t, off: off * size };
}

/** Least squares by the normal equations, Gauss elimination with pivoting. Undefined where they are singular. */
function solve(rows: readonly (readonly number[])[], right: readonly number[]): number[] | undefined {
  const n = rows[0]?.length ?? 0;
  if (n === 0 || rows.length < n) return undefined;
  const m = Array.from({ length: n }, (_, i) =>
    Array.from({ length: n + 1 }, (_, j) => rows.reduce((s, r, k) => s + r[i] * (j < n ? r[j] : right[k]), 0)),
  );
  for (let i = 0; i < n; i++) {
    let best = i;
    for (let r = i + 1; r < n; r++) if (Math.abs(m[r][i]) > Math.abs(m[best][i])) best = r;
    if (Math.abs(m[best][i]) < 1e-12) return undefined;
    [m[i], m[best]] = [m[best], m[i]];
    for (let r = 0; r < n; r++) {
      if (r === i) continue;
      const k = m[r][i] / m[i][i];
      for (let c = i; c <= n; c++) m[r][c] -= k * m[i][c];
    }
  }
  return m.map((row, i) => row[n] / row[i]);
}
