/**
 * A project as one ZIP: `project.json`, the document with its keys in order, and `files/`, each stored file under its SHA-256. The same
 * project gives the same bytes, so what is exported, imported and exported again is the same file.
 */
import { readZipPaths, writeZip } from '../core/formats/zip';
import { blobsOf } from './blobs';
import { checkDocument, InvalidDocument } from './schema';
import type { ProjectDocument } from './types';

export interface Bundle {
  document: ProjectDocument;
  files: Map<string, Uint8Array>;
}

const ordered = (value: unknown): unknown =>
  Array.isArray(value)
    ? value.map(ordered)
    : typeof value === 'object' && value !== null
      ? Object.fromEntries(
          Object.keys(value)
            .sort()
            .map((k) => [k, ordered((value as Record<string, unknown>)[k])]),
        )
      : value;

export function writeBundle(document: ProjectDocument, files: ReadonlyMap<string, Uint8Array>): Uint8Array {
  const out = new Map<string, Uint8Array>([
    [
      'project.json',
      new TextEncoder().encode(JSON.stringify({ glypta: document.format, document: ordered(document) })),
    ],
  ]);
  for (const sha of [...blobsOf(document)].sort()) {
    const bytes = files.get(sha);
    if (!bytes) throw new InvalidDocument('A file that the project uses is missing.');
    out.set(`files/${sha}`, bytes);
  }
  return writeZip(out);
}

/** Checks all but the files' hashes, which whoever keeps them does. */
export function readBundle(bytes: Uint8Array, name = 'project.zip'): Bundle {
  const paths = readZipPaths(bytes, name),
    json = paths.get('project.json');
  if (!json) throw new InvalidDocument(`${name} is not a project that Glypta exported.`);
  let value: { glypta?: unknown; document?: unknown };
  try {
    value = JSON.parse(new TextDecoder().decode(json)) as typeof value;
  } catch {
    throw new InvalidDocument(`${name} holds a project that is not readable.`);
  }
  if (typeof value !== 'object' || value === null || value.glypta === undefined)
    throw new InvalidDocument(`${name} is not a project that Glypta exported.`);
  const document = checkDocument(value.document),
    files = new Map<string, Uint8Array>();
  for (const sha of blobsOf(document)) {
    const b = paths.get(`files/${sha}`);
    if (!b) throw new InvalidDocument(`${name} lacks a file that its project uses.`);
    files.set(sha, b);
  }
  return { document, files };
}
