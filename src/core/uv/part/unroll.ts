/**
 * A part of a tube laid flat: cut once along the shortest way, which is the inside of a bend. Where that is drawn too
 * far it is cut lengthwise into as many strips as it takes, all alike wide; where no number of them will do, across.
 */
import { cylindrical } from '../flatten/cylinder';
import { drawnBy, restOf, type Rest } from '../flatten/flatness';
import { asItLies, layFlat, type Laid } from '../flatten/layflat';
import type { Parting, Patch } from '../flatten/patch';
import { tutte } from '../flatten/refine';
import { laidAsStripOf } from './strips';
import { far, type Ways } from './network';
import { slit } from './part';

const { floor, hypot, min } = Math;

/** More strips than this are no better than patches. */
const MOST_STRIPS = 4;
/** Of what is to be drawn no more than so much on the mean. */
const MOST_OF_MEAN = 8;
/** Shorter than this against how far it is round, it is not cut across. */
const SHORT = 1;
/** No more of the area than this is off where a shorter part would do. */
const NEARLY = 0.1;

/** Sides of the rectangle that a strip begins from bulge, by this share of its width. */
const BULGE = 0.2;

/** Vertices of a patch along the one side of the cut within it, and along the other. */
type Sides = [number[], number[]];

export interface Unrolling {
  bound: number;
  mean?: number;
  weigh(edge: number): number;
  straighter: (edges: readonly number[]) => readonly number[];
  /** Told of cuts that are none any more. */
  takenBack: (edges: readonly number[]) => void;
  /** A number from which on no label is taken. */
  fresh: number;
}

export type Unrolled =
  | { laid: Laid; patch: Patch }
  /** The part of each of its faces, from 0 on; strips along it, or tubes again. */
  | { laid?: undefined; of: Int32Array; parts: number; across: boolean };

/** Undefined for what is no tube, a patch with two borders and no handle, and for what will not do in any way. */
export function unrolled(parting: Parting, tube: Patch, o: Unrolling): Unrolled | undefined {
  if (tube.borders !== 2 || tube.euler !== 0) return undefined;
  const { label, seam } = parting;
  const { faces } = tube;
  const own = label[faces[0]];
  const cut = slit(parting, tube, o.weigh, o.straighter);
  if (cut.length === 0) return undefined;
  const uncut = (): void => {
    for (const e of cut) seam[e] = 0;
    o.takenBack(cut);
  };
  const patch = parting.patch(faces);
  const sides = sidesOf(parting, patch);
  const laid = laidAsStrip(patch, sides, o);
  if (laid.good) return { laid, patch };
  if (!sides) return undefined;
  const net = sidesOfTriangles(patch);
  const ends = endsOf(patch, sides);
  const shorter = (): Unrolled => {
    uncut();
    const along = between(parting, patch, net, ends);
    return { of: Int32Array.from(along, (x) => (x < 0.5 ? 0 : 1)), parts: 2, across: true };
  };
  const long = lengthOf(patch, sides[0]) ** 2 > SHORT * restOf(patch).total;
  // A shorter one is drawn as far on the mean.
  const drawn = laid.figures.mean > (o.mean ?? Infinity);
  if (long && laid.sound && !drawn && laid.figures.beyond < NEARLY) return shorter();
  const across = between(parting, patch, net, sides);
  for (let strips = 2; strips <= (drawn ? MOST_OF_MEAN : MOST_STRIPS); strips++) {
    const of = Int32Array.from(across, (x) => min(strips - 1, floor(strips * x)));
    faces.forEach((f, i) => (label[f] = o.fresh + of[i]));
    let good = true;
    for (let j = 0; j < strips && good; j++) {
      const list = faces.filter((_, i) => of[i] === j);
      const strip = list.length > 0 ? parting.patch(list) : undefined;
      good = strip?.borders === 1 && strip.euler === 1 && laidAsStripOf(parting, strip, o, (k) => k >= o.fresh).good;
    }
    for (const f of faces) label[f] = own;
    if (!good) continue;
    uncut();
    return { of, parts: strips, across: false };
  }
  if (drawn) uncut();
  return long && !drawn ? shorter() : undefined;
}

/** Scales so little apart are as good as even, and so much farther apart than they need be is what straightness costs. */
const EVEN = 1.1;
const STRAIGHTER = 1.25;

