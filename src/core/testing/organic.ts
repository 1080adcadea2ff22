/**
 * Shapes for unwrapping to be tried on: organic, branching, rough and broken. Surfaces of fields are made by marching
 * tetrahedra, which leaves slivers and triangles of all sizes, as scans do.
 */
import { meshFrom, type Mesh } from '../mesh/mesh';

type Field = (x: number, y: number, z: number) => number;

/** A number from 0 to 1 of a seed, the same everywhere. */
export function thrown(seed: number): () => number {
  let s = (seed * 2654435761) >>> 0 || 1;
  return () => {
    s ^= s << 13;
    s ^= s >>> 17;
    s ^= s << 5;
    return (s >>> 0) / 4294967296;
  };
}

const CORNERS = [
  [0, 0, 0],
  [1, 0, 0],
  [1, 1, 0],
  [0, 1, 0],
  [0, 0, 1],
  [1, 0, 1],
  [1, 1, 1],
  [0, 1, 1],
] as const;
/** A cell in six tetrahedra round its diagonal. */
const TETS = [
  [0, 5, 1, 6],
  [0, 1, 2, 6],
  [0, 2, 3, 6],
  [0, 3, 7, 6],
  [0, 7, 4, 6],
  [0, 4, 5, 6],
] as const;

/** The surface where a field is 0, within −1 … 1 on each side, `n` cells along it; inside the field is below 0. */
export function surfaceOf(field: Field, n: number, size = 1): Mesh {
  const m = n + 1;
  const values = new Float64Array(m * m * m);
  const at = (i: number, j: number, k: number) => (i * m + j) * m + k;
  const place = (i: number) => size * ((2 * i) / n - 1);
  for (let i = 0; i < m; i++)
    for (let j = 0; j < m; j++)
      for (let k = 0; k < m; k++) values[at(i, j, k)] = field(place(i), place(j), place(k)) || 1e-9;
  const positions: number[] = [];
  const cut = new Map<number, number>();
  const faces: number[][] = [];
  const between = (a: number, b: number): number => {
    const lo = Math.min(a, b);
    const hi = Math.max(a, b);
    const name = lo * m * m * m + hi;
    const had = cut.get(name);
    if (had !== undefined) return had;
    const t = values[lo] / (values[lo] - values[hi]);
    const spot = (x: number) => [Math.floor(x / (m * m)), Math.floor(x / m) % m, x % m];
    const [p, q] = [spot(lo), spot(hi)];
    const v = positions.length / 3;
    for (let k = 0; k < 3; k++) positions.push(place(p[k]) + (place(q[k]) - place(p[k])) * t);
    cut.set(name, v);
    return v;
  };
  for (let i = 0; i < n; i++)
    for (let j = 0; j < n; j++)
      for (let k = 0; k < n; k++) {
        const c = CORNERS.map(([x, y, z]) => at(i + x, j + y, k + z));
        for (const tet of TETS) {
          const v = tet.map((x) => c[x]);
          const inside = v.filter((x) => values[x] < 0);
          const outside = v.filter((x) => values[x] >= 0);
          if (inside.length === 0 || outside.length === 0) continue;
          const ring =
            inside.length === 2
              ? [
                  between(inside[0], outside[0]),
                  between(inside[0], outside[1]),
                  between(inside[1], outside[1]),
                  between(inside[1], outside[0]),
                ]
              : (inside.length === 1 ? outside : inside).map((x) =>
                  between(x, (inside.length === 1 ? inside : outside)[0]),
                );
          const out = turnedOutwards(ring, positions, inside, m, place);
          for (let q = 2; q < out.length; q++) faces.push([out[0], out[q - 1], out[q]]);
        }
      }
  return meshFrom(Float32Array.from(positions), faces);
}

