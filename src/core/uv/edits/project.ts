/**
 * Faces laid on the sheet as they are seen from one side, from six, or from within round an axis or a middle: at the
 * density they had, where they lay. Those that go round are cut where they close.
 */
import { UnionFind } from '../../math/unionfind';
import { faceNormals } from '../../mesh/normals';
import { topologyOf } from '../../mesh/topology';
import { onSheet, type Box, type SheetEdit } from './sheet';

const { PI, abs, acos, atan2, floor, hypot, max, min, round, sqrt } = Math;

export type Projection = 'plane' | 'box' | 'cylinder' | 'sphere';

/** Between sides of a box, in shares of the widest. */
const GAP = 0.04;

/** Where a projection stands, and how it is turned: unit vectors at right angles, in the space of the piece. */
export interface ProjectionFrame {
  at: Vector;
  right: Vector;
  up: Vector;
  toward: Vector;
}

export interface Projecting {
  how: Projection;
  frame: ProjectionFrame;
  /** How much larger the frame is than it was, along each of its axes: what lies in it is as much smaller. */
  size: Vector;
  /** How often what goes round goes over the width that it would have. */
  wraps: number;
}

/**
 * Faces laid out in the best frame there is for them: as dense as they were, where they lay, and on the sheet still.
 * Answers what is to be said where there is not enough of it.
 */
export function project(s: SheetEdit, faces: readonly number[], how: Projection): string | undefined {
  if (faces.length === 0) throw new Error('Pick faces first.');
  const at = placesIn(s, faces, how, frameFor(s, faces, how));
  const { density, u, v } = asTheyLie(s, faces);
  const { x0, y0, x1, y1 } = boundsOf(at);
  const corners = [...at.keys()];
  const before = Float64Array.from(corners.flatMap((c) => [s.uv[2 * c], s.uv[2 * c + 1]]));
  const now = Float64Array.from(
    corners.flatMap((c) => {
      const [x, y] = at.get(c)!;
      return [u + density * (x - (x0 + x1) / 2), v + density * (y - (y0 + y1) / 2)];
    }),
  );
  const shown = onSheet(now, before);
  corners.forEach((c, k) => s.uv.set(shown.subarray(2 * k, 2 * k + 2), 2 * c));
  const size = sizeOf(shown) / (sizeOf(now) || 1);
  if (!(size < 1 - 1e-6)) return undefined;
  return `At the density they had they would not fit the sheet: they lie at ${floor(100 * size)} % of it.`;
}

/** The longer side of what places take. */
function sizeOf(places: Float64Array): number {
  const { x0, y0, x1, y1 } = boundsOf(
    new Map(Array.from({ length: places.length / 2 }, (_, k) => [k, [places[2 * k], places[2 * k + 1]]])),
  );
  return max(x1 - x0, y1 - y0);
}

/** Faces laid out as a frame has them that was moved, turned and sized: its middle where the middle of them lay. */
export function projectFrom(s: SheetEdit, faces: readonly number[], { how, frame, size, wraps }: Projecting): void {
  if (faces.length === 0) throw new Error('Pick faces first.');
  const { density, u, v } = asTheyLie(s, faces);
  const at = placesIn(s, faces, how, frame);
  const round = how === 'cylinder' || how === 'sphere';
  const [wide, high] = size.map((x) => max(1e-3, abs(x)));
  const [bx, by] = [(density * (round ? wraps : 1)) / wide, density / high];
  for (const [c, [x, y]] of at) {
    s.uv[2 * c] = u + bx * x;
    s.uv[2 * c + 1] = v + by * y;
  }
}

/** How dense faces lie, in sheets per metre, and about where. */
function asTheyLie(s: SheetEdit, faces: readonly number[]): { density: number; u: number; v: number } {
  const { surface, sheet } = s.areasOf(faces);
  const b = s.boxOf(faces);
  return {
    density: surface > 0 && sheet > 0 ? sqrt(sheet / surface) : 1,
    u: (b.x0 + b.x1) / 2,
    v: (b.y0 + b.y1) / 2,
  };
}

