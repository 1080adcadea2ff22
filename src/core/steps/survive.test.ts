/** Nothing is lost on the way: over all steps and all tools, kinds of geometry and attributes come through. */
import { copiesAt } from '../copies/copies';
import { rowSites } from '../copies/sites';
import { readAny } from '../formats/read';
import { ellipse } from '../curve/curves';
import { GEOMETRY_KINDS, isEmptyGeometry, whole, type Geometry, type KindName } from '../geometry';
import { IDENTITY } from '../math/affine';
import { box } from '../make/primitives';
import type { Mesh } from '../mesh/mesh';
import { faceNormals } from '../mesh/normals';
import { edgeKeys } from '../mesh/picks';
import { topologyOf } from '../mesh/topology';
import { Cancelled, defineStep, type StepDef } from '../recipe/define';
import { evaluate, type EvaluateOptions, type OtherPiece } from '../recipe/evaluate';
import { Memory } from '../recipe/memory';
import { defaultsOf, text, type Step } from '../recipe/values';
import { toolDefs } from '../tools';
import { stepDef, stepDefs } from '.';

const cube = box({ width: 2, height: 2, depth: 2, cutX: 3, cutY: 3, cutZ: 3, onGround: false }, 1);
const laden: Geometry = {
  mesh: cube.with({
    slots: ['a'],
    groups: ['g'],
    attributes: {
      uv: { domain: 'corner', width: 2, data: new Float32Array(2 * cube.cornerCount).fill(0.25) },
      material: { domain: 'face', width: 1, data: new Int32Array(cube.faceCount) },
      group: { domain: 'face', width: 1, data: new Int32Array(cube.faceCount) },
      wear: { domain: 'vertex', width: 1, data: new Float32Array(cube.vertexCount).fill(0.5) },
      panel: { domain: 'face', width: 1, data: new Int32Array(cube.faceCount).fill(7) },
      tint: { domain: 'corner', width: 4, data: new Float32Array(4 * cube.cornerCount).fill(0.5) },
    },
  }),
  curves: ellipse(3, 3, 'xz', 5),
};

/** A step of this test alone: that one declaration is all it takes. */
const fixture = defineStep({
  kind: 'fixture',
  title: 'Start with',
  sentence: ' a laden thing',
  help: '',
  inputs: {},
  values: { note: text('note', '') },
  run: () => laden,
}) as unknown as StepDef;

const step = (kind: string, values: Record<string, unknown> = {}): Step => {
  const def = kind === 'fixture' ? fixture : stepDef(kind)!;
  return { id: kind, kind, on: true, values: { ...defaultsOf(def.values), ...values } };
};
const options = (more: Partial<EvaluateOptions> = {}): EvaluateOptions => ({
  memory: new Memory(),
  stepDef: (kind) => (kind === 'fixture' ? fixture : stepDef(kind)),
  read: readAny,
  materials: [{ id: 'a', name: 'a', color: '#808080', roughness: 0.5, metalness: 0 }],
  kits: { hash: async () => 'k', follow: async (_id, _own, handed) => handed!.geometry },
  piece: async (id): Promise<OtherPiece> => ({ geometry: laden, name: id, hash: id }),
  ...more,
});
const follow = async (...steps: Step[]) => (await evaluate(steps, options())).at(-1)!;

/** Values without which a step has nothing to do. */
const VALUES: Record<string, Record<string, unknown>> = {
  join: { other: 'b' },
  lay: { other: 'b' },
  'along-curve': { other: 'b' },
  'on-elements': { other: 'b' },
  'all-lay-along': { other: 'b' },
  'all-by-cage': { other: 'b' },
  dress: { material: 'a' },
  through: { kit: 'k' },
  each: { kit: 'k' },
  repeat: { kit: 'k' },
  'hand-on': { name: 'wear', domain: 'vertex' },
  'take-over': { name: 'wear', other: 'b' },
  'far-off': { other: 'b' },
  keep: { by: 'part', faces: { kind: 'face', keys: [cube.faceKey[0]] } },
  merged: { parts: [{ id: 'p', name: 'p', recipe: [step('fixture')], place: IDENTITY }] },
};

/** Of some numbers the one that is farthest from a value; none of none. */
function farthestFrom(value: number, data: ArrayLike<number>): number[] {
  let most = -1;
  for (let i = 0; i < data.length; i++)
    if (most < 0 || !(Math.abs(data[i] - value) <= Math.abs(data[most] - value))) most = i;
  return most < 0 ? [] : [data[most]];
}

