import { encode } from 'fast-png';
import jpeg from 'jpeg-js';
import { brightnessAt, readBrightness } from './brightness';

const grey = (width: number, height: number, of: (x: number, y: number) => number): Uint8Array =>
  encode({
    width,
    height,
    channels: 1,
    depth: 16,
    data: Uint16Array.from({ length: width * height }, (_, i) => 65535 * of(i % width, Math.floor(i / width))),
  });

test('grey as fine as it was kept; coloured ones by how bright they look; JPEGs too', () => {
  const fine = readBrightness(
    grey(4, 2, (x) => x / 1000),
    'fine.png',
  );
  expect([fine.width, fine.height]).toEqual([4, 2]);
  expect(fine.data[3]).toBeCloseTo(0.003, 4);
  const rgb = readBrightness(
    encode({ width: 3, height: 1, channels: 3, depth: 8, data: Uint8Array.of(255, 0, 0, 0, 255, 0, 0, 0, 255) }),
    'rgb.png',
  );
  expect([...rgb.data].map((x) => x.toFixed(3))).toEqual(['0.213', '0.715', '0.072']);
  const data = new Uint8Array(4 * 64 * 64);
  for (let i = 0; i < 64 * 64; i++) data.fill(4 * (i % 64), 4 * i, 4 * i + 3);
  const photo = readBrightness(jpeg.encode({ width: 64, height: 64, data }, 95).data, 'photo.jpg');
  for (let x = 0; x < 64; x++) expect(photo.data[64 * 20 + x]).toBeCloseTo((4 * x) / 255, 1);
});

test('asked between pixels it is between them, from the lower left, and over again beyond', () => {
  const b = readBrightness(
    grey(8, 4, (x, y) => (x + 10 * y) / 100),
    'b.png',
  );
  // Middles of pixels are the pixels: the first row is the top one.
  for (let y = 0; y < 4; y++)
    for (let x = 0; x < 8; x++)
      for (const beyond of [0, 3, -2])
        expect(brightnessAt(b, (x + 0.5) / 8 + beyond, 1 - (y + 0.5) / 4 - beyond)).toBeCloseTo((x + 10 * y) / 100, 4);
  expect(brightnessAt(b, 2 / 8, 1 - 0.5 / 4)).toBeCloseTo(0.015, 4);
  expect(brightnessAt(b, 0.5 / 8, 1 - 2 / 4)).toBeCloseTo(0.15, 4);
  // Over the edge: between the last and the first.
  expect(brightnessAt(b, 0, 1 - 0.5 / 4)).toBeCloseTo(0.035, 4);
});

test('what is broken, or of a kind that cannot be read, says so in one sentence', () => {
  const png = grey(8, 8, () => 0.5);
  expect(() => readBrightness(png.slice(0, 40), 'cut.png')).toThrow(/cut\.png cannot be read|cut short/);
  const photo = jpeg.encode({ width: 8, height: 8, data: new Uint8Array(256).fill(90) }, 90).data;
  expect(() => readBrightness(Uint8Array.from(photo).slice(0, photo.length >> 1), 'half.jpg')).toThrow('half.jpg');
  expect(() => readBrightness(new Uint8Array(0), 'none.png')).toThrow('none.png');
  const webp = Uint8Array.from(
    [...'RIFF\x1a\0\0\0WEBPVP8L\x0d\0\0\0\x2f'].map((c) => c.charCodeAt(0)).concat(Array(40).fill(1)),
  );
  expect(() => readBrightness(webp, 'a.webp')).toThrow('a.webp');
});
