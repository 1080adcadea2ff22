import { box } from '../../make/primitives';
import { meshFrom, UV, type Mesh } from '../../mesh/mesh';
import { edgeKeys } from '../../mesh/picks';
import { topologyOf } from '../../mesh/topology';
import { Memory } from '../../recipe/memory';
import { defaultsOf, type Step } from '../../recipe/values';
import { followRecipe, stepDef } from '../../steps';
import { readLayout, writeLayout } from './layout';
import { bordersOf } from '../edits/sheet';
import { islandsOf, uvFigures } from '../measure';
import { pinsOf } from './placed';
import { unwrapMesh } from '../unwrap';

const step = (kind: string, values: Record<string, unknown> = {}, id = kind): Step => ({
  id,
  kind,
  on: true,
  values: { ...defaultsOf(stepDef(kind)!.values), ...values },
});
const files = new Map<string, Uint8Array>();
const follow = async (steps: Step[], layout = '', values: Record<string, unknown> = {}, memory = new Memory()) => {
  const out = await followRecipe([...steps, step('unwrap', { layout, ...values })], {
    memory,
    blob: async (sha) => {
      const found = files.get(sha);
      if (!found) throw new Error('That file is not there.');
      return found;
    },
  });
  return out[out.length - 1];
};
const uvOf = (m: Mesh) => m.attributes[UV].data as Float32Array;
/** Keeps the layout of a recipe as it is now. */
const kept = async (steps: Step[]): Promise<Mesh> => {
  const { mesh } = await follow(steps);
  files.set('kept', writeLayout(mesh));
  return mesh;
};
const drum = (values: Record<string, unknown> = {}) =>
  step('cylinder', { size: 1, height: 1, sides: 16, rows: 4, cap: 'fan', onGround: false, ...values });

test('a layout is written and read to the last bit', async () => {
  const mesh = await kept([drum(), step('subdivide', { levels: 1 })]);
  const layout = readLayout(files.get('kept')!);
  const { places, spot } = layout;
  expect(places.face).toHaveLength(mesh.cornerCount);
  expect(Float32Array.from(places.uv)).toEqual(uvOf(mesh));
  for (let f = 0, k = 0; f < mesh.faceCount; f++)
    for (let c = mesh.faceStart[f]; c < mesh.faceStart[f + 1]; c++, k++) {
      expect([places.face[k], places.vertex[k]]).toEqual([mesh.faceKey[f], mesh.vertexKey[mesh.cornerVertex[c]]]);
      expect(spot(k)[4]).toBe(mesh.places.role[mesh.cornerVertex[c]]);
    }
  const { at, soft, lost } = pinsOf(mesh, places, undefined, layout);
  expect([at.size, soft.size, lost.length]).toEqual([mesh.cornerCount, 0, 0]);
});

