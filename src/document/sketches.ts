/** What a small picture of a project draws: its pieces where they stand, in the colours of their materials. */
import { fromHex } from '../core/formats';
import { isEmptyGeometry, sizeOf, transformGeometry, whole } from '../core/geometry';
import { IDENTITY } from '../core/math';
import type { SketchItem } from '../core/render';
import { followDocument, type FollowOptions } from './follow';
import { worlds } from './placing';
import type { ProjectDocument, Step } from './types';

const CLAY = fromHex('#b3b9ac');

/** Formulas that ask (and no value that is named so) where a place lies on the sheet. */
const asksSheet = (steps: readonly Step[]): boolean =>
  /\buv\b(?!":)/.test(JSON.stringify(steps.flatMap((s) => (s.kind === 'unwrap' ? [] : [s.values]))));

/** Without sheets and textures, and subdivided no further than can be seen at such a size. */
export const lighter = (steps: readonly Step[]): Step[] =>
  steps
    .filter((s) => s.kind !== 'texture' && (s.kind !== 'unwrap' || asksSheet(steps)))
    .map((s) =>
      s.kind === 'subdivide' && Number(s.values.levels) > 2 ? { ...s, values: { ...s.values, levels: 2 } } : s,
    );

/** Of the pieces asked for, until there are more than `most` faces. */
export async function sketchItems(
  doc: ProjectDocument,
  pieces: ReadonlySet<string>,
  most: number,
  o: FollowOptions,
): Promise<SketchItem[]> {
  const items: SketchItem[] = [];
  const world = worlds(doc);
  const recipes = followDocument(doc, o);
  let faces = 0;
  for (const piece of doc.pieces) {
    if (piece.kind !== 'mesh' || !pieces.has(piece.id) || faces > most) continue;
    const { source, shown } = await recipes.piece(piece);
    if (!shown || isEmptyGeometry(shown.geometry)) continue;
    faces += sizeOf(shown.geometry).faces;
    const all = whole(shown.geometry);
    const looks = (all.mesh?.slots ?? [])
      .map((id) => doc.materials.find((m) => m.id === id))
      .map((m) => (m ? fromHex(m.color) : CLAY));
    const geometry = transformGeometry(all, world.get(piece.id) ?? IDENTITY);
    items.push({ geometry, smooth: source.smooth, color: (slot) => looks[slot] ?? CLAY });
  }
  return items;
}
