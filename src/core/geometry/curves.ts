import { flattenCurves, mergeCurves, transformCurves, type Curves } from '../curve/curves';
import { boundsOf } from '../mesh/bounds';
import { defineGeometry } from './kind';

export const curves = defineGeometry<Curves>({
  isEmpty: (c) => c.closed.length === 0,
  transform: transformCurves,
  merge: (parts) => mergeCurves(parts.map(({ value, seed }) => ({ curves: value, seed }))),
  bounds: (c) => (c.points.length ? boundsOf(c.points) : null),
  arrays: (c) => [c.points, c.start, c.closed, c.key],
  keys: (c) => c.key,
  /** As straight parts, fine enough for the size of what they draw. */
  display: (c) => {
    const b = boundsOf(c.points);
    const size = Math.hypot(b.max[0] - b.min[0], b.max[1] - b.min[1], b.max[2] - b.min[2]) || 1;
    const out: number[] = [];
    for (const line of flattenCurves(c, size / 4000))
      for (let i = 1; i < line.length; i++) out.push(...line[i - 1], ...line[i]);
    return { curvePosition: Float32Array.from(out) };
  },
  sketch: (c, radius) => ({ lines: flattenCurves(c, radius / 400) }),
});
