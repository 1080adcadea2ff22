/**
 * Damaged files: seeds of every kind that is read, and what happens to files on their way or is done to them on
 * purpose.
 */
import { WebIO } from '@gltf-transform/core';
import { ALL_EXTENSIONS, EXTMeshoptCompression, KHRDracoMeshCompression } from '@gltf-transform/extensions';
import draco from 'draco3dgltf';
import { deflateSync } from 'fflate';
import { MeshoptEncoder } from 'meshoptimizer';
import { keyOf } from '../math/hash';
import { box, cylinder } from '../make/primitives';
import { COLOR, Mesh, UV } from '../mesh/mesh';
import { writeGlb } from '../formats/gltf';
import { KINDS } from '../formats/kinds';
import { writePng } from '../formats/png';
import { writePly } from '../formats/ply';
import { writeStl } from '../formats/stl';
import { writeHeightsTiff } from '../formats/heights';
import { writeZip } from '../formats/zip';
import type { Scene } from '../formats/scene';

export type Seed = readonly [name: string, bytes: Uint8Array];

/** A small generator of numbers, so that a run can be done again (Marsaglia 2003, xorshift). */
export function dice(seed: number): (most: number) => number {
  let s = seed | 0 || 1;
  return (most) => {
    s ^= s << 13;
    s ^= s >>> 17;
    s ^= s << 5;
    return (s >>> 0) % Math.max(1, most);
  };
}

const unwrapped = (m: Mesh): Mesh =>
  m.withAttribute(UV, {
    domain: 'corner',
    width: 2,
    data: Float32Array.from({ length: 2 * m.cornerCount }, (_, i) => (i % 7) / 7),
  });

function scene(): Scene {
  const hut = unwrapped(box({ width: 2, height: 1, depth: 1, cutX: 2, cutY: 1, cutZ: 1, onGround: true }, keyOf('a')));
  const drum = cylinder(
    { radius: 1, topRadius: 1, height: 1, sides: 7, rows: 1, cap: 'polygon', onGround: true },
    keyOf('b'),
  );
  const tarred = hut
    .with({ slots: ['tar'] })
    .withAttribute('material', { domain: 'face', width: 1, data: new Int32Array(hut.faceCount) });
  const png = writePng({ width: 2, height: 2, data: new Uint8Array(16).fill(90) });
  return {
    pieces: [
      { name: 'quay', parent: -1 },
      { name: 'hut', parent: 0, mesh: tarred, place: [1, 0, 0, 3, 0, 1, 0, 0, 0, 0, 1, 0] },
      { name: 'drum', parent: 0, mesh: drum },
    ],
    materials: [
      { id: 'tar', name: 'Tar', color: [0.2, 0.2, 0.2, 1], roughness: 0.5, metalness: 0, maps: { color: 0 } },
    ],
    images: [{ name: 'tar.png', mime: 'image/png', bytes: png }],
    warnings: [],
  };
}

/** The same with all that a piece and a material can have. */
function laden(): Scene {
  const plain = scene();
  const images = [0, 1, 2, 3, 4].map((i) => ({
    name: `map${i}.png`,
    mime: 'image/png' as const,
    bytes: writePng({ width: 2, height: 2, data: new Uint8Array(16).fill(40 * i) }),
  }));
  const [tar] = plain.materials;
  const laid = { shift: [0.1, 0.2] as [number, number], size: [2, 3] as [number, number], turn: 0.5 };
  return {
    ...plain,
    pieces: plain.pieces.map((p) => {
      const own = p.mesh && unwrapped(p.mesh);
      const color = own && Float32Array.from({ length: 4 * own.vertexCount }, (_, i) => (i % 5) / 5);
      const second = own?.attributes[UV];
      const mesh =
        own && color && second
          ? own
              .withAttribute(COLOR, { domain: 'vertex', width: 4, data: color })
              .withAttribute('uv2', second)
              .withAttribute('_wear', { domain: 'vertex', width: 1, data: new Float32Array(own.vertexCount).fill(0.5) })
          : undefined;
      return { ...p, mesh };
    }),
    materials: [
      {
        ...tar,
        color: [0.2, 0.3, 0.4, 0.5],
        tinted: true,
        cut: 0.3,
        glow: '#80ff10',
        glowStrength: 3,
        bothSides: true,
        maps: { color: 0, surface: 1, normal: 2, shade: 3, glow: 4 },
        laid: { color: laid },
      },
    ],
    images,
  };
}

/** The scene as others pack it. */
async function packed(plain: Scene): Promise<Seed[]> {
  const io = new WebIO().registerExtensions(ALL_EXTENSIONS);
  const doc = async () => io.readBinary((await writeGlb(plain)) as Uint8Array<ArrayBuffer>);
  await MeshoptEncoder.ready;
  const first = await doc();
  first.createExtension(KHRDracoMeshCompression).setRequired(true);
  io.registerDependencies({ 'draco3d.encoder': await draco.createEncoderModule() });
  const second = await doc();
  second
    .createExtension(EXTMeshoptCompression)
    .setRequired(true)
    .setEncoderOptions({ method: EXTMeshoptCompression.EncoderMethod.QUANTIZE });
  io.registerDependencies({ 'meshopt.encoder': MeshoptEncoder });
  return [
    ['draco.glb', await io.writeBinary(first)],
    ['meshopt.glb', await io.writeBinary(second)],
  ];
}

