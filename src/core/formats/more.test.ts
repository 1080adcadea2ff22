/** STL, PLY, 3MF, glTF, SVG and heights: what goes out comes back; what is broken is told in a sentence. */
import { firstDifference } from '../testing/arrays';
import fc from 'fast-check';
import validator from 'gltf-validator';
import { zipSync } from 'fflate';
import { curvesFrom, ellipse, curveLength } from '../curve/curves';
import { compose, placeMatrix, rotation, scaling, translation } from '../math/affine';
import { keyOf } from '../math/hash';
import { boundsOf } from '../mesh/bounds';
import { areaOf, shapeOf, volumeOf } from '../mesh/measure';
import { UV, type Mesh } from '../mesh/mesh';
import { mask } from '../mesh/picks';
import { triangleCount } from '../mesh/triangulate';
import { box, cubeSphere } from '../make/primitives';
import { charted, closedBody } from '../testing/arbitrary';
import { planDrop } from './drop';
import { readGltf, writeGltf, readGlb, writeGlb } from './gltf';
import { readHeights, writeHeightsPng, writeHeightsRaw, writeHeightsTiff, type HeightPicture } from './heights';
import { guessUnit, guessUp, intakeOf } from './intake';
import { readObj, writeObj } from './obj';
import { KINDS } from './kinds';
import { looksLikeHeights, pictureInfo } from './pictures';
import { readPly, writePly } from './ply';
import { readAny } from './read';
import { emptyScene, FileError, flatten, type Scene, toHex } from './scene';
import { readStl, writeStl } from './stl';
import { readSvg, writeSvg } from './svg';
import { read3mf, write3mf } from './threemf';
import { readTiff } from './tiff';
import { readZip, writeZip } from './zip';
import { readPng, writePng } from './png';

const text = (s: string) => new TextEncoder().encode(s);
const cube = box({ width: 2, height: 2, depth: 2, cutX: 1, cutY: 1, cutZ: 1, onGround: false }, keyOf('cube'));
const sceneOf = (...meshes: Mesh[]): Scene => ({
  ...emptyScene(),
  pieces: meshes.map((mesh, i) => ({ name: `body ${i + 1}`, parent: -1, mesh })),
});
const same = (a: Mesh, b: Mesh) => {
  expect(triangleCount(b)).toBe(triangleCount(a));
  expect(shapeOf(b)).toMatchObject({
    vertices: a.vertexCount,
    closed: shapeOf(a).closed,
    oriented: shapeOf(a).oriented,
  });
  expect(volumeOf(b)).toBeCloseTo(volumeOf(a), 5);
  expect(areaOf(b)).toBeCloseTo(areaOf(a), 5);
};
const refusal = async (work: () => unknown): Promise<string> => {
  try {
    await work();
  } catch (e) {
    expect(e).toBeInstanceOf(FileError);
    expect((e as Error).message).toMatch(/^[^\n]+\.$/);
    return (e as Error).message;
  }
  throw new Error('it was read');
};

