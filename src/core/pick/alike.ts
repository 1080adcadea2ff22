/** What is like the picked elements in one way: within a tolerance of any of them. */
import { EVERY, pulse } from '../math/pulse';
import type { Mesh } from '../mesh/mesh';
import { countOf, type PickKind } from '../mesh/picks';
import { bends, edgeLengths, faceAreas, facesOnEdge, lookOf, sidesOf, valences } from '../rules/measures';

export type Likeness = 'normal' | 'area' | 'material' | 'set' | 'sides' | 'length' | 'sharpness' | 'faces' | 'valence';

/** What each kind of element can be alike in. */
export const LIKENESSES: Readonly<Record<PickKind, readonly Likeness[]>> = {
  face: ['normal', 'area', 'material', 'set', 'sides'],
  edge: ['length', 'sharpness', 'normal', 'faces'],
  vertex: ['valence', 'normal'],
};

/** How far off still counts: radians for directions, shares of the larger for sizes; counts must be the same. */
const ANGLE = (5 * Math.PI) / 180;
const SHARE = 0.02;

export function alike(mesh: Mesh, kind: PickKind, indices: ArrayLike<number>, by: Likeness): Uint32Array {
  if (!LIKENESSES[kind].includes(by) || indices.length === 0) return new Uint32Array(0);
  const fits = by === 'normal' ? sameWay(mesh, kind, indices) : sameNumber(mesh, indices, by);
  const out: number[] = [];
  for (let i = 0; i < countOf(mesh, kind); i++) {
    if ((i & EVERY) === 0) pulse();
    if (fits(i)) out.push(i);
  }
  return Uint32Array.from(out);
}

function sameWay(mesh: Mesh, kind: PickKind, indices: ArrayLike<number>): (i: number) => boolean {
  const look = lookOf(mesh, kind);
  const n = new Float64Array(3);
  const ways: number[][] = [];
  const least = Math.cos(ANGLE);
  const known = () => ways.some((w) => w[0] * n[0] + w[1] * n[1] + w[2] * n[2] >= least);
  for (let i = 0; i < indices.length; i++) {
    look(indices[i], n);
    // Of ways that are nearly the same one is enough: a pick of a whole ball would be held against itself otherwise.
    if (!ways.some((w) => w[0] * n[0] + w[1] * n[1] + w[2] * n[2] >= 0.99999)) ways.push([...n]);
  }
  return (i) => {
    look(i, n);
    return known();
  };
}

function sameNumber(mesh: Mesh, indices: ArrayLike<number>, by: Exclude<Likeness, 'normal'>): (i: number) => boolean {
  const measure = measureOf(mesh, by);
  const wanted = Array.from(new Set(Array.from(indices, measure))).sort((a, b) => a - b);
  const off = (x: number): number => {
    if (by === 'area' || by === 'length') return SHARE * Math.abs(x) + 1e-12;
    return by === 'sharpness' ? ANGLE : 0;
  };
  return (i) => {
    const x = measure(i);
    // The nearest of what is wanted, by halving.
    let lo = 0;
    let hi = wanted.length;
    while (lo < hi) {
      const mid = (lo + hi) >> 1;
      if (wanted[mid] < x) lo = mid + 1;
      else hi = mid;
    }
    return [wanted[lo - 1], wanted[lo]].some((w) => w !== undefined && Math.abs(w - x) <= off(Math.max(w, x)));
  };
}

function measureOf(mesh: Mesh, by: Exclude<Likeness, 'normal'>): (i: number) => number {
  const attribute = (name: string) => {
    const data = mesh.attributes[name]?.data;
    return (f: number) => (data ? data[f] : -1);
  };
  const makers: Readonly<Record<typeof by, () => (i: number) => number>> = {
    area: () => faceAreas(mesh),
    material: () => attribute('material'),
    set: () => attribute('group'),
    sides: () => sidesOf(mesh),
    length: () => edgeLengths(mesh),
    sharpness: () => bends(mesh),
    faces: () => facesOnEdge(mesh),
    valence: () => valences(mesh),
  };
  return makers[by]();
}
