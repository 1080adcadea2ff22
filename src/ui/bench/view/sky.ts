/**
 * A soft sky for reflections, made here: light from above, a sun and a window, dark ground; and the same as surfaces of
 * some roughness see it, on the faces of a cube.
 *
 * Worked out beside the graphics card: 20 to 50 ms the first time. What the library makes of a scene has 256 texels a
 * side and as many samples for each, which without a graphics card took 6 s of standing still.
 */
import * as THREE from 'three';

const { cos, floor, hypot, max, min, PI, sin, sqrt } = Math;

/** Texels along a face of the sharpest level; each further one has half of it, and the last 8 as in the library. */
const SIZE = 32;
const LEVELS = 3;
/** A slight roughness is a narrow cone: so many looks into it tell what it sees. */
const LOOKS = 16;
/** From this roughness on all of what is in front counts. */
const ROUGH = 0.6;
/** Towards all sides, in faces of so many directions a side: what a rough surface gathers its light from. */
const AROUND = 8;

const unit = (x: number, y: number, z: number): number[] => [x, y, z].map((v) => v / hypot(x, y, z));
const [SX, SY, SZ] = unit(0.5, 0.75, 0.45);
const [WX, WY, WZ] = unit(-0.8, 0.3, 0.3);

/** What comes from a direction of length one: red, green and blue, in `out` from `at` on. */
export type Radiance = (x: number, y: number, z: number, out: Float64Array, at: number) => void;

const sky: Radiance = (x, y, z, out, at) => {
  const up = min(1, max(0, (y * 0.5 + 0.5 - 0.2) / 0.75));
  const share = up * up * (3 - 2 * up);
  const sun2 = max(0, x * SX + y * SY + z * SZ) ** 2;
  const window2 = max(0, x * WX + y * WY + z * WZ) ** 2;
  const sun8 = sun2 * sun2 * sun2 * sun2;
  const lights = 1.6 * sun8 * sun8 * sun8 + 0.5 * window2 * window2 * window2 * window2 * window2;
  out[at] = 0.32 + 0.73 * share + lights;
  out[at + 1] = 0.29 + 0.74 * share + lights;
  out[at + 2] = 0.25 + 0.73 * share + lights;
};

/**
 * Where a face of a cube map looks at a texel, as OpenGL has its faces (ES 3.0, table 3.21); `u` and `v` from −1 to 1,
 * not of length one.
 */
function towards(face: number, u: number, v: number): [number, number, number] {
  switch (face) {
    case 0:
      return [1, -v, -u];
    case 1:
      return [-1, -v, u];
    case 2:
      return [u, 1, v];
    case 3:
      return [u, -1, -v];
    case 4:
      return [u, -v, 1];
    default:
      return [-u, -v, -1];
  }
}

/** The roughness that a level is for; the library's shaders go from roughness to level the other way. */
export const roughnessOf = (level: number, levels: number): number => 1 - sqrt(1 - level / (levels - 1));

/** Directions all round, what comes from each, and how much of the sphere it stands for. */
function around(radiance: Radiance): { from: Float64Array; light: Float64Array; weight: Float64Array } {
  const n = 6 * AROUND * AROUND;
  const from = new Float64Array(3 * n);
  const light = new Float64Array(3 * n);
  const weight = new Float64Array(n);
  for (let i = 0; i < n; i++) {
    const u = (2 * (i % AROUND) + 1) / AROUND - 1;
    const v = (2 * (floor(i / AROUND) % AROUND) + 1) / AROUND - 1;
    const d = towards(floor(i / AROUND / AROUND), u, v);
    const length = hypot(...d);
    for (let k = 0; k < 3; k++) from[3 * i + k] = d[k] / length;
    radiance(from[3 * i], from[3 * i + 1], from[3 * i + 2], light, 3 * i);
    weight[i] = length ** -3;
  }
  return { from, light, weight };
}

type Around = ReturnType<typeof around>;

/** What a rough surface that faces x, y, z gathers; `a2`: the fourth power of its roughness. */
function gathered(all: Around, x: number, y: number, z: number, a2: number, out: Float64Array, at: number): void {
  const { from, light, weight } = all;
  let [r, g, b, sum] = [0, 0, 0, 0];
  for (let k = 0; k < weight.length; k++) {
    const c = x * from[3 * k] + y * from[3 * k + 1] + z * from[3 * k + 2];
    if (c <= 0) continue;
    const d = 1 + a2 + (a2 - 1) * c;
    const w = (c * weight[k]) / (d * d);
    r += w * light[3 * k];
    g += w * light[3 * k + 1];
    b += w * light[3 * k + 2];
    sum += w;
  }
  out[at] = r / sum;
  out[at + 1] = g / sum;
  out[at + 2] = b / sum;
}

