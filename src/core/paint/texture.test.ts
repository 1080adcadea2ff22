import { meshFrom } from '../mesh/mesh';
import type { Material } from '../recipe/define';
import { makeTexture } from './texture';

const red: Material = { id: 'r', name: 'Red', color: '#ff0000', roughness: 0.2, metalness: 1 };
const blue: Material = { id: 'b', name: 'Blue', color: '#0000ff', roughness: 0.6, metalness: 0 };

/** A square on the sheet from (u0, v0) to (u1, v1). */
const square = (u0: number, v0: number, u1: number, v1: number) => [u0, v0, u1, v0, u1, v1, u0, v1];
const quads = (uv: number[], slots: number[]) => {
  const n = slots.length;
  const positions = Array.from({ length: 4 * n }, (_, i) => [i % 2, i >> 1, 0]).flat();
  return meshFrom(
    positions,
    Array.from({ length: n }, (_, f) => [4 * f, 4 * f + 1, 4 * f + 3, 4 * f + 2]),
  ).with({
    slots: ['r', 'b'],
    attributes: {
      uv: { domain: 'corner', width: 2, data: Float32Array.from(uv) },
      material: { domain: 'face', width: 1, data: Int32Array.from(slots) },
    },
  });
};
const at = (data: Uint8Array, size: number, x: number, y: number) => [
  ...data.subarray(4 * (y * size + x), 4 * (y * size + x) + 4),
];

test('each face in its colour, top of the sheet at the top of the picture', () => {
  const m = quads([...square(0, 0.5, 0.5, 1), ...square(0.5, 0, 1, 0.5)], [0, 1]);
  const { color, surface } = makeTexture(m, [red, blue], { name: 'c', size: 64, bleed: 0 }).images();
  expect(at(color.data, 64, 5, 5)).toEqual([255, 0, 0, 255]);
  expect(at(color.data, 64, 60, 60)).toEqual([0, 0, 255, 255]);
  expect(at(color.data, 64, 60, 5)[0]).toBeGreaterThan(100); // bare: clay
  // Green roughness, blue metalness, as in glTF.
  expect(at(surface.data, 64, 5, 5)).toEqual([255, 51, 255, 255]);
  expect(at(surface.data, 64, 60, 60)).toEqual([255, 153, 0, 255]);
});

test.each([0, 1, 4, 9])('bleed of %i px reaches just so far beyond the island', (bleed) => {
  const size = 64;
  const m = quads(square(0.25, 0.25, 0.5, 0.5), [0]);
  const { color } = makeTexture(m, [red, blue], { name: 'c', size, bleed }).images();
  const isRed = (x: number, y: number) => at(color.data, size, x, y)[0] === 255 && at(color.data, size, x, y)[1] === 0;
  expect(isRed(16, 40)).toBe(true); // the island's own corner pixel
  expect(isRed(16 - bleed, 40)).toBe(true);
  expect(isRed(16 - bleed - 1, 40)).toBe(false);
  expect(isRed(31 + bleed, 40)).toBe(true);
  expect(isRed(31 + bleed + 1, 40)).toBe(false);
});

test('where two islands bleed towards each other each keeps its half', () => {
  const m = quads([...square(0, 0, 0.25, 1), ...square(0.5, 0, 1, 1)], [0, 1]);
  const { color } = makeTexture(m, [red, blue], { name: 'c', size: 64, bleed: 32 }).images();
  expect(at(color.data, 64, 18, 30)).toEqual([255, 0, 0, 255]);
  expect(at(color.data, 64, 29, 30)).toEqual([0, 0, 255, 255]);
});

test('pictures are drawn once, when asked for', () => {
  const t = makeTexture(quads(square(0, 0, 1, 1), [0]), [red], { name: 'c', size: 16, bleed: 1 });
  expect(t.images()).toBe(t.images());
});

test('a material that is gone leaves clay; faces outside the sheet do no harm', () => {
  const m = quads([...square(0, 0, 1, 1), ...square(3, 3, 4, 4)], [1, 0]);
  const { color } = makeTexture(m, [red], { name: 'c', size: 16, bleed: 2 }).images();
  expect(at(color.data, 16, 8, 8)).toEqual([179, 185, 172, 255]);
});
