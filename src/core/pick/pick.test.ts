/** Picks that follow from others, checked by what a person would count on the body. */
import fc from 'fast-check';
import { box, cubeSphere, cylinder, plane } from '../make/primitives';
import { keyOf } from '../math/hash';
import { Queue } from '../math/queue';
import { elementPoint } from '../mesh/elements';
import { Mesh, meshFrom } from '../mesh/mesh';
import { countOf, edgeKeys, pickOf, resolve, type PickKind } from '../mesh/picks';
import { topologyOf } from '../mesh/topology';
import { elementsBy, ruleDefs } from '../rules';
import { extrude } from '../edit/extrude';
import { closedBody, seeds, someOf } from '../testing/arbitrary';
import { dice } from '../testing/mutants';
import { animal } from '../testing/zoo';
import { alike } from './alike';
import { mirrored } from './mirrored';
import { pathBetween } from './path';
import { border, flat, invert, joined, loops, rings } from './spread';
import { answer, LIKENESSES, withinOutline } from '.';
import { insideOf } from './outline';
import { THOROUGH } from '../testing/thorough';

const id = keyOf('t');
const block = (n = 4) => box({ width: 2, height: 2, depth: 2, cutX: n, cutY: n, cutZ: n, onGround: false }, id);
const every = (n: number) => Array.from({ length: n }, (_, i) => i);
const where = (m: Mesh, kind: PickKind, test: (p: number[]) => boolean) =>
  every(countOf(m, kind)).filter((i) => test(elementPoint(m, kind, i)));
const two = (a: Mesh, b: Mesh): Mesh =>
  meshFrom(
    [...a.positions, ...b.positions.map((x, i) => (i % 3 ? x : x + 10))],
    [a, b].flatMap((m, k) =>
      every(m.faceCount).map((f) =>
        Array.from(m.cornerVertex.subarray(m.faceStart[f], m.faceStart[f + 1]), (v) => v + k * a.vertexCount),
      ),
    ),
  );

describe('spreading', () => {
  test('the rest, twice, is the same again; what is joined stays in one body', () => {
    fc.assert(
      fc.property(closedBody, seeds, (m, s) => {
        const some = Uint32Array.from(new Set(someOf(m.faceCount, s))).sort();
        expect(invert(m, 'face', invert(m, 'face', some))).toEqual(some);
        const both = two(m, block(1));
        expect(joined(both, 'face', [0])).toHaveLength(m.faceCount);
        expect(joined(both, 'edge', [topologyOf(both).edgeCount - 1])).toHaveLength(12);
      }),
      { numRuns: 16 },
    );
  });
  test('the border of a square of nine faces is twelve edges', () => {
    const m = plane({ width: 5, depth: 5, cutX: 5, cutZ: 5 }, id);
    const nine = where(m, 'face', (p) => Math.abs(p[0]) < 1.6 && Math.abs(p[2]) < 1.6);
    expect(nine).toHaveLength(9);
    expect(border(m, 'face', nine)).toHaveLength(12);
    expect(border(m, 'face', every(25))).toHaveLength(20);
    const inner = where(m, 'vertex', (p) => Math.abs(p[0]) < 2 && Math.abs(p[2]) < 2);
    expect(border(m, 'vertex', inner)).toHaveLength(12);
  });
  test('a loop runs round; every second of its edges is half of it', () => {
    const drum = cylinder(
      { radius: 1, topRadius: 1, height: 2, sides: 12, rows: 4, cap: 'polygon', onGround: false },
      id,
    );
    const ring = where(drum, 'edge', (p) => Math.abs(p[1]) < 1e-6);
    expect(ring).toHaveLength(12);
    expect([...loops(drum, [ring[0]])]).toEqual(ring);
    const half = loops(drum, [ring[3]], 2);
    expect(half).toHaveLength(6);
    expect([...half]).toContain(ring[3]);
    const upright = where(drum, 'edge', (p) => p[1] > 0.1 && p[1] < 0.4);
    expect([...rings(drum, [upright[0]])]).toEqual(upright);
    expect(rings(drum, [upright[0]], 3)).toHaveLength(4);
  });
  test('a flat region ends where the surface bends', () => {
    const m = block();
    const top = where(m, 'face', (p) => p[1] > 0.99);
    expect([...flat(m, [top[0]], 0.1)]).toEqual(top);
    expect(flat(m, [top[0]], 2)).toHaveLength(m.faceCount);
  });
});