/** The frame that suits faces best: against their mean normal, or upright, or along what they go round. */
export function frameFor(s: SheetEdit, faces: readonly number[], how: Projection): ProjectionFrame {
  const corners = s.cornersOf(faces);
  const at: Vector = [0, 0, 0];
  for (const c of corners) placeOf(s, c).forEach((x, k) => (at[k] += x / corners.length));
  if (how === 'plane') return { at, ...frameOf(meanNormal(s, faces)) };
  return frameAlong(how === 'cylinder' ? axisOf(s, faces) : 1, at);
}

/** A frame whose up is an axis. */
export function frameAlong(axis: number, at: Vector): ProjectionFrame {
  const unit = (k: number): Vector => [0, 1, 2].map((q) => (q === k ? 1 : 0)) as Vector;
  const [up, toward] = [unit(axis), unit((axis + 1) % 3)];
  return { at, right: crossed(up, toward), up, toward };
}

type Places = Map<number, [number, number]>;
export type Vector = [number, number, number];

function boundsOf(at: Places): Box {
  const b = { x0: Infinity, y0: Infinity, x1: -Infinity, y1: -Infinity };
  for (const [u, v] of at.values()) {
    b.x0 = min(b.x0, u);
    b.x1 = max(b.x1, u);
    b.y0 = min(b.y0, v);
    b.y1 = max(b.y1, v);
  }
  return b;
}

const dot = (a: readonly number[], b: readonly number[]): number => a[0] * b[0] + a[1] * b[1] + a[2] * b[2];
const crossed = (a: Vector, b: Vector): Vector => [
  a[1] * b[2] - a[2] * b[1],
  a[2] * b[0] - a[0] * b[2],
  a[0] * b[1] - a[1] * b[0],
];

function placeOf(s: SheetEdit, c: number): Vector {
  const o = 3 * s.mesh.cornerVertex[c];
  const p = s.mesh.positions;
  return [p[o], p[o + 1], p[o + 2]];
}

/** Normals of faces times their areas, summed (Newell). */
function meanNormal(s: SheetEdit, faces: readonly number[]): Vector {
  const { faceStart } = s.mesh;
  const out: Vector = [0, 0, 0];
  for (const f of faces)
    for (let c = faceStart[f]; c < faceStart[f + 1]; c++) {
      const n = crossed(placeOf(s, c), placeOf(s, c + 1 < faceStart[f + 1] ? c + 1 : faceStart[f]));
      for (let k = 0; k < 3; k++) out[k] += n[k];
    }
  const l = hypot(...out);
  return l > 1e-12 ? (out.map((x) => x / l) as Vector) : [0, 1, 0];
}

/** The frame of someone who looks against a direction, with Y up where that is a way. */
export function frameOf(n: Vector): Omit<ProjectionFrame, 'at'> {
  const up0: Vector = abs(n[1]) < 0.95 ? [0, 1, 0] : [0, 0, n[1] > 0 ? -1 : 1];
  const right = crossed(up0, n);
  const l = hypot(...right);
  const unit = right.map((x) => x / l) as Vector;
  return { right: unit, up: crossed(n, unit), toward: n };
}

function seenIn(s: SheetEdit, faces: readonly number[], { at, right, up }: Omit<ProjectionFrame, 'toward'>): Places {
  const out: Places = new Map();
  for (const c of s.cornersOf(faces)) {
    const p = placeOf(s, c).map((x, k) => x - at[k]);
    out.set(c, [dot(p, right), dot(p, up)]);
  }
  return out;
}

