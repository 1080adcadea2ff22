/**
 * Spots: where a picked element was, kept beside its key as a second witness. When a key has no element any more (a
 * count changed, a step came in between), the spot finds what covers its place now: for faces the faces whose middle
 * lies in it, or the one that holds its middle; for edges the line at its share; for vertices the nearest. All in
 * natural coordinates (`places.ts`) and within one role, so sizes and moves by hand do not matter, and a pick never
 * jumps to another side, copy or extrusion. What is farther than a cell away is lost.
 *
 * Ties go to the lower place (x before y before z): all elements of a line that stood in the middle go the same way.
 */
import { EVERY, pulse } from '../math/pulse';
import { key4 } from '../math/hash';
import { breadth, feet, forward, isWall, SAME_WAY, sameSide, within } from './faceframe';
import { COPY, type Mesh } from './mesh';
import { laterRole } from './places';
import { apart, ringFrame, ringOf } from './rings';
import type { PickKind } from './picks';
import { topologyOf } from './topology';

/**
 * Numbers of a spot, by kind, the last its role. Vertex: place (4), reach. Edge: both ends (4 each), reach. Face:
 * middle (4), half its width and half its height as directions (4 each). Reach is half the mean length of the edges
 * around, in natural coordinates.
 */
export type Spot = Float64Array;
export const SPOT_SIZE: Readonly<Record<PickKind, number>> = { vertex: 6, edge: 10, face: 13 };

/** As far as a place may be from the nearest element, in reaches: half the diagonal of a cell, and a little. */
const VERTEX_REACH = 1.6;
/**
 * Of vertices that a move drew out: what it drew may be narrower than the cells it was drawn from, so what is half a
 * cell away there is another.
 */
const DRAWN_REACH = 0.8;
const SLACK = 1e-3;

const { abs, floor, hypot, max, min, sqrt } = Math;

function reachOf(mesh: Mesh, v: number): number {
  const t = topologyOf(mesh);
  const { at } = mesh.places;
  let sum = 0;
  let n = 0;
  for (let i = t.vertexCornerStart[v]; i < t.vertexCornerStart[v + 1]; i++) {
    const e = t.cornerEdge[t.vertexCorner[i]];
    const a = 4 * t.edgeVertex[2 * e];
    const b = 4 * t.edgeVertex[2 * e + 1];
    sum += sqrt(apart(at, a, at, b));
    n++;
  }
  return n > 0 ? sum / n / 2 : 0;
}

/** The spot of one element. */
export function spotOf(mesh: Mesh, kind: PickKind, index: number): Spot {
  const out = new Float64Array(SPOT_SIZE[kind]);
  const { at, role } = mesh.places;
  if (kind === 'vertex') {
    for (let k = 0; k < 4; k++) out[k] = at[4 * index + k];
    out[4] = reachOf(mesh, index);
    out[5] = role[index];
    return out;
  }
  if (kind === 'edge') {
    const { edgeVertex } = topologyOf(mesh);
    const a = edgeVertex[2 * index];
    const b = edgeVertex[2 * index + 1];
    for (let k = 0; k < 4; k++) {
      out[k] = at[4 * a + k];
      out[4 + k] = at[4 * b + k];
    }
    out[8] = max(reachOf(mesh, a), reachOf(mesh, b));
    out[9] = roleAlong(mesh, [a, b]);
    return out;
  }
  ringFrame(ringOf(mesh, index), out);
  out[12] = roleAlong(mesh, mesh.cornerVertex.subarray(mesh.faceStart[index], mesh.faceStart[index + 1]));
  return out;
}

/** The spot of a face of which only the places of its corners are known, and the role. */
export function spotOfRing(ring: Float64Array, role: number): Spot {
  const out = new Float64Array(SPOT_SIZE.face);
  ringFrame(ring, out);
  out[12] = role;
  return out;
}

function roleAlong(mesh: Mesh, vertices: ArrayLike<number>): number {
  const { at, role } = mesh.places;
  let best = role[vertices[0]];
  let lift = at[4 * vertices[0] + 3];
  for (let i = 1; i < vertices.length; i++) {
    const v = vertices[i];
    best = laterRole(lift, best, at[4 * v + 3], role[v]);
    if (abs(at[4 * v + 3]) > abs(lift)) lift = at[4 * v + 3];
  }
  return best;
}

