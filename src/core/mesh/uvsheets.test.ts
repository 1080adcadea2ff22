import { box } from '../make/primitives';
import { MOST_SHEETS, sheetsOfFaces } from './uvsheets';

const crate = box({ width: 1, height: 1, depth: 1, cutX: 1, cutY: 1, cutZ: 1, onGround: false }, 1);
/** Its faces, each on a square of its own from `u`, `v` on, of half the width of a sheet. */
const laid = (places: readonly (readonly [number, number])[], side = 0.5): number[] =>
  places.flatMap(([u, v]) => [u, v, u + side, v, u + side, v + side, u, v + side]);

test('each face is on the sheet where its middle lies; the last that has one tells how many there are', () => {
  const uv = laid([
    [0, 0],
    [0.5, 0.5],
    [1, 0],
    [1.5, 0.5],
    [3.2, 0.1],
    [0.2, 0.2],
  ]);
  expect(sheetsOfFaces(crate, uv)).toEqual({ of: Uint8Array.from([0, 0, 1, 1, 3, 0]), count: 4, beyond: 0 });
});

test('what reaches over the border of its sheet is counted, whichever border, and what is no number', () => {
  const uv = laid([
    [0.7, 0],
    [-0.1, 0],
    [0.2, 0.51],
    [1.2, -0.01],
    [1.5 + 1e-5, 0.5],
    [NaN, 0],
  ]);
  expect(sheetsOfFaces(crate, uv)).toEqual({ of: Uint8Array.from([0, 0, 0, 1, 1, 0]), count: 2, beyond: 5 });
});

test('pictures that repeat on and on make no sheets', () => {
  const far = laid([
    [MOST_SHEETS, 0],
    [1e9, 0],
    [Infinity, 0],
    [-5, 0],
    [0, 0],
    [MOST_SHEETS - 1, 0],
  ]);
  const { of, count, beyond } = sheetsOfFaces(crate, far);
  expect([[...of], count, beyond]).toEqual([[0, 0, 0, 0, 0, MOST_SHEETS - 1], MOST_SHEETS, 4]);
});
