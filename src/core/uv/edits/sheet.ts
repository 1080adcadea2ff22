/** What edits on the sheet work on: a layout, its islands, and which of them are meant. */
import { EVERY, pulse } from '../../math/pulse';
import { UV, type Mesh } from '../../mesh/mesh';
import { nextCorner, topologyOf } from '../../mesh/topology';
import { triangulate } from '../../mesh/triangulate';
import { layersApart } from '../layers';
import { Parting, type Patch } from '../flatten/patch';

export interface Box {
  x0: number;
  y0: number;
  x1: number;
  y1: number;
}

/** A layout that is being changed. */
export class SheetEdit {
  readonly uv: Float32Array;
  private readonly parting: Parting;
  /** Which island each face lies in. */
  readonly of: Int32Array;
  private readonly lists: Uint32Array[];

  /** Throws one sentence where there is no layout. */
  constructor(readonly mesh: Mesh) {
    const had = mesh.attributes[UV]?.data;
    if (!had) throw new Error('There is no sheet yet: unfold the piece first.');
    this.uv = Float32Array.from(had);
    // What lies doubled is of two islands, and each goes on in its own layer.
    const single = layersApart(mesh)?.mesh ?? mesh;
    this.parting = new Parting(single, bordersOf(single, this.uv));
    this.parting.label.fill(0);
    const all = Uint32Array.from({ length: mesh.faceCount }, (_, f) => f);
    this.lists = this.parting.components(all, 1);
    this.of = new Int32Array(mesh.faceCount);
    this.lists.forEach((faces, i) => {
      for (const f of faces) this.of[f] = i;
    });
  }

  /** The islands that some faces lie in, in order of their numbers. */
  islandsWith(faces: Iterable<number>): number[] {
    const found = new Set<number>();
    for (const f of faces) found.add(this.of[f]);
    return [...found].sort((a, b) => a - b);
  }

  facesOf(island: number): Uint32Array {
    return this.lists[island];
  }

  cornersOf(faces: Iterable<number>): number[] {
    const out: number[] = [];
    for (const f of faces) for (let c = this.mesh.faceStart[f]; c < this.mesh.faceStart[f + 1]; c++) out.push(c);
    return out;
  }

  /** Faces of one island as a patch, with where its vertices lie now. */
  patchOf(faces: Uint32Array): { patch: Patch; at: Float64Array } {
    const patch = this.parting.patch(faces);
    const at = new Float64Array((2 * patch.points.length) / 3);
    this.cornersOf(faces).forEach((c, k) => {
      at[2 * patch.corners[k]] = this.uv[2 * c];
      at[2 * patch.corners[k] + 1] = this.uv[2 * c + 1];
    });
    return { patch, at };
  }

  /** Puts the vertices of a patch of these faces where they are to lie. */
  put(faces: Uint32Array, patch: Patch, at: Float64Array): void {
    this.cornersOf(faces).forEach((c, k) => {
      this.uv[2 * c] = at[2 * patch.corners[k]];
      this.uv[2 * c + 1] = at[2 * patch.corners[k] + 1];
    });
  }

  boxOf(faces: Iterable<number>): Box {
    const b = { x0: Infinity, y0: Infinity, x1: -Infinity, y1: -Infinity };
    for (const c of this.cornersOf(faces)) {
      b.x0 = Math.min(b.x0, this.uv[2 * c]);
      b.x1 = Math.max(b.x1, this.uv[2 * c]);
      b.y0 = Math.min(b.y0, this.uv[2 * c + 1]);
      b.y1 = Math.max(b.y1, this.uv[2 * c + 1]);
    }
    return b;
  }

  map(faces: Iterable<number>, to: (u: number, v: number) => readonly [number, number]): void {
    for (const c of this.cornersOf(faces)) {
      const [u, v] = to(this.uv[2 * c], this.uv[2 * c + 1]);
      this.uv[2 * c] = u;
      this.uv[2 * c + 1] = v;
    }
  }

