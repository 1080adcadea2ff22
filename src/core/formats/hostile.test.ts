/**
 * Files that are damaged, or made to harm: read, mended and told, or refused in one sentence; never NaN, never the
 * engine's own words.
 */
import fc from 'fast-check';
import { keyOf } from '../math/hash';
import { box } from '../make/primitives';
import { Mesh, meshFrom, UV } from '../mesh/mesh';
import { dice, fuzzSeeds, mutant } from '../testing/mutants';
import { takeFile } from '../testing/reading';
import { addressesOf, librariesOf, picturesOf, withoutOptions } from './companions';
import { tooDeep } from './depth';
import { gate } from './gate';
import { checkGltf } from './gltf';
import { planDrop } from './drop';
import { readAny } from './read';
import { emptyScene, FileError, type Scene } from './scene';
import { cleanName, readingError } from './words';

const text = (t: string) => new TextEncoder().encode(t);
const cube = box({ width: 1, height: 1, depth: 1, cutX: 1, cutY: 1, cutZ: 1, onGround: true }, keyOf('t'));
const withMesh = (mesh: Mesh, more: Partial<Scene> = {}): Scene => ({
  ...emptyScene(),
  pieces: [{ name: 'hut', parent: -1, mesh }],
  ...more,
});

test('300 mutants of every kind: nothing but sentences of ours and finite numbers', async () => {
  const seeds = await fuzzSeeds();
  const found: string[] = [];
  for (let n = 0; n < 300; n++) {
    const [name, bytes] = seeds[n % seeds.length];
    for (const f of await takeFile(name, mutant(bytes, dice(n + 1)))) found.push(`${n} ${name}: ${f.kind}: ${f.said}`);
  }
  expect(found).toEqual([]);
}, 120000);

test('every seed is itself read without a word, so that mutants are near what is right', async () => {
  const seeds = await fuzzSeeds();
  const beside = new Map(seeds);
  for (const [name, bytes] of seeds) {
    if (/\.(png|tif|raw|mtl|bin|zip)$/.test(name)) continue;
    const scene = await readAny(bytes, name, beside);
    expect([name, scene.pieces.some((p) => p.mesh || p.curves)]).toEqual([name, true]);
  }
});

