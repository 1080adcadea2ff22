import fc from 'fast-check';
import { dragged, type Drag, type Dragging, type Grip } from './dragging';

/** A rectangle of four corners, and one beside it that is not held. */
const UV = Float32Array.from([0.2, 0.2, 0.4, 0.2, 0.4, 0.3, 0.2, 0.3, 0.8, 0.8, 0.9, 0.8, 0.9, 0.9, 0.8, 0.9]);
const drag = (grip: Grip, part: Partial<Drag> = {}): Drag => ({
  grip,
  x0: 0,
  y0: 0,
  corners: Uint32Array.of(0, 1, 2, 3),
  faces: [0],
  box: { x0: 0.2, y0: 0.2, x1: 0.4, y1: 0.3 },
  others: [{ x0: 0.8, y0: 0.8, x1: 0.9, y1: 0.9 }],
  uv: UV,
  ...part,
});
const how = (part: Partial<Dragging>): Dragging => ({
  from: [0.3, 0.25],
  to: [0.3, 0.25],
  snap: 'nothing',
  texels: 256,
  padding: 4,
  near: 0.02,
  ...part,
});
const place = fc.double({ min: -0.9, max: 1.9, noNaN: true });
const sides = (uv: Float32Array): number[] =>
  [0, 1, 2, 3].map((k) => {
    const n = (k + 1) % 4;
    return Math.hypot(uv[2 * k] - uv[2 * n], uv[2 * k + 1] - uv[2 * n + 1]);
  });

test('what is moved or turned keeps its shape, what is sized its angles; nothing else moves', () => {
  fc.assert(
    fc.property(place, place, fc.constantFrom<Grip>('move', 'turn', 'size'), fc.boolean(), (x, y, grip, snaps) => {
      const o = how({ from: [0.35, 0.28], to: [x, y], snap: snaps ? 'texels' : 'nothing' });
      const out = dragged(drag(grip), UV, o);
      expect(Array.from(out.subarray(8))).toEqual(Array.from(UV.subarray(8)));
      const [before, now] = [sides(UV), sides(out)];
      const by = now[0] / before[0];
      if (grip !== 'size') expect(by).toBeCloseTo(1, 4);
      now.forEach((side, k) => expect(side / before[k] / by).toBeCloseTo(1, 3));
      // Right angles stay right.
      const along = (out[2] - out[0]) * (out[4] - out[2]) + (out[3] - out[1]) * (out[5] - out[3]);
      expect(Math.abs(along) / (now[0] * now[1])).toBeLessThan(1e-3);
      expect(by).toBeGreaterThan(0.019);
    }),
  );
});

test('moved to texels the lower left lies on one; turned it turns by steps of five degrees; freely by any', () => {
  const moved = dragged(drag('move'), UV, how({ to: [0.3671, 0.2913], snap: 'texels' }));
  for (const x of moved.subarray(0, 2)) expect(Math.abs(256 * x - Math.round(256 * x))).toBeLessThan(1e-4);
  const angle = (uv: Float32Array): number => (Math.atan2(uv[3] - uv[1], uv[2] - uv[0]) * 180) / Math.PI;
  // From beside the middle to a little over 33 degrees round it.
  const to = [0.3 + 0.1 * Math.cos(0.58), 0.25 + 0.1 * Math.sin(0.58)] as const;
  expect(angle(dragged(drag('turn'), UV, how({ from: [0.4, 0.25], to, snap: 'texels' })))).toBeCloseTo(35, 3);
  expect(angle(dragged(drag('turn'), UV, how({ from: [0.4, 0.25], to })))).toBeCloseTo((0.58 * 180) / Math.PI, 3);
});

test('a vertex snaps by itself, and what goes along softly goes a part of the way', () => {
  const one = drag('move', { corners: Uint32Array.of(2) });
  const out = dragged(one, UV, how({ from: [0.4, 0.3], to: [0.5, 0.41], snap: 'grid' }));
  expect(out[4]).toBeCloseTo(0.5, 6);
  expect(out[5]).toBeCloseTo(7 / 16, 6);
  const soft = drag('move', { share: Float32Array.of(1, 0.5, 0, 0.25) });
  const by = dragged(soft, UV, how({ from: [0.2, 0.2], to: [0.28, 0.24] }));
  [1, 0.5, 0, 0.25].forEach((share, c) => {
    expect(by[2 * c] - UV[2 * c]).toBeCloseTo(0.08 * share, 6);
    expect(by[2 * c + 1] - UV[2 * c + 1]).toBeCloseTo(0.04 * share, 6);
  });
});
