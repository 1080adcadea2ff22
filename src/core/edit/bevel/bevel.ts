/**
 * Bevel of edges. Every picked edge with two faces becomes a strip of them. Round each vertex the bevelled edges part
 * the faces into sectors, each of which gets a vertex of its own: set in from both edges where it is one face, else
 * slid along the edges between. Where one bevel ends, it ends in the face across (three edges) or in a small face
 * (more); two run into one another; three and more meet in a corner patch.
 *
 * 10,000 edges of a block of 100 × 100 × 50 cells: see `./glypta bench --only moves`.
 */
import { edgeKey, key3, key4, keyOf, key2 } from '../../math/hash';
import { EVERY, pulse } from '../../math/pulse';
import { along, at, cross, dot, minus, unit, type Vector } from '../../math/vector';
import { MeshDraft } from '../../mesh/draft';
import type { Mesh } from '../../mesh/mesh';
import { faceNormal } from '../../mesh/normals';
import { edgeKeys } from '../../mesh/picks';
import { nextCorner, previousCorner, topologyOf } from '../../mesh/topology';
import { edgeIn, edgeOut, fanOf, sectorsOf, type Fan, type Sector } from './fans';
import { patchOf, wedgesOf } from './patch';
import { profile } from './profile';

export interface BevelOptions {
  /** Metres; how far each side is set in from the edge. */
  width: number;
  /** In place of a width: share of the widest there is room for; 0 to go by width. */
  share: number;
  /** Faces across each strip. */
  segments: number;
  /** 0 flat, 0.5 round, 1 keeps the edge. */
  shape: number;
  /** Never wider than there is room. */
  clamp: boolean;
  /** Where three and more meet: a patch that goes on in the profile, wedges round a middle, or one flat face. */
  corner: 'patch' | 'wedges' | 'flat';
}

const BEVEL = keyOf('bevel');

/** A new vertex in a sector: where it goes from the old one for a width of 1, and the corner it belongs to. */
interface Point {
  way: Vector;
  corner: number;
  name: number;
}

/**
 * What a corner of a face becomes: new vertices (numbers in `points`) or the old one (−1), in the order of the face.
 */
type Entry = readonly number[];

interface Plan {
  points: Point[];
  entries: Map<number, Entry>;
  /**
   * For the corner at whose vertex a bevelled edge goes out: the points on its own side and on the other (−1: the old
   * vertex).
   */
  ends: Map<number, readonly [number, number]>;
  /** How much of each edge is used up from both ends, for a width of 1. */
  used: Map<number, number>;
  corners: { fan: Fan; sectors: readonly Sector[]; points: readonly number[] }[];
  /** Ends of single bevels that need a face of their own, or whose row goes into the face across. */
  tips: { corner: number; across: number; left: number; right: number; cap: boolean }[];
}

const cornersAt = (mesh: Mesh, v: number): Uint32Array => {
  const t = topologyOf(mesh);
  return t.vertexCorner.subarray(t.vertexCornerStart[v], t.vertexCornerStart[v + 1]);
};

/** Direction of the edge from a corner's vertex towards another vertex. */
const towards = (mesh: Mesh, v: number, w: number): Vector => unit(minus(at(mesh.positions, w), at(mesh.positions, v)));

/** Way per width so that a point slid along `u` is 1 away from the line along `d`; at most 6 times. */
const slideFor = (u: Vector, d: Vector): number => {
  const c = cross(u, d);
  return Math.min(6, 1 / Math.max(1e-9, Math.sqrt(dot(c, c))));
};

/** Throws an Error with one sentence where nothing can be bevelled. */
export function bevelEdges(
  mesh: Mesh,
  edges: ArrayLike<number>,
  o: BevelOptions,
  id: number,
  tell?: (text: string) => void,
): Mesh {
  const t = topologyOf(mesh);
  const { cornerVertex: cv } = mesh;
  const bevelled = new Uint8Array(t.edgeCount);
  let count = 0;
  for (let i = 0; i < edges.length; i++) {
    const e = edges[i];
    const s = t.edgeCornerStart[e];
    if (t.edgeCornerStart[e + 1] - s !== 2 || cv[t.edgeCorner[s]] === cv[t.edgeCorner[s + 1]]) continue;
    bevelled[e] = 1;
    count++;
  }
  if (count === 0) throw new Error('A bevel needs an edge with a face on both sides.');
  if (count < edges.length)
    tell?.(
      `${edges.length - count} of ${edges.length} edges stay: they have no face on one side, or more than two, ` +
        'or faces that disagree.',
    );
  const plan = planOf(mesh, bevelled);
  const room = roomOf(mesh, plan.used);
  const wanted = o.share > 0 ? o.share * room : o.width;
  const width = o.clamp ? Math.min(wanted, 0.999 * room) : wanted;
  if (!(width > 0)) throw new Error('A bevel needs a width over 0, and edges that have a length.');
  if (width < wanted * 0.9999) tell?.('There is not so much room: the bevel was made as wide as fits.');
  return build(mesh, bevelled, plan, width, o, key2(id, BEVEL));
}

