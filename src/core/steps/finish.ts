/** Colours of faces, and the texture made of them and of the pictures of materials. */
import type { Attribute, ImageData8, Mesh } from '../mesh/mesh';
import { nameOfUvSet, UV, uvSetCalled, uvSets, withSetAhead } from '../mesh/mesh';
import { sheetsOfFaces } from '../mesh/uvsheets';
import { makeTexture, type Pictures } from '../paint/texture';
import { Cancelled, defineStep, input, type StepContext } from '../recipe/define';
import { choice, colors, count, earlierStep, material, text } from '../recipe/values';
import { layoutOf } from '../uv/follow/layout';
import { pinsOf } from '../uv/follow/placed';
import { NOTHING_LOST, remedies, type Found } from './lost';
import { PIXELS } from './unwrap';

export const color = defineStep({
  kind: 'color',
  title: 'Colour',
  sentence: ' in {base}, and {colors} on faces of their own',
  inputs: { mesh: input('mesh') },
  usesMaterials: true,
  help: 'Give faces a material',
  values: { base: material('all faces'), colors: colors('faces') },
  run: ({ mesh }, v, c) => {
    const slots = [...mesh.slots];
    const had = mesh.attributes.material?.data;
    const slotOf = (id: string) => {
      const i = slots.indexOf(id);
      return i >= 0 ? i : slots.push(id) - 1;
    };
    const data = had ? Int32Array.from(had) : new Int32Array(mesh.faceCount).fill(-1);
    if (v.base) data.fill(slotOf(v.base));
    const looked: { pick: (typeof v.colors)[number]; found: Found }[] = [];
    let lost = 0;
    let all = 0;
    for (const coloured of v.colors) {
      const { material, keys, spots } = coloured;
      if (!c.materials.some((m) => m.id === material)) {
        c.warn('A material that was used here has been deleted; its faces are bare.');
        looked.push({ pick: coloured, found: NOTHING_LOST });
        continue;
      }
      const r = c.find(mesh, { kind: 'face', keys, spots }, 'colors');
      looked.push({ pick: coloured, found: r });
      const slot = slotOf(material);
      for (const f of r.indices) data[f] = slot;
      lost += r.lost.length;
      all += keys.length;
    }
    if (lost)
      c.warn({
        text: `${lost} of ${all} coloured faces are gone by a change before this step. Their colour waits for them.`,
        remedies: remedies(looked, (colors) => ({ colors })),
        at: looked.flatMap(({ found }) => found.at),
      });
    const attribute: Attribute = { domain: 'face', width: 1, data };
    return mesh.with({ slots, attributes: { ...mesh.attributes, material: attribute } });
  },
});

export const texture = defineStep({
  kind: 'texture',
  title: 'Make texture',
  sentence: ' {name} at {size} px, bleeding {bleed} px beyond the islands',
  inputs: { mesh: input('mesh') },
  usesMaterials: true,
  help: 'Write the colours, and the pictures of the materials, into a picture on the sheet',
  usesPictures: true,
  values: {
    name: text('name', 'color'),
    size: choice('size', '1024', PIXELS),
    set: text('UV set', 'main'),
    bleed: count('bleed', 8, { min: 0, max: 64 }),
    pictures: earlierStep('pictures lie as after the step'),
  },
  run: async ({ mesh }, v, c) => {
    const set = uvSetCalled(v.set);
    if (!mesh.attributes[set])
      throw new Error(
        set === UV
          ? 'There are no UVs to write on: put an unwrap step before this one.'
          : `There is no UV set ${nameOfUvSet(set)} to write on: put an unwrap step for it before this one.`,
      );
    const o = { name: v.name || 'color', size: Number(v.size), bleed: v.bleed };
    const pictures = await picturesOf(mesh, v.pictures, c);
    const { beyond } = sheetsOfFaces(mesh, mesh.attributes[set].data);
    if (beyond > 0)
      c.warn(
        `${beyond} of ${mesh.faceCount} faces ${beyond === 1 ? 'reaches' : 'reach'} beyond the sheet they lie on: what ` +
          'is outside has no place in the texture.',
      );
    return mesh.with({ textures: { ...makeTexture(withSetAhead(mesh, set), c.materials, o, pictures), set } });
  },
});

/**
 * The pictures of its materials, and where it lies on them: as it does now, or as it did after an earlier step,
 * followed to what has become of it since.
 */
async function picturesOf(mesh: Mesh, step: string, c: StepContext): Promise<Pictures> {
  const pixels = new Map<string, ImageData8>();
  const worn = c.materials.filter((m) => mesh.slots.includes(m.id));
  for (const id of new Set(worn.flatMap((m) => Object.values(m.maps ?? {}))))
    try {
      pixels.set(id, await c.picture(id));
    } catch (e) {
      if (e instanceof Cancelled) throw e;
      c.warn(`${(e as Error).message} What shows it has its plain colour.`);
    }
  if (pixels.size === 0) return { pixels, places: () => undefined };
  const before = step === '' ? undefined : c.earlier(step)?.mesh;
  if (step !== '' && !before?.attributes[UV])
    c.warn('The step is gone by which the pictures of its materials lay: they lie as the piece is laid out now.');
  const places = before?.attributes[UV] ? followedTo(mesh, before) : undefined;
  if (places) {
    const faces = facesWithout(mesh, places);
    c.tell('faces', mesh.faceCount);
    c.tell('carried', mesh.faceCount - faces);
    if (faces > 0)
      c.warn(
        `${faces} of ${mesh.faceCount} faces were not there where the pictures lay: they have the plain ` +
          'colours of their materials.',
      );
  }
  return {
    pixels,
    places: (set) => {
      if (set === 0 && places) return places;
      const name = uvSets(mesh)[set];
      return name === undefined ? undefined : mesh.attributes[name].data;
    },
  };
}

/** Where the corners of a mesh lay on the sheet of what it was made from: 2 each, NaN where nowhere. */
function followedTo(mesh: Mesh, before: Mesh): ArrayLike<number> {
  const uv = before.attributes[UV].data;
  const same =
    before.cornerCount === mesh.cornerCount &&
    mesh.cornerVertex.every((v, c) => v === before.cornerVertex[c]) &&
    mesh.faceKey.every((key, f) => key === before.faceKey[f]);
  if (same) return uv;
  const layout = layoutOf(before);
  const out = new Float64Array(2 * mesh.cornerCount).fill(NaN);
  for (const [corner, place] of pinsOf(mesh, layout.places, undefined, layout).at) out.set(place, 2 * corner);
  return out;
}

function facesWithout(mesh: Mesh, places: ArrayLike<number>): number {
  let out = 0;
  for (let f = 0; f < mesh.faceCount; f++)
    for (let c = mesh.faceStart[f]; c < mesh.faceStart[f + 1]; c++)
      if (Number.isNaN(places[2 * c])) {
        out++;
        break;
      }
  return out;
}
