import fc from 'fast-check';
import { box, plane } from '../../make/primitives';
import { meshFrom, type Mesh } from '../../mesh/mesh';
import { topologyOf } from '../../mesh/topology';
import { gears, lumpyBall } from '../../testing/organic';
import { UNWRAPPING, uvOf } from '../../testing/unwrapping';
import { islandsOf, shareBeyond, uvFigures } from '../measure';
import { outlineOf } from './cells/outline';
import { onTexels } from './pixels';
import { crowdedSentence } from './sheets';
import { standing } from './standing';
import { unwrapMesh, type UnwrapOptions } from '../unwrap';

const BASE: UnwrapOptions = { ...UNWRAPPING, size: 256 };
const crate = box({ width: 0.61, height: 0.37, depth: 0.53, cutX: 3, cutY: 2, cutZ: 2, onGround: false }, 1);
/** Edges round the upper side of the crate. */
function lidEdges(): number[] {
  const t = topologyOf(crate);
  const top = (v: number): boolean => crate.positions[3 * v + 1] > 0.37 / 2 - 1e-6;
  const rim = (v: number): boolean =>
    Math.abs(crate.positions[3 * v]) > 0.61 / 2 - 1e-6 || Math.abs(crate.positions[3 * v + 2]) > 0.53 / 2 - 1e-6;
  return Array.from({ length: t.edgeCount }, (_, e) => e).filter((e) =>
    [0, 1].every((k) => top(t.edgeVertex[2 * e + k]) && rim(t.edgeVertex[2 * e + k])),
  );
}
const square = (w: number, h: number, turn: number): Float64Array =>
  Float64Array.from(
    [0, 0, w, 0, w, h, 0, h].map((_, i, p) =>
      i % 2 === 0
        ? p[i] * Math.cos(turn) - p[i + 1] * Math.sin(turn)
        : p[i - 1] * Math.sin(turn) + p[i] * Math.cos(turn),
    ),
  );
const TWO = Uint32Array.from([0, 1, 2, 0, 2, 3]);

