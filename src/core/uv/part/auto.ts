/**
 * Islands found by themselves: as few as can be, none flipped, none lying on itself, none stretched beyond a bound. A
 * surface is parted until every patch lies flat within the bound (Sander et al. 2003 and Sorkine et al. 2002 for the
 * idea), then patches go back together wherever they can.
 */
import { nameOf } from '../../math/hash';
import { pulse } from '../../math/pulse';
import type { Mesh } from '../../mesh/mesh';
import { layFlat, type Laid } from '../flatten/layflat';
import { Parting, type Patch } from '../flatten/patch';
import { coarser } from './coarse';
import { groundOf, type Ground } from './ground';
import { DRAWN, type AutoOptions, type Island } from './island';
import { darted } from './darts';
import { joined } from './joined';
import { inTwo, normalSpread, ROUND, slit, type FaceFacts } from './part';
import { smoothBorders } from './smooth';
import { STRAIGHTEST, StraightBorders, WIDE } from './straight';
import { withoutCaps } from './tubes';
import { laidAsStripOf } from './strips';
import { unrolled } from './unroll';

/** Patches of more faces that clearly cannot lie flat are parted without a try. */
const LARGE = 6000;
/** What it costs to cut an edge that is held: there is another way nearly always. */
const HELD = 1e6;
/** More in one patch takes long to solve. */
const MOST_FACES = 150_000;

export interface Parted {
  islands: Island[];
  /** Where the surface is cut in the end. */
  seam: Uint8Array;
}

export function autoIslands(mesh: Mesh, given: AutoOptions): Parted {
  const { hold } = given;
  const o = hold.size > 0 ? { ...given, weigh: (e: number) => (hold.has(e) ? HELD : given.weigh(e)) } : given;
  const whole = new Parting(mesh, o.seam.slice());
  const ground = groundOf(whole, o);
  const found = partedOn(mesh, o, given, ground);
  if (!ground.without || found.islands.length <= MORE * ground.plan.count + 1) return found;
  const other = partedOn(mesh, o, given, { ...ground, plan: ground.without, tubes: undefined });
  const worth = (o.mean ?? DRAWN) < DRAWN ? STRAIGHTER : 1;
  return worth * other.islands.length < found.islands.length ? other : found;
}

/** Where tubes come to so many more islands than was planned with them, it is tried without. */
const MORE = 1.25;
/** Strips along tubes may be so many more than what comes without them: those lie less straight, and sprawl. */
const STRAIGHTER = 1.3;

