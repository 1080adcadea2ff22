/** Chains of edges, end to end: put on a line, spaced evenly, brought to a circle, slid along what crosses them. */
import { axisIndex, type Axis } from '../math/affine';
import { frameOf } from '../math/fit';
import { along, apart, at, between, dot, minus, unit, type Vector } from '../math/vector';
import type { Mesh } from '../mesh/mesh';
import { nextCorner, previousCorner, topologyOf } from '../mesh/topology';
import { type PickKind } from '../mesh/picks';
import { convert } from '../mesh/walks';

export interface Chain {
  /** In order; of a closed one the first is not repeated. */
  vertices: number[];
  closed: boolean;
}

/**
 * Chains of picked edges; they end where more than two of them meet. From the lowest end, so the same however edges are
 * numbered.
 */
export function chainsOf(mesh: Mesh, edges: ArrayLike<number>): Chain[] {
  const t = topologyOf(mesh);
  const beside = new Map<number, { edge: number; to: number }[]>();
  const add = (v: number, edge: number, to: number) => {
    const list = beside.get(v);
    if (list) list.push({ edge, to });
    else beside.set(v, [{ edge, to }]);
  };
  for (let i = 0; i < edges.length; i++) {
    const [a, b] = [t.edgeVertex[2 * edges[i]], t.edgeVertex[2 * edges[i] + 1]];
    add(a, edges[i], b);
    add(b, edges[i], a);
  }
  const done = new Set<number>();
  const out: Chain[] = [];
  const walk = (from: number): void => {
    for (const first of beside.get(from)!) {
      if (done.has(first.edge)) continue;
      done.add(first.edge);
      const vertices = [from, first.to];
      for (let v = first.to; ;) {
        const list = beside.get(v)!;
        const next = list.length === 2 ? list.find((x) => !done.has(x.edge)) : undefined;
        if (!next) break;
        done.add(next.edge);
        vertices.push(next.to);
        v = next.to;
      }
      const closed = vertices.length > 3 && vertices[0] === vertices[vertices.length - 1];
      if (closed) vertices.pop();
      out.push({ vertices, closed });
    }
  };
  const ends = [...beside.keys()].sort((a, b) => a - b);
  for (const v of ends) if (beside.get(v)!.length !== 2) walk(v);
  for (const v of ends) walk(v);
  return out;
}

/** The chains that a pick means: its edges; of vertices the edges between them; of faces the border round them. */
export function chainsOfPick(mesh: Mesh, kind: PickKind, indices: ArrayLike<number>): Chain[] {
  if (kind === 'edge') return chainsOf(mesh, indices);
  if (kind === 'vertex') return chainsOf(mesh, convert(mesh, 'vertex', indices, 'edge'));
  return chainsOf(mesh, borderOf(mesh, indices));
}

/** Edges with one of these faces on one side only. */
export function borderOf(mesh: Mesh, faces: ArrayLike<number>): number[] {
  const t = topologyOf(mesh);
  const times = new Map<number, number>();
  for (let i = 0; i < faces.length; i++)
    for (let c = mesh.faceStart[faces[i]]; c < mesh.faceStart[faces[i] + 1]; c++)
      times.set(t.cornerEdge[c], (times.get(t.cornerEdge[c]) ?? 0) + 1);
  return [...times.keys()].filter((e) => times.get(e) === 1).sort((a, b) => a - b);
}

function put(mesh: Mesh, places: ReadonlyMap<number, Vector>): Mesh {
  const positions = mesh.positions.slice();
  for (const [v, p] of places) positions.set(p, 3 * v);
  return mesh.moved(positions, [...places.keys()]);
}

/** How far along a chain each vertex is, metres; the whole length last. */
function lengthsOf(mesh: Mesh, { vertices, closed }: Chain): number[] {
  const out = [0];
  const n = vertices.length;
  for (let i = 1; i < n + (closed ? 1 : 0); i++)
    out.push(out[i - 1] + apart(at(mesh.positions, vertices[i - 1]), at(mesh.positions, vertices[i % n])));
  return out;
}

/** Open chains onto the line between their ends; with `even`, evenly spaced on it. Closed ones onto their own plane. */
export function straighten(mesh: Mesh, chains: readonly Chain[], even: boolean): Mesh {
  const places = new Map<number, Vector>();
  for (const chain of chains) {
    const { vertices, closed } = chain;
    if (closed) {
      const { centre, axes } = frameOf(vertices.map((v) => at(mesh.positions, v)));
      for (const v of vertices) {
        const p = at(mesh.positions, v);
        places.set(v, along(p, axes[2], -dot(minus(p, centre), axes[2])));
      }
      continue;
    }
    const a = at(mesh.positions, vertices[0]);
    const b = at(mesh.positions, vertices[vertices.length - 1]);
    const lengths = lengthsOf(mesh, chain);
    const whole = lengths[lengths.length - 1];
    for (let i = 1; i < vertices.length - 1; i++) {
      const share = even || !(whole > 0) ? i / (vertices.length - 1) : lengths[i] / whole;
      places.set(vertices[i], between(a, b, share));
    }
  }
  return put(mesh, places);
}

