import fc from 'fast-check';
import { box, cubeSphere, cylinder, plane } from '../../make/primitives';
import { meshFrom, type Mesh } from '../../mesh/mesh';
import { topologyOf } from '../../mesh/topology';
import { triangulate } from '../../mesh/triangulate';
import { animal, coral, gears, lumpyBall, rings, rocks, scanned, thrown } from '../../testing/organic';
import { UNWRAPPING, uvOf } from '../../testing/unwrapping';
import { someOf } from '../../testing/thorough';
import { seamEdges } from './charts';
import { crossingsOf, flatnessOf, restOf, rimCrosses, turn } from '../flatten/flatness';
import { layFlat } from '../flatten/layflat';
import { triangleFigures, uvFigures } from '../measure';
import { Parting, type Patch } from '../flatten/patch';
import { refine, tutte } from '../flatten/refine';
import { unwrapMesh } from '../unwrap';

/** The whole of a mesh as one patch. */
function patchOf(mesh: Mesh): Patch {
  const parting = new Parting(mesh, seamEdges(mesh, { cut: new Set(), hold: new Set(), angle: Infinity }));
  parting.label.fill(0);
  return parting.patch(Uint32Array.from({ length: mesh.faceCount }, (_, f) => f));
}

/** Share of the area that is drawn more than `bound` one way against the other. */
function drawnMore(mesh: Mesh, bound: number): number {
  const { area, stretch } = triangleFigures(mesh, uvOf(mesh), triangulate(mesh));
  let all = 0;
  let off = 0;
  area.forEach((a, i) => {
    all += a;
    if (stretch[i] > bound) off += a;
  });
  return all > 0 ? off / all : 0;
}

const SHAPES: readonly (readonly [string, () => Mesh, number])[] = [
  ['a lumpy ball', () => lumpyBall(12), 8],
  ['an animal', () => animal(18), 30],
  ['rings grown together', () => rings(16), 30],
  ['a coral', () => coral(20), 120],
  ['rough stones', () => rocks(20), 70],
  ['gears', () => gears(8), 70],
  ['a broken scan', () => scanned(lumpyBall(13), 3, 0.002, 0.02), 80],
  ['a rougher one', () => scanned(animal(15), 5, 0.006, 0.05), 120],
  ['a finer ball, which is tried out on a coarser one', () => lumpyBall(60), 18],
];

test.each(someOf(SHAPES, 8))(
  '%s: nothing flipped, nothing twice, within the bound, in few islands',
  (_, make, most) => {
    const out = unwrapMesh(make(), UNWRAPPING);
    const f = uvFigures(out.mesh, uvOf(out.mesh));
    expect([f.flips, f.overlap, f.outside]).toEqual([0, 0, 0]);
    expect(drawnMore(out.mesh, 1.3)).toBeLessThan(0.005);
    expect(out.beyond).toBeLessThan(0.005);
    expect(f.islands).toBe(out.islands);
    expect(out.islands).toBeLessThanOrEqual(most);
  },
);

test.each([
  ['a lumpy ball', () => lumpyBall(6), 4, 12],
  ['an animal', () => animal(25), 18, 32],
])('%s: in fewer islands, or on a fuller sheet', (_, make, few, most) => {
  const mesh = make();
  const laid = (fill: number) => {
    const out = unwrapMesh(mesh, { ...UNWRAPPING, fill });
    return uvFigures(out.mesh, uvOf(out.mesh));
  };
  const [fewer, fuller] = [laid(0), laid(0.5)];
  expect(fewer.islands).toBeLessThanOrEqual(few);
  expect(fuller.islands).toBeLessThanOrEqual(most);
  expect(fuller.coverage).toBeGreaterThan(fewer.coverage + 0.03);
  expect(fuller.coverage).toBeGreaterThan(0.66);
});

test('a tighter bound needs more islands, a wide one fewer', () => {
  const mesh = lumpyBall(12);
  const islands = [1.05, 1.3, 3].map((stretch) => unwrapMesh(mesh, { ...UNWRAPPING, stretch, fill: 0 }).islands);
  expect(islands[0]).toBeGreaterThan(islands[1]);
  expect(islands[1]).toBeGreaterThanOrEqual(islands[2]);
});