describe('round trips', () => {
  test.each([
    ['binary', false],
    ['text', true],
  ])('STL, %s: closed bodies come back closed, with their volume', (_, asText) => {
    fc.assert(
      fc.property(closedBody, (m) => {
        const back = readStl(writeStl(sceneOf(m), asText), 'body.stl');
        expect(back.warnings).toEqual([]);
        same(m, back.pieces[0].mesh!);
      }),
      { numRuns: 60 },
    );
  });
  test.each([
    ['binary', false],
    ['text', true],
  ])('PLY, %s: polygons, places, UVs and colours to the bit', (_, asText) => {
    fc.assert(
      fc.property(closedBody, fc.boolean(), (m, dressed) => {
        const color = Float32Array.from({ length: 4 * m.vertexCount }, (_c, i) => (i % 4 === 3 ? 1 : (i % 256) / 255));
        const own = dressed ? charted(m).withAttribute('color', { domain: 'vertex', width: 4, data: color }) : m;
        const back = readPly(writePly(sceneOf(own), asText), 'body.ply').pieces[0].mesh!;
        expect(firstDifference(back.positions, own.positions)).toBe(-1);
        expect(firstDifference(back.cornerVertex, own.cornerVertex)).toBe(-1);
        expect(firstDifference(back.faceStart, own.faceStart)).toBe(-1);
        expect(firstDifference(back.attributes[UV]?.data, own.attributes[UV]?.data)).toBe(-1);
        expect(firstDifference(back.attributes.color?.data, own.attributes.color?.data)).toBe(-1);
      }),
      { numRuns: 60 },
    );
  });
  test('3MF: pieces, places, colours, unit', async () => {
    await fc.assert(
      fc.asyncProperty(closedBody, async (m) => {
        const dressed = m.with({
          slots: ['a', 'b'],
          attributes: {
            material: { domain: 'face', width: 1, data: Int32Array.from({ length: m.faceCount }, (_, f) => f % 2) },
          },
        });
        const scene: Scene = {
          ...sceneOf(dressed, cube),
          scale: { unit: 0.001 },
          materials: [
            { id: 'a', name: 'Tin & <lead>', color: [0.2, 0.4, 0.6, 1], roughness: 0.5, metalness: 0 },
            { id: 'b', name: 'Oak', color: [0.6, 0.4, 0.2, 1], roughness: 0.5, metalness: 0 },
          ],
        };
        const back = read3mf(await write3mf(scene), 'body.3mf');
        expect(back.scale).toEqual({ unit: 0.001, up: 'z' });
        expect(back.materials.map((x) => x.name)).toEqual(['Tin & <lead>', 'Oak']);
        same(m, back.pieces[0].mesh!);
        expect(back.pieces[0].mesh!.slots.length).toBe(m.faceCount > 1 ? 2 : 1);
        same(cube, back.pieces[1].mesh!);
      }),
      { numRuns: 40 },
    );
  });
  test('glTF with its buffer beside it, and the validator content', async () => {
    await fc.assert(
      fc.asyncProperty(closedBody, async (m) => {
        const files = await writeGltf(sceneOf(m), 'body');
        const beside = new Map(files.slice(1));
        same(m, (await readGltf(files[0][1], 'body.gltf', beside)).pieces[0].mesh!);
        const report = await validator.validateBytes(files[0][1], {
          externalResourceFunction: async (uri: string) => beside.get(uri)!,
        });
        expect(report.issues.numErrors).toBe(0);
      }),
      { numRuns: 15 },
    );
  });
  test('a tree of places goes out as nodes and comes back where it stood; a linked mesh is written once', async () => {
    const turn = fc.double({ min: -3, max: 3, noNaN: true });
    const size = fc.double({ min: 0.2, max: 3, noNaN: true });
    const at = fc.double({ min: -5, max: 5, noNaN: true });
    await fc.assert(
      fc.asyncProperty(turn, turn, size, size, at, async (a, b, s, t, d) => {
        const outer = compose(translation(d, 1, 0), compose(rotation('y', a), scaling(s, t, 1)));
        const inner = compose(translation(0, d, 2), rotation('x', b));
        const mirrored = compose(translation(4, 0, 0), scaling(-1, 1, 1));
        const scene: Scene = {
          ...emptyScene(),
          pieces: [
            { name: 'arm', parent: -1, place: outer },
            { name: 'hand', parent: 0, mesh: cube, place: inner },
            { name: 'twin', parent: -1, mesh: cube, place: mirrored },
          ],
        };
        const bytes = await writeGlb(scene);
        const back = await readGlb(bytes, 'arm.glb');
        expect((await validator.validateBytes(bytes)).issues.numErrors).toBe(0);
        const meant = flatten(scene);
        const got = flatten(back);
        for (const i of [1, 2]) {
          const p = boundsOf(meant.pieces[i].mesh!.positions);
          const q = boundsOf(got.pieces[i].mesh!.positions);
          for (let k = 0; k < 3; k++) {
            expect(q.min[k]).toBeCloseTo(p.min[k], 3);
            expect(q.max[k]).toBeCloseTo(p.max[k], 3);
          }
          expect(volumeOf(got.pieces[i].mesh!)).toBeCloseTo(volumeOf(meant.pieces[i].mesh!), 3);
        }
      }),
      { numRuns: 25 },
    );
    const twins = await readGlb(
      await writeGlb({
        ...emptyScene(),
        pieces: [0, 1, 2].map((i) => ({ name: `t${i}`, parent: -1, mesh: cube, place: translation(3 * i, 0, 0) })),
      }),
      'twins.glb',
    );
    expect(twins.pieces[0].mesh).toBe(twins.pieces[2].mesh);
  });
  test('SVG: curves come back within a thousandth of a millimetre', () => {
    const n = fc.double({ min: -0.4, max: 0.4, noNaN: true });
    const p = fc.tuple(n, n).map(([x, y]): [number, number, number] => [x, y, 0]);
    fc.assert(
      fc.property(fc.array(fc.tuple(p, p, p), { minLength: 1, maxLength: 6 }), p, (pieces, start) => {
        const c = curvesFrom([{ points: [start, ...pieces.flat()], closed: false }], 1);
        const scene: Scene = {
          ...emptyScene(),
          pieces: [{ name: 'line', parent: -1, curves: c }],
        };
        const back = readSvg(writeSvg(scene), 'line.svg').pieces[0].curves!;
        expect(back.points.length).toBe(c.points.length);
        // The page puts its corner at the origin, and a curve along a straight line may become the line: ends and
        // length are what is kept.
        const [ox, oy] = [back.points[0] - c.points[0], back.points[1] - c.points[1]];
        for (let i = 0; i < c.points.length; i += 9) {
          expect(back.points[i] - ox).toBeCloseTo(c.points[i], 5);
          expect(back.points[i + 1] - oy).toBeCloseTo(c.points[i + 1], 5);
        }
        expect(curveLength(back)).toBeCloseTo(curveLength(c), 4);
      }),
      { numRuns: 60 },
    );
  });
  test('heights: every kind keeps its samples', () => {
    const picture = (bits: 8 | 16 | 32) =>
      fc.integer({ min: 2, max: 9 }).chain((n) =>
        fc
          .array(fc.integer({ min: 0, max: bits === 8 ? 255 : 65535 }), { minLength: n * n, maxLength: n * n })
          .map((v): HeightPicture => ({
            width: n,
            height: n,
            bits,
            data: Float32Array.from(v, (x) => (bits === 32 ? x / 7 - 100 : x / (bits === 8 ? 255 : 65535))),
          })),
      );
    for (const [bits, write, name] of [
      [8, writeHeightsPng, 'h.png'],
      [16, writeHeightsPng, 'h.png'],
      [16, writeHeightsTiff, 'h.tiff'],
      [32, writeHeightsTiff, 'h.tif'],
      [16, writeHeightsRaw, 'h.raw'],
    ] as const) {
      fc.assert(
        fc.property(picture(bits), (h) => {
          const back = readHeights(write(h), name);
          expect([back.width, back.height, back.bits]).toEqual([h.width, h.height, bits]);
          expect(back.data).toEqual(h.data);
        }),
        { numRuns: 30 },
      );
    }
  });
  test('every kind reads what it writes, by what it holds', async () => {
    for (const k of KINDS) {
      const scene =
        k.kind === 'svg'
          ? {
              ...emptyScene(),
              pieces: [{ name: 'ring', parent: -1, curves: ellipse(1, 1, 'xy', 1) }],
            }
          : sceneOf(cube);
      const files = await k.write(scene, 'thing');
      const back = await readAny(files[0][1], `thing.${k.endings[0]}`, new Map(files.slice(1)));
      if (k.kind === 'svg') expect(curveLength(back.pieces[0].curves!)).toBeCloseTo(2 * Math.PI, 2);
      else expect(volumeOf(back.pieces[0].mesh!)).toBeCloseTo(8, 4);
      if (k.mark) expect((await readAny(files[0][1], 'thing.obj', new Map(files.slice(1)))).pieces.length).toBe(1); // a file that lies about its kind
    }
  });
});

describe('STL', () => {
  test('a text file of two solids is two pieces', () => {
    const one = new TextDecoder().decode(writeStl(sceneOf(cube, cubeSphere({ radius: 1, cuts: 2 }, 3)), true));
    expect(readStl(text(one), 'pair.stl').pieces.map((p) => [p.name, p.mesh!.faceCount])).toEqual([
      ['body 1', 12],
      ['body 2', 48],
    ]);
  });
  test('a binary file that begins with the word solid is still binary', () => {
    const bytes = writeStl(sceneOf(cube));
    bytes.set(text('solid but not really'), 0);
    expect(readStl(bytes, 'odd.stl').pieces[0].mesh!.faceCount).toBe(12);
  });
  test('cut short: what is there is read, and said; with nothing there it is refused', async () => {
    const bytes = writeStl(sceneOf(cubeSphere({ radius: 1, cuts: 4 }, 3)));
    const part = readStl(bytes.slice(0, bytes.length - 1000), 'part.stl');
    expect(part.pieces[0].mesh!.faceCount).toBe(192 - 20);
    expect(part.warnings[0]).toMatch(/cut short: it says 192 triangles and holds 172/);
    expect(await refusal(() => readStl(bytes.slice(0, 84), 'head.stl'))).toMatch(/holds none/);
    expect(await refusal(() => readStl(text('solid x\nendsolid x\n'), 'void.stl'))).toMatch(/no triangles/);
    expect(await refusal(() => readStl(new Uint8Array(0), 'nil.stl'))).toMatch(/empty/);
  });
  test('triangles that collapse and coordinates that are none are skipped and said', () => {
    const s = readStl(
      text(
        'solid\nfacet\nouter loop\nvertex 0 0 0\nvertex 1 0 0\nvertex 0 1 0\nendloop\nendfacet\nfacet\n' +
          'vertex 0 0 0\nvertex 0 0 0\nvertex 1 1 1\nendfacet\nfacet\nvertex a 0 0\nvertex 2 0 0\nvertex 0 2 0\n' +
          'endsolid\n',
      ),
      'odd.stl',
    );
    expect(s.pieces[0].mesh!.faceCount).toBe(2);
    expect(s.warnings.join(' ')).toMatch(/not numbers.*two corners in one place/s);
  });
  test('−0 and 0 are one place', () => {
    expect(
      readStl(
        text('solid\nvertex 0 0 0\nvertex 1 0 0\nvertex 0 1 0\nvertex -0 0 0\nvertex 0 1 0\nvertex -1 0 0\nendsolid\n'),
        'zero.stl',
      ).pieces[0].mesh!.vertexCount,
    ).toBe(4);
  });
});

