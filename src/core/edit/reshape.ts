/**
 * Vertices to shapes: onto planes and balls, out along their normals, bent, twisted, tapered and stretched. All are one
 * map of places, put on the picked vertices in full and, where asked for, on what is near them by a fading share.
 */
import { axisIndex, type Axis } from '../math/affine';
import { frameOf } from '../math/fit';
import { EVERY, pulse } from '../math/pulse';
import { at, type Vector } from '../math/vector';
import { boundsOfPoints } from '../mesh/bounds';
import type { Mesh } from '../mesh/mesh';
import { faceNormal } from '../mesh/normals';
import { topologyOf } from '../mesh/topology';
import { softWeights, type Falloff, type Reach } from './soft';

export interface Soft {
  /** Metres; 0 for none. */
  soft: number;
  falloff: Falloff;
  reach?: Reach;
}

/** Writes where a place of the mesh goes; `vertex` is whose it is. */
export type PlaceMap = (place: Vector, vertex: number) => Vector;

/** Puts `map` on vertices, and weaker on what is near them. `share` of the way is gone. */
export function reshape(mesh: Mesh, vertices: ArrayLike<number>, map: PlaceMap, soft?: Soft, share = 1): Mesh {
  const positions = mesh.positions.slice();
  const weight = soft && soft.soft > 0 ? softWeights(mesh, vertices, soft.soft, soft.falloff, soft.reach) : undefined;
  const touched: number[] = [];
  const put = (v: number, w: number) => {
    const from = at(mesh.positions, v);
    const to = map(from, v);
    for (let k = 0; k < 3; k++) positions[3 * v + k] = from[k] + (to[k] - from[k]) * w;
    touched.push(v);
  };
  if (weight) {
    for (let v = 0; v < weight.length; v++) {
      if ((v & EVERY) === 0) pulse();
      if (weight[v] > 0) put(v, weight[v] * share);
    }
  } else
    for (let i = 0; i < vertices.length; i++) {
      if ((i & EVERY) === 0) pulse();
      put(vertices[i], share);
    }
  return mesh.moved(positions, touched);
}

/** Onto the plane that fits the vertices best. */
export function ontoOwnPlane(mesh: Mesh, vertices: ArrayLike<number>): PlaceMap {
  const { centre, axes } = frameOf(Array.from(vertices, (v) => at(mesh.positions, v)));
  const n = axes[2];
  return (p) => {
    const d = (p[0] - centre[0]) * n[0] + (p[1] - centre[1]) * n[1] + (p[2] - centre[2]) * n[2];
    return [p[0] - d * n[0], p[1] - d * n[1], p[2] - d * n[2]];
  };
}

/** Onto the plane square to a way, through the middle of their bounds. */
export function acrossWay(mesh: Mesh, vertices: ArrayLike<number>, way: Vector): PlaceMap {
  const b = boundsOfPoints(mesh.positions, vertices);
  const l = Math.hypot(...way);
  if (!b || !(l > 0)) return (p) => p;
  const n = way.map((x) => x / l);
  const level = [0, 1, 2].reduce((sum, k) => sum + (n[k] * (b.min[k] + b.max[k])) / 2, 0);
  return (p) => {
    const d = p[0] * n[0] + p[1] * n[1] + p[2] * n[2] - level;
    return [p[0] - d * n[0], p[1] - d * n[1], p[2] - d * n[2]];
  };
}

/** One coordinate made the same: that of the middle, the lowest, the highest, or one that is given (metres). */
export function ontoLevel(
  mesh: Mesh,
  vertices: ArrayLike<number>,
  axis: Axis,
  where: 'middle' | 'lowest' | 'highest' | number,
): PlaceMap {
  const k = axisIndex(axis);
  const b = boundsOfPoints(mesh.positions, vertices);
  let level = 0;
  if (typeof where === 'number') level = where;
  else if (b) level = { lowest: b.min[k], middle: (b.min[k] + b.max[k]) / 2, highest: b.max[k] }[where];
  return (p) => {
    const out: Vector = [...p];
    out[k] = level;
    return out;
  };
}

/** Onto a ball round their middle, as large as they lie from it on the mean, or of a given radius (metres). */
export function ontoBall(mesh: Mesh, vertices: ArrayLike<number>, radius = 0): PlaceMap {
  const b = boundsOfPoints(mesh.positions, vertices);
  const c = [0, 1, 2].map((k) => (b ? (b.min[k] + b.max[k]) / 2 : 0));
  let r = radius;
  if (r === 0)
    for (let i = 0; i < vertices.length; i++) {
      const p = at(mesh.positions, vertices[i]);
      r += Math.hypot(p[0] - c[0], p[1] - c[1], p[2] - c[2]) / vertices.length;
    }
  return (p) => {
    const d: Vector = [p[0] - c[0], p[1] - c[1], p[2] - c[2]];
    const l = Math.hypot(...d);
    return l > 1e-12 * r ? [c[0] + (d[0] / l) * r, c[1] + (d[1] / l) * r, c[2] + (d[2] / l) * r] : p;
  };
}

/**
 * The normal of a vertex: that of the faces round it, of each by its angle there (Thürmer and Wüthrich 1998); its
 * length is what a vertex must go for its faces to go 1, at most 4.
 */
