/** Edges divided, corners of a face joined across it, inner edges spun. */
import { edgeKey, key2, key3, keyOf } from '../math/hash';
import { share } from '../make/naming';
import { EVERY, pulse } from '../math/pulse';
import { MeshDraft } from '../mesh/draft';
import type { Mesh } from '../mesh/mesh';
import { edgeKeys, mask } from '../mesh/picks';
import { nextCorner, topologyOf } from '../mesh/topology';

const DIVIDE = keyOf('divide');
const CONNECT = keyOf('connect');
const SPIN = keyOf('spin');

type Tell = (text: string) => void;

/** Each edge gets `parts` − 1 vertices at equal distances; every face beside it takes them into its outline. */
export function divideEdges(mesh: Mesh, edges: ArrayLike<number>, parts: number, id: number): Mesh {
  const t = topologyOf(mesh);
  const { positions: p, cornerVertex: cv, vertexKey: vk } = mesh;
  const keys = edgeKeys(mesh);
  const draft = new MeshDraft(mesh);
  const seed = key2(id, DIVIDE);
  const on = new Map<number, number[]>();
  const faces = new Set<number>();
  for (let i = 0; i < edges.length; i++) {
    if ((i & EVERY) === 0) pulse();
    const e = edges[i];
    // From the end with the lower key, whichever way the edge is numbered.
    const [x, y] = [t.edgeVertex[2 * e], t.edgeVertex[2 * e + 1]];
    const [a, b] = vk[x] < vk[y] ? [x, y] : [y, x];
    const chain = [vk[a]];
    const made: number[] = [];
    for (let k = 1; k < parts; k++) {
      const u = k / parts;
      const key = key3(seed, keys[e], share(k, parts));
      const at = [0, 1, 2].map((q) => p[3 * a + q] + (p[3 * b + q] - p[3 * a + q]) * u);
      made.push(draft.vertex(key, at[0], at[1], at[2], a, b, u));
      chain.push(key);
    }
    chain.push(vk[b]);
    draft.split(
      keys[e],
      chain.slice(1).map((k, q) => edgeKey(chain[q], k)),
    );
    on.set(e, made);
    for (let q = t.edgeCornerStart[e]; q < t.edgeCornerStart[e + 1]; q++) faces.add(t.cornerFace[t.edgeCorner[q]]);
  }
  for (const f of faces) {
    draft.begin(mesh.faceKey[f], f);
    for (let c = mesh.faceStart[f]; c < mesh.faceStart[f + 1]; c++) {
      const n = nextCorner(mesh, f, c);
      draft.at(cv[c], c);
      const made = on.get(t.cornerEdge[c]);
      if (!made) continue;
      const forward = vk[cv[c]] < vk[cv[n]];
      for (let k = 0; k < made.length; k++) draft.at(made[forward ? k : made.length - 1 - k], c, n, (k + 1) / parts);
    }
    draft.end();
    draft.drop(f);
  }
  return draft.finish();
}

/**
 * Picked vertices of one face are joined across it, each with the next round its outline; two make one edge, more cut
 * their corners off. What lies side by side already is joined. A cut that would run outside a face that turns in is
 * left out, and told.
 */
