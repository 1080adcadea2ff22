/**
 * Extrude: picked faces move off their place and walls close the gap. As one region, or each face alone.
 *
 * Invariants: the caps keep their keys; a closed mesh stays closed; the Euler characteristic of a region that is a disc
 * is kept.
 */
import { applyPoint, type Affine, type Triple } from '../math/affine';
import { UnionFind } from '../math/unionfind';
import { EVERY, pulse } from '../math/pulse';
import { key2, key3, key4, keyOf } from '../math/hash';
import { MeshDraft } from '../mesh/draft';
import type { Mesh } from '../mesh/mesh';
import { faceNormals } from '../mesh/normals';
import { mask } from '../mesh/picks';
import { nextCorner, topologyOf, type Topology } from '../mesh/topology';

export interface ExtrudeOptions {
  /** Metres. */
  by: number;
  /** 'normals', or the axis to go along. */
  along: 'normals' | 'x' | 'y' | 'z';
  /** Every face on its own rather than the region as one. */
  each: boolean;
  /** How far the cap's outline moves inwards, metres. */
  inset: number;
  /**
   * How far a vertex goes instead of `by`, from where it is and along a unit direction; undefined for as far as the
   * others.
   */
  until?: (place: Triple, way: Triple) => number | undefined;
  /** The places it passes and, last, where it ends, as maps of where it was: instead of `by`, `along` and `inset`. */
  stations?: readonly Affine[];
}

const CAP = keyOf('extrude cap');
const PASSED = keyOf('extrude passed');
const WALL = keyOf('extrude wall');
const AXES: readonly Triple[] = [
  [1, 0, 0],
  [0, 1, 0],
  [0, 0, 1],
];

