/** The process that draws pictures: told what by its worker, gone with it. Not for people. */
import { connect } from '../server/database';
import { documentAt } from '../server/projects';
import { itemDocument } from '../server/library';
import { readBlob } from '../server/blobs';
import { asRefusal, Refusal } from '../server/refusal';
import type { Drawn } from '../server/drawer';
import type { PictureJob } from '../server/queue';
import { thumbnailOf, turningOf } from '../server/thumbnail';

export async function run(): Promise<number> {
  const db = connect(process.env.GLYPTA_DATABASE ?? '', 1);
  const blob = async (sha: string) => new Uint8Array(await readBlob(db, sha));
  const draw = async ({ kind, id, revision }: PictureJob): Promise<Drawn> => {
    try {
      const document = kind === 'item' ? await itemDocument(db, id) : (await documentAt(db, id, revision)).document;
      const png = await (kind === 'turn' ? turningOf : thumbnailOf)(document, blob);
      return { png: Buffer.from(png) };
    } catch (e) {
      const r = asRefusal(e);
      if (r.status === 503) return { again: r.message };
      return { failed: e instanceof Refusal ? e.message : 'It could not be drawn.' };
    }
  };
  process.on('message', (job: PictureJob) => void draw(job).then((answer) => process.send?.(answer)));
  return new Promise((resolve) => process.once('disconnect', () => resolve(0)));
}