/** As the cylinder it is like, or as any patch is; where neither will do, from a rectangle. */
function laidAsStrip(patch: Patch, sides: Sides | undefined, { bound, mean }: Unrolling): Laid {
  const rest = restOf(patch);
  const start = sides && asCylinder(patch, rest, sides);
  const straight = start && asItLies(patch, rest, start, bound, mean);
  if (straight?.good && straight.figures.spread <= EVEN) return straight;
  const laid = layFlat(patch, bound, { mean });
  if (straight?.good && !(laid.good && laid.figures.spread * STRAIGHTER < straight.figures.spread)) return straight;
  if (laid.good || !sides) return laid;
  const evened = start && layFlat(patch, bound, { start, mean });
  if (evened?.good) return evened;
  const rectangle = asRectangle(patch, sides);
  return rectangle ? layFlat(patch, bound, { start: rectangle, mean }) : laid;
}

/** Undefined where it would lie on its face somewhere. */
function asCylinder(patch: Patch, rest: Rest, sides: Sides): Float64Array | undefined {
  const [left, right] = sides;
  const [first, last] = endsOf(patch, sides);
  const end = left.length - 1;
  const uv = cylindrical(patch, rest, {
    sides,
    ends: [
      [left[0], right[0], ...first],
      [left[end], right[end], ...last],
    ],
  });
  return uv && drawnBy(patch, rest, uv).flips === 0 ? uv : undefined;
}

/** Of a side: half edges one after the other, each with where it begins and ends; metres. */
function lengthOf({ points: p }: Patch, side: readonly number[]): number {
  let sum = 0;
  for (let i = 0; i < side.length; i += 2) {
    const [a, b] = [3 * side[i], 3 * side[i + 1]];
    sum += hypot(p[a] - p[b], p[a + 1] - p[b + 1], p[a + 2] - p[b + 2]);
  }
  return sum;
}

/** How far each face lies between two lists of vertices: 0 at the one, 1 at the other. */
function between({ mesh }: Parting, patch: Patch, net: Ways, [from, to]: Sides): Float64Array {
  const [a, b] = [far(net, patch.points, from), far(net, patch.points, to)];
  const out = new Float64Array(patch.faces.length);
  let at = 0;
  patch.faces.forEach((f, i) => {
    const many = mesh.faceStart[f + 1] - mesh.faceStart[f];
    for (let k = 0; k < many; k++, at++) {
      const v = patch.corners[at];
      out[i] += a[v] / (a[v] + b[v] || 1) / many;
    }
  });
  return out;
}

/** What is left of the rim without the sides of the cut: the two ends of the tube. */
function endsOf({ rim }: Patch, [left, right]: Sides): Sides {
  const cut = new Set([...left, ...right]);
  const next = new Map<number, number>();
  for (let i = 0; i < rim.length; i += 2) next.set(rim[i], rim[i + 1]);
  const out: Sides = [[], []];
  for (const [k, from] of [left[0], left[left.length - 1]].entries())
    for (const step of [next, new Map([...next].map(([v, w]) => [w, v]))]) {
      let v = step.get(from);
      if (v === undefined || cut.has(v)) continue;
      for (; v !== undefined && !cut.has(v); v = step.get(v)) out[k].push(v);
    }
  return out;
}

/** Undefined where the cut is no one way from one border to the other. */
function sidesOf(parting: Parting, patch: Patch): Sides | undefined {
  const { mesh, t, label, seam } = parting;
  const own = label[patch.faces[0]];
  /** Of the half edges of the cut: where it begins and ends on the patch, by where that is on the mesh. */
  const from = new Map<number, { to: number; ends: [number, number] }[]>();
  let at = 0;
  for (const f of patch.faces) {
    const first = at;
    const many = mesh.faceStart[f + 1] - mesh.faceStart[f];
    for (let k = 0; k < many; k++, at++) {
      const c = mesh.faceStart[f] + k;
      const e = t.cornerEdge[c];
      const s = t.edgeCornerStart[e];
      if (!seam[e] || t.edgeCornerStart[e + 1] - s !== 2) continue;
      const o = t.edgeCorner[s] === c ? t.edgeCorner[s + 1] : t.edgeCorner[s];
      if (label[t.cornerFace[o]] !== own) continue;
      const v = mesh.cornerVertex[c];
      const list = from.get(v) ?? [];
      list.push({
        to: mesh.cornerVertex[parting.next(c)],
        ends: [patch.corners[at], patch.corners[first + ((k + 1) % many)]],
      });
      from.set(v, list);
    }
  }
  // From an end, which only one half edge leaves, to the other end: all on the one side. What goes back is the other.
  const end = [...from].find(([, list]) => list.length === 1);
  if (!end) return undefined;
  let halves = 0;
  for (const list of from.values()) halves += list.length;
  const [left, right]: Sides = [[], []];
  let [before, v] = [-1, end[0]];
  for (;;) {
    const on = from.get(v)?.find(({ to }) => to !== before);
    if (!on) break;
    left.push(...on.ends);
    const back = from.get(on.to)?.find(({ to }) => to === v);
    // A cut that branches, or goes round, has more half edges than the way from its one end.
    if (!back || left.length > halves) return undefined;
    right.push(back.ends[1], back.ends[0]);
    [before, v] = [v, on.to];
  }
  return left.length === halves ? [left, right] : undefined;
}