/** All spots of a mesh's elements of a kind, findable by place. */
interface Spots {
  readonly size: number;
  readonly data: Float64Array;
  /** Width of the cells of the grid that the middles are filed in. */
  readonly cell: number;
  readonly filed: ReadonlyMap<number, number[]>;
  readonly roles: readonly number[];
  /** The farthest that an element reaches from its middle. */
  readonly widest: number;
  /** How far each does, and how broad it is, of faces. */
  readonly reach: Float64Array;
  readonly breadth: Float64Array;
}

const known: Record<PickKind, WeakMap<Mesh, Spots>> = {
  vertex: new WeakMap(),
  edge: new WeakMap(),
  face: new WeakMap(),
};

const middle = (kind: PickKind, data: ArrayLike<number>, o: number, k: number): number =>
  kind === 'edge' ? (data[o + k] + data[o + 4 + k]) / 2 : data[o + k];

function radius(kind: PickKind, data: ArrayLike<number>, o: number): number {
  if (kind === 'vertex') return data[o + 4];
  if (kind === 'edge') return sqrt(apart(data, o, data, o + 4)) / 2;
  return (
    hypot(data[o + 4], data[o + 5], data[o + 6], data[o + 7]) +
    hypot(data[o + 8], data[o + 9], data[o + 10], data[o + 11])
  );
}

function spotsOf(mesh: Mesh, kind: PickKind, count: number): Spots {
  const had = known[kind].get(mesh);
  if (had) return had;
  const size = SPOT_SIZE[kind];
  const data = new Float64Array(size * count);
  const reach = new Float64Array(count);
  const breadths = new Float64Array(kind === 'face' ? count : 0);
  let widest = 0;
  let sum = 0;
  for (let i = 0; i < count; i++) {
    if ((i & EVERY) === 0) pulse();
    data.set(spotOf(mesh, kind, i), size * i);
    const r = radius(kind, data, size * i);
    reach[i] = r;
    if (kind === 'face') breadths[i] = breadth(data, size * i);
    widest = max(widest, r);
    sum += r;
  }
  const cell = max(1e-6, (4 * sum) / max(1, count));
  const filed = new Map<number, number[]>();
  for (let i = 0; i < count; i++) {
    const key = cellKey(
      floor(middle(kind, data, size * i, 0) / cell),
      floor(middle(kind, data, size * i, 1) / cell),
      floor(middle(kind, data, size * i, 2) / cell),
      data[size * i + size - 1],
    );
    const list = filed.get(key);
    if (list) list.push(i);
    else filed.set(key, [i]);
  }
  const roles = new Set<number>();
  for (let i = 0; i < count; i++) roles.add(data[size * i + size - 1]);
  const made = { size, data, cell, filed, widest, roles: [...roles], reach, breadth: breadths };
  known[kind].set(mesh, made);
  return made;
}

const cellKey = (x: number, y: number, z: number, role: number): number =>
  key4(role, x + 1048576, y + 1048576, z + 1048576);

/** Elements of some roles whose middle lies within `reach` of a place, as the grid has them: some may be farther. */
function near(s: Spots, at: readonly number[], reach: number, roles: readonly number[]): number[] {
  const out: number[] = [];
  const lo = at.slice(0, 3).map((x) => floor((x - reach) / s.cell));
  const hi = at.slice(0, 3).map((x) => floor((x + reach) / s.cell));
  const cells = (hi[0] - lo[0] + 1) * (hi[1] - lo[1] + 1) * (hi[2] - lo[2] + 1);
  if (cells > 4 * s.filed.size) {
    for (let i = 0; i < s.data.length / s.size; i++) if (roles.includes(s.data[s.size * i + s.size - 1])) out.push(i);
    return out;
  }
  for (let x = lo[0]; x <= hi[0]; x++)
    for (let y = lo[1]; y <= hi[1]; y++)
      for (let z = lo[2]; z <= hi[2]; z++)
        for (const role of roles) out.push(...(s.filed.get(cellKey(x, y, z, role)) ?? []));
  return out;
}

