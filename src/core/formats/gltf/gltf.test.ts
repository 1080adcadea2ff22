/**
 * glTF as others write it: made by a library that is not ours, packed by the encoders themselves, and checked by the
 * validator.
 */
import { Document, WebIO, type Primitive } from '@gltf-transform/core';
import {
  ALL_EXTENSIONS,
  EXTMeshGPUInstancing,
  KHRDracoMeshCompression,
  KHRLightsPunctual,
} from '@gltf-transform/extensions';
import { EXTMeshoptCompression, KHRMeshQuantization, KHRTextureTransform } from '@gltf-transform/extensions';
import draco from 'draco3dgltf';
import { MeshoptDecoder, MeshoptEncoder } from 'meshoptimizer';
import validator from 'gltf-validator';
import { box, cubeSphere } from '../../make';
import { meshFrom, volumeOf, type Mesh } from '../../mesh';
import { writePng } from '../png';
import { readAny } from '../read';
import type { Scene, SceneMaterial } from '../scene';
import { checkGltf } from './check';
import { writeGlb } from './write';

const SQUARE = [0, 0, 0, 1, 0, 0, 1, 1, 0, 0, 1, 0];

function documentWith(
  fill: (doc: Document, p: Primitive) => void,
  positions: number[] = SQUARE,
  index = [0, 1, 2, 0, 2, 3],
) {
  const doc = new Document();
  const buffer = doc.createBuffer();
  const list = (type: 'SCALAR' | 'VEC2' | 'VEC3' | 'VEC4', array: Float32Array | Uint8Array | Uint16Array) =>
    doc
      .createAccessor()
      .setType(type)
      .setArray(array as Float32Array<ArrayBuffer>)
      .setBuffer(buffer);
  const p = doc.createPrimitive().setAttribute('POSITION', list('VEC3', Float32Array.from(positions)));
  if (index.length) p.setIndices(list('SCALAR', Uint16Array.from(index)));
  doc.createScene('main').addChild(doc.createNode('plate').setMesh(doc.createMesh('plate').addPrimitive(p)));
  fill(doc, p);
  return { doc, list, p };
}

const io = new WebIO().registerExtensions(ALL_EXTENSIONS);
const read = async (doc: Document): Promise<Scene> => readAny(await io.writeBinary(doc), 'a.glb');
const meshOf = (s: Scene): Mesh => s.pieces.find((p) => p.mesh)!.mesh!;
const triangles = (m: Mesh): number[][] =>
  Array.from({ length: m.faceCount }, (_, f) =>
    [0, 1, 2].flatMap((k) => {
      const v = 3 * m.cornerVertex[m.faceStart[f] + k];
      return [m.positions[v], m.positions[v + 1]];
    }),
  );

