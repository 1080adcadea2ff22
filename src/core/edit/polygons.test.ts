/** The smaller polygon tools against closed forms, and the shapes they must leave whole. */
import fc from 'fast-check';
import { keyOf } from '../math/hash';
import { symmetricAxes } from '../math/symmetric';
import { box, cubeSphere, cylinder } from '../make/primitives';
import { areaOf, shapeOf, volumeOf } from '../mesh/measure';
import { meshFrom, type Mesh } from '../mesh/mesh';
import { edgeKeys } from '../mesh/picks';
import { edgeLoop } from '../mesh/walks';
import { edgeValence, topologyOf } from '../mesh/topology';
import { subdivide } from '../subdivide/catmullclark';
import { closedBody, seeds, someOf } from '../testing/arbitrary';
import { problemsOf } from '../testing/valid';
import { bridge } from './bridge';
import { cap, openBorders } from './cap';
import { chainsOf, chainsOfPick, slide, spaceEvenly, straighten, toCircle } from './chains';
import { collapse } from './collapse';
import { dissolve } from './dissolve';
import { connect, divideEdges, spinEdges } from './divide';
import { extrudeEdges } from './extrudeedges';
import { keepFaces } from './detach';
import { openAlong } from './open';
import { flip, pointOutward, turnRound } from './orient';
import { planeCut } from './planecut';
import { poke } from './poke';
import { relax } from './relax';
import {
  bent,
  evenNormal,
  ontoBall,
  ontoLevel,
  ontoOwnPlane,
  outwards,
  reshape,
  stretched,
  stretchOf,
  tapered,
  twisted,
} from './reshape';
import { thicken } from './thicken';
import { toQuads, toTriangles } from './triangles';

const id = keyOf('p');
const block = (x = 1, y = 1, z = 1) =>
  box({ width: 1, height: 1, depth: 1, cutX: x, cutY: y, cutZ: z, onGround: false }, 1);
const sheet = (x: number, z: number): Mesh => {
  const positions: number[] = [];
  for (let j = 0; j <= z; j++) for (let i = 0; i <= x; i++) positions.push(i, 0, j);
  const faces: number[][] = [];
  for (let j = 0; j < z; j++)
    for (let i = 0; i < x; i++) {
      const a = j * (x + 1) + i;
      faces.push([a, a + x + 1, a + x + 2, a + 1]);
    }
  return meshFrom(positions, faces);
};
const every = (n: number) => Array.from({ length: n }, (_, i) => i);
const euler = (m: Mesh) => m.vertexCount - topologyOf(m).edgeCount + m.faceCount;
const place = (m: Mesh, v: number) => Array.from(m.positions.subarray(3 * v, 3 * v + 3));
const facesLooking = (m: Mesh, k: number, level: number) =>
  every(m.faceCount).filter((f) =>
    every(m.faceStart[f + 1] - m.faceStart[f]).every(
      (i) => Math.abs(m.positions[3 * m.cornerVertex[m.faceStart[f] + i] + k] - level) < 1e-6,
    ),
  );
const openEdges = (m: Mesh) => every(topologyOf(m).edgeCount).filter((e) => edgeValence(topologyOf(m), e) === 1);
const whole = (m: Mesh) => {
  expect(problemsOf(m)).toEqual([]);
  return m;
};

