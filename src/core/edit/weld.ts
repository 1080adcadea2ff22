/**
 * Weld: vertices closer than a distance become one, at the place and with the key of the first; faces that collapse go.
 * Neighbours are found through a hashed grid of cells as wide as the distance.
 */
import { EVERY, pulse } from '../math/pulse';
import { key3, keyOf } from '../math/hash';
import { MeshDraft } from '../mesh/draft';
import { at } from '../math/vector';
import { Mesh } from '../mesh/mesh';
import { RayTree } from '../mesh/rays';

const { floor, imul } = Math;

/** `distance` in metres; 0 joins vertices at exactly the same place. Only `vertices`, where given, are joined. */
export function weld(mesh: Mesh, distance: number, vertices?: ArrayLike<number>): Mesh {
  const to = nearest(mesh.positions, distance, vertices);
  return joinVertices(mesh, to);
}

/** Points each vertex at another (or at itself) and removes what collapses. */
export function joinVertices(mesh: Mesh, to: Uint32Array): Mesh {
  let any = false;
  for (let v = 0; v < to.length && !any; v++) any = to[v] !== v;
  if (!any) return mesh;
  const draft = new MeshDraft(mesh);
  const last = new Int32Array(mesh.vertexCount).fill(-1);
  for (let f = 0; f < mesh.faceCount; f++) {
    if ((f & EVERY) === 0) pulse();
    const s = mesh.faceStart[f];
    const e = mesh.faceStart[f + 1];
    let changed = false;
    let repeat = false;
    for (let c = s; c < e; c++) {
      const v = mesh.cornerVertex[c];
      if (to[v] !== v) changed = true;
      if (last[to[v]] === f) repeat = true;
      last[to[v]] = f;
    }
    if (!changed) continue;
    if (!repeat) {
      for (let c = s; c < e; c++) draft.retarget(c, to[mesh.cornerVertex[c]]);
      continue;
    }
    draft.drop(f);
    simpleRings(mesh, to, s, e).forEach((ring, i) => {
      draft.begin(i === 0 ? mesh.faceKey[f] : key3(PINCHED, mesh.faceKey[f], i), f);
      for (const c of ring) draft.at(to[mesh.cornerVertex[c]], c);
      draft.end();
    });
  }
  return draft.finish();
}

const PINCHED = keyOf('pinched');

/**
 * A face whose corners meet falls into faces that pass each vertex once; what has no three corners left is gone. The
 * largest comes first.
 */
function simpleRings(mesh: Mesh, to: Uint32Array, start: number, end: number): number[][] {
  const out: number[][] = [];
  const open: number[] = [];
  for (let c = start; c < end; c++) {
    const v = to[mesh.cornerVertex[c]];
    const at = open.findIndex((d) => to[mesh.cornerVertex[d]] === v);
    if (at >= 0) out.push(open.splice(at));
    open.push(c);
  }
  out.push(open);
  return out.filter((ring) => ring.length >= 3).sort((a, b) => b.length - a.length);
}

/**
 * For each vertex the first vertex within the distance. Clusters chain only through their first member, so long rows do
 * not collapse.
 */
export function nearest(positions: Float32Array, distance: number, among?: ArrayLike<number>): Uint32Array {
  const count = positions.length / 3;
  const to = new Uint32Array(count);
  for (let v = 0; v < count; v++) to[v] = v;
  const n = among ? among.length : count;
  const cell = distance > 0 ? distance : 1e-9;
  let size = 16;
  while (size < 2 * n) size *= 2;
  const head = new Int32Array(size).fill(-1);
  const next = new Int32Array(count).fill(-1);
  const slot = (x: number, y: number, z: number) =>
    (imul(x, 73856093) ^ imul(y, 19349663) ^ imul(z, 83492791)) & (size - 1);
  const reach = distance > 0 ? 1 : 0;
  const limit = distance * distance;
  for (let i = 0; i < n; i++) {
    if ((i & EVERY) === 0) pulse();
    const v = among ? among[i] : i;
    const x = positions[3 * v];
    const y = positions[3 * v + 1];
    const z = positions[3 * v + 2];
    const cx = floor(x / cell);
    const cy = floor(y / cell);
    const cz = floor(z / cell);
    let found = -1;
    for (let dx = -reach; dx <= reach && found < 0; dx++)
      for (let dy = -reach; dy <= reach && found < 0; dy++)
        for (let dz = -reach; dz <= reach && found < 0; dz++) {
          for (let w = head[slot(cx + dx, cy + dy, cz + dz)]; w >= 0; w = next[w]) {
            const ex = positions[3 * w] - x;
            const ey = positions[3 * w + 1] - y;
            const ez = positions[3 * w + 2] - z;
            if (ex * ex + ey * ey + ez * ez <= limit) {
              found = w;
              break;
            }
          }
        }
    if (found >= 0) {
      to[v] = found;
      continue;
    }
    const s = slot(cx, cy, cz);
    next[v] = head[s];
    head[s] = v;
  }
  return to;
}

/** Vertices put where the nearest of some places is, where that is within a distance; how many have none. */
export function snapped(
  mesh: Mesh,
  vertices: ArrayLike<number>,
  places: Float32Array,
  distance: number,
): { mesh: Mesh; missed: number } {
  // Places as triangles without extent: the tree that finds nearest places of surfaces finds them too.
  const n = places.length / 3;
  const tree = new RayTree(
    new Mesh({
      positions: places,
      faceStart: Uint32Array.from({ length: n + 1 }, (_, i) => 3 * i),
      cornerVertex: Uint32Array.from({ length: 3 * n }, (_, i) => Math.floor(i / 3)),
      vertexKey: new Float64Array(n),
      faceKey: new Float64Array(n),
    }),
  );
  const positions = mesh.positions.slice();
  const touched: number[] = [];
  for (let i = 0; i < vertices.length; i++) {
    if ((i & EVERY) === 0) pulse();
    const v = vertices[i];
    const found = tree.nearest(at(positions, v), distance);
    if (!found) continue;
    positions.set(found.at, 3 * v);
    touched.push(v);
  }
  return {
    mesh: touched.length === 0 ? mesh : mesh.moved(positions, touched),
    missed: vertices.length - touched.length,
  };
}
