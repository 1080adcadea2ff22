/** ZIP archives, through fflate. Names are made safe; sizes are limited before anything is unpacked. */
import { unzipSync, zipSync } from 'fflate';
import { FileError, safeName } from './scene';

export const MAX_UNPACKED = 1 << 30;

export function writeZip(files: ReadonlyMap<string, Uint8Array>): Uint8Array {
  const tree: Record<string, [Uint8Array, { level: 0 | 6; mtime: string }]> = {};
  // A fixed date, so that the same files give the same bytes.
  for (const [name, bytes] of files) tree[name] = [bytes, { level: name.endsWith('.png') ? 0 : 6, mtime: '2026-01-01T00:00:00Z' }];
  return zipSync(tree);
}

export function readZip(bytes: Uint8Array, name = 'file.zip'): Map<string, Uint8Array> {
  let total = 0;
  try {
    const out = unzipSync(bytes, { filter: (f) => { total += f.originalSize; if (total > MAX_UNPACKED) throw new FileError(`${name} would unpack to more than 1 GB. Nothing was read.`); return !f.name.endsWith('/'); } });
    return new Map(Object.entries(out).map(([n, b]) => [safeName(n), b]));
  } catch (e) { throw e instanceof FileError ? e : new FileError(`${name} is not a ZIP that can be read.`); }
}
