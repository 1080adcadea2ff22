/**
 * Pictures of projects and library items: drawn by workers, in processes with limits of time and memory, and kept. What
 * cannot be drawn is remembered too, so that nothing is tried at every look at the shelf.
 */
import { Op } from 'sequelize';
import type { Database } from './database';
import type { PictureJob } from './queue';

export type Picture = { png: Buffer } | { failed: string };

/** Longer than this nobody waits for a picture. */
const PATIENCE = 25_000;

const pictureKey = (kind: PictureJob['kind'], id: string, revision = 0): string => `${kind}/${id}/${revision}`;

async function kept(db: Database, key: string): Promise<Picture | undefined> {
  const row = await db.pictures.findByPk(key);
  if (!row) return undefined;
  return row.png ? { png: row.png } : { failed: row.failed ?? '' };
}

/**
 * The picture of a job: the kept one, or a new one as soon as a worker has drawn it. Undefined where that takes too
 * long.
 */
export async function pictureOf(
  db: Database,
  job: Omit<PictureJob, 'key'>,
  ask: (job: PictureJob) => Promise<void>,
  patience = PATIENCE,
): Promise<Picture | undefined> {
  const key = pictureKey(job.kind, job.id, job.revision);
  const had = await kept(db, key);
  if (had) return had;
  let asked = false;
  let pause = 120;
  for (const end = Date.now() + patience; Date.now() < end; pause = Math.min(800, pause * 1.2)) {
    // The queue may not be there yet: a worker makes it when it starts.
    asked ||= await ask({ ...job, key }).then(
      () => true,
      () => false,
    );
    await new Promise((r) => setTimeout(r, pause)); // no connection is held meanwhile
    const now = await kept(db, key);
    if (now) return now;
  }
  return undefined;
}

/** Keeps what became of a job; older pictures of the same thing go. */
export async function keepPicture(db: Database, job: PictureJob, picture: Picture): Promise<void> {
  const png = 'png' in picture ? picture.png : null;
  const failed = 'failed' in picture ? picture.failed.slice(0, 500) : null;
  await db.pictures.upsert({ key: job.key, png, failed, at: new Date() });
  await db.pictures.destroy({ where: { key: { [Op.like]: `${job.kind}/${job.id}/%`, [Op.ne]: job.key } } });
}

export async function forgetPictures(db: Database, id: string): Promise<void> {
  await db.pictures.destroy({ where: { key: { [Op.like]: `%/${id}/%` } } });
}

/** What stands where a picture cannot be had: an empty frame, crossed. */
const NO_PICTURE =
  '<svg xmlns="http://www.w3.org/2000/svg" width="480" height="320" viewBox="0 0 480 320">' +
  '<rect width="480" height="320" fill="#e4ddd0"/>' +
  '<path d="M210 130h60v60h-60z M210 130l60 60 M270 130l-60 60" fill="none" stroke="#8d8676" stroke-width="2"/>' +
  '</svg>';

/** A picture as an answer. */
export function pictureResponse(picture: Picture | undefined, caching: string): Response {
  if (picture && 'png' in picture)
    return new Response(new Uint8Array(picture.png), {
      headers: { 'Content-Type': 'image/png', 'Cache-Control': caching, 'X-Content-Type-Options': 'nosniff' },
    });
  return new Response(NO_PICTURE, {
    headers: {
      'Content-Type': 'image/svg+xml',
      'Cache-Control': picture ? 'private, max-age=300' : 'no-store',
      'Content-Security-Policy': "default-src 'none'",
      'X-Content-Type-Options': 'nosniff',
    },
  });
}
