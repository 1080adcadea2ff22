/** OBJ, MTL and pictures in one ZIP. */
import { writeObj } from './obj';
import { safeName, type Scene } from './scene';
import { writeZip } from './zip';

export function objZip(scene: Scene, name: string): Uint8Array {
  const stem = safeName(name, 'model');
  const { obj, mtl } = writeObj(scene, `${stem}.mtl`);
  const files = new Map<string, Uint8Array>([[`${stem}.obj`, obj]]);
  if (scene.materials.length) files.set(`${stem}.mtl`, mtl);
  for (const i of scene.images) files.set(safeName(i.name), i.bytes);
  return writeZip(files);
}