describe('onto planes, levels and balls', () => {
  const ball = cubeSphere({ radius: 1, cuts: 4 }, 1);
  const all = every(ball.vertexCount);
  test('own plane: all lie in one, and what lies in one already stays', () => {
    const flat = reshape(ball, all, ontoOwnPlane(ball, all));
    const again = reshape(flat, all, ontoOwnPlane(flat, all));
    for (let i = 0; i < again.positions.length; i++) expect(again.positions[i]).toBeCloseTo(flat.positions[i], 5);
  });
  test('level: the lowest, the highest, a place of its own; by half goes half the way', () => {
    for (const [where, y] of [
      ['lowest', -1],
      ['highest', 1],
      [0.25, 0.25],
    ] as const) {
      const out = reshape(ball, all, ontoLevel(ball, all, 'y', where));
      all.forEach((v) => expect(out.positions[3 * v + 1]).toBeCloseTo(y, 6));
    }
    const half = reshape(ball, [0], ontoLevel(ball, [0], 'x', 5), undefined, 0.5);
    expect(half.positions[0]).toBeCloseTo((ball.positions[0] + 5) / 2, 6);
  });
  test('a block to a ball: all as far from the middle', () => {
    const m = block(4, 4, 4);
    const out = reshape(m, every(m.vertexCount), ontoBall(m, every(m.vertexCount), 2));
    every(m.vertexCount).forEach((v) => expect(Math.hypot(...place(out, v))).toBeCloseTo(2, 5));
  });
  test('pushed out, each face of a block goes the full distance', () => {
    const m = block(3, 3, 3);
    const out = reshape(m, every(m.vertexCount), outwards(m, 0.1));
    expect(volumeOf(out)).toBeCloseTo(1.2 ** 3, 5);
    expect(Math.hypot(...evenNormal(m, 0))).toBeCloseTo(Math.sqrt(3), 6);
  });
  test('axes of symmetric matrices, against the equation they must fulfil', () => {
    fc.assert(
      fc.property(fc.array(fc.double({ min: -5, max: 5, noNaN: true }), { minLength: 6, maxLength: 6 }), (m) => {
        const rows = [
          [m[0], m[1], m[2]],
          [m[1], m[3], m[4]],
          [m[2], m[4], m[5]],
        ];
        const axes = symmetricAxes(m);
        for (const v of axes) {
          const w = rows.map((r) => r[0] * v[0] + r[1] * v[1] + r[2] * v[2]);
          const l = w[0] * v[0] + w[1] * v[1] + w[2] * v[2];
          w.forEach((x, k) => expect(Math.abs(x - l * v[k])).toBeLessThan(1e-6));
          expect(Math.hypot(...v)).toBeCloseTo(1, 8);
        }
      }),
    );
  });
});

describe('bends', () => {
  const bar = box({ width: 0.2, height: 2, depth: 0.2, cutX: 1, cutY: 64, cutZ: 1, onGround: false }, 1);
  const all = every(bar.vertexCount);
  const along = stretchOf(bar, all, 'y');
  test('bent by half a turn, its middle lies on a half circle as long as it was', () => {
    const out = reshape(bar, all, bent(along, Math.PI, 'x'));
    const r = 2 / Math.PI;
    const tops = all.filter((v) => bar.positions[3 * v + 1] > 0.999);
    const mean = [0, 1, 2].map((k) => tops.reduce((s, v) => s + out.positions[3 * v + k] / tops.length, 0));
    expect(mean[0]).toBeCloseTo(2 * r, 4);
    expect(mean[1]).toBeCloseTo(-1, 4);
    expect(volumeOf(out)).toBeCloseTo(0.08, 3);
  });
  test('twisted by a quarter, the end is turned and the volume nearly kept', () => {
    const out = reshape(bar, all, twisted(along, Math.PI / 2));
    const v = all.find(
      (x) => bar.positions[3 * x + 1] > 0.999 && bar.positions[3 * x] > 0 && bar.positions[3 * x + 2] > 0,
    )!;
    expect(place(out, v)[0]).toBeCloseTo(0.1, 5);
    expect(place(out, v)[2]).toBeCloseTo(-0.1, 5);
    expect(volumeOf(out)).toBeCloseTo(0.08, 2);
  });
  test('tapered to half, it is a frustum', () => {
    const out = reshape(bar, all, tapered(along, 0.5));
    expect(volumeOf(out)).toBeCloseTo((2 / 3) * (0.04 + 0.01 + Math.sqrt(0.04 * 0.01)), 4);
  });
  test('stretched, it is as long as said', () => {
    const out = reshape(bar, all, stretched(along, 3, false));
    expect(volumeOf(out)).toBeCloseTo(0.24, 5);
    expect(volumeOf(reshape(bar, all, stretched(along, 3, true)))).toBeLessThan(0.2);
  });
});

