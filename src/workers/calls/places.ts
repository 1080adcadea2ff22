import { placeNear, type SurfacePlace } from '../../core/mesh/surfaceplace';
import { defineCall } from './define';

interface Clicked {
  /** In the piece's own space. */
  at: readonly [number, number, number];
  /** What was clicked on, where that is known. */
  on: 'vertex' | 'edge' | 'any';
}

/**
 * Places of the surface that is worked on nearest to points: the tree they are looked up in is made here, not on the
 * page.
 */
export const places = defineCall(({ edited }, { points }: { points: readonly Clicked[] }): (SurfacePlace | null)[] =>
  points.map(({ at, on }) => (edited && placeNear(edited, at, on)) ?? null),
);
