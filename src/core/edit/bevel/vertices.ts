/** Bevel of vertices: each is cut off, with a vertex on every edge that met there and a face between them. */
import { edgeKey, key2, key3, keyOf } from '../../math/hash';
import { at, between, apart, mean, type Vector } from '../../math/vector';
import { MeshDraft } from '../../mesh/draft';
import type { Mesh } from '../../mesh/mesh';
import { edgeKeys, mask } from '../../mesh/picks';
import { nextCorner, previousCorner, topologyOf } from '../../mesh/topology';
import { edgeIn, edgeOut, fanOf, type Fan } from './fans';

const OFF = keyOf('bevel vertex');

/**
 * `width` in metres along each edge; never beyond the middle of an edge whose other end is cut off too. `round`: bulges
 * out, 0 to 1.
 */
export function bevelVertices(
  mesh: Mesh,
  vertices: ArrayLike<number>,
  width: number,
  round: number,
  id: number,
  tell?: (text: string) => void,
): Mesh {
  if (!(width > 0)) throw new Error('A bevel needs a width over 0.');
  const t = topologyOf(mesh);
  const { positions: p, cornerVertex: cv, vertexKey: vk } = mesh;
  const keys = edgeKeys(mesh);
  const picked = mask(mesh.vertexCount, vertices);
  const draft = new MeshDraft(mesh);
  const seed = key2(id, OFF);
  const made = new Map<number, number>();
  const chains = new Map<number, number[]>();
  const places: Vector[] = [];
  let narrow = false;
  /** The vertex on an edge, near one of its ends. */
  const on = (e: number, v: number): number => {
    const slot = 2 * e + (t.edgeVertex[2 * e] === v ? 0 : 1);
    const had = made.get(slot);
    if (had !== undefined) return had;
    const w = t.edgeVertex[2 * e] === v ? t.edgeVertex[2 * e + 1] : t.edgeVertex[2 * e];
    const l = apart(at(p, v), at(p, w));
    const most = picked[w] ? 0.499 : 0.999;
    const u = l > 0 ? Math.min(most, width / l) : most;
    if (l > 0 && width / l > most) narrow = true;
    const place = between(at(p, v), at(p, w), u);
    const key = key3(seed, vk[v], keys[e]);
    places.push(place);
    const x = draft.vertex(key, place[0], place[1], place[2], v, w, u);
    made.set(slot, x);
    const ends = chains.get(e) ?? [vk[t.edgeVertex[2 * e]], vk[t.edgeVertex[2 * e + 1]]];
    ends[t.edgeVertex[2 * e] === v ? 0 : 1] = key;
    chains.set(e, ends);
    return x;
  };
  const fans: Fan[] = [];
  const faces = new Set<number>();
  for (let i = 0; i < vertices.length; i++) {
    const done = new Set<number>();
    for (let q = t.vertexCornerStart[vertices[i]]; q < t.vertexCornerStart[vertices[i] + 1]; q++) {
      const c = t.vertexCorner[q];
      faces.add(t.cornerFace[c]);
      if (done.has(c)) continue;
      const fan = fanOf(mesh, c);
      fan.corners.forEach((x) => done.add(x));
      fans.push(fan);
    }
  }
  for (const f of faces) {
    draft.begin(mesh.faceKey[f], f);
    for (let c = mesh.faceStart[f]; c < mesh.faceStart[f + 1]; c++) {
      const v = cv[c];
      if (!picked[v]) {
        draft.at(v, c);
        continue;
      }
      const [n, b] = [nextCorner(mesh, f, c), previousCorner(mesh, f, c)];
      const share = (d: number) => {
        const l = apart(at(p, v), at(p, cv[d]));
        return l > 0 ? Math.min(picked[cv[d]] ? 0.499 : 0.999, width / l) : 0;
      };
      draft.at(on(edgeIn(mesh, c), v), c, b, share(b));
      draft.at(on(edgeOut(mesh, c), v), c, n, share(n));
    }
    draft.end();
    draft.drop(f);
  }
  for (const { vertex, corners, closed } of fans) {
    const last = corners[corners.length - 1];
    const ring = corners.map((c) => on(edgeOut(mesh, c), vertex));
    // Where more than two faces meet in an edge, a fan may begin and end on it: then it closes of itself.
    const ends = closed ? ring[0] : on(edgeIn(mesh, last), vertex);
    const from = [...corners];
    if (ends !== ring[0]) {
      ring.push(ends);
      from.push(last);
    }
    if (ring.length < 3) continue;
    const face = t.cornerFace[corners[0]];
    const name = key3(seed, vk[vertex], mesh.faceKey[face]);
    if (!(round > 0)) {
      draft.begin(name, face);
      ring.forEach((v, i) => draft.at(v, from[i]));
      draft.end();
      continue;
    }
    const top = between(mean(ring.map((v) => places[v - mesh.vertexCount])), at(p, vertex), round);
    const middle = draft.vertex(key2(name, 1), top[0], top[1], top[2], vertex);
    for (let i = 0; i < ring.length - (closed ? 0 : 1); i++) {
      const j = (i + 1) % ring.length;
      draft.begin(key3(name, 2, i), face);
      draft.at(ring[i], from[i]);
      draft.at(ring[j], from[j]);
      draft.at(middle, from[i]);
      draft.end();
    }
  }
  for (const [e, [a, b]] of chains) draft.split(keys[e], [edgeKey(a, b)]);
  if (narrow) tell?.('Some edges are too short for that: their vertices were set as far along as there is room.');
  return draft.finish();
}