describe('relax', () => {
  test('noise goes, size stays', () => {
    const ball = cubeSphere({ radius: 1, cuts: 10 }, 1);
    const noisy = ball.moved(ball.positions.map((x, i) => x + 0.02 * Math.sin(i * 12.9898)));
    const out = relax(noisy, every(ball.vertexCount), {
      rounds: 20,
      strength: 0.5,
      keepVolume: true,
      holdBorders: true,
    });
    const rough = (m: Mesh) => every(m.vertexCount).reduce((s, v) => s + (Math.hypot(...place(m, v)) - 1) ** 2, 0);
    expect(rough(out)).toBeLessThan(rough(noisy) / 2);
    expect(Math.abs(volumeOf(out) / volumeOf(ball) - 1)).toBeLessThan(0.03);
    const shrunk = relax(noisy, every(ball.vertexCount), {
      rounds: 20,
      strength: 0.5,
      keepVolume: false,
      holdBorders: true,
    });
    expect(volumeOf(shrunk)).toBeLessThan(volumeOf(out));
  });
  test('borders held stay to the bit; free, their corners are drawn in along the border only', () => {
    const m = sheet(4, 4);
    const held = relax(m, every(25), { rounds: 3, strength: 0.5, keepVolume: false, holdBorders: true });
    expect(held.positions).toEqual(m.positions);
    const free = relax(m, every(25), { rounds: 1, strength: 0.5, keepVolume: false, holdBorders: false });
    expect(place(free, 0)).toEqual([0.25, 0, 0.25]);
    expect(place(free, 2)).toEqual([2, 0, 0]);
  });
});

describe('chains', () => {
  test('loops close, and the same chain comes of its edges in any order', () => {
    const m = cylinder({ radius: 1, topRadius: 1, height: 2, sides: 12, rows: 2, cap: 'open', onGround: true }, 1);
    const loop = edgeLoop(m, openEdges(m)[0]);
    const [one] = chainsOf(m, loop);
    expect([one.closed, one.vertices.length]).toEqual([true, 12]);
    expect(chainsOf(m, [...loop].reverse())[0].vertices.sort()).toEqual([...one.vertices].sort());
  });
  test('a border brought to a circle: as far from its middle, at equal turns', () => {
    const m = block(6, 6, 6);
    const top = facesLooking(m, 1, 0.5);
    const out = toCircle(m, chainsOfPick(m, 'face', top), 0.4, 1);
    const [chain] = chainsOfPick(m, 'face', top);
    const radii = chain.vertices.map((v) => Math.hypot(place(out, v)[0], place(out, v)[2]));
    radii.forEach((r) => expect(r).toBeCloseTo(0.4, 5));
    const step = (i: number) => {
      const [a, b] = [place(out, chain.vertices[i]), place(out, chain.vertices[(i + 1) % 24])];
      return Math.hypot(a[0] - b[0], a[2] - b[2]);
    };
    every(24).forEach((i) => expect(step(i)).toBeCloseTo(2 * 0.4 * Math.sin(Math.PI / 24), 5));
  });
  test('straight, evenly spaced, and an arc through three points', () => {
    const m = sheet(4, 1);
    const bentSheet = m.moved(m.positions.map((x, i) => ({ 3: 1.4, 7: 0.7 })[i] ?? x));
    const row = chainsOfPick(m, 'vertex', [0, 1, 2, 3, 4]);
    const straight = straighten(bentSheet, row, true);
    every(5).forEach((v) => expect(place(straight, v)).toEqual([v, 0, 0]));
    const even = spaceEvenly(bentSheet, row);
    const lengths = every(4).map((i) => {
      const [a, b] = [place(even, i), place(even, i + 1)];
      return Math.hypot(a[0] - b[0], a[1] - b[1], a[2] - b[2]);
    });
    expect(Math.max(...lengths) - Math.min(...lengths)).toBeLessThan(0.15);
    const hill = sheet(4, 1).moved(sheet(4, 1).positions.map((x, i) => (i === 7 ? 2 : x)));
    const arc = toCircle(hill, chainsOfPick(hill, 'vertex', [0, 1, 2, 3, 4]), 0, 1);
    every(5).forEach((v) => expect(Math.hypot(place(arc, v)[0] - 2, place(arc, v)[1])).toBeCloseTo(2, 4));
  });
  test('slid half the way and back is where it was; the outline stays', () => {
    const m = sheet(4, 4);
    const chain = chainsOfPick(m, 'vertex', [10, 11, 12, 13, 14]);
    const out = slide(m, chain, 0.5);
    every(5).forEach((i) => expect(Math.abs(place(out, 10 + i)[2] - 2)).toBeCloseTo(0.5, 6));
    const other = slide(m, chain, -0.5);
    expect(place(other, 12)[2] + place(out, 12)[2]).toBeCloseTo(4, 6);
    expect(areaOf(out)).toBeCloseTo(16, 5);
  });
});