describe('islands of a kept layout that are laid out anew', () => {
  /** The islands of a face or of several, by the keys of all their faces. */
  function islandsAt(mesh: Mesh, faces: readonly number[]): { keys: number[]; numbers: Set<number> } {
    const { ofFace } = islandsOf(mesh, uvOf(mesh));
    const numbers = new Set(faces.map((f) => ofFace[f]));
    const own = Array.from(ofFace.keys()).filter((f) => numbers.has(ofFace[f]));
    return { keys: own.map((f) => mesh.faceKey[f]), numbers };
  }
  const placesOf = (mesh: Mesh, but: ReadonlySet<number>): Map<string, string> => {
    const out = new Map<string, string>();
    for (let f = 0; f < mesh.faceCount; f++)
      for (let c = mesh.faceStart[f]; !but.has(mesh.faceKey[f]) && c < mesh.faceStart[f + 1]; c++)
        out.set(
          `${mesh.faceKey[f]}/${mesh.vertexKey[mesh.cornerVertex[c]]}`,
          `${uvOf(mesh)[2 * c]}/${uvOf(mesh)[2 * c + 1]}`,
        );
    return out;
  };
  /** Seams between two islands, and edges within one. */
  function edgesOf(mesh: Mesh): {
    between: { e: number; faces: number[] }[];
    within: { e: number; faces: number[] }[];
  } {
    const t = topologyOf(mesh);
    const borders = bordersOf(mesh, uvOf(mesh));
    const { ofFace } = islandsOf(mesh, uvOf(mesh));
    const all = Array.from({ length: t.edgeCount }, (_, e) => ({
      e,
      faces: Array.from(t.edgeCorner.subarray(t.edgeCornerStart[e], t.edgeCornerStart[e + 1]), (c) => t.cornerFace[c]),
    })).filter(({ faces }) => faces.length === 2);
    return {
      between: all.filter(({ e, faces: [f, g] }) => borders[e] && ofFace[f] !== ofFace[g]),
      within: all.filter(({ e }) => !borders[e]),
    };
  }

  const crate = (values: Record<string, unknown> = {}) =>
    step('box', { width: 1, height: 0.8, depth: 1.4, cutX: 2, cutY: 2, cutZ: 3, onGround: false, ...values });

  test.each(['cut', 'hold'] as const)(
    'a seam is to %s: the islands along it lie anew, the others to the last bit',
    async (mark) => {
      const mesh = await kept([crate()]);
      const { between, within } = edgesOf(mesh);
      const { ofFace, count } = islandsOf(mesh, uvOf(mesh));
      const [{ faces }] = mark === 'cut' ? within : between;
      const sides = new Set(faces.map((f) => ofFace[f]));
      // One side of the crate is cut into its faces, or one of its edges is closed.
      const edges = (mark === 'cut' ? within : between).filter((x) => x.faces.every((f) => sides.has(ofFace[f])));
      const keys = edgeKeys(mesh);
      const { keys: anew } = islandsAt(mesh, faces);
      const marked = { [mark]: { kind: 'edge', keys: edges.map((x) => keys[x.e]) } };
      const out = await follow([crate()], 'kept', { ...marked, anew: { kind: 'face', keys: anew } });
      expect(out.error).toBeUndefined();
      const left = new Set(anew);
      expect(placesOf(out.mesh, left)).toEqual(placesOf(mesh, left));
      expect(placesOf(out.mesh, left).size).toBeGreaterThan(0);
      const f = uvFigures(out.mesh, uvOf(out.mesh));
      expect([f.flips, f.overlap, f.outside]).toEqual([0, 0, 0]);
      expect(f.islands).toBe(mark === 'cut' ? count - 1 + anew.length : count - 1);
      // As fine as there is room for round the others: where that is much coarser, it is told, with what to do.
      const uneven = f.texelDensityMax / f.texelDensityMin;
      const told = out.warnings.map((w) => (typeof w === 'string' ? { text: w, remedies: [] } : w));
      expect(told.map((w) => w.text.slice(0, 34))).toEqual(uneven > 1.2 ? ['What is laid out anew has room for'] : []);
      const packed = await follow([crate()], 'kept', {
        ...marked,
        anew: { kind: 'face', keys: anew },
        ...told[0]?.remedies?.[0]?.values,
      });
      const even = uvFigures(packed.mesh, uvOf(packed.mesh));
      if (uneven > 1.2) expect(even.texelDensityMax / even.texelDensityMin).toBeLessThan(1.02);
      expect([packed.warnings, even.islands, even.overlap]).toEqual([[], f.islands, 0]);
      expect(out.figures.keptFaces).toBe(mesh.faceCount - anew.length);
      // By itself the mark changes nothing of what is kept.
      expect(Array.from(uvOf((await follow([crate()], 'kept', marked)).mesh))).toEqual(Array.from(uvOf(mesh)));
    },
  );

  test('through another count the rest stays kept, and what is laid anew lies on nothing', async () => {
    const memory = new Memory();
    const mesh = await kept([drum()]);
    const anew = { kind: 'face', keys: islandsAt(mesh, [0]).keys };
    await follow([drum()], 'kept', { anew }, memory);
    for (const values of [{ sides: 24 }, { rows: 7 }, { sides: 11, rows: 3 }]) {
      const out = await follow([drum(values)], 'kept', { anew }, memory);
      expect(out.error).toBeUndefined();
      const f = uvFigures(out.mesh, uvOf(out.mesh));
      expect([f.flips, f.overlap, f.outside]).toEqual([0, 0, 0]);
      expect(out.figures.keptFaces).toBeGreaterThan(0);
      expect(out.figures.keptFaces).toBeLessThan(out.figures.faces);
    }
    // Where it was is not known any more, it is told.
    const lost = await follow([drum({ sides: 24 })], 'kept', { anew });
    expect(lost.warnings.map((w) => (typeof w === 'string' ? w : w.text)).join()).toMatch(/laid out anew/);
  });
});

