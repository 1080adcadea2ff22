/** A layout written down under a name of all that it follows from, and read again. */
import fc from 'fast-check';
import { box, plane } from '../make/primitives';
import type { Mesh } from '../mesh/mesh';
import { lumpyBall } from '../testing/organic';
import { UNWRAPPING, uvOf } from '../testing/unwrapping';
import { unwrapMesh, type UnwrapOptions } from './unwrap';
import { nameOfUnwrapping, readUnwrapped, writeUnwrapped } from './written';

const ball = lumpyBall(4);

/** Something else for each wish there is. */
const OTHERS: { [K in keyof Required<Omit<UnwrapOptions, 'progress'>>]: UnwrapOptions[K] } = {
  cut: new Set([3, 1]),
  hold: new Set([3]),
  seamAngle: 0.4,
  size: 2048,
  padding: 5,
  density: 12,
  turn: false,
  stretch: 1.2,
  soft: new Set([7]),
  stacked: new Set([1]),
  turned: new Set([2]),
  within: new Map([
    [
      [0.1, 0.2],
      [0.3, 0.4],
    ],
  ]),
  kept: true,
  islands: 9,
  mean: 1.01,
  fill: 0.2,
  symmetric: true,
  hide: 0.9,
  straight: 0.1,
  pins: new Map([[4, [0.5, 0.25]]]),
  repack: true,
  locked: new Set([5]),
  upright: new Set([6]),
  finer: new Set([8]),
  coarser: new Set([9]),
  pixels: true,
  sheets: 2,
  part: { x: 0, y: 0, width: 0.5, height: 1 },
  together: 'part',
};

test('every wish has a part in the name, and so has everything of the surface', () => {
  const names = new Set([nameOfUnwrapping(ball, UNWRAPPING)]);
  for (const [name, value] of Object.entries(OTHERS))
    names.add(nameOfUnwrapping(ball, { ...UNWRAPPING, [name]: value }));
  const moved = ball.positions.slice();
  moved[moved.length - 1] += 1e-6;
  names.add(nameOfUnwrapping(ball.with({ positions: moved }), UNWRAPPING));
  const material = { domain: 'face', width: 1, data: new Int32Array(ball.faceCount) } as const;
  names.add(nameOfUnwrapping(ball.withAttribute('material', material), UNWRAPPING));
  names.add(nameOfUnwrapping(ball.withAttribute('group', material), UNWRAPPING));
  expect(names.size).toBe(1 + Object.keys(OTHERS).length + 3);
});

test('what changes nothing has no part in it: the order of what is marked, who is told how far it is', () => {
  const name = nameOfUnwrapping(ball, { ...UNWRAPPING, cut: new Set([9, 2, 40]) });
  expect(nameOfUnwrapping(ball, { ...UNWRAPPING, cut: new Set([40, 9, 2]), progress: () => undefined })).toBe(name);
  expect(nameOfUnwrapping(ball, { ...UNWRAPPING, cut: new Set([9, 2, 40]), pins: undefined })).toBe(name);
});

test.each<[string, () => Mesh, Partial<UnwrapOptions>]>([
  ['a ball', () => ball, {}],
  ['on two sheets', () => lumpyBall(3), { sheets: 2 }],
  [
    'denser than fits',
    () => box({ width: 1, height: 1, depth: 1, cutX: 1, cutY: 1, cutZ: 1 } as never, 1),
    { density: 1e5 },
  ],
  ['with something held', () => plane({ width: 1, depth: 1, cutX: 3, cutZ: 3 } as never, 1), { hold: new Set([1, 2]) }],
])('%s: read again it is the same to the last bit', (_, make, wishes) => {
  const mesh = make();
  const out = unwrapMesh(mesh, { ...UNWRAPPING, ...wishes });
  const again = readUnwrapped(mesh, writeUnwrapped(out))!;
  const { mesh: laid, ...figures } = again;
  expect(figures).toEqual({ ...out, mesh: undefined, ...figures });
  expect(Object.keys(again).sort()).toEqual(Object.keys(out).sort());
  for (const [name, value] of Object.entries(figures)) expect(value).toBe(out[name as 'islands']);
  expect(uvOf(laid)).toEqual(uvOf(out.mesh));
  // It holds on to nothing else.
  expect(uvOf(laid).buffer.byteLength).toBe(4 * uvOf(laid).length);
});

test('what is not of that mesh, was cut off, or is no numbers is not taken', () => {
  const bytes = writeUnwrapped(unwrapMesh(ball, UNWRAPPING));
  expect(readUnwrapped(lumpyBall(3), bytes)).toBeUndefined();
  expect(readUnwrapped(ball, new Uint8Array(0))).toBeUndefined();
  fc.assert(fc.property(fc.nat(bytes.length - 1), (n) => readUnwrapped(ball, bytes.subarray(0, n)) === undefined));
  const wrong = bytes.slice();
  wrong.fill(255, bytes.length - 8);
  expect(readUnwrapped(ball, wrong)).toBeUndefined();
  // Where the bytes begin is no matter.
  const shifted = new Uint8Array(bytes.length + 3);
  shifted.set(bytes, 3);
  expect(uvOf(readUnwrapped(ball, shifted.subarray(3))!.mesh)).toEqual(uvOf(readUnwrapped(ball, bytes)!.mesh));
});
