/** ZIP archives, through fflate. Names are made safe; sizes are limited before anything is unpacked. */
import { unzipSync, zipSync } from 'fflate';
import { FileError, safeName } from './scene';
import { cleanName } from './words';

export const MAX_UNPACKED = 1 << 30;

export function writeZip(files: ReadonlyMap<string, Uint8Array>): Uint8Array {
  const tree: Record<string, [Uint8Array, { level: 0 | 6; mtime: string }]> = {};
  // A fixed date, so that the same files give the same bytes.
  for (const [name, bytes] of files)
    tree[name] = [bytes, { level: /\.(png|jpe?g|webp)$/i.test(name) ? 0 : 6, mtime: '2026-01-01T00:00:00Z' }];
  return zipSync(tree);
}

const MOST_FILES = 20000;
const BOMB = 32 * 1024 * 1024;
/** The most bytes a file of this path may unpack to. */
type Most = (path: string) => number | undefined;
export const isZip = (b: Uint8Array): boolean =>
  b.length >= 4 && b[0] === 0x50 && b[1] === 0x4b && (b[2] === 3 || b[2] === 5) && (b[3] === 4 || b[3] === 6);

/** All files of an archive by their paths, as they are written there: for archives of our own, where paths are looked up and never written to. */
export function readZipPaths(
  bytes: Uint8Array,
  name = 'file.zip',
  limit = MAX_UNPACKED,
  most?: Most,
): Map<string, Uint8Array> {
  return new Map(Object.entries(unpack(bytes, name, limit, most)));
}

/** All files of an archive by their own names, folders dropped. Refuses what would unpack to far more than it is. */
export function readZip(bytes: Uint8Array, name = 'file.zip', limit = MAX_UNPACKED): Map<string, Uint8Array> {
  const files = new Map<string, Uint8Array>();
  for (const [path, b] of Object.entries(unpack(bytes, name, limit))) {
    const safe = safeName(path);
    if (!files.has(safe)) files.set(safe, b);
  }
  return files;
}

function unpack(bytes: Uint8Array, name: string, limit: number, most?: Most): Record<string, Uint8Array> {
  let total = 0;
  let count = 0;
  try {
    return unzipSync(bytes, {
      filter: (f) => {
        // Folders, and files that systems hide.
        if (f.name.endsWith('/') || /(^|[\\/])\.[^\\/]*$/.test(f.name)) return false;
        total += f.originalSize;
        if (f.originalSize > (most?.(f.name) ?? Infinity))
          throw new FileError(
            `“${cleanName(f.name).slice(0, 80)}” in ${name} is larger than can be read. Nothing was read.`,
          );
        // What packs more than a thousandfold is made to fill memory, not to be read.
        if (f.originalSize > BOMB && f.originalSize > 1000 * f.size)
          throw new FileError(
            `“${cleanName(f.name).slice(0, 80)}” in ${name} unpacks to far more than it is. Nothing was read.`,
          );
        if (total > limit)
          throw new FileError(`${name} would unpack to more than ${Math.round(limit / 1048576)} MB. Nothing was read.`);
        if (++count > MOST_FILES)
          throw new FileError(`${name} holds more than ${MOST_FILES.toLocaleString('en')} files. Nothing was read.`);
        return true;
      },
    });
  } catch (e) {
    throw e instanceof FileError ? e : new FileError(`${name} is not a ZIP that can be read.`);
  }
}