describe('paths', () => {
  test('no way is shorter, by trying all ways (Bellman and Ford)', () => {
    fc.assert(
      fc.property(closedBody, fc.nat(), fc.nat(), (m, x, y) => {
        const [from, to] = [x % m.vertexCount, y % m.vertexCount];
        const t = topologyOf(m);
        const p = (v: number) => elementPoint(m, 'vertex', v);
        const apart = (a: number, b: number) => Math.hypot(...p(a).map((q, k) => q - p(b)[k]));
        const cost = new Float64Array(m.vertexCount).fill(Infinity);
        cost[from] = 0;
        for (let round = 0; round < m.vertexCount; round++)
          for (let e = 0; e < t.edgeCount; e++) {
            const [a, b] = [t.edgeVertex[2 * e], t.edgeVertex[2 * e + 1]];
            cost[a] = Math.min(cost[a], cost[b] + apart(a, b));
            cost[b] = Math.min(cost[b], cost[a] + apart(a, b));
          }
        const way = pathBetween(m, 'vertex', from, to);
        expect([way[0], way[way.length - 1]]).toEqual([from, to]);
        const long = way.slice(1).reduce((sum, v, i) => sum + apart(way[i], v), 0);
        expect(long).toBeCloseTo(cost[to], 5);
      }),
      { numRuns: 40 },
    );
  });
  test('of edges it hangs together; where nothing leads there it is empty', () => {
    const m = block();
    const edges = where(m, 'edge', (p) => p[1] > 0.99);
    const way = pathBetween(m, 'edge', edges[0], edges[edges.length - 1]);
    const t = topologyOf(m);
    for (let i = 1; i < way.length; i++) {
      const ends = [way[i - 1], way[i]].flatMap((e) => [t.edgeVertex[2 * e], t.edgeVertex[2 * e + 1]]);
      expect(new Set(ends).size).toBe(3);
    }
    const apart = two(block(1), block(1));
    expect(pathBetween(apart, 'vertex', 0, 8)).toEqual([]);
    expect(pathBetween(apart, 'face', 0, 6)).toEqual([]);
    expect(pathBetween(m, 'face', 3, 3)).toEqual([3]);
  });
  test('the queue gives back what it got in order', () => {
    fc.assert(
      fc.property(fc.array(fc.integer({ min: -1000, max: 1000 })), (list) => {
        const q = new Queue();
        list.forEach((x, i) => q.push(i, x));
        const out: number[] = [];
        while (q.size) out.push(q.pop()[1]);
        expect(out).toEqual([...list].sort((a, b) => a - b));
      }),
    );
  });
});

describe('likeness', () => {
  test('what is picked is always like itself', () => {
    fc.assert(
      fc.property(closedBody, seeds, (m, s) => {
        for (const kind of ['face', 'edge', 'vertex'] as const)
          for (const by of LIKENESSES[kind]) {
            const some = someOf(countOf(m, kind), s);
            const found = new Set(alike(m, kind, some, by));
            for (const i of some) expect([by, found.has(i)]).toEqual([by, true]);
          }
      }),
      { numRuns: 20 },
    );
  });
  test('a block has sixteen faces that look up, and twelve rows of sharp edges', () => {
    const m = block();
    const top = where(m, 'face', (p) => p[1] > 0.99);
    expect([...alike(m, 'face', [top[3]], 'normal')]).toEqual(top);
    const rim = where(m, 'edge', (p) => p[1] > 0.99 && p[0] > 0.99);
    expect(alike(m, 'edge', [rim[0]], 'sharpness')).toHaveLength(12 * 4);
    const corner = where(m, 'vertex', (p) => p.every((x) => x > 0.99));
    expect(alike(m, 'vertex', corner, 'valence')).toHaveLength(8);
  });
});

describe('the other side', () => {
  test('twice is the same again, on a ball', () => {
    const m = cubeSphere({ radius: 1, cuts: 4 }, id);
    fc.assert(
      fc.property(seeds, fc.constantFrom('x' as const, 'y' as const, 'z' as const), (s, axis) => {
        for (const kind of ['face', 'edge', 'vertex'] as const) {
          const some = Uint32Array.from(new Set(someOf(countOf(m, kind), s))).sort();
          const other = mirrored(m, kind, some, axis);
          expect(other.missing).toBe(0);
          expect(mirrored(m, kind, other.found, axis).found).toEqual(some);
        }
      }),
      { numRuns: 20 },
    );
  });
  test('what has no other side is counted', () => {
    const m = block();
    const away = m.moved(m.positions.map((x, i) => (i % 3 === 0 && x > 0.9 ? x + 1 : x)));
    const { found, missing } = mirrored(away, 'vertex', every(m.vertexCount), 'x');
    expect(missing).toBe(50);
    expect(found).toHaveLength(m.vertexCount - 50);
  });
});

