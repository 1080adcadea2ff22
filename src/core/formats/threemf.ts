/** 3MF (the 3D Manufacturing Format, core specification 1.3): objects with colours, components within components, items on the bed. */
import { fromMatrix4, IDENTITY, type Affine } from '../math/affine';
import { GrowFloat, GrowInt } from '../math/grow';
import { keyOf } from '../math/hash';
import { countedKeys, Mesh, type Attribute } from '../mesh/mesh';
import { triangulate } from '../mesh/triangulate';
import { emptyScene, FileError, flatten, safeName, toHex, fromHex, type Scene, type SceneMaterial } from './scene';
import { escapeXml, readXml } from './xml';
import { readZip, writeZip } from './zip';

const UNITS: Readonly<Record<string, number>> = {
  micron: 1e-6,
  millimeter: 0.001,
  centimeter: 0.01,
  inch: 0.0254,
  foot: 0.3048,
  meter: 1,
};

interface Thing {
  id: string;
  name: string;
  vertex: GrowFloat;
  corner: GrowInt;
  slot: GrowInt;
  slots: string[];
  components: { id: string; place: Affine }[];
}

/** "a b c d e f g h i x y z": the rows of a matrix that vectors are multiplied onto from the left. */
const placeFrom = (text: string | undefined): Affine => {
  const m = text?.trim().split(/\s+/).map(Number);
  return m && m.length === 12 && m.every(Number.isFinite)
    ? fromMatrix4([m[0], m[1], m[2], 0, m[3], m[4], m[5], 0, m[6], m[7], m[8], 0, m[9], m[10], m[11], 1])
    : IDENTITY;
};

export function read3mf(bytes: Uint8Array, fileName = 'file.3mf', progress?: (share: number) => void): Scene {
  const name = safeName(fileName);
  const scene = emptyScene();
  const files = readZip(bytes, name);
  const model = [...files].find(([n]) => /\.model$/i.test(n));
  if (!model) throw new FileError(`${name} is not a 3MF: it holds no model.`);
  progress?.(0.2);
  const things = new Map<string, Thing>();
  const colors = new Map<string, string[]>();
  const items: { id: string; place: Affine }[] = [];
  let unit = 0.001;
  let now: Thing | undefined;
  let base: string | undefined;
  let objectColor: [string, number] | undefined;
  let bad = 0;
  let thin = 0;
  let other = false;
  const slotOf = (t: Thing, set: string | undefined, index: string | undefined): number => {
    const id = set === undefined ? undefined : colors.get(set)?.[Number(index ?? 0)];
    if (id === undefined) return -1;
    const at = t.slots.indexOf(id);
    return at >= 0 ? at : t.slots.push(id) - 1;
  };
  readXml(model[1], name, {
    open(tag, a) {
      switch (tag) {
        case 'model':
          unit = UNITS[a.unit ?? 'millimeter'] ?? 0.001;
          break;
        case 'basematerials':
        case 'colorgroup':
          base = a.id;
          colors.set(a.id, []);
          break;
        case 'base':
        case 'color': {
          const list = base === undefined ? undefined : colors.get(base);
          const hex = a.displaycolor ?? a.color ?? '';
          if (!list) break;
          const id = `${base}/${list.length}`;
          const [r, g, b] = fromHex(hex.slice(0, 7));
          const m: SceneMaterial = {
            id,
            name: a.name ?? `colour ${hex.slice(0, 7)}`,
            color: [r, g, b, hex.length === 9 ? parseInt(hex.slice(7), 16) / 255 : 1],
            roughness: 0.7,
            metalness: 0,
          };
          scene.materials.push(m);
          list.push(id);
          break;
        }
        case 'object':
          now = {
            id: a.id,
            name: safeName(a.name ?? '', `object ${a.id}`),
            vertex: new GrowFloat(256),
            corner: new GrowInt(256),
            slot: new GrowInt(256),
            slots: [],
            components: [],
          };
          objectColor = a.pid !== undefined ? [a.pid, Number(a.pindex ?? 0)] : undefined;
          if (a.type && a.type !== 'model') other = true;
          things.set(a.id, now);
          break;
        case 'vertex':
          if (now)
            for (const k of ['x', 'y', 'z']) {
              const n = Number(a[k]);
              now.vertex.push(Math.abs(n) < 1e30 ? n : (bad++, 0));
            }
          break;
        case 'triangle': {
          if (!now) break;
          const v = [Number(a.v1), Number(a.v2), Number(a.v3)];
          const n = now.vertex.length / 3;
          if (v.some((q) => !(q >= 0 && q < n))) {
            bad++;
            break;
          }
          if (v[0] === v[1] || v[1] === v[2] || v[2] === v[0]) {
            thin++;
            break;
          }
          for (const q of v) now.corner.push(q);
          if (a.pid !== undefined || a.p1 !== undefined) now.slot.push(slotOf(now, a.pid ?? objectColor?.[0], a.p1));
          else now.slot.push(objectColor ? slotOf(now, objectColor[0], String(objectColor[1])) : -1);
          break;
        }
        case 'component':
          now?.components.push({ id: a.objectid, place: placeFrom(a.transform) });
          break;
        case 'item':
          items.push({ id: a.objectid, place: placeFrom(a.transform) });
          break;
      }
    },
    close(tag) {
      if (tag === 'object') now = undefined;
      if (tag === 'basematerials' || tag === 'colorgroup') base = undefined;
    },
  });
  progress?.(0.8);
  const meshes = new Map<string, Mesh>();
  const put = (id: string, place: Affine, parent: number, depth: number): void => {
    const t = things.get(id);
    if (!t) {
      scene.warnings.push(`${name} asks for an object ${id} it does not hold.`);
      return;
    }
    if (depth > 32 || scene.pieces.length > 20000) throw new FileError(`${name} puts objects into themselves.`);
    let mesh = meshes.get(id);
    if (!mesh && t.corner.length) meshes.set(id, (mesh = meshOf(t, name)));
    const at =
      scene.pieces.push({ name: t.name, parent, ...(mesh ? { mesh } : {}), ...(place === IDENTITY ? {} : { place }) }) -
      1;
    for (const c of t.components) put(c.id, c.place, at, depth + 1);
  };
  for (const i of items.length ? items : [...things.keys()].map((id) => ({ id, place: IDENTITY })))
    put(i.id, i.place, -1, 0);
  if (!scene.pieces.some((p) => p.mesh)) throw new FileError(`${name} holds no triangles.`);
  if (bad) scene.warnings.push(`${name}: ${bad} triangles or places were not to be used. Skipped.`);
  if (thin) scene.warnings.push(`${name}: ${thin} triangles have two corners in one place. Skipped.`);
  if (other) scene.warnings.push(`${name} holds supports or other helpers; they came in as pieces too.`);
  scene.scale = { unit, up: 'z' };
  return scene;
}