test('where nothing that was there has changed it is the same layout, and every face says so', async () => {
  const mesh = await kept([drum()]);
  for (const steps of [[drum()], [drum({ size: 3 })], [drum({ height: 0.2 })]]) {
    const again = await follow(steps, 'kept');
    expect(uvOf(again.mesh)).toEqual(uvOf(mesh));
    expect([again.figures.keptFaces, again.figures.faces]).toEqual([mesh.faceCount, mesh.faceCount]);
  }
});

test.each([
  ['rows', [drum({ rows: 7 })]],
  ['twice the sides', [drum({ sides: 32 })]],
  ['another number of sides', [drum({ sides: 19 })]],
  ['finer', [drum(), step('subdivide', { levels: 1, surface: 'flat' })]],
  ['mirrored', [drum(), step('mirror', { axis: 'x' })]],
])('through a change before it the layout is followed: %s', async (_name, steps) => {
  const before = await kept([drum()]);
  const out = await follow(steps, 'kept');
  expect(out.error).toBeUndefined();
  const f = uvFigures(out.mesh, uvOf(out.mesh));
  expect([f.flips, out.warnings]).toEqual([0, []]);
  expect(out.figures.keptFaces / out.figures.faces).toBeGreaterThan(0.95);
  // It covers what it covered: as much of the sheet, at as many texels.
  const was = uvFigures(before, uvOf(before));
  expect(f.coverage / was.coverage).toBeGreaterThan(0.9);
  expect(f.coverage / was.coverage).toBeLessThan(1.1);
});

test('what is new is laid out by itself, and moves nothing', async () => {
  const mesh = await kept([drum()]);
  const top = mesh.faceKey[mesh.faceCount - 1];
  const grown = step('shape', {
    moves: [
      {
        id: 'm',
        tool: 'extrude',
        pick: { kind: 'face', keys: [top] },
        values: { ...defaultsOf({}), by: 0.4, along: 'normals', inset: 0.02 },
      },
    ],
  });
  const out = await follow([drum(), grown], 'kept');
  expect(out.figures.keptFaces).toBeGreaterThanOrEqual(mesh.faceCount - 1);
  const was = new Map<string, [number, number]>();
  for (let f = 0; f < mesh.faceCount; f++)
    for (let c = mesh.faceStart[f]; c < mesh.faceStart[f + 1]; c++)
      was.set(`${mesh.faceKey[f]}/${mesh.vertexKey[mesh.cornerVertex[c]]}`, [uvOf(mesh)[2 * c], uvOf(mesh)[2 * c + 1]]);
  let same = 0;
  for (let f = 0; f < out.mesh.faceCount; f++)
    for (let c = out.mesh.faceStart[f]; c < out.mesh.faceStart[f + 1]; c++) {
      const old = was.get(`${out.mesh.faceKey[f]}/${out.mesh.vertexKey[out.mesh.cornerVertex[c]]}`);
      if (!old) continue;
      same++;
      expect([uvOf(out.mesh)[2 * c], uvOf(out.mesh)[2 * c + 1]]).toEqual(old);
    }
  expect(same).toBeGreaterThan(mesh.cornerCount - 8);
  const f = uvFigures(out.mesh, uvOf(out.mesh));
  expect([f.flips, f.overlap, f.outside]).toEqual([0, 0, 0]);
});

