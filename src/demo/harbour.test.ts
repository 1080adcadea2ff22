import { Memory } from '../core/recipe';
import { uvFigures } from '../core/uv';
import { followDocument } from '../document/follow';
import { harbour } from './harbour';

test('the stone lies in five islands, within its bound, and keeps them where it is made finer afterwards', async () => {
  const doc = structuredClone(await harbour());
  const stone = doc.pieces.find((p) => p.name === 'harbour stone')!;
  const unwrap = stone.recipe.find((s) => s.kind === 'unwrap')!;
  const { outcomes } = await followDocument(doc, { memory: new Memory() }).piece(stone);
  const laid = outcomes.find((o) => o.step === unwrap.id)!;
  const figures = (mesh: typeof laid.mesh) => uvFigures(mesh, mesh.attributes.uv.data as Float32Array, 1024);
  const before = figures(laid.mesh);
  expect(before).toMatchObject({ islands: 5, flips: 0, overlap: 0, outside: 0 });
  expect(before.mostly.stretch).toBeLessThan(Number(unwrap.values.stretch) + 0.005);
  const after = outcomes.at(-1)!.mesh;
  expect(after.faceCount).toBe(16 * laid.mesh.faceCount);
  expect(figures(after)).toMatchObject({ islands: 5, flips: 0, overlap: 0, outside: 0 });
});
