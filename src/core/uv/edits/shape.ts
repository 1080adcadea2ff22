/** Islands made otherwise: straightened to a grid, sewn to another; and how one lies, and is put back in its place. */
import { UV } from '../../mesh/mesh';
import { nextCorner, topologyOf } from '../../mesh/topology';
import { triangulate } from '../../mesh/triangulate';
import { restOf, type Rest } from '../flatten/flatness';
import { asItLies, type Laid } from '../flatten/layflat';
import type { Patch } from '../flatten/patch';
import { coverageOf } from '../measure';
import { similarity } from '../likeness';
import { EDGE, onSheet, SheetEdit } from './sheet';

const { abs, atan2, cos, floor, hypot, round, sin, sqrt, PI } = Math;

/** Along the side of a sheet, where it is looked what lies on what. */
const PIXELS = 2048;
/** How far anything is drawn is not asked here. */
export const LOOSELY = 2;

/** How an island lies, whichever way up: flips are what lies the other way than most of it. */
export function liesWell(patch: Patch, rest: Rest, uv: Float64Array): Laid {
  return asItLies(patch, rest, signedArea(uv, patch.triangles) < 0 ? mirrored(uv) : uv, LOOSELY);
}

/** The other way up. */
export const mirrored = (uv: Float64Array): Float64Array => uv.map((x, i) => (i % 2 === 0 ? -x : x));

/** Turned, put and sized as it lay before. */
export function laidBack(next: Float64Array, before: Float64Array, triangles: Uint32Array): Float64Array {
  const to = similarity(next, before);
  const [o, x] = [to(0, 0), to(1, 0)];
  const angle = atan2(x[1] - o[1], x[0] - o[0]);
  const size = sqrt(areaOf(before, triangles) / (areaOf(next, triangles) || 1)) || 1;
  const [c, n] = [size * cos(angle), size * sin(angle)];
  const [fx, fy] = middle(next);
  const [tx, ty] = middle(before);
  const out = new Float64Array(next.length);
  for (let i = 0; i < out.length; i += 2) {
    const [a, b] = [next[i] - fx, next[i + 1] - fy];
    out[i] = tx + c * a - n * b;
    out[i + 1] = ty + n * a + c * b;
  }
  return out;
}

export function areaOf(uv: Float64Array, triangles: Uint32Array): number {
  let sum = 0;
  for (let t = 0; t < triangles.length; t += 3) {
    const [a, b, c] = [2 * triangles[t], 2 * triangles[t + 1], 2 * triangles[t + 2]];
    sum += abs((uv[b] - uv[a]) * (uv[c + 1] - uv[a + 1]) - (uv[b + 1] - uv[a + 1]) * (uv[c] - uv[a])) / 2;
  }
  return sum;
}

const middle = (uv: ArrayLike<number>): [number, number] => {
  let [x, y] = [0, 0];
  for (let i = 0; i < uv.length; i += 2) {
    x += (2 * uv[i]) / uv.length;
    y += (2 * uv[i + 1]) / uv.length;
  }
  return [x, y];
};

/**
 * Quads in rows become a grid: columns as wide and rows as high as they are on the surface on the mean, the whole as
 * large as it was, turned as little as may be. Throws one sentence for an island that is no grid.
 */