describe('on whole texels', () => {
  test('any rectangle, however it is turned, is as wide and high as the nearest whole texels, one at least', () => {
    const side = fc.double({ min: 0.1, max: 90, noNaN: true });
    fc.assert(
      fc.property(side, side, fc.double({ min: -3.1, max: 3.1, noNaN: true }), (w, h, turn) => {
        const p = square(w, h, turn);
        const out = onTexels(p, TWO, outlineOf(p, TWO));
        for (const x of out) expect(Number.isInteger(x)).toBe(true);
        const size = [0, 1].map((k) => Math.max(...[0, 1, 2, 3].map((v) => out[2 * v + k]))).sort((a, b) => a - b);
        const wanted = [w, h].map((x) => Math.max(1, Math.round(x))).sort((a, b) => a - b);
        expect(Math.abs(size[0] - wanted[0])).toBeLessThanOrEqual(1e-6 + (w % 1 === 0.5 || h % 1 === 0.5 ? 1 : 0));
        expect(Math.abs(size[1] - wanted[1])).toBeLessThanOrEqual(1e-6 + (w % 1 === 0.5 || h % 1 === 0.5 ? 1 : 0));
      }),
      { numRuns: 200 },
    );
  });

  test('a face that lies aslant between two lines is not folded by them', () => {
    // A vertex within that is next to the lower side, and one just above what goes to that side.
    const p = Float64Array.from([0, 0, 90.4, 0, 90.4, 60.3, 0, 60.3, 30, 0.02, 44.3, 0.045, 58, 0.06]);
    const faces = Uint32Array.from([0, 5, 4, 0, 6, 5, 0, 1, 6, 1, 2, 6, 6, 2, 5, 2, 3, 5, 5, 3, 4, 3, 0, 4]);
    const area = (q: Float64Array, t: number): number => {
      const [a, b, c] = [2 * faces[t], 2 * faces[t + 1], 2 * faces[t + 2]];
      return (q[b] - q[a]) * (q[c + 1] - q[a + 1]) - (q[b + 1] - q[a + 1]) * (q[c] - q[a]);
    };
    const out = onTexels(p, faces, outlineOf(p, faces));
    for (let t = 0; t < faces.length; t += 3) expect(area(p, t) * area(out, t)).toBeGreaterThanOrEqual(0);
    const size = [0, 1].map((k) => Math.max(...[0, 1, 2, 3].map((v) => out[2 * v + k])));
    expect(size).toEqual([90, 60]);
    // What has no right angles has no lines either: what lies near its end is not drawn onto that.
    const slanted = Float64Array.from([0, 0, 40, 0.03, 80.4, 0, 60, 40, 20, 40]);
    const own = Uint32Array.from([0, 2, 1, 0, 1, 4, 1, 3, 4, 1, 2, 3]);
    const laid = onTexels(slanted, own, outlineOf(slanted, own));
    expect(laid[3]).toBeGreaterThan(0);
    expect(laid[3]).toBeLessThan(0.04);
  });

  test.each([
    ['a crate', 4, [], 1],
    ['a crate, an odd number of texels between', 3, [], 1],
    ['a crate whose lid is cut off', 2, lidEdges(), 2],
  ] as const)(
    '%s lies as a cross: every corner on a texel, sides straight, nothing flipped or twice',
    (_, padding, cut, n) => {
      const made = unwrapMesh(crate, { ...BASE, padding, pixels: true, cut: new Set(cut) }).mesh;
      const uv = uvOf(made);
      for (const x of uv) expect(Math.abs(x * 256 - Math.round(x * 256))).toBe(0);
      for (let f = 0; f < made.faceCount; f++)
        for (let c = made.faceStart[f]; c < made.faceStart[f + 1]; c++) {
          const n = c + 1 < made.faceStart[f + 1] ? c + 1 : made.faceStart[f];
          expect(Math.abs((uv[2 * c] - uv[2 * n]) * (uv[2 * c + 1] - uv[2 * n + 1]))).toBe(0);
        }
      expect(uvFigures(made, uv, 256)).toMatchObject({ flips: 0, overlap: 0, outside: 0, islands: n });
    },
  );

  test('what is round keeps its shape, and begins on a texel', () => {
    const made = unwrapMesh(lumpyBall(8), { ...BASE, pixels: true }).mesh;
    const uv = uvOf(made);
    const f = uvFigures(made, uv, 256);
    expect(f).toMatchObject({ flips: 0, overlap: 0, outside: 0 });
    const { ofFace, count } = islandsOf(made, uv);
    for (let i = 0; i < count; i++)
      for (const k of [0, 1]) {
        let [lo, hi] = [Infinity, -Infinity];
        for (let g = 0; g < made.faceCount; g++)
          for (let c = made.faceStart[g]; ofFace[g] === i && c < made.faceStart[g + 1]; c++) {
            lo = Math.min(lo, uv[2 * c + k] * 256);
            hi = Math.max(hi, uv[2 * c + k] * 256);
          }
        expect(Math.abs(lo - Math.round(lo))).toBeLessThan(1e-3);
        expect(Math.abs(hi - Math.round(hi))).toBeLessThan(1e-3);
      }
  });
});

describe('several sheets', () => {
  test('all of them are used, nothing lies across two, and texels are finer for it', () => {
    const mesh = gears(14);
    const [one, three] = [1, 3].map((sheets) => unwrapMesh(mesh, { ...BASE, size: 512, sheets }));
    expect(three.density).toBeGreaterThan(1.2 * one.density);
    const uv = uvOf(three.mesh);
    const { ofFace, count } = islandsOf(three.mesh, uv);
    const sheetOf = new Int32Array(count).fill(-1);
    for (let f = 0; f < mesh.faceCount; f++)
      for (let c = mesh.faceStart[f]; c < mesh.faceStart[f + 1]; c++) {
        const sheet = Math.floor(uv[2 * c]);
        if (sheetOf[ofFace[f]] < 0) sheetOf[ofFace[f]] = sheet;
        expect(sheetOf[ofFace[f]]).toBe(sheet);
      }
    expect(new Set(sheetOf)).toEqual(new Set([0, 1, 2]));
    const f = uvFigures(three.mesh, uv, 512, 3);
    expect(f.overlap).toBe(0);
    expect(f.outside).toBeLessThan(1e-9);
    expect(f.texelDensityMax / f.texelDensityMin).toBeLessThan(1.02);
  });

  test.each([
    ['with the rest left where it lies', false],
    ['packed anew', true],
    ['on whole texels', true],
  ])('what was placed by hand on the second sheet is not laid over, %s', (how, repack) => {
    const o = { ...BASE, sheets: 2, size: 512, pixels: how === 'on whole texels' };
    const mesh = gears(10);
    const first = unwrapMesh(mesh, o).mesh;
    const uv = uvOf(first);
    const { ofFace } = islandsOf(first, uv);
    const faces = Array.from(ofFace.keys());
    const pins = new Map<number, readonly [number, number]>();
    const laid = new Set<number>();
    for (const f of faces)
      for (let c = mesh.faceStart[f]; ofFace[f] < 6 && c < mesh.faceStart[f + 1]; c++) {
        // Six islands in the middle of the second sheet, where others lie.
        laid.add(f);
        pins.set(c, [1.2 + 0.1 * ofFace[f] + 0.1 * (uv[2 * c] % 1), 0.4 + 0.1 * uv[2 * c + 1]]);
      }
    const made = unwrapMesh(mesh, { ...o, pins, repack, locked: laid }).mesh;
    const now = uvOf(made);
    for (const [c, [u, v]] of pins) expect(Math.hypot(now[2 * c] - u, now[2 * c + 1] - v)).toBeLessThan(1e-6);
    expect(uvFigures(made, now, 1024, 2)).toMatchObject({ overlap: 0, outside: 0 });
    // The others lie on both sheets.
    const rest = faces.filter((f) => !laid.has(f)).map((f) => Math.floor(now[2 * mesh.faceStart[f]]));
    expect(new Set(rest)).toEqual(new Set([0, 1]));
  });

  test('more sheets than islands', () => {
    const one = plane({ width: 1, depth: 1, cutX: 2, cutZ: 2 }, 1);
    const made = unwrapMesh(one, { ...BASE, sheets: 9 }).mesh;
    expect(uvFigures(made, uvOf(made), 64, 9)).toMatchObject({ islands: 1, outside: 0 });
  });
});

