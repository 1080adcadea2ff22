/** What can be measured of a piece as one number, in its own space: for solving, sweeps and tables. */
import { boundsOfGeometry, sizeOf, whole, type Geometry } from '../core/geometry';
import type { Triple } from '../core/math/affine';
import { areaOf, volumeOf, type Mesh } from '../core/mesh';
import { elementPoint } from '../core/mesh/elements';
import { faceNormals } from '../core/mesh/normals';
import { raysOf } from '../core/mesh/rays';
import { topologyOf } from '../core/mesh/topology';
import { bends } from '../core/rules/measures';
import { solve, type Solved } from '../core/math/solve';
import { formatNumber, unitSize, type LengthUnit } from '../core/recipe/quantity';
import { dialById } from './dials';
import { followDocument, type FollowOptions } from './follow';
import type { Dial, ProjectDocument } from './types';

interface FactDef {
  readonly id: string;
  readonly label: string;
  /** What it is a number of: metres to the power of `length`, or as many as there are. */
  readonly length: 0 | 1 | 2 | 3;
  /** Grams or degrees, where it is neither. */
  readonly unit?: 'g' | '°';
  /** `density`: g/cm³. */
  of(g: Geometry, density: number): number;
}

const side = (k: 0 | 1 | 2) => (g: Geometry) => {
  const b = boundsOfGeometry(g);
  return b ? b.max[k] - b.min[k] : 0;
};

/** Twice the distance of the nearest or farthest vertex from the upright through the middle. */
const across = (outer: boolean) => (g: Geometry) => {
  const { mesh } = whole(g);
  const b = boundsOfGeometry(g);
  if (!mesh || !b) return 0;
  const [cx, , cz] = [0, 1, 2].map((k) => (b.min[k] + b.max[k]) / 2);
  let best = outer ? 0 : Infinity;
  for (let v = 0; v < mesh.vertexCount; v++) {
    const d = Math.hypot(mesh.positions[3 * v] - cx, mesh.positions[3 * v + 2] - cz);
    best = outer ? Math.max(best, d) : Math.min(best, d);
  }
  return Number.isFinite(best) ? 2 * best : 0;
};

/** Of the farthest that any edge bends: degrees. */
function sharpest(mesh: Mesh): number {
  const bend = bends(mesh);
  let most = 0;
  for (let e = 0; e < topologyOf(mesh).edgeCount; e++) most = Math.max(most, bend(e));
  return (most * 180) / Math.PI;
}

const MOST_RAYS = 20_000;
/**
 * How far it is at least from the middle of a face straight through to the other side. Not a number where nothing lies
 * behind any face.
 */
function thinnestWall(mesh: Mesh): number {
  const rays = raysOf(mesh);
  const normals = faceNormals(mesh);
  const every = Math.ceil(mesh.faceCount / MOST_RAYS);
  let least = Infinity;
  for (let f = 0; f < mesh.faceCount; f += every) {
    const in_: Triple = [-normals[3 * f], -normals[3 * f + 1], -normals[3 * f + 2]];
    // The face itself is hit first, at no distance.
    const hit = rays.cast(elementPoint(mesh, 'face', f) as Triple, in_, 1e-7);
    if (hit && hit.t < least) least = hit.t;
  }
  return Number.isFinite(least) ? least : NaN;
}

/** Every fact there is. A new one is a line here. */
export const FACTS: readonly FactDef[] = [
  { id: 'width', label: 'width', length: 1, of: side(0) },
  { id: 'height', label: 'height', length: 1, of: side(1) },
  { id: 'depth', label: 'depth', length: 1, of: side(2) },
  { id: 'inner', label: 'inner diameter', length: 1, of: across(false) },
  { id: 'outer', label: 'outer diameter', length: 1, of: across(true) },
  { id: 'area', label: 'area', length: 2, of: (g) => (whole(g).mesh ? areaOf(whole(g).mesh!) : 0) },
  { id: 'volume', label: 'volume', length: 3, of: (g) => (whole(g).mesh ? volumeOf(whole(g).mesh!) : 0) },
  {
    id: 'weight',
    label: 'weight',
    length: 0,
    unit: 'g',
    of: (g, density) => (whole(g).mesh ? volumeOf(whole(g).mesh!) * 1e6 * density : 0),
  },
  { id: 'wall', label: 'thinnest wall', length: 1, of: (g) => (whole(g).mesh ? thinnestWall(whole(g).mesh!) : 0) },
  {
    id: 'bend',
    label: 'sharpest bend',
    length: 0,
    unit: '°',
    of: (g) => (whole(g).mesh ? sharpest(whole(g).mesh!) : 0),
  },
  { id: 'triangles', label: 'triangle count', length: 0, of: (g) => sizeOf(g).triangles },
  { id: 'faces', label: 'face count', length: 0, of: (g) => sizeOf(g).faces },
];
export const factDef = (id: string): FactDef | undefined => FACTS.find((f) => f.id === id);