export function straighten(s: SheetEdit, island: number): void {
  const { mesh } = s;
  const faces = s.facesOf(island);
  const { patch, at } = s.patchOf(faces);
  const no = new Error('Only quads that lie in rows and columns can be straightened; this island has others.');
  if (faces.some((f) => mesh.faceStart[f + 1] - mesh.faceStart[f] !== 4)) throw no;
  // Corners by face, and across which side of which face one comes to which.
  const sides = new Map<string, number[]>();
  const name = (a: number, b: number): string => (a < b ? `${a} ${b}` : `${b} ${a}`);
  const of = (k: number, q: number): number => patch.corners[4 * k + (q & 3)];
  for (let k = 0; k < faces.length; k++)
    for (let q = 0; q < 4; q++) {
      const key = name(of(k, q), of(k, q + 1));
      sides.set(key, [...(sides.get(key) ?? []), 4 * k + q]);
    }
  const cell = new Map<number, [number, number]>();
  const put = (v: number, x: number, y: number): void => {
    const had = cell.get(v);
    if (had && (had[0] !== x || had[1] !== y)) throw no;
    cell.set(v, [x, y]);
  };
  /** Each face with the corner at its lower left. */
  const seen = new Map<number, number>([[0, 0]]);
  put(of(0, 0), 0, 0);
  put(of(0, 1), 1, 0);
  put(of(0, 2), 1, 1);
  put(of(0, 3), 0, 1);
  const queue = [0];
  for (let k = queue.pop(); k !== undefined; k = queue.pop())
    for (let q = 0; q < 4; q++) {
      const other = sides.get(name(of(k, q), of(k, q + 1)))!.find((x) => x >> 2 !== k);
      if (other === undefined) continue;
      const [g, r] = [other >> 2, other & 3];
      if (seen.has(g)) continue;
      seen.set(g, r);
      // Over a side a → b lies b → a of the next, and its far side one step out.
      const [ax, ay] = cell.get(of(k, q))!;
      const [bx, by] = cell.get(of(k, q + 1))!;
      const [ox, oy] = [by - ay, ax - bx];
      put(of(g, r + 2), ax + ox, ay + oy);
      put(of(g, r + 3), bx + ox, by + oy);
      queue.push(g);
    }
  if (seen.size !== faces.length) throw no;
  const places = new Set([...cell.values()].map(([x, y]) => `${x} ${y}`));
  if (places.size !== cell.size) throw no;
  const far = (v: number, w: number): number =>
    hypot(...[0, 1, 2].map((k) => patch.points[3 * v + k] - patch.points[3 * w + k]));
  const widths = [new Map<number, number[]>(), new Map<number, number[]>()];
  for (let k = 0; k < faces.length; k++)
    for (let q = 0; q < 4; q++) {
      const [v, w] = [of(k, q), of(k, q + 1)];
      const [a, b] = [cell.get(v)!, cell.get(w)!];
      const axis = a[0] !== b[0] ? 0 : 1;
      const at_ = Math.min(a[axis], b[axis]);
      widths[axis].set(at_, [...(widths[axis].get(at_) ?? []), far(v, w)]);
    }
  const steps = widths.map((m) => {
    const sums = new Map<number, number>();
    const keys = [...m.keys()].sort((a, b) => a - b);
    let sum = 0;
    for (const k of keys) {
      sums.set(k, sum);
      const list = m.get(k)!;
      sum += list.reduce((n, x) => n + x, 0) / list.length;
    }
    sums.set(keys[keys.length - 1] + 1, sum);
    return sums;
  });
  const next = new Float64Array(at.length);
  for (const [v, [x, y]] of cell) {
    next[2 * v] = steps[0].get(x)!;
    next[2 * v + 1] = steps[1].get(y)!;
  }
  // Seen from the face it began with it may be a mirror image; and it lies upright, whichever way that is nearest.
  if (signedArea(next, patch.triangles) * signedArea(at, patch.triangles) < 0)
    for (let i = 0; i < next.length; i += 2) next[i] = -next[i];
  const back = laidBack(next, at, patch.triangles);
  const [v, w] = [of(0, 0), of(0, 1)];
  const angle = atan2(back[2 * w + 1] - back[2 * v + 1], back[2 * w] - back[2 * v]);
  const by = round(angle / (PI / 2)) * (PI / 2) - angle;
  const [cx, cy] = middle(back);
  for (let i = 0; i < back.length; i += 2) {
    const [x, y] = [back[i] - cx, back[i + 1] - cy];
    back[i] = cx + x * cos(by) - y * sin(by);
    back[i + 1] = cy + x * sin(by) + y * cos(by);
  }
  s.put(faces, patch, onSheet(back, at));
}

/** Of a layout: below 0 where it lies on its face. */
export function signedArea(uv: Float64Array, triangles: Uint32Array): number {
  let sum = 0;
  for (let t = 0; t < triangles.length; t += 3) {
    const [a, b, c] = [2 * triangles[t], 2 * triangles[t + 1], 2 * triangles[t + 2]];
    sum += (uv[b] - uv[a]) * (uv[c + 1] - uv[a + 1]) - (uv[b + 1] - uv[a + 1]) * (uv[c] - uv[a]);
  }
  return sum / 2;
}

