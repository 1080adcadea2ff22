/** The shelf's picture of a project: its recipes followed and drawn by core's software renderer. */
import { evaluate, Memory } from '../core/recipe/evaluate';
import { fromHex } from '../core/formats/scene';
import { writePng } from '../core/formats/png';
import { sketch, type SketchItem } from '../core/render/sketch';
import type { ProjectDocument } from '../document/types';

const CLAY = fromHex('#b3b9ac');
const MOST_FACES = 400_000;

export async function thumbnailOf(doc: ProjectDocument, blob: (sha: string) => Promise<Uint8Array>): Promise<Uint8Array> {
  const memory = new Memory(128 * 1024 * 1024), items: SketchItem[] = [];
  let faces = 0;
  const shown = (id: string | null): boolean => id === null || doc.pieces.some((p) => p.id === id && p.visible && shown(p.parent));
  for (const piece of doc.pieces) {
    if (piece.kind !== 'mesh' || !shown(piece.id) || faces > MOST_FACES) continue;
    // Subdivision beyond two levels cannot be seen at this size.
    const recipe = piece.recipe.filter((s) => s.kind !== 'texture').map((s) => (s.kind === 'subdivide' && Number(s.values.levels) > 2 ? { ...s, values: { ...s.values, levels: 2 } } : s));
    const steps = await evaluate(recipe, { memory, materials: doc.materials, blob, upTo: piece.upTo ?? undefined });
    const mesh = steps[steps.length - 1]?.mesh;
    if (!mesh || mesh.faceCount === 0) continue;
    faces += mesh.faceCount;
    const looks = mesh.slots.map((id) => doc.materials.find((m) => m.id === id)).map((m) => (m ? fromHex(m.color) : CLAY));
    items.push({ mesh, smooth: piece.smooth, color: (slot) => looks[slot] ?? CLAY });
  }
  return writePng(sketch(items, { width: 480, height: 320, top: fromHex('#f1ede5'), bottom: fromHex('#d6cebf') }));
}
