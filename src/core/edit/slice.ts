/**
 * Cutting away one side of a plane through the origin. Faces across the plane are cut; one that goes through it several times, as a U does
 * through both prongs, falls into its pieces, so nothing is joined along the plane that was not joined before.
 *
 * A polygon's pieces: its corners on the kept side are runs that come in and go out through the plane. Along the line in which its plane meets
 * the cut, the ends of runs lie in pairs between which the polygon is (Sutherland and Hodgman's way, 1974, leaves the runs joined).
 */
import { edgeKey, key2, key3, keyOf } from '../math/hash';
import { EVERY, pulse } from '../math/pulse';
import { MeshDraft } from '../mesh/draft';
import type { Mesh } from '../mesh/mesh';
import { faceNormal } from '../mesh/normals';
import { nextCorner } from '../mesh/topology';

const SLICE = keyOf('slice');

/** A corner of what is left of a face: its vertex, and where its attributes come from. */
interface Corner {
  vertex: number;
  c0: number;
  c1: number;
  t: number;
}

/** Keeps the side of the plane where sign · coordinate k ≥ 0; edges across it get a vertex in the plane. */
export function slice(mesh: Mesh, k: number, sign: number, id: number): Mesh {
  const { positions: p, cornerVertex: cv } = mesh;
  const side = (v: number) => sign * p[3 * v + k];
  const draft = new MeshDraft(mesh);
  const vk = mesh.vertexKey;
  const seed = key2(id, SLICE);
  const made = new Map<number, number>();
  const placeOf: number[] = [];

  const crossing = (a: number, b: number): number => {
    const key = edgeKey(vk[a], vk[b]);
    let v = made.get(key);
    if (v !== undefined) return v;
    // From the lower key, so that both faces of the edge find the same point to the last bit.
    const [i, j] = vk[a] < vk[b] ? [a, b] : [b, a];
    const u = side(i) / (side(i) - side(j));
    const at = [0, 1, 2].map((q) => (q === k ? 0 : p[3 * i + q] + (p[3 * j + q] - p[3 * i + q]) * u));
    v = draft.vertex(key3(seed, key, 0), at[0], at[1], at[2], i, j, u);
    made.set(key, v);
    placeOf.push(at[0], at[1], at[2]);
    return v;
  };
  const placeAt = (v: number, q: number): number =>
    v < mesh.vertexCount ? p[3 * v + q] : placeOf[3 * (v - mesh.vertexCount) + q];

  for (let f = 0; f < mesh.faceCount; f++) {
    if ((f & EVERY) === 0) pulse();
    const s = mesh.faceStart[f];
    const e = mesh.faceStart[f + 1];
    let behind = 0;
    let before = 0;
    for (let c = s; c < e; c++) {
      const d = side(cv[c]);
      if (d < 0) behind++;
      else if (d > 0) before++;
    }
    if (behind === 0) continue;
    draft.drop(f);
    if (before === 0) continue;
    const runs = runsOf(mesh, f, side, crossing);
    const rings = runs.length > 1 ? joinRuns(mesh, f, k, runs, placeAt) : [runs[0]];
    const parts: number[] = [];
    for (const ring of rings) {
      const own = rings.length === 1 ? mesh.faceKey[f] : key3(seed, mesh.faceKey[f], vk[cv[ring[0].c0]]);
      parts.push(own);
      draft.begin(own, f);
      for (const { vertex, c0, c1, t } of ring) draft.at(vertex, c0, c1, t);
      draft.end();
    }
    if (rings.length > 1) draft.split(mesh.faceKey[f], parts);
  }
  return draft.finish();
}

/** The parts of a face's outline on the kept side, each from where it comes in to where it goes out, plane points included. */
function runsOf(
  mesh: Mesh,
  f: number,
  side: (v: number) => number,
  crossing: (a: number, b: number) => number,
): Corner[][] {
  const { cornerVertex: cv, faceStart } = mesh;
  const s = faceStart[f];
  const n = faceStart[f + 1] - s;
  let first = s;
  while (side(cv[first]) >= 0) first++;
  const runs: Corner[][] = [];
  let run: Corner[] = [];
  let inFront = false;
  for (let i = 0; i < n; i++) {
    const c = s + ((first - s + i) % n);
    const d = nextCorner(mesh, f, c);
    const da = side(cv[c]);
    const db = side(cv[d]);
    if (da >= 0) {
      run.push({ vertex: cv[c], c0: c, c1: c, t: 0 });
      inFront ||= da > 0;
    }
    if (da * db < 0) run.push({ vertex: crossing(cv[c], cv[d]), c0: c, c1: d, t: da / (da - db) });
    if (da >= 0 && db < 0) {
      // What only touches the plane from behind is nothing.
      if (inFront) runs.push(run);
      run = [];
      inFront = false;
    }
  }
  return runs;
}

/** Closes runs to rings by the pairs in which their ends lie along the cut; one ring of all where that leads nowhere (a face that crosses itself). */
function joinRuns(
  mesh: Mesh,
  f: number,
  k: number,
  runs: Corner[][],
  placeAt: (v: number, q: number) => number,
): Corner[][] {
  const normal = new Float32Array(3);
  faceNormal(mesh, f, normal, 0);
  const [a, b] = [(k + 1) % 3, (k + 2) % 3];
  // The line of the cut in the face's plane: square to both normals.
  const place = (v: number) => placeAt(v, a) * -normal[b] + placeAt(v, b) * normal[a];
  const ends = runs.flatMap((run, i) => [
    { run: i, leaves: false, at: place(run[0].vertex) },
    { run: i, leaves: true, at: place(run[run.length - 1].vertex) },
  ]);
  ends.sort((x, y) => x.at - y.at);
  const next = new Int32Array(runs.length).fill(-1);
  for (let i = 0; i < ends.length; i += 2) {
    const [x, y] = ends[i].leaves ? [ends[i], ends[i + 1]] : [ends[i + 1], ends[i]];
    if (!x.leaves || y.leaves) return [runs.flat()];
    next[x.run] = y.run;
  }
  const done = new Uint8Array(runs.length);
  const rings: Corner[][] = [];
  for (let i = 0; i < runs.length; i++) {
    const ring: Corner[] = [];
    for (let r = i; !done[r]; r = next[r]) {
      done[r] = 1;
      ring.push(...runs[r]);
    }
    if (ring.length > 0) rings.push(ring);
  }
  return rings;
}
