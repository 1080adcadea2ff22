/**
 * Borders between patches drawn straight: each run of a border, from where three patches meet to the next such place,
 * is laid anew along the edges near it that cost least, where turning costs as well as going. How much a line of edges
 * turns at a vertex is told by the angles on its two sides (Polthier & Schmies 1998): along a loop of quads it does
 * not turn, however the loop bends in space. So borders follow loops where there are some, and are not jagged where
 * there are none.
 */
import { Queue } from '../../math/queue';
import { pulse } from '../../math/pulse';
import type { Parting } from '../flatten/patch';

const { PI, abs, cos, max, min, round } = Math;

export interface Straightening {
  /** What it costs to cut an edge. */
  weigh(edge: number): number;
  /** Edges that borders keep to. */
  firm: Uint8Array;
  /** Edges that may not be cut. */
  hold: ReadonlySet<number>;
  /** How many edges long a way round may be that spares a right-angled turn. */
  straight: number;
  /** So many edges to either side of where a border runs it may run afterwards. */
  wide: number;
  /** Labels of tubes, the borders of which run round them. */
  tubes?: ReadonlySet<number>;
}

/**
 * Edges that a right-angled turn is worth where all is to be as straight as may be, and how far to either side a border
 * may go. Of a coral of 28,000 faces in 107 islands the borders turn half as much as without; with 8 edges for a turn,
 * or 6 to either side, a tenth more islands.
 */
export const STRAIGHTEST = 8;
export const WIDE = 4;

/**
 * Of a border longer than so many edges such a share is how far it may go on quads: across their grid it is as long by
 * any steps, and has least corners in few large ones, or in one. Ten bodies of quads come to 95 islands in place of 123
 * by it, and a sphere of 15,000 faces to 4 for 9, whose borders were saw teeth; of triangles they come to more.
 */
const SHARE = 0.12;
const LONG = 40;

/** A border that runs in itself is laid so often, each time but for a short part elsewhere. */
const ROUNDS = 4;

/** Of shorter borders nothing is gained. */
const SHORT = 3;

/**
 * Corners, each the half edge that begins there, one after the other; a patch on their left, another on their right.
 */
type Line = number[];

/** So many edges to either side, and not where other vertices are nearer. */
interface Near {
  wide: number;
  apart: readonly number[];
}

/** No vertex comes twice. */
const isSimple = (line: Line, vertex: ArrayLike<number>): boolean =>
  new Set(line.map((c) => vertex[c])).size === line.length;

/** Draws borders straight, all at first, and then those that are new. Relabels faces near them. */
export class StraightBorders {
  /** Of each vertex: borders, seams and open edges that end there. */
  private readonly ends: Int32Array;
  /** Angle at each corner, as asked for; NaN before. */
  private readonly angle: Float64Array;
  private readonly cost: Float64Array;
  private readonly back: Int32Array;
  private readonly stampOf: Int32Array;
  private readonly near: Int32Array;
  private readonly face: Int32Array;
  private readonly edge: Int32Array;
  private readonly given: Int32Array;
  private stamp = 0;

  constructor(
    private readonly parting: Parting,
    private readonly o: Straightening,
  ) {
    const { mesh, t } = parting;
    this.ends = new Int32Array(mesh.vertexCount);
    this.angle = new Float64Array(mesh.cornerCount).fill(NaN);
    this.cost = new Float64Array(mesh.cornerCount);
    this.back = new Int32Array(mesh.cornerCount);
    this.stampOf = new Int32Array(mesh.cornerCount);
    this.near = new Int32Array(mesh.vertexCount);
    this.face = new Int32Array(mesh.faceCount);
    this.edge = new Int32Array(t.edgeCount);
    this.given = new Int32Array(mesh.faceCount);
    for (let e = 0; e < t.edgeCount; e++)
      if (this.isBorder(e)) {
        this.ends[t.edgeVertex[2 * e]]++;
        this.ends[t.edgeVertex[2 * e + 1]]++;
      }
  }

  all(): void {
    this.each(this.parting.mesh.cornerVertex.keys());
  }