const expectWhole = (made: Geometry) => {
  const g = whole(made);
  for (const kind of (Object.keys(GEOMETRY_KINDS) as KindName[]).filter((k) => k !== 'copies'))
    expect([kind, g[kind] !== undefined]).toEqual([kind, true]);
  expect(isEmptyGeometry({ curves: g.curves })).toBe(false);
  const mesh = g.mesh!;
  expect(mesh.faceCount).toBeGreaterThan(0);
  const size = { vertex: mesh.vertexCount, face: mesh.faceCount, corner: mesh.cornerCount };
  for (const [name, a] of Object.entries(laden.mesh!.attributes)) {
    const now = mesh.attributes[name];
    expect([name, now?.domain, now?.width, now?.data.length]).toEqual([
      name,
      a.domain,
      a.width,
      size[a.domain] * a.width,
    ]);
  }
  for (const [name, value] of Object.entries({ wear: 0.5, panel: 7, tint: 0.5 }))
    expect([name, ...farthestFrom(value, mesh.attributes[name].data)]).toEqual([name, expect.closeTo(value, 6)]);
};

/** It gives a box in the place of all there is: that is what it is for. */
const INSTEAD = 'around';
const after = stepDefs().filter((d) => d.kind !== INSTEAD && Object.values(d.inputs).some((i) => i.from === 'before'));
test.each(after.map((d) => d.kind))('%s: curves and every attribute come through', async (kind) => {
  const out = await follow(step('fixture'), step(kind, VALUES[kind]));
  expect(out.error).toBeUndefined();
  expectWhole(out.geometry);
});

test.each(after.map((d) => d.kind))('%s: copies stay copies, or become faces', async (kind) => {
  const apart = { ...laden, copies: copiesAt([{ mesh: cube }], rowSites(3, [0, 5, 0], 4)) };
  const start = { ...fixture, run: () => apart } as unknown as StepDef;
  const steps = [step('fixture'), step(kind, VALUES[kind])];
  const own = options();
  const out = (await evaluate(steps, { ...own, stepDef: (k) => (k === 'fixture' ? start : stepDef(k)) })).at(-1)!;
  expect(out.error).toBeUndefined();
  const { copies, mesh } = out.geometry;
  if (copies) expect(copies.of.length).toBeGreaterThanOrEqual(3);
  else if (kind !== 'keep') expect(new Set(mesh!.attributes.copy.data)).toEqual(new Set([0, 1, 2, 3]));
});

test('merged pieces bring their curves and attributes', async () => {
  const out = await follow(step('merged', VALUES.merged));
  expect(out.error).toBeUndefined();
  expectWhole(out.geometry);
});

describe('tools', () => {
  const top = [...Array(cube.faceCount).keys()].filter((f) =>
    [0, 1, 2, 3].every((k) => cube.positions[3 * cube.cornerVertex[cube.faceStart[f] + k] + 1] > 0.99),
  );
  const keys = {
    face: [cube.faceKey[top[0]]],
    edge: [edgeKeys(cube)[0]],
    vertex: [cube.vertexKey[0], cube.vertexKey[1]],
  };
  /** Picks of tools that need more than any one element: corners across a face, two faces that look at each other. */
  const special: Record<string, number[]> = {
    connect: [0, 2].map((k) => cube.vertexKey[cube.cornerVertex[cube.faceStart[top[0]] + k]]),
    bridge: cutsApart(cube),
  };
  test.each(toolDefs().map((t) => [t.id, t] as const))('%s', async (id, tool) => {
    if (id === 'fill' || id === 'cap' || tool.begins === 'points') return; // have nothing to fill on a closed body; below
    const pick =
      id === 'bridge'
        ? { kind: 'face', keys: special.bridge }
        : { kind: tool.picks[0], keys: special[id] ?? keys[tool.picks[0]] };
    const values: Record<string, unknown> = defaultsOf(tool.values);
    for (const [name, def] of Object.entries(tool.values)) if (def.kind === 'piece' && !def.zero) values[name] = 'b';
    const move = { id: 'm', tool: id, pick, values };
    const out = await follow(step('fixture'), step('shape', { moves: [move] }));
    expect(out.warnings).toEqual([]);
    expectWhole(out.geometry);
  });
  test('what is drawn by points', async () => {
    const on = (k: number) => ({ on: 'vertex', key: special.connect[k], at: [0, 0, 0] });
    const line = {
      id: 'c',
      tool: 'free-cut',
      pick: { kind: 'face', keys: keys.face },
      values: { line: [on(0), on(1)] },
    };
    const out = await follow(step('fixture'), step('shape', { moves: [line] }));
    expect([out.warnings, out.mesh.faceCount]).toEqual([[], cube.faceCount + 1]);
    expectWhole(out.geometry);
  });
  test.each(['fill', 'cap'])('%s gives new faces what their neighbours have', async (tool) => {
    const hole = { id: 'h', tool: 'delete', pick: { kind: 'face', keys: keys.face }, values: {} };
    const opened = await follow(step('fixture'), step('shape', { moves: [hole] }));
    const fill = { id: 'f', tool, pick: { kind: 'edge', keys: [openEdge(opened.mesh)] }, values: {} };
    const out = await follow(step('fixture'), step('shape', { moves: [hole, fill] }));
    expect(out.warnings).toEqual([]);
    expect(out.mesh.faceCount).toBe(cube.faceCount);
    expect(out.geometry.curves).toBe(opened.geometry.curves);
  });
});

