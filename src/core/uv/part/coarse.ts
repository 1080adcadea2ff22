/**
 * A surface with fewer faces, on which it is tried out where to part it: edges are drawn together one by one, cheapest
 * first, by how far that leads off the surface (quadric error metrics, Garland & Heckbert 1997), each to one of its
 * ends, as long as nothing turns over and what hangs together goes on hanging together as before (the link condition,
 * Dey et al. 1999). Edges that are cut or bend, ends of the surface among them, only become longer.
 */
import { EVERY, pulse } from '../../math/pulse';
import { UnionFind } from '../../math/unionfind';
import { Heap } from '../../math/heap';
import { Mesh } from '../../mesh/mesh';
import { topologyOf } from '../../mesh/topology';
import type { Parting } from '../flatten/patch';

const { max, min, sqrt } = Math;

export interface Coarse {
  mesh: Mesh;
  /** Face of `mesh` for each of the whole. */
  of: Int32Array;
  /** As they were given, by edge of `mesh`. */
  seam: Uint8Array;
  soft: Uint8Array;
  hold: Set<number>;
  weigh(edge: number): number;
}

export interface CoarseOptions {
  soft: Uint8Array;
  hold: ReadonlySet<number>;
  weigh(edge: number): number;
  /** Of the faces of parts that are made coarser, this share is left at least. */
  share: number;
  /** Parts of fewer faces are left as they are. */
  least: number;
}

const SEAM = 1;
const SOFT = 2;
const HELD = 4;

/** A face may turn by so much as it becomes larger, and no more (cosine). */
const TURNED = 0.3;
/** No needles: a height of a fiftieth of the length at least (the square of it). */
const NEEDLE = 4e-4;
/** Vertices have no more neighbours than this: wheels of slivers would be no help. */
const WHEEL = 14;
/** What is far is dear, if ever so flat: faces of one size are as good as few. */
const FAR = 1e-3;
/** Leaving a line that is cut or bends costs so much more than leaving the surface. */
const LINE = 4;
/** Numbers of a quadric: xx xy xz xw yy yz yw zz zw ww. */
const Q = 10;

/** Undefined where hardly anything would be gained. */
export function coarser(parting: Parting, o: CoarseOptions): Coarse | undefined {
  const may = largeParts(parting, o.least);
  if (!may) return undefined;
  const work = new Drawing(parting, o, may.vertex);
  const want = Math.ceil(may.faces * (1 - o.share));
  const gone = work.go(want);
  return gone * 2 < may.faces ? undefined : work.result();
}

/** Vertices of parts that have so many faces; undefined where there are none. */
function largeParts(parting: Parting, least: number): { vertex: Uint8Array; faces: number } | undefined {
  const { mesh, t } = parting;
  const parts = new UnionFind(mesh.vertexCount);
  for (let e = 0; e < t.edgeCount; e++) parts.join(t.edgeVertex[2 * e], t.edgeVertex[2 * e + 1]);
  const faces = new Uint32Array(mesh.vertexCount);
  for (let f = 0; f < mesh.faceCount; f++)
    faces[parts.find(mesh.cornerVertex[mesh.faceStart[f]])] += mesh.faceStart[f + 1] - mesh.faceStart[f] - 2;
  const vertex = new Uint8Array(mesh.vertexCount);
  let all = 0;
  for (let v = 0; v < vertex.length; v++) {
    const n = faces[parts.find(v)];
    if (n >= least) vertex[v] = 1;
    if (parts.find(v) === v && n >= least) all += n;
  }
  return all > 0 ? { vertex, faces: all } : undefined;
}

class Drawing {
  private readonly p: Float64Array;
  /** Corners of triangles, 3 each; gone ones are not alive. */
  private readonly corner: Int32Array;
  private readonly alive: Uint8Array;
  /** Corners at a vertex, as a chain. */
  private readonly head: Int32Array;
  private readonly after: Int32Array;
  private readonly quadric: Float64Array;
  /** Kinds of edges that are cut, bend or are held, by their ends. */
  private readonly lines = new Map<number, number>();
  /** How many of those meet at a vertex; many where it has to stay. */
  private readonly meet: Int32Array;
  /** The vertex that another is to be drawn to, what that costs, and how often this was asked. */
  private readonly to: Int32Array;
  private readonly asked: Int32Array;
  private readonly mark: Int32Array;
  private stamp = 0;
  private readonly heap: Heap;

