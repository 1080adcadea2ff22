/**
 * Cut by a plane: faces across it fall apart along it; one side may go, and the cut may be closed. Where outlines lie
 * within one another (a pipe cut across) the closing faces leave the inner ones open, in triangles, for one polygon
 * cannot have a hole.
 */
import earcut from 'earcut';
import type { Triple } from '../math/affine';
import { edgeKey, key2, key3, keyOf } from '../math/hash';
import { at, cross, dot, minus, square } from '../math/vector';
import { MeshDraft } from '../mesh/draft';
import type { Mesh } from '../mesh/mesh';
import { edgeKeys } from '../mesh/picks';
import { edgeValence, topologyOf } from '../mesh/topology';
import { openBorders } from './cap';
import { openAlong } from './open';
import { slice } from './slice';

const FILL = keyOf('cut fill');

export interface PlaneCut {
  /** Unit; what it points to is in front. */
  normal: Triple;
  /** Any point of the plane, metres. */
  through: Triple;
  keep: 'front' | 'back' | 'both';
  /** Closes the cut; of both halves, which come apart then. */
  fill: boolean;
}

/** Only `faces` are cut (a mask); all without it. */
export function planeCut(mesh: Mesh, o: PlaneCut, id: number, faces?: Uint8Array): Mesh {
  const sign = o.keep === 'back' ? -1 : 1;
  const normal: Triple = [sign * o.normal[0], sign * o.normal[1], sign * o.normal[2]];
  let size = 0;
  for (const x of mesh.positions) size = Math.max(size, Math.abs(x));
  // What is as near as rounding of places is on it: no slivers.
  const near = 4e-7 * Math.max(size, Math.abs(dot(o.through, o.normal)));
  const sideIn = (m: Mesh) => (v: number) => {
    const d = dot(minus(at(m.positions, v), o.through), normal);
    return Math.abs(d) <= near ? 0 : d;
  };
  const cut = slice(mesh, { side: sideIn(mesh), normal }, { both: o.keep === 'both', faces }, id);
  if (!o.fill || cut.faceCount === 0) return cut;
  const apart = o.keep === 'both' ? openAlong(cut, 'edge', onPlane(cut, sideIn(cut), near, 2), id) : cut;
  return closed(mesh, apart, onPlane(apart, sideIn(apart), near, 1), normal, sideIn(apart), key2(id, FILL));
}

/** Edges that lie in the plane and have so many faces. */
function onPlane(mesh: Mesh, side: (v: number) => number, near: number, valence: number): number[] {
  const t = topologyOf(mesh);
  const on = new Uint8Array(mesh.vertexCount);
  for (let v = 0; v < on.length; v++) on[v] = Math.abs(side(v)) <= 4 * near ? 1 : 0;
  const out: number[] = [];
  for (let e = 0; e < t.edgeCount; e++)
    if (on[t.edgeVertex[2 * e]] && on[t.edgeVertex[2 * e + 1]] && edgeValence(t, e) === valence) out.push(e);
  return out;
}

type Flat = readonly (readonly [number, number])[];

