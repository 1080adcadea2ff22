/** The lamp as a person changes its beginnings: colours, seams and the moves after them stay where they were. */
import { areaOf, mask, type Mesh } from '../core/mesh';
import { Memory, seenOf, type Move } from '../core/recipe';
import { followRecipe } from '../core/steps';
import { noteSpots } from '../document/pieces';
import type { Piece, ProjectDocument, Step } from '../document/types';
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

/** Made once; each takes a copy. */
let lamp: ProjectDocument;
beforeAll(async () => {
  lamp = await signalLamp();
});

test.each([
  ['base', { sides: 16 }],
  ['base', { sides: 12 }],
  ['base', { rows: 3 }],
  ['hood', { cutZ: 2 }],
  ['hood', { cutY: 3 }],
  ['hood', { width: 0.2, height: 0.1 }],
] as const)('%s begun with %j: its colours cover what they covered, nothing is lost', async (name, values) => {
  const doc = structuredClone(lamp);
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

test('what was seen is written to the very picks it was seen of, though moves went into another order meanwhile', async () => {
  const doc = structuredClone(lamp);
  const piece = doc.pieces.find((p) => p.name === 'hood') as Piece;
  const memory = new Memory();
  await followRecipe(piece.recipe, { memory, materials: doc.materials });
  const seen = seenOf(piece.recipe, memory.witnesses);
  const spotsOf = (p: Piece) =>
    new Map((p.recipe[1].values.moves as Move[]).map((m) => [m.id, m.pick.spots] as [string, string | undefined]));
  const straight = structuredClone(doc);
  noteSpots(straight, piece.id, seen);
  const turned = structuredClone(doc);
  const other = turned.pieces.find((p) => p.id === piece.id)!;
  other.recipe[1].values.moves = [...(other.recipe[1].values.moves as Move[])].reverse();
  const [changed] = other.recipe[1].values.moves as Move[];
  changed.pick = { ...changed.pick, keys: changed.pick.keys.map((k) => k + 1) };
  noteSpots(turned, piece.id, seen);
  const right = spotsOf(straight.pieces.find((p) => p.id === piece.id) as Piece);
  expect([...right.values()].every(Boolean)).toBe(true);
  for (const [id, spots] of spotsOf(other)) expect(spots).toBe(id === changed.id ? undefined : right.get(id));
});
