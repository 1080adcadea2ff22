/** What was followed to a changed surface, and lies folded there, or on others. */
import type { Mesh } from '../../mesh/mesh';
import type { Charts } from '../part/charts';
import { islandsFlat, liesOnItself, localNumbers, type Flat, type Parting } from '../flat';
import { topologyOf } from '../../mesh/topology';
import { triangulate } from '../../mesh/triangulate';
import { meetingLoosely } from './meeting';
import { untangle } from '../flatten/untangle';
import type { UnwrapOptions } from '../unwrap';

/**
 * Faces that lie folded for having been followed are laid right, as far as their corners may move, and `places` are
 * those they have then, on the border of the island as before (`within`). Answers the faces that still lie folded, and how many triangles do between fixed places alone.
 */
function untangled(
  mesh: Mesh,
  ch: Charts,
  flat: Flat[],
  places: Map<number, readonly [number, number]>,
  soft: ReadonlySet<number>,
  turned: ReadonlySet<number>,
  within: Map<Place, Place>,
): { faces: number[]; hard: number } {
  const fixed = new Uint8Array(ch.uvCount);
  for (const c of places.keys()) if (!soft.has(c)) fixed[ch.cornerUv[c]] = 1;
  const faces = new Set<number>();
  let hard = 0;
  for (const f of flat) {
    if (!f.held) continue;
    const movable = Uint8Array.from(f.uvVertices, (u) => 1 - fixed[u]);
    const faceOf: number[] = [];
    for (const face of f.faces)
      for (let k = mesh.faceStart[face] + 2; k < mesh.faceStart[face + 1]; k++) faceOf.push(face);
    const other = turned.size > 0 ? Uint8Array.from(faceOf, mirrored(mesh, f.faces, places, turned)) : undefined;
    const bad = untangle(f.surface, f.triangles, f.points, movable, other);
    // What lies on its face lies over what is beside it: all that has to do with the corners that could not be helped.
    const lost = new Set<number>();
    for (const t of bad) {
      const corners = [0, 1, 2].map((q) => f.triangles[3 * t + q]).filter((v) => movable[v]);
      for (const v of corners) lost.add(v);
      if (corners.length === 0) hard++;
    }
    for (let i = 0; i < f.triangles.length; i++) if (lost.has(f.triangles[i])) faces.add(faceOf[(i / 3) | 0]);
  }
  const { number, chart } = localNumbers(mesh, ch, flat);
  for (const c of places.keys()) {
    const u = ch.cornerUv[c];
    const { held, points } = flat[chart[u]];
    if (!held || fixed[u]) continue;
    const [x, y] = [points[2 * number[u]], points[2 * number[u] + 1]];
    const was = places.get(c)!;
    if (was[0] === x && was[1] === y) continue;
    const now: Place = [x, y];
    places.set(c, now);
    const back = within.get(was);
    if (back) within.set(now, back);
  }
  return { faces: [...faces], hard };
}

/** Whether a face is to lie mirrored: what has no place of its own does as most of its island. */
function mirrored(
  mesh: Mesh,
  faces: Uint32Array,
  places: ReadonlyMap<number, unknown>,
  turned: ReadonlySet<number>,
): (face: number) => number {
  const known = new Set(faces.filter((f) => cornersOf(mesh, [f]).some((c) => places.has(c))));
  let most = 0;
  for (const f of known) most += turned.has(f) ? 1 : -1;
  return (face) => ((known.has(face) ? turned.has(face) : most > 0) ? 1 : 0);
}

type Place = readonly [number, number];
type Places = Map<number, Place>;

/** Each time fewer lie folded; what does then lies between places that are fixed. */
const ROUNDS_APART = 12;

/**
 * The islands of a surface to which places were followed, none folded and none on another that was not: what reaches
 * too far is taken back on its island, and what will not lie flat is laid out by itself. All others stay where they
 * came to lie. `stuck`: triangles folded for all that; `apart`: faces laid out by themselves.
 */