/** A face that looks up and one that looks down. */
function cutsApart(mesh: Mesh): number[] {
  const level = (y: number) =>
    [...Array(mesh.faceCount).keys()].find((f) =>
      [0, 1, 2, 3].every((k) => Math.abs(mesh.positions[3 * mesh.cornerVertex[mesh.faceStart[f] + k] + 1] - y) < 1e-6),
    )!;
  const ys = [...mesh.positions].filter((_, i) => i % 3 === 1);
  return [level(Math.max(...ys)), level(Math.min(...ys))].map((f) => mesh.faceKey[f]);
}

function openEdge(mesh: Mesh): number {
  const t = topologyOf(mesh);
  for (let e = 0; e < t.edgeCount; e++)
    if (t.edgeCornerStart[e + 1] - t.edgeCornerStart[e] === 1) return edgeKeys(mesh)[e];
  throw new Error('The mesh has no open edge.');
}

describe('taking in another piece', () => {
  test('follows it: another hash of the other gives another result, the same is remembered', async () => {
    const memory = new Memory();
    let hash = '1';
    let wide = laden;
    const o = options({ memory, piece: async () => ({ geometry: wide, name: 'b', hash }) });
    const steps = [step('fixture'), step('join', { other: 'b' })];
    const first = (await evaluate(steps, o)).at(-1)!;
    expect(first.mesh.faceCount).toBe(2 * cube.faceCount);
    expect((await evaluate(steps, o)).at(-1)!.took).toBe(0);
    hash = '2';
    wide = {};
    expect((await evaluate(steps, o)).at(-1)!.mesh.faceCount).toBe(cube.faceCount);
  });
  test('what is its own keeps its keys; what is the other’s gets keys of its own', async () => {
    const out = await follow(step('fixture'), step('join', { other: 'b' }));
    expect(out.mesh.vertexKey.slice(0, cube.vertexCount)).toEqual(cube.vertexKey);
    expect(new Set(out.mesh.vertexKey).size).toBe(2 * cube.vertexCount);
  });
  test('without one chosen, or when it is gone: one sentence, and what was there stays', async () => {
    const none = await follow(step('fixture'), step('join'));
    expect(none.error).toBe('Choose the other piece.');
    expectWhole(none.geometry);
    const gone = async (): Promise<OtherPiece> => {
      throw new Error('The other piece is no longer there.');
    };
    const steps = [step('fixture'), step('join', { other: 'x' })];
    const out = (await evaluate(steps, options({ piece: gone }))).at(-1)!;
    expect(out.error).toMatch(/no longer there/);
    expect(out.mesh.faceCount).toBe(cube.faceCount);
  });
  test('being overtaken while the other is followed stops this one too', async () => {
    const late = async (): Promise<OtherPiece> => {
      throw new Cancelled();
    };
    const steps = [step('fixture'), step('join', { other: 'x' })];
    await expect(evaluate(steps, options({ piece: late }))).rejects.toBeInstanceOf(Cancelled);
  });
});

