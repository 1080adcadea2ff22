/**
 * Places on the sheet fixed by hand, and how they follow the surface. A corner that is still there, by the keys of its
 * face and vertex, keeps its place. Where a face is gone or was cut up, because a count changed or a step came in
 * between, the faces that cover its place now take over: each of their corners gets what the old ones say where it
 * lies, so the island keeps its place and its shape.
 */
import { UnionFind } from '../../math/unionfind';
import { key2 } from '../../math/hash';
import { EVERY, pulse } from '../../math/pulse';
import type { Mesh } from '../../mesh/mesh';
import { descend } from '../../mesh/lasting';
import { unpackSpots } from '../../mesh/packedspots';
import { laterRole } from '../../mesh/places';
import { ringOf, sharesIn } from '../../mesh/rings';
import { findSpot, spotOfRing, type Spot } from '../../mesh/spots';
import type { Witness } from '../../mesh/witnesses';
import { nearestOf, Surroundings, type Seated } from './nearest';

/** For each, the face's and the vertex's key and the place on the sheet. */
export interface HandPlaces {
  face: readonly number[];
  vertex: readonly number[];
  /** 2 per entry. */
  uv: readonly number[];
  /**
   * Where each corner was on the surface (`packSpots`), in the order of the entries; absent until it was first seen.
   */
  spots?: string;
}

/** Numbers of a corner's spot: its place (4), its role. */
export const CORNER_SPOT = 5;
/**
 * A corner may lie outside the old faces by so many of their sizes: cells that are coarser now reach over the border
 * that the finer ones had.
 */
const BEYOND = 4;
/**
 * What two faces say of their common corner, beyond the border of what was there, may differ by so many cells and is
 * one place; what they say of what lies within differs by no more than this, or there is a cut between.
 */
const ONE_PLACE = 0.75;
const EXACT = 0.02;
/** Nor by so much more than how far they reach beyond it. */
const FARTHER = 4;

const { hypot, max, min } = Math;

/** What a corner's spot is remembered under. */
export const cornerNames = (placed: Pick<HandPlaces, 'face' | 'vertex'>): number[] =>
  placed.face.map((f, i) => key2(f, placed.vertex[i]));

/** The same without some of its entries. Where the rest was is seen anew. */
export function placesWithout(placed: HandPlaces, entries: ReadonlySet<number>): HandPlaces {
  const kept = placed.face.flatMap((_, i) => (entries.has(i) ? [] : [i]));
  return {
    face: kept.map((i) => placed.face[i]),
    vertex: kept.map((i) => placed.vertex[i]),
    uv: kept.flatMap((i) => [placed.uv[2 * i], placed.uv[2 * i + 1]]),
  };
}

export interface Pins {
  /** By corner. */
  at: Map<number, readonly [number, number]>;
  /** Entries of which nothing is where they were. */
  lost: number[];
  /** How many entries were followed by place. */
  followed: number;
  /** Corners that no entry names: their places were worked out from what lay there. */
  soft: Set<number>;
  /** By face that took over from others that are gone: their keys. */
  from: Map<number, number[]>;
  /** Faces that have their place from such as lay on others. */
  stacked: Set<number>;
  /** Faces that have their place from such as lay mirrored. */
  turned: Set<number>;
  /** By a place that reaches over the border of its island: the nearest on it. */
  within: Map<readonly [number, number], readonly [number, number]>;
}

/** A face as it was when it was placed. */
interface OldFace extends Seated {
  key: number;
  entries: number[];
  island: number;
}

/**
 * What is kept with places: where the corner of an entry was on the surface, and the keys of faces that lay on others.
 */
export interface KeptWith {
  spot(entry: number): Spot;
  lying: ReadonlySet<number>;
}

