/** What is done at once on the sheet does not make an island lie on itself, nor leave the sheet, without saying so. */
import { box, cubeSphere, cylinder } from '../../make/primitives';
import { meshFrom, UV, type Mesh } from '../../mesh/mesh';
import { topologyOf } from '../../mesh/topology';
import { animal, scanned } from '../../testing/organic';
import { UNWRAPPING, allFaces, uvOf } from '../../testing/unwrapping';
import { uvFigures } from '../measure';
import { unwrapMesh } from '../unwrap';
import { editSheet, type EditName } from '.';
import { bordersOf, SheetEdit } from './sheet';

const withUv = (m: Mesh, data: Float32Array): Mesh => m.withAttribute(UV, { domain: 'corner', width: 2, data });
const flat = (m: Mesh): Mesh => unwrapMesh(m, UNWRAPPING).mesh;
const done = (m: Mesh, name: EditName, o: Partial<Parameters<typeof editSheet>[2]> = {}) =>
  editSheet(m, name, { faces: allFaces(m), edges: [], texels: 1024, ...o });

/** A ramp of quads that winds up by so many turns; it is laid as a straight band. */
function ramp(turns: number): Mesh {
  const [long, wide] = [Math.round(48 * turns), 4];
  const places: number[] = [];
  const band: [number, number][] = [];
  for (let i = 0; i <= long; i++)
    for (let j = 0; j <= wide; j++) {
      const [a, r] = [(2 * Math.PI * i) / 48, 1 + j / wide];
      places.push(r * Math.cos(a), 0.05 * a, r * Math.sin(a));
      band.push([0.05 + (0.9 * i) / long, 0.5 + (0.09 * j) / wide / turns]);
    }
  const at = (i: number, j: number): number => i * (wide + 1) + j;
  const faces = Array.from({ length: long * wide }, (_, k) => {
    const [i, j] = [Math.floor(k / wide), k % wide];
    return [at(i, j), at(i, j + 1), at(i + 1, j + 1), at(i + 1, j)];
  });
  const mesh = meshFrom(places, faces);
  return withUv(mesh, Float32Array.from(Array.from(mesh.cornerVertex).flatMap((v) => band[v])));
}

const relaxedRamp = (turns: number, name: EditName) => {
  const m = ramp(turns);
  const figures = [uvOf(m), done(m, name).uv].map((uv) => uvFigures(m, uv));
  expect(figures[1]).toMatchObject({ flips: 0, overlap: 0, outside: 0 });
  return figures.map((f) => f.stretchMean);
};

test.each(['relax angles', 'relax lengths'] as const)(
  '%s: a band that is bent on the surface is bent on the sheet',
  (name) => {
    const [before, after] = relaxedRamp(0.6, name);
    expect(before).toBeGreaterThan(1.15);
    expect(after).toBeLessThan(1.02);
  },
);

test('one that winds more than once round would lie on itself by its angles, and stays; by lengths it comes nearer', () => {
  const m = ramp(1.7);
  const kept = uvOf(m).slice();
  expect(() => done(m, 'relax angles')).toThrow('some of it would lie on the rest of it: it stays as it is.');
  expect(uvOf(m)).toEqual(kept);
  const [before, after] = relaxedRamp(1.7, 'relax lengths');
  expect(after).toBeLessThan(before);
});

test('of several islands those that can be are laid anew, and it is said of how many that is not so', () => {
  const [half, whole] = [ramp(0.6), ramp(1.7)];
  const both = meshFrom(
    [...half.positions, ...Array.from(whole.positions, (x, k) => x + (k % 3 === 1 ? 9 : 0))],
    [half, whole].flatMap((m, k) =>
      allFaces(m).map((f) =>
        Array.from(m.cornerVertex.subarray(m.faceStart[f], m.faceStart[f + 1]), (v) => v + k * half.vertexCount),
      ),
    ),
  );
  const m = withUv(both, Float32Array.from([...uvOf(half), ...uvOf(whole).map((x, k) => x + (k % 2) * 0.2)]));
  const out = done(m, 'relax angles');
  expect(out.told).toBe(
    'Laid anew, some of it would lie on the rest of it: so of 1 of 2 islands, which stay as they are.',
  );
  const own = 2 * half.cornerCount;
  expect(out.uv.subarray(own)).toEqual(uvOf(m).subarray(own));
  expect(out.uv.subarray(0, own)).not.toEqual(uvOf(m).subarray(0, own));
});

test('what lies mirrored is relaxed mirrored', () => {
  const drum = flat(
    cylinder({ radius: 0.5, topRadius: 0.5, height: 2, sides: 24, rows: 6, cap: 'polygon', onGround: false }, 2),
  );
  const bent = uvOf(drum).map((x, i) => (i % 2 === 0 ? 1 - x : x + 0.02 * Math.sin(9 * uvOf(drum)[i - 1])));
  const m = withUv(drum, bent);
  for (const name of ['relax angles', 'relax lengths', 'relax within'] as const) {
    const out = done(m, name);
    for (let f = 0; f < m.faceCount; f++) {
      const corners = new SheetEdit(m).cornersOf([f]);
      let area = 0;
      corners.forEach((a, k) => {
        const b = corners[(k + 1) % corners.length];
        area += out.uv[2 * a] * out.uv[2 * b + 1] - out.uv[2 * b] * out.uv[2 * a + 1];
      });
      expect(area).toBeLessThan(0);
    }
    expect(uvFigures(m, out.uv).stretchMean).toBeLessThan(uvFigures(m, bent).stretchMean + 1e-6);
  }
});

