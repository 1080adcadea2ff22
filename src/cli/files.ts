/** Files in and out of the command line; "-" is standard input or output. */
import { existsSync, readFileSync, writeFileSync, writeSync } from 'node:fs';
import { basename, dirname, join } from 'node:path';
import { addressesOf, librariesOf, picturesOf } from '../core/formats/companions';
import { FileError, type Scene } from '../core/formats';
import { transformGeometry } from '../core/geometry';
import { compose, IDENTITY, invert, type Affine } from '../core/math';
import type { Handed } from '../core/recipe/define';
import { Usage } from './usage';

export function readInput(path: string): { bytes: Uint8Array; name: string } {
  if (path === '-') return { bytes: new Uint8Array(readFileSync(0)), name: 'input.obj' };
  if (!existsSync(path)) throw new FileError(`There is no file ${path}.`);
  try {
    return { bytes: new Uint8Array(readFileSync(path)), name: basename(path) };
  } catch (e) {
    const code = (e as NodeJS.ErrnoException).code;
    if (code === 'EISDIR') throw new FileError(`${path} is a folder.`);
    if (code === 'ERR_FS_FILE_TOO_LARGE')
      throw new FileError(`${path} is larger than 2 GB, the most that can be read.`);
    throw new FileError(`${path} cannot be read.`);
  }
}

/** Reads a model, with the files its text names if they lie in the same folder, and nowhere else. */
export async function readModel(path: string): Promise<Scene> {
  const { bytes, name } = readInput(path);
  const beside = new Map<string, Uint8Array>();
  if (path !== '-') {
    const folder = dirname(path);
    const take = (wanted: string) => {
      const safe = basename(wanted.replace(/\\/g, '/'));
      const at = join(folder, safe);
      if (safe && existsSync(at) && !beside.has(safe)) {
        try {
          beside.set(safe, new Uint8Array(readFileSync(at)));
        } catch {
          /* a folder of that name: as if missing */
        }
      }
    };
    const text = (b: Uint8Array) => new TextDecoder().decode(b);
    if (/\.obj$/i.test(name)) {
      librariesOf(text(bytes.subarray(0, 65536))).forEach(take);
      for (const mtl of [...beside.values()]) picturesOf(text(mtl)).forEach(take);
    } else if (/\.gltf$/i.test(name)) addressesOf(text(bytes)).forEach(take);
  }
  const { readAny } = await import('../core/formats/read');
  return readAny(bytes, name, beside);
}

export function writeOutput(path: string, bytes: Uint8Array): void {
  if (path === '-') {
    for (let at = 0; at < bytes.length;) {
      try {
        at += writeSync(1, bytes, at);
      } catch (e) {
        if ((e as NodeJS.ErrnoException).code !== 'EAGAIN') throw e;
      }
    }
    return;
  }
  try {
    writeFileSync(path, bytes);
  } catch (e) {
    const code = (e as NodeJS.ErrnoException).code;
    if (code === 'ENOSPC') throw new FileError(`The disk is full; ${path} could not be written.`);
    if (code === 'ENOENT') throw new FileError(`There is no folder ${dirname(path)} to write to.`);
    throw new FileError(`${path} cannot be written.`);
  }
}

/** Writes a scene by what the name ends in; what belongs to it goes beside it. "-" writes OBJ to standard output. */
export async function writeModel(scene: Scene, path: string, text = false): Promise<string[]> {
  const { kindByEnding, endingOf, KINDS } = await import('../core/formats/kinds');
  if (path === '-') {
    const { writeObj } = await import('../core/formats/obj');
    writeOutput(path, writeObj(scene).obj);
    return [];
  }
  const stem = basename(path).replace(/\.[^.]*$/, '');
  if (endingOf(path) === 'zip') {
    const { objZip } = await import('../core/formats/pack');
    writeOutput(path, await objZip(scene, stem));
    return [path];
  }
  const kind = kindByEnding(path);
  if (!kind) throw new Usage(`${path} must end in ${KINDS.map((k) => `.${k.endings[0]}`).join(', ')} or .zip.`);
  if (text && kind.kind !== 'stl' && kind.kind !== 'ply') throw new Usage('--text is for STL and PLY.');
  const { leftOut } = await import('../core/formats/pack');
  for (const told of leftOut(kind, scene)) console.error(told);
  const files: [string, Uint8Array][] = !text
    ? await kind.write(scene, stem)
    : [
        [
          basename(path),
          kind.kind === 'stl'
            ? (await import('../core/formats/stl')).writeStl(scene, true)
            : (await import('../core/formats/ply')).writePly(scene, true),
        ],
      ];
  return files.map(([name, bytes], i) => {
    const at = i === 0 ? path : join(dirname(path), basename(name));
    writeOutput(at, bytes);
    return at;
  });
}

/** Another piece of a file, by its name, where it stands as seen from one of them. */
export function otherIn(scene: Scene, from: number, name: string): Handed {
  const world = (i: number): Affine =>
    i < 0 ? IDENTITY : compose(world(scene.pieces[i].parent), scene.pieces[i].place ?? IDENTITY);
  const at = scene.pieces.findIndex((p, i) => p.name === name && i !== from);
  if (at < 0) throw new Error(`There is no other piece “${name.slice(0, 60)}” in the file.`);
  const { mesh, curves } = scene.pieces[at];
  const map = compose(invert(world(from)), world(at));
  return { geometry: transformGeometry({ mesh, curves }, map), name };
}