describe('what glTF may hold', () => {
  test('strips and fans are the triangles they stand for, all the same way round', async () => {
    const strip = documentWith((_, p) => p.setMode(5), [0, 0, 0, 1, 0, 0, 0, 1, 0, 1, 1, 0, 0, 2, 0], [0, 1, 2, 3, 4]);
    const s = meshOf(await read(strip.doc));
    expect(triangles(s)).toEqual([
      [0, 0, 1, 0, 0, 1],
      [1, 0, 1, 1, 0, 1],
      [0, 1, 1, 1, 0, 2],
    ]);
    const fan = documentWith((_, p) => p.setMode(6), SQUARE, []);
    expect(triangles(meshOf(await read(fan.doc)))).toEqual([
      [0, 0, 1, 0, 1, 1],
      [0, 0, 1, 1, 0, 1],
    ]);
    const lines = await read(documentWith((_, p) => p.setMode(1)).doc);
    expect(lines.warnings.join(' ')).toMatch(/lines and points/);
  });

  test('colours are sRGB with us; one for each vertex, or for each corner where two meet; both go out again', async () => {
    const made = documentWith(() => undefined);
    made.p.setAttribute('COLOR_0', made.list('VEC3', Float32Array.from([1, 0, 0, 0.5, 0.5, 0.5, 0, 1, 0, 0, 0, 1])));
    const s = await read(made.doc);
    const color = meshOf(s).attributes.color;
    expect([color.domain, color.width]).toEqual(['vertex', 4]);
    expect(Array.from(color.data.subarray(0, 4))).toEqual([1, 0, 0, 1]);
    expect(color.data[4]).toBeCloseTo(0.7354, 4); // sRGB of a half
    const back = meshOf(await readAny(await writeGlb(s), 'b.glb')).attributes.color;
    back.data.forEach((x, i) => expect(x).toBeCloseTo(color.data[i], 6));
    // Two vertices at one place, of two colours, with an opacity, in bytes.
    const six = [0, 0, 0, 1, 0, 0, 1, 1, 0, 0, 0, 0, 1, 1, 0, 0, 1, 0];
    const split = documentWith(() => undefined, six, [0, 1, 2, 3, 4, 5]);
    const bytes = Uint8Array.from({ length: 24 }, (_, i) => (i < 12 ? 255 : 0)).map((x, i) => (i % 4 === 3 ? 51 : x));
    split.p.setAttribute('COLOR_0', split.list('VEC4', bytes).setNormalized(true));
    const corners = meshOf(await read(split.doc));
    expect(corners.vertexCount).toBe(4);
    expect(corners.attributes.color.domain).toBe('corner');
    expect(corners.attributes.color.data[3]).toBeCloseTo(0.2);
    expect([corners.attributes.color.data[0], corners.attributes.color.data[12]]).toEqual([1, 0]);
  });

  test('data of a file’s own stay with their vertices, and go out under their name', async () => {
    const made = documentWith(() => undefined);
    made.p.setAttribute('_WEAR', made.list('SCALAR', Float32Array.from([0, 0.25, 0.5, 1])));
    made.p.setAttribute('_FLOW', made.list('VEC2', Float32Array.from([0, 1, 2, 3, 4, 5, 6, 7])));
    const m = meshOf(await read(made.doc));
    expect(m.attributes._wear).toMatchObject({ domain: 'vertex', width: 1 });
    expect(Array.from(m.attributes._flow.data)).toEqual([0, 1, 2, 3, 4, 5, 6, 7]);
    const out = await io.readBinary((await writeGlb({ ...(await read(made.doc)) })) as Uint8Array<ArrayBuffer>);
    const p = out.getRoot().listMeshes()[0].listPrimitives()[0];
    expect(p.listSemantics().sort()).toEqual(['NORMAL', 'POSITION', '_FLOW', '_WEAR']);
  });

  test('copies in many places are pieces of one mesh; other scenes come in groups; what is not kept is told', async () => {
    const { doc, list } = documentWith(() => undefined);
    const node = doc.getRoot().listNodes()[0];
    const many = doc.createExtension(EXTMeshGPUInstancing).createInstancedMesh();
    many.setAttribute('TRANSLATION', list('VEC3', Float32Array.from([1, 2, 3, 4, 5, 6])));
    const h = Math.SQRT1_2;
    many.setAttribute('ROTATION', list('VEC4', Float32Array.from([0, 0, 0, 1, 0, 0, h, h])));
    many.setAttribute('SCALE', list('VEC3', Float32Array.from([1, 1, 1, 2, 3, 4])));
    node.setExtension(EXTMeshGPUInstancing.EXTENSION_NAME, many);
    const light = doc.createExtension(KHRLightsPunctual).createLight('lamp').setType('point');
    const other = doc
      .createNode('hidden')
      .setMesh(node.getMesh())
      .setExtension(KHRLightsPunctual.EXTENSION_NAME, light);
    doc.createScene('store').addChild(other);
    other.setExtras({ author: 'someone' });
    const s = await read(doc);
    expect(s.pieces.map((p) => [p.name, p.parent, !!p.mesh])).toEqual([
      ['plate', -1, false],
      ['plate 1', 0, true],
      ['plate 2', 0, true],
      ['store', -1, false],
      ['hidden', 3, true],
    ]);
    expect(s.pieces[1].mesh).toBe(s.pieces[2].mesh);
    // A quarter turn about z after sizes: x goes to y, y to −x.
    [0, -3, 0, 4, 2, 0, 0, 5, 0, 0, 4, 6].forEach((x, i) => expect(s.pieces[2].place![i]).toBeCloseTo(x, 6));
    expect(s.warnings.join(' ')).toMatch(
      /also holds lights and notes of other programs \(extras\), which are not kept/,
    );
  });

  test('an extension that is not known is named', async () => {
    const text = JSON.stringify({ asset: { version: '2.0' }, extensionsUsed: ['KHR_materials_sheen'], scenes: [{}] });
    const s = await readAny(new TextEncoder().encode(text), 'a.gltf');
    expect(s.warnings.join(' ')).toMatch(/KHR_materials_sheen/);
  });
});