describe('PLY', () => {
  test('big-endian, other elements passed over, colours of a byte', () => {
    const head =
      'ply\nformat binary_big_endian 1.0\nelement camera 1\nproperty list uchar short shots\nelement vertex 3\n' +
      'property double x\nproperty double y\nproperty double z\nproperty uchar red\nproperty uchar green\n' +
      'property uchar blue\nelement face 1\nproperty list uchar int vertex_index\nend_header\n';
    const v = new DataView(new ArrayBuffer(5 + 3 * 27 + 13));
    v.setUint8(0, 2);
    v.setInt16(1, -7);
    v.setInt16(3, 9);
    [
      [0, 0, 0],
      [1, 0, 0],
      [0, 2, 0],
    ].forEach((p, i) => {
      p.forEach((x, k) => v.setFloat64(5 + 27 * i + 8 * k, x));
      v.setUint8(5 + 27 * i + 24, 255);
    });
    v.setUint8(86, 3);
    [0, 1, 2].forEach((x, i) => v.setInt32(87 + 4 * i, x));
    const bytes = new Uint8Array(head.length + v.byteLength);
    bytes.set(text(head));
    bytes.set(new Uint8Array(v.buffer), head.length);
    const m = readPly(bytes, 'big.ply').pieces[0].mesh!;
    expect(areaOf(m)).toBeCloseTo(1, 6);
    expect([...m.attributes.color!.data.slice(0, 4)]).toEqual([1, 0, 0, 1]);
  });
  test.each([
    [
      'ply\nformat ascii 1.0\nelement vertex 3\nproperty float x\nproperty float y\nproperty float z\n' +
        'element face 1\nproperty list uchar int vertex_indices\nend_header\n0 0 0\n1 0 0\n',
      /cut short/,
    ],
    ['ply\nformat ascii 1.0\nelement vertex 999999999999\nend_header\n', /cannot be/],
    ['ply\nformat ascii 1.0\nelement vertex 3\n', /head does not end/],
    ['ply\nelement vertex 0\nend_header\n', /text or binary/],
    ['ply\nformat ascii 1.0\nelement vertex 1\nproperty quaternion x\nend_header\n0', /not known/],
    ['ply\nformat ascii 1.0\nelement vertex 1\nproperty float a\nend_header\n0 ', /where its vertices are/],
  ])('broken: %j', async (s, told) => {
    expect(await refusal(() => readPly(text(s), 'x.ply'))).toMatch(told);
  });
  test('faces that name what is not there are skipped and said', () => {
    const s = readPly(
      text(
        'ply\nformat ascii 1.0\nelement vertex 3\nproperty float x\nproperty float y\nproperty float z\n' +
          'element face 3\nproperty list uchar int vertex_indices\nend_header\n0 0 0\n1 0 0\n0 1 0\n3 0 1 2\n' +
          '3 0 1 7\n3 0 1 1\n',
      ),
      'x.ply',
    );
    expect(s.pieces[0].mesh!.faceCount).toBe(1);
    expect(s.warnings.join(' ')).toMatch(/face 2 names a vertex.*fewer than three/s);
  });
});

