/** The shelf's picture of a project: its recipes followed and drawn by core's software renderer. */
import { Memory } from '../core/recipe';
import { lighter, sketchItems } from '../document/sketches';
import { fromHex, readPng, writePng } from '../core/formats';
import { applyPoint, IDENTITY, type Affine } from '../core/math';
import { toPlane } from '../core/blueprint';
import { sketch, type SketchItem, type SketchPicture } from '../core/render';
import { visiblePieces } from '../document/build';
import { worlds } from '../document/placing';
import type { Blueprint, ProjectDocument } from '../document/types';

const MOST_FACES = 400_000;
const MOST_PIXELS = 20_000_000;

const LOOK = { top: fromHex('#f1ede5'), bottom: fromHex('#d6cebf') };
type Blob = (sha: string) => Promise<Uint8Array>;

export async function thumbnailOf(doc: ProjectDocument, blob: Blob): Promise<Uint8Array> {
  const { items, pictures } = await followed(doc, blob);
  return writePng(sketch(items, { width: 480, height: 320, ...LOOK }, pictures));
}

/** The model from eight sides, side by side, in the order of a turn. */
export async function turningOf(doc: ProjectDocument, blob: Blob): Promise<Uint8Array> {
  const { items, pictures } = await followed(doc, blob);
  const width = 288;
  const height = 192;
  const data = new Uint8Array(4 * 8 * width * height);
  for (let k = 0; k < 8; k++) {
    const view = sketch(items, { width, height, ...LOOK, turn: (k * Math.PI) / 4 }, pictures);
    for (let y = 0; y < height; y++)
      data.set(view.data.subarray(4 * y * width, 4 * (y + 1) * width), 4 * (y * 8 * width + k * width));
  }
  return writePng({ width: 8 * width, height, data });
}

/** What there is to be drawn: the pieces' recipes followed, and the blueprints. */
async function followed(doc: ProjectDocument, blob: Blob): Promise<{ items: SketchItem[]; pictures: SketchPicture[] }> {
  const visible = visiblePieces(doc);
  const world = worlds(doc);
  const memory = new Memory(128 * 1024 * 1024);
  const items = await sketchItems(doc, visible, MOST_FACES, { memory, blob, recipe: lighter });
  const pictures: SketchPicture[] = [];
  for (const piece of doc.pieces)
    if (piece.blueprint && visible.has(piece.id) && pictures.length < 12)
      pictures.push(await pictureOf(doc, piece.blueprint, world.get(piece.id) ?? IDENTITY, blob));
  return { items, pictures };
}

/** A blueprint where it stands. Only PNG is unpacked here; other pictures show as paper. */
async function pictureOf(
  doc: ProjectDocument,
  b: Blueprint,
  world: Affine,
  blob: (sha: string) => Promise<Uint8Array>,
): Promise<SketchPicture> {
  const [x0, y0, x1, y1] = b.frame;
  const corners = (
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
