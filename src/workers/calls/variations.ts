import { fromHex } from '../../core/formats';
import { sketch } from '../../core/render';
import { Cancelled } from '../../core/recipe';
import { visiblePieces } from '../../document/build';
import { withDials } from '../../document/facts';
import { lighter, sketchItems } from '../../document/sketches';
import { defineCall } from './define';

export interface VariationsQuery {
  /** One piece, or all that are seen. */
  piece: string | null;
  /** For each picture what dials stand at, by their ids. */
  values: readonly (readonly (readonly [string, number])[])[];
  width: number;
  height: number;
}
export interface VariationPicture {
  width: number;
  height: number;
  data: Uint8Array;
}

const LOOK = { top: fromHex('#f1ede5'), bottom: fromHex('#d6cebf') };
const MOST_FACES = 100_000;

/** A small picture of each variation. */
export const variations = defineCall(async (host, q: VariationsQuery, task): Promise<VariationPicture[]> => {
  const out: VariationPicture[] = [];
  for (const [i, values] of q.values.entries()) {
    if (task.cancelled()) throw new Cancelled();
    const doc = withDials(host.doc, new Map(values));
    const pieces = q.piece === null ? visiblePieces(doc) : new Set([q.piece]);
    const items = await sketchItems(doc, pieces, MOST_FACES, {
      memory: host.memory,
      blob: host.blob,
      cancelled: task.cancelled,
      recipe: lighter,
    });
    const { data } = sketch(items, { width: q.width, height: q.height, ...LOOK });
    const picture = { width: q.width, height: q.height, data };
    task.transfer.push(data.buffer as ArrayBuffer);
    out.push(picture);
    task.progress({ share: (i + 1) / q.values.length });
  }
  return out;
});
