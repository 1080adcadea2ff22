/** From a document to scenes that exporters write: every piece's recipe followed to its end. */
import { evaluate, Memory, type Outcome } from '../core/recipe/evaluate';
import { UV, type ImageData8, type Mesh } from '../core/mesh/mesh';
import { IDENTITY, placeMatrix, type Affine } from '../core/math/affine';
import { triangulate } from '../core/mesh/triangulate';
import { emptyScene, flatten, fromHex, placed, type Scene, type SceneMaterial } from '../core/formats/scene';
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
  const scene = emptyScene(),
    outcomes = new Map<string, Outcome[]>(),
    visible = visiblePieces(doc),
    by = new Map(doc.pieces.map((p) => [p.id, p]));
  const taken = (p: Piece) => (o.pieces ? o.pieces.has(p.id) : visible.has(p.id));
  const materials = new Map<string, SceneMaterial>(),
    pictures = new Map<string, number>();
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
  const takeMaterial = async (id: string): Promise<void> => {
    const m = doc.materials.find((x) => x.id === id);
    if (!m || materials.has(id)) return;
    const color = await picture(m.maps?.color),
      surface = await picture(m.maps?.surface);
    materials.set(id, {
      id,
      name: m.name,
      color: [...fromHex(m.color), 1],
      roughness: m.roughness,
      metalness: m.metalness,
      ...(color !== undefined ? { colorImage: color } : {}),
      ...(surface !== undefined ? { surfaceImage: surface } : {}),
    });
  };
  const needed = new Set<string>();
  for (const p of doc.pieces)
    if (p.kind === 'mesh' && taken(p))
      for (let q: Piece | undefined = p; q; q = q.parent === null ? undefined : by.get(q.parent)) needed.add(q.id);
  const at = new Map<string, number>(),
    done = new Map<string, Mesh | undefined>();
  const list = doc.pieces.filter((p) => needed.has(p.id));
  for (const [i, piece] of list.entries()) {
    input.progress?.(i / list.length);
    const source = piece.link !== null ? (by.get(piece.link) ?? piece) : piece;
    let mesh = done.get(source.id);
    if (piece.kind === 'mesh' && !done.has(source.id)) {
      const steps = source.recipe.filter((s) => o.subdivide || s.kind !== 'subdivide');
      const results = await evaluate(steps, {
        memory: input.memory,
        materials: doc.materials,
        blob: input.blob,
        cancelled: input.cancelled,
        upTo: source.upTo ?? undefined,
      });
      outcomes.set(source.id, results);
      mesh = results[results.length - 1]?.mesh;
      for (const r of results) if (r.error) scene.warnings.push(`${source.name}: ${r.error}`);
      if (!mesh || (mesh.faceCount === 0 && !mesh.curves))
        scene.warnings.push(`${source.name} has no faces; it ships empty.`);
      if (mesh) mesh = dress(mesh, source, scene, materials, input);
      if (mesh) for (const slot of mesh.slots) await takeMaterial(slot);
      if (mesh && o.triangulate) mesh = triangles(mesh);
      done.set(source.id, mesh);
    }
    const place = placeMatrix(piece.place),
      still = place.every((x, k) => x === IDENTITY[k]);
    at.set(
      piece.id,
      scene.pieces.push({
        name: piece.name,
        parent: piece.parent !== null ? (at.get(piece.parent) ?? -1) : -1,
        ...(piece.kind === 'mesh' && mesh ? { mesh } : {}),
        ...(still ? {} : { place }),
      }) - 1,
    );
  }
  if (at.size === 0) scene.warnings.push('There is nothing to ship: no piece is chosen.');
  scene.materials.push(...materials.values());
  return { scene: fit(scene, o), outcomes };
}

/** The scene in the file's unit, its up axis up. A file that is as we are keeps its tree of places. */
function fit(scene: Scene, o: ShipOptions): Scene {
  scene.scale = { unit: o.unit, up: o.up };
  if (o.up === 'y' && o.unit === 1) return scene;
  const k = 1 / o.unit,
    map: Affine = o.up === 'z' ? [k, 0, 0, 0, 0, 0, -k, 0, 0, k, 0, 0] : [k, 0, 0, 0, 0, k, 0, 0, 0, 0, k, 0];
  const flat = flatten(scene);
  return { ...flat, pieces: flat.pieces.map((p) => (p.mesh ? { ...p, mesh: placed(p.mesh, map) } : p)) };
}

/** A textured piece ships with one material that shows its pictures; others with the materials they use. */
function dress(mesh: Mesh, piece: Piece, scene: Scene, materials: Map<string, SceneMaterial>, input: BuildInput): Mesh {
  const t = mesh.textures;
  if (t && mesh.attributes[UV]) {
    const images = t.images();
    const color =
      scene.images.push({
        name: `${piece.name}_${t.name}.png`.replace(/\s+/g, '_'),
        mime: 'image/png',
        bytes: input.encode(images.color),
      }) - 1;
    const surface =
      scene.images.push({
        name: `${piece.name}_${t.name}_surface.png`.replace(/\s+/g, '_'),
        mime: 'image/png',
        bytes: input.encode(images.surface),
      }) - 1;
    const id = `texture-${piece.id}`;
    materials.set(id, {
      id,
      name: `${piece.name} ${t.name}`,
      color: [1, 1, 1, 1],
      roughness: 0.7,
      metalness: 0,
      colorImage: color,
      surfaceImage: surface,
    });
    return mesh.with({
      slots: [id],
      attributes: { ...mesh.attributes, material: { domain: 'face', width: 1, data: new Int32Array(mesh.faceCount) } },
    });
  }
  if (t) scene.warnings.push(`${piece.name} has a texture but no UVs to show it on.`);
  if (!mesh.attributes[UV] && mesh.faceCount) scene.warnings.push(`${piece.name} has no UVs.`);
  return mesh;
}

function triangles(out: Mesh): Mesh {
  const t = triangulate(out),
    keys = out.faceKey;
  const attributes = { ...out.attributes };
  for (const [name, a] of Object.entries(attributes)) {
    if (a.domain === 'vertex') continue;
    const from = a.domain === 'corner' ? t.corners : t.face;
    const data =
      a.data instanceof Int32Array ? new Int32Array(from.length * a.width) : new Float32Array(from.length * a.width);
    for (let i = 0; i < from.length; i++)
      for (let k = 0; k < a.width; k++) data[i * a.width + k] = a.data[from[i] * a.width + k];
    attributes[name] = { ...a, data };
  }
  return out.with({
    attributes,
    faceStart: Uint32Array.from({ length: t.face.length + 1 }, (_, i) => 3 * i),
    cornerVertex: t.corners.map((c) => out.cornerVertex[c]),
    faceKey: Float64Array.from(t.face, (f) => keys[f]),
  });
}