export function followedFlat(
  mesh: Mesh,
  o: UnwrapOptions,
  soft: ReadonlySet<number>,
  parting: Parting,
  first: { ch: Charts; flat: Flat[] },
): { ch: Charts; flat: Flat[]; stuck: number; apart: number } {
  const places: Places = new Map(o.pins);
  const apart = new Set<number>();
  const sheets = Math.max(1, o.sheets ?? 1);
  const anew = (): { ch: Charts; flat: Flat[] } => islandsFlat(mesh, { ...o, pins: places }, parting, apart);
  const within = new Map(o.within);
  let { ch, flat } = first;
  let stuck = 0;
  if (takeBack(places, reachingOut(places, soft, sheets, within), within)) ({ ch, flat } = anew());
  for (let round = 0; round < ROUNDS_APART; round++) {
    const folded = untangled(mesh, ch, flat, places, soft, o.turned ?? new Set(), within);
    stuck = folded.hard;
    let { faces } = folded;
    if (faces.length === 0) {
      // What the hand has laid may lie on what it likes.
      if (!o.stacked) break;
      const over = lyingOnOthers(mesh, settledPlaces(mesh, ch, flat), (c) => loose(places, soft, c), o.stacked);
      if (over.both.size === 0) break;
      faces = takeBack(places, cornersOf(mesh, over.both), within) ? [] : [...over.less];
    }
    for (const f of faces) {
      apart.add(f);
      for (const c of cornersOf(mesh, [f])) places.delete(c);
    }
    ({ ch, flat } = anew());
  }
  return { ch, flat, stuck, apart: apart.size };
}

/**
 * Faces without a place that hang on what was placed by hand, and lie folded for that, reach out of the sheets, or lie
 * on others: with all that is without a place in their island. They lie better by themselves. What is packed anew finds
 * its room with all that hangs on it; of that only what lies on its own island is in the way.
 */
export function inTheWay(mesh: Mesh, o: UnwrapOptions, ch: Charts, flat: readonly Flat[]): Set<number> {
  const out = new Set<number>();
  const without = (f: number): boolean => cornersOf(mesh, [f]).some((c) => !o.pins?.has(c));
  const lists = flat.map((f) => (f.held ? f.faces.filter(without) : f.faces.subarray(0, 0)));
  if (lists.every((l) => l.length === 0)) return out;
  const sheets = Math.max(1, o.sheets ?? 1);
  const at = settledPlaces(mesh, ch, flat);
  const loose = new Uint8Array(mesh.faceCount);
  for (const f of lists.flatMap((l) => [...l])) loose[f] = 1;
  const bad = new Uint8Array(mesh.faceCount);
  const { cornerFace } = topologyOf(mesh);
  const stays = flat.map((f) => !o.repack || f.faces.some((x) => o.locked?.has(x)));
  const islandOf = new Int32Array(mesh.faceCount);
  flat.forEach((f, k) => {
    for (const face of f.faces) islandOf[face] = k;
    if (lists[k].length === 0) return;
    if (foldsLoosely(mesh, f, loose)) bad[lists[k][0]] = 1;
    if (!stays[k]) return;
    const { least, most } = roomOf(mesh, o, f.faces, at, sheets);
    for (const c of cornersOf(mesh, lists[k]))
      for (let q = 0; q < 2; q++)
        if (at[2 * c + q] < least[q] - 1e-6 || at[2 * c + q] > most[q] + 1e-6) bad[cornerFace[c]] = 1;
  });
  meetingLoosely(triangulate(mesh), at, loose, (a, b) => {
    const [k, l] = [islandOf[a], islandOf[b]];
    if (k !== l && !(stays[k] && stays[l])) return;
    if (loose[a]) bad[a] = 1;
    if (loose[b]) bad[b] = 1;
  });
  for (const list of lists) if (list.some((f) => bad[f])) for (const f of list) out.add(f);
  return out;
}

/**
 * Where an island may reach: over the sheets that what was placed of it is on, and no farther out of them than that. At
 * the line between two it would be cut off in one and lie on what is in the other.
 */
function roomOf(
  mesh: Mesh,
  o: UnwrapOptions,
  faces: Iterable<number>,
  at: Float64Array,
  sheets: number,
): { least: number[]; most: number[] } {
  const least = [Infinity, 0];
  const most = [-Infinity, 1];
  for (const c of cornersOf(mesh, faces))
    for (let q = 0; q < 2 && o.pins?.has(c); q++) {
      least[q] = Math.min(least[q], at[2 * c + q]);
      most[q] = Math.max(most[q], at[2 * c + q]);
    }
  // Places are of single precision: what ends at the line is on its own side of it.
  least[0] = Math.min(least[0], Math.max(0, Math.floor(least[0] + 1e-6)));
  most[0] = Math.max(most[0], Math.min(sheets, Math.ceil(most[0] - 1e-6)));
  return { least, most };
}

