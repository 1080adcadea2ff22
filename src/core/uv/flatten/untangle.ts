/**
 * Places that were followed may fold a face over: cells of another count lie in old ones at another phase. Here single
 * vertices are moved towards the middle of those around them until nothing lies on its face, as little as will do.
 */
import { EVERY, pulse } from '../../math/pulse';

const SWEEPS = 24;
/** Of the area that it should have a triangle has more than this; and of its longest side, against rounding. */
const LEAST = 1e-4;
const ROUNDING = 3e-7;
/** Shares of the way to the middle of the vertices around, the shortest first. */
const WAYS = [0.1, 0.25, 0.5, 0.75, 1];

/**
 * Moves places of `uv` (2 per vertex) that may be moved. Triangles without area on the surface (`points`, 3 per vertex)
 * are passed over. Returns those that lie on their face in the end. `turned`: 1 for triangles that are to lie the other
 * way round than the others.
 */
export function untangle(
  points: Float64Array,
  triangles: Uint32Array,
  uv: Float64Array,
  movable: Uint8Array,
  turned?: Uint8Array,
): number[] {
  const count = triangles.length / 3;
  const real = new Uint8Array(count);
  const way = (t: number): number => (turned?.[t] ? -1 : 1);
  let sides = 0;
  let [surface, sheet] = [0, 0];
  const floor = new Float64Array(count);
  for (let t = 0; t < count; t++) {
    if ((t & EVERY) === 0) pulse();
    const size = onSurface(points, triangles, 3 * t);
    real[t] = size > 1e-14 ? 1 : 0;
    if (!real[t]) continue;
    const now = way(t) * twice(triangles, 3 * t, uv);
    sides += size * Math.sign(now);
    surface += 2 * size;
    sheet += Math.abs(now);
    floor[t] = size;
  }
  for (let t = 0; t < count; t++)
    floor[t] = Math.max((LEAST * 2 * floor[t] * sheet) / surface, ROUNDING * longest(triangles, 3 * t, uv));
  // An island may lie mirrored as a whole.
  const sign = sides < 0 ? -1 : 1;
  const area = (t: number): number => sign * way(t) * twice(triangles, 3 * t, uv) - floor[t];
  let bad: number[] = [];
  for (let t = 0; t < count; t++) if (real[t] && !(area(t) > 0)) bad.push(t);
  if (bad.length === 0) return bad;
  const round = trianglesAround(triangles, uv.length / 2);
  const around = (v: number): Uint32Array => round.list.subarray(round.start[v], round.start[v + 1]);
  const least = (v: number): number => {
    let min = Infinity;
    for (const t of around(v)) if (real[t]) min = Math.min(min, area(t));
    return min;
  };

  /** Moves a vertex so that the worst around it is better; says whether it did. */
  const bettered = (v: number): boolean => {
    const [x, y] = [uv[2 * v], uv[2 * v + 1]];
    let [mx, my, n] = [0, 0, 0];
    for (const t of around(v))
      for (let q = 0; q < 3; q++) {
        const w = triangles[3 * t + q];
        if (w === v) continue;
        mx += uv[2 * w];
        my += uv[2 * w + 1];
        n++;
      }
    const before = least(v);
    let best = before;
    let at: [number, number] | undefined;
    for (const share of WAYS) {
      uv[2 * v] = x + share * (mx / n - x);
      uv[2 * v + 1] = y + share * (my / n - y);
      const now = least(v);
      if (now <= best) continue;
      best = now;
      at = [uv[2 * v], uv[2 * v + 1]];
      if (now > 0) break;
    }
    [uv[2 * v], uv[2 * v + 1]] = at ?? [x, y];
    return at !== undefined;
  };
  for (let sweep = 0; sweep < SWEEPS && bad.length > 0; sweep++) {
    pulse();
    let moved = false;
    const near = new Set(bad.flatMap((t) => [0, 1, 2].map((q) => triangles[3 * t + q])));
    // Where the corners alone do not give way, those around them have to as well.
    if (sweep % 4 === 3)
      for (const v of [...near]) for (const t of around(v)) for (let q = 0; q < 3; q++) near.add(triangles[3 * t + q]);
    for (const v of near) if (movable[v] && bettered(v)) moved = true;
    const touched = new Set([...near].flatMap((v) => [...around(v)]));
    bad = [...touched].filter((t) => real[t] && !(area(t) > 0));
    if (!moved && sweep % 4 === 3) break;
  }
  return bad;
}

const twice = (tri: Uint32Array, o: number, uv: Float64Array): number => {
  const [a, b, c] = [2 * tri[o], 2 * tri[o + 1], 2 * tri[o + 2]];
  return (uv[b] - uv[a]) * (uv[c + 1] - uv[a + 1]) - (uv[b + 1] - uv[a + 1]) * (uv[c] - uv[a]);
};

function longest(tri: Uint32Array, o: number, uv: Float64Array): number {
  let most = 0;
  for (let q = 0; q < 3; q++) {
    const [a, b] = [2 * tri[o + q], 2 * tri[o + ((q + 1) % 3)]];
    most = Math.max(most, Math.hypot(uv[a] - uv[b], uv[a + 1] - uv[b + 1]));
  }
  return most;
}

function onSurface(p: Float64Array, tri: Uint32Array, o: number): number {
  const [a, b, c] = [3 * tri[o], 3 * tri[o + 1], 3 * tri[o + 2]];
  const [ex, ey, ez] = [p[b] - p[a], p[b + 1] - p[a + 1], p[b + 2] - p[a + 2]];
  const [fx, fy, fz] = [p[c] - p[a], p[c + 1] - p[a + 1], p[c + 2] - p[a + 2]];
  return Math.hypot(ey * fz - ez * fy, ez * fx - ex * fz, ex * fy - ey * fx) / 2;
}

function trianglesAround(triangles: Uint32Array, vertices: number): { start: Uint32Array; list: Uint32Array } {
  const start = new Uint32Array(vertices + 1);
  for (const v of triangles) start[v + 1]++;
  for (let v = 0; v < vertices; v++) start[v + 1] += start[v];
  const list = new Uint32Array(triangles.length);
  const at = start.slice();
  for (let i = 0; i < triangles.length; i++) list[at[triangles[i]]++] = i / 3;
  return { start, list };
}
