import { bentByCage } from '../edit/cage';
import { softWeights } from '../edit/soft';
import type { Mesh } from '../mesh/mesh';
import { verticesOf } from '../mesh/picks';
import { shapeOf } from '../mesh/measure';
import type { Handed } from '../recipe/define';
import { pieceName } from '../recipe/values';
import { ANY_KIND, defineTool, otherOf, soft } from './define';

/** Where the vertices of a cage are now, in the order in which they were before it was shaped. */
function cageNow({ name, geometry, before }: Handed): { rest: Mesh; now: Float32Array } {
  const rest = before?.mesh ?? geometry.mesh;
  const { mesh } = geometry;
  if (!rest || !mesh || rest.faceCount === 0) throw new Error(`“${name}” has no surface to be a cage.`);
  if (!shapeOf(rest).closed) throw new Error(`“${name}” is open: a cage has to be closed.`);
  const place = new Map(Array.from(mesh.vertexKey, (k, v) => [k, v]));
  const now = new Float32Array(3 * rest.vertexCount);
  for (let v = 0; v < rest.vertexCount; v++) {
    const w = place.get(rest.vertexKey[v]);
    if (w === undefined || mesh.vertexCount !== rest.vertexCount)
      throw new Error(
        `“${name}” has other vertices than it had before it was shaped: give it its cuts in its first step.`,
      );
    now.set(mesh.positions.subarray(3 * w, 3 * w + 3), 3 * v);
  }
  return { rest, now };
}

export const byCage = defineTool({
  id: 'by-cage',
  title: 'Bend by the cage',
  sentence: ' {other}: {pick}, taking along {soft} around',
  help: 'Lets vertices follow another piece that stands round them, as it is shaped',
  words: 'lattice cage deform free form ffd box control',
  family: 'form',
  icon: 'M4 4h16v16H4z M4 12h16 M12 4v16 M8 16c0-6 8-2 8-8',
  picks: ANY_KIND,
  empty: 'all',
  rare: true,
  values: { other: pieceName('the cage'), ...soft },
  run: (mesh, p, v, _id, _, around) => {
    const { rest, now } = cageNow(otherOf(v.other, around));
    const vertices = verticesOf(mesh, p.kind, p.indices);
    if (!(v.soft > 0)) return bentByCage(mesh, vertices, rest, now, () => 1);
    const weight = softWeights(mesh, vertices, v.soft, v.falloff, v.reach);
    const all = Uint32Array.from({ length: mesh.vertexCount }, (_x, i) => i).filter((w) => weight[w] > 0);
    return bentByCage(mesh, all, rest, now, (w) => weight[w]);
  },
});
