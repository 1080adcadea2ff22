/**
 * Cutting by a plane, and keeping one side or both. Faces across the plane are cut; one that goes through it several
 * times, as a U does through both prongs, falls into its pieces, so nothing is joined along the plane that was not
 * joined before.
 *
 * A polygon's pieces: its corners on the kept side are runs that come in and go out through the plane. Along the line
 * in which its plane meets the cut, the ends of runs lie in pairs between which the polygon is (Sutherland and
 * Hodgman's way, 1974, leaves the runs joined).
 */
import type { Triple } from '../math/affine';
import { edgeKey, key2, key3, key4, keyOf } from '../math/hash';
import { EVERY, pulse } from '../math/pulse';
import { cross } from '../math/vector';
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

/** Where to cut: how far in front of it each vertex is (0 on it), and the plane's normal. */
export interface Cut {
  readonly side: (vertex: number) => number;
  readonly normal: Triple;
  /** The coordinate that is exactly 0 on it, where it is a plane of the axes. */
  readonly level?: number;
}

export interface SliceOptions {
  /** What is behind stays too, in faces of its own. */
  both: boolean;
  /** Only these faces are cut, or taken away; those beside them take new vertices into their outline. */
  faces?: Uint8Array;
}

/** Cuts faces across the plane and keeps what is in front, or both; edges across it get a vertex on it. */
export function slice(mesh: Mesh, { side, normal, level }: Cut, { both, faces }: SliceOptions, id: number): Mesh {
  const { positions: p, cornerVertex: cv } = mesh;
  const draft = new MeshDraft(mesh);
  const vk = mesh.vertexKey;
  const seed = key2(id, SLICE);
  const made = new Map<number, Crossing>();
  const placeOf: number[] = [];

  const crossing = (a: number, b: number): number => {
    const key = edgeKey(vk[a], vk[b]);
    const had = made.get(key);
    if (had) return had.vertex;
    // From the lower key, so that both faces of the edge find the same point to the last bit.
    const [i, j] = vk[a] < vk[b] ? [a, b] : [b, a];
    const u = side(i) / (side(i) - side(j));
    const at = [0, 1, 2].map((q) => (q === level ? 0 : p[3 * i + q] + (p[3 * j + q] - p[3 * i + q]) * u));
    const name = key3(seed, key, 0);
    const v = draft.vertex(name, at[0], at[1], at[2], i, j, u);
    made.set(key, { vertex: v, share: u });
    placeOf.push(at[0], at[1], at[2]);
    if (both) draft.split(key, [edgeKey(vk[i], name), edgeKey(name, vk[j])]);
    return v;
  };
  const placeAt = (v: number, q: number): number =>
    v < mesh.vertexCount ? p[3 * v + q] : placeOf[3 * (v - mesh.vertexCount) + q];

  for (let f = 0; f < mesh.faceCount; f++) {
    if ((f & EVERY) === 0) pulse();
    if (faces && !faces[f]) continue;
    const s = mesh.faceStart[f];
    const e = mesh.faceStart[f + 1];
    let behind = 0;
    let before = 0;
    for (let c = s; c < e; c++) {
      const d = side(cv[c]);
      if (d < 0) behind++;
      else if (d > 0) before++;
    }
    if (behind === 0 || (both && before === 0)) continue;
    draft.drop(f);
    if (before === 0) continue;
    const ringsOf = (facing: (v: number) => number) => {
      const runs = runsOf(mesh, f, facing, crossing);
      return runs.length > 1 ? joinRuns(mesh, f, normal, runs, placeAt) : [runs[0]];
    };
    const front = ringsOf(side);
    const back = both ? ringsOf((v) => -side(v)) : [];
    const parts: number[] = [];
    const put = (ring: Corner[], key: number) => {
      parts.push(key);
      draft.begin(key, f);
      for (const { vertex, c0, c1, t } of ring) draft.at(vertex, c0, c1, t);
      draft.end();
    };
    for (const ring of front)
      put(ring, front.length + back.length === 1 ? mesh.faceKey[f] : key3(seed, mesh.faceKey[f], vk[cv[ring[0].c0]]));
    for (const ring of back) put(ring, key4(seed, mesh.faceKey[f], vk[cv[ring[0].c0]], 1));
    if (parts.length > 1) draft.split(mesh.faceKey[f], parts);
  }
  if (faces) besideTheCut(mesh, draft, faces, made);
  return draft.finish();
}

/** A vertex on a cut edge, and how far it is from the end with the lower key. */
interface Crossing {
  vertex: number;
  share: number;
}

/** Faces that were not cut take the vertices on their edges into their outline. */
function besideTheCut(mesh: Mesh, draft: MeshDraft, faces: Uint8Array, made: ReadonlyMap<number, Crossing>): void {
  const { cornerVertex: cv, vertexKey: vk } = mesh;
  if (made.size === 0) return;
  for (let f = 0; f < mesh.faceCount; f++) {
    if ((f & EVERY) === 0) pulse();
    if (faces[f]) continue;
    const on: (Crossing | undefined)[] = [];
    let any = false;
    for (let c = mesh.faceStart[f]; c < mesh.faceStart[f + 1]; c++) {
      const x = made.get(edgeKey(vk[cv[c]], vk[cv[nextCorner(mesh, f, c)]]));
      on.push(x);
      any ||= x !== undefined;
    }
    if (!any) continue;
    draft.begin(mesh.faceKey[f], f);
    on.forEach((x, i) => {
      const c = mesh.faceStart[f] + i;
      const n = nextCorner(mesh, f, c);
      draft.at(cv[c], c);
      if (x) draft.at(x.vertex, c, n, vk[cv[c]] < vk[cv[n]] ? x.share : 1 - x.share);
    });
    draft.end();
    draft.drop(f);
  }
}

/**
 * The parts of a face's outline on the kept side, each from where it comes in to where it goes out, plane points
 * included.
 */
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

/**
 * Closes runs to rings by the pairs in which their ends lie along the cut; one ring of all where that leads nowhere (a
 * face that crosses itself).
 */
function joinRuns(
  mesh: Mesh,
  f: number,
  cut: Triple,
  runs: Corner[][],
  placeAt: (v: number, q: number) => number,
): Corner[][] {
  const normal = new Float32Array(3);
  faceNormal(mesh, f, normal, 0);
  // The line of the cut in the face's plane: square to both normals.
  const line = cross(cut, [normal[0], normal[1], normal[2]]);
  const place = (v: number) => placeAt(v, 0) * line[0] + placeAt(v, 1) * line[1] + placeAt(v, 2) * line[2];
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
