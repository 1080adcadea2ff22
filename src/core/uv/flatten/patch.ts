/**
 * Patches: faces that hang together, as a small mesh of their own that is to lie flat. Vertices are those of the sheet:
 * where a seam runs, a vertex of the mesh is several.
 */
import { EVERY, pulse } from '../../math/pulse';
import type { Mesh } from '../../mesh/mesh';
import { triangulate, type Triangles } from '../../mesh/triangulate';
import { topologyOf, type Topology } from '../../mesh/topology';

const { acos, max, min, sqrt } = Math;

export interface Patch {
  faces: Uint32Array;
  /** 3 per vertex. */
  points: Float64Array;
  /** 3 vertices per triangle. */
  triangles: Uint32Array;
  /** Vertex of the patch for each corner of its faces, one face after the other. */
  corners: Uint32Array;
  /** V − E + F. */
  euler: number;
  /** Sides at the border: vertex to vertex, 2 numbers each, the patch on their left. */
  rim: Uint32Array;
  /** Loops that the rim makes. */
  borders: number;
  /**
   * Pairs of sides of the rim that are one edge of the mesh, on which more faces hang: v, w, and there v and w again.
   * No cut was asked for there.
   */
  torn: Uint32Array;
}

/**
 * Who is cut from whom, while a surface is parted. `label`: faces of one patch have one, and no others next to them.
 */
export class Parting {
  readonly t: Topology;
  readonly triangles: Triangles;
  private readonly triStart: Uint32Array;
  readonly label: Int32Array;
  private readonly seen: Int32Array;
  private stamp = 0;
  /** Vertex of the patch at a corner, or −1. */
  private readonly local: Int32Array;

  constructor(
    readonly mesh: Mesh,
    /** 1 for edges that are cut; slits within a patch as well. */
    readonly seam: Uint8Array,
  ) {
    this.t = topologyOf(mesh);
    this.triangles = triangulate(mesh);
    this.triStart = new Uint32Array(mesh.faceCount + 1);
    for (const f of this.triangles.face) this.triStart[f + 1]++;
    for (let f = 0; f < mesh.faceCount; f++) this.triStart[f + 1] += this.triStart[f];
    this.label = new Int32Array(mesh.faceCount).fill(-1);
    this.local = new Int32Array(mesh.cornerCount).fill(-1);
    this.seen = new Int32Array(mesh.faceCount);
  }

  /** The corner on the other side of the edge that begins at a corner, or −1 at a seam. */
  across(c: number): number {
    const { cornerEdge, edgeCornerStart, edgeCorner } = this.t;
    const e = cornerEdge[c];
    if (this.seam[e]) return -1;
    const s = edgeCornerStart[e];
    return edgeCorner[s] === c ? edgeCorner[s + 1] : edgeCorner[s];
  }

  next(c: number): number {
    const f = this.t.cornerFace[c];
    return c + 1 === this.mesh.faceStart[f + 1] ? this.mesh.faceStart[f] : c + 1;
  }
  before(c: number): number {
    const f = this.t.cornerFace[c];
    return c === this.mesh.faceStart[f] ? this.mesh.faceStart[f + 1] - 1 : c - 1;
  }

  /** The angle of a face at one of its corners, radians; 0 where it has none. */
  angleAt(c: number): number {
    const { positions: p, cornerVertex } = this.mesh;
    const o = 3 * cornerVertex[c];
    const a = 3 * cornerVertex[this.next(c)];
    const b = 3 * cornerVertex[this.before(c)];
    const [ax, ay, az] = [p[a] - p[o], p[a + 1] - p[o + 1], p[a + 2] - p[o + 2]];
    const [bx, by, bz] = [p[b] - p[o], p[b + 1] - p[o + 1], p[b + 2] - p[o + 2]];
    const size = (ax * ax + ay * ay + az * az) * (bx * bx + by * by + bz * bz);
    return size > 0 ? acos(max(-1, min(1, (ax * bx + ay * by + az * bz) / sqrt(size)))) : 0;
  }

  /**
   * Lists of faces that hang together without crossing a seam or going from one label to another, among some.
   * Relabelled from `first` on.
   */
  components(faces: ArrayLike<number>, first: number): Uint32Array[] {
    const { label, mesh } = this;
    const { cornerFace } = this.t;
    const out: Uint32Array[] = [];
    const { seen } = this;
    const stamp = ++this.stamp;
    const stack: number[] = [];
    for (let i = 0; i < faces.length; i++) {
      if (seen[faces[i]] === stamp) continue;
      const was = label[faces[i]];
      const found: number[] = [];
      stack.push(faces[i]);
      seen[faces[i]] = stamp;
      for (let f = stack.pop(); f !== undefined; f = stack.pop()) {
        found.push(f);
        if ((found.length & EVERY) === 0) pulse();
        for (let c = mesh.faceStart[f]; c < mesh.faceStart[f + 1]; c++) {
          const o = this.across(c);
          const g = o < 0 ? -1 : cornerFace[o];
          if (g >= 0 && seen[g] !== stamp && label[g] === was) {
            seen[g] = stamp;
            stack.push(g);
          }
        }
      }
      out.push(Uint32Array.from(found).sort());
    }
    out.forEach((list, k) => {
      for (const f of list) label[f] = first + k;
    });
    return out;
  }

