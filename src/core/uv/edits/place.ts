/** Islands as wholes: turned, mirrored, lined up, sized, laid on each other. */
import { nextCorner, topologyOf } from '../../mesh/topology';
import { restOf } from '../flatten/flatness';
import { liesWell } from './shape';
import { leftAsTheyAre, type SheetEdit } from './sheet';

const { PI, abs, atan2, cos, hypot, round, sin, sqrt } = Math;

/** Each about its own middle. */
export function turn(s: SheetEdit, islands: readonly number[], angle: number): void {
  for (const i of islands) {
    const faces = s.facesOf(i);
    const b = s.boxOf(faces);
    const [cx, cy] = [(b.x0 + b.x1) / 2, (b.y0 + b.y1) / 2];
    // Quarter turns are exact.
    const quarter = abs(angle / (PI / 2) - round(angle / (PI / 2))) < 1e-9;
    const [c, n] = quarter ? [round(cos(angle)), round(sin(angle))] : [cos(angle), sin(angle)];
    s.map(faces, (u, v) => [cx + (u - cx) * c - (v - cy) * n, cy + (u - cx) * n + (v - cy) * c]);
  }
}

export function flip(s: SheetEdit, islands: readonly number[], way: 'across' | 'down'): void {
  for (const i of islands) {
    const faces = s.facesOf(i);
    const b = s.boxOf(faces);
    s.map(faces, (u, v) => (way === 'across' ? [b.x0 + b.x1 - u, v] : [u, b.y0 + b.y1 - v]));
  }
}

/** Turned so that an edge lies level or upright, whichever is nearer. `edges`: the longest of an island counts. */
export function level(s: SheetEdit, edges: readonly number[]): void {
  const t = topologyOf(s.mesh);
  const longest = new Map<number, { long: number; angle: number }>();
  for (const e of edges)
    for (let k = t.edgeCornerStart[e]; k < t.edgeCornerStart[e + 1]; k++) {
      const a = t.edgeCorner[k];
      const f = t.cornerFace[a];
      const b = nextCorner(s.mesh, f, a);
      const [x, y] = [s.uv[2 * b] - s.uv[2 * a], s.uv[2 * b + 1] - s.uv[2 * a + 1]];
      const long = hypot(x, y);
      if (long > (longest.get(s.of[f])?.long ?? 0)) longest.set(s.of[f], { long, angle: atan2(y, x) });
    }
  for (const [island, { angle }] of longest) turn(s, [island], round(angle / (PI / 2)) * (PI / 2) - angle);
}

export type Side = 'left' | 'right' | 'top' | 'bottom' | 'middle across' | 'middle down';

/** Lined up with the bounds of all of them. */
export function align(s: SheetEdit, islands: readonly number[], side: Side): void {
  const all = s.boxOf(islands.flatMap((i) => [...s.facesOf(i)]));
  for (const i of islands) {
    const faces = s.facesOf(i);
    const b = s.boxOf(faces);
    const by: Record<Side, [number, number]> = {
      left: [all.x0 - b.x0, 0],
      right: [all.x1 - b.x1, 0],
      bottom: [0, all.y0 - b.y0],
      top: [0, all.y1 - b.y1],
      'middle across': [(all.x0 + all.x1 - b.x0 - b.x1) / 2, 0],
      'middle down': [0, (all.y0 + all.y1 - b.y0 - b.y1) / 2],
    };
    const [dx, dy] = by[side];
    s.map(faces, (u, v) => [u + dx, v + dy]);
  }
}

/** With gaps alike between them, over the room that all of them take. */
export function spread(s: SheetEdit, islands: readonly number[], way: 'across' | 'down'): void {
  const [lo, hi] = way === 'across' ? (['x0', 'x1'] as const) : (['y0', 'y1'] as const);
  const list = islands.map((i) => ({ faces: s.facesOf(i), box: s.boxOf(s.facesOf(i)) }));
  list.sort((a, b) => a.box[lo] + a.box[hi] - b.box[lo] - b.box[hi]);
  if (list.length < 3) return;
  // A wide one in the middle may reach farther than the first and the last.
  const from = Math.min(...list.map((x) => x.box[lo]));
  const to = Math.max(...list.map((x) => x.box[hi]));
  const wide = list.reduce((n, x) => n + x.box[hi] - x.box[lo], 0);
  const gap = (to - from - wide) / (list.length - 1);
  let at = from;
  for (const { faces, box } of list) {
    // Where they are wider than the room together the gaps are less than none, and a wide one would reach out of it.
    const d = Math.max(from, Math.min(to - (box[hi] - box[lo]), at)) - box[lo];
    s.map(faces, (u, v) => (way === 'across' ? [u + d, v] : [u, v + d]));
    at += box[hi] - box[lo] + gap;
  }
}

function sized(s: SheetEdit, island: number, by: number): void {
  const faces = s.facesOf(island);
  const b = s.boxOf(faces);
  const [cx, cy] = [(b.x0 + b.x1) / 2, (b.y0 + b.y1) / 2];
  s.map(faces, (u, v) => [cx + (u - cx) * by, cy + (v - cy) * by]);
}

/** Sheet units per metre. */
const densityOf = (s: SheetEdit, faces: Iterable<number>): number => {
  const { surface, sheet } = s.areasOf(faces);
  return surface > 0 ? sqrt(sheet / surface) : 0;
};

