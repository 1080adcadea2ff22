/** Steps that go by formulas, followed in recipes. */
import { placesOn } from '../curve/places';
import { volumeOf } from '../mesh/measure';
import { COLOR } from '../mesh/mesh';
import { Memory } from '../recipe/memory';
import type { Outcome } from '../recipe/evaluate';
import type { Step } from '../recipe/values';
import { defaultsOf } from '../recipe/values';
import { problemsOf } from '../testing/valid';
import { followRecipe, stepDef } from '.';

const step = (kind: string, values: Record<string, unknown> = {}, id = kind): Step => ({
  id,
  kind,
  on: true,
  values: { ...defaultsOf(stepDef(kind)!.values), ...values },
});
const say = (text: string, unit = 'mm') => ({ text, unit });
const ball = step('sphere', { diameter: 2, made: 'cube', cuts: 8 });
const follow = async (...steps: Step[]): Promise<Outcome> => {
  const out = (await followRecipe(steps, { memory: new Memory() })).at(-1)!;
  expect(problemsOf(out.mesh)).toEqual([]);
  return out;
};

test('an attribute is noted, and later formulas go by it', async () => {
  const noted = await follow(ball, step('note', { name: 'stripe', formula: say('if position.y > 0 then 1 else 0') }));
  const data = noted.mesh.attributes.stripe.data;
  for (let v = 0; v < noted.mesh.vertexCount; v++) expect(data[v]).toBe(noted.mesh.positions[3 * v + 1] > 0 ? 1 : 0);
  const out = await follow(
    ball,
    step('note', { name: 'stripe', formula: say('if position.y > 0 then 1 else 0') }),
    step('shift', { along: 'y', formula: say('stripe * 100') }),
  );
  const tops = Array.from(out.mesh.positions).filter((_, i) => i % 3 === 1);
  expect(Math.max(...tops)).toBeCloseTo(1.1, 5);
  expect(Math.min(...tops)).toBeCloseTo(-1, 5);
});

test('a ball moved out along its normals is a larger ball; noise keeps it closed, and is the same each time', async () => {
  const out = await follow(ball, step('shift', { formula: say('0.5 m') }));
  for (let v = 0; v < out.mesh.vertexCount; v++)
    expect(Math.hypot(...out.mesh.positions.subarray(3 * v, 3 * v + 3))).toBeCloseTo(1.5, 1);
  const rough = () => follow(ball, step('shift', { formula: say('50 mm * noise(position / (300 mm), 3)') }));
  const [a, b] = [await rough(), await rough()];
  expect(a.mesh.positions).toEqual(b.mesh.positions);
  expect(volumeOf(a.mesh)).not.toBeCloseTo(volumeOf((await follow(ball)).mesh), 3);
});

test('a plain number is in the unit it was typed in, whatever unit that is', async () => {
  const top = async (unit: string) => {
    const { mesh } = await follow(ball, step('shift', { along: 'y', formula: say('2', unit) }));
    return Math.max(...mesh.positions.filter((_, i) => i % 3 === 1));
  };
  expect(await top('mm')).toBeCloseTo(1.002, 5);
  expect(await top('m')).toBeCloseTo(3, 5);
});

test('faces where: kept and taken away are the two halves; nothing left is refused', async () => {
  const of = async (keep: boolean, formula: string) => follow(ball, step('where', { keep, formula: say(formula) }));
  const whole = (await follow(ball)).mesh.faceCount;
  const [kept, rest] = [await of(true, 'normal.y > 0'), await of(false, 'normal.y > 0')];
  expect(kept.mesh.faceCount + rest.mesh.faceCount).toBe(whole);
  expect(kept.figures.found).toBe(kept.mesh.faceCount);
  expect((await of(true, 'normal.y > 5')).error).toBe('That would leave nothing of it.');
  expect((await of(false, 'normal.y > 5')).mesh.faceCount).toBe(whole);
  expect((await of(true, 'valence > 3')).error).toMatch(/“valence” is not known here/);
});

test('smoothed notes keep their mean, and are flatter each round', async () => {
  const spread = async (rounds: number) => {
    const { mesh } = await follow(ball, step('note', { name: 'n', formula: say('random(index)'), rounds }));
    const d = Array.from(mesh.attributes.n.data);
    const mean = d.reduce((x, y) => x + y, 0) / d.length;
    return [mean, Math.sqrt(d.reduce((s, x) => s + (x - mean) ** 2, 0) / d.length)];
  };
  const [none, some, many] = [await spread(0), await spread(2), await spread(10)];
  expect(some[1]).toBeLessThan(none[1]);
  expect(many[1]).toBeLessThan(some[1]);
  expect(many[0]).toBeCloseTo(none[0], 1);
});

test('tints: a way between two colours, or one of its own', async () => {
  const { mesh } = await follow(ball, step('tint', { from: say('colour(0, 0, 0)'), to: say('colour(1, 0.5, 0)') }));
  const c = mesh.attributes[COLOR].data;
  for (let v = 0; v < mesh.vertexCount; v++) {
    const t = (mesh.positions[3 * v + 1] + 1) / 2;
    expect(c[4 * v]).toBeCloseTo(t, 4);
    expect(c[4 * v + 1]).toBeCloseTo(t / 2, 4);
    expect(c[4 * v + 3]).toBe(1);
  }
  const own = await follow(ball, step('tint', { formula: say('colour(share.x, share.y, 2)') }));
  expect(Math.max(...own.mesh.attributes[COLOR].data)).toBe(1);
});