/** The width at which the first edge would be used up. */
function roomOf(mesh: Mesh, used: ReadonlyMap<number, number>): number {
  const t = topologyOf(mesh);
  let room = Infinity;
  for (const [e, share] of used) {
    if (share <= 0) continue;
    const d = minus(at(mesh.positions, t.edgeVertex[2 * e]), at(mesh.positions, t.edgeVertex[2 * e + 1]));
    room = Math.min(room, Math.sqrt(dot(d, d)) / share);
  }
  return Number.isFinite(room) ? room : 0;
}

function planOf(mesh: Mesh, bevelled: Uint8Array): Plan {
  const t = topologyOf(mesh);
  const plan: Plan = { points: [], entries: new Map(), ends: new Map(), used: new Map(), corners: [], tips: [] };
  const seen = new Uint8Array(mesh.vertexCount);
  for (let e = 0; e < t.edgeCount; e++) {
    if ((e & EVERY) === 0) pulse();
    if (!bevelled[e]) continue;
    for (const v of [t.edgeVertex[2 * e], t.edgeVertex[2 * e + 1]]) {
      if (seen[v]) continue;
      seen[v] = 1;
      const done = new Set<number>();
      for (const c of cornersAt(mesh, v)) {
        if (done.has(c)) continue;
        const fan = fanOf(mesh, c);
        fan.corners.forEach((x) => done.add(x));
        planFan(mesh, fan, bevelled, plan);
      }
    }
  }
  return plan;
}

function planFan(mesh: Mesh, fan: Fan, bevelled: Uint8Array, plan: Plan): void {
  const is = (e: number) => bevelled[e] === 1;
  const sectors = sectorsOf(mesh, fan, is);
  if (sectors.length === 0 || sectors.every((s) => s.from < 0 && s.to < 0)) return;
  if (fan.closed && sectors.length === 1) {
    planTip(mesh, fan, sectors[0], plan);
    return;
  }
  const points = sectors.map((s) => planSector(mesh, fan.vertex, s, plan));
  sectors.forEach((s, i) => {
    for (const c of s.corners) plan.entries.set(c, [points[i]]);
    if (s.to < 0) return;
    // The edge it ends at goes out at the first corner of the next.
    const next = (i + 1) % sectors.length;
    plan.ends.set(sectors[next].corners[0], [points[next], points[i]]);
  });
  plan.corners.push({ fan, sectors, points });
}

const claim = (plan: Plan, edge: number, share: number): void => {
  plan.used.set(edge, (plan.used.get(edge) ?? 0) + Math.max(0, share));
};

function newPoint(plan: Plan, way: Vector, corner: number, name: number): number {
  plan.points.push({ way, corner, name });
  return plan.points.length - 1;
}

