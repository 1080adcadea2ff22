/**
 * Bent by a cage: what lies in or near a closed cage follows its vertices, by mean value coordinates (Ju, Schaefer and Warren 2005). A cage that is as
 * it was moves nothing, and one that is moved, turned or sized as a whole carries all with it.
 *
 * 100,000 vertices in a cage of 56 (108 triangles): coordinates 1.0 s, once; then 12 ms each time the cage changes (`./glypta bench --only moves`).
 */
import { EVERY, pulse } from '../math/pulse';
import type { Mesh } from '../mesh/mesh';
import { triangulate } from '../mesh/triangulate';

const { abs, acos, asin, max, min, PI, sin, sqrt } = Math;

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
  /** Nearer than this to a vertex or a face is on it. */
  near: number;
}

function cageOf(mesh: Mesh): Cage {
  const { corners } = triangulate(mesh);
  const tri = corners.map((c) => mesh.cornerVertex[c]);
  const p = mesh.positions;
  let size = 0;
  for (let i = 0; i < p.length; i++) size = max(size, abs(p[i] - p[i % 3]));
  return { p, tri, d: new Float64Array(p.length / 3), u: new Float64Array(p.length), near: 1e-7 * size };
}

/** Shares of the cage's vertices for one place, summing to 1, written to `out`. */
function coordinates({ p, tri, d, u, near }: Cage, x: number, y: number, z: number, out: Float64Array): void {
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
  let total = 0;
  for (let t = 0; t < tri.length; t += 3) {
    const a = tri[t];
    const b = tri[t + 1];
    const c = tri[t + 2];
    const ta = angle(u, b, c);
    const tb = angle(u, c, a);
    const tc = angle(u, a, b);
    const h = (ta + tb + tc) / 2;
    const [sa, sb, sc] = [sin(ta), sin(tb), sin(tc)];
    if (PI - h < 1e-9) {
      // In the triangle itself: its own shares are all there are.
      out.fill(0);
      const [wa, wb, wc] = [sa * d[b] * d[c], sb * d[c] * d[a], sc * d[a] * d[b]];
      const sum = wa + wb + wc;
      if (!(sum > 0)) continue;
      out[a] = wa / sum;
      out[b] = wb / sum;
      out[c] = wc / sum;
      return;
    }
    if (sa < 1e-12 || sb < 1e-12 || sc < 1e-12) continue;
    const sh = 2 * sin(h);
    const ca = min(1, max(-1, (sh * sin(h - ta)) / (sb * sc) - 1));
    const cb = min(1, max(-1, (sh * sin(h - tb)) / (sc * sa) - 1));
    const cc = min(1, max(-1, (sh * sin(h - tc)) / (sa * sb) - 1));
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

/** Between two unit directions: by the chord where they are near, by the cosine elsewhere. */
function angle(u: Float64Array, i: number, j: number): number {
  const [a, b] = [3 * i, 3 * j];
  const dot = u[a] * u[b] + u[a + 1] * u[b + 1] + u[a + 2] * u[b + 2];
  if (dot < 0.9 && dot > -0.9) return acos(dot);
  const x = u[a] - u[b];
  const y = u[a + 1] - u[b + 1];
  const z = u[a + 2] - u[b + 2];
  if (dot > 0) return 2 * asin(min(1, sqrt(x * x + y * y + z * z) / 2));
  const s = u[a] + u[b];
  const q = u[a + 1] + u[b + 1];
  const r = u[a + 2] + u[b + 2];
  return PI - 2 * asin(min(1, sqrt(s * s + q * q + r * r) / 2));
}

const determinant = (u: Float64Array, i: number, j: number, k: number): number => {
  const [a, b, c] = [3 * i, 3 * j, 3 * k];
  return (
    u[a] * (u[b + 1] * u[c + 2] - u[b + 2] * u[c + 1]) -
    u[a + 1] * (u[b] * u[c + 2] - u[b + 2] * u[c]) +
    u[a + 2] * (u[b] * u[c + 1] - u[b + 1] * u[c])
  );
};