describe('formulas', () => {
  test('a stored formula is worked out each time; a wrong one is told and the rest goes on', async () => {
    const wide = (formula: unknown) => follow(step('box', { width: { formula }, onGround: false }));
    expect(GEOMETRY_KINDS.mesh.bounds((await wide('2 cm + 3 mm')).mesh)!.max[0]).toBeCloseTo(0.0115, 6);
    const wrong = await wide('2 cm * 3 cm');
    expect(wrong.error).toMatch(/length is wanted/);
  });
  test('limits hold for what a formula gives', async () => {
    const out = await follow(step('box', { cutX: { formula: '1000 * 1000' } }));
    expect(out.error).toBeUndefined();
    expect(out.mesh.faceCount).toBe(4 * 512 + 2);
  });
});

describe('memory', () => {
  test('arrays that results share count once', () => {
    const memory = new Memory();
    const kept = { warnings: [], figures: {} };
    memory.set('a', { ...kept, geometry: laden });
    const alone = memory.held;
    for (let i = 0; i < 100; i++)
      memory.set(`b${i}`, { ...kept, geometry: { mesh: cube.with({ positions: new Float32Array(cube.positions) }) } });
    expect(memory.held - alone).toBeLessThan(101 * (cube.positions.byteLength + 200));
  });
  test('what is forgotten is given back', () => {
    const memory = new Memory(1);
    const kept = { warnings: [], figures: {} };
    memory.set('a', { ...kept, geometry: laden });
    memory.set('b', { ...kept, geometry: {} });
    expect(memory.get('a')).toBeUndefined();
    expect(memory.held).toBe(200);
  });
});

describe('normals that a file brought', () => {
  /** A cube with the normals of its faces: where any are left later, they are those of the faces as they are then. */
  const flat = (mesh: Mesh): Float32Array => {
    const of = faceNormals(mesh);
    const data = new Float32Array(3 * mesh.cornerCount);
    for (let f = 0; f < mesh.faceCount; f++)
      for (let c = mesh.faceStart[f]; c < mesh.faceStart[f + 1]; c++) data.set(of.subarray(3 * f, 3 * f + 3), 3 * c);
    return data;
  };
  const shaded: Geometry = { mesh: cube.withAttribute('normal', { domain: 'corner', width: 3, data: flat(cube) }) };
  const start = { ...fixture, kind: 'fixture', run: () => shaded } as unknown as StepDef;
  const from = async (...steps: Step[]) => {
    const o = options({ stepDef: (kind) => (kind === 'fixture' ? start : stepDef(kind)) });
    return (await evaluate([step('fixture'), ...steps], o)).at(-1)!.mesh;
  };
  const expectTrue = (mesh: Mesh) => {
    const left = mesh.attributes.normal;
    if (!left) return;
    const now = flat(mesh);
    let worst = 0;
    for (let i = 0; i < now.length; i++) worst = Math.max(worst, Math.abs(now[i] - left.data[i]));
    expect(worst).toBeLessThan(1e-4);
  };
  test.each(after.map((d) => d.kind))('%s leaves none that are not so any more', async (kind) => {
    expectTrue(await from(step(kind, VALUES[kind])));
  });
  test('turned, sized unevenly, leaned and mirrored, they go along', async () => {
    const values = { turnX: 0.4, turnY: 1.2, sizeX: 3, sizeY: -0.5, leanXY: 0.7, x: 5 };
    const out = await from(step('place', values), step('mirror', { axis: 'z', clip: false }));
    expect(out.attributes.normal).toBeDefined();
    expectTrue(out);
  });
  test.each(toolDefs().map((t) => [t.id, t] as const))(
    'tool %s leaves none that are not so any more',
    async (id, tool) => {
      if (id === 'fill') return;
      const keys = {
        face: [cube.faceKey[4]],
        edge: [edgeKeys(cube)[3]],
        vertex: [cube.vertexKey[0], cube.vertexKey[1]],
      };
      const pick = { kind: tool.picks[0], keys: keys[tool.picks[0]] };
      const moved = { x: 0.3, y: 0.2, z: 0.1, angle: 0.5 };
      const values = Object.fromEntries(
        Object.entries({ ...defaultsOf(tool.values), ...moved }).filter(([k]) => k in tool.values),
      );
      expectTrue(await from(step('shape', { moves: [{ id: 'm', tool: id, pick, values }] })));
    },
  );
});