/** Borders along the cut closed, those that were open before left as they are. */
function closed(
  before: Mesh,
  mesh: Mesh,
  edges: readonly number[],
  normal: Triple,
  side: (v: number) => number,
  seed: number,
): Mesh {
  const t = topologyOf(mesh);
  const { cornerVertex: cv, positions: p, faceStart } = mesh;
  const had = openEdges(before);
  const far = 1e-3 * mesh.positions.reduce((m, v) => Math.max(m, Math.abs(v)), 0);
  const isNew = (ring: readonly number[]) =>
    ring.some((c, i) => !had.has(edgeKey(mesh.vertexKey[cv[c]], mesh.vertexKey[cv[ring[(i + 1) % ring.length]]])));
  const x = square(normal);
  const y = cross(normal, x);
  const rings = openBorders(mesh, edges)
    .filter((ring) => isNew(ring) && ring.every((c) => Math.abs(side(cv[c])) <= far))
    .map((ring) => {
      const f = t.cornerFace[ring[0]];
      let lean = 0;
      for (let c = faceStart[f]; c < faceStart[f + 1]; c++) lean += side(cv[c]);
      const corners = [...ring].reverse();
      const flat: Flat = corners.map((c) => {
        const d = at(p, cv[c]);
        return [dot(d, x), dot(d, y)];
      });
      return { corners, flat, front: lean > 0, area: Math.abs(areaOf(flat)) };
    })
    .sort((a, b) => b.area - a.area);
  // Rings of one half lie within one another or apart; each that lies in an odd number of others is a hole in the
  // smallest of them.
  const holes = rings.map(() => [] as number[]);
  const isHole = rings.map((ring, i) => {
    const around = rings.flatMap((r, j) => (j < i && r.front === ring.front && holds(r.flat, ring.flat[0]) ? [j] : []));
    if (around.length % 2 === 0) return false;
    holes[around[around.length - 1]].push(i);
    return true;
  });
  const draft = new MeshDraft(mesh);
  const used = new Set<number>();
  rings.forEach((ring, i) => {
    if (isHole[i]) return;
    // By all its vertices and the half it closes; rings that share even that are told apart by their order.
    const names = ring.corners.map((c) => mesh.vertexKey[cv[c]]).sort((a, b) => a - b);
    let own = key2(names.reduce(key2, seed), ring.front ? 1 : 2);
    for (let again = 0; used.has(own); again++) own = key2(own, again);
    used.add(own);
    const from = t.cornerFace[ring.corners[0]];
    if (holes[i].length === 0) {
      draft.begin(own, from);
      for (const c of ring.corners) draft.at(cv[c], c);
      draft.end();
      return;
    }
    const all = [ring, ...holes[i].map((h) => rings[h])];
    const corners = all.flatMap((r) => r.corners);
    const starts = all.slice(1).map((_, k) => all.slice(0, k + 1).reduce((n, r) => n + r.corners.length, 0));
    const triangles = earcut(
      all.flatMap((r) => r.flat.flat()),
      starts,
    );
    const turned = areaOf(ring.flat) < 0;
    for (let k = 0; k < triangles.length; k += 3) {
      const tri = [triangles[k], triangles[k + 1], triangles[k + 2]];
      const flat = tri.map((q) => all.flatMap((r) => r.flat)[q]);
      const list = areaOf(flat) < 0 === turned ? tri : [tri[0], tri[2], tri[1]];
      if (new Set(list.map((q) => cv[corners[q]])).size < 3) continue;
      draft.begin(key3(own, k, 3), from);
      for (const q of list) draft.at(cv[corners[q]], corners[q]);
      draft.end();
    }
  });
  return draft.finish();
}

function openEdges(mesh: Mesh): Set<number> {
  const t = topologyOf(mesh);
  const keys = edgeKeys(mesh);
  const out = new Set<number>();
  for (let e = 0; e < t.edgeCount; e++) if (edgeValence(t, e) === 1) out.add(keys[e]);
  return out;
}

function areaOf(flat: Flat): number {
  let sum = 0;
  for (let i = 0; i < flat.length; i++) {
    const [a, b] = [flat[i], flat[(i + 1) % flat.length]];
    sum += (a[0] - flat[0][0]) * (b[1] - flat[0][1]) - (a[1] - flat[0][1]) * (b[0] - flat[0][0]);
  }
  return sum / 2;
}

function holds(flat: Flat, [x, y]: readonly [number, number]): boolean {
  let inside = false;
  for (let i = 0; i < flat.length; i++) {
    const [a, b] = [flat[i], flat[(i + 1) % flat.length]];
    if (a[1] > y !== b[1] > y && x < ((b[0] - a[0]) * (y - a[1])) / (b[1] - a[1]) + a[0]) inside = !inside;
  }
  return inside;
}
