/** The shelf's picture of a project: its recipes followed and drawn by core's software renderer. */
import { evaluate, Memory } from '../core/recipe/evaluate';
import { fromHex, placed } from '../core/formats/scene';
import { applyPoint, IDENTITY, type Affine } from '../core/math/affine';
import type { Mesh } from '../core/mesh/mesh';
import { readPng, writePng } from '../core/formats/png';
import { toPlane } from '../core/blueprint/blueprint';
import { sketch, type SketchItem, type SketchPicture } from '../core/render/sketch';
import { visiblePieces } from '../document/build';
import { sourceOf, worlds } from '../document/pieces';
import type { Blueprint, ProjectDocument } from '../document/types';

const CLAY = fromHex('#b3b9ac');
const MOST_FACES = 400_000,
  MOST_PIXELS = 20_000_000;

export async function thumbnailOf(
  doc: ProjectDocument,
  blob: (sha: string) => Promise<Uint8Array>,
): Promise<Uint8Array> {
  const memory = new Memory(128 * 1024 * 1024),
    items: SketchItem[] = [];
  let faces = 0;
  const visible = visiblePieces(doc),
    world = worlds(doc),
    done = new Map<string, Mesh | undefined>();
  for (const piece of doc.pieces) {
    if (piece.kind !== 'mesh' || !visible.has(piece.id) || faces > MOST_FACES) continue;
    const source = sourceOf(doc, piece);
    // Subdivision beyond two levels cannot be seen at this size.
    const recipe = source.recipe
      .filter((s) => s.kind !== 'texture')
      .map((s) =>
        s.kind === 'subdivide' && Number(s.values.levels) > 2 ? { ...s, values: { ...s.values, levels: 2 } } : s,
      );
    const steps = await evaluate(recipe, { memory, materials: doc.materials, blob, upTo: source.upTo ?? undefined });
    if (!done.has(source.id)) done.set(source.id, steps[steps.length - 1]?.mesh);
    const own = done.get(source.id),
      mesh = own && placed(own, world.get(piece.id) ?? IDENTITY);
    if (!mesh || (mesh.faceCount === 0 && !mesh.curves)) continue;
    faces += mesh.faceCount;
    const looks = mesh.slots
      .map((id) => doc.materials.find((m) => m.id === id))
      .map((m) => (m ? fromHex(m.color) : CLAY));
    items.push({ mesh, smooth: source.smooth, color: (slot) => looks[slot] ?? CLAY });
  }
  const pictures: SketchPicture[] = [];
  for (const piece of doc.pieces)
    if (piece.blueprint && visible.has(piece.id) && pictures.length < 12)
      pictures.push(await pictureOf(doc, piece.blueprint, world.get(piece.id) ?? IDENTITY, blob));
  return writePng(
    sketch(items, { width: 480, height: 320, top: fromHex('#f1ede5'), bottom: fromHex('#d6cebf') }, pictures),
  );
}

/** A blueprint where it stands. Only PNG is unpacked here; other pictures show as paper. */
async function pictureOf(
  doc: ProjectDocument,
  b: Blueprint,
  world: Affine,
  blob: (sha: string) => Promise<Uint8Array>,
): Promise<SketchPicture> {
  const [x0, y0, x1, y1] = b.frame,
    corners = (
      [
        [x0, y1],
        [x1, y1],
        [x1, y0],
        [x0, y0],
      ] as const
    ).map((p) => {
      const [u, v] = toPlane(b, p);
      return applyPoint(world, [u, v, 0]);
    });
  const image = doc.images.find((i) => i.id === b.image);
  try {
    return {
      corners,
      frame: b.frame,
      ...(image?.mime === 'image/png' && image.width * image.height < MOST_PIXELS
        ? { image: readPng(await blob(image.blob)) }
        : {}),
    };
  } catch {
    return { corners, frame: b.frame };
  }
}
