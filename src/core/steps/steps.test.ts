/**
 * Steps in their recipes: what their values mean, what they say when something is missing, that picks follow through
 * them.
 */
import { keyOf } from '../math/hash';
import { curveLength } from '../curve/curves';
import { plane } from '../make/primitives';
import { boundsOf } from '../mesh/bounds';
import { shapeOf, volumeOf } from '../mesh/measure';
import type { Mesh } from '../mesh/mesh';
import { faceNormals } from '../mesh/normals';
import { edgeKeys, pickOf, resolve } from '../mesh/picks';
import { elementsBy } from '../rules';
import { topologyOf } from '../mesh/topology';
import { followRecipe } from '../steps';
import { Cancelled, withPicked } from '../recipe/define';
import type { Outcome } from '../recipe/evaluate';
import { Memory } from '../recipe/memory';
import type { Step } from '../recipe/values';
import { stepDef } from '../steps';
import { defaultsOf } from '../recipe/values';
import { toolDef } from '../tools';
import { UNWRAPPING } from '../testing/unwrapping';
import { islandsOf, uvFigures } from '../uv/measure';
import { unwrapMesh } from '../uv/unwrap';
import { writeUnwrapped } from '../uv/written';
import { thoroughly } from '../testing/thoroughly';

const step = (kind: string, values: Record<string, unknown> = {}, id = kind): Step => ({
  id,
  kind,
  on: true,
  values: { ...defaultsOf(stepDef(kind)!.values), ...values },
});
const follow = async (steps: Step[], more: object = {}): Promise<Outcome> => {
  const out = await followRecipe(steps, { memory: new Memory(), ...more });
  return out[out.length - 1];
};
const box = (values: Record<string, unknown> = {}) =>
  step('box', { width: 2, height: 2, depth: 2, onGround: false, ...values });
const edgesWhere = (m: Mesh, test: (a: Float32Array, b: Float32Array) => boolean) => {
  const t = topologyOf(m);
  const at = (v: number) => m.positions.subarray(3 * v, 3 * v + 3);
  return Array.from({ length: t.edgeCount }, (_, e) => e)
    .filter((e) => test(at(t.edgeVertex[2 * e]), at(t.edgeVertex[2 * e + 1])))
    .map((e) => edgeKeys(m)[e]);
};

describe('shape by hand', () => {
  const shape = (by: number, keys: number[], tool = 'inset') =>
    step('shape', {
      moves: [
        { id: 'm', tool, pick: { kind: 'face', keys }, values: { ...defaultsOf(toolDef(tool)!.values), inset: by } },
      ],
    });
  test('an inset wider than there is room is made, and said to go past itself', async () => {
    const { mesh } = await follow([box({ cutX: 4 })]);
    const areas = faceNormals(mesh, true);
    const narrow = Array.from({ length: mesh.faceCount }, (_, f) => f)
      .filter((f) => Math.hypot(areas[3 * f], areas[3 * f + 1], areas[3 * f + 2]) < 2)
      .map((f) => mesh.faceKey[f]);
    const over = await follow([box({ cutX: 4 }), shape(0.3, [narrow[0]])]);
    expect(over.warnings.map((w) => w.text)).toEqual([expect.stringMatching(/^Move 1, inset: .* goes past itself/)]);
    expect(over.mesh.faceCount).toBe(mesh.faceCount + 4);
    const fits = await follow([box({ cutX: 4 }), shape(0.2, [narrow[0]])]);
    expect(fits.warnings).toEqual([]);
    const drawn = await follow([box({ cutX: 4 }), shape(0.3, [narrow[0]], 'extrude')]);
    expect(drawn.warnings[0].text).toMatch(/^Move 1, extrude: .* goes past itself/);
  });
});

describe('brought in from a file', () => {
  const bytes = new TextEncoder().encode(
    'usemtl Tar\no a\nv 0 0 0\nv 1 0 0\nv 0 1 0\nf 1 2 3\no b\nv 0 0 1\nf 1 2 4\nf 1 2 3\n',
  );
  const blob = async () => bytes;
  const start = (values: Record<string, unknown>) => step('brought-in', { file: 'a.obj', blob: 'x', ...values });

  test('the piece of that number, its materials by the names the project gave them', async () => {
    const o = await follow([start({ item: 1, slots: { Tar: 'material-7' } })], { blob });
    expect(o.error).toBeUndefined();
    expect(o.mesh.faceCount).toBe(2);
    expect(o.mesh.slots).toEqual(['material-7']);
  });

  test('the same keys each time: what is done after it finds its place again', async () => {
    const a = await follow([start({ item: 0 })], { blob });
    const b = await follow([start({ item: 0 })], { blob });
    expect(b.mesh.vertexKey).toEqual(a.mesh.vertexKey);
    expect(b.mesh.faceKey).toEqual(a.mesh.faceKey);
  });

  test('a number the file does not have, a file that is gone: one sentence, and the rest goes on', async () => {
    expect((await follow([start({ item: 9 })], { blob })).error).toMatch(/does not hold a piece number 10/);
    const lost = await follow([start({}), step('subdivide', { levels: 1 })]);
    expect(lost.mesh.faceCount).toBe(0);
    expect((await follow([start({})])).error).toMatch(/is not here/);
  });
});

