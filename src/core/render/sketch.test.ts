import { ellipse } from '../curve/curves';
import { keyOf } from '../math/hash';
import { box } from '../make/primitives';
import { transformVertices } from '../edit/transform';
import { sketch } from './sketch';

const ground = { width: 60, height: 40, top: [1, 1, 1], bottom: [1, 1, 1] } as const;
const cube = box({ width: 1, height: 1, depth: 1, cutX: 1, cutY: 1, cutZ: 1, onGround: false }, keyOf('t'));
const green = () => [0, 1, 0] as const;
const isGround = (d: Uint8Array, x: number, y: number) =>
  d[4 * (y * 60 + x)] === 255 && d[4 * (y * 60 + x) + 2] === 255;

test('nothing to draw is the ground alone', () => {
  expect([...sketch([], ground).data].every((x) => x === 255)).toBe(true);
});

test('a cube stands in the middle, in its colour, shaded by side, the same each time', () => {
  const image = sketch([{ geometry: { mesh: cube }, color: green, smooth: 0 }], ground);
  expect(image).toMatchObject({ width: 60, height: 40 });
  expect(isGround(image.data, 30, 20)).toBe(false);
  expect(isGround(image.data, 1, 1)).toBe(true);
  const shades = new Set<number>();
  for (let i = 0; i < image.data.length; i += 4) if (image.data[i] === 0) shades.add(image.data[i + 1]);
  expect(shades.size).toBeGreaterThanOrEqual(3); // three sides are seen, lit differently
  expect(sketch([{ geometry: { mesh: cube }, color: green, smooth: 0 }], ground).data).toEqual(image.data);
});

test('size does not matter: the picture is framed by the model', () => {
  const far = transformVertices(cube, [1000, 0, 0, 5e4, 0, 1000, 0, 0, 0, 0, 1000, 0]);
  const a = sketch([{ geometry: { mesh: cube }, color: green, smooth: 0 }], ground).data;
  const b = sketch([{ geometry: { mesh: far }, color: green, smooth: 0 }], ground).data;
  let differ = 0;
  for (let i = 0; i < a.length; i++) if (Math.abs(a[i] - b[i]) > 24) differ++;
  expect(differ / a.length).toBeLessThan(0.02);
});

test('what is nearer hides what is behind it', () => {
  const red = () => [1, 0, 0] as const;
  const back = transformVertices(cube, [0.3, 0, 0, -0.9, 0, 0.3, 0, -0.6, 0, 0, 0.3, -1.4]);
  const image = sketch(
    [
      { geometry: { mesh: back }, color: red, smooth: 0 },
      { geometry: { mesh: cube }, color: green, smooth: 0 },
    ],
    ground,
  );
  const both = sketch(
    [
      { geometry: { mesh: cube }, color: green, smooth: 0 },
      { geometry: { mesh: back }, color: red, smooth: 0 },
    ],
    ground,
  );
  expect(image.data).toEqual(both.data); // order of drawing does not matter
});

test('a picture on a plane is seen with its own colours, from both sides, and hidden by what stands before it; curves are lines', () => {
  const image = { width: 2, height: 1, data: new Uint8Array([255, 0, 0, 255, 0, 0, 255, 255]) };
  const options = { width: 60, height: 40, top: [0.5, 0.5, 0.5] as const, bottom: [0.5, 0.5, 0.5] as const };
  const square = (z: number) =>
    [
      [-1, -1, z],
      [1, -1, z],
      [1, 1, z],
      [-1, 1, z],
    ] as const;
  const count = (d: Uint8Array, test: (r: number, g: number, b: number) => boolean) => {
    let n = 0;
    for (let i = 0; i < d.length; i += 4) if (test(d[i], d[i + 1], d[i + 2])) n++;
    return n;
  };
  const red = (r: number, g: number, b: number) => r > 200 && g < 60 && b < 60;
  const blue = (r: number, g: number, b: number) => b > 200 && r < 60;
  const front = sketch([], options, [{ corners: square(0), image, frame: [0, 0, 2, 1] }]).data;
  expect(count(front, red)).toBeGreaterThan(100);
  expect(Math.abs(count(front, red) - count(front, blue)) / count(front, red)).toBeLessThan(0.2);
  expect(
    count(sketch([], options, [{ corners: [...square(0)].reverse(), image, frame: [0, 0, 2, 1] }]).data, red),
  ).toBeGreaterThan(100);
  const wall = sketch([], options, [
    { corners: square(0), image, frame: [0, 0, 2, 1] },
    { corners: square(0.5), frame: [0, 0, 2, 1] },
  ]).data;
  expect(count(wall, red)).toBeLessThan(count(front, red) / 2);
  const ring = sketch(
    [{ geometry: { curves: ellipse(1, 1, 'xy', 1) }, color: () => [1, 1, 1], smooth: 0 }],
    options,
  ).data;
  expect(count(ring, (r, g) => g > r + 30)).toBeGreaterThan(40);
});
