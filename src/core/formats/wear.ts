/** A texture as files have it: one material that shows its pictures. */
import { mapMaps, type Maps } from '../material';
import { COLOR, UV, uvSets, type ImageData8, type Mesh, type MeshTextures } from '../mesh/mesh';
import type { Scene, SceneMaterial } from './scene';

/** Puts the pictures into the scene, and answers the mesh in the material that shows them. The mesh needs their UVs. */
export function wear(
  mesh: Mesh,
  texture: MeshTextures,
  { id, name, images }: { id: string; name: string; images: Scene['images'] },
  encode: (image: ImageData8) => Uint8Array,
): { mesh: Mesh; material: SceneMaterial } {
  const laid = { set: uvSets(mesh).indexOf(texture.set ?? UV) };
  const maps = mapMaps<ImageData8, number>(texture.images(), (image, map) => {
    const called = map === 'color' ? texture.name : `${texture.name}_${map}`;
    return (
      images.push({ name: `${name}_${called}.png`.replace(/\s+/g, '_'), mime: 'image/png', bytes: encode(image) }) - 1
    );
  });
  const material: SceneMaterial = {
    id,
    name: `${name} ${texture.name}`,
    color: [1, 1, 1, 1],
    roughness: 0.7,
    metalness: 0,
    ...texture.look,
    maps,
    ...(laid.set > 0 ? { laid: mapMaps(maps, () => laid) } : {}),
  };
  return { mesh: inMaterial(mesh, id), material };
}

/** All of a mesh in a material of its texture. Its own colours are in that: beside it they would count twice. */
export const inMaterial = (mesh: Mesh, id: string): Mesh =>
  mesh
    .with({ slots: [id] })
    .withAttribute(COLOR, undefined)
    .withAttribute('material', { domain: 'face', width: 1, data: new Int32Array(mesh.faceCount) });

/** Takes out materials that nothing wears any more, and pictures that none shows. */
export function withoutUnworn(scene: Scene): void {
  const worn = new Set(scene.pieces.flatMap((p) => p.mesh?.slots ?? []));
  for (const p of scene.pieces)
    for (const s of p.copies?.sources ?? []) for (const id of s.mesh?.slots ?? []) worn.add(id);
  scene.materials = scene.materials.filter((m) => worn.has(m.id));
  const shown = new Set(scene.materials.flatMap((m) => Object.values(m.maps ?? {})));
  const at = new Map<number, number>();
  scene.images = scene.images.filter((_, i) => {
    if (shown.has(i)) at.set(i, at.size);
    return shown.has(i);
  });
  for (const m of scene.materials) if (m.maps) m.maps = mapMaps(m.maps, (i) => at.get(i)) as Maps<number>;
}
