import fc from 'fast-check';
import { keyOf } from '../math/hash';
import { box, cubeSphere, cylinder, plane, ringSphere } from '../make/primitives';
import { closedBody } from '../testing/arbitrary';
import { UNWRAPPING } from '../testing/unwrapping';
import { areaOf } from '../mesh/measure';
import { meshFrom, type Mesh } from '../mesh/mesh';
import { edgeKeys } from '../mesh/picks';
import { triangulate } from '../mesh/triangulate';
import { topologyOf } from '../mesh/topology';
import { loopCut } from '../edit/loopcut';
import { fillTriangle } from './raster';
import { coverageOf, uvFigures } from './measure';
import { pinsOf } from './follow/placed';
import { unwrapMesh, type UnwrapOptions } from './unwrap';

const id = keyOf('t');
const options: UnwrapOptions = {
  cut: new Set(),
  hold: new Set(),
  seamAngle: Math.PI / 4,
  size: 1024,
  padding: 8,
  density: 0,
  turn: true,
};
const uvOf = (m: Mesh) => m.attributes.uv.data as Float32Array;

describe('raster', () => {
  test('triangles that share edges never share a pixel and leave none out', () => {
    fc.assert(
      fc.property(
        fc.array(fc.tuple(fc.double({ min: 1, max: 62, noNaN: true }), fc.double({ min: 1, max: 62, noNaN: true })), {
          minLength: 1,
          maxLength: 1,
        }),
        ([[x, y]]) => {
          const hits = new Uint8Array(64 * 64);
          const corners = [
            [0, 0],
            [64, 0],
            [64, 64],
            [0, 64],
          ];
          for (let i = 0; i < 4; i++)
            fillTriangle(
              corners[i][0],
              corners[i][1],
              corners[(i + 1) % 4][0],
              corners[(i + 1) % 4][1],
              x,
              y,
              64,
              64,
              (row, a, b) => {
                for (let q = a; q <= b; q++) hits[row * 64 + q]++;
              },
            );
          expect(hits.every((h) => h === 1)).toBe(true);
        },
      ),
      { numRuns: 200 },
    );
  });
  test('coverage, overlap and outside of a square drawn twice, half out', () => {
    const m = meshFrom(
      [0, 0, 0, 1, 0, 0, 1, 1, 0, 0, 1, 0],
      [
        [0, 1, 2, 3],
        [0, 1, 2, 3],
      ],
    );
    const square = [0.5, 0.25, 1.5, 0.25, 1.5, 0.75, 0.5, 0.75];
    const c = coverageOf(Float32Array.from([...square, ...square]), triangulate(m), 2048);
    expect(c.coverage).toBeCloseTo(0.25, 3);
    expect(c.overlap).toBeCloseTo(0.25, 3);
    expect(c.outside).toBeCloseTo(0.5, 6);
  });
});

