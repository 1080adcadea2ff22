/**
 * Projects: a row for the shelf, an append-only log of changes, and a snapshot now and then. A change is accepted only on the revision it
 * was made from; the same change sent twice (an answer that got lost) counts once.
 */
import { randomUUID } from 'node:crypto';
import { Op, Transaction } from 'sequelize';
import { applyChange, PatchError } from '../document/patches';
import { upgrade } from '../document/upgrade';
import { checkDocument, InvalidDocument } from '../document/schema';
import { blobsOf } from '../document/references';
import { readProject, writeBundle } from '../document/bundle';
import type { Patch, ProjectDocument } from '../document/types';
import { readBlob, useBlobs, writeBlob } from './blobs';
import type { Database, ProjectRow } from './database';
import { forgetPictures, pictureOf, type Picture } from './pictures';
import type { PictureJob } from './queue';
import { Refusal } from './refusal';

const SNAPSHOT_EVERY = 25;

export interface ShelfEntry {
  id: string;
  name: string;
  purpose: string;
  units: string;
  revision: number;
  changedAt: string;
  binnedAt: string | null;
}

const entry = (p: ProjectRow): ShelfEntry => ({
  id: p.id,
  name: p.name,
  purpose: p.purpose,
  units: p.units,
  revision: p.revision,
  changedAt: new Date(p.changedAt).toISOString(),
  binnedAt: p.binnedAt ? new Date(p.binnedAt).toISOString() : null,
});
const UUID = /^[0-9a-f]{8}-[0-9a-f]{4}-[0-9a-f]{4}-[0-9a-f]{4}-[0-9a-f]{12}$/;

export async function listProjects(db: Database): Promise<ShelfEntry[]> {
  const rows = await db.projects.findAll({
    attributes: { exclude: ['thumbnail'] },
    order: [
      ['changedAt', 'DESC'],
      ['name', 'ASC'],
    ],
  });
  return rows.map((r) => entry(r));
}

async function row(
  db: Database,
  id: string,
  transaction?: Transaction,
): Promise<ProjectRow & { save(o?: object): Promise<unknown> }> {
  if (!UUID.test(id)) throw new Refusal(404, 'There is no such project.');
  const p = await db.projects.findByPk(id, {
    attributes: { exclude: ['thumbnail'] },
    transaction,
    lock: transaction ? transaction.LOCK.UPDATE : undefined,
  });
  if (!p) throw new Refusal(404, 'There is no such project.');
  return p;
}

export async function createProject(
  db: Database,
  doc: ProjectDocument,
  id: string = randomUUID(),
): Promise<ShelfEntry> {
  return db.sequelize.transaction(async (transaction) => {
    const p = await db.projects.create(
      {
        id,
        name: doc.name,
        purpose: doc.purpose,
        units: doc.units,
        revision: 0,
        binnedAt: null,
        changedAt: new Date(),
        thumbnail: null,
        thumbnailRevision: null,
      },
      { transaction },
    );
    await db.snapshots.create({ project: id, revision: 0, document: doc }, { transaction });
    await useBlobs(db, id, doc, transaction);
    return entry(p);
  });
}

/** The document at a revision, by default the newest. */
export async function documentAt(
  db: Database,
  id: string,
  revision?: number,
  transaction?: Transaction,
): Promise<{ document: ProjectDocument; revision: number }> {
  const p = await row(db, id);
  const wanted = revision ?? p.revision;
  if (!Number.isInteger(wanted) || wanted < 0 || wanted > p.revision)
    throw new Refusal(404, `This project has revisions 0 to ${p.revision}.`);
  return documentFrom(db, id, wanted, transaction);
}

async function documentFrom(
  db: Database,
  id: string,
  wanted: number,
  transaction?: Transaction,
): Promise<{ document: ProjectDocument; revision: number }> {
  const snapshot = await db.snapshots.findOne({
    where: { project: id, revision: { [Op.lte]: wanted } },
    order: [['revision', 'DESC']],
    transaction,
  });
  if (!snapshot) throw new Refusal(500, 'The beginning of this project is missing.');
  const later = await db.changes.findAll({
    where: { project: id, revision: { [Op.gt]: snapshot.revision, [Op.lte]: wanted } },
    order: [['revision', 'ASC']],
    transaction,
  });
  // Patches were made against the format of their day; each is followed by what that day's document has become.
  let document = upgrade(snapshot.document);
  for (const c of later) document = upgrade(applyChange(document, c.patches));
  return { document, revision: wanted };
}

export interface IncomingChange {
  base: number;
  patches: Patch[];
  label: string;
  window: string;
  id: string;
}

