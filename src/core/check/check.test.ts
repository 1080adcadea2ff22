/**
 * Checks: each finds what was put wrong on purpose, says nothing of what is sound, and what mends it leaves nothing to
 * find.
 */
import fc from 'fast-check';
import { box, cubeSphere, cylinder, plane } from '../make/primitives';
import { keyOf } from '../math/hash';
import { shapeOf, volumeOf } from '../mesh/measure';
import { meshFrom, type Mesh } from '../mesh/mesh';
import { countOf } from '../mesh/picks';
import { complete } from '../recipe/values';
import { closedBody } from '../testing/arbitrary';
import { dice } from '../testing/mutants';
import { problemsOf } from '../testing/valid';
import { animal } from '../testing/zoo';
import { toolDef } from '../tools';
import { cleanUp } from '../edit/cleanup';
import { checkDef, checkDefs } from '.';

const id = keyOf('t');
const every = (n: number) => Array.from({ length: n }, (_, i) => i);
const cube = (n = 2) => box({ width: 2, height: 2, depth: 2, cutX: n, cutY: n, cutZ: n, onGround: false }, id);
const ringsOf = (m: Mesh) =>
  every(m.faceCount).map((f) => Array.from(m.cornerVertex.subarray(m.faceStart[f], m.faceStart[f + 1])));
/** A mesh side by side with others, as one. */
const together = (...list: Mesh[]): Mesh => {
  let from = 0;
  const faces: number[][] = [];
  const places: number[] = [];
  for (const m of list) {
    faces.push(...ringsOf(m).map((r) => r.map((v) => v + from)));
    places.push(...m.positions);
    from += m.vertexCount;
  }
  return meshFrom(places, faces);
};
const scaled = (m: Mesh, s: number, x = 0): Mesh => m.moved(m.positions.map((p, i) => p * s + (i % 3 === 0 ? x : 0)));
const found = (m: Mesh, check: string) => Array.from(checkDef(check)!.find(m));
const mended = (m: Mesh, check: string): Mesh => {
  const def = checkDef(check)!;
  const tool = toolDef(def.mend!.tool)!;
  const picked = { kind: def.kind, indices: Uint32Array.from(def.find(m)) };
  expect(tool.picks).toContain(def.kind);
  return tool.run(m, picked, complete(tool.values, def.mend!.values ?? {}) as never, id);
};

test('sound bodies have nothing to be said of', () => {
  const quiet = checkDefs().filter((c) => !['dense', 'many-sided', 'poles', 'slivers', 'bent'].includes(c.id));
  fc.assert(
    fc.property(closedBody, (m) => {
      for (const c of quiet) expect([c.id, Array.from(c.find(m))]).toEqual([c.id, []]);
    }),
    { numRuns: 25 },
  );
});

