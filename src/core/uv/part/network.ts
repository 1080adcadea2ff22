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