describe('faces cut and joined', () => {
  test('triangles by all rules keep area and volume; quads come back from them', () => {
    const m = block(3, 3, 3);
    for (const rule of ['short', 'even', 'fan'] as const) {
      const t = whole(toTriangles(m, every(m.faceCount), rule, id));
      expect(t.faceCount).toBe(2 * m.faceCount);
      expect(volumeOf(t)).toBeCloseTo(1, 6);
      const q = whole(toQuads(t, every(t.faceCount), 0.3, id));
      expect(q.faceCount).toBe(m.faceCount);
      expect(shapeOf(q).closed).toBe(true);
    }
  });
  test('even rule: a kite is cut where its triangles are better', () => {
    const kite = meshFrom([0, 0, 0, 1, 0, -0.2, 4, 0, 0, 1, 0, 0.2], [[3, 2, 1, 0]]);
    const t = toTriangles(kite, [0], 'even', id);
    const worst = (m: Mesh) =>
      Math.min(
        ...every(m.faceCount).map((f) =>
          areaOf(
            keepFaces(
              m,
              Uint8Array.from(every(m.faceCount), (g) => (g === f ? 1 : 0)),
            ),
          ),
        ),
      );
    expect(worst(t)).toBeGreaterThan(0);
  });
  test('materials and seams of UVs keep triangles apart', () => {
    const m = toTriangles(sheet(1, 1), [0], 'short', id);
    const two = m.withAttribute('material', { domain: 'face', width: 1, data: Int32Array.of(0, 1) });
    expect(toQuads(two, [0, 1], 1, id).faceCount).toBe(2);
    const uv = Float32Array.from({ length: 12 }, (_, i) => i);
    expect(toQuads(m.withAttribute('uv', { domain: 'corner', width: 2, data: uv }), [0, 1], 1, id).faceCount).toBe(2);
    expect(toQuads(m, [0, 1], 1, id).faceCount).toBe(1);
  });
  test('poked by nothing keeps the volume; out, adds a pyramid', () => {
    const m = block();
    expect(volumeOf(whole(poke(m, every(6), 0, id)))).toBeCloseTo(1, 6);
    expect(volumeOf(whole(poke(m, [0], 0.3, id)))).toBeCloseTo(1.1, 6);
  });
  test('dissolving what a subdivision added brings the faces back', () => {
    const m = block();
    const fine = subdivide(m, { levels: 1, smooth: false } as never);
    const t = topologyOf(fine);
    const old = new Set(m.vertexKey);
    const added = every(fine.vertexCount).filter((v) => !old.has(fine.vertexKey[v]));
    const middles = added.filter(
      (v) => t.vertexCornerStart[v + 1] - t.vertexCornerStart[v] === 4 && onlyNew(fine, v, old),
    );
    const out = whole(dissolve(fine, 'vertex', middles, true, id));
    expect([out.vertexCount, out.faceCount]).toEqual([8, 6]);
    expect(shapeOf(out).closed).toBe(true);
  });
  test('a ring of faces cannot become one face, and says so', () => {
    const told: string[] = [];
    const m = sheet(3, 3);
    const ring = every(9).filter((f) => f !== 4);
    const out = dissolve(m, 'face', ring, true, id, (x) => told.push(x));
    expect(out.faceCount).toBe(9);
    expect(told[0]).toMatch(/cannot have a hole/);
    expect(dissolve(m, 'face', every(9), false, id).faceCount).toBe(1);
  });
  test('edges divided: faces take the vertices in, the shape stays', () => {
    const m = block(2, 2, 2);
    const n = topologyOf(m).edgeCount;
    const out = whole(divideEdges(m, every(n), 4, id));
    expect(out.vertexCount).toBe(m.vertexCount + 3 * n);
    expect(volumeOf(out)).toBeCloseTo(1, 6);
    expect(shapeOf(out).closed).toBe(true);
  });
  test('corners connected across quads make triangles; cuts outside a face that turns in are left out', () => {
    const m = sheet(2, 1);
    const out = whole(connect(m, [0, 4, 2], id));
    expect(out.faceCount).toBe(4);
    const ell = meshFrom([0, 0, 0, 0, 0, 2, 1, 0, 2, 1, 0, 1, 2, 0, 1, 2, 0, 0], [[0, 1, 2, 3, 4, 5]]);
    const told: string[] = [];
    expect(connect(ell, [2, 4], id, (x) => told.push(x)).faceCount).toBe(1);
    expect(told[0]).toMatch(/outside the face/);
    expect(connect(ell, [0, 3], id).faceCount).toBe(2);
    expect(() => connect(sheet(1, 1), [0, 1], id)).toThrow(/not side by side/);
  });
  test('spun twice in a quad of triangles, an edge is where it was', () => {
    const m = toTriangles(sheet(1, 1), [0], 'short', id);
    const t = topologyOf(m);
    const inner = every(t.edgeCount).find((e) => edgeValence(t, e) === 2)!;
    const once = whole(spinEdges(m, [inner], false, id));
    const u = topologyOf(once);
    const now = every(u.edgeCount).find((e) => edgeValence(u, e) === 2)!;
    expect(edgeKeys(once)[now]).not.toBe(edgeKeys(m)[inner]);
    const twice = whole(spinEdges(once, [now], false, id));
    expect(edgeKeys(twice)[every(5).find((e) => edgeValence(topologyOf(twice), e) === 2)!]).toBe(edgeKeys(m)[inner]);
    expect(areaOf(twice)).toBeCloseTo(1, 6);
  });
  test('collapsed: an edge of a cube leaves two triangles fewer corners, all picked leave nothing', () => {
    const m = block();
    const out = whole(collapse(m, 'edge', [0], 'each'));
    expect([out.vertexCount, out.faceCount]).toEqual([7, 6]);
    expect(shapeOf(out).closed).toBe(true);
    expect(collapse(m, 'face', every(6), 'each').faceCount).toBe(0);
    expect(collapse(m, 'vertex', [0, 7], 'one').vertexCount).toBe(7);
  });
  test('opened along a loop, a tube falls in two; along one inner edge nothing comes loose', () => {
    const m = cylinder({ radius: 1, topRadius: 1, height: 2, sides: 8, rows: 2, cap: 'open', onGround: true }, 1);
    const t = topologyOf(m);
    const middle = every(t.edgeCount).filter((e) =>
      [0, 1].every((k) => Math.abs(m.positions[3 * t.edgeVertex[2 * e + k] + 1] - 1) < 1e-6),
    );
    const out = whole(openAlong(m, 'edge', middle, id));
    expect([shapeOf(m).components, shapeOf(out).components]).toEqual([1, 2]);
    const s = sheet(4, 4);
    const inner = every(topologyOf(s).edgeCount).find((e) => edgeValence(topologyOf(s), e) === 2)!;
    expect(shapeOf(openAlong(s, 'edge', [inner], id)).components).toBe(1);
    expect(openAlong(block(), 'vertex', every(8), id).vertexCount).toBe(24);
  });
});

