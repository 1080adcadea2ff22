/** The plane and the frame that fit points best. */
import { hypot3, symmetricAxes } from './symmetric';
import type { Triple } from './affine';
import { mean, minus, type Vector } from './vector';

export interface Frame {
  readonly centre: Vector;
  /** Unit and square to each other: the longest extent first, the normal of the best plane last. */
  readonly axes: readonly [Vector, Vector, Vector];
}

/**
 * Least squares over the points (their own middle, the eigenvectors of their covariance). Points of no extent have the
 * axes of space.
 */
export function frameOf(points: readonly Triple[]): Frame {
  const centre = mean(points);
  const m = [0, 0, 0, 0, 0, 0];
  let scale = 0;
  for (const p of points) scale = Math.max(scale, hypot3(minus(p, centre)));
  if (scale === 0)
    return {
      centre,
      axes: [
        [1, 0, 0],
        [0, 0, 1],
        [0, 1, 0],
      ],
    };
  for (const p of points) {
    const [x, y, z] = minus(p, centre).map((q) => q / scale);
    m[0] += x * x;
    m[1] += x * y;
    m[2] += x * z;
    m[3] += y * y;
    m[4] += y * z;
    m[5] += z * z;
  }
  return { centre, axes: symmetricAxes(m) };
}
