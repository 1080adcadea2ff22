/** Tubes along curves, for unwrapping to be tried on. */
import { along, cross, dot, minus, unit, type Vector } from '../math/vector';
import { meshFrom, type Mesh } from '../mesh/mesh';

export interface TubeShape {
  /** Rings along, faces round. */
  rings: number;
  sides: number;
  /** m; of how far along it is, 0 to 1. */
  radius: number | ((t: number) => number);
  /** The end goes on into the beginning. */
  closed?: boolean;
  /** The ends are shut, by one face each. */
  caps?: boolean;
}

/** A tube along a curve from 0 to 1, in a frame that turns no more than it has to. */
export function tubeAlong(curve: (t: number) => Vector, o: TubeShape): Mesh {
  const { rings, sides, radius, closed = false, caps = false } = o;
  const many = closed ? rings : rings + 1;
  const points: number[] = [];
  let beside: Vector | undefined;
  for (let i = 0; i < many; i++) {
    const t = i / rings;
    const way = unit(minus(curve(t + 1e-4), curve(t - 1e-4)));
    beside ??= cross(way, Math.abs(way[1]) < 0.9 ? [0, 1, 0] : [1, 0, 0]);

    beside = unit(along(beside, way, -dot(beside, way)));
    const above = cross(way, beside);
    const r = typeof radius === 'number' ? radius : radius(t);
    const c = curve(t);
    for (let k = 0; k < sides; k++) {
      const a = (2 * Math.PI * k) / sides;
      for (let q = 0; q < 3; q++) points.push(c[q] + r * (Math.cos(a) * beside[q] + Math.sin(a) * above[q]));
    }
  }
  const faces: number[][] = [];
  for (let i = 0; i < rings; i++)
    for (let k = 0; k < sides; k++) {
      const [here, there] = [i * sides, ((i + 1) % many) * sides];
      const l = (k + 1) % sides;
      faces.push([here + k, here + l, there + l, there + k]);
    }
  if (caps) {
    faces.push(Array.from({ length: sides }, (_, k) => sides - 1 - k));
    faces.push(Array.from({ length: sides }, (_, k) => rings * sides + k));
  }
  return meshFrom(points, faces);
}

/** A hose that lies in loops, on and on wider ones. */
export const hose = (rings: number): Mesh =>
  tubeAlong((t) => [Math.cos(20 * t) * (1 + 2 * t), 0.5 * Math.sin(3 * t), Math.sin(20 * t) * (1 + 2 * t)], {
    rings,
    sides: 12,
    radius: 0.12,
    caps: true,
  });