/** Looks into the cone of a roughness round the z axis: direction and weight each. */
function cone(roughness: number): Float64Array {
  const a2 = roughness ** 4;
  const out = new Float64Array(4 * LOOKS);
  for (let i = 0; i < LOOKS; i++) {
    // Normals that are seen straight on, by their share (Heitz 2018, for a view along the surface's normal).
    const x = (i + 0.5) / LOOKS;
    const q = 1 / (1 - x + a2 * x);
    const z = (1 - x - a2 * x) * q;
    const r = 2 * roughness ** 2 * sqrt(x * (1 - x)) * q;
    const turn = i * PI * (3 - sqrt(5));
    out.set([r * cos(turn), r * sin(turn), z, max(0, z)], 4 * i);
  }
  return out;
}

/**
 * Faces of a cube as a surface of some roughness sees the light round it when looked at straight on (GGX, Walter et al.
 * 2007; the split sum of Karis 2013): 3 numbers a texel, face after face.
 */
export function seenWith(roughness: number, size: number, radiance: Radiance = sky): Float64Array {
  const out = new Float64Array(18 * size * size);
  const narrow = roughness < ROUGH;
  const looks = narrow && roughness > 0 ? cone(roughness) : undefined;
  const all = narrow ? undefined : around(radiance);
  const a2 = roughness ** 4;
  const one = new Float64Array(3);
  for (let i = 0; i < 6 * size * size; i++) {
    const u = (2 * (i % size) + 1) / size - 1;
    const v = (2 * (floor(i / size) % size) + 1) / size - 1;
    const d = towards(floor(i / size / size), u, v);
    const length = hypot(d[0], d[1], d[2]);
    // Shaders look the other way along x into a map that no camera drew.
    const [x, y, z] = [-d[0] / length, d[1] / length, d[2] / length];
    if (all) gathered(all, x, y, z, a2, out, 3 * i);
    else if (looks) {
      let sum = 0;
      let [r, g, b] = [0, 0, 0];
      // Two directions across (Duff et al. 2017).
      const s = z < 0 ? -1 : 1;
      const p = -1 / (s + z);
      const q = x * y * p;
      const across = [1 + s * x * x * p, s * q, -s * x];
      const along = [q, s + y * y * p, -y];
      for (let k = 0; k < looks.length; k += 4) {
        const [lx, ly, lz, weight] = [looks[k], looks[k + 1], looks[k + 2], looks[k + 3]];
        if (weight === 0) continue;
        radiance(
          lx * across[0] + ly * along[0] + lz * x,
          lx * across[1] + ly * along[1] + lz * y,
          lx * across[2] + ly * along[2] + lz * z,
          one,
          0,
        );
        r += weight * one[0];
        g += weight * one[1];
        b += weight * one[2];
        sum += weight;
      }
      out.set([r / sum, g / sum, b / sum], 3 * i);
    } else radiance(x, y, z, out, 3 * i);
  }
  return out;
}

/** The sky as the library's materials look it up, one level for each roughness. */
export function studio(): THREE.Texture {
  const faces = Array.from({ length: 6 }, () => ({
    width: SIZE,
    height: SIZE,
    mipmaps: [] as { data: Uint16Array; width: number; height: number }[],
  }));
  for (let level = 0; level < LEVELS; level++) {
    const size = SIZE >> level;
    const seen = seenWith(roughnessOf(level, LEVELS), size);
    faces.forEach((face, f) => {
      const data = new Uint16Array(4 * size * size);
      for (let i = 0; i < size * size; i++) {
        for (let k = 0; k < 3; k++) data[4 * i + k] = THREE.DataUtils.toHalfFloat(seen[3 * (f * size * size + i) + k]);
        data[4 * i + 3] = THREE.DataUtils.toHalfFloat(1);
      }
      face.mipmaps.push({ data, width: size, height: size });
    });
  }
  // Only this kind of texture takes all its levels as they are given; its pixels are not packed.
  const out = new THREE.CompressedCubeTexture(
    faces as unknown as THREE.CompressedTextureMipmap[],
    THREE.RGBAFormat as unknown as THREE.CompressedPixelFormat,
    THREE.HalfFloatType,
  );
  out.minFilter = THREE.LinearMipmapLinearFilter;
  out.magFilter = THREE.LinearFilter;
  Object.assign(out, { isPMREMTexture: true });
  out.needsUpdate = true;
  return out;
}
