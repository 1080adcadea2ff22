/** Boxes around points, along the axes. */
import { applyPoint, type Affine } from '../math/affine';

export interface Bounds {
  min: [number, number, number];
  max: [number, number, number];
}

export function boundsOf(positions: Float32Array): Bounds {
  if (positions.length === 0) return { min: [0, 0, 0], max: [0, 0, 0] };
  const min: Bounds['min'] = [Infinity, Infinity, Infinity];
  const max: Bounds['max'] = [-Infinity, -Infinity, -Infinity];
  for (let i = 0; i < positions.length; i += 3) {
    for (let k = 0; k < 3; k++) {
      const x = positions[i + k];
      if (x < min[k]) min[k] = x;
      if (x > max[k]) max[k] = x;
    }
  }
  return { min, max };
}

/** The least box around both; null stands for nothing. */
export function joinBounds(a: Bounds | null, b: Bounds | null): Bounds | null {
  if (!a || !b) return a ?? b;
  const min = [0, 1, 2].map((k) => Math.min(a.min[k], b.min[k])) as Bounds['min'];
  const max = [0, 1, 2].map((k) => Math.max(a.max[k], b.max[k])) as Bounds['max'];
  return { min, max };
}

/** Of the listed points only; null for none. */
export function boundsOfPoints(positions: ArrayLike<number>, points: ArrayLike<number>): Bounds | null {
  if (points.length === 0) return null;
  const min: Bounds['min'] = [Infinity, Infinity, Infinity];
  const max: Bounds['max'] = [-Infinity, -Infinity, -Infinity];
  for (let i = 0; i < points.length; i++)
    for (let k = 0; k < 3; k++) {
      const x = positions[3 * points[i] + k];
      if (x < min[k]) min[k] = x;
      if (x > max[k]) max[k] = x;
    }
  return { min, max };
}

/** Of the eight corners of a box after a map. */
export function mappedBounds(b: Bounds, map: Affine): Bounds {
  const corners = new Float64Array(24);
  for (let i = 0; i < 8; i++)
    corners.set(
      applyPoint(map, [b[i & 1 ? 'max' : 'min'][0], b[i & 2 ? 'max' : 'min'][1], b[i & 4 ? 'max' : 'min'][2]]),
      3 * i,
    );
  return boundsOfPoints(corners, [0, 1, 2, 3, 4, 5, 6, 7])!;
}

export const centreOfBounds = (b: Bounds): [number, number, number] => [
  (b.min[0] + b.max[0]) / 2,
  (b.min[1] + b.max[1]) / 2,
  (b.min[2] + b.max[2]) / 2,
];
