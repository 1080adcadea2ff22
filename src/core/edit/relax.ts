/**
 * Relax: vertices go towards the middle of their neighbours, round after round. With the volume kept, each round is
 * taken back a little (Taubin 1995: a step in, a longer one out), so that noise goes and size stays. Vertices on open
 * borders go along the border only, or are held.
 */
import { EVERY, pulse } from '../math/pulse';
import type { Mesh } from '../mesh/mesh';
import { topologyOf } from '../mesh/topology';

/**
 * The longest step that settles when it is taken back each time: of the roughest pattern there is (every neighbour on
 * the other side) the two steps leave (1 − 2λ)(1 − 2μ), which is under 1 up to here. Longer ones grew without end.
 */
const LONGEST = 0.69;

export interface RelaxOptions {
  rounds: number;
  /** 0 to 1: how far of the way each round goes. */
  strength: number;
  keepVolume: boolean;
  holdBorders: boolean;
}

export function relax(mesh: Mesh, vertices: ArrayLike<number>, o: RelaxOptions): Mesh {
  const t = topologyOf(mesh);
  const n = vertices.length;
  const place = new Int32Array(mesh.vertexCount).fill(-1);
  for (let i = 0; i < n; i++) place[vertices[i]] = i;
  // Neighbours of picked vertices only, as flat lists: on borders, those along the border.
  const open = new Uint8Array(mesh.vertexCount);
  for (let e = 0; e < t.edgeCount; e++)
    if (t.edgeCornerStart[e + 1] - t.edgeCornerStart[e] === 1) {
      open[t.edgeVertex[2 * e]] = 1;
      open[t.edgeVertex[2 * e + 1]] = 1;
    }
  const start = new Uint32Array(n + 1);
  const each = (visit: (i: number, w: number) => void) => {
    for (let e = 0; e < t.edgeCount; e++) {
      if ((e & EVERY) === 0) pulse();
      const a = t.edgeVertex[2 * e];
      const b = t.edgeVertex[2 * e + 1];
      if (place[a] < 0 && place[b] < 0) continue;
      const border = t.edgeCornerStart[e + 1] - t.edgeCornerStart[e] === 1;
      if (place[a] >= 0 && (border || !open[a])) visit(place[a], b);
      if (place[b] >= 0 && (border || !open[b])) visit(place[b], a);
    }
  };
  each((i) => start[i + 1]++);
  for (let i = 0; i < n; i++) start[i + 1] += start[i];
  const fill = start.slice(0, n);
  const beside = new Uint32Array(start[n]);
  each((i, w) => (beside[fill[i]++] = w));
  const now = Float64Array.from(mesh.positions);
  const next = new Float64Array(3 * n);
  const round = (share: number) => {
    for (let i = 0; i < n; i++) {
      if ((i & EVERY) === 0) pulse();
      const v = vertices[i];
      const count = start[i + 1] - start[i];
      const still = count === 0 || (open[v] === 1 && o.holdBorders);
      for (let k = 0; k < 3; k++) {
        let sum = 0;
        for (let q = start[i]; q < start[i + 1]; q++) sum += now[3 * beside[q] + k];
        next[3 * i + k] = still ? now[3 * v + k] : now[3 * v + k] + (sum / count - now[3 * v + k]) * share;
      }
    }
    for (let i = 0; i < n; i++) for (let k = 0; k < 3; k++) now[3 * vertices[i] + k] = next[3 * i + k];
  };
  const share = o.keepVolume ? Math.min(o.strength, LONGEST) : o.strength;
  for (let r = 0; r < o.rounds; r++) {
    round(share);
    // Pass band at a tenth: 1/λ + 1/μ = 0.1.
    if (o.keepVolume && share > 0) round(1 / (0.1 - 1 / share));
  }
  const positions = mesh.positions.slice();
  for (let i = 0; i < n; i++) for (let k = 0; k < 3; k++) positions[3 * vertices[i] + k] = now[3 * vertices[i] + k];
  return mesh.moved(positions, vertices);
}