function partedOn(mesh: Mesh, o: AutoOptions, given: AutoOptions, ground: Ground): Parted {
  const seam = o.seam.slice();
  const parting = new Parting(mesh, seam);
  const { facts, cells, firmed } = ground;
  let labels = 0;
  const all = Uint32Array.from({ length: mesh.faceCount }, (_, f) => f);
  const parts = (faces: ArrayLike<number>): Uint32Array[] => {
    const found = parting.components(faces, labels);
    labels += found.length;
    return found;
  };
  labels = ground.plan.count;
  for (let f = 0; f < mesh.faceCount; f++) parting.label[f] = ground.plan.label[cells.of[f]];
  const names = new Set<number>();
  ground.tubes?.of.forEach((part, c) => {
    if (part >= 0) names.add(ground.plan.label[c]);
  });
  const tried = mesh.faceCount < ROOMY * labels ? undefined : triedCoarser(parting, firmed, given);
  labels = tried ?? labels;
  // On a coarser surface tubes have been seen to.
  if (tried !== undefined) names.clear();
  const begun = tried === undefined ? 0 : 0.3;
  // As far as a cell is wide; over what is to be a seam, belonging does not go.
  const wide = Math.ceil((4 * mesh.faceCount) / cells.count);
  const rounds = tried === undefined ? Math.min(40, Math.max(12, wide)) : FEW_ROUNDS;
  const drawn = apartFromHeld(parting, facts, given);
  smoothBorders(parting, rounds, drawn, firmed);
  const straight = new StraightBorders(parting, {
    weigh: drawn,
    firm: firmed,
    hold: o.hold,
    straight: STRAIGHTEST * o.straight,
    wide: WIDE,
    tubes: names,
  });
  straight.all();
  const straighter = (edges: readonly number[]): readonly number[] => straight.way(edges);
  if (ground.tubes) withoutCaps(ground.tubes, names, cells, parting, labels);
  labels += names.size;
  const ofTube = Array.from(parting.label, (k) => names.has(k));
  const stack = parts(all);
  /** Labels of what is to be unrolled. */
  const tubes = new Set<number>();
  for (const [first] of stack) if (ofTube[first]) tubes.add(parting.label[first]);
  const firstParted = labels;
  const islands = new Map<number, Island>();
  /** Lists of faces that do not lie flat together. */
  const failed = new Set<number>();
  /** Strips along a tube, by their label: the tube's. */
  const stripOf = new Map<number, number>();
  let settled = 0;
  const settle = (patch: Patch, laid: Laid): void => {
    const label = parting.label[patch.faces[0]];
    islands.set(label, { patch, laid, ...(label < firstParted ? { planned: true as const } : {}) });
    settled += patch.faces.length;
    o.progress?.(begun + ((0.7 - begun) * settled) / mesh.faceCount);
  };
  /** Two or more lists of faces, or none where it cannot be parted. */
  const split = (faces: Uint32Array): Uint32Array[] | undefined => {
    if (faces.length < 2) return undefined;
    const side = inTwo(faces, facts, parting, o.weigh);
    const halves = [0, 1].map((q) => faces.filter((_, i) => side[i] === q));
    if (halves[0].length === 0 || halves[1].length === 0) {
      const half = faces.length >> 1;
      halves[0] = faces.slice(0, half);
      halves[1] = faces.slice(half);
    }
    const [a, b] = [parting.label[faces[0]], labels++];
    for (const f of halves[0]) parting.label[f] = a;
    for (const f of halves[1]) parting.label[f] = b;
    straight.parted(faces);
    const found = parting.components(faces, labels);
    labels += found.length;
    return found.length > 2 ? withoutCrumbs(parting, facts, found) : found;
  };
  for (let faces = stack.pop(); faces; faces = stack.pop()) {
    pulse();
    if (faces.length <= MOST_FACES && tubes.delete(parting.label[faces[0]])) {
      const flat = unrolled(parting, parting.patch(faces), {
        ...{ bound: o.bound, mean: o.mean, weigh: o.weigh, fresh: labels, straighter },
        takenBack: (edges) => straight.takenBack(edges),
      });
      if (flat?.laid) {
        settle(flat.patch, flat.laid);
        continue;
      }
      if (flat) {
        faces.forEach((f, i) => (parting.label[f] = labels + flat.of[i]));
        labels += flat.parts;
        straight.parted(faces);
        const found = parts(faces);
        const first = parting.label[found[0][0]];
        for (const [f] of found)
          if (flat.across) tubes.add(parting.label[f]);
          else stripOf.set(parting.label[f], first);
        stack.push(...found);
        continue;
      }
    }
    const large = faces.length > LARGE;
    if (faces.length > MOST_FACES || (large && normalSpread(faces, facts).least > ROUND)) {
      const halves = split(faces);
      if (halves) {
        stack.push(...halves);
        continue;
      }
    }
    let patch = parting.patch(faces);
    const whole = patch.borders > 0 && patch.euler === 2 - patch.borders;
    let laid: Laid | undefined;
    if (whole) {
      // A border that would not be flat, were it filled, has to be opened: no try without is needed.
      if (patch.borders > 1 && slit(parting, patch, o.weigh, straighter).length > 0) patch = parting.patch(faces);
      const tube = stripOf.get(parting.label[faces[0]]);
      laid =
        tube === undefined
          ? layFlat(patch, o.bound, { mean: o.mean })
          : laidAsStripOf(parting, patch, o, (k) => stripOf.get(k) === tube);
      if (laid.good) {
        settle(patch, laid);
        continue;
      }
      const opened = o.rough ? undefined : darted(parting, patch, laid, o);
      if (opened) {
        settle(opened.patch, opened.laid);
        continue;
      }
      failed.add(nameOf(faces));
    }
    const halves = split(faces);
    if (halves && halves.length > 1) stack.push(...halves);
    else settle(patch, layFlat(patch, o.bound, { hard: true, once: true }));
  }
  joined(parting, islands, { facts, cells, failed }, o);
  const { edgeCount, edgeCorner, edgeCornerStart, cornerFace } = parting.t;
  for (let e = 0; e < edgeCount; e++) {
    const s = edgeCornerStart[e];
    const two = edgeCornerStart[e + 1] - s === 2;
    if (two && parting.label[cornerFace[edgeCorner[s]]] !== parting.label[cornerFace[edgeCorner[s + 1]]]) seam[e] = 1;
  }
  return { islands: [...islands.values()], seam };
}

