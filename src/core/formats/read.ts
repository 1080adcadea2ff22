/** Reads a file of any kind that comes in, by what it holds rather than by what it is called. */
import { FileError, safeName, type Scene } from './scene';
import { readObj } from './obj';
import { readZip } from './zip';

export async function readAny(bytes: Uint8Array, fileName: string, beside: ReadonlyMap<string, Uint8Array> = new Map(), progress?: (share: number) => void): Promise<Scene> {
  const name = safeName(fileName);
  if (bytes.length === 0) throw new FileError(`${name} is empty.`);
  const magic = bytes.length >= 4 ? new DataView(bytes.buffer, bytes.byteOffset, 4).getUint32(0, true) : 0;
  if (magic === 0x46546c67) return (await import('./glb')).readGlb(bytes, name);
  if (magic === 0x04034b50) {
    const files = readZip(bytes, name);
    const model = [...files.keys()].find((n) => /\.(obj|glb)$/i.test(n));
    if (!model) throw new FileError(`${name} holds no OBJ or GLB.`);
    return readAny(files.get(model)!, model, files, progress);
  }
  if (/\.glb$/i.test(name)) throw new FileError(`${name} is not a GLB, whatever its name says.`);
  return readObj(bytes, name, { beside, progress });
}