  /** Faces of one label as a patch. */
  patch(faces: Uint32Array): Patch {
    const { mesh, label, local, triangles, triStart } = this;
    const { cornerFace } = this.t;
    const { faceStart, cornerVertex, positions } = mesh;
    const own = label[faces[0]];
    let cornerTotal = 0;
    let triTotal = 0;
    for (const f of faces) {
      cornerTotal += faceStart[f + 1] - faceStart[f];
      triTotal += triStart[f + 1] - triStart[f];
      for (let c = faceStart[f]; c < faceStart[f + 1]; c++) local[c] = -1;
    }
    const of = new Uint32Array(cornerTotal);
    const vertex = new Uint32Array(cornerTotal);
    let n = 0;
    const inner = (c: number): number => {
      const o = this.across(c);
      return o >= 0 && label[cornerFace[o]] === own ? o : -1;
    };
    let at = 0;
    let sides = 0;
    const rim: number[] = [];
    const crowded = new Map<number, number[]>();
    for (const f of faces)
      for (let c = faceStart[f]; c < faceStart[f + 1]; c++) {
        if (local[c] < 0) {
          vertex[n] = cornerVertex[c];
          this.round(c, n++, inner);
        }
        of[at++] = local[c];
      }
    for (const f of faces)
      for (let c = faceStart[f]; c < faceStart[f + 1]; c++)
        if (inner(c) < 0) {
          rim.push(local[c], local[this.next(c)]);
          sides += 2;
          const e = this.t.cornerEdge[c];
          if (this.t.edgeCornerStart[e + 1] - this.t.edgeCornerStart[e] > 2) {
            const list = crowded.get(e);
            if (list) list.push(c);
            else crowded.set(e, [c]);
          }
        } else sides++;
    // A cut one side long, whose ends are whole, opens nothing: it is no border.
    const there = new Set<number>();
    for (let i = 0; i < rim.length; i += 2) there.add(rim[i] * n + rim[i + 1]);
    let kept = 0;
    for (let i = 0; i < rim.length; i += 2) {
      if (there.has(rim[i + 1] * n + rim[i])) {
        sides--;
        continue;
      }
      rim[kept++] = rim[i];
      rim[kept++] = rim[i + 1];
    }
    rim.length = kept;
    const tri = new Uint32Array(3 * triTotal);
    let q = 0;
    for (const f of faces)
      for (let i = 3 * triStart[f]; i < 3 * triStart[f + 1]; i++) tri[q++] = local[triangles.corners[i]];
    const points = new Float64Array(3 * n);
    for (let v = 0; v < n; v++) for (let k = 0; k < 3; k++) points[3 * v + k] = positions[3 * vertex[v] + k];
    return {
      faces,
      points,
      triangles: tri,
      corners: of,
      euler: n - sides / 2 + faces.length,
      rim: Uint32Array.from(rim),
      borders: loopsOf(rim, n),
      torn: this.tornOf(crowded),
    };
  }

  private tornOf(crowded: ReadonlyMap<number, readonly number[]>): Uint32Array {
    const { local, mesh } = this;
    const out: number[] = [];
    for (const list of crowded.values()) {
      if (list.length !== 2) continue;
      const [a, b] = list;
      // Two that have the edge the same way round look different ways.
      if (mesh.cornerVertex[a] === mesh.cornerVertex[b]) continue;
      out.push(local[a], local[this.next(a)], local[this.next(b)], local[b]);
    }
    return Uint32Array.from(out);
  }

  /** Gives all corners round a vertex that hang together one number. */
  private round(c: number, n: number, inner: (c: number) => number): void {
    const { local } = this;
    local[c] = n;
    // One way round: over the edge that ends at this corner; then the other way, over the one that begins at it.
    for (let at = c; ;) {
      const o = inner(this.before(at));
      if (o < 0 || local[o] >= 0) break;
      local[o] = n;
      at = o;
    }
    for (let at = c; ;) {
      const o = inner(at);
      if (o < 0) break;
      const there = this.next(o);
      if (local[there] >= 0) break;
      local[there] = n;
      at = there;
    }
  }
}

function loopsOf(rim: readonly number[], n: number): number {
  const next = new Int32Array(n).fill(-1);
  for (let i = 0; i < rim.length; i += 2) next[rim[i]] = rim[i + 1];
  let loops = 0;
  for (let i = 0; i < rim.length; i += 2) {
    let v = rim[i];
    if (next[v] < 0) continue;
    loops++;
    while (v >= 0 && next[v] >= 0) {
      const to = next[v];
      next[v] = -1;
      v = to;
    }
  }
  return loops;
}