test('islands are joined over bends as far as they lie flat, when fewer are asked for', () => {
  const mesh = box({ width: 1, height: 1, depth: 1, cutX: 2, cutY: 2, cutZ: 2, onGround: false }, 3);
  expect(unwrapMesh(mesh, UNWRAPPING).islands).toBe(6);
  const bare = box({ width: 1, height: 1, depth: 1, cutX: 1, cutY: 1, cutZ: 1, onGround: false }, 3);
  expect([1, 0.7].map((k) => unwrapMesh(bare, { ...UNWRAPPING, seamAngle: (k * Math.PI) / 4 }).islands)).toEqual([
    6, 6,
  ]);
  const few = unwrapMesh(mesh, { ...UNWRAPPING, islands: 1 });
  expect(few.islands).toBeLessThanOrEqual(2);
  const f = uvFigures(few.mesh, uvOf(few.mesh));
  expect([f.flips, f.overlap]).toEqual([0, 0]);
  expect(f.stretchMax).toBeLessThan(1.01);
});

test('the same mesh gives the same sheet', () => {
  const [a, b] = [0, 1].map(() => uvOf(unwrapMesh(rings(14), UNWRAPPING).mesh));
  expect(Buffer.compare(Buffer.from(a.buffer), Buffer.from(b.buffer))).toBe(0);
});

test('marked seams are cut, held edges are not', () => {
  const mesh = cubeSphere({ radius: 1, cuts: 6 }, 3);
  const t = topologyOf(mesh);
  const level = (v: number) => Math.abs(mesh.positions[3 * v + 1]) < 1e-6;
  const equator = [...Array(t.edgeCount).keys()].filter(
    (e) => level(t.edgeVertex[2 * e]) && level(t.edgeVertex[2 * e + 1]),
  );
  const apart = (out: Mesh, e: number): boolean => {
    const uv = uvOf(out);
    const s = t.edgeCornerStart[e];
    const [a, b] = [t.edgeCorner[s], t.edgeCorner[s + 1]];
    const g = t.cornerFace[b];
    const next = b + 1 === mesh.faceStart[g + 1] ? mesh.faceStart[g] : b + 1;
    return Math.hypot(uv[2 * a] - uv[2 * next], uv[2 * a + 1] - uv[2 * next + 1]) > 1e-6;
  };
  const cut = unwrapMesh(mesh, { ...UNWRAPPING, cut: new Set(equator) }).mesh;
  expect(equator.every((e) => apart(cut, e))).toBe(true);
  const held = unwrapMesh(mesh, { ...UNWRAPPING, hold: new Set(equator.slice(0, 3)) }).mesh;
  expect(equator.slice(0, 3).some((e) => apart(held, e))).toBe(false);
});

describe('broken and bare', () => {
  const flat = (faces: number[][], positions: number[]) => meshFrom(Float32Array.from(positions), faces);
  const square = [0, 0, 0, 1, 0, 0, 1, 1, 0, 0, 1, 0];
  const five = Array.from({ length: 5 }, (_, i) => [Math.cos(i * 1.2), Math.sin(i * 1.2), 0.5]).flat();
  const mobius = Array.from({ length: 24 }, (_, i) => {
    const a = (Math.PI * 2 * Math.floor(i / 2)) / 12;
    const s = i % 2 === 0 ? -0.3 : 0.3;
    return [Math.cos(a) * (1 + s * Math.cos(a / 2)), s * Math.sin(a / 2), Math.sin(a) * (1 + s * Math.cos(a / 2))];
  }).flat();
  const strip = Array.from({ length: 12 }, (_, i) =>
    i < 11 ? [2 * i, 2 * i + 1, 2 * i + 3, 2 * i + 2] : [22, 23, 0, 1],
  );
  const loose = Array.from({ length: 200 }, (_, i) => [3 * i, 3 * i + 1, 3 * i + 2]);
  const r = thrown(9);
  test.each([
    ['one face', flat([[0, 1, 2, 3]], square)],
    ['no area', flat([[0, 1, 2]], [0, 0, 0, 1, 1, 1, 2, 2, 2])],
    [
      'all in one place',
      flat(
        [[0, 1, 2, 3]],
        square.map(() => 2),
      ),
    ],
    ['not a number', flat([[0, 1, 2, 3]], [NaN, 0, 0, 1, 0, 0, 1, 1, 0, 0, 1, 0])],
    [
      'five faces on an edge',
      flat(
        Array.from({ length: 5 }, (_, i) => [0, 1, 2 + i]),
        [0, 0, 0, 0, 0, 1, ...five],
      ),
    ],
    ['one side only', flat(strip, mobius)],
    [
      '200 loose parts',
      flat(
        loose,
        Array.from({ length: 1800 }, () => r()),
      ),
    ],
    ['sheet of one plane', plane({ width: 1, depth: 1, cutX: 8, cutZ: 8 } as never, 1)],
  ])('%s', (_, mesh) => {
    const out = unwrapMesh(mesh, UNWRAPPING);
    const uv = uvOf(out.mesh);
    expect(uv).toHaveLength(2 * mesh.cornerCount);
    const f = uvFigures(out.mesh, uv);
    expect([f.flips, f.overlap]).toEqual([0, 0]);
    if (mesh.positions.every(Number.isFinite)) expect(uv.every(Number.isFinite)).toBe(true);
  });
  test('everything cut, everything held', () => {
    const mesh = cubeSphere({ radius: 1, cuts: 3 }, 1);
    const all = new Set(Array.from({ length: topologyOf(mesh).edgeCount }, (_, e) => e));
    expect(unwrapMesh(mesh, { ...UNWRAPPING, cut: all }).islands).toBe(mesh.faceCount);
    expect(unwrapMesh(mesh, { ...UNWRAPPING, hold: all }).islands).toBeGreaterThan(0);
  });
});

