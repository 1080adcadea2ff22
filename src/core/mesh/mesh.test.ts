import fc from 'fast-check';
import { closedBody } from '../testing/arbitrary';
import { box, cubeSphere, cylinder, plane, ringSphere } from '../make/primitives';
import { keyOf } from '../math/hash';
import { meshFrom } from './mesh';
import { boundsOf } from './bounds';
import { areaOf, components, doubledFaces, shapeOf, volumeOf } from './measure';
import { cornerNormals, faceNormals } from './normals';
import { triangulate } from './triangulate';
import { edgeKeys, resolve } from './picks';
import { edgeLoop, edgeRing, flatRegion, grow, shrink } from './walks';
import { topologyOf } from './topology';

const id = keyOf('t');
const unit = box({ width: 2, height: 3, depth: 4, cutX: 1, cutY: 1, cutZ: 1, onGround: false }, id);

describe('measures against closed forms', () => {
  test('box', () => {
    expect(volumeOf(unit)).toBeCloseTo(24, 5);
    expect(areaOf(unit)).toBeCloseTo(52, 5);
    expect(shapeOf(unit)).toMatchObject({
      vertices: 8,
      edges: 12,
      faces: 6,
      triangles: 12,
      components: 1,
      eulerCharacteristic: 2,
      openEdges: 0,
      closed: true,
      oriented: true,
    });
    expect(boundsOf(unit.positions)).toEqual({ min: [-1, -1.5, -2], max: [1, 1.5, 2] });
  });
  test.each([3, 8, 64])('cylinder of %i sides: a prism over a regular polygon', (sides) => {
    const base = (sides / 2) * Math.sin((2 * Math.PI) / sides) * 0.25;
    for (const cap of ['polygon', 'fan'] as const) {
      const m = cylinder({ radius: 0.5, topRadius: 0.5, height: 2, sides, rows: 3, cap, onGround: true }, id);
      expect(volumeOf(m)).toBeCloseTo(base * 2, 5);
      expect(areaOf(m)).toBeCloseTo(2 * base + sides * Math.sin(Math.PI / sides) * 2, 4);
      expect(shapeOf(m)).toMatchObject({ closed: true, oriented: true, eulerCharacteristic: 2 });
    }
  });
  test('cone', () => {
    const m = cylinder({ radius: 1, topRadius: 0, height: 3, sides: 256, rows: 2, cap: 'polygon', onGround: true }, id);
    expect(volumeOf(m)).toBeCloseTo(Math.PI, 2);
    expect(shapeOf(m)).toMatchObject({ closed: true, eulerCharacteristic: 2 });
  });
  test('spheres of both kinds come near 4/3 π r³ as they get finer', () => {
    expect(volumeOf(ringSphere({ radius: 2, sides: 128, rings: 64 }, id)) / ((32 * Math.PI) / 3)).toBeCloseTo(1, 2);
    expect(volumeOf(cubeSphere({ radius: 2, cuts: 40 }, id)) / ((32 * Math.PI) / 3)).toBeCloseTo(1, 2);
  });
  test('an open plane', () => {
    const m = plane({ width: 2, depth: 3, cutX: 2, cutZ: 3 }, id);
    expect(areaOf(m)).toBeCloseTo(6, 6);
    expect(shapeOf(m)).toMatchObject({ openEdges: 10, closed: false, eulerCharacteristic: 1 });
    expect(faceNormals(m)[1]).toBeCloseTo(1);
  });
});