/** Accepts a change and answers the new revision. Refuses with 409 where another window was faster, 422 where the result is no document. */
export async function acceptChange(db: Database, id: string, change: IncomingChange): Promise<number> {
  return db.sequelize.transaction(async (transaction) => {
    const p = await row(db, id, transaction);
    const had = await db.changes.findOne({
      where: { project: id, change: change.id },
      attributes: ['revision'],
      transaction,
    });
    if (had) return had.revision;
    if (p.binnedAt) throw new Refusal(410, 'This project is in the bin. Restore it on the shelf to go on.');
    if (change.base !== p.revision)
      throw new Refusal(
        409,
        `This project was changed in another window: it is at change ${p.revision}, and yours began from change ${change.base}.`,
        { revision: p.revision },
      );
    const { document } = await documentFrom(db, id, p.revision, transaction);
    let next: ProjectDocument;
    try {
      next = checkDocument(applyChange(document, change.patches));
    } catch (e) {
      throw new Refusal(
        422,
        e instanceof InvalidDocument || e instanceof PatchError ? e.message : 'The change does not fit this project.',
      );
    }
    const revision = p.revision + 1;
    await db.changes.create(
      {
        project: id,
        revision,
        change: change.id,
        window: change.window,
        label: change.label,
        patches: change.patches,
        at: new Date(),
      },
      { transaction },
    );
    if (revision % SNAPSHOT_EVERY === 0)
      await db.snapshots.create({ project: id, revision, document: next }, { transaction });
    Object.assign(p, { revision, name: next.name, purpose: next.purpose, units: next.units, changedAt: new Date() });
    await p.save({ transaction });
    await useBlobs(db, id, next, transaction);
    return revision;
  });
}

export interface LogEntry {
  revision: number;
  label: string;
  at: string;
  window: string;
}

export async function changeLog(db: Database, id: string, limit = 200): Promise<LogEntry[]> {
  await row(db, id);
  const rows = await db.changes.findAll({
    where: { project: id },
    attributes: ['revision', 'label', 'at', 'window'],
    order: [['revision', 'DESC']],
    limit,
  });
  return rows.map((r) => ({
    revision: r.revision,
    label: r.label,
    at: new Date(r.at).toISOString(),
    window: r.window,
  }));
}

export async function copyProject(
  db: Database,
  id: string,
  name?: string,
  revision?: number,
  document?: ProjectDocument,
): Promise<ShelfEntry> {
  const from = document ?? (await documentAt(db, id, revision)).document;
  return createProject(db, { ...from, name: name ?? `${from.name} copy` });
}

export async function setBinned(db: Database, id: string, binned: boolean): Promise<ShelfEntry> {
  const p = await row(db, id);
  p.binnedAt = binned ? new Date() : null;
  await p.save();
  return entry(p);
}

/** Gone for good; only from the bin. */
export async function removeProject(db: Database, id: string): Promise<void> {
  const p = await row(db, id);
  if (!p.binnedAt) throw new Refusal(409, 'Only projects in the bin can be removed for good.');
  await db.sequelize.transaction(async (transaction) => {
    for (const table of [db.blobUses, db.changes, db.snapshots])
      await (table as Database['changes']).destroy({ where: { project: id }, transaction });
    await db.projects.destroy({ where: { id }, transaction });
  });
  await forgetPictures(db, id);
}

/** The project as one ZIP. */
export async function exportProject(db: Database, id: string): Promise<{ name: string; bytes: Uint8Array }> {
  const { document } = await documentAt(db, id);
  const files = new Map<string, Uint8Array>();
  for (const sha of blobsOf(document)) files.set(sha, new Uint8Array(await readBlob(db, sha)));
  return { name: document.name, bytes: writeBundle(document, files) };
}

/** A project from its ZIP, or from the JSON that earlier versions exported. */
export async function importProject(db: Database, bytes: Uint8Array): Promise<ShelfEntry> {
  const { document, files } = readProject(bytes, 'The file');
  for (const [sha, data] of files) {
    const had = await writeBlob(db, [data], 'application/octet-stream');
    if (had.sha !== sha)
      throw new Refusal(422, 'A file inside the project is damaged: its content does not match its name.');
  }
  return createProject(db, document);
}

/** The picture of a project for the shelf, or all its sides for turning it, as it is now. */
export async function projectPicture(
  db: Database,
  id: string,
  kind: 'project' | 'turn',
  ask: (job: PictureJob) => Promise<void>,
): Promise<{ picture: Picture | undefined; revision: number }> {
  const { revision } = await row(db, id);
  return { picture: await pictureOf(db, { kind, id, revision }, ask), revision };
}
