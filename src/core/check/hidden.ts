/**
 * Faces that nobody can ever see: from no point outside is there a free way to any of their places. From a few places
 * of each face rays go out to all sides, the way it looks first; one that meets nothing is enough. Rays are spread
 * evenly over the ball (Fibonacci lattice, Vogel 1979).
 *
 * A face inside a closed part needs no such proof. 100,000 faces of a ball with another inside it: 2.4 s; by rays alone
 * over a minute.
 */
import type { Triple } from '../math/affine';
import { EVERY, pulse } from '../math/pulse';
import type { Mesh } from '../mesh/mesh';
import { crossingFaces } from '../mesh/crossings';
import { components } from '../mesh/measure';
import { faceNormals } from '../mesh/normals';
import { mask } from '../mesh/picks';
import { raysOf } from '../mesh/rays';
import { topologyOf } from '../mesh/topology';

const WAYS = 96;
const GOLDEN = Math.PI * (3 - Math.sqrt(5));
const ways: readonly Triple[] = Array.from({ length: WAYS }, (_, i) => {
  const y = 1 - (2 * i + 1) / WAYS;
  const r = Math.sqrt(1 - y * y);
  return [r * Math.cos(GOLDEN * i), y, r * Math.sin(GOLDEN * i)];
});

export function hiddenFaces(mesh: Mesh): number[] {
  const rays = raysOf(mesh);
  const n = faceNormals(mesh);
  const { positions: p, cornerVertex: cv, faceStart } = mesh;
  const insideClosed = insideOf(mesh);
  const crossed = mask(mesh.faceCount, crossingFaces(mesh));
  let size = 0;
  for (let i = 0; i < p.length; i++) size = Math.max(size, Math.abs(p[i]));
  // Far enough from the face that rounding does not meet it again; a face is passed over anyway, its neighbours in its
  // plane are not.
  const off = 2 ** -20 * size;
  const out: number[] = [];
  const from: [number, number, number] = [0, 0, 0];
  const free = (f: number, at: readonly number[], way: Triple): boolean => {
    const side = n[3 * f] * way[0] + n[3 * f + 1] * way[1] + n[3 * f + 2] * way[2];
    const s = side >= 0 ? off : -off;
    for (let k = 0; k < 3; k++) from[k] = at[k] + s * n[3 * f + k];
    return !rays.blocked(from, way, 0, Infinity, f);
  };
  for (let f = 0; f < mesh.faceCount; f++) {
    if ((f & (EVERY >> 3)) === 0) pulse();
    const [s, e] = [faceStart[f], faceStart[f + 1]];
    const own: Triple = [n[3 * f], n[3 * f + 1], n[3 * f + 2]];
    if (own[0] === 0 && own[1] === 0 && own[2] === 0) continue; // a face without area cannot be seen; another check tells of it
    const back: Triple = [-own[0], -own[1], -own[2]];
    const middle: [number, number, number] = [0, 0, 0];
    for (let c = s; c < e; c++) for (let k = 0; k < 3; k++) middle[k] += p[3 * cv[c] + k] / (e - s);
    if (free(f, middle, own) || free(f, middle, back)) continue;
    const places = [middle];
    for (let c = s; c < e; c++)
      places.push(middle.map((x, k) => x + 0.9 * (p[3 * cv[c] + k] - x)) as [number, number, number]);
    // A face that nothing passes through lies on one side of everything: its middle says of which.
    const within = crossed[f] ? places.every((at) => insideClosed(at, f)) : insideClosed(middle, f);
    const seen =
      !within &&
      places.some((at, i) => (i > 0 && (free(f, at, own) || free(f, at, back))) || ways.some((w) => free(f, at, w)));
    if (!seen) out.push(f);
  }
  return out;
}

/**
 * Whether a place on a face lies inside a closed part other than the face's own: a ray from it passes that part's
 * surface an odd number of times. Two ways must agree; where a ray meets an edge one of them may count wrongly.
 */
function insideOf(mesh: Mesh): (at: Triple, face: number) => boolean {
  const { of, count } = components(mesh);
  const t = topologyOf(mesh);
  const part = (f: number) => of[mesh.cornerVertex[mesh.faceStart[f]]];
  const closed = new Uint8Array(count).fill(1);
  for (let e = 0; e < t.edgeCount; e++)
    if (t.edgeCornerStart[e + 1] - t.edgeCornerStart[e] !== 2) closed[of[t.edgeVertex[2 * e]]] = 0;
  const rays = raysOf(mesh);
  const odd = (at: Triple, face: number, way: Triple): Set<number> => {
    const out = new Set<number>();
    let far = 0;
    for (let guard = 0; guard < 1000; guard++) {
      const hit = rays.cast(at, way, far, Infinity, face);
      if (!hit) break;
      const q = part(hit.face);
      if (!out.delete(q)) out.add(q);
      far = hit.t * (1 + 1e-9) + 1e-12;
    }
    return out;
  };
  return (at, face) => {
    const first = odd(at, face, WAYS_OUT[0]);
    const own = part(face);
    for (const q of first) if (q === own || !closed[q]) first.delete(q);
    if (first.size === 0) return false;
    const second = odd(at, face, WAYS_OUT[1]);
    for (const q of first) if (second.has(q)) return true;
    return false;
  };
}

/** Along no axis and no diagonal: such rays hardly ever meet an edge. */
const WAYS_OUT: readonly Triple[] = [
  [0.8233, 0.4517, 0.3444],
  [-0.2971, 0.7713, -0.5629],
];

/** Faces of parts that lie wholly inside another, closed part. */
export function enclosedFaces(mesh: Mesh, of: Uint32Array, count: number): number[] {
  if (count < 2) return [];
  const rays = raysOf(mesh);
  const { positions: p, cornerVertex: cv, faceStart } = mesh;
  const part = (f: number) => of[cv[faceStart[f]]];
  const seen = new Uint8Array(count);
  const inside = new Uint8Array(count);
  const crossings = new Int32Array(count);
  for (let f = 0; f < mesh.faceCount; f++) {
    const own = part(f);
    if (seen[own]) continue;
    pulse();
    seen[own] = 1;
    const v = 3 * cv[faceStart[f]];
    const at: Triple = [p[v], p[v + 1], p[v + 2]];
    const held = WAYS_OUT.map((way) => {
      crossings.fill(0);
      let t = 0;
      for (let guard = 0; guard < 10_000; guard++) {
        const hit = rays.cast(at, way, t);
        if (!hit) break;
        crossings[part(hit.face)]++;
        t = hit.t * (1 + 1e-9) + 1e-12;
      }
      const odd = new Set<number>();
      crossings.forEach((n, i) => {
        if (i !== own && n % 2 === 1) odd.add(i);
      });
      return odd;
    });
    for (const i of held[0]) if (held[1].has(i)) inside[own] = 1;
  }
  const out: number[] = [];
  for (let f = 0; f < mesh.faceCount; f++) if (inside[part(f)]) out.push(f);
  return out;
}
