/**
 * Bounding-volume trees for picking, by three-mesh-bvh: made in a worker, used on the page. The triangles keep their
 * order.
 */
import { BufferAttribute, BufferGeometry } from 'three';
import { MeshBVH } from 'three-mesh-bvh';

export function makeTree(
  position: Float32Array,
  index: Uint32Array,
): { roots: ArrayBuffer[]; indirect: Uint32Array<ArrayBuffer> } {
  const g = new BufferGeometry();
  g.setAttribute('position', new BufferAttribute(position, 3));
  g.setIndex(new BufferAttribute(index, 1));
  const data = MeshBVH.serialize(new MeshBVH(g, { indirect: true }), { cloneBuffers: false }) as unknown as {
    roots: ArrayBuffer[];
    indirectBuffer: Uint32Array;
  };
  return { roots: data.roots.map((r) => r.slice(0)), indirect: Uint32Array.from(data.indirectBuffer) };
}