/** `to` in sheet units per metre; without it that of all of them together. */
export function evenDensity(s: SheetEdit, islands: readonly number[], to?: number): void {
  const wanted =
    to ??
    densityOf(
      s,
      islands.flatMap((i) => [...s.facesOf(i)]),
    );
  for (const i of islands) {
    const now = densityOf(s, s.facesOf(i));
    if (now > 0 && wanted > 0) sized(s, i, wanted / now);
  }
}

export function scaleBy(s: SheetEdit, islands: readonly number[], by: number): void {
  for (const i of islands) sized(s, i, by);
}

/**
 * Corners on whole texels. Islands with faces that would be nothing there, or lie on others, stay as they are: answers a
 * sentence that tells of them, or throws it where there are no others.
 */
export function toTexels(s: SheetEdit, islands: readonly number[], texels: number): string | undefined {
  let left = 0;
  for (const i of islands) {
    const faces = s.facesOf(i);
    const { patch, at } = s.patchOf(faces);
    const rest = restOf(patch);
    const next = at.map((x) => round(x * texels) / texels);
    const [was, is] = [at, next].map((uv) => liesWell(patch, rest, uv));
    if (is.figures.flips > was.figures.flips || (was.sound && !is.sound)) left++;
    else s.put(faces, patch, next);
  }
  return leftAsTheyAre(left, islands.length, 'With its corners on whole texels some of it would lie on the rest of it');
}

/** Sides are alike within this share. */
const ALIKE = 0.02;

/**
 * Islands of one shape lie on the first of them: those whose faces hang together alike and whose sides are as long,
 * mirrored ones too. Answers how many were laid on another.
 */
export function stackAlike(s: SheetEdit, islands: readonly number[]): number {
  const first: number[] = [];
  let laid = 0;
  for (const i of islands) {
    const on = first.find((k) => s.facesOf(k).length === s.facesOf(i).length && laidOn(s, k, i));
    if (on === undefined) first.push(i);
    else laid++;
  }
  return laid;
}

/** Lays an island on another where they are alike; says whether they are. */
function laidOn(s: SheetEdit, model: number, island: number): boolean {
  const { mesh } = s;
  const t = topologyOf(mesh);
  const faces = s.facesOf(island);
  const size = (f: number) => mesh.faceStart[f + 1] - mesh.faceStart[f];
  const lengthOf = (c: number): number => {
    const e = t.cornerEdge[c];
    const [a, b] = [3 * t.edgeVertex[2 * e], 3 * t.edgeVertex[2 * e + 1]];
    const p = mesh.positions;
    return hypot(p[a] - p[b], p[a + 1] - p[b + 1], p[a + 2] - p[b + 2]);
  };
  const alike = (a: number, b: number): boolean => {
    const [x, y] = [lengthOf(a), lengthOf(b)];
    return abs(x - y) <= ALIKE * Math.max(x, y);
  };
  const across = (c: number): number => {
    const f = t.cornerFace[c];
    const e = t.cornerEdge[c];
    for (let k = t.edgeCornerStart[e]; k < t.edgeCornerStart[e + 1]; k++) {
      const o = t.edgeCorner[k];
      if (o === c || s.of[t.cornerFace[o]] !== s.of[f]) continue;
      const [n, on] = [nextCorner(mesh, f, c), nextCorner(mesh, t.cornerFace[o], o)];
      const same = (a: number, b: number) =>
        abs(s.uv[2 * a] - s.uv[2 * b]) < 1e-6 && abs(s.uv[2 * a + 1] - s.uv[2 * b + 1]) < 1e-6;
      if (same(c, on) && same(n, o)) return o;
    }
    return -1;
  };
  const step = (f: number, c: number, by: number): number => {
    const [a, n] = [mesh.faceStart[f], size(f)];
    return a + ((((c - a + by) % n) + n) % n);
  };
  /** Walks both from a pair of corners; the pairs of corners, or none where they differ. */
  const walk = (from: number, to: number, mirrored: boolean): Map<number, number> | undefined => {
    const pairs = new Map<number, number>();
    const seen = new Set<number>();
    const queue: [number, number][] = [[from, to]];
    for (let next = queue.pop(); next; next = queue.pop()) {
      const [a, b] = next;
      const [f, g] = [t.cornerFace[a], t.cornerFace[b]];
      if (seen.has(f)) {
        if (pairs.get(a) !== b) return undefined;
        continue;
      }
      seen.add(f);
      if (size(f) !== size(g)) return undefined;
      for (let k = 0; k < size(f); k++) {
        const c = step(f, a, k);
        const d = step(g, b, mirrored ? -k : k);
        pairs.set(c, d);
        // The side that begins at a corner, and in the mirror the one that ends there.
        const side = mirrored ? step(g, d, -1) : d;
        if (!alike(c, side)) return undefined;
        const [x, y] = [across(c), across(side)];
        if (x < 0 !== y < 0) return undefined;
        if (x >= 0) queue.push([x, mirrored ? nextCorner(mesh, t.cornerFace[y], y) : y]);
      }
    }
    return seen.size === s.facesOf(model).length ? pairs : undefined;
  };
  const [start] = s.cornersOf([s.facesOf(model)[0]]);
  for (const mirrored of [false, true])
    for (const c of s.cornersOf(faces)) {
      const pairs = walk(start, c, mirrored);
      if (!pairs) continue;
      for (const [a, b] of pairs) {
        s.uv[2 * b] = s.uv[2 * a];
        s.uv[2 * b + 1] = s.uv[2 * a + 1];
      }
      return true;
    }
  return false;
}