describe('triangulation', () => {
  test('a concave polygon keeps its area and its side', () => {
    // An L of area 3, looking up z.
    const m = meshFrom([0, 0, 0, 2, 0, 0, 2, 1, 0, 1, 1, 0, 1, 2, 0, 0, 2, 0], [[0, 1, 2, 3, 4, 5]]);
    expect(areaOf(m)).toBeCloseTo(3, 6);
    const t = triangulate(m);
    const p = m.positions;
    for (let i = 0; i < t.corners.length; i += 3) {
      const [a, b, c] = [0, 1, 2].map((k) => 3 * m.cornerVertex[t.corners[i + k]]);
      expect((p[b] - p[a]) * (p[c + 1] - p[a + 1]) - (p[b + 1] - p[a + 1]) * (p[c] - p[a])).toBeGreaterThan(0);
    }
  });
  test('a concave quad is cut on its good diagonal', () => {
    const m = meshFrom(
      [0, 0, 0, 2, -1, 0, 0.4, 0, 0, 2, 1, 0].map((x) => x),
      [[0, 1, 2, 3]],
    );
    expect(areaOf(m)).toBeCloseTo(0.4, 5);
  });
  test('points on one line still give n − 2 triangles', () => {
    const m = meshFrom([0, 0, 0, 1, 0, 0, 2, 0, 0, 3, 0, 0, 3, 1, 0], [[0, 1, 2, 3, 4]]);
    expect(triangulate(m).face.length).toBe(3);
    expect(areaOf(m)).toBeCloseTo(1.5, 5);
  });
});

test('open, non-manifold and doubled are found', () => {
  const three = meshFrom(
    [0, 0, 0, 1, 0, 0, 0, 1, 0, 0, -1, 0, 0, 0, 1],
    [
      [0, 1, 2],
      [1, 0, 3],
      [0, 1, 4],
      [4, 1, 0],
    ],
  );
  const s = shapeOf(three);
  expect(s.nonManifoldEdges).toBe(1);
  expect(s.closed).toBe(false);
  expect(doubledFaces(three)).toEqual([3]);
});

test('components count loose vertices as their own', () => {
  expect(components(meshFrom([0, 0, 0, 1, 0, 0, 0, 1, 0, 5, 5, 5], [[0, 1, 2]])).count).toBe(2);
});

test('normals: flat at angle 0, smooth within the angle, split beyond it', () => {
  const m = cylinder({ radius: 1, topRadius: 1, height: 1, sides: 24, rows: 1, cap: 'polygon', onGround: true }, id);
  const n = cornerNormals(m, Math.PI / 6);
  // Side corners look straight outwards; the caps stay flat although they touch the same vertices.
  for (let f = 0; f < m.faceCount; f++)
    for (let c = m.faceStart[f]; c < m.faceStart[f + 1]; c++) {
      const v = 3 * m.cornerVertex[c];
      if (f < 24) {
        expect(n[3 * c]).toBeCloseTo(m.positions[v], 4);
        expect(n[3 * c + 2]).toBeCloseTo(m.positions[v + 2], 4);
      } else expect(Math.abs(n[3 * c + 1])).toBeCloseTo(1, 5);
    }
  expect(cornerNormals(unit, Math.PI / 6)).toEqual(cornerNormals(unit, 0));
});

