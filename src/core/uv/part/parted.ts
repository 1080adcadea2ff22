/**
 * A surface parted into islands that lie flat within a bound; where it is alike on both sides of a plane, so are they,
 * but for those that go across.
 */
import { pulse } from '../../math/pulse';
import { areaOf } from '../../mesh/measure';
import type { Mesh } from '../../mesh/mesh';
import { topologyOf, type Topology } from '../../mesh/topology';
import { autoIslands } from './auto';
import { DRAWN, type Island } from './island';
import { FILLED } from './box';
import { isBoxy } from './boxy';
import { fullnessOn } from './fullness';
import { seamEdges } from './charts';
import { compacted } from './compact';
import { restOf } from '../flatten/flatness';
import { asItLies, layFlat } from '../flatten/layflat';
import { drawnWithin, meanOf } from './drawn';
import { hidingCost } from './hiding';
import { joinedOverRuns, type Joining } from './joinruns';
import { Parting } from '../flatten/patch';
import { onlyFaces } from '../../mesh/onlyfaces';
import { samePieces, spreadOut, type Same } from './same';
import { STRAIGHTEST, WIDE } from './straight';
import { mirrorOf, type Mirror } from './symmetry';

const { ceil, max, min, sqrt } = Math;

/** Strips that are no wider than so many times what is between them are better as one, however they bend. */
const NARROW = 3;

export interface PartingOptions {
  cut: ReadonlySet<number>;
  hold: ReadonlySet<number>;
  seamAngle: number;
  islands?: number;
  mean?: number;
  fill?: number;
  hide?: number;
  straight?: number;
  pixels?: boolean;
  symmetric?: boolean;
  /** Texels: of the side of the sheet, and between islands. */
  size: number;
  padding: number;
  turn?: boolean;
  /** Of all that goes on the sheet, where this surface is a part of it. */
  area?: number;
  progress?: (share: number) => void;
}

export interface AutoParted {
  seam: Uint8Array;
  /** Island of each face, and how many faces each has. */
  of: Int32Array;
  faces: Int32Array;
  /** Share of the area beyond the bound. */
  beyond: number;
  /** How far all is drawn one way against the other, on the mean. */
  mean: number;
  /** 2 per corner: where it lies within its island. */
  uv: Float64Array;
}

/**
 * Joined by less than this against how wide it is, a wing hangs far off, and larger or smaller than the rest. A sphere
 * came to two pairs of petals, each held by one edge, that filled 58 %; as four they fill 66.
 */
const NECK = 0.3;
/** Borders are as straight as that where nothing is said. */
const STRAIGHT = 0.5;

interface Found {
  islands: Island[];
  seam: Uint8Array;
}

export function parted(mesh: Mesh, marked: Uint8Array, o: PartingOptions, bound: number): AutoParted {
  const hard = seamEdges(mesh, { cut: o.cut, hold: o.hold, angle: Infinity });
  const soft = Uint8Array.from(marked, (x, e) => (x && !hard[e] ? 1 : 0));
  withoutLooseEnds(topologyOf(mesh), soft, hard);
  const marks = { hard, soft, hold: o.hold };
  const mirror = o.symmetric && !isBoxy(mesh) ? mirrorOf(mesh) : undefined;
  const once = (mean: number | undefined, progress: PartingOptions['progress']): Found => {
    // Few islands, where a number is wanted, come before that.
    const asked = { ...o, mean: mean ?? (o.islands ? undefined : DRAWN), progress };
    return (mirror && alike(mesh, mirror, marks, asked, bound)) ?? found(mesh, marks, asked, bound);
  };
  const { islands, seam } = o.mean ? drawnWithin(o.mean, once, o.progress) : once(undefined, o.progress);
  const of = new Int32Array(mesh.faceCount).fill(-1);
  const uv = new Float64Array(2 * mesh.cornerCount);
  islands.forEach(({ patch, laid }, k) => {
    let at = 0;
    for (const f of patch.faces) {
      of[f] = k;
      for (let c = mesh.faceStart[f]; c < mesh.faceStart[f + 1]; c++, at++) {
        uv[2 * c] = laid.uv[2 * patch.corners[at]];
        uv[2 * c + 1] = laid.uv[2 * patch.corners[at] + 1];
      }
    }
  });
  let area = 0;
  let off = 0;
  for (const { laid } of islands) {
    area += laid.rest.total;
    off += laid.rest.total * laid.figures.beyond;
  }
  const faces = Int32Array.from(islands, (i) => i.patch.faces.length);
  return { seam, of, faces, uv, beyond: area > 0 ? off / area : 0, mean: meanOf(islands) };
}

interface Marks {
  hard: Uint8Array;
  soft: Uint8Array;
  hold: ReadonlySet<number>;
}

/** What is the same as something else is parted as that is. */
function found(mesh: Mesh, marks: Marks, o: PartingOptions, bound: number): Found {
  const { hard, soft, hold } = marks;
  const same = samePieces(
    mesh,
    hard.map((x, e) => x + 2 * soft[e] + (hold.has(e) ? 4 : 0)),
  );
  return (same && foundOfSame(mesh, same, marks, o, bound)) ?? foundOf(mesh, marks, o, bound);
}

