/**
 * Unwrap: seams → charts → conformal unfolding → even density → packing. What was placed by hand is held in place; only
 * the rest is unfolded and packed anew.
 */
import { EVERY, pulse } from '../math/pulse';
import type { Mesh } from '../mesh/mesh';
import { UV } from '../mesh/mesh';
import { triangulate } from '../mesh/triangulate';
import { nextCorner, topologyOf } from '../mesh/topology';
import { charts, chartShapes, facesByChart, linkBorders, partByDirection, seamEdges, type Charts } from './charts';
import { parted, type AutoParted } from './parted';
import { isBoxy } from './boxy';
import { conformal } from './lscm';
import { groupOf, layOutInGroups, type Together } from './groups';
import type { Packed, PackIsland } from './pack';
import { rimCrosses } from './flatness';
import { outlineOf } from './outline';
import { layOut, type Part } from './sheets';
import { asOne, eachAlone, stacksOf, togetherBy } from './stacks';
import { standing } from './standing';
import { untangle } from './untangle';
import { uprightInSingle } from './upright';

const { abs, hypot, max, min, sqrt } = Math;

export interface UnwrapOptions {
  cut: ReadonlySet<number>;
  hold: ReadonlySet<number>;
  /** Radians; edges left to the solver are seams where they bend by more. */
  seamAngle: number;
  /** Texels along the side of the sheet. */
  size: number;
  /** Texels between islands. */
  padding: number;
  /** Texels per metre; 0 for the largest that fits. */
  density: number;
  turn: boolean;
  /**
   * No place is drawn more than this one way against the other, nor larger or smaller by more than that; 0 for cutting
   * along seams alone.
   */
  stretch?: number;
  /** Of the corners that have a place, those that may give way a little where a face would lie folded. */
  soft?: ReadonlySet<number>;
  /** The places are those of a whole layout: what lies together there is together, whatever would be cut now. */
  kept?: boolean;
  /**
   * Islands wanted: they are joined over bends until there are no more, as far as they lie flat. 0 for as few as lie
   * flat without that.
   */
  islands?: number;
  /** Where the surface is alike on both sides of a plane, islands are too, but for those across it. */
  symmetric?: boolean;
  /** 0 to 1: how much cuts keep to creases and to what looks down. */
  hide?: number;
  /** Places on the sheet fixed by hand, by corner. */
  pins?: ReadonlyMap<number, readonly [number, number]>;
  /** Islands placed by hand keep their shape, but are packed with the rest, all at one density. */
  repack?: boolean;
  /** Islands with one of these faces stay where they were placed, packed or not. */
  locked?: ReadonlySet<number>;
  /** Islands with one of these faces stand as they do on the surface, what is above on top, and are not turned. */
  upright?: ReadonlySet<number>;
  /** Islands with one of these faces are laid twice as fine as the rest, or half as fine. */
  finer?: ReadonlySet<number>;
  coarser?: ReadonlySet<number>;
  /** Every island on whole texels, with straight sides where it has right angles. */
  pixels?: boolean;
  /** Sheets to lay islands on, each a unit further to the right. 1. */
  sheets?: number;
  /** The part of each sheet that may be used; all of it where that is left out. */
  part?: Part;
  /** Islands of one material, set or part lie near each other. */
  together?: Together;
  progress?: (share: number) => void;
}

export interface Unwrapped {
  mesh: Mesh;
  islands: number;
  /** Texels per metre reached. */
  density: number;
  /** Share of the area that is stretched beyond the bound, where one was asked for. */
  beyond: number;
  /** The wanted density did not fit. */
  tooDense: boolean;
  /** Texels between islands: fewer than asked for where they would not have fitted at all. */
  padding: number;
  /** Triangles of followed places that lie on their face, for all that was tried. */
  stuck: number;
  /** Faces that would have lain folded where they were followed, and were laid out by themselves. */
  apart: number;
}

