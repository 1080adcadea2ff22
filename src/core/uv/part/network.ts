/** Ways between places, and how far it is along them. */
import { Queue } from '../../math/queue';
import type { Parting, Patch } from '../flatten/patch';

/** Vertices of a patch and the sides between them: to which each leads, and over which edge of the mesh. */
export interface Network {
  start: Int32Array;
  to: Int32Array;
  edge: Int32Array;
}

/** Sides within a patch, without those at its rim. */
export function networkOf(parting: Parting, patch: Patch): Network {
  const { mesh, t, label } = parting;
  const n = patch.points.length / 3;
  const start = new Int32Array(n + 1);
  const sides: number[] = [];
  let at = 0;
  for (const f of patch.faces) {
    const first = at;
    const many = mesh.faceStart[f + 1] - mesh.faceStart[f];
    for (let k = 0; k < many; k++, at++) {
      const c = mesh.faceStart[f] + k;
      const o = parting.across(c);
      if (o < 0 || label[t.cornerFace[o]] !== label[f] || o < c) continue;
      const [a, b] = [patch.corners[at], patch.corners[first + ((k + 1) % many)]];
      sides.push(a, b, t.cornerEdge[c]);
      start[a + 1]++;
      start[b + 1]++;
    }
  }
  for (let v = 0; v < n; v++) start[v + 1] += start[v];
  const fill = start.slice(0, n);
  const to = new Int32Array(start[n]);
  const edge = new Int32Array(start[n]);
  for (let i = 0; i < sides.length; i += 3)
    for (const [a, b] of [
      [sides[i], sides[i + 1]],
      [sides[i + 1], sides[i]],
    ]) {
      to[fill[a]] = b;
      edge[fill[a]++] = sides[i + 2];
    }
  return { start, to, edge };
}

/** Of each place those that ways lead to from it: from `start` on. */
export type Ways = Pick<Network, 'start' | 'to'>;

/** How far every place is from some, along ways; `points`: 3 per place. `goes`: 0 for ways, as in `to`, not to be gone. */
export function far(
  { start, to }: Ways,
  points: Float64Array,
  from: readonly number[],
  goes?: Uint8Array,
): Float64Array {
  const out = new Float64Array(points.length / 3).fill(Infinity);
  const queue = new Queue();
  for (const v of from) {
    out[v] = 0;
    queue.push(v, 0);
  }
  while (queue.size > 0) {
    const [v, d] = queue.pop();
    if (d > out[v]) continue;
    for (let k = start[v]; k < start[v + 1]; k++) {
      if (goes && !goes[k]) continue;
      const [a, b] = [3 * v, 3 * to[k]];
      const next = d + Math.hypot(points[a] - points[b], points[a + 1] - points[b + 1], points[a + 2] - points[b + 2]);
      if (next < out[to[k]]) {
        out[to[k]] = next;
        queue.push(to[k], next);
      }
    }
  }
  return out;
}

/**
 * How dear the cheapest way from the rim to each vertex is, and by where it goes (Dijkstra 1959); −1 and infinite where
 * there is none. What is held is not gone along.
 */
export function fromRim(
  patch: Patch,
  { start, to, edge }: Network,
  weigh: (edge: number) => number,
  hold: ReadonlySet<number>,
): { dist: Float64Array; back: Int32Array; via: Int32Array } {
  const n = patch.points.length / 3;
  const dist = new Float64Array(n).fill(Infinity);
  const back = new Int32Array(n).fill(-1);
  const via = new Int32Array(n).fill(-1);
  const queue = new Queue();
  for (const v of patch.rim) {
    if (dist[v] === 0) continue;
    dist[v] = 0;
    queue.push(v, 0);
  }
  while (queue.size > 0) {
    const [v, d] = queue.pop();
    if (d > dist[v]) continue;
    for (let p = start[v]; p < start[v + 1]; p++) {
      if (hold.has(edge[p])) continue;
      const next = d + weigh(edge[p]);
      if (!(next < dist[to[p]])) continue;
      dist[to[p]] = next;
      back[to[p]] = v;
      via[to[p]] = edge[p];
      queue.push(to[p], next);
    }
  }
  return { dist, back, via };
}
