import { mkdtempSync, readFileSync, rmSync, writeFileSync } from 'node:fs';
import { tmpdir } from 'node:os';
import { join } from 'node:path';
import { encode } from 'fast-png';
import { readAny } from '../core/formats/read';
import { readPng, type Scene } from '../core/formats';
import { writeGlb } from '../core/formats';
import { cylinder } from '../core/make/primitives';
import { triangulate, UV, type Mesh } from '../core/mesh';
import { unwrapMesh } from '../core/uv';
import { UNWRAPPING } from '../core/testing/unwrapping';
import { someOf } from '../core/testing/thorough';
import { run } from './unfold';

const SIZE = 128;
/** Left half red, right half blue, brighter upwards. */
const halves = encode({
  ...{ width: SIZE, height: SIZE, channels: 4 },
  data: Uint8Array.from({ length: 4 * SIZE * SIZE }, (_, i) => {
    const [x, y] = [(i >> 2) % SIZE, Math.floor((i >> 2) / SIZE)];
    return [x < SIZE / 2 ? 200 : 0, 255 - 2 * y, x < SIZE / 2 ? 0 : 200, 255][i % 4];
  }),
});
const drum = (): Mesh =>
  unwrapMesh(
    cylinder({ radius: 0.5, topRadius: 0.5, height: 1, sides: 14, rows: 3, cap: 'polygon', onGround: false }, 7),
    UNWRAPPING,
  ).mesh.with({ slots: ['m'] });
const dressed = (mesh: Mesh): Mesh =>
  mesh.withAttribute('material', { domain: 'face', width: 1, data: new Int32Array(mesh.faceCount) });
const scene = (bytes: Uint8Array, mime: 'image/png' | 'image/webp' = 'image/png'): Scene => ({
  pieces: [
    { name: 'drum', parent: -1, mesh: dressed(drum()) },
    { name: 'post', parent: -1, mesh: dressed(drum()) },
  ],
  materials: [{ id: 'm', name: 'Paint', color: [1, 1, 1, 1], roughness: 0.9, metalness: 0, maps: { color: 0 } }],
  images: [{ name: 'paint.png', mime, bytes }],
  warnings: [],
});

/** What each face with a picture shows in its middle, by where that is. */
function colours(read: Scene): Map<string, number[]> {
  const out = new Map<string, number[]>();
  for (const p of read.pieces) {
    const mesh = p.mesh!;
    const images = mesh.slots.map((id) => {
      const at = read.materials.find((x) => x.id === id)!.maps?.color;
      return at === undefined ? undefined : readPng(read.images[at].bytes);
    });
    const t = triangulate(mesh);
    const uv = mesh.attributes[UV].data;
    for (let i = 0; i < t.face.length; i++) {
      const image = images[mesh.attributes.material.data[t.face[i]]];
      if (!image) continue;
      const c = [0, 1, 2].map((k) => t.corners[3 * i + k]);
      const mean = (of: (corner: number) => number) => c.reduce((n, x) => n + of(x), 0) / 3;
      const at = [0, 1, 2]
        .map((k) => mean((x) => mesh.positions[3 * mesh.cornerVertex[x] + k]))
        .map((x) => Math.round(500 * x) || 0);
      // A picture repeats, sheet by sheet.
      const x = Math.floor((mean((k) => uv[2 * k]) % 1) * image.width);
      const y = Math.floor((1 - mean((k) => uv[2 * k + 1])) * image.height);
      out.set(`${p.name} ${at.join()}`, [
        ...image.data.subarray(4 * (y * image.width + x), 4 * (y * image.width + x) + 3),
      ]);
    }
  }
  return out;
}

let folder = '';
beforeAll(() => {
  folder = mkdtempSync(join(tmpdir(), 'carried-'));
});
afterAll(() => rmSync(folder, { recursive: true }));
const said = jest.spyOn(console, 'error').mockImplementation(() => undefined);
jest.spyOn(console, 'log').mockImplementation(() => undefined);

