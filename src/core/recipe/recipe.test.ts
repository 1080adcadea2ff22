import fc from 'fast-check';
import { firstDifference } from '../testing/arrays';
import { boundsOf } from '../mesh/bounds';
import { areaOf, shapeOf, volumeOf } from '../mesh/measure';
import { edgeKeys, pickOf } from '../mesh/picks';
import { readPng, writePng } from '../formats/png';
import { Cancelled, isStart, withPicked } from './define';
import { followRecipe } from '../steps';
import type { Outcome } from './evaluate';
import type { Mesh } from '../mesh/mesh';
import { Memory } from './memory';
import type { Step } from './values';
import { toolDef, toolDefs } from '../tools';
import { formatPoints, formatQuantity, parsePoints, parseQuantity, parseRelative } from './quantity';
import { stepDefs } from '../steps';
import { complete, defaultsOf, schemaOf } from './values';

const step = (id: string, kind: string, values: Record<string, unknown> = {}): Step => ({
  id,
  kind,
  on: true,
  values: { ...defaultsOf(stepDefs().find((d) => d.kind === kind)!.values), ...values },
});
const run = (steps: Step[], memory = new Memory(), materials: never[] = []) =>
  followRecipe(steps, { memory, materials });
const last = (o: Outcome[]) => o[o.length - 1];
const box = (cuts = 1) => step('box', 'box', { width: 1, height: 1, depth: 1, cutX: cuts, onGround: true });

describe('typed quantities', () => {
  test.each([
    ['2 cm + 3 mm', 'length', 0.023],
    ['2cm+3', 'length', 0.023],
    ['12', 'length', 0.012],
    ['1/3 m', 'length', 1 / 3],
    ['3 * 2 mm', 'length', 0.006],
    ['(1 cm + 2 mm) * 2', 'length', 0.024],
    ['1 in', 'length', 0.0254],
    ['-5', 'length', -0.005],
    ['90°', 'angle', Math.PI / 2],
    ['0.5 turn', 'angle', Math.PI],
    ['45', 'angle', Math.PI / 4],
    ['10 m / 4 m', 'number', 2.5],
    ['50 %', 'number', 0.5],
    ['2 + 2 * 3', 'count', 8],
    ['1e-3 m', 'length', 0.001],
    ['2,5', 'number', 2.5],
    ['sqrt(16)', 'count', 4],
  ] as const)('%s as a %s', (text, kind, value) => {
    expect(parseQuantity(text, kind, 'mm')).toBeCloseTo(value, 9);
  });
  test.each([
    ['2 cm * 3 cm', 'length', /length is wanted/],
    ['3 deg', 'length', /length is wanted/],
    ['2 m', 'count', /plain number/],
    ['', 'length', /Type a number/],
    ['abc', 'length', /not a unit/],
    ['1 / 0', 'number', /finite/],
    ['2 cm + 3 deg', 'length', /cannot be added/],
    ['alert(1)', 'number', /Only numbers/],
    ['1 +', 'number', /can be read/],
    ['a.b', 'number', /Only|unit/],
  ] as const)('%s as a %s is refused', (text, kind, told) => {
    expect(() => parseQuantity(text, kind, 'mm')).toThrow(told);
  });
  test('what is shown can be typed back', () => {
    fc.assert(
      fc.property(
        fc.integer({ min: -1e6, max: 1e6 }),
        fc.constantFrom('mm' as const, 'cm' as const, 'm' as const, 'in' as const),
        (n, unit) => {
          const x = n / 1e6;
          expect(parseQuantity(formatQuantity(x, 'length', unit, 9), 'length', unit)).toBeCloseTo(x, 8);
        },
      ),
    );
  });
});

describe('definitions', () => {
  test('every step and move accepts its own defaults, and every value in its sentence exists', () => {
    for (const d of [...stepDefs(), ...toolDefs()]) {
      expect(() => schemaOf(d.values).validateSync(defaultsOf(d.values), { strict: true })).not.toThrow();
      for (const [, name] of d.sentence.matchAll(/\{(\w+)\}/g)) expect(name === 'pick' || name in d.values).toBe(true);
    }
  });
  test('broken stored values are put right', () => {
    const d = stepDefs().find((x) => x.kind === 'box')!;
    expect(complete(d.values, { width: NaN, cutX: -5, height: 1e99 })).toMatchObject({
      width: 0.1,
      cutX: 1,
      height: 100000,
    });
  });
});