describe('3MF', () => {
  const model = (inner: string) =>
    zipSync({ '3D/3dmodel.model': text(`<?xml version="1.0"?><model unit="inch">${inner}</model>`) });
  const tetra =
    '<mesh><vertices><vertex x="0" y="0" z="0"/><vertex x="1" y="0" z="0"/><vertex x="0" y="1" z="0"/>' +
    '<vertex x="0" y="0" z="1"/></vertices><triangles><triangle v1="0" v2="2" v3="1"/>' +
    '<triangle v1="0" v2="1" v3="3"/><triangle v1="0" v2="3" v3="2"/><triangle v1="1" v2="2" v3="3"/>' +
    '</triangles></mesh>';
  test('components within components stand where their transforms put them', () => {
    const s = read3mf(
      model(
        `<resources><object id="1">${tetra}</object><object id="2"><components>` +
          '<component objectid="1" transform="1 0 0 0 1 0 0 0 1 5 0 0"/></components></object></resources><build>' +
          '<item objectid="2" transform="0 1 0 -1 0 0 0 0 1 0 0 0"/></build>',
      ),
      'nest.3mf',
    );
    expect(s.scale!.unit).toBe(0.0254);
    const b = boundsOf(flatten(s).pieces[1].mesh!.positions);
    expect([b.min, b.max]).toEqual([
      [-1, 5, 0],
      [0, 6, 1],
    ]);
    expect(volumeOf(flatten(s).pieces[1].mesh!)).toBeCloseTo(1 / 6, 6);
  });
  test('the model that the package names, with objects in other files, and what comes twice over', () => {
    const one = `<object id="7" name="tooth">${tetra}</object>`;
    const relations =
      '<Relationships>' +
      '<Relationship Type="http://schemas.microsoft.com/3dmanufacturing/2013/01/3dmodel" Target="/Metal/gear.model" Id="r"/></Relationships>';
    const s = read3mf(
      zipSync({
        '_rels/.rels': text(relations),
        '3D/3dmodel.model': text('<model unit="foot"><resources/><build/></model>'),
        'Metal/gear.model': text(
          '<model unit="inch"><resources><object id="1"><components>' +
            '<component objectid="7" p:path="/Metal/parts/tooth.model" transform="-1 0 0 0 1 0 0 0 1 0 0 0"/>' +
            '</components></object></resources><build><item objectid="1"/>' +
            '<item objectid="7" p:path="/Metal/parts/tooth.model"/></build></model>',
        ),
        'Metal/parts/tooth.model': text(`<model unit="foot"><resources>${one}</resources></model>`),
      }),
      'gear.3mf',
    );
    expect(s.scale!.unit).toBe(0.0254); // the unit of the model that is the one
    expect(s.pieces.map((p) => p.name)).toEqual(['object 1', 'tooth', 'tooth']);
    expect(s.pieces[1].mesh).toBe(s.pieces[2].mesh);
    // One of them mirrored: it is not inside out.
    for (const p of flatten(s).pieces.slice(1)) expect(volumeOf(p.mesh!)).toBeCloseTo(1 / 6, 6);
    expect(s.warnings).toEqual([]);
  });

  test('what is not plain is read as any XML is: comments, prefixes, order, other quotes', () => {
    const odd =
      "<!-- <vertices> --><mesh><vertices><vertex z='0' y=\"0\" x='0' m:q='1'/><vertex x='1e0' y='0' z='0'>" +
      "</vertex><vertex x=' 0' y='+1' z='0'/></vertices><triangles><triangle v3='2' v1='0' v2='1'/></triangles>" +
      '</mesh>';
    const plain = odd.replace(/<!--.*?-->/, '').replace(" m:q='1'", '');
    for (const inner of [odd, plain, plain.replace(/ /g, ' \n\t '), odd.replace('<!-- <vertices> -->', '')]) {
      const s = read3mf(model(`<resources><object id="1">${inner}</object></resources>`), 'odd.3mf');
      const m = s.pieces[0].mesh!;
      expect([Array.from(m.positions), Array.from(m.cornerVertex)]).toEqual([
        [0, 0, 0, 1, 0, 0, 0, 1, 0],
        [0, 1, 2],
      ]);
    }
  });

  test('gradients become colours of corners, pictures UVs; both go out and come back', async () => {
    const inner = tetra
      .replace('v1="0" v2="2" v3="1"', 'v1="0" v2="2" v3="1" pid="5" p1="0" p2="1" p3="1"')
      .replace('v1="0" v2="1" v3="3"', 'v1="0" v2="1" v3="3" pid="9" p1="0" p2="1" p3="2"');
    const picture = writePng({ width: 1, height: 1, data: Uint8Array.of(1, 2, 3, 255) });
    const bytes = zipSync({
      '3D/3dmodel.model': text(
        '<model xmlns:m="x"><resources><m:colorgroup id="5"><m:color color="#FF000080"/>' +
          '<m:color color="#0000FF"/></m:colorgroup>' +
          '<m:texture2d id="8" path="/3D/Textures/tin.png" contenttype="image/png"/>' +
          '<m:texture2dgroup id="9" texid="8"><m:tex2coord u="0" v="0"/><m:tex2coord u="1" v="0.25"/>' +
          `<m:tex2coord u="0.5" v="1"/></m:texture2dgroup><object id="1">${inner}</object></resources></model>`,
      ),
      '3D/Textures/tin.png': picture,
    });
    const look = (s: Scene) => {
      const m = s.pieces[0].mesh!;
      return {
        uv: Array.from(m.attributes.uv.data.slice(6, 12)),
        color: Array.from(m.attributes.color.data.slice(0, 12), (x) => Math.round(255 * x)),
        worn: Array.from(m.attributes.material.data, (i) => m.slots[i] !== undefined),
        image: s.images[s.materials[0].maps!.color!].bytes,
      };
    };
    const first = read3mf(bytes, 'a.3mf');
    expect(look(first)).toEqual({
      uv: [0, 0, 1, 0.25, 0.5, 1],
      color: [255, 0, 0, 128, 0, 0, 255, 255, 0, 0, 255, 255],
      worn: [false, true, false, false],
      image: picture,
    });
    expect(look(read3mf(await write3mf(first), 'b.3mf'))).toEqual(look(first));
  });

  test.each([
    [
      () =>
        read3mf(
          model(
            '<resources><object id="1"><components><component objectid="1"/></components></object></resources>' +
              '<build><item objectid="1"/></build>',
          ),
          'loop.3mf',
        ),
      /into themselves/,
    ],
    [() => read3mf(zipSync({ 'a.txt': text('x') }), 'none.3mf'), /holds no model/],
    [() => read3mf(model('<resources>'), 'open.3mf'), /cannot be read/],
    [
      () =>
        read3mf(
          zipSync({ '3D/3dmodel.model': text('<!DOCTYPE model [<!ENTITY a "aaaa">]><model>&a;</model>') }),
          'bomb.3mf',
        ),
      /entities/,
    ],
    [() => readAny(text('PK nothing'), 'x.3mf'), /not a ZIP|cannot be read/],
  ])('broken %#', async (work, told) => {
    expect(await refusal(work)).toMatch(told);
  });
});

describe('glTF', () => {
  const gltf = (more: object) => text(JSON.stringify({ asset: { version: '2.0' }, ...more }));
  test.each([
    [gltf({ buffers: [{ uri: 'https://elsewhere.example/a.bin', byteLength: 4 }] }), /from elsewhere/],
    [gltf({ buffers: [{ uri: 'a.bin', byteLength: 4 }] }), /needs a\.bin/],
    [text('{"asset":{'), /text is broken/],
    [text('{"hello":1}'), /does not say its version/],
    [gltf({ images: [{ uri: 'file:///etc/hostname' }] }), /from elsewhere/],
  ])('broken %#', async (bytes, told) => {
    expect(await refusal(() => readGltf(bytes, 'x.gltf'))).toMatch(told);
  });
  test('a picture that is not there is named, and its material keeps its colour', async () => {
    const scene: Scene = {
      ...sceneOf(
        cube.with({ slots: ['a'], attributes: { material: { domain: 'face', width: 1, data: new Int32Array(6) } } }),
      ),
      materials: [{ id: 'a', name: 'Tar', color: [0.1, 0.1, 0.1, 1], roughness: 1, metalness: 0, maps: { color: 0 } }],
      images: [
        {
          name: 'tar.png',
          mime: 'image/png',
          bytes: writePng({ width: 1, height: 1, data: new Uint8Array([1, 2, 3, 255]) }),
        },
      ],
    };
    const files = new Map(await writeGltf(scene, 'x'));
    const main = files.get('x.gltf')!;
    expect((await readGltf(main, 'x.gltf', files)).images).toHaveLength(1);
    files.delete('tar.png');
    const back = await readGltf(main, 'x.gltf', files);
    expect(back.missing).toEqual(['tar.png']);
    expect(back.materials[0].maps?.color).toBeUndefined();
  });
  test('a GLB that reaches outside is refused', async () => {
    const bytes = await writeGlb(sceneOf(cube));
    const s = new TextDecoder('latin1').decode(bytes);
    const json = JSON.parse(s.slice(20, 20 + new DataView(bytes.buffer).getUint32(12, true))) as { images?: unknown[] };
    json.images = [{ uri: 'http://elsewhere.example/x.png' }];
    const body = text(JSON.stringify(json).padEnd(Math.ceil(JSON.stringify(json).length / 4) * 4));
    const rest = bytes.slice(20 + new DataView(bytes.buffer).getUint32(12, true));
    const out = new Uint8Array(20 + body.length + rest.length);
    const v = new DataView(out.buffer);
    out.set(bytes.slice(0, 20));
    out.set(body, 20);
    out.set(rest, 20 + body.length);
    v.setUint32(8, out.length, true);
    v.setUint32(12, body.length, true);
    expect(await refusal(() => readGlb(out, 'x.glb'))).toMatch(/from elsewhere/);
  });
});