  constructor(
    private readonly parting: Parting,
    private readonly o: CoarseOptions,
    private readonly may: Uint8Array,
  ) {
    const { mesh, t } = parting;
    const n = mesh.vertexCount;
    this.p = Float64Array.from(mesh.positions);
    this.corner = Int32Array.from(parting.triangles.corners, (c) => mesh.cornerVertex[c]);
    const count = this.corner.length / 3;
    this.alive = new Uint8Array(count).fill(1);
    this.head = new Int32Array(n).fill(-1);
    this.after = new Int32Array(3 * count).fill(-1);
    for (let k = 0; k < 3 * count; k++) {
      this.after[k] = this.head[this.corner[k]];
      this.head[this.corner[k]] = k;
    }
    this.quadric = new Float64Array(Q * n);
    this.meet = new Int32Array(n);
    this.to = new Int32Array(n).fill(-1);
    this.asked = new Int32Array(n);
    this.mark = new Int32Array(n);
    this.heap = new Heap(n);
    for (let e = 0; e < t.edgeCount; e++) {
      const kind = (parting.seam[e] ? SEAM : 0) | (o.soft[e] ? SOFT : 0) | (o.hold.has(e) ? HELD : 0);
      const sides = t.edgeCornerStart[e + 1] - t.edgeCornerStart[e];
      if (kind === 0 && sides === 2) continue;
      const [a, b] = [t.edgeVertex[2 * e], t.edgeVertex[2 * e + 1]];
      this.lines.set(this.name(a, b), kind);
      const many = sides > 2 ? 1000 : 1;
      this.meet[a] += many;
      this.meet[b] += many;
    }
    this.planes();
  }

  private name(a: number, b: number): number {
    return min(a, b) * this.head.length + max(a, b);
  }

  private planes(): void {
    const { corner, p } = this;
    for (let k = 0; k < corner.length; k += 3) {
      if ((k & EVERY) === 0) pulse();
      const [a, b, c] = [3 * corner[k], 3 * corner[k + 1], 3 * corner[k + 2]];
      const [ux, uy, uz] = [p[b] - p[a], p[b + 1] - p[a + 1], p[b + 2] - p[a + 2]];
      const [wx, wy, wz] = [p[c] - p[a], p[c + 1] - p[a + 1], p[c + 2] - p[a + 2]];
      const [x, y, z] = [uy * wz - uz * wy, uz * wx - ux * wz, ux * wy - uy * wx];
      const long = sqrt(x * x + y * y + z * z);
      if (!(long > 0)) continue;
      // By area: what is finely cut has no larger say.
      this.plane(a / 3, x / long, y / long, z / long, a, long);
      this.plane(b / 3, x / long, y / long, z / long, a, long);
      this.plane(c / 3, x / long, y / long, z / long, a, long);
    }
    for (const [name] of this.lines) {
      const [a, b] = [Math.floor(name / this.head.length), name % this.head.length];
      const d = [0, 1, 2].map((i) => p[3 * b + i] - p[3 * a + i]);
      const long = Math.hypot(...d);
      if (!(long > 0)) continue;
      // Two planes through the line, square to each other.
      const flat = d.map(Math.abs);
      const least = flat.indexOf(min(...flat));
      const e = [0, 0, 0];
      e[least] = 1;
      const n = [d[1] * e[2] - d[2] * e[1], d[2] * e[0] - d[0] * e[2], d[0] * e[1] - d[1] * e[0]];
      const nl = Math.hypot(...n);
      const m = [d[1] * n[2] - d[2] * n[1], d[2] * n[0] - d[0] * n[2], d[0] * n[1] - d[1] * n[0]];
      const ml = Math.hypot(...m);
      for (const v of [a, b]) {
        this.plane(v, n[0] / nl, n[1] / nl, n[2] / nl, 3 * a, LINE * long * long);
        this.plane(v, m[0] / ml, m[1] / ml, m[2] / ml, 3 * a, LINE * long * long);
      }
    }
  }