describe('picks', () => {
  const grid = plane({ width: 4, depth: 4, cutX: 4, cutZ: 4 }, id);
  test('a loop runs straight through a grid, a ring runs across it', () => {
    const t = topologyOf(grid);
    const inner = Array.from({ length: t.edgeCount }, (_, e) => e).filter(
      (e) => t.edgeCornerStart[e + 1] - t.edgeCornerStart[e] === 2,
    );
    for (const e of inner) {
      expect(edgeLoop(grid, e).length).toBe(4);
      const ring = edgeRing(grid, e);
      expect(ring.edges.length).toBe(5);
      expect(new Set(ring.edges).size).toBe(5);
      expect(ring.corners.length).toBe(4);
      expect(ring.closed).toBe(false);
    }
    const border = Array.from({ length: t.edgeCount }, (_, e) => e).find((e) => !inner.includes(e))!;
    expect(edgeLoop(grid, border).length).toBe(16);
  });
  test('a ring round a cylinder closes', () => {
    const m = cylinder({ radius: 1, topRadius: 1, height: 1, sides: 9, rows: 1, cap: 'open', onGround: true }, id);
    const t = topologyOf(m);
    const upright = Array.from({ length: t.edgeCount }, (_, e) => e).find(
      (e) => t.edgeCornerStart[e + 1] - t.edgeCornerStart[e] === 2,
    )!;
    expect(edgeRing(m, upright)).toMatchObject({ closed: true });
    expect(edgeRing(m, upright).corners.length).toBe(9);
  });
  test('flat region, grow, shrink', () => {
    const b = box({ width: 1, height: 1, depth: 1, cutX: 3, cutY: 3, cutZ: 3, onGround: false }, id);
    expect(flatRegion(b, 0, faceNormals(b)).length).toBe(9);
    expect(grow(grid, 'face', [0]).length).toBe(4);
    expect(
      shrink(
        grid,
        'face',
        Array.from({ length: 16 }, (_, i) => i),
      ).length,
    ).toBe(16);
    expect(Array.from(shrink(grid, 'face', grow(grid, 'face', [0])))).toContain(0);
  });
  test('lost keys are named', () => {
    const r = resolve(grid, { kind: 'edge', keys: [edgeKeys(grid)[3], 12345] });
    expect(Array.from(r.indices)).toEqual([3]);
    expect(r.lost).toEqual([12345]);
  });
});

test('keys are unique on every closed body, and a count changed keeps the corners’ keys', () => {
  fc.assert(
    fc.property(closedBody, (m) => {
      expect(new Set(m.vertexKey).size).toBe(m.vertexCount);
      expect(new Set(m.faceKey).size).toBe(m.faceCount);
      expect(new Set(edgeKeys(m)).size).toBe(topologyOf(m).edgeCount);
      expect(shapeOf(m)).toMatchObject({ closed: true, oriented: true, eulerCharacteristic: 2 });
      expect(volumeOf(m)).toBeGreaterThan(0);
    }),
    { numRuns: 60 },
  );
  const a = box({ width: 1, height: 1, depth: 1, cutX: 2, cutY: 1, cutZ: 1, onGround: true }, id);
  const b = box({ width: 1, height: 1, depth: 1, cutX: 5, cutY: 1, cutZ: 3, onGround: true }, id);
  expect([...a.vertexKey].filter((k) => b.vertexKey.includes(k)).length).toBeGreaterThanOrEqual(8);
});

describe('a vertex with very many faces', () => {
  test.each([30, 47, 48, 49, 5000])('a fan of %d: every edge once, with its faces', (n) => {
    const at = [0, 0, 0];
    for (let i = 0; i < n; i++) at.push(Math.cos((2 * Math.PI * i) / n), 0, Math.sin((2 * Math.PI * i) / n));
    // The middle in the middle of the numbers: it is the lower end of some of its edges and the higher of others.
    const middle = n >> 1;
    const others = [...Array(n + 1).keys()].filter((v) => v !== middle);
    const name = (v: number) => (v === 0 ? middle : others[v - 1]);
    const positions = new Float32Array(at.length);
    for (let v = 0; v <= n; v++) positions.set(at.slice(3 * v, 3 * v + 3), 3 * name(v));
    const rings = Array.from({ length: n }, (_, i) => [name(0), name(1 + ((i + 1) % n)), name(1 + i)]);
    const fan = meshFrom(positions, [...rings, rings[3]]);
    const t = topologyOf(fan);
    expect(t.edgeCount).toBe(2 * n);
    expect(new Set(edgeKeys(fan)).size).toBe(2 * n);
    const shape = shapeOf(fan);
    expect(shape).toMatchObject({ doubledFaces: 1, openEdges: n - 1, nonManifoldEdges: 2, components: 1 });
    for (let c = 0; c < fan.cornerCount; c++) {
      const e = t.cornerEdge[c];
      expect([...t.edgeCorner.subarray(t.edgeCornerStart[e], t.edgeCornerStart[e + 1])]).toContain(c);
      if (c > 300) break;
    }
  });
});