describe('outlines', () => {
  test('inside as by counting sides, one by one', () => {
    const point = fc.tuple(fc.integer({ min: 0, max: 60 }), fc.integer({ min: 0, max: 60 }));
    fc.assert(
      fc.property(fc.array(point, { minLength: 3, maxLength: 12 }), (outline) => {
        const inside = insideOf(outline);
        for (let y = 0; y < 60; y += 7)
          for (let x = 0; x < 60; x += 7) {
            // On no side: where a line through whole points is half way down a row is a rational number.
            const [px, py] = [x + Math.SQRT2 / 5, y + 0.5];
            let odd = false;
            outline.forEach(([ax, ay], i) => {
              const [bx, by] = outline[(i + 1) % outline.length];
              if (ay > py !== by > py && px > ax + ((py - ay) / (by - ay)) * (bx - ax)) odd = !odd;
            });
            expect(inside(px, y)).toBe(odd);
          }
      }),
    );
  });
  test('a lasso round half a plane takes half of it, and nothing behind the eye', () => {
    const m = plane({ width: 4, depth: 4, cutX: 4, cutZ: 4 }, id);
    const screen = Float32Array.from({ length: 3 * m.vertexCount }, (_, i) =>
      i % 3 === 2 ? 0 : 100 + 20 * m.positions[i - (i % 3) + (i % 3 === 0 ? 0 : 2)],
    );
    const left: [number, number][] = [
      [50, 50],
      [101, 50],
      [101, 150],
      [50, 150],
    ];
    expect(withinOutline(m, 'face', screen, left)).toHaveLength(8);
    expect(withinOutline(m, 'vertex', screen, left)).toHaveLength(15);
    expect(
      withinOutline(
        m,
        'face',
        screen.map((x, i) => (i % 3 === 2 ? 2 : x)),
        left,
      ),
    ).toHaveLength(0);
    expect(withinOutline(m, 'face', screen, left.slice(0, 2))).toHaveLength(0);
  });
});

