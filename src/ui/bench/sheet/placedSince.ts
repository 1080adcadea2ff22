import type { Mesh } from '../../../core/mesh';
import type { HandPlaces } from '../../../core/uv/follow/placed';
import { key2 } from '../../../core/math/hash';
import type { OfSheet } from '../../../document/changes';
import type { ProjectDocument } from '../../../document/types';

/** Places given on the sheet that the picture of it does not have yet. */
export interface PlacedSince {
  /** All that was placed, as the document had it then. */
  placed: HandPlaces;
  /** Keys of faces that were placed. */
  faces: ReadonlySet<number>;
}

/** What a step has placed by hand on a sheet, as a document has it. */
export function placedBy(
  document: ProjectDocument | undefined,
  at: { piece?: string; step?: string; sheet: OfSheet },
): HandPlaces | undefined {
  const recipe = document?.pieces.find((p) => p.id === at.piece)?.recipe;
  return recipe?.find((x) => x.id === at.step)?.values[at.sheet] as HandPlaces | undefined;
}

/** Whether two say the same; where corners were on the surface may have been noted since. */
const same = (a: HandPlaces | undefined, b: HandPlaces | undefined): boolean => a?.uv === b?.uv;

/**
 * Places that came in, beside those that were waiting already: these count on only while nothing but the sheet has
 * changed what is placed. `was` and `now` are what the document had before and has now.
 */
export function alsoPlaced(
  before: PlacedSince | null,
  was: HandPlaces | undefined,
  now: HandPlaces,
  faces: Iterable<number>,
): PlacedSince {
  const waiting = before && same(before.placed, was) ? before.faces : [];
  return { placed: now, faces: new Set([...waiting, ...faces]) };
}

/**
 * Where corners lie, with what was placed since the picture was made: what a hand takes up next is taken from where it
 * lies by the document, not from where it lay before. `drawn` and `now` are what is placed by the document that the
 * picture was made of, and by the one there is now.
 */
export function layoutNow(
  mesh: Mesh,
  uv: Float32Array,
  since: PlacedSince | null,
  drawn: HandPlaces | undefined,
  now: HandPlaces | undefined,
): Float32Array {
  if (!since || !now || !same(since.placed, now) || same(drawn, now)) return uv;
  const entry = new Map<number, number>();
  now.face.forEach((f, i) => {
    if (since.faces.has(f)) entry.set(key2(f, now.vertex[i]), i);
  });
  const out = uv.slice();
  for (let f = 0; f < mesh.faceCount; f++) {
    if (!since.faces.has(mesh.faceKey[f])) continue;
    for (let c = mesh.faceStart[f]; c < mesh.faceStart[f + 1]; c++) {
      const i = entry.get(key2(mesh.faceKey[f], mesh.vertexKey[mesh.cornerVertex[c]]));
      if (i === undefined) continue;
      out[2 * c] = now.uv[2 * i];
      out[2 * c + 1] = now.uv[2 * i + 1];
    }
  }
  return out;
}