/** Elements that are now where a spot was; none where nothing is near enough. */
export function findSpot(mesh: Mesh, kind: PickKind, spot: ArrayLike<number>, count: number): number[] {
  if (count === 0) return [];
  const s = spotsOf(mesh, kind, count);
  const own = spot[s.size - 1];
  const found = finders[kind](s, spot, [own]);
  if (found.length > 0) return found;
  // Copies that were strewn or stacked stand for themselves alone: one that is gone is not to be found in another.
  const alone = mesh.attributes[COPY] !== undefined;
  // A copy stands where an original was, or the other way round: a mirror was put in or taken away. As long as it is
  // there, what was on one of its copies is on no original.
  const copied = own >>> 16 !== 0 && s.roles.some((r) => r >>> 16 === own >>> 16);
  const others = s.roles.filter((r) => r !== own && (r & 0xffff) === (own & 0xffff) && !(copied && r >>> 16 === 0));
  if (others.length > 0 && !alone) return finders[kind](s, spot, others);
  return (own & 0xffff) === 0 ? [] : whereDrawnFrom(s, kind, spot);
}

/**
 * Where the move that drew something out is gone, what lay on top of it lies on what it was drawn from: one lift lower,
 * at the same place. Walls have nothing to go back to.
 */
function whereDrawnFrom(s: Spots, kind: PickKind, spot: ArrayLike<number>): number[] {
  const lower = Float64Array.from(spot);
  const lifts = LIFTS[kind];
  for (const k of lifts) if (abs(abs(spot[k]) - 1) > ON_TOP) return [];
  for (const k of lifts) lower[k] = spot[k] - Math.sign(spot[k]);
  if (kind === 'face' && isWall(lower, 0)) return [];
  const copy = (spot[s.size - 1] & 0xffff0000) >>> 0;
  const roles = s.roles.filter((r) => (r & 0xffff0000) >>> 0 === copy);
  return roles.length > 0 ? finders[kind](s, lower, roles) : [];
}

/** Where the lifts of a spot stand. */
const LIFTS: Readonly<Record<PickKind, readonly number[]>> = { vertex: [3], edge: [3, 7], face: [3] };
/**
 * This near to one lift something lies on top; what is lower is on the way up, what is higher was drawn out of what was
 * drawn out.
 */
const ON_TOP = 0.25;

/**
 * The element whose middle is nearest to where a spot's was, however far that is: of what looks the same way, else of
 * all. −1 for none.
 */
export function nearestSpot(mesh: Mesh, kind: PickKind, spot: ArrayLike<number>, count: number): number {
  if (count === 0) return -1;
  const s = spotsOf(mesh, kind, count);
  const at = middleOf(kind, spot, 0);
  const list: Candidate[] = [];
  for (let i = 0; i < count; i++) {
    const own = middleOf(kind, s.data, s.size * i);
    list.push({ index: i, distance: sqrt(apart(own, 0, at, 0)), at: own });
  }
  const alike = kind === 'face' ? list.filter((c) => sameSide(spot, 0, s.data, s.size * c.index)) : list;
  return best(alike.length > 0 ? alike : list)!.index;
}

/**
 * Lower where a place comes before another in x, then y, then z, then lift; 0 where they are the same but for rounding.
 */
function order(a: ArrayLike<number>, b: ArrayLike<number>): number {
  for (let k = 0; k < 4; k++) if (abs(a[k] - b[k]) > 1e-5) return a[k] - b[k];
  return 0;
}

interface Candidate {
  index: number;
  distance: number;
  at: number[];
}

/** The nearest, and of those that are as near the first in order. */
function best(list: readonly Candidate[]): Candidate | undefined {
  let out: Candidate | undefined;
  for (const c of list) {
    const nearer = out === undefined || c.distance < out.distance - 1e-5;
    const asNear = out !== undefined && abs(c.distance - out.distance) <= 1e-5;
    if (nearer || (asNear && order(c.at, out!.at) < 0)) out = c;
  }
  return out;
}

const middleOf = (kind: PickKind, data: ArrayLike<number>, o: number): number[] =>
  [0, 1, 2, 3].map((k) => middle(kind, data, o, k));

function nearestVertex(s: Spots, spot: ArrayLike<number>, roles: readonly number[]): number[] {
  const at = middleOf('vertex', spot, 0);
  // Nearly always something is within the reach it had; only where all is coarser now need more be looked at.
  const reach = (spot[5] & 0xffff) === 0 ? VERTEX_REACH : DRAWN_REACH;
  for (const limit of [reach * spot[4], reach * s.widest]) {
    const list: Candidate[] = [];
    for (const i of near(s, at, limit, roles)) {
      const distance = sqrt(apart(s.data, s.size * i, spot, 0));
      if (distance <= reach * max(spot[4], s.data[s.size * i + 4]))
        list.push({ index: i, distance, at: middleOf('vertex', s.data, s.size * i) });
    }
    const found = best(list.filter((c) => c.distance <= limit));
    if (found) return [found.index];
  }
  return [];
}