  /** Some faces, one patch until now, were parted in two. */
  parted(faces: ArrayLike<number>): void {
    const { mesh, t, label } = this.parting;
    const corners: number[] = [];
    const own = ++this.stamp;
    for (let i = 0; i < faces.length; i++) this.face[faces[i]] = own;
    for (let i = 0; i < faces.length; i++)
      for (let c = mesh.faceStart[faces[i]]; c < mesh.faceStart[faces[i] + 1]; c++) {
        const o = this.parting.across(c);
        if (o < c || label[t.cornerFace[o]] === label[faces[i]] || this.face[t.cornerFace[o]] !== own) continue;
        corners.push(c);
        this.ends[mesh.cornerVertex[c]]++;
        this.ends[mesh.cornerVertex[this.parting.next(c)]]++;
      }
    this.each(corners);
  }

  /** A cut that is to be made within one patch, as it is best laid between the same ends; told of as made. */
  way(edges: readonly number[]): readonly number[] {
    const { mesh, t, label } = this.parting;
    const line = this.lineOf(edges);
    const own = line && label[t.cornerFace[line[0]]];
    let found: Line | undefined;
    if (line && own !== undefined && line.length >= SHORT && this.o.straight > 0) {
      let mean = 0;
      for (const e of edges) mean += this.o.weigh(e) / edges.length;
      const vertices = [...line.map((c) => mesh.cornerVertex[c]), mesh.cornerVertex[this.parting.next(line.at(-1)!)]];
      const other = this.cheapest(vertices, { wide: this.o.wide, apart: [] }, own, own, mean);
      if (other && this.costOf(other, mean) < this.costOf(line, mean) && isSimple(other, mesh.cornerVertex))
        found = other;
    }
    const made = found ? found.map((c) => t.cornerEdge[c]) : edges;
    for (const e of made) {
      this.ends[t.edgeVertex[2 * e]]++;
      this.ends[t.edgeVertex[2 * e + 1]]++;
    }
    return made;
  }

  /** A cut that was told of as made is none any more. */
  takenBack(edges: readonly number[]): void {
    const { t } = this.parting;
    for (const e of edges) {
      this.ends[t.edgeVertex[2 * e]]--;
      this.ends[t.edgeVertex[2 * e + 1]]--;
    }
  }

  /** Edges one after another as half edges. */
  private lineOf(edges: readonly number[]): Line | undefined {
    const { mesh, t } = this.parting;
    if (edges.length < 2) return undefined;
    const ends = (e: number): [number, number] => [t.edgeVertex[2 * e], t.edgeVertex[2 * e + 1]];
    let [at, other] = ends(edges[0]);
    if (ends(edges[1]).includes(at)) [at, other] = [other, at];
    const out: Line = [];
    for (const e of edges) {
      const s = t.edgeCornerStart[e];
      const c = mesh.cornerVertex[t.edgeCorner[s]] === at ? t.edgeCorner[s] : t.edgeCorner[s + 1];
      if (mesh.cornerVertex[c] !== at) return undefined;
      out.push(c);
      at = mesh.cornerVertex[this.parting.next(c)];
    }
    return out;
  }

  private each(corners: Iterable<number>): void {
    if (!(this.o.straight > 0)) return;
    for (const { line, closed } of this.lines(corners)) {
      pulse();
      if (closed) this.straightenRing(line);
      else this.straighten(line);
    }
  }

  /** A seam, an open edge, or one between two patches. */
  private isBorder(e: number): boolean {
    const { t, seam, label } = this.parting;
    const s = t.edgeCornerStart[e];
    if (seam[e] || t.edgeCornerStart[e + 1] - s !== 2) return true;
    return label[t.cornerFace[t.edgeCorner[s]]] !== label[t.cornerFace[t.edgeCorner[s + 1]]];
  }

  /** The half edge that begins at a corner is part of a border that may be moved. */
  private movable(c: number): boolean {
    const { t, label } = this.parting;
    const e = t.cornerEdge[c];
    const other = this.parting.across(c);
    return other >= 0 && this.o.firm[e] === 0 && label[t.cornerFace[other]] !== label[t.cornerFace[c]];
  }

