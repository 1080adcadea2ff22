/**
 * What the intake worker answers: models whose stored file gives the same mesh again, their pictures and materials,
 * pictures, heights, refusals.
 */
import {
  writeGltf,
  writeGlb,
  writeHeightsPng,
  writeHeightsTiff,
  writePng,
  emptyScene,
  type Scene,
  writeStl,
  write3mf,
  writeZip,
} from '../core/formats';
import { translation } from '../core/math';
import { box } from '../core/make';
import { boundsOf, volumeOf } from '../core/mesh';
import { followRecipe } from '../core/steps';
import { Memory } from '../core/recipe';
import { readDrop } from './intake';

const cube = box({ width: 2, height: 2, depth: 2, cutX: 1, cutY: 1, cutZ: 1, onGround: false }, 1);
const text = (s: string) => new TextEncoder().encode(s);
const scene = (...names: string[]): Scene => ({
  ...emptyScene(),
  pieces: names.map((name, i) => ({ name, parent: -1, mesh: cube, place: translation(5 * i, 0, 0) })),
});
const picture = writePng({ width: 3, height: 2, data: new Uint8Array(24).fill(90) });
const read = (...files: [string, Uint8Array][]) => readDrop(files, () => undefined);
const broughtIn = async (stored: Uint8Array, values: Record<string, unknown>) => {
  const out = await followRecipe([{ id: 's', kind: 'brought-in', on: true, values: { blob: 'x', ...values } }], {
    memory: new Memory(),
    blob: async () => stored,
  });
  expect(out[0].error).toBeUndefined();
  return out[0].mesh;
};

test('glTF with files: what is kept is enough to read it again; one mesh in two places is told so', async () => {
  const files = await writeGltf(scene('left', 'right'), 'pair');
  const {
    models: [m],
    refused,
  } = await read(...(files.reverse() as [string, Uint8Array][]));
  expect(refused).toEqual([]);
  expect(m.pieces.map((p) => [p.name, p.item, p.same, !!p.place])).toEqual([
    ['left', 0, undefined, false],
    ['right', 1, 0, true],
  ]);
  expect(m.local).toBe(true);
  expect(volumeOf(await broughtIn(m.stored, { file: m.name, item: 1, local: true }))).toBeCloseTo(8, 5);
  // Placed by the file, as projects of earlier versions have it, it stands where the file puts it.
  expect(boundsOf((await broughtIn(m.stored, { file: m.name, item: 1, local: false })).positions).max[0]).toBeCloseTo(
    6,
    5,
  );
});

test('a unit and an up axis, guessed or said, are values of the step: changed, the piece follows', async () => {
  const stl = writeStl(scene('block'));
  const {
    models: [m],
  } = await read(['block.stl', stl]);
  expect(m.intake).toMatchObject({ unit: 0.001, unitKnown: false });
  const lying = box({ width: 1, height: 2, depth: 3, cutX: 1, cutY: 1, cutZ: 1, onGround: false }, 1);
  const bytes = writeStl({ ...emptyScene(), pieces: [{ name: 'a', parent: -1, mesh: lying }] });
  const size = (b: ReturnType<typeof boundsOf>) => b.max.map((x, k) => Math.round((x - b.min[k]) * 1e6) / 1e6);
  expect(size(boundsOf((await broughtIn(bytes, { file: 'a.stl', unit: 0.01, up: 'y' })).positions))).toEqual([
    0.01, 0.02, 0.03,
  ]);
  const turned = await broughtIn(bytes, { file: 'a.stl', unit: 1, up: 'z' });
  expect(size(boundsOf(turned.positions))).toEqual([1, 3, 2]);
  expect(volumeOf(turned)).toBeCloseTo(6, 5); // turned, not mirrored
  const {
    models: [inch],
  } = await read(['a.3mf', await write3mf({ ...scene('b'), scale: { unit: 0.0254 } })]);
  expect(inch.intake).toMatchObject({ unit: 0.0254, unitKnown: true, up: 'z', upKnown: true });
});

test('OBJ with its pictures, a TIFF among them: the bench can show all; what is no picture is said', async () => {
  const tiff = writeHeightsTiff({ width: 2, height: 2, bits: 16, data: Float32Array.from([0, 0.3, 0.6, 1]) });
  const obj =
    'mtllib a.mtl\nv 0 0 0\nv 1 0 0\nv 0 1 0\nusemtl A\nf 1 2 3\nusemtl B\nf 1 3 2\nusemtl C\nf 2 1 3\n' +
    'usemtl D\nf 3 2 1\n';
  const mtl = 'newmtl A\nmap_Kd a.png\nnewmtl B\nmap_Kd b.tif\nnewmtl C\nmap_Kd c.png\nnewmtl D\nmap_Kd d.png\n';
  const {
    models: [m],
  } = await read(
    ['a.obj', text(obj)],
    ['a.mtl', text(mtl)],
    ['a.png', picture],
    ['b.tif', tiff],
    ['c.png', text('nothing')],
  );
  expect(m.images.map((i) => [i.name, i.mime, i.width])).toEqual([
    ['a.png', 'image/png', 3],
    ['b.tif', 'image/png', 2],
  ]);
  expect(m.materials.map((x) => x.maps?.color)).toEqual([0, 1, undefined, undefined]);
  expect(m.intake.missing).toEqual(['d.png']);
  expect(m.intake.warnings.join(' ')).toMatch(/d\.png was not with the file.*c\.png is not a picture/s);
  expect(m.stored).toEqual(text(obj)); // materials and pictures have become the project's own
});

test('pictures, heights and broken files of one drop each go their way', async () => {
  const progress: string[] = [];
  const r = await readDrop(
    [
      ['plan.png', picture],
      ['land.png', writeHeightsPng({ width: 2, height: 2, bits: 16, data: new Float32Array(4) })],
      ['draw.svg', text('<svg xmlns="x" width="1" height="1"><path d="M0 0L1 1"/></svg>')],
      ['page.pdf', text('%PDF-1.4')],
      ['bad.glb', text('glTF')],
      ['ok.glb', await writeGlb(scene('one'))],
      ['cut.tiff', text('II*\0\u0008\0\0\0')],
    ],
    (file) => {
      progress.push(file);
    },
  );
  expect(r.pictures.map((p) => [p.name, p.kind])).toEqual([
    ['plan.png', 'image'],
    ['draw.svg', 'svg'],
    ['page.pdf', 'pdf'],
  ]);
  expect(r.heights.map((h) => [h.name, h.bits, h.width])).toEqual([['land.png', 16, 2]]);
  expect(r.models.map((m) => m.name)).toEqual(['ok.glb']);
  expect(r.refused).toHaveLength(2);
  for (const s of r.refused) expect(s).toMatch(/^[^\n]+\.$/);
  expect(new Set(progress)).toEqual(new Set(['bad.glb', 'ok.glb', 'plan.png', 'draw.svg', 'page.pdf', 'land.png']));
});

test('a ZIP in which a picture has the name of another in a second folder: the first is taken, nothing is written over', async () => {
  const {
    models: [m],
  } = await read([
    'a.zip',
    writeZip(
      new Map([
        ['a.obj', text('mtllib a.mtl\nv 0 0 0\nv 1 0 0\nv 0 1 0\nusemtl A\nf 1 2 3\n')],
        ['a.mtl', text('newmtl A\nmap_Kd skin.png\n')],
        ['one/skin.png', picture],
        ['two/skin.png', writePng({ width: 9, height: 9, data: new Uint8Array(324) })],
      ]),
    ),
  ]);
  expect(m.images.map((i) => i.width)).toEqual([3]);
});
