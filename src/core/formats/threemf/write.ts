/**
 * 3MF written as it is made: its text goes to the packer a piece at a time, so that what is held at once is the packed
 * file and little else. 1,000,000 triangles took 12 s and 1.3 GB as one text; `./glypta bench --only 3mf`.
 */
import { EVERY, pulse } from '../../math/pulse';
import { COLOR, UV, type Mesh } from '../../mesh/mesh';
import { triangulate } from '../../mesh/triangulate';
import { distinct } from '../distinct';
import { writeInteger, writeNumber } from '../numbers';
import { flatten, onPictureSets, safeName, toHex, type Scene, type SceneMaterial } from '../scene';
import { escapeXml } from '../xml';
import { packStream } from '../zip';
import { UNITS } from './read';

const CORE = 'http://schemas.microsoft.com/3dmanufacturing/core/2015/02';
const MATERIALS = 'http://schemas.microsoft.com/3dmanufacturing/material/2015/02';
const RELATIONS = 'http://schemas.openxmlformats.org/package/2006/relationships';
const KIND = 'http://schemas.microsoft.com/3dmanufacturing/2013/01';
const HEAD = '<?xml version="1.0" encoding="UTF-8"?>';
const CHUNK = 1 << 20;
const ROOM = 1024;

/** Text as bytes, handed out a piece at a time. */
class Text {
  private out = new Uint8Array(CHUNK + ROOM);
  private at = 0;
  readonly full: Uint8Array[] = [];

  add(text: string): this {
    if (3 * text.length > ROOM) {
      this.flush();
      this.full.push(new TextEncoder().encode(text));
      return this;
    }
    this.room();
    this.at += new TextEncoder().encodeInto(text, this.out.subarray(this.at)).written;
    return this;
  }

  /** Short and of plain letters only: in the lists that are long. */
  word(text: string): this {
    for (let i = 0; i < text.length; i++) this.out[this.at++] = text.charCodeAt(i);
    return this;
  }

  number(x: number): this {
    this.at = writeNumber(this.out, this.at, x);
    return this;
  }

  integer(x: number): this {
    this.at = writeInteger(this.out, this.at, x);
    return this;
  }

  room(): void {
    if (this.at > CHUNK) this.flush();
  }

  flush(): void {
    if (this.at > 0) this.full.push(this.out.slice(0, this.at));
    this.at = 0;
  }

  *take(): Generator<Uint8Array> {
    while (this.full.length > 0) yield this.full.shift()!;
  }
}

const hexOf = (c: ArrayLike<number>): string => {
  const byte = Math.round(Math.min(1, Math.max(0, c[3])) * 255);
  return `${toHex(c)}${byte.toString(16).padStart(2, '0')}`.toUpperCase();
};

/** Members of groups that corners of a mesh take beside their material: places on a picture, or colours. */
interface Corners {
  id: number;
  of: Uint32Array;
  /** The member that says nothing: opaque white. */
  plain?: number;
}

class Writer {
  private readonly text = new Text();
  private readonly index: Map<string, number>;
  /** Picture of a material, by its id, as a resource. */
  private readonly texture = new Map<string, number>();
  private next = 2;

  constructor(
    private readonly scene: Scene,
    private readonly unit: string,
  ) {
    this.index = new Map(scene.materials.map((m, i) => [m.id, i]));
  }

  *run(): Generator<Uint8Array> {
    const { text, scene } = this;
    text.add(`${HEAD}\n<model unit="${this.unit}" xml:lang="en-US" xmlns="${CORE}" xmlns:m="${MATERIALS}">\n`);
    text.add('<metadata name="Application">Glypta</metadata>\n<resources>\n');
    this.materials(scene.materials);
    const items: number[] = [];
    for (const p of scene.pieces) {
      if (!p.mesh || p.mesh.faceCount === 0) continue;
      const places = this.placesOnPictures(p.mesh);
      const colors = this.colours(p.mesh);
      items.push(this.next);
      yield* this.object(p.mesh, p.name, this.next++, places, colors);
    }
    text.add('</resources>\n<build>\n');
    for (const id of items) text.add(`<item objectid="${id}"/>\n`);
    text.add('</build>\n</model>\n').flush();
    yield* text.take();
  }

