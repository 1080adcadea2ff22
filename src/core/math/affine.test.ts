import fc from 'fast-check';
import {
  about,
  applyPoint,
  compose,
  determinant,
  fromMatrix4,
  IDENTITY,
  invert,
  NO_PLACE,
  placeMatrix,
  placeOf,
  rotation,
  rotationAbout,
  scaling,
  toMatrix4,
  translation,
  type Affine,
} from './affine';

const n = fc.double({ min: -4, max: 4, noNaN: true });
const size = fc.double({ min: 0.1, max: 5, noNaN: true });
const sign = fc.constantFrom(1, -1);
const map: fc.Arbitrary<Affine> = fc
  .tuple(n, n, n, size, size, size, sign, n, n)
  .map(([a, b, c, x, y, z, s, t, u]) =>
    compose(
      translation(t, u, a),
      compose(
        rotation('x', a),
        compose(rotation('y', b), compose(scaling(s * x, y, z), compose(rotation('z', c), scaling(1, z, x)))),
      ),
    ),
  );
const near = (a: ArrayLike<number>, b: ArrayLike<number>, digits = 7) => {
  for (let i = 0; i < b.length; i++) expect(a[i]).toBeCloseTo(b[i], digits);
};

test('any map that does not flatten is a place, exactly, whatever its pivot', () => {
  fc.assert(
    fc.property(map, fc.tuple(n, n, n), (m, pivot) => {
      const p = placeOf(m, pivot);
      near(placeMatrix(p), m);
      near(p.at, applyPoint(m, pivot));
      expect(Math.sign(p.size[0] * p.size[1] * p.size[2])).toBe(Math.sign(determinant(m)));
    }),
    { numRuns: 500 },
  );
});
test('plain places read back as they were written', () => {
  const turn = fc.double({ min: -1.5, max: 1.5, noNaN: true });
  fc.assert(
    fc.property(fc.tuple(n, n, n), fc.tuple(turn, turn, turn), fc.tuple(size, size, size), (at, t, s) => {
      const back = placeOf(placeMatrix({ at, turn: t, size: s, lean: [0, 0, 0], pivot: [0, 0, 0] }));
      near(back.at, at);
      near(back.turn, t, 6);
      near(back.size, s);
      near(back.lean, [0, 0, 0], 6);
    }),
    { numRuns: 300 },
  );
  expect(placeOf(IDENTITY)).toEqual(NO_PLACE);
});
test('straight up, where two of the three turns are one', () => {
  for (const y of [Math.PI / 2, -Math.PI / 2])
    for (const x of [-2, 0, 0.7]) {
      const m = compose(rotation('y', y), rotation('x', x));
      near(placeMatrix(placeOf(m)), m);
    }
});
test('the inverse undoes; a map that flattens is not undone', () => {
  fc.assert(fc.property(map, fc.tuple(n, n, n), (m, p) => near(applyPoint(invert(m), applyPoint(m, p)), p, 6)));
  expect(invert(scaling(1, 0, 1))).toEqual(IDENTITY);
});
test('turning about any axis: about x, y, z as such, and by its own angle', () => {
  near(rotationAbout([1, 0, 0], 0.7), rotation('x', 0.7));
  near(rotationAbout([0, 1, 0], 0.7), rotation('y', 0.7));
  near(rotationAbout([0, 0, 1], 0.7), rotation('z', 0.7));
  fc.assert(
    fc.property(n, n, n, (x, y, a) => {
      const l = Math.hypot(x, y, 1);
      const d = [x / l, y / l, 1 / l] as const;
      near(applyPoint(rotationAbout(d, a), d), d);
      expect(determinant(rotationAbout(d, a))).toBeCloseTo(1, 9);
    }),
  );
});
test('matrices of graphics libraries hold the same map', () => {
  fc.assert(fc.property(map, (m) => near(fromMatrix4(toMatrix4(m)), m)));
});
test('about a point, that point stays', () => {
  near(applyPoint(about(rotation('y', 1), 1, 2, 3), [1, 2, 3]), [1, 2, 3]);
});