describe('the evaluator', () => {
  test('remembers: only what comes after a change runs again', async () => {
    const memory = new Memory();
    const recipe = [box(), step('m', 'mirror'), step('s', 'subdivide', { levels: 1 })];
    await run(recipe, memory);
    const again = await run(recipe, memory);
    expect(again.map((o) => o.took)).toEqual([0, 0, 0]);
    const changed = await run(
      [recipe[0], recipe[1], { ...recipe[2], values: { ...recipe[2].values, levels: 2 } }],
      memory,
    );
    expect(changed[0].took).toBe(0);
    expect(changed[1].mesh).toBe(again[1].mesh);
    expect(changed[2].mesh.faceCount).toBe(4 * again[2].mesh.faceCount);
  });
  test('errors stay with their step; what came before flows on', async () => {
    const out = await run([
      box(),
      step('m', 'place', { y: 2 }),
      step('x', 'mirror', { axis: 'y', keep: 'negative' }),
      step('s', 'subdivide', { levels: 1 }),
      step('t', 'texture'),
    ]);
    expect(out[2].error).toMatch(/Nothing lies on the negative side/);
    expect(out[2].mesh).toBe(out[1].mesh);
    expect(out[3].error).toBeUndefined();
    expect(out[4].error).toMatch(/no UVs/);
    expect(last(out).mesh.faceCount).toBe(24);
  });
  test('a step switched off, an unknown one, the marker', async () => {
    const s = step('s', 'subdivide', { levels: 1 });
    expect(last(await run([box(), { ...s, on: false }])).mesh.faceCount).toBe(6);
    const odd = await run([box(), { id: 'z', kind: 'from-the-future', values: {}, on: true }]);
    expect(last(odd).error).toMatch(/does not know/);
    expect(last(odd).mesh.faceCount).toBe(6);
    expect((await followRecipe([box(), s], { memory: new Memory(), upTo: 'box' })).length).toBe(1);
  });
  test('cancel stops between steps and inside them', async () => {
    let asked = 0;
    await expect(
      followRecipe([box(), step('u', 'unwrap')], { memory: new Memory(), cancelled: () => ++asked > 1 }),
    ).rejects.toBeInstanceOf(Cancelled);
  });
  test('a move that was overtaken is made in full when it is asked for again', async () => {
    const shape = (mesh: Mesh) =>
      step('s', 'shape', {
        moves: ['inset', 'bevel', 'relax'].map((tool, i) => ({
          ...{ id: `m${i}`, tool, pick: pickOf(mesh, tool === 'bevel' ? 'edge' : 'face', [0, 1, 2, 3, 4, 5]) },
          values: defaultsOf(toolDef(tool)!.values),
        })),
      });
    const start = last(await run([box(12)])).mesh;
    const steps = [box(12), shape(start)];
    const whole = last(await run(steps));
    expect(whole.error).toBeUndefined();
    let stopped = 0;
    for (let at = 1, ended = false; !ended; at++) {
      const memory = new Memory();
      let asked = 0;
      const first = followRecipe(steps, { memory, cancelled: () => ++asked === at });
      await first.then(
        () => {
          ended = asked < at;
        },
        (e: unknown) => {
          expect(e).toBeInstanceOf(Cancelled);
          stopped++;
        },
      );
      const again = last(await run(steps, memory));
      expect(again.warnings).toEqual(whole.warnings);
      expect(firstDifference(whole.mesh.positions, again.mesh.positions)).toBe(-1);
    }
    expect(stopped).toBeGreaterThan(10);
  });
  test('the memory keeps within its budget', async () => {
    const memory = new Memory(50_000);
    for (let i = 1; i < 40; i++) await run([box(i)], memory);
    expect(memory.size).toBeLessThan(39);
    expect(memory.size).toBeGreaterThan(0);
  });
  test('every step alone on a box, with its defaults: no error but the missing sheet', async () => {
    for (const d of stepDefs()) {
      if (d.hidden || Object.values(d.inputs).some((i) => i.from === 'piece')) continue;
      const out = last(await run(isStart(d) ? [step('a', d.kind)] : [box(2), step('a', d.kind)]));
      // It is what others hand it.
      if (d.kind === 'handed') continue;
      // They may be nothing without the other pieces or attributes that they name.
      if (/^Choose|no attribute/.test(out.error ?? '')) continue;
      if (d.kind === 'texture') expect(out.error).toMatch(/unwrap/);
      else expect(out.error).toBeUndefined();
      expect(out.mesh.vertexCount + (out.geometry.curves?.closed.length ?? 0)).toBeGreaterThan(0);
    }
  });
  test('an empty recipe, and a step with nothing before it', async () => {
    expect(await run([])).toEqual([]);
    expect(last(await run([step('s', 'subdivide')])).warnings[0].text).toMatch(/nothing before/);
  });
});