/** The vertex of a sector: set in from both its edges. */
function planSector(mesh: Mesh, v: number, s: Sector, plan: Plan): number {
  const t = topologyOf(mesh);
  const { cornerVertex: cv } = mesh;
  const first = s.corners[0];
  const last = s.corners[s.corners.length - 1];
  const outEdge = edgeOut(mesh, first);
  const inEdge = edgeIn(mesh, last);
  const u1 = towards(mesh, v, cv[nextCorner(mesh, t.cornerFace[first], first)]);
  const u2 = towards(mesh, v, cv[previousCorner(mesh, t.cornerFace[last], last)]);
  const keys = edgeKeys(mesh);
  const name = key3(mesh.vertexKey[v], keys[s.from >= 0 ? outEdge : inEdge], s.from >= 0 ? 1 : 2);
  if (s.from < 0 || s.to < 0) {
    // Between the border and a bevelled edge: along the border.
    const [u, d, edge] = s.from < 0 ? [u1, u2, outEdge] : [u2, u1, inEdge];
    const k = slideFor(u, d);
    claim(plan, edge, k);
    return newPoint(plan, [u[0] * k, u[1] * k, u[2] * k], s.from < 0 ? first : last, name);
  }
  if (s.corners.length === 1) {
    const n = new Float32Array(3);
    faceNormal(mesh, t.cornerFace[first], n, 0);
    const normal: Vector = [n[0], n[1], n[2]];
    const sin = dot(normal, cross(u1, u2));
    const cos = dot(u1, u2);
    if (Math.abs(sin) < 0.02) {
      // Straight on: square to the edge, into the face. A spike has no room at all: it stays where it is as nearly as
      // can be.
      const side = cos < 0 ? unit(cross(normal, u1)) : u1;
      return newPoint(plan, side, first, name);
    }
    const k = Math.max(-6, Math.min(6, 1 / sin));
    const way: Vector = [k * (u1[0] + u2[0]), k * (u1[1] + u2[1]), k * (u1[2] + u2[2])];
    claim(plan, outEdge, dot(way, u1));
    claim(plan, inEdge, dot(way, u2));
    return newPoint(plan, way, first, name);
  }
  // Along the edges between, so far that it is as far from both bevelled edges as the width says.
  let sum: Vector = [0, 0, 0];
  const inner = s.corners.slice(0, -1);
  for (const c of inner) sum = along(sum, towards(mesh, v, cv[previousCorner(mesh, t.cornerFace[c], c)]), 1);
  const u = unit(sum);
  const k = (slideFor(u, u1) + slideFor(u, u2)) / 2;
  for (const c of inner) {
    const own = towards(mesh, v, cv[previousCorner(mesh, t.cornerFace[c], c)]);
    claim(plan, edgeIn(mesh, c), k * Math.max(0, dot(u, own)));
  }
  return newPoint(plan, [u[0] * k, u[1] * k, u[2] * k], first, name);
}

/** One bevelled edge ends here, amid other faces. */
function planTip(mesh: Mesh, fan: Fan, s: Sector, plan: Plan): void {
  const t = topologyOf(mesh);
  const { cornerVertex: cv } = mesh;
  const v = fan.vertex;
  const n = s.corners.length;
  const first = s.corners[0];
  const last = s.corners[n - 1];
  if (n < 3) {
    // Two edges only: it runs out to a point.
    plan.ends.set(first, [-1, -1]);
    return;
  }
  const keys = edgeKeys(mesh);
  const d = towards(mesh, v, cv[nextCorner(mesh, t.cornerFace[first], first)]);
  const side = (corner: number, other: number, edge: number, role: number) => {
    const u = towards(mesh, v, other);
    const k = slideFor(u, d);
    claim(plan, edge, k);
    return newPoint(plan, [u[0] * k, u[1] * k, u[2] * k], corner, key3(mesh.vertexKey[v], keys[edge], role));
  };
  const left = side(first, cv[previousCorner(mesh, t.cornerFace[first], first)], edgeIn(mesh, first), 3);
  const right = side(last, cv[nextCorner(mesh, t.cornerFace[last], last)], edgeOut(mesh, last), 4);
  plan.ends.set(first, [left, right]);
  plan.entries.set(first, [left]);
  plan.entries.set(last, [right]);
  if (n === 3) {
    // The face across takes the whole row: its own corner is set when rows are known.
    plan.tips.push({ corner: first, across: s.corners[1], left, right, cap: false });
    return;
  }
  plan.entries.set(s.corners[1], [-1, left]);
  plan.entries.set(s.corners[n - 2], [right, -1]);
  plan.tips.push({ corner: first, across: s.corners[1], left, right, cap: true });
}

