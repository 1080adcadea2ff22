/** Reads a file of any kind that comes in, by what it holds rather than by what it is called. */
import { KINDS, kindByEnding, kindTitles, type ReadInput } from './kinds';
import { gate } from './gate';
import { FileError, safeName, type Scene } from './scene';
import { readingError } from './words';
import { isZip, readZip } from './zip';

export async function readAny(
  bytes: Uint8Array,
  fileName: string,
  beside: ReadonlyMap<string, Uint8Array> = new Map(),
  progress?: (share: number) => void,
): Promise<Scene> {
  try {
    return gate(await readKind(bytes, fileName, beside, progress));
  } catch (e) {
    if (e instanceof Error && e.message === 'cancelled') throw e; // by whom it is read for
    throw readingError(e, safeName(fileName));
  }
}

/**
 * Text that says which bytes it is written in before its first line: without that, which would spoil the first word.
 */
const unmarked = (bytes: Uint8Array): Uint8Array =>
  bytes[0] === 0xef && bytes[1] === 0xbb && bytes[2] === 0xbf ? bytes.subarray(3) : bytes;
const mapped = (files: ReadonlyMap<string, Uint8Array>): ReadonlyMap<string, Uint8Array> =>
  [...files.values()].some((b) => unmarked(b) !== b) ? new Map([...files].map(([n, b]) => [n, unmarked(b)])) : files;

async function readKind(
  bytes: Uint8Array,
  fileName: string,
  beside: ReadonlyMap<string, Uint8Array>,
  progress?: (share: number) => void,
): Promise<Scene> {
  const name = safeName(fileName);
  const own = unmarked(bytes);
  if (own.length === 0) throw new FileError(`${name} is empty.`);
  const input: ReadInput = { bytes: own, name, beside: mapped(beside), progress };
  const named = kindByEnding(name);
  const marked = KINDS.find((k) => k.mark?.(own));
  if (marked) {
    const scene = await marked.read(input);
    if (named && named !== marked && !(named.kind === 'gltf' && marked.kind === 'glb'))
      scene.warnings.unshift(`${name} is ${marked.title}, whatever its name says; it was read as that.`);
    return scene;
  }
  if (isZip(bytes)) {
    if (named?.kind === '3mf') return named.read(input);
    const files = readZip(bytes, name);
    if ([...files.keys()].some((n) => /\.model$/i.test(n))) return KINDS.find((k) => k.kind === '3mf')!.read(input);
    const model = [...files.keys()]
      .filter((n) => kindByEnding(n))
      .sort((a, b) => KINDS.indexOf(kindByEnding(a)!) - KINDS.indexOf(kindByEnding(b)!))[0];
    if (!model) throw new FileError(`${name} holds no model: ${kindTitles()}.`);
    return readKind(files.get(model)!, model, files, progress);
  }
  // Kinds with a mark of their own that is missing here are not what their name says.
  if (named?.mark)
    throw new FileError(
      `${name} is not a${/^[AEFHILMNORSX]/.test(named.title) ? 'n' : ''} ${named.title}, whatever its name says.`,
    );
  return (named ?? KINDS.find((k) => k.kind === 'obj')!).read(input);
}