export function pinsOf(mesh: Mesh, placed: HandPlaces, witness?: Witness, kept?: KeptWith): Pins {
  const out: Pins = {
    at: new Map(),
    soft: new Set(),
    lost: [],
    followed: 0,
    from: new Map(),
    stacked: new Set(),
    turned: new Set(),
    within: new Map(),
  };
  const byFace = new Map<number, Map<number, number>>();
  placed.face.forEach((f, i) => {
    let m = byFace.get(f);
    if (!m) byFace.set(f, (m = new Map()));
    m.set(placed.vertex[i], i);
  });
  const names = cornerNames(placed);
  const heirs = heirsOf(mesh, [...byFace.keys()]);
  const there = new Uint8Array(placed.face.length);
  const incomplete = new Set<number>();
  const seen = new Map<number, Spot>();
  const vk = mesh.vertexKey;
  for (const [key, faces] of heirs)
    for (const f of faces) {
      if (liesMirrored(placed, [...byFace.get(key)!.values()])) out.turned.add(f);
      if (kept?.lying.has(key)) out.stacked.add(f);
      for (let c = mesh.faceStart[f]; c < mesh.faceStart[f + 1]; c++) {
        const v = mesh.cornerVertex[c];
        const i = byFace.get(key)!.get(vk[v]);
        if (i === undefined) {
          incomplete.add(key);
          continue;
        }
        there[i] = 1;
        out.at.set(c, [placed.uv[2 * i], placed.uv[2 * i + 1]]);
        if (witness) seen.set(names[i], cornerSpot(mesh, v));
      }
    }
  witness?.put(seen);
  for (const key of byFace.keys()) if (!heirs.has(key)) incomplete.add(key);
  placed.face.forEach((f, i) => {
    if (!there[i]) incomplete.add(f);
  });
  if (incomplete.size > 0) follow(mesh, placed, { names, byFace, heirs, there, incomplete, witness, kept }, out);
  return out;
}

function cornerSpot(mesh: Mesh, v: number): Spot {
  const { at, role } = mesh.places;
  return Float64Array.of(at[4 * v], at[4 * v + 1], at[4 * v + 2], at[4 * v + 3], role[v]);
}

/** By key: the faces that have it, or the parts it was split into. */
function heirsOf(mesh: Mesh, keys: readonly number[]): Map<number, number[]> {
  const out = new Map<number, number[]>();
  const wanted = new Set(keys);
  const fk = mesh.faceKey;
  for (let f = 0; f < mesh.faceCount; f++) if (wanted.has(fk[f])) out.set(fk[f], [f]);
  if (mesh.lineage.length === 0 || out.size === wanted.size) return out;
  const index = new Map<number, number>();
  for (let f = 0; f < mesh.faceCount; f++) index.set(fk[f], f);
  for (const key of wanted) {
    if (out.has(key)) continue;
    const parts = descend(mesh.lineage, key).flatMap((k) => index.get(k) ?? []);
    if (parts.length > 0) out.set(key, parts);
  }
  return out;
}

interface Found {
  names: readonly number[];
  byFace: ReadonlyMap<number, ReadonlyMap<number, number>>;
  heirs: ReadonlyMap<number, readonly number[]>;
  there: Uint8Array;
  incomplete: ReadonlySet<number>;
  witness?: Witness;
  kept?: KeptWith;
}

/** What was found for a corner; `inside`: it reaches over a border, and that is the nearest on it. */
interface Reached {
  c: number;
  place: [number, number];
  inside: [number, number] | undefined;
  name: string;
  cell: number;
}

