/**
 * Extrude edges: each picked edge draws a face out, joined to those of its neighbours. On open borders the sheet goes
 * on; elsewhere a fin stands up.
 */
import { key2, key3, keyOf } from '../math/hash';
import { EVERY, pulse } from '../math/pulse';
import { cross, minus, unit, at, type Vector } from '../math/vector';
import { MeshDraft } from '../mesh/draft';
import type { Mesh } from '../mesh/mesh';
import { faceNormal } from '../mesh/normals';
import { verticesOf } from '../mesh/picks';
import { nextCorner, topologyOf } from '../mesh/topology';

const EDGE = keyOf('extrude edge');

export interface EdgeExtrude {
  /** Metres. */
  by: number;
  /** `on`: on in the plane of the face beside it; `up`: along that face's normal; or an axis. */
  along: 'on' | 'up' | 'x' | 'y' | 'z';
}

export function extrudeEdges(mesh: Mesh, edges: ArrayLike<number>, o: EdgeExtrude, id: number): Mesh {
  const t = topologyOf(mesh);
  const { positions: p, cornerVertex: cv, vertexKey: vk } = mesh;
  const draft = new MeshDraft(mesh);
  const seed = key2(id, EDGE);
  const ways = new Map<number, Vector[]>();
  const add = (v: number, d: Vector) => ways.set(v, [...(ways.get(v) ?? []), d]);
  const n = new Float32Array(3);
  for (let i = 0; i < edges.length; i++) {
    if ((i & EVERY) === 0) pulse();
    const e = edges[i];
    const [a, b] = [t.edgeVertex[2 * e], t.edgeVertex[2 * e + 1]];
    let way: Vector = [0, 0, 0];
    for (let q = t.edgeCornerStart[e]; q < t.edgeCornerStart[e + 1]; q++) {
      const c = t.edgeCorner[q];
      const f = t.cornerFace[c];
      faceNormal(mesh, f, n, 0);
      const side = unit(minus(at(p, cv[nextCorner(mesh, f, c)]), at(p, cv[c])));
      const d = o.along === 'on' ? cross(side, [n[0], n[1], n[2]]) : ([n[0], n[1], n[2]] as Vector);
      way = [way[0] + d[0], way[1] + d[1], way[2] + d[2]];
    }
    if (o.along === 'x') way = [1, 0, 0];
    if (o.along === 'y') way = [0, 1, 0];
    if (o.along === 'z') way = [0, 0, 1];
    way = unit(way);
    add(a, way);
    add(b, way);
  }
  const to = new Map<number, number>();
  for (const v of verticesOf(mesh, 'edge', edges)) {
    const list = ways.get(v)!;
    let sum: Vector = [0, 0, 0];
    for (const d of list) sum = [sum[0] + d[0], sum[1] + d[1], sum[2] + d[2]];
    const way = unit(sum);
    // As far out as its edges go: farther at a corner, at most 4 times.
    let share = 0;
    for (const d of list) share += (d[0] * way[0] + d[1] * way[1] + d[2] * way[2]) / list.length;
    const by = o.by * (share > 0.25 ? 1 / share : 4 * Math.sign(share));
    const w = draft.vertex(
      key2(seed, vk[v]),
      p[3 * v] + way[0] * by,
      p[3 * v + 1] + way[1] * by,
      p[3 * v + 2] + way[2] * by,
      v,
    );
    draft.lift(w, id);
    to.set(v, w);
  }
  for (let i = 0; i < edges.length; i++) {
    const e = edges[i];
    const c = t.edgeCorner[t.edgeCornerStart[e]];
    const f = t.cornerFace[c];
    const d = nextCorner(mesh, f, c);
    const [a, b] = [cv[c], cv[d]];
    const [low, high] = vk[a] < vk[b] ? [vk[a], vk[b]] : [vk[b], vk[a]];
    draft.begin(key3(seed, low, high), f);
    draft.at(b, d);
    draft.at(a, c);
    draft.at(to.get(a)!, c);
    draft.at(to.get(b)!, d);
    draft.end();
  }
  return draft.finish();
}
