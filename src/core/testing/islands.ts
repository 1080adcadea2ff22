/** Islands to be laid out, and what is measured on them with nothing drawn in cells. */
import type { PackIsland } from '../uv/pack/cells/boxes';

const { cos, hypot, max, min, PI, sin } = Math;
type Roll = (most: number) => number;

export const rectangle = (w: number, h: number): PackIsland => ({
  points: Float64Array.from([0, 0, w, 0, w, h, 0, h]),
  triangles: Uint32Array.from([0, 1, 2, 0, 2, 3]),
});

/** A star of some corners round a middle. */
export function star(roll: Roll): PackIsland {
  const n = 3 + roll(8);
  const points = [0, 0];
  for (let i = 0; i < n; i++) {
    const r = 0.2 + roll(100) / 100;
    points.push(r * cos((2 * PI * i) / n), r * sin((2 * PI * i) / n));
  }
  const triangles = Array.from({ length: n }, (_, i) => [0, 1 + i, 1 + ((i + 1) % n)]).flat();
  return { points: Float64Array.from(points), triangles: Uint32Array.from(triangles) };
}

/** A square with a square hole. */
export function frame(wide: number, hole: number): PackIsland {
  const square = (from: number, to: number): number[] => [from, from, to, from, to, to, from, to];
  const points = [...square(0, wide), ...square((wide - hole) / 2, (wide + hole) / 2)];
  const triangles = [0, 1, 2, 3].flatMap((i) => [i, (i + 1) % 4, 4 + i, (i + 1) % 4, 4 + ((i + 1) % 4), 4 + i]);
  return { points: Float64Array.from(points), triangles: Uint32Array.from(triangles) };
}

/** As some squares side by side and one on top of the first or another: L and T. */
export function hook(long: number, at: number): PackIsland {
  const squares = Array.from({ length: long }, (_, i): [number, number] => [i, 0]);
  squares.push([at, 1]);
  const points = squares.flatMap(([x, y]) => [x, y, x + 1, y, x + 1, y + 1, x, y + 1]);
  const triangles = squares.flatMap((_, i) => [0, 1, 2, 0, 2, 3].map((k) => 4 * i + k));
  return { points: Float64Array.from(points), triangles: Uint32Array.from(triangles) };
}

/** Sides of triangles, as two points each. */
function sidesOf({ points: p, triangles: t }: PackIsland): number[][] {
  const out: number[][] = [];
  for (let k = 0; k < t.length; k += 3)
    for (let q = 0; q < 3; q++) {
      const [a, b] = [2 * t[k + q], 2 * t[k + ((q + 1) % 3)]];
      out.push([p[a], p[a + 1], p[b], p[b + 1]]);
    }
  return out;
}

function toSide(x: number, y: number, [ax, ay, bx, by]: number[]): number {
  const [dx, dy] = [bx - ax, by - ay];
  const l = dx * dx + dy * dy;
  const s = l > 0 ? max(0, min(1, ((x - ax) * dx + (y - ay) * dy) / l)) : 0;
  return hypot(x - ax - s * dx, y - ay - s * dy);
}

const turn = (ax: number, ay: number, bx: number, by: number, cx: number, cy: number): number =>
  (bx - ax) * (cy - ay) - (by - ay) * (cx - ax);

function crossing(a: number[], b: number[]): boolean {
  const [ax, ay, bx, by] = a;
  const [cx, cy, dx, dy] = b;
  return (
    turn(ax, ay, bx, by, cx, cy) * turn(ax, ay, bx, by, dx, dy) < 0 &&
    turn(cx, cy, dx, dy, ax, ay) * turn(cx, cy, dx, dy, bx, by) < 0
  );
}

/** Whether a point lies in one of its triangles. */
function holds({ points: p, triangles: t }: PackIsland, x: number, y: number): boolean {
  for (let k = 0; k < t.length; k += 3) {
    const [a, b, c] = [2 * t[k], 2 * t[k + 1], 2 * t[k + 2]];
    const [u, v, w] = [
      turn(p[a], p[a + 1], p[b], p[b + 1], x, y),
      turn(p[b], p[b + 1], p[c], p[c + 1], x, y),
      turn(p[c], p[c + 1], p[a], p[a + 1], x, y),
    ];
    if ((u > 0 && v > 0 && w > 0) || (u < 0 && v < 0 && w < 0)) return true;
  }
  return false;
}

/** How far apart two islands are; 0 where one lies on the other. Side by side, each against each. */
export function distance(a: PackIsland, b: PackIsland): number {
  const [sidesA, sidesB] = [sidesOf(a), sidesOf(b)];
  if (sidesB.some(([x, y]) => holds(a, x, y)) || sidesA.some(([x, y]) => holds(b, x, y))) return 0;
  let least = Infinity;
  for (const s of sidesA)
    for (const t of sidesB) {
      if (crossing(s, t)) return 0;
      least = min(least, toSide(s[0], s[1], t), toSide(s[2], s[3], t), toSide(t[0], t[1], s), toSide(t[2], t[3], s));
    }
  return least;
}
