/** The command line as a person calls it: files in, files out, exit codes, standard input and output. */
import { spawnSync } from 'node:child_process';
import {
  copyFileSync,
  existsSync,
  mkdirSync,
  mkdtempSync,
  readdirSync,
  readFileSync,
  rmSync,
  writeFileSync,
} from 'node:fs';
import { tmpdir } from 'node:os';
import { join } from 'node:path';
import * as validator from 'gltf-validator';
import { readZipPaths, writeZip } from '../src/core/formats';
import { harbour } from '../src/demo/harbour';
import { signalLamp } from '../src/demo/lamp';
import { someOf } from '../src/core/testing/thorough';
import { thoroughly } from '../src/core/testing/thoroughly';

const root = process.cwd();
const dir = mkdtempSync(join(tmpdir(), 'glypta-cli-'));
const glypta = (args: string[], input?: string | Buffer) => {
  const r = spawnSync(join(root, 'glypta'), args, { cwd: dir, input, maxBuffer: 1 << 28 });
  return { code: r.status, out: r.stdout, text: r.stdout.toString(), err: r.stderr.toString() };
};
const CUBE =
  'o cube\nv 0 0 0\nv 1 0 0\nv 1 1 0\nv 0 1 0\nv 0 0 1\nv 1 0 1\nv 1 1 1\nv 0 1 1\nf 4 3 2 1\nf 5 6 7 8\n' +
  'f 1 2 6 5\nf 2 3 7 6\nf 3 4 8 7\nf 4 1 5 8\n';
const inspect = (file: string) =>
  JSON.parse(glypta(['inspect', file, '--json']).text) as Record<string, never> & {
    uv: Record<string, number>;
    closed: boolean;
    volume: number;
    faces: number;
  };

beforeAll(() => {
  writeFileSync(join(dir, 'cube.obj'), CUBE);
  glypta(['help']);
}, 60000);
afterAll(() => rmSync(dir, { recursive: true, force: true }));

test('inspect: every promised name, in JSON and in words, from a file and from standard input', () => {
  const r = inspect('cube.obj');
  expect(Object.keys(r)).toEqual(
    expect.arrayContaining([
      'vertices',
      'edges',
      'faces',
      'triangles',
      'components',
      'eulerCharacteristic',
      'openEdges',
      'nonManifoldEdges',
      'closed',
      'oriented',
      'area',
      'volume',
      'bounds',
      'groups',
      'materials',
      'uv',
    ]),
  );
  expect(Object.keys(r.uv)).toEqual([
    'sets',
    'islands',
    'coverage',
    'overlap',
    'outside',
    'stretchMean',
    'stretchMax',
    'flips',
    'texelDensityMin',
    'texelDensityMax',
  ]);
  expect(r).toMatchObject({
    vertices: 8,
    edges: 12,
    faces: 6,
    triangles: 12,
    eulerCharacteristic: 2,
    closed: true,
    oriented: true,
    volume: 1,
    area: 6,
    bounds: { min: [0, 0, 0], max: [1, 1, 1] },
  });
  expect(JSON.parse(glypta(['inspect', '-', '--json'], CUBE).text)).toMatchObject({ volume: 1 });
  expect(glypta(['inspect', 'cube.obj']).text).toMatch(/Volume +1 m³/);
});

