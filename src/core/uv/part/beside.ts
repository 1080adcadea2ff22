/** Two islands in one plane, as they lie each, the second turned and moved to where it meets the first. */
import type { Mesh } from '../../mesh/mesh';
import type { Patch } from '../flatten/patch';
import { similarity } from '../likeness';
import type { Island } from './island';

/**
 * Where the vertices of both as one patch would lie, 2 numbers each, m; where they meet, as those of the first do. A
 * place to begin from: no triangle may lie on its face there, but it is not known that none does. Undefined where they
 * have no two vertices in common.
 */
export function besideEachOther(mesh: Mesh, union: Patch, first: Island, second: Island): Float64Array | undefined {
  const one = placesOf(mesh, union, first);
  const other = placesOf(mesh, union, second);
  const [from, to]: [number[], number[]] = [[], []];
  for (let i = 0; i < one.length; i += 2) {
    if (Number.isNaN(one[i]) || Number.isNaN(other[i])) continue;
    from.push(other[i], other[i + 1]);
    to.push(one[i], one[i + 1]);
  }
  if (from.length < 4) return undefined;
  const map = similarity(from, to);
  const [x0, y0] = map(0, 0);
  const [x1, y1] = map(1, 0);
  // Both are as large as they are: an edge that they share may be drawn otherwise in each.
  const scale = Math.hypot(x1 - x0, y1 - y0);
  if (!(scale > 0)) return undefined;
  const middle = [0, 1].map((k) => from.reduce((sum, x, i) => (i % 2 === k ? sum + x : sum), 0) / (from.length / 2));
  const [mx, my] = map(middle[0], middle[1]);
  for (let i = 0; i < one.length; i += 2) {
    if (!Number.isNaN(one[i])) continue;
    const [x, y] = map(other[i], other[i + 1]);
    one[i] = mx + (x - mx) / scale;
    one[i + 1] = my + (y - my) / scale;
  }
  return one.includes(NaN) ? undefined : one;
}

/** Where an island has the vertices of a patch that it is a part of, at the size of the surface; NaN where it has not. */
function placesOf(mesh: Mesh, union: Patch, { patch, laid }: Island): Float64Array {
  const out = new Float64Array((2 * union.points.length) / 3).fill(NaN);
  const { scale } = laid.figures;
  let [at, own] = [0, 0];
  for (let i = 0, k = 0; i < union.faces.length; i++) {
    const many = mesh.faceStart[union.faces[i] + 1] - mesh.faceStart[union.faces[i]];
    if (patch.faces[k] === union.faces[i]) {
      for (let q = 0; q < many; q++) {
        const [v, w] = [2 * union.corners[at + q], 2 * patch.corners[own + q]];
        out[v] = laid.uv[w] / scale;
        out[v + 1] = laid.uv[w + 1] / scale;
      }
      own += many;
      k++;
    }
    at += many;
  }
  return out;
}
