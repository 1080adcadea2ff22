import type { Triple } from '../../core/math/affine';
import { raysOf } from '../../core/mesh/rays';
import { whole } from '../../core/geometry';
import { attributesOf, type AttributeFacts } from '../../core/mesh/statistics';
import { defineCall } from './define';

/** What there is to know of the attributes of what a piece shows. */
export const attributes = defineCall((host, { piece }: { piece: string }): AttributeFacts[] => {
  const shown = host.results.get(piece);
  const { mesh } = shown ? whole(shown) : {};
  return mesh ? attributesOf(mesh) : [];
});

/**
 * The values of an attribute at the place of a piece's surface that is nearest to one in its own space; none where it
 * lacks it.
 */
export const attributeAt = defineCall(
  (host, { piece, name, at }: { piece: string; name: string; at: Triple }): number[] | null => {
    const shown = host.results.get(piece);
    const { mesh } = shown ? whole(shown) : {};
    const a = mesh?.attributes[name];
    const hit = mesh && a ? raysOf(mesh).nearest(at) : undefined;
    if (!mesh || !a || !hit) return null;
    const { faceStart, cornerVertex, positions: p } = mesh;
    let corner = faceStart[hit.face];
    const off = (c: number) => Math.hypot(...[0, 1, 2].map((k) => p[3 * cornerVertex[c] + k] - hit.at[k]));
    for (let c = corner + 1; c < faceStart[hit.face + 1]; c++) if (off(c) < off(corner)) corner = c;
    const i = { face: hit.face, vertex: cornerVertex[corner], corner }[a.domain];
    return Array.from(a.data.slice(a.width * i, a.width * (i + 1)));
  },
);