test('unfold and convert: UVs inside the sheet, there and back through GLB, a valid one', async () => {
  expect(
    JSON.parse(
      glypta(['unfold', 'cube.obj', 'flat.obj', '--seam-angle', '45', '--padding', '4', '--size', '512', '--json'])
        .text,
    ),
  ).toMatchObject([{ islands: 6, overlap: 0 }]);
  mkdirSync(join(dir, 'models'));
  copyFileSync(join(dir, 'cube.obj'), join(dir, 'models', 'one.obj'));
  copyFileSync(join(dir, 'cube.obj'), join(dir, 'models', 'two.obj'));
  writeFileSync(join(dir, 'models', 'bad.obj'), 'f 1 2 3');
  writeFileSync(join(dir, 'models', 'notes.txt'), 'not a model');
  const folder = glypta(['unfold', 'models', 'sheets', '--islands', '1', '--drawing', 'svg', '--json']);
  // The broken one is told, and the others are made all the same.
  expect([folder.code, folder.err]).toEqual([1, expect.stringContaining('bad.obj')]);
  expect(JSON.parse(folder.text)).toMatchObject([
    { file: 'one.obj', flips: 0, overlap: 0 },
    { file: 'two.obj', flips: 0, overlap: 0 },
  ]);
  const drawings = readdirSync(join(dir, 'sheets')).filter((name) => name.endsWith('layout.svg'));
  expect(drawings).toHaveLength(2);
  for (const name of drawings) expect(readFileSync(join(dir, 'sheets', name), 'utf8')).toContain('id="island-1"');
  expect(inspect('sheets/two.obj').uv).toMatchObject({ sets: 1, overlap: 0, outside: 0 });
  expect(inspect('flat.obj').uv).toMatchObject({ sets: 1, islands: 6, overlap: 0, outside: 0 });
  expect(glypta(['convert', 'flat.obj', 'flat.glb']).code).toBe(0);
  expect((await validator.validateBytes(new Uint8Array(readFileSync(join(dir, 'flat.glb'))))).issues).toMatchObject({
    numErrors: 0,
    numWarnings: 0,
  });
  expect(inspect('flat.glb')).toMatchObject({ closed: true, volume: 1, uv: { islands: 6 } });
  const piped = glypta(['convert', 'flat.glb', '-']);
  expect(piped.code).toBe(0);
  expect(JSON.parse(glypta(['inspect', '-', '--json'], piped.out).text)).toMatchObject({ triangles: 12, closed: true });
});

test('unfold: the pieces of a file on one sheet, by their sizes; another UV set beside the first', () => {
  const square = (x: number, side: number, first: number): string =>
    [
      [x, 0],
      [x + side, 0],
      [x + side, side],
      [x, side],
    ]
      .map(([a, b]) => `v ${a} ${b} 0`)
      .concat(`f ${first} ${first + 1} ${first + 2} ${first + 3}`)
      .join('\n');
  writeFileSync(join(dir, 'two.obj'), `o small\n${square(0, 1, 1)}\no large\n${square(3, 2, 5)}\n`);
  const o = ['--size', '256', '--padding', '4', '--json'];
  const [small, large] = JSON.parse(glypta(['unfold', 'two.obj', 'two.glb', '--one-sheet', ...o]).text);
  expect(large.coverage / small.coverage).toBeCloseTo(4, 1);
  expect(small.texelsPerMetre).toBe(large.texelsPerMetre);
  expect(inspect('two.glb').uv).toMatchObject({ sets: 1, islands: 2, overlap: 0, outside: 0 });
  expect(glypta(['unfold', 'two.glb', 'sets.glb', '--set', 'light', '--together', 'part', ...o]).code).toBe(0);
  expect(inspect('sets.glb').uv).toMatchObject({ sets: 2, islands: 2, overlap: 0 });
  // Several at once: told in the order of their names; a broken one is told, and two of one name are refused.
  mkdirSync(join(dir, 'many'));
  for (let i = 1; i <= 5; i++) copyFileSync(join(dir, 'two.obj'), join(dir, 'many', `${i}.obj`));
  writeFileSync(join(dir, 'many', 'bad.obj'), 'f 1 2 3');
  const many = glypta(['unfold', 'many', 'made', '--jobs', '3', ...o]);
  expect([many.code, many.err]).toEqual([1, expect.stringContaining('bad.obj')]);
  expect(JSON.parse(many.text).map((f: { file: string }) => f.file)).toEqual(
    [1, 1, 2, 2, 3, 3, 4, 4, 5, 5].map((i) => `${i}.obj`),
  );
  expect(glypta(['unfold', 'two.obj', 'many/../two.obj', 'made'])).toMatchObject({
    code: 2,
    err: expect.stringContaining('Two files are called two.obj'),
  });
});

