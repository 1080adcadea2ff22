import fc from 'fast-check';
import { firstDifference } from '../testing/arrays';
import validator from 'gltf-validator';
import { charted, closedBody } from '../testing/arbitrary';
import { box, cylinder } from '../make/primitives';
import { areaOf, shapeOf, volumeOf } from '../mesh/measure';
import { UV, type Mesh } from '../mesh/mesh';
import { readGlb, writeGlb } from './gltf';
import { readObj, writeObj } from './obj';
import { objZip } from './pack';
import { readAny } from './read';
import { readPng, writePng } from './png';
import { reportOf } from './report';
import { emptyScene, FileError, fromHex, safeName, toHex, type Scene } from './scene';
import { toLinear, toSrgb } from '../math/colour';
import { NumberReader, writeNumber } from './numbers';
import { readZip, writeZip } from './zip';

const text = (s: string) => new TextEncoder().encode(s);
const CUBE =
  'o cube\nv 0 0 0\nv 1 0 0\nv 1 1 0\nv 0 1 0\nv 0 0 1\nv 1 0 1\nv 1 1 1\nv 0 1 1\nf 4 3 2 1\nf 5 6 7 8\n' +
  'f 1 2 6 5\nf 2 3 7 6\nf 3 4 8 7\nf 4 1 5 8\n';
const dressed = (m: Mesh): Mesh => {
  const uv = charted(m);
  return uv.with({
    slots: ['a', 'b'],
    groups: ['top', 'rest'],
    attributes: {
      ...uv.attributes,
      material: { domain: 'face', width: 1, data: Int32Array.from({ length: m.faceCount }, (_, f) => f % 2) },
      group: { domain: 'face', width: 1, data: Int32Array.from({ length: m.faceCount }, (_, f) => (f < 2 ? 0 : 1)) },
    },
  });
};
const sceneOf = (mesh: Mesh): Scene => ({
  pieces: [
    { name: 'holder', parent: -1 },
    { name: 'body', parent: 0, mesh },
  ],
  images: [],
  warnings: [],
  materials: [
    { id: 'a', name: 'Slate', color: [0.2, 0.3, 0.4, 1], roughness: 0.25, metalness: 1 },
    { id: 'b', name: 'Chalk', color: [0.9, 0.9, 0.85, 1], roughness: 0.8, metalness: 0 },
  ],
});

describe('numbers', () => {
  test('nine digits read any Float32 back to the same bits', () => {
    const out = new Uint8Array(64);
    fc.assert(
      fc.property(fc.float({ noNaN: true, noDefaultInfinity: true }), (x) => {
        const end = writeNumber(out, 0, x);
        const r = new NumberReader(out.slice(0, end));
        expect(Math.fround(r.number(end)) + 0).toBe(Math.fround(x) + 0);
      }),
      { numRuns: 2000 },
    );
  });
  test.each([
    ['1e3', 1000],
    ['-2.5E-2', -0.025],
    ['.5', 0.5],
    ['+7', 7],
    ['nan', NaN],
    ['-inf', -Infinity],
    ['1x', NaN],
    ['', NaN],
  ])('reads %s', (s, x) => {
    const b = text(s);
    expect(new NumberReader(b).number(b.length)).toBe(x);
  });
});