describe('subdivide', () => {
  test('creases picked on the cage stay sharp', async () => {
    const cube = (await follow([box()])).mesh;
    const rim = edgesWhere(cube, (a, b) => a[1] > 0.9 && b[1] > 0.9);
    expect(rim).toHaveLength(4);
    const creases = { kind: 'edge', keys: rim };
    const soft = (await follow([box(), step('subdivide', { levels: 2 })])).mesh;
    const sharp = (await follow([box(), step('subdivide', { levels: 2, creases })])).mesh;
    expect(boundsOf(soft.positions).max[1]).toBeLessThan(0.95);
    // The rim becomes a smooth curve in its own plane: nothing above it, all of it at its height.
    expect(boundsOf(sharp.positions).max[1]).toBeCloseTo(1, 5);
    expect(volumeOf(sharp)).toBeGreaterThan(volumeOf(soft));
  });

  test('too fine is refused before it is tried', async () => {
    const o = await follow([step('sphere', { cuts: 200 }), step('subdivide', { levels: 6 })]);
    expect(o.error).toMatch(/million faces; ask for fewer/);
    expect(o.mesh.faceCount).toBe(240000);
  });

  test('a crease lost upstream is told, and forgotten only if asked', async () => {
    const o = await follow([box(), step('subdivide', { levels: 1, creases: { kind: 'edge', keys: [1, 2] } })]);
    expect(o.warnings[0].text).toBe('2 of 2 creases lost their edges by a change before this step.');
    const [again, forget] = o.warnings[0].remedies!;
    expect(forget).toEqual({ label: 'Forget them', values: { creases: { kind: 'edge', keys: [] } } });
    expect(again).toMatchObject({ label: 'Pick again', again: 'edge' });
    expect(withPicked(again.values, [3, 4, 3])).toEqual({ creases: { kind: 'edge', keys: [3, 4] } });
  });
});

describe('seams through changes put in before them', () => {
  test('a loop cut and a subdivision before the unwrap: each seam is found on all its parts', async () => {
    const cube = (await follow([box()])).mesh;
    const upright = edgesWhere(cube, (a, b) => a[0] === b[0] && a[2] === b[2]);
    const cut = { kind: 'edge', keys: [...upright, ...edgesWhere(cube, (a, b) => a[1] > 0.9 && b[1] > 0.9)] };
    const hand = step('shape', {
      moves: [{ id: 'm', tool: 'loop', pick: { kind: 'edge', keys: [upright[0]] }, values: { count: 3, slide: 0 } }],
    });
    for (const before of [[], [hand], [step('subdivide', { levels: 1 })], [hand, step('subdivide', { levels: 2 })]]) {
      const o = await follow([box(), ...before, step('unwrap', { cut, seamAngle: Math.PI, stretch: 0 })]);
      expect(o.warnings).toEqual([]);
      const input = (await follow([box(), ...before])).mesh;
      const found = resolve(input, { kind: 'edge', keys: cut.keys });
      expect(found.lost).toEqual([]);
      expect(found.indices.length).toBeGreaterThanOrEqual(cut.keys.length);
      // Four uprights and the rim cut: the lid and a cross of walls and floor.
      expect(o.figures.islands).toBe(2);
      expect(uvFigures(o.mesh, o.mesh.attributes.uv.data, 512).overlap).toBe(0);
    }
  });

  test('a density that does not fit says so and offers what does', async () => {
    const o = await follow([box(), step('unwrap', { density: 1e5 })]);
    expect(o.warnings[0].text).toMatch(/do not fit the sheet; they were laid out at \d+/);
    expect(o.warnings[0].remedies![0].values).toEqual({ density: 0 });
  });
});

