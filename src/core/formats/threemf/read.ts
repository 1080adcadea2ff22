/**
 * 3MF (the 3D Manufacturing Format): core specification 1.3, materials and properties 1.2 (colours, gradients,
 * textures), production 1.1 (objects in several files). Objects with colours, components within components, items on
 * the bed.
 */
import { fromMatrix4, IDENTITY, type Affine } from '../../math/affine';
import { keyOf } from '../../math/hash';
import type { Maps } from '../../material';
import { COLOR, countedKeys, Mesh, UV, type Attribute } from '../../mesh/mesh';
import { emptyScene, FileError, fromHex, safeName, type Scene } from '../scene';
import { readXml } from '../xml';
import { readZipPaths } from '../zip';
import { MeshLists, PROPERTIES, sectionsOf } from './sections';

export const UNITS: Readonly<Record<string, number>> = {
  micron: 1e-6,
  millimeter: 0.001,
  centimeter: 0.01,
  inch: 0.0254,
  foot: 0.3048,
  meter: 1,
};

interface Part {
  key: string;
  place: Affine;
}

/** Members of a group of properties: materials or colours, by id and colour, or places on a picture. */
interface Group {
  materials: string[];
  colors: [number, number, number, number][];
  gradient: boolean;
  texture?: { material: string; uv: number[] };
}

interface Thing {
  key: string;
  name: string;
  lists: MeshLists;
  /** Group and member for triangles that say nothing. */
  own?: [number, number];
  parts: Part[];
  path: string;
}

/** "a b c d e f g h i x y z": the rows of a matrix that vectors are multiplied onto from the left. */
const placeFrom = (text: string | undefined): Affine => {
  const m = text?.trim().split(/\s+/).map(Number);
  return m && m.length === 12 && m.every(Number.isFinite)
    ? fromMatrix4([m[0], m[1], m[2], 0, m[3], m[4], m[5], 0, m[6], m[7], m[8], 0, m[9], m[10], m[11], 1])
    : IDENTITY;
};

const bare = (path: string): string => path.replace(/\\/g, '/').replace(/^\/+/, '').toLowerCase();

const EXTRA: Readonly<Record<string, string>> = {
  multiproperties: 'mixed materials',
  compositematerials: 'mixed materials',
  beamlattice: 'lattices of beams',
  slicestack: 'slices',
  displacementmesh: 'displaced meshes',
  volumetricstack: 'volumes',
};

class Package {
  readonly scene = emptyScene();
  private readonly files = new Map<string, Uint8Array>();
  private readonly things = new Map<string, Thing>();
  private readonly groups = new Map<string, Group>();
  private readonly items: Part[] = [];
  private readonly read = new Set<string>();
  private readonly images = new Map<string, number>();
  private readonly left = new Set<string>();
  private unit = 0.001;
  private bad = 0;
  private thin = 0;
  private other = false;

  constructor(
    bytes: Uint8Array,
    private readonly name: string,
    private readonly progress?: (share: number) => void,
  ) {
    for (const [path, b] of readZipPaths(bytes, name)) this.files.set(bare(path), b);
  }

  /** The model that the package says is the one; where it says nothing, the first there is. */
  private root(): string {
    let target = '';
    const relations = this.files.get('_rels/.rels');
    if (relations)
      readXml(relations, this.name, {
        open: (tag, a) => {
          if (tag === 'Relationship' && /\/3dmodel$/i.test(a.Type ?? '')) target ||= bare(a.Target ?? '');
        },
      });
    const models = [...this.files.keys()].filter((n) => n.endsWith('.model'));
    if (this.files.has(target)) return target;
    const first = models.find((n) => n === '3d/3dmodel.model') ?? models[0];
    if (!first) throw new FileError(`${this.name} is not a 3MF: it holds no model.`);
    return first;
  }

