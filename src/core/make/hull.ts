/** The convex hull of a mesh: triangles over its outermost vertices, which keep their keys (Barber, Dobkin & Huhdanpaa, Quickhull, 1996). */
import { Vector3 } from 'three';
import { ConvexHull } from 'three/examples/jsm/math/ConvexHull.js';
import { key4, keyOf } from '../math/hash';
import { Mesh } from '../mesh/mesh';

const HULL = keyOf('a face of a hull');

/** Throws a sentence for what is flat or less: it has no hull. */
export function hullOf(mesh: Mesh): Mesh {
  const { positions: p, vertexCount } = mesh;
  const points = Array.from(
    { length: vertexCount },
    (_, v) => [p[3 * v], p[3 * v + 1], p[3 * v + 2]] as [number, number, number],
  );
  const faces = vertexCount < 4 ? [] : found(points);
  if (faces.length < 4) throw new Error('This is flat: it has no hull. Put a box round it instead.');
  const used = [...new Set(faces.flat())].sort((a, b) => a - b);
  const to = new Map(used.map((v, i) => [v, i]));
  const keys = mesh.vertexKey;
  // Triangles start at their least key, so the same hull has the same faces in whatever order it is found.
  const turned = faces.map((f) => {
    const least = f.reduce((best, v, k) => (keys[v] < keys[f[best]] ? k : best), 0);
    return [0, 1, 2].map((k) => f[(least + k) % 3]);
  });
  const named = turned.map((f) => ({ f, key: key4(HULL, keys[f[0]], keys[f[1]], keys[f[2]]) }));
  named.sort((a, b) => a.key - b.key);
  return new Mesh({
    positions: Float32Array.from(used.flatMap((v) => points[v])),
    faceStart: Uint32Array.from({ length: faces.length + 1 }, (_, i) => 3 * i),
    cornerVertex: Uint32Array.from(named.flatMap(({ f }) => f.map((v) => to.get(v)!))),
    vertexKey: Float64Array.from(used, (v) => keys[v]),
    faceKey: Float64Array.from(named, (x) => x.key),
  });
}

/** Of what lies in one plane the library finds no first tetrahedron, and says so by throwing or by nothing. */
function found(points: [number, number, number][]): number[][] {
  const span = Math.max(...[0, 1, 2].map((k) => points.reduce((m, q) => Math.max(m, Math.abs(q[k])), 0)));
  try {
    const places = points.map((q) => new Vector3(...q));
    const to = new Map(places.map((q, i) => [q, i]));
    const faces = new ConvexHull()
      .setFromPoints(places)
      .faces.map((f) => [0, 1, 2].map((k) => to.get(f.getEdge(k).head().point)!));
    return volumeOf(points, faces) > 1e-9 * span ** 3 ? faces : [];
  } catch {
    return [];
  }
}

function volumeOf(points: readonly (readonly number[])[], faces: readonly (readonly number[])[]): number {
  let six = 0;
  const [o] = points;
  for (const [i, j, k] of faces) {
    const [a, b, c] = [points[i], points[j], points[k]].map((q) => [q[0] - o[0], q[1] - o[1], q[2] - o[2]]);
    six += a[0] * (b[1] * c[2] - b[2] * c[1]) + a[1] * (b[2] * c[0] - b[0] * c[2]) + a[2] * (b[0] * c[1] - b[1] * c[0]);
  }
  return six / 6;
}
