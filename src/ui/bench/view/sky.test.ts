import { DataUtils } from 'three';
import { roughnessOf, seenWith, studio, type Radiance } from './sky';

/** Where the library's shaders look for a texel's direction: the other way along x. */
const FACES: readonly (readonly [axis: number, sign: number])[] = [
  [0, -1],
  [0, 1],
  [1, 1],
  [1, -1],
  [2, 1],
  [2, -1],
];

/** Of each direction its own components, moved up so that none is negative. */
const itself: Radiance = (x, y, z, out, at) => {
  out[at] = 2 + x;
  out[at + 1] = 2 + y;
  out[at + 2] = 2 + z;
};

const directionsOf = (seen: Float64Array): number[][] =>
  Array.from({ length: seen.length / 3 }, (_, i) => [0, 1, 2].map((k) => seen[3 * i + k] - 2));

describe('what surfaces see of the sky', () => {
  test('a mirror sees each direction as it is, each face of the cube its own side', () => {
    const size = 8;
    const seen = directionsOf(seenWith(0, size, itself));
    seen.forEach((d, i) => {
      expect(Math.hypot(...d)).toBeCloseTo(1, 12);
      const [axis, sign] = FACES[Math.floor(i / size / size)];
      expect(sign * d[axis]).toBe(Math.max(...d.map(Math.abs)));
    });
    // No two alike, and as many to each side: nothing is left out or seen twice.
    expect(new Set(seen.map((d) => d.map((v) => v.toFixed(9)).join())).size).toBe(6 * size * size);
    for (let k = 0; k < 3; k++) expect(seen.reduce((sum, d) => sum + d[k], 0)).toBeCloseTo(0, 9);
  });

  test.each([0, 0.1, 0.3, 0.59, 0.7, 1])('one light from all sides is that light, at roughness %p', (roughness) => {
    const seen = seenWith(roughness, 8, (_x, _y, _z, out, at) => out.fill(0.37, at, at + 3));
    expect(Math.min(...seen)).toBeCloseTo(0.37, 12);
    expect(Math.max(...seen)).toBeCloseTo(0.37, 12);
  });

  test('at full roughness light that grows along an axis is seen as two thirds of it: Lambert’s cosine', () => {
    const mirror = directionsOf(seenWith(0, 8, itself));
    const rough = directionsOf(seenWith(1, 8, itself));
    rough.forEach((d, i) => d.forEach((v, k) => expect(v).toBeCloseTo((2 / 3) * mirror[i][k], 2)));
  });

  test('the rougher, the less of a direction is left, by cone and by all that is in front alike', () => {
    const left = [0, 0.1, 0.3, 0.5, 0.59, 0.61, 0.8, 1].map((roughness) => {
      const seen = directionsOf(seenWith(roughness, 8, itself));
      const mirror = directionsOf(seenWith(0, 8, itself));
      return seen.reduce((sum, d, i) => sum + d.reduce((s, v, k) => s + v * mirror[i][k], 0), 0) / seen.length;
    });
    for (let k = 1; k < left.length; k++) expect(left[k]).toBeLessThan(left[k - 1] + 1e-12);
    expect(left[4] - left[5]).toBeLessThan(0.03);
  });

  test('a texture has a level for each roughness down to 8 texels, as the library looks them up', () => {
    const texture = studio();
    const faces = texture.image as { mipmaps: { data: Uint16Array; width: number }[] }[];
    expect(faces).toHaveLength(6);
    for (const face of faces) {
      expect(face.mipmaps.map((m) => m.width)).toEqual([32, 16, 8]);
      for (const { data, width } of face.mipmaps) {
        expect(data).toHaveLength(4 * width * width);
        const light = Array.from(data, (half) => DataUtils.fromHalfFloat(half));
        expect(Math.min(...light)).toBeGreaterThan(0.2);
        expect(Math.max(...light)).toBeLessThan(4);
      }
    }
    // From level to roughness and back, by the library's r (2 − r).
    for (let level = 0; level < 3; level++) {
      const r = roughnessOf(level, 3);
      expect(2 * r * (2 - r)).toBeCloseTo(level, 12);
    }
    // The sky is above: brighter there than below.
    const mean = ({ data }: { data: Uint16Array }) =>
      data.reduce((sum, half) => sum + DataUtils.fromHalfFloat(half), 0) / data.length;
    expect(mean(faces[2].mipmaps[2])).toBeGreaterThan(1.5 * mean(faces[3].mipmaps[2]));
  });
});