describe('the gate', () => {
  const gated = (mesh: Mesh) => gate(withMesh(mesh));
  test('what is fit goes through as the very same mesh, and nothing is said', () => {
    const out = gated(cube);
    expect(out.pieces[0].mesh).toBe(cube);
    expect(out.warnings).toEqual([]);
  });

  test.each([NaN, Infinity, -Infinity, 1e30])('a vertex at %d: its faces go, the rest stays with its keys', (bad) => {
    const positions = cube.positions.slice();
    positions[0] = bad;
    const { pieces, warnings } = gated(cube.with({ positions }));
    const mesh = pieces[0].mesh!;
    expect(mesh.faceCount).toBe(3);
    expect(mesh.vertexCount).toBe(7);
    expect(mesh.positions.every(Number.isFinite)).toBe(true);
    expect([...mesh.faceKey].every((k) => cube.faceKey.includes(k))).toBe(true);
    expect([...mesh.vertexKey].every((k) => cube.vertexKey.includes(k))).toBe(true);
    expect(warnings.join(' ')).toMatch(/1 vertex is at no place that can be.*3 faces could not be kept/);
  });

  test('corners that repeat, faces that meet a vertex twice, and indices that lead nowhere', () => {
    const p = [0, 0, 0, 1, 0, 0, 1, 1, 0, 0, 1, 0];
    const repeats = gated(meshFrom(p, [[0, 1, 1, 2, 3, 3]]));
    expect([...repeats.pieces[0].mesh!.cornerVertex]).toEqual([0, 1, 2, 3]);
    expect(repeats.warnings[0]).toMatch(/2 corners repeat the one before/);
    const round = gated(meshFrom(p, [[0, 1, 2, 0]]));
    expect([...round.pieces[0].mesh!.cornerVertex]).toEqual([1, 2, 0].map((_, i) => i));
    expect(
      gated(
        meshFrom(p, [
          [0, 1, 2],
          [0, 1, 3, 1, 2],
        ]),
      ).pieces[0].mesh!.faceCount,
    ).toBe(1);
    expect(
      gated(
        meshFrom(p, [
          [0, 1, 2],
          [0, 1, 9],
        ]),
      ).pieces[0].mesh!.faceCount,
    ).toBe(1);
    expect(gated(meshFrom(p, [[0, 1], [2, 2, 2], [3]])).pieces[0].mesh!.faceCount).toBe(0);
  });

  test('UVs and other data: numbers that can be, of the length they should have', () => {
    const data = new Float32Array(2 * cube.cornerCount).fill(0.5);
    data[3] = NaN;
    data[4] = 1e16;
    const out = gated(
      cube
        .withAttribute(UV, { domain: 'corner', width: 2, data })
        .withAttribute('short', { domain: 'vertex', width: 1, data: new Float32Array(3) }),
    );
    const { uv, short } = out.pieces[0].mesh!.attributes;
    expect([...uv.data.slice(2, 6)]).toEqual([0.5, 0, 0, 0.5]);
    expect(short).toBeUndefined();
    expect(out.warnings[0]).toMatch(/3 values of UVs or other data/);
    expect(data[3]).toBeNaN(); // what was given is untouched
  });

  test('places, parents, names, materials and units', () => {
    const scene = withMesh(cube, {
      pieces: [
        { name: 'a', parent: 3, mesh: cube, place: [1e39, 0, 0, 0, 0, 1, 0, 0, 0, 0, 1, 0] },
        { name: '\u0000', parent: 0, mesh: cube, place: [1, 0, 0, 5, 0, 1, 0, 0, 0, 0, 1, 0] },
      ],
      materials: [
        {
          id: 'm',
          name: 'x'.repeat(900),
          color: [NaN, 2, -1, 0.5],
          roughness: Infinity,
          metalness: 0.5,
          maps: { color: 7 },
        },
      ],
      scale: { unit: 1e300, up: 'z' },
      warnings: Array.from({ length: 500 }, (_, i) => `Line ${i}.`),
    });
    const out = gate(scene);
    expect(out.pieces.map((p) => [p.name, p.parent, p.place?.[3]])).toEqual([
      ['a', -1, undefined],
      ['piece', 0, 5],
    ]);
    expect(out.pieces[0].mesh).toBe(out.pieces[1].mesh); // one mesh stays one
    expect(out.materials[0]).toMatchObject({
      color: [0.5, 1, 0, 0.5],
      roughness: 0.5,
      metalness: 0.5,
      maps: {},
    });
    expect(out.materials[0].name.length).toBe(200);
    expect(out.scale).toEqual({ up: 'z' });
    expect(out.warnings.length).toBe(61);
    expect(out.warnings[60]).toMatch(/more of the kind/);
  });

  test('whatever a mesh is made of, what comes out is a mesh', () => {
    const number = fc.oneof(fc.double(), fc.constantFrom(0, 1, NaN, Infinity, -1e20));
    fc.assert(
      fc.property(
        fc.array(number, { minLength: 3, maxLength: 30 }).map((l) => l.slice(0, 3 * Math.floor(l.length / 3))),
        fc.array(fc.array(fc.nat(12), { maxLength: 6 }), { maxLength: 8 }),
        (positions, faces) => {
          const m = gated(meshFrom(positions, faces)).pieces[0].mesh!;
          expect(m.positions.every((x) => Math.abs(x) <= 1e9)).toBe(true);
          for (let f = 0; f < m.faceCount; f++) {
            const round = [...m.cornerVertex.slice(m.faceStart[f], m.faceStart[f + 1])];
            expect(round.length).toBeGreaterThanOrEqual(3);
            expect(new Set(round).size).toBe(round.length);
            expect(round.every((v) => v < m.vertexCount)).toBe(true);
          }
          expect(m.faceKey.length).toBe(m.faceCount);
          expect(m.vertexKey.length).toBe(m.vertexCount);
        },
      ),
      { numRuns: 300 },
    );
  });
});

describe('what glTF says of itself', () => {
  const good = {
    buffers: [{ byteLength: 100 }],
    bufferViews: [{ buffer: 0, byteLength: 100 }],
    accessors: [{ bufferView: 0, componentType: 5126, type: 'VEC3', count: 8 }],
    nodes: [{ children: [1] }, {}],
  };
  test('what is right passes', () => expect(() => checkGltf(good, 200, 'a.glb')).not.toThrow());
  test.each<[string, object]>([
    [
      'a list of numbers longer than the file',
      { ...good, accessors: [{ bufferView: 0, componentType: 5126, type: 'VEC3', count: 9 }] },
    ],
    ['60,000,000 values with nothing behind them', { accessors: [{ componentType: 5126, type: 'VEC3', count: 6e7 }] }],
    ['a count that is none', { accessors: [{ componentType: 5126, type: 'VEC3', count: 1.5 }] }],
    ['a kind of number that is none', { accessors: [{ componentType: 1, type: 'VEC3', count: 1 }] }],
    ['a buffer longer than the file', { buffers: [{ byteLength: 1e9 }] }],
    ['a view outside of its buffer', { ...good, bufferViews: [{ buffer: 0, byteOffset: 50, byteLength: 60 }] }],
    ['a view of no buffer', { bufferViews: [{ buffer: 3, byteLength: 1 }] }],
    ['nodes in a circle', { nodes: [{ children: [1] }, { children: [0] }] }],
    ['a node within itself', { nodes: [{ children: [0] }] }],
    ['a node in two places', { nodes: [{ children: [2] }, { children: [2] }, {}] }],
    ['a node that is not there', { nodes: [{ children: [7] }] }],
    [
      'nodes nested without end',
      { nodes: Array.from({ length: 5000 }, (_, i) => (i < 4999 ? { children: [i + 1] } : {})) },
    ],
    ['a list that is none', { nodes: 'many' }],
    ['an entry that is none', { meshes: [null] }],
    ['a sparse list of nothing', { ...good, accessors: [{ ...good.accessors[0], sparse: { count: 1 } }] }],
    ['an address elsewhere', { images: [{ uri: 'https://example.invalid/a.png' }] }],
  ])('refused in a sentence: %s', (_, json) => {
    expect(() => checkGltf(json, 200, 'a.glb')).toThrow(FileError);
    expect(() => checkGltf(json, 200, 'a.glb')).toThrow(/^a\.glb .*\.$/);
  });
});

