/** Files of 1,000,000 triangles, out and in again. */
import { Document, WebIO } from '@gltf-transform/core';
import { emptyScene, readAny, write3mf, writeGlb, type Scene } from '../src/core/formats';
import { cubeSphere } from '../src/core/make';
import { keyOf } from '../src/core/math';
import { cornerNormals } from '../src/core/mesh/normals';
import { triangulate } from '../src/core/mesh';
import { median, type Benchmark, type Result } from './measure';

const ball = (): Scene => ({
  ...emptyScene(),
  pieces: [{ name: 'ball', parent: -1, mesh: cubeSphere({ radius: 0.5, cuts: 289 }, keyOf('files')) }],
});

/**
 * What the process holds at most while work goes on, above what it held before, MB: asked for every few milliseconds.
 */
async function memoryOf(work: () => unknown): Promise<number> {
  (globalThis as { gc?: () => void }).gc?.();
  const before = process.memoryUsage.rss();
  await work();
  // The highest that the process ever held is known to the system.
  return (process.resourceUsage().maxRSS * 1024 - before) / 1e6;
}

async function glb(): Promise<Result[]> {
  const scene = ball();
  const mesh = scene.pieces[0].mesh!;
  let bytes: Uint8Array = new Uint8Array(0);
  const out = await median(5, async () => {
    bytes = await writeGlb(scene);
  });
  let back = 0;
  const in_ = await median(5, async () => {
    back = (await readAny(bytes, 'ball.glb')).pieces[0].mesh!.vertexCount;
  });
  if (back !== mesh.vertexCount) throw new Error('The ball did not come back closed.');
  // The library alone, given ready arrays and giving arrays: it neither triangulates, nor joins, nor works out normals.
  const t = triangulate(mesh);
  const normal = cornerNormals(mesh, 0.7);
  const position = Float32Array.from(
    { length: 3 * mesh.cornerCount },
    (_, i) => mesh.positions[3 * mesh.cornerVertex[(i / 3) | 0] + (i % 3)],
  );
  const peer = await median(3, async () => {
    const doc = new Document();
    const buffer = doc.createBuffer();
    const list = (type: 'VEC3' | 'SCALAR', array: Float32Array<ArrayBuffer> | Uint32Array<ArrayBuffer>) =>
      doc.createAccessor().setType(type).setArray(array).setBuffer(buffer);
    const p = doc
      .createPrimitive()
      .setAttribute('POSITION', list('VEC3', position))
      .setAttribute('NORMAL', list('VEC3', normal as Float32Array<ArrayBuffer>))
      .setIndices(list('SCALAR', t.corners as Uint32Array<ArrayBuffer>));
    doc.createScene().addChild(doc.createNode().setMesh(doc.createMesh().addPrimitive(p)));
    await new WebIO().writeBinary(doc);
  });
  const peerIn = await median(3, () => new WebIO().readBinary(bytes as Uint8Array<ArrayBuffer>));
  const name = '@gltf-transform, packing alone';
  return [
    {
      name: `GLB of ${t.face.length} triangles written`,
      value: out,
      unit: 'ms',
      peer: name,
      peerValue: peer,
      ratio: peer / out,
      bar: '≤ 1000 ms',
      ok: out <= 1000,
    },
    {
      name: '… and read, joined',
      value: in_,
      unit: 'ms',
      peer: name,
      peerValue: peerIn,
      ratio: peerIn / in_,
      bar: '≤ 1200 ms',
      ok: in_ <= 1200,
    },
  ];
}

async function threemf(): Promise<Result[]> {
  const scene = ball();
  const mesh = scene.pieces[0].mesh!;
  let bytes: Uint8Array = new Uint8Array(0);
  const outMemory = await memoryOf(async () => {
    bytes = await write3mf(scene);
  });
  const inMemory = await memoryOf(() => readAny(bytes, 'ball.3mf'));
  const out = await median(
    3,
    async () => {
      bytes = await write3mf(scene);
    },
    0,
  );
  let back = 0;
  const in_ = await median(
    3,
    async () => {
      back = (await readAny(bytes, 'ball.3mf')).pieces[0].mesh!.vertexCount;
    },
    0,
  );
  if (back !== mesh.vertexCount) throw new Error('The ball did not come back closed.');
  const most = Math.max(outMemory, inMemory);
  return [
    { name: '3MF of 1,002,252 triangles written', value: out, unit: 'ms', bar: '≤ 4000 ms', ok: out <= 4000 },
    { name: '… and read', value: in_, unit: 'ms', bar: '≤ 4000 ms', ok: in_ <= 4000 },
    { name: '… memory more, at most', value: most, unit: 'MB', bar: '≤ 500 MB', ok: most <= 500 },
  ];
}

export const files: Benchmark[] = [
  { name: 'glb', run: glb },
  { name: '3mf', run: threemf },
];
