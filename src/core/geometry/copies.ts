import { boundsOfCopies, mergeCopies, transformCopies, type Copies } from '../copies/copies';
import { flattened } from '../copies/flatten';
import { flattenCurves } from '../curve/curves';
import { toMatrix4 } from '../math/affine';
import { placeOfCopy } from '../copies/copies';
import { defineGeometry } from './kind';

export const copies = defineGeometry<Copies>({
  isEmpty: (c) => c.of.length === 0,
  transform: transformCopies,
  merge: (parts) => mergeCopies(parts.map(({ value, seed }) => ({ copies: value, seed }))),
  bounds: boundsOfCopies,
  arrays: (c) => [
    c.of,
    c.place,
    c.key,
    ...c.sources.flatMap((s) => [
      ...(s.mesh?.arrays() ?? []),
      ...(s.curves ? [s.curves.points, s.curves.start, s.curves.closed, s.curves.key] : []),
    ]),
  ],
  keys: (c) => c.key,
  /** Where each source stands; the sources' own buffers are for whoever shows them to ask for. */
  display: (c) => ({
    copies: c.sources.map((_, s) => {
      const list = [...c.of.keys()].filter((i) => c.of[i] === s);
      const places = new Float32Array(16 * list.length);
      list.forEach((i, n) => places.set(toMatrix4(placeOfCopy(c, i)), 16 * n));
      return { places };
    }),
  }),
  sketch: (c, radius) => {
    const { mesh, curves } = flattened(c);
    return { mesh, ...(curves ? { lines: flattenCurves(curves, radius / 400) } : {}) };
  },
});
