/** The library: items kept for any project. An item that a project uses cannot vanish. */
import { randomUUID } from 'node:crypto';
import { literal } from 'sequelize';
import * as yup from 'yup';
import { addPiece, addStep, pieceOf } from '../document/changes';
import {
  asDocument,
  checkContent,
  LIBRARY_KINDS,
  type LibraryContent,
  type LibraryEntry,
  type LibraryKind,
} from '../document/library';
import { blobsOf } from '../document/references';
import type { Database, LibraryRow } from './database';
import { forgetPictures, pictureOf, type Picture } from './pictures';
import type { PictureJob } from './queue';
import { Refusal } from './refusal';
import type { Edition, ProjectDocument } from '../document/types';

const tags = yup.array().of(yup.string().required().max(40)).required().max(30);
export const itemSchema = yup
  .object({
    kind: yup
      .string()
      .required()
      .oneOf(LIBRARY_KINDS.map((k) => k[0])),
    name: yup.string().required().trim().min(1).max(200),
    tags,
    content: yup.object().required(),
  })
  .noUnknown();
export const itemPartSchema = yup
  .object({ name: yup.string().trim().min(1).max(200), tags: tags.optional() })
  .noUnknown();

const UUID = /^[0-9a-f]{8}-[0-9a-f]{4}-[0-9a-f]{4}-[0-9a-f]{4}-[0-9a-f]{12}$/;
const cleanTags = (list: readonly string[]): string[] => [
  ...new Set(list.map((t) => t.trim().toLowerCase()).filter(Boolean)),
];

async function row(
  db: Database,
  id: string,
): Promise<LibraryRow & { save(): Promise<unknown>; destroy(): Promise<unknown> }> {
  const item = UUID.test(id) ? await db.library.findByPk(id) : null;
  if (!item) throw new Refusal(404, 'There is no such item in the library.');
  return item;
}

export async function listItems(db: Database): Promise<LibraryEntry[]> {
  const items = await db.library.findAll({
    // The edition alone: contents may be large.
    attributes: ['id', 'kind', 'name', 'tags', 'changedAt', [literal(`content -> 'edition'`), 'edition']],
    order: [
      ['changedAt', 'DESC'],
      ['name', 'ASC'],
    ],
  });
  const uses = await db.libraryUses.findAll();
  const count = new Map<string, number>();
  for (const u of uses) count.set(u.item, (count.get(u.item) ?? 0) + 1);
  return items.map((i) => ({
    id: i.id,
    kind: i.kind as LibraryKind,
    name: i.name,
    tags: i.tags,
    changedAt: new Date(i.changedAt).toISOString(),
    usedIn: count.get(i.id) ?? 0,
    ...editionOf(i.get('edition')),
  }));
}

const editionOf = (found: unknown): Pick<LibraryEntry, 'edition'> => (found ? { edition: found as Edition } : {});

export async function addItem(
  db: Database,
  item: { kind: LibraryKind; name: string; tags: string[]; content: LibraryContent },
  id: string = randomUUID(),
): Promise<LibraryEntry> {
  const content = checkContent(item.name, item.content);
  if (
    (item.kind === 'material' && content.materials.length !== 1) ||
    (item.kind === 'image' && content.images.length !== 1) ||
    ((item.kind === 'piece' || item.kind === 'arrangement') && content.pieces.length === 0)
  )
    throw new Refusal(422, 'That item holds nothing of its kind.');
  for (const sha of blobsOf(content))
    if (!(await db.blobs.findByPk(sha))) throw new Refusal(422, 'A file that the item uses has not arrived yet.');
  const made = await db.library.create({
    id,
    kind: item.kind,
    name: item.name.trim(),
    tags: cleanTags(item.tags),
    content,
    thumbnail: Buffer.alloc(0), // drawn when it is first looked at
    changedAt: new Date(),
  });
  return {
    id: made.id,
    kind: item.kind,
    name: made.name,
    tags: made.tags,
    changedAt: new Date(made.changedAt).toISOString(),
    usedIn: 0,
    ...editionOf(content.edition),
  };
}

/** An item as a document to be drawn: pieces as they are, a material on a ball. */
export async function itemDocument(db: Database, id: string): Promise<ProjectDocument> {
  const { kind, name, content } = await itemContent(db, id);
  const doc = asDocument(name, content);
  if (kind === 'material') {
    addPiece(doc, 'ball', 'ball');
    addStep(doc, 'ball', 'sphere', 'sphere', { diameter: 1, made: 'rings', cuts: 8 });
    addStep(doc, 'ball', 'color', 'color', { base: content.materials[0].id });
    pieceOf(doc, 'ball').smooth = 1;
  }
  return doc;
}

export async function itemContent(
  db: Database,
  id: string,
): Promise<{ kind: LibraryKind; name: string; content: LibraryContent }> {
  const i = await row(db, id);
  return { kind: i.kind as LibraryKind, name: i.name, content: checkContent(i.name, i.content) };
}

/** A picture is its own picture: the stored file. All else is drawn. */
export async function itemPicture(
  db: Database,
  id: string,
  ask: (job: PictureJob) => Promise<void>,
): Promise<{ sha: string; mime: string } | { picture: Picture | undefined }> {
  const i = await row(db, id);
  if (i.kind === 'image') return { sha: i.content.images[0].blob, mime: i.content.images[0].mime };
  return { picture: await pictureOf(db, { kind: 'item', id, revision: 0 }, ask) };
}

export async function changeItem(db: Database, id: string, part: { name?: string; tags?: string[] }): Promise<void> {
  const i = await row(db, id);
  if (part.name) i.name = part.name;
  if (part.tags) i.tags = cleanTags(part.tags);
  i.changedAt = new Date();
  await i.save();
}

/** Says that a project uses an item; from then on the item stays. */
export async function noteUse(db: Database, id: string, project: string): Promise<void> {
  await row(db, id);
  if (!UUID.test(project) || !(await db.projects.findByPk(project, { attributes: ['id'] })))
    throw new Refusal(404, 'There is no such project.');
  await db.libraryUses.findOrCreate({ where: { item: id, project }, defaults: { item: id, project } });
}

export async function removeItem(db: Database, id: string): Promise<void> {
  const i = await row(db, id);
  const uses = await db.libraryUses.findAll({ where: { item: id } });
  if (uses.length) {
    const names = await db.projects.findAll({ where: { id: uses.map((u) => u.project) }, attributes: ['name'] });
    throw new Refusal(
      409,
      `“${i.name}” is used in ${names
        .map((n) => n.name)
        .slice(0, 3)
        .join(', ')}${names.length > 3 ? ` and ${names.length - 3} more` : ''}, so it stays.`,
    );
  }
  await i.destroy();
  await forgetPictures(db, id);
}