  /** m² of the surface, and of the sheet. */
  areasOf(faces: Iterable<number>): { surface: number; sheet: number } {
    const wanted = new Set(faces);
    const t = triangulate(this.mesh);
    const p = this.mesh.positions;
    let surface = 0;
    let sheet = 0;
    for (let i = 0; i < t.face.length; i++) {
      if ((i & EVERY) === 0) pulse();
      if (!wanted.has(t.face[i])) continue;
      const [a, b, c] = [t.corners[3 * i], t.corners[3 * i + 1], t.corners[3 * i + 2]];
      const [x, y, z] = [a, b, c].map((k) => 3 * this.mesh.cornerVertex[k]);
      const e = [0, 1, 2].map((k) => p[y + k] - p[x + k]);
      const f = [0, 1, 2].map((k) => p[z + k] - p[x + k]);
      surface += Math.hypot(e[1] * f[2] - e[2] * f[1], e[2] * f[0] - e[0] * f[2], e[0] * f[1] - e[1] * f[0]) / 2;
      const { uv } = this;
      const [ux, uy] = [uv[2 * b] - uv[2 * a], uv[2 * b + 1] - uv[2 * a + 1]];
      const [wx, wy] = [uv[2 * c] - uv[2 * a], uv[2 * c + 1] - uv[2 * a + 1]];
      sheet += Math.abs(ux * wy - uy * wx) / 2;
    }
    return { surface, sheet };
  }
}

const NEAR = 1e-6;

/** Edges whose two sides lie apart on the sheet, and those that are not of two faces. */
export function bordersOf(mesh: Mesh, uv: ArrayLike<number>): Uint8Array {
  const t = topologyOf(mesh);
  const out = new Uint8Array(t.edgeCount);
  const same = (a: number, b: number) =>
    Math.abs(uv[2 * a] - uv[2 * b]) < NEAR && Math.abs(uv[2 * a + 1] - uv[2 * b + 1]) < NEAR;
  // Faces that run the same way along their edge have it apart, as unfolding does.
  const goesOn = (a: number, b: number): boolean =>
    mesh.cornerVertex[a] !== mesh.cornerVertex[b] &&
    same(a, nextCorner(mesh, t.cornerFace[b], b)) &&
    same(nextCorner(mesh, t.cornerFace[a], a), b);
  for (let e = 0; e < t.edgeCount; e++) {
    const s = t.edgeCornerStart[e];
    const end = t.edgeCornerStart[e + 1];
    // Where more than two meet, each is to go on in one of the others.
    let inner = end - s >= 2;
    for (let i = s; i < end && inner; i++) {
      inner = false;
      for (let j = s; j < end && !inner; j++) inner = i !== j && goesOn(t.edgeCorner[i], t.edgeCorner[j]);
    }
    out[e] = inner ? 0 : 1;
  }
  return out;
}

/** So much beyond the edge of a sheet is rounding. */
export const EDGE = 1e-5;

/** The least and the most of places, across or up. */
function ends(uv: Float64Array, axis: number): [number, number] {
  let [lo, hi] = [Infinity, -Infinity];
  for (let i = axis; i < uv.length; i += 2) {
    lo = Math.min(lo, uv[i]);
    hi = Math.max(hi, uv[i]);
  }
  return [lo, hi];
}

/** The lower left of the sheet that all of an island lies on; undefined where it reaches over an edge. */
export function sheetOf(uv: Float64Array): [number, number] | undefined {
  const was = [0, 1].map((axis) => ends(uv, axis));
  const [x, y] = was.map(([lo, hi]) => Math.floor((lo + hi) / 2));
  return was.some(([lo, hi], k) => lo < [x, y][k] - EDGE || hi > [x, y][k] + 1 + EDGE) ? undefined : [x, y];
}

/**
 * What lay on a sheet whole is not to reach over its edge by having been given another shape: moved, and made smaller
 * if it must be.
 */
export function onSheet(now: Float64Array, before: Float64Array): Float64Array {
  const sheet = sheetOf(before);
  if (!sheet) return now;
  const is = [0, 1].map((axis) => ends(now, axis));
  const size = Math.min(1, ...is.map(([lo, hi]) => 1 / (hi - lo || 1)));
  return now.map((x, i) => {
    const k = i % 2;
    const [lo, hi] = is[k];
    const middle = (lo + hi) / 2;
    const half = (size * (hi - lo)) / 2;
    const to = Math.min(sheet[k] + 1 - half, Math.max(sheet[k] + half, middle));
    return to + size * (x - middle);
  });
}

/** Tells that some of the islands that something was to be done to stay as they are, and why; throws it of all. */
export function leftAsTheyAre(left: number, of: number, why: string): string | undefined {
  if (left === 0) return undefined;
  if (left < of) return `${why}: so of ${left} of ${of} islands, which stay as they are.`;
  throw new Error(of === 1 ? `${why}: it stays as it is.` : `${why}: so of all ${of} islands, which stay as they are.`);
}
