/** Several pieces on one sheet: followed as each of them asks for it. */
import { UV, type Mesh } from '../core/mesh';
import { mergeMeshes } from '../core/edit/merge';
import { Memory } from '../core/recipe';
import { uvFigures } from '../core/uv';
import * as changes from './changes';
import { followDocument } from './follow';
import { leaveSheet, shareSheet, unwrapStepIn } from './sharing';
import type { ProjectDocument } from './types';

const BOX = { width: 1, height: 0.5, depth: 2, cutX: 1, cutY: 1, cutZ: 1, onGround: false };
function three(): ProjectDocument {
  const d = changes.newProject('Quay', 'game', 'mm');
  changes.addPiece(d, 'a', 'crate');
  changes.addStep(d, 'a', 'box', 'a1', BOX);
  changes.addPiece(d, 'b', 'buoy');
  changes.addStep(d, 'b', 'sphere', 'b1', { size: 1.2 });
  changes.addStep(d, 'b', 'texture', 'b2', { size: '256' });
  changes.addPiece(d, 'c', 'drum');
  changes.addStep(d, 'c', 'cylinder', 'c1', { size: 1.2, height: 1.5 });
  return d;
}
async function shown(d: ProjectDocument, memory = new Memory()) {
  const followed = followDocument(d, { memory });
  const out: Record<string, { mesh: Mesh; errors: string[]; hash: string; density: number }> = {};
  for (const p of d.pieces) {
    const { outcomes, shown: last } = await followed.piece(p);
    const share = outcomes.find((o) => p.recipe.find((s) => s.id === o.step)?.kind === 'share');
    out[p.id] = {
      mesh: last!.geometry.mesh!,
      errors: outcomes.flatMap((o) => o.error ?? []),
      hash: share?.hash ?? '',
      density: share?.figures.density ?? 0,
    };
  }
  return out;
}
/** What the layouts of pieces come to on one sheet. */
function together(meshes: readonly Mesh[]) {
  const all = mergeMeshes(meshes.map((mesh, i) => ({ mesh, name: `${i}`, seed: i + 1 })));
  return uvFigures(all, all.attributes[UV].data, 1024);
}
const uvOf = (m: Mesh): number[] => Array.from(m.attributes[UV].data);

test('islands of all lie on one sheet, none on another, as dense on each as on the others', async () => {
  const d = three();
  shareSheet(d, ['a', 'b', 'c']);
  expect(d.pieces.map((p) => p.recipe.map((s) => s.kind))).toEqual([
    ['box', 'unwrap', 'share'],
    ['sphere', 'unwrap', 'share', 'texture'],
    ['cylinder', 'unwrap', 'share'],
  ]);
  const now = await shown(d);
  const meshes = ['a', 'b', 'c'].map((id) => now[id].mesh);
  expect(Object.values(now).flatMap((x) => x.errors)).toEqual([]);
  const figures = together(meshes);
  expect(figures).toMatchObject({ flips: 0, overlap: 0, outside: 0 });
  expect(figures.coverage).toBeGreaterThan(0.4);
  // Each has its share of the sheet: as much as its surface has of all.
  const densities = meshes.map((m) => {
    const own = uvFigures(m, m.attributes[UV].data, 64);
    return (own.texelDensityMin + own.texelDensityMax) / 2;
  });
  for (const x of densities) expect(x / densities[0]).toBeCloseTo(1, 0);
  expect(new Set([now.a.density, now.b.density, now.c.density]).size).toBe(1);
});

test('whoever asks gets the same sheet, whatever was remembered', async () => {
  const d = three();
  shareSheet(d, ['a', 'b', 'c']);
  const memory = new Memory();
  const first = await shown(d, memory);
  for (const id of ['c', 'a', 'b']) {
    const alone = await followDocument(d, { memory: new Memory() }).piece(d.pieces.find((p) => p.id === id)!);
    expect(uvOf(alone.shown!.geometry.mesh!)).toEqual(uvOf(first[id].mesh));
  }
});

