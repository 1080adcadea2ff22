/** Where what is moved on the sheet comes to lie: on texels, on a grid, or beside other islands. */
import type { Mesh } from '../../../core/mesh/mesh';

export type Snap = 'texels' | 'grid' | 'islands' | 'nothing';
export const SNAPS: readonly (readonly [Snap, string])[] = [
  ['texels', 'To texels'],
  ['grid', 'To sixteenths'],
  ['islands', 'To islands'],
  ['nothing', 'To nothing'],
];

export interface Box {
  x0: number;
  y0: number;
  x1: number;
  y1: number;
}

export interface SnapOptions {
  snap: Snap;
  /** Along the side of the sheet, and between islands. */
  texels: number;
  padding: number;
  /** Of islands that do not move. */
  others: readonly Box[];
  /** How near a side has to be, in sheets. */
  near: number;
}

const GRID = 16;

/** The way by which a box that would go so far goes instead. */
export function snapped(box: Box, du: number, dv: number, o: SnapOptions): [number, number] {
  if (o.snap === 'nothing') return [du, dv];
  if (o.snap === 'islands') {
    const apart = o.padding / o.texels;
    const along = (lo: 'x0' | 'y0', hi: 'x1' | 'y1', by: number): number => {
      const others = o.others.map((b) => [b[lo], b[hi]] as const);
      return by + beside([box[lo] + by, box[hi] + by], others, apart, o.near);
    };
    return [along('x0', 'x1', du), along('y0', 'y1', dv)];
  }
  const n = o.snap === 'texels' ? o.texels : GRID;
  // By the lower left corner.
  return [Math.round((box.x0 + du) * n) / n - box.x0, Math.round((box.y0 + dv) * n) / n - box.y0];
}

/** How far the ends of a stretch have to go to be in line with those of others, or next to them. */
function beside(
  ends: readonly [number, number],
  others: readonly (readonly number[])[],
  apart: number,
  near: number,
): number {
  let best = near;
  let by = 0;
  const toward = (from: number, to: number): void => {
    if (Math.abs(to - from) >= best) return;
    best = Math.abs(to - from);
    by = to - from;
  };
  for (const [lo, hi] of others) {
    toward(ends[0], lo);
    toward(ends[1], hi);
    toward(ends[0], hi + apart);
    toward(ends[1], lo - apart);
  }
  return by;
}

/** The box round some faces on the sheet. */
export function boxOfFaces(mesh: Mesh, uv: ArrayLike<number>, faces: Iterable<number>): Box {
  const b = { x0: Infinity, y0: Infinity, x1: -Infinity, y1: -Infinity };
  for (const f of faces)
    for (let c = mesh.faceStart[f]; c < mesh.faceStart[f + 1]; c++) {
      b.x0 = Math.min(b.x0, uv[2 * c]);
      b.x1 = Math.max(b.x1, uv[2 * c]);
      b.y0 = Math.min(b.y0, uv[2 * c + 1]);
      b.y1 = Math.max(b.y1, uv[2 * c + 1]);
    }
  return b;
}

/** The boxes of islands, by number. */
export function boxesOf(mesh: Mesh, uv: ArrayLike<number>, ofFace: ArrayLike<number>, count: number): Box[] {
  const faces: number[][] = Array.from({ length: count }, () => []);
  for (let f = 0; f < mesh.faceCount; f++) faces[ofFace[f]].push(f);
  return faces.map((list) => boxOfFaces(mesh, uv, list));
}
