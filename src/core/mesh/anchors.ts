/**
 * Something that holds on to a point of an element: a pinned measure. Beside the element's key it keeps the element's
 * spot and where the point is in natural coordinates, so that it is found on whatever covers that place now: the same
 * point, not the middle of another cell.
 */
import { elementPoint } from './elements';
import type { Mesh } from './mesh';
import { keysOf, resolve, type PickKind } from './picks';
import { packSpots, unpackSpots } from './packedspots';
import { ringOf, sharesIn } from './rings';
import { spotOf } from './spots';
import { topologyOf } from './topology';

type P3 = [number, number, number];

export interface Held {
  readonly kind: PickKind;
  readonly key: number;
  /** Along an edge, from the end with the lower key. */
  readonly t: number;
  /** What `anchorSpots` gave when it took hold; absent in older documents. */
  readonly spots?: string;
}

const POINT = 5;

/**
 * The spot of an element, and that of a point of it: its place (4) and role. As two texts with a space between, of 101
 * signs at most.
 */
export function anchorSpots(mesh: Mesh, kind: PickKind, index: number, t: number): string {
  const spot = spotOf(mesh, kind, index);
  const place = placeOn(mesh, kind, index, t);
  return `${packSpots([spot])} ${packSpots([Float64Array.of(...place, spot[spot.length - 1])])}`;
}

/** Vertices that a point of an element lies between, with their shares. */
function mixOf(mesh: Mesh, kind: PickKind, index: number, t: number): [number, number][] {
  if (kind === 'vertex') return [[index, 1]];
  if (kind === 'edge') {
    const { edgeVertex } = topologyOf(mesh);
    const [a, b] = [edgeVertex[2 * index], edgeVertex[2 * index + 1]];
    const lower = mesh.vertexKey[a] <= mesh.vertexKey[b];
    return [
      [a, lower ? 1 - t : t],
      [b, lower ? t : 1 - t],
    ];
  }
  const ring = mesh.cornerVertex.subarray(mesh.faceStart[index], mesh.faceStart[index + 1]);
  return Array.from(ring, (v) => [v, 1 / ring.length]);
}

function placeOn(mesh: Mesh, kind: PickKind, index: number, t: number): number[] {
  const out = [0, 0, 0, 0];
  for (const [v, share] of mixOf(mesh, kind, index, t))
    for (let k = 0; k < 4; k++) out[k] += share * mesh.places.at[4 * v + k];
  return out;
}

/** Where the point is now, in the mesh's own space; null where nothing is left of what it held on to. */
export function findAnchor(mesh: Mesh, { kind, key, t, spots }: Held): P3 | null {
  const [own, point] = spots?.split(' ') ?? [];
  const { indices } = resolve(mesh, { kind, keys: [key], spots: own });
  if (indices.length === 0) return null;
  const at = point ? unpackSpots([key], POINT, point)?.get(key) : undefined;
  const same = indices.length === 1 && keysOf(mesh, kind)[indices[0]] === key;
  if (same || !at) return elementPoint(mesh, kind, indices[0], t);
  let best: { distance: number; mix: [number, number][] } | undefined;
  for (const i of indices) {
    const found = nearestOn(mesh, kind, i, at);
    if (!best || found.distance < best.distance) best = found;
  }
  const out: P3 = [0, 0, 0];
  for (const [v, share] of best!.mix) for (let k = 0; k < 3; k++) out[k] += share * mesh.positions[3 * v + k];
  return out;
}

/** The point of an element that is nearest to a place, as shares of its vertices. */
function nearestOn(
  mesh: Mesh,
  kind: PickKind,
  index: number,
  at: ArrayLike<number>,
): { distance: number; mix: [number, number][] } {
  const places = mesh.places.at;
  let mix = mixOf(mesh, kind, index, 0.5);
  if (kind === 'edge') {
    const [[a], [b]] = mix;
    let dot = 0;
    let l = 0;
    for (let k = 0; k < 4; k++) {
      const d = places[4 * b + k] - places[4 * a + k];
      dot += (at[k] - places[4 * a + k]) * d;
      l += d * d;
    }
    const s = l > 0 ? Math.min(1, Math.max(0, dot / l)) : 0;
    mix = [
      [a, 1 - s],
      [b, s],
    ];
  } else if (kind === 'face') {
    const found = sharesIn(ringOf(mesh, index), at);
    if (found) mix = mix.map(([v], i) => [v, found.shares[i]]);
    if (found) return { distance: found.distance, mix };
  }
  let off = 0;
  for (let k = 0; k < 4; k++) off += (mix.reduce((sum, [v, s]) => sum + s * places[4 * v + k], 0) - at[k]) ** 2;
  return { distance: Math.sqrt(off), mix };
}
