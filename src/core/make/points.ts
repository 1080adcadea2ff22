/**
 * Points: vertices without faces, to copy onto. On a surface each has its key of the face it lies on and its number
 * there, and its place of that key: where a face stays, so do its points, whatever else changes.
 */
import { key2, key3, keyOf } from '../math/hash';
import { EVERY, pulse } from '../math/pulse';
import type { Triple } from '../math/affine';
import { boundsOfMesh } from '../mesh/moved';
import type { Mesh } from '../mesh/mesh';
import { faceNormals } from '../mesh/normals';
import { FACING, pointsFrom } from '../mesh/points';
import { oddlyInside } from '../mesh/inside';
import { firstTriangle, triangulate } from '../mesh/triangulate';
import { affordable } from '../copies/copies';

const { floor, sqrt, hypot, ceil } = Math;

/** 0 to 1 of a key: its lower bits, which are as good as thrown. */
const share = (key: number): number => (key % 1048573) / 1048573;
const HOW_MANY = keyOf('how many points');
const WHERE = keyOf('where a point lies');

interface Spread {
  count: number;
  /** Of each face, any number from 0 on; how thickly it is strewn against the others. */
  density?: ArrayLike<number>;
  seed: number;
  /** No two nearer than this, metres. */
  apart: number;
}

/** On the surface, evenly by area times density. With `apart` there may be fewer than asked for. */
export function pointsOn(mesh: Mesh, { count, density, seed, apart }: Spread): Mesh {
  affordable(count, 1, 'points');
  const { positions: p, cornerVertex, faceCount } = mesh;
  const t = triangulate(mesh);
  const areas = new Float64Array(t.face.length);
  const weight = new Float64Array(faceCount);
  let total = 0;
  for (let i = 0; i < t.face.length; i++) {
    const [a, b, c] = [0, 1, 2].map((k) => 3 * cornerVertex[t.corners[3 * i + k]]);
    const u = [0, 1, 2].map((k) => p[b + k] - p[a + k]);
    const v = [0, 1, 2].map((k) => p[c + k] - p[a + k]);
    areas[i] = hypot(u[1] * v[2] - u[2] * v[1], u[2] * v[0] - u[0] * v[2], u[0] * v[1] - u[1] * v[0]) / 2;
    const w = areas[i] * Math.max(0, density ? density[t.face[i]] : 1);
    weight[t.face[i]] += w;
    total += w;
  }
  if (!(total > 0))
    throw new Error('There is no surface to lay points on: it has no area, or its density is 0 everywhere.');
  // Each face its share, rounded down; what is left goes to those that were nearest to one more, as thrown for each by
  // its key.
  const own = new Uint32Array(faceCount);
  const rest: [number, number][] = [];
  let given = 0;
  for (let f = 0; f < faceCount; f++) {
    const exact = (count * weight[f]) / total;
    own[f] = floor(exact);
    given += own[f];
    if (weight[f] > 0) rest.push([exact - own[f] - share(key3(mesh.faceKey[f], seed, HOW_MANY)), f]);
  }
  rest.sort((a, b) => b[0] - a[0] || mesh.faceKey[a[1]] - mesh.faceKey[b[1]]);
  for (let i = 0; i < rest.length && given < count; i++, given++) own[rest[i][1]]++;
  const normals = faceNormals(mesh);
  const positions = new Float32Array(3 * given);
  const facing = new Float32Array(3 * given);
  const keys = new Float64Array(given);
  let n = 0;
  for (let f = 0; f < faceCount; f++) {
    if ((f & EVERY) === 0) pulse();
    const first = firstTriangle(mesh, f);
    const last = first + mesh.faceStart[f + 1] - mesh.faceStart[f] - 2;
    let area = 0;
    for (let i = first; i < last; i++) area += areas[i];
    for (let k = 0; k < own[f]; k++) {
      const key = key3(key2(mesh.faceKey[f], seed), WHERE, k);
      let at = share(key) * area;
      let i = first;
      while (i < last - 1 && at > areas[i]) at -= areas[i++];
      const r = sqrt(share(key2(key, 1)));
      const s = share(key2(key, 2));
      const w = [1 - r, r * (1 - s), r * s];
      for (let q = 0; q < 3; q++) {
        let x = 0;
        for (let j = 0; j < 3; j++) x += w[j] * p[3 * cornerVertex[t.corners[3 * i + j]] + q];
        positions[3 * n + q] = x;
        facing[3 * n + q] = normals[3 * f + q];
      }
      keys[n++] = key;
    }
  }
  const out = pointsFrom(positions, keys, facing);
  return apart > 0 ? thinned(out, apart) : out;
}