describe('nothing takes the square of its length', () => {
  const long = (part: string, n = 200_000) => part.repeat(n);
  const quick = async (work: () => unknown) => {
    const begun = performance.now();
    try {
      await work();
    } catch (e) {
      expect(e).toBeInstanceOf(FileError);
    }
    // Quadratic work on these takes minutes; this is no measure of speed.
    expect(performance.now() - begun).toBeLessThan(10_000);
  };
  test.each<[string, () => unknown]>([
    ['an STL with a long row of spaces', () => readAny(text(`solid a\nvertex${long(' ')}x\nendsolid`), 'a.stl')],
    ['libraries named with many spaces', () => planDrop([['a.obj', text(`mtllib${long(' ')}x\nv 0 0 0`)]])],
    ['many libraries that are not there', () => planDrop([['a.obj', text(long('mtllib  a  \n', 20000))]])],
    [
      'transforms within transforms',
      () => readAny(text(`<svg><g transform="${long('matrix(')}"><path d="M0 0L1 1"/></g></svg>`), 'a.svg'),
    ],
    ['a width without end', () => readAny(text(`<svg width="${long('9')}"><path d="M0 0L1 1"/></svg>`), 'a.svg')],
    ['options without end', () => withoutOptions(long('-a 1 ') + 'x')],
    ['an MTL of empty lines', () => picturesOf(long('\n') + 'map_Kd x.png')],
    ['addresses without end', () => addressesOf(long('"uri":"'))],
    [
      'faces that are declared and not there',
      () =>
        readAny(
          text(
            'ply\nformat ascii 1.0\nelement vertex 0\nproperty float x\nproperty float y\nproperty float z\n' +
              'element face 200000000\nproperty list uchar int vertex_indices\nend_header\n',
          ),
          'a.ply',
        ),
    ],
    [
      'a MTL line of spaces',
      () => readAny(text('mtllib a.mtl\nv 0 0 0\n'), 'a.obj', new Map([['a.mtl', text(`newmtl a\nKd${long(' ')}x`)]])),
    ],
    ['XML nested without end', () => readAny(text(`<svg>${long('<g>')}`), 'a.svg')],
    ['JSON nested without end', () => readAny(text(`{"asset":{"version":"2.0"},"nodes":${long('[')}`), 'a.gltf')],
  ])('%s', (_, work) => quick(work));
});

test('what a model names is found as it always was', () => {
  expect(librariesOf('# x\nmtllib  two words.mtl \r\nmtllib b.mtl\nmtllibrary no\nmtllib\n')).toEqual([
    'two words.mtl',
    'b.mtl',
  ]);
  expect(picturesOf('map_Kd -s 1 1 1 -bm 0.3 tar  wood.png\n  bump a.png\nKd 1 1 1\nmap_Ks -clamp on.png')).toEqual([
    'tar  wood.png',
    'a.png',
    'on.png',
  ]);
  expect(withoutOptions('-only')).toBe('-only');
  expect(addressesOf('{"uri" : "a%20b.bin"},{"uri":"data:x"},{"uri":"%zz"}')).toEqual(['a b.bin', '%zz']);
});

test('depth is told outside of texts only', () => {
  expect(tooDeep(text('[[[]]]'), 3)).toBe(false);
  expect(tooDeep(text('[[[[]]]]'), 3)).toBe(true);
  expect(tooDeep(text('["[[[[[[\\"[[[["]'), 3)).toBe(false);
  expect(tooDeep(text('[],[],[],[],[]'), 3)).toBe(false);
});

test('what the engine says is not for people', () => {
  expect(readingError(new TypeError("Cannot read properties of undefined (reading 'x')"), 'a.glb').message).toBe(
    'a.glb is damaged and cannot be read.',
  );
  expect(readingError(new RangeError('Array buffer allocation failed'), 'a.glb').message).toBe(
    'a.glb asks for more memory than there is.',
  );
  expect(readingError(new RangeError('Maximum call stack size exceeded'), 'a.glb').message).toMatch(/nested deeper/);
  expect(readingError(new FileError('a.glb is empty.'), 'a.glb').message).toBe('a.glb is empty.');
  expect(cleanName('a'.repeat(5_000_000)).length).toBe(200);
});
