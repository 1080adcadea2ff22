/**
 * Faces in natural coordinates (`places.ts`): the frame of one, and where something lies in it, as shares of its
 * corners, so that what its corners have (places on the sheet, places in space) can be had there too.
 */
import type { Mesh } from './mesh';

/** Numbers of a corner: its place (4). */
const SIZE = 4;
const QUAD: readonly number[] = [0, 4, 8, 12];
const { sqrt, max, min } = Math;

/** The square of how far two places are apart. */
export function apart(p: ArrayLike<number>, a: number, q: ArrayLike<number>, b: number): number {
  let sum = 0;
  for (let k = 0; k < 4; k++) sum += (p[a + k] - q[b + k]) ** 2;
  return sum;
}

/** Places of a face's corners, 4 each. */
export function ringOf(mesh: Mesh, f: number): Float64Array {
  const { at } = mesh.places;
  const s = mesh.faceStart[f];
  const n = mesh.faceStart[f + 1] - s;
  const out = new Float64Array(4 * n);
  for (let i = 0; i < n; i++) for (let k = 0; k < 4; k++) out[4 * i + k] = at[4 * mesh.cornerVertex[s + i] + k];
  return out;
}

/**
 * Writes a face's middle and its two half directions: of a quad from its sides, of others from how its corners spread.
 */
export function ringFrame(ring: Float64Array, out: Float64Array): void {
  const n = ring.length / 4;
  out.fill(0, 0, 12);
  for (let i = 0; i < n; i++) for (let k = 0; k < 4; k++) out[k] += ring[4 * i + k] / n;
  if (n === 3 || n === 4) {
    const [a, b, c, d] = n === 4 ? QUAD : triangleAsQuad(ring);
    for (let k = 0; k < 4; k++) {
      out[k] = (ring[a + k] + ring[b + k] + ring[c + k] + ring[d + k]) / 4;
      out[4 + k] = (ring[b + k] + ring[c + k] - ring[a + k] - ring[d + k]) / 4;
      out[8 + k] = (ring[c + k] + ring[d + k] - ring[a + k] - ring[b + k]) / 4;
    }
    return;
  }
  // The corner farthest from the middle, and the one that stands most aside of it.
  let far = -1;
  let best = -1;
  const d = new Float64Array(4);
  const along = (i: number) => {
    for (let k = 0; k < 4; k++) d[k] = ring[4 * i + k] - out[k];
    return d;
  };
  for (let i = 0; i < n; i++) {
    const l = along(i).reduce((sum, x) => sum + x * x, 0);
    if (l > best * (1 + 1e-6)) {
      best = l;
      far = i;
    }
  }
  out.set(along(far), 4);
  let aside = -1;
  for (let i = 0; i < n; i++) {
    along(i);
    let dot = 0;
    for (let k = 0; k < 4; k++) dot += d[k] * out[4 + k];
    for (let k = 0; k < 4; k++) d[k] -= best > 0 ? (dot / best) * out[4 + k] : 0;
    const l = d.reduce((sum, x) => sum + x * x, 0);
    if (l > aside * (1 + 1e-6)) {
      aside = l;
      out.set(d, 8);
    }
  }
  // Its own way round, as a quad's: so that both kinds tell which way the face looks.
  if (n >= 3 && looks(ring, out) < 0) for (let k = 8; k < 12; k++) out[k] = -out[k];
}

/**
 * A triangle as a quad whose far side has no length: its base is its shortest edge, as at the poles of what is round.
 */
function triangleAsQuad(ring: Float64Array): readonly number[] {
  let base = 0;
  let shortest = Infinity;
  for (let i = 0; i < 3; i++) {
    const l = apart(ring, 4 * i, ring, 4 * ((i + 1) % 3));
    if (l < shortest - 1e-9) {
      shortest = l;
      base = i;
    }
  }
  const tip = 4 * ((base + 2) % 3);
  return [4 * base, 4 * ((base + 1) % 3), tip, tip];
}

