/**
 * Charts: the pieces into which seams cut a surface. Corners that share a place on the sheet are joined into UV
 * vertices. A chart that cannot lie flat without a cut (closed, or with a handle) is parted further by the way its
 * faces look.
 */
import { Queue } from '../../math/queue';
import { UnionFind } from '../../math/unionfind';
import { EVERY, pulse } from '../../math/pulse';
import type { Mesh } from '../../mesh/mesh';
import { facingOf } from './facing';
import { edgeValence, nextCorner, topologyOf } from '../../mesh/topology';

export interface Charts {
  /** Chart of each face. */
  ofFace: Uint32Array;
  count: number;
  /** UV vertex of each corner; numbered chart by chart is not promised. */
  cornerUv: Uint32Array;
  uvCount: number;
  /** 1 where an edge is a seam, borders included. */
  seam: Uint8Array;
}

export interface SeamMarks {
  cut: ReadonlySet<number>;
  hold: ReadonlySet<number>;
  /** Edges left to the solver are seams where they bend by more than this, radians. Infinity for never. */
  angle: number;
}

/** 1 for each edge that is a seam: marked, bent too far, open, or shared by more than two faces. */
export function seamEdges(mesh: Mesh, marks: SeamMarks): Uint8Array {
  const t = topologyOf(mesh);
  const seam = new Uint8Array(t.edgeCount);
  const normals = facingOf(mesh);
  const limit = marks.angle < Math.PI ? Math.cos(marks.angle) : -2;
  for (let e = 0; e < t.edgeCount; e++) {
    if ((e & EVERY) === 0) pulse();
    if (edgeValence(t, e) !== 2 || marks.cut.has(e)) {
      seam[e] = 1;
      continue;
    }
    const a = t.edgeCorner[t.edgeCornerStart[e]];
    const b = t.edgeCorner[t.edgeCornerStart[e] + 1];
    if (mesh.cornerVertex[a] === mesh.cornerVertex[b]) {
      seam[e] = 1;
      continue;
    } // faces that disagree on which side is out
    if (marks.hold.has(e)) continue;
    const f = 3 * t.cornerFace[a];
    const g = 3 * t.cornerFace[b];
    if (normals[f] * normals[g] + normals[f + 1] * normals[g + 1] + normals[f + 2] * normals[g + 2] < limit - 1e-7)
      seam[e] = 1;
  }
  return seam;
}

export function charts(mesh: Mesh, seam: Uint8Array): Charts {
  const t = topologyOf(mesh);
  const ofFace = new Uint32Array(mesh.faceCount).fill(0xffffffff);
  let count = 0;
  const queue = new Uint32Array(mesh.faceCount);
  for (let first = 0; first < mesh.faceCount; first++) {
    if ((first & EVERY) === 0) pulse();
    if (ofFace[first] !== 0xffffffff) continue;
    let head = 0;
    let tail = 0;
    queue[tail++] = first;
    ofFace[first] = count;
    while (head < tail) {
      const f = queue[head++];
      for (let c = mesh.faceStart[f]; c < mesh.faceStart[f + 1]; c++) {
        const e = t.cornerEdge[c];
        if (seam[e]) continue;
        const s = t.edgeCornerStart[e];
        const g = t.cornerFace[t.edgeCorner[s] === c ? t.edgeCorner[s + 1] : t.edgeCorner[s]];
        if (ofFace[g] === 0xffffffff) {
          ofFace[g] = count;
          queue[tail++] = g;
        }
      }
    }
    count++;
  }
  const { of, count: uvCount } = joinCorners(mesh, seam);
  return { ofFace, count, cornerUv: of, uvCount, seam };
}

function joinCorners(mesh: Mesh, seam: Uint8Array): { of: Uint32Array; count: number } {
  const t = topologyOf(mesh);
  const joined = new UnionFind(mesh.cornerCount);
  for (let e = 0; e < t.edgeCount; e++) {
    if ((e & EVERY) === 0) pulse();
    if (seam[e]) continue;
    const a = t.edgeCorner[t.edgeCornerStart[e]];
    const b = t.edgeCorner[t.edgeCornerStart[e] + 1];
    joined.join(a, nextCorner(mesh, t.cornerFace[b], b));
    joined.join(nextCorner(mesh, t.cornerFace[a], a), b);
  }
  return joined.parts();
}

/** Faces of each chart. */
export function facesByChart(ch: Charts): { start: Uint32Array; face: Uint32Array } {
  const start = new Uint32Array(ch.count + 1);
  for (const c of ch.ofFace) start[c + 1]++;
  for (let i = 0; i < ch.count; i++) start[i + 1] += start[i];
  const fill = start.slice();
  const face = new Uint32Array(ch.ofFace.length);
  for (let f = 0; f < ch.ofFace.length; f++) face[fill[ch.ofFace[f]]++] = f;
  return { start, face };
}

export interface ChartShape {
  euler: number;
  borders: number;
}

