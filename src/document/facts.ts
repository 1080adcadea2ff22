/** What can be measured of a piece as one number, in its own space: for solving, sweeps and tables. */
import { boundsOfGeometry, sizeOf, whole, type Geometry } from '../core/geometry';
import { areaOf, volumeOf } from '../core/mesh';
import { solve, type Solved } from '../core/math/solve';
import { dialById } from './dials';
import { followDocument, type FollowOptions } from './follow';
import type { Dial, ProjectDocument } from './types';

interface FactDef {
  readonly id: string;
  readonly label: string;
  /** What it is a number of: metres to the power of `length`, or as many as there are. */
  readonly length: 0 | 1 | 2 | 3;
  of(g: Geometry): number;
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

/** Every fact there is. A new one is a line here. */
export const FACTS: readonly FactDef[] = [
  { id: 'width', label: 'width', length: 1, of: side(0) },
  { id: 'height', label: 'height', length: 1, of: side(1) },
  { id: 'depth', label: 'depth', length: 1, of: side(2) },
  { id: 'inner', label: 'inner diameter', length: 1, of: across(false) },
  { id: 'outer', label: 'outer diameter', length: 1, of: across(true) },
  { id: 'area', label: 'area', length: 2, of: (g) => (whole(g).mesh ? areaOf(whole(g).mesh!) : 0) },
  { id: 'volume', label: 'volume', length: 3, of: (g) => (whole(g).mesh ? volumeOf(whole(g).mesh!) : 0) },
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
}

/** Where a dial without limits is looked for: within a tenth and ten times of where it stands. */
function rangeOf(d: Dial): [number, number] {
  const far = Math.abs(d.value) || 1;
  const lo = d.min ?? (d.kind === 'count' ? 0 : d.value - 9 * far);
  const hi = d.max ?? d.value + 9 * far;
  return [d.kind === 'length' ? Math.max(lo, d.min ?? 0) : lo, hi];
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
    return shown && !outcomes.some((y) => y.error) ? fact.of(shown.geometry) : NaN;
  };
  const tolerance = fact.length === 0 ? 0.5 : Math.max(1e-12, Math.abs(q.wanted) * 1e-6);
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
