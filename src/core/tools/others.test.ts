/** Tools that go by another piece: its curve, its surface, its vertices. */
import { ellipse, type Curves } from '../curve/curves';
import { curveThrough } from '../curve/through';
import { box, cubeSphere, cylinder, plane } from '../make/primitives';
import { shapeOf, volumeOf } from '../mesh/measure';
import type { Mesh } from '../mesh/mesh';
import { elementsBy } from '../rules';
import { complete } from '../recipe/values';
import { problemsOf } from '../testing/valid';
import { toolDef, type Around } from '.';

const around = (mesh?: Mesh, curves?: Curves): Around => ({
  other: (id) => {
    if (id !== 'mast') throw new Error('The other piece is no longer there.');
    return { geometry: { mesh, curves }, name: 'Mast' };
  },
});
const said: string[] = [];
beforeEach(() => said.splice(0));
const run = (
  id: string,
  mesh: Mesh,
  kind: 'face' | 'edge' | 'vertex',
  indices: ArrayLike<number>,
  values: object,
  by?: Around,
  ends?: [number, number],
) => {
  const def = toolDef(id)!;
  const out = def.run(
    mesh,
    { kind, indices: Uint32Array.from(indices), ends },
    complete(def.values, values as never) as never,
    5,
    (t) => said.push(t),
    by,
  );
  expect(problemsOf(out)).toEqual([]);
  return out;
};
const cut = (n: number) => box({ width: 2, height: 2, depth: 2, cutX: n, cutY: n, cutZ: n, onGround: false }, 1);
const top = (m: Mesh) => elementsBy(m, 'face', { id: 'looks', values: { way: 'up', angle: 0.1 } });
const span = (m: Mesh, k: number) => {
  const list = Array.from(m.positions).filter((_, i) => i % 3 === k);
  return [Math.min(...list), Math.max(...list)];
};

test('extruded until it meets another piece: each vertex as far as it is to it', () => {
  const roof = plane({ width: 20, depth: 20, cutX: 1, cutZ: 1 }, 2);
  // A roof that rises along x.
  const at = roof.positions.map((_, i) => (i % 3 === 1 ? 5 + roof.positions[i - 1] / 10 : roof.positions[i]));
  const out = run('extrude', cut(2), 'face', top(cut(2)), { by: 1, along: 'y', until: 'mast' }, around(roof.moved(at)));
  expect(shapeOf(out).closed).toBe(true);
  for (let v = 0; v < out.vertexCount; v++) {
    const [x, y] = [out.positions[3 * v], out.positions[3 * v + 1]];
    if (y > 1.001) expect(y).toBeCloseTo(5 + x / 10, 4);
  }
  expect(volumeOf(out)).toBeCloseTo(8 + 4 * 4, 3);
  expect(said).toEqual([]);
  run(
    'extrude',
    cut(1),
    'face',
    top(cut(1)),
    { by: 1, along: 'y', until: 'mast' },
    around(cubeSphere({ radius: 0.2, cuts: 3, names: 'shares' }, 2)),
  );
  expect(said[0]).toMatch(/^4 vertices meet nothing/);
  const down = run(
    'extrude',
    cut(1),
    'face',
    top(cut(1)),
    { by: -1, along: 'y', until: 'mast' },
    around(roof.moved(roof.positions.map((x, i) => (i % 3 === 1 ? -0.5 : x)))),
  );
  expect(volumeOf(down)).toBeCloseTo(2, 4);
});

test('drawn out along a straight line: a prism of its length; along half a circle: Pappus', () => {
  const line = curveThrough(
    [
      [0, 0, 0],
      [0, 6, 0],
    ],
    { smooth: false, closed: false },
    1,
  );
  const m = cut(2);
  const straight = run('extrude-along', m, 'face', top(m), { other: 'mast', steps: 5 }, around(undefined, line));
  expect(shapeOf(straight).closed).toBe(true);
  expect(volumeOf(straight)).toBeCloseTo(8 + 24, 3);
  expect(straight.faceCount).toBe(m.faceCount + 8 * 5);
  // Half a turn about an axis 5 to the side: area 4 times the way of its middle.
  const half = ellipse(5, 5, 'xy', 1);
  const arc = curveThrough(
    Array.from({ length: 41 }, (_, i): [number, number, number] => [
      5 * Math.cos((Math.PI * i) / 40),
      5 * Math.sin((Math.PI * i) / 40),
      0,
    ]),
    { smooth: true, closed: false },
    1,
  );
  const bent = run('extrude-along', m, 'face', top(m), { other: 'mast', steps: 64 }, around(undefined, arc));
  expect(volumeOf(bent)).toBeCloseTo(8 + 4 * Math.PI * 5, 0);
  expect(shapeOf(bent)).toMatchObject({ closed: true, eulerCharacteristic: 2 });
  const shut = run(
    'extrude-along',
    m,
    'face',
    top(m).slice(0, 1),
    { other: 'mast', share: 0.5, end: 0.5, twist: 1 },
    around(undefined, half),
  );
  expect(shapeOf(shut).closed).toBe(true);
});

