/**
 * Bent by a cage: what lies in or near a closed cage follows its vertices, by mean value coordinates (Ju, Schaefer and
 * Warren 2005). A cage that is as it was moves nothing, and one that is moved, turned or sized as a whole carries all
 * with it.
 *
 * 99,848 vertices in a cage of 56 (108 triangles): coordinates 1.3 s, once (3.4 s with angles for every triangle, 2.4 s
 * with angles for every edge but short-lived arrays); then 36 ms each time the cage is shaped (`./glypta bench --only
 * moves`).
 */
import { EVERY, pulse } from '../math/pulse';
import type { Mesh } from '../mesh/mesh';
import { triangulate } from '../mesh/triangulate';

const { abs, acos, asin, max, min, PI, sqrt } = Math;

interface Coordinates {
  readonly rest: Float32Array;
  readonly vertices: Uint32Array;
  /** A row of the cage's vertices for each vertex. */
  readonly weights: Float32Array;
}

/** By the positions they were worked out for: while a cage is dragged they are the same. */
const known = new WeakMap<Float32Array, Coordinates>();
/** More numbers than this are worked out again rather than kept. */
const MOST_KEPT = 30_000_000;

const same = (a: ArrayLike<number>, b: ArrayLike<number>): boolean => {
  if (a.length !== b.length) return false;
  for (let i = 0; i < a.length; i++) if (a[i] !== b[i]) return false;
  return true;
};

/** `now`: where the cage's vertices are, in the order of `rest`. */
export function bentByCage(
  mesh: Mesh,
  vertices: Uint32Array,
  rest: Mesh,
  now: Float32Array,
  share: (vertex: number) => number,
): Mesh {
  const m = rest.vertexCount;
  const by = new Float64Array(3 * m);
  let moves = false;
  for (let i = 0; i < by.length; i++) {
    by[i] = now[i] - rest.positions[i];
    if (by[i] !== 0) moves = true;
  }
  if (!moves || vertices.length === 0) return mesh;
  const keeps = vertices.length * m <= MOST_KEPT;
  let had = known.get(mesh.positions);
  if (!had || !same(had.rest, rest.positions) || !same(had.vertices, vertices)) had = undefined;
  const cage = cageOf(rest);
  const row = new Float64Array(m);
  const weights = had?.weights ?? new Float32Array(keeps ? vertices.length * m : 0);
  const positions = mesh.positions.slice();
  for (let i = 0; i < vertices.length; i++) {
    if ((i & (EVERY >> 5)) === 0) pulse();
    const o = 3 * vertices[i];
    if (!had) {
      coordinates(cage, mesh.positions[o], mesh.positions[o + 1], mesh.positions[o + 2], row);
      if (keeps) weights.set(row, i * m);
    }
    const w: ArrayLike<number> = had ? weights : row;
    const from = had ? i * m : 0;
    let x = 0;
    let y = 0;
    let z = 0;
    for (let j = 0; j < m; j++) {
      const k = w[from + j];
      x += k * by[3 * j];
      y += k * by[3 * j + 1];
      z += k * by[3 * j + 2];
    }
    const s = share(vertices[i]);
    positions[o] += s * x;
    positions[o + 1] += s * y;
    positions[o + 2] += s * z;
  }
  if (!had && keeps) known.set(mesh.positions, { rest: rest.positions, vertices, weights });
  return mesh.moved(positions, vertices);
}

interface Cage {
  p: Float32Array;
  tri: Uint32Array;
  d: Float64Array;
  u: Float64Array;
  /** Vertices of each edge, and of each triangle the edges opposite to its corners. */
  ends: Uint32Array;
  edge: Uint32Array;
  /** Of each edge as it is seen from the place: its angle, and that one's cosine and sine. */
  angle: Float64Array;
  cos: Float64Array;
  sin: Float64Array;
  /** Nearer than this to a vertex or a face is on it. */
  near: number;
}

function cageOf(mesh: Mesh): Cage {
  const { corners } = triangulate(mesh);
  const tri = corners.map((c) => mesh.cornerVertex[c]);
  const p = mesh.positions;
  let size = 0;
  for (let i = 0; i < p.length; i++) size = max(size, abs(p[i] - p[i % 3]));
  const names = new Map<number, number>();
  const n = mesh.vertexCount;
  const edgeOf = (a: number, b: number): number => {
    const name = a < b ? a * n + b : b * n + a;
    const had = names.get(name) ?? names.size;
    names.set(name, had);
    return had;
  };
  const edge = new Uint32Array(tri.length);
  for (let t = 0; t < tri.length; t += 3)
    for (let k = 0; k < 3; k++) edge[t + k] = edgeOf(tri[t + ((k + 1) % 3)], tri[t + ((k + 2) % 3)]);
  const ends = new Uint32Array(2 * names.size);
  for (const [name, e] of names) {
    ends[2 * e] = Math.floor(name / n);
    ends[2 * e + 1] = name % n;
  }
  const each = () => new Float64Array(names.size);
  const own = { angle: each(), cos: each(), sin: each() };
  return { p, tri, ends, edge, ...own, d: new Float64Array(n), u: new Float64Array(3 * n), near: 1e-7 * size };
}