  /** Borders that may be moved, by any of their corners, the longest first. */
  private lines(corners: Iterable<number>): { line: Line; closed: boolean }[] {
    const { t } = this.parting;
    const done = new Uint8Array(t.edgeCount);
    const out: { line: Line; closed: boolean }[] = [];
    const look = (first: number): void => {
      if (done[t.cornerEdge[first]] || !this.movable(first)) return;
      done[t.cornerEdge[first]] = 1;
      const on: Line = [first];
      let closed = false;
      for (let c = this.goesOn(first); c >= 0; c = this.goesOn(c)) {
        closed = c === first;
        if (closed || done[t.cornerEdge[c]]) break;
        done[t.cornerEdge[c]] = 1;
        on.push(c);
      }
      const before: Line = [];
      if (!closed)
        for (let c = this.cameFrom(first); c >= 0 && !done[t.cornerEdge[c]]; c = this.cameFrom(c)) {
          done[t.cornerEdge[c]] = 1;
          before.push(c);
        }
      out.push({ line: [...before.reverse(), ...on], closed });
    };
    for (const c of corners) look(c);
    return out
      .filter(({ line }) => line.length >= SHORT)
      .sort((a, b) => b.line.length - a.line.length || a.line[0] - b.line[0]);
  }

  /** A border that runs in itself: most of it, from where it was straightest; then from the other side. */
  private straightenRing(line: Line): void {
    if (line.length < 2 * SHORT) return;
    if (this.isRoundTube(line[0])) {
      this.straightenRound(line);
      return;
    }
    let ring = this.fromStraightest(line);
    for (let round = 0; round < ROUNDS; round++) {
      // Not so far to either side that it could come round the wrong way, along the part that stays.
      const rest = ring.length >> 2;
      const wide = min(this.o.wide, (rest >> 1) - 1);
      if (wide < 1) return;
      const end = ring.length - rest;
      ring = [...this.straighten(ring.slice(0, end), wide), ...ring.slice(end)];
      ring = [...ring.slice(ring.length >> 1), ...ring.slice(0, ring.length >> 1)];
    }
  }

  /**
   * One round a tube, as far to either side as any border: what is nearer to the part that stays is not gone over.
   * Elsewhere rings are mostly at bends, where going so far was no gain: of a lamp 72 islands in place of 46.
   */
  private straightenRound(line: Line): void {
    const { cornerVertex } = this.parting.mesh;
    let ring = this.fromStraightest(line);
    for (let round = 0; round < ROUNDS; round++) {
      const end = ring.length - max(2, ring.length >> 2);
      const rest = ring.slice(end);
      const apart = rest.slice(1).map((c) => cornerVertex[c]);
      ring = [...this.straighten(ring.slice(0, end), this.o.wide, apart, true), ...rest];
      const from = (3 * ring.length) >> 3;
      ring = [...ring.slice(from), ...ring.slice(0, from)];
    }
  }

  private isRoundTube(c: number): boolean {
    const { t, label } = this.parting;
    const [a, b] = [c, this.parting.across(c)].map((x) => label[t.cornerFace[x]]);
    return this.o.tubes !== undefined && (this.o.tubes.has(a) || this.o.tubes.has(b));
  }

  private fromStraightest(line: Line): Line {
    let best = 0;
    let least = Infinity;
    for (let i = 0; i < line.length; i++) {
      const sum = [0, 1, 2].reduce((all, k) => {
        const [a, b] = [line[(i + k + line.length - 2) % line.length], line[(i + k + line.length - 1) % line.length]];
        return all + this.turning(a, b);
      }, 0);
      if (sum < least - 1e-6) {
        least = sum;
        best = i;
      }
    }
    return [...line.slice(best), ...line.slice(0, best)];
  }

  /** The next half edge of the same border; −1 where it ends. */
  private goesOn(c: number): number {
    const { parting } = this;
    const { mesh, t, label } = parting;
    const n = parting.next(c);
    if (this.ends[mesh.cornerVertex[n]] !== 2) return -1;
    const right = label[t.cornerFace[parting.across(c)]];
    for (let y = n, k = 0; k < 1000; k++) {
      const o = parting.across(y);
      if (o < 0) return -1;
      if (label[t.cornerFace[o]] !== label[t.cornerFace[c]])
        return label[t.cornerFace[o]] === right && this.movable(y) ? y : -1;
      y = parting.next(o);
    }
    return -1;
  }

  private cameFrom(c: number): number {
    const { parting } = this;
    const other = this.goesOn(parting.across(c));
    return other < 0 ? -1 : parting.across(other);
  }