/** One or two small files of every kind that comes in. */
export async function fuzzSeeds(): Promise<Seed[]> {
  const s = scene();
  const out: Seed[] = [];
  const all = new Map<string, Uint8Array>();
  for (const kind of KINDS)
    if (kind.kind !== 'svg')
      for (const [name, bytes] of await kind.write(s, 'hut')) {
        out.push([name, bytes]);
        all.set(name, bytes);
      }
  const more = laden();
  for (const kind of KINDS)
    if (kind.kind !== 'svg') for (const [name, bytes] of await kind.write(more, 'laden')) out.push([name, bytes]);
  out.push(...(await packed(s)));
  const text = (t: string) => new TextEncoder().encode(t);
  out.push(
    ['text.stl', writeStl(s, true)],
    ['text.ply', writePly(s, true)],
    [
      'sign.svg',
      text(
        '<svg xmlns="http://www.w3.org/2000/svg" width="40mm" viewBox="0 0 40 30"><g transform="translate(3 4) ' +
          'scale(2)">' +
          '<path d="M0 0L10 0C12 2 12 8 10 10A5 5 0 0 1 0 10z" fill="red"/><circle cx="5" cy="5" r="3"/>' +
          '<polygon points="0,0 1,2 3,4"/></g></svg>',
      ),
    ],
    [
      'heights.tif',
      writeHeightsTiff({ width: 5, height: 4, bits: 16, data: Float32Array.from({ length: 20 }, (_, i) => i / 20) }),
    ],
    ['plan.png', writePng({ width: 6, height: 5, data: new Uint8Array(120).fill(120) })],
    ['land.raw', new Uint8Array(32)],
    ['all.zip', writeZip(all)],
  );
  return out;
}

const NUMBERS = [
  'NaN',
  '-1',
  '0',
  '1e39',
  '-1e308',
  '4294967295',
  '99999999999999999999',
  '1e-320',
  'Infinity',
  '2147483648',
];
const WORDS = [
  '\u0000',
  '\ud800',
  '(',
  '((((',
  '{"a":',
  '[[[[',
  '../../x',
  'matrix(',
  ' ',
  '\\',
  '<g>',
  '&amp;',
  '%00',
  '\u202e',
];

/** The same bytes with something wrong. */
export function mutant(bytes: Uint8Array, roll: (most: number) => number): Uint8Array {
  let out: Uint8Array = bytes.slice();
  for (let n = 1 + roll(3); n > 0; n--) out = change(out, roll);
  return out;
}

function change(b: Uint8Array, roll: (most: number) => number): Uint8Array {
  const at = roll(b.length);
  const insert = (from: number, to: number, part: Uint8Array) => {
    const out = new Uint8Array(b.length - (to - from) + part.length);
    out.set(b.subarray(0, from));
    out.set(part, from);
    out.set(b.subarray(to), from + part.length);
    return out;
  };
  const text = (t: string) => new TextEncoder().encode(t);
  switch (roll(9)) {
    case 0:
      b[at] ^= 1 << roll(8);
      return b;
    case 1:
      return b.slice(0, at);
    case 2: {
      const end = Math.min(b.length, at + 1 + roll(200));
      return insert(at, at, b.subarray(at, end));
    }
    case 3:
      return insert(at, Math.min(b.length, at + 1 + roll(64)), new Uint8Array(0));
    case 4: {
      // A number of the text becomes one that is hard to bear.
      let from = at;
      while (from < b.length && !(b[from] >= 48 && b[from] <= 57)) from++;
      let to = from;
      while (to < b.length && ((b[to] >= 48 && b[to] <= 57) || b[to] === 46)) to++;
      return insert(from, to, text(NUMBERS[roll(NUMBERS.length)]));
    }
    case 5: {
      const v = new DataView(b.buffer);
      if (b.length >= 4)
        v.setUint32(
          Math.min(b.length - 4, at & ~3),
          [0, 0xffffffff, 0x7fffffff, 0x7fc00000, 0x7f800000, b.length][roll(6)],
          true,
        );
      return b;
    }
    case 6:
      return insert(at, at, text(WORDS[roll(WORDS.length)].repeat(1 + [1, 40, 3000, 60000][roll(4)] * roll(2))));
    case 7:
      return insert(
        at,
        at,
        new Uint8Array(1 + roll([100, 3000, 200000][roll(3)])).fill([32, 10, 0, 48, 40, 255][roll(6)]),
      );
    default:
      return insert(at, at, deflateSync(b.subarray(0, 100)));
  }
}