/**
 * Sews edges whose two sides lie apart: the smaller island is pulled over to the larger, turned and sized to fit, and
 * what is sewn becomes one place. Answers how many edges were sewn.
 */
export function sew(s: SheetEdit, edges: readonly number[]): number {
  const { mesh } = s;
  const t = topologyOf(mesh);
  interface Seam {
    /** Corners that lie at the same end: of the one side, and of the other. */
    pairs: [number, number][];
  }
  const byIslands = new Map<string, Seam & { from: number; to: number }>();
  let sewn = 0;
  for (const e of edges) {
    const k = t.edgeCornerStart[e];
    if (t.edgeCornerStart[e + 1] - k !== 2) continue;
    const [a, b] = [t.edgeCorner[k], t.edgeCorner[k + 1]];
    if (mesh.cornerVertex[a] === mesh.cornerVertex[b]) continue;
    const [f, g] = [t.cornerFace[a], t.cornerFace[b]];
    const [an, bn] = [nextCorner(mesh, f, a), nextCorner(mesh, g, b)];
    const swap = s.facesOf(s.of[f]).length < s.facesOf(s.of[g]).length;
    const [to, from] = swap ? [s.of[g], s.of[f]] : [s.of[f], s.of[g]];
    const pairs: [number, number][] = swap
      ? [
          [bn, a],
          [b, an],
        ]
      : [
          [a, bn],
          [an, b],
        ];
    const key = `${to} ${from}`;
    const had = byIslands.get(key);
    if (had) had.pairs.push(...pairs);
    else byIslands.set(key, { pairs, from, to });
    sewn++;
  }
  for (const { pairs, from, to } of byIslands.values()) {
    if (from !== to) {
      const pick = (side: 0 | 1) => pairs.flatMap((p) => [s.uv[2 * p[side]], s.uv[2 * p[side] + 1]]);
      const map = similarity(pick(1), pick(0));
      s.map(s.facesOf(from), map);
    }
    for (const [stay, come] of pairs) weld(s, stay, come, from === to);
  }
  return sewn;
}

/** What is to be said of islands that were sewn there: where they lie on something, or reach over a sheet's edge. */
export function toldOfSewn(s: SheetEdit, faces: readonly number[]): string | undefined {
  const { mesh, uv } = s;
  const before = mesh.attributes[UV].data as Float32Array;
  const now = new SheetEdit(mesh.withAttribute(UV, { domain: 'corner', width: 2, data: uv }));
  let [flipped, out] = [false, false];
  for (const i of now.islandsWith(faces)) {
    const { patch, at } = now.patchOf(now.facesOf(i));
    flipped ||= !liesWell(patch, restOf(patch), at).sound;
    const b = now.boxOf(now.facesOf(i));
    out ||= floor(b.x0 + EDGE) < floor(b.x1 - EDGE) || floor(b.y0 + EDGE) < floor(b.y1 - EDGE);
  }
  const t = triangulate(mesh);
  const twice = (at: Float32Array): number => coverageOf(at, t, PIXELS).overlap;
  const lies = flipped || twice(uv) > twice(before);
  const what = [lies ? 'lies on itself or on others' : '', out ? 'reaches over the edge of the sheet' : ''];
  const said = what.filter(Boolean).join(', and ');
  return said ? `Sewn there, the island ${said}: relax it, or move it.` : undefined;
}

/** All corners at the places of two become one place: that of the first, or between both. */
function weld(s: SheetEdit, stay: number, come: number, between: boolean): void {
  const { mesh, uv } = s;
  const { vertexCornerStart, vertexCorner } = topologyOf(mesh);
  const v = mesh.cornerVertex[come];
  const at = (c: number): [number, number] => [uv[2 * c], uv[2 * c + 1]];
  const [a, b] = [at(stay), at(come)];
  const to: [number, number] = between ? [(a[0] + b[0]) / 2, (a[1] + b[1]) / 2] : a;
  for (let i = vertexCornerStart[v]; i < vertexCornerStart[v + 1]; i++) {
    const c = vertexCorner[i];
    const [x, y] = at(c);
    const near = (p: [number, number]) => abs(x - p[0]) < 1e-6 && abs(y - p[1]) < 1e-6;
    if (!near(a) && !near(b)) continue;
    uv[2 * c] = to[0];
    uv[2 * c + 1] = to[1];
  }
}