export function evenNormal(mesh: Mesh, vertex: number): Vector {
  const t = topologyOf(mesh);
  const { positions: p, faceStart, cornerVertex } = mesh;
  const one = new Float32Array(3);
  const sum: Vector = [0, 0, 0];
  const list: Vector[] = [];
  const weights: number[] = [];
  for (let i = t.vertexCornerStart[vertex]; i < t.vertexCornerStart[vertex + 1]; i++) {
    const c = t.vertexCorner[i];
    const f = t.cornerFace[c];
    faceNormal(mesh, f, one, 0);
    const s = faceStart[f];
    const e = faceStart[f + 1];
    const a = at(p, cornerVertex[c + 1 < e ? c + 1 : s]);
    const b = at(p, cornerVertex[c > s ? c - 1 : e - 1]);
    const o = at(p, vertex);
    let dot = 0;
    let la = 0;
    let lb = 0;
    for (let k = 0; k < 3; k++) {
      dot += (a[k] - o[k]) * (b[k] - o[k]);
      la += (a[k] - o[k]) ** 2;
      lb += (b[k] - o[k]) ** 2;
    }
    const w = la > 0 && lb > 0 ? Math.acos(Math.max(-1, Math.min(1, dot / Math.sqrt(la * lb)))) : 0;
    list.push([one[0], one[1], one[2]]);
    weights.push(w);
    for (let k = 0; k < 3; k++) sum[k] += one[k] * w;
  }
  const l = Math.hypot(...sum);
  if (!(l > 1e-12)) return [0, 0, 0];
  const n: Vector = [sum[0] / l, sum[1] / l, sum[2] / l];
  let share = 0;
  let all = 0;
  list.forEach((m, i) => {
    share += weights[i] * (m[0] * n[0] + m[1] * n[1] + m[2] * n[2]);
    all += weights[i];
  });
  const even = share > 0 ? Math.min(4, all / share) : 1;
  return [n[0] * even, n[1] * even, n[2] * even];
}

/** Out along their normals, metres. */
export function outwards(mesh: Mesh, by: number): PlaceMap {
  return (p, v) => {
    const n = evenNormal(mesh, v);
    return [p[0] + n[0] * by, p[1] + n[1] * by, p[2] + n[2] * by];
  };
}

/** The extent of vertices along an axis, and their middle across it. */
export interface Stretch {
  readonly k: number;
  readonly from: number;
  readonly to: number;
  readonly middle: Vector;
}

export function stretchOf(mesh: Mesh, vertices: ArrayLike<number>, axis: Axis): Stretch {
  const b = boundsOfPoints(mesh.positions, vertices);
  const k = axisIndex(axis);
  if (!b) return { k, from: 0, to: 0, middle: [0, 0, 0] };
  const middle: Vector = [(b.min[0] + b.max[0]) / 2, (b.min[1] + b.max[1]) / 2, (b.min[2] + b.max[2]) / 2];
  return { k, from: b.min[k], to: b.max[k], middle };
}

/** Share of the way along, from 0 to 1. */
const shareAlong = ({ k, from, to }: Stretch, p: Vector): number =>
  to > from ? Math.max(0, Math.min(1, (p[k] - from) / (to - from))) : 0;

/** Turned about the axis, by nothing at the foot and `angle` (radians) at the end. */
export function twisted(s: Stretch, angle: number): PlaceMap {
  const [i, j] = [(s.k + 1) % 3, (s.k + 2) % 3];
  return (p) => {
    const a = angle * shareAlong(s, p);
    const x = p[i] - s.middle[i];
    const y = p[j] - s.middle[j];
    const out: Vector = [...p];
    out[i] = s.middle[i] + x * Math.cos(a) - y * Math.sin(a);
    out[j] = s.middle[j] + x * Math.sin(a) + y * Math.cos(a);
    return out;
  };
}

/** Sized across the axis, by 1 at the foot and `end` at the end. */
export function tapered(s: Stretch, end: number): PlaceMap {
  const [i, j] = [(s.k + 1) % 3, (s.k + 2) % 3];
  return (p) => {
    const f = 1 + (end - 1) * shareAlong(s, p);
    const out: Vector = [...p];
    out[i] = s.middle[i] + (p[i] - s.middle[i]) * f;
    out[j] = s.middle[j] + (p[j] - s.middle[j]) * f;
    return out;
  };
}

/**
 * Longer along the axis by a factor, from the foot on; with `keep`, thinner in the middle so that about as much is
 * held.
 */
export function stretched(s: Stretch, factor: number, keep: boolean): PlaceMap {
  const [i, j] = [(s.k + 1) % 3, (s.k + 2) % 3];
  const thin = keep && factor > 0 ? 1 / Math.sqrt(factor) : 1;
  return (p) => {
    const u = shareAlong(s, p);
    const f = 1 + (thin - 1) * 4 * u * (1 - u);
    const out: Vector = [...p];
    out[s.k] = s.from + (p[s.k] - s.from) * factor;
    out[i] = s.middle[i] + (p[i] - s.middle[i]) * f;
    out[j] = s.middle[j] + (p[j] - s.middle[j]) * f;
    return out;
  };
}

/**
 * Bent to an arc: what lies along the axis comes to lie along part of a circle that turns by `angle` (radians) towards
 * another axis. Lengths along the middle are kept; what is beyond the ends goes on straight.
 */
export function bent(s: Stretch, angle: number, towards: Axis): PlaceMap {
  const j = axisIndex(towards) === s.k ? (s.k + 1) % 3 : axisIndex(towards);
  const l = s.to - s.from;
  if (angle === 0 || !(l > 0)) return (p) => p;
  const r = l / angle;
  return (p) => {
    const u = shareAlong(s, p);
    const a = angle * u;
    const beyond = p[s.k] - (s.from + u * l);
    const aside = p[j] - s.middle[j];
    const out: Vector = [...p];
    out[s.k] = s.from + (r - aside) * Math.sin(a) + beyond * Math.cos(a);
    out[j] = s.middle[j] + r - (r - aside) * Math.cos(a) + beyond * Math.sin(a);
    return out;
  };
}