export function unwrapMesh(mesh: Mesh, o: UnwrapOptions): Unwrapped {
  const marked = seamEdges(mesh, { cut: o.cut, hold: o.hold, angle: o.seamAngle });
  // Where every corner has its place there is nothing to plan.
  const settled = o.pins?.size === mesh.cornerCount;
  // On texels what is flat stays exactly flat, as long as the surface is made of flat sides.
  const bound = o.stretch && o.pixels && isBoxy(mesh) ? min(o.stretch, STRAIGHT) : o.stretch;
  const auto = bound && !settled ? parted(mesh, marked, o, bound) : undefined;
  const parting: Parting = { marked, auto, byHand: o.kept === true || (settled && !!o.stretch) };
  let { ch, flat } = islandsFlat(mesh, o, parting);
  if (!bound && !o.pins?.size && flat.some(liesOnItself)) {
    // Whatever it is stretched by, nothing lies on anything: the islands there are, cut where they have to be.
    const cut = new Set(Array.from(ch.seam.keys()).filter((e) => ch.seam[e] === 1));
    return { ...unwrapMesh(mesh, { ...o, cut, stretch: LOOSE }), beyond: 0 };
  }
  const apart = new Set<number>();
  let stuck = 0;
  if (o.soft?.size) {
    const places = new Map(o.pins);
    for (let round = 0; round < ROUNDS_APART; round++) {
      const folded = untangled(mesh, ch, flat, places, o.soft);
      stuck = folded.hard;
      if (folded.faces.length === 0) break;
      // What will not lie flat where it is, is laid out by itself; all the others stay as they came to lie.
      for (const f of folded.faces) {
        apart.add(f);
        for (let c = mesh.faceStart[f]; c < mesh.faceStart[f + 1]; c++) places.delete(c);
      }
      ({ ch, flat } = islandsFlat(mesh, { ...o, pins: places }, parting, apart));
    }
  }
  const stack = o.repack ? takenUp(flat, o) : new Map<Flat, number>();
  const held = flat.filter((f) => f.held);
  const free = flat.filter((f) => !f.held);
  for (const f of free)
    if (f.faces.some((x) => o.upright?.has(x))) {
      f.points = standing(f.surface, f.triangles, f.points);
      f.upright = true;
    }
  for (const f of free) {
    const by = finenessOf(f, o);
    if (by !== 1) f.points = f.points.map((x) => x * by);
  }
  let heldDensity = 0;
  for (const f of held) heldDensity = max(heldDensity, f.scaleOfHeld);
  const laying = { ...o, pixels: o.pixels ?? false, sheets: max(1, o.sheets ?? 1) };
  const stacks = togetherBy(free.map((f) => stack.get(f)));
  const single = asOne(free, stacks);
  const name = o.together && groupOf(mesh, o.together);
  const names = name && stacks.map((list) => name(free[list[0]].faces[0]));
  const laid = (): Packed =>
    names ? layOutInGroups(single, held, heldDensity, laying, names) : layOut(single, held, heldDensity, laying);
  let packed = laid();
  // With less between them something fits at last; nothing is left in a heap.
  while (free.length > 0 && !(packed.scale > 0) && laying.padding > 0) {
    laying.padding >>= 1;
    packed = laid();
  }
  const placed = eachAlone(free, stacks, packed.placed);
  free.forEach((f, i) => {
    f.points = placed[i];
    // On whole texels there is nothing left to round.
    if (!o.pixels) uprightInSingle(f.surface, f.triangles, f.points);
  });

  const uv = new Float32Array(2 * mesh.cornerCount);
  const local = localNumbers(mesh, ch, flat);
  for (let c = 0; c < mesh.cornerCount; c++) {
    if ((c & EVERY) === 0) pulse();
    const k = local.chart[ch.cornerUv[c]];
    const v = local.number[ch.cornerUv[c]];
    uv[2 * c] = flat[k].points[2 * v];
    uv[2 * c + 1] = flat[k].points[2 * v + 1];
  }
  return {
    mesh: mesh.withAttribute(UV, { domain: 'corner', width: 2, data: uv }),
    islands: ch.count,
    density: (free.length ? packed.scale : heldDensity) * o.size,
    beyond: auto?.beyond ?? 0,
    stuck,
    apart: apart.size,
    tooDense: !packed.fits && laying.padding === o.padding,
    padding: laying.padding,
  };
}

