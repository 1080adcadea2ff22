/** Single elements of a mesh: where they are, and which is nearest to a point. */
import type { Mesh } from './mesh';
import { countOf, keysOf, type PickKind } from './picks';
import { topologyOf } from './topology';

type P3 = [number, number, number];

/**
 * A vertex's place, a point along an edge (t from 0 to 1, from the end with the lower key), or the middle of a face.
 */
export function elementPoint(mesh: Mesh, kind: PickKind, index: number, t = 0.5): P3 {
  const p = mesh.positions;
  const at = (v: number): P3 => [p[3 * v], p[3 * v + 1], p[3 * v + 2]];
  if (kind === 'vertex') return at(index);
  if (kind === 'edge') {
    const [i, j] = ends(mesh, index);
    const a = at(i);
    const b = at(j);
    return [a[0] + (b[0] - a[0]) * t, a[1] + (b[1] - a[1]) * t, a[2] + (b[2] - a[2]) * t];
  }
  const out: P3 = [0, 0, 0];
  const s = mesh.faceStart[index];
  const e = mesh.faceStart[index + 1];
  for (let c = s; c < e; c++) for (let k = 0; k < 3; k++) out[k] += p[3 * mesh.cornerVertex[c] + k] / (e - s);
  return out;
}

/** An edge's ends, the one with the lower key first: the order does not depend on how the mesh is numbered. */
function ends(mesh: Mesh, edge: number): [number, number] {
  const { edgeVertex } = topologyOf(mesh);
  const a = edgeVertex[2 * edge];
  const b = edgeVertex[2 * edge + 1];
  return mesh.vertexKey[a] <= mesh.vertexKey[b] ? [a, b] : [b, a];
}

/**
 * The element of a kind nearest to a point of the mesh's space: its key, how far along it (edges), and where that is.
 */
export function nearestElement(
  mesh: Mesh,
  kind: PickKind,
  point: readonly number[],
): { index: number; key: number; t: number; at: P3 } {
  let best = -1;
  let near = Infinity;
  let t = 0.5;
  const count = countOf(mesh, kind);
  for (let i = 0; i < count; i++) {
    let at: P3;
    let share = 0.5;
    if (kind === 'edge') {
      const [v, w] = ends(mesh, i);
      const p = mesh.positions;
      let dot = 0;
      let l = 0;
      for (let k = 0; k < 3; k++) {
        const d = p[3 * w + k] - p[3 * v + k];
        dot += (point[k] - p[3 * v + k]) * d;
        l += d * d;
      }
      share = l > 0 ? Math.max(0, Math.min(1, dot / l)) : 0;
      at = elementPoint(mesh, kind, i, share);
    } else at = elementPoint(mesh, kind, i);
    const d = (at[0] - point[0]) ** 2 + (at[1] - point[1]) ** 2 + (at[2] - point[2]) ** 2;
    if (d < near) {
      near = d;
      best = i;
      t = share;
    }
  }
  if (best < 0) throw new Error('There is nothing there to hold on to.');
  return { index: best, key: keysOf(mesh, kind)[best], t, at: elementPoint(mesh, kind, best, t) };
}