const onlyNew = (m: Mesh, v: number, old: ReadonlySet<number>): boolean => {
  const t = topologyOf(m);
  return every(t.edgeCount)
    .filter((e) => t.edgeVertex[2 * e] === v || t.edgeVertex[2 * e + 1] === v)
    .every((e) => !old.has(m.vertexKey[t.edgeVertex[2 * e] === v ? t.edgeVertex[2 * e + 1] : t.edgeVertex[2 * e]]));
};

describe('ways faces look', () => {
  test('whatever was turned round, pointing outward brings the volume back', () => {
    fc.assert(
      fc.property(closedBody, seeds, (m, s) => {
        const spoilt = flip(m, someOf(m.faceCount, s));
        const out = whole(pointOutward(spoilt, every(m.faceCount)));
        expect(volumeOf(out)).toBeCloseTo(volumeOf(m), 5);
        expect(shapeOf(out).closed).toBe(true);
      }),
      { numRuns: 60 },
    );
  });
  test('a strip of one side says that it cannot be', () => {
    const told: string[] = [];
    const places: number[] = [];
    for (let i = 0; i < 6; i++) {
      const a = (Math.PI * i) / 3;
      for (const s of [-1, 1])
        places.push(
          (3 + s * Math.cos(a / 2)) * Math.cos(a),
          s * Math.sin(a / 2),
          (3 + s * Math.cos(a / 2)) * Math.sin(a),
        );
    }
    const strip = meshFrom(
      places,
      every(6).map((i) => (i < 5 ? [2 * i, 2 * i + 2, 2 * i + 3, 2 * i + 1] : [10, 1, 0, 11])),
    );
    pointOutward(strip, every(6), (x) => told.push(x));
    expect(told[0]).toMatch(/one side only/);
  });
  test('turned round twice is the same to the bit', () => {
    const m = block(2, 3, 2);
    const marks = Uint8Array.from({ length: m.faceCount }, (_, f) => f % 2);
    expect(turnRound(turnRound(m, marks), marks).cornerVertex).toEqual(m.cornerVertex);
  });
});

