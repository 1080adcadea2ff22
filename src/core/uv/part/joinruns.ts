/**
 * Islands put together over one run of a seam at a time, the longest first, as long as they lie as well as one: a box
 * becomes a cross, a beam a strip. What is next to each other along other runs stays cut there.
 */
import { acos } from '../../math/exact';
import { pulse } from '../../math/pulse';
import type { Mesh } from '../../mesh/mesh';
import { facingOf } from './facing';
import type { Island } from './island';
import type { Laying } from '../flatten/layflat';
import { Parting, type Patch } from '../flatten/patch';
import { besideEachOther } from './beside';
import { boxOf, FILLED, THIN } from './box';
import { closeRun, runsOf } from './runs';

const { max, min, sqrt } = Math;

/** As good as not stretched at all; scales are told apart by a hundredth and a half. */
const FLAT = 1.002;
const EVEN = 1.04;
/** Of more faces together they are not tried: where so much would lie flat it has mostly been found so. */
const MOST = 3000;

/** What fills less of its box than this sprawls, and would lie between everything else: a cross of six fills half. */
const SPRAWLING = 0.49;

const CROSS = 0.36;

export interface Joining {
  /** Edges that stay cut whatever comes. */
  hard: Uint8Array;
  /** Edges that are not to be cut, however they bend, as long as nothing comes to lie on another. */
  hold: ReadonlySet<number>;
  /** Radians: runs that bend by more on the mean stay cut, but for scraps. */
  bend: number;
  /** No place is drawn more than this one way against the other. */
  bound: number;
  /** Nor any island more than this on the mean. */
  mean?: number;
  /** Islands of boxes: as flat as before, and not sprawling. */
  flat: boolean;
  /** Of more faces together they are not tried. */
  most?: number;
  /** Two are joined over runs that are as long as this against how wide the smaller one is. */
  neck?: number;
}

/**
 * What is held stays together beyond the bound, but not where one place would be so many times as large as another for
 * it: nobody could paint there.
 */
const BEARABLE = 4;

/** What is smaller, against everything, is joined over bends that are this much sharper. */
const SCRAP = 0.003;
const SHARPER = 1.35;
/** So many faces are laid flat to find out, for each there is. */
const WORK = 2;
const LEAST_WORK = 10_000;

export function joinedOverRuns(
  mesh: Mesh,
  islands: readonly Island[],
  seam: Uint8Array,
  { hard, hold, bend, bound, mean, flat, most = MOST, neck = 0 }: Joining,
): { islands: Island[]; seam: Uint8Array } {
  const parting = new Parting(mesh, seam.slice());
  const now = new Map<number, Island>();
  let area = 0;
  islands.forEach((island, k) => {
    for (const f of island.patch.faces) parting.label[f] = k;
    now.set(k, island);
    area += island.laid.rest.total;
  });
  const is = new Int32Array(islands.length).map((_, k) => k);
  const found = (k: number): number => {
    let at = k;
    while (is[at] !== at) at = is[at];
    return at;
  };
  const isFlat = ({ laid }: Island): boolean => laid.sound && laid.figures.spread < EVEN && laid.figures.mean < FLAT;
  const keep = (laid: Island['laid'], patch: Patch): boolean => {
    if (!laid.good || (flat && !isFlat({ laid, patch }))) return false;
    const { fill, long } = boxOf(patch, laid);
    // The cross of a cube fills three eighths of the square that it takes.
    const most = flat ? laid.rest.total / CROSS : area / FILLED;
    return fill > (flat ? SPRAWLING : THIN) && long * long < most;
  };
  const bearable = (laid: Island['laid']): boolean => laid.good || (laid.sound && laid.figures.spread < BEARABLE);
  let budget = LEAST_WORK + WORK * mesh.faceCount;
  const bends = bendsOf(parting);
  const runs = runsOf(parting, hold);
  const isHeld = (edges: readonly number[]): boolean => hold.has(edges[0]);
  for (const run of [...runs.filter((r) => isHeld(r.edges)), ...runs.filter((r) => !isHeld(r.edges))]) {
    pulse();
    if (budget < 0) break;
    const held = isHeld(run.edges);
    if (run.edges.some((e) => hard[e])) continue;
    const [a, b] = [found(run.a), found(run.b)];
    const [x, y] = [now.get(a)!, now.get(b)!];
    const many = x.patch.faces.length + y.patch.faces.length;
    // Of a slit that is closed nothing is gained.
    if (a === b && !held) continue;
    if (!held && (many > most || (flat && !(isFlat(x) && isFlat(y))))) continue;
    const least = min(x.laid.rest.total, y.laid.rest.total);
    const small = least < SCRAP * area;
    if (!held && !small && run.long < neck * sqrt(least)) continue;
    if (!held && bends(run.edges) > (small ? SHARPER * bend : bend)) continue;
    budget -= held ? 0 : many;
    const wanted = held ? bearable : keep;
    const other = a === b ? undefined : y.patch.faces;
    // What hangs together by one edge lies far off as a conformal map has it.
    const laying = (patch: Patch): Laying => ({ hard: true, start: other && besideEachOther(mesh, patch, x, y) });
    const within = flat ? EVEN : bound;
    const one = closeRun(parting, x.patch.faces, other, run.edges, within, wanted, held ? laying : () => ({ mean }));
    if (!one || !wanted(one.laid, one.patch)) continue;
    if (a !== b) {
      is[b] = a;
      now.delete(b);
    }
    now.set(a, one);
  }
  return { islands: [...now.values()], seam: parting.seam };
}

/** How much edges bend on the mean, by length; radians. */
function bendsOf({ mesh, t }: Parting): (edges: readonly number[]) => number {
  const n = facingOf(mesh);
  const p = mesh.positions;
  return (edges) => {
    let sum = 0;
    let all = 0;
    for (const e of edges) {
      const s = t.edgeCornerStart[e];
      const [f, g] = [3 * t.cornerFace[t.edgeCorner[s]], 3 * t.cornerFace[t.edgeCorner[s + 1]]];
      const dot = n[f] * n[g] + n[f + 1] * n[g + 1] + n[f + 2] * n[g + 2];
      const [v, w] = [3 * t.edgeVertex[2 * e], 3 * t.edgeVertex[2 * e + 1]];
      const long = Math.hypot(p[v] - p[w], p[v + 1] - p[w + 1], p[v + 2] - p[w + 2]);
      sum += long * acos(max(-1, min(1, dot)));
      all += long;
    }
    return all > 0 ? sum / all : 0;
  };
}
