/** The curve across a bevel: from one side to the other, drawn towards the edge that was. */
import { apart, between, minus, dot, unit, type Vector } from '../../math/vector';

/**
 * `count` + 1 points from a to b. `shape`: 0 straight, 0.5 an arc of a circle (exactly, where a and b are as far from
 * `corner`), 1 through `corner`. A rational quadratic (Piegl and Tiller, 7.3).
 */
export function profile(a: Vector, corner: Vector, b: Vector, count: number, shape: number): Vector[] {
  const cos = dot(unit(minus(a, corner)), unit(minus(b, corner)));
  const half = Math.sqrt(Math.max(0, (1 - cos) / 2));
  const out: Vector[] = [];
  for (let i = 0; i <= count; i++) {
    const t = i / count;
    if (i === 0 || i === count || apart(a, b) === 0) {
      out.push(i === count ? [...b] : [...a]);
      continue;
    }
    if (shape >= 0.999) {
      out.push(t <= 0.5 ? between(a, corner, 2 * t) : between(corner, b, 2 * t - 1));
      continue;
    }
    const w = (half * shape) / (1 - shape);
    const [x, y, z] = [(1 - t) ** 2, 2 * w * t * (1 - t), t * t];
    const sum = x + y + z;
    out.push([0, 1, 2].map((k) => (x * a[k] + y * corner[k] + z * b[k]) / sum) as Vector);
  }
  return out;
}