describe('colour', () => {
  const materials = ['a', 'b'].map((id) => ({ id, name: id, color: '#808080', roughness: 0.5, metalness: 0 }));

  test('colours go through mirror and subdivision; a later colour step covers an earlier one', async () => {
    const cube = (await follow([box()])).mesh;
    const first = step('color', { base: 'a', colors: [{ material: 'b', keys: [cube.faceKey[0]] }] }, 'first');
    const o = await follow([box(), first, step('subdivide', { levels: 1 })], { materials });
    const count = (id: string, m: Mesh) => [...m.attributes.material.data].filter((s) => m.slots[s] === id).length;
    expect([count('a', o.mesh), count('b', o.mesh)]).toEqual([20, 4]);
    const over = await follow([box(), first, step('color', { base: 'b' }, 'second')], { materials });
    expect([count('a', over.mesh), count('b', over.mesh)]).toEqual([0, 6]);
  });

  test('a deleted material leaves its faces bare and says so', async () => {
    const cube = (await follow([box()])).mesh;
    const o = await follow([box(), step('color', { colors: [{ material: 'gone', keys: [cube.faceKey[0]] }] })], {
      materials,
    });
    expect(o.warnings[0].text).toMatch(/has been deleted/);
    expect([...o.mesh.attributes.material.data]).toEqual([-1, -1, -1, -1, -1, -1]);
  });
});

test('weld as a step closes what was only laid side by side', async () => {
  const o = await follow([box(), step('mirror', { axis: 'x', weld: 0, clip: true }), step('weld', { distance: 1e-4 })]);
  expect(shapeOf(o.mesh)).toMatchObject({ closed: true, oriented: true, components: 1 });
});

test('step ids seed keys: the same step in two recipes makes different elements', async () => {
  const a = (await follow([step('box', {}, 'one')])).mesh;
  const b = (await follow([step('box', {}, 'two')])).mesh;
  expect(new Set([...a.vertexKey, ...b.vertexKey]).size).toBe(16);
  expect(keyOf('one')).not.toBe(keyOf('two'));
});

test('a line through points: smooth or straight, open or back to the first; too few are told', async () => {
  const at = async (values: Record<string, unknown>) =>
    (await followRecipe([{ id: 'l', kind: 'line', on: true, values }], { memory: new Memory() }))[0];
  const square = [
    [0, 0, 0],
    [1, 0, 0],
    [1, 0, 1],
    [0, 0, 1],
  ];
  const straight = await at({ points: square, smooth: false, closed: true });
  expect(curveLength(straight.geometry.curves!)).toBeCloseTo(4, 6);
  expect(curveLength((await at({ points: square, smooth: false })).geometry.curves!)).toBeCloseTo(3, 6);
  const round = curveLength((await at({ points: square, closed: true })).geometry.curves!);
  expect(round).toBeGreaterThan(4);
  expect(round).toBeLessThan(Math.PI * Math.SQRT2 * 1.02);
  expect((await at({ points: [[0, 0, 0]] })).error).toMatch(/two different points/);
});

test('moves that name another piece follow it; where it is gone they say so and go on', async () => {
  const memory = new Memory();
  const start = box({ width: 0.1, height: 0.1, depth: 0.1 });
  const mesh = (await followRecipe([start], { memory }))[0].mesh;
  const top = pickOf(mesh, 'face', elementsBy(mesh, 'face', { id: 'looks', values: { way: 'up', angle: 0.1 } }));
  const moves = [{ id: 'm', tool: 'extrude', pick: top, values: { by: 0.01, along: 'y', until: 'roof' } }];
  const recipe = [start, { id: 's', kind: 'shape', on: true, values: { moves } }];
  const roof = (height: number) => ({
    geometry: {
      mesh: plane({ width: 9, depth: 9, cutX: 1, cutZ: 1 }, 3).moved(
        Float32Array.from([-9, height, -9, 9, height, -9, -9, height, 9, 9, height, 9]),
      ),
    },
    name: 'Roof',
    hash: `roof ${height}`,
  });
  const high = async (piece: (id: string) => Promise<ReturnType<typeof roof>>) => {
    const { mesh: m, warnings } = (await followRecipe(recipe, { memory, piece }))[1];
    return { top: Math.max(...m.positions.filter((_, i) => i % 3 === 1)), warnings };
  };
  expect((await high(async () => roof(2))).top).toBeCloseTo(2, 5);
  expect((await high(async () => roof(3))).top).toBeCloseTo(3, 5);
  const gone = await high(async () => {
    throw new Error('The other piece is no longer there.');
  });
  expect(gone.top).toBeCloseTo(0.05, 5);
  expect(gone.warnings[0].text).toMatch(/^Move 1, extrude: The other piece is no longer there\.$/);
});