  private angleAt(c: number): number {
    const had = this.angle[c];
    if (!Number.isNaN(had)) return had;
    const found = this.parting.angleAt(c);
    this.angle[c] = found;
    return found;
  }

  /** How much it turns from one half edge to the next, where the angles round the vertex were a full turn; radians. */
  private turning(from: number, to: number): number {
    const { parting } = this;
    let left = 0;
    let all = 0;
    const end = parting.across(from);
    for (let y = parting.next(from), k = 0; k < 1000; k++) {
      all += this.angleAt(y);
      if (y === to) left = all;
      if (y === end) break;
      const o = parting.across(y);
      if (o < 0) break;
      y = parting.next(o);
    }
    return all > 0 ? abs((left / all) * 2 * PI - PI) : 0;
  }

  private costOf(line: Line, mean: number): number {
    const { t } = this.parting;
    let sum = 0;
    line.forEach((c, i) => {
      sum += this.o.weigh(t.cornerEdge[c]);
      if (i > 0) sum += this.o.straight * mean * (1 - cos(this.turning(line[i - 1], c)));
    });
    return sum;
  }

  /** Lays one border anew, if there is a better way; answers where it runs then. */
  private straighten(line: Line, least = this.o.wide, apart: readonly number[] = [], away = false): Line {
    const { parting } = this;
    const far = least >= this.o.wide && this.isOnQuads(line) ? round(SHARE * (line.length - LONG)) : 0;
    const wide = max(least, far);
    const { mesh, t, label } = parting;
    const { cornerVertex } = mesh;
    const [a, b] = [label[t.cornerFace[line[0]]], label[t.cornerFace[parting.across(line[0])]]];
    // Another border may have taken it along.
    if (a === b || line.some((c) => label[t.cornerFace[c]] !== a || label[t.cornerFace[parting.across(c)]] !== b))
      return line;
    const first = cornerVertex[line[0]];
    const last = cornerVertex[parting.next(line[line.length - 1])];
    if (first === last) return line;
    const within = line.slice(1).map((c) => cornerVertex[c]);
    for (const v of within) this.ends[v] -= 2;
    let mean = 0;
    for (const c of line) mean += this.o.weigh(t.cornerEdge[c]) / line.length;
    const found = this.cheapest([first, ...within, last], { wide, apart }, a, b, mean);
    // Round a tube there is another place for it than over what is held.
    const free = away && line.some((c) => this.o.hold.has(t.cornerEdge[c]));
    const better =
      found &&
      (free || this.costOf(found, mean) < this.costOf(line, mean) * (1 - 1e-6)) &&
      this.relabelled(found, line, a, b);
    const own = better ? found : line;
    for (const c of own.slice(1)) this.ends[cornerVertex[c]] += 2;
    return own;
  }

  private isOnQuads(line: Line): boolean {
    const { faceStart } = this.parting.mesh;
    const { cornerFace } = this.parting.t;
    let many = 0;
    for (const c of line) if (faceStart[cornerFace[c] + 1] - faceStart[cornerFace[c]] === 4) many++;
    return 4 * many > 3 * line.length;
  }

  /** Marks vertices near a border, but for those that are nearer to others; answers the mark. */
  private band(vertices: readonly number[], { wide, apart }: Near): number {
    const { mesh, t } = this.parting;
    const own = ++this.stamp;
    const { near } = this;
    let rim = [...apart, ...vertices];
    for (const v of vertices) near[v] = own;
    for (const v of apart) near[v] = -own;
    for (let step = 0; step < wide; step++) {
      const next: number[] = [];
      for (const v of rim)
        for (let i = t.vertexCornerStart[v]; i < t.vertexCornerStart[v + 1]; i++) {
          const c = t.vertexCorner[i];
          for (const w of [mesh.cornerVertex[this.parting.next(c)], mesh.cornerVertex[this.parting.before(c)]])
            if (near[w] !== own && near[w] !== -own && this.ends[w] === 0) {
              near[w] = near[v];
              next.push(w);
            }
        }
      rim = next;
    }
    return own;
  }