describe('locked, and standing', () => {
  test('what is locked stays where it was put when the rest is packed anew; what is not, does not', () => {
    const first = unwrapMesh(crate, BASE).mesh;
    const uv = uvOf(first);
    const { ofFace } = islandsOf(first, uv);
    const pins = new Map<number, readonly [number, number]>();
    for (let f = 0; f < crate.faceCount; f++)
      for (let c = crate.faceStart[f]; ofFace[f] < 2 && c < crate.faceStart[f + 1]; c++)
        pins.set(c, [uv[2 * c] * 0.5 + 0.3, uv[2 * c + 1] * 0.5 + 0.3]);
    const faces = Array.from(ofFace.keys());
    const locked = new Set([faces.find((f) => ofFace[f] === 0)!]);
    const again = uvOf(unwrapMesh(crate, { ...BASE, pins, repack: true, locked }).mesh);
    const off = (k: number): number => {
      let most = 0;
      for (const f of faces)
        for (let c = crate.faceStart[f]; ofFace[f] === k && c < crate.faceStart[f + 1]; c++)
          most = Math.max(most, Math.abs(again[2 * c] - pins.get(c)![0]), Math.abs(again[2 * c + 1] - pins.get(c)![1]));
      return most;
    };
    expect(off(0)).toBeLessThan(1e-6);
    expect(off(1)).toBeGreaterThan(0.05);
    const made = unwrapMesh(crate, { ...BASE, pins, repack: true, locked }).mesh;
    expect(uvFigures(made, uvOf(made), 512).overlap).toBe(0);
  });

  test('walls that stand have above what is above', () => {
    const walls = new Set(Array.from({ length: crate.faceCount }, (_, f) => f));
    const made = unwrapMesh(crate, { ...BASE, upright: walls }).mesh;
    const uv = uvOf(made);
    for (let f = 0; f < made.faceCount; f++)
      for (let c = made.faceStart[f]; c + 1 < made.faceStart[f + 1]; c++) {
        const [a, b] = [made.cornerVertex[c], made.cornerVertex[c + 1]];
        const up = made.positions[3 * b + 1] - made.positions[3 * a + 1];
        if (Math.abs(up) > 1e-6) expect(Math.sign(uv[2 * c + 3] - uv[2 * c + 1])).toBe(Math.sign(up));
      }
  });

  test('what lies level keeps its turn', () => {
    const p = square(2, 1, 0.4);
    const flat = Float64Array.from([0, 0, 0, 2, 0, 0, 2, 0, 1, 0, 0, 1]);
    expect(standing(flat, TWO, p)).toBe(p);
  });
});

test('what does not fit with so much between is laid out with less, and that is said', () => {
  const many = gears(12);
  const made = unwrapMesh(many, { ...BASE, size: 64, padding: 32 });
  expect(made.padding).toBeLessThan(32);
  const f = uvFigures(made.mesh, uvOf(made.mesh), 1024);
  expect(f).toMatchObject({ overlap: 0, outside: 0 });
  expect(f.coverage).toBeGreaterThan(0);
  expect(unwrapMesh(crate, BASE).padding).toBe(BASE.padding);
});