test('on two sheets, through another count no island comes to reach over the line between them', async () => {
  const ball = (made: string, cuts: number) => step('sphere', { diameter: 1, made, cuts });
  const on = { sheets: 2, size: '256', padding: 2, seamAngle: Math.PI };
  for (const [was, now] of [
    [ball('rings', 12), ball('rings', 7)],
    [ball('cube', 6), ball('cube', 5)],
    [drum({ sides: 16 }), drum({ sides: 11 })],
  ]) {
    const { mesh } = await follow([was], '', on);
    files.set('kept', writeLayout(mesh));
    const out = await follow([now], 'kept', on);
    const { ofFace, count } = islandsOf(out.mesh, uvOf(out.mesh));
    const reach = Array.from({ length: count }, () => [Infinity, -Infinity]);
    for (let f = 0; f < out.mesh.faceCount; f++)
      for (let c = out.mesh.faceStart[f]; c < out.mesh.faceStart[f + 1]; c++) {
        const u = uvOf(out.mesh)[2 * c];
        const own = reach[ofFace[f]];
        own[0] = Math.min(own[0], u);
        own[1] = Math.max(own[1], u);
      }
    expect(reach.filter(([low, high]) => low < 1 - 1e-6 && high > 1 + 1e-6)).toEqual([]);
    const f = uvFigures(out.mesh, uvOf(out.mesh), 1024, 2);
    expect([f.flips, f.overlap, f.outside]).toEqual([0, 0, 0]);
  }
});

test('on another of its kind it lies to the last bit as on the first, both sides of every cut too', async () => {
  const kinds = [
    (id: string) => step('sphere', { diameter: 1, made: 'cube', cuts: 6 }, id),
    (id: string) => step('sphere', { diameter: 1, made: 'rings', cuts: 6 }, id),
    (id: string) => step('cylinder', { size: 1, height: 2, sides: 9, rows: 5, cap: 'polygon', onGround: true }, id),
  ];
  for (const make of kinds) {
    const mesh = await kept([make('one')]);
    const out = await follow([make('other')], 'kept');
    expect([out.error, out.warnings]).toEqual([undefined, []]);
    expect(out.mesh.faceKey[0]).not.toBe(mesh.faceKey[0]);
    const [is, was] = [uvOf(out.mesh), uvOf(mesh)];
    expect(Math.max(...is.map((x, i) => Math.abs(x - was[i])))).toBeLessThan(1e-6);
  }
});

/** A drum whose faces of the upper half lie on those of the lower, as halves that share their texture do. */
async function stackedDrum(): Promise<Mesh> {
  const mesh = await kept([drum()]);
  const uv = uvOf(mesh).slice();
  for (let f = 0; f < mesh.faceCount; f++)
    for (let c = mesh.faceStart[f]; c < mesh.faceStart[f + 1]; c++) {
      const v = 3 * mesh.cornerVertex[c];
      const [x, y, z] = mesh.positions.subarray(v, v + 3);
      const round = mesh.faceStart[f + 1] - mesh.faceStart[f] === 4;
      const turn = Math.atan2(z, x) / (2 * Math.PI);
      const low = (y + 1) % 1;
      uv[2 * c] = round ? 0.1 + 0.3 * Math.abs(turn) : 0.6 + 0.3 * x;
      uv[2 * c + 1] = round ? 0.1 + 0.5 * Math.abs(low - 0.5) : 0.5 + 0.3 * z;
    }
  const out = mesh.withAttribute(UV, { domain: 'corner', width: 2, data: uv });
  files.set('kept', writeLayout(out));
  return out;
}

test('what was laid on others on purpose stays on them through a change; nothing of it is laid out apart', async () => {
  const before = await stackedDrum();
  const lying = readLayout(files.get('kept')!).lying.size;
  expect(lying).toBeGreaterThan(before.faceCount / 2);
  const was = uvFigures(before, uvOf(before)).overlap;
  expect(was).toBeGreaterThan(0.01);
  for (const change of [{ rows: 8 }, { sides: 32 }, { size: 2 }]) {
    const out = await follow([drum(change)], 'kept');
    expect(out.warnings).toEqual([]);
    const is = uvFigures(out.mesh, uvOf(out.mesh)).overlap;
    expect(Math.abs(is / was - 1)).toBeLessThan(0.1);
  }
});