test('laid along a curve: a rod keeps its thickness and has its length', () => {
  const rod = cylinder(
    { radius: 0.1, topRadius: 0.1, height: 4, sides: 12, rows: 60, cap: 'polygon', onGround: true, names: 'shares' },
    1,
  );
  const all = Uint32Array.from({ length: rod.vertexCount }, (_, i) => i);
  const bow = ellipse(3, 3, 'xz', 1);
  const out = run('lay-along', rod, 'vertex', all, { other: 'mast', fit: false }, around(undefined, bow));
  expect(volumeOf(out) / volumeOf(rod)).toBeCloseTo(1, 2);
  for (let v = 0; v < out.vertexCount; v++) {
    const [x, y, z] = out.positions.subarray(3 * v, 3 * v + 3);
    expect(Math.hypot(Math.hypot(x, z) - 3, y)).toBeLessThan(0.102);
  }
  const whole = run('lay-along', rod, 'vertex', all, { other: 'mast', fit: true }, around(undefined, bow));
  expect(span(whole, 0)[0]).toBeCloseTo(-3.1, 1);
});

test('a border brought onto a curve: on it, in equal parts, the nearest way round', () => {
  const sheet = plane({ width: 2, depth: 2, cutX: 4, cutZ: 4 }, 1);
  const rim = elementsBy(sheet, 'edge', { id: 'open', values: {} });
  const ring = ellipse(3, 3, 'xz', 1);
  for (const even of [true, false]) {
    const out = run('onto-curve', sheet, 'edge', rim, { other: 'mast', even }, around(undefined, ring));
    const on = Array.from({ length: out.vertexCount }, (_, v) =>
      Math.hypot(out.positions[3 * v], out.positions[3 * v + 2]),
    ).filter((r) => r > 1.5);
    expect(on).toHaveLength(16);
    for (const r of on) expect(r).toBeCloseTo(3, 2);
    expect(shapeOf(out).eulerCharacteristic).toBe(1);
    // Nothing was turned over or wound round: every face still looks up.
    expect(elementsBy(out, 'face', { id: 'looks', values: { way: 'up', angle: 1 } })).toHaveLength(16);
  }
});

test('welded to the first and the last that was picked, to a plane, to another piece', () => {
  const m = cut(1);
  const first = run('weld', m, 'vertex', [0, 1, 3], { how: 'first' }, undefined, [3, 0]);
  expect(first.vertexCount).toBe(6);
  expect(first.vertexKey).toContain(m.vertexKey[3]);
  expect(first.vertexKey).not.toContain(m.vertexKey[0]);
  expect(run('weld', m, 'vertex', [0, 1, 3], { how: 'last' }, undefined, [3, 0]).vertexKey).toContain(m.vertexKey[0]);
  expect(() => run('weld', m, 'vertex', [0, 1], { how: 'first' })).toThrow(/one after the other/);
  const near = m.moved(m.positions.map((x, i) => (i % 3 === 0 && x < 0 ? -0.01 : x)));
  const flat = run('weld', near, 'vertex', [0, 1, 2, 3, 4, 5, 6, 7], { how: 'x', distance: 0.02 });
  expect(span(flat, 0)).toEqual([0, 1]);
  const other = cut(2).moved(cut(2).positions.map((x) => x * 1.1));
  const laid = run(
    'weld',
    m,
    'vertex',
    [0, 1, 2, 3, 4, 5, 6, 7],
    { how: 'piece', other: 'mast', distance: 0.2 },
    around(other),
  );
  expect(Array.from(laid.positions, (x) => Math.abs(x).toFixed(3))).toEqual(Array.from({ length: 24 }, () => '1.100'));
  run('weld', m, 'vertex', [0], { how: 'piece', other: 'mast', distance: 0.1 }, around(other));
  expect(said[0]).toMatch(/^1 of 1 vertices have none of “Mast”/);
});

test('vertices slid along the edge that runs most along an axis', () => {
  const m = cut(2);
  const v =
    m.positions.findIndex(
      (_, i) => i % 3 === 0 && m.positions[i] === 0 && m.positions[i + 1] === 1 && m.positions[i + 2] === 0,
    ) / 3;
  const on = (by: number, towards: string) => [
    ...run('slide', m, 'vertex', [v], { by, towards }).positions.subarray(3 * v, 3 * v + 3),
  ];
  expect(on(0.25, 'x')).toEqual([0.25, 1, 0]);
  expect(on(-0.5, 'z')).toEqual([0, 1, -0.5]);
  expect(on(0.5, 'y')).toEqual([0, 1, 0]);
});

