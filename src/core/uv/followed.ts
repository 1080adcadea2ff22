/** What was followed to a changed surface, and lies folded there. */
import type { Mesh } from '../mesh/mesh';
import type { Charts } from './charts';
import { localNumbers, type Flat } from './flat';
import { untangle } from './untangle';

/**
 * Faces that lie folded for having been followed are laid right, as far as their corners may move, and `places` are
 * those they have then. Answers the faces that still lie folded, and how many triangles do between fixed places alone.
 */
export function untangled(
  mesh: Mesh,
  ch: Charts,
  flat: Flat[],
  places: Map<number, readonly [number, number]>,
  soft: ReadonlySet<number>,
): { faces: number[]; hard: number } {
  const fixed = new Uint8Array(ch.uvCount);
  for (const c of places.keys()) if (!soft.has(c)) fixed[ch.cornerUv[c]] = 1;
  const faces = new Set<number>();
  let hard = 0;
  for (const f of flat) {
    if (!f.held) continue;
    const movable = Uint8Array.from(f.uvVertices, (u) => 1 - fixed[u]);
    const bad = untangle(f.surface, f.triangles, f.points, movable);
    if (bad.length === 0) continue;
    const faceOf: number[] = [];
    for (const face of f.faces)
      for (let k = mesh.faceStart[face] + 2; k < mesh.faceStart[face + 1]; k++) faceOf.push(face);
    // What lies on its face lies over what is beside it: all that has to do with the corners that could not be helped.
    const lost = new Set<number>();
    for (const t of bad) {
      const corners = [0, 1, 2].map((q) => f.triangles[3 * t + q]).filter((v) => movable[v]);
      for (const v of corners) lost.add(v);
      if (corners.length === 0) hard++;
    }
    for (let i = 0; i < f.triangles.length; i++) if (lost.has(f.triangles[i])) faces.add(faceOf[(i / 3) | 0]);
  }
  const { number, chart } = localNumbers(mesh, ch, flat);
  for (const c of places.keys()) {
    const u = ch.cornerUv[c];
    const { held, points } = flat[chart[u]];
    if (held && !fixed[u]) places.set(c, [points[2 * number[u]], points[2 * number[u] + 1]]);
  }
  return { faces: [...faces], hard };
}