describe('SVG', () => {
  test('shapes, transforms, units: a circle of 20 mm within a turned group', () => {
    const s = readSvg(
      text(
        '<svg xmlns="http://www.w3.org/2000/svg" width="100mm" height="50mm" viewBox="0 0 200 100">' +
          '<g transform="translate(100 50) rotate(30)"><circle r="20"/></g>' +
          '<rect x="1" y="1" width="10" height="4"/><path d="M0 0h10v10z"/><defs><circle r="5"/></defs></svg>',
      ),
      'a.svg',
    ).pieces[0].curves!;
    expect(s.closed.length).toBe(3);
    const at = (i: number) => [...s.points.slice(3 * s.start[i], 3 * s.start[i + 1])];
    const round = at(0);
    const xs = round.filter((_, i) => i % 3 === 0);
    const ys = round.filter((_, i) => i % 3 === 1);
    expect((Math.min(...xs) + Math.max(...xs)) / 2).toBeCloseTo(0.05, 5);
    expect((Math.min(...ys) + Math.max(...ys)) / 2).toBeCloseTo(0.025, 5);
    expect(
      curveLength(
        curvesFrom(
          [
            {
              points: Array.from({ length: 13 }, (_, i) => [round[3 * i], round[3 * i + 1], 0] as const),
              closed: true,
            },
          ],
          1,
        ),
      ),
    ).toBeCloseTo(2 * Math.PI * 0.01, 4);
  });
  test('scripts, outside links and pictures are left aside, and said; the paths come in', () => {
    const s = readSvg(
      text(
        '<svg xmlns="http://www.w3.org/2000/svg" onload="x()"><script>fetch("/")</script>' +
          '<image href="http://elsewhere.example/a.png"/><a href="javascript:x()"><path d="M0 0L9 9"/></a></svg>',
      ),
      'bad.svg',
    );
    expect(s.warnings[0]).toMatch(/scripts.*left aside/);
    expect(s.pieces[0].curves!.closed.length).toBe(1);
  });
  test.each([
    ['<html/>', /not an SVG/],
    ['<svg xmlns="x"></svg>', /no paths/],
    ['<svg><path d="M0 0', /cannot be read/],
    ['<!DOCTYPE svg [<!ENTITY x "y">]><svg/>', /entities/],
  ])('%s', async (s, told) => {
    expect(await refusal(() => readSvg(text(s), 'x.svg'))).toMatch(told);
  });
  test('a path that is no path is skipped, the others stay', () => {
    const s = readSvg(text('<svg xmlns="x"><path id="odd" d="M0 0 L a b"/><path d="M0 0L5 5"/></svg>'), 'x.svg');
    expect(s.warnings[0]).toMatch(/1 path could not be read \(odd\)/);
  });
});

describe('pictures', () => {
  const png = (w: number, h: number, bits = 8, type = 2) => {
    const b = new Uint8Array(33);
    const v = new DataView(b.buffer);
    b.set([0x89, 0x50, 0x4e, 0x47, 13, 10, 26, 10]);
    v.setUint32(16, w);
    v.setUint32(20, h);
    b[24] = bits;
    b[25] = type;
    return b;
  };
  test('a picture of 30,000 px, of no size, or cut short is refused before it is unpacked', async () => {
    expect(await refusal(() => pictureInfo(png(30000, 30000), 'huge.png'))).toMatch(/30,000 × 30,000/);
    expect(await refusal(() => pictureInfo(png(0, 10), 'thin.png'))).toMatch(/nothing in it/);
    expect(await refusal(() => pictureInfo(png(4, 4).slice(0, 20), 'cut.png'))).toMatch(/cut short/);
    expect(await refusal(() => pictureInfo(new Uint8Array([0xff, 0xd8, 0xff, 0xe0, 0, 4, 0, 0]), 'cut.jpg'))).toMatch(
      /cut short/,
    );
  });
  test('kinds by their first bytes; fine grey is heights', () => {
    expect(pictureInfo(png(7, 9), 'a')).toMatchObject({ kind: 'png', width: 7, height: 9, channels: 3 });
    expect(looksLikeHeights(pictureInfo(png(7, 9, 16, 0), 'a')!)).toBe(true);
    expect(looksLikeHeights(pictureInfo(png(7, 9, 16, 2), 'a')!)).toBe(false);
    expect(pictureInfo(new Uint8Array([0xff, 0xd8, 0xff, 0xc0, 0, 11, 8, 0, 30, 0, 40, 3, 0]), 'a')).toMatchObject({
      kind: 'jpeg',
      width: 40,
      height: 30,
    });
    expect(pictureInfo(text('%PDF-1.7 …'), 'a')?.kind).toBe('pdf');
    expect(pictureInfo(text('Dear keeper'), 'a')).toBeUndefined();
    const tiff = writeHeightsTiff({
      width: 3,
      height: 2,
      bits: 16,
      data: Float32Array.from([0, 0.2, 0.4, 0.6, 0.8, 1]),
    });
    expect(pictureInfo(tiff, 'a')).toMatchObject({ kind: 'tiff', width: 3, height: 2, bits: 16, channels: 1 });
    expect([...readTiff(tiff).data.slice(20, 24)]).toEqual([255, 255, 255, 255]);
    expect(() => readTiff(tiff.slice(0, 12), 'x.tiff')).toThrow(FileError);
  });
  test('heights that are none', async () => {
    expect(await refusal(() => readHeights(new Uint8Array(9), 'a.raw'))).toMatch(/not a square/);
    expect(await refusal(() => readHeights(text('no'), 'a.png'))).toMatch(/not a height picture/);
  });
});

describe('drops', () => {
  const mtl = 'newmtl Tar\nKd 0.1 0.1 0.1\nmap_Kd -s 1 1 1 tar map.png\n';
  const obj = 'mtllib hut.mtl\nusemtl Tar\nv 0 0 0\nv 1 0 0\nv 0 1 0\nf 1 2 3\n';
  const picture = writePng({ width: 2, height: 2, data: new Uint8Array(16).fill(200) });
  test('a model, its MTL and its maps in any order and any folder; a picture that is not its own stands alone', () => {
    const all: [string, Uint8Array][] = [
      ['maps/tar map.png', picture],
      ['hut.mtl', text(mtl)],
      ['plan.png', picture],
      ['hut.obj', text(obj)],
      ['land.raw', new Uint8Array(8)],
    ];
    for (const files of [all, [...all].reverse()]) {
      const p = planDrop(files);
      expect(p.models.map((m) => [m.name, [...m.beside.keys()].sort()])).toEqual([
        ['hut.obj', ['hut.mtl', 'tar map.png']],
      ]);
      expect(p.pictures.map((x) => x.name)).toEqual(['plan.png']);
      expect(p.heights.map((x) => x.name)).toEqual(['land.raw']);
      expect(p.refused).toEqual([]);
    }
    const zipped = planDrop([['all.zip', writeZip(new Map(all))]]);
    expect([zipped.models.length, zipped.pictures.length, zipped.heights.length]).toEqual([1, 1, 1]);
  });
  test('what is wrong stays outside with a sentence each; the rest comes in', () => {
    const p = planDrop([
      ['hut.obj', text(obj)],
      ['nil.png', new Uint8Array(0)],
      ['letter.txt', text('Dear keeper')],
      ['lie.png', text('not a picture')],
      ['bad.zip', text('PK\u0003\u0004nonsense')],
      ['lone.mtl', text(mtl)],
    ]);
    expect(p.models).toHaveLength(1);
    expect(p.refused).toHaveLength(4);
    for (const r of p.refused) expect(r).toMatch(/^[^\n]+\.$/);
  });
  test('a ZIP that would unpack to far more than it is is refused; names that climb out of their folder do not', async () => {
    expect(
      await refusal(() => readZip(zipSync({ 'a.obj': new Uint8Array(5_000_000) }), 'bomb.zip', 1_000_000)),
    ).toMatch(/more than 1 MB/);
    expect([
      ...readZip(zipSync({ '../../etc/cap.obj': text(obj), '..\\cup.obj': text(obj) }), 'climb.zip').keys(),
    ]).toEqual(['cap.obj', 'cup.obj']);
  });
});