  private plane(v: number, x: number, y: number, z: number, at: number, weight: number): void {
    const { p, quadric: q } = this;
    const w = -(x * p[at] + y * p[at + 1] + z * p[at + 2]);
    const i = Q * v;
    q[i] += weight * x * x;
    q[i + 1] += weight * x * y;
    q[i + 2] += weight * x * z;
    q[i + 3] += weight * x * w;
    q[i + 4] += weight * y * y;
    q[i + 5] += weight * y * z;
    q[i + 6] += weight * y * w;
    q[i + 7] += weight * z * z;
    q[i + 8] += weight * z * w;
    q[i + 9] += weight * w * w;
  }

  /** What it costs to draw a vertex to another. */
  private cost(v: number, w: number): number {
    const { p, quadric: q } = this;
    const i = Q * v;
    const [x, y, z] = [p[3 * w], p[3 * w + 1], p[3 * w + 2]];
    const [dx, dy, dz] = [x - p[3 * v], y - p[3 * v + 1], z - p[3 * v + 2]];
    const off =
      x * (q[i] * x + 2 * (q[i + 1] * y + q[i + 2] * z + q[i + 3])) +
      y * (q[i + 4] * y + 2 * (q[i + 5] * z + q[i + 6])) +
      z * (q[i + 7] * z + 2 * q[i + 8]) +
      q[i + 9];
    const far = dx * dx + dy * dy + dz * dz;
    return max(0, off) + FAR * far * far;
  }

  /** Draws so many faces away, or as many as can be; answers how many. */
  go(want: number): number {
    const n = this.head.length;
    for (let v = 0; v < n; v++) if (this.may[v] === 1) this.ask(v);
    let gone = 0;
    let tried = 0;
    while (gone < want && this.heap.size > 0) {
      if ((++tried & EVERY) === 0) pulse();
      const v = this.heap.pop();
      const w = this.to[v];
      if (w < 0) continue;
      const took = this.draw(v, w);
      if (took === 0) this.ask(v, true);
      gone += took;
    }
    return gone;
  }

  /** Neighbours of v into `ring`, marked by a new stamp; answers how many. */
  private ring(v: number, ring: number[]): number {
    const { corner, after, head, mark } = this;
    const stamp = ++this.stamp;
    ring.length = 0;
    mark[v] = stamp;
    for (let k = head[v]; k >= 0; k = after[k]) {
      const t = k - (k % 3);
      for (let i = t; i < t + 3; i++) {
        const w = corner[i];
        if (mark[w] === stamp) continue;
        mark[w] = stamp;
        ring.push(w);
      }
    }
    return ring.length;
  }

  private readonly round: number[] = [];
  private readonly other: number[] = [];
  private readonly touched: number[] = [];
  /** Those that a vertex could not be drawn to, since it was looked at anew. */
  private readonly barred = new Map<number, Set<number>>();

  /** Looks for the cheapest neighbour to draw a vertex to. `again`: not the one it was to go to. */
  private ask(v: number, again = false): void {
    const { meet, round } = this;
    let barred = this.barred.get(v);
    if (again) {
      if (!barred) this.barred.set(v, (barred = new Set()));
      barred.add(this.to[v]);
    } else if (barred) {
      this.barred.delete(v);
      barred = undefined;
    }
    this.to[v] = -1;
    if (meet[v] !== 0 && meet[v] !== 2) return;
    this.ring(v, round);
    let best = Infinity;
    for (const w of round) {
      if (barred?.has(w)) continue;
      if (meet[v] === 2 && !this.lines.has(this.name(v, w))) continue;
      const c = this.cost(v, w);
      if (c < best) {
        best = c;
        this.to[v] = w;
      }
    }
    if (this.to[v] >= 0) this.heap.put(v, best);
    else this.heap.drop(v);
  }

