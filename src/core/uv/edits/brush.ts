/**
 * A brush on the sheet: what lies under it is grabbed, relaxed, drawn together or spread, less and less towards its
 * rim.
 * No triangle is turned over by it that was not: a vertex goes as far as those round it let it. One dab over 2,000
 * vertices of an island of 20,000: 3 to 5 ms.
 */
import type { Mesh } from '../../mesh/mesh';
import { SheetEdit } from './sheet';

const { hypot, max } = Math;

export const BRUSHES = ['grab', 'relax', 'pinch', 'spread'] as const;
export type Brush = (typeof BRUSHES)[number];

export interface Dab {
  /** Its middle and its radius, in sheets. */
  u: number;
  v: number;
  radius: number;
  /** How far it has moved since the last: for grabbing. */
  du: number;
  dv: number;
  /** 0 to 1. */
  strength: number;
}

/** A triangle keeps at least this share of the area that it has. */
const LEAST = 0.05;
/** A vertex that would turn something over goes half as far, so often, and then not at all. */
const HALVES = 5;

/** One stroke over an island. */
export class Stroke {
  /** 2 per corner of the mesh. */
  readonly uv: Float32Array;
  readonly faces: Uint32Array;
  private readonly corners: Uint32Array;
  private readonly vertexOf: Uint32Array;
  private readonly triangles: Uint32Array;
  private readonly at: Float64Array;
  private readonly start: Uint32Array;
  private readonly round: Uint32Array;
  /** 1 for vertices at the border. */
  private readonly border: Uint8Array;
  /** 3 per vertex: where it is on the surface. */
  private readonly surface: Float64Array;
  /** −1 where the island lies mirrored as a whole. */
  private sign = 1;
  private readonly from: Float64Array;

  /** Throws one sentence where there is no layout. */
  constructor(mesh: Mesh, face: number) {
    const sheet = new SheetEdit(mesh);
    this.uv = sheet.uv;
    this.faces = sheet.facesOf(sheet.of[face]);
    const { patch, at } = sheet.patchOf(this.faces);
    this.corners = Uint32Array.from(sheet.cornersOf(this.faces));
    this.vertexOf = Uint32Array.from(patch.corners);
    this.triangles = patch.triangles;
    this.surface = patch.points;
    this.at = at;
    this.from = at.slice();
    const count = at.length / 2;
    this.start = new Uint32Array(count + 1);
    for (const v of this.triangles) this.start[v + 1]++;
    for (let v = 0; v < count; v++) this.start[v + 1] += this.start[v];
    this.round = new Uint32Array(this.triangles.length);
    const next = this.start.slice();
    for (let i = 0; i < this.triangles.length; i++) this.round[next[this.triangles[i]]++] = (i / 3) | 0;
    this.border = this.bordering(count);
    let sum = 0;
    for (let t = 0; t < this.triangles.length / 3; t++) sum += this.area(t);
    if (sum < 0) this.sign = -1;
  }

  private bordering(count: number): Uint8Array {
    const out = new Uint8Array(count);
    const once = new Set<number>();
    for (let i = 0; i < this.triangles.length; i++) {
      const a = this.triangles[i];
      const b = this.triangles[i % 3 === 2 ? i - 2 : i + 1];
      const back = b * count + a;
      if (once.has(back)) once.delete(back);
      else once.add(a * count + b);
    }
    for (const name of once) {
      out[Math.floor(name / count)] = 1;
      out[name % count] = 1;
    }
    return out;
  }

  /** The corners that are elsewhere than before the stroke. */
  get moved(): Uint32Array {
    const { at, from, vertexOf } = this;
    return this.corners.filter((_, k) => {
      const v = 2 * vertexOf[k];
      return at[v] !== from[v] || at[v + 1] !== from[v + 1];
    });
  }

