/**
 * Drawn faces: an outline of places becomes a face. Places on vertices take those; others make new ones. Of new edges
 * it follows its neighbours.
 */
import type { Triple } from '../math/affine';
import { key2, keyOf } from '../math/hash';
import { cross, dot, minus, type Vector } from '../math/vector';
import { MeshDraft } from '../mesh/draft';
import type { Mesh } from '../mesh/mesh';
import { findPlaces, type SurfacePlace } from '../mesh/surfaceplace';
import { nextCorner, topologyOf } from '../mesh/topology';

const DRAW = keyOf('draw');

/** `towards`: the way the face is to look where nothing beside it says so. */
export function drawFace(
  mesh: Mesh,
  places: readonly SurfacePlace[],
  towards: Triple,
  id: number,
  tell?: (text: string) => void,
): Mesh {
  const found = findPlaces(mesh, places);
  const draft = new MeshDraft(mesh);
  const seed = key2(id, DRAW);
  const ring: number[] = [];
  const at: Vector[] = [];
  let lost = 0;
  places.forEach((place, i) => {
    const now = found[i];
    if (!now) lost++;
    // What is gone is where it was.
    const p = now?.at ?? ([place.at[0], place.at[1], place.at[2]] as Vector);
    const v = now?.on === 'vertex' ? now.index : draft.vertex(key2(seed, i), p[0], p[1], p[2]);
    if (ring.includes(v)) return;
    ring.push(v);
    at.push(p);
  });
  if (lost > 0) tell?.(`${lost} of ${places.length} corners lost what they lay on, and stay where that was.`);
  if (ring.length < 3) throw new Error('A face needs three corners at least, in three places.');
  if (looksAway(mesh, ring, at, towards)) ring.reverse();
  draft.begin(key2(seed, 1_000_003), -1);
  for (const v of ring) {
    const t = topologyOf(mesh);
    const has = v < mesh.vertexCount && t.vertexCornerStart[v] < t.vertexCornerStart[v + 1];
    draft.at(v, has ? t.vertexCorner[t.vertexCornerStart[v]] : -1);
  }
  draft.end();
  return draft.finish();
}

/** Whether an outline runs the wrong way: along edges as faces beside it do; without such, away from `towards`. */
function looksAway(mesh: Mesh, ring: readonly number[], at: readonly Vector[], towards: Triple): boolean {
  const t = topologyOf(mesh);
  let same = 0;
  let opposite = 0;
  ring.forEach((v, i) => {
    const w = ring[(i + 1) % ring.length];
    if (v >= mesh.vertexCount || w >= mesh.vertexCount) return;
    for (let k = t.vertexCornerStart[v]; k < t.vertexCornerStart[v + 1]; k++) {
      const c = t.vertexCorner[k];
      const f = t.cornerFace[c];
      if (mesh.cornerVertex[nextCorner(mesh, f, c)] === w) same++;
    }
    for (let k = t.vertexCornerStart[w]; k < t.vertexCornerStart[w + 1]; k++) {
      const c = t.vertexCorner[k];
      const f = t.cornerFace[c];
      if (mesh.cornerVertex[nextCorner(mesh, f, c)] === v) opposite++;
    }
  });
  if (same !== opposite) return same > opposite;
  const n: Vector = [0, 0, 0];
  for (let i = 1; i + 1 < at.length; i++) {
    const c = cross(minus(at[i], at[0]), minus(at[i + 1], at[0]));
    for (let k = 0; k < 3; k++) n[k] += c[k];
  }
  return dot(n, towards) < 0;
}