describe('laid flat', () => {
  test('a tube with its slit is as long and as wide as it is round', () => {
    const tube = cylinder(
      { radius: 0.5, topRadius: 0.5, height: 2, sides: 48, rows: 6, cap: 'open', onGround: false },
      1,
    );
    const out = unwrapMesh(tube, { ...UNWRAPPING, seamAngle: Math.PI });
    expect(out.beyond).toBe(0);
    const f = uvFigures(out.mesh, uvOf(out.mesh));
    expect(f.stretchMax).toBeLessThan(1.02);
    expect(f.texelDensityMax / f.texelDensityMin).toBeLessThan(1.02);
  });

  test('a sheet that is flat stays what it is, with holes in it', () => {
    const n = 9;
    const positions = Array.from({ length: (n + 1) ** 2 }, (_, i) => [i % (n + 1), 0, Math.floor(i / (n + 1))]).flat();
    const faces = Array.from({ length: n * n }, (_, i) => {
      const v = Math.floor(i / n) * (n + 1) + (i % n);
      return [v, v + n + 1, v + n + 2, v + 1];
    }).filter((_, i) => ![20, 21, 60].includes(i));
    const laid = layFlat(patchOf(meshFrom(Float32Array.from(positions), faces)), 1.3);
    expect(laid.good).toBe(true);
    expect(laid.figures.spread).toBeLessThan(1.02);
    expect(laid.figures.mean).toBeCloseTo(1, 6);
  });

  /** A disc of a ball: all within an angle of the pole. */
  const cap = (angle: number, cuts: number): Mesh => {
    const ball = cubeSphere({ radius: 1, cuts }, 1);
    const keep = [...Array(ball.faceCount).keys()].filter((f) =>
      [...ball.cornerVertex.subarray(ball.faceStart[f], ball.faceStart[f + 1])].every(
        (v) => ball.positions[3 * v + 1] > Math.cos(angle),
      ),
    );
    return meshFrom(
      ball.positions,
      keep.map((f) => [...ball.cornerVertex.subarray(ball.faceStart[f], ball.faceStart[f + 1])]),
    );
  };

  test('on a circle nothing is flipped; bettering flips nothing and loses nothing', () => {
    for (const angle of [0.5, 1.5, 2.6]) {
      const patch = patchOf(cap(angle, 16));
      const rest = restOf(patch);
      const uv = tutte(patch, rest)!;
      expect(flatnessOf(patch, rest, uv, 1.3).flips).toBe(0);
      const before = flatnessOf(patch, rest, uv, 1.3);
      refine(patch, rest, uv, 25, () => false);
      const after = flatnessOf(patch, rest, uv, 1.3);
      expect(after.flips).toBe(0);
      expect(after.spread).toBeLessThanOrEqual(before.spread * 1.01);
      expect(rimCrosses(patch.rim, uv)).toBe(false);
    }
  });

  test('a ball’s cap is conformal to (1 + cos θ) / 2 between its middle and its rim', () => {
    const patch = patchOf(cap(1.1, 40));
    const laid = layFlat(patch, 10);
    // Stereographic: the scale at the rim over that in the middle is 1 / cos² (θ / 2).
    const rim = Math.acos(Math.min(...Array.from(patch.points).filter((_, i) => i % 3 === 1)));
    expect(laid.figures.spread).toBeGreaterThan(0.93 / Math.cos(rim / 2) ** 2);
    expect(laid.figures.spread).toBeLessThan(1.07 / Math.cos(rim / 2) ** 2);
    expect(laid.figures.mean).toBeLessThan(1.02);
  });
});