test('pictures are unpacked once, as long as they are not too large together; one that failed is asked for again', async () => {
  const memory = new Memory();
  let read = 0;
  const of = (sha: string, bytes: number) =>
    memory.pixelsOf(sha, async () => {
      read++;
      return { width: 1, height: 1, data: { length: bytes } as Uint8Array };
    });
  for (let i = 0; i < 3; i++) await of('small', 1000);
  await of('other', 1000);
  await of('small', 1000);
  expect(read).toBe(2);
  // Larger than all that may be held: itself it stays, what was there before goes.
  await of('huge', 1e9);
  await of('huge', 1e9);
  expect(read).toBe(3);
  await of('small', 1000);
  expect(read).toBe(4);
  await expect(memory.pixelsOf('broken', () => Promise.reject(new Error('cut short')))).rejects.toThrow('cut short');
  expect((await of('broken', 10)).data.length).toBe(10);
});

describe('starting sizes and placing', () => {
  test('a cylinder by radius and by diameter are the same', async () => {
    const a = last(await run([step('c', 'cylinder', { across: 'radius', size: 0.05, sides: 12 })])).mesh;
    const b = last(await run([step('c', 'cylinder', { across: 'diameter', size: 0.1, sides: 12 })])).mesh;
    expect(a.positions).toEqual(b.positions);
    expect(volumeOf(a)).toBeCloseTo(3 * 0.05 ** 2 * 0.1, 7); // a twelve-sided prism: 3 r² h
  });
  test('place moves, turns and sizes; a negative size turns faces the right way out', async () => {
    const m = last(await run([box(), step('p', 'place', { x: 3, turnY: Math.PI / 2, size: -2 })])).mesh;
    expect(volumeOf(m)).toBeCloseTo(8, 4);
    expect(boundsOf(m.positions).min[0]).toBeCloseTo(2, 5);
  });
});

