/** The frame of a face as its spot has it (`spots.ts`): what lies in it, and which way it looks. */
const { abs, hypot, sqrt } = Math;

/** Edges count as running the same way within about 35°. */
export const SAME_WAY = 0.82;
/** Faces count as looking the same way within about 45°. */
const SAME_SIDE = 0.7;

/** Where a place lies in a face's frame, in halves of its width and height, and how far off its plane. */
export function within(
  frame: ArrayLike<number>,
  o: number,
  place: readonly number[],
): { s: number; t: number; off: number } {
  let uu = 0;
  let vv = 0;
  let uv = 0;
  let du = 0;
  let dv = 0;
  for (let k = 0; k < 4; k++) {
    const u = frame[o + 4 + k];
    const v = frame[o + 8 + k];
    const d = place[k] - frame[o + k];
    uu += u * u;
    vv += v * v;
    uv += u * v;
    du += d * u;
    dv += d * v;
  }
  const det = uu * vv - uv * uv;
  if (det <= 1e-12 * uu * vv || det === 0) {
    const s = uu > 0 ? du / uu : 0;
    let off = 0;
    for (let k = 0; k < 4; k++) off += (place[k] - frame[o + k] - s * frame[o + 4 + k]) ** 2;
    return { s, t: 0, off: sqrt(off) };
  }
  const s = (du * vv - dv * uv) / det;
  const t = (dv * uu - du * uv) / det;
  let off = 0;
  for (let k = 0; k < 4; k++) off += (place[k] - frame[o + k] - s * frame[o + 4 + k] - t * frame[o + 8 + k]) ** 2;
  return { s, t, off: sqrt(off) };
}

/** How wide a face is where the surface is, without what it is drawn out by. */
export const breadth = (f: ArrayLike<number>, o: number): number =>
  hypot(f[o + 4], f[o + 5], f[o + 6]) + hypot(f[o + 8], f[o + 9], f[o + 10]);

/** Drawn straight out of an edge: it has no way to look in these coordinates. */
export const isWall = (f: ArrayLike<number>, o: number): boolean => normalSquared(f, o) < WALL;

/** Square of the length of a normal below which there is none. */
const WALL = 1e-14;

/** Asked of every face near a spot, for every spot: without arrays, 7 times as fast. */
function normalSquared(f: ArrayLike<number>, o: number): number {
  const x = f[o + 5] * f[o + 10] - f[o + 6] * f[o + 9];
  const y = f[o + 6] * f[o + 8] - f[o + 4] * f[o + 10];
  const z = f[o + 4] * f[o + 9] - f[o + 5] * f[o + 8];
  return x * x + y * y + z * z;
}

/**
 * The way a wall goes along its foot, so that what looks up goes one way round and what looks down the other: which of
 * its directions that is, and with which sign.
 */
function footOf(f: ArrayLike<number>, o: number): [number, number] {
  if (abs(f[o + 7]) <= abs(f[o + 11])) return [o + 4, f[o + 11] < 0 ? -1 : 1];
  return [o + 8, f[o + 7] < 0 ? 1 : -1];
}

/** How far two walls go the same way along their feet: 1 for wholly, below 0 where they look apart. */
export function feet(a: ArrayLike<number>, o: number, b: ArrayLike<number>, p: number): number {
  const [i, x] = footOf(a, o);
  const [j, y] = footOf(b, p);
  const dot = a[i] * b[j] + a[i + 1] * b[j + 1] + a[i + 2] * b[j + 2];
  return (x * y * dot) / (hypot(a[i], a[i + 1], a[i + 2]) * hypot(b[j], b[j + 1], b[j + 2]) || 1);
}

/**
 * Whether faces look the same way; of walls, which have no way to look in these coordinates, whether they stand on the
 * same line.
 */
export function sameSide(a: ArrayLike<number>, o: number, b: ArrayLike<number>, p: number): boolean {
  const l = normalSquared(a, o);
  const m = normalSquared(b, p);
  if (l < WALL !== m < WALL) return false;
  if (l < WALL) return abs(feet(a, o, b, p)) >= SAME_WAY;
  const x =
    (a[o + 5] * a[o + 10] - a[o + 6] * a[o + 9]) * (b[p + 5] * b[p + 10] - b[p + 6] * b[p + 9]) +
    (a[o + 6] * a[o + 8] - a[o + 4] * a[o + 10]) * (b[p + 6] * b[p + 8] - b[p + 4] * b[p + 10]) +
    (a[o + 4] * a[o + 9] - a[o + 5] * a[o + 8]) * (b[p + 4] * b[p + 9] - b[p + 5] * b[p + 8]);
  return x >= SAME_SIDE * sqrt(l * m);
}

/** Whether a direction goes up the order of places. */
export function forward(f: ArrayLike<number>, o: number): boolean {
  for (let k = 0; k < 4; k++) if (abs(f[o + k]) > 1e-6) return f[o + k] > 0;
  return true;
}