test('islands that matter more are twice as fine as the rest, others half; all keep their shape, and none meets another', () => {
  const lid = 0;
  const plain = islandsOf(crate, uvOf(unwrapMesh(crate, BASE).mesh));
  const other = Array.from(plain.ofFace.keys()).find((f) => plain.ofFace[f] !== plain.ofFace[lid])!;
  for (const pixels of [false, true]) {
    const o = { ...BASE, size: 1024, pixels, finer: new Set([lid]), coarser: new Set([other]) };
    const { mesh, density } = unwrapMesh(crate, o);
    const uv = uvOf(mesh);
    const { ofFace } = islandsOf(mesh, uv);
    const texels = new Map<number, number>();
    for (let f = 0; f < mesh.faceCount; f++) {
      const [s, e] = [mesh.faceStart[f], mesh.faceStart[f + 1]];
      const far = (at: (c: number, k: number) => number, n: number): number =>
        Math.hypot(...Array.from({ length: n }, (_, k) => at(s, k) - at(e - 1, k)));
      const flat = 1024 * far((c, k) => uv[2 * c + k], 2);
      texels.set(f, flat / far((c, k) => mesh.positions[3 * mesh.cornerVertex[c] + k], 3));
    }
    for (const [f, by] of texels) {
      let times = 1;
      if (ofFace[f] === ofFace[lid]) times *= 2;
      if (ofFace[f] === ofFace[other]) times /= 2;
      // Whole texels are up to one off at either end.
      expect(Math.abs(by / (times * density) - 1)).toBeLessThan(pixels ? 0.12 : 1e-3);
    }
    expect(uvFigures(mesh, uv)).toMatchObject({ overlap: 0, flips: 0, outside: 0 });
  }
});

describe('more than there is room for', () => {
  const many = (count: number): Mesh =>
    meshFrom(
      Array.from({ length: count }, (_, i) => [2 * i, 0, 0, 2 * i + 1, 0, 0, 2 * i + 1, 0, 1, 2 * i, 0, 1]).flat(),
      Array.from({ length: count }, (_, i) => [4 * i, 4 * i + 1, 4 * i + 2, 4 * i + 3]),
    );
  const SMALL: UnwrapOptions = { ...UNWRAPPING, size: 16, padding: 8 };

  test('islands without a texel each lie apart all the same, and the size that has one for each is told', () => {
    const out = unwrapMesh(many(600), SMALL);
    expect(uvFigures(out.mesh, uvOf(out.mesh))).toMatchObject({ islands: 600, overlap: 0, outside: 0, flips: 0 });
    expect(out).toMatchObject({ padding: 0, size: 32, tooDense: false });
    expect(crowdedSentence(out, SMALL)).toMatch(/^600 islands do not fit 16 px, .* It takes 32 px /);
    expect(crowdedSentence(unwrapMesh(many(5), SMALL), SMALL)).toMatch(
      /^With 8 px between, 5 islands do not fit 16 px/,
    );
    expect(crowdedSentence(unwrapMesh(many(5), UNWRAPPING), UNWRAPPING)).toBeUndefined();
  });

  test('asked for a density they are laid as dense as there is room for', () => {
    const out = unwrapMesh(many(600), { ...SMALL, density: 4 });
    expect(uvFigures(out.mesh, uvOf(out.mesh))).toMatchObject({ islands: 600, overlap: 0, outside: 0 });
    expect(out.density).toBeLessThan(4);
  });

  test('beside an island that fills the sheet there is no room: that is told', () => {
    const pins = new Map<number, [number, number]>();
    [
      [0, 0],
      [1, 0],
      [1, 1],
      [0, 1],
    ].forEach(([x, y], c) => pins.set(c, [x, y]));
    const out = unwrapMesh(many(3), { ...UNWRAPPING, size: 64, pins });
    expect(out.size).toBe(0);
    expect(crowdedSentence(out, UNWRAPPING)).toMatch(/^There is no room left/);
  });

  test('what whole texels draw an island by is told', () => {
    const out = unwrapMesh(lumpyBall(8), { ...UNWRAPPING, stretch: 1.05, size: 16, padding: 0, pixels: true });
    expect(out.beyond).toBeGreaterThan(0.05);
    expect(out.beyond).toBeCloseTo(shareBeyond(out.mesh, uvOf(out.mesh), 1.05), 9);
  });
});