/** Vertices at equal distances along the chain as it runs. */
export function spaceEvenly(mesh: Mesh, chains: readonly Chain[]): Mesh {
  const places = new Map<number, Vector>();
  for (const chain of chains) {
    const { vertices, closed } = chain;
    const lengths = lengthsOf(mesh, chain);
    const whole = lengths[lengths.length - 1];
    const parts = closed ? vertices.length : vertices.length - 1;
    let k = 0;
    for (let i = 1; i < parts; i++) {
      const want = (whole * i) / parts;
      while (k + 2 < lengths.length && lengths[k + 1] < want) k++;
      const span = lengths[k + 1] - lengths[k];
      const a = at(mesh.positions, vertices[k]);
      const b = at(mesh.positions, vertices[(k + 1) % vertices.length]);
      places.set(vertices[i], between(a, b, span > 0 ? (want - lengths[k]) / span : 0));
    }
  }
  return put(mesh, places);
}

/**
 * Closed chains to circles round their middle in the plane that fits them, at equal turns from where the first is; open
 * ones to arcs of the circle through their ends and, as near as can be, the rest. `radius` in metres, 0 for the mean of
 * what it is.
 */
export function toCircle(mesh: Mesh, chains: readonly Chain[], radius: number, share: number): Mesh {
  const places = new Map<number, Vector>();
  for (const { vertices, closed } of chains) {
    if (vertices.length < 3) continue;
    const points = vertices.map((v) => at(mesh.positions, v));
    const { centre, axes } = frameOf(points);
    const flat = points.map((p) => [dot(minus(p, centre), axes[0]), dot(minus(p, centre), axes[1])]);
    const goal = closed ? circleOf(flat, radius) : arcOf(flat);
    vertices.forEach((v, i) => {
      const to = along(along(centre, axes[0], goal[i][0]), axes[1], goal[i][1]);
      places.set(v, between(points[i], to, share));
    });
  }
  return put(mesh, places);
}

function circleOf(flat: readonly number[][], radius: number): number[][] {
  const n = flat.length;
  const r = radius > 0 ? radius : flat.reduce((s, [x, y]) => s + Math.hypot(x, y), 0) / n;
  let area = 0;
  for (let i = 0; i < n; i++) {
    const [a, b] = [flat[i], flat[(i + 1) % n]];
    area += a[0] * b[1] - a[1] * b[0];
  }
  const way = area < 0 ? -1 : 1;
  // The turn at which all are least far from where they were: the mean of what each asks for.
  let s = 0;
  let c = 0;
  flat.forEach(([x, y], i) => {
    const a = Math.atan2(y, x) - (way * 2 * Math.PI * i) / n;
    s += Math.sin(a);
    c += Math.cos(a);
  });
  const first = Math.atan2(s, c);
  return flat.map((_, i) => {
    const a = first + (way * 2 * Math.PI * i) / n;
    return [r * Math.cos(a), r * Math.sin(a)];
  });
}

/** The arc through both ends that is as high as the chain is on the mean; straight where it has no height. */
function arcOf(flat: readonly number[][]): number[][] {
  const n = flat.length;
  const [a, b] = [flat[0], flat[n - 1]];
  const d = [b[0] - a[0], b[1] - a[1]];
  const l = Math.hypot(d[0], d[1]);
  if (!(l > 0)) return circleOf(flat, 0);
  const [u, w] = [
    [d[0] / l, d[1] / l],
    [-d[1] / l, d[0] / l],
  ];
  let height = 0;
  for (const p of flat) {
    const h = (p[0] - a[0]) * w[0] + (p[1] - a[1]) * w[1];
    if (Math.abs(h) > Math.abs(height)) height = h;
  }
  if (Math.abs(height) < 1e-9 * l)
    return flat.map((_, i) => [a[0] + (d[0] * i) / (n - 1), a[1] + (d[1] * i) / (n - 1)]);
  // Sagitta: r = (l² / 4 + h²) / 2h, from the chord's middle r − h below it.
  const r = (l * l) / 8 / height + height / 2;
  const c = [a[0] + d[0] / 2 + w[0] * (height - r), a[1] + d[1] / 2 + w[1] * (height - r)];
  const start = Math.atan2((a[0] - c[0]) * w[0] + (a[1] - c[1]) * w[1], (a[0] - c[0]) * u[0] + (a[1] - c[1]) * u[1]);
  const end = Math.atan2((b[0] - c[0]) * w[0] + (b[1] - c[1]) * w[1], (b[0] - c[0]) * u[0] + (b[1] - c[1]) * u[1]);
  let turn = end - start;
  if (height > 0 && turn > 0) turn -= 2 * Math.PI;
  if (height < 0 && turn < 0) turn += 2 * Math.PI;
  const size = Math.abs(r);
  return flat.map((_, i) => {
    const x = start + (turn * i) / (n - 1);
    const [p, q] = [size * Math.cos(x), size * Math.sin(x)];
    return [c[0] + u[0] * p + w[0] * q, c[1] + u[1] * p + w[1] * q];
  });
}