  private materials(list: readonly SceneMaterial[]): void {
    const { text } = this;
    if (list.length === 0) return;
    text.add('<basematerials id="1">\n');
    for (const m of list) text.add(`<base name="${escapeXml(m.name)}" displaycolor="${hexOf(m.color)}"/>\n`);
    text.add('</basematerials>\n');
    for (const m of list) {
      const image = m.maps?.color === undefined ? undefined : this.scene.images[m.maps.color];
      if (!image || image.mime === 'image/webp') continue;
      text.add(
        `<m:texture2d id="${this.next}" path="${pathOf(this.scene, m.maps!.color!)}" contenttype="${image.mime}"/>\n`,
      );
      this.texture.set(m.id, this.next++);
    }
  }

  /** Groups of places on pictures, one for each textured material that the mesh wears. */
  private placesOnPictures(mesh: Mesh): Map<number, Corners> {
    const out = new Map<number, Corners>();
    const uv = mesh.attributes[UV];
    if (!uv) return out;
    const d = distinct(uv.data as Float32Array, 2);
    mesh.slots.forEach((slot, s) => {
      const texture = this.texture.get(slot);
      if (texture === undefined) return;
      const { text } = this;
      text.add(`<m:texture2dgroup id="${this.next}" texid="${texture}">\n`);
      for (let i = 0; i < d.count; i++) {
        text.room();
        text.word('<m:tex2coord u="').number(uv.data[2 * d.first[i]]);
        text
          .word('" v="')
          .number(uv.data[2 * d.first[i] + 1])
          .word('"/>\n');
      }
      text.add('</m:texture2dgroup>\n');
      out.set(s, { id: this.next++, of: d.of });
    });
    return out;
  }

  private colours(mesh: Mesh): Corners | undefined {
    const own = mesh.attributes[COLOR];
    if (!own || own.domain === 'face' || own.width < 3) return undefined;
    const { width, data } = own;
    const { text } = this;
    const known = new Map<string, number>();
    const of = new Uint32Array(mesh.cornerCount);
    text.add(`<m:colorgroup id="${this.next}">\n`);
    for (let c = 0; c < of.length; c++) {
      const o = width * (own.domain === 'vertex' ? mesh.cornerVertex[c] : c);
      const hex = hexOf([data[o], data[o + 1], data[o + 2], width > 3 ? data[o + 3] : 1]);
      let at = known.get(hex);
      if (at === undefined) {
        known.set(hex, (at = known.size));
        text.add(`<m:color color="${hex}"/>\n`);
      }
      of[c] = at;
    }
    text.add('</m:colorgroup>\n');
    return { id: this.next++, of, plain: known.get('#FFFFFFFF') };
  }