/** Share of the way from a to b at which a place lies, and how far beside the line it is, as a vector. */
function beside(line: ArrayLike<number>, o: number, place: readonly number[]): { t: number; off: number[] } {
  let dot = 0;
  let l = 0;
  for (let k = 0; k < 4; k++) {
    const d = line[o + 4 + k] - line[o + k];
    dot += (place[k] - line[o + k]) * d;
    l += d * d;
  }
  const t = l > 0 ? dot / l : 0;
  return { t, off: place.map((x, k) => x - line[o + k] - t * (line[o + 4 + k] - line[o + k])) };
}

function sameWay(a: ArrayLike<number>, o: number, b: ArrayLike<number>, p: number): boolean {
  let dot = 0;
  for (let k = 0; k < 4; k++) dot += (a[o + 4 + k] - a[o + k]) * (b[p + 4 + k] - b[p + k]);
  return abs(dot) >= SAME_WAY * sqrt(apart(a, o, a, o + 4) * apart(b, p, b, p + 4));
}

function edgesAlong(s: Spots, spot: ArrayLike<number>, roles: readonly number[]): number[] {
  const at = middleOf('edge', spot, 0);
  const own = radius('edge', spot, 0) + VERTEX_REACH * spot[8];
  for (const reach of [own, own + VERTEX_REACH * s.widest]) {
    const inside = linesIn(s, spot, at, near(s, at, reach, roles));
    // All parts of one line: those that lie as far aside as the nearest, on the same side of it.
    const first = best(inside.map((c) => ({ ...c, at: c.off })));
    if (!first) continue;
    const slack = 0.25 * max(spot[8], 1e-9);
    const aside = inside.map((c) => ({ ...c, distance: sqrt(apart(c.off, 0, first.at, 0)) }));
    return oneLine(aside.filter((c) => c.distance <= slack)).map((c) => c.index);
  }
  const holding: Candidate[] = [];
  for (const i of near(s, at, own + 2 * s.widest, roles)) {
    const o = s.size * i;
    if (!sameWay(spot, 0, s.data, o)) continue;
    const { t, off } = beside(s.data, o, at);
    const distance = hypot(...off);
    if (t >= -SLACK && t <= 1 + SLACK && distance <= VERTEX_REACH * max(spot[8], s.data[o + 8]))
      holding.push({ index: i, distance, at: middleOf('edge', s.data, o) });
  }
  const one = best(holding);
  return one ? [one.index] : [];
}

interface Part extends Candidate {
  off: number[];
  /** The share of the line that it covers. */
  from: number;
  to: number;
}

/**
 * Of parts of lines close beside each other those of the nearest. None where two of them lie in one and the same place:
 * which of them was meant cannot be told.
 */
function oneLine(parts: readonly Part[]): Part[] {
  const out: Part[] = [];
  for (const p of [...parts].sort((a, b) => a.distance - b.distance || a.index - b.index)) {
    const over = out.find((q) => min(p.to, q.to) - max(p.from, q.from) > 0.5 * min(p.to - p.from, q.to - q.from));
    if (!over) out.push(p);
    else if (p.distance - over.distance < SLACK * (p.to - p.from)) return [];
  }
  return out;
}

/** Edges that run the same way as a spot's, with their middle beside it. */
function linesIn(s: Spots, spot: ArrayLike<number>, at: readonly number[], among: readonly number[]): Part[] {
  const out: Part[] = [];
  const whole = sqrt(apart(spot, 0, spot, 4)) || 1;
  for (const i of among) {
    const o = s.size * i;
    if (!sameWay(spot, 0, s.data, o)) continue;
    const own = middleOf('edge', s.data, o);
    const { t, off } = beside(spot, 0, own);
    const distance = hypot(...off);
    if (t >= -SLACK && t <= 1 + SLACK && distance <= VERTEX_REACH * max(spot[8], s.data[o + 8])) {
      const half = sqrt(apart(s.data, o, s.data, o + 4)) / whole / 2;
      out.push({ index: i, distance, at: own, off, from: t - half, to: t + half });
    }
  }
  return out;
}