  /** Whether anything was moved. */
  dab(brush: Brush, o: Dab): boolean {
    const { at } = this;
    const under: number[] = [];
    for (let v = 0; v < at.length / 2; v++) if (hypot(at[2 * v] - o.u, at[2 * v + 1] - o.v) < o.radius) under.push(v);
    let moved = false;
    for (const v of under) {
      const share = 1 - hypot(at[2 * v] - o.u, at[2 * v + 1] - o.v) / o.radius;
      const much = o.strength * share * share * (3 - 2 * share);
      const to = this.target(brush, v, o);
      if (to && this.move(v, much * (to[0] - at[2 * v]), much * (to[1] - at[2 * v + 1]))) moved = true;
    }
    if (moved)
      this.corners.forEach((c, k) => {
        const v = this.vertexOf[k];
        // What was not moved stays to the last bit.
        if (at[2 * v] === this.from[2 * v] && at[2 * v + 1] === this.from[2 * v + 1]) return;
        this.uv[2 * c] = at[2 * v];
        this.uv[2 * c + 1] = at[2 * v + 1];
      });
    return moved;
  }

  private target(brush: Brush, v: number, { u, v: w, du, dv }: Dab): [number, number] | null {
    const [x, y] = [this.at[2 * v], this.at[2 * v + 1]];
    if (brush === 'grab') return [x + du, y + dv];
    if (brush === 'relax') return this.rest(v);
    const by = brush === 'pinch' ? 0.25 : -0.25;
    return [x + by * (u - x), y + by * (w - y)];
  }

  /**
   * Where a vertex would be if it lay to those round it as on the surface: mean value coordinates of its flattened ring
   * (Floater 2003), which leave a flat surface as it is. A vertex of the border stays.
   */
  private rest(v: number): [number, number] | null {
    if (this.border[v]) return null;
    let [x, y, sum] = [0, 0, 0];
    for (let k = this.start[v]; k < this.start[v + 1]; k++) {
      const t = 3 * this.round[k];
      const i = this.triangles.subarray(t, t + 3).indexOf(v);
      const a = this.triangles[t + ((i + 1) % 3)];
      const b = this.triangles[t + ((i + 2) % 3)];
      const [la, lb] = [this.apart(v, a), this.apart(v, b)];
      if (!(la > 0) || !(lb > 0)) continue;
      const half = halfTan(la, lb, this.apart(a, b));
      x += (half / la) * this.at[2 * a] + (half / lb) * this.at[2 * b];
      y += (half / la) * this.at[2 * a + 1] + (half / lb) * this.at[2 * b + 1];
      sum += half / la + half / lb;
    }
    return sum > 0 && Number.isFinite(sum) ? [x / sum, y / sum] : null;
  }

  private apart(a: number, b: number): number {
    const p = this.surface;
    return hypot(p[3 * a] - p[3 * b], p[3 * a + 1] - p[3 * b + 1], p[3 * a + 2] - p[3 * b + 2]);
  }

  private move(v: number, dx: number, dy: number): boolean {
    const { at } = this;
    if (dx === 0 && dy === 0) return false;
    const [x, y] = [at[2 * v], at[2 * v + 1]];
    const before: number[] = [];
    for (let k = this.start[v]; k < this.start[v + 1]; k++) before.push(this.area(this.round[k]));
    for (let half = 0, by = 1; half < HALVES; half++, by /= 2) {
      at[2 * v] = x + by * dx;
      at[2 * v + 1] = y + by * dy;
      let sound = true;
      for (let k = this.start[v], i = 0; sound && k < this.start[v + 1]; k++, i++) {
        const now = this.area(this.round[k]);
        // What lies on its face already may only become better.
        sound = before[i] > 0 ? now > LEAST * before[i] : now >= before[i];
      }
      if (sound) return true;
    }
    at[2 * v] = x;
    at[2 * v + 1] = y;
    return false;
  }

  private area(t: number): number {
    const { at, triangles } = this;
    const [a, b, c] = [2 * triangles[3 * t], 2 * triangles[3 * t + 1], 2 * triangles[3 * t + 2]];
    return this.sign * ((at[b] - at[a]) * (at[c + 1] - at[a + 1]) - (at[b + 1] - at[a + 1]) * (at[c] - at[a]));
  }
}

/** The tangent of half the angle between two sides, by their lengths and that of the third. */
function halfTan(a: number, b: number, c: number): number {
  const below = (a + b) * (a + b) - c * c;
  return Math.sqrt(max(0, (c * c - (a - b) * (a - b)) / (below > 0 ? below : Infinity)));
}