test('through another count of all that is round, nothing comes to lie on anything, or outside', async () => {
  const ball = (values: Record<string, unknown>) => step('sphere', { diameter: 1, made: 'rings', cuts: 5, ...values });
  const cases: [Step, Step][] = [
    [drum({ sides: 12 }), drum({ sides: 7, rows: 3 })],
    [drum({ sides: 7, rows: 2 }), drum({ sides: 31, rows: 5 })],
    [ball({}), ball({ cuts: 9 })],
    [ball({ made: 'cube' }), ball({ made: 'cube', cuts: 3 })],
    [drum({ cap: 'polygon', sides: 9 }), drum({ cap: 'polygon', sides: 14, rows: 5 })],
  ];
  for (const [before, after] of cases) {
    const mesh = await kept([before]);
    expect(uvFigures(mesh, uvOf(mesh)).overlap).toBe(0);
    const out = await follow([after], 'kept');
    expect(out.error).toBeUndefined();
    const f = uvFigures(out.mesh, uvOf(out.mesh));
    expect([before.kind, f.flips, f.overlap, f.outside]).toEqual([before.kind, 0, 0, 0]);
  }
});

test('a file that is broken, or gone, says so in one sentence; so does a surface without a layout', async () => {
  await kept([drum()]);
  const whole = files.get('kept')!;
  for (const bytes of [new Uint8Array(0), whole.slice(0, 40), new Uint8Array(400).fill(7)])
    expect(() => readLayout(bytes)).toThrow('its file is broken');
  files.set('kept', whole.slice(0, whole.length >> 1));
  expect((await follow([drum()], 'kept')).error).toContain('broken');
  expect((await follow([drum()], 'gone')).error).toContain('not there');
  expect(() =>
    writeLayout(box({ width: 1, height: 1, depth: 1, cutX: 1, cutY: 1, cutZ: 1, onGround: false }, 1)),
  ).toThrow('unfold the piece first');
  expect(() => writeLayout(meshFrom(new Float32Array(0), []))).toThrow('no layout');
});

test('what could only lie folded where it was followed is laid out by itself, and the rest stays', () => {
  const rim = [0, 1, 2, 3, 4];
  const onRim = (k: number): [number, number] => [Math.cos((2 * Math.PI * k) / 5), Math.sin((2 * Math.PI * k) / 5)];
  /** Two fans: vertices 0 to 5, and 6 to 11. */
  const fans = meshFrom(
    [0, 3].flatMap((x) => [x, 0, 0, ...rim.flatMap((k) => [onRim(k)[0] + x, onRim(k)[1], 0])]),
    [0, 6].flatMap((v) => rim.map((k) => [v, v + k + 1, v + ((k + 1) % 5) + 1])),
  );
  // Of the first two of the rim have changed places: wherever its middle is, something of it lies on its face.
  const at = (v: number): [number, number] => {
    const [x, y] = v % 6 === 0 ? [0, 0] : onRim((v < 6 ? [0, 2, 1, 3, 4] : rim)[(v % 6) - 1]);
    return [(v < 6 ? 0.25 : 0.75) + 0.2 * x, 0.5 + 0.2 * y];
  };
  const pins = new Map(Array.from(fans.cornerVertex, (v, c) => [c, at(v)] as const));
  const soft = new Set(Array.from(fans.cornerVertex.keys()).filter((c) => fans.cornerVertex[c] === 0));
  const o = { cut: new Set<number>(), hold: new Set<number>(), seamAngle: 1, size: 512, padding: 4, density: 0 };
  const out = unwrapMesh(fans, { ...o, turn: true, pins, soft, kept: true });
  expect(out).toMatchObject({ apart: 5, stuck: 0 });
  const uv = out.mesh.attributes.uv.data;
  expect(uvFigures(out.mesh, uv)).toMatchObject({ flips: 0, overlap: 0, outside: 0 });
  for (let c = 15; c < 30; c++) {
    const [u, v] = at(fans.cornerVertex[c]);
    expect(uv[2 * c]).toBeCloseTo(u, 6);
    expect(uv[2 * c + 1]).toBeCloseTo(v, 6);
  }
});