/** No bound to speak of, and what of its area a triangle keeps at least. */
const LOOSE = 50;
const SQUEEZED = 1e-6;

/** Some of it lies on its face, or on other parts of it. */
function liesOnItself({ points, triangles, surface }: Flat): boolean {
  let [up, down] = [0, 0];
  for (let t = 0; t < triangles.length; t += 3) {
    const [a, b, c] = [triangles[t], triangles[t + 1], triangles[t + 2]];
    const own = surfaceOf(surface, a, b, c);
    if (!(own > 1e-14)) continue;
    const area = signedArea(points, a, b, c);
    // Squeezed to nothing it may come to lie either way.
    if (abs(area) < SQUEEZED * own) return true;
    if (area > 0) up++;
    else down++;
    if (up > 0 && down > 0) return true;
  }
  const { rim, points: border } = outlineOf(points, triangles);
  return rim !== undefined && rimCrosses(down > 0 ? reversed(rim) : rim, border);
}

/** The sides the other way round, for an island that lies mirrored. */
const reversed = (rim: Uint32Array): Uint32Array => rim.map((_, i) => rim[i ^ 1]);

const signedArea = (p: ArrayLike<number>, a: number, b: number, c: number): number =>
  (p[2 * b] - p[2 * a]) * (p[2 * c + 1] - p[2 * a + 1]) - (p[2 * b + 1] - p[2 * a + 1]) * (p[2 * c] - p[2 * a]);

function surfaceOf(p: ArrayLike<number>, a: number, b: number, c: number): number {
  const ux = p[3 * b] - p[3 * a];
  const uy = p[3 * b + 1] - p[3 * a + 1];
  const uz = p[3 * b + 2] - p[3 * a + 2];
  const vx = p[3 * c] - p[3 * a];
  const vy = p[3 * c + 1] - p[3 * a + 1];
  const vz = p[3 * c + 2] - p[3 * a + 2];
  return hypot(uy * vz - uz * vy, uz * vx - ux * vz, ux * vy - uy * vx) / 2;
}

/** Each time fewer lie folded; what does then lies between places that are fixed. */
const ROUNDS_APART = 4;

interface Parting {
  marked: Uint8Array;
  auto?: AutoParted;
  /** The hand's places say what lies together, and nothing is parted but by them. */
  byHand: boolean;
}

/** The islands, each laid flat; those of `apart` are cut from all others. */
function islandsFlat(
  mesh: Mesh,
  o: UnwrapOptions,
  { marked, auto, byHand }: Parting,
  apart: ReadonlySet<number> = NONE,
): { ch: Charts; flat: Flat[] } {
  const seam = auto ? auto.seam.slice() : marked.slice();
  if (o.pins && (auto || byHand)) keptTogether(mesh, seam, marked, o.pins, o.kept === true);
  if (apart.size > 0) cutAround(mesh, seam, apart);
  let ch = charts(mesh, seam);
  // Parting by direction leaves only patches with a border: one pass is enough, a second could not find anything.
  const shapes = chartShapes(mesh, ch);
  const chosen = Uint8Array.from(shapes, (s) => (s.borders === 0 || s.euler < 2 - s.borders ? 1 : 0));
  if (!auto && !byHand && chosen.some((c) => c === 1)) {
    partByDirection(mesh, ch, chosen, o.hold);
    ch = charts(mesh, ch.seam);
  }
  let flat = unfoldAll(mesh, ch, o.pins, o.progress, auto);
  const uneven = flat.filter((f) => f.needsLink && !f.solvedBefore);
  if (uneven.length) {
    for (const f of uneven) linkBorders(mesh, ch, f.faces);
    ch = charts(mesh, ch.seam);
    flat = unfoldAll(mesh, ch, o.pins, o.progress, auto);
  }
  return { ch, flat };
}

const NONE: ReadonlySet<number> = new Set();