describe('what draws out and fills', () => {
  test('edges of a sheet drawn on: as wide a strip all round, corners included', () => {
    const m = sheet(2, 2);
    const out = whole(extrudeEdges(m, openEdges(m), { by: 0.5, along: 'on' }, id));
    expect(areaOf(out)).toBeCloseTo(9, 5);
    expect(shapeOf(out).openEdges).toBe(8);
  });
  test('a sheet thickened is a block; a closed body hollowed has two skins', () => {
    const m = sheet(3, 2);
    for (const side of ['in', 'out', 'both'] as const) {
      const out = whole(thicken(m, every(6), { by: 0.2, side, rims: true }, id));
      expect(shapeOf(out).closed).toBe(true);
      expect(Math.abs(volumeOf(out))).toBeCloseTo(1.2, 5);
    }
    const hollow = whole(thicken(block(), every(6), { by: 0.1, side: 'in', rims: true }, id));
    expect([shapeOf(hollow).components, shapeOf(hollow).closed]).toEqual([2, true]);
    expect(volumeOf(hollow)).toBeCloseTo(1 - 0.8 ** 3, 5);
    expect(() => thicken(m, [0], { by: 0, side: 'in', rims: true }, id)).toThrow(/thickness of 0/);
  });
  test('two opposite faces of a block bridged: a frame with a hole through it', () => {
    const m = block(3, 3, 3);
    const pick = [...facesLooking(m, 1, 0.5), ...facesLooking(m, 1, -0.5)].filter((f) => {
      const ring = every(4).map((i) => place(m, m.cornerVertex[m.faceStart[f] + i]));
      return ring.every((p) => Math.abs(p[0]) < 0.2 && Math.abs(p[2]) < 0.2);
    });
    const out = whole(bridge(m, 'face', pick, { parts: 3, twist: 0, smooth: 0 }, id));
    expect(shapeOf(out).closed).toBe(true);
    expect(euler(out)).toBe(0);
    expect(volumeOf(out)).toBeCloseTo(1 - 1 / 9, 5);
  });
  test('borders of 6 and of 9 edges: closed by triangles and quads', () => {
    const ring = (n: number, y: number) =>
      every(n).flatMap((i) => [Math.cos((2 * Math.PI * i) / n), y, Math.sin((2 * Math.PI * i) / n)]);
    const faces = (n: number, o: number) =>
      every(n).map((i) => [o + i, o + n + i, o + n + ((i + 1) % n), o + ((i + 1) % n)]);
    const both = meshFrom(
      [...ring(6, 0), ...ring(6, 1), ...ring(9, 3), ...ring(9, 4)],
      [...faces(6, 0), ...faces(9, 12)],
    );
    const rims = openEdges(both).filter((e) => {
      const t = topologyOf(both);
      const y = both.positions[3 * t.edgeVertex[2 * e] + 1];
      return y > 0.9 && y < 3.1;
    });
    const out = whole(bridge(both, 'edge', rims, { parts: 2, twist: 0, smooth: 0.5 }, id));
    expect([shapeOf(out).openEdges, shapeOf(out).components]).toEqual([15, 1]);
  });
  test('what is no pair of borders is refused in a sentence', () => {
    const m = sheet(3, 3);
    expect(() => bridge(m, 'face', [0], { parts: 1, twist: 0, smooth: 0 }, id)).toThrow(/two groups/);
    const inner = every(topologyOf(m).edgeCount).find((e) => edgeValence(topologyOf(m), e) === 2)!;
    expect(() => bridge(m, 'edge', [inner], { parts: 1, twist: 0, smooth: 0 }, id)).toThrow(/one open border/);
    expect(() => bridge(m, 'edge', openEdges(m), { parts: 1, twist: 0, smooth: 0 }, id)).toThrow(/two borders/);
  });
  test.each(['face', 'fan', 'grid'] as const)(
    'a hole in a block closed by %s: closed, and as large as before',
    (rule) => {
      const m = block(4, 4, 4);
      const top = new Set(facesLooking(m, 1, 0.5));
      const opened = keepFaces(
        m,
        Uint8Array.from(every(m.faceCount), (f) => (top.has(f) ? 0 : 1)),
      );
      const out = whole(cap(opened, 'edge', [openEdges(opened)[0]], rule, 0, id));
      expect(shapeOf(out).closed).toBe(true);
      expect(volumeOf(out)).toBeCloseTo(1, 5);
      expect(out.faceCount - opened.faceCount).toBe(rule === 'face' ? 1 : 16);
    },
  );
  test('borders that meet in a vertex are closed each for itself', () => {
    const m = sheet(4, 4);
    const opened = keepFaces(
      m,
      Uint8Array.from(every(16), (f) => (f === 5 || f === 10 ? 0 : 1)),
    );
    expect(
      openBorders(opened, openEdges(opened))
        .map((r) => r.length)
        .sort((a, b) => b - a),
    ).toEqual([16, 4, 4]);
  });
});

