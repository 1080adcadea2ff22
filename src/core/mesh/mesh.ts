/**
 * The polygon mesh: polygons of any size in flat arrays, immutable once made. A tool returns a new mesh that shares
 * every array it did not change. Keys may be handed over as a function: dense results compute them when first asked
 * for.
 */

import type { Look, Maps } from '../material';
import { countedKeys } from './keys';
import { noteMoved } from './moved';
import type { Marks } from './marks';
import { Later, placesInBounds, type Places } from './places';

export type Domain = 'vertex' | 'face' | 'corner';

export interface Attribute {
  readonly domain: Domain;
  /** Numbers per element. */
  readonly width: number;
  readonly data: Float32Array | Int32Array;
}

export type Attributes = Readonly<Record<string, Attribute>>;

/** What became of a key that was split: old edge or face key → keys of its parts. One layer per tool that splits. */
export type LineageLayer = ReadonlyMap<number, readonly number[]> | (() => ReadonlyMap<number, readonly number[]>);

export interface ImageData8 {
  readonly width: number;
  readonly height: number;
  /** RGBA, 8 bits each, rows from the top. */
  readonly data: Uint8Array;
}

/** Pictures that belong to the mesh's own UVs: made by steps, written by exporters. */
export interface MeshTextures {
  readonly name: string;
  readonly size: number;
  /** The attribute of the UV set that they lie on; the main one where it is left out. */
  readonly set?: string;
  /** Sheets that it is on, each with pictures of its own; 1 where it is left out. */
  readonly sheets?: number;
  /**
   * Of a sheet, by default the first; drawn when first asked for, then kept. `surface`: green roughness, blue
   * metalness, as in glTF; the others only where there is something to show, and all sheets have the same.
   */
  images(sheet?: number): { readonly color: ImageData8; readonly surface: ImageData8 } & Maps<ImageData8>;
  /** Beyond its pictures: what of its looks holds for all of it. */
  readonly look?: Partial<Look>;
}

type Lazy = Float64Array | (() => Float64Array);

export interface MeshParts {
  /** 3 per vertex, metres. */
  positions: Float32Array;
  /** faces + 1 */
  faceStart: Uint32Array;
  /** Vertex of each corner, counter-clockwise seen from outside. */
  cornerVertex: Uint32Array;
  vertexKey: Lazy;
  faceKey: Lazy;
  attributes?: Attributes;
  /** Material ids; the face attribute `material` holds indices into it, -1 for none. */
  slots?: readonly string[];
  /** Group names; the face attribute `group` holds indices into it. */
  groups?: readonly string[];
  lineage?: readonly LineageLayer[];
  textures?: MeshTextures;
  /** What is said of its edges. */
  marks?: Later<Marks>;
  /** Where its vertices belong; without it, where they lie within its bounds. */
  places?: Later<Places>;
}

export class Mesh {
  readonly positions: Float32Array;
  readonly faceStart: Uint32Array;
  readonly cornerVertex: Uint32Array;
  readonly attributes: Attributes;
  readonly slots: readonly string[];
  readonly groups: readonly string[];
  readonly lineage: readonly LineageLayer[];
  readonly textures?: MeshTextures;
  readonly marks?: Later<Marks>;
  private vertexKeys: Lazy;
  private faceKeys: Lazy;
  private placed: Later<Places> | undefined;

  constructor(parts: MeshParts) {
    this.positions = parts.positions;
    this.faceStart = parts.faceStart;
    this.cornerVertex = parts.cornerVertex;
    this.vertexKeys = parts.vertexKey;
    this.faceKeys = parts.faceKey;
    this.attributes = parts.attributes ?? {};
    this.slots = parts.slots ?? [];
    this.groups = parts.groups ?? [];
    this.lineage = parts.lineage ?? [];
    this.textures = parts.textures;
    this.marks = parts.marks;
    this.placed = parts.places;
  }

  get vertexCount(): number {
    return this.positions.length / 3;
  }
  get faceCount(): number {
    return this.faceStart.length - 1;
  }
  get cornerCount(): number {
    return this.cornerVertex.length;
  }

  get vertexKey(): Float64Array {
    if (typeof this.vertexKeys === 'function') this.vertexKeys = this.vertexKeys();
    return this.vertexKeys;
  }

  get faceKey(): Float64Array {
    if (typeof this.faceKeys === 'function') this.faceKeys = this.faceKeys();
    return this.faceKeys;
  }

  /** Where its vertices belong, as something that is worked out when it is asked for. */
  get whereabouts(): Later<Places> {
    if (!this.placed) {
      const { positions } = this;
      this.placed = new Later(() => placesInBounds(positions));
    }
    return this.placed;
  }

  get places(): Places {
    const p = this.whereabouts.get();
    return p.role.length === this.vertexCount ? p : placesInBounds(this.positions);
  }

  /** A new mesh with some parts exchanged; all others, keys not yet computed among them, are shared. */
  with(changes: Partial<MeshParts>): Mesh {
    return new Mesh({
      positions: this.positions,
      faceStart: this.faceStart,
      cornerVertex: this.cornerVertex,
      vertexKey: changes.vertexKey ?? (() => this.vertexKey),
      faceKey: changes.faceKey ?? (() => this.faceKey),
      attributes: this.attributes,
      slots: this.slots,
      groups: this.groups,
      lineage: this.lineage,
      textures: this.textures,
      marks: this.marks,
      places: this.whereabouts,
      ...stripUndefinedKeys(changes),
    });
  }

