/** What is laid on, shaded and drawn along a surface. */
import { cubeSphere, box, plane } from '../make/primitives';
import { keyOf } from '../math/hash';
import { meshFrom, NORMAL } from '../mesh/mesh';
import { faceNormals } from '../mesh/normals';
import { topologyOf } from '../mesh/topology';
import { layOn } from './layon';
import { shade } from './shade';
import { softWeights } from './soft';
import { complete } from '../recipe/values';
import { toolDef } from '../tools';

const every = (n: number) => Array.from({ length: n }, (_, i) => i);
const radius = (p: Float32Array, v: number) => Math.hypot(p[3 * v], p[3 * v + 1], p[3 * v + 2]);

describe('laid on', () => {
  const ball = cubeSphere({ radius: 1, cuts: 24 }, 1);
  const cube = box({ width: 1.6, height: 1.6, depth: 1.6, cutX: 4, cutY: 4, cutZ: 4, onGround: false }, 1);
  test.each(['nearest', 'normals'] as const)(
    '%s: a cube around a ball comes to lie on it, and off it by as much as is asked',
    (how) => {
      const { mesh, missed } = layOn(cube, every(cube.vertexCount), ball, { how, off: 0, most: Infinity });
      if (how === 'nearest') {
        expect(missed).toBe(0);
        for (let v = 0; v < mesh.vertexCount; v++) expect(radius(mesh.positions, v)).toBeCloseTo(1, 2);
        const off = layOn(cube, every(cube.vertexCount), ball, { how, off: 0.2, most: Infinity }).mesh;
        for (let v = 0; v < off.vertexCount; v++) expect(radius(off.positions, v)).toBeCloseTo(1.2, 1);
      }
      for (let v = 0; v < mesh.vertexCount; v++) {
        const stays = [0, 1, 2].every((k) => mesh.positions[3 * v + k] === cube.positions[3 * v + k]);
        if (!stays) expect(radius(mesh.positions, v)).toBeCloseTo(1, 2);
      }
    },
  );
  test('along an axis; what meets nothing or is too far stays and is counted', () => {
    const sheet = plane({ width: 4, depth: 4, cutX: 8, cutZ: 8 }, 1);
    const above = sheet.moved(sheet.positions.map((x, i) => (i % 3 === 1 ? 2 : x)));
    const { mesh, missed } = layOn(above, every(above.vertexCount), ball, { how: 'y', off: 0, most: Infinity });
    let on = 0;
    for (let v = 0; v < mesh.vertexCount; v++) if (mesh.positions[3 * v + 1] < 1.9) on++;
    expect(on + missed).toBe(81);
    expect(on).toBeGreaterThanOrEqual(9);
    expect(mesh.positions[3 * 40 + 1]).toBeCloseTo(1, 3);
    expect(layOn(above, every(81), ball, { how: 'y', off: 0, most: 0.5 }).missed).toBe(81);
  });
});

test('along the surface the other prong of a U is far, through space it is near', () => {
  const u = [0, 0, 0, 3, 0, 0, 3, 0, 0.2, 0, 0, 0.2];
  const prongs = meshFrom(
    [...u, ...u.map((x, i) => (i % 3 === 1 ? x + 0.3 : x))],
    [
      [0, 1, 2, 3],
      [4, 7, 6, 5],
      [1, 5, 6, 2],
    ],
  );
  const space = softWeights(prongs, [0], 1, 'smooth');
  const surface = softWeights(prongs, [0], 1, 'smooth', 'surface');
  expect([space[0], surface[0]]).toEqual([1, 1]);
  expect(space[4]).toBeGreaterThan(0.7);
  expect(surface[4]).toBe(0);
  expect(surface[3]).toBeCloseTo(space[3], 5);
});

