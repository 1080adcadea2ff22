/**
 * Work on both sides at once: what was done to a pick is done to what lies at its mirror image too. Where vertices only
 * moved, those on the other side move as the image of theirs; where faces were made, the tool takes both sides for its
 * pick. No step stands between the halves, so they may differ elsewhere.
 */
import { axisIndex, type Axis } from '../math/affine';
import type { Mesh } from '../mesh/mesh';
import type { PickKind } from '../mesh/picks';
import { mirrorImages } from '../mesh/mirrorimages';
import { mirrored } from '../pick/mirrored';

export function onBothSides(
  before: Mesh,
  made: Mesh,
  kind: PickKind,
  indices: Uint32Array,
  axis: Axis,
  run: (indices: Uint32Array) => Mesh,
): Mesh {
  if (made.cornerVertex !== before.cornerVertex || made.vertexCount !== before.vertexCount) {
    const { found } = mirrored(before, kind, indices, axis);
    const both = Uint32Array.from(new Set([...indices, ...found])).sort();
    return both.length === indices.length ? made : run(both);
  }
  const k = axisIndex(axis);
  const image = mirrorImages(before, axis);
  const { positions: p } = before;
  const q = made.positions;
  const moved = (v: number) => q[3 * v] !== p[3 * v] || q[3 * v + 1] !== p[3 * v + 1] || q[3 * v + 2] !== p[3 * v + 2];
  const out = q.slice();
  const touched: number[] = [];
  for (let v = 0; v < before.vertexCount; v++) {
    if (!moved(v)) continue;
    touched.push(v);
    const w = image[v];
    if (w < 0) continue;
    // What lies in the plane stays in it; what was moved on both sides is let be.
    if (w === v) out[3 * v + k] = p[3 * v + k];
    else if (!moved(w)) {
      for (let i = 0; i < 3; i++) out[3 * w + i] = i === k ? -q[3 * v + i] : q[3 * v + i];
      touched.push(w);
    }
  }
  return touched.length === 0 ? made : before.moved(out, touched);
}
