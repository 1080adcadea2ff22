/**
 * Islands found by themselves: as few as can be, none flipped, none lying on itself, none stretched beyond a bound. A
 * surface is parted until every patch lies flat within the bound (Sander et al. 2003 and Sorkine et al. 2002 for the
 * idea), then patches go back together wherever they can.
 */
import { nameOf } from '../../math/hash';
import { Queue } from '../../math/queue';
import { UnionFind } from '../../math/unionfind';
import { pulse } from '../../math/pulse';
import type { Mesh } from '../../mesh/mesh';
import { attachedTo, LARGER } from './attach';
import { coarser } from './coarse';
import { cellsOf, type Cells } from './cells';
import { layFlat, type Laid } from '../flatten/layflat';
import { faceFacts, inTwo, normalSpread, slit, type FaceFacts } from './part';
import { Parting, type Patch } from '../flatten/patch';
import { CORNERED, planned, SCRAP, SMALL } from './plan';
import { smoothBorders } from './smooth';
import { STRAIGHTEST, StraightBorders, WIDE } from './straight';

export interface AutoOptions {
  /** Edges that are cut whatever comes: marked by hand, open, on three faces. */
  seam: Uint8Array;
  /** Edges that are seams because they bend, which small patches may be joined over. */
  soft: Uint8Array;
  /** Patches are not joined over a border that bends by more on the whole, but for small ones. Radians. */
  bend: number;
  /**
   * As many islands as are wanted: until there are no more, patches are joined over whatever bends. 0 for as it comes.
   */
  islands: number;
  /** Edges that may not be cut. */
  hold: ReadonlySet<number>;
  /** 1.3: no place is drawn more than that one way against the other. */
  bound: number;
  /** 0 to 1: how much borders are drawn straight. */
  straight: number;
  /** How dear it is to cut an edge, for its length; the bend of the edge is known. */
  weigh(edge: number): number;
  progress?: (share: number) => void;
  /** Only where to part is asked for: nothing is cut open that is not so by being parted. */
  rough?: boolean;
}

export interface Island {
  patch: Patch;
  laid: Laid;
  /** It lies as it was planned on the cells. */
  planned?: true;
}

/** Patches of more faces that clearly cannot lie flat are parted without a try. */
const LARGE = 6000;
/** Least variance of normals of a half ball: 1/12. What is a good deal above will not lie flat. */
const ROUND = 0.125;
/** More in one patch takes long to solve. */
const MOST_FACES = 150_000;

export interface Parted {
  islands: Island[];
  /** Where the surface is cut in the end. */
  seam: Uint8Array;
}

export function autoIslands(mesh: Mesh, o: AutoOptions): Parted {
  const seam = o.seam.slice();
  const parting = new Parting(mesh, seam);
  const facts = faceFacts(mesh);
  let labels = 0;
  const all = Uint32Array.from({ length: mesh.faceCount }, (_, f) => f);
  parting.label.fill(0);
  const parts = (faces: ArrayLike<number>): Uint32Array[] => {
    const found = parting.components(faces, labels);
    labels += found.length;
    return found;
  };
  const cells = cellsOf(parting, facts, o.soft);
  const firmed = firm(parting, facts, o.soft);
  labels = plannedOn(parting, cells, o);
  const tried = mesh.faceCount < ROOMY * labels ? undefined : triedCoarser(parting, firmed, o);
  labels = tried ?? labels;
  const begun = tried === undefined ? 0 : 0.3;
  // As far as a cell is wide; over what is to be a seam, belonging does not go.
  const wide = Math.ceil((4 * mesh.faceCount) / cells.count);
  const rounds = tried === undefined ? Math.min(40, Math.max(12, wide)) : FEW_ROUNDS;
  smoothBorders(parting, rounds, (e) => o.weigh(e) + 1e-12, firmed);
  const straight = new StraightBorders(parting, {
    weigh: (e) => o.weigh(e) + 1e-12,
    firm: firmed,
    hold: o.hold,
    straight: STRAIGHTEST * o.straight,
    wide: WIDE,
  });
  straight.all();
  const straighter = (edges: readonly number[]): readonly number[] => straight.way(edges);
  const stack = parts(all);
  const firstParted = labels;
  const islands = new Map<number, Island>();
  /** Lists of faces that do not lie flat together. */
  const failed = new Set<number>();
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
    const side = inTwo(faces, facts, parting, (e) => (o.hold.has(e) ? 1e6 : o.weigh(e)));
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
      if (patch.borders > 1 && slit(parting, patch, o.weigh, straighter)) patch = parting.patch(faces);
      laid = layFlat(patch, o.bound);
      if (laid.good) {
        settle(patch, laid);
        continue;
      }
      failed.add(nameOf(faces));
    }
    const halves = split(faces);
    if (halves && halves.length > 1) stack.push(...halves);
    else settle(patch, layFlat(patch, o.bound, true));
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