describe('OBJ in', () => {
  test('a cube', () => {
    const m = readObj(text(CUBE)).pieces[0].mesh!;
    expect(shapeOf(m)).toMatchObject({ vertices: 8, faces: 6, closed: true, oriented: true });
    expect(volumeOf(m)).toBeCloseTo(1, 6);
  });
  test('negative indices, comments, Windows lines, continued lines, objects and groups', () => {
    const s = readObj(
      text(
        '# made up\r\no one\r\nv 0 0 0\r\nv 1 0 0\r\nv 0 1 0\r\ng first part\r\nusemtl Red\r\nf -3 -2 \\\r\n' +
          '-1 # here\r\no two\r\nv 5 0 0\r\nf 2 3 4\r\n',
      ),
    );
    expect(s.pieces.map((p) => [p.name, p.mesh!.vertexCount, p.mesh!.faceCount])).toEqual([
      ['one', 3, 1],
      ['two', 3, 1],
    ]);
    expect(s.pieces[0].mesh!.groups).toEqual(['first part']);
    expect(s.materials.map((m) => m.name)).toEqual(['Red']);
  });
  test.each([
    ['v 0 0 0\nv 1 0 0\nv 0 1 0\nf 1 2 3\nf 1 2 9\n', /face 2 names vertex 9, but the file has 3/],
    ['v 0 0 0\nv 1 0 0\nv 0 1 0\nf 1 2 3\nf 0 1 2\n', /names vertex 0/],
    ['v 0 0 0\nv 1 0 0\nv 0 1 0\nf 1 2 3\nf -7 1 2\n', /names vertex -7/],
    ['v 0 0 0\nv 1 0 0\nv 0 1 0\nf 1 2 3\nf 1 2\n', /two points/],
    ['v 0 0 0\nv 1 0 0\nv 0 1 0\nf 1 2 3\nf 1\n', /one point/],
    ['v 0 0 0\nv 1 0 0\nv 0 1 0\nv nan 0 0\nf 1 2 3\nf 1 2 4\n', /vertex 4 has no finite place/],
    ['v 0 0 0\nv 1 0 0\nv 0 1 0\nv 1e99 0 0\nf 1 2 3\nf 1 2 4\n', /no finite place/],
    ['v 0 0 0\nv 1 0 0\nv 0 1 0\nf 1 2 3\nf 1 2 x\n', /cannot be read|vertex 0/],
    ['v 0 0 0\nv 1 0 0\nv 0 1 0\nf 1 2 3\nhello there\n', /beginning “hello”/],
  ])('broken lines cost only themselves: %j', (file, told) => {
    const s = readObj(text(file), 'cap.obj');
    expect(s.pieces[0].mesh!.faceCount).toBe(1);
    expect(s.warnings.join(' ')).toMatch(told);
    expect([...s.pieces[0].mesh!.positions].every(Number.isFinite)).toBe(true);
  });
  test('a thousand faults are told in a few sentences and a count', () => {
    const s = readObj(text('v 0 0 0\nv 1 0 0\nv 0 1 0\nf 1 2 3\n' + 'f 1 2 99\n'.repeat(1000)));
    expect(s.warnings.length).toBe(6);
    expect(s.warnings[5]).toMatch(/995 more/);
  });
  test('empty, binary and foreign files are refused in one sentence', () => {
    expect(() => readObj(new Uint8Array(0), 'a.obj')).toThrow('a.obj is empty.');
    expect(() => readObj(new Uint8Array([1, 0, 2, 0, 3]), 'a.obj')).toThrow(/binary/);
    expect(() => readObj(text('hello\nworld\n'), 'a.obj')).toThrow(FileError);
  });
  test('any bytes at all: a scene or one sentence, never another error', () => {
    fc.assert(
      fc.property(
        fc.oneof(
          fc.uint8Array({ maxLength: 300 }),
          fc
            .array(
              fc.constantFrom(
                'v 1 2 3',
                'v',
                'f 1 2 3',
                'f 1/1/1 2//2 3/',
                'f',
                'vt 0',
                'vn',
                'o',
                'g',
                'usemtl',
                '\\',
                'v 1e400 0 0',
                'f -1 -2 -3 -4',
              ),
              { maxLength: 30 },
            )
            .map((l) => text(l.join('\n'))),
        ),
        (b) => {
          try {
            for (const p of readObj(b, 'x.obj').pieces)
              expect([...p.mesh!.cornerVertex].every((v) => v < p.mesh!.vertexCount)).toBe(true);
          } catch (e) {
            expect(e).toBeInstanceOf(FileError);
          }
        },
      ),
      { numRuns: 300 },
    );
  });
  test('materials: values, missing library, path tricks', () => {
    const mtl = text('newmtl Red\nKd 1 0.5 0\nPr 0.2\nPm 1\nd 0.5\nmap_Kd ../../etc/red.png\n');
    const obj = text(`mtllib ../../../etc/lamp.mtl\nusemtl Red\n${CUBE}`);
    const s = readObj(obj, 'lamp.obj', {
      beside: new Map([
        ['lamp.mtl', mtl],
        ['red.png', new Uint8Array([137, 80])],
      ]),
    });
    expect(s.materials[0]).toMatchObject({
      name: 'Red',
      color: [1, 0.5, 0, 0.5],
      roughness: 0.2,
      metalness: 1,
      maps: { color: 0 },
    });
    expect(s.images[0].name).toBe('red.png');
    expect(readObj(obj, 'lamp.obj').warnings[0]).toMatch(/lamp\.mtl, which was not with it/);
    expect(safeName('..\\..\\C:\\x\u0000.png')).toBe('x.png');
    expect(safeName('../..')).toBe('untitled');
  });
});