function foundOfSame(mesh: Mesh, same: Same, marks: Marks, o: PartingOptions, bound: number): Found | undefined {
  const { part, edge } = onlyFaces(mesh, same.faces);
  const hold = new Set(Array.from(edge.keys()).filter((e) => marks.hold.has(edge[e])));
  const of = (a: Uint8Array): Uint8Array => Uint8Array.from(edge, (e) => a[e]);
  const one = foundOf(
    part,
    { hard: of(marks.hard), soft: of(marks.soft), hold },
    {
      ...o,
      islands: o.islands ? max(1, ceil((o.islands * same.kinds) / same.pieces)) : 0,
      area: max(o.area ?? 0, areaOf(mesh)),
    },
    bound,
  );
  return spreadOut(mesh, same, { hard: marks.hard, edge }, one);
}

function foundOf(mesh: Mesh, { hard, soft, hold }: Marks, o: PartingOptions, bound: number): Found {
  const cost = hidingCost(mesh, o.hide ?? 0.5);
  const side = sqrt(max(o.area ?? 0, areaOf(mesh)) / FILLED);
  const narrow = (NARROW * o.padding * side) / o.size;
  const auto = autoIslands(mesh, {
    narrow,
    seam: hard,
    soft,
    hold,
    bound,
    mean: o.mean,
    bend: min(o.seamAngle, Math.PI),
    islands: o.islands ?? 0,
    straight: o.straight ?? STRAIGHT,
    area: o.area,
    weigh: cost,
    progress: o.progress && ((share) => o.progress!(0.8 * share)),
  });
  const whole = joinedOverRuns(mesh, auto.islands, auto.seam, joining(auto.islands.length, hard, hold, o, bound));
  if (o.pixels) return whole;
  const most = o.islands ? max(0, o.islands - whole.islands.length) : Infinity;
  const islands = compacted(mesh, whole.islands, whole.seam, {
    weigh: (e) => cost(e) + 1e-12,
    firm: new Uint8Array(topologyOf(mesh).edgeCount),
    hold,
    straight: STRAIGHTEST * (o.straight ?? STRAIGHT),
    wide: WIDE,
    most,
    area: o.area,
    fill: o.fill,
    narrow,
    fullness: fullnessOn(o),
  });
  return { islands, seam: whole.seam };
}

const joining = (
  islands: number,
  hard: Uint8Array,
  hold: ReadonlySet<number>,
  o: PartingOptions,
  bound: number,
): Joining => ({
  hard,
  hold,
  bend: o.pixels || (o.islands && islands > o.islands) ? Math.PI : min(o.seamAngle, Math.PI),
  bound,
  mean: o.mean,
  flat: o.pixels === true,
  neck: o.islands || o.pixels ? 0 : NECK,
});

/**
 * Islands of the one side, and their twins; then both put together over the plane wherever they lie as well as one.
 * Undefined where what is marked is not alike on both sides.
 */