/** Labels as the cells foretell; answers how many. */
function plannedOn({ label }: Parting, cells: Cells, o: AutoOptions): number {
  const plan = planned(cells, { spread: o.bound * o.bound, bend: o.bend, islands: o.islands });
  for (let f = 0; f < label.length; f++) label[f] = plan.label[cells.of[f]];
  return plan.count;
}

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

/** What bends part off of a whole, against all of it: less is roughness, and borders go over it as over anything. */
const ROUGH = 0.001;

/** Those of the bends that have more than a scrap on both their sides. */
function firm(parting: Parting, facts: FaceFacts, soft: Uint8Array): Uint8Array {
  const { mesh, t, seam } = parting;
  const { edgeCount, edgeCorner, edgeCornerStart, cornerFace } = t;
  const whole = new UnionFind(mesh.faceCount);
  const part = new UnionFind(mesh.faceCount);
  const sides = (e: number): [number, number] => {
    const s = edgeCornerStart[e];
    return [cornerFace[edgeCorner[s]], cornerFace[edgeCorner[s + 1]]];
  };
  for (let e = 0; e < edgeCount; e++) {
    if (seam[e]) continue;
    whole.join(...sides(e));
    if (!soft[e]) part.join(...sides(e));
  }
  const areas = [whole, part].map((joined) => {
    const sums = new Float64Array(mesh.faceCount);
    for (let f = 0; f < mesh.faceCount; f++) sums[joined.find(f)] += facts.area[f];
    return sums;
  });
  const scrap = (f: number): boolean => areas[1][part.find(f)] < ROUGH * areas[0][whole.find(f)];
  return soft.map((x, e) => (x && !sides(e).some(scrap) ? 1 : 0));
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

/** Patches larger together are not tried: where so much would lie flat it has mostly been found so. */
const MOST_JOINED = 30_000;

/** What was found out while parting. */
interface Known {
  facts: FaceFacts;
  cells: Cells;
  failed: Set<number>;
}

interface Border {
  a: number;
  b: number;
  long: number;
  /** Radians, mean by length. */
  bend: number;
}

/** Patches put back together with their neighbours where both lie flat as one; the sharpest bends last. */
function joined(parting: Parting, islands: Map<number, Island>, known: Known, o: AutoOptions): void {
  const { mesh, t, label } = parting;
  const { cells } = known;
  const { cornerFace, edgeCount, edgeCorner, edgeCornerStart } = t;
  const areaOf = (i: Island): number => i.laid.rest.total;
  const around = wholes(parting, islands, o);
  let total = 0;
  for (const i of islands.values()) total += areaOf(i);
  const near = new Map<number, Map<number, Border>>();
  const note = (a: number, b: number, long: number, bend: number): void => {
    for (const [x, y] of [
      [a, b],
      [b, a],
    ]) {
      let list = near.get(x);
      if (!list) near.set(x, (list = new Map()));
      const had = list.get(y);
      if (had) {
        had.bend = (had.bend * had.long + bend * long) / (had.long + long);
        had.long += long;
      } else list.set(y, { a: x, b: y, long, bend });
    }
  };
  const lengthOf = (e: number): number => {
    const [a, b] = [3 * t.edgeVertex[2 * e], 3 * t.edgeVertex[2 * e + 1]];
    const p = mesh.positions;
    return Math.hypot(p[a] - p[b], p[a + 1] - p[b + 1], p[a + 2] - p[b + 2]);
  };
  for (let e = 0; e < edgeCount; e++) {
    if (o.seam[e]) continue;
    const s = edgeCornerStart[e];
    const [f, g] = [cornerFace[edgeCorner[s]], cornerFace[edgeCorner[s + 1]]];
    if (label[f] === label[g]) continue;
    const n = cells.facts.normal;
    const [i, j] = [3 * cells.of[f], 3 * cells.of[g]];
    const dot = n[i] * n[j] + n[i + 1] * n[j + 1] + n[i + 2] * n[j + 2];
    note(label[f], label[g], lengthOf(e) || 1e-30, Math.acos(Math.max(-1, Math.min(1, dot))));
  }
  const queue = new Queue();
  const waiting: Border[] = [];
  const offer = (b: Border): void => {
    const [x, y] = [islands.get(b.a)!, islands.get(b.b)!];
    const least = Math.min(areaOf(x), areaOf(y));
    const whole = around(x.patch.faces[0]);
    const free = (o.islands > 0 && islands.size > o.islands) || whole < SCRAP * total;
    const small = least <= SMALL * whole;
    const limit = free ? Math.PI : o.bend;
    const joinedOver = least <= TINY * whole ? FOLDED : CORNERED;
    if (b.bend > (small ? joinedOver : 1) * limit) return;
    // What was foretold to lie flat as it is, next to another such, was looked at already.
    if (x.planned && y.planned && !small && !free) return;
    if (x.patch.faces.length + y.patch.faces.length > MOST_JOINED) return;
    // Long borders first, for their size; over sharp bends later; what is small before all.
    const worth = b.long / Math.sqrt(least || 1e-30);
    queue.push(waiting.push(b) - 1, b.bend * 2 - Math.min(4, worth) + (small ? -1 : 0));
  };
  const offerAll = (): void => {
    for (const list of near.values()) for (const b of list.values()) if (b.a < b.b) offer(b);
  };
  const became = (b: Border, one: Island): void => {
    // The larger keeps its label; what was next to the other is next to it now.
    const [keep, gone] = label[one.patch.faces[0]] === b.a ? [b.a, b.b] : [b.b, b.a];
    islands.delete(gone);
    islands.set(keep, one);
    const theirs = near.get(gone)!;
    near.delete(gone);
    near.get(keep)!.delete(gone);
    for (const [other, border] of theirs) {
      near.get(other)?.delete(gone);
      if (other !== keep) note(keep, other, border.long, border.bend);
    }
    for (const [other, border] of near.get(keep)!) {
      const fresh = { ...border, a: Math.min(keep, other), b: Math.max(keep, other) };
      near.get(keep)!.set(other, fresh);
      near.get(other)!.set(keep, fresh);
      offer(fresh);
    }
  };
  /** Goes through what is offered, what is likeliest first, as long as there is work left for it. */
  const goThrough = (
    left: number,
    joining: (x: Island, y: Island) => { one: Island | undefined; work: number },
    done: (share: number) => void,
  ): void => {
    offerAll();
    const total = Math.max(1, queue.size);
    let tried = 0;
    while (queue.size > 0) {
      const b = waiting[queue.pop()[0]];
      const [x, y] = [islands.get(b.a), islands.get(b.b)];
      if (left <= 0 || !x || !y || near.get(b.a)?.get(b.b) !== b) continue;
      if ((++tried & 15) === 0) {
        pulse();
        done(Math.min(1, tried / total));
      }
      const { one, work } = joining(x, y);
      left -= work;
      if (one) became(b, one);
    }
  };
  goThrough(
    o.rough ? 0 : ATTACHING * mesh.faceCount + 6000,
    (x, y) => {
      const [one, other] = [x.patch.faces.length, y.patch.faces.length];
      if (Math.max(one, other) < LARGER * Math.min(one, other)) return { one: undefined, work: 0 };
      return { one: attachedAs(parting, x, y, o.bound), work: Math.min(one, other) + Math.max(one, other) / 10 };
    },
    (share) => o.progress?.(0.7 + 0.1 * share),
  );
  // As much work as all that was done before, about.
  goThrough(
    mesh.faceCount + 6000,
    (x, y) => ({ one: tryJoin(parting, x, y, known, o), work: x.patch.faces.length + y.patch.faces.length }),
    (share) => o.progress?.(0.8 + 0.2 * share),
  );
}

/** What is still smaller is joined over next to everything: it is not worth an island. */
const TINY = 0.002;
const FOLDED = 2;

/** So many faces are laid beside others, for each there is. */
const ATTACHING = 2;

/** Both as one, the larger as it lies; labels are as before where that cannot be. */
function attachedAs(parting: Parting, x: Island, y: Island, bound: number): Island | undefined {
  const { label } = parting;
  const [big, small] = x.patch.faces.length >= y.patch.faces.length ? [x, y] : [y, x];
  const faces = together(big, small);
  const [keep, gone] = [label[big.patch.faces[0]], label[small.patch.faces[0]]];
  for (const f of small.patch.faces) label[f] = keep;
  const one = attachedTo(parting, big, faces, bound);
  if (!one) for (const f of small.patch.faces) label[f] = gone;
  return one;
}

/** The faces of two islands, in order. */
function together(x: Island, y: Island): Uint32Array {
  const faces = new Uint32Array(x.patch.faces.length + y.patch.faces.length);
  faces.set(x.patch.faces);
  faces.set(y.patch.faces, x.patch.faces.length);
  return faces.sort();
}

/** Area of the part of the surface that hangs together round a face, over whatever may be joined. */
function wholes(parting: Parting, islands: Map<number, Island>, o: AutoOptions): (face: number) => number {
  const { mesh, t } = parting;
  const joinedFaces = new UnionFind(mesh.faceCount);
  for (let e = 0; e < t.edgeCount; e++) {
    if (o.seam[e]) continue;
    const s = t.edgeCornerStart[e];
    joinedFaces.join(t.cornerFace[t.edgeCorner[s]], t.cornerFace[t.edgeCorner[s + 1]]);
  }
  const sums = new Map<number, number>();
  for (const { patch, laid } of islands.values()) {
    const root = joinedFaces.find(patch.faces[0]);
    sums.set(root, (sums.get(root) ?? 0) + laid.rest.total);
  }
  return (face) => sums.get(joinedFaces.find(face)) ?? 0;
}

function tryJoin(parting: Parting, x: Island, y: Island, { facts, failed }: Known, o: AutoOptions): Island | undefined {
  const { label, seam, mesh, t } = parting;
  const [big, small] = x.patch.faces.length >= y.patch.faces.length ? [x, y] : [y, x];
  const faces = together(big, small);
  const name = nameOf(faces);
  if (failed.has(name)) return undefined;
  if (faces.length > 200 && normalSpread(faces, facts).least > ROUND) return undefined;
  const keep = label[big.patch.faces[0]];
  const gone = label[small.patch.faces[0]];
  for (const f of small.patch.faces) label[f] = keep;
  // What was cut between or within them for want of flatness is whole again, until it is asked for anew.
  const healed: number[] = [];
  for (const f of faces)
    for (let c = mesh.faceStart[f]; c < mesh.faceStart[f + 1]; c++) {
      const e = t.cornerEdge[c];
      if (!seam[e] || o.seam[e]) continue;
      const s = t.edgeCornerStart[e];
      if (label[t.cornerFace[t.edgeCorner[s]]] !== keep || label[t.cornerFace[t.edgeCorner[s + 1]]] !== keep) continue;
      seam[e] = 0;
      healed.push(e);
    }
  let patch = parting.patch(faces);
  let laid: Laid | undefined;
  const cut = patch.borders > 1 && patch.euler === 2 - patch.borders;
  if (patch.borders > 0 && patch.euler === 2 - patch.borders) {
    if (cut && slit(parting, patch, o.weigh)) patch = parting.patch(faces);
    laid = layFlat(patch, o.bound);
  }
  if (laid?.good) return { patch, laid };
  failed.add(name);
  for (const f of faces)
    for (let c = mesh.faceStart[f]; c < mesh.faceStart[f + 1]; c++)
      if (!o.seam[t.cornerEdge[c]] && label[f] === keep) {
        const e = t.cornerEdge[c];
        const s = t.edgeCornerStart[e];
        if (label[t.cornerFace[t.edgeCorner[s]]] === keep && label[t.cornerFace[t.edgeCorner[s + 1]]] === keep)
          seam[e] = 0;
      }
  for (const e of healed) seam[e] = 1;
  for (const f of small.patch.faces) label[f] = gone;
  return undefined;
}
