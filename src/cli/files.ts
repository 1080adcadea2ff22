/** Files in and out of the command line; "-" is standard input or output. */
import { existsSync, readFileSync, writeFileSync, writeSync } from 'node:fs';
import { basename, dirname, join } from 'node:path';
import { FileError, type Scene } from '../core/formats/scene';
import { Usage } from './usage';

export const LARGEST = 2 ** 31 - 1;

export function readInput(path: string): { bytes: Uint8Array; name: string } {
  if (path === '-') return { bytes: new Uint8Array(readFileSync(0)), name: 'input.obj' };
  if (!existsSync(path)) throw new FileError(`There is no file ${path}.`);
  try { return { bytes: new Uint8Array(readFileSync(path)), name: basename(path) }; } catch (e) {
    const code = (e as NodeJS.ErrnoException).code;
    throw new FileError(code === 'EISDIR' ? `${path} is a folder.` : code === 'ERR_FS_FILE_TOO_LARGE' ? `${path} is larger than 2 GB, the most that can be read.` : `${path} cannot be read.`);
  }
}

/** Reads a model, with the files its text names if they lie in the same folder, and nowhere else. */
export async function readModel(path: string): Promise<Scene> {
  const { bytes, name } = readInput(path);
  const beside = new Map<string, Uint8Array>();
  if (path !== '-' && /\.obj$/i.test(name)) {
    const folder = dirname(path);
    const take = (wanted: string) => {
      const safe = basename(wanted.replace(/\\/g, '/'));
      const at = join(folder, safe);
      if (safe && existsSync(at) && !beside.has(safe)) { try { beside.set(safe, new Uint8Array(readFileSync(at))); } catch { /* a folder of that name: as if missing */ } }
    };
    const head = new TextDecoder().decode(bytes.subarray(0, 65536));
    for (const m of head.matchAll(/^mtllib\s+(.+?)\s*$/gm)) take(m[1]);
    for (const [, data] of [...beside]) for (const m of new TextDecoder().decode(data).matchAll(/^\s*map_\w+\s+(.+?)\s*$/gm)) take(m[1].split(/\s+(?=[^\s]+$)/).pop()!);
  }
  const { readAny } = await import('../core/formats/read');
  return readAny(bytes, name, beside);
}

export function writeOutput(path: string, bytes: Uint8Array): void {
  if (path === '-') { for (let at = 0; at < bytes.length;) { try { at += writeSync(1, bytes, at); } catch (e) { if ((e as NodeJS.ErrnoException).code !== 'EAGAIN') throw e; } } return; }
  try { writeFileSync(path, bytes); } catch (e) {
    const code = (e as NodeJS.ErrnoException).code;
    throw new FileError(code === 'ENOSPC' ? `The disk is full; ${path} could not be written.` : code === 'ENOENT' ? `There is no folder ${dirname(path)} to write to.` : `${path} cannot be written.`);
  }
}

/** Writes a scene by what the name ends in: .obj (with .mtl and pictures beside it), .glb, .zip. */
export async function writeModel(scene: Scene, path: string): Promise<string[]> {
  const kind = path === '-' ? 'obj' : path.toLowerCase().split('.').pop();
  if (kind === 'glb') { const { writeGlb } = await import('../core/formats/glb'); writeOutput(path, await writeGlb(scene)); return [path]; }
  const { writeObj } = await import('../core/formats/obj');
  if (kind === 'obj') {
    const mtl = basename(path === '-' ? 'materials' : path).replace(/\.obj$/i, '') + '.mtl';
    const out = writeObj(scene, mtl);
    writeOutput(path, out.obj);
    if (path === '-') return [];
    const written = [path];
    if (scene.materials.length) { writeOutput(join(dirname(path), mtl), out.mtl); written.push(join(dirname(path), mtl)); }
    for (const i of scene.images) { writeOutput(join(dirname(path), basename(i.name)), i.bytes); written.push(join(dirname(path), basename(i.name))); }
    return written;
  }
  if (kind === 'zip') {
    const { objZip } = await import('../core/formats/pack');
    writeOutput(path, objZip(scene, basename(path).replace(/\.zip$/i, '')));
    return [path];
  }
  throw new Usage(`${path} must end in .obj, .glb or .zip.`);
}