describe('keys follow the model', () => {
  const shaped = async (cuts: number) => {
    const start = last(await run([box(2)])).mesh;
    const face = [...start.faceKey].find((_, f) => {
      let y = 0;
      for (let c = 0; c < 4; c++) y += start.positions[3 * start.cornerVertex[4 * f + c] + 1];
      return y > 3.9;
    })!;
    const half = last(await run([box(2), step('mirror', 'mirror', { axis: 'z', weld: 0.001 })])).mesh;
    const edge = edgeKeys(start).find((k) => edgeKeys(half).includes(k))!;
    return [
      box(cuts),
      step('hand', 'shape', {
        moves: [
          {
            id: 'one',
            tool: 'extrude',
            pick: { kind: 'face', keys: [face] },
            values: { by: 0.5, along: 'normals', inset: 0.1, each: false },
          },
          { id: 'two', tool: 'move', pick: { kind: 'face', keys: [face] }, values: { x: 0.2 } },
        ],
      }),
      step('mirror', 'mirror', { axis: 'z', weld: 0.001 }),
      step('unwrap', 'unwrap', { cut: { kind: 'edge', keys: [edge] }, seamAngle: 1 }),
      step('color', 'color', { colors: [] }),
      step('sub', 'subdivide', { levels: 1 }),
    ];
  };
  test('a count in step 1 changed and changed back: everything downstream as before, byte for byte', async () => {
    const memory = new Memory();
    const before = last(await run(await shaped(2), memory)).mesh;
    await fc.assert(
      fc.asyncProperty(fc.integer({ min: 1, max: 7 }), async (cuts) => {
        await run(await shaped(cuts), memory);
        for (const m of [memory, new Memory()]) {
          // from memory, and all anew
          const after = last(await run(await shaped(2), m)).mesh;
          expect(firstDifference(after.positions, before.positions)).toBe(-1);
          expect(firstDifference(after.attributes.uv.data, before.attributes.uv.data)).toBe(-1);
          expect(firstDifference(after.vertexKey, before.vertexKey)).toBe(-1);
          expect(firstDifference(after.faceKey, before.faceKey)).toBe(-1);
        }
      }),
      { numRuns: 7 },
    );
  });
  test('lost picks are named, with a remedy for seams, and are not dropped from the values', async () => {
    const recipe = await shaped(2);
    const cut = { kind: 'edge', keys: [...(recipe[3].values.cut as { keys: number[] }).keys, 12345] };
    recipe[3] = { ...recipe[3], values: { ...recipe[3].values, cut } };
    const w = (await run(recipe))[3].warnings[0];
    expect(w.text).toMatch(/1 of 2 seams lost their edges/);
    const [again, forget] = w.remedies!;
    expect((forget.values.cut as { keys: number[] }).keys.length).toBe(1);
    expect(withPicked(again.values, [5]).cut).toMatchObject({ keys: [expect.any(Number), 5] });
    expect(cut.keys.length).toBe(2);
  });
  test('what is lost can be taken from what is nearest, or be forgotten: moves, colours', async () => {
    const cube = last(await run([box()])).mesh;
    const cut = (count: number) => ({
      id: 'l',
      tool: 'loop',
      pick: pickOf(cube, 'edge', [0]),
      values: { ...defaultsOf(toolDef('loop')!.values), count },
    });
    const made = last(await run([box(), step('hand', 'shape', { moves: [cut(3)] })])).mesh;
    const drawn = last(
      await run([
        box(),
        step('hand', 'shape', {
          moves: [
            cut(3),
            {
              id: 'x',
              tool: 'extrude',
              pick: pickOf(made, 'face', [2]),
              values: { ...defaultsOf(toolDef('extrude')!.values), by: 0.2 },
            },
          ],
        }),
      ]),
    ).mesh;
    // A wall of the extrusion, which goes with it.
    const wall = [...Array(drawn.faceCount).keys()].find((f) => !made.faceKey.includes(drawn.faceKey[f]))!;
    const material = 'red';
    const after = [
      box(),
      step('hand', 'shape', {
        moves: [
          cut(3),
          { id: 'y', tool: 'inset', pick: pickOf(drawn, 'face', [wall]), values: defaultsOf(toolDef('inset')!.values) },
        ],
      }),
      step('paint', 'color', { base: '', colors: [{ material, ...pickOf(drawn, 'face', [wall, wall]) }] }),
    ];
    const materials = [{ id: material, name: 'Red', color: '#ff0000', roughness: 0.5, metalness: 0 }];
    const out = await followRecipe(after, { materials, memory: new Memory() });
    for (const i of [1, 2]) {
      const [w] = out[i].warnings;
      expect(w.text).toMatch(/lost|gone/);
      expect(w.remedies!.map((r) => r.label)).toEqual(['Take the nearest', 'Pick again', 'Forget them']);
      for (const [n, r] of w.remedies!.entries()) {
        // Picked again is any face that there is before it.
        const values = r.again ? withPicked(r.values, [out[i - 1].mesh.faceKey[0]]) : r.values;
        const right = after.map((s, k) => (k === i ? { ...s, values: { ...s.values, ...values } } : s));
        const now = await followRecipe(right, { materials, memory: new Memory() });
        expect(now[i].warnings).toEqual([]);
        const grown =
          i === 1 ? now[1].mesh.faceCount > made.faceCount : now[2].mesh.attributes.material.data.includes(0);
        expect(grown).toBe(n < 2);
      }
    }
  });
  test('a colour given before a loop cut is found on the parts after it', async () => {
    const start = last(await run([box()])).mesh;
    const materials = [{ id: 'red', name: 'Red', color: '#ff0000', roughness: 0.5, metalness: 0 }];
    const cut = step('hand', 'shape', {
      moves: [
        { id: 'l', tool: 'loop', pick: { kind: 'edge', keys: [edgeKeys(start)[0]] }, values: { count: 2, slide: 0 } },
      ],
    });
    const paint = step('color', 'color', { colors: [{ material: 'red', keys: [...start.faceKey] }] });
    const out = last(
      await followRecipe([box(), cut, paint, step('u', 'unwrap'), step('t', 'texture', { size: '256' })], {
        memory: new Memory(),
        materials,
      }),
    );
    expect(out.mesh.faceCount).toBe(14);
    expect([...out.mesh.attributes.material.data].every((s) => out.mesh.slots[s] === 'red')).toBe(true);
    // And in the picture: every pixel of an island and its bleed is red.
    const t = out.mesh.textures!.images().color;
    const png = readPng(writePng(t));
    let red = 0;
    for (let i = 0; i < png.data.length; i += 4) if (png.data[i] === 255 && png.data[i + 1] === 0) red++;
    expect(red / (256 * 256)).toBeGreaterThan(0.5);
    expect(out.error).toBeUndefined();
  });
  test('shape by hand: a move that cannot be done says so and the others stand', async () => {
    const start = last(await run([box()])).mesh;
    const out = last(
      await run([
        box(),
        step('hand', 'shape', {
          moves: [
            { id: 'a', tool: 'fill', pick: { kind: 'edge', keys: [edgeKeys(start)[0]] }, values: {} },
            {
              id: 'b',
              tool: 'size',
              pick: { kind: 'face', keys: [...start.faceKey] },
              values: { x: 2, y: 2, z: 2, about: 'origin' },
            },
            { id: 'c', tool: 'unheard-of', pick: { kind: 'face', keys: [1] }, values: {} },
          ],
        }),
      ]),
    );
    expect(out.warnings.map((w) => w.text).join(' ')).toMatch(/Move 1, fill: .*open edges.*Move 3 is of a kind/);
    expect(volumeOf(out.mesh)).toBeCloseTo(8, 4);
    expect(areaOf(out.mesh)).toBeCloseTo(24, 4);
    expect(shapeOf(out.mesh).closed).toBe(true);
  });
});