describe('the report on what came in', () => {
  test('unit and up axis are taken from the file, or guessed', () => {
    expect(intakeOf(sceneOf(cube), 'a.obj')).toMatchObject({ size: [2, 2, 2], unit: 1, unitKnown: false, up: 'y' });
    expect(intakeOf({ ...sceneOf(cube), scale: { unit: 0.0254, up: 'z' } }, 'a.3mf')).toMatchObject({
      unit: 0.0254,
      unitKnown: true,
      up: 'z',
      upKnown: true,
    });
    expect([
      guessUnit(120, 'stl'),
      guessUnit(0.1, 'stl'),
      guessUnit(3, 'obj'),
      guessUnit(180, 'obj'),
      guessUnit(4000, 'ply'),
      guessUnit(0, 'obj'),
    ]).toEqual([0.001, 1, 1, 0.01, 0.001, 1]);
    expect([
      guessUp([-1, -1, 0], [1, 1, 5], 'obj'),
      guessUp([-1, 0, -1], [1, 5, 1], 'stl'),
      guessUp([-1, -1, -1], [1, 1, 1], 'stl'),
    ]).toEqual(['z', 'y', 'z']);
  });
  test('open edges, edges on three faces and doubled faces are counted', () => {
    const s = readStl(
      text(
        `solid\n${['0 0 0,1 0 0,0 1 0', '0 0 0,1 0 0,0 0 1', '0 0 0,1 0 0,0 -1 0', '0 0 0,1 0 0,0 -1 0']
          .map((t) =>
            t
              .split(',')
              .map((v) => `vertex ${v}`)
              .join('\n'),
          )
          .join('\n')}\nendsolid`,
      ),
      'fan.stl',
    );
    const [p] = intakeOf(s, 'fan.stl').pieces;
    expect(p).toMatchObject({ faces: 4, nonManifoldEdges: 1, doubledFaces: 1 });
    expect(p.openEdges).toBeGreaterThan(0);
  });
});

test('placing by a matrix and by its place are the same', () => {
  expect(placeMatrix({ at: [1, 2, 3], turn: [0, 0, 0], size: [2, 2, 2], lean: [0, 0, 0], pivot: [1, 1, 1] })).toEqual([
    2, 0, 0, -1, 0, 2, 0, 0, 0, 0, 2, 1,
  ]);
});

describe('SVG transforms and units', () => {
  const points = (inner: string, attributes = 'width="1m" height="1m" viewBox="0 0 1 1"') => [
    ...readSvg(text(`<svg xmlns="x" ${attributes}>${inner}</svg>`), 'a.svg').pieces[0].curves!.points,
  ];
  const line = (transform: string) => {
    const p = points(`<g transform="${transform}"><line x1="0" y1="0" x2="0.5" y2="0"/></g>`);
    return [p[0], p[1], p[9], p[10]].map((x) => Math.round(x * 1e5) / 1e5 + 0);
  };
  // The page's y runs down from its top: y = 0 is drawn at 1.
  test.each([
    ['', [0, 1, 0.5, 1]],
    ['translate(0.1)', [0.1, 1, 0.6, 1]],
    ['translate(0.1, 0.2)', [0.1, 0.8, 0.6, 0.8]],
    ['scale(2)', [0, 1, 1, 1]],
    ['scale(1 -1)', [0, 1, 0.5, 1]],
    ['rotate(90)', [0, 1, 0, 0.5]],
    ['rotate(90 0.5 0)', [0.5, 1.5, 0.5, 1]],
    ['matrix(1 0 0 1 0 0.25)', [0, 0.75, 0.5, 0.75]],
    ['skewY(45)', [0, 1, 0.5, 0.5]],
    ['translate(0.1) scale(2) rotate(90)', [0.1, 1, 0.1, 0]],
  ])('%s', (transform, wanted) => {
    expect(line(transform)).toEqual(wanted);
  });
  test.each([
    ['width="100mm" height="100mm"', 0.1 / 4],
    ['width="10cm" height="10cm"', 0.025],
    ['width="4in" height="4in"', 0.0254],
    ['width="288pt" height="288pt"', 0.0254],
  ])('%s', (size, wanted) => {
    const p = points('<line x1="0" y1="0" x2="1" y2="0"/>', `${size} viewBox="0 0 4 4"`);
    expect(p[9] - p[0]).toBeCloseTo(wanted, 6);
  });
  test('without a size, 96 pixels are an inch', () => {
    const p = points('<line x1="0" y1="0" x2="96" y2="0"/>', '');
    expect(p[9]).toBeCloseTo(0.0254, 6);
  });
  test('an arc becomes curves within a thousandth of it', () => {
    const c = readSvg(
      text('<svg xmlns="x" width="1m" height="1m" viewBox="0 0 1 1"><path d="M0.9 0.5A0.4 0.4 0 1 1 0.1 0.5"/></svg>'),
      'a.svg',
    ).pieces[0].curves!;
    expect(curveLength(c)).toBeCloseTo(Math.PI * 0.4, 3);
  });
  test('relative, short and smooth commands', () => {
    const c = readSvg(
      text(
        '<svg xmlns="x" width="1m" height="1m" viewBox="0 0 10 10">' +
          '<path d="M1 1h2v2H1z m4 0q1 1 2 0t2 0M1 6c0 1 1 2 2 2s2-1 2-2"/></svg>',
      ),
      'a.svg',
    ).pieces[0].curves!;
    expect([...c.closed]).toEqual([1, 0, 0]);
    expect([...c.start]).toEqual([0, 13, 20, 27]);
  });
});

test('what a file holds and is not kept is said', async () => {
  const scene = await readAny(
    text('mtllib a.mtl\nv 0 0 0\nv 1 0 0\nv 0 1 0\nusemtl A\nf 1 2 3\n'),
    'a.obj',
    new Map([['a.mtl', text('newmtl A\nKd 1 0 0\nmap_Bump b.png\nmap_Ks s.png\n')]]),
  );
  expect(scene.warnings).toEqual(['Pictures of map_Bump, map_Ks are not kept yet; colours are.']);
  const gltf = {
    asset: { version: '2.0' },
    nodes: [{ camera: 0 }],
    scenes: [{ nodes: [0] }],
    cameras: [{ type: 'perspective', perspective: { yfov: 1, znear: 0.1 } }],
  };
  expect((await readGltf(text(JSON.stringify(gltf)), 'a.gltf')).warnings.join(' ')).toMatch(
    /a\.gltf also holds cameras, which are not kept yet\. .*no meshes/,
  );
});

