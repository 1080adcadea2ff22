/**
 * Unwrap: seams → charts → conformal unfolding → even density → packing. What was placed by hand is held in place; only
 * the rest is unfolded and packed anew.
 */
import { EVERY, pulse } from '../math/pulse';
import type { Mesh } from '../mesh/mesh';
import { UV } from '../mesh/mesh';
import { topologyOf } from '../mesh/topology';
import { seamEdges, type Charts } from './part/charts';
import { parted } from './part/parted';
import { isBoxy } from './part/boxy';
import { laidAnew } from './follow/anew';
import { islandsFlat, localNumbers, type Flat, type Parting } from './flat';
import { followedFlat, inTheWay } from './follow/followed';
import { layersApart } from './layers';
import { groupOf, layOutInGroups, type Together } from './pack/groups';
import { islandsOf, shareBeyond } from './measure';
import { areaOf, careFor, laidAtLast, layOut, type HeldIsland, type Part } from './pack/sheets';
import { asOne, eachAlone, stacksOf, togetherBy } from './pack/stacks';
import { standing } from './pack/standing';
import { uprightInSingle } from './upright';

const { max, min, sqrt } = Math;

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
  /** Faces that may lie on what they like; all others are to lie on none, of those with a place. */
  stacked?: ReadonlySet<number>;
  /** Faces that are to lie mirrored, as they did. */
  turned?: ReadonlySet<number>;
  /** By a place that reaches over the border of its island: the nearest on it. */
  within?: ReadonlyMap<readonly [number, number], readonly [number, number]>;
  /** The places are those of a whole layout: what lies together there is together, whatever would be cut now. */
  kept?: boolean;
  /**
   * Islands wanted: they are joined over bends until there are no more, as far as they lie flat. 0 for as few as lie
   * flat without that.
   */
  islands?: number;
  /** Drawn no more than this one way against the other, on the mean of all; 0 for as it comes. */
  mean?: number;
  /** 0 to 1: how much islands are cut for a fuller sheet; at 0 only what is longer than it. 0.5. */
  fill?: number;
  /** Where the surface is alike on both sides of a plane, islands are too, but for those across it. */
  symmetric?: boolean;
  /** 0 to 1: how much cuts keep to creases and to what looks down. */
  hide?: number;
  /** 0 to 1: how much borders of islands are drawn straight. 0.5. */
  straight?: number;
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
  /** That of what keeps its place, on the mean over its area; 0 where nothing does. */
  heldDensity: number;
  /** Share of the area that is stretched beyond the bound, where one was asked for. */
  beyond: number;
  /** How far it was drawn one way against the other, on the mean, where it was parted; 1 elsewhere. */
  mean: number;
  /** Held edges that are cut all the same: what they hold together would not lie flat at all. */
  heldCut: number;
  /** The wanted density did not fit. */
  tooDense: boolean;
  /** Texels between islands: fewer than asked for where they would not have fitted at all. */
  padding: number;
  /**
   * Texels a side it takes for every island to have some: more than were asked for where they would not have fitted; 0
   * where there is no room at all.
   */
  size: number;
  /** Triangles of followed places that lie on their face, for all that was tried. */
  stuck: number;
  /** Faces that would have lain folded, or on others, where they were followed, and were laid out by themselves. */
  apart: number;
}

/** Throws one sentence where that cannot be done. What lies doubled is laid out layer by layer. */
export function unwrapMesh(mesh: Mesh, given: UnwrapOptions): Unwrapped {
  const o = given.progress ? { ...given, progress: onward(given.progress) } : given;
  const layers = layersApart(mesh);
  if (!layers) return unwrapLayer(mesh, o);
  const out = unwrapLayer(layers.mesh, { ...o, cut: layers.edges(o.cut), hold: layers.edges(o.hold) });
  return { ...out, mesh: mesh.withAttribute(UV, out.mesh.attributes[UV]) };
}

/** What is tried anew, in another way, does not go back for that. */
function onward(progress: (share: number) => void): (share: number) => void {
  let most = 0;
  return (share) => {
    if (share <= most) return;
    most = share;
    progress(share);
  };
}

function unwrapLayer(mesh: Mesh, o: UnwrapOptions): Unwrapped {
  const marked = seamEdges(mesh, { cut: o.cut, hold: o.hold, angle: o.seamAngle });
  // Where every corner has its place there is nothing to plan.
  const settled = o.pins?.size === mesh.cornerCount;
  // On texels what is flat stays exactly flat, as long as the surface is made of flat sides.
  const bound = o.stretch && o.pixels && isBoxy(mesh) ? min(o.stretch, STRAIGHT) : o.stretch;
  const kept = o.kept === true;
  const auto = bound && !settled && !kept ? parted(mesh, marked, o, bound) : undefined;
  const byHand = kept || (settled && !!o.stretch);
  const parting: Parting = { marked, auto, byHand, later: kept && !!bound };
  let { ch, flat } = islandsFlat(mesh, o, parting);
  if (!kept && !settled) ({ ch, flat } = clearOfOthers(mesh, o, parting, { ch, flat }));
  let stuck = 0;
  let apart = 0;
  if (o.soft && (o.soft.size > 0 || (o.stacked && !settled)))
    ({ ch, flat, stuck, apart } = followedFlat(mesh, o, o.soft, parting, { ch, flat }));
  const planning = { bound: bound ?? 0, all: !!bound && (o.pins?.size ?? 0) > 0 };
  const laid = laidAnew(mesh, o, planning, { ch, flat }, auto);
  ({ ch, flat } = laid);
  const sheet = onSheets(mesh, o, flat);
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
    // Parts that were placed edge to edge are one.
    islands: o.pins?.size ? islandsOf(mesh, uv).count : ch.count,
    density: sheet.scale * o.size,
    heldDensity: meanScale(flat.filter((f) => f.held)) * o.size,
    // Sides that were moved to whole texels are drawn by that.
    beyond: o.pixels && o.stretch && sheet.scale > 0 ? shareBeyond(mesh, uv, o.stretch) : laid.beyond,
    mean: laid.mean,
    heldCut: cutOf(mesh, o, uv),
    stuck,
    apart,
    tooDense: sheet.tooDense,
    padding: sheet.padding,
    size: sheet.size,
  };
}