test('a change of one is followed by all; where one stands changes nothing, how large it stands does', async () => {
  const d = three();
  shareSheet(d, ['a', 'b', 'c']);
  const memory = new Memory();
  const before = await shown(d, memory);
  changes.setValues(d, 'a', 'a1', { height: 3 });
  const wider = await shown(d, memory);
  expect(wider.b.hash).not.toBe(before.b.hash);
  expect(together(['a', 'b', 'c'].map((id) => wider[id].mesh))).toMatchObject({ flips: 0, overlap: 0, outside: 0 });

  d.pieces[1].place = { ...d.pieces[1].place, at: [4, 5, 6] };
  const moved = await shown(d, memory);
  for (const id of ['a', 'b', 'c']) expect(moved[id].hash).toBe(wider[id].hash);

  d.pieces[1].place = { ...d.pieces[1].place, size: [3, 3, 3] };
  const larger = await shown(d, memory);
  const fill = (m: Mesh): number => uvFigures(m, m.attributes[UV].data, 512).coverage;
  expect(fill(larger.b.mesh)).toBeGreaterThan(1.5 * fill(moved.b.mesh));
  expect(together(['a', 'b', 'c'].map((id) => larger[id].mesh))).toMatchObject({ overlap: 0, outside: 0 });
});

test('where one is on whole texels, so is the sheet', async () => {
  const d = three();
  changes.addStep(d, 'a', 'unwrap', 'u', { pixels: true, size: '256', padding: 2 });
  shareSheet(d, ['a', 'c']);
  expect(d.pieces[2].recipe.find((s) => s.kind === 'share')!.values).toMatchObject({ pixels: true, size: '1024' });
  const now = await shown(d);
  const { data } = now.a.mesh.attributes[UV];
  for (const x of data) expect(Math.abs(x * 1024 - Math.round(x * 1024))).toBeLessThan(1e-2);
  expect(together([now.a.mesh, now.c.mesh])).toMatchObject({ flips: 0, overlap: 0, outside: 0 });
});

test('one of them that is gone, or laid out no more, is said; the step passes on what it had', async () => {
  const d = three();
  shareSheet(d, ['a', 'b', 'c']);
  changes.removeStep(d, 'c', unwrapStepIn(d, d.pieces[2]).id);
  const now = await shown(d);
  expect(now.a.errors).toEqual(['The step of “drum” that this goes from is no longer there.']);
  expect(now.a.mesh.attributes[UV]).toBeDefined();
  changes.removePieces(d, ['c']);
  expect((await shown(d)).b.errors).toEqual(['The other piece is no longer there.']);
});

test('what comes between the layout and the sheet it shares is told, not guessed at', async () => {
  const d = three();
  shareSheet(d, ['a', 'b']);
  const [a] = d.pieces;
  changes.addStep(d, 'a', 'subdivide', 's', { levels: 1 }, a.recipe.find((s) => s.kind === 'unwrap')!.id);
  const now = await shown(d);
  expect(now.a.errors).toEqual([
    'The piece is not as it lies on the sheet it shares: lay it on one sheet with the others again.',
  ]);
  expect(now.b.errors).toEqual([]);
});

test('laid on one sheet again they leave the one before; one that leaves has its sheet for itself', async () => {
  const d = three();
  shareSheet(d, ['a', 'b', 'c']);
  shareSheet(d, ['a', 'c']);
  const steps = (id: string) => d.pieces.find((p) => p.id === id)!.recipe.filter((s) => s.kind === 'share');
  expect([steps('a').length, steps('b').length, steps('c').length]).toEqual([1, 1, 1]);
  const { mesh, errors } = (await shown(d)).a;
  expect(errors).toEqual([]);
  leaveSheet(d, d.pieces[0]);
  expect(steps('a')).toEqual([]);
  const fill = (m: Mesh): number => uvFigures(m, m.attributes[UV].data, 256).coverage;
  expect(fill((await shown(d)).a.mesh)).toBeGreaterThan(1.2 * fill(mesh));
  expect(() => shareSheet(d, ['a'])).toThrow('Pick two pieces or more to lay them on one sheet.');
});
