/** What goes with the vertices, edges and faces of a level, on the next: attributes, keys, places, what edges are said to be. */
import { edgeKey, key2, keyOf } from '../math/hash';
import { EVERY, pulse } from '../math/pulse';
import { ALWAYS, marksAs, type Marks } from '../mesh/marks';
import { blank, gatherAttribute } from '../mesh/gather';
import type { Attribute, Mesh } from '../mesh/mesh';
import { edgeKeys } from '../mesh/picks';
import { laterRole, type Places } from '../mesh/places';
import { topologyOf } from '../mesh/topology';
import { cage, refine, type Level } from './level';

const EDGE_POINT = keyOf('edge point');
const FACE_POINT = keyOf('face point');
const CHILD = keyOf('child face');

/** What is said of an edge is said of its parts; a crease is so many levels less sharp. */
export function refineMarks(mesh: Mesh, levels: number, lineage: ReadonlyMap<number, readonly number[]>): Marks {
  const keys = edgeKeys(mesh);
  return marksAs(
    mesh,
    (_a, _b, e) => lineage.get(keys[e]) ?? [],
    (name, w) => (name === 'crease' && w < ALWAYS ? Math.max(0, w - levels) : w),
  );
}

export function refineSharpness(level: Level, sharp: Float32Array): Float32Array | undefined {
  const out = new Float32Array(2 * sharp.length + level.cornerVertex.length);
  let any = false;
  for (let e = 0; e < sharp.length; e++) {
    if ((e & EVERY) === 0) pulse();
    const s = Math.max(0, sharp[e] - 1);
    out[2 * e] = out[2 * e + 1] = s;
    if (s > 0) any = true;
  }
  return any ? out : undefined;
}

export function refineAttribute(level: Level, a: Attribute): Attribute {
  const { faceStart, cornerVertex, edgeVertex, vertices } = level;
  const faces = faceStart.length - 1;
  const corners = cornerVertex.length;
  const edges = edgeVertex.length / 2;
  const w = a.width;
  const from = a.data;
  if (a.domain === 'face') {
    const parent = new Uint32Array(corners);
    for (let f = 0; f < faces; f++) parent.fill(f, faceStart[f], faceStart[f + 1]);
    return gatherAttribute(a, parent);
  }
  if (a.domain === 'vertex') {
    const data = blank(from, (vertices + edges + faces) * w);
    data.set(from);
    for (let e = 0; e < edges; e++)
      for (let k = 0; k < w; k++)
        data[(vertices + e) * w + k] = (from[edgeVertex[2 * e] * w + k] + from[edgeVertex[2 * e + 1] * w + k]) / 2;
    for (let f = 0; f < faces; f++)
      for (let k = 0; k < w; k++) {
        let sum = 0;
        for (let c = faceStart[f]; c < faceStart[f + 1]; c++) sum += from[cornerVertex[c] * w + k];
        data[(vertices + edges + f) * w + k] = sum / (faceStart[f + 1] - faceStart[f]);
      }
    return { ...a, data };
  }
  const data = blank(from, 4 * corners * w);
  for (let f = 0; f < faces; f++) {
    if ((f & EVERY) === 0) pulse();
    const s = faceStart[f];
    const end = faceStart[f + 1];
    for (let k = 0; k < w; k++) {
      let sum = 0;
      for (let c = s; c < end; c++) sum += from[c * w + k];
      const middle = sum / (end - s);
      let before = from[(end - 1) * w + k];
      for (let c = s; c < end; c++) {
        const here = from[c * w + k];
        const after = from[(c + 1 < end ? c + 1 : s) * w + k];
        const q = 4 * c * w + k;
        data[q] = here;
        data[q + w] = (here + after) / 2;
        data[q + 2 * w] = middle;
        data[q + 3 * w] = (before + here) / 2;
        before = here;
      }
    }
  }
  return { ...a, data };
}