describe('exact', () => {
  test('turns have the sign of the whole numbers they are of, however near they are to straight', () => {
    const whole = fc.integer({ min: -(2 ** 50), max: 2 ** 50 });
    fc.assert(
      fc.property(
        whole,
        whole,
        whole,
        whole,
        fc.integer({ min: -3, max: 3 }),
        fc.integer({ min: -2, max: 2 }),
        (ax, ay, bx, by, k, off) => {
          const cx = ax + k * (bx - ax);
          const cy = ay + k * (by - ay) + off;
          fc.pre(Math.abs(cx) < 2 ** 52 && Math.abs(cy) < 2 ** 52);
          const [a, b, c, d] = [ax, ay, bx, by].map(BigInt);
          const exact = (a - BigInt(cx)) * (d - BigInt(cy)) - (b - BigInt(cy)) * (c - BigInt(cx));
          expect(Math.sign(turn(ax, ay, bx, by, cx, cy)) + 0).toBe(Number(exact > 0n) - Number(exact < 0n));
        },
      ),
      { numRuns: 400 },
    );
  });

  test('a rim that crosses, touches or folds back is told from one that does not', () => {
    const ring = (p: number[]): [Uint32Array, Float64Array] => {
      const n = p.length / 2;
      return [Uint32Array.from(Array.from({ length: n }, (_, i) => [i, (i + 1) % n]).flat()), Float64Array.from(p)];
    };
    expect(rimCrosses(...ring([0, 0, 2, 0, 2, 2, 0, 2]))).toBe(false);
    expect(rimCrosses(...ring([0, 0, 2, 0, 0, 2, 2, 2]))).toBe(true);
    expect(rimCrosses(...ring([0, 0, 4, 0, 4, 4, 2, 0, 0, 4]))).toBe(true);
    expect(rimCrosses(...ring([0, 0, 4, 0, 2, 0, 2, 4]))).toBe(true);
    expect(rimCrosses(...ring([0, 0, 4, 0, NaN, 4, 0, 4]))).toBe(true);
  });

  test('a hole that is closed beyond its middle is told from one that is open, mirrored or not', () => {
    const rings = (...all: number[][]): [Uint32Array, Float64Array] => {
      const sides: number[] = [];
      let from = 0;
      for (const p of all) {
        const n = p.length / 2;
        for (let i = 0; i < n; i++) sides.push(from + i, from + ((i + 1) % n));
        from += n;
      }
      return [Uint32Array.from(sides), Float64Array.from(all.flat())];
    };
    const mirrored = ([rim, uv]: [Uint32Array, Float64Array]): [Uint32Array, Float64Array] => [
      rim,
      uv.map((x, i) => (i % 2 === 0 ? -x : x)),
    ];
    const plate = [0, 0, 9, 0, 9, 9, 0, 9];
    const [open, beyond] = [
      [4, 2, 3, 4, 4, 6, 5, 4],
      [4, 2, 5, 4, 4, 6, 3, 4],
    ];
    const elsewhere = [20, 0, 29, 0, 29, 9, 20, 9];
    for (const seen of [rings, (...all: number[][]) => mirrored(rings(...all))]) {
      expect(rimCrosses(...seen(plate, open))).toBe(false);
      expect(crossingsOf(...seen(plate, beyond))).toEqual([4, 5, 6, 7]);
      expect(crossingsOf(...seen(open, elsewhere, plate))).toEqual([]);
      expect(crossingsOf(...seen(beyond, elsewhere, plate))).toEqual([0, 1, 2, 3]);
      // A part that lies in the hole of another is on nothing.
      expect(crossingsOf(...seen(plate, open, [3.9, 4, 4.1, 3.9, 4.1, 4.1]))).toEqual([]);
    }
  });
});
