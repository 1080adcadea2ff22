/** What was followed over the border of its island, and lies on others there. */
import { meshFrom } from '../../mesh/mesh';
import { UNWRAPPING, uvOf } from '../../testing/unwrapping';
import { uvFigures } from '../measure';
import { unwrapMesh, type UnwrapOptions } from '../unwrap';

type Place = readonly [number, number];

/** Two squares of two faces each, the second to the right of the first. */
const squares = meshFrom(
  [0, 3].flatMap((x) => [x, 0, 0, x + 1, 0, 0, x + 2, 0, 0, x, 1, 0, x + 1, 1, 0, x + 2, 1, 0]),
  [0, 6].flatMap((v) => [
    [v, v + 1, v + 4, v + 3],
    [v + 1, v + 2, v + 5, v + 4],
  ]),
);
/** Of vertex 2, and of vertex 5: the right border of the first. */
const BORDER = [
  [5, 2],
  [6, 5],
] as const;

/** As they lie, a tenth as large: the first from 0.1 to 0.3, the second from 0.4 on, unless it is moved. */
function layout(moved: ReadonlyMap<number, Place>, second = 0.4): Map<number, Place> {
  const at = new Map<number, Place>();
  for (let c = 0; c < squares.cornerCount; c++) {
    const v = squares.cornerVertex[c];
    const [x, y] = [squares.positions[3 * v], squares.positions[3 * v + 1]];
    at.set(c, moved.get(v) ?? (v < 6 ? [0.1 + x / 10, 0.1 + y / 10] : [second + (x - 3) / 10, 0.1 + y / 10]));
  }
  return at;
}

function followed(places: ReadonlyMap<number, Place>, back: ReadonlyMap<Place, Place>) {
  const soft = new Set(BORDER.map(([c]) => c));
  const o: UnwrapOptions = {
    ...UNWRAPPING,
    pins: places,
    soft,
    within: back,
    kept: true,
    stacked: new Set(),
  };
  const out = unwrapMesh(squares, o);
  return { ...out, uv: uvOf(out.mesh), figures: uvFigures(out.mesh, uvOf(out.mesh)) };
}

test.each([
  ['far', 0.47],
  ['by less than a pixel', 0.4001],
])('what reaches %s onto another island is taken back to the border of its own', (_, reach) => {
  const over = new Map<number, Place>([
    [2, [reach, 0.1]],
    [5, [reach, 0.2]],
  ]);
  const places = layout(over);
  const back = new Map<Place, Place>([...over].map(([v, p]) => [p, [0.3, squares.positions[3 * v + 1] / 10 + 0.1]]));
  const { uv, apart, figures } = followed(places, back);
  expect(apart).toBe(0);
  expect([figures.flips, figures.overlap]).toEqual([0, 0]);
  for (const [c, v] of BORDER) {
    expect(uv[2 * c]).toBeCloseTo(0.3, 6);
    expect(uv[2 * c + 1]).toBeCloseTo(0.1 + squares.positions[3 * v + 1] / 10, 6);
  }
  // All others lie where they did.
  for (const [c, [x, y]] of layout(new Map())) {
    expect(uv[2 * c]).toBeCloseTo(x, 6);
    expect(uv[2 * c + 1]).toBeCloseTo(y, 6);
  }
});

test('what reaches onto another and has nowhere to be taken back to is laid out by itself, and told', () => {
  const over = new Map<number, Place>([
    [2, [0.47, 0.1]],
    [5, [0.47, 0.2]],
  ]);
  const { uv, apart, figures } = followed(layout(over), new Map());
  expect(apart).toBe(1);
  expect([figures.flips, figures.overlap, figures.outside]).toEqual([0, 0, 0]);
  // The face that was followed is, the other of its island and the second stay.
  for (const [c, [x, y]] of layout(new Map()))
    if (c < 4 || c >= 8) expect([uv[2 * c], uv[2 * c + 1]]).toEqual([Math.fround(x), Math.fround(y)]);
});

test('what was followed and lies on nothing stays where it was followed to, over the border or not', () => {
  const over = new Map<number, Place>([
    [2, [0.39, 0.1]],
    [5, [0.39, 0.2]],
  ]);
  const back = new Map<Place, Place>([...over].map(([, p]) => [p, [0.3, p[1]]]));
  const { uv, apart } = followed(layout(over), back);
  expect(apart).toBe(0);
  for (const [c] of BORDER) expect(uv[2 * c]).toBeCloseTo(0.39, 6);
});

test('what was followed over the line between two sheets is taken back, though it lies on nothing there', () => {
  const over = new Map<number, Place>([
    [2, [1.02, 0.1]],
    [5, [1.02, 0.2]],
  ]);
  const places = layout(over, 1.4);
  for (const [c, [x, y]] of places) if (c < 8 && x < 1) places.set(c, [x + 0.68, y]);
  const back = new Map<Place, Place>([...over].map(([, p]) => [p, [0.98, p[1]]]));
  const o: UnwrapOptions = { ...UNWRAPPING, sheets: 2 };
  const out = unwrapMesh(squares, {
    ...o,
    ...{ pins: places, soft: new Set(BORDER.map(([c]) => c)), within: back, kept: true, stacked: new Set<number>() },
  });
  for (const [c] of BORDER) expect(uvOf(out.mesh)[2 * c]).toBeCloseTo(0.98, 6);
});
