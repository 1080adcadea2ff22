/** What is found out of a surface before it is parted: its cells, its bends, its tubes, and a plan. */
import { UnionFind } from '../../math/unionfind';
import { layFlat } from '../flatten/layflat';
import type { Parting } from '../flatten/patch';
import { boxOf, FILLED, THIN } from './box';
import { cellsOf, facesOfCells, type Cells } from './cells';
import type { AutoOptions } from './island';
import { faceFacts, slit, type FaceFacts } from './part';
import { Foretelling, planned, type CellPlan } from './plan';
import { tubesOf, worthIt, type Tubes } from './tubes';

const { max } = Math;

export interface Ground {
  facts: FaceFacts;
  cells: Cells;
  /** Bends that have more than a scrap on both their sides. */
  firmed: Uint8Array;
  plan: CellPlan;
  /** Tubes that are parted as such, and what would be planned without. */
  tubes?: Tubes;
  without?: CellPlan;
}

export function groundOf(parting: Parting, o: AutoOptions): Ground {
  parting.label.fill(0);
  const facts = faceFacts(parting.mesh);
  const firmed = firm(parting, facts, o.soft);
  const cells = cellsOf(parting, facts, o.soft, firmed);
  const spread = o.bound * o.bound;
  const asked = { spread, bend: o.bend, islands: o.islands };
  const ground = { facts, cells, firmed };
  const all = tubesOf(parting, cells, { spread, area: o.area });
  const plan = planned(cells, asked);
  const lies = lyingTest(parting, cells, o);
  wholesThatLie(cells, plan, spread, lies);
  const tubes = all && withoutTubesThatLie(all, cells, plan, lies);
  if (!tubes) return { ...ground, plan };
  const planWithTubes = planned(cells, { ...asked, settled: tubes.of });
  return { ...ground, plan: planWithTubes, tubes, without: plan };
}

/** Whether the faces of some cells lie flat as one within the bound, and are not longer than the sheet. */
function lyingTest(parting: Parting, cells: Cells, o: AutoOptions): (faces: Uint32Array) => boolean {
  const { area } = cells.facts;
  const all = area.reduce((sum, x) => sum + x, 0);
  const sheet = max(o.area ?? 0, all) / FILLED;
  // What has a label of before must not be taken for a part of what has the same one now.
  parting.label.fill(0);
  let stamp = 1;
  return (faces) => {
    for (const f of faces) parting.label[f] = stamp;
    stamp++;
    let patch = parting.patch(faces);
    if (patch.borders === 0 || patch.euler !== 2 - patch.borders) return false;
    const cut = patch.borders > 1 ? slit(parting, patch, o.weigh) : [];
    if (cut.length > 0) patch = parting.patch(patch.faces);
    for (const e of cut) parting.seam[e] = 0;
    const laid = layFlat(patch, o.bound, { mean: o.mean });
    if (!laid.good) return false;
    const { fill, long } = boxOf(patch, laid);
    return fill > THIN && long * long < sheet;
  };
}

/** Of more cells it is not looked whether all that hangs together would lie flat as one. */
const MOST_CELLS = 200;

/** What was planned in several patches and lies flat as one is one. */
function wholesThatLie(cells: Cells, plan: CellPlan, spread: number, lies: (faces: Uint32Array) => boolean): void {
  const { count, start, to, firm } = cells;
  const fore = new Foretelling(cells);
  const seen = new Uint8Array(count);
  const faces = facesOfCells(cells);
  let next = plan.count;
  for (let i = 0; i < count; i++) {
    if (seen[i]) continue;
    const list = [i];
    seen[i] = 1;
    for (let q = 0; q < list.length; q++)
      for (let k = start[list[q]]; k < start[list[q] + 1]; k++)
        if (!(firm[k] > 0.5) && !seen[to[k]]) {
          seen[to[k]] = 1;
          list.push(to[k]);
        }
    const labels = new Set(list.map((c) => plan.label[c]));
    if (labels.size < 2 || list.length > MOST_CELLS) continue;
    if (fore.spread(list, spread) > spread) continue;
    if (!lies(faces(list))) continue;
    // What had been joined to a part of it over a bend stays as it is, by itself.
    for (const c of list) plan.label[c] = next;
    next++;
  }
  if (next === plan.count) return;
  const names = new Map<number, number>();
  plan.label.forEach((k, c) => {
    if (!names.has(k)) names.set(k, names.size);
    plan.label[c] = names.get(k)!;
  });
  plan.count = names.size;
}

/** Those tubes that would not lie flat as planned, in about as many islands as they have parts. */
function withoutTubesThatLie(
  tubes: Tubes,
  cells: Cells,
  plan: CellPlan,
  lies: (faces: Uint32Array) => boolean,
): Tubes | undefined {
  const faces: number[][] = Array.from({ length: plan.count }, () => []);
  cells.of.forEach((c, f) => faces[plan.label[c]].push(f));
  return worthIt(tubes, cells.facts.area, plan, (k) => lies(Uint32Array.from(faces[k])));
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
