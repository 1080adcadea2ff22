/** Some faces of a surface as a surface of its own, for what is worked out of them alone. */
import { Mesh } from './mesh';
import { topologyOf } from './topology';

/** `edge`: by its edges, those of the whole. Its faces, and the corners of each, are in the order given. */
export function onlyFaces(mesh: Mesh, faces: Uint32Array): { part: Mesh; edge: Int32Array } {
  const number = new Int32Array(mesh.vertexCount).fill(-1);
  const vertices: number[] = [];
  const corners: number[] = [];
  const from: number[] = [];
  const faceStart = new Uint32Array(faces.length + 1);
  faces.forEach((f, k) => {
    for (let c = mesh.faceStart[f]; c < mesh.faceStart[f + 1]; c++) {
      const v = mesh.cornerVertex[c];
      if (number[v] < 0) number[v] = vertices.push(v) - 1;
      corners.push(number[v]);
      from.push(c);
    }
    faceStart[k + 1] = corners.length;
  });
  const positions = new Float32Array(3 * vertices.length);
  vertices.forEach((v, i) => positions.set(mesh.positions.subarray(3 * v, 3 * v + 3), 3 * i));
  const part = new Mesh({
    positions,
    faceStart,
    cornerVertex: Uint32Array.from(corners),
    vertexKey: Float64Array.from(vertices, (v) => mesh.vertexKey[v]),
    faceKey: Float64Array.from(faces, (f) => mesh.faceKey[f]),
  });
  const [whole, t] = [topologyOf(mesh), topologyOf(part)];
  const edge = new Int32Array(t.edgeCount);
  from.forEach((c, k) => {
    edge[t.cornerEdge[k]] = whole.cornerEdge[c];
  });
  return { part, edge };
}
