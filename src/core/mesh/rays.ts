/**
 * Rays and nearest places on a mesh, through a tree of boxes. Rays against triangles by Möller and Trumbore (1997) in
 * doubles; nearest places by Ericson's regions (Real-Time Collision Detection, 2005, 5.1.5). A tree is made once for a
 * mesh and kept with it.
 *
 * 199,692 triangles of a ball: tree 0.27 s, a ray from outside 5.6 µs (18 µs through a tree along a space-filling
 * curve, made in 0.13 s).
 */
import type { Triple } from '../math/affine';
import { boxesOf, splitTreeOf, type BoxTree } from './boxtree';
import type { Mesh } from './mesh';
import { triangulate } from './triangulate';

const { max, sqrt } = Math;

export interface RayHit {
  /** How far along the ray, in lengths of its direction. */
  t: number;
  triangle: number;
  face: number;
}

export interface Nearest {
  at: [number, number, number];
  distance: number;
  triangle: number;
  face: number;
}

const known = new WeakMap<Mesh, RayTree>();
export function raysOf(mesh: Mesh): RayTree {
  let tree = known.get(mesh);
  if (!tree) known.set(mesh, (tree = new RayTree(mesh)));
  return tree;
}

const stack = new Int32Array(512);
const stackNear = new Float64Array(512);

export class RayTree {
  private readonly tree: BoxTree;
  private readonly p: Float32Array;
  /** Vertices of triangles, 3 each. */
  readonly vertex: Uint32Array;
  /** Face of each triangle. */
  readonly face: Uint32Array;

  constructor(mesh: Mesh) {
    const { corners, face } = triangulate(mesh);
    this.vertex = corners.map((c) => mesh.cornerVertex[c]);
    this.face = face;
    this.p = mesh.positions;
    this.tree = splitTreeOf(boxesOf(mesh.positions, this.vertex));
  }

  get empty(): boolean {
    return this.face.length === 0;
  }

  /**
   * The first triangle met after `least`, up to `most`, in lengths of the direction; `but`: a face that is passed over.
   */
  cast(o: Triple, d: Triple, least = 0, most = Infinity, but = -1): RayHit | undefined {
    return this.walk(o, d, least, most, but, false);
  }

  /** Whether anything is met. */
  blocked(o: Triple, d: Triple, least = 0, most = Infinity, but = -1): boolean {
    return this.walk(o, d, least, most, but, true) !== undefined;
  }

  private walk(o: Triple, d: Triple, least: number, most: number, but: number, any: boolean): RayHit | undefined {
    if (this.empty) return undefined;
    const { order, boxes, nodes } = this.tree;
    const { face } = this;
    const [ox, oy, oz] = [o[0], o[1], o[2]];
    const [ix, iy, iz] = [1 / d[0], 1 / d[1], 1 / d[2]];
    let best = most;
    // Where the ray comes into a node's box; ∞ where it does not. A ray along a side of a box gives 0 · ∞: such a side
    // holds nothing back.
    const enters = (node: number): number => {
      const b = 6 * node;
      let near = least;
      let end = best;
      let x = (boxes[b] - ox) * ix;
      let y = (boxes[b + 3] - ox) * ix;
      if (x <= y || x > y) {
        if (x > near && x <= y) near = x;
        else if (y > near && y < x) near = y;
        const out = (x < y ? y : x) * ROUND_UP + TINY;
        if (out < end) end = out;
      }
      x = (boxes[b + 1] - oy) * iy;
      y = (boxes[b + 4] - oy) * iy;
      if (x <= y || x > y) {
        if (x > near && x <= y) near = x;
        else if (y > near && y < x) near = y;
        const out = (x < y ? y : x) * ROUND_UP + TINY;
        if (out < end) end = out;
      }
      x = (boxes[b + 2] - oz) * iz;
      y = (boxes[b + 5] - oz) * iz;
      if (x <= y || x > y) {
        if (x > near && x <= y) near = x;
        else if (y > near && y < x) near = y;
        const out = (x < y ? y : x) * ROUND_UP + TINY;
        if (out < end) end = out;
      }
      return near <= end ? near : Infinity;
    };
    let found = -1;
    let top = 0;
    stack[top] = 0;
    stackNear[top++] = enters(0);
    while (top > 0) {
      const node = stack[--top];
      if (!(stackNear[top] <= best) || stackNear[top] === Infinity) continue;
      const second = nodes[3 * node + 2];
      if (second > 0) {
        const first = node + 1;
        const a = enters(first);
        const b = enters(second);
        const near = a <= b;
        // The farther one below, so that the nearer is taken next.
        if ((near ? b : a) < Infinity) {
          stack[top] = near ? second : first;
          stackNear[top++] = near ? b : a;
        }
        if ((near ? a : b) < Infinity) {
          stack[top] = near ? first : second;
          stackNear[top++] = near ? a : b;
        }
        continue;
      }
      for (let i = nodes[3 * node]; i < nodes[3 * node + 1]; i++) {
        const tri = order[i];
        if (face[tri] === but) continue;
        const t = this.meet(tri, o, d);
        if (t >= least && t < best) {
          best = t;
          found = tri;
          if (any) return { t, triangle: tri, face: face[tri] };
        }
      }
    }
    return found < 0 ? undefined : { t: best, triangle: found, face: face[found] };
  }

