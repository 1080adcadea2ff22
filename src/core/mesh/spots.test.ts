/**
 * Picks followed by where they were: through counts, copies, extrusions and levels; and what is lost rather than put
 * somewhere else.
 */
import fc from 'fast-check';
import { extrude } from '../edit/extrude';
import { loopCut } from '../edit/loopcut';
import { mirrorMesh } from '../edit/mirror';
import { weld } from '../edit/weld';
import { box, cubeSphere, cylinder, plane } from '../make/primitives';
import { keyOf } from '../math/hash';
import { subdivide } from '../subdivide/catmullclark';
import { closedBody, seeds, someOf } from '../testing/arbitrary';
import { elementPoint } from './elements';
import { areaOf } from './measure';
import { meshFrom, type Mesh } from './mesh';
import { faceNormals } from './normals';
import { countOf, edgeKeys, mask, pickOf, resolve, type ElementPick, type PickKind } from './picks';
import { packSpots } from './packedspots';
import { findSpot, spotOf } from './spots';
import { topologyOf } from './topology';
import { Witnesses } from './witnesses';

const id = keyOf('t');
const boxOf = (cutX: number, cutY = cutX, cutZ = cutX) =>
  box({ width: 2, height: 2, depth: 2, cutX, cutY, cutZ, onGround: false }, id);
const drum = (sides: number, rows = 2) =>
  cylinder({ radius: 1, topRadius: 1, height: 2, sides, rows, cap: 'polygon', onGround: false }, id);
const facesWhere = (mesh: Mesh, test: (at: readonly number[], normal: readonly number[]) => boolean): number[] => {
  const n = faceNormals(mesh);
  return [...Array(mesh.faceCount).keys()].filter((f) =>
    test(elementPoint(mesh, 'face', f), [n[3 * f], n[3 * f + 1], n[3 * f + 2]]),
  );
};
const top = (mesh: Mesh) => facesWhere(mesh, (_, n) => n[1] > 0.9);
const areaIn = (mesh: Mesh, faces: ArrayLike<number>) => areaOf(mesh, mask(mesh.faceCount, faces));

test('half of a box’s top is half of it at any count of cuts', () => {
  const cuts = fc.integer({ min: 1, max: 7 });
  fc.assert(
    fc.property(cuts, cuts, cuts, (from, x, z) => {
      const before = boxOf(2 * from);
      const half = top(before).filter((f) => elementPoint(before, 'face', f)[0] > 0);
      const after = boxOf(2 * x, 1, z);
      const { indices, lost } = resolve(after, pickOf(before, 'face', half));
      expect(lost).toEqual([]);
      expect(areaIn(after, indices)).toBeCloseTo(2, 5);
      expect(Math.min(...Array.from(indices, (f) => elementPoint(after, 'face', f)[0]))).toBeGreaterThan(0);
    }),
    { numRuns: 30 },
  );
});

test('cells that do not fit are divided up: every new cell has one old one, whatever the counts', () => {
  const cuts = fc.integer({ min: 1, max: 15 });
  fc.assert(
    fc.property(cuts, cuts, (from, to) => {
      const before = boxOf(from, 1, 1);
      const after = boxOf(Math.max(from, to), 1, 1);
      const owners = new Map<number, number>();
      for (const f of top(before))
        for (const g of resolve(after, pickOf(before, 'face', [f])).indices) owners.set(g, (owners.get(g) ?? 0) + 1);
      expect([...owners.values()].every((n) => n === 1)).toBe(true);
      expect(owners.size).toBe(top(after).length);
    }),
    { numRuns: 60 },
  );
});

test('what lay on an extrusion lies on what it was drawn from once that is taken back; its walls are lost', () => {
  const before = boxOf(4);
  const up = top(before).filter((f) => elementPoint(before, 'face', f)[0] > 0);
  const drawn = subdivide(extrude(before, up, { by: 0.2, along: 'normals', each: false, inset: 0 }, keyOf('drawn')), {
    levels: 1,
  });
  const taken = subdivide(before, { levels: 1 });
  const n = faceNormals(drawn);
  for (let f = 0; f < drawn.faceCount; f++) {
    const [x, y] = elementPoint(drawn, 'face', f);
    const flatTop = n[3 * f + 1] > 0.99 && y > 1.1 && x > 0.3 && x < 0.7;
    const wall = y > 1.02 && y < 1.1 && Math.abs(n[3 * f + 1]) < 0.5;
    if (!flatTop && !wall) continue;
    const { indices } = resolve(taken, pickOf(drawn, 'face', [f]));
    if (wall) expect(indices).toHaveLength(0);
    if (!flatTop) continue;
    expect(indices).toHaveLength(1);
    const [a, b] = [elementPoint(drawn, 'face', f), elementPoint(taken, 'face', indices[0])];
    expect(Math.hypot(a[0] - b[0], a[2] - b[2])).toBeLessThan(0.13);
    expect(faceNormals(taken)[3 * indices[0] + 1]).toBeGreaterThan(0.9);
  }
});