describe('finds', () => {
  test('open edges, and closes them', () => {
    const m = cube();
    const opened = meshFrom([...m.positions], ringsOf(m).slice(4));
    expect(found(opened, 'open')).toHaveLength(shapeOf(opened).openEdges);
    expect(shapeOf(mended(opened, 'open')).openEdges).toBe(0);
  });
  test('a fin, and two parts that touch in a point', () => {
    const m = cube(1);
    const fin = meshFrom([...m.positions, 5, 5, 5], [...ringsOf(m), [m.cornerVertex[0], m.cornerVertex[1], 8]]);
    expect(found(fin, 'crowded')).toHaveLength(1);
    const p = [0, 0, 0, 1, 0, 0, 0, 1, 0, -1, 0, 0, 0, -1, 0];
    expect(found(meshFrom(p, [[0, 1, 2], [0, 3, 4]]), 'pinched')).toEqual([0]); // prettier-ignore
  });
  test('doubled faces and loose vertices, and removes them', () => {
    const m = cube(1);
    const twice = meshFrom([...m.positions, 9, 9, 9], [...ringsOf(m), ringsOf(m)[2]]);
    expect(found(twice, 'doubled')).toEqual([6]);
    expect(found(twice, 'loose')).toEqual([8]);
    expect(shapeOf(mended(twice, 'doubled')).closed).toBe(true);
    expect(mended(twice, 'loose').vertexCount).toBe(8);
  });
  test('a sliver in a line hands its corner on: what was closed stays closed, to the same volume', () => {
    const m = cube(1);
    const rings = ringsOf(m);
    const [a, b] = [rings[0][0], rings[0][1]];
    const mid = [0, 1, 2].map((k) => (m.positions[3 * a + k] + m.positions[3 * b + k]) / 2);
    // A face takes the middle of its edge in; the face beside it does not, and a flat triangle lies between.
    const first = [a, 8, ...rings[0].slice(1)];
    const flat = meshFrom([...m.positions, ...mid], [first, ...rings.slice(1), [8, a, b]]);
    expect(shapeOf(flat).closed).toBe(true);
    expect(found(flat, 'flat')).toEqual([6]);
    const out = mended(flat, 'flat');
    expect(found(out, 'flat')).toEqual([]);
    expect(shapeOf(out).closed).toBe(true);
    expect(out.faceCount).toBe(6);
    expect(volumeOf(out)).toBeCloseTo(8, 5);
    // Without it there is a corner on an open edge.
    const tee = meshFrom([...m.positions, ...mid], [first, ...rings.slice(1)]);
    expect(found(tee, 'tees')).toEqual([8]);
    expect(shapeOf(mended(tee, 'tees')).closed).toBe(true);
  });
  test('any faces turned over, and turns them back', () => {
    fc.assert(
      fc.property(closedBody, fc.array(fc.nat(), { maxLength: 6 }), (m, some) => {
        const turned = new Set(some.map((i) => i % m.faceCount));
        const spoilt = meshFrom(
          [...m.positions],
          ringsOf(m).map((r, f) => (turned.has(f) ? [...r].reverse() : r)),
        );
        expect(found(spoilt, 'flipped')).toEqual([...turned].sort((a, b) => a - b));
        if (turned.size > 0) expect(volumeOf(mended(spoilt, 'flipped'))).toBeCloseTo(volumeOf(m), 5);
      }),
      { numRuns: 60 },
    );
    const inside = cube();
    const all = meshFrom(
      [...inside.positions],
      ringsOf(inside).map((r) => [...r].reverse()),
    );
    expect(found(all, 'flipped')).toHaveLength(24);
  });
  test('what is never seen: a ball in a ball, not one beside it; not the inside of an open bowl', () => {
    const ball = cubeSphere({ radius: 1, cuts: 4 }, id);
    const both = together(ball, scaled(ball, 0.4), scaled(ball, 1, 3));
    const inner = every(ball.faceCount).map((f) => f + ball.faceCount);
    expect(found(both, 'hidden')).toEqual(inner);
    expect(found(both, 'enclosed')).toEqual(inner);
    expect(mended(both, 'enclosed').faceCount).toBe(2 * ball.faceCount);
    const bowl = meshFrom([...ball.positions], ringsOf(ball).slice(0, 64));
    expect(found(together(bowl, scaled(ball, 0.4)), 'hidden')).toEqual([]);
    expect(found(together(bowl, scaled(ball, 0.4)), 'enclosed')).toEqual([]);
  });
  test('walls that pass through one another', () => {
    const m = together(cube(1), scaled(cube(1), 0.5, 1));
    expect(found(m, 'crossing').length).toBeGreaterThan(0);
    expect(found(together(cube(1), scaled(cube(1), 0.5, 5)), 'crossing')).toEqual([]);
  });
  test('poles, slivers, bent and many-sided faces, and many where it is flat', () => {
    const drum = cylinder({ radius: 1, topRadius: 1, height: 2, sides: 12, rows: 1, cap: 'fan', onGround: false }, id);
    expect(found(drum, 'poles')).toHaveLength(2);
    const capped = cylinder(
      { radius: 1, topRadius: 1, height: 2, sides: 12, rows: 1, cap: 'polygon', onGround: false },
      id,
    );
    expect(found(capped, 'many-sided')).toHaveLength(2);
    expect(found(mended(capped, 'many-sided'), 'many-sided')).toEqual([]);
    expect(found(meshFrom([0, 0, 0, 1, 0, 0, 0.5, 0, 0.04], [[0, 2, 1]]), 'slivers')).toEqual([0]);
    expect(found(meshFrom([0, 0, 0, 1, 0, 0, 0.5, 0, 0.06], [[0, 2, 1]]), 'slivers')).toEqual([]);
    const sheet = plane({ width: 1, depth: 1, cutX: 1, cutZ: 1 }, id);
    const bent = sheet.moved(sheet.positions.map((x, i) => (i === 1 ? 0.2 : x)));
    expect(found(bent, 'bent')).toEqual([0]);
    expect(found(mended(bent, 'bent'), 'bent')).toEqual([]);
    expect(found(plane({ width: 1, depth: 1, cutX: 20, cutZ: 20 }, id), 'dense')).toHaveLength(400);
    expect(found(plane({ width: 1, depth: 1, cutX: 5, cutZ: 5 }, id), 'dense')).toEqual([]);
  });
});

test('on anything nasty: numbers that are there, and mending leaves a mesh with no more of it', () => {
  for (let seed = 1; seed <= 90; seed++) {
    const { name, mesh } = animal(dice(seed * 15485863));
    if (mesh.faceCount > 3000) continue;
    for (const c of checkDefs()) {
      const list = Array.from(c.find(mesh));
      for (const i of list) expect(i < countOf(mesh, c.kind)).toBe(true);
      expect([c.id, list]).toEqual([c.id, [...new Set(list)].sort((a, b) => a - b)]);
      if (!c.mend || list.length === 0) continue;
      let out: Mesh;
      try {
        out = mended(mesh, c.id);
      } catch (e) {
        expect((e as Error).message).toMatch(/^[A-Z].*\.$/);
        continue;
      }
      expect([name, c.id, problemsOf(out)]).toEqual([name, c.id, []]);
      if (out.faceCount > 0)
        expect([name, seed, c.id, c.find(out).length <= list.length]).toEqual([name, seed, c.id, true]);
    }
  }
});

test('cleaning up sews a body of loose faces together, to the same volume', () => {
  fc.assert(
    fc.property(closedBody, (m) => {
      const loose: number[] = [];
      const rings = ringsOf(m).map((r) => r.map((v) => loose.push(...m.positions.subarray(3 * v, 3 * v + 3)) / 3 - 1));
      const told: string[] = [];
      const all = { borders: true, flat: true, doubled: true, inner: true, tees: true, holes: 0, loose: true };
      const out = cleanUp(meshFrom(loose, rings), { distance: 1e-5, ...all }, id, (t) => told.push(t));
      expect(problemsOf(out)).toEqual([]);
      expect(shapeOf(out).closed).toBe(true);
      expect(out.vertexCount).toBe(m.vertexCount);
      expect(volumeOf(out)).toBeCloseTo(volumeOf(m), 5);
      expect(told.join()).toMatch(/vertices joined on borders/);
    }),
    { numRuns: 25 },
  );
});