/** `faces` as indices; `id` seeds the keys of what is made. */
export function extrude(mesh: Mesh, faces: ArrayLike<number>, options: ExtrudeOptions, id: number): Mesh {
  if (faces.length === 0) return mesh;
  const t = topologyOf(mesh);
  const { faceStart, cornerVertex, positions: p } = mesh;
  const inRegion = mask(mesh.faceCount, faces);
  const normals = faceNormals(mesh);

  // Corners of the region that move together share a fan; fans are joined across edges inside the region.
  const region: number[] = [];
  const slot = new Int32Array(mesh.cornerCount).fill(-1);
  for (let i = 0; i < faces.length; i++)
    for (let c = faceStart[faces[i]]; c < faceStart[faces[i] + 1]; c++) {
      slot[c] = region.length;
      region.push(c);
    }
  const joined = new UnionFind(region.length);
  const find = (i: number) => joined.find(i);
  const inner = (c: number): number => {
    // the region's corner on the far side of the edge, or -1 where the region ends
    if (options.each) return -1;
    const e = t.cornerEdge[c];
    const s = t.edgeCornerStart[e];
    if (t.edgeCornerStart[e + 1] - s !== 2) return -1;
    const o = t.edgeCorner[s] === c ? t.edgeCorner[s + 1] : t.edgeCorner[s];
    return inRegion[t.cornerFace[o]] && cornerVertex[o] !== cornerVertex[c] ? o : -1;
  };
  const edgeIsRim = new Uint8Array(region.length);
  for (let i = 0; i < region.length; i++) {
    if ((i & EVERY) === 0) pulse();
    const c = region[i];
    const o = inner(c);
    if (o < 0) {
      edgeIsRim[i] = 1;
      continue;
    }
    joined.join(slot[nextCorner(mesh, t.cornerFace[o], o)], i);
    joined.join(slot[o], slot[nextCorner(mesh, t.cornerFace[c], c)]);
  }
  const touchesRim = new Uint8Array(region.length);
  for (let i = 0; i < region.length; i++) {
    if ((i & EVERY) === 0) pulse();
    if (!edgeIsRim[i]) continue;
    touchesRim[find(i)] = 1;
    touchesRim[find(slot[nextCorner(mesh, t.cornerFace[region[i]], region[i])])] = 1;
  }

  const count = region.length;
  const nx = new Float64Array(3 * count);
  const ins = new Float64Array(3 * count);
  const insWeight = new Float64Array(count);
  const firstD = new Float64Array(3 * count);
  for (let i = 0; i < count; i++) {
    if ((i & EVERY) === 0) pulse();
    const c = region[i];
    const f = t.cornerFace[c];
    const r = find(i);
    for (let k = 0; k < 3; k++) nx[3 * r + k] += normals[3 * f + k];
  }
  if (options.inset !== 0) {
    // Inward directions of the two rim edges that meet at a fan; the mitre is their sum over 1 + cosine.
    const add = (r: number, dx: number, dy: number, dz: number) => {
      if (insWeight[r] === 0) {
        firstD[3 * r] = dx;
        firstD[3 * r + 1] = dy;
        firstD[3 * r + 2] = dz;
      }
      ins[3 * r] += dx;
      ins[3 * r + 1] += dy;
      ins[3 * r + 2] += dz;
      insWeight[r]++;
    };
    for (let i = 0; i < count; i++) {
      if ((i & EVERY) === 0) pulse();
      if (!edgeIsRim[i]) continue;
      const c = region[i];
      const f = t.cornerFace[c];
      const n = nextCorner(mesh, f, c);
      const a = 3 * cornerVertex[c];
      const b = 3 * cornerVertex[n];
      let tx = p[b] - p[a];
      let ty = p[b + 1] - p[a + 1];
      let tz = p[b + 2] - p[a + 2];
      const l = Math.hypot(tx, ty, tz) || 1;
      tx /= l;
      ty /= l;
      tz /= l;
      const fx = normals[3 * f];
      const fy = normals[3 * f + 1];
      const fz = normals[3 * f + 2];
      const dx = fy * tz - fz * ty;
      const dy = fz * tx - fx * tz;
      const dz = fx * ty - fy * tx;
      add(find(i), dx, dy, dz);
      add(find(slot[n]), dx, dy, dz);
    }
  }

  const placeOf = (v: number): Triple => [p[3 * v], p[3 * v + 1], p[3 * v + 2]];
  const draft = new MeshDraft(mesh);
  const to = new Int32Array(count).fill(-1); // fan root → its vertex after the move
  const order = new Map<number, number>();
  const vk = mesh.vertexKey;
  const own = draft.ownPositions();
  const axis = options.along === 'normals' ? -1 : 'xyz'.indexOf(options.along);
  const stations = options.stations ?? [];
  /** Of a fan: its vertices on the way, before the last. */
  const passed = new Map<number, number[]>();
  for (let i = 0; i < count; i++) {
    if ((i & EVERY) === 0) pulse();
    const r = find(i);
    if (to[r] >= 0) continue;
    const v = cornerVertex[region[i]];
    let x = 0;
    let y = 0;
    let z = 0;
    if (axis >= 0) {
      const by = options.until?.(placeOf(v), AXES[axis]) ?? options.by;
      if (axis === 0) x = by;
      else if (axis === 1) y = by;
      else z = by;
    } else {
      const l = Math.hypot(nx[3 * r], nx[3 * r + 1], nx[3 * r + 2]);
      if (l > 1e-12) {
        x = nx[3 * r] / l;
        y = nx[3 * r + 1] / l;
        z = nx[3 * r + 2] / l;
        const far =
          options.until?.(placeOf(v), [x, y, z]) ?? options.by * evenness(t, v, slot, find, r, normals, x, y, z);
        x *= far;
        y *= far;
        z *= far;
      }
    }
    if (options.inset !== 0 && insWeight[r] > 0) {
      let k = options.inset / insWeight[r];
      if (insWeight[r] === 2) {
        const d = 3 * r;
        const cos =
          firstD[d] * (ins[d] - firstD[d]) +
          firstD[d + 1] * (ins[d + 1] - firstD[d + 1]) +
          firstD[d + 2] * (ins[d + 2] - firstD[d + 2]);
        k = options.inset / Math.max(0.15, 1 + cos);
      }
      x += k * ins[3 * r];
      y += k * ins[3 * r + 1];
      z += k * ins[3 * r + 2];
    }
    if (stations.length > 0) {
      const to = applyPoint(stations[stations.length - 1], placeOf(v));
      [x, y, z] = [to[0] - p[3 * v], to[1] - p[3 * v + 1], to[2] - p[3 * v + 2]];
    }
    if (touchesRim[r]) {
      const rank = order.get(v) ?? 0;
      order.set(v, rank + 1);
      // With each face alone, the fan belongs to one face: its key tells the fans of a vertex apart for good.
      const role = options.each ? mesh.faceKey[t.cornerFace[region[i]]] : rank;
      to[r] = draft.vertex(key4(id, CAP, vk[v], role), p[3 * v] + x, p[3 * v + 1] + y, p[3 * v + 2] + z, v);
      draft.lift(to[r], id, options.each ? t.cornerFace[region[i]] : -1);
      const way = stations.slice(0, -1).map((m, k) => {
        const at = applyPoint(m, placeOf(v));
        const w = draft.vertex(key4(key2(id, k), PASSED, vk[v], role), at[0], at[1], at[2], v);
        draft.lift(w, id, options.each ? t.cornerFace[region[i]] : -1);
        return w;
      });
      passed.set(r, way);
    } else {
      own[3 * v] += x;
      own[3 * v + 1] += y;
      own[3 * v + 2] += z;
      to[r] = v;
      draft.lift(v, id);
    }
  }
  const wallSeed = key2(id, WALL);
  const walls = new Set<number>();
  for (let i = 0; i < count; i++) {
    if ((i & EVERY) === 0) pulse();
    const c = region[i];
    const f = t.cornerFace[c];
    const vertex = to[find(i)];
    if (vertex !== cornerVertex[c]) draft.retarget(c, vertex);
    if (!edgeIsRim[i]) continue;
    const n = nextCorner(mesh, f, c);
    const a = cornerVertex[c];
    const b = cornerVertex[n];
    let wall = key3(wallSeed, vk[a], vk[b]);
    // Each face has walls of its own; so have faces that go along one edge the same way, where more than two meet.
    if (options.each || walls.has(wall)) wall = key4(wallSeed, vk[a], vk[b], mesh.faceKey[f]);
    walls.add(wall);
    const left = [a, ...(passed.get(find(i)) ?? []), vertex];
    const right = [b, ...(passed.get(find(slot[n])) ?? []), to[find(slot[n])]];
    for (let k = 1; k < left.length; k++) {
      draft.begin(k === 1 ? wall : key2(wall, k), f);
      draft.at(left[k - 1], c);
      draft.at(right[k - 1], n);
      draft.at(right[k], n);
      draft.at(left[k], c);
      draft.end();
    }
  }
  return draft.finish();
}

