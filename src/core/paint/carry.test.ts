import fc from 'fast-check';
import { encode } from 'fast-png';
import { Matrix3, Vector3 } from 'three';
import { triangulate, UV, type ImageData8, type Mesh } from '../mesh';
import { Memory } from '../recipe/memory';
import type { Material } from '../recipe/define';
import { defaultsOf, type Step } from '../recipe/values';
import { followRecipe, stepDef } from '../steps';
import { affineOf, byteOf, lightOf, look, looksOf, onPicture, turning } from './carry';
import { someOf } from '../testing/thorough';

const step = (kind: string, values: Record<string, unknown> = {}, id = kind): Step => ({
  id,
  kind,
  on: true,
  values: { ...defaultsOf(stepDef(kind)!.values), ...values },
});
const number = (min: number, max: number) =>
  fc.integer({ min: 0, max: 10000 }).map((i) => min + ((max - min) * i) / 10000);
const picture = (size: number, at: (x: number, y: number) => readonly number[]): ImageData8 => ({
  width: size,
  height: size,
  data: Uint8Array.from({ length: 4 * size * size }, (_, i) => at((i >> 2) % size, Math.floor((i >> 2) / size))[i % 4]),
});

test('every shade comes back from light as it was', () => {
  for (let i = 0; i < 256; i++) expect(byteOf(lightOf([i / 255])[0])).toBe(i);
  expect([byteOf(-1), byteOf(2)]).toEqual([0, 255]);
});

test('where a picture lies is as the view has it', () => {
  fc.assert(
    fc.property(
      fc.tuple(
        number(-2, 2),
        number(-2, 2),
        number(0.1, 4),
        number(0.1, 4),
        number(-3, 3),
        number(-1, 1),
        number(-1, 1),
      ),
      ([u, v, w, h, turn, x, y]) => {
        const image = { width: 64, height: 32, data: new Uint8Array(0) };
        const [c, s] = [Math.cos(turn), Math.sin(turn)];
        const m = new Matrix3().set(c * w, -s * h, x, s * w, c * h, y, 0, 0, 1);
        const want = new Vector3(u, v, 1).applyMatrix3(m);
        const [px, py] = onPicture(image, { size: [w, h], turn, shift: [x, y] }, u, v);
        expect(px).toBeCloseTo(64 * want.x, 8);
        expect(py).toBeCloseTo(32 * (1 - want.y), 8);
      },
    ),
  );
});

test('an affine map takes the corners there, and what is between them too; without width there is none', () => {
  const places = fc.array(number(-100, 100), { minLength: 6, maxLength: 6 });
  fc.assert(
    fc.property(places, places, number(0, 1), number(0, 1), (from, to, a, b) => {
      const det = (from[2] - from[0]) * (from[5] - from[1]) - (from[3] - from[1]) * (from[4] - from[0]);
      fc.pre(Math.abs(det) > 1);
      const m = affineOf(from, to)!;
      const between = (p: readonly number[], k: number) => p[k] + a * (p[2 + k] - p[k]) + b * (p[4 + k] - p[k]);
      const [x, y] = [between(from, 0), between(from, 1)];
      expect(m[0] * x + m[1] * y + m[2]).toBeCloseTo(between(to, 0), 6);
      expect(m[3] * x + m[4] * y + m[5]).toBeCloseTo(between(to, 1), 6);
    }),
  );
  expect(affineOf([0, 0, 1, 1, 2, 2], [0, 0, 1, 0, 0, 1])).toBeUndefined();
  expect(affineOf([0, 0, NaN, 1, 2, 2], [0, 0, 1, 0, 0, 1])).toBeUndefined();
});

test('what is looked at: a pixel on itself, between two as much of each, many at once as their mean, beyond it again', () => {
  const stripes = picture(4, (x) => [x % 2 ? 255 : 0, 0, 0, 255]);
  const out = new Float64Array(4);
  const seen = (m: number[], looks = 1, image = stripes) => {
    look(image, Float64Array.from(m), looks, 0, 0, true, out);
    return out[0];
  };
  expect(seen([1, 0, 1, 0, 1, 0])).toBeCloseTo(1, 9);
  expect(seen([1, 0, 0.5, 0, 1, 0])).toBeCloseTo(0.5, 9); // in light, not in bytes
  expect(seen([1, 0, 1 - 400, 0, 1, 4000])).toBeCloseTo(1, 9);
  const shrunk = Float64Array.of(4, 0, 0, 0, 4, 0);
  expect(looksOf(shrunk)).toBe(4);
  expect(seen([...shrunk], 4)).toBeCloseTo(0.5, 9);
  expect(looksOf(Float64Array.of(0.5, 0, 0, 0, 0.5, 0))).toBe(1);
});