test('what is not there is said in a sentence', () => {
  const m = cut(1);
  for (const id of ['extrude-along', 'lay-along', 'onto-curve']) {
    const kind = toolDef(id)!.picks[0];
    expect(() => run(id, m, kind, [0], {})).toThrow('Choose the other piece.');
    expect(() => run(id, m, kind, [0], { other: 'gone' }, around())).toThrow('no longer there');
    expect(() => run(id, m, kind, [0], { other: 'mast' }, around(m))).toThrow('“Mast” has no curve to go by.');
  }
  expect(() => run('extrude', m, 'face', [0], { until: 'mast' }, around())).toThrow('no surface');
});

describe('bent by a cage', () => {
  const rest = cut(2);
  const ball = cubeSphere({ radius: 0.7, cuts: 6, names: 'shares' }, 9);
  const all = Uint32Array.from({ length: ball.vertexCount }, (_, i) => i);
  const caged = (mesh: Mesh, now: Mesh, which: ArrayLike<number>, values: object = {}): Mesh =>
    run(
      'by-cage',
      mesh,
      'vertex',
      which,
      { other: 'mast', ...values },
      {
        other: () => ({ geometry: { mesh: now }, before: { mesh: rest }, name: 'Mast' }),
      },
    );
  const far = (a: Mesh, b: Float32Array) => Math.max(...a.positions.map((x, i) => Math.abs(x - b[i])));

  test('a cage that is as it was moves nothing; one moved, turned and sized carries all, inside and outside', () => {
    expect(caged(ball, rest, all)).toBe(ball);
    const wide = ball.moved(ball.positions.map((x) => 2.3 * x + 0.11));
    const map = (p: Float32Array) =>
      p.map((_, i) => {
        const [x, y, z] = p.subarray(i - (i % 3), i - (i % 3) + 3);
        return [1.5 * x - 0.4 * y + 2, 0.3 * x + 0.8 * y + 0.2 * z, z - 0.5 * x - 1][i % 3];
      });
    for (const m of [ball, wide]) {
      const out = caged(
        m,
        rest.moved(map(rest.positions)),
        Uint32Array.from({ length: m.vertexCount }, (_, i) => i),
      );
      expect(far(out, map(m.positions))).toBeLessThan(1e-4);
    }
  });

  test('what lies on the cage goes with it: its own vertices, places on its edges and faces', () => {
    const fine = cut(4);
    const up = rest.moved(rest.positions.map((x, i) => (i % 3 === 1 && x > 0.5 ? x + 0.5 : x)));
    const out = caged(
      fine,
      up,
      Uint32Array.from({ length: fine.vertexCount }, (_, i) => i),
    );
    for (let v = 0; v < fine.vertexCount; v++)
      if (fine.positions[3 * v + 1] === 1) expect(out.positions[3 * v + 1]).toBeCloseTo(1.5, 4);
    expect(problemsOf(out)).toEqual([]);
  });

  test('the second time, from what was kept, gives the same; softly it fades', () => {
    const up = (by: number) => rest.moved(rest.positions.map((x, i) => (i % 3 === 1 && x > 0.5 ? x + by : x)));
    const first = caged(ball, up(0.3), all);
    caged(ball, up(0.1), all);
    expect(far(caged(ball, up(0.3), all), first.positions)).toBeLessThan(1e-6);
    const top = [...all].filter((v) => ball.positions[3 * v + 1] > 0.6);
    const softly = caged(ball, up(0.3), top, { soft: 0.5 });
    for (const v of top) expect(softly.positions[3 * v + 1]).toBeCloseTo(first.positions[3 * v + 1], 5);
    expect(Math.min(...softly.positions)).toBe(Math.min(...ball.positions));
  });

  test('cages that are none are told', () => {
    const sheet = plane({ width: 1, depth: 1, cutX: 1, cutZ: 1 }, 1);
    const by = (now: Mesh, was?: Mesh): Around => ({
      other: () => ({ geometry: { mesh: now }, before: was && { mesh: was }, name: 'Mast' }),
    });
    expect(() => run('by-cage', ball, 'vertex', [0], { other: 'mast' }, by(sheet))).toThrow('“Mast” is open');
    expect(() => run('by-cage', ball, 'vertex', [0], { other: 'mast' }, by(cut(3), rest))).toThrow('other vertices');
    expect(() => run('by-cage', ball, 'vertex', [0], { other: 'mast' }, around())).toThrow('no surface');
  });
});