function alike(mesh: Mesh, mirror: Mirror, marks: Marks, o: PartingOptions, bound: number): Found | undefined {
  const t = topologyOf(mesh);
  const edges = edgesByEnds(mesh, t);
  const { hard, soft, hold } = marks;
  const twin = new Int32Array(t.edgeCount);
  for (let e = 0; e < t.edgeCount; e++) {
    const [v, w] = [mirror.vertex[t.edgeVertex[2 * e]], mirror.vertex[t.edgeVertex[2 * e + 1]]];
    twin[e] = edges(v, w);
    if (twin[e] < 0 || hard[e] !== hard[twin[e]] || hold.has(e) !== hold.has(twin[e])) return undefined;
  }
  const faces = Uint32Array.from(mirror.own.keys()).filter((f) => mirror.own[f] === 1);
  const { part: half, edge } = onlyFaces(mesh, faces);
  const ht = topologyOf(half);
  const open = (e: number): boolean => ht.edgeCornerStart[e + 1] - ht.edgeCornerStart[e] !== 2;
  const of = (a: Uint8Array): Uint8Array => Uint8Array.from(edge, (e) => a[e]);
  const halfHard = of(hard).map((x, e) => (open(e) ? 1 : x));
  const halfSoft = of(soft).map((x, e) => (open(e) ? 0 : x));
  const halfHold = new Set(Array.from(edge.keys()).filter((e) => hold.has(edge[e])));
  const wanted = { ...o, islands: o.islands ? max(1, ceil(o.islands / 2)) : 0, area: max(o.area ?? 0, areaOf(mesh)) };
  const one = found(half, { hard: halfHard, soft: halfSoft, hold: halfHold }, wanted, bound);

  const seam = hard.slice();
  one.seam.forEach((x, e) => {
    // What is open only because the other side was taken away is no seam of the whole by that.
    if (!x || open(e)) return;
    seam[edge[e]] = 1;
    seam[twin[edge[e]]] = 1;
  });
  const parting = new Parting(mesh, seam);
  const lists = one.islands.map(({ patch }) => patch.faces.map((f) => faces[f]));
  const twins = lists.map((list) => list.filter((f) => mirror.face[f] !== f).map((f) => mirror.face[f]));
  const label = (list: Uint32Array, k: number): void => {
    for (const f of list) parting.label[f] = k;
  };
  lists.forEach(label);
  const labels: Uint32Array[] = [...lists];
  for (const list of twins) {
    if (list.length === 0) continue;
    // Without what lies across the plane a twin may fall apart.
    label(list, labels.length);
    labels.push(...parting.components(list, labels.length));
  }
  const plane: number[] = [];
  for (let e = 0; e < t.edgeCount; e++) {
    const s = t.edgeCornerStart[e];
    if (t.edgeCornerStart[e + 1] - s !== 2) continue;
    const [f, g] = [t.cornerFace[t.edgeCorner[s]], t.cornerFace[t.edgeCorner[s + 1]]];
    if (parting.label[f] !== parting.label[g]) {
      if (!hard[e] && mirror.own[f] !== mirror.own[g]) plane.push(e);
      seam[e] = 1;
    }
  }
  const patches = lists.map((list) => parting.patch(list));
  // Numbered as on the half; where that is not so, there are places that hang together otherwise in the whole.
  if (patches.some((p, k) => 2 * p.points.length !== 3 * one.islands[k].laid.uv.length)) return undefined;
  const islands: Island[] = [];
  const own = new Map<number, { island: Island; at: Map<number, number> }>();
  lists.forEach((list, k) => {
    const patch = patches[k];
    const { laid } = one.islands[k];
    const island = { patch, laid };
    islands.push(island);
    let at = 0;
    for (const f of list) {
      own.set(f, { island, at: new Map() });
      for (let c = mesh.faceStart[f]; c < mesh.faceStart[f + 1]; c++)
        own.get(f)!.at.set(mesh.cornerVertex[c], patch.corners[at++]);
    }
  });
  for (const list of labels.slice(lists.length)) {
    pulse();
    const patch = parting.patch(list);
    const uv = new Float64Array((2 * patch.points.length) / 3);
    let wasSound = true;
    let at = 0;
    for (const f of patch.faces) {
      const { island, at: there } = own.get(mirror.face[f])!;
      wasSound = island.laid.sound;
      for (let c = mesh.faceStart[f]; c < mesh.faceStart[f + 1]; c++, at++) {
        const from = there.get(mirror.vertex[mesh.cornerVertex[c]])!;
        uv[2 * patch.corners[at]] = -island.laid.uv[2 * from];
        uv[2 * patch.corners[at] + 1] = island.laid.uv[2 * from + 1];
      }
    }
    // A face of many corners is cut into other triangles than its twin, and drawn as that is one may lie on its face.
    const as = asItLies(patch, restOf(patch), uv, bound, o.mean);
    const laid = as.sound || !wasSound ? as : layFlat(patch, bound, { hard: true, once: true, mean: o.mean });
    if (wasSound && !laid.sound) return undefined;
    islands.push({ patch, laid });
  }
  const across = new Uint8Array(t.edgeCount).fill(1);
  for (const e of plane) across[e] = 0;
  return joinedOverRuns(mesh, islands, seam, {
    ...joining(islands.length, across, hold, o, bound),
    bend: Math.PI,
    most: Infinity,
  });
}

/** The edge between two vertices; −1 where there is none. */
function edgesByEnds(mesh: Mesh, t: Topology): (v: number, w: number) => number {
  const ends = new Map<number, number>();
  const name = (v: number, w: number): number => min(v, w) * mesh.vertexCount + max(v, w);
  for (let e = 0; e < t.edgeCount; e++) ends.set(name(t.edgeVertex[2 * e], t.edgeVertex[2 * e + 1]), e);
  return (v, w) => ends.get(name(v, w)) ?? -1;
}

/**
 * Bends that lead nowhere part nothing: on what is rough there are thousands of them. What is left goes round, or from
 * one cut to another.
 */
function withoutLooseEnds(t: Topology, soft: Uint8Array, hard: Uint8Array): void {
  const ends = new Map<number, number[]>();
  const note = (v: number, e: number): void => {
    const list = ends.get(v);
    if (list) list.push(e);
    else ends.set(v, [e]);
  };
  const fixed = new Set<number>();
  for (let e = 0; e < t.edgeCount; e++)
    for (let k = 0; k < 2; k++) {
      if (soft[e]) note(t.edgeVertex[2 * e + k], e);
      if (hard[e]) fixed.add(t.edgeVertex[2 * e + k]);
    }
  const left = new Map([...ends].map(([v, list]) => [v, list.length]));
  const loose = [...left].filter(([v, n]) => n === 1 && !fixed.has(v)).map(([v]) => v);
  for (let v = loose.pop(); v !== undefined; v = loose.pop()) {
    const e = ends.get(v)!.find((x) => soft[x]);
    if (e === undefined) continue;
    soft[e] = 0;
    const other = t.edgeVertex[2 * e] === v ? t.edgeVertex[2 * e + 1] : t.edgeVertex[2 * e];
    const n = left.get(other)! - 1;
    left.set(other, n);
    if (n === 1 && !fixed.has(other)) loose.push(other);
  }
}