  /** Where a ray meets a triangle; −1 where it does not. */
  private meet(tri: number, o: Triple, d: Triple): number {
    const { p, vertex } = this;
    const a = 3 * vertex[3 * tri];
    const b = 3 * vertex[3 * tri + 1];
    const c = 3 * vertex[3 * tri + 2];
    const ax = p[a];
    const ay = p[a + 1];
    const az = p[a + 2];
    const ux = p[b] - ax;
    const uy = p[b + 1] - ay;
    const uz = p[b + 2] - az;
    const vx = p[c] - ax;
    const vy = p[c + 1] - ay;
    const vz = p[c + 2] - az;
    const hx = d[1] * vz - d[2] * vy;
    const hy = d[2] * vx - d[0] * vz;
    const hz = d[0] * vy - d[1] * vx;
    const det = ux * hx + uy * hy + uz * hz;
    if (det === 0) return -1;
    const f = 1 / det;
    const sx = o[0] - ax;
    const sy = o[1] - ay;
    const sz = o[2] - az;
    const u = f * (sx * hx + sy * hy + sz * hz);
    // A ray through the seam of two triangles must not slip between them.
    if (u < -SLACK || u > 1 + SLACK) return -1;
    const qx = sy * uz - sz * uy;
    const qy = sz * ux - sx * uz;
    const qz = sx * uy - sy * ux;
    const v = f * (d[0] * qx + d[1] * qy + d[2] * qz);
    if (v < -SLACK || u + v > 1 + SLACK) return -1;
    const t = f * (vx * qx + vy * qy + vz * qz);
    return t >= 0 ? t : -1;
  }

  /** The nearest place of the surface, no farther than `most`. */
  nearest(q: Triple, most = Infinity): Nearest | undefined {
    if (this.empty || !(most >= 0)) return undefined;
    const { order, boxes, nodes } = this.tree;
    const [qx, qy, qz] = [q[0], q[1], q[2]];
    const apart = (node: number): number => {
      const b = 6 * node;
      const x = max(boxes[b] - qx, 0, qx - boxes[b + 3]);
      const y = max(boxes[b + 1] - qy, 0, qy - boxes[b + 4]);
      const z = max(boxes[b + 2] - qz, 0, qz - boxes[b + 5]);
      return x * x + y * y + z * z;
    };
    let best = most * most;
    let found = -1;
    const at: [number, number, number] = [0, 0, 0];
    let top = 0;
    stack[top] = 0;
    stackNear[top++] = apart(0);
    while (top > 0) {
      const node = stack[--top];
      if (stackNear[top] > best) continue;
      const second = nodes[3 * node + 2];
      if (second > 0) {
        const a = apart(node + 1);
        const b = apart(second);
        const near = a <= b;
        if ((near ? b : a) <= best) {
          stack[top] = near ? second : node + 1;
          stackNear[top++] = near ? b : a;
        }
        if ((near ? a : b) <= best) {
          stack[top] = near ? node + 1 : second;
          stackNear[top++] = near ? a : b;
        }
        continue;
      }
      for (let i = nodes[3 * node]; i < nodes[3 * node + 1]; i++) {
        const d = this.closest(order[i], q);
        if (d < best || (found < 0 && d <= best)) {
          best = d;
          found = order[i];
          for (let k = 0; k < 3; k++) at[k] = scratch[k];
        }
      }
    }
    return found < 0 ? undefined : { at, distance: sqrt(best), triangle: found, face: this.face[found] };
  }

