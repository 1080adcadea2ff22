/**
 * The corner where three and more bevels meet: a patch within their rows. Each corner of it has a part of its own, half
 * as wide as the rows are long; with an even count these meet in a middle vertex, with an odd one round a middle face.
 */
import { along, apart, between, dot, mean, minus, size, unit, type Vector } from '../../math/vector';

export interface Patch {
  /** Places of the inner vertices. */
  readonly inner: readonly Vector[];
  /** Faces: each vertex as [row, place on it], or [−1, number of an inner vertex]. */
  readonly faces: readonly (readonly (readonly [number, number])[])[];
}

function middleOf(rows: readonly (readonly Vector[])[]) {
  const n = rows[0].length - 1;
  const corners = rows.map((r) => r[0]);
  const middles = rows.map((r) => (n % 2 === 0 ? r[n / 2] : between(r[(n - 1) / 2], r[(n + 1) / 2], 0.5)));
  const flat = mean(corners);
  // On a ball's eighth the middle is 0.77 times as far above the middles of its sides as these are above its corners.
  const centre = along(mean(middles), minus(mean(middles), flat), 0.77);
  return { corners, middles, flat, centre };
}

/** Wedges from every part of the rows to one vertex in the middle of them. */
export function wedgesOf(rows: readonly (readonly Vector[])[]): Patch {
  const n = rows[0].length - 1;
  const faces = rows.flatMap((_, i) =>
    Array.from({ length: n }, (_x, k) => [
      [i, k] as const,
      k + 1 < n ? ([i, k + 1] as const) : ([(i + 1) % rows.length, 0] as const),
      [-1, 0] as const,
    ]),
  );
  return { inner: [middleOf(rows).centre], faces };
}

/** `rows`: each from one corner to the next, counter-clockwise, all of the same count. */
export function patchOf(rows: readonly (readonly Vector[])[]): Patch {
  const m = rows.length;
  const n = rows[0].length - 1;
  if (n === 1) return { inner: [], faces: [rows.map((_, i) => [i, 0] as const)] };
  const { corners, middles, flat, centre } = middleOf(rows);
  const up = unit(minus(centre, flat));
  const spokes = rows.map((r, i) => {
    const out = unit(minus(middles[i], between(r[0], r[n], 0.5)));
    const turn = Math.acos(Math.max(-1, Math.min(1, dot(out, up))));
    const bulge = size(out) > 0 && size(up) > 0 ? (apart(middles[i], centre) * Math.tan(Math.min(1, turn / 2))) / 2 : 0;
    const lean = unit([out[0] + up[0], out[1] + up[1], out[2] + up[2]]);
    const control = along(between(middles[i], centre, 0.5), lean, bulge);
    return (t: number): Vector => between(between(middles[i], control, t), between(control, centre, t), t);
  });
  const h = Math.floor(n / 2);
  const even = n % 2 === 0;
  const inner: Vector[] = [];
  const known = new Map<string, readonly [number, number]>();
  const point = (i: number, a: number, b: number): readonly [number, number] => {
    if (b === 0) return a === n ? [(i + 1) % m, 0] : [i, a];
    if (a === 0) return [(i + m - 1) % m, n - b];
    if (even && a === h && b === h) [i, a, b] = [0, h, h];
    else if (even && b === h) [i, a, b] = [(i + m - 1) % m, h, a];
    const name = `${i} ${a} ${b}`;
    const had = known.get(name);
    if (had) return had;
    const [u, v] = [(2 * a) / n, (2 * b) / n];
    const before = (i + m - 1) % m;
    const [bottom, left, right, top] = [rows[i][a], rows[before][n - b], spokes[i](v), spokes[before](u)];
    const at = [0, 1, 2].map(
      (k) =>
        (1 - v) * bottom[k] +
        v * top[k] +
        (1 - u) * left[k] +
        u * right[k] -
        (1 - u) * (1 - v) * corners[i][k] -
        u * (1 - v) * middles[i][k] -
        (1 - u) * v * middles[before][k] -
        u * v * centre[k],
    ) as Vector;
    const out = [-1, inner.length] as const;
    inner.push(at);
    known.set(name, out);
    return out;
  };
  const faces: (readonly (readonly [number, number])[])[] = [];
  for (let i = 0; i < m; i++)
    for (let a = 0; a < h; a++)
      for (let b = 0; b < h; b++)
        faces.push([point(i, a, b), point(i, a + 1, b), point(i, a + 1, b + 1), point(i, a, b + 1)]);
  if (!even) {
    for (let i = 0; i < m; i++) {
      const j = (i + 1) % m;
      for (let b = 0; b < h; b++) faces.push([point(i, h, b), point(j, b, h), point(j, b + 1, h), point(i, h, b + 1)]);
    }
    faces.push(Array.from({ length: m }, (_, i) => point(i, h, h)));
  }
  return { inner, faces };
}