test('what is wrong is said with its place, and the step passes on what came', async () => {
  const wrong = async (kind: string, values: Record<string, unknown>) => (await follow(ball, step(kind, values))).error;
  expect(await wrong('shift', { formula: say('position.y * position.y') })).toMatch(
    /^This is an area; a length is wanted\.$/,
  );
  expect(await wrong('shift', { formula: say('1 mm + (2 * wal)') })).toMatch(/^At “wal”: “wal” is not known here\./);
  expect(await wrong('note', { name: 'uv' })).toMatch(/the mesh’s own/);
  expect(await wrong('note', { name: 'two words' })).toMatch(/^A name is a word/);
  expect(await wrong('tint', { to: say('3') })).toMatch(/A colour is wanted/);
  const zero = await follow(ball, step('note', { name: 'n', formula: say('1 / (index - 3)') }));
  expect(zero.warnings[0].text).toMatch(/^1 of \d+ values are not numbers/);
});

describe('attributes', () => {
  test('by rank and by share: from 0 to 1, in the same order, equal ones alike', async () => {
    const of = async (ranked: string) =>
      Array.from(
        (await follow(ball, step('note', { name: 'n', formula: say('floor(3 * share.y)'), ranked }))).mesh.attributes.n
          .data,
      );
    const [plain, rank, share] = [await of('plain'), await of('rank'), await of('share')];
    expect([Math.min(...rank), Math.max(...rank), Math.min(...share), Math.max(...share)]).toEqual([0, 1, 0, 1]);
    plain.forEach((x, i) => {
      expect(share[i]).toBeCloseTo(x / 3, 6);
      // All against all: counted, as a million expectations take seconds.
      const other = plain.findIndex((y, j) => Math.sign(rank[i] - rank[j]) !== Math.sign(x - y));
      expect(other).toBe(-1);
    });
  });
  test('handed on to faces and back: the mean, the most, the least of what is around', async () => {
    const high = step('note', { name: 'h', formula: say('position.y / (1 m)') });
    for (const how of ['mean', 'most', 'least']) {
      const { mesh } = await follow(ball, high, { ...step('hand-on', { name: 'h', domain: 'face', how }), id: 'on' });
      for (let f = 0; f < mesh.faceCount; f++) {
        const ys = Array.from(
          mesh.cornerVertex.subarray(mesh.faceStart[f], mesh.faceStart[f + 1]),
          (v) => mesh.positions[3 * v + 1],
        );
        const right = {
          mean: ys.reduce((a, b) => a + b, 0) / ys.length,
          most: Math.max(...ys),
          least: Math.min(...ys),
        }[how]!;
        expect(mesh.attributes.h.data[f]).toBeCloseTo(right, 5);
      }
    }
    expect((await follow(ball, step('hand-on', { name: 'wall' }))).error).toBe('It has no attribute “wall”.');
  });
});

test('at corners formulas know the angle there, and the values of the vertex and of the face', async () => {
  const angles = await follow(
    step('plane', { width: 1, depth: 1 }),
    step('note', { name: 'a', domain: 'corner', formula: say('angle / (1 deg)') }),
  );
  for (const x of angles.mesh.attributes.a.data) expect(x).toBeCloseTo(90, 3);
  const box = step('box', { width: 1, height: 1, depth: 1 });
  const { mesh } = await follow(
    box,
    step('note', { name: 'of_vertex', domain: 'vertex', formula: say('index') }, 'n1'),
    step('note', { name: 'of_face', domain: 'face', formula: say('10 * index') }, 'n2'),
    step('note', { name: 'both', domain: 'corner', formula: say('of_vertex + of_face') }, 'n3'),
    step('note', { name: 'drawn', domain: 'corner', formula: say('index'), rounds: 80 }, 'n4'),
  );
  const { both, drawn } = mesh.attributes;
  for (let f = 0; f < mesh.faceCount; f++)
    for (let c = mesh.faceStart[f]; c < mesh.faceStart[f + 1]; c++)
      expect(both.data[c]).toBe(mesh.cornerVertex[c] + 10 * f);
  // Smoothed for long, all come to one value: corners of all faces are drawn towards one another.
  expect(Math.max(...drawn.data) - Math.min(...drawn.data)).toBeLessThan(0.5);
});

test('curves are moved place by place by a formula of how far along it is', async () => {
  const line = step('line', {
    points: [
      [0, 0, 0],
      [2, 0, 0],
    ],
    smooth: false,
    closed: false,
  });
  const { geometry } = await follow(
    line,
    step('shift-curve', { along: 'y', formula: say('0.1 * sin(360 deg * along)', 'm'), cuts: 16 }),
  );
  const places = placesOn(geometry.curves!);
  expect(places).toHaveLength(49);
  for (const { at } of places) expect(at[1]).toBeCloseTo(0.1 * Math.sin(Math.PI * at[0]), 4);
  const again = await followRecipe([line, step('shift-curve', { formula: say('area') })], { memory: new Memory() });
  expect(again.at(-1)!.error).toContain('area');
});