/** Where vertices of the last level belong: halfway along edges, in the middle of faces, never smoothed. */
export function refinePlaces(mesh: Mesh, levels: number): Places {
  let level = cage(mesh, topologyOf(mesh));
  let { at, role } = mesh.places;
  for (let i = 0; i < levels; i++) {
    const { vertices, faceStart, cornerVertex, edgeVertex } = level;
    const edges = edgeVertex.length / 2;
    const faces = faceStart.length - 1;
    const from = { at, role };
    at = new Float32Array(4 * (vertices + edges + faces));
    role = new Uint32Array(vertices + edges + faces);
    at.set(from.at);
    role.set(from.role);
    for (let e = 0; e < edges; e++) {
      const a = edgeVertex[2 * e];
      const b = edgeVertex[2 * e + 1];
      for (let k = 0; k < 4; k++) at[4 * (vertices + e) + k] = (at[4 * a + k] + at[4 * b + k]) / 2;
      role[vertices + e] = laterRole(at[4 * a + 3], role[a], at[4 * b + 3], role[b]);
    }
    for (let f = 0; f < faces; f++) {
      if ((f & EVERY) === 0) pulse();
      const v = vertices + edges + f;
      const n = faceStart[f + 1] - faceStart[f];
      let best = cornerVertex[faceStart[f]];
      role[v] = role[best];
      for (let c = faceStart[f]; c < faceStart[f + 1]; c++) {
        const w = cornerVertex[c];
        for (let k = 0; k < 4; k++) at[4 * v + k] += at[4 * w + k] / n;
        const later = laterRole(at[4 * best + 3], role[v], at[4 * w + 3], role[w]);
        if (Math.abs(at[4 * w + 3]) > Math.abs(at[4 * best + 3])) best = w;
        role[v] = later;
      }
    }
    level = refine(level);
  }
  return { at, role };
}

/** Keys of the last level, and what became of each edge and face on the way. */
export function refineKeys(
  mesh: Mesh,
  levels: number,
): { vertex: Float64Array; face: Float64Array; lineage: Map<number, number[]> } {
  const t = topologyOf(mesh);
  let level = cage(mesh, t);
  let vertex = mesh.vertexKey;
  let face = mesh.faceKey;
  // An edge may lie anew between vertices whose former edge was halved before: its middle is another than the one that
  // is there.
  const taken = new Set(mesh.vertexKey);
  // Follow only the cage's own edges and faces: their parts at the last level are what picks can mean.
  let edgeParts = Array.from({ length: t.edgeCount }, (_, e) => [e]);
  let faceParts = Array.from({ length: mesh.faceCount }, (_, f) => [f]);
  for (let i = 0; i < levels; i++) {
    const { vertices, faceStart, cornerVertex, edgeVertex } = level;
    const edges = edgeVertex.length / 2;
    const faces = faceStart.length - 1;
    const vk = new Float64Array(vertices + edges + faces);
    const fk = new Float64Array(cornerVertex.length);
    vk.set(vertex);
    for (let e = 0; e < edges; e++) {
      let key = key2(EDGE_POINT, edgeKey(vertex[edgeVertex[2 * e]], vertex[edgeVertex[2 * e + 1]]));
      while (taken.has(key)) key = key2(EDGE_POINT, key);
      vk[vertices + e] = key;
    }
    for (let f = 0; f < faces; f++) {
      if ((f & EVERY) === 0) pulse();
      vk[vertices + edges + f] = key2(FACE_POINT, face[f]);
      const seed = key2(CHILD, face[f]);
      for (let c = faceStart[f]; c < faceStart[f + 1]; c++) fk[c] = key2(seed, vertex[cornerVertex[c]]);
    }
    edgeParts = edgeParts.map((list) => list.flatMap((e) => [2 * e, 2 * e + 1]));
    faceParts = faceParts.map((list) =>
      list.flatMap((f) => Array.from({ length: faceStart[f + 1] - faceStart[f] }, (_, k) => faceStart[f] + k)),
    );
    level = refine(level);
    vertex = vk;
    face = fk;
  }
  const lineage = new Map<number, number[]>();
  const cageEdges = edgeKeys(mesh);
  edgeParts.forEach((list, e) =>
    lineage.set(
      cageEdges[e],
      list.map((x) => edgeKey(vertex[level.edgeVertex[2 * x]], vertex[level.edgeVertex[2 * x + 1]])),
    ),
  );
  faceParts.forEach((list, f) =>
    lineage.set(
      mesh.faceKey[f],
      list.map((x) => face[x]),
    ),
  );
  return { vertex, face, lineage };
}