test.each(someOf(['3mf', 'stl', 'ply', 'gltf', 'zip'], 1))(
  'convert: by way of %s and back the cube is the cube',
  (kind) => {
    expect(glypta(['convert', 'cube.obj', `by.${kind}`])).toMatchObject({ code: 0 });
    expect(inspect(`by.${kind}`)).toMatchObject({
      closed: true,
      oriented: true,
      triangles: 12,
      volume: 1,
      pieces: 1,
      doubledFaces: 0,
    });
    expect(glypta(['convert', `by.${kind}`, `back-${kind}.obj`])).toMatchObject({ code: 0 });
    expect(inspect(`back-${kind}.obj`)).toMatchObject({ vertices: 8, closed: true, volume: 1 });
  },
);

test('inspect: areas and lengths are told in the unit the file says', () => {
  glypta(['convert', 'cube.obj', 'inch.3mf']);
  const parts = readZipPaths(readFileSync(join(dir, 'inch.3mf')), 'inch.3mf');
  const model = new TextDecoder().decode(parts.get('3D/3dmodel.model'));
  parts.set('3D/3dmodel.model', new TextEncoder().encode(model.replace('unit="meter"', 'unit="inch"')));
  writeFileSync(join(dir, 'inch.3mf'), writeZip(parts));
  expect(inspect('inch.3mf')).toMatchObject({ area: 6, lengthUnit: 'in', unit: 0.0254 });
  const told = glypta(['inspect', 'inch.3mf']).text;
  expect(told).toMatch(/Area +6 in²/);
  expect(told).toMatch(/Volume +1 in³/);
  expect(inspect('cube.obj')).toMatchObject({ lengthUnit: null }); // it says nothing of it
});

thoroughly('convert: text kinds, drawings, heights; inspect tells what pictures are', () => {
  for (const kind of ['stl', 'ply']) {
    expect(glypta(['convert', 'cube.obj', `text.${kind}`, '--text']).code).toBe(0);
    expect(readFileSync(join(dir, `text.${kind}`), 'utf8')).toMatch(kind === 'stl' ? /^solid / : /^ply\nformat ascii/);
    expect(inspect(`text.${kind}`)).toMatchObject({ closed: true, volume: 1 });
  }
  writeFileSync(
    join(dir, 'ring.svg'),
    '<svg xmlns="http://www.w3.org/2000/svg" width="20mm" height="20mm" viewBox="0 0 20 20">' +
      '<circle cx="10" cy="10" r="8"/><path d="M2 2h4v4z"/></svg>',
  );
  expect(inspect('ring.svg')).toMatchObject({ curves: 2, unit: 1, unitKnown: true });
  expect(glypta(['convert', 'ring.svg', 'again.svg']).code).toBe(0);
  expect(inspect('again.svg')).toMatchObject({ curves: 2 });
  writeFileSync(join(dir, 'land.raw'), Buffer.from(Uint16Array.from([0, 13107, 26214, 65535]).buffer));
  for (const [from, to] of [
    ['land.raw', 'land.png'],
    ['land.png', 'land.tiff'],
    ['land.tiff', 'again.raw'],
  ])
    expect(glypta(['convert', from, to])).toMatchObject({ code: 0 });
  expect(readFileSync(join(dir, 'again.raw')).equals(readFileSync(join(dir, 'land.raw')))).toBe(true);
  expect(inspect('land.tiff')).toMatchObject({ kind: 'tiff', width: 2, height: 2, bits: 16, lowest: 0, highest: 1 });
  expect(inspect('text.stl')).toMatchObject({ unitKnown: false, up: 'z', upKnown: false });
});

test('tool: any tool of the bench on a file; values have units, faces are found by where they look', () => {
  expect(glypta(['tool']).text).toMatch(/extrude {4}Draws faces out/);
  const r = glypta(['tool', 'extrude', 'cube.obj', 'tall.obj', '--pick', 'up', '--by', '50 cm']);
  expect(r.err).toBe('');
  expect(inspect('tall.obj')).toMatchObject({ faces: 10, closed: true });
  expect(inspect('tall.obj').volume).toBeCloseTo(1.5, 6);
  const lost = glypta(['tool', 'extrude', 'cube.obj', 'b.obj', '--pick', '99']);
  expect([lost.code, lost.err]).toEqual([2, '--pick 99 names nothing: there are 6 of that kind.\n']);
});

