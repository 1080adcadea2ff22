import { curveLength, curvesFrom, ellipse } from './curves';
import { curveThrough } from './through';
import { cutPieces, placesOn, throughPlaces } from './places';

const round = ellipse(2, 2, 'xz', 3);
const path = curveThrough(
  [
    [0, 0, 0],
    [1, 0.2, 0],
    [1.5, 1, -0.4],
    [3, 1, 0.3],
  ],
  { smooth: true, closed: false },
  1,
);
const both = { ...path, closed: Uint8Array.of(0) };

test('cut into more pieces a curve is the same curve', () => {
  for (const c of [round, both]) {
    const fine = cutPieces(c, 7, 9);
    expect(fine.points.length / 3 - 1).toBe(7 * (c.points.length / 3 - 1));
    expect(curveLength(fine, 1e-7)).toBeCloseTo(curveLength(c, 1e-7), 4);
    expect(new Set(fine.key).size).toBe(fine.key.length);
    for (const { at } of placesOn(fine)) if (c === round) expect(Math.hypot(at[0], at[2])).toBeCloseTo(2, 2);
  }
});

test('places know how far along they are, and which way it goes', () => {
  const places = placesOn(round);
  expect(places).toHaveLength(13);
  for (const p of places) {
    expect(p.length).toBeCloseTo(2 * Math.PI * 2, 2);
    // On a circle the way is square to the radius; as far along as round.
    expect(p.way[0] * p.at[0] + p.way[2] * p.at[2]).toBeCloseTo(0, 2);
    const turned = (Math.atan2(p.at[2], p.at[0]) + 2 * Math.PI) % (2 * Math.PI);
    if (p.along < 0.999 && p.along > 0.001) expect(turned / (2 * Math.PI)).toBeCloseTo(p.along, 2);
  }
});

test('moved nowhere it stays where it is; moved alike everywhere it is the same beside', () => {
  const places = placesOn(both);
  const still = throughPlaces(both, places, new Float64Array(3 * places.length));
  still.points.forEach((x, i) => expect(x).toBeCloseTo(both.points[i], 5));
  const beside = throughPlaces(both, places, new Float64Array(3 * places.length).fill(0.5));
  beside.points.forEach((x, i) => expect(x).toBeCloseTo(both.points[i] + 0.5, 5));
});

test('a closed curve stays closed, and what is no curve is left alone', () => {
  const places = placesOn(round);
  const bent = throughPlaces(
    round,
    places,
    Float64Array.from({ length: 39 }, (_, i) => i / 39),
  );
  const last = bent.points.length - 3;
  expect([...bent.points.slice(0, 3)]).toEqual([...bent.points.slice(last)]);
  const stub = curvesFrom([{ points: [[1, 2, 3]], closed: false }], 1);
  expect(placesOn(stub)).toEqual([]);
  expect(throughPlaces(stub, [], [])).toEqual(stub);
  expect(cutPieces(stub, 3, 1).points).toEqual(stub.points);
});
