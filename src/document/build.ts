/** From a document to scenes that exporters write: every piece's recipe followed to its end. */
import { evaluate, Memory, type Outcome } from '../core/recipe/evaluate';
import { Mesh, UV, type ImageData8 } from '../core/mesh/mesh';
import { transformVertices } from '../core/edit/transform';
import { triangulate } from '../core/mesh/triangulate';
import { emptyScene, fromHex, type Scene, type SceneMaterial } from '../core/formats/scene';
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

export interface Built { scene: Scene; outcomes: Map<string, Outcome[]> }

interface BuildInput { memory: Memory; blob?: (sha: string) => Promise<Uint8Array>; encode: (image: ImageData8) => Uint8Array; cancelled?: () => boolean; progress?: (share: number) => void }

const visibleIn = (doc: ProjectDocument, piece: Piece): boolean => piece.visible && (piece.parent === null || visibleIn(doc, doc.pieces.find((p) => p.id === piece.parent)!));

export async function buildScene(doc: ProjectDocument, o: ShipOptions, input: BuildInput): Promise<Built> {
  const scene = emptyScene(), outcomes = new Map<string, Outcome[]>();
  const taken = (p: Piece) => (o.pieces ? o.pieces.has(p.id) : visibleIn(doc, p));
  const materials = new Map<string, SceneMaterial>();
  const useMaterial = (id: string): string => {
    const m = doc.materials.find((x) => x.id === id);
    if (m && !materials.has(id)) materials.set(id, { id, name: m.name, color: [...fromHex(m.color), 1], roughness: m.roughness, metalness: m.metalness });
    return id;
  };
  const needed = new Set<string>();
  for (const p of doc.pieces) if (p.kind === 'mesh' && taken(p)) for (let q: Piece | undefined = p; q; q = doc.pieces.find((x) => x.id === q!.parent)) needed.add(q.id);
  const at = new Map<string, number>();
  const list = doc.pieces.filter((p) => needed.has(p.id));
  for (const [i, piece] of list.entries()) {
    input.progress?.(i / list.length);
    let mesh: Mesh | undefined;
    if (piece.kind === 'mesh') {
      const steps = piece.recipe.filter((s) => o.subdivide || s.kind !== 'subdivide');
      const results = await evaluate(steps, { memory: input.memory, materials: doc.materials, blob: input.blob, cancelled: input.cancelled, upTo: piece.upTo ?? undefined });
      outcomes.set(piece.id, results);
      mesh = results[results.length - 1]?.mesh;
      for (const r of results) if (r.error) scene.warnings.push(`${piece.name}: ${r.error}`);
      if (!mesh || mesh.faceCount === 0) scene.warnings.push(`${piece.name} has no faces; it ships empty.`);
      if (mesh) mesh = dress(mesh, piece, scene, materials, useMaterial, input);
      if (mesh) mesh = fit(mesh, o);
    }
    at.set(piece.id, scene.pieces.push({ name: piece.name, parent: piece.parent !== null ? at.get(piece.parent) ?? -1 : -1, mesh }) - 1);
  }
  if (at.size === 0) scene.warnings.push('There is nothing to ship: no piece is chosen.');
  scene.materials.push(...materials.values());
  return { scene, outcomes };
}

/** A textured piece ships with one material that shows its pictures; others with the materials they use. */
function dress(mesh: Mesh, piece: Piece, scene: Scene, materials: Map<string, SceneMaterial>, use: (id: string) => string, input: BuildInput): Mesh {
  const t = mesh.textures;
  if (t && mesh.attributes[UV]) {
    const images = t.images();
    const color = scene.images.push({ name: `${piece.name}_${t.name}.png`.replace(/\s+/g, '_'), mime: 'image/png', bytes: input.encode(images.color) }) - 1;
    const surface = scene.images.push({ name: `${piece.name}_${t.name}_surface.png`.replace(/\s+/g, '_'), mime: 'image/png', bytes: input.encode(images.surface) }) - 1;
    const id = `texture-${piece.id}`;
    materials.set(id, { id, name: `${piece.name} ${t.name}`, color: [1, 1, 1, 1], roughness: 0.7, metalness: 0, colorImage: color, surfaceImage: surface });
    return mesh.with({ slots: [id], attributes: { ...mesh.attributes, material: { domain: 'face', width: 1, data: new Int32Array(mesh.faceCount) } } });
  }
  if (t) scene.warnings.push(`${piece.name} has a texture but no UVs to show it on.`);
  if (!mesh.attributes[UV] && mesh.faceCount) scene.warnings.push(`${piece.name} has no UVs.`);
  mesh.slots.forEach(use);
  return mesh;
}

function fit(mesh: Mesh, o: ShipOptions): Mesh {
  let out = mesh;
  if (o.up === 'z' || o.unit !== 1) {
    const k = 1 / o.unit;
    out = transformVertices(out, o.up === 'z' ? [k, 0, 0, 0, 0, 0, -k, 0, 0, k, 0, 0] : [k, 0, 0, 0, 0, k, 0, 0, 0, 0, k, 0]);
  }
  if (!o.triangulate) return out;
  const t = triangulate(out), keys = out.faceKey;
  const attributes = { ...out.attributes };
  for (const [name, a] of Object.entries(attributes)) {
    if (a.domain === 'vertex') continue;
    const from = a.domain === 'corner' ? t.corners : t.face;
    const data = a.data instanceof Int32Array ? new Int32Array(from.length * a.width) : new Float32Array(from.length * a.width);
    for (let i = 0; i < from.length; i++) for (let k = 0; k < a.width; k++) data[i * a.width + k] = a.data[from[i] * a.width + k];
    attributes[name] = { ...a, data };
  }
  return out.with({
    attributes, faceStart: Uint32Array.from({ length: t.face.length + 1 }, (_, i) => 3 * i),
    cornerVertex: t.corners.map((c) => out.cornerVertex[c]), faceKey: Float64Array.from(t.face, (f) => keys[f]),
  });
}
