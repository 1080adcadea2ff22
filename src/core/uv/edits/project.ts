/**
 * Faces laid on the sheet as they are seen from one side, from six, or from within round an axis or a middle: at the
 * density they had, where they lay. Those that go round are cut where they close.
 */
import { UnionFind } from '../../math/unionfind';
import { faceNormals } from '../../mesh/normals';
import { topologyOf } from '../../mesh/topology';
import type { Box, SheetEdit } from './sheet';

const { PI, abs, acos, atan2, hypot, max, min, round, sqrt } = Math;

export type Projection = 'plane' | 'box' | 'cylinder' | 'sphere';

/** Between sides of a box, in shares of the widest. */
const GAP = 0.04;

export function project(s: SheetEdit, faces: readonly number[], how: Projection): void {
  if (faces.length === 0) throw new Error('Pick faces first.');
  const { surface, sheet } = s.areasOf(faces);
  const density = surface > 0 && sheet > 0 ? sqrt(sheet / surface) : 1;
  const b = s.boxOf(faces);
  const at = how === 'box' ? boxed(s, faces) : projected(s, faces, how);
  // Where they lay, as dense as they were.
  const { x0, y0, x1, y1 } = boundsOf(at);
  for (const [c, [u, v]] of at) {
    s.uv[2 * c] = (b.x0 + b.x1) / 2 + density * (u - (x0 + x1) / 2);
    s.uv[2 * c + 1] = (b.y0 + b.y1) / 2 + density * (v - (y0 + y1) / 2);
  }
}

type Places = Map<number, [number, number]>;
type Vector = [number, number, number];

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

/** Right and up of someone who looks against a direction, with Y up where that is a way. */
function frameOf(n: Vector): { right: Vector; up: Vector } {
  const up0: Vector = abs(n[1]) < 0.95 ? [0, 1, 0] : [0, 0, n[1] > 0 ? -1 : 1];
  const right = crossed(up0, n);
  const l = hypot(...right);
  const unit = right.map((x) => x / l) as Vector;
  return { right: unit, up: crossed(n, unit) };
}

function seenFrom(s: SheetEdit, faces: readonly number[], n: Vector): Places {
  const { right, up } = frameOf(n);
  const out: Places = new Map();
  for (const c of s.cornersOf(faces)) {
    const p = placeOf(s, c);
    out.set(c, [dot(p, right), dot(p, up)]);
  }
  return out;
}

function projected(s: SheetEdit, faces: readonly number[], how: Exclude<Projection, 'box'>): Places {
  if (how === 'plane') return seenFrom(s, faces, meanNormal(s, faces));
  const corners = s.cornersOf(faces);
  const middle: Vector = [0, 0, 0];
  for (const c of corners) placeOf(s, c).forEach((x, k) => (middle[k] += x / corners.length));
  const axis = how === 'cylinder' ? axisOf(s, faces) : 1;
  const [i, j] = [(axis + 1) % 3, (axis + 2) % 3];
  // How far it is to what goes round, on the mean: what an angle comes to in metres.
  let radius = 0;
  for (const c of corners) {
    const d = placeOf(s, c).map((x, k) => x - middle[k]);
    radius += (how === 'sphere' ? hypot(...d) : hypot(d[i], d[j])) / corners.length;
  }
  if (!(radius > 0)) throw new Error('These faces go round nothing.');
  const out: Places = new Map();
  for (const f of faces) {
    const own = s.cornersOf([f]);
    const centre: Vector = [0, 0, 0];
    for (const c of own) placeOf(s, c).forEach((x, k) => (centre[k] += x / own.length));
    const there = atan2(centre[i] - middle[i], centre[j] - middle[j]);
    for (const c of own) {
      const d = placeOf(s, c).map((x, k) => x - middle[k]);
      const aside = hypot(d[i], d[j]);
      // At a pole there is no way round: that of the face is taken.
      let angle = aside > 1e-9 * radius ? atan2(d[i], d[j]) : there;
      // A face lies on one side of where the way round closes.
      angle += round((there - angle) / (2 * PI)) * 2 * PI;
      const up = how === 'cylinder' ? d[axis] : radius * (PI / 2 - acos(max(-1, min(1, d[axis] / (hypot(...d) || 1)))));
      out.set(c, [radius * angle, up]);
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
function boxed(s: SheetEdit, faces: readonly number[]): Places {
  const n = faceNormals(s.mesh);
  const side = new Map(
    faces.map((f) => {
      const own = [n[3 * f], n[3 * f + 1], n[3 * f + 2]];
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
    const way: Vector = [0, 0, 0];
    way[k >> 1] = k & 1 ? -1 : 1;
    const at = seenFrom(s, list, way);
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
  return out;
}