/** Whether what is without a place lies the other way round than most of its island, or makes its rim cross itself. */
function foldsLoosely(mesh: Mesh, flat: Flat, loose: Uint8Array): boolean {
  const { points: p, triangles, faces } = flat;
  const ways = [0, 0];
  const looseWays = [0, 0];
  let t = 0;
  for (const f of faces)
    for (let k = mesh.faceStart[f] + 2; k < mesh.faceStart[f + 1]; k++, t += 3) {
      const [a, b, c] = [2 * triangles[t], 2 * triangles[t + 1], 2 * triangles[t + 2]];
      const area = (p[b] - p[a]) * (p[c + 1] - p[a + 1]) - (p[b + 1] - p[a + 1]) * (p[c] - p[a]);
      ways[area > 0 ? 0 : 1]++;
      if (loose[f] && area !== 0) looseWays[area > 0 ? 0 : 1]++;
    }
  const less = ways[0] >= ways[1] ? 1 : 0;
  if (looseWays[less] > 0) return true;
  // What was folded by hand is as the hand wants it.
  return ways[less] === 0 && liesOnItself(flat);
}

function cornersOf(mesh: Mesh, faces: Iterable<number>): number[] {
  const out: number[] = [];
  for (const f of faces) for (let c = mesh.faceStart[f]; c < mesh.faceStart[f + 1]; c++) out.push(c);
  return out;
}

/** Corners whose places reach out of the sheets, or over the line between two from what they were followed on. */
function reachingOut(
  places: Places,
  soft: ReadonlySet<number>,
  sheets: number,
  within: ReadonlyMap<Place, Place>,
): number[] {
  const sheetAt = (u: number): number => Math.min(sheets - 1, Math.max(0, Math.floor(u)));
  return [...soft].filter((c) => {
    const p = places.get(c);
    if (p === undefined) return false;
    const own = within.get(p);
    const [from, to] = own ? [sheetAt(own[0]), sheetAt(own[0]) + 1] : [0, sheets];
    return !(p[0] >= from && p[1] >= 0 && p[0] <= to && p[1] <= 1);
  });
}

/** Takes what reaches over the border of its island back on it, in all corners at once. Tells whether anything did. */
function takeBack(places: Places, corners: Iterable<number>, within: ReadonlyMap<Place, Place>): boolean {
  const back = new Set<Place>();
  for (const c of corners) {
    const p = places.get(c);
    if (p && within.has(p)) back.add(p);
  }
  if (back.size > 0) for (const [c, p] of places) if (back.has(p)) places.set(c, within.get(p)!);
  return back.size > 0;
}

/** How little says where a corner is: 0 where it was placed, 1 where it was followed, 2 where it was unfolded to. */
function loose(places: Places, soft: ReadonlySet<number>, c: number): number {
  if (!places.has(c)) return 2;
  return soft.has(c) ? 1 : 0;
}

/** Two per corner of the islands that stay where they are; of the others NaN. */
function settledPlaces(mesh: Mesh, ch: Charts, flat: readonly Flat[]): Float64Array {
  const out = new Float64Array(2 * mesh.cornerCount).fill(NaN);
  const { number, chart } = localNumbers(mesh, ch, flat);
  for (let c = 0; c < mesh.cornerCount; c++) {
    const u = ch.cornerUv[c];
    const { held, points } = flat[chart[u]];
    if (held) out.set(points.subarray(2 * number[u], 2 * number[u] + 2), 2 * c);
  }
  return out;
}

/**
 * Of the sheet: a thousandth of a pixel of 1,024. By pixels of 2,048, as it was told before, some hundred faces lay on
 * each other by slivers; told by this, layouts keep as much of their surface (99.51 % of 300 changes, for 99.52).
 */
const BARELY = 1e-9;

/**
 * Faces that lie on each other and need not, of two one at least followed; and of two the one more of which was.
 * `at`: two places per corner. `stacked`: faces that may lie on what they like.
 */
function lyingOnOthers(
  mesh: Mesh,
  at: Float64Array,
  loosely: (corner: number) => number,
  stacked: ReadonlySet<number>,
): { both: Set<number>; less: Set<number> } {
  const much = new Uint32Array(mesh.faceCount);
  for (let f = 0; f < mesh.faceCount; f++)
    for (let c = mesh.faceStart[f]; c < mesh.faceStart[f + 1]; c++) much[f] += loosely(c);
  const both = new Set<number>();
  const less = new Set<number>();
  const lies = (a: number, b: number): void => {
    if (less.has(a) || less.has(b) || stacked.has(a) || stacked.has(b)) return;
    const more = much[b] >= much[a] ? b : a;
    if (much[more] === 0) return;
    both.add(a).add(b);
    less.add(more);
  };
  meetingLoosely(triangulate(mesh), at, much, lies, BARELY);
  return { both, less };
}
