import { topologyOf } from '../../mesh';
import { edgeValence } from '../../mesh/topology';
import type { Mesh } from '../../mesh/mesh';
import { tubeAlong } from '../../testing/tubes';
import type { Vector } from '../../math/vector';
import { cylindrical, rectangular } from './cylinder';
import { drawnBy, flatnessOf, restOf } from './flatness';
import { Parting, type Patch } from './patch';

const SIDES = 24;

/** A tube cut along the first of its sides, with the vertices of both sides of the cut and of the ends. */
function opened(curve: (t: number) => Vector, rings: number, radius: number | ((t: number) => number)) {
  const mesh: Mesh = tubeAlong(curve, { rings, sides: SIDES, radius });
  const t = topologyOf(mesh);
  const seam = new Uint8Array(t.edgeCount);
  const column = (v: number): number => v % SIDES;
  for (let e = 0; e < t.edgeCount; e++)
    if (edgeValence(t, e) !== 2 || (column(t.edgeVertex[2 * e]) === 0 && column(t.edgeVertex[2 * e + 1]) === 0))
      seam[e] = 1;
  const parting = new Parting(mesh, seam);
  parting.label.fill(0);
  const patch = parting.patch(Uint32Array.from({ length: mesh.faceCount }, (_, f) => f));
  const sides: [number[], number[]] = [[], []];
  const ends: [number[], number[]] = [[], []];
  let at = 0;
  for (const f of patch.faces)
    for (let c = mesh.faceStart[f]; c < mesh.faceStart[f + 1]; c++, at++) {
      const [v, here] = [mesh.cornerVertex[c], patch.corners[at]];
      const ring = Math.floor(v / SIDES);
      if (column(v) === 0) sides[f % SIDES === 0 ? 0 : 1][ring] = here;
      if (ring === 0) ends[0].push(here);
      if (ring === rings) ends[1].push(here);
    }
  return { patch, sides, ends };
}

const boxOf = (uv: Float64Array): [number, number] => {
  const of = (k: number): number => {
    const all = Array.from({ length: uv.length / 2 }, (_, v) => uv[2 * v + k]);
    return Math.max(...all) - Math.min(...all);
  };
  return [of(0), of(1)];
};

function laid(patch: Patch, sides: [number[], number[]], ends: [number[], number[]]) {
  const rest = restOf(patch);
  const uv = cylindrical(patch, rest, { sides, ends })!;
  return { uv, figures: flatnessOf(patch, rest, uv, 1.3), drawn: drawnBy(patch, rest, uv) };
}

test('a straight tube is its own length and girth, drawn nowhere', () => {
  const { patch, sides, ends } = opened((t) => [0, 5 * t, 0], 40, 0.5);
  const { uv, figures } = laid(patch, sides, ends);
  const [long, wide] = boxOf(uv);
  expect(long).toBeCloseTo(5, 6);
  expect(wide).toBeCloseTo(SIDES * Math.sin(Math.PI / SIDES), 6);
  expect(figures).toMatchObject({ flips: 0, beyond: 0 });
  expect(figures.mean).toBeCloseTo(1, 6);
});

test('a cone keeps angles: it is as long as the logarithm of its radii says', () => {
  // On a cone of slant s the conformal length from radius a to b is ln(b / a) / sin(slope) for 2π round.
  const { patch, sides, ends } = opened(
    (t) => [0, 3 * t, 0],
    200,
    (t) => 1 - 0.6 * t,
  );
  const { uv, figures } = laid(patch, sides, ends);
  const [long, wide] = boxOf(uv);
  const slope = 0.6 / Math.hypot(3, 0.6);
  expect(long / wide).toBeCloseTo(Math.log(1 / 0.4) / slope / (2 * Math.PI), 1);
  expect(Math.abs(long / wide / (Math.log(1 / 0.4) / slope / (2 * Math.PI)) - 1)).toBeLessThan(0.01);
  expect(figures.flips).toBe(0);
  // A face of 24 round spans 3° of the cone laid flat: its sides stand askew by half of that each, and no map mends it.
  expect(figures.mean).toBeLessThan(1 + (1.1 * 2 * Math.PI * slope) / SIDES / 2);
  // Its scale is that of the one girth to that of the other.
  expect(figures.spread).toBeGreaterThan(2.2);
  expect(figures.spread).toBeLessThan(2.7);
});

