/**
 * Dissolve: edges, faces or vertices go and what lay round them becomes one face. Faces to be joined are found first,
 * then the outline of each such region is walked; a region with a hole in it, or that touches itself, cannot be one
 * polygon and is left as it is, and told.
 */
import { key2, key3, keyOf } from '../math/hash';
import { EVERY, pulse } from '../math/pulse';
import { UnionFind } from '../math/unionfind';
import { MeshDraft } from '../mesh/draft';
import type { Mesh } from '../mesh/mesh';
import { mask, type PickKind } from '../mesh/picks';
import { nextCorner, previousCorner, topologyOf } from '../mesh/topology';

const DISSOLVE = keyOf('dissolve');

type Tell = (text: string) => void;

/** `straight`: vertices that are left between two edges only go too. */
export function dissolve(
  mesh: Mesh,
  kind: PickKind,
  indices: ArrayLike<number>,
  straight: boolean,
  id: number,
  tell?: Tell,
): Mesh {
  const t = topologyOf(mesh);
  const joined = new UnionFind(mesh.faceCount);
  const picked = new Uint8Array(mesh.faceCount);
  const gone = new Uint8Array(mesh.vertexCount);
  const joinOver = (e: number): boolean => {
    const s = t.edgeCornerStart[e];
    if (t.edgeCornerStart[e + 1] - s !== 2) return false;
    const [c, o] = [t.edgeCorner[s], t.edgeCorner[s + 1]];
    // Faces that go along the edge the same way have no common outside.
    if (mesh.cornerVertex[c] === mesh.cornerVertex[o]) return false;
    joined.join(t.cornerFace[c], t.cornerFace[o]);
    picked[t.cornerFace[c]] = picked[t.cornerFace[o]] = 1;
    return true;
  };
  let held = 0;
  if (kind === 'edge') for (let i = 0; i < indices.length; i++) if (!joinOver(indices[i])) held++;
  if (kind === 'face') {
    const inside = mask(mesh.faceCount, indices);
    for (let e = 0; e < t.edgeCount; e++) {
      const s = t.edgeCornerStart[e];
      if (t.edgeCornerStart[e + 1] - s !== 2) continue;
      if (inside[t.cornerFace[t.edgeCorner[s]]] && inside[t.cornerFace[t.edgeCorner[s + 1]]]) joinOver(e);
    }
  }
  if (kind === 'vertex')
    for (let i = 0; i < indices.length; i++) {
      const v = indices[i];
      gone[v] = 1;
      for (let q = t.vertexCornerStart[v]; q < t.vertexCornerStart[v + 1]; q++)
        joinOver(t.cornerEdge[t.vertexCorner[q]]);
      for (let q = t.vertexCornerStart[v]; q < t.vertexCornerStart[v + 1]; q++)
        picked[t.cornerFace[t.vertexCorner[q]]] = 1;
    }
  if (held > 0)
    tell?.(
      `${held} of ${indices.length} edges stay: they have no face on one side, or more than two, or faces that ` +
        'look opposite ways.',
    );
  return joinRegions(mesh, picked, joined, gone, straight, id, tell);
}

function joinRegions(
  mesh: Mesh,
  picked: Uint8Array,
  joined: UnionFind,
  gone: Uint8Array,
  straight: boolean,
  id: number,
  tell?: Tell,
): Mesh {
  const t = topologyOf(mesh);
  const { cornerVertex: cv, faceStart } = mesh;
  const regions = new Map<number, number[]>();
  for (let f = 0; f < mesh.faceCount; f++) {
    if (!picked[f]) continue;
    const root = joined.find(f);
    const list = regions.get(root);
    if (list) list.push(f);
    else regions.set(root, [f]);
  }
  const inner = (c: number): boolean => {
    const e = t.cornerEdge[c];
    const s = t.edgeCornerStart[e];
    if (t.edgeCornerStart[e + 1] - s !== 2) return false;
    const o = t.edgeCorner[s] === c ? t.edgeCorner[s + 1] : t.edgeCorner[s];
    const [f, g] = [t.cornerFace[c], t.cornerFace[o]];
    return f !== g && picked[g] === 1 && cv[c] !== cv[o] && joined.find(f) === joined.find(g);
  };
  const rings = new Map<number, number[]>();
  let left = 0;
  for (const [root, faces] of regions) {
    if (faces.length === 1) {
      const f = faces[0];
      rings.set(
        root,
        Array.from({ length: faceStart[f + 1] - faceStart[f] }, (_, k) => faceStart[f] + k),
      );
      continue;
    }
    const ring = outline(mesh, faces, inner);
    if (ring) rings.set(root, ring);
    else left++;
  }
  // A vertex may go where every face that holds it is one of those, and is still a polygon without it.
  const uses = new Map<number, number[]>();
  for (const [root, ring] of rings) for (const c of ring) uses.set(cv[c], [...(uses.get(cv[c]) ?? []), root]);
  const size = new Map([...rings].map(([root, ring]) => [root, ring.length]));
  const drop = new Uint8Array(mesh.vertexCount);
  const kept: number[] = [];
  for (const v of [...uses.keys()].sort((a, b) => a - b)) {
    const at = uses.get(v)!;
    if (!gone[v] && !(straight && at.length === 2 && isLoneMiddle(mesh, v, rings, at))) continue;
    const here = new Set(at.map((root) => root));
    let all = true;
    for (let q = t.vertexCornerStart[v]; q < t.vertexCornerStart[v + 1] && all; q++) {
      const f = t.cornerFace[t.vertexCorner[q]];
      all = picked[f] === 1 && rings.has(joined.find(f));
    }
    if (!all || [...here].some((root) => size.get(root)! <= 3)) {
      if (gone[v]) kept.push(v);
      continue;
    }
    for (const root of here) size.set(root, size.get(root)! - 1);
    drop[v] = 1;
  }
  for (const v of keepApart(mesh, rings, drop, inner)) if (gone[v]) kept.push(v);
  const draft = new MeshDraft(mesh);
  const seed = key2(id, DISSOLVE);
  let i = 0;
  for (const [root, ring] of rings) {
    if ((i++ & EVERY) === 0) pulse();
    const faces = regions.get(root)!;
    const corners = ring.filter((c) => !drop[cv[c]]);
    if (faces.length === 1 && corners.length === ring.length) continue;
    const first = faces.reduce((a, b) => (mesh.faceKey[b] < mesh.faceKey[a] ? b : a));
    // What a face alone loses is a corner: it is the same face.
    const key = faces.length === 1 ? mesh.faceKey[first] : key3(seed, mesh.faceKey[first], faces.length);
    draft.begin(key, first);
    for (const c of corners) draft.at(cv[c], c);
    draft.end();
    for (const f of faces) {
      if (faces.length > 1) draft.split(mesh.faceKey[f], [key]);
      draft.drop(f);
    }
  }
  if (left > 0)
    tell?.(
      `${left === 1 ? 'One region stays' : `${left} regions stay`} as it is: one face cannot have a hole, or ` +
        'touch itself.',
    );
  if (kept.length > 0)
    tell?.(
      `${kept.length} of the vertices stay: without them a face would have a hole or fewer than three corners, ` +
        'or more than two would meet on an edge.',
    );
  return draft.finish();
}