describe('cut by a plane', () => {
  const cut = (m: Mesh, keep: 'front' | 'back' | 'both', fill: boolean, y = 0.1) =>
    planeCut(m, { normal: [0, 1, 0], through: [0, y, 0], keep, fill }, id);
  test('a block in two: what is in front and what is behind are the whole', () => {
    const m = block(2, 2, 2);
    const [a, b] = [whole(cut(m, 'front', true)), whole(cut(m, 'back', true))];
    expect([shapeOf(a).closed, shapeOf(b).closed]).toEqual([true, true]);
    expect(volumeOf(a)).toBeCloseTo(0.4, 6);
    expect(volumeOf(b)).toBeCloseTo(0.6, 6);
  });
  test('both sides: an edge all round, still closed; filled, two bodies', () => {
    const m = block();
    const open = whole(cut(m, 'both', false));
    expect([shapeOf(open).closed, shapeOf(open).components, open.faceCount]).toEqual([true, 1, 10]);
    const apart = whole(cut(m, 'both', true));
    expect([shapeOf(apart).closed, shapeOf(apart).components]).toEqual([true, 2]);
    expect(volumeOf(apart)).toBeCloseTo(1, 6);
  });
  test('through an edge loop that is there already', () => {
    const m = block(2, 2, 2);
    const a = whole(cut(m, 'front', true, 0));
    expect(shapeOf(a).closed).toBe(true);
    expect(volumeOf(a)).toBeCloseTo(0.5, 6);
  });
  test('a pipe across: its wall is closed, its inside stays open', () => {
    const pipe = thicken(
      cylinder({ radius: 1, topRadius: 1, height: 2, sides: 16, rows: 1, cap: 'open', onGround: false }, 1),
      every(16),
      { by: 0.2, side: 'in', rims: true },
      id,
    );
    const half = whole(cut(pipe, 'front', true, 0));
    expect(shapeOf(half).closed).toBe(true);
    expect(volumeOf(half)).toBeCloseTo(volumeOf(pipe) / 2, 4);
  });
  test('any plane through any body: both closed halves are as much as the whole', () => {
    const unitVector = fc
      .tuple(
        fc.double({ min: -1, max: 1, noNaN: true }),
        fc.double({ min: -1, max: 1, noNaN: true }),
        fc.double({ min: -1, max: 1, noNaN: true }),
      )
      .filter((v) => Math.hypot(...v) > 0.1)
      .map((v) => v.map((x) => x / Math.hypot(...v)) as [number, number, number]);
    fc.assert(
      fc.property(closedBody, unitVector, fc.double({ min: -0.4, max: 0.4, noNaN: true }), (body, normal, d) => {
        const m = toTriangles(body, every(body.faceCount), 'short', id);
        const through = normal.map((x, k) => x * d + (k === 1 ? 0.3 : 0)) as [number, number, number];
        const [a, b] = (['front', 'back'] as const).map((keep) =>
          whole(planeCut(m, { normal, through, keep, fill: true }, id)),
        );
        for (const x of [a, b]) if (x.faceCount) expect(shapeOf(x).openEdges).toBe(0);
        expect(volumeOf(a) + volumeOf(b)).toBeCloseTo(volumeOf(m), 4);
      }),
      { numRuns: 120 },
    );
  });
  test('only some faces: those beside take the new vertices in', () => {
    const m = block();
    const front = facesLooking(m, 2, 0.5);
    const out = whole(
      planeCut(
        m,
        { normal: [0, 1, 0], through: [0, 0.1, 0], keep: 'both', fill: false },
        id,
        Uint8Array.from(every(6), (f) => (front.includes(f) ? 1 : 0)),
      ),
    );
    expect(out.faceCount).toBe(7);
    expect(shapeOf(out).closed).toBe(true);
  });
});