describe('round trips', () => {
  test('OBJ reads back equal: places, faces, UVs, materials, groups', () => {
    fc.assert(
      fc.property(closedBody, (body) => {
        const mesh = dressed(body);
        const { obj, mtl } = writeObj(sceneOf(mesh), 'x.mtl');
        const back = readObj(obj, 'x.obj', { beside: new Map([['x.mtl', mtl]]) });
        const m = back.pieces[0].mesh!;
        expect(back.warnings).toEqual([]);
        expect(back.pieces[0].name).toBe('body');
        const names = new Map(back.materials.map((x) => [x.id, x.name]));
        const other: number[] = [];
        expect(
          firstDifference(
            m.positions.map((x) => x + 0),
            mesh.positions.map((x) => x + 0),
          ),
        ).toBe(-1); // −0 comes back as 0
        expect(firstDifference(m.cornerVertex, mesh.cornerVertex)).toBe(-1);
        expect(firstDifference(m.faceStart, mesh.faceStart)).toBe(-1);
        expect(
          firstDifference(
            m.attributes[UV].data.map((x) => x + 0),
            mesh.attributes[UV].data.map((x) => x + 0),
          ),
        ).toBe(-1);
        for (let f = 0; f < m.faceCount; f++) {
          const material = names.get(m.slots[m.attributes.material.data[f]]);
          const group = m.groups[m.attributes.group.data[f]];
          if (material !== (f % 2 ? 'Chalk' : 'Slate') || group !== (f < 2 ? 'top' : 'rest')) other.push(f);
        }
        expect(other).toEqual([]);
        expect(back.materials.find((x) => x.name === 'Slate')).toMatchObject({ roughness: 0.25, metalness: 1 });
      }),
      { numRuns: 25 },
    );
  });
  test('GLB passes the validator without errors or warnings, and comes back closed, of the same size, with names and UVs', async () => {
    await fc.assert(
      fc.asyncProperty(closedBody, async (body) => {
        const mesh = dressed(body);
        const bytes = await writeGlb(sceneOf(mesh));
        const report = (await validator.validateBytes(bytes)) as {
          issues: { numErrors: number; numWarnings: number; messages: unknown[] };
        };
        expect(report.issues.messages.filter((m) => (m as { severity: number }).severity < 2)).toEqual([]);
        expect(report.issues).toMatchObject({ numErrors: 0, numWarnings: 0 });
        const back = await readGlb(bytes);
        const m = back.pieces[1].mesh!;
        expect(back.pieces.map((p) => [p.name, p.parent])).toEqual([
          ['holder', -1],
          ['body', 0],
        ]);
        expect(shapeOf(m)).toMatchObject({ closed: true, oriented: true, eulerCharacteristic: 2 });
        expect(volumeOf(m)).toBeCloseTo(volumeOf(mesh), 4);
        expect(areaOf(m)).toBeCloseTo(areaOf(mesh), 4);
        expect(new Set(m.groups)).toEqual(new Set(mesh.faceCount > 2 ? ['top', 'rest'] : ['top']));
        const slate = back.materials.find((x) => x.name === 'Slate')!;
        expect(slate.color[0]).toBeCloseTo(0.2, 5);
        expect(slate).toMatchObject({ roughness: 0.25, metalness: 1 });
        expect(reportOf(back).uv.coverage).toBeCloseTo(reportOf(sceneOf(mesh)).uv.coverage, 2);
      }),
      { numRuns: 8 },
    );
  });
  test('GLB that is empty, cut short or something else is refused in one sentence', async () => {
    const bytes = await writeGlb(
      sceneOf(dressed(box({ width: 1, height: 1, depth: 1, cutX: 1, cutY: 1, cutZ: 1, onGround: true }, 1))),
    );
    await expect(readGlb(new Uint8Array(0), 'a.glb')).rejects.toThrow('a.glb is empty.');
    await expect(readGlb(bytes.slice(0, 200), 'a.glb')).rejects.toThrow(/cut short/);
    await expect(readAny(text('not at all a model'), 'a.glb')).rejects.toThrow(/not a GLB/);
    const broken = bytes.slice();
    broken.fill(88, 20, 60);
    await expect(readGlb(broken, 'a.glb')).rejects.toThrow(FileError);
  });
  test('PNG and ZIP', () => {
    const data = Uint8Array.from({ length: 4 * 6 * 5 }, (_, i) => (i * 7) % 256);
    expect(readPng(writePng({ width: 6, height: 5, data })).data).toEqual(data);
    expect(() => readPng(text('no'))).toThrow(FileError);
    const files = new Map([
      ['a.txt', text('hello')],
      ['b.png', data],
    ]);
    expect(readZip(writeZip(files))).toEqual(files);
    expect(writeZip(files)).toEqual(writeZip(files));
    expect(() => readZip(text('PK\u0003\u0004nonsense'))).toThrow(FileError);
  });
  test('the ZIP of a scene reads back as the scene', async () => {
    const s = await readAny(
      await objZip(
        sceneOf(
          dressed(
            cylinder({ radius: 1, topRadius: 1, height: 1, sides: 6, rows: 1, cap: 'polygon', onGround: true }, 2),
          ),
        ),
        'lamp',
      ),
      'lamp.zip',
    );
    expect(s.warnings).toEqual([]);
    expect(s.pieces[0].mesh!.faceCount).toBe(8);
  });
});