test('a layout that was kept from another session is taken as it was left; small ones are laid out at once', async () => {
  const asked: string[] = [];
  const kept = new Map<string, Uint8Array>();
  const lasting = {
    get: (name: string) => {
      asked.push(name);
      return Promise.resolve(kept.get(name));
    },
    put: () => undefined,
  };
  const laid = (cuts: number) =>
    follow([step('sphere', { cuts }), step('unwrap')], { memory: new Memory(undefined, lasting) });
  await laid(6);
  expect(asked).toEqual([]);
  const fresh = await laid(14);
  // As it would be found if it had come out smaller then: it is not worked out anew.
  const uv = fresh.mesh.attributes.uv.data.map((x) => x / 2) as Float32Array;
  const left = {
    ...unwrapMesh(fresh.mesh, UNWRAPPING),
    mesh: fresh.mesh.withAttribute('uv', { ...fresh.mesh.attributes.uv, data: uv }),
  };
  kept.set(asked[0], writeUnwrapped(left));
  const again = await laid(14);
  expect(asked).toEqual([asked[0], asked[0]]);
  expect(again.mesh.attributes.uv.data).toEqual(uv);
  expect(again.figures).toMatchObject({ islands: left.islands, density: left.density });
  // Of other wishes it is no longer the layout.
  await follow([step('sphere', { cuts: 14 }), step('unwrap', { stretch: 1.2 })], {
    memory: new Memory(undefined, lasting),
  });
  expect(asked[2]).not.toBe(asked[0]);
});

test('work that was looked up first stops as soon as any other', async () => {
  let looked = 0;
  let told = 0;
  const lasting = {
    get: () => {
      looked++;
      return Promise.resolve(undefined);
    },
    put: () => undefined,
  };
  const cancelled = () => looked > 0 && ++told > 3;
  const more = { memory: new Memory(undefined, lasting), cancelled };
  await expect(follow([step('sphere', { cuts: 30 }), step('unwrap')], more)).rejects.toThrow(Cancelled);
  expect(looked).toBe(1);
});

thoroughly('stretched on the mean by no more than is asked; what is held and does not lie so is told', async () => {
  const ball = step('sphere', { cuts: 8 });
  const [loose, asked] = await Promise.all([0, 1.008].map((mean) => follow([ball, step('unwrap', { mean })])));
  const stretch = (o: typeof loose): number => uvFigures(o.mesh, o.mesh.attributes.uv.data, 256).stretchMean;
  expect([loose.warnings, asked.warnings]).toEqual([[], []]);
  expect(stretch(loose)).toBeGreaterThan(1.03);
  expect(stretch(asked)).toBeLessThanOrEqual(1.0081);
  expect(asked.figures.islands).toBeGreaterThan(Number(loose.figures.islands));
  const less = await follow([ball, step('unwrap', { mean: 0.4, stretch: 0.5 })]);
  expect(less.warnings.map((w) => [w.text, w.remedies?.[0].values])).toEqual([
    ['It was laid out to be stretched by 1.01 at the most, not 0.5: 1 is not stretched at all.', { stretch: 1.01 }],
    ['It was laid out to be stretched by 1.001 on the mean, not 0.4: 1 is not stretched at all.', { mean: 1.001 }],
  ]);
  const upper = edgesWhere(asked.mesh, (a, b) => a[1] > 0 && b[1] > 0);
  const held = await follow([ball, step('unwrap', { mean: 1.008, hold: { kind: 'edge', keys: upper } })]);
  const said = held.warnings.map((w) => w.text).join(' ');
  const told = /stretched by (1\.\d{4}) on the mean, where 1\.008 was asked for/.exec(said)?.[1];
  expect(Number(told)).toBeCloseTo(stretch(held), 3);
});