/**
 * None nearer to another than `apart`: in the order of their keys, which nothing upstream changes, each stays that has
 * room.
 */
export function thinned(points: Mesh, apart: number): Mesh {
  const { positions: p, vertexKey: keys } = points;
  const order = [...keys.keys()].sort((a, b) => keys[a] - keys[b]);
  const cells = new Map<string, number[]>();
  const cell = (x: number) => floor(x / apart);
  const kept: number[] = [];
  for (const v of order) {
    const [x, y, z] = [p[3 * v], p[3 * v + 1], p[3 * v + 2]];
    const [cx, cy, cz] = [cell(x), cell(y), cell(z)];
    let free = true;
    for (let i = cx - 1; free && i <= cx + 1; i++)
      for (let j = cy - 1; free && j <= cy + 1; j++)
        for (let k = cz - 1; free && k <= cz + 1; k++)
          for (const w of cells.get(`${i},${j},${k}`) ?? [])
            if (hypot(p[3 * w] - x, p[3 * w + 1] - y, p[3 * w + 2] - z) < apart) free = false;
    if (!free) continue;
    kept.push(v);
    const name = `${cx},${cy},${cz}`;
    const had = cells.get(name);
    if (had) had.push(v);
    else cells.set(name, [v]);
  }
  kept.sort((a, b) => a - b);
  const facing = points.attributes[FACING]?.data as Float32Array | undefined;
  const pick3 = (from: Float32Array) =>
    Float32Array.from(kept.flatMap((v) => [from[3 * v], from[3 * v + 1], from[3 * v + 2]]));
  return pointsFrom(
    pick3(p),
    Float64Array.from(kept, (v) => keys[v]),
    facing && pick3(facing),
  );
}

/**
 * Rows of points about the origin, standing on the ground. Each has its key of its place from the first: more rows at
 * the end move none.
 */
export function pointsInGrid(counts: Triple, apart: number, id: number): Mesh {
  affordable(counts[0] * counts[1] * counts[2], 1, 'points');
  const total = counts[0] * counts[1] * counts[2];
  const positions = new Float32Array(3 * total);
  const keys = new Float64Array(total);
  let n = 0;
  for (let y = 0; y < counts[1]; y++)
    for (let z = 0; z < counts[2]; z++)
      for (let x = 0; x < counts[0]; x++) {
        positions[3 * n] = apart * (x - (counts[0] - 1) / 2);
        positions[3 * n + 1] = apart * y;
        positions[3 * n + 2] = apart * (z - (counts[2] - 1) / 2);
        keys[n++] = key3(key2(id, x), y, z);
      }
  return pointsFrom(positions, keys);
}

interface Within {
  /** Metres between neighbours. */
  apart: number;
  /** 0 to 1: how far each strays from its place in the grid, as a share of its cell. */
  stray: number;
  seed: number;
}

/** A grid of points inside a closed surface; outside is told by how often a ray goes through it. */
export function pointsWithin(mesh: Mesh, { apart, stray, seed }: Within): Mesh {
  const { min, max } = boundsOfMesh(mesh);
  // Cells are counted from the origin, so that what grows at one end moves nothing at the other.
  const from = min.map((x) => floor(x / apart));
  const to = max.map((x) => ceil(x / apart));
  affordable((to[0] - from[0]) * (to[1] - from[1]) * (to[2] - from[2]), 1, 'places');
  const inside = oddlyInside(mesh);
  const at: number[] = [];
  const keys: number[] = [];
  for (let x = from[0]; x < to[0]; x++)
    for (let y = from[1]; y < to[1]; y++) {
      pulse();
      for (let z = from[2]; z < to[2]; z++) {
        const key = key3(key2(seed, x), y, z);
        const p = [x, y, z].map((c, k) => apart * (c + 0.5 + stray * (share(key2(key, k)) - 0.5))) as [
          number,
          number,
          number,
        ];
        if (!inside(p)) continue;
        at.push(...p);
        keys.push(key);
      }
    }
  if (keys.length === 0)
    throw new Error('No place of such a grid lies inside: let them be closer, or close the surface.');
  return pointsFrom(Float32Array.from(at), Float64Array.from(keys));
}