test('colours go to linear and back', () => {
  fc.assert(
    fc.property(fc.double({ min: 0, max: 1, noNaN: true }), (c) => {
      expect(toSrgb(toLinear(c))).toBeCloseTo(c, 9);
    }),
  );
  expect(toHex(fromHex('#4a6b58'))).toBe('#4a6b58');
  expect(fromHex('nonsense')).toEqual([0, 0, 0]);
});

test('the report names what the command line promises', () => {
  const r = reportOf(
    sceneOf(dressed(box({ width: 2, height: 3, depth: 4, cutX: 1, cutY: 1, cutZ: 1, onGround: true }, 1))),
  );
  expect(r).toMatchObject({
    vertices: 8,
    edges: 12,
    faces: 6,
    triangles: 12,
    components: 1,
    eulerCharacteristic: 2,
    openEdges: 0,
    nonManifoldEdges: 0,
    closed: true,
    oriented: true,
    materials: ['Slate', 'Chalk'],
    groups: ['top', 'rest'],
  });
  expect(r.volume).toBeCloseTo(24, 4);
  expect(r.area).toBeCloseTo(52, 4);
  expect(r.bounds).toEqual({ min: [-1, 0, -2], max: [1, 3, 2] });
  expect(r.uv).toMatchObject({ sets: 1, islands: 6, overlap: 0, outside: 0 });
  expect(reportOf(emptyScene())).toMatchObject({ vertices: 0, closed: false });
});