  private model(path: string, isRoot: boolean): void {
    if (this.read.has(path)) return;
    this.read.add(path);
    const bytes = this.files.get(path);
    if (!bytes) {
      this.scene.warnings.push(`${this.name} asks for ${path}, which it does not hold.`);
      return;
    }
    const key = (id: string, elsewhere?: string) => `${elsewhere ? bare(elsewhere) : path}#${id}`;
    const quick = sectionsOf(bytes, (share) => this.progress?.(0.2 + 0.6 * share));
    const lists = quick?.meshes.values();
    const textures = new Map<string, number>();
    const asked: string[] = [];
    let now: Thing | undefined;
    let group: Group | undefined;
    const elsewhere = (a: Readonly<Record<string, string>>) =>
      Object.entries(a).find(([n]) => /(^|:)path$/.test(n))?.[1];
    const part = (a: Readonly<Record<string, string>>): Part => {
      const at = elsewhere(a);
      if (at) asked.push(bare(at));
      return { key: key(a.objectid, at), place: placeFrom(a.transform) };
    };
    const resource = (tag: string, a: Readonly<Record<string, string>>): void => {
      switch (tag) {
        case 'basematerials':
        case 'colorgroup':
          group = { materials: [], colors: [], gradient: tag === 'colorgroup' };
          this.groups.set(key(a.id), group);
          break;
        case 'base':
        case 'color':
          if (group) this.colour(group, key(a.id ?? ''), a.displaycolor ?? a.color ?? '', a.name);
          break;
        case 'texture2d': {
          const at = this.image(a.path ?? '');
          if (at !== undefined) textures.set(a.id, at);
          break;
        }
        case 'texture2dgroup':
          group = { materials: [], colors: [], gradient: false };
          group.texture = { material: this.textured(textures.get(a.texid), key(a.id)), uv: [] };
          this.groups.set(key(a.id), group);
          break;
        case 'tex2coord':
          group?.texture?.uv.push(Number(a.u), Number(a.v));
          break;
        default:
          if (EXTRA[tag]) this.left.add(EXTRA[tag]);
      }
    };
    const open = (tag: string, a: Readonly<Record<string, string>>): void => {
      switch (tag) {
        case 'model':
          if (isRoot) this.unit = UNITS[a.unit ?? 'millimeter'] ?? 0.001;
          break;
        case 'object':
          now = {
            key: key(a.id),
            name: safeName(a.name ?? '', `object ${a.id}`),
            lists: new MeshLists(),
            parts: [],
            path,
          };
          if (a.pid !== undefined) now.own = [Number(a.pid), Number(a.pindex ?? 0)];
          if (a.type && a.type !== 'model') this.other = true;
          this.things.set(now.key, now);
          break;
        case 'vertices':
          if (now && lists) now.lists = lists.next().value ?? now.lists;
          break;
        case 'vertex':
          for (const k of ['x', 'y', 'z']) now?.lists.place.push(Number(a[k]));
          break;
        case 'triangle':
          for (const k of ['v1', 'v2', 'v3']) now?.lists.corner.push(index(a[k]));
          for (const k of PROPERTIES) now?.lists.property.push(index(a[k]));
          break;
        case 'component':
          now?.parts.push(part(a));
          break;
        case 'item':
          if (isRoot) this.items.push(part(a));
          break;
        default:
          resource(tag, a);
      }
    };
    const close = (tag: string): void => {
      if (tag === 'object') now = undefined;
      if (/^(basematerials|colorgroup|texture2dgroup)$/.test(tag)) group = undefined;
    };
    readXml(quick ? quick.rest : bytes, this.name, { open, close });
    for (const p of asked) this.model(p, false);
  }

  private colour(group: Group, id: string, hex: string, name?: string): void {
    const [r, g, b] = fromHex(hex.slice(0, 7));
    const color: [number, number, number, number] = [r, g, b, hex.length === 9 ? parseInt(hex.slice(7), 16) / 255 : 1];
    const own = `${id}/${this.scene.materials.length}`;
    this.scene.materials.push({
      id: own,
      name: name ?? `colour ${hex.slice(0, 7)}`,
      color,
      roughness: 0.7,
      metalness: 0,
    });
    group.materials.push(own);
    group.colors.push(color);
  }

  private image(path: string): number | undefined {
    const at = bare(path);
    const had = this.images.get(at);
    if (had !== undefined) return had;
    const bytes = this.files.get(at);
    if (!bytes) {
      this.scene.warnings.push(`${this.name} asks for the picture ${safeName(path)}, which it does not hold.`);
      return undefined;
    }
    const mime = bytes[0] === 0xff ? ('image/jpeg' as const) : ('image/png' as const);
    const n = this.scene.images.push({ name: safeName(path), mime, bytes }) - 1;
    this.images.set(at, n);
    return n;
  }

  private textured(image: number | undefined, id: string): string {
    const maps: Maps<number> = image === undefined ? {} : { color: image };
    const name = image === undefined ? 'picture' : this.scene.images[image].name.replace(/\.\w+$/, '');
    this.scene.materials.push({ id, name, color: [1, 1, 1, 1], roughness: 0.7, metalness: 0, maps });
    return id;
  }

  run(): Scene {
    const { scene, name } = this;
    this.model(this.root(), true);
    this.progress?.(0.8);
    const meshes = new Map<string, Mesh>();
    const put = ({ key, place }: Part, parent: number, depth: number): void => {
      const t = this.things.get(key);
      if (!t) {
        scene.warnings.push(`${name} asks for an object ${key.split('#')[1]} it does not hold.`);
        return;
      }
      if (depth > 32 || scene.pieces.length > 20000) throw new FileError(`${name} puts objects into themselves.`);
      let mesh = meshes.get(key);
      if (!mesh && t.lists.corner.length) meshes.set(key, (mesh = this.meshOf(t)));
      const piece = { name: t.name, parent, ...(mesh ? { mesh } : {}), ...(place === IDENTITY ? {} : { place }) };
      const at = scene.pieces.push(piece) - 1;
      for (const c of t.parts) put(c, at, depth + 1);
    };
    for (const i of this.items.length ? this.items : [...this.things.keys()].map((key) => ({ key, place: IDENTITY })))
      put(i, -1, 0);
    if (!scene.pieces.some((p) => p.mesh)) throw new FileError(`${name} holds no triangles.`);
    // Members of groups that no face took, as with gradients, are no materials of the model.
    const worn = new Set([...meshes.values()].flatMap((m) => m.slots));
    scene.materials = scene.materials.filter((m) => worn.has(m.id));
    const { bad, thin, other, left } = this;
    if (bad) scene.warnings.push(`${name}: ${bad} triangles or places were not to be used. Skipped.`);
    if (thin) scene.warnings.push(`${name}: ${thin} triangles have two corners in one place. Skipped.`);
    if (other) scene.warnings.push(`${name} holds supports or other helpers; they came in as pieces too.`);
    if (left.size) scene.warnings.push(`${name} also holds ${[...left].join(' and ')}, which are not kept yet.`);
    scene.scale = { unit: this.unit, up: 'z' };
    return scene;
  }

