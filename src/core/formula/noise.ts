/**
 * Noise in three dimensions, the same on every machine: gradients and values by hashes of whole numbers. Gradient noise
 * after Perlin (2002), cellular after Worley (1996). All answer from −1 to 1, but for cells: the distance to the
 * nearest point, in cells.
 */
const { floor, imul, sqrt } = Math;

/** A hash of three whole numbers, 32 bits. */
function hash3(x: number, y: number, z: number, seed: number): number {
  let h = imul(x, 0x27d4eb2d) ^ imul(y, 0x165667b1) ^ imul(z, 0x9e3779b1) ^ imul(seed, 0x85ebca6b);
  h = imul(h ^ (h >>> 15), 0x2c1b3c6d);
  h = imul(h ^ (h >>> 12), 0x297a2d39);
  return (h ^ (h >>> 15)) >>> 0;
}

/** Directions to the middles of a cube's edges, four of them twice. */
const GX = Float64Array.of(1, -1, 1, -1, 1, -1, 1, -1, 0, 0, 0, 0, 1, 0, -1, 0);
const GY = Float64Array.of(1, 1, -1, -1, 0, 0, 0, 0, 1, -1, 1, -1, 1, -1, 1, -1);
const GZ = Float64Array.of(0, 0, 0, 0, 1, 1, -1, -1, 1, 1, -1, -1, 0, 1, 0, -1);
const PX = 0x27d4eb2d;
const PY = 0x165667b1;
const PZ = 0x9e3779b1 | 0;

/** How far a place goes along the direction that a corner of the lattice has; `h`: the corner's products, summed. */
function slope(h: number, x: number, y: number, z: number): number {
  const k = imul(h ^ (h >>> 15), 0x2c1b3c6d) >>> 28;
  return GX[k] * x + GY[k] * y + GZ[k] * z;
}

const fade = (t: number): number => t * t * t * (t * (t * 6 - 15) + 10);
const mix = (a: number, b: number, t: number): number => a + (b - a) * t;

export function gradientNoise(x: number, y: number, z: number, seed = 0): number {
  const i = floor(x);
  const j = floor(y);
  const k = floor(z);
  const u = x - i;
  const v = y - j;
  const w = z - k;
  const a = fade(u);
  const b = fade(v);
  const c = fade(w);
  // Products of each lattice line, of which a corner's are summed: eight corners cost six.
  const x0 = (imul(i, PX) + imul(seed, 0x85ebca6b)) | 0;
  const x1 = (x0 + PX) | 0;
  const y0 = imul(j, PY);
  const y1 = (y0 + PY) | 0;
  const z0 = imul(k, PZ);
  const z1 = (z0 + PZ) | 0;
  const p = mix(slope((x0 + y0 + z0) | 0, u, v, w), slope((x1 + y0 + z0) | 0, u - 1, v, w), a);
  const q = mix(slope((x0 + y1 + z0) | 0, u, v - 1, w), slope((x1 + y1 + z0) | 0, u - 1, v - 1, w), a);
  const r = mix(slope((x0 + y0 + z1) | 0, u, v, w - 1), slope((x1 + y0 + z1) | 0, u - 1, v, w - 1), a);
  const s = mix(slope((x0 + y1 + z1) | 0, u, v - 1, w - 1), slope((x1 + y1 + z1) | 0, u - 1, v - 1, w - 1), a);
  return mix(mix(p, q, b), mix(r, s, b), c);
}

const unit = (h: number): number => h / 2147483648 - 1;

export function valueNoise(x: number, y: number, z: number, seed = 0): number {
  const i = floor(x);
  const j = floor(y);
  const k = floor(z);
  const a = fade(x - i);
  const b = fade(y - j);
  const c = fade(z - k);
  const at = (di: number, dj: number, dk: number) => unit(hash3(i + di, j + dj, k + dk, seed));
  return mix(
    mix(mix(at(0, 0, 0), at(1, 0, 0), a), mix(at(0, 1, 0), at(1, 1, 0), a), b),
    mix(mix(at(0, 0, 1), at(1, 0, 1), a), mix(at(0, 1, 1), at(1, 1, 1), a), b),
    c,
  );
}

/** Distance to the nearest of one point in every cell. */
export function cells(x: number, y: number, z: number, seed = 0): number {
  const i = floor(x);
  const j = floor(y);
  const k = floor(z);
  let best = 9;
  for (let di = -1; di <= 1; di++)
    for (let dj = -1; dj <= 1; dj++)
      for (let dk = -1; dk <= 1; dk++) {
        const h = hash3(i + di, j + dj, k + dk, seed);
        const px = i + di + (h & 1023) / 1024 - x;
        const py = j + dj + ((h >>> 10) & 1023) / 1024 - y;
        const pz = k + dk + ((h >>> 20) & 1023) / 1024 - z;
        const d = px * px + py * py + pz * pz;
        if (d < best) best = d;
      }
  return sqrt(best);
}

/** 0 to 1 by a number and a seed: whole numbers give answers that have nothing to do with each other. */
export function random(x: number, seed = 0): number {
  const high = floor(x / 4294967296);
  const part = floor((x - floor(x)) * 4294967296);
  return hash3(floor(x) | 0, high | 0, part | 0, seed | 0) / 4294967296;
}

/** Octaves one on another, each of double the frequency and half the strength. */
export function layered(
  of: typeof gradientNoise,
  x: number,
  y: number,
  z: number,
  octaves: number,
  seed: number,
): number {
  let sum = 0;
  let strength = 1;
  let size = 1;
  let most = 0;
  for (let i = 0; i < octaves; i++) {
    sum += strength * of(x * size, y * size, z * size, seed + i);
    most += strength;
    strength *= 0.5;
    size *= 2;
  }
  return most > 0 ? sum / most : 0;
}

/** Gradient noise of a row of places, layer on layer: the loop that formulas run, without a call through a value. */
export function gradientRow(
  places: Float64Array,
  count: number,
  layers: number,
  seed: number,
  out: Float64Array,
): void {
  let most = 0;
  for (let l = 0, strength = 1; l < layers; l++, strength *= 0.5) most += strength;
  for (let n = 0; n < count; n++) {
    const x = places[3 * n];
    const y = places[3 * n + 1];
    const z = places[3 * n + 2];
    let sum = 0;
    let strength = 1;
    let size = 1;
    for (let l = 0; l < layers; l++) {
      sum += strength * gradientNoise(x * size, y * size, z * size, seed + l);
      strength *= 0.5;
      size *= 2;
    }
    out[n] = sum / most;
  }
}