  /** Draws v to w, where that can be; answers how many faces are gone by it. */
  private draw(v: number, w: number): number {
    const { corner, after, head, alive, mark, round, other } = this;
    // Who is next to both has to be across the faces between them, and nobody else.
    const wide = this.ring(w, other);
    const narrow = this.ring(v, round);
    const ofV = this.stamp;
    let both = 0;
    for (const x of other) if (mark[x] === ofV && x !== v) both++;
    let between = 0;
    for (let k = head[v]; k >= 0; k = after[k]) if (this.has(k, w)) between++;
    // Each of them is in the ring of the other.
    const ends = narrow + wide - 2 - both;
    if (both !== between || between === 0 || between > 2 || ends > WHEEL) return 0;
    if (!this.keepsUp(v, w) || !this.linesFollow(v, w)) return 0;
    let gone = 0;
    for (let k = head[v]; k >= 0;) {
      const next = after[k];
      if (this.has(k, w)) {
        const t = k - (k % 3);
        alive[t / 3] = 0;
        gone++;
        for (let i = t; i < t + 3; i++) if (i !== k) this.unchain(corner[i], i);
      } else {
        corner[k] = w;
        after[k] = head[w];
        head[w] = k;
      }
      k = next;
    }
    head[v] = -1;
    for (let i = 0; i < Q; i++) this.quadric[Q * w + i] += this.quadric[Q * v + i];
    this.to[v] = -1;
    // `ask` makes its own rings: what is to be asked is taken along.
    const { touched } = this;
    touched.length = 0;
    for (const x of round) touched.push(x);
    for (const x of touched) if (this.may[x] === 1) this.ask(x);
    return gone;
  }

  /** Whether the triangle of a corner has a vertex. */
  private has(k: number, v: number): boolean {
    const { corner } = this;
    const t = k - (k % 3);
    return corner[t] === v || corner[t + 1] === v || corner[t + 2] === v;
  }

  /**
   * What bends or is cut at v is at w from now on. Not where a line would come to lie on another, or change its kind.
   */
  private linesFollow(v: number, w: number): boolean {
    if (this.meet[v] === 0) return true;
    const { lines, round } = this;
    const line = lines.get(this.name(v, w));
    for (const x of round) {
      const kind = x === w ? undefined : lines.get(this.name(v, x));
      if (kind !== undefined && (kind !== line || lines.has(this.name(w, x)))) return false;
    }
    lines.delete(this.name(v, w));
    for (const x of round) {
      const kind = lines.get(this.name(v, x));
      if (kind === undefined) continue;
      lines.delete(this.name(v, x));
      lines.set(this.name(w, x), kind);
    }
    return true;
  }

  private unchain(v: number, k: number): void {
    const { head, after } = this;
    if (head[v] === k) {
      head[v] = after[k];
      return;
    }
    for (let i = head[v]; i >= 0; i = after[i])
      if (after[i] === k) {
        after[i] = after[k];
        return;
      }
  }

  /** Whether no face at v turns over, or loses its area, as v comes to lie where w is. */
  private keepsUp(v: number, w: number): boolean {
    const { corner, after, head, p } = this;
    for (let k = head[v]; k >= 0; k = after[k]) {
      if (this.has(k, w)) continue;
      const i = k % 3;
      const t = k - i;
      const [b, c] = [3 * corner[t + ((i + 1) % 3)], 3 * corner[t + ((i + 2) % 3)]];
      const [ex, ey, ez] = [p[c] - p[b], p[c + 1] - p[b + 1], p[c + 2] - p[b + 2]];
      const [ux, uy, uz] = [p[3 * v] - p[b], p[3 * v + 1] - p[b + 1], p[3 * v + 2] - p[b + 2]];
      const [dx, dy, dz] = [p[3 * w] - p[b], p[3 * w + 1] - p[b + 1], p[3 * w + 2] - p[b + 2]];
      const [x0, y0, z0] = [ey * uz - ez * uy, ez * ux - ex * uz, ex * uy - ey * ux];
      const [x1, y1, z1] = [ey * dz - ez * dy, ez * dx - ex * dz, ex * dy - ey * dx];
      const before = x0 * x0 + y0 * y0 + z0 * z0;
      const now = x1 * x1 + y1 * y1 + z1 * z1;
      const long = max(ex * ex + ey * ey + ez * ez, dx * dx + dy * dy + dz * dz);
      if (!(now > NEEDLE * long * long)) return false;
      if (before > 0 && !(x0 * x1 + y0 * y1 + z0 * z1 > TURNED * sqrt(before * now))) return false;
    }
    return true;
  }