test.each([16, 24, 32, 48])('a seam at half a turn of 16 sides stays there with %d', (sides) => {
  const before = drum(16);
  const after = drum(sides);
  const seam = [...Array(countOf(before, 'edge')).keys()].filter((e) => {
    const [x, , z] = elementPoint(before, 'edge', e);
    return Math.abs(x + 1) < 1e-6 && Math.abs(z) < 1e-6;
  });
  expect(seam).toHaveLength(2);
  const { indices, lost } = resolve(after, pickOf(before, 'edge', seam));
  expect(lost).toEqual([]);
  expect(indices).toHaveLength(2);
  for (const e of indices) expect(elementPoint(after, 'edge', e)[0]).toBeCloseTo(-1, 5);
});

test('a line in the middle goes one way as a whole where no line is in the middle any more', () => {
  const before = boxOf(1, 1, 6);
  const cut = (count: number) => {
    const e = [...Array(countOf(before, 'edge')).keys()].find((x) => {
      const [a, y] = elementPoint(before, 'edge', x);
      return Math.abs(a) < 1e-6 && Math.abs(y - 1) < 1e-6;
    })!;
    return loopCut(before, [e], { count, slide: 0 }, keyOf('cut'));
  };
  const one = cut(1);
  const middle = [...Array(one.vertexCount).keys()].filter((v) => Math.abs(one.positions[3 * v]) < 1e-6);
  expect(middle).toHaveLength(14);
  const two = cut(2);
  const { indices, lost } = resolve(two, pickOf(one, 'vertex', middle));
  expect(lost).toEqual([]);
  expect(indices).toHaveLength(14);
  expect(new Set(Array.from(indices, (v) => two.positions[3 * v].toFixed(4))).size).toBe(1);
  // And there where there is a middle again, it is the middle.
  const three = resolve(cut(3), pickOf(one, 'vertex', middle));
  for (const v of three.indices) expect(cut(3).positions[3 * v]).toBeCloseTo(0, 5);
});

test('a slid cut goes along its axis however the faces before it are numbered', () => {
  fc.assert(
    fc.property(fc.nat(50), fc.nat(50), (pick, drop) => {
      const whole = boxOf(3);
      const t = topologyOf(whole);
      const edge = pick % t.edgeCount;
      const other = extrude(whole, [drop % whole.faceCount], { by: 0, along: 'normals', each: false, inset: 0 }, 7);
      const options = { count: 1, slide: 0.5 };
      const slid = (mesh: Mesh) => {
        const e = edgeKeys(mesh).indexOf(edgeKeys(whole)[edge]);
        if (e < 0) return undefined;
        const cut = loopCut(mesh, [e], options, 9);
        const made = [...Array(cut.vertexCount).keys()].filter((v) => !mesh.vertexKey.includes(cut.vertexKey[v]));
        return new Map(made.map((v) => [cut.vertexKey[v], [...cut.positions.subarray(3 * v, 3 * v + 3)]]));
      };
      const a = slid(whole)!;
      const b = slid(other);
      for (const [key, at] of b ?? []) if (a.has(key)) expect(at).toEqual(a.get(key));
    }),
  );
});

test('levels of subdivision: faces keep their area, in both directions', () => {
  fc.assert(
    fc.property(seeds, fc.integer({ min: 1, max: 3 }), fc.integer({ min: 1, max: 3 }), (s, from, to) => {
      const before = subdivide(boxOf(2), { levels: from });
      const after = subdivide(boxOf(2), { levels: to });
      const cage = someOf(24, s);
      // All parts of some faces of the cage: what they cover is the same at each level.
      const parts = resolve(before, pickOf(boxOf(2), 'face', cage)).indices;
      const found = resolve(after, pickOf(before, 'face', parts));
      expect(found.lost).toEqual([]);
      expect([...found.indices]).toEqual([...resolve(after, pickOf(boxOf(2), 'face', cage)).indices]);
    }),
    { numRuns: 15 },
  );
});