describe('rules', () => {
  const rule = (r: string, values: Record<string, unknown> = {}) => ({ id: r, values });
  test('count what a person would', () => {
    const m = block();
    expect(elementsBy(m, 'face', rule('looks'))).toHaveLength(16);
    expect(elementsBy(m, 'face', rule('looks', { way: 'front', angle: 2 }))).toHaveLength(80);
    expect(elementsBy(m, 'face', rule('inside', { y0: 0 }))).toHaveLength(16 + 4 * 8);
    expect(elementsBy(m, 'edge', rule('sharp'))).toHaveLength(48);
    expect(elementsBy(m, 'edge', rule('open'))).toHaveLength(0);
    expect(elementsBy(m, 'face', rule('sides', { least: 4, most: 4 }))).toHaveLength(96);
    expect(elementsBy(m, 'vertex', rule('valence', { least: 3, most: 3 }))).toHaveLength(8);
    expect(elementsBy(m, 'edge', rule('length', { least: 0.49, most: 0.51 }))).toHaveLength(192);
    expect(elementsBy(m, 'face', rule('area', { least: 0.49, most: 0.51 }))).toHaveLength(96);
    expect(elementsBy(m, 'face', rule('material', { name: '' }))).toHaveLength(96);
    expect(elementsBy(m, 'face', rule('set', { name: 'nothing of the kind' }))).toHaveLength(0);
    expect(elementsBy(m, 'vertex', rule('sides'))).toHaveLength(0);
    expect(elementsBy(m, 'face', rule('what is not there'))).toHaveLength(0);
  });
  test('walls and top of what a move drew out', () => {
    const m = block();
    const top = where(m, 'face', (p) => p[1] > 0.99 && Math.abs(p[0]) < 0.5 && Math.abs(p[2]) < 0.5);
    const out = extrude(m, top, { by: 0.3, along: 'normals', each: false, inset: 0 }, keyOf('m1'));
    expect(elementsBy(out, 'face', rule('made', { move: 'm1', part: 'wall' }))).toHaveLength(8);
    expect(elementsBy(out, 'face', rule('made', { move: 'm1', part: 'top' }))).toHaveLength(4);
    expect(elementsBy(out, 'face', rule('made', { move: 'm2' }))).toHaveLength(0);
  });
  test('a random share is near to what it says, the same each time, and another by another dice', () => {
    const m = cubeSphere({ radius: 1, cuts: 20 }, id);
    const some = elementsBy(m, 'face', rule('share', { each: 4 }));
    expect(some.length / m.faceCount).toBeGreaterThan(0.2);
    expect(some.length / m.faceCount).toBeLessThan(0.3);
    expect(elementsBy(m, 'face', rule('share', { each: 4 }))).toEqual(some);
    expect(elementsBy(m, 'face', rule('share', { each: 4, seed: 2 }))).not.toEqual(some);
  });
  test('live in a pick: what fits now, besides its keys', () => {
    const pick = { kind: 'face' as const, keys: [], rule: rule('looks') };
    expect(resolve(block(3), pick).indices).toHaveLength(9);
    expect(resolve(block(5), pick).indices).toHaveLength(25);
    const m = block(3);
    const side = where(m, 'face', (p) => p[0] > 0.99);
    const both = { ...pickOf(m, 'face', [side[0]]), rule: rule('looks') };
    expect(resolve(m, both).indices).toHaveLength(10);
    expect(resolve(m, both).lost).toEqual([]);
  });
  test('all of them on anything nasty answer with numbers that are there', () => {
    for (let seed = 1; seed < (THOROUGH ? 60 : 16); seed++) {
      const { mesh } = animal(dice(seed * 7919));
      for (const def of ruleDefs())
        for (const kind of def.picks) {
          const found = elementsBy(mesh, kind, { id: def.id, values: {} });
          for (const i of found) expect(i < countOf(mesh, kind)).toBe(true);
        }
      for (const kind of ['face', 'edge', 'vertex'] as const) {
        const n = countOf(mesh, kind);
        if (n === 0) continue;
        const some = [0, n - 1];
        for (const found of [border(mesh, kind, some), joined(mesh, kind, some), mirrored(mesh, kind, some, 'x').found])
          for (const i of found) expect(i).toBeLessThan(Math.max(n, edgeKeys(mesh).length));
      }
    }
  });
});

describe('queries by name', () => {
  const m = box({ width: 1, height: 1, depth: 1, cutX: 3, cutY: 3, cutZ: 3, onGround: false }, 1);
  const ask = (
    name: Parameters<typeof answer>[1]['name'],
    kind: 'face' | 'edge' | 'vertex',
    from: number[],
    values = {},
  ) => {
    const found = answer(m, { name, kind, from: Uint32Array.from(from), values });
    return { ...found, count: found.indices.length };
  };

  test('each gives what the function behind it gives, and says of which kind', () => {
    expect(ask('all', 'face', []).count).toBe(54);
    expect(ask('grow', 'face', [4]).count).toBe(9);
    expect(ask('shrink', 'face', [0, 1, 2, 3, 4, 5, 6, 7, 8]).count).toBeLessThan(9);
    expect(ask('invert', 'face', [0]).count).toBe(53);
    expect(ask('joined', 'vertex', [0]).count).toBe(56);
    expect(ask('border', 'face', [4])).toMatchObject({ kind: 'edge', count: 4 });
    expect(ask('border', 'vertex', [0])).toMatchObject({ kind: 'vertex', count: 1 });
    expect(ask('rule', 'edge', [], { id: 'sharp', values: { angle: 1 } }).count).toBe(36);
    expect(ask('like', 'face', [0], { by: 'sides' }).count).toBe(54);
    expect(ask('path', 'vertex', [0, 55]).count).toBeGreaterThan(3);
    expect(ask('other-side', 'vertex', [0], { axis: 'x', and: true })).toMatchObject({ count: 2, missing: 0 });
    expect(ask('loops', 'edge', [0], { nth: 1 }).count).toBeGreaterThan(0);
    expect(ask('rings', 'edge', [0], { nth: 1 }).count).toBeGreaterThan(0);
    expect(ask('flat', 'face', [0], { angle: 0.1 }).count).toBe(9);
  });

  test('a double click: the flat side of a face, the loop of an edge, all that hangs together with a vertex', () => {
    expect(ask('wider', 'face', [0]).count).toBe(9);
    expect(ask('wider', 'vertex', [3]).count).toBe(56);
    expect(ask('wider', 'edge', [0]).count).toBeGreaterThan(0);
  });
});