  /** The cheapest line from the first of some vertices to the last, near them. */
  private cheapest(vertices: readonly number[], beside: Near, a: number, b: number, mean: number): Line | undefined {
    const { parting, cost, back, stampOf, near } = this;
    const { mesh, t, label } = parting;
    const { cornerVertex } = mesh;
    const { weigh, hold, straight } = this.o;
    const own = this.band(vertices, beside);
    const last = vertices[vertices.length - 1];
    const inner = (c: number): boolean => {
      const f = label[t.cornerFace[c]];
      if (f !== a && f !== b) return false;
      const o = parting.across(c);
      return o >= 0 && (label[t.cornerFace[o]] === a || label[t.cornerFace[o]] === b);
    };
    const queue = new Queue();
    const offer = (c: number, sum: number, from: number): void => {
      const to = cornerVertex[parting.next(c)];
      if (near[to] !== own || (this.ends[to] > 0 && to !== last) || !inner(c) || hold.has(t.cornerEdge[c])) return;
      const all = sum + weigh(t.cornerEdge[c]);
      if (stampOf[c] === own && cost[c] <= all) return;
      stampOf[c] = own;
      cost[c] = all;
      back[c] = from;
      queue.push(c, all);
    };
    for (let i = t.vertexCornerStart[vertices[0]]; i < t.vertexCornerStart[vertices[0] + 1]; i++)
      offer(t.vertexCorner[i], 0, -1);
    const ring: number[] = [];
    const lefts: number[] = [];
    while (queue.size > 0) {
      const [c, sum] = queue.pop();
      if (sum > cost[c]) continue;
      const n = parting.next(c);
      if (cornerVertex[n] === last) {
        const out: Line = [];
        for (let at = c; at >= 0; at = back[at]) out.push(at);
        return out.reverse();
      }
      ring.length = 0;
      lefts.length = 0;
      let all = 0;
      const end = parting.across(c);
      for (let y = n, k = 0; k < 1000; k++) {
        all += this.angleAt(y);
        if (y === end) break;
        ring.push(y);
        lefts.push(all);
        const o = parting.across(y);
        if (o < 0) break;
        y = parting.next(o);
      }
      for (let k = 0; k < ring.length; k++) {
        const turn = all > 0 ? (lefts[k] / all) * 2 * PI - PI : 0;
        offer(ring[k], sum + straight * mean * (1 - cos(turn)), c);
      }
    }
    return undefined;
  }

  /** Gives the faces on the left of a line to one patch and those on its right to the other, if that is sound. */
  private relabelled(line: Line, before: Line, a: number, b: number): boolean {
    const { parting, given, face, edge, near } = this;
    const old = new Set(before.map((c) => parting.t.cornerEdge[c]));
    const { mesh, t, label } = parting;
    const band = this.stamp;
    const own = ++this.stamp;
    const at = new Set<number>();
    for (const c of line) {
      edge[t.cornerEdge[c]] = own;
      const v = mesh.cornerVertex[c];
      if (at.has(v)) return false;
      at.add(v);
    }
    const wait: number[] = [];
    const put = (f: number, to: number): boolean => {
      if (face[f] === own) return given[f] === to;
      face[f] = own;
      given[f] = to;
      wait.push(f);
      return true;
    };
    for (const c of line) {
      if (!put(t.cornerFace[c], a)) return false;
      if (!put(t.cornerFace[parting.across(c)], b)) return false;
    }
    const inBand = (f: number): boolean => {
      for (let c = mesh.faceStart[f]; c < mesh.faceStart[f + 1]; c++)
        if (near[mesh.cornerVertex[c]] === band) return true;
      return false;
    };
    for (let q = 0; q < wait.length; q++) {
      const f = wait[q];
      for (let c = mesh.faceStart[f]; c < mesh.faceStart[f + 1]; c++) {
        const o = parting.across(c);
        if (o < 0 || edge[t.cornerEdge[c]] === own) continue;
        const g = t.cornerFace[o];
        if (label[g] !== a && label[g] !== b) continue;
        // The two may border on each other elsewhere as well.
        if (label[g] !== label[f] && !old.has(t.cornerEdge[c])) continue;
        // What is far off keeps what it is.
        const goes = face[g] === own || inBand(g);
        if (goes ? !put(g, given[f]) : label[g] !== given[f]) return false;
      }
    }
    for (const f of wait) label[f] = given[f];
    return true;
  }
}