describe('unwrap', () => {
  test('a cube opens into six squares without stretch, all of one density', () => {
    const out = unwrapMesh(
      box({ width: 1, height: 1, depth: 1, cutX: 2, cutY: 2, cutZ: 2, onGround: true }, id),
      options,
    );
    expect(out.islands).toBe(6);
    const f = uvFigures(out.mesh, uvOf(out.mesh));
    expect(f).toMatchObject({ islands: 6, overlap: 0, outside: 0 });
    expect(f.stretchMax).toBeCloseTo(1, 3);
    expect(f.texelDensityMax / f.texelDensityMin).toBeCloseTo(1, 3);
    expect(f.coverage).toBeGreaterThan(0.55);
  });
  test('area on the sheet = density² × surface, for bodies that lie flat', () => {
    for (const m of [
      box({ width: 3, height: 1, depth: 2, cutX: 1, cutY: 1, cutZ: 1, onGround: true }, id),
      plane({ width: 2, depth: 5, cutX: 4, cutZ: 4 }, id),
      cylinder({ radius: 1, topRadius: 1, height: 2, sides: 24, rows: 3, cap: 'polygon', onGround: true }, id),
    ]) {
      const out = unwrapMesh(m, options);
      const f = uvFigures(out.mesh, uvOf(out.mesh));
      const density = out.density / 1024;
      expect(f.coverage / (density * density * areaOf(m))).toBeCloseTo(1, 1);
      expect(f.texelDensityMin / density).toBeCloseTo(1, 2);
      expect(f.texelDensityMax / density).toBeCloseTo(1, 2);
      expect(f.overlap).toBe(0);
      expect(f.stretchMax).toBeLessThan(1.01);
    }
  });
  test('a seamless tube is slit along the shortest way; a ring that lies flat is not', () => {
    const tube = unwrapMesh(
      cylinder({ radius: 0.2, topRadius: 0.2, height: 2, sides: 16, rows: 8, cap: 'open', onGround: true }, id),
      options,
    );
    expect(tube.islands).toBe(1);
    expect(uvFigures(tube.mesh, uvOf(tube.mesh)).stretchMax).toBeLessThan(1.01);
    const dish = unwrapMesh(
      cylinder({ radius: 1, topRadius: 0.6, height: 0.02, sides: 32, rows: 1, cap: 'open', onGround: true }, id),
      options,
    );
    expect(
      uvFigures(dish.mesh, uvOf(dish.mesh)).texelDensityMax / uvFigures(dish.mesh, uvOf(dish.mesh)).texelDensityMin,
    ).toBeLessThan(1.1);
  });
  test('marks: cut parts, hold keeps together against the angle', () => {
    const cube = box({ width: 1, height: 1, depth: 1, cutX: 1, cutY: 1, cutZ: 1, onGround: true }, id);
    const all = new Set(Array.from({ length: 12 }, (_, e) => e));
    expect(unwrapMesh(cube, { ...options, seamAngle: Infinity, cut: all }).islands).toBe(6);
    expect(unwrapMesh(cube, { ...options, hold: new Set([0]) }).islands).toBe(5);
  });
  test('a closed sphere without seams is parted by itself, angles kept', () => {
    for (const m of [cubeSphere({ radius: 1, cuts: 8 }, id), ringSphere({ radius: 1, sides: 32, rings: 16 }, id)]) {
      const out = unwrapMesh(m, { ...options, seamAngle: Infinity });
      const f = uvFigures(out.mesh, uvOf(out.mesh));
      expect(out.islands).toBeGreaterThan(1);
      expect(f.overlap).toBeLessThan(0.001);
      expect(f.stretchMean).toBeLessThan(1.1);
    }
  });
  test('padding: no two islands come nearer than asked', () => {
    const m = unwrapMesh(box({ width: 1, height: 2, depth: 3, cutX: 1, cutY: 1, cutZ: 1, onGround: true }, id), {
      ...options,
      size: 256,
      padding: 12,
    }).mesh;
    const uv = uvOf(m);
    const boxes = Array.from({ length: 6 }, (_, f) => {
      const xs = [0, 1, 2, 3].map((k) => uv[2 * (4 * f + k)] * 256);
      const ys = [0, 1, 2, 3].map((k) => uv[2 * (4 * f + k) + 1] * 256);
      return [Math.min(...xs), Math.min(...ys), Math.max(...xs), Math.max(...ys)];
    });
    boxes.forEach((a, i) =>
      boxes.forEach((b, j) => {
        if (i >= j) return;
        const gap = Math.max(a[0] - b[2], b[0] - a[2], a[1] - b[3], b[1] - a[3]);
        expect(gap).toBeGreaterThan(11.9);
      }),
    );
    for (const b of boxes) {
      expect(b[0]).toBeGreaterThan(5.9);
      expect(b[3]).toBeLessThan(250.1);
    }
  });
  test('a wanted density is met exactly, or said not to fit', () => {
    const m = plane({ width: 1, depth: 1, cutX: 2, cutZ: 2 }, id);
    const out = unwrapMesh(m, { ...options, density: 500 });
    expect(out).toMatchObject({ tooDense: false });
    expect(uvFigures(out.mesh, uvOf(out.mesh)).texelDensityMin * 1024).toBeCloseTo(500, 1);
    expect(unwrapMesh(m, { ...options, density: 5000 }).tooDense).toBe(true);
  });
  test('what was placed by hand stays by key when the model is cut upstream; the rest keeps off it', () => {
    const cube = box({ width: 1, height: 1, depth: 1, cutX: 1, cutY: 1, cutZ: 1, onGround: true }, id);
    const face = 2;
    const s = cube.faceStart[face];
    const places = [0.6, 0.6, 0.9, 0.6, 0.9, 0.9, 0.6, 0.9];
    const placed = {
      face: Array(4).fill(cube.faceKey[face]),
      vertex: [0, 1, 2, 3].map((k) => cube.vertexKey[cube.cornerVertex[s + k]]),
      uv: places,
    };
    const first = unwrapMesh(cube, { ...options, pins: pinsOf(cube, placed).at });
    expect(Array.from(uvOf(first.mesh).subarray(2 * s, 2 * s + 8))).toEqual(places.map(Math.fround));
    expect(uvFigures(first.mesh, uvOf(first.mesh)).overlap).toBe(0);
    const edge = topologyOf(cube).cornerEdge[s];
    const cut = loopCut(cube, [edge], { count: 1, slide: 0 }, 5);
    const pins = pinsOf(cut, placed);
    const again = unwrapMesh(cut, { ...options, pins: pins.at });
    expect(pins.lost).toEqual([]);
    const uv = uvOf(again.mesh);
    for (let k = 0; k < 4; k++) {
      const v = cut.vertexKey.indexOf(placed.vertex[k]);
      const corners = Array.from({ length: cut.cornerCount }, (_, c) => c).filter((c) => cut.cornerVertex[c] === v);
      expect(
        corners.some(
          (c) => Math.abs(uv[2 * c] - places[2 * k]) < 1e-6 && Math.abs(uv[2 * c + 1] - places[2 * k + 1]) < 1e-6,
        ),
      ).toBe(true);
    }
    expect(uvFigures(again.mesh, uv).stretchMax).toBeLessThan(1.01);
  });
  test('packing keeps shapes made by hand, at one density with the rest', () => {
    const cube = box({ width: 1, height: 1, depth: 1, cutX: 1, cutY: 1, cutZ: 1, onGround: true }, id);
    const s = cube.faceStart[2];
    // A square drawn out to a strip, twice as long as wide.
    const placed = {
      face: Array(4).fill(cube.faceKey[2]),
      vertex: [0, 1, 2, 3].map((k) => cube.vertexKey[cube.cornerVertex[s + k]]),
      uv: [0, 0, 0.8, 0, 0.8, 0.4, 0, 0.4],
    };
    const out = unwrapMesh(cube, { ...options, pins: pinsOf(cube, placed).at, repack: true });
    const f = uvFigures(out.mesh, uvOf(out.mesh));
    expect(f).toMatchObject({ overlap: 0, outside: 0 });
    expect(f.stretchMax).toBeCloseTo(2, 2);
    expect(f.texelDensityMax / f.texelDensityMin).toBeCloseTo(1, 2);
  });
  test('any closed body: finite, inside, no overlap worth a pixel', () => {
    fc.assert(
      fc.property(closedBody, fc.double({ min: 0.3, max: 3.2, noNaN: true }), (m, seamAngle) => {
        const out = unwrapMesh(m, { ...options, seamAngle });
        const uv = uvOf(out.mesh);
        expect(uv.every((x) => x >= 0 && x <= 1)).toBe(true);
      }),
      { numRuns: 24 },
    );
  });
  test('an empty mesh and a mesh without area are no harm', () => {
    expect(unwrapMesh(meshFrom([], []), options).islands).toBe(0);
    const line = meshFrom([0, 0, 0, 1, 0, 0, 2, 0, 0], [[0, 1, 2]]);
    expect(uvOf(unwrapMesh(line, options).mesh).every(Number.isFinite)).toBe(true);
  });
  test('seam keys of the same mesh give the same sheet, byte for byte', () => {
    const m = cubeSphere({ radius: 1, cuts: 4 }, id);
    expect(uvOf(unwrapMesh(m, options).mesh)).toEqual(uvOf(unwrapMesh(m, options).mesh));
    expect(edgeKeys(m).length).toBe(192);
  });
});

test('faces placed by hand stay where they were put, though a change made most of their island new', () => {
  const sheet = plane({ width: 6, depth: 6, cutX: 6, cutZ: 6 }, 1);
  const uv = unwrapMesh(sheet, UNWRAPPING).mesh.attributes.uv.data;
  const pins = new Map<number, readonly [number, number]>();
  for (const f of [0, 1, 6, 7])
    for (let c = sheet.faceStart[f]; c < sheet.faceStart[f + 1]; c++)
      pins.set(c, [uv[2 * c] / 4 + 0.7, uv[2 * c + 1] / 4]);
  const made = unwrapMesh(sheet, { ...UNWRAPPING, pins }).mesh;
  for (const [c, [u, v]] of pins) {
    expect(uvOf(made)[2 * c]).toBeCloseTo(u, 6);
    expect(uvOf(made)[2 * c + 1]).toBeCloseTo(v, 6);
  }
  expect(uvFigures(made, uvOf(made))).toMatchObject({ flips: 0, overlap: 0, outside: 0, islands: 2 });
});