/** The same document with dials turned; all else is shared with it. */
export function withDials(doc: ProjectDocument, values: ReadonlyMap<string, number>): ProjectDocument {
  const turned = (dials: Dial[] | undefined): Dial[] | undefined =>
    dials?.some((d) => values.has(d.id)) ? dials.map((d) => ({ ...d, value: values.get(d.id) ?? d.value })) : dials;
  const dials = turned(doc.dials);
  const pieces = doc.pieces.map((p) => {
    const own = turned(p.dials);
    return own === p.dials ? p : { ...p, dials: own };
  });
  return { ...doc, pieces, ...(dials ? { dials } : {}) };
}

export interface Wanted {
  piece: string;
  fact: string;
  /** Metres, or metres to a power; a number for counts. */
  wanted: number;
  dial: string;
  /** g/cm³, for weights. */
  density?: number;
}

/** Where a dial without limits is looked for: within a tenth and ten times of where it stands. */
function rangeOf(d: Dial): [number, number] {
  const far = Math.abs(d.value) || 1;
  const lo = d.min ?? (d.kind === 'count' ? 0 : d.value - 9 * far);
  const hi = d.max ?? d.value + 9 * far;
  return [d.kind === 'length' ? Math.max(lo, d.min ?? 0) : lo, hi];
}

/** How near a dial has to stand to what its rule asks for to be left alone, of its own size. */
const SAME = 1e-6;

/**
 * What dials that are kept by a rule have to stand at now; those that stand there already are not among them. They are
 * looked for one after the other, each with those before it turned.
 */
export async function dialsByRule(
  doc: ProjectDocument,
  o: FollowOptions,
): Promise<{ dial: Dial; x: number; found: boolean }[]> {
  const out: { dial: Dial; x: number; found: boolean }[] = [];
  const turned = new Map<string, number>();
  for (const dial of [...(doc.dials ?? []), ...doc.pieces.flatMap((p) => p.dials ?? [])]) {
    if (!dial.rule || !doc.pieces.some((p) => p.id === dial.rule!.piece)) continue;
    const { x, found } = await solveDial(withDials(doc, turned), { ...dial.rule, dial: dial.id }, o);
    if (Math.abs(x - dial.value) <= SAME * Math.max(1e-9, Math.abs(dial.value))) continue;
    turned.set(dial.id, x);
    out.push({ dial, x, found });
  }
  return out;
}

/** Turns a dial until a fact of a piece is as wanted. Throws one sentence where that cannot be asked. */
export async function solveDial(
  doc: ProjectDocument,
  q: Wanted,
  o: FollowOptions & { share?: (share: number) => void },
): Promise<Solved> {
  const dial = dialById(doc, q.dial)?.dial;
  const fact = factDef(q.fact);
  if (!dial) throw new Error('The dial is no longer there.');
  if (!fact) throw new Error(`“${q.fact}” is nothing that can be measured.`);
  const [lo, hi] = rangeOf(dial);
  const ask = async (x: number): Promise<number> => {
    const now = withDials(doc, new Map([[dial.id, x]]));
    const piece = now.pieces.find((p) => p.id === q.piece);
    if (!piece) throw new Error('The piece is no longer there.');
    const { shown, outcomes } = await followDocument(now, o).piece(piece);
    // Where the recipe fails there is nothing to be measured.
    return shown && !outcomes.some((y) => y.error) ? fact.of(shown.geometry, q.density ?? 1) : NaN;
  };
  const tolerance = fact.length === 0 && !fact.unit ? 0.5 : Math.max(1e-12, Math.abs(q.wanted) * 1e-6);
  return solve(ask, {
    lo,
    hi,
    wanted: q.wanted,
    tolerance,
    whole: dial.kind === 'count',
    near: dial.value,
    progress: o.share,
  });
}

const POWER = ['', '', '²', '³'];
/** A fact with its unit. */
export function tellFact({ length, unit }: Pick<FactDef, 'length' | 'unit'>, value: number, units: LengthUnit): string {
  const own = length === 0 ? (unit ?? '') : `${units}${POWER[length]}`;
  return `${formatNumber(value / unitSize(units) ** length, 'number')}${own === '°' ? own : ` ${own}`}`.trim();
}
