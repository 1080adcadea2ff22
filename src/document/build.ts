/** From a document to scenes that exporters write: every piece's recipe followed to its end. */
import type { Memory, Outcome } from '../core/recipe';
import {
  nameOfUvSet,
  UV,
  type ImageData8,
  type Mesh,
  type MeshTextures,
  triangulate,
  gatherAttributes,
} from '../core/mesh';
import { IDENTITY, placeMatrix, type Affine } from '../core/math';
import { lookOf, MAPS, type Maps } from '../core/material';
import { emptyScene, flatten, fromHex, type Scene, type SceneMaterial } from '../core/formats';
import { inMaterials, materialsOf } from '../core/formats/wear';
import { isEmptyGeometry, transformGeometry, type Geometry } from '../core/geometry';
import { placeOfCopy } from '../core/copies/copies';
import { leavesPictures } from './carrying';
import { followDocument } from './follow';
import type { Piece, ProjectDocument } from './types';

export interface ShipOptions {
  /** Pieces to take; all visible ones where not given. */
  pieces?: ReadonlySet<string>;
  /** Up axis of the file; ours is Y. */
  up: 'y' | 'z';
  /** Length of one unit in the file, metres. */
  unit: number;
  triangulate: boolean;
  /** Follow subdivide steps, or ship the cage. */
  subdivide: boolean;
}

export const SHIP_DEFAULTS: ShipOptions = { up: 'y', unit: 1, triangulate: false, subdivide: true };

export interface Built {
  scene: Scene;
  outcomes: Map<string, Outcome[]>;
}

interface BuildInput {
  memory: Memory;
  blob?: (sha: string) => Promise<Uint8Array>;
  encode: (image: ImageData8) => Uint8Array;
  cancelled?: () => boolean;
  progress?: (share: number) => void;
}

/** Whether a piece and all groups above it are shown. */
export function visiblePieces(doc: Pick<ProjectDocument, 'pieces'>): Set<string> {
  const out = new Set<string>();
  for (const p of doc.pieces) if (p.visible && (p.parent === null || out.has(p.parent))) out.add(p.id);
  return out;
}

export async function buildScene(doc: ProjectDocument, o: ShipOptions, input: BuildInput): Promise<Built> {
  const scene = emptyScene();
  const outcomes = new Map<string, Outcome[]>();
  const visible = visiblePieces(doc);
  const by = new Map(doc.pieces.map((p) => [p.id, p]));
  const taken = (p: Piece) => (o.pieces ? o.pieces.has(p.id) : visible.has(p.id));
  const materials = new Map<string, SceneMaterial>();
  const pictures = new Map<string, number>();
  const picture = async (id: string | undefined): Promise<number | undefined> => {
    const image = id === undefined ? undefined : doc.images.find((i) => i.id === id);
    if (!image || !input.blob || !['image/png', 'image/jpeg', 'image/webp'].includes(image.mime)) return undefined;
    let at = pictures.get(image.id);
    if (at === undefined) {
      at =
        scene.images.push({ name: image.name, mime: image.mime as 'image/png', bytes: await input.blob(image.blob) }) -
        1;
      pictures.set(image.id, at);
    }
    return at;
  };
  const worn = new Map<MeshTextures, string[]>();
  const takeMaterial = async (id: string): Promise<void> => {
    const m = doc.materials.find((x) => x.id === id);
    if (!m || materials.has(id)) return;
    const maps: Maps<number> = {};
    for (const name of MAPS) {
      const at = await picture(m.maps?.[name]);
      if (at !== undefined) maps[name] = at;
    }
    materials.set(id, {
      id,
      name: m.name,
      color: [...fromHex(m.color), m.opacity ?? 1],
      ...lookOf(m),
      ...(Object.keys(maps).length ? { maps } : {}),
    });
  };
  const needed = new Set<string>();
  for (const p of doc.pieces)
    if (p.kind === 'mesh' && taken(p))
      for (let q: Piece | undefined = p; q; q = q.parent === null ? undefined : by.get(q.parent)) needed.add(q.id);
  const followed = followDocument(doc, {
    memory: input.memory,
    blob: input.blob,
    cancelled: input.cancelled,
    recipe: (steps) => steps.filter((s) => o.subdivide || s.kind !== 'subdivide'),
  });
  const at = new Map<string, number>();
  const done = new Map<string, Geometry>();
  const list = doc.pieces.filter((p) => needed.has(p.id));
  for (const [i, piece] of list.entries()) {
    input.progress?.(i / list.length);
    if (piece.kind === 'mesh' && !done.has(piece.link ?? piece.id)) {
      const { source, outcomes: results, shown } = await followed.piece(piece);
      outcomes.set(source.id, results);
      for (const r of results) if (r.error) scene.warnings.push(`${source.name}: ${r.error}`);
      const { mesh, copies, ...others } = shown?.geometry ?? {};
      if (!mesh?.faceCount && !copies?.of.length && isEmptyGeometry(others))
        scene.warnings.push(`${source.name} has no faces; it ships empty.`);
      const dressed = async (m: Mesh | undefined): Promise<Mesh | undefined> => {
        const out = m && dress(m, source, { scene, materials, worn, input });
        for (const slot of out?.slots ?? []) await takeMaterial(slot);
        return out && o.triangulate ? triangles(out) : out;
      };
      if (mesh && !mesh.textures && leavesPictures(doc, source, mesh.slots))
        scene.warnings.push(
          `${source.name}: the pictures of its materials lie as the file had them, not by the layout it has ` +
            'now. Carry them over in Unwrap.',
        );
      const own = await dressed(mesh);
      const each = [];
      for (const s of copies?.sources ?? []) each.push({ ...s, mesh: await dressed(s.mesh) });
      done.set(source.id, {
        ...others,
        ...(own ? { mesh: own } : {}),
        ...(copies ? { copies: { ...copies, sources: each } } : {}),
      });
    }
    const place = placeMatrix(piece.place);
    const still = place.every((x, k) => x === IDENTITY[k]);
    const { copies, ...own } = (piece.kind === 'mesh' && done.get(piece.link ?? piece.id)) || {};
    const parent = piece.parent !== null ? (at.get(piece.parent) ?? -1) : -1;
    const self = scene.pieces.push({ name: piece.name, parent, ...own, ...(still ? {} : { place }) }) - 1;
    at.set(piece.id, self);
    // Copies leave as things that stand in many places, where the file knows such.
    for (let i = 0; copies && i < copies.of.length; i++)
      scene.pieces.push({
        name: `${piece.name} ${i + 1}`,
        parent: self,
        ...copies.sources[copies.of[i]],
        place: [...placeOfCopy(copies, i)] as unknown as Affine,
      });
  }
  if (at.size === 0) scene.warnings.push('There is nothing to ship: no piece is chosen.');
  scene.materials.push(...materials.values());
  return { scene: fit(scene, o), outcomes };
}