/** Corners that no entry names get their places from what was placed where they lie. */
function follow(mesh: Mesh, placed: HandPlaces, found: Found, out: Pins): void {
  const old = oldFaces(placed, found);
  const heirsOfOld = new Map<number, OldFace[]>();
  const claimed = new Set([...found.heirs.values()].flat());
  for (const key of found.incomplete) {
    const face = old.get(key);
    const there = (face && findSpot(mesh, 'face', face.spot, mesh.faceCount)) ?? [];
    const own = found.heirs.get(key);
    // What has its key may have become smaller, and others lie with it where it was.
    const heirs = own ? [...own, ...there.filter((f) => !claimed.has(f) && holds(face!, ringOf(mesh, f)))] : there;
    const missing = [...found.byFace.get(key)!.values()].filter((i) => !found.there[i]);
    if (!face || heirs.length === 0) {
      out.lost.push(...missing);
      continue;
    }
    out.followed += missing.length;
    for (const f of heirs) {
      if (found.kept?.lying.has(key)) out.stacked.add(f);
      if (!found.heirs.has(key)) out.from.set(f, [...(out.from.get(f) ?? []), key]);
      const list = heirsOfOld.get(f);
      if (list) list.push(face);
      else heirsOfOld.set(f, [face]);
    }
  }
  if (heirsOfOld.size === 0) return;
  const byIsland = new Map<number, OldFace[]>();
  for (const face of old.values()) {
    const list = byIsland.get(face.island);
    if (list) list.push(face);
    else byIsland.set(face.island, [face]);
  }
  const islands = new Map(Array.from(byIsland, ([island, list]) => [island, new Surroundings(list)] as const));
  const settled = new Map<string, { place: [number, number]; reach: number }[]>();
  const unsure: Reached[] = [];
  /**
   * One vertex has one place in an island, on each side of a cut: the nearest that was said within some cells, and not
   * much farther off than either reaches over its border.
   */
  const settle = ({ c, place, inside, name, cell }: Reached, within: number): void => {
    const had = settled.get(name) ?? [];
    const reach = inside ? hypot(place[0] - inside[0], place[1] - inside[1]) : 0;
    let one: [number, number] | undefined;
    let least = within * cell;
    for (const { place: p, reach: other } of had) {
      const away = hypot(p[0] - place[0], p[1] - place[1]);
      if (away >= least || away > EXACT * cell + FARTHER * max(reach, other)) continue;
      least = away;
      one = p;
    }
    if (!one) {
      settled.set(name, [...had, { place, reach }]);
      if (inside) out.within.set(place, inside);
    }
    out.at.set(c, one ?? place);
  };
  for (const [f, sources] of heirsOfOld) {
    pulse();
    const ring = ringOf(mesh, f);
    const n = ring.length / 4;
    const middle = middleOf(ring);
    // One face lies in one island, whatever it covers: that of what its middle lies in.
    const centre = nearestOf(sources, middle, middle);
    const { island } = centre?.face ?? sources[0];
    const [mu, mv] = centre ? placeIn(placed, centre) : [0, 0];
    if (liesMirrored(placed, (centre?.face ?? sources[0]).entries)) out.turned.add(f);
    const own = sources.filter((s) => s.island === island);
    for (let i = 0; i < n; i++) {
      const c = mesh.faceStart[f] + i;
      if (out.at.has(c)) continue;
      const at = ring.subarray(4 * i, 4 * i + 4);
      // A seam is told apart by what is a little farther in.
      const near = middle.map((m, k) => at[k] + 0.02 * (m - at[k]));
      let best = nearestOf(own, at, near);
      if (!best || best.distance > 1e-3 * best.size) best = islands.get(island)!.nearest(at, near);
      if (!best || best.distance > BEYOND * best.size) continue;
      let place = placeIn(placed, best);
      let inside = best.distance > 1e-3 * best.size ? within(placed, best) : undefined;
      // A face over a cut lies on one side of it: what its middle lies in says how it goes on beyond.
      const beyond = centre && sharesIn(centre.face.ring, at, middle);
      if (beyond) {
        const reach = { face: centre.face, shares: beyond.shares };
        const on = placeIn(placed, reach);
        const far = hypot(on[0] - mu, on[1] - mv) + sheetSize(placed, centre.face);
        if (hypot(place[0] - on[0], place[1] - on[1]) > far) {
          place = on;
          inside = within(placed, reach);
        }
      }
      const found = { c, place, inside, name: `${island}/${mesh.cornerVertex[c]}`, cell: sheetSize(placed, best.face) };
      if (inside) unsure.push(found);
      else settle(found, EXACT);
      out.soft.add(c);
    }
  }
  for (const found of unsure) settle(found, ONE_PLACE);
}