/** Metres from the middle of a frame. */
function placesIn(s: SheetEdit, faces: readonly number[], how: Projection, frame: ProjectionFrame): Places {
  if (how === 'plane') return seenIn(s, faces, frame);
  if (how === 'box') return boxed(s, faces, frame);
  const { at, right, up, toward } = frame;
  const corners = s.cornersOf(faces);
  const inFrame = (c: number): Vector => {
    const d = placeOf(s, c).map((x, k) => x - at[k]);
    return [dot(d, right), dot(d, up), dot(d, toward)];
  };
  // How far it is to what goes round, on the mean: what an angle comes to in metres.
  let radius = 0;
  for (const c of corners) {
    const [x, y, z] = inFrame(c);
    radius += (how === 'sphere' ? hypot(x, y, z) : hypot(x, z)) / corners.length;
  }
  if (!(radius > 0)) throw new Error('These faces go round nothing.');
  const out: Places = new Map();
  for (const f of faces) {
    const own = s.cornersOf([f]);
    const centre: Vector = [0, 0, 0];
    for (const c of own) inFrame(c).forEach((x, k) => (centre[k] += x / own.length));
    const there = atan2(centre[0], centre[2]);
    for (const c of own) {
      const [x, y, z] = inFrame(c);
      const aside = hypot(x, z);
      // At a pole there is no way round: that of the face is taken.
      let angle = aside > 1e-9 * radius ? atan2(x, z) : there;
      // A face lies on one side of where the way round closes.
      angle += round((there - angle) / (2 * PI)) * 2 * PI;
      const high = how === 'cylinder' ? y : radius * (PI / 2 - acos(max(-1, min(1, y / (hypot(x, y, z) || 1)))));
      out.set(c, [radius * angle, high]);
    }
  }
  return out;
}

/** Along which axis the faces look least: what goes round goes round that. */
function axisOf(s: SheetEdit, faces: readonly number[]): number {
  const n = faceNormals(s.mesh);
  const sums = [0, 0, 0];
  for (const f of faces) for (let k = 0; k < 3; k++) sums[k] += n[3 * f + k] ** 2;
  return sums.indexOf(min(...sums));
}

/** Each side by itself, as it is seen from there; parts that hang together side by side in rows. */
function boxed(s: SheetEdit, faces: readonly number[], { at: middle, right, up, toward }: ProjectionFrame): Places {
  const n = faceNormals(s.mesh);
  const axes = [right, up, toward];
  const side = new Map(
    faces.map((f) => {
      const look = [n[3 * f], n[3 * f + 1], n[3 * f + 2]];
      const own = axes.map((a) => dot(a, look));
      const k = own.map(abs).indexOf(max(...own.map(abs)));
      return [f, 2 * k + (own[k] < 0 ? 1 : 0)] as const;
    }),
  );
  const t = topologyOf(s.mesh);
  const joined = new UnionFind(s.mesh.faceCount);
  for (const f of faces)
    for (const c of s.cornersOf([f])) {
      const e = t.cornerEdge[c];
      for (let q = t.edgeCornerStart[e]; q < t.edgeCornerStart[e + 1]; q++) {
        const g = t.cornerFace[t.edgeCorner[q]];
        if (g !== f && side.get(g) === side.get(f)) joined.join(f, g);
      }
    }
  const parts = new Map<number, number[]>();
  for (const f of faces) {
    const list = parts.get(joined.find(f));
    if (list) list.push(f);
    else parts.set(joined.find(f), [f]);
  }
  const laid = [...parts.values()].map((list) => {
    const k = side.get(list[0])!;
    const way = axes[k >> 1].map((x) => (k & 1 ? -x : x)) as Vector;
    // What looks up or down is seen with its far side up.
    const above = k >> 1 === 1 ? (toward.map((x) => (k & 1 ? x : -x)) as Vector) : up;
    const at = seenIn(s, list, { at: middle, right: crossed(above, way), up: above });
    const { x0, y0, x1, y1 } = boundsOf(at);
    return { at, x0, y0, wide: x1 - x0, high: y1 - y0 };
  });
  laid.sort((a, b) => b.high - a.high || b.wide - a.wide);
  const widest = laid.reduce((most, l) => max(most, l.wide), 0);
  const gap = GAP * max(widest, laid[0].high);
  // Rows about as wide as all of them are high.
  const most = max(widest, sqrt(laid.reduce((sum, l) => sum + (l.wide + gap) * (l.high + gap), 0)));
  const out: Places = new Map();
  let [x, y, row] = [0, 0, 0];
  for (const l of laid) {
    if (x > 0 && x + l.wide > most) {
      x = 0;
      y += row + gap;
      row = 0;
    }
    for (const [c, [u, v]] of l.at) out.set(c, [x + u - l.x0, y + v - l.y0]);
    x += l.wide + gap;
    row = max(row, l.high);
  }
  // About the middle of the frame.
  const { x0, y0, x1, y1 } = boundsOf(out);
  for (const [c, [u, v]] of out) out.set(c, [u - (x0 + x1) / 2, v - (y0 + y1) / 2]);
  return out;
}