test('a direction across the surface is the same one on either sheet, whichever way round they lie', () => {
  const corner = fc.array(number(-1, 1), { minLength: 9, maxLength: 9 });
  const sheet = fc.array(number(0, 1), { minLength: 6, maxLength: 6 });
  const area = (p: readonly number[]) => (p[2] - p[0]) * (p[5] - p[1]) - (p[3] - p[1]) * (p[4] - p[0]);
  /** By the gradients of u and v, solved with the normal equations: along, and up by what side the sheet has it on. */
  const inSpace = (p: readonly number[], uv: readonly number[], [x, y]: readonly number[]): Vector3 => {
    const at = (i: number) => new Vector3(...p.slice(3 * i, 3 * i + 3));
    const [e, f] = [at(1).sub(at(0)), at(2).sub(at(0))];
    const det = area(uv);
    const along = e
      .clone()
      .multiplyScalar(uv[5] - uv[1])
      .addScaledVector(f, -(uv[3] - uv[1]))
      .divideScalar(det);
    const normal = e.clone().cross(f);
    const up = normal.cross(along).multiplyScalar(Math.sign(det)).normalize();
    return along.normalize().multiplyScalar(x).addScaledVector(up, y);
  };
  fc.assert(
    fc.property(corner, sheet, sheet, number(-1, 1), number(-1, 1), (p, old, now, x, y) => {
      const at = (i: number) => new Vector3(...p.slice(3 * i, 3 * i + 3));
      const wide = at(1)
        .sub(at(0))
        .cross(at(2).sub(at(0)))
        .length();
      fc.pre(wide > 0.05 && Math.abs(area(old)) > 0.01 && Math.abs(area(now)) > 0.01);
      const m = turning(p, old, now)!;
      const said = [m[0] * x + m[1] * y, m[2] * x + m[3] * y];
      expect(inSpace(p, now, said).distanceTo(inSpace(p, old, [x, y]))).toBeLessThan(1e-6);
    }),
  );
  expect(turning(new Float64Array(9), [0, 0, 1, 0, 0, 1], [0, 0, 1, 0, 0, 1])).toBeUndefined();
});

const SIZE = 256;
/** Where on the surface something is, as a colour. */
const colourOf = (at: readonly number[]): number[] => [...at.map((x) => Math.round(255 * (0.5 + 0.4 * x))), 255];
const cornersOf = (mesh: Mesh, corners: ArrayLike<number>, i: number) =>
  [0, 1, 2].map((k) => {
    const c = corners[3 * i + k];
    const v = 3 * mesh.cornerVertex[c];
    const uv = mesh.attributes[UV].data;
    return { uv: [uv[2 * c], uv[2 * c + 1]], at: [...mesh.positions.subarray(v, v + 3)] };
  });
/** Weights of a place within three; undefined outside. */
function weights([a, b, c]: readonly (readonly number[])[], u: number, v: number, slack: number): number[] | undefined {
  const det = (b[0] - a[0]) * (c[1] - a[1]) - (b[1] - a[1]) * (c[0] - a[0]);
  const s = ((u - a[0]) * (c[1] - a[1]) - (v - a[1]) * (c[0] - a[0])) / det;
  const t = ((b[0] - a[0]) * (v - a[1]) - (b[1] - a[1]) * (u - a[0])) / det;
  return Math.min(s, t, 1 - s - t) >= slack ? [1 - s - t, s, t] : undefined;
}
/** A picture that shows at every place of the sheet where on the surface it is; around the islands too. */
function picturesPlaces(mesh: Mesh): ImageData8 {
  const out = picture(SIZE, () => [0, 0, 0, 255]);
  const t = triangulate(mesh);
  for (const slack of [-0.5, -0.2, 0])
    for (let i = 0; i < t.face.length; i++) {
      const p = cornersOf(mesh, t.corners, i);
      const uvs = p.map((c) => c.uv);
      const [x0, x1] = [Math.min(...uvs.map((c) => c[0])), Math.max(...uvs.map((c) => c[0]))];
      const [y0, y1] = [Math.min(...uvs.map((c) => c[1])), Math.max(...uvs.map((c) => c[1]))];
      for (let y = Math.floor((1 - y1) * SIZE) - 4; y < (1 - y0) * SIZE + 4; y++)
        for (let x = Math.floor(x0 * SIZE) - 4; x < x1 * SIZE + 4; x++) {
          const w = weights(uvs, (x + 0.5) / SIZE, 1 - (y + 0.5) / SIZE, slack);
          if (!w || x < 0 || y < 0 || x >= SIZE || y >= SIZE) continue;
          out.data.set(
            colourOf([0, 1, 2].map((k) => w.reduce((n, q, j) => n + q * p[j].at[k], 0))),
            4 * (y * SIZE + x),
          );
        }
    }
  return out;
}
/** How far the colours of a texture are from where they lie on the surface: the worst within islands, in bytes. */
function worst(mesh: Mesh, image: ImageData8): number {
  const t = triangulate(mesh);
  let out = 0;
  for (let i = 0; i < t.face.length; i++) {
    const p = cornersOf(mesh, t.corners, i);
    for (const w of [
      [1 / 3, 1 / 3, 1 / 3],
      [0.6, 0.2, 0.2],
      [0.2, 0.2, 0.6],
    ]) {
      const mean = (of: (c: (typeof p)[0]) => number) => w.reduce((n, q, j) => n + q * of(p[j]), 0);
      const x = Math.floor(mean((c) => c.uv[0]) * image.width);
      const y = Math.floor((1 - mean((c) => c.uv[1])) * image.height);
      const want = colourOf([0, 1, 2].map((k) => mean((c) => c.at[k])));
      for (let k = 0; k < 3; k++) out = Math.max(out, Math.abs(image.data[4 * (y * image.width + x) + k] - want[k]));
    }
  }
  return out;
}

