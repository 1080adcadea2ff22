/**
 * The pieces in the view. What shares a recipe (linked copies) is one mesh on the graphics card drawn in many places by
 * one call for its faces and one for its lines. Mirrored places are kept apart: a graphics card turns their faces
 * inside out otherwise.
 */
import * as THREE from 'three';
import { IDENTITY, toMatrix4, type Affine } from '../../../core/math/affine';
import type { Material, Piece, ProjectImage } from '../../../document/types';
import type { PieceShown, TreeNote } from '../../../workers/protocol';
import type { Shading } from '../store';
import type { Hit, Picker } from './picker';
import { Source } from './source';

interface Stand {
  source: string;
  world: THREE.Matrix4;
  back: THREE.Matrix4;
}

/** A piece: where it stands itself, and where the copies that it shows do. */
interface Stood extends Stand {
  locked: boolean;
  copies: readonly Stand[];
}

/** A hit on a piece, or on one of the copies that it shows. */
export type PieceHit = Hit & { piece: string; copy?: number };

const standAt = (source: string, world: THREE.Matrix4): Stand => ({ source, world, back: world.clone().invert() });

/** Pieces and copies that are outlined one by one. */
const MOST_OUTLINED = 300;

const copyId = (piece: string, source = ''): string => `${piece}#${source}`;

/** The sources of the copies that a piece shows, each as if it were a piece. */
function copiesIn({ piece, buffers }: PieceShown): PieceShown[] {
  return (buffers?.copies ?? []).map((c) => ({
    piece: copyId(piece, c.source),
    hash: c.source ?? '',
    buffers: c.buffers,
    bounds: c.bounds,
    reports: [],
  }));
}

export class Layer {
  readonly group = new THREE.Group();
  private readonly sources = new Map<string, Source>();
  private readonly trees = new Map<string, TreeNote>();
  /** Every piece that is seen, with its place. */
  private stood = new Map<string, Stood>();
  private materials: readonly Material[] = [];
  private images: readonly ProjectImage[] = [];
  private standing: unknown[] = [];
  loaded: () => void = () => undefined;

  /** Takes over what the worker sent, and where everything stands. Answers whether anything changed. */
  show(
    shown: ReadonlyMap<string, PieceShown>,
    pieces: readonly Piece[],
    world: ReadonlyMap<string, Affine>,
    seen: ReadonlySet<string>,
    materials: readonly Material[],
    images: readonly ProjectImage[],
  ): void {
    if (materials !== this.materials || images !== this.images) {
      this.materials = materials;
      this.images = images;
      this.forgetLooks();
    }
    let changed = false;
    const all = new Map<string, PieceShown>();
    for (const [id, sent] of shown) {
      all.set(id, sent);
      for (const own of copiesIn(sent)) all.set(own.piece, own);
    }
    for (const [id, s] of this.sources)
      if (!all.has(id)) {
        this.group.remove(s.group);
        s.dispose();
        this.sources.delete(id);
        changed = true;
      }
    for (const [id, sent] of all) {
      if (!sent.buffers || this.sources.get(id)?.sent.hash === sent.hash) continue;
      const old = this.sources.get(id);
      changed = true;
      if (old && old.sent.buffers === sent.buffers) {
        old.follow(sent);
        this.plant(id);
        if (!sent.buffers.copies) changed = false;
        continue;
      }
      const source = new Source(sent);
      if (old) {
        this.group.remove(old.group);
        old.dispose();
      }
      this.sources.set(id, source);
      this.group.add(source.group);
      this.plant(id);
    }
    const now = [pieces, world, seen];
    if (!changed && now.every((x, i) => x === this.standing[i])) return;
    this.standing = now;
    this.stood = new Map();
    const at = new Map<string, THREE.Matrix4[]>();
    const ghosts = new Map<string, THREE.Matrix4[]>();
    for (const p of pieces) {
      if (p.kind !== 'mesh' || !seen.has(p.id)) continue;
      const source = p.link ?? p.id;
      const m = new THREE.Matrix4().fromArray(toMatrix4(world.get(p.id) ?? IDENTITY));
      const list = p.ghost ? ghosts : at;
      const put = (id: string, where: THREE.Matrix4) => {
        const had = list.get(id);
        if (had) had.push(where);
        else list.set(id, [where]);
      };
      put(source, m);
      const copies: Stand[] = [];
      for (const own of shown.get(source)?.buffers?.copies ?? []) {
        const id = copyId(source, own.source);
        for (let o = 0; o < own.places.length; o += 16) {
          const stand = standAt(id, new THREE.Matrix4().fromArray(own.places, o).premultiply(m));
          put(id, stand.world);
          copies.push(stand);
        }
      }
      if (!p.ghost) this.stood.set(p.id, { ...standAt(source, m), locked: p.locked, copies });
    }
    for (const [id, s] of this.sources) s.stand(at.get(id) ?? [], ghosts.get(id) ?? []);
  }