  /** The square of the distance to a triangle; the place itself in `scratch`. */
  private closest(tri: number, q: Triple): number {
    const { p, vertex } = this;
    const a = 3 * vertex[3 * tri];
    const b = 3 * vertex[3 * tri + 1];
    const c = 3 * vertex[3 * tri + 2];
    let d1 = 0;
    let d2 = 0;
    let d3 = 0;
    let d4 = 0;
    let d5 = 0;
    let d6 = 0;
    for (let k = 0; k < 3; k++) {
      const ab = p[b + k] - p[a + k];
      const ac = p[c + k] - p[a + k];
      const aq = q[k] - p[a + k];
      const bq = q[k] - p[b + k];
      const cq = q[k] - p[c + k];
      d1 += ab * aq;
      d2 += ac * aq;
      d3 += ab * bq;
      d4 += ac * bq;
      d5 += ab * cq;
      d6 += ac * cq;
    }
    let u = 0;
    let v = 0;
    const vc = d1 * d4 - d3 * d2;
    const vb = d5 * d2 - d1 * d6;
    const va = d3 * d6 - d5 * d4;
    if (d1 <= 0 && d2 <= 0) {
      u = v = 0;
    } else if (d3 >= 0 && d4 <= d3) {
      u = 1;
    } else if (d6 >= 0 && d5 <= d6) {
      v = 1;
    } else if (vc <= 0 && d1 >= 0 && d3 <= 0) {
      u = d1 / (d1 - d3);
    } else if (vb <= 0 && d2 >= 0 && d6 <= 0) {
      v = d2 / (d2 - d6);
    } else if (va <= 0 && d4 - d3 >= 0 && d5 - d6 >= 0) {
      v = (d4 - d3) / (d4 - d3 + (d5 - d6));
      u = 1 - v;
    } else {
      const sum = va + vb + vc;
      u = sum === 0 ? 0 : vb / sum;
      v = sum === 0 ? 0 : vc / sum;
    }
    let sum = 0;
    for (let k = 0; k < 3; k++) {
      scratch[k] = p[a + k] + u * (p[b + k] - p[a + k]) + v * (p[c + k] - p[a + k]);
      sum += (scratch[k] - q[k]) ** 2;
    }
    return sum;
  }

  /** Unit normal of a triangle, 0 for one without area. */
  normal(tri: number): [number, number, number] {
    const { p, vertex } = this;
    const [a, b, c] = [0, 1, 2].map((k) => 3 * vertex[3 * tri + k]);
    const u = [0, 1, 2].map((k) => p[b + k] - p[a + k]);
    const v = [0, 1, 2].map((k) => p[c + k] - p[a + k]);
    const n: [number, number, number] = [
      u[1] * v[2] - u[2] * v[1],
      u[2] * v[0] - u[0] * v[2],
      u[0] * v[1] - u[1] * v[0],
    ];
    const l = sqrt(n[0] ** 2 + n[1] ** 2 + n[2] ** 2) || 1;
    return [n[0] / l, n[1] / l, n[2] / l];
  }
}

const scratch = [0, 0, 0];
const SLACK = 1e-9;
/** Boxes are of 32-bit numbers, exactly those of the triangles: only the division rounds. */
const ROUND_UP = 1 + 4e-16;
const TINY = 1e-300;