const worn: Material = { id: 'm', name: 'Worn', color: '#808080', roughness: 0.5, metalness: 0, maps: { color: 'p' } };
const files = new Map<string, Uint8Array>();
const follow = (steps: readonly Step[], materials: readonly Material[] = [worn]) =>
  followRecipe(steps, {
    memory: new Memory(),
    materials,
    picture: (id) => (id === 'p' ? { blob: 'sha', name: 'worn.png' } : undefined),
    blob: async (sha) => {
      const found = files.get(sha);
      if (!found) throw new Error('That file is not there.');
      return found;
    },
  });
const drum = step('cylinder', { size: 1, height: 1, sides: 12, rows: 3, cap: 'fan', onGround: false });
const dressed = step('color', { base: 'm' });
const texture = step('texture', { size: String(SIZE), pictures: 'old' });
const old = step('unwrap', { size: String(SIZE), seamAngle: 0.5 }, 'old');
const anew = (values: Record<string, unknown> = {}) =>
  step('unwrap', { size: String(SIZE), seamAngle: Math.PI, stretch: 1.8, ...values }, 'new');

const LAID: [string, Step[]][] = [
  ['laid out anew', [anew()]],
  ['on whole texels', [anew({ pixels: true })]],
  ['on half of the sheet', [anew({ partWidth: 0.5, partHeight: 0.5 })]],
  ['finer', [step('subdivide', { levels: 1, surface: 'flat' }), anew()]],
];
test.each(someOf(LAID, 2))(
  'a picture that was carried over shows at every place what it showed there: %s',
  async (_name, steps) => {
    const before = await follow([drum, old]);
    files.set('sha', encode({ ...picturesPlaces(before[1].mesh), channels: 4 }));
    expect(worst(before[1].mesh, picturesPlaces(before[1].mesh))).toBeLessThan(6);
    const out = (await follow([drum, dressed, old, ...steps, texture])).at(-1)!;
    expect([out.error, out.warnings]).toEqual([undefined, []]);
    expect(worst(out.mesh, out.mesh.textures!.images().color)).toBeLessThan(8);
    expect([out.figures.carried, out.figures.faces]).toEqual([out.mesh.faceCount, out.mesh.faceCount]);
    // Without being carried it would be anything.
    const not = (
      await follow([drum, dressed, old, ...steps, { ...texture, values: { ...texture.values, pictures: '' } }])
    ).at(-1)!;
    expect(worst(not.mesh, not.mesh.textures!.images().color)).toBeGreaterThan(60);
  },
);

test('what was not there before has its plain colour, and is told; so is what cannot be read, and a step that is gone', async () => {
  files.set('sha', encode({ ...picture(8, () => [255, 0, 0, 255]), channels: 4 }));
  const { mesh } = (await follow([drum, dressed, old])).at(-1)!;
  const pick = { kind: 'face', keys: [mesh.faceKey[mesh.faceCount - 1]] };
  const move = {
    id: 'm',
    tool: 'extrude',
    pick,
    values: { ...defaultsOf({}), by: 0.4, along: 'normals', inset: 0.02 },
  };
  const added = (await follow([drum, dressed, old, step('shape', { moves: [move] }), anew(), texture])).at(-1)!;
  const without = added.figures.faces - added.figures.carried;
  expect(without).toBeGreaterThan(0);
  expect(without).toBeLessThan(12);
  expect(added.warnings.map((w) => w.text)).toEqual([expect.stringContaining(`${without} of ${added.mesh.faceCount}`)]);
  const more = (await follow([drum, dressed, old, step('subdivide', { levels: 0 }), anew(), texture])).at(-1)!;
  expect(more.warnings).toEqual([]);
  const gone = (await follow([drum, dressed, anew(), texture])).at(-1)!;
  expect(gone.warnings.map((w) => w.text)).toEqual([expect.stringContaining('step is gone')]);
  files.set('sha', new Uint8Array([1, 2, 3]));
  const broken = (await follow([drum, dressed, old, anew(), texture])).at(-1)!;
  expect(broken.error).toBeUndefined();
  expect(broken.warnings.map((w) => w.text)).toEqual([expect.stringContaining('plain colour')]);
  const { color } = broken.mesh.textures!.images();
  expect(new Set(Array.from({ length: SIZE * SIZE }, (_, i) => color.data[4 * i]))).toEqual(new Set([0x80, 179]));
  files.delete('sha');
  expect((await follow([drum, dressed, old, anew(), texture])).at(-1)!.warnings[0].text).toContain('not there');
});
