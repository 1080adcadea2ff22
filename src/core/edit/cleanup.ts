/**
 * Cleaning up what came from elsewhere: borders that nearly touch are joined, faces without area, doubled and inner
 * faces go, corners on open edges are taken in, small holes closed, loose vertices removed. Each is a pass of its own,
 * in the order in which one makes work for the next.
 */
import { key2, keyOf } from '../math/hash';
import { EVERY, pulse } from '../math/pulse';
import { flatFaces } from '../check/places';
import { keepVertices, MeshDraft } from '../mesh/draft';
import { doubledFaces } from '../mesh/measure';
import type { Mesh } from '../mesh/mesh';
import { mask } from '../mesh/picks';
import { nextCorner, topologyOf } from '../mesh/topology';
import { cap, openBorders } from './cap';
import { teesOf } from './tees';
import { weld } from './weld';

export interface CleanUp {
  /** Metres: what is nearer to one another counts as touching. */
  distance: number;
  borders: boolean;
  flat: boolean;
  doubled: boolean;
  inner: boolean;
  tees: boolean;
  /** Holes of so many edges and fewer are closed; 0 for none. */
  holes: number;
  loose: boolean;
}

const HOLE = keyOf('clean hole');

export function cleanUp(mesh: Mesh, o: CleanUp, id: number, tell?: (text: string) => void): Mesh {
  let now = mesh;
  const done: string[] = [];
  const after = (what: string, next: Mesh, count: number) => {
    if (count > 0) done.push(`${count} ${what}`);
    now = next;
  };
  if (o.borders) {
    const joined = weld(now, o.distance, borderVertices(now));
    after('vertices joined on borders', joined, now.vertexCount - joined.vertexCount);
  }
  if (o.flat) {
    const { mesh: next, count } = withoutFlat(now);
    after('faces without area', next, count);
  }
  if (o.doubled) {
    const found = doubledFaces(now);
    after('doubled faces', without(now, found), found.length);
  }
  if (o.inner) {
    const found = innerFaces(now);
    after('inner faces', without(now, found), found.length);
  }
  if (o.tees) {
    const { mesh: next, count } = takeIn(now, o.distance);
    after('corners on edges', next, count);
  }
  if (o.holes > 0) {
    const holes = openBorders(now, openEdges(now)).filter((ring) => ring.length <= o.holes);
    if (holes.length > 0) {
      const t = topologyOf(now);
      const edges = holes.map((ring) => t.cornerEdge[ring[0]]);
      after('holes closed', cap(now, 'edge', edges, 'face', 0, key2(id, HOLE)), holes.length);
    }
  }
  if (o.loose) {
    const used = mask(now.vertexCount, now.cornerVertex);
    const next = keepVertices(now, used);
    after('loose vertices', next, now.vertexCount - next.vertexCount);
  }
  if (done.length > 0) tell?.(`Put right: ${done.join(', ')}.`);
  return now;
}

function openEdges(mesh: Mesh): number[] {
  const t = topologyOf(mesh);
  const out: number[] = [];
  for (let e = 0; e < t.edgeCount; e++) if (t.edgeCornerStart[e + 1] - t.edgeCornerStart[e] === 1) out.push(e);
  return out;
}

function borderVertices(mesh: Mesh): number[] {
  const t = topologyOf(mesh);
  const on = new Uint8Array(mesh.vertexCount);
  for (const e of openEdges(mesh)) on[t.edgeVertex[2 * e]] = on[t.edgeVertex[2 * e + 1]] = 1;
  const out: number[] = [];
  for (let v = 0; v < on.length; v++) if (on[v]) out.push(v);
  return out;
}

function without(mesh: Mesh, faces: readonly number[]): Mesh {
  if (faces.length === 0) return mesh;
  const draft = new MeshDraft(mesh);
  for (const f of faces) draft.drop(f);
  return draft.finish();
}

/** Faces all of whose edges hold two others: they part what is one inside. */
export function innerFaces(mesh: Mesh): number[] {
  const t = topologyOf(mesh);
  const out: number[] = [];
  for (let f = 0; f < mesh.faceCount; f++) {
    let all = true;
    for (let c = mesh.faceStart[f]; c < mesh.faceStart[f + 1] && all; c++) {
      const e = t.cornerEdge[c];
      all = t.edgeCornerStart[e + 1] - t.edgeCornerStart[e] > 2;
    }
    if (all) out.push(f);
  }
  return out;
}

/**
 * Faces without area go. One that is all in a line hands its corners to the face over its longest edge, so what was
 * closed stays closed; one of which nothing is over that edge just goes. Corners that are one place are joined before.
 */
function withoutFlat(mesh: Mesh): { mesh: Mesh; count: number } {
  let now = mesh;
  let count = 0;
  // What takes corners in may be without area itself: a few rounds, each of faces that do not touch.
  for (let round = 0; round < 8; round++) {
    const flat = flatFaces(now);
    if (flat.length === 0) break;
    const next = handOver(joinedCorners(now, flat));
    if (next.count === 0) break;
    count += next.count;
    now = next.mesh;
  }
  return { mesh: now, count };
}