/**
 * What it costs to draw a border along an edge. Borders go off what is held, but for bends: at one that is held a border
 * stays, to be closed in the end, where elsewhere it would be one for good.
 */
function apartFromHeld({ t }: Parting, { normal }: FaceFacts, o: AutoOptions): (edge: number) => number {
  const limit = Math.cos(o.bend);
  const dear = new Set<number>();
  for (const e of o.hold) {
    const s = t.edgeCornerStart[e];
    if (t.edgeCornerStart[e + 1] - s !== 2) continue;
    const [f, g] = [3 * t.cornerFace[t.edgeCorner[s]], 3 * t.cornerFace[t.edgeCorner[s + 1]]];
    const dot = normal[f] * normal[g] + normal[f + 1] * normal[g + 1] + normal[f + 2] * normal[g + 2];
    if (dot >= limit) dear.add(e);
  }
  return (e) => (dear.has(e) ? HELD : o.weigh(e)) + 1e-12;
}

/**
 * Surfaces of so many faces are parted as a coarser one is, that has this share of them; parts of fewer stand on it as
 * they are. Of a ball of 100,000 faces that takes half the time; with parts of fewer the time is the same, and there
 * are more islands by a tenth. So are there where islands are of fewer faces than this: rocks of 99,428 faces came to
 * 97 in place of 62.
 */
const MANY = 50_000;
const ROOMY = 3500;
const COARSE = 0.1;
/** What lies flat within this share of what is allowed on the coarser one, does so on the finer. */
const WITHIN = 0.9;
/** Its borders are smooth already, but for the edges of its faces. */
const FEW_ROUNDS = 5;

/** Labels as a coarser surface is parted; undefined where there is none. */
function triedCoarser(parting: Parting, soft: Uint8Array, o: AutoOptions): number | undefined {
  const { label } = parting;
  if (label.length < MANY) return undefined;
  const coarse = coarser(parting, { soft, hold: o.hold, weigh: o.weigh, share: COARSE, least: MANY });
  if (!coarse) return undefined;
  const { seam, hold, weigh } = coarse;
  const { islands } = autoIslands(coarse.mesh, {
    ...{ ...o, seam, soft: coarse.soft, hold, weigh },
    bound: 1 + (o.bound - 1) * WITHIN,
    // What is coarse bends more from face to face, and says nothing of the mean.
    mean: undefined,
    rough: true,
    progress: o.progress && ((share) => o.progress!(0.3 * share)),
  });
  const of = new Int32Array(coarse.mesh.faceCount);
  islands.forEach(({ patch }, k) => {
    for (const f of patch.faces) of[f] = k;
  });
  for (let f = 0; f < label.length; f++) label[f] = of[coarse.of[f]];
  return islands.length;
}

/**
 * Of the area of a patch that was parted: less is no part of its own, but goes to what it has its longest border with.
 */
const CRUMB = 0.25;

function withoutCrumbs(parting: Parting, facts: FaceFacts, parts: Uint32Array[]): Uint32Array[] {
  const { mesh, t, label } = parting;
  const areas = parts.map((list) => list.reduce((sum, f) => sum + facts.area[f], 0));
  const total = areas.reduce((sum, x) => sum + x, 0);
  const order = parts.map((_, i) => i).sort((i, j) => areas[i] - areas[j]);
  const index = new Map(parts.map((list, i) => [label[list[0]], i]));
  const lists: (Uint32Array | undefined)[] = [...parts];
  let left = parts.length;
  for (const i of order) {
    const own = lists[i]!;
    if (left <= 2 || areas[i] > CRUMB * total) break;
    const borders = new Map<number, number>();
    for (const f of own)
      for (let c = mesh.faceStart[f]; c < mesh.faceStart[f + 1]; c++) {
        const o = parting.across(c);
        const j = o < 0 ? undefined : index.get(label[t.cornerFace[o]]);
        if (j !== undefined && j !== i) borders.set(j, (borders.get(j) ?? 0) + 1);
      }
    const to = [...borders].sort((x, y) => y[1] - x[1])[0]?.[0];
    if (to === undefined) continue;
    const mark = label[lists[to]![0]];
    for (const f of own) label[f] = mark;
    const both = new Uint32Array(own.length + lists[to]!.length);
    both.set(lists[to]!);
    both.set(own, lists[to]!.length);
    lists[to] = both.sort();
    areas[to] += areas[i];
    lists[i] = undefined;
    left--;
  }
  return lists.filter((x) => x !== undefined);
}