/**
 * How many of the faces that were drawn in have an edge that runs backwards now: the inset was wider than there is
 * room. Faces of the source keep their indices through `extrude`.
 */
export function turnedOver(before: Mesh, after: Mesh, faces: ArrayLike<number>): number {
  const p = before.positions;
  const q = after.positions;
  let count = 0;
  for (let i = 0; i < faces.length; i++) {
    if ((i & EVERY) === 0) pulse();
    const f = faces[i];
    let back = false;
    for (let c = before.faceStart[f]; c < before.faceStart[f + 1] && !back; c++) {
      const n = nextCorner(before, f, c);
      const a = 3 * before.cornerVertex[c];
      const b = 3 * before.cornerVertex[n];
      const u = 3 * after.cornerVertex[c];
      const w = 3 * after.cornerVertex[n];
      let dot = 0;
      let length = 0;
      for (let k = 0; k < 3; k++) {
        dot += (p[b + k] - p[a + k]) * (q[w + k] - q[u + k]);
        length += (p[b + k] - p[a + k]) ** 2;
      }
      back = dot < -1e-6 * length;
    }
    if (back) count++;
  }
  return count;
}

/**
 * How much farther a vertex must go along the mean normal so that its faces move by the full distance; at most 4 times.
 */
function evenness(
  t: Topology,
  vertex: number,
  slot: Int32Array,
  find: (i: number) => number,
  root: number,
  normals: Float32Array,
  x: number,
  y: number,
  z: number,
): number {
  let sum = 0;
  let n = 0;
  for (let i = t.vertexCornerStart[vertex]; i < t.vertexCornerStart[vertex + 1]; i++) {
    const c = t.vertexCorner[i];
    const f = 3 * t.cornerFace[c];
    if (slot[c] < 0 || find(slot[c]) !== root) continue;
    sum += normals[f] * x + normals[f + 1] * y + normals[f + 2] * z;
    n++;
  }
  return n && sum > 0 ? Math.min(4, n / sum) : 1;
}