test.each(['obj', '3mf', 'glb'])(
  '%s: faces without a material come back without, wherever they stand',
  async (kind) => {
    const cube = box({ width: 1, height: 1, depth: 1, cutX: 1, cutY: 1, cutZ: 1, onGround: false }, 1);
    const worn = [-1, 0, -1, 1, 1, -1];
    const data = Int32Array.from(worn);
    const first = cube.with({ slots: ['a', 'b'], attributes: { material: { domain: 'face', width: 1, data } } });
    const scene: Scene = {
      ...emptyScene(),
      materials: ['a', 'b'].map((id) => ({ id, name: `M${id}`, color: [1, 0, 0, 1], roughness: 1, metalness: 0 })),
      pieces: [
        { name: 'one', parent: -1, mesh: first },
        { name: 'two', parent: -1, mesh: cube },
      ],
    };
    const bytes = { obj: () => writeObj(scene, 'a.mtl').obj, '3mf': () => write3mf(scene), glb: () => writeGlb(scene) };
    const file = await bytes[kind as 'obj']();
    const back = await readAny(file, `a.${kind}`);
    const bare = (mesh: Mesh) => {
      const slot = mesh.attributes.material?.data;
      const all = areaOf(mesh);
      const off = [...Array(mesh.faceCount).keys()].filter((f) => !slot || mesh.slots[slot[f]] === undefined);
      return areaOf(mesh, mask(mesh.faceCount, off)) / all;
    };
    const meshes = back.pieces.filter((p) => p.mesh).map((p) => p.mesh!);
    expect(meshes.map((m) => bare(m).toFixed(3))).toEqual(['0.500', '1.000']);
  },
);

test('text that begins with a mark of its bytes, and STL in capitals, are read whole', async () => {
  const marked = (words: string) => new Uint8Array([0xef, 0xbb, 0xbf, ...text(words)]);
  const obj = marked('mtllib a.mtl\nv 0 0 0\nv 1 0 0\nv 0 1 0\nusemtl Tar\nf 1 2 3\n');
  const back = await readAny(obj, 'a.obj', new Map([['a.mtl', marked('newmtl Tar\nKd 1 0 0\n')]]));
  expect(shapeOf(back.pieces[0].mesh!)).toMatchObject({ vertices: 3, faces: 1 });
  expect(back.materials[0]).toMatchObject({ name: 'Tar', color: [1, 0, 0, 1] });
  const first = await readAny(marked('v 0 0 0\nv 1 0 0\nv 0 1 0\nf 1 2 3\n'), 'b.obj');
  expect(shapeOf(first.pieces[0].mesh!)).toMatchObject({ vertices: 3, faces: 1 });
  const facet = 'FACET NORMAL 0 0 1\nOUTER LOOP\nVERTEX 0 0 0\nVERTEX 1 0 0\nVERTEX 0 1 0\nENDLOOP\nENDFACET\n';
  const stl = await readAny(text(`SOLID Bollard\n${facet}ENDSOLID Bollard\n`), 'c.stl');
  expect(stl.pieces[0]).toMatchObject({ name: 'Bollard' });
  expect(shapeOf(stl.pieces[0].mesh!)).toMatchObject({ vertices: 3, faces: 1 });
});

describe('what else files hold', () => {
  const read = (t: string, name = 'a.obj') => readAny(text(t), name);
  const square = 'v 0 0 0\nv 1 0 0\nv 1 1 0\nv 0 1 0\n';

  test('OBJ: colours of vertices, smoothing groups, a group before its object, lines', async () => {
    const s = await read(
      'g rim\no ring\nv 0 0 0 1 0 0\nv 1 0 0 0 0.5 0\nv 1 1 0\nv 0 1 0 0.25 0.5 1\ns 3\nf 1 2 3\ns off\n' +
        'f 1 3 4\nl 1 2 3 1\nl 2 -1\np 1\n',
    );
    const m = s.pieces[0].mesh!;
    expect([m.groups, m.attributes.group.data[0]]).toEqual([['rim'], 0]);
    expect(Array.from(m.attributes.color.data)).toEqual([1, 0, 0, 1, 0, 0.5, 0, 1, 1, 1, 1, 1, 0.25, 0.5, 1, 1]);
    expect(Array.from(m.attributes._smoothing.data)).toEqual([3, 0]);
    const { curves } = s.pieces[1];
    expect(Array.from(curves!.closed)).toEqual([1, 0]);
    expect(s.warnings).toEqual(['a.obj also holds points by themselves, which are not kept.']);
    // All of it goes out and comes back.
    const back = readObj(writeObj(s).obj, 'b.obj');
    expect(back.pieces[0].mesh!.attributes.color.data).toEqual(m.attributes.color.data);
    expect(back.pieces[0].mesh!.attributes._smoothing.data).toEqual(m.attributes._smoothing.data);
    expect(back.pieces[1].curves!.points).toEqual(curves!.points);
    // A weight after the three is no colour, and an object without a group of its own takes none.
    const plain = readObj(text(`g rim\no a\n${square.replace('0 0 0', '0 0 0 1.0')}f 1 2 3\no b\nf 1 3 4\n`));
    expect(plain.pieces.map((p) => [p.mesh!.groups, p.mesh!.attributes.color])).toEqual([
      [['rim'], undefined],
      [[], undefined],
    ]);
  });

  test('MTL: light of its own, highlights as roughness, pictures of relief; and out again', () => {
    const png = writePng({ width: 1, height: 1, data: Uint8Array.of(1, 2, 3, 255) });
    const mtl =
      'newmtl lamp\nKd 0 0 0\nKe 2 1 0\nNs 30\nmap_Ke glow.png\nnorm rivets.png\nnewmtl tin\nNs 500\nPr 0.5\n' +
      'd 0.25\nTr 1\nmap_Ka glow.png\n';
    const beside = new Map([
      ['m.mtl', text(mtl)],
      ['glow.png', png],
      ['rivets.png', png],
    ]);
    const s = readObj(text(`mtllib m.mtl\n${square}usemtl lamp\nf 1 2 3\nusemtl tin\nf 1 3 4\n`), 'a.obj', { beside });
    expect(s.materials[0]).toMatchObject({ glow: '#ff8000', glowStrength: 2, maps: { glow: 0, normal: 1 } });
    expect(s.materials[0].roughness).toBeCloseTo(0.5, 6); // (2 / 32)^¼
    expect([s.materials[1].roughness, s.materials[1].color[3]]).toEqual([0.5, 0.25]); // said in so many words
    // What others write there is nearly always the colour once more: told, not taken for shade.
    expect(s.materials[1].maps).toBeUndefined();
    expect(s.warnings.join(' ')).toMatch(/map_Ka/);
    const out = new TextDecoder().decode(writeObj(s).mtl);
    expect(out).toMatch(/Ke 2 1(\.00\d*)? 0[\s\S]*map_Ke glow\.png[\s\S]*norm rivets\.png/);
    expect(out).toMatch(/Ns 30/);
  });

  test('PLY: colours of faces, opacity, normals, what it does not know; and out again', async () => {
    const head = (vertex: string, face: string) =>
      'ply\nformat ascii 1.0\nelement vertex 3\nproperty float x\nproperty float y\nproperty float z\n' +
      `${vertex}element face 1\nproperty list uchar int vertex_indices\n${face}end_header\n`;
    const rich = await read(
      `${head(
        'property float nx\nproperty float ny\nproperty float nz\nproperty uchar diffuse_red\nproperty uchar diffuse_green\nproperty uchar diffuse_blue\nproperty uchar alpha\nproperty float quality\n',
        'property int flags\n',
      )}0 0 0 0 0 1 255 0 0 51 0.5\n1 0 0 0 0 1 0 255 0 255 1.5\n0 1 0 0 0 1 0 0 255 255 2.5\n3 0 1 2 7\n`,
      'a.ply',
    );
    for (const s of [rich, readPly(writePly(rich)), readPly(writePly(rich, true))]) {
      const a = s.pieces[0].mesh!.attributes;
      expect(Array.from(a.normal.data)).toEqual([0, 0, 1, 0, 0, 1, 0, 0, 1]);
      expect(a.color.data[3]).toBeCloseTo(0.2);
      expect(Array.from(a._quality.data)).toEqual([0.5, 1.5, 2.5]);
      expect([a._flags.domain, a._flags.data[0]]).toEqual(['face', 7]);
    }
    const faces = await read(
      `${head('', 'property uchar red\nproperty uchar green\nproperty uchar blue\n')}0 0 0\n1 0 0\n0 1 0\n` +
        '3 0 1 2 255 0 51\n',
      'b.ply',
    );
    const color = faces.pieces[0].mesh!.attributes.color;
    expect([color.domain, color.data[8], Math.round(255 * color.data[10])]).toEqual(['corner', 1, 51]);
    const other = await read(
      `${head('', '').replace('end_header', 'element edge 1\nproperty int vertex1\nend_header')}0 0 0\n1 0 0\n` +
        '0 1 0\n3 0 1 2\n4\n',
      'c.ply',
    );
    expect(other.warnings.join(' ')).toMatch(/also holds edge, which/);
  });

  test('STL: colours by both conventions; many of them are colours of corners', () => {
    const bytes = writeStl(sceneOf(cube));
    const view = new DataView(bytes.buffer);
    const count = view.getUint32(80, true);
    const paint = (f: number, bits: number) => view.setUint16(84 + 50 * f + 48, bits, true);
    const worn = () => {
      const s = readStl(bytes);
      const m = s.pieces[0].mesh!;
      return Array.from(m.attributes.material?.data ?? [], (i) => (i < 0 ? '' : toHex(s.materials[i].color)));
    };
    expect(worn()).toEqual([]); // none of them has one
    paint(0, 0x8000 | (31 << 10)); // red highest, and it has one
    expect(worn()).toEqual(['#ff0000', ...Array(count - 1).fill('')]);
    bytes.set(text('COLOR='), 0);
    bytes.set([0, 0, 255, 255], 6);
    paint(0, 31); // red lowest, and it is its own; the others take the head's
    for (let f = 1; f < count; f++) paint(f, 0x8000);
    expect(worn()).toEqual(['#ff0000', ...Array(count - 1).fill('#0000ff')]);
    const many = writeStl({
      ...emptyScene(),
      pieces: Array.from({ length: 4 }, (_, i) => ({ ...sceneOf(cube).pieces[0], name: `${i}` })),
    });
    const wide = new DataView(many.buffer);
    for (let f = 0; f < 4 * count; f++) wide.setUint16(84 + 50 * f + 48, 0x8000 | f, true);
    const color = readStl(many).pieces[0].mesh!.attributes.color;
    expect([color.domain, Math.round(31 * color.data[4 * 3 * 5 + 2])]).toEqual(['corner', 5]);
  });
});