test('a mirror put in or taken away: what stands where it stood is found, both ways', () => {
  const whole = boxOf(4);
  const mirrored = mirrorMesh(whole, { axis: 'x', keep: 'positive', weld: 0.001, clip: true }, keyOf('mirror'));
  const left = facesWhere(whole, ([x]) => x < -0.3);
  const there = resolve(mirrored, pickOf(whole, 'face', left));
  expect(there.lost).toEqual([]);
  for (const f of there.indices) expect(elementPoint(mirrored, 'face', f)[0]).toBeLessThan(-0.3);
  const back = resolve(whole, pickOf(mirrored, 'face', there.indices));
  expect([...back.indices]).toEqual(left);
});

describe('through another count what was on the copy of a mirror stays on it', () => {
  const ways = { axis: 'x', keep: 'positive', weld: 0.001, clip: true } as const;
  const by = (mesh: Mesh, dx: (v: number) => number): Mesh =>
    mesh.moved(mesh.positions.map((x, i) => (i % 3 === 0 ? x + dx((i - (i % 3)) / 3) : x)));
  const BODIES: [string, (n: number) => Mesh][] = [
    ['on the plane', (n) => boxOf(n)],
    ['away from it', (n) => by(boxOf(n), () => 2.5)],
    // With one count a vertex in the way was moved by hand, with the other nothing.
    ['on it, but for what was moved', (n) => by(boxOf(n), (v) => (n === 4 && v === 52 ? 0.2 : 0))],
  ];
  test.each(BODIES)('%s', (_, body) => {
    for (const [few, many] of [
      [4, 5],
      [5, 4],
      [4, 8],
    ]) {
      const [was, now] = [few, many].map((n) => mirrorMesh(body(n), ways, keyOf('mirror')));
      const kinds = ['vertex', 'face', 'edge'] as const;
      let [found, all] = [0, 0];
      for (const kind of kinds)
        for (let i = 0; i < countOf(was, kind); i++) {
          const [x, y, z] = elementPoint(was, kind, i);
          if (x > -0.3) continue;
          all++;
          const { indices } = resolve(now, pickOf(was, kind, [i]));
          if (indices.length > 0) found++;
          for (const k of indices) {
            const at = elementPoint(now, kind, k);
            expect(at[0]).toBeLessThan(0);
            expect(Math.hypot(at[0] - x, at[1] - y, at[2] - z)).toBeLessThan(0.8);
          }
        }
      expect(found / all).toBeGreaterThan(0.95);
    }
  });
});

describe('never somewhere else', () => {
  test('walls of an extrusion are found among its walls, and lost where it is gone', () => {
    const [cap] = top(boxOf(3));
    const out = extrude(boxOf(3), [cap], { by: 0.5, along: 'normals', each: false, inset: 0 }, keyOf('x'));
    const walls = [...Array(out.faceCount).keys()].filter((f) => !boxOf(3).faceKey.includes(out.faceKey[f]));
    expect(walls).toHaveLength(4);
    const pick = pickOf(out, 'face', walls);
    expect(resolve(boxOf(3), pick)).toMatchObject({ lost: [...pick.keys] });
    // The same extrusion of the finer cells that cover the face: each wall goes to the parts of its own side.
    const cells = resolve(boxOf(6), pickOf(boxOf(3), 'face', [cap])).indices;
    const finer = extrude(boxOf(6), cells, { by: 0.5, along: 'normals', each: false, inset: 0 }, keyOf('x'));
    for (const w of walls) {
      const found = resolve(finer, pickOf(out, 'face', [w]));
      expect(found.lost).toEqual([]);
      expect(found.indices).toHaveLength(2);
      const n = faceNormals(out).subarray(3 * w, 3 * w + 3);
      for (const f of found.indices) {
        const m = faceNormals(finer).subarray(3 * f, 3 * f + 3);
        expect(n[0] * m[0] + n[1] * m[1] + n[2] * m[2]).toBeGreaterThan(0.99);
      }
    }
  });
  test('both sides of a plate keep apart', () => {
    const plate = (n: number) =>
      box({ width: 2, height: 0.001, depth: 2, cutX: n, cutY: 1, cutZ: n, onGround: false }, id);
    const before = plate(4);
    const { indices } = resolve(plate(7), pickOf(before, 'face', top(before)));
    expect([...indices]).toEqual(top(plate(7)));
  });
  test('what has no place near is lost: a pick of one side, where that side is away', () => {
    const before = boxOf(4);
    const open = plane({ width: 2, depth: 2, cutX: 3, cutZ: 3 }, keyOf('another'));
    const sides = facesWhere(before, (_, n) => n[0] > 0.9);
    expect(resolve(open, pickOf(before, 'face', sides)).indices).toHaveLength(0);
  });
  test('an element whose key is there is itself, and following is the identity', () => {
    fc.assert(
      fc.property(closedBody, seeds, fc.constantFrom<PickKind>('vertex', 'edge', 'face'), (mesh, s, kind) => {
        const chosen = someOf(countOf(mesh, kind), s);
        const pick = pickOf(mesh, kind, chosen);
        expect(resolve(mesh, pick)).toMatchObject({ lost: [], followed: [] });
        expect([...resolve(mesh, pick).indices]).toEqual([...chosen].sort((a, b) => a - b));
        // By their places alone each is found too, whatever else may be as near.
        for (const i of chosen) expect(findSpot(mesh, kind, spotOf(mesh, kind, i), countOf(mesh, kind))).toContain(i);
      }),
      { numRuns: 60 },
    );
  });
});