test('a bend neither tapers nor winds: both sides of the cut are one another moved across', () => {
  const { patch, sides, ends } = opened((t) => [Math.cos(5 * t), t, Math.sin(5 * t)], 160, 0.2);
  const { uv, figures, drawn } = laid(patch, sides, ends);
  expect(drawn.flips).toBe(0);
  const [left, right] = sides;
  const [dx, dy] = [uv[2 * right[0]] - uv[2 * left[0]], uv[2 * right[0] + 1] - uv[2 * left[0] + 1]];
  expect(Math.abs(dx)).toBeLessThan(1e-9);
  expect(Math.abs(dy)).toBeGreaterThan(0.9);
  left.forEach((v, i) => {
    expect(uv[2 * right[i]] - uv[2 * v]).toBeCloseTo(dx, 9);
    expect(uv[2 * right[i] + 1] - uv[2 * v + 1]).toBeCloseTo(dy, 9);
  });
  // On a ring of radius 1 and 0.2 thick scales lie as 1.2 to 0.8; this one also climbs.
  expect(figures.spread).toBeGreaterThan(1.3);
  expect(figures.spread).toBeLessThan(1.5);
  expect(figures.mean).toBeLessThan(1.02);
});

test('an end is straight, and a tube of one ring has nothing between its ends', () => {
  const { patch, sides, ends } = opened((t) => [0, t, 0], 1, 0.5);
  const { uv, figures } = laid(patch, sides, ends);
  expect(figures).toMatchObject({ flips: 0, beyond: 0 });
  for (const end of ends) for (const v of end) expect(uv[2 * v]).toBeCloseTo(uv[2 * end[0]], 9);
});

test('a strip of a ring is a rectangle that keeps angles: as long as its conformal module says', () => {
  // Between circles of radius 1 and 2, a quarter round: the logarithm of 2 wide for a quarter of 2π long.
  const [across, along] = [24, 36];
  const points = new Float64Array(3 * (across + 1) * (along + 1));
  const at = (i: number, k: number): number => i * (along + 1) + k;
  for (let i = 0; i <= across; i++)
    for (let k = 0; k <= along; k++) {
      const [r, a] = [1 + i / across, (Math.PI / 2) * (k / along)];
      points.set([r * Math.cos(a), r * Math.sin(a), 0], 3 * at(i, k));
    }
  const triangles: number[] = [];
  for (let i = 0; i < across; i++)
    for (let k = 0; k < along; k++) {
      const [a, b, c, d] = [at(i, k), at(i + 1, k), at(i + 1, k + 1), at(i, k + 1)];
      triangles.push(a, b, c, a, c, d);
    }
  const patch = { points, triangles: Uint32Array.from(triangles) } as Patch;
  const rest = restOf(patch);
  const run = (n: number, of: (j: number) => number): number[] => Array.from({ length: n + 1 }, (_, j) => of(j));
  const sides = [run(along, (k) => at(0, k)), run(along, (k) => at(across, along - k))];
  const ends = [run(across, (i) => at(i, along)), run(across, (i) => at(across - i, 0))];
  const uv = rectangular(patch, rest, [sides[0], ends[0], sides[1], ends[1]])!;
  const [long, wide] = boxOf(uv);
  expect(long / wide).toBeCloseTo(Math.PI / 2 / Math.log(2), 2);
  expect(long * wide).toBeCloseTo(rest.total, 9);
  const { flips, mean, spread } = flatnessOf(patch, rest, uv, 2);
  expect(flips).toBe(0);
  expect(mean).toBeLessThan(1.03);
  expect(spread).toBeGreaterThan(1.85);
  expect(spread).toBeLessThan(2.05);
  for (const v of ends[0]) expect(uv[2 * v]).toBeCloseTo(uv[2 * ends[0][0]], 9);
  for (const v of sides[1]) expect(uv[2 * v + 1]).toBeCloseTo(uv[2 * sides[1][0] + 1], 9);
});