  private meshOf(t: Thing): Mesh {
    const { place, corner, property } = t.lists;
    const n = Math.floor(place.length / 3);
    const positions = new Float32Array(3 * n);
    for (let i = 0; i < 3 * n; i++) {
      const x = place.data[i];
      if (Math.abs(x) < 1e30) positions[i] = x;
      else this.bad++;
    }
    const total = corner.length / 3;
    const corners = new Uint32Array(corner.length);
    const from = new Uint32Array(total);
    let faces = 0;
    for (let i = 0; i < total; i++) {
      const a = corner.data[3 * i];
      const b = corner.data[3 * i + 1];
      const c = corner.data[3 * i + 2];
      if (!(a >= 0 && a < n && b >= 0 && b < n && c >= 0 && c < n)) {
        this.bad++;
        continue;
      }
      if (a === b || b === c || c === a) {
        this.thin++;
        continue;
      }
      corners[3 * faces] = a;
      corners[3 * faces + 1] = b;
      corners[3 * faces + 2] = c;
      from[faces++] = i;
    }
    const { attributes, slots } = this.dress(t, property.data, from.subarray(0, faces));
    return new Mesh({
      positions,
      faceStart: Uint32Array.from({ length: faces + 1 }, (_, i) => 3 * i),
      cornerVertex: corners.slice(0, 3 * faces),
      attributes,
      slots,
      ...countedKeys(n, faces, keyOf(`${this.name}/${t.key.split('#')[1]}`)),
    });
  }

  /** Materials, colours and places on pictures of triangles. What a triangle does not say its object says. */
  private dress(
    t: Thing,
    property: Int32Array,
    from: Uint32Array,
  ): { attributes: Record<string, Attribute>; slots: string[] } {
    const faces = from.length;
    const material = new Int32Array(faces).fill(-1);
    const slots: string[] = [];
    const slotOf = new Map<string, number>();
    let uv: Float32Array | undefined;
    let color: Float32Array | undefined;
    const groups = new Map<number, Group | undefined>();
    const groupOf = (id: number) => {
      if (!groups.has(id)) groups.set(id, this.groups.get(`${t.path}#${id}`));
      return groups.get(id);
    };
    for (let f = 0; f < faces; f++) {
      const o = 4 * from[f];
      const says = property[o] >= 0 || property[o + 1] >= 0;
      const pid = property[o] >= 0 ? property[o] : (t.own?.[0] ?? -1);
      const group = pid >= 0 ? groupOf(pid) : undefined;
      if (!group) continue;
      const first = says ? Math.max(0, property[o + 1]) : (t.own?.[1] ?? 0);
      const member = (k: number) => (says && property[o + 1 + k] >= 0 ? property[o + 1 + k] : first);
      const id = group.texture ? group.texture.material : group.materials[first];
      const gradient = group.gradient && (member(1) !== first || member(2) !== first);
      for (let k = 0; k < 3; k++) {
        const c = 3 * f + k;
        if (group.texture) {
          uv ??= new Float32Array(6 * faces);
          uv[2 * c] = group.texture.uv[2 * member(k)] ?? 0;
          uv[2 * c + 1] = group.texture.uv[2 * member(k) + 1] ?? 0;
        } else if (gradient) {
          color ??= new Float32Array(12 * faces).fill(1);
          const own = group.colors[member(k)];
          if (own) color.set(own, 4 * c);
        }
      }
      if (gradient || id === undefined) continue;
      let slot = slotOf.get(id);
      if (slot === undefined) slotOf.set(id, (slot = slots.push(id) - 1));
      material[f] = slot;
    }
    const attributes: Record<string, Attribute> = {};
    if (slots.length) attributes.material = { domain: 'face', width: 1, data: material };
    if (uv) attributes[UV] = { domain: 'corner', width: 2, data: uv };
    if (color) attributes[COLOR] = { domain: 'corner', width: 4, data: color };
    return { attributes, slots };
  }
}

/** A number that names something; −1 where there is none. */
const index = (text: string | undefined): number => {
  const n = text === undefined ? -1 : Number(text);
  return Number.isInteger(n) && n >= 0 && n <= 0x7fffffff ? n : -1;
};

export function read3mf(bytes: Uint8Array, fileName = 'file.3mf', progress?: (share: number) => void): Scene {
  return new Package(bytes, safeName(fileName), progress).run();
}