  private *object(
    m: Mesh,
    name: string,
    id: number,
    places: ReadonlyMap<number, Corners>,
    colors: Corners | undefined,
  ): Generator<Uint8Array> {
    const { text, index } = this;
    const t = triangulate(m);
    const at = m.positions;
    const slot = m.attributes.material?.data;
    // What the object says holds for every face that says nothing: so only where each has one does it say anything.
    const isBare = colors !== undefined || !slot || slot.some((s) => index.get(m.slots[s]) === undefined);
    const first = isBare ? undefined : m.slots.map((s) => index.get(s)).find((x) => x !== undefined);
    text.add(`<object id="${id}" type="model" name="${escapeXml(name)}"`);
    text.add(`${first !== undefined ? ` pid="1" pindex="${first}"` : ''}><mesh>\n<vertices>\n`);
    for (let v = 0; v < at.length; v += 3) {
      if ((v & EVERY) === 0) pulse();
      text.room();
      text
        .word('<vertex x="')
        .number(at[v])
        .word('" y="')
        .number(at[v + 1]);
      text
        .word('" z="')
        .number(at[v + 2])
        .word('"/>\n');
      if (text.full.length) yield* text.take();
    }
    text.add('</vertices>\n<triangles>\n');
    for (let k = 0; k < t.face.length; k++) {
      if ((k & EVERY) === 0) pulse();
      text.room();
      const s = slot ? slot[t.face[k]] : -1;
      text.word('<triangle v1="').integer(m.cornerVertex[t.corners[3 * k]]);
      text.word('" v2="').integer(m.cornerVertex[t.corners[3 * k + 1]]);
      text.word('" v3="').integer(m.cornerVertex[t.corners[3 * k + 2]]);
      const worn = index.get(m.slots[s]);
      const own = places.get(s) ?? (worn === undefined ? colors : undefined);
      if (own && saysMore(own, t.corners, 3 * k)) {
        text.word('" pid="').integer(own.id);
        for (let q = 0; q < 3; q++) text.word(P[q]).integer(own.of[t.corners[3 * k + q]]);
      } else if (worn !== undefined) text.word('" pid="1" p1="').integer(worn);
      text.word('"/>\n');
      if (text.full.length) yield* text.take();
    }
    text.add('</triangles>\n</mesh></object>\n');
    yield* text.take();
  }
}

const saysMore = ({ of, plain }: Corners, corners: Uint32Array, at: number): boolean =>
  plain === undefined || of[corners[at]] !== plain || of[corners[at + 1]] !== plain || of[corners[at + 2]] !== plain;

const P = ['" p1="', '" p2="', '" p3="'];

const pathOf = (scene: Scene, image: number): string =>
  `/3D/Textures/${image}-${escapeXml(safeName(scene.images[image].name).replace(/[^\w.-]/g, '_'))}`;

/**
 * Writes a scene as 3MF: one object for each mesh, in its place, in the unit asked for (metres where nothing is said).
 */
export async function write3mf(input: Scene): Promise<Uint8Array> {
  const scene = onPictureSets(flatten(input));
  const unit = Object.entries(UNITS).find(([, s]) => s === (input.scale?.unit ?? 1))?.[0] ?? 'meter';
  const encode = (s: string) => new TextEncoder().encode(s);
  const pictures = [...new Set(scene.materials.flatMap((m) => (m.maps?.color === undefined ? [] : [m.maps.color])))];
  const shown = pictures.filter((i) => scene.images[i].mime !== 'image/webp');
  const relation = (target: string, id: string, kind: string) =>
    `<Relationship Target="${target}" Id="${id}" Type="${KIND}/${kind}"/>`;
  const relations = (list: string[]) =>
    encode(`${HEAD}<Relationships xmlns="${RELATIONS}">${list.join('')}</Relationships>`);
  const types = [
    ['rels', 'application/vnd.openxmlformats-package.relationships+xml'],
    ['model', 'application/vnd.ms-package.3dmanufacturing-3dmodel+xml'],
    ['png', 'image/png'],
    ['jpg', 'image/jpeg'],
    ['jpeg', 'image/jpeg'],
  ].map(([ending, type]) => `<Default Extension="${ending}" ContentType="${type}"/>`);
  const content = 'http://schemas.openxmlformats.org/package/2006/content-types';
  return packStream([
    ['[Content_Types].xml', [encode(`${HEAD}<Types xmlns="${content}">${types.join('')}</Types>`)]],
    ['_rels/.rels', [relations([relation('/3D/3dmodel.model', 'rel0', '3dmodel')])]],
    ...(shown.length
      ? ([
          [
            '3D/_rels/3dmodel.model.rels',
            [relations(shown.map((i) => relation(pathOf(scene, i), `tex${i}`, '3dtexture')))],
          ],
        ] as [string, Uint8Array[]][])
      : []),
    ...shown.map((i): [string, Uint8Array[]] => [pathOf(scene, i).slice(1), [scene.images[i].bytes]]),
    ['3D/3dmodel.model', new Writer(scene, unit).run()],
  ]);
}