describe('roughness and metalness as pictures of MTL', () => {
  const grey = (width: number, height: number, of: (i: number) => number) => {
    const data = new Uint8Array(4 * width * height).fill(255);
    for (let i = 0; i < width * height; i++) data.fill(of(i), 4 * i, 4 * i + 3);
    return writePng({ width, height, data });
  };
  const obj = new TextEncoder().encode('mtllib a.mtl\nusemtl Brass\nv 0 0 0\nv 1 0 0\nv 0 1 0\nf 1 2 3\n');
  const read = (mtl: string, files: Record<string, Uint8Array>) =>
    readObj(obj, 'a.obj', { beside: new Map([['a.mtl', new TextEncoder().encode(mtl)], ...Object.entries(files)]) });

  test('two grey ones become one, as large as the larger; of one the other is the number', () => {
    const s = read('newmtl Brass\nmap_Pr r.png\nmap_Pm m.png\n', {
      'r.png': grey(2, 2, (i) => 10 * i),
      'm.png': grey(1, 1, () => 200),
    });
    expect(s.warnings).toEqual([]);
    const both = readPng(s.images[s.materials[0].maps!.surface!].bytes);
    expect([both.width, both.height]).toEqual([2, 2]);
    expect([0, 1, 2, 3].map((i) => [both.data[4 * i + 1], both.data[4 * i + 2]])).toEqual([
      [0, 200],
      [10, 200],
      [20, 200],
      [30, 200],
    ]);
    const one = read('newmtl Brass\nPr 0.4\nPm 1\nmap_Pr r.png\n', { 'r.png': grey(1, 1, () => 7) });
    const { data } = readPng(one.images[one.materials[0].maps!.surface!].bytes);
    expect([data[1], data[2]]).toEqual([7, 255]);
  });

  test('written as two, and the same when read again', async () => {
    const surface = writePng({ width: 2, height: 1, data: Uint8Array.of(0, 40, 90, 255, 0, 41, 91, 255) });
    const scene: Scene = {
      ...readObj(obj, 'a.obj'),
      materials: [
        { id: 'Brass', name: 'Brass', color: [1, 1, 1, 1], roughness: 1, metalness: 1, maps: { surface: 0 } },
      ],
      images: [{ name: 'brass.png', mime: 'image/png', bytes: surface }],
    };
    const files = new Map(await KINDS.find((k) => k.kind === 'obj')!.write(scene, 'a'));
    expect([...files.keys()].sort()).toEqual(['a.mtl', 'a.obj', 'brass-metalness.png', 'brass-roughness.png']);
    const back = readObj(files.get('a.obj')!, 'a.obj', { beside: files });
    expect(back.warnings).toEqual([]);
    const { data } = readPng(back.images[back.materials[0].maps!.surface!].bytes);
    expect([data[1], data[2], data[5], data[6]]).toEqual([40, 90, 41, 91]);
  });

  test('what is no PNG, or not there, is told', () => {
    const broken = read('newmtl Brass\nmap_Pr r.png\nmap_Pm m.jpg\n', {
      'r.png': Uint8Array.of(0x89, 0x50, 0x4e, 0x47),
      'm.jpg': Uint8Array.of(0xff, 0xd8, 0xff),
    });
    expect(broken.materials[0].maps).toBeUndefined();
    expect(broken.warnings.join()).toMatch(/roughness and metalness are taken as PNG .* Brass are not kept/);
    expect(read('newmtl Brass\nmap_Pr r.png\n', {}).warnings.join()).toMatch(/r\.png was not with the file/);
  });
});