const unfolded = async (from: Scene, ...flags: string[]): Promise<Scene> => {
  const [a, b] = ['in.glb', 'out.glb'].map((f) => join(folder, f));
  writeFileSync(a, await writeGlb(from));
  expect(await run([a, b, '--size=128', '--padding=4', '--seam-angle=180', ...flags])).toBe(0);
  return readAny(new Uint8Array(readFileSync(b)), 'out.glb');
};

const SHEETS: [string, string[], number][] = [
  ['a sheet for each', [], 2],
  ['two for all', ['--sheets=2', '--one-sheet'], 2],
  ['one for all', ['--one-sheet'], 1],
  ['two sheets for each', ['--sheets=2'], 4],
];
test.each(someOf(SHEETS, 2))(
  'pictures go along with a file that is laid out anew: %s',
  async (_name, flags, pictures) => {
    const was = colours(scene(halves));
    const out = await unfolded(scene(halves), ...flags);
    // A picture of colours each, and nothing that was not there before; the old one is shown no more.
    expect([out.materials.length, out.images.length]).toEqual([pictures, pictures]);
    for (const m of out.materials) expect([m.name.slice(0, 5), m.roughness]).toEqual(['Paint', 0.9]);
    const is = colours(out);
    expect(is.size).toBeGreaterThan(60);
    let off = 0;
    for (const [at, colour] of was) {
      const now = is.get(at);
      if (!now || Math.max(...colour.map((x, k) => Math.abs(x - now[k]))) > 30) off++;
    }
    // Of those on the line between both halves a few may be of both.
    expect(off / was.size).toBeLessThan(0.06);
    // Left as they are they show anything.
    const left = colours(await unfolded(scene(halves), ...flags, '--leave-pictures'));
    const wrong = [...was].filter(
      ([at, c]) => Math.abs(left.get(at)![0] - c[0]) + Math.abs(left.get(at)![1] - c[1]) > 60,
    );
    expect(wrong.length / was.size).toBeGreaterThan(0.2);
  },
);

test('what cannot be drawn anew is left, and told', async () => {
  said.mockClear();
  const webp = await unfolded(scene(new Uint8Array([82, 73, 70, 70, 8, 0, 0, 0, 87, 69, 66, 80]), 'image/webp'));
  expect([webp.materials.length, webp.images.length]).toEqual([1, 1]);
  expect(said.mock.calls.flat().join('\n')).toContain('not by the new layout');
  said.mockClear();
  const beside = await unfolded(scene(halves), '--set=bake');
  expect(beside.images.length).toBe(1);
  expect(said).not.toHaveBeenCalled();
});

test('what shows no picture stays in its material; what multiplied a picture is in it, and counts once', async () => {
  const two = scene(halves);
  two.materials[0] = { ...two.materials[0], color: [0, 1, 1, 1], tinted: true };
  two.materials.push({ id: 'g', name: 'Glass', color: [1, 1, 1, 0.3], roughness: 0.1, metalness: 0, seeThrough: true });
  const [drumPiece] = two.pieces;
  const slots = Int32Array.from({ length: drumPiece.mesh!.faceCount }, (_, f) => f % 2);
  const mesh = drumPiece.mesh!.with({ slots: ['m', 'g'] }).withAttribute('material', {
    ...{ domain: 'face', width: 1 },
    data: slots,
  } as const);
  two.pieces = [{ ...drumPiece, mesh }];
  const out = await unfolded(two);
  const glass = out.materials.find((m) => m.name === 'Glass')!;
  expect([glass.maps, glass.seeThrough, glass.color[3]]).toEqual([undefined, true, expect.closeTo(0.3, 5)]);
  const paint = out.materials.find((m) => m.name === 'Paint')!;
  expect([paint.seeThrough, paint.tinted]).toEqual([undefined, undefined]);
  expect(out.pieces.flatMap((p) => p.mesh?.slots ?? []).sort()).toEqual([glass.id, paint.id].sort());
  // Its red was nothing: so is that of the picture, in every place.
  const seen = [...colours(out).values()];
  expect(seen.length).toBeGreaterThan(15);
  expect(Math.max(...seen.map(([red]) => red))).toBeLessThan(4);
  expect(Math.max(...seen.map(([, green]) => green))).toBeGreaterThan(100);
});