/** Whether the middle of a face lies in an old one. */
function holds({ ring, size }: OldFace, now: Float64Array): boolean {
  const at = middleOf(now);
  const found = sharesIn(ring, at, at);
  return found !== undefined && found.distance <= 1e-3 * size;
}

function middleOf(ring: Float64Array): number[] {
  const out = [0, 0, 0, 0];
  for (let i = 0; i < ring.length; i++) out[i & 3] += (4 * ring[i]) / ring.length;
  return out;
}

/** What the corners of an old face say at a place between or beside them. */
function placeIn(placed: HandPlaces, { face, shares }: { face: OldFace; shares: Float64Array }): [number, number] {
  let u = 0;
  let v = 0;
  shares.forEach((share, j) => {
    u += share * placed.uv[2 * face.entries[j]];
    v += share * placed.uv[2 * face.entries[j] + 1];
  });
  return [u, v];
}

/** The same for a place beside it, as far as the border of the face. */
function within(placed: HandPlaces, { face, shares }: { face: OldFace; shares: Float64Array }): [number, number] {
  const inside = shares.map((x) => max(0, x));
  const sum = inside.reduce((all, x) => all + x, 0);
  return placeIn(placed, { face, shares: inside.map((x) => x / sum) });
}

/** By its entries in their order round. */
function liesMirrored({ uv }: HandPlaces, entries: readonly number[]): boolean {
  let twice = 0;
  entries.forEach((i, k) => {
    const j = entries[(k + 1) % entries.length];
    twice += uv[2 * i] * uv[2 * j + 1] - uv[2 * i + 1] * uv[2 * j];
  });
  return twice < 0;
}

/** About how wide an old face is on the sheet. */
function sheetSize(placed: HandPlaces, { entries }: OldFace): number {
  let [x0, x1, y0, y1] = [Infinity, -Infinity, Infinity, -Infinity];
  for (const i of entries) {
    x0 = min(x0, placed.uv[2 * i]);
    x1 = max(x1, placed.uv[2 * i]);
    y0 = min(y0, placed.uv[2 * i + 1]);
    y1 = max(y1, placed.uv[2 * i + 1]);
  }
  return hypot(x1 - x0, y1 - y0) / Math.SQRT2;
}

/** The faces that were placed, as they were then: those of which every corner was seen. */
function oldFaces(placed: HandPlaces, { names, byFace, witness, kept }: Found): Map<number, OldFace> {
  const spots = placed.spots ? unpackSpots(names, CORNER_SPOT, placed.spots) : undefined;
  const out = new Map<number, OldFace>();
  const joined = new UnionFind(placed.face.length);
  const first = new Map<string, number>();
  for (const [key, corners] of byFace) {
    const entries = [...corners.values()];
    if ((out.size & EVERY) === 0) pulse();
    for (const i of entries) {
      joined.join(entries[0], i);
      const name = `${placed.vertex[i]}/${placed.uv[2 * i].toFixed(6)}/${placed.uv[2 * i + 1].toFixed(6)}`;
      const other = first.get(name);
      if (other === undefined) first.set(name, i);
      else joined.join(other, i);
    }
    const seen = entries.map((i) => kept?.spot(i) ?? witness?.get(names[i]) ?? spots?.get(names[i]));
    if (entries.length < 3 || seen.some((s) => s === undefined)) continue;
    const ring = new Float64Array(4 * entries.length);
    let role = seen[0]![4];
    let lift = seen[0]![3];
    seen.forEach((s, i) => {
      ring.set(s!.subarray(0, 4), 4 * i);
      role = laterRole(lift, role, s![3], s![4]);
      if (Math.abs(s![3]) > Math.abs(lift)) [, , , lift] = s!;
    });
    const spot = spotOfRing(ring, role);
    const size = hypot(spot[4], spot[5], spot[6], spot[7]) + hypot(spot[8], spot[9], spot[10], spot[11]);
    out.set(key, { key, entries, ring, spot, size, island: 0 });
  }
  for (const face of out.values()) face.island = joined.find(face.entries[0]);
  return out;
}