/**
 * An edge that would close the gap of vertices left out may be there already, or be made by another outline: four faces
 * would meet on it. Such vertices stay, and are given back.
 */
function keepApart(
  mesh: Mesh,
  rings: ReadonlyMap<number, number[]>,
  drop: Uint8Array,
  inner: (c: number) => boolean,
): number[] {
  const { cornerVertex: cv } = mesh;
  const t = topologyOf(mesh);
  const stands = (a: number, b: number): boolean => {
    for (let q = t.vertexCornerStart[a]; q < t.vertexCornerStart[a + 1]; q++) {
      const c = t.vertexCorner[q];
      const f = t.cornerFace[c];
      const before = previousCorner(mesh, f, c);
      if (cv[nextCorner(mesh, f, c)] === b && !inner(c)) return true;
      if (cv[before] === b && !inner(before)) return true;
    }
    return false;
  };
  const back: number[] = [];
  for (let again = true; again;) {
    again = false;
    const uses = new Map<number, number>();
    for (const ring of rings.values()) {
      const stay = ring.flatMap((c, i) => (drop[cv[c]] ? [] : [i]));
      stay.forEach((i, k) => {
        const n = ring.length;
        const next = stay[(k + 1) % stay.length];
        if ((i + 1) % n === next) return;
        const [a, b] = [cv[ring[i]], cv[ring[next]]];
        const name = Math.min(a, b) * mesh.vertexCount + Math.max(a, b);
        uses.set(name, (uses.get(name) ?? 0) + 1);
        if (uses.get(name)! <= 2 && !stands(a, b)) return;
        for (let j = (i + 1) % n; j !== next; j = (j + 1) % n) {
          const v = cv[ring[j]];
          if (!drop[v]) continue;
          drop[v] = 0;
          back.push(v);
        }
        again = true;
      });
    }
  }
  return back;
}

/** Whether a vertex lies between two edges only, both of the same two outlines. */
function isLoneMiddle(mesh: Mesh, v: number, rings: ReadonlyMap<number, number[]>, at: readonly number[]): boolean {
  if (at[0] === at[1]) return false;
  const besides = at.map((root) => {
    const ring = rings.get(root)!;
    const i = ring.findIndex((c) => mesh.cornerVertex[c] === v);
    const n = ring.length;
    return [mesh.cornerVertex[ring[(i + 1) % n]], mesh.cornerVertex[ring[(i + n - 1) % n]]];
  });
  return besides[0][0] === besides[1][1] && besides[0][1] === besides[1][0];
}

/**
 * The one outline of faces joined over inner edges, as corners in order; undefined where there are several or it passes
 * a vertex twice.
 */
function outline(mesh: Mesh, faces: readonly number[], inner: (c: number) => boolean): number[] | undefined {
  const { cornerVertex: cv, faceStart } = mesh;
  const from = new Map<number, number>();
  let count = 0;
  for (const f of faces)
    for (let c = faceStart[f]; c < faceStart[f + 1]; c++) {
      if (inner(c)) continue;
      if (from.has(cv[c])) return undefined;
      from.set(cv[c], c);
      count++;
    }
  if (count < 3) return undefined;
  const t = topologyOf(mesh);
  const first = from.values().next().value!;
  const out: number[] = [];
  for (let c = first; ;) {
    out.push(c);
    const next = from.get(cv[nextCorner(mesh, t.cornerFace[c], c)]);
    if (next === undefined || out.length > count) return undefined;
    if (next === first) break;
    c = next;
  }
  return out.length === count ? out : undefined;
}
