/** Pictures of a file's materials drawn anew on the layouts that its pieces were given. */
import { mergeMeshes } from '../core/edit/merge';
import { writePng, type Scene, type SceneMaterial } from '../core/formats';
import { toHex } from '../core/formats/scene';
import { readPixels } from '../core/formats/pixels';
import { ofSheet, picturesInto, withoutUnworn } from '../core/formats/wear';
import { lookOf, mapMaps, MAPS, type MapName, type Maps } from '../core/material';
import { sheetsOfFaces } from '../core/mesh/uvsheets';
import { UV, uvSets, type ImageData8, type Mesh, type MeshTextures } from '../core/mesh';
import { makeTexture } from '../core/paint/texture';
import type { Material } from '../core/recipe/define';

export interface CarryOptions {
  size: number;
  padding: number;
  /** All pieces are on one sheet, and so is one picture of them all. */
  oneSheet: boolean;
}

/**
 * `before`: by piece of the scene, the meshes as they lay on the pictures. Pieces that show none, or had no layout, are
 * left as they are. Answers a sentence for each that could not be carried over.
 */
export function carryPictures(scene: Scene, before: ReadonlyMap<number, Mesh>, o: CarryOptions): string[] {
  const said: string[] = [];
  const shows = (m: SceneMaterial): boolean => MAPS.some((name) => onMain(m, name));
  const wearing = [...before.keys()].filter((i) => {
    const mesh = scene.pieces[i].mesh!;
    return before.get(i)!.attributes[UV] && scene.materials.some((m) => shows(m) && mesh.slots.includes(m.id));
  });
  const pixels = new Map<string, ImageData8>();
  const broken = new Map<string, string>();
  const worn = new Set(wearing.flatMap((i) => scene.pieces[i].mesh!.slots));
  for (const m of scene.materials)
    for (const at of worn.has(m.id)
      ? Object.values(mapMaps(m.maps, (x, name) => (onMain(m, name) ? x : undefined)))
      : [])
      if (!pixels.has(`${at}`))
        try {
          pixels.set(`${at}`, readPixels(scene.images[at].bytes, scene.images[at].name));
        } catch (e) {
          broken.set(m.id, (e as Error).message);
        }
  const good = wearing.filter((i) => {
    const wrong = scene.pieces[i].mesh!.slots.find((id) => broken.has(id));
    if (wrong !== undefined)
      said.push(
        `${scene.pieces[i].name}: ${broken.get(wrong)!} Its pictures lie as they did, and not by the new layout.`,
      );
    return wrong === undefined;
  });
  const materials = scene.materials.map((m): Material => {
    const maps = Object.fromEntries(Object.entries(m.maps ?? {}).map(([name, at]) => [name, `${at}`]));
    return { ...lookOf(m), id: m.id, name: m.name, color: toHex(m.color), opacity: m.color[3], maps };
  });
  const draw = (mesh: Mesh, old: ArrayLike<number>): MeshTextures =>
    makeTexture(
      mesh,
      materials,
      { name: 'color', size: o.size, bleed: Math.max(1, o.padding >> 1), plain: true },
      {
        pixels,
        places: (set) => {
          if (set === 0) return old;
          const name = uvSets(mesh)[set];
          return name === undefined ? undefined : mesh.attributes[name].data;
        },
      },
    );
  const uvBefore = (i: number) => before.get(i)!.attributes[UV].data;
  if (o.oneSheet && good.length > 0) {
    const all = mergeMeshes(good.map((i) => ({ mesh: scene.pieces[i].mesh!, name: scene.pieces[i].name })));
    const old = new Float32Array(2 * all.cornerCount);
    let at = 0;
    for (const i of good) {
      old.set(uvBefore(i), at);
      at += uvBefore(i).length;
    }
    showOn(scene, good, draw(all, old), 'sheet');
  } else for (const i of good) showOn(scene, [i], draw(scene.pieces[i].mesh!, uvBefore(i)), scene.pieces[i].name);
  if (good.length > 0) withoutUnworn(scene);
  return said;
}

const onMain = (m: SceneMaterial, name: MapName): boolean => m.maps?.[name] !== undefined && !m.laid?.[name]?.set;

/**
 * Pieces keep their materials, but for the pictures of these that lie on the main set: they are those of the texture,
 * by a material for each of its sheets.
 */
function showOn(scene: Scene, pieces: readonly number[], texture: MeshTextures, called: string): void {
  const drawn = new Map<number, Maps<number>>();
  const picturesOn = (sheet: number): Maps<number> => {
    const had = drawn.get(sheet) ?? picturesInto(scene.images, texture, sheet, called, writePng);
    drawn.set(sheet, had);
    return had;
  };
  const made = new Map<string, string>();
  const anew = (id: string, sheet: number): string => {
    const m = scene.materials.find((x) => x.id === id);
    if (!m || !MAPS.some((name) => onMain(m, name))) return id;
    const own = ofSheet(`${id} on ${pieces[0]}`, sheet);
    const had = made.get(own);
    if (had !== undefined) return had;
    const elsewhere = scene.pieces.some((p, i) => !pieces.includes(i) && p.mesh?.slots.includes(id));
    const images = picturesOn(sheet);
    const maps = mapMaps(m.maps, (at, name) => (onMain(m, name) ? images[name] : at));
    const laid = mapMaps(m.laid, (x, name) => (onMain(m, name) ? undefined : x));
    const out = { ...m, id: own, name: ofSheet(elsewhere ? `${m.name} ${called}` : m.name, sheet), maps, laid };
    // What multiplied the pictures is in them.
    if (onMain(m, 'color')) out.color = [1, 1, 1, 1];
    if (onMain(m, 'surface')) out.roughness = out.metalness = 1;
    if (onMain(m, 'glow')) Object.assign(out, { glow: texture.look?.glow, glowStrength: texture.look?.glowStrength });
    scene.materials.push(out);
    made.set(own, own);
    return own;
  };
  for (const i of pieces) {
    const mesh = scene.pieces[i].mesh!;
    const slotOf = mesh.attributes.material?.data;
    if (!slotOf) continue;
    const { of } = sheetsOfFaces(mesh, mesh.attributes[UV].data);
    const slots: string[] = [];
    const material = Int32Array.from(slotOf, (slot, f) => {
      if (slot < 0) return slot;
      const id = anew(mesh.slots[slot], of[f]);
      const at = slots.indexOf(id);
      return at >= 0 ? at : slots.push(id) - 1;
    });
    scene.pieces[i] = {
      ...scene.pieces[i],
      mesh: mesh.with({ slots }).withAttribute('material', { domain: 'face', width: 1, data: material }),
    };
  }
}
