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

/** A square over the whole sheet that wears pictures of one colour each; its UVs are what the pictures lie by. */
const worn = (more: Partial<Material>, pixels: Record<string, readonly number[]>) => {
  const mesh = quads(square(0, 0, 1, 1), [0]);
  const one = (c: readonly number[]) => ({ width: 1, height: 1, data: Uint8Array.from(c) });
  const m: Material = { ...red, maps: Object.fromEntries(Object.keys(pixels).map((k) => [k, k])), ...more };
  const pictures = {
    pixels: new Map(Object.entries(pixels).map(([k, c]) => [k, one(c)])),
    places: (set: number) => (set === 0 ? mesh.attributes.uv.data : undefined),
  };
  return makeTexture(mesh, [m], { name: 'c', size: 4, bleed: 0 }, pictures);
};
const first = (image: { data: Uint8Array } | undefined) => image && [...image.data.subarray(0, 4)];

test('a picture stands in for what a material is without it, or multiplies that', () => {
  const pixels = { color: [188, 188, 188, 10], surface: [9, 128, 64, 255] };
  const plain = worn({ color: '#ff8000' }, pixels).images();
  expect(first(plain.color)).toEqual([188, 188, 188, 255]);
  expect(first(plain.surface)).toEqual([255, 128, 64, 255]);
  expect([plain.normal, plain.shade, plain.glow]).toEqual([undefined, undefined, undefined]);
  const tinted = worn({ color: '#ff8000', tinted: true, roughness: 0.5, metalness: 0.5 }, pixels).images();
  // As light: 188 is half of it, 128 of green is 0.216 of it.
  expect(first(tinted.color)).toEqual([188, 93, 0, 255]);
  expect(first(tinted.surface)).toEqual([255, 64, 32, 255]);
});

test('what can be seen through, or is cut, keeps how opaque it is; of looks what holds for all is said', () => {
  const pixels = { color: [255, 255, 255, 100] };
  const clear = worn({ seeThrough: true, opacity: 0.5, bothSides: true }, pixels);
  expect(first(clear.images().color)![3]).toBe(50);
  expect(clear.look).toEqual({ seeThrough: true, bothSides: true });
  const cut = worn({ cut: 0.3 }, pixels);
  expect(first(cut.images().color)![3]).toBe(100);
  expect(cut.look).toEqual({ cut: 0.3 });
  expect(worn({}, pixels).look).toEqual({});
});

test('dents, shade and glow come along, as strong as they were', () => {
  const pixels = { normal: [255, 128, 128, 255], shade: [100, 0, 0, 255], glow: [255, 188, 0, 255] };
  const laid = { normal: { strength: 0.5 }, shade: { strength: 0.5 } };
  const { images, look } = worn({ laid, glow: '#ffffff', glowStrength: 3 }, pixels);
  const { normal, shade, glow } = images();
  expect(first(normal)![0]).toBeGreaterThan(240); // leaning to the right still, if less
  expect(first(shade)).toEqual([178, 178, 178, 255]); // half of the way from 255 to 100
  expect(first(glow)).toEqual([255, 188, 0, 255]);
  expect(look).toEqual({ glow: '#ffffff', glowStrength: 3 });
});

test('dents turn with the sheet: laid a quarter turn round, to the right becomes up', () => {
  const turnedBy = (uv: number[]) => {
    const mesh = quads(square(0, 0, 1, 1), [0]);
    const old = Float64Array.from(mesh.attributes.uv.data);
    const now = mesh.withAttribute('uv', { domain: 'corner', width: 2, data: Float32Array.from(uv) });
    const pictures = {
      pixels: new Map([['n', { width: 1, height: 1, data: Uint8Array.of(255, 128, 128, 255) }]]),
      places: () => old,
    };
    const m = { ...red, maps: { normal: 'n' } };
    return first(makeTexture(now, [m], { name: 'c', size: 8, bleed: 8 }, pictures).images().normal)!;
  };
  const near = (a: number[], b: number[]) => b.forEach((x, k) => expect(Math.abs(x - a[k])).toBeLessThan(3));
  near(turnedBy([0, 0, 1, 0, 1, 1, 0, 1]), [255, 128, 128]);
  near(turnedBy([1, 0, 1, 1, 0, 1, 0, 0]), [128, 255, 128]);
  near(turnedBy([1, 0, 0, 0, 0, 1, 1, 1]), [0, 128, 128]); // mirrored
});

test('colours of its own multiply what is drawn, as light, between corners too; what has no material is in them alone', () => {
  const mesh = quads([...square(0, 0, 1, 0.5), ...square(0, 0.5, 1, 1)], [0, -1]);
  // Red from nothing on the left to all on the right, half of green and blue as light.
  const data = Float32Array.from({ length: 4 * mesh.cornerCount }, (_, i) => {
    const right = mesh.attributes.uv.data[2 * (i >> 2)] === 1;
    return [right ? 1 : 0, 188 / 255, 188 / 255, 1][i % 4];
  });
  const white: Material = { ...red, color: '#ffffff' };
  const m = mesh.withAttribute('color', { domain: 'corner', width: 4, data });
  const { color } = makeTexture(m, [white], { name: 'c', size: 64, bleed: 0 }).images();
  for (const y of [5, 60])
    for (const x of [0, 20, 32, 63]) {
      const [r, g, b, a] = at(color.data, 64, x, y);
      const light = (x + 0.5) / 64;
      expect(
        Math.abs(r - 255 * (light <= 0.0031308 ? 12.92 * light : 1.055 * light ** (1 / 2.4) - 0.055)),
      ).toBeLessThan(1.5);
      expect([Math.abs(g - 188) < 2, Math.abs(b - 188) < 2, a]).toEqual([true, true, 255]);
    }
  const plain = makeTexture(mesh, [white], { name: 'c', size: 64, bleed: 0 }).images().color;
  expect(at(plain.data, 64, 5, 60)).toEqual([255, 255, 255, 255]);
});
