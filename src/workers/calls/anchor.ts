import { anchorSpots, nearestElement, type PickKind } from '../../core/mesh';
import { defineCall } from './define';

interface AnchorQuery {
  piece: string;
  kind: PickKind;
  at: [number, number, number];
}

/** The element nearest to a point, for something to hold on to. */
export const anchor = defineCall(({ results }, { piece, kind, at }: AnchorQuery) => {
  const mesh = results.get(piece)?.mesh;
  if (!mesh) throw new Error('That piece has nothing to hold on to.');
  const found = nearestElement(mesh, kind, at);
  return { ...found, spots: anchorSpots(mesh, kind, found.index, found.t) };
});