export function connect(mesh: Mesh, vertices: ArrayLike<number>, id: number, tell?: Tell): Mesh {
  const t = topologyOf(mesh);
  const { cornerVertex: cv, faceStart, faceKey, vertexKey: vk } = mesh;
  const picked = mask(mesh.vertexCount, vertices);
  const faces = new Set<number>();
  for (let i = 0; i < vertices.length; i++)
    for (let q = t.vertexCornerStart[vertices[i]]; q < t.vertexCornerStart[vertices[i] + 1]; q++)
      faces.add(t.cornerFace[t.vertexCorner[q]]);
  const draft = new MeshDraft(mesh);
  const seed = key2(id, CONNECT);
  let cut = 0;
  let outside = 0;
  for (const f of [...faces].sort((a, b) => a - b)) {
    const s = faceStart[f];
    const n = faceStart[f + 1] - s;
    const at: number[] = [];
    for (let k = 0; k < n; k++) if (picked[cv[s + k]]) at.push(k);
    if (at.length < 2) continue;
    const chords: [number, number][] = [];
    for (let k = 0; k < at.length; k++) {
      const a = at[k];
      const b = at[(k + 1) % at.length];
      const gap = (b - a + n) % n;
      if (gap < 2 || gap > n - 2) continue;
      if (at.length === 2 && k === 1) continue;
      if (runsInside(mesh, f, a, b)) chords.push([a, b]);
      else outside++;
    }
    if (chords.length === 0) continue;
    cut += chords.length;
    const rings: number[][] = [];
    let rest = Array.from({ length: n }, (_, k) => k);
    for (const [a, b] of chords) {
      const i = rest.indexOf(a);
      const turned = [...rest.slice(i), ...rest.slice(0, i)];
      const j = turned.indexOf(b);
      rings.push(turned.slice(0, j + 1));
      rest = [turned[0], ...turned.slice(j)];
    }
    if (rest.length > 2) rings.push(rest);
    const parts: number[] = [];
    for (const ring of rings) {
      const low = ring.reduce((m, k) => Math.min(m, vk[cv[s + k]]), Infinity);
      const high = ring.reduce((m, k) => Math.max(m, vk[cv[s + k]]), 0);
      let key = key3(key2(seed, faceKey[f]), low, high);
      for (let again = 0; parts.includes(key); again++) key = key2(key, again);
      parts.push(key);
      draft.begin(key, f);
      for (const k of ring) draft.at(cv[s + k], s + k);
      draft.end();
    }
    draft.split(faceKey[f], parts);
    draft.drop(f);
  }
  if (outside > 0)
    tell?.(`${outside === 1 ? 'One cut would run' : `${outside} cuts would run`} outside the face, and was left out.`);
  if (cut === 0 && outside === 0)
    throw new Error('Pick vertices that lie on one face, but not side by side, to join them across it.');
  return draft.finish();
}

/**
 * Whether the straight way between two corners of a face lies within it: in its own plane, crossing no side, and inside
 * at its middle.
 */
function runsInside(mesh: Mesh, f: number, i: number, j: number): boolean {
  const { positions: p, cornerVertex: cv, faceStart } = mesh;
  const s = faceStart[f];
  const n = faceStart[f + 1] - s;
  if (n === 3) return false;
  const flat = flatten(
    p,
    Array.from({ length: n }, (_, k) => cv[s + k]),
  );
  const [a, b] = [flat[i], flat[j]];
  const turn = (u: number[], v: number[], w: number[]) => (v[0] - u[0]) * (w[1] - u[1]) - (v[1] - u[1]) * (w[0] - u[0]);
  for (let k = 0; k < n; k++) {
    const m = (k + 1) % n;
    if (k === i || k === j || m === i || m === j) continue;
    const [c, d] = [flat[k], flat[m]];
    if (turn(a, b, c) * turn(a, b, d) < 0 && turn(c, d, a) * turn(c, d, b) < 0) return false;
  }
  const x = (a[0] + b[0]) / 2;
  const y = (a[1] + b[1]) / 2;
  let inside = false;
  for (let k = 0; k < n; k++) {
    const c = flat[k];
    const d = flat[(k + 1) % n];
    if (c[1] > y !== d[1] > y && x < ((d[0] - c[0]) * (y - c[1])) / (d[1] - c[1]) + c[0]) inside = !inside;
  }
  return inside;
}