  withAttribute(name: string, attribute: Attribute | undefined): Mesh {
    const attributes: Record<string, Attribute> = { ...this.attributes };
    if (attribute) attributes[name] = attribute;
    else delete attributes[name];
    return this.with({ attributes });
  }

  /**
   * With other places for its vertices. Normals that a file brought told how the old surface looked: they go, and are
   * worked out from the new one where they are wanted. Whoever turns them along puts them back. `vertices`: those that
   * are elsewhere, where that is known.
   */
  moved(positions: Float32Array, vertices?: ArrayLike<number>): Mesh {
    if (vertices) noteMoved(this.positions, positions, vertices);
    const out = this.with({ positions });
    return this.attributes[NORMAL] ? out.withAttribute(NORMAL, undefined) : out;
  }

  /** Every array it holds so far; pictures of textures stand as what they will take. */
  arrays(): ArrayBufferView[] {
    const out: ArrayBufferView[] = [this.positions, this.faceStart, this.cornerVertex];
    if (typeof this.vertexKeys !== 'function') out.push(this.vertexKeys);
    if (typeof this.faceKeys !== 'function') out.push(this.faceKeys);
    for (const a of Object.values(this.attributes)) out.push(a.data);
    return out;
  }
}

function stripUndefinedKeys(changes: Partial<MeshParts>): Partial<MeshParts> {
  const { vertexKey, faceKey, ...rest } = changes;
  return { ...rest, ...(vertexKey ? { vertexKey } : {}), ...(faceKey ? { faceKey } : {}) };
}

export const UV = 'uv';
/** Normals of corners as a file brought them. */
export const NORMAL = 'normal';

/** The face attribute that tells which copy a face belongs to, from 0. */
export const COPY = 'copy';

/** Colours of vertices or corners, sRGB with opacity. */
export const COLOR = 'color';

const UV_SET = /^uv(\d*|:.*)$/;

/** Names that mean something to the program; every other is an attribute of one's own, or of a file. */
const KNOWN = new Set([UV, NORMAL, COLOR, COPY, 'material', 'group', 'facing']);
/** An attribute that a person noted: it is listed, shown and exported under its name. */
export const isOwn = (name: string): boolean => !KNOWN.has(name) && name[0] !== '_' && !UV_SET.test(name);

/** Names of the attributes that are UV sets (of corners, two wide), first the main one. */
export function uvSets(mesh: Mesh): string[] {
  return Object.keys(mesh.attributes)
    .filter((n) => UV_SET.test(n) && mesh.attributes[n].domain === 'corner' && mesh.attributes[n].width === 2)
    .sort();
}

/** The attribute of the UV set that a person calls so: nothing and "main" for the first, numbers for those of files. */
export function uvSetCalled(name: string): string {
  const own = name.trim();
  if (own === '' || own === 'main') return UV;
  return /^\d+$/.test(own) ? `${UV}${own}` : `${UV}:${own}`;
}

/** What a person calls the UV set of an attribute. */
export const nameOfUvSet = (attribute: string): string => (attribute === UV ? 'main' : attribute.replace(/^uv:?/, ''));

const ahead = new WeakMap<Mesh, Map<string, Mesh>>();

/**
 * The mesh with one of its UV sets in the place of the main one, for whatever asks for that; without UVs where it has
 * no such set. The same mesh each time it is asked.
 */
export function withSetAhead(mesh: Mesh, set: string): Mesh {
  if (set === UV) return mesh;
  const made = ahead.get(mesh) ?? new Map<string, Mesh>();
  ahead.set(mesh, made);
  const had = made.get(set);
  if (had) return had;
  const { [set]: own, [UV]: main, ...attributes } = mesh.attributes;
  const out = mesh.with({
    attributes: { ...attributes, ...(own ? { [UV]: own } : {}), ...(main ? { [set]: main } : {}) },
  });
  made.set(set, out);
  return out;
}

export const emptyMesh = (): Mesh =>
  new Mesh({
    positions: new Float32Array(0),
    faceStart: new Uint32Array(1),
    cornerVertex: new Uint32Array(0),
    vertexKey: new Float64Array(0),
    faceKey: new Float64Array(0),
  });

/**
 * A mesh from plain lists, with keys from running numbers under a seed: for imports and tests, where there are no
 * parents.
 */
export function meshFrom(positions: ArrayLike<number>, faces: readonly (readonly number[])[], seed = 1): Mesh {
  const faceStart = new Uint32Array(faces.length + 1);
  let n = 0;
  faces.forEach((f, i) => {
    n += f.length;
    faceStart[i + 1] = n;
  });
  const cornerVertex = new Uint32Array(n);
  let c = 0;
  for (const f of faces) for (const v of f) cornerVertex[c++] = v;
  return new Mesh({
    positions: Float32Array.from(positions),
    faceStart,
    cornerVertex,
    ...countedKeys(positions.length / 3, faces.length, seed),
  });
}

export { countedKeys };