/** Weights of a face's corner, the next and the one before, for a place in its plane near that corner. */
function weightsIn(mesh: Mesh, corner: number, place: Vector): { of: number[]; weights: number[] } {
  const f = topologyOf(mesh).cornerFace[corner];
  const { positions: p, cornerVertex: cv } = mesh;
  const [n, b] = [nextCorner(mesh, f, corner), previousCorner(mesh, f, corner)];
  const o = at(p, cv[corner]);
  const [x, y, d] = [minus(at(p, cv[n]), o), minus(at(p, cv[b]), o), minus(place, o)];
  const [xx, xy, yy, dx, dy] = [dot(x, x), dot(x, y), dot(y, y), dot(d, x), dot(d, y)];
  const det = xx * yy - xy * xy;
  if (!(det > 1e-9 * xx * yy)) return { of: [corner], weights: [1] };
  const clamped = (s: number) => Math.max(-1, Math.min(1, s));
  const s = clamped((dx * yy - dy * xy) / det);
  const u = clamped((dy * xx - dx * xy) / det);
  return { of: [corner, n, b], weights: [1 - s - u, s, u] };
}

function build(mesh: Mesh, bevelled: Uint8Array, plan: Plan, width: number, o: BevelOptions, seed: number): Mesh {
  const t = topologyOf(mesh);
  const { positions: p, cornerVertex: cv, vertexKey: vk, faceStart } = mesh;
  const keys = edgeKeys(mesh);
  const draft = new MeshDraft(mesh);
  const n = Math.max(1, Math.round(o.segments));
  const places: Vector[] = [];
  const names: number[] = [];
  const had = mesh.vertexCount;
  const make = (key: number, place: Vector, from: number): number => {
    places.push(place);
    names.push(key);
    return draft.vertex(key, place[0], place[1], place[2], from);
  };
  const placeAt = (v: number): Vector => (v < had ? at(p, v) : places[v - had]);
  const nameAt = (v: number): number => (v < had ? vk[v] : names[v - had]);

  const vertexOf = plan.points.map(({ way, corner, name }) => {
    const place = along(at(p, cv[corner]), way, width);
    const { of, weights } = weightsIn(mesh, corner, place);
    return make(
      key2(seed, name),
      place,
      draft.blend(
        of.map((c) => cv[c]),
        weights,
      ),
    );
  });
  const real = (point: number, v: number) => (point < 0 ? v : vertexOf[point]);

  // Rows across each strip's ends, by the corner at which the edge goes out; of two bevels that run into one another
  // both have one.
  const rows = new Map<number, number[]>();
  const twins = new Map<number, number>();
  for (const { fan, sectors, points } of plan.corners) {
    if (!fan.closed || sectors.length !== 2 || points[0] === points[1]) continue;
    twins.set(sectors[0].corners[0], sectors[1].corners[0]);
    twins.set(sectors[1].corners[0], sectors[0].corners[0]);
  }
  const straightOn = new Set([...twins.keys(), ...plan.tips.map((x) => x.corner)]);
  for (const [corner, [left, right]] of plan.ends) {
    if (rows.has(corner)) continue;
    const v = cv[corner];
    const [a, b] = [real(left, v), real(right, v)];
    if (a === b) {
      rows.set(
        corner,
        Array.from({ length: n + 1 }, () => a),
      );
      continue;
    }
    const edge = edgeOut(mesh, corner);
    const [x, y, from] = [placeAt(a), placeAt(b), at(p, v)];
    let control: Vector = from;
    if (!straightOn.has(corner)) {
      const d = towards(mesh, v, cv[nextCorner(mesh, t.cornerFace[corner], corner)]);
      control = along(from, d, (dot(minus(x, from), d) + dot(minus(y, from), d)) / 2);
    }
    const twin = twins.get(corner);
    const name = twin === undefined ? keys[edge] : Math.min(keys[edge], keys[edgeOut(mesh, twin)]);
    const turned = twin !== undefined && name !== keys[edge];
    const curve = profile(x, control, y, n, o.shape);
    const row = curve.map((place, i) => {
      if (i === 0) return a;
      if (i === n) return b;
      return make(key4(seed, vk[v], name, 16 + (turned ? n - i : i)), place, v);
    });
    rows.set(corner, row);
    if (twin !== undefined) rows.set(twin, [...row].reverse());
  }
  for (const { corner, across, cap } of plan.tips)
    if (!cap)
      plan.entries.set(
        across,
        [...rows.get(corner)!].reverse().map((v) => -2 - v),
      );
  const entered = (c: number): readonly number[] | undefined =>
    plan.entries.get(c)?.map((x) => (x <= -2 ? -2 - x : real(x, cv[c])));

  // The faces that were.
  const touched = new Set<number>();
  for (const c of plan.entries.keys()) touched.add(t.cornerFace[c]);
  const renamed = new Set<number>();
  let pulses = 0;
  for (const f of touched) {
    if ((pulses++ & EVERY) === 0) pulse();
    draft.begin(mesh.faceKey[f], f);
    for (let c = faceStart[f]; c < faceStart[f + 1]; c++) {
      const list = entered(c);
      if (list) {
        for (const v of list) {
          const { of, weights } = weightsIn(mesh, c, placeAt(v));
          draft.at(v, draft.blend(of, weights));
        }
      } else draft.at(cv[c], c);
      const e = t.cornerEdge[c];
      if (bevelled[e] || renamed.has(e)) continue;
      const d = nextCorner(mesh, f, c);
      const a = list ? list[list.length - 1] : cv[c];
      const b = entered(d)?.[0] ?? cv[d];
      if (a === cv[c] && b === cv[d]) continue;
      renamed.add(e);
      draft.split(keys[e], [edgeKey(nameAt(a), nameAt(b))]);
    }
    draft.end();
    draft.drop(f);
  }

  /**
   * Adds a face unless it has fallen together; corners take what corner `c` of an old face has at their place, on its
   * side.
   */
  const face = (key: number, ring: readonly number[], c: number): void => {
    const own = ring.filter((v, i) => v !== ring[(i + 1) % ring.length]);
    if (own.length < 3) return;
    draft.begin(key, t.cornerFace[c]);
    for (const v of own) {
      const { of, weights } = weightsIn(mesh, c, placeAt(v));
      draft.at(v, draft.blend(of, weights));
    }
    draft.end();
  };

  for (let e = 0; e < t.edgeCount; e++) {
    if ((e & EVERY) === 0) pulse();
    if (!bevelled[e]) continue;
    const [x, y] = [t.edgeCorner[t.edgeCornerStart[e]], t.edgeCorner[t.edgeCornerStart[e] + 1]];
    const [c, d] = vk[cv[x]] < vk[cv[y]] ? [x, y] : [y, x];
    const near = rows.get(c)!;
    const far = [...rows.get(d)!].reverse();
    const parts: number[] = [];
    for (let j = 0; j < n; j++) {
      const key = key4(seed, keys[e], j, n);
      parts.push(key);
      // Each half of the strip goes on from the face on its side, so that UVs run on and a seam stays where the edge
      // was.
      const mine = n === 1 || j < n / 2;
      const corner = mine ? c : nextCorner(mesh, t.cornerFace[d], d);
      face(key, [near[j], near[j + 1], far[j + 1], far[j]], corner);
    }
    const line = n === 1 ? 1 : Math.ceil(n / 2);
    draft.split(keys[e], [edgeKey(nameAt(near[line]), nameAt(far[line]))]);
  }
  for (const { fan, sectors, points } of plan.corners) {
    if (sectors.length < 3) continue;
    // From each sector to the next, over the bevelled edge between; the last row of an open fan is its border.
    const rings = sectors.flatMap((s, i) =>
      s.to < 0 ? [] : [[...rows.get(sectors[(i + 1) % sectors.length].corners[0])!].reverse()],
    );
    const corner = sectors[0].corners[0];
    const name = key3(seed, vk[fan.vertex], mesh.faceKey[t.cornerFace[corner]]);
    if (!fan.closed || o.corner === 'flat' || (n === 1 && o.corner === 'patch')) {
      const ring = rings.flatMap((r) => r.slice(0, -1));
      if (!fan.closed) ring.push(real(points[points.length - 1], fan.vertex));
      face(name, ring, corner);
      continue;
    }
    const places = rings.map((r) => r.map(placeAt));
    const patch = o.corner === 'wedges' ? wedgesOf(places) : patchOf(places);
    const inner = patch.inner.map((place, i) => make(key3(name, 5, i), place, fan.vertex));
    patch.faces.forEach((ring, i) => {
      const vertices = ring.map(([row, k]) => (row < 0 ? inner[k] : rings[row][k]));
      face(key3(name, 6, i), vertices, sectors[ring[0][0] < 0 ? 0 : ring[0][0]].corners[0]);
    });
  }
  for (const { corner, cap } of plan.tips) {
    if (!cap) continue;
    const row = rows.get(corner)!;
    face(
      key3(seed, vk[cv[corner]], keys[edgeOut(mesh, corner)]),
      [row[0], cv[corner], ...[...row].reverse().slice(0, -1)],
      corner,
    );
  }
  return draft.finish();
}
