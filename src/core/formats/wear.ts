/** A texture as files have it: one material that shows its pictures. */
import { mapMaps, type Maps } from '../material';
import { sheetsOfFaces } from '../mesh/uvsheets';
import { COLOR, UV, uvSets, type ImageData8, type Mesh, type MeshTextures } from '../mesh/mesh';
import type { Scene, SceneMaterial } from './scene';

/**
 * Puts the pictures into the scene, and answers the materials that show them, one for each sheet. The mesh needs their
 * UVs; it wears them by `inMaterials`.
 */
export function materialsOf(
  mesh: Mesh,
  texture: MeshTextures,
  { id, name, images }: { id: string; name: string; images: Scene['images'] },
  encode: (image: ImageData8) => Uint8Array,
): SceneMaterial[] {
  const laid = { set: uvSets(mesh).indexOf(texture.set ?? UV) };
  return Array.from({ length: texture.sheets ?? 1 }, (_, sheet): SceneMaterial => {
    const maps = picturesInto(images, texture, sheet, `${name}_${texture.name}`, encode);
    return {
      id: ofSheet(id, sheet),
      name: ofSheet(`${name} ${texture.name}`, sheet),
      color: [1, 1, 1, 1],
      roughness: 0.7,
      metalness: 0,
      ...texture.look,
      maps,
      ...(laid.set > 0 ? { laid: mapMaps(maps, () => laid) } : {}),
    };
  });
}

/** What is called so, on one of its sheets: the first has the name alone. */
export const ofSheet = (name: string, sheet: number): string => (sheet > 0 ? `${name} ${sheet + 1}` : name);

/** The pictures of one sheet of a texture, put among others; by where they are there. */
export function picturesInto(
  images: Scene['images'],
  texture: MeshTextures,
  sheet: number,
  name: string,
  encode: (image: ImageData8) => Uint8Array,
): Maps<number> {
  return mapMaps<ImageData8, number>(texture.images(sheet), (image, map) => {
    const called = `${ofSheet(map === 'color' ? name : `${name}_${map}`, sheet)}.png`.replace(/\s+/g, '_');
    return images.push({ name: called, mime: 'image/png', bytes: encode(image) }) - 1;
  });
}

/**
 * All of a mesh in the materials of its texture, each face in that of its sheet. Its own colours are in them: beside
 * them they would count twice.
 */
export function inMaterials(mesh: Mesh, texture: MeshTextures, ids: readonly string[]): Mesh {
  const { of } = sheetsOfFaces(mesh, mesh.attributes[texture.set ?? UV].data);
  return mesh
    .with({ slots: ids })
    .withAttribute(COLOR, undefined)
    .withAttribute('material', {
      domain: 'face',
      width: 1,
      data: Int32Array.from(of, (sheet) => Math.min(sheet, ids.length - 1)),
    });
}

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
