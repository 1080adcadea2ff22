/** Islands laid flat, each by itself: by the seams there are, the hand's places, and what was found while parting. */
import { EVERY, pulse } from '../math/pulse';
import type { Mesh } from '../mesh/mesh';
import { topologyOf } from '../mesh/topology';
import { triangulate } from '../mesh/triangulate';
import { charts, chartShapes, facesByChart, linkBorders, partByDirection, type Charts } from './part/charts';
import { apartFromPlaced, isHeld, seamsByPlaces } from './follow/beside';
import { rimCrosses } from './flatten/flatness';
import { conformal } from './flatten/lscm';
import { outlineOf } from './pack/cells/outline';
import type { PackIsland } from './pack/pack';
import type { AutoParted } from './part/parted';

const { abs, hypot, max, min, sqrt } = Math;

/** Of `UnwrapOptions`. */
export interface FlatOptions {
  hold: ReadonlySet<number>;
  pins?: ReadonlyMap<number, readonly [number, number]>;
  kept?: boolean;
  progress?: (share: number) => void;
}

export interface Flat extends PackIsland {
  faces: Uint32Array;
  points: Float64Array;
  /** 3 per vertex: where it is on the surface. */
  surface: Float64Array;
  uvVertices: Uint32Array;
  /** As the solver would lay it without the hand's places, in metres. */
  solved: () => Float64Array;
  /** Placed by hand: points are final. */
  held: boolean;
  scaleOfHeld: number;
  /** Lies flat only with very uneven density: a sleeve that wants to be slit. */
  needsLink: boolean;
  /** As it was found to lie flat when the surface was parted. */
  solvedBefore: boolean;
}

export interface Parting {
  marked: Uint8Array;
  auto?: AutoParted;
  /** The hand's places say what lies together, and nothing is parted but by them. */
  byHand: boolean;
  /** What nothing places is laid flat later. */
  later?: boolean;
  /** Faces that are cut from all others. */
  apart?: ReadonlySet<number>;
}

/** The islands, each laid flat; faces of `also` are cut from all others, too. */
export function islandsFlat(
  mesh: Mesh,
  o: FlatOptions,
  { marked, auto, byHand, later, apart = NONE }: Parting,
  also: ReadonlySet<number> = NONE,
): { ch: Charts; flat: Flat[] } {
  const seam = auto ? auto.seam.slice() : marked.slice();
  if (o.pins) seamsByPlaces(mesh, seam, marked, o.pins, o.kept === true);
  for (const faces of [apart, also]) if (faces.size > 0) cutAround(mesh, seam, faces);
  let ch = charts(mesh, seam);
  if (o.pins) ch = apartFromPlaced(mesh, ch, o.pins);
  // Parting by direction leaves only patches with a border: one pass is enough, a second could not find anything.
  const shapes = chartShapes(mesh, ch);
  const chosen = Uint8Array.from(shapes, (s) => (s.borders === 0 || s.euler < 2 - s.borders ? 1 : 0));
  if (!auto && !byHand && chosen.some((c) => c === 1)) {
    partByDirection(mesh, ch, chosen, o.hold);
    ch = charts(mesh, ch.seam);
  }
  let flat = unfoldAll(mesh, ch, { pins: o.pins, progress: o.progress, auto, later });
  if (later) return { ch, flat };
  const uneven = flat.filter((f) => f.needsLink && !f.solvedBefore);
  if (uneven.length) {
    for (const f of uneven) linkBorders(mesh, ch, f.faces);
    ch = charts(mesh, ch.seam);
    flat = unfoldAll(mesh, ch, { pins: o.pins, progress: o.progress, auto });
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

/** Of its area a triangle keeps at least so much. */
const SQUEEZED = 1e-6;

/** What has no area may lie folded within this share of all. */
const FOLDED = 1e-7;

/** Some of it lies on its face, or on other parts of it. */
export function liesOnItself({ points, triangles, surface }: Flat): boolean {
  let [up, down] = [0, 0];
  let all = 0;
  /** Of what has no area on the surface: the most of it on the sheet that lies the one way, and the other. */
  const folded = [0, 0];
  for (let t = 0; t < triangles.length; t += 3) {
    const [a, b, c] = [triangles[t], triangles[t + 1], triangles[t + 2]];
    const own = surfaceOf(surface, a, b, c);
    const area = signedArea(points, a, b, c);
    all += abs(area);
    if (!(own > 1e-14)) {
      const side = area > 0 ? 0 : 1;
      folded[side] = max(folded[side], abs(area));
      continue;
    }
    // Squeezed to nothing it may come to lie either way.
    if (abs(area) < SQUEEZED * own) return true;
    if (area > 0) up++;
    else down++;
    if (up > 0 && down > 0) return true;
  }
  if (folded[down > 0 ? 0 : 1] > FOLDED * all) return true;
  const { rim, points: border, thin } = outlineOf(points, triangles);
  return rim !== undefined && !thin && rimCrosses(down > 0 ? reversed(rim) : rim, border);
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

export function localNumbers(mesh: Mesh, ch: Charts, flat: readonly Flat[]): { number: Int32Array; chart: Int32Array } {
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

interface Unfolding {
  pins?: ReadonlyMap<number, readonly [number, number]>;
  progress?: (share: number) => void;
  auto?: AutoParted;
  later?: boolean;
  /** By their first face: islands that lie already; of these only the numbers change. */
  again?: ReadonlyMap<number, Flat>;
}

/** Each chart by itself. */
export function unfoldAll(mesh: Mesh, ch: Charts, { pins, progress, auto, later, again }: Unfolding): Flat[] {
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
    const there = again?.get(faces[0]);
    if (there) {
      out.push({ ...there, uvVertices: Uint32Array.from(uvs) });
      continue;
    }
    const p3 = new Float64Array(3 * vertex.length);
    for (let i = 0; i < vertex.length; i++)
      for (let q = 0; q < 3; q++) p3[3 * i + q] = mesh.positions[3 * vertex[i] + q];
    const held = isHeld(pinned, corners);
    const scaled = (p: Float64Array) => {
      const a = areas(p3, p, tri);
      if (a.uv > 0) {
        const k = sqrt(a.surface / a.uv);
        for (let i = 0; i < p.length; i++) p[i] *= k;
      }
      return p;
    };
    let alone: Float64Array | undefined;
    const asParted = (): Float64Array | undefined => laidBefore(mesh, ch, faces, uvs, auto, number);
    const solved = () => (alone ??= scaled(asParted() ?? conformal({ points: p3, triangles: tri }) ?? projected(p3)));
    const before = held ? undefined : asParted();
    const lie = (): Float64Array | undefined => {
      if (held && pinAt.size === uvs.length) return fromPins(pinAt);
      if (later && !held) return undefined;
      return conformal({ points: p3, triangles: tri, pins: held ? pinAt : undefined });
    };
    const points = before ?? lie() ?? projected(p3);
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