function cutAround(mesh: Mesh, seam: Uint8Array, faces: ReadonlySet<number>): void {
  const t = topologyOf(mesh);
  for (const f of faces)
    for (let c = mesh.faceStart[f]; c < mesh.faceStart[f + 1]; c++) {
      const e = t.cornerEdge[c];
      for (let k = t.edgeCornerStart[e]; k < t.edgeCornerStart[e + 1]; k++)
        if (!faces.has(t.cornerFace[t.edgeCorner[k]])) seam[e] = 1;
    }
}

/** How much finer than the rest an island is to be. */
function finenessOf({ faces }: Flat, { finer, coarser }: UnwrapOptions): number {
  const finely = finer !== undefined && finer.size > 0 && faces.some((f) => finer.has(f));
  const coarsely = coarser !== undefined && coarser.size > 0 && faces.some((f) => coarser.has(f));
  return (finely ? 2 : 1) * (coarsely ? 0.5 : 1);
}

/**
 * Islands placed by hand are free to be packed, but for locked ones. Those that were laid on each other stay so, at one
 * scale; the answer tells which stack each is of.
 */
function takenUp(flat: readonly Flat[], o: UnwrapOptions): Map<Flat, number> {
  const has = (f: Flat, faces?: ReadonlySet<number>): boolean => f.faces.some((x) => faces?.has(x));
  const taken = flat.filter((f) => f.held && f.scaleOfHeld > 0 && !has(f, o.locked));
  const out = new Map<Flat, number>();
  const stacks = stacksOf(taken.map((f) => f.points));
  stacks.forEach((list, k) => {
    // What is to stand upright stands by itself.
    const together = list.length > 1 && !list.some((i) => has(taken[i], o.upright));
    for (const i of list) {
      const f = taken[i];
      const scale = (together ? taken[list[0]] : f).scaleOfHeld;
      f.points = f.points.map((x) => x / scale);
      f.held = false;
      if (together) out.set(f, k);
    }
  });
  return out;
}

/**
 * Faces that lie folded for having been followed are laid right, as far as their corners may move, and `places` are
 * those they have then. Answers the faces that still lie folded, and how many triangles do between fixed places alone.
 */
function untangled(
  mesh: Mesh,
  ch: Charts,
  flat: Flat[],
  places: Map<number, readonly [number, number]>,
  soft: ReadonlySet<number>,
): { faces: number[]; hard: number } {
  const fixed = new Uint8Array(ch.uvCount);
  for (const c of places.keys()) if (!soft.has(c)) fixed[ch.cornerUv[c]] = 1;
  const faces = new Set<number>();
  let hard = 0;
  for (const f of flat) {
    if (!f.held) continue;
    const movable = Uint8Array.from(f.uvVertices, (u) => 1 - fixed[u]);
    const bad = untangle(f.surface, f.triangles, f.points, movable);
    if (bad.length === 0) continue;
    const faceOf: number[] = [];
    for (const face of f.faces)
      for (let k = mesh.faceStart[face] + 2; k < mesh.faceStart[face + 1]; k++) faceOf.push(face);
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
    if (held && !fixed[u]) places.set(c, [points[2 * number[u]], points[2 * number[u] + 1]]);
  }
  return { faces: [...faces], hard };
}

/** Stretched by no more than this, right angles stay right. */
const STRAIGHT = 1.02;
interface Flat extends PackIsland {
  faces: Uint32Array;
  points: Float64Array;
  /** 3 per vertex: where it is on the surface. */
  surface: Float64Array;
  uvVertices: Uint32Array;
  /** As the solver would lay it without the hand's places, in metres. */
  solved: Float64Array;
  /** Placed by hand: points are final. */
  held: boolean;
  scaleOfHeld: number;
  /** Lies flat only with very uneven density: a sleeve that wants to be slit. */
  needsLink: boolean;
  /** As it was found to lie flat when the surface was parted. */
  solvedBefore: boolean;
}

function localNumbers(mesh: Mesh, ch: Charts, flat: Flat[]): { number: Int32Array; chart: Int32Array } {
  const number = new Int32Array(ch.uvCount);
  const chart = new Int32Array(ch.uvCount);
  flat.forEach((f, k) =>
    f.uvVertices.forEach((u, i) => {
      number[u] = i;
      chart[u] = k;
    }),
  );
  return { number, chart };
}

