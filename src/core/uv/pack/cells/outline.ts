/**
 * What an island takes of the sheet: its rim, which is far less than its triangles; where it is folded, or of no area,
 * its triangles after all.
 */

const { max, min } = Math;
export interface Outline {
  /** 2 per vertex. */
  points: Float64Array;
  /** Sides of the rim, vertex to vertex, the island on their left; undefined where the triangles are needed. */
  rim?: Uint32Array;
  /** 3 vertices per triangle; undefined where the rim says all. */
  triangles?: Uint32Array;
  /** Some triangles have no area: at the rim it may go out along one and come back. */
  thin?: boolean;
}

/**
 * Triangles that all lie the same way round are told by the sides that no two of them share. What has no area takes
 * nothing; scans are full of it.
 */
export function outlineOf(points: Float64Array, triangles: Uint32Array): Outline {
  const whole: Outline = { points, triangles };
  let up = 0;
  let down = 0;
  const open = new Map<number, number>();
  const n = points.length / 2;
  for (let t = 0; t < triangles.length; t += 3) {
    const [a, b, c] = [2 * triangles[t], 2 * triangles[t + 1], 2 * triangles[t + 2]];
    const area =
      (points[b] - points[a]) * (points[c + 1] - points[a + 1]) -
      (points[b + 1] - points[a + 1]) * (points[c] - points[a]);
    if (area > 0) up++;
    else if (area < 0) down++;
    else if (area !== 0) return whole;
    if (up > 0 && down > 0) return whole;
    for (let q = 0; q < 3; q++) {
      const [v, w] = [triangles[t + q], triangles[t + ((q + 1) % 3)]];
      const back = w * n + v;
      const had = open.get(back);
      if (had === undefined) open.set(v * n + w, (open.get(v * n + w) ?? 0) + 1);
      else if (had === 1) open.delete(back);
      else open.set(back, had - 1);
    }
  }
  if (up + down === 0) return whole;
  // Only the vertices of the rim are kept.
  const index = new Map<number, number>();
  const rim: number[] = [];
  const at = (v: number): number => {
    let k = index.get(v);
    if (k === undefined) index.set(v, (k = index.size));
    return k;
  };
  for (const [key, times] of open) for (let i = 0; i < times; i++) rim.push(at(Math.floor(key / n)), at(key % n));
  const own = new Float64Array(2 * index.size);
  for (const [v, k] of index) {
    own[2 * k] = points[2 * v];
    own[2 * k + 1] = points[2 * v + 1];
  }
  return { points: own, rim: Uint32Array.from(rim), thin: 3 * (up + down) < triangles.length };
}

/** What points lie in, two numbers each: its lower left, and how large it is. */
export interface Box {
  x: number;
  y: number;
  width: number;
  height: number;
}

export function boxOf(points: Float64Array): Box {
  let [x0, y0, x1, y1] = [Infinity, Infinity, -Infinity, -Infinity];
  for (let i = 0; i < points.length; i += 2) {
    x0 = min(x0, points[i]);
    x1 = max(x1, points[i]);
    y0 = min(y0, points[i + 1]);
    y1 = max(y1, points[i + 1]);
  }
  return { x: x0, y: y0, width: x1 - x0, height: y1 - y0 };
}