test('relaxing as much as can be asked stays within what it began from, and keeps the volume about', () => {
  const m = box({ width: 2, height: 2, depth: 2, cutX: 6, cutY: 6, cutZ: 6, onGround: false }, id);
  const rough = m.moved(m.positions.map((x, i) => x + 0.05 * Math.sin(i * 12.9898)));
  for (const keepVolume of [true, false]) {
    const out = relax(rough, every(m.vertexCount), { rounds: 200, strength: 1, keepVolume, holdBorders: true });
    expect(out.positions.every((x) => Math.abs(x) < 1.5)).toBe(true);
    if (keepVolume) expect(volumeOf(out)).toBeGreaterThan(5);
  }
});

test('random picks by every one of them leave closed bodies closed', () => {
  const tools: [string, (m: Mesh, s: readonly number[]) => Mesh][] = [
    ['poke', (m, s) => poke(m, someOf(m.faceCount, s), 0.02, id)],
    ['triangles', (m, s) => toTriangles(m, someOf(m.faceCount, s), 'even', id)],
    ['quads', (m, s) => toQuads(m, someOf(m.faceCount, s), 0.5, id)],
    ['divide', (m, s) => divideEdges(m, someOf(topologyOf(m).edgeCount, s), 3, id)],
    ['dissolve edges', (m, s) => dissolve(m, 'edge', someOf(topologyOf(m).edgeCount, s), true, id)],
    ['dissolve vertices', (m, s) => dissolve(m, 'vertex', someOf(m.vertexCount, s), true, id)],
    ['plane', (m) => planeCut(m, { normal: [0.6, 0.8, 0], through: [0, 0.4, 0], keep: 'both', fill: false }, id)],
  ];
  fc.assert(
    fc.property(closedBody, seeds, fc.nat(tools.length - 1), (m, s, i) => {
      const [name, run] = tools[i];
      const out = whole(run(m, s));
      const after = shapeOf(out);
      expect([name, after.openEdges, after.nonManifoldEdges > shapeOf(m).nonManifoldEdges]).toEqual([name, 0, false]);
      expect(euler(out)).toBe(euler(m));
    }),
    { numRuns: Number(process.env.GLYPTA_RUNS ?? 300) },
  );
});
