/** Projections in frames that are moved, turned and sized. */
import fc from 'fast-check';
import { box, cylinder } from '../../make/primitives';
import type { Mesh } from '../../mesh/mesh';
import { lumpyBall } from '../../testing/organic';
import { allFaces, UNWRAPPING, uvOf } from '../../testing/unwrapping';
import { triangulate } from '../../mesh/triangulate';
import { unwrapMesh } from '../unwrap';
import { frameOn, projectOn } from '.';
import type { Projecting, Projection, ProjectionFrame, Vector } from './project';

const HOW: readonly Projection[] = ['plane', 'box', 'cylinder', 'sphere'];
const crate = unwrapMesh(
  box({ width: 1, height: 2, depth: 3, cutX: 2, cutY: 2, cutZ: 2, onGround: false }, 1),
  UNWRAPPING,
).mesh;
const drum = unwrapMesh(
  cylinder({ radius: 0.5, topRadius: 0.5, height: 2, sides: 24, rows: 6, cap: 'polygon', onGround: false }, 2),
  UNWRAPPING,
).mesh;
const ball = unwrapMesh(lumpyBall(8), UNWRAPPING).mesh;
const AS_IS = { size: [1, 1, 1] as Vector, wraps: 1 };
const sideOf = (m: Mesh): number[] => allFaces(m).filter((f) => m.faceStart[f + 1] - m.faceStart[f] === 4);
const dot = (a: Vector, b: Vector): number => a[0] * b[0] + a[1] * b[1] + a[2] * b[2];
/** How wide and high what lies of some faces is. */
function sizeOn(m: Mesh, uv: Float32Array, faces: readonly number[]): [number, number] {
  const out = [0, 1].map((k) => {
    const all = faces.flatMap((f) =>
      Array.from({ length: m.faceStart[f + 1] - m.faceStart[f] }, (_, i) => uv[2 * (m.faceStart[f] + i) + k]),
    );
    return Math.max(...all) - Math.min(...all);
  });
  return [out[0], out[1]];
}
const projected = (m: Mesh, faces: number[], o: Partial<Projecting> & { how: Projection }) =>
  projectOn(m, faces, { frame: frameOn(m, faces, o.how), ...AS_IS, ...o });

test.each(HOW)('the frame of %s stands at right angles, right-handed, where the faces are', (how) => {
  for (const m of [crate, drum, ball]) {
    const { right, up, toward } = frameOn(m, allFaces(m), how);
    for (const [a, b] of [
      [right, up],
      [up, toward],
      [toward, right],
    ])
      expect(dot(a, b)).toBeCloseTo(0, 9);
    for (const a of [right, up, toward]) expect(dot(a, a)).toBeCloseTo(1, 9);
    const cross = [
      right[1] * up[2] - right[2] * up[1],
      right[2] * up[0] - right[0] * up[2],
      right[0] * up[1] - right[1] * up[0],
    ];
    expect(dot(cross as Vector, toward)).toBeCloseTo(1, 9);
  }
});

test.each(HOW)('%s: seen from outside it is not mirrored', (how) => {
  const faces = how === 'cylinder' ? sideOf(drum) : allFaces(ball);
  const m = how === 'cylinder' ? drum : ball;
  const { uv } = projected(m, faces, { how });
  const t = triangulate(m);
  const wanted = new Set(faces);
  let [right, wrong] = [0, 0];
  for (let i = 0; i < t.face.length; i++) {
    if (!wanted.has(t.face[i])) continue;
    const [a, b, c] = [0, 1, 2].map((k) => 2 * t.corners[3 * i + k]);
    const area = (uv[b] - uv[a]) * (uv[c + 1] - uv[a + 1]) - (uv[b + 1] - uv[a + 1]) * (uv[c] - uv[a]);
    if (area > 0) right += area;
    else wrong -= area;
  }
  // From one side the other side is seen through.
  if (how === 'plane') expect(right).toBeCloseTo(wrong, 1);
  else expect(wrong).toBeLessThan(0.02 * right);
});

test('a frame twice as wide lays what lies in it half as wide; wraps go round so many times', () => {
  const side = sideOf(drum);
  const [w, h] = sizeOn(drum, projected(drum, side, { how: 'cylinder' }).uv, side);
  const wide = sizeOn(drum, projected(drum, side, { how: 'cylinder', size: [2, 1, 2] }).uv, side);
  expect(wide[0]).toBeCloseTo(w / 2, 5);
  expect(wide[1]).toBeCloseTo(h, 5);
  const tall = sizeOn(drum, projected(drum, side, { how: 'cylinder', size: [1, 4, 1] }).uv, side);
  expect(tall[1]).toBeCloseTo(h / 4, 5);
  const often = sizeOn(drum, projected(drum, side, { how: 'cylinder', wraps: 3 }).uv, side);
  expect(often[0]).toBeCloseTo(3 * w, 5);
  // Round a drum, the way round is as long as it is in metres (24 sides of a radius of a half), and it is 2 high.
  expect(w / h).toBeCloseTo((2 * Math.PI * 0.5) / 2, 2);
});

test('what is not projected stays, and what is lies as dense as it did', () => {
  const top = allFaces(crate).slice(0, 4);
  const { uv, faces } = projected(crate, top, { how: 'plane' });
  expect(Array.from(faces)).toEqual(top);
  const moved = new Set(top);
  for (const f of allFaces(crate))
    if (!moved.has(f))
      for (let c = crate.faceStart[f]; c < crate.faceStart[f + 1]; c++) expect(uv[2 * c]).toBe(uvOf(crate)[2 * c]);
  const area = (data: Float32Array): number => {
    const [w, h] = sizeOn(crate, data, top);
    return w * h;
  };
  expect(area(uv)).toBeCloseTo(area(uvOf(crate)), 4);
});

test('a frame that is turned about what it goes round moves all of it round; the picture stays', () => {
  const side = sideOf(drum);
  const frame = frameOn(drum, side, 'cylinder');
  const angle = Math.PI / 2;
  const turned: ProjectionFrame = {
    ...frame,
    right: frame.right.map((x, k) => Math.cos(angle) * x - Math.sin(angle) * frame.toward[k]) as Vector,
    toward: frame.right.map((x, k) => Math.sin(angle) * x + Math.cos(angle) * frame.toward[k]) as Vector,
  };
  const [a, b] = [frame, turned].map((f) => projected(drum, side, { how: 'cylinder', frame: f }).uv);
  expect(sizeOn(drum, b, side)[1]).toBeCloseTo(sizeOn(drum, a, side)[1], 5);
  let off = 0;
  for (let c = 0; c < 2 * drum.cornerCount; c++) off = Math.max(off, Math.abs(a[c] - b[c]));
  expect(off).toBeGreaterThan(0.05);
});

test('any frame lays out what there is without a word of the machine, and in numbers', () => {
  const number = fc.double({ min: -3, max: 3, noNaN: true });
  const vector = fc.tuple(number, number, number) as fc.Arbitrary<Vector>;
  fc.assert(
    fc.property(
      fc.constantFrom(...HOW),
      vector,
      fc.tuple(number, number, number),
      fc.integer({ min: 1, max: 9 }),
      (how, at, size, wraps) => {
        const frame = { ...frameOn(ball, allFaces(ball), how), at };
        const { uv } = projectOn(ball, allFaces(ball), { how, frame, size: size as Vector, wraps });
        expect(uv.every(Number.isFinite)).toBe(true);
      },
    ),
    { numRuns: 40 },
  );
});