/** Shares of the cage's vertices for one place, summing to 1, written to `out`. */
function coordinates(cage: Cage, x: number, y: number, z: number, out: Float64Array): void {
  const { p, tri, d, u, near, edge } = cage;
  const n = d.length;
  out.fill(0);
  for (let j = 0; j < n; j++) {
    const dx = p[3 * j] - x;
    const dy = p[3 * j + 1] - y;
    const dz = p[3 * j + 2] - z;
    const l = sqrt(dx * dx + dy * dy + dz * dz);
    if (l <= near) {
      out[j] = 1;
      return;
    }
    d[j] = l;
    u[3 * j] = dx / l;
    u[3 * j + 1] = dy / l;
    u[3 * j + 2] = dz / l;
  }
  seen(cage);
  let total = 0;
  for (let t = 0; t < tri.length; t += 3) {
    const a = tri[t];
    const b = tri[t + 1];
    const c = tri[t + 2];
    const ea = edge[t];
    const eb = edge[t + 1];
    const ec = edge[t + 2];
    const ta = cage.angle[ea];
    const tb = cage.angle[eb];
    const tc = cage.angle[ec];
    const sa = cage.sin[ea];
    const sb = cage.sin[eb];
    const sc = cage.sin[ec];
    const h = (ta + tb + tc) / 2;
    if (PI - h < 1e-9) {
      // In the triangle itself: its own shares are all there are.
      out.fill(0);
      const wa = sa * d[b] * d[c];
      const wb = sb * d[c] * d[a];
      const wc = sc * d[a] * d[b];
      const sum = wa + wb + wc;
      if (!(sum > 0)) continue;
      out[a] = wa / sum;
      out[b] = wb / sum;
      out[c] = wc / sum;
      return;
    }
    if (sa < 1e-12 || sb < 1e-12 || sc < 1e-12) continue;
    const qa0 = cage.cos[ea];
    const qb0 = cage.cos[eb];
    const qc0 = cage.cos[ec];
    const ca = min(1, max(-1, (qa0 - qb0 * qc0) / (sb * sc)));
    const cb = min(1, max(-1, (qb0 - qc0 * qa0) / (sc * sa)));
    const cc = min(1, max(-1, (qc0 - qa0 * qb0) / (sa * sb)));
    const sign = determinant(u, a, b, c) < 0 ? -1 : 1;
    const qa = sign * sqrt(1 - ca * ca);
    const qb = sign * sqrt(1 - cb * cb);
    const qc = sign * sqrt(1 - cc * cc);
    // In its plane, beside it: it says nothing.
    if (abs(qa) < 1e-9 || abs(qb) < 1e-9 || abs(qc) < 1e-9) continue;
    const wa = (ta - cb * tc - cc * tb) / (d[a] * sb * qc);
    const wb = (tb - cc * ta - ca * tc) / (d[b] * sc * qa);
    const wc = (tc - ca * tb - cb * ta) / (d[c] * sa * qb);
    out[a] += wa;
    out[b] += wb;
    out[c] += wc;
    total += wa + wb + wc;
  }
  if (!(abs(total) > 1e-30)) {
    out.fill(0);
    return;
  }
  for (let j = 0; j < n; j++) out[j] /= total;
}

/**
 * Angles of all edges between unit directions: by the chord where it is short or nearly a whole turn, by the cosine
 * elsewhere.
 */
function seen({ u, ends, angle, cos, sin }: Cage): void {
  for (let e = 0; e < angle.length; e++) {
    const a = 3 * ends[2 * e];
    const b = 3 * ends[2 * e + 1];
    const dot = u[a] * u[b] + u[a + 1] * u[b + 1] + u[a + 2] * u[b + 2];
    cos[e] = dot;
    if (dot < 0.9 && dot > -0.9) {
      angle[e] = acos(dot);
      sin[e] = sqrt(1 - dot * dot);
      continue;
    }
    const way = dot > 0 ? -1 : 1;
    const x = u[a] + way * u[b];
    const y = u[a + 1] + way * u[b + 1];
    const z = u[a + 2] + way * u[b + 2];
    const half = min(1, sqrt(x * x + y * y + z * z) / 2);
    const turn = 2 * asin(half);
    angle[e] = dot > 0 ? turn : PI - turn;
    sin[e] = 2 * half * sqrt(1 - half * half);
  }
}

const determinant = (u: Float64Array, i: number, j: number, k: number): number => {
  const a = 3 * i;
  const b = 3 * j;
  const c = 3 * k;
  return (
    u[a] * (u[b + 1] * u[c + 2] - u[b + 2] * u[c + 1]) -
    u[a + 1] * (u[b] * u[c + 2] - u[b + 2] * u[c]) +
    u[a + 2] * (u[b] * u[c + 1] - u[b + 1] * u[c])
  );
};