function turnedOutwards(
  ring: number[],
  p: number[],
  inside: number[],
  m: number,
  place: (i: number) => number,
): number[] {
  const [a, b, c] = ring.map((v) => p.slice(3 * v, 3 * v + 3));
  const u = [0, 1, 2].map((k) => b[k] - a[k]);
  const w = [0, 1, 2].map((k) => c[k] - a[k]);
  const n = [u[1] * w[2] - u[2] * w[1], u[2] * w[0] - u[0] * w[2], u[0] * w[1] - u[1] * w[0]];
  const s = [Math.floor(inside[0] / (m * m)), Math.floor(inside[0] / m) % m, inside[0] % m].map(place);
  const away = [0, 1, 2].reduce((sum, k) => sum + n[k] * (a[k] - s[k]), 0);
  return away >= 0 ? ring : [...ring].reverse();
}

const smoothLeast = (a: number, b: number, k: number): number => {
  const h = Math.max(k - Math.abs(a - b), 0) / k;
  return Math.min(a, b) - (h * h * k) / 4;
};

/** A ball with lumps. */
export const lumpyBall = (n: number, seed = 1): Mesh => {
  const r = thrown(seed);
  const waves = Array.from({ length: 5 }, () => [2 + 4 * r(), 2 + 4 * r(), 2 + 4 * r(), 6 * r()]);
  return surfaceOf((x, y, z) => {
    let lump = 0;
    for (const [a, b, c, d] of waves) lump += Math.sin(a * x + d) * Math.cos(b * y) * Math.sin(c * z + d);
    return Math.hypot(x, y, z) - 0.7 - 0.06 * lump;
  }, n);
};

type Capsule = readonly [number, number, number, number, number, number, number, number];
const capsules =
  (list: readonly Capsule[], blend: number): Field =>
  (x, y, z) => {
    let d = Infinity;
    for (const [ax, ay, az, bx, by, bz, ra, rb] of list) {
      const [ux, uy, uz] = [bx - ax, by - ay, bz - az];
      const t = Math.max(
        0,
        Math.min(1, ((x - ax) * ux + (y - ay) * uy + (z - az) * uz) / (ux * ux + uy * uy + uz * uz)),
      );
      const own = Math.hypot(x - ax - t * ux, y - ay - t * uy, z - az - t * uz) - (ra + (rb - ra) * t);
      d = d === Infinity ? own : smoothLeast(d, own, blend);
    }
    return d;
  };

/** Branches that fork and thin out. */
export const coral = (n: number, seed = 3): Mesh => {
  const r = thrown(seed);
  const list: Capsule[] = [];
  const grow = (at: number[], way: number[], long: number, thick: number, left: number): void => {
    const to = at.map((x, k) => x + way[k] * long);
    list.push([at[0], at[1], at[2], to[0], to[1], to[2], thick, thick * 0.8]);
    if (left === 0) return;
    for (let i = 0; i < (left > 2 ? 3 : 2); i++) {
      const next = way.map((x) => x + 1.3 * (r() - 0.5));
      const l = Math.hypot(...next);
      grow(
        to,
        next.map((x) => x / l),
        long * (0.7 + 0.2 * r()),
        thick * 0.75,
        left - 1,
      );
    }
  };
  grow([0, -0.85, 0], [0, 1, 0], 0.42, 0.16, 4);
  return surfaceOf(capsules(list, 0.06), n);
};

/** Four legs, a body, a neck, a head, a tail. */
export const animal = (n: number): Mesh =>
  surfaceOf(
    capsules(
      [
        [-0.4, 0, 0, 0.4, 0.05, 0, 0.22, 0.26],
        [0.45, 0.1, 0, 0.65, 0.5, 0, 0.13, 0.1],
        [0.65, 0.5, 0, 0.85, 0.48, 0, 0.13, 0.07],
        [0.35, -0.1, 0.14, 0.38, -0.7, 0.16, 0.09, 0.05],
        [0.35, -0.1, -0.14, 0.38, -0.7, -0.16, 0.09, 0.05],
        [-0.4, -0.1, 0.14, -0.42, -0.7, 0.16, 0.1, 0.05],
        [-0.4, -0.1, -0.14, -0.42, -0.7, -0.16, 0.1, 0.05],
        [-0.6, 0.1, 0, -0.9, 0.3, 0.1, 0.05, 0.02],
      ],
      0.08,
    ),
    n,
  );

