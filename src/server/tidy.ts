/** Files that nothing refers to any more: no project in any of its revisions, no library item. */
import { blobsOf } from '../document/references';
import type { Database } from './database';

export const KEPT_DAYS = 7;

export interface Tidied {
  files: number;
  bytes: number;
}

/**
 * Takes away files that came in more than so many days ago and that nothing refers to. A save or a new library item at
 * the same moment is safe: it holds what it refers to, or finds it gone and says so before anything is kept.
 */
export async function tidyBlobs(db: Database, days = KEPT_DAYS): Promise<Tidied> {
  return db.sequelize.transaction(async (transaction) => {
    // No item comes in while what items refer to is being read.
    await db.sequelize.query('LOCK TABLE library IN SHARE MODE', { transaction });
    const kept = new Set<string>();
    for (const item of await db.library.findAll({ attributes: ['content'], transaction }))
      for (const sha of blobsOf(item.content)) kept.add(sha);
    const [rows] = await db.sequelize.query(
      `SELECT sha, size FROM blobs WHERE arrived_at < now() - make_interval(days => $1::int)
         AND NOT EXISTS (SELECT 1 FROM blob_uses WHERE blob_uses.sha = blobs.sha) FOR UPDATE`,
      { bind: [days], transaction },
    );
    const gone = (rows as { sha: string; size: string }[]).filter((r) => !kept.has(r.sha));
    const where = { sha: gone.map((r) => r.sha) };
    await db.blobParts.destroy({ where, transaction });
    await db.blobs.destroy({ where, transaction });
    return { files: gone.length, bytes: gone.reduce((sum, r) => sum + Number(r.size), 0) };
  });
}