/**
 * Faces whose corners were all placed by hand are cut from each other where the hand's places say so, and nowhere else.
 */
function keptTogether(
  mesh: Mesh,
  seam: Uint8Array,
  marked: Uint8Array,
  pins: ReadonlyMap<number, readonly [number, number]>,
  kept: boolean,
): void {
  const t = topologyOf(mesh);
  const whole = new Uint8Array(mesh.faceCount).fill(1);
  for (let c = 0; c < mesh.cornerCount; c++) if (!pins.has(c)) whole[t.cornerFace[c]] = 0;
  const same = (a: number, b: number): boolean => {
    const [p, q] = [pins.get(a)!, pins.get(b)!];
    return abs(p[0] - q[0]) < 1e-6 && abs(p[1] - q[1]) < 1e-6;
  };
  for (let e = 0; e < t.edgeCount; e++) {
    const s = t.edgeCornerStart[e];
    if (t.edgeCornerStart[e + 1] - s !== 2) continue;
    const [a, b] = [t.edgeCorner[s], t.edgeCorner[s + 1]];
    const [f, g] = [t.cornerFace[a], t.cornerFace[b]];
    // What has no place yet is laid flat by itself: between islands that have theirs it would fold.
    if (kept && whole[f] !== whole[g]) seam[e] = 1;
    if (!whole[f] || !whole[g] || mesh.cornerVertex[a] === mesh.cornerVertex[b]) continue;
    const joined = same(a, nextCorner(mesh, g, b)) && same(nextCorner(mesh, f, a), b);
    if (!joined) seam[e] = 1;
    else if (!marked[e]) seam[e] = 0;
  }
}

function unfoldAll(
  mesh: Mesh,
  ch: Charts,
  pins: UnwrapOptions['pins'],
  progress?: (share: number) => void,
  auto?: AutoParted,
): Flat[] {
  const t = triangulate(mesh);
  const triStart = new Uint32Array(mesh.faceCount + 1);
  for (const f of t.face) triStart[f + 1]++;
  for (let f = 0; f < mesh.faceCount; f++) triStart[f + 1] += triStart[f];
  const byChart = facesByChart(ch);
  const shapes = chartShapes(mesh, ch);
  const number = new Int32Array(ch.uvCount).fill(-1);
  const out: Flat[] = [];
  for (let k = 0; k < ch.count; k++) {
    if ((k & EVERY) === 0) pulse();
    const faces = byChart.face.slice(byChart.start[k], byChart.start[k + 1]);
    let triangles = 0;
    for (const f of faces) triangles += triStart[f + 1] - triStart[f];
    const tri = new Uint32Array(3 * triangles);
    const uvs: number[] = [];
    const vertex: number[] = [];
    const pinAt = new Map<number, readonly [number, number]>();
    let n = 0;
    let corners = 0;
    let pinned = 0;
    for (const f of faces) {
      for (let c = mesh.faceStart[f]; c < mesh.faceStart[f + 1]; c++) {
        const u = ch.cornerUv[c];
        if (number[u] < 0) {
          number[u] = uvs.length;
          uvs.push(u);
          vertex.push(mesh.cornerVertex[c]);
        }
        corners++;
        const at = pins?.get(c);
        if (at) {
          pinned++;
          pinAt.set(number[u], at);
        }
      }
      for (let i = triStart[f]; i < triStart[f + 1]; i++)
        for (let q = 0; q < 3; q++) tri[n++] = number[ch.cornerUv[t.corners[3 * i + q]]];
    }
    const p3 = new Float64Array(3 * vertex.length);
    for (let i = 0; i < vertex.length; i++)
      for (let q = 0; q < 3; q++) p3[3 * i + q] = mesh.positions[3 * vertex[i] + q];
    // An island counts as placed by hand while at least half of its corners are.
    const held = pinned > 0 && 2 * pinned >= corners;
    const scaled = (p: Float64Array) => {
      const a = areas(p3, p, tri);
      if (a.uv > 0) {
        const k = sqrt(a.surface / a.uv);
        for (let i = 0; i < p.length; i++) p[i] *= k;
      }
      return p;
    };
    const solved = held ? scaled(conformal({ points: p3, triangles: tri }) ?? projected(p3)) : new Float64Array(0);
    const before = held ? undefined : laidBefore(mesh, ch, faces, uvs, auto, number);
    const points =
      before ??
      (held && pinAt.size === uvs.length
        ? fromPins(pinAt)
        : conformal({ points: p3, triangles: tri, pins: held ? pinAt : undefined })) ??
      projected(p3);
    const sums = areas(p3, points, tri);
    if (!held && sums.uv > 0) {
      const s = sqrt(sums.surface / sums.uv);
      for (let i = 0; i < points.length; i++) points[i] *= s;
    }
    out.push({
      faces,
      points,
      surface: p3,
      solved,
      triangles: tri,
      uvVertices: Uint32Array.from(uvs),
      held,
      scaleOfHeld: held && sums.surface > 0 ? sqrt(sums.uv / sums.surface) : 0,
      solvedBefore: before !== undefined,
      needsLink: !held && shapes[k].borders > 1 && sums.spread > 2,
    });
    progress?.((k + 1) / ch.count);
  }
  return out;
}