/** A map with the two sides of the cut straight and beside each other, and the ends across. */
function asRectangle(patch: Patch, [left, right]: Sides): Float64Array | undefined {
  const { rim, points: p } = patch;
  const next = new Map<number, number>();
  for (let i = 0; i < rim.length; i += 2) next.set(rim[i], rim[i + 1]);
  const corners = [left[0], left[left.length - 1], right[0], right[right.length - 1]];
  if (new Set(corners).size !== 4 || next.size !== rim.length / 2) return undefined;
  const ring = [left[0]];
  for (let v = next.get(left[0]); v !== undefined && v !== left[0]; v = next.get(v)) ring.push(v);
  if (ring.length !== next.size) return undefined;
  const rest = restOf(patch);
  const long = (v: number, w: number): number =>
    hypot(p[3 * v] - p[3 * w], p[3 * v + 1] - p[3 * w + 1], p[3 * v + 2] - p[3 * w + 2]);
  const at = corners.map((v) => ring.indexOf(v));
  const order = [...at].sort((a, b) => a - b);
  const runs = order.map((from, k) => {
    const end = k < 3 ? order[k + 1] : ring.length;
    const sum = [0];
    for (let i = from; i < end; i++) sum.push(sum[sum.length - 1] + long(ring[i], ring[(i + 1) % ring.length]));
    return sum;
  });
  // The sides of the cut are every other run: the first, if from its one end the other comes next.
  const cut = order[1] === at[1] ? 0 : 1;
  const sideLong = (runs[cut][runs[cut].length - 1] + runs[cut + 2][runs[cut + 2].length - 1]) / 2;
  const wide = rest.total / sideLong;
  const uv = new Float64Array((2 * p.length) / 3);
  const [w, h] = cut === 0 ? [sideLong, wide] : [wide, sideLong];
  const corner: [number, number][] = [
    [0, 0],
    [w, 0],
    [w, h],
    [0, h],
  ];
  runs.forEach((sum, k) => {
    const all = sum[sum.length - 1] || 1;
    const [a, b] = [corner[k], corner[(k + 1) % 4]];
    for (let i = 0; i + 1 < sum.length; i++) {
      const v = ring[(order[k] + i) % ring.length];
      const s = sum[i] / all;
      // Bulging a little, or a face with all its corners on one side would have no area.
      const out = 4 * BULGE * wide * s * (1 - s);
      const long = hypot(b[0] - a[0], b[1] - a[1]) || 1;
      uv[2 * v] = a[0] + s * (b[0] - a[0]) + (out * (b[1] - a[1])) / long;
      uv[2 * v + 1] = a[1] + s * (b[1] - a[1]) - (out * (b[0] - a[0])) / long;
    }
  });
  return tutte(patch, rest, uv);
}

/** From each vertex those that a triangle has with it; those of two triangles are there twice. */
function sidesOfTriangles({ points, triangles }: Patch): Ways {
  const start = new Int32Array(points.length / 3 + 1);
  for (const v of triangles) start[v + 1] += 2;
  for (let v = 0; v + 1 < start.length; v++) start[v + 1] += start[v];
  const fill = start.slice(0, -1);
  const to = new Int32Array(2 * triangles.length);
  for (let i = 0; i < triangles.length; i += 3)
    for (let k = 0; k < 3; k++) {
      const v = triangles[i + k];
      to[fill[v]++] = triangles[i + ((k + 1) % 3)];
      to[fill[v]++] = triangles[i + ((k + 2) % 3)];
    }
  return { start, to };
}
