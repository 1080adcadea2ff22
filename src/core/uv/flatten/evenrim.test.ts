import { meshFrom, type Mesh } from '../../mesh/mesh';
import { rocks, surfaceOf, thrown } from '../../testing/organic';
import { seamEdges } from '../part/charts';
import { drawnBy, flatnessOf, restOf } from './flatness';
import { withEvenRim } from './evenrim';
import { conformal } from './lscm';
import { Parting, type Patch } from './patch';
import { someOf } from '../../testing/thorough';

const OPEN = { cut: new Set<number>(), hold: new Set<number>(), angle: Infinity };
/** All of a surface as one patch. */
function whole(mesh: Mesh): Patch {
  const parting = new Parting(mesh, seamEdges(mesh, OPEN));
  parting.label.fill(0);
  return parting.patch(Uint32Array.from({ length: mesh.faceCount }, (_, f) => f));
}
/** A disc of rings and sectors, its middle one vertex. */
function disc(rings: number, sectors: number, at: (r: number, a: number) => [number, number, number]): Mesh {
  const places: number[] = [...at(0, 0)];
  const faces: number[][] = [];
  for (let i = 1; i <= rings; i++)
    for (let k = 0; k < sectors; k++) places.push(...at(i / rings, (2 * Math.PI * k) / sectors));
  const v = (i: number, k: number): number => (i === 0 ? 0 : 1 + (i - 1) * sectors + (k % sectors));
  for (let k = 0; k < sectors; k++) faces.push([0, v(1, k), v(1, k + 1)]);
  for (let i = 1; i < rings; i++)
    for (let k = 0; k < sectors; k++) faces.push([v(i, k), v(i + 1, k), v(i + 1, k + 1), v(i, k + 1)]);
  return meshFrom(places, faces);
}

test('what is flat lies as it is, whatever its shape and its triangles', () => {
  const roll = thrown(4);
  const mesh = disc(6, 30, (r, a) => {
    const far = r * (1 + 0.5 * Math.cos(3 * a)) + (r < 1 ? 0.04 * roll() : 0);
    return [far * Math.cos(a), 0, -far * Math.sin(a)];
  });
  const patch = whole(mesh);
  const uv = withEvenRim(patch)!;
  const { flips, mean, spread } = flatnessOf(patch, restOf(patch), uv, 1.3);
  expect(flips).toBe(0);
  expect(mean).toBeLessThan(1 + 1e-6);
  expect(spread).toBeLessThan(1.02);
});

test.each(someOf([1, 0.5, 1.5], 1))(
  'a cap of a ball that reaches %d rad down lies as by stereographic projection',
  (reach) => {
    const mesh = disc(40, 80, (r, a) => {
      const t = r * reach;
      return [Math.sin(t) * Math.cos(a), Math.cos(t), -Math.sin(t) * Math.sin(a)];
    });
    const patch = whole(mesh);
    const uv = withEvenRim(patch)!;
    const rest = restOf(patch);
    const { drawn, scale, flips } = drawnBy(patch, rest, uv);
    expect(flips).toBe(0);
    // Scale against the rim's: (1 + cos reach) / (1 + cos t), which is 1 at the rim.
    for (let i = 0; i < drawn.length; i++) {
      const t = Math.acos([0, 1, 2].reduce((sum, k) => sum + patch.points[3 * patch.triangles[3 * i + k] + 1], 0) / 3);
      expect(Math.abs(Math.log(scale[i] / ((1 + Math.cos(reach)) / (1 + Math.cos(t)))))).toBeLessThan(0.05);
      if (t > 0.15) expect(drawn[i]).toBeLessThan(1.05);
    }
  },
);

test('on rough ground it is far more even than the least-squares map with two pins', () => {
  const mesh = disc(40, 60, (r, a) => {
    const [x, z] = [r * Math.cos(a), -r * Math.sin(a)];
    return [x, 0.03 * Math.sin(23 * x) * Math.sin(19 * z) + 0.02 * Math.sin(41 * x + 3) * Math.cos(37 * z), z];
  });
  const patch = whole(mesh);
  const rest = restOf(patch);
  const even = flatnessOf(patch, rest, withEvenRim(patch)!, 1.3);
  const loose = flatnessOf(patch, rest, conformal(patch)!, 1.3);
  expect(even.flips).toBe(0);
  expect(even.spread).toBeLessThan(loose.spread);
  expect(even.spread).toBeLessThan(1.8);
});

test('what is no disc has none: closed, with a hole, a ring', () => {
  const ball = surfaceOf((x, y, z) => Math.hypot(x, y, z) - 0.7, 6);
  expect(withEvenRim(whole(ball))).toBeUndefined();
  const holed = rocks(8);
  const faces = Uint32Array.from({ length: holed.faceCount - 9 }, (_, f) => f + (f > 20 ? 9 : 0));
  const parting = new Parting(holed, seamEdges(holed, OPEN));
  for (const f of faces) parting.label[f] = 1;
  const patch = parting.patch(faces);
  expect(patch.borders === 1 && patch.euler === 1).toBe(false);
  expect(withEvenRim(patch)).toBeUndefined();
});
