import fc from 'fast-check';
import { keyOf } from '../math/hash';
import { box, plane } from '../make/primitives';
import { closedBody } from '../testing/arbitrary';
import { areaOf, shapeOf, volumeOf } from '../mesh/measure';
import { edgeKeys, resolve } from '../mesh/picks';
import { topologyOf } from '../mesh/topology';
import { subdivide } from './catmullclark';

const id = keyOf('t');
const cube = box({ width: 2, height: 2, depth: 2, cutX: 1, cutY: 1, cutZ: 1, onGround: false }, id);

test('one level of a cube, by hand: corners at 5/9, edge points at 3/4, face points in place', () => {
  const m = subdivide(cube, { levels: 1 });
  expect(shapeOf(m)).toMatchObject({ vertices: 26, faces: 24, edges: 48, closed: true, oriented: true });
  // Catmull–Clark of valence 3: (F + 2R + 0·P)/3 with F = P/3, R = 2P/3.
  for (let v = 0; v < 8; v++)
    for (let k = 0; k < 3; k++) expect(m.positions[3 * v + k]).toBeCloseTo(cube.positions[3 * v + k] * (5 / 9), 6);
  for (let v = 8; v < 20; v++)
    expect(Math.hypot(...m.positions.subarray(3 * v, 3 * v + 3))).toBeCloseTo(0.75 * Math.SQRT2, 6);
});

test('all edges creased for good: the cube stays a cube', () => {
  const creases = new Map(Array.from(edgeKeys(cube), (k) => [k, Infinity]));
  const m = subdivide(cube, { levels: 3, creases });
  expect(volumeOf(m)).toBeCloseTo(8, 5);
  expect(areaOf(m)).toBeCloseTo(24, 4);
});

test('a sharper crease leaves more of the volume, and sharpness fades level by level', () => {
  const volumes = [0, 0.5, 1, 2, 3].map((s) =>
    volumeOf(subdivide(cube, { levels: 3, creases: new Map(Array.from(edgeKeys(cube), (k) => [k, s])) })),
  );
  for (let i = 1; i < volumes.length; i++) expect(volumes[i]).toBeGreaterThan(volumes[i - 1]);
  expect(volumes[4]).toBeCloseTo(8, 5);
});

test('a flat plane stays flat, keeps its border a curve, and its UVs stay affine', () => {
  const p = plane({ width: 1, depth: 1, cutX: 3, cutZ: 2 }, id);
  const uv = Float32Array.from(
    { length: 2 * p.cornerCount },
    (_, i) => p.positions[3 * p.cornerVertex[i >> 1] + (i & 1 ? 2 : 0)] + 0.5,
  );
  const m = subdivide(p.withAttribute('uv', { domain: 'corner', width: 2, data: uv }), { levels: 2 });
  for (let i = 1; i < m.positions.length; i += 3) expect(m.positions[i]).toBe(0);
  expect(shapeOf(m)).toMatchObject({ closed: false, eulerCharacteristic: 1 });
  let sum = 0;
  const out = m.attributes.uv.data;
  for (let f = 0; f < m.faceCount; f++)
    for (let k = 0; k < 4; k++) {
      const a = 4 * f + k;
      const b = 4 * f + ((k + 1) % 4);
      sum += out[2 * a] * out[2 * b + 1] - out[2 * b] * out[2 * a + 1];
    }
  expect(Math.abs(sum / 2)).toBeCloseTo(1, 5); // linear within faces: the whole square of the sheet is kept
});

test('closed stays closed, Euler’s number is kept, keys stay unique, and picks on the cage are found again', () => {
  fc.assert(
    fc.property(closedBody, fc.integer({ min: 1, max: 2 }), (m, levels) => {
      const out = subdivide(m, { levels });
      expect(shapeOf(out)).toMatchObject({ closed: true, oriented: true, eulerCharacteristic: 2 });
      expect(new Set(out.vertexKey).size).toBe(out.vertexCount);
      expect(new Set(out.faceKey).size).toBe(out.faceCount);
      const r = resolve(out, { kind: 'edge', keys: [edgeKeys(m)[0]] });
      expect(r.lost).toEqual([]);
      expect(r.indices.length).toBe(2 ** levels);
      expect(resolve(out, { kind: 'face', keys: Array.from(m.faceKey) }).indices.length).toBe(out.faceCount);
    }),
    { numRuns: 40 },
  );
});

test('faces take their slot from the face they came from', () => {
  const m = subdivide(
    cube.withAttribute('material', { domain: 'face', width: 1, data: Int32Array.from([0, 1, 2, 3, 4, 5]) }),
    { levels: 2 },
  );
  const count = new Array(6).fill(0);
  for (const s of m.attributes.material.data) count[s]++;
  expect(count).toEqual([16, 16, 16, 16, 16, 16]);
});

test('nothing to do, nothing done', () => {
  expect(subdivide(cube, { levels: 0 })).toBe(cube);
  expect(topologyOf(cube).edgeCount).toBe(12);
});

describe('flat, held corners, limit', () => {
  const cube = box({ width: 2, height: 2, depth: 2, cutX: 1, cutY: 1, cutZ: 1, onGround: false }, 1);
  test('only divided, a body is the same body with four times the faces', () => {
    const out = subdivide(cube, { levels: 2, flat: true });
    expect(out.faceCount).toBe(6 * 16);
    expect(volumeOf(out)).toBeCloseTo(8, 5);
    expect(out.positions.slice(0, 24)).toEqual(cube.positions);
  });
  test('corners of a sheet are held where asked, and only they', () => {
    const sheet = plane({ width: 2, depth: 2, cutX: 3, cutZ: 3 }, 1);
    const area = (holdCorners: boolean) => areaOf(subdivide(sheet, { levels: 4, holdCorners }));
    expect(area(true)).toBeCloseTo(4, 5);
    expect(area(false)).toBeLessThan(3.99);
  });
  test('at the limit more levels change nothing: vertices of the cage stand where five levels more bring them', () => {
    for (const body of [cube, plane({ width: 2, depth: 2, cutX: 2, cutZ: 3 }, 1)]) {
      const bent = body.moved(body.positions.map((x, i) => x + 0.1 * Math.sin(7 * i)));
      const [once, deep] = [subdivide(bent, { levels: 1, limit: true }), subdivide(bent, { levels: 6 })];
      const two = subdivide(bent, { levels: 3, limit: true });
      for (let i = 0; i < bent.positions.length; i++) {
        expect(once.positions[i]).toBeCloseTo(two.positions[i], 5);
        expect(once.positions[i]).toBeCloseTo(deep.positions[i], 2);
      }
    }
  });
  test('a cube’s corner at its limit, by hand', () => {
    // Halstead, Kass and DeRose: (n² v + 4 Σ e + Σ f) / (n (n + 5)) over the neighbours of one level.
    const one = subdivide(cube, { levels: 1 });
    const at = subdivide(cube, { levels: 1, limit: true });
    const v = 5 / 9;
    const [e, f] = [[3 / 4, 3 / 4, 0], [1, 0, 0]]; // prettier-ignore
    const want = (9 * v + 4 * (e[0] + e[1] + e[2]) + (f[0] + f[1] + f[2])) / 24;
    expect(Math.abs(one.positions[0])).toBeCloseTo(v, 5);
    expect(Math.abs(at.positions[0])).toBeCloseTo(want, 5);
  });
});