/** Sheets per metre, and as it came to be laid; see `LaidAtLast`. */
interface OnSheets {
  scale: number;
  tooDense: boolean;
  padding: number;
  size: number;
}

/** Finds islands their places on the sheets, beside those that have theirs: their points are final from then on. */
function onSheets(mesh: Mesh, o: UnwrapOptions, flat: readonly Flat[]): OnSheets {
  const stack = o.repack ? takenUp(flat, o) : new Map<Flat, number>();
  const free: Flat[] = [];
  const held: (Flat & HeldIsland)[] = [];
  for (const f of flat)
    if (f.held) held.push({ ...f, after: free.length });
    else free.push(f);
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
  const laying = {
    ...o,
    pixels: o.pixels ?? false,
    sheets: max(1, o.sheets ?? 1),
    care: careFor(mesh.faceCount, o.fill),
  };
  const stacks = togetherBy(free.map((f) => stack.get(f)));
  const single = asOne(free, stacks);
  const name = o.together && groupOf(mesh, o.together);
  const names = name && stacks.map((list) => name(free[list[0]].faces[0]));
  const { packed, padding, size } = laidAtLast(laying, free.length > 0, (as) =>
    names ? layOutInGroups(single, held, heldDensity, as, names) : layOut(single, held, heldDensity, as),
  );
  const placed = eachAlone(free, stacks, packed.placed);
  free.forEach((f, i) => {
    f.points = placed[i];
    // On whole texels there is nothing left to round.
    if (!o.pixels) uprightInSingle(f.surface, f.triangles, f.points);
  });

  return {
    scale: free.length ? packed.scale : heldDensity,
    tooDense: !packed.fits && padding === o.padding && size === o.size,
    padding,
    size,
  };
}

/** With what has no place by itself, where it would be in the way beside what has; in `parting` from then on. */
function clearOfOthers(
  mesh: Mesh,
  o: UnwrapOptions,
  parting: Parting,
  given: { ch: Charts; flat: Flat[] },
): { ch: Charts; flat: Flat[] } {
  if (!o.pins) return given;
  let now = given;
  const apart = new Set<number>();
  // Cut otherwise, what is left may hang together otherwise, too.
  for (;;) {
    const loose = inTheWay(mesh, o, now.ch, now.flat);
    const had = apart.size;
    for (const f of loose) apart.add(f);
    if (apart.size === had) return now;
    parting.apart = apart;
    now = islandsFlat(mesh, o, parting);
  }
}

/** Held edges whose two sides lie apart on the sheet. */
function cutOf(mesh: Mesh, { hold, cut }: UnwrapOptions, uv: Float32Array): number {
  if (hold.size === 0) return 0;
  const { edgeCorner, edgeCornerStart, cornerFace } = topologyOf(mesh);
  const { cornerVertex, faceStart } = mesh;
  const next = (c: number): number => (c + 1 === faceStart[cornerFace[c] + 1] ? faceStart[cornerFace[c]] : c + 1);
  const apart = (a: number, b: number): boolean => uv[2 * a] !== uv[2 * b] || uv[2 * a + 1] !== uv[2 * b + 1];
  let many = 0;
  for (const e of hold) {
    const s = edgeCornerStart[e];
    if (cut.has(e) || edgeCornerStart[e + 1] - s !== 2) continue;
    const [a, b] = [edgeCorner[s], edgeCorner[s + 1]];
    // Two that look the same way have the edge each the other way round.
    const [first, last] = cornerVertex[a] === cornerVertex[b] ? [b, next(b)] : [next(b), b];
    if (apart(a, first) || apart(next(a), last)) many++;
  }
  return many;
}

/** Sheets per metre of islands that keep their place. */
function meanScale(held: readonly Flat[]): number {
  let [sheet, surface] = [0, 0];
  for (const f of held) {
    if (!(f.scaleOfHeld > 0)) continue;
    const area = areaOf(f);
    sheet += area;
    surface += area / f.scaleOfHeld ** 2;
  }
  return surface > 0 ? sqrt(sheet / surface) : 0;
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

/** Stretched by no more than this, right angles stay right. */
const STRAIGHT = 1.02;