/** Corners of flat faces that are one place become one vertex. */
function joinedCorners(mesh: Mesh, flat: readonly number[]): Mesh {
  const on = new Set<number>();
  for (const f of flat) for (let c = mesh.faceStart[f]; c < mesh.faceStart[f + 1]; c++) on.add(mesh.cornerVertex[c]);
  return weld(
    mesh,
    0,
    [...on].sort((a, b) => a - b),
  );
}

function handOver(mesh: Mesh): { mesh: Mesh; count: number } {
  const t = topologyOf(mesh);
  const { positions: p, cornerVertex: cv, faceStart } = mesh;
  const flat = flatFaces(mesh);
  const draft = new MeshDraft(mesh);
  const touched = new Uint8Array(mesh.faceCount);
  let count = 0;
  for (const f of flat) {
    if (touched[f]) continue;
    let longest = faceStart[f];
    let most = -1;
    for (let c = faceStart[f]; c < faceStart[f + 1]; c++) {
      const [a, b] = [3 * cv[c], 3 * cv[nextCorner(mesh, f, c)]];
      const d = Math.hypot(p[a] - p[b], p[a + 1] - p[b + 1], p[a + 2] - p[b + 2]);
      if (d > most + 1e-12) {
        most = d;
        longest = c;
      }
    }
    const e = t.cornerEdge[longest];
    const s = t.edgeCornerStart[e];
    const alone = t.edgeCornerStart[e + 1] - s !== 2;
    const over = t.edgeCorner[s] === longest ? t.edgeCorner[s + 1] : t.edgeCorner[s];
    const g = t.cornerFace[over];
    if (alone || g === f || cv[over] === cv[longest]) {
      draft.drop(f);
      touched[f] = 1;
      count++;
      continue;
    }
    if (touched[g]) continue;
    const ring: number[] = [];
    for (let c = nextCorner(mesh, f, nextCorner(mesh, f, longest)); c !== longest; c = nextCorner(mesh, f, c))
      ring.push(c);
    const held = new Set(Array.from(cv.subarray(faceStart[g], faceStart[g + 1])));
    if (ring.some((c) => held.has(cv[c]))) {
      // The two close on one another: both go where that is all of it.
      if (faceStart[g + 1] - faceStart[g] === faceStart[f + 1] - faceStart[f] && ring.every((c) => held.has(cv[c]))) {
        draft.drop(f);
        draft.drop(g);
        touched[f] = touched[g] = 1;
        count++;
      }
      continue;
    }
    draft.drop(f);
    draft.drop(g);
    touched[f] = touched[g] = 1;
    count++;
    draft.begin(mesh.faceKey[g], g);
    for (let c = faceStart[g]; c < faceStart[g + 1]; c++) {
      draft.at(cv[c], c);
      if (c === over) for (const d of ring) draft.at(cv[d], c, nextCorner(mesh, g, c), 0.5);
    }
    draft.end();
  }
  return { mesh: count > 0 ? draft.finish() : mesh, count };
}

/** Corners on open edges are taken into the outline of the face there. */
function takeIn(mesh: Mesh, distance: number): { mesh: Mesh; count: number } {
  const found = teesOf(mesh, distance);
  if (found.length === 0) return { mesh, count: 0 };
  const t = topologyOf(mesh);
  const { cornerVertex: cv, faceStart } = mesh;
  const byFace = new Map<number, Map<number, { vertex: number; t: number }[]>>();
  for (const { vertex, edge, t: share } of found) {
    const c = t.edgeCorner[t.edgeCornerStart[edge]];
    const f = t.cornerFace[c];
    const corners = byFace.get(f) ?? new Map<number, { vertex: number; t: number }[]>();
    byFace.set(f, corners);
    const forward = cv[c] === t.edgeVertex[2 * edge];
    const list = corners.get(c) ?? [];
    list.push({ vertex, t: forward ? share : 1 - share });
    corners.set(c, list);
  }
  const draft = new MeshDraft(mesh);
  let count = 0;
  let i = 0;
  for (const [f, corners] of byFace) {
    if ((i++ & EVERY) === 0) pulse();
    const held = new Set(Array.from(cv.subarray(faceStart[f], faceStart[f + 1])));
    let some = false;
    const add = (c: number) =>
      (corners.get(c) ?? [])
        .sort((a, b) => a.t - b.t)
        .filter((x) => {
          if (held.has(x.vertex)) return false;
          held.add(x.vertex);
          return true;
        });
    const rings: [number, { vertex: number; t: number }[]][] = [];
    for (let c = faceStart[f]; c < faceStart[f + 1]; c++) {
      const own = add(c);
      some ||= own.length > 0;
      count += own.length;
      rings.push([c, own]);
    }
    if (!some) continue;
    draft.drop(f);
    draft.begin(mesh.faceKey[f], f);
    for (const [c, own] of rings) {
      draft.at(cv[c], c);
      for (const x of own) draft.at(x.vertex, c, nextCorner(mesh, f, c), x.t);
    }
    draft.end();
  }
  return { mesh: count > 0 ? draft.finish() : mesh, count };
}