describe('procedures', () => {
  beforeAll(async () => {
    writeFileSync(join(dir, 'harbour.json'), JSON.stringify({ glypta: 2, document: await harbour(), blobs: {} }));
  });
  test('tell: the same project in the same words, all of it or one piece', () => {
    const all = glypta(['tell', 'harbour.json']);
    expect([all.code, all.err]).toEqual([0, '']);
    expect(all.text).toMatch(/^Harbour, in m, for render\n\nDials\n {2}panels = 6, 1 to 12: /);
    expect(glypta(['tell', 'harbour.json']).text).toBe(all.text);
    const one = glypta(['tell', 'harbour.json', '--piece', 'signal tower']).text;
    expect(one).toBe(
      'signal tower, at 0 m, 0 m, 0 m\n  1. Stack 1 of base, storeys of storey, 1 of lantern, along Y, 0 m ' +
        'between, each turned 0°.\n',
    );
    expect(glypta(['tell', 'harbour.json', '--piece', 'nobody'])).toMatchObject({ code: 2 });
  });
  thoroughly('make: dials set and swept; copies leave as one mesh in many places', async () => {
    const made = glypta(['make', 'harbour.json', '--out', 'h', '--set', 'panels=2', '--sweep', 'storeys=3..9/2']);
    expect([made.code, made.text.trim().split('\n').sort()]).toEqual([
      0,
      ['h/harbour-storeys-3.glb', 'h/harbour-storeys-9.glb'],
    ]);
    const nodes = [];
    for (const n of [3, 9]) {
      const bytes = readFileSync(join(dir, `h/harbour-storeys-${n}.glb`));
      const report = await validator.validateBytes(new Uint8Array(bytes));
      expect(report.issues.numErrors).toBe(0);
      const json = JSON.parse(bytes.subarray(20, 20 + bytes.readUInt32LE(12)).toString()) as {
        nodes: { mesh?: number; name: string }[];
      };
      const tower = json.nodes.filter((x) => /^signal tower \d/.test(x.name));
      expect(new Set(tower.map((x) => x.mesh)).size).toBe(3);
      nodes.push(tower.length);
    }
    expect(nodes).toEqual([5, 11]);
    for (const [option, why] of [
      ['storeys=99', /goes from 1 to 60/],
      ['spires=2', /There is no dial “spires”; there are panels/],
    ] as const) {
      const r = glypta(['make', 'harbour.json', '--out', 'h', '--set', option]);
      expect([r.code, r.err]).toEqual([2, expect.stringMatching(why)]);
    }
  });
});

test('make: a project as the shelf exports it becomes GLB and OBJ', async () => {
  writeFileSync(join(dir, 'lamp.json'), JSON.stringify({ glypta: 1, document: await signalLamp(), blobs: {} }));
  const r = glypta(['make', 'lamp.json', '--out', 'out', '--formats', 'glb,obj']);
  expect(r).toMatchObject({ code: 0, err: '' });
  for (const f of ['signal-lamp.glb', 'signal-lamp.obj', 'signal-lamp.mtl', 'hood_color.png'])
    expect(existsSync(join(dir, 'out', f))).toBe(true);
  expect(
    (await validator.validateBytes(new Uint8Array(readFileSync(join(dir, 'out/signal-lamp.glb'))))).issues,
  ).toMatchObject({ numErrors: 0, numWarnings: 0 });
  const obj = inspect('out/signal-lamp.obj');
  const glb = inspect('out/signal-lamp.glb');
  expect(obj).toMatchObject({ closed: true, components: 5 });
  expect(Math.abs(glb.volumeIfClosed / obj.volumeIfClosed - 1)).toBeLessThan(1e-4);
});

