/** The lamp as a person changes its beginnings: colours, seams and the moves after them stay where they were. */
import { areaOf, mask, type Mesh } from '../core/mesh';
import { Memory } from '../core/recipe';
import { followRecipe } from '../core/steps';
import type { Piece, Step } from '../document/types';
import { signalLamp } from './lamp';

const shares = (mesh: Mesh): Map<string, number> => {
  const of = mesh.attributes.material.data;
  const all = areaOf(mesh);
  return new Map(
    mesh.slots.map((id, slot) => {
      const faces = [...of.keys()].filter((f) => of[f] === slot);
      return [id, areaOf(mesh, mask(mesh.faceCount, faces)) / all];
    }),
  );
};

test.each([
  ['base', { sides: 16 }],
  ['base', { sides: 12 }],
  ['base', { rows: 3 }],
  ['hood', { cutZ: 2 }],
  ['hood', { cutY: 3 }],
  ['hood', { width: 0.2, height: 0.1 }],
] as const)('%s begun with %j: its colours cover what they covered, nothing is lost', async (name, values) => {
  const doc = await signalLamp();
  const piece = doc.pieces.find((p) => p.name === name) as Piece;
  const { materials } = doc;
  const memory = new Memory();
  const follow = async (recipe: readonly Step[]) => {
    const out = await followRecipe(
      recipe.filter((s) => s.kind !== 'texture'),
      { memory, materials },
    );
    expect(out.flatMap((o) => o.warnings.map((w) => w.text))).toEqual([]);
    return out.at(-1)!.mesh;
  };
  const before = shares(await follow(piece.recipe));
  const [first, ...rest] = piece.recipe;
  const after = shares(await follow([{ ...first, values: { ...first.values, ...values } }, ...rest]));
  for (const [id, share] of before) expect(Math.abs(after.get(id)! - share)).toBeLessThan(0.04);
});