function meshOf(t: Thing, file: string): Mesh {
  const faces = t.slot.length;
  const attributes: Record<string, Attribute> = {};
  if (t.slots.length)
    attributes.material = { domain: 'face', width: 1, data: Int32Array.from(t.slot.data.subarray(0, faces)) };
  return new Mesh({
    positions: Float32Array.from(t.vertex.data.subarray(0, t.vertex.length)),
    faceStart: Uint32Array.from({ length: faces + 1 }, (_, i) => 3 * i),
    cornerVertex: Uint32Array.from(t.corner.data.subarray(0, 3 * faces)),
    attributes,
    slots: t.slots,
    ...countedKeys(t.vertex.length / 3, faces, keyOf(`${file}/${t.id}`)),
  });
}

/** Writes a scene as 3MF: one object for each mesh, in its place, in the unit asked for (metres where nothing is said). */
export function write3mf(input: Scene): Uint8Array {
  const scene = flatten(input);
  const out: string[] = [];
  const materials = scene.materials;
  const index = new Map(materials.map((m, i) => [m.id, i]));
  const unit = Object.entries(UNITS).find(([, s]) => s === (input.scale?.unit ?? 1))?.[0] ?? 'meter';
  out.push(
    '<?xml version="1.0" encoding="UTF-8"?>',
    `<model unit="${unit}" xml:lang="en-US" xmlns="http://schemas.microsoft.com/3dmanufacturing/core/2015/02">`,
    '<metadata name="Application">Glypta</metadata>',
    '<resources>',
  );
  if (materials.length)
    out.push(
      '<basematerials id="1">',
      ...materials.map(
        (m) =>
          `<base name="${escapeXml(m.name)}" displaycolor="${toHex(m.color).toUpperCase()}${Math.round(m.color[3] * 255)
            .toString(16)
            .padStart(2, '0')
            .toUpperCase()}"/>`,
      ),
      '</basematerials>',
    );
  const items: number[] = [];
  scene.pieces.forEach((p, i) => {
    if (!p.mesh || p.mesh.faceCount === 0) return;
    const id = i + 2;
    const m = p.mesh;
    const t = triangulate(m);
    const at = m.positions;
    const slot = m.attributes.material?.data;
    // What the object says holds for every face that says nothing: so only where each has one does it say anything.
    const bare = !slot || slot.some((s) => index.get(m.slots[s]) === undefined);
    const first = bare ? undefined : m.slots.map((s) => index.get(s)).find((x) => x !== undefined);
    items.push(id);
    out.push(
      `<object id="${id}" type="model" name="${escapeXml(p.name)}"${first !== undefined ? ` pid="1" pindex="${first}"` : ''}><mesh><vertices>`,
    );
    for (let v = 0; v < at.length; v += 3) out.push(`<vertex x="${at[v]}" y="${at[v + 1]}" z="${at[v + 2]}"/>`);
    out.push('</vertices><triangles>');
    for (let k = 0; k < t.face.length; k++) {
      const c = index.get(m.slots[slot ? slot[t.face[k]] : -1]);
      out.push(
        `<triangle v1="${m.cornerVertex[t.corners[3 * k]]}" v2="${m.cornerVertex[t.corners[3 * k + 1]]}" v3="${m.cornerVertex[t.corners[3 * k + 2]]}"${c !== undefined ? ` pid="1" p1="${c}"` : ''}/>`,
      );
    }
    out.push('</triangles></mesh></object>');
  });
  out.push('</resources>', '<build>', ...items.map((id) => `<item objectid="${id}"/>`), '</build>', '</model>');
  const text = (s: string) => new TextEncoder().encode(s);
  return writeZip(
    new Map([
      [
        '[Content_Types].xml',
        text(
          '<?xml version="1.0" encoding="UTF-8"?><Types xmlns="http://schemas.openxmlformats.org/package/2006/content-types"><Default Extension="rels" ContentType="application/vnd.openxmlformats-package.relationships+xml"/><Default Extension="model" ContentType="application/vnd.ms-package.3dmanufacturing-3dmodel+xml"/></Types>',
        ),
      ],
      [
        '_rels/.rels',
        text(
          '<?xml version="1.0" encoding="UTF-8"?><Relationships xmlns="http://schemas.openxmlformats.org/package/2006/relationships"><Relationship Target="/3D/3dmodel.model" Id="rel0" Type="http://schemas.microsoft.com/3dmanufacturing/2013/01/3dmodel"/></Relationships>',
        ),
      ],
      ['3D/3dmodel.model', text(out.join('\n'))],
    ]),
  );
}