  result(): Coarse {
    const { mesh, t, triangles } = this.parting;
    const number = new Int32Array(this.head.length).fill(-1);
    const vertices: number[] = [];
    const corners: number[] = [];
    const of = new Int32Array(mesh.faceCount).fill(-1);
    let faces = 0;
    for (let k = 0; k < this.alive.length; k++) {
      if (!this.alive[k]) continue;
      for (let i = 0; i < 3; i++) {
        const v = this.corner[3 * k + i];
        if (number[v] < 0) number[v] = vertices.push(v) - 1;
        corners.push(number[v]);
      }
      const f = triangles.face[k];
      if (of[f] < 0) of[f] = faces;
      faces++;
    }
    spread(this.parting, of);
    const positions = new Float32Array(3 * vertices.length);
    vertices.forEach((v, i) => positions.set(mesh.positions.subarray(3 * v, 3 * v + 3), 3 * i));
    const small = new Mesh({
      positions,
      faceStart: Uint32Array.from({ length: faces + 1 }, (_, f) => 3 * f),
      cornerVertex: Uint32Array.from(corners),
      vertexKey: Float64Array.from(vertices.keys(), (v) => v + 1),
      faceKey: Float64Array.from({ length: faces }, (_, f) => f + 1),
    });
    // What it is worth to be cut, per length, by vertex: as round about it before.
    const worth = new Float64Array(mesh.vertexCount);
    const long = new Float64Array(mesh.vertexCount);
    for (let e = 0; e < t.edgeCount; e++) {
      const [a, b] = [t.edgeVertex[2 * e], t.edgeVertex[2 * e + 1]];
      const [w, l] = [this.o.weigh(e), this.distance(a, b)];
      worth[a] += w;
      worth[b] += w;
      long[a] += l;
      long[b] += l;
    }
    const ts = topologyOf(small);
    const seam = new Uint8Array(ts.edgeCount);
    const soft = new Uint8Array(ts.edgeCount);
    const hold = new Set<number>();
    const cost = new Float64Array(ts.edgeCount);
    for (let e = 0; e < ts.edgeCount; e++) {
      if ((e & EVERY) === 0) pulse();
      const [a, b] = [vertices[ts.edgeVertex[2 * e]], vertices[ts.edgeVertex[2 * e + 1]]];
      const kind = this.lines.get(this.name(a, b)) ?? 0;
      if (kind & SEAM || ts.edgeCornerStart[e + 1] - ts.edgeCornerStart[e] !== 2) seam[e] = 1;
      if (kind & SOFT) soft[e] = 1;
      if (kind & HELD) hold.add(e);
      const each = (v: number): number => (long[v] > 0 ? worth[v] / long[v] : 1);
      cost[e] = (this.distance(a, b) * (each(a) + each(b))) / 2;
    }
    return { mesh: small, of, seam, soft, hold, weigh: (e) => cost[e] };
  }

  private distance(a: number, b: number): number {
    const { p } = this;
    return sqrt((p[3 * a] - p[3 * b]) ** 2 + (p[3 * a + 1] - p[3 * b + 1]) ** 2 + (p[3 * a + 2] - p[3 * b + 2]) ** 2);
  }
}

/**
 * Faces that have none of their own get that of the nearest beside them, over seams only where there is no other way.
 */
function spread(parting: Parting, of: Int32Array): void {
  const { mesh, t } = parting;
  const queue = new Int32Array(mesh.faceCount);
  for (const over of [false, true]) {
    let write = 0;
    for (let f = 0; f < of.length; f++) if (of[f] >= 0) queue[write++] = f;
    for (let read = 0; read < write; read++) {
      const f = queue[read];
      for (let c = mesh.faceStart[f]; c < mesh.faceStart[f + 1]; c++) {
        const e = t.cornerEdge[c];
        if (!over && parting.seam[e]) continue;
        for (let k = t.edgeCornerStart[e]; k < t.edgeCornerStart[e + 1]; k++) {
          const g = t.cornerFace[t.edgeCorner[k]];
          if (of[g] >= 0) continue;
          of[g] = of[f];
          queue[write++] = g;
        }
      }
    }
    if (write === of.length) return;
  }
}