describe('materials', () => {
  const png = writePng({ width: 1, height: 1, data: Uint8Array.of(9, 8, 7, 255) });
  const looks: SceneMaterial[] = [
    { id: 'a', name: 'Lens', color: [1, 1, 1, 0.25], roughness: 0.1, metalness: 0, glow: '#ff8000', glowStrength: 6 },
    { id: 'b', name: 'Mesh', color: [0.2, 0.4, 0.6, 1], roughness: 0.5, metalness: 1, cut: 0.3, bothSides: true },
    { id: 'c', name: 'Sign', color: [1, 0, 0, 1], roughness: 1, metalness: 0, unlit: true, seeThrough: true },
    {
      id: 'd',
      name: 'Plate',
      color: [0.5, 0.5, 0.5, 1],
      roughness: 0.5,
      metalness: 0.25,
      tinted: true,
      glow: '#ffffff',
      maps: { color: 0, surface: 0, normal: 0, shade: 0, glow: 0 },
      laid: {
        color: { shift: [0.25, -0.5], turn: 0.6, size: [2, 3] },
        shade: { set: 1, strength: 0.5 },
        normal: { strength: 2 },
      },
    },
  ];
  const scene = (): Scene => {
    const m = box({ width: 1, height: 1, depth: 1, cutX: 1, cutY: 1, cutZ: 1, onGround: false }, 1);
    const material = Int32Array.from({ length: m.faceCount }, (_, f) => f % 4);
    const uv = { domain: 'corner' as const, width: 2, data: new Float32Array(2 * m.cornerCount).fill(0.5) };
    const attributes = { material: { domain: 'face' as const, width: 1, data: material }, uv, uv2: uv };
    const mesh = m.with({ attributes, slots: looks.map((x) => x.id) });
    const images = [{ name: 'p.png', mime: 'image/png' as const, bytes: png }];
    return { pieces: [{ name: 'box', parent: -1, mesh }], materials: looks, images, warnings: [] };
  };

  test('come back as they were, and the validator has nothing to say', async () => {
    const bytes = await writeGlb(scene());
    const report = await validator.validateBytes(bytes);
    // Tangents are left to whoever shows it, as the standard has it (MikkTSpace).
    const told = report.issues.messages.filter((m) => m.severity < 2).map((m) => m.code);
    expect(told).toEqual(['MESH_PRIMITIVE_GENERATED_TANGENT_SPACE']);
    const back = (await readAny(bytes, 'a.glb')).materials;
    looks.forEach((was, i) => {
      const { id: _, color, laid, ...rest } = back[i];
      const { id: _id, color: wasColor, laid: wasLaid, ...wasRest } = was;
      expect({ ...rest, seeThrough: rest.seeThrough ?? false }).toEqual({
        ...wasRest,
        seeThrough: was.seeThrough ?? was.color[3] < 1,
      });
      color.forEach((x, k) => expect(x).toBeCloseTo(wasColor[k], 6));
      expect(Object.keys(laid ?? {}).sort()).toEqual(Object.keys(wasLaid ?? {}).sort());
      const had = wasLaid?.color;
      if (!had) return;
      expect(laid!.color!.turn).toBeCloseTo(had.turn!);
      for (const k of [0, 1]) {
        expect(laid!.color!.shift![k]).toBeCloseTo(had.shift![k]);
        expect(laid!.color!.size![k]).toBeCloseTo(had.size![k]);
      }
    });
  });

  test('UVs run from the foot of a picture, theirs from its top; there and back they are as they were', async () => {
    const theirs = [0.1, 0.2, 0.7, 0.25, 0.6, 0.9, 0.05, 1.5];
    const made = documentWith(() => undefined);
    for (const set of [0, 1]) made.p.setAttribute(`TEXCOORD_${set}`, made.list('VEC2', Float32Array.from(theirs)));
    const scene = await read(made.doc);
    const first = meshOf(scene);
    for (const name of ['uv', 'uv2'])
      [0, 1, 2, 0, 2, 3].forEach((v, c) => {
        expect(first.attributes[name].data[2 * c]).toBeCloseTo(theirs[2 * v], 6);
        expect(first.attributes[name].data[2 * c + 1]).toBeCloseTo(1 - theirs[2 * v + 1], 6);
      });
    const again = meshOf(await readAny(await writeGlb(scene), 'b.glb'));
    const sorted = (m: Mesh) =>
      Array.from({ length: m.cornerCount }, (_, c) =>
        [
          ...m.positions.subarray(3 * m.cornerVertex[c], 3 * m.cornerVertex[c] + 3),
          ...m.attributes.uv.data.subarray(2 * c, 2 * c + 2),
        ]
          .map((x) => Math.round(1e5 * x) || 0)
          .join(),
      ).sort();
    expect(sorted(again)).toEqual(sorted(first));
  });

  test('how a picture lies is the same map of UVs, though theirs run from the top', async () => {
    const [tx, ty, r, sx, sy] = [0.1, 0.2, 0.7, 2, 3];
    const made = documentWith((doc, p) => {
      const t = doc.createTexture('p').setImage(png).setMimeType('image/png');
      const m = doc.createMaterial('m').setBaseColorTexture(t);
      const how = doc.createExtension(KHRTextureTransform).createTransform();
      how.setOffset([tx, ty]).setRotation(r).setScale([sx, sy]);
      m.getBaseColorTextureInfo()!.setExtension(KHRTextureTransform.EXTENSION_NAME, how);
      p.setMaterial(m);
    });
    made.p.setAttribute('TEXCOORD_0', made.list('VEC2', Float32Array.from([0, 0, 1, 0, 1, 1, 0, 1])));
    const { shift, turn, size } = (await read(made.doc)).materials[0].laid!.color!;
    for (const [u, v] of [
      [0.3, 0.9],
      [0, 0],
      [1, 0.5],
    ]) {
      // As the extension says it, with v from the top: sized, turned counter-clockwise as seen, shifted.
      const theirs = [
        Math.cos(r) * sx * u + Math.sin(r) * sy * v + tx,
        -Math.sin(r) * sx * u + Math.cos(r) * sy * v + ty,
      ];
      const [x, y] = [size![0] * u, size![1] * (1 - v)];
      const ours = [
        Math.cos(turn!) * x - Math.sin(turn!) * y + shift![0],
        Math.sin(turn!) * x + Math.cos(turn!) * y + shift![1],
      ];
      expect(ours[0]).toBeCloseTo(theirs[0], 6);
      expect(1 - ours[1]).toBeCloseTo(theirs[1], 6);
    }
  });
});

