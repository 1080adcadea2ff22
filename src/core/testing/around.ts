import { curveThrough } from '../curve/through';
import { cubeSphere } from '../make/primitives';
import type { Around } from '../tools';

/** Another piece beside the one that is worked on: a ball as large as it, and a curve that winds round it. */
export function aroundOf(size: number): Around {
  const points = Array.from({ length: 12 }, (_, i): [number, number, number] => [
    size * Math.cos(i),
    (size * i) / 6,
    size * Math.sin(i),
  ]);
  const geometry = {
    mesh: cubeSphere({ radius: size, cuts: 4, names: 'shares' }, 77),
    curves: curveThrough(points, { smooth: true, closed: false }, 78),
  };
  const shaped = geometry.mesh.moved(geometry.mesh.positions.map((x, i) => x * (1 + (i % 7) / 10)));
  return { other: () => ({ geometry: { ...geometry, mesh: shaped }, before: geometry, name: 'Mast' }) };
}
