/** What is found out of a surface before it is parted: its cells, its bends, its tubes, and a plan. */
import { UnionFind } from '../../math/unionfind';
import { layFlat } from '../flatten/layflat';
import type { Parting } from '../flatten/patch';
import { boxOf, FILLED, THIN } from './box';
import { cellsOf, type Cells } from './cells';
import type { AutoOptions } from './island';
import { faceFacts, slit, type FaceFacts } from './part';
import { planned, type CellPlan } from './plan';
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
  const facts = faceFacts(parting.mesh);
  const firmed = firm(parting, facts, o.soft);
  const cells = cellsOf(parting, facts, o.soft, firmed);
  const spread = o.bound * o.bound;
  const asked = { spread, bend: o.bend, islands: o.islands };
  const ground = { facts, cells, firmed };
  const all = tubesOf(parting, cells, { spread, area: o.area });
  const plan = planned(cells, asked);
  const tubes = all && withoutTubesThatLie(all, cells, plan, parting, o);
  if (!tubes) return { ...ground, plan };
  return { ...ground, plan: planned(cells, { ...asked, settled: tubes.of }), tubes, without: plan };
}

/** Those tubes that would not lie flat as planned, in about as many islands as they have parts. */
function withoutTubesThatLie(
  tubes: Tubes,
  cells: Cells,
  plan: CellPlan,
  parting: Parting,
  o: AutoOptions,
): Tubes | undefined {
  const faces: number[][] = Array.from({ length: plan.count }, () => []);
  cells.of.forEach((c, f) => {
    parting.label[f] = plan.label[c];
    faces[plan.label[c]].push(f);
  });
  const sheet =
    max(
      o.area ?? 0,
      cells.facts.area.reduce((sum, x) => sum + x, 0),
    ) / FILLED;
  return worthIt(tubes, cells.facts.area, plan, (k) => {
    let patch = parting.patch(Uint32Array.from(faces[k]));
    if (patch.borders === 0 || patch.euler !== 2 - patch.borders) return false;
    const cut = patch.borders > 1 ? slit(parting, patch, o.weigh) : [];
    if (cut.length > 0) patch = parting.patch(patch.faces);
    for (const e of cut) parting.seam[e] = 0;
    const laid = layFlat(patch, o.bound);
    if (!laid.good) return false;
    const { fill, long } = boxOf(patch, laid);
    return fill > THIN && long * long < sheet;
  });
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