/** A ring in the plane of its Newell normal. */
export function flatten(p: Float32Array, ring: readonly number[]): number[][] {
  const o = 3 * ring[0];
  let [nx, ny, nz] = [0, 0, 0];
  for (let k = 1; k + 1 < ring.length; k++) {
    const a = [0, 1, 2].map((q) => p[3 * ring[k] + q] - p[o + q]);
    const b = [0, 1, 2].map((q) => p[3 * ring[k + 1] + q] - p[o + q]);
    nx += a[1] * b[2] - a[2] * b[1];
    ny += a[2] * b[0] - a[0] * b[2];
    nz += a[0] * b[1] - a[1] * b[0];
  }
  const l = Math.hypot(nx, ny, nz) || 1;
  const w = [nx / l, ny / l, nz / l];
  const u = Math.abs(w[0]) < 0.6 ? [0, w[2], -w[1]] : [-w[2], 0, w[0]];
  const ul = Math.hypot(...u) || 1;
  const x = u.map((q) => q / ul);
  const y = [w[1] * x[2] - w[2] * x[1], w[2] * x[0] - w[0] * x[2], w[0] * x[1] - w[1] * x[0]];
  return ring.map((v) => {
    const d = [0, 1, 2].map((q) => p[3 * v + q] - p[o + q]);
    return [d[0] * x[0] + d[1] * x[1] + d[2] * x[2], d[0] * y[0] + d[1] * y[1] + d[2] * y[2]];
  });
}

/**
 * An edge between two faces comes to stand between the next corners of both, as if the two were one polygon and it were
 * turned in it.
 */
export function spinEdges(mesh: Mesh, edges: ArrayLike<number>, backwards: boolean, id: number, tell?: Tell): Mesh {
  const t = topologyOf(mesh);
  const { cornerVertex: cv, faceStart } = mesh;
  const draft = new MeshDraft(mesh);
  const seed = key2(id, SPIN);
  const keys = edgeKeys(mesh);
  const there = new Set<number>();
  for (let e = 0; e < t.edgeCount; e++) there.add(keys[e]);
  let held = 0;
  for (let i = 0; i < edges.length; i++) {
    const e = edges[i];
    const s = t.edgeCornerStart[e];
    const [c, o] = [t.edgeCorner[s], t.edgeCorner[s + 1]];
    const f = t.cornerFace[c];
    const g = t.edgeCornerStart[e + 1] - s === 2 ? t.cornerFace[o] : f;
    if (f === g || cv[c] === cv[o] || draft.isDropped(f) || draft.isDropped(g)) {
      held++;
      continue;
    }
    const walk = (face: number, from: number) => {
      const n = faceStart[face + 1] - faceStart[face];
      const out: number[] = [];
      for (let x = nextCorner(mesh, face, from), k = 1; k < n; x = nextCorner(mesh, face, x), k++) out.push(x);
      return out;
    };
    // The outline of both, from the edge's one end to the other and back: its ends are ring[0] and ring[m].
    const [one, two] = [walk(f, c), walk(g, o)];
    const ring = [...one, ...two];
    const m = one.length;
    const step = backwards ? ring.length - 1 : 1;
    const i0 = step % ring.length;
    const j0 = (m + step) % ring.length;
    const [a, b] = [cv[ring[i0]], cv[ring[j0]]];
    const made = edgeKey(mesh.vertexKey[a], mesh.vertexKey[b]);
    if (new Set(ring.map((x) => cv[x])).size < ring.length || there.has(made)) {
      held++;
      continue;
    }
    there.add(made);
    const part = (from: number, to: number) => {
      const out = [];
      for (let k = from; k !== to; k = (k + 1) % ring.length) out.push(ring[k]);
      out.push(ring[to]);
      return out;
    };
    for (const [face, list] of [
      [f, part(i0, j0)],
      [g, part(j0, i0)],
    ] as const) {
      // The faces are others now: each has gained one corner and lost one.
      const key = key3(seed, mesh.faceKey[face], made);
      draft.begin(key, face);
      for (const x of list) draft.at(cv[x], x);
      draft.end();
      draft.split(mesh.faceKey[face], [key]);
      draft.drop(face);
    }
    draft.split(keys[e], [made]);
  }
  if (held === edges.length)
    throw new Error('An edge is spun between two faces; none of those picked has two that it can be spun between.');
  if (held > 0)
    tell?.(
      `${held} of ${edges.length} edges stay: they are not between two faces, or share one with another that was spun.`,
    );
  return draft.finish();
}