/** Euler characteristic and number of border loops of every chart, counted on its own UV vertices. */
export function chartShapes(mesh: Mesh, ch: Charts): ChartShape[] {
  const t = topologyOf(mesh);
  const v = new Int32Array(ch.count);
  const e = new Int32Array(ch.count);
  const f = new Int32Array(ch.count);
  const seen = new Uint8Array(ch.uvCount);
  const loop = new Int32Array(ch.uvCount).fill(-1); // border: from a UV vertex to the next
  const starts: number[] = [];
  for (let face = 0; face < mesh.faceCount; face++) {
    if ((face & EVERY) === 0) pulse();
    const k = ch.ofFace[face];
    f[k]++;
    for (let c = mesh.faceStart[face]; c < mesh.faceStart[face + 1]; c++) {
      const u = ch.cornerUv[c];
      if (!seen[u]) {
        seen[u] = 1;
        v[k]++;
      }
      const edge = t.cornerEdge[c];
      if (ch.seam[edge]) {
        e[k] += 2;
        loop[u] = ch.cornerUv[nextCorner(mesh, face, c)];
        starts.push(u, k);
      } else e[k] += 1; // each inner edge is met twice
    }
  }
  const borders = new Int32Array(ch.count);
  const walked = new Uint8Array(ch.uvCount);
  for (let i = 0; i < starts.length; i += 2) {
    let u = starts[i];
    if (walked[u]) continue;
    borders[starts[i + 1]]++;
    while (u >= 0 && !walked[u]) {
      walked[u] = 1;
      u = loop[u];
    }
  }
  return Array.from({ length: ch.count }, (_, k) => ({ euler: v[k] - e[k] / 2 + f[k], borders: borders[k] }));
}

/** Marks as seams the edges between faces of the chosen charts that look along different axes. Held edges stay. */
export function partByDirection(mesh: Mesh, ch: Charts, chosen: Uint8Array, hold: ReadonlySet<number>): void {
  const t = topologyOf(mesh);
  const normals = facingOf(mesh);
  const look = (f: number) => {
    let best = 0;
    let most = -1;
    for (let k = 0; k < 3; k++)
      if (Math.abs(normals[3 * f + k]) > most + 1e-6) {
        most = Math.abs(normals[3 * f + k]);
        best = 2 * k + (normals[3 * f + k] < 0 ? 1 : 0);
      }
    return best;
  };
  for (let e = 0; e < t.edgeCount; e++) {
    if ((e & EVERY) === 0) pulse();
    if (ch.seam[e] || hold.has(e)) continue;
    const a = t.cornerFace[t.edgeCorner[t.edgeCornerStart[e]]];
    const b = t.cornerFace[t.edgeCorner[t.edgeCornerStart[e] + 1]];
    if (chosen[ch.ofFace[a]] && look(a) !== look(b)) ch.seam[e] = 1;
  }
}

/**
 * Links the border loops of one chart by shortest paths along edges, marked as seams, so that it can open out like a
 * sleeve.
 */
export function linkBorders(mesh: Mesh, ch: Charts, faces: ArrayLike<number>): void {
  const t = topologyOf(mesh);
  const p = mesh.positions;
  const border = new Map<number, number[]>();
  const inner = new Map<number, [number, number][]>();
  for (let i = 0; i < faces.length; i++) {
    if ((i & EVERY) === 0) pulse();
    const f = faces[i];
    for (let c = mesh.faceStart[f]; c < mesh.faceStart[f + 1]; c++) {
      const e = t.cornerEdge[c];
      const a = mesh.cornerVertex[c];
      const b = mesh.cornerVertex[nextCorner(mesh, f, c)];
      if (ch.seam[e]) {
        push(border, a, b);
        push(border, b, a);
      } else {
        push(inner, a, [b, e]);
        push(inner, b, [a, e]);
      }
    }
  }
  if (border.size === 0) return;
  // Border vertices by loop; then Dijkstra from the first loop to the nearest other one, until all are joined.
  const loop = new Map<number, number>();
  let loops = 0;
  for (const s of border.keys()) {
    if (loop.has(s)) continue;
    const stack = [s];
    loop.set(s, loops);
    while (stack.length)
      for (const n of border.get(stack.pop()!)!)
        if (!loop.has(n)) {
          loop.set(n, loops);
          stack.push(n);
        }
    loops++;
  }
  const joined = new Set<number>([0]);
  const from = new Set<number>([...loop].filter(([, l]) => l === 0).map(([v]) => v));
  while (joined.size < loops) {
    const dist = new Map<number, number>();
    const via = new Map<number, [number, number]>();
    const queue = new Queue();
    for (const v of from) {
      dist.set(v, 0);
      queue.push(v, 0);
    }
    let hit = -1;
    while (queue.size > 0) {
      const [v, d] = queue.pop();
      if (d > dist.get(v)!) continue;
      const l = loop.get(v);
      if (l !== undefined && !joined.has(l)) {
        hit = v;
        joined.add(l);
        break;
      }
      for (const [w, e] of inner.get(v) ?? []) {
        const nd = d + Math.hypot(p[3 * v] - p[3 * w], p[3 * v + 1] - p[3 * w + 1], p[3 * v + 2] - p[3 * w + 2]);
        if (nd < (dist.get(w) ?? Infinity)) {
          dist.set(w, nd);
          via.set(w, [v, e]);
          queue.push(w, nd);
        }
      }
    }
    if (hit < 0) return;
    for (const [v, l] of loop) if (l === loop.get(hit)) from.add(v);
    for (let v = hit; via.has(v);) {
      const [w, e] = via.get(v)!;
      ch.seam[e] = 1;
      from.add(v);
      v = w;
    }
  }
}

function push<T>(map: Map<number, T[]>, key: number, value: T): void {
  const list = map.get(key);
  if (list) list.push(value);
  else map.set(key, [value]);
}
