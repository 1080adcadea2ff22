/** Measures between points of space: distance, angle, the circle through three. */

type P3 = readonly [number, number, number];

export const distance = (a: P3, b: P3): number => Math.hypot(a[0] - b[0], a[1] - b[1], a[2] - b[2]);

/** The angle at `corner` between the ways to a and b, radians; 0 where one of them is the corner. */
export function angleAt(a: P3, corner: P3, b: P3): number {
  const u = [0, 1, 2].map((k) => a[k] - corner[k]);
  const v = [0, 1, 2].map((k) => b[k] - corner[k]);
  const cross = Math.hypot(u[1] * v[2] - u[2] * v[1], u[2] * v[0] - u[0] * v[2], u[0] * v[1] - u[1] * v[0]);
  return Math.atan2(cross, u[0] * v[0] + u[1] * v[1] + u[2] * v[2]);
}

export interface SpaceCircle {
  centre: [number, number, number];
  radius: number;
  normal: [number, number, number];
}

/** The circle through three points of space. Undefined where they lie on one line. */
export function circleThrough(a: P3, b: P3, c: P3): SpaceCircle | undefined {
  const u = [0, 1, 2].map((k) => b[k] - a[k]);
  const v = [0, 1, 2].map((k) => c[k] - a[k]);
  const n = [u[1] * v[2] - u[2] * v[1], u[2] * v[0] - u[0] * v[2], u[0] * v[1] - u[1] * v[0]];
  const nn = n[0] ** 2 + n[1] ** 2 + n[2] ** 2;
  const uu = u[0] ** 2 + u[1] ** 2 + u[2] ** 2;
  const vv = v[0] ** 2 + v[1] ** 2 + v[2] ** 2;
  if (!(nn > 1e-24 * Math.max(uu, vv) ** 2)) return undefined;
  // (|u|² v − |v|² u) × n, turned by half over |n|²: from a to the middle.
  const w = [0, 1, 2].map((k) => uu * v[k] - vv * u[k]);
  const to = [
    (w[1] * n[2] - w[2] * n[1]) / (2 * nn),
    (w[2] * n[0] - w[0] * n[2]) / (2 * nn),
    (w[0] * n[1] - w[1] * n[0]) / (2 * nn),
  ];
  const l = Math.sqrt(nn);
  return {
    centre: [a[0] + to[0], a[1] + to[1], a[2] + to[2]],
    radius: Math.hypot(...to),
    normal: [n[0] / l, n[1] / l, n[2] / l],
  };
}