describe('what a pick says of itself', () => {
  const before = boxOf(4);
  const pick = pickOf(before, 'face', top(before));
  const broken: [string, ElementPick][] = [
    ['no base 64', { ...pick, spots: '~~~~' }],
    ['of another length', { ...pick, spots: pick.spots!.slice(4) }],
    ['of nothing', { ...pick, spots: packSpots(pick.keys.map(() => new Float64Array(13).fill(NaN))) }],
    ['of infinity', { ...pick, spots: packSpots(pick.keys.map(() => new Float64Array(13).fill(Infinity))) }],
    ['of the wrong kind', { ...pick, kind: 'edge' }],
  ];
  test.each(broken)('spots that are %s count for nothing, and break nothing', (_, bad) => {
    const { lost, followed } = resolve(boxOf(5), bad);
    expect(followed).toEqual([]);
    expect(lost.length).toBeGreaterThan(0);
  });
  test('keys alone are followed by what was seen of them', () => {
    const seen = new Witnesses().of('a pick');
    const bare: ElementPick = { kind: 'face', keys: pick.keys };
    resolve(before, bare, seen);
    const { indices, followed } = resolve(boxOf(5), bare, seen);
    expect(followed).toHaveLength(pick.keys.length);
    expect([...indices]).toEqual(top(boxOf(5)));
    expect(resolve(boxOf(5), bare).lost).toEqual([...pick.keys]);
  });
});

test('places: between, doubled, welded and drawn out, never more nor fewer than vertices', () => {
  fc.assert(
    fc.property(closedBody, seeds, (mesh, s) => {
      const faces = someOf(mesh.faceCount, s);
      const edges = someOf(countOf(mesh, 'edge'), s);
      const each = { by: 0.1, along: 'normals', each: true, inset: 0.01 } as const;
      const all = [
        extrude(mesh, faces, each, 3),
        loopCut(mesh, edges, { count: 2, slide: 0.3 }, 4),
        weld(mesh, 0.3),
        mirrorMesh(mesh, { axis: 'x', keep: 'positive', weld: 0.001, clip: true }, 5),
        subdivide(mesh, { levels: 1 }),
      ];
      for (const m of all) {
        expect(m.places.role).toHaveLength(m.vertexCount);
        expect(m.places.at).toHaveLength(4 * m.vertexCount);
        expect(m.places.at.every(Number.isFinite)).toBe(true);
      }
    }),
    { numRuns: 25 },
  );
});

test('what says nothing of where it belongs does so by its bounds, however large or far away', () => {
  for (const [k, o] of [
    [1, 0],
    [1e6, 1e7],
    [1e-6, 0],
  ]) {
    const m = meshFrom(
      [0, 0, 0, 1, 0, 0, 0, 1, 0].map((x) => x * k + o),
      [[0, 1, 2]],
    );
    for (const x of m.places.at) expect(Math.abs(x)).toBeLessThanOrEqual(1.001);
  }
  expect(cubeSphere({ radius: 3, cuts: 2 }, id).places.at.every((x) => Math.abs(x) <= 1)).toBe(true);
});