/** Positive where the frame's own normal goes with the normal of the ring of corners. */
function looks(ring: Float64Array, frame: Float64Array): number {
  const n = ring.length / 4;
  const sum = [0, 0, 0];
  for (let i = 0; i < n; i++) {
    const a = 4 * i;
    const b = 4 * ((i + 1) % n);
    for (let k = 0; k < 3; k++) {
      const [p, q] = [(k + 1) % 3, (k + 2) % 3];
      sum[k] += ring[a + p] * ring[b + q] - ring[a + q] * ring[b + p];
    }
  }
  const own = cross(frame);
  return sum[0] * own[0] + sum[1] * own[1] + sum[2] * own[2];
}

/** The normal of a frame, by the first three numbers of its directions. */
export const cross = (f: ArrayLike<number>): [number, number, number] => [
  f[5] * f[10] - f[6] * f[9],
  f[6] * f[8] - f[4] * f[10],
  f[4] * f[9] - f[5] * f[8],
];

export interface InRing {
  /** Of the place from the fan; 0 where it lies in it. */
  distance: number;
  /** One per corner, together 1; below 0 or over 1 where it lies outside. */
  shares: Float64Array;
}

/**
 * A face taken as a fan of triangles round its middle: straight along its edges, so what neighbours say on a common
 * edge is the same. `ring`: 4 per corner. `near`: a place a little farther in, which says which triangle of the fan is
 * meant. Undefined for a ring that has no width.
 */
export function sharesIn(
  ring: ArrayLike<number>,
  at: ArrayLike<number>,
  near: ArrayLike<number> = at,
): InRing | undefined {
  const n = ring.length / SIZE;
  const middle = [0, 0, 0, 0];
  for (let i = 0; i < n; i++) for (let k = 0; k < SIZE; k++) middle[k] += ring[SIZE * i + k] / n;
  let best: { i: number; s: number; t: number; distance: number } | undefined;
  for (let i = 0; i < n; i++) {
    const a = SIZE * i;
    const b = SIZE * ((i + 1) % n);
    let uu = 0;
    let vv = 0;
    let uv = 0;
    for (let k = 0; k < SIZE; k++) {
      const u = ring[a + k] - middle[k];
      const v = ring[b + k] - middle[k];
      uu += u * u;
      vv += v * v;
      uv += u * v;
    }
    const det = uu * vv - uv * uv;
    if (det <= 1e-12 * uu * vv || det === 0) continue;
    const solve = (p: ArrayLike<number>): [number, number] => {
      let du = 0;
      let dv = 0;
      for (let k = 0; k < SIZE; k++) {
        du += (p[k] - middle[k]) * (ring[a + k] - middle[k]);
        dv += (p[k] - middle[k]) * (ring[b + k] - middle[k]);
      }
      return [(du * vv - dv * uv) / det, (dv * uu - du * uv) / det];
    };
    // The nearest point of the triangle: its shares, brought to between 0 and 1.
    const [s, t] = solve(near);
    const cs = min(1, max(0, s));
    const ct = min(1, max(0, t));
    const over = max(1, cs + ct);
    let off = 0;
    for (let k = 0; k < SIZE; k++) {
      const u = ring[a + k] - middle[k];
      const v = ring[b + k] - middle[k];
      off += (near[k] - middle[k] - (cs / over) * u - (ct / over) * v) ** 2;
    }
    const distance = sqrt(off);
    if (best && distance >= best.distance - 1e-9) continue;
    const [x, y] = solve(at);
    best = { i, s: x, t: y, distance };
  }
  if (!best) return undefined;
  const shares = new Float64Array(n).fill((1 - best.s - best.t) / n);
  shares[best.i] += best.s;
  shares[(best.i + 1) % n] += best.t;
  return { distance: best.distance, shares };
}