const REFUSED: readonly (readonly [string[], number, RegExp])[] = [
  [['inspect', 'none.obj'], 1, /There is no file/],
  [['inspect'], 2, /needs one FILE/],
  [['unfold', 'cube.obj', 'a.obj', '--size', 'many'], 2, /must be a number/],
  [['dance'], 2, /There is no/],
  [['inspect', '.'], 1, /is a folder/],
  [['inspect', 'cube.obj', '--loud'], 2, /not known/],
  [['convert', 'cube.obj', 'cube.xyz'], 2, /must end in/],
  [['unfold', 'cube.obj', 'a.obj', '--drawing', 'jpg'], 2, /svg or png/],
  [['unfold', 'cube.obj', 'a.obj', '--together', 'luck'], 2, /material, set, part/],
  [['unfold', 'cube.obj', 'nowhere/a.obj'], 1, /no folder/],
  [['make', 'cube.obj', '--out', 'o'], 1, /readable JSON/],
  [['make', 'lamp.json', '--out', 'o', '--formats', 'doc'], 2, /not a format/],
];
test.each(someOf(REFUSED, 4))('%j: exit status %d and one sentence', (args, code, told) => {
  const r = glypta([...args]);
  expect(r.code).toBe(code);
  expect(r.err).toMatch(told);
  expect(r.err).not.toMatch(/\n {4}at /); // no stack traces at people
});

const BROKEN = [
  ['empty.obj', ''],
  ['short.glb', 'glTF\u0002'],
  ['binary.obj', 'v\u0000\u0001\u0002'],
  ['words.obj', 'dear reader\n'],
];
test.each(someOf(BROKEN, 2))('%s is refused in one sentence', (name, text) => {
  writeFileSync(join(dir, name), text);
  const r = glypta(['inspect', name]);
  expect(r.code).toBe(1);
  expect(r.err.trim().split('\n')).toHaveLength(1);
});

test('edit: moves from a file, by rule, by number and by default; a bad one says which and why', () => {
  const moves = [
    { tool: 'extrude', rule: { id: 'looks', values: { way: 'up' } }, values: { by: 0.5 } },
    { tool: 'bevel', kind: 'edge', rule: { id: 'sharp' }, values: { width: 0.05, segments: 2 } },
    { tool: 'plane-cut', values: { axis: 'y', keep: 'back', fill: true } },
  ];
  writeFileSync(join(dir, 'moves.json'), JSON.stringify(moves));
  const made = glypta(['edit', 'cube.obj', '--moves', 'moves.json', 'edited.obj']);
  expect([made.code, made.err]).toEqual([0, '']);
  const r = inspect('edited.obj');
  expect(r.closed).toBe(true);
  expect(r.volume).toBeGreaterThan(0.7);
  expect(r.volume).toBeLessThan(0.75);
  const bad = (list: unknown) => {
    writeFileSync(join(dir, 'bad.json'), typeof list === 'string' ? list : JSON.stringify(list));
    return glypta(['edit', 'cube.obj', '--moves', 'bad.json', 'never.obj']);
  };
  expect(bad([{ tool: 'nothing' }]).err).toMatch(/^Move 1: there is no tool “nothing”/);
  expect(bad([{ tool: 'extrude', pick: 'up', values: { by: 'far' } }]).err).toMatch(/^Move 1: /);
  expect(bad([{ tool: 'extrude' }]).err).toMatch(/It does not say what it works on/);
  expect(bad([{ tool: 'extrude', rule: { id: 'what' } }]).err).toMatch(/There is no rule “what”/);
  expect(bad('{').err).toMatch(/bad\.json: this is not JSON/);
  expect(bad({ tool: 'extrude' }).code).not.toBe(0);
  expect(existsSync(join(dir, 'never.obj'))).toBe(false);
});

test('check: faults and their number, in words and JSON, and an exit code to go by', () => {
  const sound = glypta(['check', 'cube.obj']);
  expect([sound.code, sound.text]).toEqual([0, expect.stringContaining('nothing found')]);
  writeFileSync(join(dir, 'broken.obj'), CUBE.replace('f 4 1 5 8\n', ''));
  const open = glypta(['check', 'broken.obj', '--json']);
  const found = JSON.parse(open.text) as { pieces: { checks: { id: string; count: number; fault: boolean }[] }[] };
  expect(open.code).toBe(1);
  expect(found.pieces[0].checks.find((c) => c.id === 'open')).toMatchObject({ count: 4, fault: true });
  expect(glypta(['check', 'broken.obj', '--for', 'render']).code).toBe(0);
  expect(glypta(['check', 'broken.obj', '--for', 'love']).err).toMatch(/--for is one of/);
});
