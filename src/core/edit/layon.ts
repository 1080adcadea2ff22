/**
 * Laid on: vertices brought onto the surface of another mesh, to its nearest place or along a way; off it by a distance
 * along its normal.
 */
import { EVERY, pulse } from '../math/pulse';
import type { Triple } from '../math/affine';
import { at, unit } from '../math/vector';
import type { Mesh } from '../mesh/mesh';
import { raysOf } from '../mesh/rays';
import { evenNormal } from './reshape';

export interface LayOn {
  how: 'nearest' | 'normals' | 'x' | 'y' | 'z';
  /** Metres. */
  off: number;
  /** Vertices that are farther stay. */
  most: number;
}

const AXES: Readonly<Record<string, Triple>> = { x: [1, 0, 0], y: [0, 1, 0], z: [0, 0, 1] };

export function layOn(
  mesh: Mesh,
  vertices: ArrayLike<number>,
  ground: Mesh,
  { how, off, most }: LayOn,
): { mesh: Mesh; missed: number } {
  const rays = raysOf(ground);
  const positions = mesh.positions.slice();
  const touched: number[] = [];
  let missed = 0;
  for (let i = 0; i < vertices.length; i++) {
    if ((i & (EVERY >> 2)) === 0) pulse();
    const v = vertices[i];
    const p = at(mesh.positions, v);
    let place: Triple | undefined;
    let triangle = -1;
    if (how === 'nearest') {
      const near = rays.nearest(p, most);
      place = near?.at;
      triangle = near?.triangle ?? -1;
    } else {
      const way = how === 'normals' ? unit(evenNormal(mesh, v)) : AXES[how];
      // Whichever side is nearer, for what is laid on may stand on either.
      const ahead = rays.cast(p, way, 0, most);
      const back = rays.cast(p, [-way[0], -way[1], -way[2]], 0, most);
      const hit = !back || (ahead && ahead.t <= back.t) ? ahead : back;
      const sign = hit === ahead ? 1 : -1;
      if (hit && (way[0] || way[1] || way[2])) {
        place = [p[0] + sign * way[0] * hit.t, p[1] + sign * way[1] * hit.t, p[2] + sign * way[2] * hit.t];
        triangle = hit.triangle;
      }
    }
    if (!place) {
      missed++;
      continue;
    }
    const n = off === 0 ? [0, 0, 0] : rays.normal(triangle);
    for (let k = 0; k < 3; k++) positions[3 * v + k] = place[k] + off * n[k];
    touched.push(v);
  }
  return { mesh: touched.length === 0 ? mesh : mesh.moved(positions, touched), missed };
}
