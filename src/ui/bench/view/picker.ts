/** Rays against one mesh's triangles: through its tree once the worker has sent it, over all of them until then. */
import * as THREE from 'three';
import { MeshBVH } from 'three-mesh-bvh';
import type { Bounds } from '../../../core/mesh/bounds';
import type { TreeNote } from '../../../workers/protocol';
import { castRay, type Hit } from './picking';

export type { Hit };

const MOST = 400000;

export class Picker {
  private tree: MeshBVH | undefined;
  /** Round all of it; all there is, where nobody said how far it reaches. */
  private readonly sphere = new THREE.Sphere(new THREE.Vector3(), Infinity);

  constructor(
    private readonly position: Float32Array,
    private readonly index: Uint32Array,
    private readonly face: Uint32Array,
    bounds?: Bounds,
  ) {
    this.moved(bounds);
  }

  /** What it was given changed in place: the tree no longer fits. */
  moved(bounds?: Bounds): void {
    this.tree = undefined;
    if (bounds)
      new THREE.Box3(new THREE.Vector3(...bounds.min), new THREE.Vector3(...bounds.max)).getBoundingSphere(this.sphere);
  }

  /** About how many triangles one ray has to be held against. */
  get effort(): number {
    return this.tree ? 60 : this.face.length;
  }

  plant(tree: TreeNote): void {
    const g = new THREE.BufferGeometry()
      .setAttribute('position', new THREE.BufferAttribute(this.position, 3))
      .setIndex(new THREE.BufferAttribute(this.index, 1));
    this.tree = MeshBVH.deserialize(
      { version: 1, roots: tree.roots, index: this.index, indirectBuffer: tree.indirect } as never,
      g,
      { setIndex: false },
    );
  }

  /** The first triangle met, facing the ray where `cull` says so. Distances are in the mesh's own space. */
  cast(ray: THREE.Ray, cull = false): Hit | null {
    // A ray brought into a mesh's own space may have any length of direction.
    const length = ray.direction.length();
    if (!(length > 0)) return null;
    ray.direction.divideScalar(length);
    if (!ray.intersectsSphere(this.sphere)) return null;
    if (this.tree) {
      const h = this.tree.raycastFirst(ray, cull ? THREE.FrontSide : THREE.DoubleSide) as {
        faceIndex: number;
        distance: number;
        point: THREE.Vector3;
      } | null;
      return h
        ? { face: this.face[h.faceIndex], triangle: h.faceIndex, distance: h.distance, point: h.point.clone() }
        : null;
    }
    // Without its tree, a mesh of this size would hold the page up at every move of the pointer.
    if (this.face.length > MOST) return null;
    return castRay(ray, this.position, this.index, this.face, cull) ?? null;
  }

  corners(triangle: number): THREE.Vector3[] {
    return [0, 1, 2].map((k) => new THREE.Vector3().fromArray(this.position, 3 * this.index[3 * triangle + k]));
  }

  /** The polygon a triangle is part of. Its corners stand one after another in the buffers. */
  polygon(triangle: number): THREE.Vector3[] {
    const f = this.face[triangle];
    const at = new Set<number>();
    let lo = triangle;
    let hi = triangle;
    while (lo > 0 && this.face[lo - 1] === f) lo--;
    while (hi + 1 < this.face.length && this.face[hi + 1] === f) hi++;
    for (let t = lo; t <= hi; t++) for (let k = 0; k < 3; k++) at.add(this.index[3 * t + k]);
    return [...at].sort((a, b) => a - b).map((c) => new THREE.Vector3().fromArray(this.position, 3 * c));
  }
}