describe('quantities that go on from the one before', () => {
  test.each([
    ['+ 5 mm', 0.015],
    ['+5', 0.015],
    ['+ -5 mm', 0.005],
    ['* 2', 0.02],
    ['× 1/2', 0.005],
    ['/ 4', 0.0025],
    ['÷ 2', 0.005],
    ['5', 0.005],
    ['-5 mm', -0.005],
    ['2 cm + 3 mm', 0.023],
  ])('%s from 10 mm', (typed, metres) => {
    expect(parseRelative(typed, 'length', 'mm', 0.01)).toBeCloseTo(metres, 12);
  });
  test('angles in degrees, plain numbers as they are', () => {
    expect(parseRelative('+ 45', 'angle', 'mm', Math.PI / 4)).toBeCloseTo(Math.PI / 2, 12);
    expect(parseRelative('* 3', 'number', 'mm', 2)).toBe(6);
  });
  test.each([
    ['/ 0', /divided by zero/],
    ['+ two', /./],
    ['* 2 mm', /./],
  ])('%s is refused', (typed, told) => {
    expect(() => parseRelative(typed, 'length', 'mm', 1)).toThrow(told);
  });
});

test('points as text: three lengths each, with units and arithmetic of their own', () => {
  expect(parsePoints('0, 1 cm, 2; 1/2, -3 mm + 1 mm, 0 ;', 'm')).toEqual([
    [0, 0.01, 2],
    [0.5, -0.002, 0],
  ]);
  expect(parsePoints('', 'mm')).toEqual([]);
  expect(() => parsePoints('1, 2', 'mm')).toThrow('Point 1 has 2 of three lengths');
  expect(() => parsePoints('1, 2, 3; 1, 2, pear', 'mm')).toThrow();
  fc.assert(
    fc.property(fc.array(fc.tuple(fc.integer(), fc.integer(), fc.integer())), (list) => {
      const points = list.map((p) => p.map((x) => (x % 1e6) / 1000) as [number, number, number]);
      const again = parsePoints(formatPoints(points, 'mm', 6), 'mm');
      again.forEach((p, i) => p.forEach((x, k) => expect(x).toBeCloseTo(points[i][k], 6)));
      expect(again).toHaveLength(points.length);
    }),
  );
});