/**
 * Slid along the edges that cross a chain, by a share of each, towards its left side (over 0) or its right. Left is as
 * one goes along the chain looking at its faces from outside; a chain goes the way of the axis it runs along most, so
 * that neither numbering nor earlier moves turn it round.
 */
export function slide(mesh: Mesh, chains: readonly Chain[], share: number): Mesh {
  const t = topologyOf(mesh);
  const p = mesh.positions;
  const places = new Map<number, Vector>();
  for (const chain of chains) {
    const ring = runsBackwards(mesh, chain) ? { ...chain, vertices: [...chain.vertices].reverse() } : chain;
    const n = ring.vertices.length;
    ring.vertices.forEach((v, i) => {
      const next = ring.closed ? ring.vertices[(i + 1) % n] : ring.vertices[i + 1];
      const before = ring.closed ? ring.vertices[(i + n - 1) % n] : ring.vertices[i - 1];
      const goals: Vector[] = [];
      for (let q = t.vertexCornerStart[v]; q < t.vertexCornerStart[v + 1]; q++) {
        const c = t.vertexCorner[q];
        const f = t.cornerFace[c];
        const a = mesh.cornerVertex[nextCorner(mesh, f, c)];
        const b = mesh.cornerVertex[previousCorner(mesh, f, c)];
        // A face that the chain goes along has its own inside on the left; the edge that leaves it there is the one to
        // slide on.
        if (share > 0 && a === next && b !== before) goals.push(at(p, b));
        if (share > 0 && b === before && a !== next) goals.push(at(p, a));
        if (share < 0 && b === next && a !== before) goals.push(at(p, a));
        if (share < 0 && a === before && b !== next) goals.push(at(p, b));
      }
      if (goals.length === 0) return;
      const to: Vector = [0, 0, 0];
      for (const g of goals) for (let k = 0; k < 3; k++) to[k] += g[k] / goals.length;
      places.set(v, between(at(p, v), to, Math.min(0.999, Math.abs(share))));
    });
  }
  return put(mesh, places);
}

/**
 * Each vertex along that of its edges which runs most along an axis (against it for a share below 0), by a share of its
 * length.
 */
export function slideVertices(mesh: Mesh, vertices: ArrayLike<number>, axis: Axis, share: number): Mesh {
  const t = topologyOf(mesh);
  const { positions: p, cornerVertex: cv } = mesh;
  const k = axisIndex(axis);
  const sign = share < 0 ? -1 : 1;
  const places = new Map<number, Vector>();
  for (let i = 0; i < vertices.length; i++) {
    const v = vertices[i];
    let most = 1e-6;
    let to = -1;
    for (let q = t.vertexCornerStart[v]; q < t.vertexCornerStart[v + 1]; q++) {
      const c = t.vertexCorner[q];
      const f = t.cornerFace[c];
      for (const w of [cv[nextCorner(mesh, f, c)], cv[previousCorner(mesh, f, c)]]) {
        const d = sign * unit(minus(at(p, w), at(p, v)))[k];
        // The lower number where two run alike: the same answer however corners are ordered.
        if (d > most + 1e-9 || (d > most - 1e-9 && w < to)) [most, to] = [d, w];
      }
    }
    if (to >= 0) places.set(v, between(at(p, v), at(p, to), Math.min(0.999, Math.abs(share))));
  }
  return put(mesh, places);
}

function runsBackwards(mesh: Mesh, { vertices, closed }: Chain): boolean {
  const { at: places } = mesh.places;
  const get = (v: number): Vector => [places[4 * v], places[4 * v + 1], places[4 * v + 2]];
  if (!closed) {
    const d = unit(minus(get(vertices[vertices.length - 1]), get(vertices[0])));
    const most = [0, 1, 2].reduce((m, k) => (Math.abs(d[k]) > Math.abs(d[m]) + 1e-6 ? k : m), 0);
    return d[most] < 0;
  }
  // Round an axis: counter-clockwise seen against the axis that it goes round most.
  const sum: Vector = [0, 0, 0];
  vertices.forEach((v, i) => {
    const a = get(v);
    const b = get(vertices[(i + 1) % vertices.length]);
    sum[0] += a[1] * b[2] - a[2] * b[1];
    sum[1] += a[2] * b[0] - a[0] * b[2];
    sum[2] += a[0] * b[1] - a[1] * b[0];
  });
  const most = [0, 1, 2].reduce((m, k) => (Math.abs(sum[k]) > Math.abs(sum[m]) + 1e-6 ? k : m), 0);
  return sum[most] < 0;
}
