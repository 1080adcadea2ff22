/**
 * A curve through points: straight from one to the next, or smooth (centripetal Catmull–Rom, as cubic Béziers; Yuksel,
 * Schaefer and Keyser 2011).
 */
import type { Triple } from '../math/affine';
import { along, apart, between, minus, type Vector } from '../math/vector';
import { curvesFrom, type Curves } from './curves';

export interface Through {
  smooth: boolean;
  closed: boolean;
}

/** Points that follow on themselves are passed over. Nothing for fewer than two. */
export function curveThrough(points: readonly Triple[], { smooth, closed }: Through, seed: number): Curves {
  const list = points.filter((p, i) => i === 0 || apart(p, points[i - 1]) > 1e-9) as Vector[];
  if (closed && list.length > 2 && apart(list[0], list[list.length - 1]) <= 1e-9) list.pop();
  const n = list.length;
  if (n < 2) return curvesFrom([], seed);
  const round = closed && n > 2;
  const out: Vector[] = [list[0]];
  for (let i = 0; i + 1 < n + (round ? 1 : 0); i++) {
    const a = list[i];
    const b = list[(i + 1) % n];
    if (!smooth) {
      out.push(between(a, b, 1 / 3), between(a, b, 2 / 3), b);
      continue;
    }
    // Beyond an open end stands the mirror image of the point before.
    const before = round ? list[(i + n - 1) % n] : (list[i - 1] ?? along(a, minus(b, a), -1));
    const after = round ? list[(i + 2) % n] : (list[i + 2] ?? along(b, minus(b, a), 1));
    const [d1, d2, d3] = [apart(before, a), apart(a, b), apart(b, after)].map((d) => Math.sqrt(Math.max(d, 1e-12)));
    out.push(handle(before, a, b, d1, d2), handle(after, b, a, d3, d2), b);
  }
  return curvesFrom([{ points: out, closed: round }], seed);
}

/** The handle at b on the way to c, coming from a; distances to the power of one half. */
function handle(a: Vector, b: Vector, c: Vector, d1: number, d2: number): Vector {
  const w = 3 * d1 * (d1 + d2);
  return [0, 1, 2].map(
    (k) => (d1 * d1 * c[k] - d2 * d2 * a[k] + (2 * d1 * d1 + 3 * d1 * d2 + d2 * d2) * b[k]) / w,
  ) as Vector;
}