/** A chain of rings grown together: handles. */
export const rings = (n: number): Mesh =>
  surfaceOf((x, y, z) => {
    const ring = (cx: number, cy: number) => Math.hypot(Math.hypot(x - cx, y - cy) - 0.3, z) - 0.1;
    return smoothLeast(smoothLeast(ring(-0.4, 0), ring(0.1, 0.1), 0.1), ring(0.55, -0.1), 0.1);
  }, n);

/** Rough stones beside each other. */
export const rocks = (n: number, seed = 5): Mesh => {
  const r = thrown(seed);
  const stones = Array.from({ length: 6 }, () =>
    [r() - 0.5, 0.6 * (r() - 0.5), r() - 0.5, 0.16 + 0.2 * r()].map((x) => 1.1 * x),
  );
  return surfaceOf((x, y, z) => {
    let d = Infinity;
    for (const [cx, cy, cz, s] of stones)
      d = Math.min(d, Math.max(Math.abs(x - cx), Math.abs(y - cy) * 1.3, Math.hypot(x - cx, z - cz)) - s);
    return d + 0.03 * Math.sin(17 * x + 3 * y) * Math.sin(13 * y + 5 * z) * Math.sin(19 * z + 2 * x);
  }, n);
};

/**
 * As a scanner leaves it: noise on every vertex, holes, faces turned round, doubled and hung on edges that have two
 * already.
 */
export function scanned(mesh: Mesh, seed: number, noise: number, broken: number): Mesh {
  const r = thrown(seed);
  const p = mesh.positions.map((x) => x + noise * (r() - 0.5));
  const faces: number[][] = [];
  for (let f = 0; f < mesh.faceCount; f++) {
    const ring = [...mesh.cornerVertex.subarray(mesh.faceStart[f], mesh.faceStart[f + 1])];
    const dice = r();
    if (dice > broken) faces.push(ring);
    else if (dice < broken / 4) faces.push([...ring].reverse());
    else if (dice < broken / 2)
      faces.push(
        ring,
        ring.map((v, i) => (i === 0 ? Math.floor(r() * mesh.vertexCount) : v)),
      );
  }
  return meshFrom(
    p,
    faces.filter((f) => new Set(f).size === f.length),
  );
}

/** Toothed discs, each a part of its own. */
export function gears(count: number, seed = 7): Mesh {
  const r = thrown(seed);
  const positions: number[] = [];
  const faces: number[][] = [];
  for (let g = 0; g < count; g++) {
    const teeth = 5 + Math.floor(8 * r());
    const size = 0.02 + 0.05 * r();
    const high = size * (0.1 + 0.5 * r());
    const n = 4 * teeth;
    const base = positions.length / 3;
    const [x, z] = [(g % 20) * 0.2, Math.floor(g / 20) * 0.2];
    for (let k = 0; k < 2; k++)
      for (let i = 0; i < n; i++) {
        const a = (2 * Math.PI * i) / n;
        const far = size * (i % 4 < 2 ? 1 : 0.75);
        positions.push(x + far * Math.cos(a), k * high, z + far * Math.sin(a));
      }
    const ring = Array.from({ length: n }, (_, i) => base + i);
    faces.push(ring, ring.map((v) => v + n).reverse());
    for (let i = 0; i < n; i++) {
      const j = (i + 1) % n;
      faces.push([base + j, base + i, base + n + i, base + n + j]);
    }
  }
  return meshFrom(Float32Array.from(positions), faces);
}