test('nothing at all, and pieces without faces, are written as the validator wants it', async () => {
  const nothing = meshFrom([], []);
  for (const pieces of [[], [{ name: 'bare', parent: -1, mesh: nothing }], [{ name: 'group', parent: -1 }]]) {
    const bytes = await writeGlb({ pieces, materials: [], images: [], warnings: [] });
    expect((await validator.validateBytes(bytes)).issues.numErrors).toBe(0);
    await readAny(bytes, 'a.glb');
  }
});

describe('packed', () => {
  const ball = async (): Promise<Document> => {
    const mesh = cubeSphere({ radius: 1, cuts: 24 }, 1);
    const scene = { pieces: [{ name: 'ball', parent: -1, mesh }], materials: [], images: [], warnings: [] };
    return io.readBinary((await writeGlb(scene)) as Uint8Array<ArrayBuffer>);
  };
  const closed = async (bytes: Uint8Array, digits: number) => {
    const plain = volumeOf(meshOf(await read(await ball())));
    const s = await readAny(bytes, 'packed.glb');
    expect(volumeOf(meshOf(s))).toBeCloseTo(plain, digits);
    expect(s.warnings).toEqual([]);
  };

  test('by Draco', async () => {
    const doc = await ball();
    doc.createExtension(KHRDracoMeshCompression).setRequired(true);
    const encoder = await draco.createEncoderModule();
    const own = new WebIO().registerExtensions(ALL_EXTENSIONS).registerDependencies({ 'draco3d.encoder': encoder });
    const bytes = await own.writeBinary(doc);
    expect(bytes.length).toBeLessThan((await writeGlb(await read(await ball()))).length / 3);
    await closed(bytes, 2);
  });

  test('by meshopt', async () => {
    await Promise.all([MeshoptEncoder.ready, MeshoptDecoder.ready]);
    const doc = await ball();
    doc
      .createExtension(EXTMeshoptCompression)
      .setRequired(true)
      .setEncoderOptions({ method: EXTMeshoptCompression.EncoderMethod.QUANTIZE });
    const own = new WebIO()
      .registerExtensions(ALL_EXTENSIONS)
      .registerDependencies({ 'meshopt.encoder': MeshoptEncoder });
    const bytes = await own.writeBinary(doc);
    await closed(bytes, 4);
    // One that says it unpacks to more than it can be, and one that reads beyond its buffer.
    const head = new DataView(bytes.buffer, bytes.byteOffset).getUint32(12, true);
    const json = JSON.parse(new TextDecoder().decode(bytes.subarray(20, 20 + head)));
    const packed = json.bufferViews[0].extensions.EXT_meshopt_compression;
    expect(() => checkGltf(json, bytes.length, 'a.glb')).not.toThrow();
    packed.count++;
    expect(() => checkGltf(json, bytes.length, 'a.glb')).toThrow(/does not unpack to what it says/);
    packed.byteOffset = bytes.length;
    expect(() => checkGltf(json, bytes.length, 'a.glb')).toThrow(/outside of its buffer/);
  });

  test('into whole numbers', async () => {
    const doc = await ball();
    doc.createExtension(KHRMeshQuantization).setRequired(true);
    for (const p of doc.getRoot().listMeshes()[0].listPrimitives()) {
      const at = p.getAttribute('POSITION')!;
      const whole = Int16Array.from(at.getArray()! as Float32Array, (x) => Math.round(x * 20000));
      at.setArray(whole).setNormalized(true);
      doc
        .getRoot()
        .listNodes()[0]
        .setScale([32767 / 20000, 32767 / 20000, 32767 / 20000]);
    }
    const s = await readAny(await io.writeBinary(doc), 'packed.glb');
    const k = 32767 / 20000;
    expect(volumeOf(meshOf(s)) * k ** 3).toBeCloseTo(volumeOf(meshOf(await read(await ball()))), 3);
  });
});
