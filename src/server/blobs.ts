/** Files, addressed by the SHA-256 of what they hold, in parts of a megabyte; the same file is kept once. */
import { createHash } from 'node:crypto';
import type { Transaction } from 'sequelize';
import type { ProjectDocument } from '../document/types';
import { blobsOf } from '../document/references';
import type { Database } from './database';
import { Refusal } from './refusal';

export const MAX_BLOB = 512 * 1024 * 1024;
const PART = 1024 * 1024;

/**
 * Keeps what arrives, part by part, never all of it in memory. Refuses what is larger than the limit as soon as that is
 * known.
 */
export async function writeBlob(
  db: Database,
  source: AsyncIterable<Uint8Array> | Iterable<Uint8Array>,
  type: string,
  limit = MAX_BLOB,
): Promise<{ sha: string; size: number }> {
  return db.sequelize.transaction(async (transaction) => {
    const hash = createHash('sha256');
    // Parts go under a passing name until the hash is known.
    const draft = `draft-${process.pid}-${Date.now()}-${Math.random().toString(36).slice(2)}`;
    await db.blobs.create({ sha: draft, size: 0, type }, { transaction });
    let size = 0;
    let part = 0;
    let held: Uint8Array[] = [];
    let heldSize = 0;
    const flush = async () => {
      if (heldSize === 0) return;
      await db.blobParts.create({ sha: draft, part: part++, bytes: Buffer.concat(held) }, { transaction });
      held = [];
      heldSize = 0;
    };
    for await (const chunk of source) {
      size += chunk.length;
      if (size > limit)
        throw new Refusal(
          413,
          `That file is larger than ${Math.round(limit / 1048576)} MB, the most that can be kept.`,
        );
      hash.update(chunk);
      held.push(chunk);
      heldSize += chunk.length;
      if (heldSize >= PART) await flush();
    }
    if (size === 0) throw new Refusal(400, 'That file is empty.');
    await flush();
    const sha = hash.digest('hex');
    const [, made] = await db.blobs.findOrCreate({ where: { sha }, defaults: { sha, size, type }, transaction });
    if (made) await db.blobParts.update({ sha }, { where: { sha: draft }, transaction });
    else {
      await db.blobParts.destroy({ where: { sha: draft }, transaction });
      await db.blobs.update({ arrivedAt: new Date() }, { where: { sha }, transaction }); // wanted again: it stays as if new
    }
    await db.blobs.destroy({ where: { sha: draft }, transaction });
    return { sha, size };
  });
}

export async function blobInfo(db: Database, sha: string): Promise<{ sha: string; size: number; type: string }> {
  const b = /^[0-9a-f]{64}$/.test(sha) ? await db.blobs.findByPk(sha) : null;
  if (!b) throw new Refusal(404, 'There is no such file.');
  return { sha, size: Number(b.size), type: b.type };
}

export async function* blobParts(db: Database, sha: string): AsyncGenerator<Buffer> {
  for (let part = 0; ; part++) {
    const p = await db.blobParts.findOne({ where: { sha, part } });
    if (!p) return;
    yield p.bytes;
  }
}

export async function readBlob(db: Database, sha: string): Promise<Buffer> {
  await blobInfo(db, sha);
  const parts: Buffer[] = [];
  for await (const p of blobParts(db, sha)) parts.push(p);
  return Buffer.concat(parts);
}

/** Notes which files a document uses. Uses are never taken back: earlier revisions may need them. */
export async function useBlobs(
  db: Database,
  project: string,
  doc: Pick<ProjectDocument, 'pieces' | 'images'>,
  transaction: Transaction,
): Promise<void> {
  for (const sha of blobsOf(doc)) {
    if (!(await db.blobs.findByPk(sha, { transaction })))
      throw new Refusal(422, 'A file that the project uses has not arrived yet.');
    await db.blobUses.findOrCreate({ where: { project, sha }, defaults: { project, sha }, transaction });
  }
}
