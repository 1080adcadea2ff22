/** A model and all that belongs to it in one ZIP. */
import { uvSets } from '../mesh/mesh';
import { KINDS, type FormatKind } from './kinds';
import { safeName, type Scene } from './scene';
import { writeZip } from './zip';

/** So many pieces are named. */
const MOST_NAMED = 3;

/** What of a scene a kind of file has no room for, where it would not be missed at once. */
export function leftOut(kind: FormatKind, scene: Scene): string[] {
  const several = scene.pieces.filter((p) => p.mesh && uvSets(p.mesh).length > 1).map((p) => p.name);
  if (!kind.oneSet || several.length === 0) return [];
  const more = several.length - MOST_NAMED;
  const of = `${several.slice(0, MOST_NAMED).join(', ')}${more > 0 ? ` and ${more} more` : ''}`;
  return [`${kind.kind.toUpperCase()} has room for one UV set: of ${of} the others are left out.`];
}

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
  scene.warnings.push(...leftOut(k, scene));
  return files.length > 1 || zip
    ? { bytes: writeZip(new Map(files)), ending: 'zip' }
    : { bytes: files[0][1], ending: k.endings[0] };
}

export const objZip = async (scene: Scene, name: string): Promise<Uint8Array> =>
  (await packScene(scene, 'obj', name, true)).bytes;