test('within a border that folds a conformal map it is relaxed from where it lies', () => {
  const m = ramp(0.9);
  const out = done(m, 'relax within');
  expect(uvFigures(m, out.uv)).toMatchObject({ flips: 0, overlap: 0, outside: 0 });
});

test('islands of a broken body are relaxed, straightened, put on texels: none comes to lie on itself or leaves', () => {
  const m = unwrapMesh(scanned(animal(8), 5, 0.004, 0.03), { ...UNWRAPPING, stretch: 1.1 }).mesh;
  const s = new SheetEdit(m);
  for (const name of ['relax angles', 'relax lengths', 'relax within', 'texels'] as const)
    for (const island of s.islandsWith(allFaces(m))) {
      const own = [...s.facesOf(island)];
      const { uv } = ((): { uv: Float32Array } => {
        try {
          return done(m, name, { faces: own, texels: 512 });
        } catch (e) {
          expect((e as Error).message).toMatch(/stays as it is\.$/);
          return { uv: uvOf(m) };
        }
      })();
      // Alone on the sheet, so that what lies twice is of it.
      const alone = uv.map((x, i) => (s.of[topologyOf(m).cornerFace[i >> 1]] === island ? x : 0));
      const f = uvFigures(m, alone, 2048);
      expect([name, island, f.flips, f.overlap, f.outside]).toEqual([name, island, 0, 0, 0]);
    }
});

test('corners of what is finer than texels are not put on them; of what is coarser they are', () => {
  const ball = flat(cubeSphere({ radius: 1, cuts: 12 }, 1));
  expect(() => done(ball, 'texels', { texels: 16 })).toThrow('With its corners on whole texels');
  const fine = done(ball, 'texels', { texels: 4096 });
  expect(fine.told).toBeUndefined();
  for (const x of fine.uv) expect(Math.abs(4096 * x - Math.round(4096 * x))).toBeLessThan(1e-3);
});

test('laid as it is seen it stays on the sheet it was on', () => {
  const ball = flat(cubeSphere({ radius: 1, cuts: 6 }, 1));
  const second = withUv(
    ball,
    uvOf(ball).map((x, i) => (i % 2 === 0 ? x + 1 : x)),
  );
  for (const [m, sheet] of [
    [ball, 0],
    [second, 1],
  ] as const)
    for (const name of ['from one side', 'from six sides', 'round an axis', 'round a middle'] as const) {
      const { uv } = done(m, name);
      uv.forEach((x, i) => {
        expect(x).toBeGreaterThan((i % 2 === 0 ? sheet : 0) - 1e-5);
        expect(x).toBeLessThan((i % 2 === 0 ? sheet : 0) + 1 + 1e-5);
      });
    }
});

describe('edges', () => {
  const cube = flat(box({ width: 1, height: 1, depth: 1, cutX: 2, cutY: 2, cutZ: 2, onGround: false }, 1));
  const t = topologyOf(cube);
  const borders = bordersOf(cube, uvOf(cube));
  const seams = Array.from(borders.keys()).filter((e) => borders[e] === 1);

  test('what they are of is told as changed, with nothing else picked', () => {
    const s = new SheetEdit(cube);
    for (const name of ['sew', 'level'] as const) {
      const { uv, faces } = done(cube, name, { faces: [], edges: seams.slice(0, 1) });
      const told = new Set(faces);
      for (let c = 0; c < cube.cornerCount; c++)
        if (!told.has(t.cornerFace[c])) expect([uv[2 * c], uv[2 * c + 1]]).toEqual([s.uv[2 * c], s.uv[2 * c + 1]]);
      expect(told.size).toBeGreaterThan(0);
    }
  });

  test('sewn so that islands lie on each other, or over the edge of the sheet, it says so', () => {
    const inMiddle = uvOf(cube).map((x) => 0.4 + 0.1 * x);
    expect(done(withUv(cube, inMiddle), 'sew', { faces: [], edges: seams.slice(0, 1) }).told).toBeUndefined();
    // All six sides by all their edges: they come on each other.
    expect(done(withUv(cube, inMiddle), 'sew', { faces: [], edges: seams }).told).toContain(
      'lies on itself or on others',
    );
    const atEdge = uvOf(cube).map((x) => 0.99 * x);
    const over = seams.map((e) => done(withUv(cube, atEdge), 'sew', { faces: [], edges: [e] }).told ?? '');
    expect(over.some((x) => x.includes('reaches over the edge of the sheet'))).toBe(true);
  });
});

test('spread, islands stay within the room that they took, a wide one between narrow ones too', () => {
  const bar = (x: number, y: number, wide: number): number[] => [x, y, x + wide, y, x + wide, y + 0.1, x, y + 0.1];
  const uv = [...bar(0.3, 0.1, 0.02), ...bar(0.05, 0.4, 0.9), ...bar(0.6, 0.7, 0.02), ...bar(0.5, 0.8, 0.4)];
  const mesh = meshFrom(
    Array.from({ length: 16 }, (_, v) => [uv[2 * v], uv[2 * v + 1], 0]).flat(),
    [0, 1, 2, 3].map((k) => [4 * k, 4 * k + 1, 4 * k + 2, 4 * k + 3]),
  );
  const out = done(withUv(mesh, Float32Array.from(uv)), 'spread across').uv;
  for (let i = 0; i < out.length; i += 2) {
    expect(out[i]).toBeGreaterThan(0.05 - 1e-5);
    expect(out[i]).toBeLessThan(0.95 + 1e-5);
  }
});
