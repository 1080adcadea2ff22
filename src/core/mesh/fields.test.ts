import { box, cubeSphere, plane } from '../make/primitives';
import { displayGeometry } from '../geometry';
import { compile, elementScope, evaluate } from '../formula';
import { distancesTo, meanCurvatures, opennessOf } from './fields';
import { flipFaces } from '../edit/transform';
import { mergeMeshes } from '../edit/merge';
import { transformMesh } from '../edit/transform';
import { translation } from '../math/affine';

const ball = (r: number) => cubeSphere({ radius: r, cuts: 12 }, 1);
const crate = box({ width: 2, height: 2, depth: 2, cutX: 4, cutY: 4, cutZ: 4, onGround: false }, 1);

test.each([0.5, 2])('a ball of radius %d bends by 1 / r everywhere, inside out by the opposite', (r) => {
  const m = ball(r);
  const k = meanCurvatures(m);
  const mean = k.reduce((s, x) => s + x, 0) / k.length;
  expect(mean).toBeCloseTo(1 / r, 1);
  for (const x of k) expect(Math.abs(x * r - 1)).toBeLessThan(0.35);
  const inside = meanCurvatures(flipFaces(m));
  expect(inside.reduce((s, x) => s + x, 0) / k.length).toBeCloseTo(-1 / r, 1);
});

test('what is flat does not bend, nor does a border', () => {
  for (const x of meanCurvatures(plane({ width: 1, depth: 1, cutX: 4, cutZ: 4 }, 1)))
    expect(Math.abs(x)).toBeLessThan(1e-9);
  const k = meanCurvatures(crate);
  for (let v = 0; v < crate.vertexCount; v++) {
    const p = crate.positions.subarray(3 * v, 3 * v + 3);
    const sides = p.filter((x) => Math.abs(Math.abs(x) - 1) < 1e-6).length;
    if (sides === 1) expect(Math.abs(k[v])).toBeLessThan(1e-6);
    else expect(k[v]).toBeGreaterThan(0.5);
  }
});

test('a ball sees all of the sky, a floor under a lid little of it', () => {
  for (const x of opennessOf(ball(1))) expect(x).toBeGreaterThan(0.9);
  const floor = plane({ width: 1, depth: 1, cutX: 4, cutZ: 4 }, 1);
  const lid = transformMesh(flipFaces(floor), translation(0, 0.05, 0));
  const both = mergeMeshes([
    { mesh: floor, name: 'floor' },
    { mesh: lid, name: 'lid', seed: 2 },
  ]);
  const open = opennessOf(both);
  expect(open[12]).toBeLessThan(0.1);
  expect(open[0]).toBeGreaterThan(open[12]);
});

test('how far it is to some faces, straight through', () => {
  const top = [...Array(crate.faceCount).keys()].filter((f) =>
    Array.from(crate.cornerVertex.subarray(crate.faceStart[f], crate.faceStart[f + 1])).every(
      (v) => crate.positions[3 * v + 1] > 0.99,
    ),
  );
  const far = distancesTo(crate, top);
  far.forEach((d, v) => expect(d).toBeCloseTo(1 - crate.positions[3 * v + 1], 5));
  expect(distancesTo(crate, [])[0]).toBeCloseTo(Math.sqrt(12), 5);
});

test('formulas know them, each in its measure', () => {
  const set = crate.with({
    groups: ['lid'],
    attributes: { group: { domain: 'face', width: 1, data: new Int32Array(crate.faceCount).fill(-1).fill(0, 0, 3) } },
  });
  const over = (text: string, domain: 'vertex' | 'face' = 'vertex') =>
    evaluate(compile(text, elementScope(set, domain, 1)), domain === 'vertex' ? set.vertexCount : set.faceCount);
  expect(over('curvature * 1 m').bad).toBe(0);
  expect(Math.max(...over('openness', 'face').values)).toBeLessThanOrEqual(1);
  expect(over('if border then 1 else 0').values.every((x) => x === 0)).toBe(true);
  expect(over('away("lid") / (1 m)', 'face').values[1]).toBeCloseTo(0, 6);
  expect(() => compile('curvature + 1 m', elementScope(set, 'vertex', 1))).toThrow();
});

test('a ramp goes from point to point and stays beyond its ends; of colours too', () => {
  const at = (x: number) =>
    evaluate(compile(`ramp(${x}, 0, 10, 0.5, 20, 1, 0)`, elementScope(crate, 'vertex', 1)), 1).values[0];
  expect([-1, 0, 0.25, 0.5, 0.75, 1, 9].map(at)).toEqual([10, 10, 15, 20, 10, 0, 0]);
  const code = compile('ramp(share.y, 0, colour(1, 0, 0), 1, colour(0, 0, 1))', elementScope(crate, 'vertex', 1));
  expect(code.type.kind).toBe('colour');
  for (const text of ['ramp(1)', 'ramp(1, 2)', 'ramp(1, 0, 1, 2)', 'ramp(1, 0, 1, 1, colour(1, 1, 1))'])
    expect(() => compile(text, elementScope(crate, 'vertex', 1))).toThrow();
});

test('points are seen as crosses, beside curves', () => {
  const points = plane({ width: 1, depth: 1, cutX: 1, cutZ: 1 }, 1).with({
    faceStart: new Uint32Array(1),
    cornerVertex: new Uint32Array(0),
    faceKey: new Float64Array(0),
  });
  expect(displayGeometry({ mesh: points }).curvePosition).toHaveLength(4 * 18);
});
