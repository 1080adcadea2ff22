/**
 * What files hold, between core and any format: pieces with meshes in a tree, materials, pictures, and a report of what
 * came in.
 */
import { transformGeometry, type Geometry } from '../geometry';
import type { Look, Maps } from '../material';
import { compose, IDENTITY, type Affine } from '../math/affine';
import { uvSets, withSetAhead } from '../mesh/mesh';

export interface SceneMaterial extends Look {
  /** Unique within the scene; mesh slots name it. */
  id: string;
  name: string;
  /** sRGB, 0..1, with opacity. */
  color: readonly [number, number, number, number];
  /** Indices into `images`. */
  maps?: Maps<number>;
}

export interface SceneImage {
  name: string;
  mime: 'image/png' | 'image/jpeg' | 'image/webp';
  bytes: Uint8Array;
}

export interface ScenePiece extends Geometry {
  name: string;
  /** Index into `pieces`, or -1. Always lower than the piece's own index. */
  parent: number;
  /** From the piece's space to its parent's; as it is where not given. */
  place?: Affine;
}

export interface Scene {
  pieces: ScenePiece[];
  materials: SceneMaterial[];
  images: SceneImage[];
  /** One sentence each: what was skipped or guessed. */
  warnings: string[];
  scale?: Scale;
  /** Names of files it asked for and did not get. */
  missing?: string[];
}

/** What a file says of the length of its unit (metres) and its up axis; undefined where its kind says nothing. */
export interface Scale {
  unit?: number;
  up?: 'y' | 'z';
}

export const emptyScene = (): Scene => ({ pieces: [], materials: [], images: [], warnings: [] });

/** The same scene with everything put where it stands: for files that know no places. */
export function flatten(scene: Scene): Scene {
  if (!scene.pieces.some((p) => p.place)) return scene;
  const world: Affine[] = [];
  const pieces = scene.pieces.map((p, i): ScenePiece => {
    const above = p.parent >= 0 ? world[p.parent] : IDENTITY;
    world[i] = p.place ? compose(above, p.place) : above;
    return { name: p.name, parent: p.parent, ...transformGeometry(p, world[i]) };
  });
  return { ...scene, pieces };
}

/** For files that know one UV set: of each mesh that on which the pictures it wears lie. */
export function onPictureSets(scene: Scene): Scene {
  const laid = new Map(scene.materials.flatMap((m) => (m.laid?.color?.set ? [[m.id, m.laid.color.set] as const] : [])));
  if (laid.size === 0) return scene;
  const pieces = scene.pieces.map((p): ScenePiece => {
    const set = p.mesh?.slots.map((id) => laid.get(id)).find((x) => x !== undefined);
    const name = p.mesh && set !== undefined ? uvSets(p.mesh)[set] : undefined;
    return p.mesh && name ? { ...p, mesh: withSetAhead(p.mesh, name) } : p;
  });
  return { ...scene, pieces };
}

export { FileError } from './fileError';

/** '#rrggbb' to three numbers 0..1; black where it is not a colour. */
export function fromHex(hex: string): [number, number, number] {
  const m = /^#?([0-9a-f]{6})$/i.exec(hex);
  const n = m ? parseInt(m[1], 16) : 0;
  return [(n >> 16) / 255, ((n >> 8) & 255) / 255, (n & 255) / 255];
}

export const toHex = (c: ArrayLike<number>): string =>
  '#' +
  [0, 1, 2]
    .map((k) =>
      Math.round(Math.min(1, Math.max(0, c[k])) * 255)
        .toString(16)
        .padStart(2, '0'),
    )
    .join('');

/** A name that is safe as a file name: no paths, no control characters, never empty. */
export function safeName(name: string, fallback = 'untitled'): string {
  const last = name.replace(/\\/g, '/').split('/').pop() ?? '';

  const clean = last
    .replace(/[\u0000-\u001f<>:"|?*]/g, '')
    .replace(/^\.+/, '')
    .trim()
    .slice(0, 120);
  return clean || fallback;
}