test('what was placed by hand and does not lie there is told, and nothing where it does', async () => {
  const drum = (sides: number) => step('cylinder', { sides });
  const memory = new Memory();
  const laid = async (sides: number, values: Record<string, unknown> = {}) => {
    const out = await follow([drum(sides), step('unwrap', values)], { memory });
    return { mesh: out.mesh, said: out.warnings.map((w) => w.text).filter((t) => t.includes('where they were put')) };
  };
  const { mesh } = await laid(24);
  const uv = mesh.attributes.uv.data;
  // One half of its side, smaller and elsewhere.
  const { ofFace } = islandsOf(mesh, uv as Float32Array);
  const placed = { face: [] as number[], vertex: [] as number[], uv: [] as number[] };
  for (let f = 0; f < mesh.faceCount; f++)
    for (let c = mesh.faceStart[f]; ofFace[f] === 1 && c < mesh.faceStart[f + 1]; c++) {
      placed.face.push(mesh.faceKey[f]);
      placed.vertex.push(mesh.vertexKey[mesh.cornerVertex[c]]);
      placed.uv.push(0.7 * uv[2 * c] + 0.17, 0.7 * uv[2 * c + 1] + 0.11);
    }
  const same = await laid(24, { placed });
  const at = same.mesh.attributes.uv.data;
  let n = 0;
  for (let f = 0; f < mesh.faceCount; f++)
    for (let c = mesh.faceStart[f]; ofFace[f] === 1 && c < mesh.faceStart[f + 1]; c++, n++)
      expect([at[2 * c], at[2 * c + 1]]).toEqual([Math.fround(placed.uv[2 * n]), Math.fround(placed.uv[2 * n + 1])]);
  expect([n > 12, same.said]).toEqual([true, []]);
  // Twice as many: those between, on the rim of the base as on the side, each on its own side of the cut.
  const twice = await laid(48, { placed });
  expect([twice.said, uvFigures(twice.mesh, twice.mesh.attributes.uv.data, 64).stretchMax < 1.3]).toEqual([[], true]);
});

/** A drum of so many sides, unfolded; and places for some of its faces, moved and smaller. */
async function unfolded(
  sides: number,
  levels: number,
  which: (island: number, of: Uint32Array) => boolean,
  by = 0.7,
  right = 0.01,
) {
  const memory = new Memory();
  const laid = (n: number, values: Record<string, unknown> = {}) =>
    follow([step('cylinder', { sides: n }), step('subdivide', { levels }), step('unwrap', values)], { memory });
  const first = await laid(sides);
  const { mesh } = first;
  const uv = mesh.attributes.uv.data;
  const { ofFace } = islandsOf(mesh, uv as Float32Array);
  const placed = { face: [] as number[], vertex: [] as number[], uv: [] as number[] };
  for (let f = 0; f < mesh.faceCount; f++)
    for (let c = mesh.faceStart[f]; which(ofFace[f], ofFace) && c < mesh.faceStart[f + 1]; c++) {
      placed.face.push(mesh.faceKey[f]);
      placed.vertex.push(mesh.vertexKey[mesh.cornerVertex[c]]);
      placed.uv.push(by * uv[2 * c] + right, by * uv[2 * c + 1] + 0.01);
    }
  await laid(sides, { placed });
  return { first, again: (n: number) => laid(n, { placed }) };
}

test('faces that grew between those that were placed lie between them, and not as islands of their own', async () => {
  const { first, again } = await unfolded(16, 1, () => true);
  // Its caps are of as many faces as it has sides, each of them where a wider one was.
  const twice = await again(32);
  expect(twice.mesh.faceCount).toBe(2 * first.mesh.faceCount);
  expect(twice.figures.islands).toBe(first.figures.islands);
});

test('what cannot lie where it was put is told', async () => {
  // Seventeen sides lie across the cuts of sixteen: a face has one end in one of two fans, and one in the other.
  const { again } = await unfolded(16, 1, () => true);
  const said = (await again(17)).warnings.map((w) => w.text);
  expect(said).toContainEqual(expect.stringMatching(/^\d+ of 102 faces placed by hand do not lie/));
  expect(said).toContainEqual(expect.stringMatching(/^\d+ % of what was placed .* by more than 3:/));
  expect((await again(16)).warnings).toEqual([]);
});

test('what was placed along the border of the sheet is not followed beyond it', async () => {
  const outside = async (sides: number) => {
    const { again } = await unfolded(16, 0, () => true, 1, -0.001);
    const { mesh } = await again(sides);
    return uvFigures(mesh, mesh.attributes.uv.data, 1024).outside;
  };
  for (const sides of [5, 7, 11, 24]) expect(await outside(sides)).toBeLessThan(1e-5);
});

test('what comes to hang on what was placed lies by itself where there is no room for it', async () => {
  // The most of its side was placed; of more sides it would be one strip, wider than the sheet.
  const side = (island: number, of: Uint32Array) => of.filter((k) => k === island).length > 8;
  const { again } = await unfolded(16, 0, side, 0.97);
  const { mesh, figures } = await again(64);
  const { outside, overlap } = uvFigures(mesh, mesh.attributes.uv.data, 1024);
  expect([outside < 1e-6, overlap, figures.islands > 2]).toEqual([true, 0, true]);
  // Put a little over the left border of the sheet, what hangs on it goes no farther over the right one.
  const over = await unfolded(16, 0, side, 0.97, -0.05);
  const { data } = (await over.again(64)).mesh.attributes.uv;
  expect(Math.max(...data.filter((_, i) => i % 2 === 0))).toBeLessThan(1);
});