describe('normals that are kept', () => {
  const cube = box({ width: 2, height: 2, depth: 2, cutX: 2, cutY: 2, cutZ: 2, onGround: false }, keyOf('c'));
  const normalAt = (m: typeof cube, c: number) => [0, 1, 2].map((k) => m.attributes[NORMAL].data[3 * c + k]);
  test('hard by angle: each corner as its face; smooth: one for each vertex; all of length 1', () => {
    const hard = shade(cube, [], { angle: 0.5, byArea: false });
    const n = faceNormals(cube);
    const t = topologyOf(cube);
    for (let c = 0; c < cube.cornerCount; c++)
      normalAt(hard, c).forEach((x, k) => expect(x).toBeCloseTo(n[3 * t.cornerFace[c] + k], 5));
    const soft = shade(cube, [], { angle: Math.PI, byArea: false });
    const seen = new Map<number, number[]>();
    for (let c = 0; c < cube.cornerCount; c++) {
      const own = normalAt(soft, c);
      expect(Math.hypot(...own)).toBeCloseTo(1, 5);
      const had = seen.get(cube.cornerVertex[c]);
      if (had) own.forEach((x, k) => expect(x).toBeCloseTo(had[k], 5));
      seen.set(cube.cornerVertex[c], own);
    }
  });
  test('picked edges part what is smooth, and only what is beside them', () => {
    const t = topologyOf(cube);
    const e = every(t.edgeCount).find((i) => t.edgeCornerStart[i + 1] - t.edgeCornerStart[i] === 2)!;
    const out = shade(cube, [e], { angle: Math.PI, byArea: false });
    const soft = shade(cube, [], { angle: Math.PI, byArea: false });
    let changed = 0;
    for (let c = 0; c < cube.cornerCount; c++)
      if (normalAt(out, c).some((x, k) => Math.abs(x - normalAt(soft, c)[k]) > 1e-6)) changed++;
    expect(changed).toBe(0); // one edge alone parts no fan of four faces
    const ring = every(t.edgeCount).filter((i) =>
      [0, 1].every((k) => Math.abs(cube.positions[3 * t.edgeVertex[2 * i + k] + 1] - 1) < 1e-6),
    );
    const rim = shade(cube, ring, { angle: Math.PI, byArea: false });
    for (let c = 0; c < cube.cornerCount; c++) {
      const f = t.cornerFace[c];
      const top = [0, 1, 2, 3].every((k) => cube.positions[3 * cube.cornerVertex[cube.faceStart[f] + k] + 1] > 0.99);
      if (top) expect(normalAt(rim, c)[1]).toBeCloseTo(1, 5);
    }
  });
  test('by area a large face stays flat beside a narrow one', () => {
    const bent = meshFrom(
      [0, 0, 0, 10, 0, 0, 10, 0, 1, 0, 0, 1, 0, -0.1, 1.1, 10, -0.1, 1.1],
      [
        [0, 3, 2, 1],
        [3, 4, 5, 2],
      ],
    );
    const [area, angle] = [true, false].map((byArea) => normalAt(shade(bent, [], { angle: Math.PI, byArea }), 1)[1]);
    expect(area).toBeGreaterThan(angle + 0.02);
    expect(area).toBeGreaterThan(0.99);
  });
});

test('flattened across the view: all in one plane square to the way, no farther than they stood from it', () => {
  const m = box({ width: 2, height: 2, depth: 2, cutX: 2, cutY: 2, cutZ: 2, onGround: false }, 1);
  const all = Uint32Array.from({ length: m.vertexCount }, (_, v) => v);
  const way = [1, 2, -0.5];
  const [vx, vy, vz] = way;
  const def = toolDef('flatten')!;
  const values = complete(def.values, { onto: 'view', vx, vy, vz } as never) as never;
  const out = def.run(m, { kind: 'vertex', indices: all }, values, 1);
  for (let v = 0; v < out.vertexCount; v++) {
    const d = way.reduce((sum, x, k) => sum + x * out.positions[3 * v + k], 0);
    expect(d).toBeCloseTo(0, 5);
  }
});
