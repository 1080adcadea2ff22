/**
 * A project as one ZIP: `project.json`, the document with its keys in order, and `files/`, each stored file under its
 * SHA-256. The same project gives the same bytes, so what is exported, imported and exported again is the same file.
 */
import { isZip, readZipPaths, writeZip } from '../core/formats';
import { cleanValue } from './clean';
import { tooDeep } from '../core/formats/depth';
import { blobsOf } from './references';
import { checkDocument, checkExport, InvalidDocument } from './schema';
import type { ProjectDocument } from './types';

/** Of the document alone; the files beside it have limits of their own. */
const MOST_JSON = 64 * 1024 * 1024;

export interface Bundle {
  document: ProjectDocument;
  files: Map<string, Uint8Array>;
}

function ordered(value: unknown): unknown {
  if (Array.isArray(value)) return value.map(ordered);
  if (typeof value !== 'object' || value === null) return value;
  const keys = Object.keys(value).sort();
  return Object.fromEntries(keys.map((k) => [k, ordered((value as Record<string, unknown>)[k])]));
}

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
function readBundle(bytes: Uint8Array, name = 'project.zip'): Bundle {
  const paths = readZipPaths(bytes, name, undefined, (path) => (path === 'project.json' ? MOST_JSON : undefined));
  const json = paths.get('project.json');
  if (json && tooDeep(json)) throw new InvalidDocument(`${name} is nested deeper than any project.`);
  if (!json) throw new InvalidDocument(`${name} is not a project that Glypta exported.`);
  let value: { glypta?: unknown; document?: unknown };
  try {
    value = JSON.parse(new TextDecoder().decode(json)) as typeof value;
  } catch {
    throw new InvalidDocument(`${name} holds a project that is not readable.`);
  }
  if (typeof value !== 'object' || value === null || value.glypta === undefined)
    throw new InvalidDocument(`${name} is not a project that Glypta exported.`);
  const document = checkDocument(cleanValue(value.document));
  const files = new Map<string, Uint8Array>();
  for (const sha of blobsOf(document)) {
    const b = paths.get(`files/${sha}`);
    if (!b) throw new InvalidDocument(`${name} lacks a file that its project uses.`);
    files.set(sha, b);
  }
  return { document, files };
}

/** Whether a ZIP is a project's or a kit's: nothing else of it is looked at. */
export function holdsProject(bytes: Uint8Array): boolean {
  if (!isZip(bytes)) return false;
  try {
    return readZipPaths(bytes, 'file.zip', undefined, (path) => (path === 'project.json' ? MOST_JSON : 0)).has(
      'project.json',
    );
  } catch {
    // What cannot be read is told by whoever reads it.
    return false;
  }
}

/** A project from its ZIP, or from the JSON that earlier versions exported. */
export function readProject(bytes: Uint8Array, name = 'project.zip'): Bundle {
  if (isZip(bytes)) return readBundle(bytes, name);
  let json: unknown;
  if (tooDeep(bytes)) throw new InvalidDocument(`${name} is nested deeper than any project.`);
  try {
    json = JSON.parse(new TextDecoder('utf-8', { fatal: true }).decode(bytes));
  } catch {
    throw new InvalidDocument(`${name} is neither a project’s ZIP nor readable JSON.`);
  }
  const old = checkExport(cleanValue(json));
  const files = Object.entries(old.blobs).map(([sha, text]) => [sha, fromBase64(text)] as const);
  return { document: old.document, files: new Map(files) };
}

const fromBase64 = (text: string): Uint8Array => Uint8Array.from(atob(text), (c) => c.charCodeAt(0));
