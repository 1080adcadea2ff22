/** Several UV sets on one piece: each laid out by its own step, drawn on, carried on and shipped. */
import { KINDS, packScene, readAny, readObj, writeGlb, writeObj, writePng, type Scene } from '../core/formats';
import { leftOut } from '../core/formats/pack';
import { nameOfUvSet, uvSetCalled, uvSets, withSetAhead, type Mesh } from '../core/mesh';
import { Memory } from '../core/recipe';
import { uvFigures } from '../core/uv';
import { buildScene, SHIP_DEFAULTS } from './build';
import * as changes from './changes';
import type { ProjectDocument } from './types';

/** A ball cut into more islands in the main set than in the other. */
function twoSets(): ProjectDocument {
  const d = changes.newProject('Test', 'game', 'mm');
  changes.addPiece(d, 'p', 'crate');
  changes.addStep(d, 'p', 'sphere', 's');
  changes.addStep(d, 'p', 'unwrap', 'u', { stretch: 1.05, size: '512' });
  changes.addStep(d, 'p', 'unwrap', 'w', { stretch: 3, size: '512', set: 'light' });
  changes.addStep(d, 'p', 'texture', 't', { name: 'shade', size: '256', set: 'light' });
  return d;
}
const shipped = async (d: ProjectDocument): Promise<Scene> =>
  (await buildScene(d, SHIP_DEFAULTS, { memory: new Memory(), encode: writePng })).scene;
const sheet = (m: Mesh, set: string) => uvFigures(m, m.attributes[set].data);

test('sets are called main, by the number a file gave them, or by a name', () => {
  expect(['', 'main', ' light ', '2'].map(uvSetCalled)).toEqual(['uv', 'uv', 'uv:light', 'uv2']);
  expect(['uv', 'uv:light', 'uv2'].map(nameOfUvSet)).toEqual(['main', 'light', '2']);
});

test('each step lays out its own set and leaves the others as they are', async () => {
  const mesh = (await shipped(twoSets())).pieces[0].mesh!;
  expect(uvSets(mesh)).toEqual(['uv', 'uv:light']);
  expect(sheet(mesh, 'uv').islands).toBeGreaterThan(sheet(mesh, 'uv:light').islands);
  for (const set of uvSets(mesh)) expect(sheet(mesh, set)).toMatchObject({ overlap: 0, flips: 0, outside: 0 });
  // Laid out alone, each is the same.
  const alone = twoSets();
  alone.pieces[0].recipe.splice(1, 1);
  const other = (await shipped(alone)).pieces[0].mesh!;
  expect(uvSets(other)).toEqual(['uv:light']);
  expect(Array.from(other.attributes['uv:light'].data)).toEqual(Array.from(mesh.attributes['uv:light'].data));
});

test('a set is seen in the place of the main one, the same mesh each time, and nothing is lost by it', async () => {
  const mesh = (await shipped(twoSets())).pieces[0].mesh!;
  const seen = withSetAhead(mesh, 'uv:light');
  expect(seen.attributes.uv).toBe(mesh.attributes['uv:light']);
  expect(seen.attributes['uv:light']).toBe(mesh.attributes.uv);
  expect(withSetAhead(mesh, 'uv:light')).toBe(seen);
  expect(withSetAhead(mesh, 'uv')).toBe(mesh);
  expect(uvSets(withSetAhead(mesh, 'uv:none'))).not.toContain('uv');
});

test('a GLB has both sets, its material the one that is drawn on; an OBJ, which knows one, that one', async () => {
  const scene = await shipped(twoSets());
  const mesh = scene.pieces[0].mesh!;
  const back = await readAny(await writeGlb(scene), 'crate.glb');
  const read = back.pieces.find((p) => p.mesh)!.mesh!;
  expect(uvSets(read)).toHaveLength(2);
  expect(back.materials[0].laid).toMatchObject({ color: { set: 1 }, surface: { set: 1 } });
  const obj = readObj(writeObj(scene).obj).pieces.find((p) => p.mesh)!.mesh!;
  expect(sheet(obj, 'uv').islands).toBe(sheet(mesh, 'uv:light').islands);
});

test('a kind of file that has room for one set says which pieces lose the others', async () => {
  const scene = await shipped(twoSets());
  await packScene(scene, 'glb', 'crate', false);
  expect(scene.warnings).toEqual([]);
  for (const kind of ['obj', 'ply', '3mf']) {
    const own = { ...scene, warnings: [] as string[] };
    await packScene(own, kind, 'crate', false);
    expect(own.warnings).toEqual([`${kind.toUpperCase()} has room for one UV set: of crate the others are left out.`]);
  }
  // What has none at all has nothing to lose of several.
  expect(KINDS.filter((k) => leftOut(k, scene).length > 0).map((k) => k.kind)).toEqual(['3mf', 'ply', 'obj']);
});

test('a texture on a set that is not there says so', async () => {
  const d = twoSets();
  d.pieces[0].recipe.splice(2, 1);
  const { outcomes } = await buildScene(d, SHIP_DEFAULTS, { memory: new Memory(), encode: writePng });
  expect(outcomes.get('p')!.at(-1)!.error).toBe(
    'There is no UV set light to write on: put an unwrap step for it before this one.',
  );
});

test('sets go on through a subdivision', async () => {
  const d = twoSets();
  changes.addStep(d, 'p', 'subdivide', 'd', { levels: 1 });
  const mesh = (await shipped(d)).pieces[0].mesh!;
  expect(uvSets(mesh)).toEqual(['uv', 'uv:light']);
  for (const set of uvSets(mesh)) expect(sheet(mesh, set).flips).toBe(0);
});