/** As the island lay when the surface was parted; undefined where it is another one now. */
function laidBefore(
  mesh: Mesh,
  ch: Charts,
  faces: Uint32Array,
  uvs: readonly number[],
  auto: AutoParted | undefined,
  number: Int32Array,
): Float64Array | undefined {
  const island = auto?.of[faces[0]] ?? -1;
  if (!auto || island < 0 || auto.faces[island] !== faces.length) return undefined;
  const out = new Float64Array(2 * uvs.length);
  for (const f of faces) {
    if (auto.of[f] !== island) return undefined;
    for (let c = mesh.faceStart[f]; c < mesh.faceStart[f + 1]; c++) {
      const v = number[ch.cornerUv[c]];
      out[2 * v] = auto.uv[2 * c];
      out[2 * v + 1] = auto.uv[2 * c + 1];
    }
  }
  return out;
}

function fromPins(pins: ReadonlyMap<number, readonly [number, number]>): Float64Array {
  const out = new Float64Array(2 * pins.size);
  for (const [i, [u, v]] of pins) {
    out[2 * i] = u;
    out[2 * i + 1] = v;
  }
  return out;
}

/** Where the solver finds nothing (a chart without area): the plane of the two widest axes, so that nothing is lost. */
function projected(p: Float64Array): Float64Array {
  const size = [0, 1, 2].map((k) => {
    let lo = Infinity;
    let hi = -Infinity;
    for (let i = k; i < p.length; i += 3) {
      lo = min(lo, p[i]);
      hi = max(hi, p[i]);
    }
    return hi - lo;
  });
  const drop = size.indexOf(min(...size));
  const a = (drop + 1) % 3;
  const b = (drop + 2) % 3;
  const out = new Float64Array((p.length / 3) * 2);
  for (let i = 0; i < p.length / 3; i++) {
    if ((i & EVERY) === 0) pulse();
    out[2 * i] = p[3 * i + a];
    out[2 * i + 1] = p[3 * i + b];
  }
  return out;
}

function areas(p: Float64Array, uv: Float64Array, tri: Uint32Array): { surface: number; uv: number; spread: number } {
  let surface = 0;
  let flat = 0;
  let lo = Infinity;
  let hi = 0;
  for (let t = 0; t < tri.length; t += 3) {
    const a = tri[t];
    const b = tri[t + 1];
    const c = tri[t + 2];
    const s = surfaceOf(p, a, b, c);
    const f = abs(signedArea(uv, a, b, c)) / 2;
    surface += s;
    flat += f;
    if (s > 0) {
      const r = sqrt(f / s);
      lo = min(lo, r);
      hi = max(hi, r);
    }
  }
  return { surface, uv: flat, spread: lo > 0 ? hi / lo : Infinity };
}