  /** `pixel`: metres that a pixel stands for, about where things are. */
  dress(shading: Shading, focus: string | null, caged: boolean, pixel: number): void {
    for (const [id, s] of this.sources)
      s.dress(
        shading,
        id.split('#')[0] === focus,
        caged && id === focus,
        pixel,
        this.materials,
        this.images,
        this.loaded,
      );
  }

  forgetLooks(): void {
    for (const s of this.sources.values()) s.forgetLooks();
  }

  keepTree(tree: TreeNote): void {
    this.trees.set(tree.piece, tree);
    this.plant(tree.piece);
  }
  private plant(id: string): void {
    const tree = this.trees.get(id);
    const s = this.sources.get(id);
    if (tree && s && tree.hash === s.sent.hash) s.picker.plant(tree);
  }

  worldOf(piece: string): THREE.Matrix4 | undefined {
    return this.stood.get(piece)?.world;
  }
  sourceOf(piece: string): PieceShown | undefined {
    const s = this.stood.get(piece);
    return s && this.sources.get(s.source)?.sent;
  }
  /** All that a piece shows, and where: for its outline. */
  drawnOf(piece: string): { geometry: THREE.BufferGeometry; world: THREE.Matrix4 }[] {
    const at = this.stood.get(piece);
    return (at ? [at, ...at.copies.slice(0, MOST_OUTLINED)] : []).flatMap(({ source, world }) => {
      const geometry = this.sources.get(source)?.geometry;
      return geometry ? [{ geometry, world }] : [];
    });
  }

  /** For picking elements of a piece whose triangles are those that are shown. */
  pickerOf(piece: string): Picker | undefined {
    return this.sources.get(piece)?.picker;
  }

  outline(piece: string): Float32Array | undefined {
    return this.sourceOf(piece)?.buffers?.edgePosition;
  }

  /** The nearest piece a ray meets. Locked pieces are seen, not met. */
  cast(ray: THREE.Ray, only?: (piece: string) => boolean): PieceHit | null {
    let best: PieceHit | null = null;
    let near = Infinity;
    const local = new THREE.Ray();
    const meet = (piece: string, at: Stand, copy?: number) => {
      const source = this.sources.get(at.source);
      if (!source) return;
      local.copy(ray).applyMatrix4(at.back);
      const h = source.picker.cast(local);
      if (!h) return;
      h.point.applyMatrix4(at.world);
      h.distance = h.point.distanceTo(ray.origin);
      if (h.distance >= near) return;
      near = h.distance;
      best = { ...h, piece, copy };
    };
    for (const [piece, s] of this.stood) {
      if (s.locked || (only && !only(piece))) continue;
      meet(piece, s);
      s.copies.forEach((at, i) => meet(piece, at, i));
    }
    return best;
  }

  private standOf(piece: string, copy?: number): Stand | undefined {
    const s = this.stood.get(piece);
    return copy === undefined ? s : s?.copies[copy];
  }

  /** Corners of the polygon a hit lies in, in the world, in their order round it. */
  polygon(piece: string, triangle: number, copy?: number): THREE.Vector3[] {
    const s = this.standOf(piece, copy);
    const source = s && this.sources.get(s.source);
    return source ? source.picker.polygon(triangle).map((p) => p.applyMatrix4(s.world)) : [];
  }

  /** How far the inside of a piece reaches from a point of its surface, straight inwards. */
  thickness(hit: PieceHit, ray: THREE.Ray): number | null {
    const s = this.standOf(hit.piece, hit.copy);
    const source = s && this.sources.get(s.source);
    if (!source) return null;
    const [a, b, c] = source.picker.corners(hit.triangle).map((p) => p.applyMatrix4(s.world));
    const n = b.sub(a).cross(c.sub(a)).normalize();
    if (n.dot(ray.direction) > 0) n.negate();
    const inwards = n.clone().negate();
    const from = hit.point.clone().addScaledVector(inwards, 1e-5 * Math.max(1e-3, hit.distance));
    const h = source.picker.cast(new THREE.Ray(from, inwards).applyMatrix4(s.back), false);
    return h ? h.point.applyMatrix4(s.world).distanceTo(hit.point) : null;
  }

  bounds(pieces?: ReadonlySet<string>): THREE.Box3 {
    const out = new THREE.Box3();
    for (const [id, s] of this.stood) {
      const b = this.sources.get(s.source)?.sent.bounds;
      if (!b || b.min[0] > b.max[0] || (pieces && !pieces.has(id))) continue;
      out.union(new THREE.Box3(new THREE.Vector3(...b.min), new THREE.Vector3(...b.max)).applyMatrix4(s.world));
    }
    return out;
  }

  /** What a frame costs: calls for faces and lines, and distinct meshes. For tests and the benchmark. */
  get cost(): { meshes: number; surfaces: number } {
    let surfaces = 0;
    for (const s of this.sources.values())
      s.group.traverse((o) => {
        if (o instanceof THREE.InstancedMesh) surfaces++;
      });
    return { meshes: this.sources.size, surfaces };
  }

  dispose(): void {
    for (const s of this.sources.values()) s.dispose();
  }
}