/** The scene in the file's unit, its up axis up. A file that is as we are keeps its tree of places. */
function fit(scene: Scene, o: ShipOptions): Scene {
  scene.scale = { unit: o.unit, up: o.up };
  if (o.up === 'y' && o.unit === 1) return scene;
  const k = 1 / o.unit;
  const map: Affine = o.up === 'z' ? [k, 0, 0, 0, 0, 0, -k, 0, 0, k, 0, 0] : [k, 0, 0, 0, 0, k, 0, 0, 0, 0, k, 0];
  const flat = flatten(scene);
  return { ...flat, pieces: flat.pieces.map((p) => ({ ...p, ...transformGeometry(p, map) })) };
}

interface Wardrobe {
  scene: Scene;
  materials: Map<string, SceneMaterial>;
  /** By texture: the materials that show it. */
  worn: Map<MeshTextures, string[]>;
  input: BuildInput;
}

/** A textured piece ships with one material that shows its pictures; others with the materials they use. */
function dress(mesh: Mesh, piece: Piece, { scene, materials, worn, input }: Wardrobe): Mesh {
  const t = mesh.textures;
  const set = t?.set ?? UV;
  if (t && mesh.attributes[set]) {
    const had = worn.get(t);
    if (had) return inMaterials(mesh, t, had);
    // What is copied may be of several pieces, each in a texture of its own.
    const others = worn.size > 0 && materials.has(`texture-${piece.id}`);
    const id = others ? `texture-${piece.id}-${worn.size}` : `texture-${piece.id}`;
    const name = others ? `${piece.name} ${worn.size}` : piece.name;
    const made = materialsOf(mesh, t, { id, name, images: scene.images }, input.encode);
    for (const m of made) materials.set(m.id, m);
    const ids = made.map((m) => m.id);
    worn.set(t, ids);
    return inMaterials(mesh, t, ids);
  }
  if (t)
    scene.warnings.push(
      `${piece.name} has a texture but no UVs to show it on${set === UV ? '' : ` in its set ${nameOfUvSet(set)}`}.`,
    );
  if (!mesh.attributes[UV] && mesh.faceCount) scene.warnings.push(`${piece.name} has no UVs.`);
  return mesh;
}

function triangles(out: Mesh): Mesh {
  const t = triangulate(out);
  const keys = out.faceKey;
  const attributes = gatherAttributes(out.attributes, { corner: t.corners, face: t.face });
  return out.with({
    attributes,
    faceStart: Uint32Array.from({ length: t.face.length + 1 }, (_, i) => 3 * i),
    cornerVertex: t.corners.map((c) => out.cornerVertex[c]),
    faceKey: Float64Array.from(t.face, (f) => keys[f]),
  });
}
