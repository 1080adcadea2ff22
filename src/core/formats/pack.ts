/** A model and all that belongs to it in one ZIP. */
import { KINDS } from './kinds';
import { safeName, type Scene } from './scene';
import { writeZip } from './zip';

/** A scene as files of a kind, in one ZIP where there are several or where it is asked for. */
export async function packScene(
  scene: Scene,
  kind: string,
  name: string,
  zip: boolean,
): Promise<{ bytes: Uint8Array; ending: string }> {
  const k = KINDS.find((x) => x.kind === kind);
  if (!k) throw new Error(`There is no kind of file called ${kind}.`);
  const files = await k.write(scene, safeName(name, 'model'));
  return files.length > 1 || zip
    ? { bytes: writeZip(new Map(files)), ending: 'zip' }
    : { bytes: files[0][1], ending: k.endings[0] };
}

export const objZip = async (scene: Scene, name: string): Promise<Uint8Array> =>
  (await packScene(scene, 'obj', name, true)).bytes;