/**
 * A middle that lies on the line between two cells is the lower one's: no place is covered twice, and none left out.
 */
const isHeld = (share: number, up: boolean): boolean => {
  const x = up ? share : -share;
  return x > -1 + SLACK && x <= 1 + SLACK;
};

/**
 * Whether two of some faces lie in one and the same place: walls of two parts that let go of each other, say. Which of
 * them was meant cannot be told: better lost, and told, than the wrong one.
 */
function isDoubled(s: Spots, list: readonly number[], own: number): boolean {
  if (list.length < 2 || list.length > 64) return false;
  const same = (1e-3 * own) ** 2;
  for (let i = 1; i < list.length; i++)
    for (let j = 0; j < i; j++) if (apart(s.data, s.size * list[i], s.data, s.size * list[j]) < same) return true;
  return false;
}

function facesIn(s: Spots, spot: ArrayLike<number>, roles: readonly number[]): number[] {
  const at = middleOf('face', spot, 0);
  const own = radius('face', spot, 0);
  const rest = isWall(spot, 0) ? 0.25 : 0.6;
  const broad = breadth(spot, 0);
  const thick = (i: number) => rest * max(broad, s.breadth[i]);
  const inside: number[] = [];
  for (const i of near(s, at, 1.7 * own, roles)) {
    const o = s.size * i;
    if (!sameSide(spot, 0, s.data, o)) continue;
    const a = within(spot, 0, middleOf('face', s.data, o));
    if (isHeld(a.s, forward(spot, 4)) && isHeld(a.t, forward(spot, 8)) && a.off <= thick(i)) inside.push(i);
  }
  if (inside.length > 0) return isDoubled(s, inside, own) ? [] : inside;
  const holding: Candidate[] = [];
  for (const i of near(s, at, own + s.widest, roles)) {
    const o = s.size * i;
    // It cannot hold what is farther from its middle than it reaches.
    const reach = (1 + SLACK) * s.reach[i] + thick(i);
    if (apart(s.data, o, spot, 0) > reach * reach || !sameSide(spot, 0, s.data, o)) continue;
    const b = within(s.data, o, at);
    if (abs(b.s) <= 1 + SLACK && abs(b.t) <= 1 + SLACK && b.off <= thick(i))
      holding.push({ index: i, distance: sqrt(apart(s.data, o, spot, 0)), at: middleOf('face', s.data, o) });
  }
  const one = best(holding);
  if (one) return [one.index];
  return isWall(spot, 0) ? ledgesBeside(s, spot, roles) : [];
}

/**
 * Where the line is gone that a wall stood on, the move that drew it has drawn another: the nearest that stands beside
 * it within a cell and looks the same way.
 */
function ledgesBeside(s: Spots, spot: ArrayLike<number>, roles: readonly number[]): number[] {
  const at = middleOf('face', spot, 0);
  const cell = s.cell / 4;
  const list: Candidate[] = [];
  for (const i of near(s, at, radius('face', spot, 0) + cell, roles)) {
    const o = s.size * i;
    if (!isWall(s.data, o) || feet(spot, 0, s.data, o) < SAME_WAY) continue;
    const there = middleOf('face', s.data, o);
    const [a, b] = [within(spot, 0, there), within(s.data, o, at)];
    const beside = (x: { s: number; t: number }) => abs(x.s) <= 1 + SLACK && abs(x.t) <= 1 + SLACK;
    if ((beside(a) || beside(b)) && a.off <= cell) list.push({ index: i, distance: a.off, at: there });
  }
  const first = best(list);
  if (!first) return [];
  const slack = 0.25 * breadth(spot, 0);
  const found = list.filter((c) => c.distance <= first.distance + slack).map((c) => c.index);
  return isDoubled(s, found, radius('face', spot, 0)) ? [] : found;
}

const finders = { vertex: nearestVertex, edge: edgesAlong, face: facesIn };

const { isFinite: finite } = Number;
/** A spot read from a document may be anything: only what is a spot of the kind counts. */
export const isSpot = (kind: PickKind, spot: ArrayLike<number>): boolean => {
  if (spot.length !== SPOT_SIZE[kind]) return false;
  for (let i = 0; i < spot.length; i++) if (!finite(spot[i])) return false;
  return min(spot[spot.length - 1], 0) === 0;
};
