import { softly } from './softly';

test('what is near goes along, less the farther off; what is beyond stays, and all moved go all the way', () => {
  const uv = Float32Array.from([0, 0, 0.1, 0, 0.2, 0, 0.3, 0, 0, 0]);
  const { corners, share } = softly(uv, [0, 1, 2, 3, 4], [0], 0.3);
  expect([...corners]).toEqual([0, 1, 2, 4]);
  expect(share[0]).toBe(1);
  expect(share[1]).toBeGreaterThan(share[2]);
  expect(share[2]).toBeGreaterThan(0);
  // At the very place of what is moved it goes all the way too, or a seam would open.
  expect(share[3]).toBe(1);
  expect(share[1]).toBeCloseTo((2 / 3) ** 2 * (3 - 4 / 3), 6);
});

test('without a radius nothing else goes along', () => {
  const uv = Float32Array.from([0, 0, 0, 0, 1, 1]);
  expect([...softly(uv, [0, 1, 2], [2], 0).corners]).toEqual([2]);
});
